//! Lengths of time, as they are written.
//!
//! | form | reads |
//! |---|---|
//! | `elapsed units` | `2 days 20 hours`, `1h 30m`, `1h30`, `1.5 hours`, `1:30 h`, `-1 day, 4:55:17`, `3 days, 17:12`, `@ 2 days 3 hours ago` |
//! | `elapsed unit=n` | `days=2, seconds=30` |
//! | `elapsed ISO 8601` | `P2DT3H`, `-PT15M`, `P0000-00-02T03:00:00` (ISO 8601-1:2019 §5.5.2) |
//! | `elapsed y-M d H:mm:ss` | `+1-2 +3 +4:05:06`, `+1-02` (ISO/IEC 9075-2 §5.3, with signs) |
//! | `elapsed d H:mm:ss` | `325 18:53:17`, `+00 15:10:43.5`, `1-10:44:59`, `30.22:11:29` |
//! | `elapsed H:mm:ss` | `100:15:00`, `1:02:03.5` |
//! | `elapsed H:mm` | `100:15`, a hundred hours and a quarter |
//! | `elapsed m:ss` | `100:15`, a hundred minutes and a quarter |
//! | `elapsed m'ss"` | `33'57"`, `1h 41' 54''` |

mod iso;
mod primes;
mod sql;
mod units;

use super::decimal::{Decimal, decimal};
use super::{Impossible, UnitLetters, Unwritable};
use crate::lex::{Class, Lexed};
use crate::stamp::Duration;
use iso::iso;
use primes::{has_primes, primes};
use sql::{is_sql_interval, sql_interval};
use std::ops::Range;
use units::{named_units, numbers_with_units, signed_units, units_with_numbers};

/// A way of writing lengths of time.
///
/// ```
/// use metachron_core::form::{Elapsed, Form};
///
/// let form: Form = "elapsed H:mm".parse()?;
/// assert_eq!(form.elapsed(), Some(Elapsed::HourMinute));
/// # Ok::<(), metachron_core::form::PatternError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Elapsed {
    /// Numbers with units, in any order.
    Units,
    /// Numbers behind the names of their units.
    NamedUnits,
    /// The durations of ISO 8601.
    Iso,
    /// The intervals of SQL: years and months, days, and a clock, each with a sign.
    Sql,
    /// Days, and behind a space, a hyphen or a dot hours, minutes and seconds.
    DayClock,
    /// Hours, minutes and seconds, parted by colons.
    HourMinuteSecond,
    /// Hours and minutes, parted by a colon.
    HourMinute,
    /// Minutes and seconds, parted by a colon.
    MinuteSecond,
    /// Minutes and seconds, with primes behind them.
    Primes,
}

const SECOND: i128 = 1_000_000_000;

/// Nanoseconds of the units that have a fixed length, by their numbers from
/// [`WEEK`] on.
const LENGTHS: [i128; 8] = [
    604_800 * SECOND,
    86_400 * SECOND,
    3600 * SECOND,
    60 * SECOND,
    SECOND,
    SECOND / 1000,
    SECOND / 1_000_000,
    1,
];

// The numbers of units, as the lexicon gives them.
const YEAR: u8 = 0;
const MONTH: u8 = 1;
const WEEK: u8 = 2;
const DAY: u8 = 3;
const HOUR: u8 = 4;
const MINUTE: u8 = 5;
const SECONDS: u8 = 6;

impl Elapsed {
    const ALL: [(Elapsed, &'static str); 9] = [
        (Elapsed::Units, "elapsed units"),
        (Elapsed::NamedUnits, "elapsed unit=n"),
        (Elapsed::Iso, "elapsed ISO 8601"),
        (Elapsed::Sql, "elapsed y-M d H:mm:ss"),
        (Elapsed::DayClock, "elapsed d H:mm:ss"),
        (Elapsed::HourMinuteSecond, "elapsed H:mm:ss"),
        (Elapsed::HourMinute, "elapsed H:mm"),
        (Elapsed::MinuteSecond, "elapsed m:ss"),
        (Elapsed::Primes, "elapsed m'ss\""),
    ];

    /// Every way.
    pub(crate) fn all() -> impl Iterator<Item = Elapsed> {
        Elapsed::ALL.into_iter().map(|(elapsed, _)| elapsed)
    }

    /// The form's text.
    pub fn name(self) -> &'static str {
        Elapsed::ALL[self as usize].1
    }

