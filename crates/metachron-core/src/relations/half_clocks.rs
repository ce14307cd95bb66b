//! Level 5: times of day that another column contradicts, because the half of
//! the day is missing.
//!
//! Whoever starts at 9:30 and ends at 2:30 ends in the afternoon. Where no time
//! of either column passes 12:59, the clock is one of twelve hours.

use super::clock_doubt::ClockDoubt;
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::settle::{Side, side_named};
use crate::stamp::Stamp;
use std::any::Any;
use std::collections::BTreeMap;

/// That one time is before another is believed from so many rows on, where it
/// is so in all of them …
const LEAST_ROWS: u64 = 10;

/// … or in one of so many, where the columns' names say that it is the end of
/// what the other is the start of: a shift from 9:00 to 1:00 would last 16
/// hours.
const ENDS_ONE_IN: u64 = 10;

/// A column of times that never pass 12:59 against the others of that sort.
#[derive(Debug)]
pub(super) struct HalfClocks {
    /// By the number of the other.
    others: BTreeMap<usize, Rows>,
}

#[derive(Clone, Copy, Debug, Default)]
struct Rows {
    /// In which it is before the other.
    before: u64,
    /// In which it is the same or after it.
    others: u64,
}

impl HalfClocks {
    /// Of a column and these temporal ones.
    pub fn new(others: impl IntoIterator<Item = usize>) -> HalfClocks {
        let others = others.into_iter();
        HalfClocks {
            others: others.map(|number| (number, Rows::default())).collect(),
        }
    }

    /// The column that it is before, and should follow.
    fn contradicted<'q>(&self, question: &Question<'q>) -> Option<&'q str> {
        let name = |number: usize| {
            let index = question.compared.temporal[number];
            (index, question.compared.columns[index].as_str())
        };
        let (own_index, own) = name(question.number);
        let own_side = side_named(own);
        self.others.iter().find_map(|(&number, rows)| {
            let (index, other) = name(number);
            let is_behind = index < own_index;
            let contradicts = match (side_named(other), own_side) {
                (Some(Side::Start), Some(Side::End)) => {
                    rows.before >= LEAST_ROWS
                        && rows.before * ENDS_ONE_IN >= rows.before + rows.others
                }
                (Some(Side::End), _) | (_, Some(Side::Start)) => false,
                _ => is_behind && rows.before >= LEAST_ROWS && rows.others == 0,
            };
            contradicts.then_some(other)
        })
    }
}

impl EvidenceSource for HalfClocks {
    fn observe(&mut self, row: &Observed<'_>) {
        let Some(Stamp::Time(own)) = row.settled_stamp(row.number) else {
            return;
        };
        for (&number, rows) in &mut self.others {
            let Some(Stamp::Time(other)) = row.settled_stamp(number) else {
                continue;
            };
            if own < other {
                rows.before += 1;
            } else {
                rows.others += 1;
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<HalfClocks>(later).others;
        for (rows, more) in self.others.values_mut().zip(later.into_values()) {
            rows.before += more.before;
            rows.others += more.others;
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(HalfClocks::new(self.others.keys().copied()))
    }

    fn wants_reading(&self, number: usize) -> bool {
        self.others.contains_key(&number)
    }

    fn conclude<'s>(&'s self, _question: &Question<'_>) -> Vec<Conclusion<'s>> {
        Vec::new()
    }

    fn clock_doubt(&self, question: &Question<'_>) -> Option<ClockDoubt> {
        let other = self.contradicted(question)?;
        Some(ClockDoubt::ShouldFollow(other.to_owned()))
    }

    // A column that it contradicts is passed through, with a remark of its own.
    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        Vec::new()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
