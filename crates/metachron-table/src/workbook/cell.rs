//! Cells of a workbook, as text with a type.

use calamine::{Data, DataRef, ExcelDateTime, Range};
use jiff::civil::{Date, Time};
use metachron_core::stamp::{Duration, Stamp};
use std::fmt::Write;

/// What a workbook says a cell is.
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
    Truth,
    /// An error, such as `#REF!`.
    Fault,
    /// A number formatted as a date, a time of day or a length of time; its
    /// text is ISO 8601.
    Dated,
}

impl CellType {
    pub(super) fn code(self) -> u8 {
        self as u8
    }

    pub(crate) fn of_code(code: u8) -> CellType {
        match code {
            1 => CellType::Empty,
            2 => CellType::Number,
            3 => CellType::Truth,
            4 => CellType::Fault,
            5 => CellType::Dated,
            _ => CellType::Text,
        }
    }
}

/// Puts what `value` says into `text`, and says what it is.
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
            return CellType::Truth;
        }
        DataRef::Error(fault) => {
            let _ = write!(text, "{fault}");
            return CellType::Fault;
        }
        DataRef::DateTime(at) => return dated(at, text),
        DataRef::DateTimeIso(iso) => {
            text.push_str(iso);
            // Some programs write a day's midnight as the day alone, others do
            // not; both are the same day.
            if let Some(day) = iso.strip_suffix("T00:00:00") {
                text.truncate(day.len());
            }
            return CellType::Dated;
        }
        DataRef::DurationIso(iso) => {
            text.push_str(&time_of_iso(iso).unwrap_or_else(|| iso.clone()));
            return CellType::Dated;
        }
    }
    match text.is_empty() {
        true => CellType::Empty,
        false => CellType::Text,
    }
}

/// The time of day that a duration of less than a day is, in hours, minutes
/// and seconds: OpenDocument has no other type for times of day.
fn time_of_iso(iso: &str) -> Option<String> {
    let rest = iso.strip_prefix("PT")?;
    let (hours, rest) = rest.split_once('H')?;
    let (minutes, rest) = rest.split_once('M')?;
    let seconds = rest.strip_suffix('S')?;
    let (whole, fraction) = match seconds.split_once(['.', ',']) {
        Some((whole, fraction)) => (whole, fraction.trim_end_matches('0')),
        None => (seconds, ""),
    };
    let number = |text: &str| text.parse::<u32>().ok();
    let (hours, minutes, seconds) = (number(hours)?, number(minutes)?, number(whole)?);
    if hours > 23 || minutes > 59 || seconds > 59 {
        return None;
    }
    let mut text = format!("{hours:02}:{minutes:02}:{seconds:02}");
    if !fraction.is_empty() {
        text.push('.');
        text.push_str(fraction);
    }
    Some(text)
}

/// Makes lengths of time of all times in columns where one is no time of day:
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
                // What is ISO 8601 is passed on as it stands.
                let length = Data::DateTimeIso(iso.clone());
                range.set_value((top + row as u32, left + column as u32), length);
            }
        }
    }
}

/// Milliseconds in a day.
const DAY: f64 = 86_400_000.0;

/// The ISO 8601 text of a serial number that is formatted as a date or time.
///
/// ECMA-376 part 1 §18.17.4: days since 1899-12-31 with a 29 February 1900
/// that never was, or since 1904-01-01; workbooks keep time to the
/// millisecond.
fn dated(at: &ExcelDateTime, text: &mut String) -> CellType {
    let serial = at.as_f64();
    if at.is_duration() {
        length(serial, text);
        return CellType::Dated;
    }
    if !(0.0..2_958_466.0).contains(&serial) {
        let _ = write!(text, "{serial}");
        return CellType::Number;
    }
    let (year, month, day, hour, minute, second, milli) = at.to_ymd_hms_milli();
    let nanos = i32::from(milli) * 1_000_000;
    let time = Time::new(hour as i8, minute as i8, second as i8, nanos);
    let date = Date::new(year as i16, month as i8, day as i8);
    match (date, time) {
        (_, Ok(time)) if serial < 1.0 => {
            let _ = write!(text, "{time}");
        }
        (Ok(date), Ok(time)) if time == Time::midnight() => {
            let _ = write!(text, "{date}");
        }
        (Ok(date), Ok(time)) => {
            let _ = write!(text, "{date}T{time}");
        }
        // The 29 February 1900 of the 1900 system.
        _ => {
            let _ = write!(text, "{serial}");
            return CellType::Number;
        }
    }
    CellType::Dated
}

/// A length of time in days, as ISO 8601 writes it.
fn length(days: f64, text: &mut String) {
    let millis = (days * DAY).round() as i64;
    let length = Duration::new(0, i128::from(millis) * 1_000_000);
    let _ = write!(text, "{}", Stamp::Duration(length));
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
        for (value, kind, expected) in [
            (DataRef::Float(1204.5), CellType::Number, "1204.5"),
            (DataRef::Float(45_357.0), CellType::Number, "45357"),
            (DataRef::Bool(true), CellType::Truth, "TRUE"),
            (DataRef::SharedString(""), CellType::Empty, ""),
            (serial(45_356.0, DateTime), CellType::Dated, "2024-03-05"),
            (
                serial(45_356.604_166_666_66, DateTime),
                CellType::Dated,
                "2024-03-05T14:30:00",
            ),
            (
                serial(0.604_166_666_666_67, DateTime),
                CellType::Dated,
                "14:30:00",
            ),
            (serial(1.0, DateTime), CellType::Dated, "1900-01-01"),
            (serial(61.0, DateTime), CellType::Dated, "1900-03-01"),
            (serial(-1.0, DateTime), CellType::Number, "-1"),
            (early(43_894.0), CellType::Dated, "2024-03-05"),
            (serial(1.5, TimeDelta), CellType::Dated, "P1DT12H"),
            (serial(-0.25, TimeDelta), CellType::Dated, "-PT6H"),
            (
                DataRef::DurationIso("PT14H30M00S".into()),
                CellType::Dated,
                "14:30:00",
            ),
            (
                DataRef::DateTimeIso("2024-03-05T00:00:00".into()),
                CellType::Dated,
                "2024-03-05",
            ),
        ] {
            assert_eq!(
                text(value.clone()),
                (kind, expected.to_owned()),
                "{value:?}"
            );
        }
    }
}
