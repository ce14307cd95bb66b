//! The types of columns, and which of them a cell fits.

use jiff::civil::{Date, Time, date};
use metachron_core::row::Holds;
use metachron_core::stamp::{Kind, Stamp};

/// The type of a column: every cell of it fits, or is blank.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ColumnType {
    /// No cell but blanks has been seen.
    Unknown,
    /// Booleans.
    Boolean,
    /// Whole numbers of 64 bits.
    Integer,
    /// Decimal numbers of at most 38 digits, so many of them behind the point.
    Decimal(u8),
    /// Binary numbers of 64 bits (IEEE 754). A decimal number fits if it comes
    /// back as it is written.
    Real,
    /// The same of a source that has them: those that are infinite or no number, too.
    Float,
    /// Days since 1970-01-01, in 32 bits.
    Date,
    /// Times of day, counted from midnight.
    Time(Precision),
    /// Local dates and times, counted from 1970-01-01T00:00:00.
    DateTime(Precision),
    /// Instants, counted from 1970-01-01T00:00:00Z without leap seconds.
    Instant(Precision),
    /// Lengths of time without calendar months.
    Duration(Precision),
    /// Stamps of this kind, as PostgreSQL reads them from text.
    Postgres(Kind),
    /// Text, as it stands in CSV.
    Text,
}

/// The unit of a count of 64 bits.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Precision {
    /// Millionths of a second.
    Micros,
    /// Thousand-millionths of a second: 1677-09-21 to 2262-04-11, counted from 1970.
    Nanos,
}

impl Precision {
    /// How many nanoseconds one is.
    fn nanos(self) -> i128 {
        match self {
            Precision::Micros => 1000,
            Precision::Nanos => 1,
        }
    }

    /// So many nanoseconds, if they are a whole number that 64 bits hold.
    fn count(self, nanos: i128) -> Option<i64> {
        let unit = self.nanos();
        (nanos % unit == 0)
            .then(|| i64::try_from(nanos / unit).ok())
            .flatten()
    }
}

/// Which types a format has for the columns of a table.
#[derive(Clone, Copy, Debug)]
pub(crate) struct TypeRules {
    /// How it holds stamps.
    pub stamps: StampsAs,
    /// What it holds decimal numbers as.
    pub decimals: DecimalsAs,
    /// Whether columns that no ruling reads become integers, decimals or booleans where
    /// every cell allows it.
    pub others: Others,
}

/// How a format holds stamps.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum StampsAs {
    /// By types of its own, in microseconds or nanoseconds.
    Counts,
    /// By PostgreSQL's types, in microseconds.
    Postgres,
    /// As ISO 8601 text.
    Text,
}

/// What a format holds decimal numbers as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum DecimalsAs {
    /// Exactly.
    Decimals,
    /// As binary numbers, if they come back as they are written.
    Reals,
}

/// What becomes of columns that no ruling reads.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Others {
    /// They stay text.
    #[default]
    Text,
    /// They become integers, decimals or booleans where every cell allows it without loss.
    Typed,
}

/// A cell that is no blank.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Value<'v> {
    Stamp(Stamp),
    Number(&'v str),
    Boolean(bool),
    Text(&'v str),
}

/// A cell as its column holds it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Stored {
    Boolean(bool),
    I32(i32),
    I64(i64),
    I128(i128),
    F64(f64),
    /// The text that was put into the scratch.
    Text,
}

