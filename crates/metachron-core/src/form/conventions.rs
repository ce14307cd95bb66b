//! What a cell leaves unsaid.

use super::{Century, HalfOfDay, RowFacts};
use crate::calendar::Calendar;
use crate::zone::WhichInstant;
use serde::{Deserialize, Serialize};

/// What a cell leaves unsaid, and a ruling says for its whole column.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Conventions {
    /// Which hundred years two-digit years stand for.
    pub century: Century,
    /// The calendar that the dates are written in. A cell that names an era
    /// says it itself.
    pub calendar: Calendar,
    /// The year of dates without one.
    pub year: Option<i16>,
    /// What a local time is that clocks in its zone skipped.
    pub in_gap: WhichInstant,
    /// What a local time is that was twice in its zone.
    pub in_overlap: WhichInstant,
    /// What a second of 60 is.
    pub leap_second: LeapSecond,
    /// What 24:00 is where no date is given.
    pub end_of_day: EndOfDay,
    /// What a single letter is that may be a unit of time.
    pub unit_letters: UnitLetters,
    /// Which half of the day an hour without one is in.
    pub half_of_day: HalfOfDay,
}

/// What a single m or capital letter behind the only number of a cell is: `42m`, `60 W`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum UnitLetters {
    /// It stays open: metres, watts or a unit of time.
    #[default]
    Reject,
    /// A unit of time, m for minutes. `M` stays open: months or minutes.
    Time,
}

impl UnitLetters {
    pub(crate) fn is_default(&self) -> bool {
        *self == UnitLetters::Reject
    }
}

/// What 24:00 is where no date is given, whose next day it could begin.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum EndOfDay {
    /// It stays open.
    #[default]
    Reject,
    /// Midnight, 00:00:00: that it ends its day is lost.
    Midnight,
}

impl EndOfDay {
    pub(crate) fn is_default(&self) -> bool {
        *self == EndOfDay::Reject
    }
}

/// What a second of 60 is: a leap second, which no time line without them has.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum LeapSecond {
    /// It stays open, with both neighbours on the review list.
    #[default]
    Reject,
    /// The last second before it, 23:59:59 in UTC.
    Last,
    /// The next second behind it, 00:00:00 of the next day in UTC.
    Next,
}

impl LeapSecond {
    pub(crate) fn is_default(&self) -> bool {
        *self == LeapSecond::Reject
    }
}

impl Conventions {
    /// The usual ones, with two-digit years in `century`.
    pub const fn with_century(century: Century) -> Conventions {
        Conventions {
            century,
            calendar: Calendar::Gregory,
            year: None,
            in_gap: WhichInstant::Reject,
            in_overlap: WhichInstant::Reject,
            leap_second: LeapSecond::Reject,
            end_of_day: EndOfDay::Reject,
            unit_letters: UnitLetters::Reject,
            half_of_day: HalfOfDay::AsWritten,
        }
    }
}

impl Conventions {
    /// These conventions, with nothing ruled about what is no single instant.
    pub fn without_choice(self) -> Conventions {
        Conventions {
            in_gap: WhichInstant::Reject,
            in_overlap: WhichInstant::Reject,
            leap_second: LeapSecond::Reject,
            end_of_day: EndOfDay::Reject,
            unit_letters: UnitLetters::Reject,
            ..self
        }
    }

    /// These conventions, with what its row says.
    #[inline]
    pub fn in_row(self, row_facts: RowFacts) -> Conventions {
        Conventions {
            year: row_facts.year.or(self.year),
            half_of_day: row_facts.half_of_day,
            ..self
        }
    }
}

impl From<Century> for Conventions {
    fn from(century: Century) -> Conventions {
        Conventions::with_century(century)
    }
}
