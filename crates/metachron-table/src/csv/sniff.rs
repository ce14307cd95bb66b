//! Finds out how a file is written: delimiter, notes, header.

use super::reader::LONGEST_ROW_MIB;
use super::{Dialect, Rows};
use crate::encoding::{CHUNK, Utf8Reader, detect};
use crate::{ColumnType, Header, ReadOptions, Source, TableError};
use encoding_rs::{Encoding, UTF_8};
use metachron_core::form::Century;
use metachron_core::lex::Lexer;
use metachron_core::reading::Readings;
use metachron_core::rulings::{Blanks, HeaderLine};

/// The delimiters that are tried.
const DELIMITERS: [u8; 4] = [b',', b';', b'\t', b'|'];

/// How many rows are looked at.
const ROWS: usize = 200;

/// A table has so many columns at most: what a survey knows of a column takes about
/// 10 KiB. A sheet of a workbook has room for 16,384.
pub(crate) const MOST_COLUMNS: usize = 1 << 16;

/// How a file is written and where its rows begin.
#[derive(Clone, Debug)]
pub(crate) struct Layout {
    pub encoding: &'static Encoding,
    /// Whether the encoding was declared, marked by a byte order mark, or is
    /// what the whole file looks like; if not, it is UTF-8 by its first part.
    pub encoding_is_sure: bool,
    /// Whether a UTF-8 byte order mark stands at the start.
    pub has_utf8_mark: bool,
    pub dialect: Dialect,
    pub header: Header,
    /// Where the rows begin, in bytes of UTF-8.
    pub data_offset: usize,
    /// The line they begin on.
    pub data_line: u64,
    /// The types of the columns, where the file has types.
    pub types: Vec<ColumnType>,
}

impl Layout {
    /// That of a file of another format, whose rows are text in the usual dialect.
    pub(crate) fn of_schema(header: Header) -> Layout {
        Layout {
            encoding: UTF_8,
            encoding_is_sure: true,
            has_utf8_mark: false,
            dialect: Dialect::default(),
            header,
            data_offset: 0,
            data_line: 1,
            types: Vec::new(),
        }
    }
}

/// Finds out how `source` is written, as far as it is not declared.
pub(crate) fn sniff(source: &Source, declared: &ReadOptions) -> Result<Layout, TableError> {
    let head = head_bytes(source)?;
    if head.is_empty() {
        return Err(TableError::Empty {
            file: source.name().to_owned(),
        });
    }
    let marked = Encoding::for_bom(&head);
    if let (None, None, Some(offset)) = (marked, declared.encoding, memchr::memchr(0, &head)) {
        return Err(TableError::Binary {
            file: source.name().to_owned(),
            offset,
        });
    }
    let encoding = match declared.encoding {
        Some(encoding) => encoding,
        None => detect(source, &head)?,
    };
    let text = head_text(source, encoding, head.len())?;
    if text.trim().is_empty() {
        return Err(TableError::Empty {
            file: source.name().to_owned(),
        });
    }
    let newline = if text.contains('\n') || !text.contains('\r') {
        b'\n'
    } else {
        b'\r'
    };
    let mut dialect = Dialect {
        newline,
        crlf: text.contains("\r\n"),
        quote: declared.quote.unwrap_or(Some(b'"')),
        ..Dialect::default()
    };
    dialect.delimiter = declared
        .delimiter
        .unwrap_or_else(|| delimiter(&text, dialect));
    let (header, data_offset, data_line) = header(source, &text, dialect, declared, 0)?;
    Ok(Layout {
        encoding,
        encoding_is_sure: declared.encoding.is_some() || marked.is_some() || encoding != UTF_8,
        has_utf8_mark: marked.is_some_and(|(encoding, _)| encoding == UTF_8),
        dialect,
        header,
        data_offset,
        data_line,
        types: Vec::new(),
    })
}

/// Finds out where the header of a sheet stands, whose first rows are `head`, and which
/// is so wide.
pub(crate) fn sniff_head(
    source: &Source,
    head: &str,
    declared: &ReadOptions,
    width: usize,
) -> Result<Layout, TableError> {
    let dialect = Dialect::default();
    let (header, data_offset, data_line) = header(source, head, dialect, declared, width)?;
    Ok(Layout {
        data_offset,
        data_line,
        ..Layout::of_schema(header)
    })
}

fn head_bytes(source: &Source) -> Result<Vec<u8>, TableError> {
    use std::io::Read;
    // Room for one byte more, or it would be doubled at the end.
    let mut head = Vec::with_capacity(CHUNK + 1);
    let mut file = source.open_text()?;
    let most = LONGEST_ROW_MIB << 20;
    while head.len() <= most {
        let wanted = head.len().max(CHUNK).min(most + 1 - head.len());
        let read = (&mut file)
            .take(wanted as u64)
            .read_to_end(&mut head)
            .map_err(TableError::io(source.name()))?;
        // The names of tens of thousands of columns may be longer than a chunk.
        let has_line = memchr::memchr2(b'\n', b'\r', &head).is_some();
        if read < wanted || has_line {
            return Ok(head);
        }
    }
    Err(TableError::RowTooLong {
        file: source.name().to_owned(),
        line: 1,
        limit: LONGEST_ROW_MIB,
    })
}

