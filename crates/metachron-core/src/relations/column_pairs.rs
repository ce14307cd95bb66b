//! Level 5: other temporal columns that are never earlier, or never later.

use super::observed::Observed;
use super::premise::Premise;
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::{OwnReading, is_before};
use crate::words::number;
use indexmap::IndexMap;
use std::any::Any;

/// That a column is never earlier than another is believed from so many rows
/// on in which both are known, none of which contradicts, where all cells of a
/// form go the same way.
const LEAST_IN_BOTH: u64 = 20;

/// A column's stamps against those of every temporal column.
#[derive(Debug)]
pub(super) struct ColumnPairs {
    /// By the number of the other.
    against: IndexMap<usize, Against>,
}

/// A column's stamps against those of another.
#[derive(Debug, Default)]
struct Against {
    before: u64,
    same: u64,
    after: u64,
    /// What open cells are left if they are never before, as long as none is.
    if_not_before: Votes,
    /// What they are left if they are never after, as long as none is.
    if_not_after: Votes,
}

impl ColumnPairs {
    /// Of a column and these temporal ones.
    pub fn new(others: impl IntoIterator<Item = usize>) -> ColumnPairs {
        let others = others.into_iter();
        ColumnPairs {
            against: others.map(|number| (number, Against::default())).collect(),
        }
    }
}

impl Against {
    fn rows(&self) -> u64 {
        self.before + self.same + self.after
    }

    /// Whether it stands on both sides: whatever rows follow, nothing holds, and they
    /// need not be counted.
    fn is_out(&self) -> bool {
        self.before > 0 && self.after > 0
    }
}

impl EvidenceSource for ColumnPairs {
    fn observe(&mut self, row: &Observed<'_>) {
        let own = row.settled_stamp(row.number);
        for (&number, against) in &mut self.against {
            if against.is_out() {
                continue;
            }
            let Some(other) = row.settled_stamp(number) else {
                continue;
            };
            match (own, row.own()) {
                (Some(own), _) if is_before(own, other) => against.before += 1,
                (Some(own), _) if is_before(other, own) => against.after += 1,
                (Some(_), _) => against.same += 1,
                (None, OwnReading::Several(several)) => {
                    let stamps = &several.stamps;
                    let is_early = |index: usize| is_before(stamps[index], other);
                    let is_late = |index: usize| is_before(other, stamps[index]);
                    if against.before == 0 {
                        let votes = &mut against.if_not_before;
                        votes.add(several, |index| !is_early(index));
                    }
                    if against.after == 0 {
                        let votes = &mut against.if_not_after;
                        votes.add(several, |index| !is_late(index));
                    }
                }
                (None, _) => {}
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<ColumnPairs>(later).against;
        for (against, more) in self.against.values_mut().zip(later.into_values()) {
            against.before += more.before;
            against.same += more.same;
            against.after += more.after;
            against.if_not_before.merge(&more.if_not_before);
            against.if_not_after.merge(&more.if_not_after);
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let against = self.against.iter().map(|(number, against)| {
            let again = Against {
                before: u64::from(against.is_out()),
                after: u64::from(against.is_out()),
                ..Against::default()
            };
            (*number, again)
        });
        Box::new(ColumnPairs {
            against: against.collect(),
        })
    }

    fn wants_reading(&self, number: usize) -> bool {
        let against = self.against.get(&number);
        against.is_some_and(|against| !against.is_out())
    }

    fn is_out(&self) -> bool {
        self.against.values().all(Against::is_out)
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let mut held = Vec::new();
        for (other, against) in &self.against {
            let index = question.compared.temporal[*other];
            let column = || question.compared.columns[index].clone();
            let rows = against.rows();
            if rows < LEAST_IN_BOTH {
                continue;
            }
            if against.before == 0 {
                held.push(Conclusion::Premise(HeldPremise {
                    premise: Premise::NotBefore {
                        column: column(),
                        rows,
                    },
                    votes: &against.if_not_before,
                    by_chance: 0.0,
                }));
            }
            if against.after == 0 {
                held.push(Conclusion::Premise(HeldPremise {
                    premise: Premise::NotAfter {
                        column: column(),
                        rows,
                    },
                    votes: &against.if_not_after,
                    by_chance: 0.0,
                }));
            }
        }
        held
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let others = self.against.iter();
        others
            .map(|(other, against)| {
                let index = question.compared.temporal[*other];
                let column = &question.compared.columns[index];
                let wanted = format!("{LEAST_IN_BOTH} rows, all on one side");
                if against.is_out() {
                    return format!(
                        "against {column}: some before it, some after it; {}",
                        holds(false, &wanted)
                    );
                }
                format!(
                    "against {column}: {} before it, {} the same, {} after it; {}",
                    number(against.before),
                    number(against.same),
                    number(against.after),
                    holds(against.rows() >= LEAST_IN_BOTH, &wanted)
                )
            })
            .collect()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
