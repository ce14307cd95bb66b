//! The typed values of a workbook's cells, and the text that stands for each.

use calamine::{Data, DataRef, ExcelDateTime, Range};
use jiff::civil::{Date, DateTime, Time};
use metachron_core::reading::read_iso;
use metachron_core::stamp::{Duration, Kind, Stamp};
use std::fmt::Write;

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
    /// A date, a time of day, a datetime or a duration.
    Stamp(Stamp),
}

/// Puts the text that stands for `value` into `text`, and says what it is.
pub(super) fn put(value: &DataRef<'_>, text: &mut String) -> CellType {
    text.clear();
    // Writing to a string does not fail.
    match value {
        DataRef::Empty => return CellType::Empty,
        DataRef::String(own) => text.push_str(own),
        DataRef::SharedString(own) => text.push_str(own),
        DataRef::Int(number) => {
            let _ = write!(text, "{number}");
            return CellType::Number;
        }
        DataRef::Float(number) => {
            let _ = write!(text, "{number}");
            return CellType::Number;
        }
        DataRef::Bool(truth) => {
            text.push_str(if *truth { "TRUE" } else { "FALSE" });
            return CellType::Boolean;
        }
        DataRef::Error(fault) => {
            let _ = write!(text, "{fault}");
            return CellType::Error;
        }
        DataRef::DateTime(at) => match stamp_of_serial(at) {
            Some(stamp) => return put_stamp(stamp, text),
            None => {
                let _ = write!(text, "{}", at.as_f64());
                return CellType::Number;
            }
        },
        DataRef::DateTimeIso(iso) => return put_iso(stamp_of_iso(iso), iso, text),
        DataRef::DurationIso(iso) => {
            let time = time_of_iso(iso).map(Stamp::Time);
            return put_iso(time.or_else(|| stamp_of_iso(iso)), iso, text);
        }
    }
    if text.is_empty() {
        CellType::Empty
    } else {
        CellType::Text
    }
}

fn put_stamp(stamp: Stamp, text: &mut String) -> CellType {
    let _ = write!(text, "{stamp}");
    CellType::Stamp(stamp)
}

fn put_iso(stamp: Option<Stamp>, iso: &str, text: &mut String) -> CellType {
    match stamp {
        Some(stamp) => put_stamp(stamp, text),
        // It is not what its type promises, and is read as text.
        None => {
            text.push_str(iso);
            CellType::Text
        }
    }
}

/// The stamp that an OpenDocument cell holds (ISO/IEC 26300-3 §18.2,
/// `dateOrDateTime` and `duration`). Some programs write a day's midnight as
/// the day alone, others do not; both are the same day.
fn stamp_of_iso(iso: &str) -> Option<Stamp> {
    if iso.trim_start_matches('-').starts_with('P') {
        return read_iso(iso)
            .ok()
            .filter(|stamp| stamp.kind() == Kind::Duration);
    }
    let Some((_, time)) = iso.split_once('T') else {
        return iso.parse().ok().map(Stamp::Date);
    };
    // jiff leaves out a zone behind a local time, which would lose it.
    let is_local = |byte: u8| byte.is_ascii_digit() || b":.,".contains(&byte);
    let at: DateTime = iso.parse().ok().filter(|_| time.bytes().all(is_local))?;
    Some(if at.time() == Time::midnight() {
        Stamp::Date(at.date())
    } else {
        Stamp::DateTime(at)
    })
}

/// The time of day that a duration of less than a day is, in hours, minutes
/// and seconds: OpenDocument has no other type for times of day.
fn time_of_iso(iso: &str) -> Option<Time> {
    let rest = iso.strip_prefix("PT")?;
    let (hours, rest) = rest.split_once('H')?;
    let (minutes, rest) = rest.split_once('M')?;
    let seconds = rest.strip_suffix('S')?;
    let (whole, fraction) = match seconds.split_once(['.', ',']) {
        Some((whole, fraction)) => (whole, fraction.trim_end_matches('0')),
        None => (seconds, ""),
    };
    let number = |text: &str| text.parse::<i8>().ok();
    let nanoseconds = match fraction.len() {
        0 => 0,
        1..=9 => format!("{fraction:0<9}").parse().ok()?,
        _ => return None,
    };
    Time::new(
        number(hours)?,
        number(minutes)?,
        number(whole)?,
        nanoseconds,
    )
    .ok()
}

/// Makes durations of all times in columns where one is no time of day:
/// OpenDocument writes both alike (ISO/IEC 26300-3 §18.2, `timeValue`).
pub(super) fn tell_lengths_from_times(range: &mut Range<Data>) {
    let is_length =
        |value: &Data| matches!(value, Data::DurationIso(iso) if time_of_iso(iso).is_none());
    let (height, width) = range.get_size();
    let (top, left) = range.start().unwrap_or_default();
    for column in 0..width {
        let cell = |row: usize| range.get((row, column));
        if !(0..height).filter_map(cell).any(is_length) {
            continue;
        }
        for row in 0..height {
            if let Some(Data::DurationIso(iso)) = range.get((row, column)) {
                // Of this variant, a duration is never taken for a time of day.
                let length = Data::DateTimeIso(iso.clone());
                range.set_value((top + row as u32, left + column as u32), length);
            }
        }
    }
}