/// The head as text, cut behind its last whole line where the file goes on.
fn head_text(
    source: &Source,
    encoding: &'static Encoding,
    head: usize,
) -> Result<String, TableError> {
    let mut reader = Utf8Reader::open(source, encoding)?;
    let mut bytes = vec![0; head + 64];
    // The text may be shorter than the bytes that it is decoded from, or longer.
    let (mut have, mut ends) = (0, false);
    while have < head && !ends {
        let read = reader.read(&mut bytes[have..])?;
        ends = read == 0;
        have += read;
    }
    ends = ends || reader.read(&mut [0; 64])? == 0;
    bytes.truncate(have);
    if let (false, Some(last)) = (ends, memchr::memrchr2(b'\n', b'\r', &bytes)) {
        bytes.truncate(last + 1);
    }
    match String::from_utf8(bytes) {
        Ok(text) => Ok(text),
        // A head that is one unending line may be cut within a character.
        Err(error) if error.utf8_error().error_len().is_none() => {
            let valid = error.utf8_error().valid_up_to();
            let mut bytes = error.into_bytes();
            bytes.truncate(valid);
            Ok(String::from_utf8(bytes).unwrap_or_default())
        }
        Err(error) => {
            let before = &error.as_bytes()[..error.utf8_error().valid_up_to()];
            Err(TableError::Encoding {
                file: source.name().to_owned(),
                line: 1 + memchr::memchr_iter(b'\n', before).count() as u64,
                encoding: "UTF-8",
            })
        }
    }
}

/// The delimiter that gives most rows the same number of cells; of equal
/// ones, the one that gives more cells.
fn delimiter(text: &str, dialect: Dialect) -> u8 {
    let score = |delimiter: u8| {
        let widths = widths(
            text,
            Dialect {
                delimiter,
                ..dialect
            },
        );
        let width = usual_width(&widths);
        let same = widths.iter().filter(|&&other| other == width).count();
        match width {
            0 | 1 => (0, 0),
            _ => (same * 100 / widths.len(), width),
        }
    };
    // `max_by_key` takes the last of equals; the commonest stands first.
    let best = DELIMITERS.into_iter().rev().max_by_key(|&d| score(d));
    match best {
        Some(delimiter) if score(delimiter).1 > 1 => delimiter,
        _ => b',',
    }
}

/// How many cells each of the first rows has, lines with nothing left out.
fn widths(text: &str, dialect: Dialect) -> Vec<usize> {
    let mut rows = Rows::new(text, dialect, 1);
    let mut widths = Vec::new();
    while let Some(row) = rows.next_row() {
        if !row.is_empty() {
            widths.push(row.len());
        }
        if widths.len() == ROWS {
            break;
        }
    }
    widths
}

/// The commonest width; of equally common ones, the widest.
fn usual_width(widths: &[usize]) -> usize {
    let count = |width| widths.iter().filter(|&&other| other == width).count();
    let best = widths.iter().max_by_key(|&&width| (count(width), width));
    best.copied().unwrap_or(0)
}

/// A row of the head.
struct Line {
    number: u64,
    offset: usize,
    end: usize,
    end_line: u64,
    cells: Vec<String>,
}

impl Line {
    fn filled(&self) -> usize {
        self.cells
            .iter()
            .filter(|cell| !cell.trim().is_empty())
            .count()
    }
}

/// The first rows of `text`, which starts at the byte `offset` of the head.
fn lines(
    source: &Source,
    text: &str,
    dialect: Dialect,
    first_line: u64,
    offset: usize,
) -> Result<Vec<Line>, TableError> {
    let mut rows = Rows::new(text, dialect, first_line);
    let mut lines = Vec::new();
    let mut scratch = String::new();
    loop {
        let start = rows.offset();
        let Some(row) = rows.next_row() else { break };
        if row.len() > MOST_COLUMNS {
            return Err(TableError::TooManyColumns {
                file: source.name().to_owned(),
                line: row.line(),
                cells: row.len(),
                most: MOST_COLUMNS,
            });
        }
        let cells = (0..row.len())
            .map(|cell| row.text(cell, &mut scratch).to_owned())
            .collect();
        let number = row.line();
        lines.push(Line {
            number,
            offset: offset + start,
            end: offset + rows.offset(),
            end_line: rows.line(),
            cells,
        });
        if lines.len() == ROWS {
            break;
        }
    }
    Ok(lines)
}

