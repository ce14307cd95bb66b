//! One sheet of a workbook, read and spooled.

use super::guard::{self, compound};
use super::{WorkbookFormat, cell};
use crate::contained::contained;
use crate::csv::{Dialect, Layout, Rows, sniff_head};
use crate::spool::{Spool, SpoolWriter, SpooledReader};
use crate::{CellType, ReadOptions, Source, TableError};
use calamine::{Data, DataRef, Ods, Reader, SheetType, SheetVisible, Xls, Xlsb, Xlsx, XlsxError};
use metachron_core::words;
use std::fs::File;
use std::io::BufReader;

/// A sheet as `survey` lists it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SheetInfo {
    /// Its name.
    pub name: String,
    /// Whether the workbook hides it.
    pub is_hidden: bool,
}

/// One sheet of a workbook, read and spooled.
#[derive(Debug)]
pub(crate) struct Sheet {
    spool: Spool,
    /// All sheets of the workbook that hold cells, in order.
    pub all: Vec<SheetInfo>,
    /// Which of them this is.
    pub index: usize,
    /// How many formulas have no value next to them.
    pub uncounted: u64,
    /// The first of them, by row and column from 1.
    pub first_uncounted: Option<(u32, u32)>,
}

/// How many rows are looked at to find the header.
const HEAD: usize = 200;

/// No sheet has more rows than this, and more columns than [`MOST_COLUMNS`]
/// (ECMA-376 part 1 §18.3.1.73): a cell beyond them is damage, or meant to fill
/// the disk.
pub(super) const MOST_ROWS: u32 = 1 << 20;

/// See [`MOST_ROWS`].
pub(super) const MOST_COLUMNS: u32 = 1 << 14;

/// So many sheets are looked into for a table, unless one is named: each may be as large
/// as the file.
const MOST_SHEETS: usize = 100;

/// So many names of sheets are shown in a message.
const MOST_NAMES: usize = 20;

enum Book {
    Xlsx(Xlsx<BufReader<File>>),
    Xlsb(Xlsb<BufReader<File>>),
    Xls(Box<Xls<BufReader<File>>>),
    Ods(Ods<BufReader<File>>),
}

impl Sheet {
    /// Reads the sheet that is declared, else the first that is not hidden and
    /// holds a table.
    pub(crate) fn open(
        source: &Source,
        format: WorkbookFormat,
        declared: &ReadOptions,
    ) -> Result<(Sheet, Layout), TableError> {
        let opened = contained(|| Sheet::open_trusting(source, format, declared));
        opened.unwrap_or_else(|| {
            Err(TableError::Damaged {
                file: source.name().to_owned(),
                format: format.name(),
                cause: "a length or a place that it states leads nowhere".to_owned(),
            })
        })
    }

    fn open_trusting(
        source: &Source,
        format: WorkbookFormat,
        declared: &ReadOptions,
    ) -> Result<(Sheet, Layout), TableError> {
        let mut book = Book::open(source, format)?;
        let all = book.sheets();
        let indexes: Vec<usize> = match &declared.sheet {
            Some(wanted) => {
                vec![
                    index_of(wanted, &all).ok_or_else(|| TableError::NoSuchSheet {
                        file: source.name().to_owned(),
                        part: "sheet",
                        wanted: wanted.clone(),
                        sheets: names(&all),
                    })?,
                ]
            }
            None => (0..all.len())
                .filter(|&index| !all[index].is_hidden)
                .take(MOST_SHEETS)
                .collect(),
        };
        let looked_into = indexes.len();
        let mut with_one_row = None;
        for index in indexes {
            let sheet = book.read(source, format, all.clone(), index)?;
            let Some(layout) = sheet.layout(source, declared)? else {
                continue;
            };
            // A page with a title is no table, if there is another.
            if sheet.spool.filled > 1 {
                return Ok((sheet, layout));
            }
            with_one_row = with_one_row.or(Some((sheet, layout)));
        }
        if let Some(found) = with_one_row {
            return Ok(found);
        }
        Err(TableError::EmptyWorkbook {
            file: source.name().to_owned(),
            looked_into,
            sheets: names(&all),
        })
    }