impl TypeRules {
    /// The type that a column has until a cell does not fit.
    pub fn first(&self, holds: Holds) -> ColumnType {
        use Precision::Micros;
        match holds {
            Holds::Text => ColumnType::Text,
            Holds::SourceCells => match self.others {
                Others::Text => ColumnType::Text,
                Others::Typed => ColumnType::Unknown,
            },
            Holds::Booleans => ColumnType::Boolean,
            // Not exact ones, nor integers as far as all are: the type would change with
            // the cells of the day.
            Holds::Numbers => ColumnType::Real,
            Holds::Stamps(Kind::Year) => ColumnType::Integer,
            Holds::Stamps(Kind::Month | Kind::Quarter | Kind::Week) => ColumnType::Text,
            Holds::Stamps(kind) => match (self.stamps, kind) {
                (StampsAs::Text, _) => ColumnType::Text,
                (StampsAs::Postgres, kind) => ColumnType::Postgres(kind),
                (_, Kind::Date) => ColumnType::Date,
                (_, Kind::Time) => ColumnType::Time(Micros),
                (_, Kind::DateTime) => ColumnType::DateTime(Micros),
                (_, Kind::Instant) => ColumnType::Instant(Micros),
                (_, _) => ColumnType::Duration(Micros),
            },
        }
    }

    /// The type of the format for a column that has this one in a source.
    pub fn in_format(&self, of: ColumnType) -> ColumnType {
        let stamps_as = |kind| match self.stamps {
            StampsAs::Counts => of,
            StampsAs::Postgres => ColumnType::Postgres(kind),
            StampsAs::Text => ColumnType::Text,
        };
        match (of, self.decimals) {
            (ColumnType::Date, _) => stamps_as(Kind::Date),
            (ColumnType::Time(_), _) => stamps_as(Kind::Time),
            (ColumnType::DateTime(_), _) => stamps_as(Kind::DateTime),
            (ColumnType::Instant(_), _) => stamps_as(Kind::Instant),
            (ColumnType::Duration(_), _) => stamps_as(Kind::Duration),
            (ColumnType::Decimal(_) | ColumnType::Float, DecimalsAs::Reals) => ColumnType::Real,
            (of, _) => of,
        }
    }

    /// The narrowest type that holds what `own` holds, and `value`, which does not fit
    /// `own`.
    pub fn wider(&self, own: ColumnType, value: Value<'_>) -> ColumnType {
        let nanos = match own {
            ColumnType::Time(Precision::Micros) => ColumnType::Time(Precision::Nanos),
            ColumnType::DateTime(Precision::Micros) => ColumnType::DateTime(Precision::Nanos),
            ColumnType::Instant(Precision::Micros) => ColumnType::Instant(Precision::Nanos),
            ColumnType::Duration(Precision::Micros) => ColumnType::Duration(Precision::Nanos),
            ColumnType::Unknown
            | ColumnType::Boolean
            | ColumnType::Integer
            | ColumnType::Decimal(_) => {
                let both = own.join(self.of_value(value));
                // Each is a decimal, and both together need too many digits.
                return if both == own { ColumnType::Text } else { both };
            }
            _ => return ColumnType::Text,
        };
        let fits = nanos.store(value, &mut String::new()).is_some();
        if fits { nanos } else { ColumnType::Text }
    }

    /// The narrowest type that holds `value`, of a column that no ruling reads.
    fn of_value(&self, value: Value<'_>) -> ColumnType {
        match value {
            Value::Boolean(_) => ColumnType::Boolean,
            Value::Stamp(_) => ColumnType::Text,
            Value::Number(text) | Value::Text(text) => {
                if truth(text).is_some() {
                    ColumnType::Boolean
                } else if integer(text).is_some() {
                    ColumnType::Integer
                } else {
                    match (decimals(text), self.decimals) {
                        (None, _) => ColumnType::Text,
                        (Some(_), DecimalsAs::Reals) => ColumnType::Real,
                        (Some(scale), DecimalsAs::Decimals) => ColumnType::Decimal(scale),
                    }
                }
            }
        }
    }
}

impl ColumnType {
    /// The narrowest type that holds what both hold.
    pub fn join(self, other: ColumnType) -> ColumnType {
        use ColumnType::{
            DateTime, Decimal, Duration, Instant, Integer, Real, Text, Time, Unknown,
        };
        match (self, other) {
            (one, two) if one == two => one,
            (Unknown, known) | (known, Unknown) => known,
            (Integer, Decimal(scale)) | (Decimal(scale), Integer) => Decimal(scale),
            (Decimal(one), Decimal(two)) => Decimal(one.max(two)),
            (Integer, Real) | (Real, Integer) => Real,
            (Time(one), Time(two)) => Time(one.max(two)),
            (DateTime(one), DateTime(two)) => DateTime(one.max(two)),
            (Instant(one), Instant(two)) => Instant(one.max(two)),
            (Duration(one), Duration(two)) => Duration(one.max(two)),
            _ => Text,
        }
    }

