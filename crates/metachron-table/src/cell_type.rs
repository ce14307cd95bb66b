//! What a source says of a cell, besides its text.

use jiff::Timestamp;
use jiff::civil::{Date, Time};
use metachron_core::stamp::{Duration, Stamp};

/// What a source says of one cell, besides its text.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum CellType {
    /// Text, as in any cell of a text file.
    #[default]
    Text,
    /// Nothing.
    Empty,
    /// A number that is not formatted as a date or time.
    Number,
    /// `TRUE` or `FALSE`.
    Boolean,
    /// An error, such as `#REF!`.
    Error,
    /// A date, a time of day, a datetime, an instant or a duration.
    Stamp(Stamp),
}

/// The bytes that stand for the types without a value, in a spool.
const TAGS: [(u8, CellType); 5] = [
    (0, CellType::Text),
    (1, CellType::Empty),
    (2, CellType::Number),
    (3, CellType::Boolean),
    (4, CellType::Error),
];

impl CellType {
    /// Appends the type to the bytes of a spool: a tag, and the fields of a
    /// stamp, little-endian.
    pub(crate) fn encode(self, out: &mut Vec<u8>) {
        let CellType::Stamp(stamp) = self else {
            let known = TAGS.iter().find(|(_, of)| *of == self);
            return out.push(known.map_or(0, |(tag, _)| *tag));
        };
        match stamp {
            Stamp::Date(date) => {
                out.push(5);
                encode_date(date, out);
            }
            Stamp::Time(time) => {
                out.push(6);
                encode_time(time, out);
            }
            Stamp::DateTime(at) => {
                out.push(7);
                encode_date(at.date(), out);
                encode_time(at.time(), out);
            }
            Stamp::Duration(length) => {
                out.push(8);
                out.extend(length.months().to_le_bytes());
                out.extend(length.nanoseconds().to_le_bytes());
            }
            Stamp::Instant(at) => {
                out.push(9);
                out.extend(at.as_nanosecond().to_le_bytes());
            }
            other => unreachable!("no source has cells of kind {}", other.kind()),
        }
    }

    /// The type at the start of the bytes of a spool, which are left behind.
    pub(crate) fn decode(bytes: &mut &[u8]) -> Option<CellType> {
        let [tag] = take(bytes)?;
        if let Some((_, of)) = TAGS.iter().find(|(known, _)| *known == tag) {
            return Some(*of);
        }
        Some(CellType::Stamp(match tag {
            5 => Stamp::Date(decode_date(bytes)?),
            6 => Stamp::Time(decode_time(bytes)?),
            7 => {
                let date = decode_date(bytes)?;
                Stamp::DateTime(date.to_datetime(decode_time(bytes)?))
            }
            9 => {
                let nanos = i128::from_le_bytes(take(bytes)?);
                Stamp::Instant(Timestamp::from_nanosecond(nanos).ok()?)
            }
            _ => {
                let months = i64::from_le_bytes(take(bytes)?);
                Stamp::Duration(Duration::new(months, i128::from_le_bytes(take(bytes)?)))
            }
        }))
    }
}

fn take<const N: usize>(bytes: &mut &[u8]) -> Option<[u8; N]> {
    let (taken, rest) = bytes.split_first_chunk()?;
    *bytes = rest;
    Some(*taken)
}

fn encode_date(date: Date, out: &mut Vec<u8>) {
    out.extend(date.year().to_le_bytes());
    out.extend([date.month(), date.day()].map(i8::cast_unsigned));
}

fn decode_date(bytes: &mut &[u8]) -> Option<Date> {
    let year = i16::from_le_bytes(take(bytes)?);
    let [month, day] = take(bytes)?.map(u8::cast_signed);
    Date::new(year, month, day).ok()
}

fn encode_time(time: Time, out: &mut Vec<u8>) {
    out.extend([time.hour(), time.minute(), time.second()].map(i8::cast_unsigned));
    out.extend(time.subsec_nanosecond().to_le_bytes());
}

fn decode_time(bytes: &mut &[u8]) -> Option<Time> {
    let [hour, minute, second] = take(bytes)?.map(u8::cast_signed);
    Time::new(hour, minute, second, i32::from_le_bytes(take(bytes)?)).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn stamp() -> impl Strategy<Value = Stamp> {
        let date = (-9999..=9999_i16, 1..=12_i8, 1..=28_i8)
            .prop_map(|(year, month, day)| Date::new(year, month, day).unwrap());
        let time = (0..24_i8, 0..60_i8, 0..60_i8, 0..1_000_000_000_i32).prop_map(
            |(hour, minute, second, nano)| Time::new(hour, minute, second, nano).unwrap(),
        );
        let length = (-1000..1000_i64, any::<i64>());
        let instant = -100_000_000_000..100_000_000_000_i64;
        prop_oneof![
            date.clone().prop_map(Stamp::Date),
            time.clone().prop_map(Stamp::Time),
            (date, time).prop_map(|(date, time)| Stamp::DateTime(date.to_datetime(time))),
            instant.prop_map(|second| Stamp::Instant(Timestamp::from_second(second).unwrap())),
            length.prop_map(|(months, nanos)| Stamp::Duration(Duration::new(months, nanos.into()))),
        ]
    }

    proptest! {
        /// Every typed value comes out of a spool as it went in.
        #[test]
        fn types_come_back(stamps in prop::collection::vec(stamp(), 0..6)) {
            let mut types: Vec<CellType> = stamps.into_iter().map(CellType::Stamp).collect();
            types.extend(TAGS.map(|(_, of)| of));
            let mut bytes = Vec::new();
            types.iter().for_each(|of| of.encode(&mut bytes));
            let mut rest = bytes.as_slice();
            for of in types {
                prop_assert_eq!(CellType::decode(&mut rest), Some(of));
            }
            prop_assert!(CellType::decode(&mut rest).is_none());
        }
    }
}
