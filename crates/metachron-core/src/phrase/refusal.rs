//! Why a phrase gives no value in a row.

use super::number::Number;
use super::unit::Unit;
use crate::form::Unwritable;
use crate::stamp::{Duration, Stamp};
use crate::zone::NoSuchZone;
use jiff::Timestamp;
use jiff::civil::{Date, DateTime};

/// What is computed from values.
// Boxed: a refusal is rare and large, and every part of a phrase hands one back.
pub(super) type Evaluated<T> = Result<T, Box<Refusal>>;

/// Why a phrase cannot give a value in a row, where none of its cells is
/// blank: the derived cell is left for a person.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum Refusal {
    /// It would be a day before -9999 or behind 9999.
    #[error("the result lies beyond the years -9999 to 9999")]
    BeyondYears,
    /// A month has no such day, and the phrase says to refuse it.
    #[error("{year:04}-{month:02} has no day {day}, and `month-end refuse` takes no other")]
    MonthEnd {
        /// The year that it would be in.
        year: i16,
        /// The month.
        month: i8,
        /// The day that it does not have.
        day: i8,
    },
    /// There is no such day.
    #[error("there is no day {day} in month {month} of {year}")]
    NoDay {
        /// The year.
        year: i64,
        /// The month.
        month: i64,
        /// The day.
        day: i64,
    },
    /// There is no such time of day.
    #[error("there is no time of day {0}")]
    NoTime(String),
    /// A cell is no number.
    #[error("`{0}` is no number; write numbers as 1.5")]
    NoNumber(String),
    /// A cell is no month.
    #[error("`{0}` is no month's number, and no month's name in the phrase's locale")]
    NoMonth(String),
    /// A number has decimals and must not.
    #[error("{0} is no whole number")]
    NotWhole(Number),
    /// A number of calendar units has decimals.
    #[error("{0} {unit} are no whole number of them, and have no fixed length", unit = .1.name())]
    NotWholeUnits(Number, Unit),
    /// A date was moved by a part of a day.
    #[error("{0} is no whole number of days, and a date has no time of day")]
    NotWholeDays(Duration),
    /// An age on a day before the birth.
    #[error("{on} is before the birth on {born}")]
    BeforeBirth {
        /// The day of birth.
        born: Date,
        /// The day of the age.
        on: Date,
    },
    /// A length with calendar units, where only an exact one will do.
    #[error("{0} has months, which have no fixed length")]
    NoFixedLength(Duration),
    /// A length without calendar units, where these are counted.
    #[error("{0} is an exact length, which is no number of {unit}", unit = .1.name())]
    NoMonths(Duration, Unit),
    /// A sum of months one way and exact time the other way.
    #[error("months one way and exact time the other way are no one duration")]
    MixedSigns,
    /// A time of day was moved past midnight.
    #[error("the result passes midnight, and a time of day has no day")]
    PassesMidnight,
    /// More digits than are computed with.
    #[error("the result has more than 28 digits")]
    TooLarge,
    /// A division by 0.
    #[error("nothing can be divided by 0")]
    ByZero,
    /// A row's zone is none.
    #[error("{0}")]
    Zone(#[from] NoSuchZone),
    /// A local time that clocks skipped.
    #[error("clocks in {zone} went forward over {}: it never was", written(at))]
    InGap {
        /// The local time.
        at: DateTime,
        /// The zone.
        zone: String,
        /// What it could be.
        both: [Timestamp; 2],
    },
    /// A local time that was twice.
    #[error("clocks in {zone} went back over {}: it was twice", written(at))]
    InOverlap {
        /// The local time.
        at: DateTime,
        /// The zone.
        zone: String,
        /// What it could be.
        both: [Timestamp; 2],
    },
    /// The form cannot write it.
    #[error("{0}")]
    Unwritable(#[from] Unwritable),
    /// The count of what is not on its clock.
    #[error("{0}")]
    Count(String),
}

fn written(at: &DateTime) -> Stamp {
    Stamp::DateTime(*at)
}
