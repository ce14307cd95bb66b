//! Why a cell waits, found from the plan of its shape.

use super::decision::{Alternative, Decision, Reason};
use super::{Choice, Judgement, OpenReason, ShapePlan, UnreadableReason};
use crate::evidence::{Hint, far_year};
use crate::form::{Century, Conventions, Form, Impossible, RowFacts, second_after};
use crate::lex::{Lexed, Token};
use crate::locale::{Meaning, Roles, month_of, months_meant};
use crate::reading::{Stamps, leftover};
use crate::stamp::Stamp;

impl Decision {
    /// The decision on a cell that no form of any kind could have written.
    pub fn formless() -> Decision {
        Decision::unreadable(Reason::Formless, Vec::new())
    }

    /// The decision on `cell`, which no form could have written: what it holds
    /// besides a date, if it holds one.
    pub fn on_formless(cell: &Lexed<'_>) -> Decision {
        match leftover(cell) {
            Some(left) => Decision::unreadable(Reason::Leftover(left.to_owned()), Vec::new()),
            None => Decision::formless(),
        }
    }
}

/// Which languages mean which month by the name in `cell` that they do not
/// agree about.
fn name_that_differs(cell: &Lexed<'_>) -> Option<Reason> {
    let differs = |token: &Token| {
        token.class.may_be(Roles::MONTH) && month_of(token.value) == Meaning::DIFFERS
    };
    let index = cell.tokens().iter().position(differs)?;
    let word = cell.token_text(index).trim_end_matches('.').to_lowercase();
    let meant = months_meant(&word);
    Some(Reason::NameDiffers { word, meant })
}

impl ShapePlan {
    /// The decision on `cell`, which must be of this plan's shape, as far as
    /// its own text goes.
    pub fn decide(&self, cell: &Lexed<'_>, row_facts: RowFacts) -> Decision {
        let conventions = self.conventions().in_row(row_facts);
        let (outcome, stamps) = self.readings().of(cell, conventions);
        let judgement = self.judge(&outcome, self.hint(cell, conventions, &stamps));
        match judgement {
            Judgement::Certain(index) | Judgement::Settled(index) => {
                let stamp = stamps[index].ok().map(|stamp| self.in_column(stamp));
                Decision {
                    alternatives: self.alternative(index, &stamps).into_iter().collect(),
                    ..Decision::on_known(judgement.verdict(), stamp)
                }
            }
            Judgement::Open(reason) => {
                let (reason, alternatives) = self.open(reason, cell, &stamps);
                Decision::open(reason, alternatives)
            }
            Judgement::Unreadable(reason) => {
                let (reason, alternatives) = self.unreadable_reason(reason, &stamps);
                Decision::unreadable(reason, alternatives)
            }
        }
    }

    /// What a cell that was read as `stamps` shows besides, as far as its
    /// verdict depends on it.
    pub(crate) fn hint(&self, cell: &Lexed<'_>, conventions: Conventions, stamps: &Stamps) -> Hint {
        if self.may_choose() && self.readings().is_by_choice(cell, conventions, stamps) {
            return Hint::ByChoice;
        }
        match far_year(self.readings(), stamps) {
            Some(Hint::FarYear) => Hint::FarYear,
            _ if self.is_midnight(stamps) => Hint::Midnight,
            far => far.unwrap_or(Hint::Plain),
        }
    }

    /// Whether what the usual readings give is a day's midnight.
    fn is_midnight(&self, stamps: &Stamps) -> bool {
        let candidates = self.readings().candidates().iter().zip(stamps);
        let first = candidates
            .filter(|(candidate, _)| candidate.usual)
            .find_map(|(_, stamp)| stamp.ok());
        matches!(first, Some(Stamp::DateTime(at)) if at.time() == jiff::civil::Time::midnight())
    }

    fn form(&self, index: usize) -> Form {
        self.readings().candidates()[index].form.clone()
    }

    fn open(
        &self,
        reason: OpenReason,
        cell: &Lexed<'_>,
        stamps: &Stamps,
    ) -> (Reason, Vec<Alternative>) {
        let candidates = self.readings().candidates();
        match reason {
            OpenReason::Order => {
                let indexes = self.open_indexes(stamps);
                if indexes.is_empty() {
                    return self.split(stamps);
                }
                let orders = indexes
                    .iter()
                    .filter_map(|&index| candidates[index].order());
                let orders: Vec<_> = orders.collect();
                // Forms without a day and a month have no order to be named by.
                let reason = if orders.is_empty() {
                    Reason::Forms(indexes.iter().map(|&index| self.form(index)).collect())
                } else {
                    Reason::Orders(orders)
                };
                (reason, self.different(&indexes, stamps))
            }
            OpenReason::Century => (Reason::Century, self.both_centuries(cell)),
            OpenReason::Rule(index) => {
                let why = stamps[index].err().unwrap_or(Impossible::LeapSecond);
                let name = match why {
                    Impossible::NameDiffers => name_that_differs(cell),
                    _ => None,
                };
                let reason = name.unwrap_or(Reason::Rule(why));
                (reason, self.seconds_around(index, cell, why))
            }
            OpenReason::FarYear(index) => {
                let reading = self.alternative(index, stamps);
                let year = reading.as_ref().and_then(|own| own.stamp().year());
                (
                    Reason::FarYear(year.unwrap_or(0)),
                    reading.into_iter().collect(),
                )
            }
            OpenReason::Kind(mismatch) => {
                let reading = self
                    .settled_indexes()
                    .find_map(|index| self.alternative(index, stamps));
                (Reason::Kind(mismatch), reading.into_iter().collect())
            }
        }
    }

