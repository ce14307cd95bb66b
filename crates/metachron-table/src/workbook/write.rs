//! A clean table as a workbook.

use super::CellType;
use crate::csv::Row;
use jiff::civil::{Date, DateTime, Time, date};
use jiff::{Span, SpanRound, Unit};
use metachron_core::stamp::Kind;
use rust_xlsxwriter::{DocProperties, ExcelDateTime, Format, Workbook, XlsxError};
use std::io::Write;

/// What a cell of a clean table is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OutCell {
    /// As it came: of this type in its source.
    AsItCame(CellType),
    /// ISO 8601 text of a stamp of this kind.
    Stamp(Kind),
    /// Text.
    Text,
}

impl OutCell {
    /// A byte that stands for it.
    pub fn code(self) -> u8 {
        match self {
            OutCell::AsItCame(cell) => cell.code(),
            OutCell::Stamp(kind) => 64 + kind as u8,
            OutCell::Text => 128,
        }
    }

    /// What a byte stands for.
    pub fn of_code(code: u8) -> OutCell {
        match code {
            0..64 => OutCell::AsItCame(CellType::of_code(code)),
            64..128 => Kind::ALL
                .get(usize::from(code - 64))
                .map_or(OutCell::Text, |kind| OutCell::Stamp(*kind)),
            _ => OutCell::Text,
        }
    }
}

/// Writes a clean table as an Office Open XML workbook (ECMA-376) with real
/// date, time and duration cells, whose formats show ISO order.
///
/// Stays text: what a workbook has no type for (instants, months, quarters,
/// weeks, years), days before 1900-03-01, on which programs do not agree,
/// and times that are no whole milliseconds.
pub struct SheetWriter {
    book: Workbook,
    formats: Formats,
    row: u32,
    /// Stamps of kinds that a workbook has a type for, written as text.
    pub as_text: u64,
}

struct Formats {
    date: Format,
    datetime: Format,
    exact_datetime: Format,
    time: Format,
    exact_time: Format,
    length: Format,
    exact_length: Format,
}

/// The day that serial numbers count from, from 1900-03-01 on.
const EPOCH: Date = date(1899, 12, 30);

/// The first day that all programs agree on.
const FIRST: Date = date(1900, 3, 1);

const DAY_MILLIS: f64 = 86_400_000.0;

/// Numbers of more digits than these are not kept by a workbook.
const DIGITS: usize = 15;

impl SheetWriter {
    /// A workbook with one sheet, made on `today`.
    ///
    /// # Errors
    ///
    /// Where no temporary file can be written.
    pub fn new(today: Date) -> Result<SheetWriter, XlsxError> {
        let mut book = Workbook::new();
        let made =
            ExcelDateTime::from_ymd(today.year() as u16, today.month() as u8, today.day() as u8)?;
        book.set_properties(&DocProperties::new().set_creation_datetime(&made));
        book.add_worksheet_with_constant_memory()?;
        let format = |text: &str| Format::new().set_num_format(text);
        Ok(SheetWriter {
            book,
            formats: Formats {
                date: format("yyyy-mm-dd"),
                datetime: format("yyyy-mm-dd hh:mm:ss"),
                exact_datetime: format("yyyy-mm-dd hh:mm:ss.000"),
                time: format("hh:mm:ss"),
                exact_time: format("hh:mm:ss.000"),
                length: format("[h]:mm:ss"),
                exact_length: format("[h]:mm:ss.000"),
            },
            row: 0,
            as_text: 0,
        })
    }

    /// Writes a row. `cells` says what each of its cells is; those behind the
    /// last are as they came from a text file.
    ///
    /// # Errors
    ///
    /// Where a sheet has no room for it.
    pub fn row(&mut self, row: &Row<'_>, cells: &[OutCell]) -> Result<(), XlsxError> {
        let mut scratch = String::new();
        for place in 0..row.len() {
            let cell = cells.get(place).copied();
            let text = row.cell(place, &mut scratch);
            self.cell(
                place,
                text,
                cell.unwrap_or(OutCell::AsItCame(CellType::Text)),
            )?;
        }
        self.row += 1;
        Ok(())
    }

