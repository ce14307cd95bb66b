//! Counts: numbers that count units since an origin, written as the CF
//! conventions write them (§4.4): `days since 1899-12-30`.
//!
//! ```
//! use metachron_core::form::Count;
//!
//! let count: Count = "days since 1899-12-30".parse()?;
//! assert_eq!(count.read("41646.57708").unwrap().to_string(), "2014-01-07T13:51:00");
//! // The short names stand for counts in common use.
//! let unix: Count = "unix-ms".parse()?;
//! assert_eq!(unix.to_string(), "milliseconds since 1970-01-01");
//! # Ok::<(), metachron_core::form::ParseCountError>(())
//! ```

use super::Impossible;
use super::decimal::{Decimal, NoNumber, decimal};
use crate::stamp::{Kind, Stamp};
use crate::words::nearest;
use jiff::civil::{Date, DateTime, Time};

/// A number that counts units since an origin.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Count {
    unit: CountUnit,
    origin: Origin,
}

/// What is counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum CountUnit {
    /// Days of 24 hours.
    Days,
    /// Hours.
    Hours,
    /// Minutes.
    Minutes,
    /// Seconds.
    Seconds,
    /// Thousandths of a second.
    Milliseconds,
    /// Millionths of a second.
    Microseconds,
    /// Tenths of a millionth of a second.
    HundredNanoseconds,
    /// Thousand-millionths of a second.
    Nanoseconds,
}

/// What is counted from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
enum Origin {
    /// A day and time in no stated zone.
    Civil(DateTime),
    /// A day and time in UTC: the count is of instants.
    Utc(DateTime),
    /// The start of any day: the count is a time of day.
    Midnight,
    /// The workbook's 1900-01-00, with the day 60 that never was
    /// (ECMA-376 part 1, §18.17.4.1).
    Workbook1900,
}

const SECOND: i128 = 1_000_000_000;
const DAY: i128 = 86_400 * SECOND;

/// Short names: what they are called, what they stand for.
pub const SHORT_COUNTS: [(&str, &str); 16] = [
    ("unix-s", "seconds since 1970-01-01"),
    ("unix-ms", "milliseconds since 1970-01-01"),
    ("unix-us", "microseconds since 1970-01-01"),
    ("unix-ns", "nanoseconds since 1970-01-01"),
    (
        "workbook-1900",
        "days since 1900-01-00, with the workbook's day 60",
    ),
    ("workbook-1904", "days since 1904-01-01"),
    ("julian-day", "days since -4713-11-24T12:00:00"),
    ("modified-julian-day", "days since 1858-11-17"),
    ("common-era-day", "days since 0000-12-31"),
    ("year-0-day", "days since 0000-01-01"),
    ("ticks-1601", "100 nanoseconds since 1601-01-01"),
    ("ticks-0001", "100 nanoseconds since 0001-01-01"),
    ("seconds-1582", "seconds since 1582-10-14"),
    ("seconds-1904", "seconds since 1904-01-01"),
    ("seconds-1980", "seconds since 1980-01-06"),
    ("seconds-2001", "seconds since 2001-01-01"),
];

impl CountUnit {
    const ALL: [(CountUnit, &'static str, i128); 8] = [
        (CountUnit::Days, "days", DAY),
        (CountUnit::Hours, "hours", 3600 * SECOND),
        (CountUnit::Minutes, "minutes", 60 * SECOND),
        (CountUnit::Seconds, "seconds", SECOND),
        (CountUnit::Milliseconds, "milliseconds", SECOND / 1000),
        (CountUnit::Microseconds, "microseconds", SECOND / 1_000_000),
        (CountUnit::HundredNanoseconds, "100 nanoseconds", 100),
        (CountUnit::Nanoseconds, "nanoseconds", 1),
    ];

    fn name(self) -> &'static str {
        Self::ALL[self as usize].1
    }

    fn nanoseconds(self) -> i128 {
        Self::ALL[self as usize].2
    }

    /// How many of it make a second, where it is no longer than one.
    pub(crate) fn parts_of_second(self) -> Option<u64> {
        let parts = SECOND / self.nanoseconds();
        u64::try_from(parts).ok().filter(|parts| *parts > 0)
    }
}

