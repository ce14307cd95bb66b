//! What a column's own cells and its name say about its forms, beyond the cells
//! that one order alone can read.

use crate::evidence::{ColumnEvidence, ShapeEvidence};
use crate::form::{Form, Order};
use crate::relations::{Finding, Justification};
use crate::rulings::{ColumnRuling, FormRuling};
use crate::settle::{
    Declared, Proof, contradicted_locale, few_year_witnesses, missing_late_days, named_order,
    orders_of_editions, spread, swap,
};
use crate::words::list;
use jiff::civil::Date;

/// A column with its ruling.
pub(super) struct OwnFindings<'c> {
    pub name: &'c str,
    pub evidence: &'c ColumnEvidence,
    pub ruling: &'c ColumnRuling,
    pub declared: &'c Declared,
    pub today: Date,
}

impl OwnFindings<'_> {
    /// What the ruling rests on, a justification for each form that has one.
    pub fn justifications(&self) -> Vec<Justification> {
        let mut justifications: Vec<Justification> = self.swapped().into_iter().collect();
        if self.ruling.read.order.is_some() {
            return justifications;
        }
        for shape in &self.evidence.shapes {
            let settled = || self.named(shape).or_else(|| self.spread(shape));
            let Some((form, found)) = settled().or_else(|| self.open(shape)) else {
                continue;
            };
            let form = Some(form);
            if !justifications.iter().any(|known| known.form == form) {
                justifications.push(Justification { form, found });
            }
        }
        justifications
    }

    /// The number of the form that `test` holds for.
    fn form(&self, test: impl Fn(&FormRuling) -> bool) -> Option<usize> {
        self.ruling.read.forms.iter().position(test)
    }

    /// The number of the form that settles `shape` as its candidate at `index`.
    fn settled_as(&self, shape: &ShapeEvidence, index: usize) -> Option<usize> {
        self.form(|form| {
            settled(form).is_some_and(|form| shape.readings.index_of(form) == Some(index))
        })
    }

    fn named(&self, shape: &ShapeEvidence) -> Option<(usize, Finding)> {
        let (index, order) = named_order(self.name, shape)?;
        Some((self.settled_as(shape, index)?, Finding::Named { order }))
    }

    fn spread(&self, shape: &ShapeEvidence) -> Option<(usize, Finding)> {
        let spread = spread(self.name, self.evidence, shape, self.today)?;
        let found = Finding::Spread {
            order: spread.order,
            years: spread.years,
            days: spread.days,
            other_years: spread.other_years,
            cells: spread.cells,
        };
        Some((self.settled_as(shape, spread.index)?, found))
    }

    /// Why the form of `shape` is open, though some of its cells or the locale say
    /// which order it has.
    fn open(&self, shape: &ShapeEvidence) -> Option<(usize, Finding)> {
        let forms = self.ruling.read.forms.iter().enumerate();
        let mut open = forms.filter_map(|(number, form)| match form {
            FormRuling::Open(forms) => Some((number, shape.readings.index_of(&forms[0])?)),
            FormRuling::Settled(_) | FormRuling::ByGroup(_) => None,
        });
        open.find_map(|(number, index)| {
            let locale = || {
                let cells = contradicted_locale(shape, index, self.declared)?;
                let tags = self.declared.locale.0.iter();
                let tags: Vec<String> = tags.map(ToString::to_string).collect();
                Some(Finding::LocaleContradicted {
                    locale: list(&tags, "and"),
                    order: self.declared.locale.order()?,
                    cells,
                })
            };
            let editions = || {
                let orders = orders_of_editions(shape, index, self.declared).into_iter();
                let orders = orders.map(|(order, editions)| (order, editions.replace(',', ", ")));
                let orders: Vec<(Order, String)> = orders.collect();
                Some(Finding::EditionsDiffer {
                    locale: self.declared.locale.0.first()?.to_string(),
                    order: shape.readings.candidates()[index].order()?,
                    others: Some(orders).filter(|orders| !orders.is_empty())?,
                })
            };
            let late_days = || {
                let missing = missing_late_days(shape, index)?;
                Some(Finding::MissingLateDays {
                    order: missing.order,
                    decisive: missing.decisive,
                    ambiguous: missing.ambiguous,
                    early_days: missing.early_days,
                    late_days: missing.late_days,
                })
            };
            let few_witnesses = || {
                let few = few_year_witnesses(shape, index)?;
                Some(Finding::FewYearWitnesses {
                    order: few.order,
                    decisive: few.decisive,
                    ambiguous: few.ambiguous,
                })
            };
            let found = locale().or_else(editions).or_else(few_witnesses);
            Some((number, found.or_else(late_days)?))
        })
    }

    /// That an import has swapped day and month.
    fn swapped(&self) -> Option<Justification> {
        let swap = swap(self.evidence).filter(|swap| swap.proof == Proof::Proven)?;
        let form = self.form(|form| settled(form).is_some_and(Form::is_swapped))?;
        Some(Justification {
            form: Some(form),
            found: Finding::Swapped {
                cells: swap.cells,
                witnesses: swap.witnesses,
                days: swap.days,
                samples: swap.samples,
            },
        })
    }
}

/// The form, where it is settled.
fn settled(form: &FormRuling) -> Option<&Form> {
    match form {
        FormRuling::Settled(form) => Some(form),
        FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
    }
}
