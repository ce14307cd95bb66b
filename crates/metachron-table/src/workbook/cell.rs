//! The typed values of a workbook's cells, and the text that stands for each.

use crate::CellType;
use calamine::{Data, DataRef, ExcelDateTime, Range};
use jiff::civil::{Date, DateTime, Time};
use metachron_core::reading::read_iso;
use metachron_core::stamp::{Duration, Kind, Stamp};
use std::fmt::Write;

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

#[cfg(test)]
mod tests {
    use super::*;
    use calamine::ExcelDateTimeType::{DateTime, TimeDelta};

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
}
