//! What rows are sorted by: values as bytes that compare as the values do.

use crate::derive::Derivations;
use crate::phrase::{Type, Value};
use crate::stamp::Stamp;

/// What rows are sorted by.
#[derive(Clone, Debug)]
pub struct SortBy {
    /// The columns, in the order they count.
    pub names: Vec<String>,
    /// What each is.
    pub types: Vec<Type>,
    indexes: Vec<usize>,
    direction: Direction,
}

/// Which values come first. Cells without one come last in either case.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Direction {
    /// The earliest, least or first of the alphabet.
    Ascending,
    /// The latest, greatest or last.
    Descending,
}

impl SortBy {
    /// By the columns `names`, all of which `derivations` know.
    pub fn new(
        names: &[String],
        types: Vec<Type>,
        derivations: &Derivations,
        direction: Direction,
    ) -> SortBy {
        let indexes = names.iter().filter_map(|name| derivations.index(name));
        SortBy {
            indexes: indexes.collect(),
            names: names.to_vec(),
            types,
            direction,
        }
    }

    /// The direction.
    pub fn direction(&self) -> Direction {
        self.direction
    }

    /// The key of a row of these values: keys compare as the rows are to
    /// stand.
    pub fn key(&self, values: &[Value]) -> Vec<u8> {
        let mut key = Vec::with_capacity(16 * self.indexes.len());
        for &index in &self.indexes {
            let value = &values[index];
            if matches!(value, Value::Blank | Value::Waits) {
                key.push(1);
                continue;
            }
            key.push(0);
            let start = key.len();
            put(value, &mut key);
            if self.direction == Direction::Descending {
                key[start..].iter_mut().for_each(|byte| *byte = !*byte);
            }
        }
        key
    }
}

fn put(value: &Value, key: &mut Vec<u8>) {
    let mut number = |number: i64| key.extend((number ^ i64::MIN).to_be_bytes());
    match value {
        Value::Blank | Value::Waits => {}
        Value::Truth(truth) => key.push((*truth).into()),
        Value::Number(value) => {
            let (whole, decimals) = value.parts();
            key.extend((whole ^ i128::MIN).to_be_bytes());
            key.extend(decimals.to_be_bytes());
        }
        // Texts end with two zeros, so that a shorter one comes first whatever
        // stands behind it.
        Value::Text(text) => {
            for byte in text.bytes() {
                key.push(byte);
                if byte == 0 {
                    key.push(u8::MAX);
                }
            }
            key.extend([0, 0]);
        }
        Value::Stamp(stamp) => match *stamp {
            Stamp::Date(date) => {
                number(i64::from(date.year()));
                key.extend([date.month() as u8, date.day() as u8]);
            }
            Stamp::DateTime(at) => {
                number(i64::from(at.year()));
                key.extend([at.month() as u8, at.day() as u8]);
                time(at.time(), key);
            }
            Stamp::Time(at) => time(at, key),
            Stamp::Instant(at) => {
                key.extend((at.as_nanosecond() ^ i128::MIN).to_be_bytes());
            }
            Stamp::Month(year, part) | Stamp::Quarter(year, part) | Stamp::Week(year, part) => {
                number(i64::from(year));
                key.push(part);
            }
            Stamp::Year(year) => number(i64::from(year)),
            Stamp::Duration(length) => {
                number(length.months());
                key.extend((length.nanoseconds() ^ i128::MIN).to_be_bytes());
            }
        },
    }
}

fn time(at: jiff::civil::Time, key: &mut Vec<u8>) {
    key.extend([at.hour() as u8, at.minute() as u8, at.second() as u8]);
    key.extend(at.subsec_nanosecond().unsigned_abs().to_be_bytes());
}