    /// Why a cell waits that one form reads, and that another may still have
    /// written.
    fn split(&self, stamps: &Stamps) -> (Reason, Vec<Alternative>) {
        let mut choices = self.choices().iter().map(Choice::indexes);
        let open = choices
            .find(|indexes| indexes.len() > 1)
            .unwrap_or_default();
        let may_still = |why: &Impossible| why.awaits_rule() || why.is_slip();
        let other = open.iter().find_map(|&index| {
            let why = stamps[index].err().filter(may_still)?;
            Some((self.form(index), why))
        });
        let readers = open.iter().copied();
        let readers: Vec<usize> = readers.filter(|&index| stamps[index].is_ok()).collect();
        let reason = Reason::Split {
            other,
            readers: readers.iter().map(|&index| self.form(index)).collect(),
        };
        (reason, self.different(&readers, stamps))
    }

    fn unreadable_reason(
        &self,
        reason: UnreadableReason,
        stamps: &Stamps,
    ) -> (Reason, Vec<Alternative>) {
        let candidates = self.readings().candidates();
        match reason {
            UnreadableReason::NoForm => (Reason::NoForm, Vec::new()),
            UnreadableReason::FarCount(index) => {
                let reading = self.alternative(index, stamps);
                (
                    Reason::FarCount(self.form(index)),
                    reading.into_iter().collect(),
                )
            }
            UnreadableReason::Impossible(index) => {
                let reason = Reason::Impossible {
                    why: stamps[index].err().unwrap_or(Impossible::OutOfRange),
                    form: self.form(index),
                };
                (reason, Vec::new())
            }
            UnreadableReason::Contradicts(index) => {
                let usual = |index: &usize| candidates[*index].usual && stamps[*index].is_ok();
                let mut readers: Vec<usize> = (0..candidates.len()).filter(usual).collect();
                if readers.is_empty() {
                    readers.push(index);
                }
                let ruled = self.settled_indexes().next();
                let reason = Reason::Contradicts {
                    readers: readers.iter().map(|&index| self.form(index)).collect(),
                    ruled: ruled.map(|index| (self.form(index), stamps[index].err())),
                };
                (reason, self.different(&readers, stamps))
            }
        }
    }

    /// The candidates of the first entry that is still open for the cell.
    fn open_indexes(&self, stamps: &Stamps) -> Vec<usize> {
        self.choices()
            .iter()
            .map(|choice| {
                let indexes = choice.indexes().iter().copied();
                indexes.filter(|&index| stamps[index].is_ok()).collect()
            })
            .find(|indexes: &Vec<usize>| indexes.len() > 1)
            .unwrap_or_default()
    }

    fn settled_indexes(&self) -> impl Iterator<Item = usize> + '_ {
        self.choices()
            .iter()
            .flat_map(|choice| choice.indexes().iter().copied())
    }

    fn alternative(&self, index: usize, stamps: &Stamps) -> Option<Alternative> {
        let stamp = self.in_column(stamps[index].ok()?);
        Some(Alternative::AsForm(stamp, self.form(index)))
    }

    /// The readings of `indexes`, those with equal stamps once.
    fn different(&self, indexes: &[usize], stamps: &Stamps) -> Vec<Alternative> {
        let mut known: Vec<Stamp> = Vec::new();
        let mut alternatives = Vec::new();
        for &index in indexes {
            if let Ok(stamp) = stamps[index]
                && !known.contains(&stamp)
            {
                known.push(stamp);
                alternatives.extend(self.alternative(index, stamps));
            }
        }
        alternatives
    }

    /// What the cell means in either century.
    fn both_centuries(&self, cell: &Lexed<'_>) -> Vec<Alternative> {
        let candidates = self.readings().candidates();
        let reader = self
            .settled_indexes()
            .map(|index| &candidates[index])
            .find(|candidate| candidate.reader.read(cell, Century::Open.into()).is_ok());
        let Some(candidate) = reader else {
            return Vec::new();
        };
        [1900, 2000]
            .into_iter()
            .filter_map(|first| {
                let window = Century::Window(first).into();
                let stamp = candidate.reader.read(cell, window).ok()?;
                Some(Alternative::InWindow(stamp, candidate.form.clone(), first))
            })
            .collect()
    }

    /// The seconds on either side of a leap second.
    fn seconds_around(&self, index: usize, cell: &Lexed<'_>, why: Impossible) -> Vec<Alternative> {
        if why != Impossible::LeapSecond {
            return Vec::new();
        }
        let reader = &self.readings().candidates()[index].reader;
        let Ok(before) = reader.read_second_before_leap(cell, self.conventions()) else {
            return Vec::new();
        };
        let after = second_after(before).map(Alternative::SecondAfter);
        [Some(Alternative::SecondBefore(before)), after]
            .into_iter()
            .flatten()
            .collect()
    }
}