    /// `value` as a column of this type holds it; `None` where it does not fit. `text` is
    /// written over where it is held as text.
    #[inline]
    pub(crate) fn store(self, value: Value<'_>, text: &mut String) -> Option<Stored> {
        match (self, value) {
            (ColumnType::Text, value) => {
                text.clear();
                match value {
                    Value::Text(own) | Value::Number(own) => text.push_str(own),
                    Value::Boolean(own) => text.push_str(if own { "true" } else { "false" }),
                    Value::Stamp(own) => own.push_iso(text),
                }
                Some(Stored::Text)
            }
            (ColumnType::Postgres(_), Value::Stamp(stamp)) => {
                text.clear();
                push_postgres(stamp, text).then_some(Stored::Text)
            }
            (_, Value::Stamp(stamp)) => self.store_stamp(stamp),
            (ColumnType::Boolean, Value::Boolean(own)) => Some(Stored::Boolean(own)),
            (ColumnType::Boolean, Value::Text(own)) => truth(own).map(Stored::Boolean),
            (_, Value::Text(own) | Value::Number(own)) => match self {
                ColumnType::Integer => integer(own).map(Stored::I64),
                ColumnType::Decimal(scale) => decimal(own, scale).map(Stored::I128),
                ColumnType::Real => real(own).map(Stored::F64),
                ColumnType::Float => own.parse().ok().map(Stored::F64),
                _ => None,
            },
            _ => None,
        }
    }

    #[inline]
    fn store_stamp(self, stamp: Stamp) -> Option<Stored> {
        match (self, stamp) {
            (ColumnType::Date, Stamp::Date(day)) => Some(Stored::I32(days(day))),
            (ColumnType::Time(precision), Stamp::Time(time)) => {
                precision.count(of_day(time)).map(Stored::I64)
            }
            (ColumnType::DateTime(precision), Stamp::DateTime(at)) => {
                let nanos = i128::from(days(at.date())) * DAY + of_day(at.time());
                precision.count(nanos).map(Stored::I64)
            }
            (ColumnType::Instant(precision), Stamp::Instant(at)) => {
                precision.count(at.as_nanosecond()).map(Stored::I64)
            }
            (ColumnType::Duration(precision), Stamp::Duration(length)) => {
                let nanos = (length.months() == 0).then(|| length.nanoseconds())?;
                precision.count(nanos).map(Stored::I64)
            }
            (ColumnType::Integer, Stamp::Year(year)) => Some(Stored::I64(year.into())),
            _ => None,
        }
    }
}

/// Nanoseconds of a day.
const DAY: i128 = 86_400_000_000_000;

fn days(day: Date) -> i32 {
    const EPOCH: Date = date(1970, 1, 1);
    (day - EPOCH).get_days()
}

/// Nanoseconds since midnight.
fn of_day(time: Time) -> i128 {
    let [hour, minute, second] = [time.hour(), time.minute(), time.second()].map(i64::from);
    let seconds = hour * 3600 + minute * 60 + second;
    i128::from(seconds * 1_000_000_000 + i64::from(time.subsec_nanosecond()))
}

/// The boolean that is written so, in one of three ways.
fn truth(text: &str) -> Option<bool> {
    match text {
        "true" | "TRUE" | "True" => Some(true),
        "false" | "FALSE" | "False" => Some(false),
        _ => None,
    }
}

/// The whole number of 64 bits that is written so.
fn integer(text: &str) -> Option<i64> {
    (decimals(text)? == 0).then(|| text.parse().ok()).flatten()
}

