//! Clean tables as a workbook.
//!
//! Rows are encoded as typed cells, each a tag and its value, little-endian:
//! serial numbers are computed on the threads that convert, and rows can wait
//! in a file to be sorted.

use super::{
    ColumnProvenance, Provenance, RowEncoder, SourceStyle, TableWriter, WriteError, Written,
    start_of,
};
use crate::CellType;
use crate::csv::Row;
use jiff::civil::{Date, Time, date};
use metachron_core::row::{OutCell, OutRow, Schema};
use metachron_core::stamp::{Kind, Stamp};
use rust_xlsxwriter::{DocProperties, ExcelDateTime, Format, Workbook, XlsxError};
use std::io::{self, Seek, SeekFrom, Write};

/// Writes a clean table as an Office Open XML workbook (ECMA-376) with real
/// date, time and duration cells, whose formats show ISO order.
///
/// Stays text: what a workbook has no type for (instants, months, quarters,
/// weeks, years), days before 1900-03-01, on which programs do not agree,
/// and times that are no whole milliseconds.
pub(super) struct SheetWriter<W> {
    out: W,
    book: Workbook,
    /// The formats of serial numbers, by [`Shown`].
    formats: [Format; Shown::ALL.len()],
    has_header: bool,
    row: u32,
    as_text: u64,
    /// The rulings that the table was made by.
    rulings: String,
}

/// The sheet that tells where the table comes from.
const PROVENANCE: &str = "Provenance";

/// The day that serial numbers count from, from 1900-03-01 on.
const EPOCH: Date = date(1899, 12, 30);

/// The first day that all programs agree on.
const FIRST: Date = date(1900, 3, 1);

const DAY_MILLIS: f64 = 86_400_000.0;

/// The most bytes that surely fit into a cell, which holds 32,767 UTF-16 units (ECMA-376
/// part 1 §18.4.12).
const CELL: usize = 32_767;

/// Numbers of more digits than these are not kept by a workbook.
const DIGITS: usize = 15;

/// How a serial number is shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
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
    const ALL: [Shown; 7] = [
        Shown::Date,
        Shown::DateTime,
        Shown::ExactDateTime,
        Shown::Time,
        Shown::ExactTime,
        Shown::Length,
        Shown::ExactLength,
    ];

    /// The format code (ECMA-376 part 1 §18.8.30).
    fn format(self) -> &'static str {
        match self {
            Shown::Date => "yyyy-mm-dd",
            Shown::DateTime => "yyyy-mm-dd hh:mm:ss",
            Shown::ExactDateTime => "yyyy-mm-dd hh:mm:ss.000",
            Shown::Time => "hh:mm:ss",
            Shown::ExactTime => "hh:mm:ss.000",
            Shown::Length => "[h]:mm:ss",
            Shown::ExactLength => "[h]:mm:ss.000",
        }
    }
}

/// The tags of encoded cells. Seven for serial numbers, by how they are shown,
/// stand behind.
mod tag {
    pub const BLANK: u8 = 0;
    pub const NUMBER: u8 = 1;
    pub const BOOLEAN: u8 = 2;
    pub const TEXT: u8 = 3;
    /// The text of a stamp that a workbook cannot hold as a number.
    pub const STAMP_TEXT: u8 = 4;
    pub const END_OF_ROW: u8 = 5;
    pub const SERIAL: u8 = 16;
}

impl<W: Write> SheetWriter<W> {
    /// A workbook with one sheet.
    pub(super) fn new(source: &SourceStyle, out: W) -> Result<SheetWriter<W>, XlsxError> {
        let mut book = Workbook::new();
        let today = source.today;
        let made =
            ExcelDateTime::from_ymd(today.year() as u16, today.month() as u8, today.day() as u8)?;
        book.set_properties(&DocProperties::new().set_creation_datetime(&made));
        book.add_worksheet_with_constant_memory()?;
        Ok(SheetWriter {
            out,
            book,
            formats: Shown::ALL.map(|shown| Format::new().set_num_format(shown.format())),
            has_header: source.header.is_some(),
            row: 0,
            as_text: 0,
            rulings: source.rulings.clone(),
        })
    }

