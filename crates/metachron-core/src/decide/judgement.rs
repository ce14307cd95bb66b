//! What becomes of a cell under a ruling.
//!
//! A [`ShapePlan`] is a ruling made ready for one shape. [`ShapePlan::judge`] turns an
//! [`Outcome`] — what the candidates make of a cell — into a [`Judgement`].
//! Surveys judge tallies and conversions judge cells by the same function, so
//! that what the survey forecasts is what the conversion does.

use super::kinds;
use super::{Choice, KindMismatch, ShapePlan};
use crate::evidence::Hint;
use crate::reading::Outcome;
use crate::stamp::Kind;

/// What became of a cell.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Verdict {
    /// One reading is possible.
    Certain,
    /// Several are; the ruling chose.
    Settled,
    /// Several are; nothing settles which.
    Open,
    /// None is.
    Unreadable,
    /// The cell stands for nothing.
    Blank,
}

impl Verdict {
    /// The name used in review lists and JSON.
    pub fn name(self) -> &'static str {
        match self {
            Verdict::Certain => "certain",
            Verdict::Settled => "settled",
            Verdict::Open => "open",
            Verdict::Unreadable => "unreadable",
            Verdict::Blank => "blank",
        }
    }

    /// Whether a person has to look at the cell: such cells stand on the review
    /// list.
    ///
    /// ```
    /// use metachron_core::decide::Verdict;
    ///
    /// assert!(Verdict::Open.needs_review());
    /// assert!(!Verdict::Settled.needs_review());
    /// ```
    pub fn needs_review(self) -> bool {
        matches!(self, Verdict::Open | Verdict::Unreadable)
    }
}

/// A verdict, with the reading that it takes or the reason why it takes none.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Judgement {
    /// One reading is possible: this candidate's.
    Certain(usize),
    /// Several are; the ruling chose this candidate's.
    Settled(usize),
    /// Nothing settles it.
    Open(OpenReason),
    /// No reading that the ruling allows.
    Unreadable(UnreadableReason),
}

/// Why a cell is open.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum OpenReason {
    /// The forms that are still possible read it differently.
    Order,
    /// Its year has two digits, and no window is ruled.
    Century,
    /// It means something that needs a rule of its own, by this candidate.
    Rule(usize),
    /// It is not of the column's kind.
    Kind(KindMismatch),
    /// Its year, as this candidate reads it, may be one of another calendar.
    FarYear(usize),
}

/// Why a cell is unreadable.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum UnreadableReason {
    /// No form of the ruling writes such cells.
    NoForm,
    /// A form of the ruling writes such cells, but this one is impossible.
    Impossible(usize),
    /// It has a reading, but in an order that the ruling excludes.
    Contradicts(usize),
    /// This candidate counts to a year so far away that the number counts no
    /// time.
    FarCount(usize),
}

impl Judgement {
    /// The verdict alone.
    pub fn verdict(self) -> Verdict {
        match self {
            Judgement::Certain(_) => Verdict::Certain,
            Judgement::Settled(_) => Verdict::Settled,
            Judgement::Open(_) => Verdict::Open,
            Judgement::Unreadable(_) => Verdict::Unreadable,
        }
    }
}

impl ShapePlan {
    /// What becomes of a cell that the candidates read as `outcome`, and that
    /// shows `hint` as well.
    #[inline]
    pub fn judge(&self, outcome: &Outcome, hint: Hint) -> Judgement {
        for choice in self.choices() {
            match choice {
                Choice::Settled { index, .. } => {
                    if outcome.reads(*index) {
                        return self.found(outcome, *index, hint);
                    }
                    if outcome.needs_rule(*index) {
                        return Judgement::Open(OpenReason::Rule(*index));
                    }
                }
                // `Mar-24` may be a month of a year, or a day of no year.
                Choice::Open { indexes, .. } if outcome.is_split(indexes) => {
                    return Judgement::Open(OpenReason::Order);
                }
                Choice::Open { indexes, .. } => match outcome.agree(indexes.iter().copied()) {
                    Some(true) => {
                        let reads = indexes.iter().find(|index| outcome.reads(**index));
                        return self.found(outcome, reads.copied().unwrap_or(0), hint);
                    }
                    Some(false) => return Judgement::Open(OpenReason::Order),
                    None => {
                        if let Some(index) =
                            indexes.iter().find(|index| outcome.needs_rule(**index))
                        {
                            return Judgement::Open(OpenReason::Rule(*index));
                        }
                    }
                },
            }
        }
        Judgement::Unreadable(self.unreadable(outcome))
    }

    fn found(&self, outcome: &Outcome, index: usize, hint: Hint) -> Judgement {
        let candidate = &self.readings().candidates()[index];
        let reader = &candidate.reader;
        if reader.has_two_digit_year() && self.century_is_open() {
            return Judgement::Open(OpenReason::Century);
        }
        let has_year = !matches!(reader.kind(), Kind::Time | Kind::Duration);
        let is_far = hint == Hint::FarYear || hint == Hint::FarYearIfRare && candidate.is_rare();
        // Two digits of a year stand for one of the century that is ruled: what is far
        // is another reading of the cell.
        let is_own = !reader.has_two_digit_year();
        if is_far && is_own && has_year && self.doubts_far_years() {
            return if reader.is_bare_number() {
                Judgement::Unreadable(UnreadableReason::FarCount(index))
            } else {
                Judgement::Open(OpenReason::FarYear(index))
            };
        }
        let class = outcome.class(index);
        let rivals = self.readings().candidates().iter().enumerate();
        let has_rival = rivals
            .filter(|(_, rival)| rival.usual)
            .filter_map(|(other, _)| outcome.class(other))
            .any(|other| Some(other) != class);
        match kinds::fit(
            reader.kind(),
            self.kind(),
            hint == Hint::Midnight,
            self.zone(),
            self.period_as(),
        ) {
            Err(mismatch) => Judgement::Open(OpenReason::Kind(mismatch)),
            // A number by itself is a number; that it counts time was decided.
            Ok(kinds::Fit::AsIs)
                if !has_rival
                    && !reader.has_two_digit_year()
                    && !reader.is_bare_number()
                    && hint != Hint::ByChoice =>
            {
                Judgement::Certain(index)
            }
            Ok(_) => Judgement::Settled(index),
        }
    }

    fn unreadable(&self, outcome: &Outcome) -> UnreadableReason {
        let candidates = self.readings().candidates().iter().enumerate();
        let contradicts = candidates
            .filter(|(index, _)| outcome.reads(*index))
            .min_by_key(|(_, candidate)| !candidate.usual);
        if let Some((index, _)) = contradicts {
            return UnreadableReason::Contradicts(index);
        }
        match self.choices().iter().flat_map(Choice::indexes).next() {
            Some(&index) => UnreadableReason::Impossible(index),
            None => UnreadableReason::NoForm,
        }
    }
}

#[cfg(test)]
mod tests;
