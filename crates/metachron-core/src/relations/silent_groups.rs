//! Level 4, against level 3: groups of rows that never have a day past the
//! twelfth, in a column whose other groups settle its order.
//!
//! A site that writes month first among others that write day first is
//! noticed by its days past the twelfth. A site that has none says nothing, and
//! must not be read like the others where that is no chance: it would be the
//! one that writes otherwise.

use super::by_value::ByValue;
use super::compared_columns::ComparedColumns;
use super::justification::{Finding, Justification};
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::decide::OwnReading;
use crate::evidence::DaysSeen;
use crate::form::{Form, Order};
use crate::rulings::{GroupRuling, in_words};
use crate::stamp::Stamp;
use crate::words::count;
use smallvec::SmallVec;
use std::any::Any;
use std::collections::BTreeMap;

/// A group is looked at from so many cells on.
const LEAST_CELLS: u64 = 10;

/// A group is doubted where fewer than one in so many random groups of its size
/// would have no day past the twelfth, all groups that were looked at taken
/// together. It is a suspicion that asks, and proves nothing: a needless
/// question in ten thousand tables is less harm than a swapped month.
const CHANCE_ONE_IN: f64 = 1e4;

/// Bills of the first days of months, read in the right order, are on no more
/// different days than this.
const FEW_DAYS: u32 = 3;

/// A column's cells by the values of every other column.
#[derive(Debug)]
pub(super) struct SilentGroups {
    columns: ByValue<Forms>,
}

/// The cells of a group, by the number of their form. Nearly all groups have one: in a
/// tree, whose nodes have room for eleven, those of 100 columns took 300 MB.
#[derive(Debug, Default)]
struct Forms(SmallVec<[(usize, Cells); 1]>);

/// The cells of one form in a group.
#[derive(Clone, Debug, Default)]
struct Cells {
    /// Those that one order alone can read.
    decisive: u64,
    /// Those that several can.
    silent: u64,
    /// How many of the decisive are in each month.
    months: Months,
    /// How many of the silent are in each month in the order that is settled,
    /// and in another.
    by_own: Months,
    by_rival: Months,
    /// The days of the silent in the order that is settled.
    days: DaysSeen,
}

/// Cells by month, counted from the year 0.
type Months = BTreeMap<i32, u64>;

impl Forms {
    /// The cells of this form.
    fn of(&mut self, form: usize) -> &mut Cells {
        let known = self.0.iter().position(|(known, _)| *known == form);
        let index = known.unwrap_or_else(|| {
            self.0.push((form, Cells::default()));
            self.0.len() - 1
        });
        &mut self.0[index].1
    }

    fn get(&self, form: usize) -> Option<&Cells> {
        let mut forms = self.0.iter();
        forms.find_map(|(known, cells)| (*known == form).then_some(cells))
    }
}

fn count_month(months: &mut Months, stamp: Stamp) {
    if let Some(date) = stamp.date() {
        let month = i32::from(date.year()) * 12 + i32::from(date.month());
        *months.entry(month).or_default() += 1;
    }
}

impl Cells {
    fn merge(&mut self, more: &Cells) {
        self.decisive += more.decisive;
        self.silent += more.silent;
        self.days.merge(&more.days);
        for (months, more) in [
            (&mut self.months, &more.months),
            (&mut self.by_own, &more.by_own),
            (&mut self.by_rival, &more.by_rival),
        ] {
            for (month, cells) in more {
                *months.entry(*month).or_default() += cells;
            }
        }
    }
}

impl SilentGroups {
    /// Of a column and those at these indexes.
    pub fn new(others: impl IntoIterator<Item = usize>) -> SilentGroups {
        SilentGroups {
            columns: ByValue::new(others),
        }
    }

    /// The groups of `form` by each column, with the natural logarithm of how
    /// likely chance makes the silent ones.
    fn doubted(&self, form: usize) -> Vec<Doubted<'_>> {
        let columns = self.columns.columns();
        let values = self.columns.columns();
        let tried: usize = values.map(|(_, values)| values.len()).sum();
        let limit = -(CHANCE_ONE_IN * tried.max(1) as f64).ln();
        columns
            .filter_map(|(index, values)| {
                let groups: BTreeMap<&str, &Cells> = values
                    .iter()
                    .filter_map(|(value, forms)| Some((value.as_str(), forms.get(form)?)))
                    .collect();
                let silent = |group: &&Cells| group.decisive == 0 && group.silent >= LEAST_CELLS;
                let mut rest = Cells::default();
                for group in groups.values().filter(|group| !silent(group)) {
                    rest.merge(group);
                }
                let doubted: Vec<(&str, f64)> = groups
                    .iter()
                    .filter(|(_, group)| silent(group))
                    .filter_map(|(value, group)| Some((*value, group.chance_among(&rest)?)))
                    .filter(|(_, chance)| *chance < limit)
                    .collect();
                let least = doubted.iter().map(|(_, chance)| *chance).reduce(f64::min)?;
                Some(Doubted {
                    index,
                    values: doubted.into_iter().map(|(value, _)| value).collect(),
                    chance: least,
                    groups,
                    rest,
                })
            })
            .collect()
    }
}