    /// Adds a sheet that tells where the table comes from: what was made of each column,
    /// and the rulings, a line a row.
    fn put_provenance(&mut self, provenance: &Provenance) -> Result<(), XlsxError> {
        let sheet = self.book.add_worksheet_with_constant_memory()?;
        sheet.set_name(PROVENANCE)?;
        let mut row = 0;
        let mut put = |cells: &[&str]| {
            for (column, cell) in (0..).zip(cells) {
                match exact_number(cell) {
                    Some(number) => sheet.write_number(row, column, number)?,
                    None => sheet.write_string(row, column, *cell)?,
                };
            }
            row += 1;
            Ok::<(), XlsxError>(())
        };
        put(&["made by", &provenance.tool])?;
        put(&[])?;
        put(&ColumnProvenance::default().parts().map(|(name, _)| name))?;
        for column in &provenance.columns {
            let parts = column.parts().map(|(_, text)| text);
            put(&parts.each_ref().map(String::as_str))?;
        }
        put(&[])?;
        put(&["the rulings file"])?;
        for line in self.rulings.lines() {
            // A cell holds no more; no ruling of a person's is that long.
            put(&[start_of(line, CELL)])?;
        }
        Ok(())
    }

    /// Puts the cells of the rows that are encoded in `rows`.
    fn put(&mut self, mut rows: &[u8]) -> Result<(), XlsxError> {
        let sheet = self.book.worksheet_from_index(0)?;
        let mut column = 0_usize;
        while let Some((&of, rest)) = rows.split_first() {
            rows = rest;
            if of == tag::END_OF_ROW {
                self.row += 1;
                column = 0;
                continue;
            }
            let at = u16::try_from(column).map_err(|_| XlsxError::RowColumnLimitError);
            column += 1;
            match of {
                tag::BLANK => {}
                tag::NUMBER => {
                    let number = f64::from_le_bytes(take(&mut rows));
                    sheet.write_number(self.row, at?, number)?;
                }
                tag::BOOLEAN => {
                    let [truth] = take(&mut rows);
                    sheet.write_boolean(self.row, at?, truth != 0)?;
                }
                tag::TEXT | tag::STAMP_TEXT => {
                    let len = u32::from_le_bytes(take(&mut rows)) as usize;
                    let (text, rest) = rows.split_at(len);
                    rows = rest;
                    self.as_text += u64::from(of == tag::STAMP_TEXT);
                    sheet.write_string(self.row, at?, String::from_utf8_lossy(text))?;
                }
                serial => {
                    let number = f64::from_le_bytes(take(&mut rows));
                    let format = &self.formats[usize::from(serial - tag::SERIAL)];
                    sheet.write_number_with_format(self.row, at?, number, format)?;
                }
            }
        }
        Ok(())
    }
}

/// Takes bytes that the encoder has written.
fn take<const N: usize>(bytes: &mut &[u8]) -> [u8; N] {
    let Some((taken, rest)) = bytes.split_first_chunk() else {
        unreachable!("encoded cells are whole")
    };
    *bytes = rest;
    *taken
}

impl<W: Write> TableWriter<W> for SheetWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        if !self.has_header {
            return Ok(());
        }
        let mut header = Vec::new();
        for column in &schema.columns {
            put_text(tag::TEXT, column.header.as_bytes(), &mut header);
        }
        header.push(tag::END_OF_ROW);
        self.put(&header).map_err(WriteError::SheetIsFull)
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        Box::new(SheetEncoder {
            scratch: String::new(),
        })
    }

    fn write(&mut self, rows: &[u8], _file: usize) -> Result<(), WriteError> {
        self.put(rows).map_err(WriteError::SheetIsFull)
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        self.put_provenance(provenance)?;
        // A workbook is put together at its end, and may be large.
        let mut whole = tempfile::tempfile()?;
        self.book.save_to_writer(&mut whole)?;
        whole.seek(SeekFrom::Start(0))?;
        io::copy(&mut whole, &mut self.out)?;
        Ok(Written {
            as_text: self.as_text,
            ..Written::new(self.out)
        })
    }
}

/// Encodes rows as typed cells.
#[derive(Clone)]
struct SheetEncoder {
    scratch: String,
}

impl RowEncoder for SheetEncoder {
    fn fork(&self) -> Box<dyn RowEncoder> {
        Box::new(self.clone())
    }

    fn row(&mut self, source: &Row<'_>, row: &OutRow<'_>, out: &mut Vec<u8>) {
        for cell in row.cells {
            match cell {
                OutCell::Source(cells) => {
                    for own in cells.clone() {
                        let text = source.text(own, &mut self.scratch);
                        put_source(source.cell_type(own), text, out);
                    }
                }
                OutCell::Blank => out.push(tag::BLANK),
                OutCell::Stamp(stamp) => put_stamp(stamp, out),
                OutCell::Number(range) => {
                    put_number(&String::from_utf8_lossy(row.text_of(range)), out);
                }
                OutCell::Boolean(truth) => out.extend([tag::BOOLEAN, u8::from(*truth)]),
                OutCell::Text(range) => put_text(tag::TEXT, row.text_of(range), out),
            }
        }
        out.push(tag::END_OF_ROW);
    }
}