/// The header, where the rows begin, and on which line. The table has at least so many
/// columns as `least`.
fn header(
    source: &Source,
    text: &str,
    dialect: Dialect,
    declared: &ReadOptions,
    least: usize,
) -> Result<(Header, usize, u64), TableError> {
    if let Some(HeaderLine::Line(wanted)) = declared.header_line {
        let offset = line_offset(text, dialect, wanted).ok_or_else(|| TableError::NoSuchLine {
            file: source.name().to_owned(),
            wanted,
            lines: text.lines().count() as u32,
        })?;
        let lines = lines(source, &text[offset..], dialect, wanted.into(), offset)?;
        return match lines.first() {
            Some(line) if line.filled() > 0 => Ok(named(text, &lines, line, dialect, least)),
            _ => Err(TableError::NoSuchLine {
                file: source.name().to_owned(),
                wanted,
                lines: text.lines().count() as u32,
            }),
        };
    }
    let lines = lines(source, text, dialect, 1, 0)?;
    let found = match declared.header_line {
        None => find_header(&lines),
        Some(_) => None,
    };
    Ok(match found {
        Some(index) => named(text, &lines, &lines[index], dialect, least),
        None => {
            let widths: Vec<usize> = lines.iter().map(|line| line.cells.len()).collect();
            let filled: Vec<usize> = widths.into_iter().filter(|&width| width > 0).collect();
            (
                Header::nameless(usual_width(&filled).max(least).max(1)),
                0,
                1,
            )
        }
    })
}

fn line_offset(text: &str, dialect: Dialect, wanted: u32) -> Option<usize> {
    match wanted {
        0 => None,
        1 => Some(0),
        _ => memchr::memchr_iter(dialect.newline, text.as_bytes())
            .nth(wanted as usize - 2)
            .map(|at| at + 1)
            .filter(|&offset| offset < text.len()),
    }
}

/// The header that stands on `line`. Columns that only rows below it have are
/// nameless.
fn named(
    text: &str,
    lines: &[Line],
    line: &Line,
    dialect: Dialect,
    least: usize,
) -> (Header, usize, u64) {
    let below = || {
        let rows = lines.iter().filter(|other| other.number > line.number);
        rows.filter(|other| !other.cells.is_empty())
    };
    let widths: Vec<usize> = below().map(|other| other.cells.len()).collect();
    let count = |width| widths.iter().filter(|&&other| other == width).count();
    let width = match usual_width(&widths) {
        // Of equally common widths, the header's own.
        usual if count(usual) == count(line.cells.len()) => line.cells.len(),
        usual => usual.max(line.cells.len()),
    };
    // One name too few: it is the last column that lacks one where rows end
    // in a delimiter, and the first where rows have names of their own.
    let wide = || below().filter(|other| other.cells.len() == width);
    let ends_empty = wide().all(|other| other.cells[width - 1].trim().is_empty());
    let mut names = line.cells.clone();
    if names.len() + 1 == width && !ends_empty {
        names.insert(0, String::new());
    }
    let raw = &text[line.offset..line.end];
    let notes = text[..line.offset].split(char::from(dialect.newline));
    let notes = notes
        .map(|note| note.trim_end_matches('\r').to_owned())
        .collect();
    let header = Header::new(&names, width.max(least), line.number, raw.to_owned(), notes);
    (header, line.end, line.end_line)
}

/// The index of the header among the first lines; `None` where the rows begin
/// at once.
fn find_header(lines: &[Line]) -> Option<usize> {
    let widths: Vec<usize> = lines
        .iter()
        .map(|line| line.cells.len())
        .filter(|&width| width > 0)
        .collect();
    let width = usual_width(&widths);
    let mostly_filled = |line: &Line| 2 * line.filled() >= width && line.filled() > 0;
    let first = lines
        .iter()
        .position(|line| line.cells.len() == width && mostly_filled(line))?;
    // The header may be narrower or wider than the rows below it: then the
    // first row of the usual width is one of values.
    let above = first.checked_sub(1).filter(|&above| {
        let line = &lines[above];
        line.cells.len() + 1 >= width
            && line.cells.len() > 1
            && line.cells.iter().all(|c| is_word(c))
    });
    let names = lines[first].cells.iter().all(|cell| is_word(cell));
    match above {
        Some(above) if !names => Some(above),
        _ if looks_like_data(&lines[first], lines.get(first + 1)) => None,
        _ => Some(first),
    }
}

/// Whether a cell may be a name: not a number, a date or a blank.
fn is_word(text: &str) -> bool {
    let is_value = is_number(text) || is_date(&mut Lexer::default(), text);
    !is_value && Blanks::default().find(text).is_none()
}

/// Whether a row holds values and not names: a date above a date, or numbers
/// and nothing else.
fn looks_like_data(line: &Line, next: Option<&Line>) -> bool {
    let mut lexer = Lexer::default();
    let date_above_date = line.cells.iter().enumerate().any(|(index, cell)| {
        let below = next.map(|next| next.cells.get(index).map_or("", String::as_str));
        is_date(&mut lexer, cell) && below.is_none_or(|below| is_date(&mut lexer, below))
    });
    let filled = || line.cells.iter().filter(|cell| !cell.trim().is_empty());
    date_above_date || filled().all(|cell| is_number(cell))
}

fn is_date(lexer: &mut Lexer, text: &str) -> bool {
    let Ok(cell) = lexer.lex(text) else {
        return false;
    };
    let readings = Readings::new(cell.shape(), &[]);
    !readings.of(&cell, Century::Open.into()).0.is_unreadable()
}

fn is_number(text: &str) -> bool {
    let text = text.trim();
    text.contains(|letter: char| letter.is_ascii_digit())
        && !text.contains(|letter: char| letter.is_alphabetic())
}