/// Groups of rows that are doubted.
struct Doubted<'g> {
    /// The column that makes the groups.
    index: usize,
    /// Its values that are doubted.
    values: Vec<&'g str>,
    chance: f64,
    groups: BTreeMap<&'g str, &'g Cells>,
    rest: Cells,
}

impl Cells {
    /// How likely a silent group among `rest` has no day past the twelfth, as a
    /// natural logarithm; `None` where something explains that it has none.
    fn chance_among(&self, rest: &Cells) -> Option<f64> {
        let share = rest.decisive as f64 / (rest.decisive + rest.silent).max(1) as f64;
        let chance = self.silent as f64 * (1.0 - share).ln();
        let (first, last) = self.by_own.keys().next().zip(self.by_own.keys().last())?;
        // A batch of one week has no day past the twelfth, and bills of the
        // first of the month have none.
        let is_batch = last - first <= 1;
        let is_first = self.days_of_months() <= FEW_DAYS;
        (!(is_batch || is_first) || self.strays_from(rest)).then_some(chance)
    }

    /// How many different days of a month there are.
    fn days_of_months(&self) -> u32 {
        self.days.days_of_months().count_ones()
    }

    /// Whether most cells are in months in which `rest` has none, and would be
    /// in its months in another order.
    fn strays_from(&self, rest: &Cells) -> bool {
        let Some((first, last)) = rest.months.keys().next().zip(rest.months.keys().last()) else {
            return false;
        };
        let outside = |months: &Months| -> u64 {
            let outside = months
                .iter()
                .filter(|(month, _)| !(first..=last).contains(month));
            outside.map(|(_, cells)| cells).sum()
        };
        outside(&self.by_own) * 2 > self.silent && outside(&self.by_rival) == 0
    }
}

impl EvidenceSource for SilentGroups {
    fn observe(&mut self, row: &Observed<'_>) {
        let (form, seen) = match row.own() {
            OwnReading::One {
                decisive: Some((form, _)),
                stamp,
                ..
            } => (*form, Seen::Decisive(*stamp)),
            OwnReading::Several(several) => {
                let Some((form, own)) = several.form.zip(row.settled_stamp(row.number)) else {
                    return;
                };
                let rival = several.stamps.iter().find(|stamp| **stamp != own);
                (form, Seen::Silent(own, rival.copied()))
            }
            _ => return,
        };
        if row.compared.own_hypothesis(row.number, form).is_none() {
            return;
        }
        self.columns.observe(row.texts, |forms, _| {
            forms.of(form).observe(seen);
        });
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<SilentGroups>(later).columns;
        self.columns.merge(later, |own, more| {
            for (form, cells) in more.0 {
                own.of(form).merge(&cells);
            }
        });
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(SilentGroups {
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
        let forms = question.open_forms.iter();
        let doubts = forms.filter_map(|(form, either)| {
            let own = question.own_hypothesis(*form)?.order()?;
            let doubted = self.doubted(*form).into_iter();
            let worst = doubted.min_by(|one, other| one.chance.total_cmp(&other.chance))?;
            Some(worst.conclusion(*form, own, either, question.compared))
        });
        doubts.collect()
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let forms = question.open_forms.iter();
        let doubted = forms.flat_map(|(form, _)| self.doubted(*form));
        doubted
            .map(|doubted| {
                format!(
                    "groups: by {}, {} of {} have no day past the 12th, against chance",
                    in_words(&question.compared.columns[doubted.index]),
                    doubted.values.len(),
                    count(doubted.groups.len() as u64, "value"),
                )
            })
            .collect()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}

/// A cell, as a group sees it.
#[derive(Clone, Copy)]
enum Seen {
    /// One order alone can read it.
    Decisive(Stamp),
    /// Several can: in the order that is settled, and in another.
    Silent(Stamp, Option<Stamp>),
}

impl Cells {
    fn observe(&mut self, seen: Seen) {
        match seen {
            Seen::Decisive(stamp) => {
                self.decisive += 1;
                count_month(&mut self.months, stamp);
            }
            Seen::Silent(own, rival) => {
                self.silent += 1;
                count_month(&mut self.by_own, own);
                if let Some(date) = own.date() {
                    self.days.add(date);
                }
                if let Some(rival) = rival {
                    count_month(&mut self.by_rival, rival);
                }
            }
        }
    }
}

impl Doubted<'_> {
    fn conclusion(
        &self,
        form: usize,
        own: Order,
        either: &[Form],
        compared: &ComparedColumns,
    ) -> Conclusion<'static> {
        let column = compared.columns[self.index].clone();
        let is_doubted = |value: &str| self.values.contains(&value);
        let others = self.groups.keys().filter(|value| !is_doubted(value));
        let orders = others.map(|value| (value.to_string(), own)).collect();
        let values = self.values.iter();
        Conclusion::Group {
            form,
            group: GroupRuling {
                either: either.to_vec(),
                by: vec![column.clone()],
                orders,
            },
            justification: Justification {
                form: Some(form),
                found: Finding::SilentGroups {
                    column,
                    values: values
                        .map(|value| (value.to_string(), self.groups[value].silent))
                        .collect(),
                    order: own,
                    decisive: self.rest.decisive,
                    cells: self.rest.decisive + self.rest.silent,
                },
            },
        }
    }
}
