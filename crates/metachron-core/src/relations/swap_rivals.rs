//! Level 6, against a swap of day and month: a column that parts the two forms as
//! well.
//!
//! Dates that never have a day past the twelfth next to texts that always have one
//! are what an import leaves. Where a column parts the two, they may as well be of two
//! sources, one of which bills early in the month: nothing is proven.

use super::by_value::ByValue;
use super::compared_columns::ComparedColumns;
use super::group::ln_factorial;
use super::justification::{Finding, Justification};
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::decide::OwnReading;
use crate::stamp::Stamp;
use std::any::Any;
use std::collections::HashMap;

/// The last of the days that may be months too.
const LAST_MONTH: i8 = 12;

/// A column is a rival where fewer than one in so many random splits would part the
/// forms as well, all columns that were tried taken together. It is a suspicion that
/// asks, and proves nothing.
const CHANCE_ONE_IN: f64 = 1e4;

/// The cells of a column by the values of every other column.
#[derive(Debug)]
pub(super) struct SwapRivals {
    columns: ByValue<Halves>,
}

/// The cells of the two forms.
#[derive(Clone, Copy, Debug, Default)]
struct Halves {
    /// Dates that may have been rewritten.
    rewritten: u64,
    /// Texts with a day past the twelfth.
    left: u64,
    /// How many of them have their day in the other column: early days are no source.
    days: u64,
}

impl Halves {
    fn merge(&mut self, more: Halves) {
        self.rewritten += more.rewritten;
        self.left += more.left;
        self.days += more.days;
    }

    fn all(self) -> u64 {
        self.rewritten + self.left
    }
}

impl SwapRivals {
    /// Of the column at `index`.
    pub fn new(compared: &ComparedColumns, index: usize) -> SwapRivals {
        SwapRivals {
            columns: ByValue::new(compared.near(index)),
        }
    }

    /// The column that parts the two forms, with the cells of both.
    fn rival(&self) -> Option<(usize, Halves)> {
        let limit = -(CHANCE_ONE_IN * self.columns.len().max(1) as f64).ln();
        self.columns.columns().find_map(|(index, values)| {
            let (all, chance) = parting(values)?;
            (chance < limit).then_some((index, all))
        })
    }
}

/// All cells, where each value has those of one form, and how likely a random split
/// has the same, as a natural logarithm: of all the ways to spread the cells, those
/// that leave every value one form.
fn parting(by_value: &HashMap<String, Halves>) -> Option<(Halves, f64)> {
    let mut all = Halves::default();
    for halves in by_value.values() {
        if halves.rewritten > 0 && halves.left > 0 {
            return None;
        }
        all.merge(*halves);
    }
    let is_day = all.days == all.all();
    if all.rewritten == 0 || all.left == 0 || is_day {
        return None;
    }
    let ways = by_value.len() as f64 * 2_f64.ln();
    let spreads = ln_factorial(all.all()) - ln_factorial(all.rewritten) - ln_factorial(all.left);
    Some((all, (ways - spreads).min(0.0)))
}

/// Which half a cell is of, and its day.
fn half(row: &Observed<'_>) -> Option<(Halves, i8)> {
    let day = |stamp: &Stamp| stamp.date().map(|date| date.day());
    match row.own() {
        OwnReading::Several(_) => {
            let rewritten = Halves {
                rewritten: 1,
                ..Halves::default()
            };
            let settled = row.settled_stamp(row.number)?;
            Some((rewritten, day(&settled)?))
        }
        // The day and the month of 3 March are swapped in vain.
        OwnReading::One { stamp, .. } => {
            let left = Halves {
                left: 1,
                ..Halves::default()
            };
            let day = day(stamp).filter(|day| *day > LAST_MONTH)?;
            Some((left, day))
        }
        OwnReading::Nothing(_) => None,
    }
}

impl EvidenceSource for SwapRivals {
    fn observe(&mut self, row: &Observed<'_>) {
        let Some((half, day)) = half(row) else {
            return;
        };
        self.columns.observe(row.texts, |known, text| {
            known.merge(half);
            known.days += u64::from(text.parse() == Ok(day));
        });
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<SwapRivals>(later).columns;
        self.columns.merge(later, Halves::merge);
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(SwapRivals {
            columns: self.columns.start_again(),
        })
    }

    fn wants_text(&self, index: usize) -> bool {
        self.columns.wants_text(index)
    }

    fn is_out(&self) -> bool {
        self.columns.is_out()
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let Some((index, all)) = self.rival() else {
            return Vec::new();
        };
        let forms = question.open_forms.iter();
        let swapped = forms.filter(|(_, either)| either.iter().any(|form| form.is_swapped()));
        let doubt = |form: usize| Conclusion::Doubt {
            form,
            justification: Justification {
                form: Some(form),
                found: Finding::SwapRival {
                    column: question.compared.columns[index].clone(),
                    rewritten: all.rewritten,
                    left: all.left,
                },
            },
        };
        swapped.map(|(form, _)| doubt(*form)).collect()
    }

    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        Vec::new()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