    /// How the sheet is laid out; `None` where it is empty.
    fn layout(
        &self,
        source: &Source,
        declared: &ReadOptions,
    ) -> Result<Option<Layout>, TableError> {
        let io = TableError::io(source.name());
        let mut rows = self.spool.read().map_err(&io)?;
        let mut first_rows = Vec::new();
        for _ in 0..HEAD {
            if !rows.next().map_err(&io)? {
                break;
            }
            // A line break within a name is none between rows.
            for byte in &mut rows.row {
                if matches!(byte, b'\n' | b'\r') {
                    *byte = b' ';
                }
            }
            first_rows.push((rows.row.clone(), rows.cells()));
        }
        // A cell is where it stands: rows that end sooner have the same columns. One
        // that stands far to the right of all below makes no header.
        let widest = first_rows.iter().map(|(_, cells)| *cells).max();
        let mut head = Vec::new();
        for (row, cells) in first_rows {
            head.extend_from_slice(&row);
            if cells > 0 {
                head.resize(head.len() + widest.unwrap_or(cells) - cells, b',');
            }
            head.push(b'\n');
        }
        let head = String::from_utf8_lossy(&head).into_owned();
        if head.trim().is_empty() {
            return Ok(None);
        }
        let mut layout = sniff_head(source, &head, declared, self.spool.width)?;
        // Rows below the first ones may be wider.
        let header = &mut layout.header;
        let names = header.raw.trim_end_matches(['\r', '\n']).len();
        let missing = self.spool.width - widest.unwrap_or(0);
        if names > 0 {
            header.raw.insert_str(names, &",".repeat(missing));
            let written = header.written.len() + missing;
            header.written.resize(written, String::new());
        }
        for note in &mut layout.header.notes {
            *note = cells_of(note);
        }
        Ok(Some(layout))
    }

    /// The size of what is read, in bytes.
    pub(crate) fn size(&self) -> u64 {
        self.spool.size
    }

    /// A reader of the rows from line `first` on.
    pub(crate) fn read(
        &self,
        source: &Source,
        number: usize,
        first: u64,
    ) -> Result<SpooledReader, TableError> {
        SpooledReader::open(&self.spool, source, number, first)
    }
}

/// What the cells of a line say that hold something.
fn cells_of(line: &str) -> String {
    let mut rows = Rows::new(line, Dialect::default(), 1);
    let mut scratch = String::new();
    let mut said: Vec<String> = Vec::new();
    if let Some(row) = rows.next_row() {
        said.extend((0..row.len()).map(|cell| row.text(cell, &mut scratch).to_owned()));
    }
    said.retain(|cell| !cell.is_empty());
    said.join("; ")
}

pub(crate) fn names(sheets: &[SheetInfo]) -> String {
    let shown = sheets.iter().take(MOST_NAMES);
    let mut names: Vec<String> = shown.map(|sheet| format!("`{}`", sheet.name)).collect();
    let more = sheets.len() - names.len();
    if more > 0 {
        names.push(format!("and {} more", words::number(more as u64)));
    }
    if names.is_empty() {
        "none".to_owned()
    } else {
        names.join(", ")
    }
}

/// The index of the sheet that is called so, or has this number from 1.
pub(crate) fn index_of(wanted: &str, sheets: &[SheetInfo]) -> Option<usize> {
    let by_name = sheets.iter().position(|sheet| sheet.name == wanted);
    let by_number = || wanted.parse::<usize>().ok()?.checked_sub(1);
    by_name.or_else(|| by_number().filter(|&index| index < sheets.len()))
}

impl Book {
    fn open(source: &Source, format: WorkbookFormat) -> Result<Book, TableError> {
        guard::check(source)?;
        let file = BufReader::new(source.open()?);
        let damaged = |cause: calamine::Error| damaged(source, format, cause);
        Ok(match format {
            WorkbookFormat::Xlsx => Book::Xlsx(Xlsx::new(file).map_err(|e| damaged(e.into()))?),
            WorkbookFormat::Xlsb => Book::Xlsb(Xlsb::new(file).map_err(|e| damaged(e.into()))?),
            WorkbookFormat::Ods => Book::Ods(Ods::new(file).map_err(|e| damaged(e.into()))?),
            WorkbookFormat::Xls => match compound::check(source).and_then(|()| {
                let book = Xls::new(file);
                book.map_err(|cause| cause.to_string())
            }) {
                Ok(book) => Book::Xls(Box::new(book)),
                Err(cause) => {
                    // A protected workbook of the newer formats lies in a
                    // compound file too.
                    let again = BufReader::new(source.open()?);
                    return Err(match Xlsx::new(again) {
                        Err(XlsxError::Password) => damaged(XlsxError::Password.into()),
                        _ => TableError::Damaged {
                            file: source.name().to_owned(),
                            format: format.name(),
                            cause,
                        },
                    });
                }
            },
        })
    }