impl Count {
    /// Workbook days, the count that numbers in date columns mostly are. Its
    /// plain arithmetic is right from 1 March 1900 on.
    pub const WORKBOOK: Count = Count {
        unit: CountUnit::Days,
        origin: Origin::Civil(DateTime::constant(1899, 12, 30, 0, 0, 0, 0)),
    };

    /// The days of workbooks that count from 1904 (ECMA-376 part 1, §18.17.4.1).
    pub(crate) const WORKBOOK_1904: Count = Count {
        unit: CountUnit::Days,
        origin: Origin::Civil(DateTime::constant(1904, 1, 1, 0, 0, 0, 0)),
    };

    /// Units since 1970 in UTC.
    pub(crate) const fn unix(unit: CountUnit) -> Count {
        Count {
            unit,
            origin: Origin::Utc(DateTime::constant(1970, 1, 1, 0, 0, 0, 0)),
        }
    }

    /// The kind of stamp that a number with (or without) decimals is.
    pub fn kind(self, has_decimals: bool) -> Kind {
        match self.origin {
            Origin::Midnight => Kind::Time,
            Origin::Utc(_) => Kind::Instant,
            Origin::Civil(at) if at.time() != Time::midnight() => Kind::DateTime,
            _ if self.unit == CountUnit::Days && !has_decimals => Kind::Date,
            _ => Kind::DateTime,
        }
    }

    /// The same count, of stamps of `kind` where that is declared: whoever says that a
    /// number counts instants means UTC, and whoever says that it counts days since
    /// 1970 means the days that the calendar shows there.
    pub(crate) fn of_kind(self, kind: Kind) -> Count {
        let origin = match (self.origin, kind) {
            (Origin::Utc(at), Kind::Date | Kind::DateTime) => Origin::Civil(at),
            (Origin::Civil(at), Kind::Instant) => Origin::Utc(at),
            (origin, _) => origin,
        };
        Count { origin, ..self }
    }

    /// Whether these are the days by which a workbook counts.
    pub(crate) fn is_of_workbook(self) -> bool {
        let is_day = |origin: DateTime| {
            [Date::constant(1899, 12, 30), Date::constant(1904, 1, 1)].contains(&origin.date())
        };
        self.unit == CountUnit::Days
            && match self.origin {
                Origin::Workbook1900 => true,
                Origin::Civil(origin) => is_day(origin),
                Origin::Utc(_) | Origin::Midnight => false,
            }
    }

    /// What is counted.
    pub(crate) fn unit(self) -> CountUnit {
        self.unit
    }

    /// The day that it counts from, as days since 1970-01-01; `None` where it does not
    /// count from the midnight of a day.
    pub(crate) fn origin_day(self) -> Option<i64> {
        let origin = match self.origin {
            Origin::Civil(at) | Origin::Utc(at) => at,
            Origin::Workbook1900 => Count::workbook_origin(),
            Origin::Midnight => return None,
        };
        let since = origin.duration_since(DateTime::constant(1970, 1, 1, 0, 0, 0, 0));
        let is_midnight = origin.time() == Time::midnight();
        is_midnight.then(|| since.as_hours() / 24)
    }

    /// Whether stamps of `kind` can be counted so.
    pub fn takes(self, kind: Kind) -> bool {
        match self.origin {
            Origin::Midnight => kind == Kind::Time,
            Origin::Utc(_) => kind == Kind::Instant,
            Origin::Civil(_) | Origin::Workbook1900 => {
                matches!(kind, Kind::Date | Kind::DateTime)
            }
        }
    }