/// How many decimals the number has that is written so, if it is one as people and
/// programs write them: no plus sign, no leading zeros, digits on both sides of a point, at
/// most 38 in all.
fn decimals(text: &str) -> Option<u8> {
    let (whole, fraction) = match text.split_once('.') {
        Some((whole, fraction)) => (whole, Some(fraction)),
        None => (text, None),
    };
    let digits = whole.strip_prefix('-').unwrap_or(whole);
    let are_digits =
        |part: &str| !part.is_empty() && part.bytes().all(|byte| byte.is_ascii_digit());
    // `-0` would lose its sign.
    let is_whole = match digits.as_bytes() {
        [b'0'] => fraction.is_some() || whole == "0",
        [first, ..] => *first != b'0' && are_digits(digits),
        [] => false,
    };
    let places = fraction.map_or(0, str::len);
    let fits = digits.len() + places <= MOST_DIGITS;
    (is_whole && fraction.is_none_or(are_digits) && fits).then_some(places as u8)
}

/// The most digits of a decimal number of 128 bits.
const MOST_DIGITS: usize = 38;

/// The number in units of so many decimals; `None` where it has more of them, or more
/// digits than fit.
fn decimal(text: &str, scale: u8) -> Option<i128> {
    let more = scale.checked_sub(decimals(text)?)?;
    let digits: String = text.chars().filter(|sign| *sign != '.').collect();
    let number: i128 = digits.parse().ok()?;
    let number = number.checked_mul(10_i128.checked_pow(more.into())?)?;
    (number.unsigned_abs() < 10_u128.pow(MOST_DIGITS as u32)).then_some(number)
}

/// The binary number that comes back as it is written, but for zeros at its end.
fn real(text: &str) -> Option<f64> {
    let number: f64 = text.parse().ok()?;
    let trimmed = match text.split_once('.') {
        Some(_) => text.trim_end_matches('0').trim_end_matches('.'),
        None => text,
    };
    let shown = number.to_string();
    let is_zero = number == 0.0 && trimmed.bytes().all(|byte| b"-0".contains(&byte));
    (number.is_finite() && (shown == trimmed || is_zero)).then_some(number)
}

/// Appends the stamp as PostgreSQL reads it (its documentation, §8.5, and the limits in
/// Table 8.9): years before 1 with `BC`, at most microseconds, dates from 4713 BC on. Says
/// whether PostgreSQL can hold it.
///
/// Lengths of time are written in months, hours and parts of them: a day of PostgreSQL's is
/// not always 24 hours, and ours are.
fn push_postgres(stamp: Stamp, out: &mut String) -> bool {
    let is_whole = |nanos: i64| nanos % 1000 == 0;
    let fits = match stamp {
        Stamp::Date(day) => holds(day),
        Stamp::Time(time) => is_whole(time.subsec_nanosecond().into()),
        Stamp::DateTime(at) => holds(at.date()) && is_whole(at.subsec_nanosecond().into()),
        Stamp::Instant(at) => {
            let day = jiff::tz::Offset::UTC.to_datetime(at).date();
            holds(day) && is_whole(at.subsec_nanosecond().into())
        }
        Stamp::Duration(length) => {
            let nanos = length.nanoseconds();
            let (Ok(months), true, Ok(micros)) = (
                i32::try_from(length.months()),
                nanos % 1000 == 0,
                i64::try_from(nanos / 1000),
            ) else {
                return false;
            };
            let sign = if micros < 0 { "-" } else { "" };
            let micros = micros.unsigned_abs();
            let (seconds, rest) = (micros / 1_000_000, micros % 1_000_000);
            let hours = seconds / 3600;
            if i32::try_from(hours).is_err() {
                return false;
            }
            if months != 0 {
                out.push_str(&format!("{months} mons "));
            }
            let (minute, second) = (seconds / 60 % 60, seconds % 60);
            out.push_str(&format!("{sign}{hours:02}:{minute:02}:{second:02}"));
            if rest > 0 {
                out.push_str(format!(".{rest:06}").trim_end_matches('0'));
            }
            return true;
        }
        _ => false,
    };
    if !fits {
        return false;
    }
    let year = match stamp {
        Stamp::Instant(at) => jiff::tz::Offset::UTC.to_datetime(at).year(),
        other => other.date().map_or(1, |day| day.year()),
    };
    if year >= 1 {
        stamp.push_iso(out);
        return true;
    }
    // Year 0 is 1 BC. Our text has a sign and six digits.
    let mut iso = String::new();
    stamp.push_iso(&mut iso);
    let behind_year = iso
        .char_indices()
        .filter(|(_, sign)| *sign == '-')
        .nth_back(1);
    let rest = behind_year.map_or("", |(at, _)| &iso[at..]);
    out.push_str(&format!("{:04}{rest} BC", 1 - i32::from(year)));
    true
}

