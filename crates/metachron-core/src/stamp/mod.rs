//! Typed values: what a cell means once it has been read.
//!
//! A [`Stamp`] is a value together with its [`Kind`]. Civil arithmetic is
//! `jiff`'s; the ISO 8601 text is written here, because it is written for
//! every cell of every file.

mod duration;
mod iso;
mod kind;
mod length_unit;

pub use duration::Duration;
pub(crate) use duration::MOST_DECIMALS;
pub(crate) use iso::two;
pub use kind::Kind;
pub use length_unit::LengthUnit;

use jiff::{Timestamp, civil};

/// A typed temporal value.
///
/// ```
/// use metachron_core::stamp::{Kind, Stamp};
///
/// let stamp = Stamp::Date(jiff::civil::date(2025, 3, 4));
/// assert_eq!(stamp.kind(), Kind::Date);
/// assert_eq!(stamp.to_string(), "2025-03-04");
/// ```
///
/// The ordering compares stamps of one kind by time. Stamps of different
/// kinds order by kind, which means nothing in the calendar.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Stamp {
    /// A calendar day (proleptic Gregorian).
    Date(civil::Date),
    /// A time of day, to the nanosecond.
    Time(civil::Time),
    /// A day and a time of day in an unstated zone.
    DateTime(civil::DateTime),
    /// A point on the world's time line.
    Instant(Timestamp),
    /// A month of a year.
    Month(i16, u8),
    /// A quarter of a year, 1–4.
    Quarter(i16, u8),
    /// A week of ISO 8601's calendar, by the year that it belongs to.
    Week(i16, u8),
    /// A year.
    Year(i16),
    /// A length of time.
    Duration(Duration),
}

impl Stamp {
    /// The kind of this value.
    pub fn kind(&self) -> Kind {
        match self {
            Stamp::Date(_) => Kind::Date,
            Stamp::Time(_) => Kind::Time,
            Stamp::DateTime(_) => Kind::DateTime,
            Stamp::Instant(_) => Kind::Instant,
            Stamp::Month(..) => Kind::Month,
            Stamp::Quarter(..) => Kind::Quarter,
            Stamp::Week(..) => Kind::Week,
            Stamp::Year(_) => Kind::Year,
            Stamp::Duration(_) => Kind::Duration,
        }
    }

    /// The calendar day this value falls on; an instant's day is its day in
    /// UTC. A time of day and a length of time fall on none, nor do spans
    /// longer than a day.
    pub fn date(&self) -> Option<civil::Date> {
        match *self {
            Stamp::Date(date) => Some(date),
            Stamp::Time(_)
            | Stamp::Month(..)
            | Stamp::Quarter(..)
            | Stamp::Week(..)
            | Stamp::Year(_)
            | Stamp::Duration(_) => None,
            Stamp::DateTime(at) => Some(at.date()),
            Stamp::Instant(at) => Some(jiff::tz::Offset::UTC.to_datetime(at).date()),
        }
    }

    /// The year that this value falls into, or that its week belongs to; none of a time
    /// of day or a length of time.
    pub(crate) fn year(&self) -> Option<i16> {
        match *self {
            Stamp::Month(year, _) | Stamp::Quarter(year, _) => Some(year),
            Stamp::Week(year, _) | Stamp::Year(year) => Some(year),
            _ => Some(self.date()?.year()),
        }
    }

    /// The same day and time in another year; 29 February becomes the 28th
    /// where that year has none.
    pub(crate) fn in_year(self, year: i16) -> Stamp {
        let moved = |date: civil::Date| date.with().year(year).build();
        let moved = |date: civil::Date| {
            let before = || date.yesterday().ok().and_then(|date| moved(date).ok());
            moved(date).ok().or_else(before).unwrap_or(date)
        };
        match self {
            Stamp::Date(date) => Stamp::Date(moved(date)),
            Stamp::DateTime(at) => Stamp::DateTime(moved(at.date()).to_datetime(at.time())),
            Stamp::Instant(at) => {
                let utc = jiff::tz::Offset::UTC;
                let at = utc.to_datetime(at);
                let there = moved(at.date()).to_datetime(at.time());
                utc.to_timestamp(there).map_or(self, Stamp::Instant)
            }
            Stamp::Month(_, month) => Stamp::Month(year, month),
            Stamp::Quarter(_, quarter) => Stamp::Quarter(year, quarter),
            Stamp::Week(_, week) => Stamp::Week(year, week),
            Stamp::Year(_) => Stamp::Year(year),
            Stamp::Time(_) | Stamp::Duration(_) => self,
        }
    }

    /// Appends the ISO 8601 text (ISO 8601-1:2019 §5.2–5.4) to `out`.
    ///
    /// Seconds are always written; a fraction only as far as it is not zero;
    /// an instant in UTC with `Z`; years outside 0000–9999 expanded with a
    /// sign (§4.4: six digits here).
    pub fn write_iso(&self, out: &mut Vec<u8>) {
        match *self {
            Stamp::Date(date) => iso::date(date, out),
            Stamp::Time(time) => iso::time(time, out),
            Stamp::DateTime(at) => iso::datetime(at, out),
            Stamp::Month(year, month) => iso::month(year, month, out),
            Stamp::Quarter(year, quarter) => iso::part(year, b"-Q", &[b'0' + quarter], out),
            Stamp::Week(year, week) => {
                iso::part(year, b"-W", &[b'0' + week / 10, b'0' + week % 10], out);
            }
            Stamp::Year(year) => iso::year(year, out),
            Stamp::Duration(duration) => duration.write_iso(out),
            Stamp::Instant(at) => {
                iso::datetime(jiff::tz::Offset::UTC.to_datetime(at), out);
                out.push(b'Z');
            }
        }
    }
}

impl Stamp {
    /// Appends the ISO 8601 text to `out`; see [`Stamp::write_iso`].
    pub fn push_iso(&self, out: &mut String) {
        let mut bytes = std::mem::take(out).into_bytes();
        self.write_iso(&mut bytes);
        // ISO 8601 text is ASCII, and what stood before it was UTF-8.
        *out = String::from_utf8(bytes).unwrap_or_else(|_| unreachable!("ISO 8601 text is ASCII"));
    }
}

impl std::fmt::Display for Stamp {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let mut text = Vec::with_capacity(32);
        self.write_iso(&mut text);
        f.write_str(&String::from_utf8_lossy(&text))
    }
}