    /// The sheets that hold cells.
    fn sheets(&self) -> Vec<SheetInfo> {
        let all = match self {
            Book::Xlsx(book) => book.sheets_metadata(),
            Book::Xlsb(book) => book.sheets_metadata(),
            Book::Xls(book) => book.sheets_metadata(),
            Book::Ods(book) => book.sheets_metadata(),
        };
        all.iter()
            .filter(|sheet| sheet.typ == SheetType::WorkSheet)
            .map(|sheet| SheetInfo {
                name: sheet.name.clone(),
                is_hidden: sheet.visible != SheetVisible::Visible,
            })
            .collect()
    }

    fn read(
        &mut self,
        source: &Source,
        format: WorkbookFormat,
        all: Vec<SheetInfo>,
        index: usize,
    ) -> Result<Sheet, TableError> {
        let damaged = |cause: calamine::Error| damaged(source, format, cause);
        let io = TableError::io(source.name());
        let name = &all[index].name;
        let mut spool = SpoolWriter::new().map_err(&io)?;
        let (mut uncounted, mut first_uncounted) = (0, None);
        let mut text = String::new();
        let mut put = |pos: (u32, u32), value: &DataRef<'_>, is_formula: bool| {
            let kind = cell::put(value, &mut text);
            if kind == CellType::Empty {
                uncounted += u64::from(is_formula);
                if is_formula && first_uncounted.is_none() {
                    first_uncounted = Some((pos.0.saturating_add(1), pos.1.saturating_add(1)));
                }
                return Ok(());
            }
            let is_within = pos.0 < MOST_ROWS && pos.1 < MOST_COLUMNS;
            if is_within && spool.cell(pos, &text, kind).map_err(&io)? {
                Ok(())
            } else {
                Err(TableError::Damaged {
                    file: source.name().to_owned(),
                    format: format.name(),
                    cause: format!(
                        "its cells are out of order, or beyond a sheet's end, at row {}",
                        u64::from(pos.0) + 1
                    ),
                })
            }
        };
        match self {
            Book::Xlsx(book) => {
                let mut cells = book
                    .worksheet_cells_reader(name)
                    .map_err(|e| damaged(e.into()))?;
                loop {
                    let next = cells.next_cell_with_formula_metadata();
                    let Some(record) = next.map_err(|e| damaged(e.into()))? else {
                        break;
                    };
                    put(record.pos, &record.value, record.formula.is_some())?;
                }
            }
            Book::Xlsb(book) => {
                let mut cells = book
                    .worksheet_cells_reader(name)
                    .map_err(|e| damaged(e.into()))?;
                while let Some(cell) = cells.next_cell().map_err(|e| damaged(e.into()))? {
                    put(cell.get_position(), cell.get_value(), false)?;
                }
            }
            Book::Xls(book) => {
                let range = book.worksheet_range(name).map_err(|e| damaged(e.into()))?;
                put_range(&range, &mut put)?;
            }
            Book::Ods(book) => {
                let mut range = book.worksheet_range(name).map_err(|e| damaged(e.into()))?;
                cell::tell_lengths_from_times(&mut range);
                put_range(&range, &mut put)?;
            }
        }
        Ok(Sheet {
            spool: spool.finish(0).map_err(&io)?,
            all,
            index,
            uncounted,
            first_uncounted,
        })
    }
}

fn put_range(
    range: &calamine::Range<Data>,
    put: &mut impl FnMut((u32, u32), &DataRef<'_>, bool) -> Result<(), TableError>,
) -> Result<(), TableError> {
    let (top, left) = range.start().unwrap_or_default();
    for (row, column, value) in range.used_cells() {
        let pos = (top + row as u32, left + column as u32);
        let value = match value {
            Data::Int(number) => DataRef::Int(*number),
            Data::Float(number) => DataRef::Float(*number),
            Data::String(text) => DataRef::SharedString(text),
            Data::Bool(truth) => DataRef::Bool(*truth),
            Data::DateTime(at) => DataRef::DateTime(*at),
            Data::DateTimeIso(iso) => DataRef::DateTimeIso(iso.clone()),
            Data::DurationIso(iso) => DataRef::DurationIso(iso.clone()),
            Data::Error(fault) => DataRef::Error(fault.clone()),
            Data::Empty => DataRef::Empty,
        };
        put(pos, &value, false)?;
    }
    Ok(())
}

fn damaged(source: &Source, format: WorkbookFormat, cause: calamine::Error) -> TableError {
    let file = source.name().to_owned();
    let text = cause.to_string();
    if text.contains("password") {
        TableError::Protected { file }
    } else {
        TableError::Damaged {
            file,
            format: format.name(),
            cause: text,
        }
    }
}