    /// The number that stands for `stamp`, which is of a kind that it takes:
    /// a numerator and a denominator.
    ///
    /// # Errors
    ///
    /// Where a workbook cannot count so far back.
    ///
    /// ```
    /// use metachron_core::form::Count;
    /// use metachron_core::stamp::Stamp;
    ///
    /// let count: Count = "hours since 2024-01-01".parse()?;
    /// let day = Stamp::Date(jiff::civil::date(2024, 1, 3));
    /// let (numerator, denominator) = count.of(day).unwrap();
    /// assert_eq!(numerator / denominator, 48);
    /// # Ok::<(), metachron_core::form::ParseCountError>(())
    /// ```
    pub fn of(self, stamp: Stamp) -> Result<(i128, i128), Impossible> {
        let at = match stamp {
            Stamp::Date(date) => date.to_datetime(Time::midnight()),
            Stamp::DateTime(at) => at,
            Stamp::Instant(at) => jiff::tz::Offset::UTC.to_datetime(at),
            Stamp::Time(time) => Date::ZERO.to_datetime(time),
            _ => return Err(Impossible::OutOfRange),
        };
        let origin = match self.origin {
            Origin::Civil(origin) | Origin::Utc(origin) => origin,
            Origin::Midnight => Date::ZERO.to_datetime(Time::midnight()),
            // Below 60 the workbook counts as if 1900 had no 29 February.
            Origin::Workbook1900 if at.date() < Date::constant(1900, 1, 1) => {
                return Err(Impossible::OutOfRange);
            }
            Origin::Workbook1900 if at.date() < Date::constant(1900, 3, 1) => {
                DateTime::constant(1899, 12, 31, 0, 0, 0, 0)
            }
            Origin::Workbook1900 => Count::workbook_origin(),
        };
        Ok((
            at.duration_since(origin).as_nanos(),
            self.unit.nanoseconds(),
        ))
    }

    /// What the number `text` stands for.
    ///
    /// It is read exactly, never through a float. A fraction of a day, hour or
    /// minute is taken to the nearest second (millisecond, microsecond) that
    /// its decimals can tell apart, but never into the next day.
    ///
    /// # Errors
    ///
    /// Where it is no number, counts a day that never was, or reaches beyond
    /// the years -9999 to 9999; where it is 0 days, which is an empty cell
    /// more often than a day.
    pub fn read(self, text: &str) -> Result<Stamp, Impossible> {
        if let Some(day) = self.whole_day(text) {
            return Ok(Stamp::Date(day));
        }
        let number = decimal(text).map_err(|why| match why {
            NoNumber::Malformed => Impossible::NoNumber,
            NoNumber::WhichSign => Impossible::DecimalSign,
        })?;
        let has_decimals = number.scale > 0;
        let nanoseconds = self.nanoseconds(number)?;
        match self.origin {
            Origin::Midnight => time_of(nanoseconds).map(Stamp::Time),
            Origin::Workbook1900 => self.workbook(number, nanoseconds),
            Origin::Utc(origin) => {
                let at = add(origin, nanoseconds)?;
                let at = jiff::tz::Offset::UTC.to_timestamp(at);
                at.map(Stamp::Instant)
                    .map_err(|_| Impossible::BeyondInstants)
            }
            Origin::Civil(origin) => {
                self.refuse_small(origin, number, nanoseconds)?;
                let at = add(origin, nanoseconds)?;
                Ok(match self.kind(has_decimals) {
                    Kind::Date => Stamp::Date(at.date()),
                    _ => Stamp::DateTime(at),
                })
            }
        }
    }

    /// The day that a short whole number is, where days are counted from a
    /// midnight: the numbers that most columns of numbers hold, and many that
    /// are no dates at all, which have to be read as fast.
    #[inline]
    fn whole_day(self, text: &str) -> Option<Date> {
        let Origin::Civil(origin) = self.origin else {
            return None;
        };
        let digits = text.as_bytes();
        if self.unit != CountUnit::Days
            || origin.time() != Time::midnight()
            || !(3..=6).contains(&digits.len())
        {
            return None;
        }
        let mut number = 0_i32;
        for digit in digits {
            number = match digit {
                b'0'..=b'9' => number * 10 + i32::from(digit - b'0'),
                _ => return None,
            };
        }
        let days = jiff::Span::new()
            .try_days(number)
            .ok()
            .filter(|_| number > 0)?;
        origin.date().checked_add(days).ok()
    }

    /// Workbooks and databases hold 0 for an empty cell, and workbooks a time of
    /// day without a date as a number below 1.
    fn refuse_small(
        self,
        origin: DateTime,
        number: Decimal,
        nanoseconds: i128,
    ) -> Result<(), Impossible> {
        let is_workbook = self.is_of_workbook();
        let is_unix = origin.date() == Date::constant(1970, 1, 1);
        if number.digits == 0 && (is_workbook || is_unix) {
            return Err(Impossible::CountOfZero);
        }
        if is_workbook && (0..DAY).contains(&nanoseconds) {
            Err(Impossible::OnlyTimeOfDay(time_of(nanoseconds)?))
        } else {
            Ok(())
        }
    }