/// A cell of the source that no ruling reads: a number that is shown just as it
/// is written becomes one, of a text file too.
fn put_source(of: CellType, text: &str, out: &mut Vec<u8>) {
    match of {
        _ if text.is_empty() => out.push(tag::BLANK),
        CellType::Boolean => out.extend([tag::BOOLEAN, u8::from(text == "TRUE")]),
        CellType::Number | CellType::Text => put_number(text, out),
        // A date of the source's that no ruling reads is one still.
        CellType::Stamp(stamp) => match serial(&stamp) {
            Some(serial) => put_serial(serial, out),
            None => put_text(tag::TEXT, text.as_bytes(), out),
        },
        CellType::Empty | CellType::Error => put_text(tag::TEXT, text.as_bytes(), out),
    }
}

fn put_number(text: &str, out: &mut Vec<u8>) {
    match exact_number(text) {
        Some(number) => {
            out.push(tag::NUMBER);
            out.extend(number.to_le_bytes());
        }
        None => put_text(tag::TEXT, text.as_bytes(), out),
    }
}

fn put_stamp(stamp: &Stamp, out: &mut Vec<u8>) {
    if let Some(serial) = serial(stamp) {
        return put_serial(serial, out);
    }
    let has_type = matches!(
        stamp.kind(),
        Kind::Date | Kind::DateTime | Kind::Time | Kind::Duration
    );
    let tag = if has_type { tag::STAMP_TEXT } else { tag::TEXT };
    let mut text = Vec::new();
    stamp.write_iso(&mut text);
    put_text(tag, &text, out);
}

fn put_serial((number, shown): (f64, Shown), out: &mut Vec<u8>) {
    out.push(tag::SERIAL + shown as u8);
    out.extend(number.to_le_bytes());
}

fn put_text(tag: u8, text: &[u8], out: &mut Vec<u8>) {
    if text.is_empty() {
        return out.push(tag::BLANK);
    }
    out.push(tag);
    out.extend((text.len() as u32).to_le_bytes());
    out.extend_from_slice(text);
}

/// The serial number of a stamp and how it is shown; `None` where a workbook
/// cannot hold it exactly.
fn serial(stamp: &Stamp) -> Option<(f64, Shown)> {
    let days_to = |day: Date| -> Option<f64> {
        let is_held = (FIRST..=date(9999, 12, 31)).contains(&day);
        is_held.then(|| f64::from((day - EPOCH).get_days()))
    };
    match *stamp {
        Stamp::Date(day) => Some((days_to(day)?, Shown::Date)),
        Stamp::DateTime(at) => {
            let (part, is_exact) = day_part(at.time())?;
            let shown = if is_exact {
                Shown::ExactDateTime
            } else {
                Shown::DateTime
            };
            Some((days_to(at.date())? + part, shown))
        }
        Stamp::Time(time) => {
            let (part, is_exact) = day_part(time)?;
            let shown = if is_exact {
                Shown::ExactTime
            } else {
                Shown::Time
            };
            Some((part, shown))
        }
        Stamp::Duration(length) => {
            let nanos = length.nanoseconds();
            if length.months() != 0 || nanos < 0 || nanos % 1_000_000 != 0 {
                return None;
            }
            let millis = nanos / 1_000_000;
            let shown = match millis % 1000 {
                0 => Shown::Length,
                _ => Shown::ExactLength,
            };
            Some((millis as f64 / DAY_MILLIS, shown))
        }
        Stamp::Instant(_)
        | Stamp::Month(..)
        | Stamp::Quarter(..)
        | Stamp::Week(..)
        | Stamp::Year(_) => None,
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

/// The number that `text` is, if a workbook shows it just as it is written:
/// `007` and `1.50` are texts.
fn exact_number(text: &str) -> Option<f64> {
    let digits = text.bytes().filter(u8::is_ascii_digit).count();
    let is_plain = |byte: u8| byte.is_ascii_digit() || b"-.".contains(&byte);
    let number: f64 = (digits <= DIGITS && text.bytes().all(is_plain))
        .then(|| text.parse().ok())
        .flatten()?;
    (number.is_finite() && number.to_string() == text).then_some(number)
}