/// Whether PostgreSQL's dates hold the day.
fn holds(day: Date) -> bool {
    // Its first is the Julian day 0, 24 November 4714 BC of the Gregorian calendar.
    day >= date(-4713, 11, 24)
}

#[cfg(test)]
mod tests {
    use super::*;
    use metachron_core::stamp::Duration;
    use proptest::prelude::*;

    const COUNTS: TypeRules = TypeRules {
        stamps: StampsAs::Counts,
        decimals: DecimalsAs::Decimals,
        others: Others::Typed,
    };

    #[test]
    fn other_columns_become_numbers_only_without_loss() {
        for (cells, expected) in [
            (&["1", "-20", "0"][..], ColumnType::Integer),
            (&["9223372036854775807"], ColumnType::Integer),
            (&["1", "9223372036854775808"], ColumnType::Decimal(0)),
            (&["007"], ColumnType::Text),
            (&["+5"], ColumnType::Text),
            (&["-0"], ColumnType::Text),
            (&["1e5"], ColumnType::Text),
            (&["1.5", "2", "3.25"], ColumnType::Decimal(2)),
            (&[".5"], ColumnType::Text),
            (&["5."], ColumnType::Text),
            (&["00.5"], ColumnType::Text),
            (&["1,5"], ColumnType::Text),
            (&["TRUE", "false"], ColumnType::Boolean),
            (&["true", "1"], ColumnType::Text),
            (&["1", "n/a"], ColumnType::Text),
            (
                &["1.50", "99999999999999999999999999999999999999"],
                ColumnType::Text,
            ),
            (&[], ColumnType::Unknown),
        ] {
            let found = cells.iter().fold(ColumnType::Unknown, |of, cell| {
                match of.store(Value::Text(cell), &mut String::new()) {
                    Some(_) => of,
                    None => COUNTS.wider(of, Value::Text(cell)),
                }
            });
            assert_eq!(found, expected, "{cells:?}");
        }
    }

    fn cell() -> impl Strategy<Value = String> {
        prop_oneof![
            "-?[0-9]{1,3}",
            "-?[1-9][0-9]{15,40}",
            "-?[0-9]{1,3}\\.[0-9]{1,3}",
            "[1-9][0-9]{0,37}\\.[0-9]{1,30}",
            "true|FALSE|NaN|x|1e5|\\+1|-0|007",
        ]
    }

    proptest! {
        /// Whatever the cells are, widening ends with a type that holds all of them.
        #[test]
        fn every_cell_fits_the_type_that_all_need(
            cells in prop::collection::vec(cell(), 1..6),
            exact in any::<bool>(),
        ) {
            let decimals = if exact { DecimalsAs::Decimals } else { DecimalsAs::Reals };
            let rules = TypeRules { decimals, ..COUNTS };
            let mut of = ColumnType::Unknown;
            // As often as types can widen.
            for _ in 0..50 {
                for cell in &cells {
                    let value = Value::Text(cell);
                    if of.store(value, &mut String::new()).is_none() {
                        let wider = rules.wider(of, value);
                        prop_assert_ne!(wider, of, "{} in {:?}", cell, cells);
                        of = of.join(wider);
                    }
                }
            }
            for cell in &cells {
                prop_assert!(of.store(Value::Text(cell), &mut String::new()).is_some(), "{}", cell);
            }
        }
    }