    fn workbook(self, number: Decimal, nanoseconds: i128) -> Result<Stamp, Impossible> {
        self.refuse_small(Count::workbook_origin(), number, nanoseconds)?;
        let day = nanoseconds.div_euclid(DAY);
        let origin = match day {
            60 => return Err(Impossible::DayThatNeverWas),
            // Below 60 the workbook counts as if 1900 had no 29 February.
            1..60 => Date::constant(1899, 12, 31),
            _ if day < 0 => return Err(Impossible::OutOfRange),
            _ => Date::constant(1899, 12, 30),
        };
        let at = add(origin.to_datetime(Time::midnight()), nanoseconds)?;
        Ok(match number.scale {
            0 => Stamp::Date(at.date()),
            _ => Stamp::DateTime(at),
        })
    }

    fn workbook_origin() -> DateTime {
        DateTime::constant(1899, 12, 30, 0, 0, 0, 0)
    }

    /// The number in nanoseconds, its fraction as fine as its decimals.
    fn nanoseconds(self, number: Decimal) -> Result<i128, Impossible> {
        let unit = self.unit.nanoseconds();
        let (product, scale) = number.times(unit)?;
        let exact = product.div_euclid(scale);
        if product.rem_euclid(scale) == 0 && unit <= SECOND {
            return Ok(exact);
        }
        if unit <= SECOND {
            // Digits past the nanosecond are cut.
            return Ok(exact);
        }
        // What the last decimal stands for, and the unit no finer than that.
        // Such numbers come out of floats, which hold fifteen digits
        // (IEEE 754 binary64); what is behind them is noise.
        let digits = number
            .digits
            .unsigned_abs()
            .checked_ilog10()
            .map_or(1, |log| log + 1);
        let noise = digits.saturating_sub(15).min(number.scale);
        let resolution = unit / 10_i128.pow(number.scale - noise);
        let grain = [1, 1000, 1_000_000, SECOND]
            .into_iter()
            .find(|grain| *grain >= resolution)
            .unwrap_or(SECOND);
        let half = grain.checked_mul(scale).ok_or(Impossible::OutOfRange)?;
        let doubled = product
            .checked_mul(2)
            .and_then(|doubled| doubled.checked_add(half));
        let (doubled, step) = doubled
            .zip(half.checked_mul(2))
            .ok_or(Impossible::OutOfRange)?;
        let nearest = doubled.div_euclid(step) * grain;
        // The last moment of its own day, where rounding would leave it.
        if nearest.div_euclid(DAY) > exact.div_euclid(DAY) {
            Ok((exact.div_euclid(DAY) + 1) * DAY - grain)
        } else {
            Ok(nearest)
        }
    }
}

fn add(origin: DateTime, nanoseconds: i128) -> Result<DateTime, Impossible> {
    let since = i128::from(origin.hour()) * 3600 * SECOND
        + i128::from(origin.minute()) * 60 * SECOND
        + i128::from(origin.second()) * SECOND
        + i128::from(origin.subsec_nanosecond());
    let total = since
        .checked_add(nanoseconds)
        .ok_or(Impossible::OutOfRange)?;
    let days = i32::try_from(total.div_euclid(DAY)).map_err(|_| Impossible::OutOfRange)?;
    let date = jiff::Span::new()
        .try_days(days)
        .and_then(|days| origin.date().checked_add(days))
        .map_err(|_| Impossible::OutOfRange)?;
    Ok(date.to_datetime(time_of(total.rem_euclid(DAY))?))
}

/// The time of day so many nanoseconds behind midnight.
fn time_of(nanoseconds: i128) -> Result<Time, Impossible> {
    if !(0..DAY).contains(&nanoseconds) {
        return Err(Impossible::OutOfRange);
    }
    let seconds = (nanoseconds / SECOND) as i32;
    let (hour, minute, second) = (seconds / 3600, seconds / 60 % 60, seconds % 60);
    Time::new(
        hour as i8,
        minute as i8,
        second as i8,
        (nanoseconds % SECOND) as i32,
    )
    .map_err(|_| Impossible::OutOfRange)
}