    /// The form that is written so.
    pub(super) fn named(text: &str) -> Option<Elapsed> {
        let known = Elapsed::ALL.iter().find(|(_, name)| *name == text);
        known.map(|(elapsed, _)| *elapsed)
    }

    /// Every form's text.
    pub(super) fn names() -> impl Iterator<Item = &'static str> {
        Elapsed::ALL.into_iter().map(|(_, name)| name)
    }

    /// Whether lengths of time are only read in this way, and never written.
    pub(super) fn is_only_read(self) -> bool {
        matches!(
            self,
            Elapsed::Units | Elapsed::NamedUnits | Elapsed::Sql | Elapsed::Primes
        )
    }

    /// Whether a cell of these classes may be written so.
    pub(crate) fn fits(self, classes: &[Class]) -> bool {
        let unsigned = match classes {
            [Class::Symbol('-' | '+'), rest @ ..] => rest,
            all => all,
        };
        let colon = Class::Symbol(':');
        let number = |class: &Class| matches!(class, Class::Short | Class::Digits(_));
        match self {
            Elapsed::Iso => unsigned == [Class::Period],
            Elapsed::DayClock => match unsigned {
                [days, Class::Space | Class::Symbol('-' | '.'), clock @ ..] => {
                    number(days) && is_clock(clock)
                }
                _ => false,
            },
            Elapsed::HourMinuteSecond => is_clock(unsigned),
            Elapsed::HourMinute => match unsigned {
                [hours, a, Class::Short] => number(hours) && *a == colon,
                _ => false,
            },
            Elapsed::MinuteSecond => match unsigned {
                [minutes, a, Class::Short, rest @ ..] => {
                    number(minutes) && *a == colon && are_decimals(rest)
                }
                _ => false,
            },
            Elapsed::Units => numbers_with_units(unsigned),
            Elapsed::NamedUnits => units_with_numbers(classes),
            Elapsed::Sql => is_sql_interval(classes),
            Elapsed::Primes => has_primes(unsigned),
        }
    }

    /// Whether these classes are a clock with the word for hours behind it.
    pub(crate) fn is_clock_with_hours(classes: &[Class]) -> bool {
        units::with_hours(classes).is_some()
    }

    /// What these tokens of `cell`, which fit, stand for.
    pub(super) fn read(
        self,
        cell: &Lexed<'_>,
        range: Range<usize>,
        unit_letters: UnitLetters,
    ) -> Result<Duration, Impossible> {
        let tokens = &cell.tokens()[range.clone()];
        let first = tokens.first().map(|token| token.class);
        let is_negative = first == Some(Class::Symbol('-'));
        let signed = usize::from(matches!(first, Some(Class::Symbol('-' | '+'))));
        let start = tokens.get(signed).map_or(0, |token| token.start as usize);
        let end = tokens.last().map_or(start, |token| token.end as usize);
        let text = &cell.text()[start..end];
        let (months, nanoseconds) = match self {
            Elapsed::Iso => iso(text)?,
            // The sign may be that of its first part alone.
            Elapsed::Units => return signed_units(cell, range, unit_letters),
            Elapsed::NamedUnits => return named_units(cell, range),
            Elapsed::Sql => return sql_interval(&cell.text()[tokens[0].start as usize..end]),
            Elapsed::Primes => (0, primes(cell, range)?),
            Elapsed::DayClock => {
                let end = text
                    .find(|letter: char| !letter.is_ascii_digit())
                    .unwrap_or(text.len());
                let days = decimal(&text[..end]).map_err(|_| Impossible::NoNumber)?;
                let clock = Elapsed::HourMinuteSecond.clock(text[end + 1..].trim())?;
                (0, nanoseconds(days, LENGTHS[1])? + clock)
            }
            _ => (0, self.clock(text)?),
        };
        if months > Duration::MOST_MONTHS || nanoseconds > Duration::MOST_NANOSECONDS {
            return Err(Impossible::OutOfRange);
        }
        let sign = if is_negative { -1 } else { 1 };
        Ok(Duration::new(sign * months, i128::from(sign) * nanoseconds))
    }

    /// Appends the text of `length` to `out`.
    pub(super) fn write(self, length: Duration, out: &mut Vec<u8>) -> Result<(), Unwritable> {
        if self == Elapsed::Iso {
            length.write_iso(out);
            return Ok(());
        }
        if length.months() != 0 {
            return Err(Unwritable::Months(length));
        }
        let exact = length.nanoseconds();
        let sign = if exact < 0 { "-" } else { "" };
        let (seconds, fraction) = (exact.abs() / SECOND, exact.abs() % SECOND);
        let (minutes, second) = (seconds / 60, seconds % 60);
        if self == Elapsed::HourMinute && (second, fraction) != (0, 0) {
            return Err(Unwritable::Seconds(length));
        }
        let mut text = match self {
            Elapsed::HourMinute => format!("{sign}{}:{:02}", minutes / 60, minutes % 60),
            Elapsed::MinuteSecond => format!("{sign}{minutes}:{second:02}"),
            Elapsed::DayClock => {
                let (days, minutes) = (minutes / 1440, minutes % 1440);
                format!(
                    "{sign}{days} {:02}:{:02}:{second:02}",
                    minutes / 60,
                    minutes % 60
                )
            }
            _ => format!("{sign}{}:{:02}:{second:02}", minutes / 60, minutes % 60),
        };
        if fraction != 0 {
            let decimals = format!(".{fraction:09}");
            text.push_str(decimals.trim_end_matches('0'));
        }
        out.extend_from_slice(text.as_bytes());
        Ok(())
    }

    fn clock(self, text: &str) -> Result<i128, Impossible> {
        let mut parts = text.split(':');
        let mut whole = || -> Result<&str, Impossible> { parts.next().ok_or(Impossible::NoNumber) };
        let (hours, minutes, seconds) = match self {
            Elapsed::HourMinute => (whole()?, whole()?, "0"),
            Elapsed::MinuteSecond => ("0", whole()?, whole()?),
            _ => (whole()?, whole()?, whole()?),
        };
        let number = |text: &str| text.parse::<i128>().map_err(|_| Impossible::NoNumber);
        let (hours, minutes) = (number(hours)?, number(minutes)?);
        // A comma before three digits parts no thousands here.
        let seconds = decimal(&seconds.replace(',', ".")).map_err(|_| Impossible::NoNumber)?;
        let seconds = nanoseconds(seconds, SECOND)?;
        if self != Elapsed::MinuteSecond && minutes > 59 {
            return Err(Impossible::Minute(minutes as u8));
        }
        if seconds >= 60 * SECOND {
            return Err(Impossible::Second((seconds / SECOND) as u8));
        }
        Ok((hours * 3600 + minutes * 60) * SECOND + seconds)
    }
}