    fn cell(&mut self, place: usize, text: &str, cell: OutCell) -> Result<(), XlsxError> {
        let column = u16::try_from(place).map_err(|_| XlsxError::RowColumnLimitError)?;
        if text.is_empty() {
            return Ok(());
        }
        let serial = match cell {
            OutCell::Stamp(kind) => {
                let serial = self.serial(kind, text);
                let has_type = matches!(
                    kind,
                    Kind::Date | Kind::DateTime | Kind::Time | Kind::Duration
                );
                self.as_text += u64::from(serial.is_none() && has_type);
                serial
            }
            // A date of the source's that no ruling touches is one still.
            OutCell::AsItCame(CellType::Dated) => {
                let kinds = [Kind::Date, Kind::DateTime, Kind::Time, Kind::Duration];
                kinds.into_iter().find_map(|kind| self.serial(kind, text))
            }
            OutCell::AsItCame(_) | OutCell::Text => None,
        };
        let row = self.row;
        let (number, format) = match (serial, cell) {
            (Some((serial, format)), _) => (serial, Some(format)),
            (None, OutCell::AsItCame(CellType::Truth)) => {
                let sheet = self.book.worksheet_from_index(0)?;
                sheet.write_boolean(row, column, text.eq_ignore_ascii_case("true"))?;
                return Ok(());
            }
            (None, OutCell::AsItCame(CellType::Number | CellType::Text)) if is_number(text) => {
                (text.parse().unwrap_or_default(), None)
            }
            _ => {
                let sheet = self.book.worksheet_from_index(0)?;
                sheet.write_string(row, column, text)?;
                return Ok(());
            }
        };
        let format = format.map(|format| format.of(&self.formats).clone());
        let sheet = self.book.worksheet_from_index(0)?;
        match format {
            Some(format) => sheet.write_number_with_format(row, column, number, &format)?,
            None => sheet.write_number(row, column, number)?,
        };
        Ok(())
    }

    /// The serial number of a stamp and how it is shown; `None` where a
    /// workbook cannot hold it exactly.
    fn serial(&self, kind: Kind, text: &str) -> Option<(f64, Shown)> {
        let days_to = |day: Date| -> Option<f64> {
            if !(FIRST..=date(9999, 12, 31)).contains(&day) {
                return None;
            }
            Some(f64::from((day - EPOCH).get_days()))
        };
        match kind {
            Kind::Date => Some((days_to(text.parse().ok()?)?, Shown::Date)),
            Kind::DateTime => {
                let at: DateTime = text.parse().ok()?;
                let (part, exact) = day_part(at.time())?;
                let shown = if exact {
                    Shown::ExactDateTime
                } else {
                    Shown::DateTime
                };
                Some((days_to(at.date())? + part, shown))
            }
            Kind::Time => {
                let (part, exact) = day_part(text.parse().ok()?)?;
                Some((part, if exact { Shown::ExactTime } else { Shown::Time }))
            }
            Kind::Duration => {
                let length: Span = text.parse().ok()?;
                if length.get_years() != 0 || length.get_months() != 0 || length.is_negative() {
                    return None;
                }
                let round = SpanRound::new()
                    .largest(Unit::Nanosecond)
                    .days_are_24_hours();
                let nanos = length.round(round).ok()?.get_nanoseconds();
                if nanos % 1_000_000 != 0 {
                    return None;
                }
                let millis = nanos / 1_000_000;
                let shown = match millis % 1000 {
                    0 => Shown::Length,
                    _ => Shown::ExactLength,
                };
                Some((millis as f64 / DAY_MILLIS, shown))
            }
            _ => None,
        }
    }

    /// Ends the workbook.
    ///
    /// # Errors
    ///
    /// Where it cannot be written.
    pub fn finish(mut self, out: impl Write + Send) -> Result<(), XlsxError> {
        self.book.save_to_writer(out)
    }
}

/// How a serial number is shown.
#[derive(Clone, Copy)]
enum Shown {
    Date,
    DateTime,
    ExactDateTime,
    Time,
    ExactTime,
    Length,
    ExactLength,
}

impl Shown {
    fn of(self, formats: &Formats) -> &Format {
        match self {
            Shown::Date => &formats.date,
            Shown::DateTime => &formats.datetime,
            Shown::ExactDateTime => &formats.exact_datetime,
            Shown::Time => &formats.time,
            Shown::ExactTime => &formats.exact_time,
            Shown::Length => &formats.length,
            Shown::ExactLength => &formats.exact_length,
        }
    }
}

/// The part of a day that `time` is, and whether it has milliseconds; `None`
/// where it has smaller parts, which a workbook rounds.
fn day_part(time: Time) -> Option<(f64, bool)> {
    let nanos = i64::from(time.subsec_nanosecond());
    if nanos % 1_000_000 != 0 {
        return None;
    }
    let seconds =
        i64::from(time.hour()) * 3600 + i64::from(time.minute()) * 60 + i64::from(time.second());
    let millis = seconds * 1000 + nanos / 1_000_000;
    Some((millis as f64 / DAY_MILLIS, nanos != 0))
}

/// Whether a workbook shows the number that `text` is just as it is written:
/// `007` and `1.50` are texts.
fn is_number(text: &str) -> bool {
    let digits = text.bytes().filter(u8::is_ascii_digit).count();
    let plain = text
        .bytes()
        .all(|byte| byte.is_ascii_digit() || b"-.".contains(&byte));
    let same = |number: f64| number.is_finite() && number.to_string() == text;
    plain && digits <= DIGITS && text.parse().is_ok_and(same)
}