/// Milliseconds in a day.
const DAY: f64 = 86_400_000.0;

/// The stamp of a serial number that is formatted as a date or time; `None`
/// where it is none.
///
/// ECMA-376 part 1 §18.17.4: days since 1899-12-31 with a 29 February 1900
/// that never was, or since 1904-01-01; workbooks keep time to the
/// millisecond.
fn stamp_of_serial(at: &ExcelDateTime) -> Option<Stamp> {
    let serial = at.as_f64();
    if at.is_duration() {
        let millis = (serial * DAY).round() as i64;
        let length = Duration::new(0, i128::from(millis) * 1_000_000);
        return Some(Stamp::Duration(length));
    }
    if !(0.0..2_958_466.0).contains(&serial) {
        return None;
    }
    let (year, month, day, hour, minute, second, milli) = at.to_ymd_hms_milli();
    let nanos = i32::from(milli) * 1_000_000;
    let time = Time::new(hour as i8, minute as i8, second as i8, nanos).ok()?;
    if serial < 1.0 {
        return Some(Stamp::Time(time));
    }
    // There is no such day where the 1900 system has its 29 February 1900.
    let date = Date::new(year as i16, month as i8, day as i8).ok()?;
    Some(if time == Time::midnight() {
        Stamp::Date(date)
    } else {
        Stamp::DateTime(date.to_datetime(time))
    })
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
    pub(super) fn encode(self, out: &mut Vec<u8>) {
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
            other => unreachable!("a workbook has no cells of kind {}", other.kind()),
        }
    }

    /// The type at the start of the bytes of a spool, which are left behind.
    pub(super) fn decode(bytes: &mut &[u8]) -> Option<CellType> {
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
    use calamine::ExcelDateTimeType::{DateTime, TimeDelta};
    use proptest::prelude::*;

    fn text(value: DataRef<'_>) -> (CellType, String) {
        let mut text = String::new();
        (put(&value, &mut text), text)
    }

    #[test]
    fn cells_as_text() {
        let serial = |value, kind| DataRef::DateTime(ExcelDateTime::new(value, kind, false));
        let early = |value| DataRef::DateTime(ExcelDateTime::new(value, DateTime, true));
        let length = |iso: &str| DataRef::DurationIso(iso.into());
        let iso = |iso: &str| DataRef::DateTimeIso(iso.into());
        for (value, kind, expected) in [
            (DataRef::Float(1204.5), "number", "1204.5"),
            (DataRef::Float(45_357.0), "number", "45357"),
            (DataRef::Bool(true), "boolean", "TRUE"),
            (DataRef::SharedString(""), "empty", ""),
            (serial(45_356.0, DateTime), "date", "2024-03-05"),
            (
                serial(45_356.604_166_666_66, DateTime),
                "datetime",
                "2024-03-05T14:30:00",
            ),
            (serial(0.604_166_666_666_67, DateTime), "time", "14:30:00"),
            (serial(1.0, DateTime), "date", "1900-01-01"),
            (serial(60.0, DateTime), "number", "60"),
            (serial(61.0, DateTime), "date", "1900-03-01"),
            (serial(-1.0, DateTime), "number", "-1"),
            (early(43_894.0), "date", "2024-03-05"),
            (serial(1.5, TimeDelta), "duration", "P1DT12H"),
            (serial(-0.25, TimeDelta), "duration", "-PT6H"),
            (length("PT14H30M00S"), "time", "14:30:00"),
            (length("PT14H30M00.25S"), "time", "14:30:00.25"),
            (length("PT36H30M00S"), "duration", "P1DT12H30M"),
            (length("PT"), "text", "PT"),
            (iso("2024-03-05T00:00:00"), "date", "2024-03-05"),
            (iso("2024-03-05"), "date", "2024-03-05"),
            (
                iso("2024-03-05T14:30:00.5"),
                "datetime",
                "2024-03-05T14:30:00.5",
            ),
            // A zone is not lost: the text says it.
            (
                iso("2024-03-05T14:30:00+01:00"),
                "text",
                "2024-03-05T14:30:00+01:00",
            ),
            (iso("2024-02-31"), "text", "2024-02-31"),
        ] {
            let (found, text) = text(value.clone());
            let found = match found {
                CellType::Text => "text",
                CellType::Empty => "empty",
                CellType::Number => "number",
                CellType::Boolean => "boolean",
                CellType::Error => "error",
                CellType::Stamp(stamp) => stamp.kind().name(),
            };
            assert_eq!((found, text.as_str()), (kind, expected), "{value:?}");
        }
    }

    fn stamp() -> impl Strategy<Value = Stamp> {
        let date = (-9999..=9999_i16, 1..=12_i8, 1..=28_i8)
            .prop_map(|(year, month, day)| Date::new(year, month, day).unwrap());
        let time = (0..24_i8, 0..60_i8, 0..60_i8, 0..1_000_000_000_i32).prop_map(
            |(hour, minute, second, nano)| Time::new(hour, minute, second, nano).unwrap(),
        );
        let length = (-1000..1000_i64, any::<i64>());
        prop_oneof![
            date.clone().prop_map(Stamp::Date),
            time.clone().prop_map(Stamp::Time),
            (date, time).prop_map(|(date, time)| Stamp::DateTime(date.to_datetime(time))),
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