/// Whether these are the decimals of a second, or nothing.
fn are_decimals(classes: &[Class]) -> bool {
    let are_digits =
        |class: &Class| matches!(class, Class::Fraction | Class::Short | Class::Digits(_));
    match classes {
        [] => true,
        [Class::Symbol('.' | ','), digits] => are_digits(digits),
        _ => false,
    }
}

/// Whether these are hours, minutes and seconds, parted by colons.
fn is_clock(classes: &[Class]) -> bool {
    let colon = Class::Symbol(':');
    match classes {
        [
            Class::Short | Class::Digits(_),
            a,
            Class::Short,
            b,
            Class::Short,
            rest @ ..,
        ] => *a == colon && *b == colon && are_decimals(rest),
        _ => false,
    }
}

fn duration(months: i64, exact: i128) -> Result<Duration, Impossible> {
    if months.abs() > Duration::MOST_MONTHS || exact.abs() > Duration::MOST_NANOSECONDS {
        return Err(Impossible::OutOfRange);
    }
    Ok(Duration::new(months, exact))
}

/// So many of a unit: its months, or its nanoseconds.
fn times(value: Decimal, unit: u8) -> Result<(i64, i128), Impossible> {
    match unit {
        YEAR => Ok((whole(value, 12)?, 0)),
        MONTH => Ok((whole(value, 1)?, 0)),
        _ => {
            let length = LENGTHS.get(usize::from(unit.wrapping_sub(WEEK)));
            let length = *length.ok_or(Impossible::NameDiffers)?;
            Ok((0, nanoseconds(value, length)?))
        }
    }
}

/// So many months; half a month has no length.
fn whole(value: Decimal, each: i128) -> Result<i64, Impossible> {
    let (months, scale) = value.times(each)?;
    match months % scale {
        0 => i64::try_from(months / scale).map_err(|_| Impossible::OutOfRange),
        _ => Err(Impossible::PartOfMonth),
    }
}

/// So many nanoseconds; what is finer is cut.
fn nanoseconds(value: Decimal, unit: i128) -> Result<i128, Impossible> {
    let (product, scale) = value.times(unit)?;
    Ok(product / scale)
}
