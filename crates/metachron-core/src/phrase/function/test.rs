//! Tests of a stamp: `due is weekend`.

use super::no_part;
use crate::phrase::value::mismatch;
use crate::stamp::{Kind, Stamp};
use jiff::civil::Date;
use std::fmt::{self, Debug, Formatter};

/// What a stamp is tested for: `X is leap year`.
pub(crate) struct StampTest {
    /// The words behind `is`.
    pub words: &'static str,
    /// The part of a stamp that the test is about.
    part: &'static str,
    /// The kinds that have this part.
    kinds: &'static [Kind],
    pub eval: fn(&Stamp) -> bool,
    /// What it holds of, in a line.
    pub doc: &'static str,
}

pub(crate) static TESTS: [StampTest; 3] = [
    StampTest {
        words: "leap year",
        part: "year",
        kinds: &[
            Kind::Date,
            Kind::DateTime,
            Kind::Month,
            Kind::Quarter,
            Kind::Year,
        ],
        eval: |stamp| {
            let first = stamp.year().and_then(|year| Date::new(year, 1, 1).ok());
            first.is_some_and(Date::in_leap_year)
        },
        doc: "whether its year has 29 February",
    },
    StampTest {
        words: "weekday",
        part: "weekday",
        kinds: DAYS,
        eval: |stamp| !is_weekend(stamp),
        doc: "whether it is a Monday to Friday",
    },
    StampTest {
        words: "weekend",
        part: "weekday",
        kinds: DAYS,
        eval: is_weekend,
        doc: "whether it is a Saturday or Sunday",
    },
];

const DAYS: &[Kind] = &[Kind::Date, Kind::DateTime];

impl StampTest {
    /// Whether stamps of `kind`, written `value`, can be tested so; else why
    /// not.
    pub(crate) fn takes(&self, kind: Kind, value: &str) -> Result<(), String> {
        if self.kinds.contains(&kind) {
            Ok(())
        } else {
            Err(no_part(kind, self.part, value))
        }
    }
}

impl PartialEq for StampTest {
    fn eq(&self, other: &StampTest) -> bool {
        self.words == other.words
    }
}

impl Debug for StampTest {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "StampTest({})", self.words)
    }
}

fn is_weekend(stamp: &Stamp) -> bool {
    date(stamp).weekday().to_monday_one_offset() > 5
}

fn date(stamp: &Stamp) -> Date {
    match stamp.date() {
        Some(date) => date,
        None => mismatch("a day", stamp),
    }
}