    #[test]
    fn decimal_digits_are_kept() {
        for (text, scale, expected) in [
            ("1.5", 2, Some(150)),
            ("-0.05", 2, Some(-5)),
            ("12", 3, Some(12_000)),
            ("1.234", 2, None),
            (
                "99999999999999999999999999999999999999",
                0,
                Some(10_i128.pow(38) - 1),
            ),
            (
                "9.9999999999999999999999999999999999999",
                37,
                Some(10_i128.pow(38) - 1),
            ),
            ("99.5", 37, None),
        ] {
            assert_eq!(decimal(text, scale), expected, "{text}");
        }
        for (text, fits) in [
            ("0.1", true),
            ("1.50", true),
            ("-0.00", true),
            ("123456789.123456", true),
            ("123456789.123456789", false),
            ("9007199254740993", false),
            ("12", true),
        ] {
            assert_eq!(real(text).is_some(), fits, "{text}");
        }
    }

    #[test]
    fn stamps_widen_from_microseconds_to_nanoseconds_to_text() {
        let early = Stamp::DateTime(date(1582, 10, 4).at(0, 0, 0, 0));
        let exact = Stamp::DateTime(date(2024, 3, 5).at(0, 0, 0, 1));
        let neither = Stamp::DateTime(date(9999, 3, 5).at(0, 0, 0, 1));
        let micros = ColumnType::DateTime(Precision::Micros);
        let nanos = ColumnType::DateTime(Precision::Nanos);
        let store = |of: ColumnType, stamp| of.store(Value::Stamp(stamp), &mut String::new());
        assert_eq!(
            store(micros, early),
            Some(Stored::I64(-12_220_243_200_000_000))
        );
        assert_eq!(store(micros, exact), None);
        assert_eq!(COUNTS.wider(micros, Value::Stamp(exact)), nanos);
        assert_eq!(
            COUNTS.wider(micros, Value::Stamp(neither)),
            ColumnType::Text
        );
        assert_eq!(store(nanos, early), None);
        assert_eq!(COUNTS.wider(nanos, Value::Stamp(early)), ColumnType::Text);
    }

    #[test]
    fn stamps_as_postgresql_reads_them() {
        let hour = 3_600_000_000_000;
        for (stamp, expected) in [
            (Stamp::Date(date(2024, 3, 5)), Some("2024-03-05")),
            (Stamp::Date(date(0, 3, 15)), Some("0001-03-15 BC")),
            (Stamp::Date(date(-43, 3, 15)), Some("0044-03-15 BC")),
            (Stamp::Date(date(-4713, 11, 24)), Some("4714-11-24 BC")),
            (Stamp::Date(date(-4713, 11, 23)), None),
            (
                Stamp::Time(jiff::civil::time(1, 2, 3, 4000)),
                Some("01:02:03.000004"),
            ),
            (Stamp::Time(jiff::civil::time(1, 2, 3, 4)), None),
            (
                Stamp::DateTime(date(-43, 3, 15).at(12, 0, 0, 0)),
                Some("0044-03-15T12:00:00 BC"),
            ),
            (
                Stamp::Duration(Duration::new(0, 51 * hour)),
                Some("51:00:00"),
            ),
            (
                Stamp::Duration(Duration::new(-14, -hour / 2)),
                Some("-14 mons -00:30:00"),
            ),
            (
                Stamp::Duration(Duration::new(0, 500_000_000)),
                Some("00:00:00.5"),
            ),
            (Stamp::Duration(Duration::new(0, 1)), None),
        ] {
            let mut text = String::new();
            let fits = push_postgres(stamp, &mut text);
            assert_eq!(fits.then_some(text.as_str()), expected, "{stamp}");
        }
    }
}