impl std::fmt::Display for Count {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let unit = self.unit.name();
        let at = |at: DateTime| {
            if at.time() == Time::midnight() {
                Stamp::Date(at.date())
            } else {
                Stamp::DateTime(at)
            }
        };
        match self.origin {
            Origin::Workbook1900 => f.write_str("workbook-1900"),
            Origin::Midnight => write!(f, "{unit} since midnight"),
            Origin::Civil(origin) => write!(f, "{unit} since {}", at(origin)),
            Origin::Utc(origin) if is_utc_by_its_makers(origin) => {
                write!(f, "{unit} since {}", at(origin))
            }
            Origin::Utc(origin) => write!(f, "{unit} since {}Z", Stamp::DateTime(origin)),
        }
    }
}

/// 1970 and 1601: origins that their makers define in UTC.
fn is_utc_by_its_makers(origin: DateTime) -> bool {
    let of = |year| DateTime::constant(year, 1, 1, 0, 0, 0, 0);
    origin == of(1970) || origin == of(1601)
}

/// The text is no count.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ParseCountError {
    /// It is not written as a count is.
    #[error("`{text}` is no count; write UNIT since ORIGIN, such as `days since 1899-12-30`{hint}")]
    Shape {
        /// What was given.
        text: String,
        /// A short name that may have been meant.
        hint: String,
    },
    /// The unit is none.
    #[error("`{unit}` is no unit to count in{hint}")]
    Unit {
        /// What was given.
        unit: String,
        /// The units there are.
        hint: String,
    },
    /// The origin is no date or instant.
    #[error(
        "`{origin}` is no origin; write a date or time as ISO 8601 does, such as 1899-12-30, or `midnight`"
    )]
    Origin {
        /// What was given.
        origin: String,
    },
}

impl std::str::FromStr for Count {
    type Err = ParseCountError;

    fn from_str(text: &str) -> Result<Count, ParseCountError> {
        let text = text.trim();
        if text == "workbook-1900" {
            return Ok(Count {
                unit: CountUnit::Days,
                origin: Origin::Workbook1900,
            });
        }
        let short = SHORT_COUNTS.iter().find(|(name, _)| *name == text);
        let text = short.map_or(text, |(_, long)| long);
        let Some((unit, origin)) = text.split_once(" since ") else {
            let names = SHORT_COUNTS.iter().map(|(name, _)| *name);
            return Err(ParseCountError::Shape {
                text: text.to_owned(),
                hint: match nearest(text, names) {
                    Some(near) => format!("; did you mean `{near}`?"),
                    None => String::new(),
                },
            });
        };
        let unit = unit_named(unit.trim())?;
        let origin = origin_at(origin.trim())?;
        Ok(Count { unit, origin })
    }
}

fn unit_named(name: &str) -> Result<CountUnit, ParseCountError> {
    let names = || CountUnit::ALL.iter().map(|(_, name, _)| *name);
    let known = CountUnit::ALL
        .iter()
        .find(|(_, known, _)| *known == name || known.strip_suffix('s') == Some(name));
    known
        .map(|(unit, ..)| *unit)
        .ok_or_else(|| ParseCountError::Unit {
            unit: name.to_owned(),
            hint: match nearest(name, names()) {
                Some(near) => format!("; did you mean `{near}`?"),
                None => format!(
                    "; there are {}",
                    crate::words::list(&names().collect::<Vec<_>>(), "and")
                ),
            },
        })
}

fn origin_at(text: &str) -> Result<Origin, ParseCountError> {
    if text == "midnight" {
        return Ok(Origin::Midnight);
    }
    // Years before 0 are written with four digits as well as with six.
    let long_year = match text.strip_prefix('-') {
        Some(rest) if rest.find('-') == Some(4) => format!("-00{rest}"),
        _ => text.replace(' ', "T"),
    };
    let wrong = || ParseCountError::Origin {
        origin: text.to_owned(),
    };
    if let Ok(at) = long_year.parse::<jiff::Timestamp>() {
        return Ok(Origin::Utc(jiff::tz::Offset::UTC.to_datetime(at)));
    }
    let at: DateTime = long_year.parse().map_err(|_| wrong())?;
    Ok(if is_utc_by_its_makers(at) {
        Origin::Utc(at)
    } else {
        Origin::Civil(at)
    })
}

#[cfg(test)]
mod tests;
