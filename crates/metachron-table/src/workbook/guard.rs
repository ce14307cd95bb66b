//! What a workbook may ask for before it is opened.
//!
//! A few kilobytes of zip archive can hold gigabytes, and a number in it can ask for
//! more cells than there is memory. The package that reads workbooks believes both. So
//! each part streams by once before, and what reading it will take is added up.

use super::xml_scan::{self, Sink, local_name, number_of, value_of};
use crate::workbook::WorkbookFormat;
use crate::{Source, TableError};
use metachron_core::words;
use std::fs::File;
use std::io::{self, BufReader, Read};
use zip::ZipArchive;
use zip::read::ZipFile;

/// What may be held of a small workbook, in bytes; of a large one, see
/// [`Budget::of`].
const MEMORY: u64 = 160 << 20;

/// What all parts of a small workbook may unpack to, in bytes: as much takes some
/// seconds.
const UNPACKED: u64 = 1 << 30;

/// Of a workbook of more than some megabytes, so many times its size may be held.
const MEMORY_TIMES: u64 = 16;

/// … and so many times its size may be unpacked: sheets of numbers that repeat
/// themselves make 20 of one.
const UNPACKED_TIMES: u64 = 50;

/// The longest text of a cell, and the longest piece of any part, in bytes. A cell
/// holds 32,767 characters (ECMA-376 part 1 §18.4.8 has no limit; programs have).
const LONGEST_PIECE: u64 = 16 << 20;

/// What an element of a list takes, besides its text: three words and the bookkeeping
/// of the memory that they lead to.
const TEXT: u64 = 40;

/// What a cell of a sheet that is held takes: its value, and its formula.
pub(super) const CELL: u64 = 56;

/// What a formula takes that several cells share.
const SHARED_FORMULA: u64 = 96;

/// A sheet has so many columns at most (ECMA-376 part 1 §18.3.1.73).
const COLUMNS: u64 = 1 << 14;

/// A sheet has so many rows at most.
const ROWS: u64 = 1 << 20;

/// The format of a zip archive, by the parts it has.
pub(super) fn format_inside(source: &Source) -> Result<Option<WorkbookFormat>, TableError> {
    let Ok(archive) = ZipArchive::new(io::BufReader::new(source.open()?)) else {
        return Ok(None);
    };
    let has = |name: &str| archive.index_for_name(name).is_some();
    Ok(match () {
        _ if has("xl/workbook.xml") => Some(WorkbookFormat::Xlsx),
        _ if has("xl/workbook.bin") => Some(WorkbookFormat::Xlsb),
        _ if has("content.xml") => Some(WorkbookFormat::Ods),
        _ => None,
    })
}

/// Refuses an archive that would take more memory, or unpack to more, than a workbook
/// of its size has reason to.
pub(super) fn check(source: &Source) -> Result<(), TableError> {
    check_within(source, Budget::of(source.size()))
}

/// What a workbook may take.
#[derive(Clone, Copy, Debug)]
pub(super) struct Budget {
    /// To be held in memory, in bytes.
    pub memory: u64,
    /// To be unpacked, in bytes.
    unpacked: u64,
}

impl Budget {
    /// For a file of so many bytes.
    pub fn of(size: u64) -> Budget {
        Budget {
            memory: MEMORY.max(size.saturating_mul(MEMORY_TIMES)),
            unpacked: UNPACKED.max(size.saturating_mul(UNPACKED_TIMES)),
        }
    }
}

fn check_within(source: &Source, budget: Budget) -> Result<(), TableError> {
    let Ok(mut archive) = ZipArchive::new(BufReader::new(source.open()?)) else {
        // Its reader says what is wrong with it.
        return Ok(());
    };
    let mut left = budget;
    for index in 0..archive.len() {
        let Ok(part) = archive.by_index(index) else {
            continue;
        };
        let Ok(name) = part.name().map(|name| name.into_owned()) else {
            continue;
        };
        let excess = measure(&name, part, &mut left);
        if let Some(excess) = excess {
            return Err(TableError::PartTooLarge {
                file: source.name().to_owned(),
                part: name,
                cause: excess.sentence(&budget),
            });
        }
    }
    Ok(())
}

/// What is too much about a part.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Excess {
    Memory,
    Unpacked,
    Piece,
}

impl Excess {
    fn sentence(self, budget: &Budget) -> String {
        let mebibytes = |bytes: u64| words::number(bytes >> 20);
        match self {
            Excess::Memory => format!(
                "what it states would take more than the {} MiB that may be held of a workbook \
                 of this size",
                mebibytes(budget.memory)
            ),
            Excess::Unpacked => format!(
                "with the parts before it, it unpacks to more than {} MiB",
                mebibytes(budget.unpacked)
            ),
            Excess::Piece => format!(
                "it has a cell or a tag of more than {} MiB",
                mebibytes(LONGEST_PIECE)
            ),
        }
    }
}

/// Takes what reading a part takes from what is `left`; says what is too much. What
/// cannot be read of it is the reader's to say.
fn measure(name: &str, part: ZipFile<'_, BufReader<File>>, left: &mut Budget) -> Option<Excess> {
    let mut unpacked = Counting {
        part,
        left: &mut left.unpacked,
        is_over: false,
    };
    let memory = &mut left.memory;
    let found = match name.rsplit('/').next() {
        Some(file) if file.eq_ignore_ascii_case("sharedStrings.xml") => {
            xml_scan::scan(&mut unpacked, &mut SharedTexts::new(memory))
        }
        _ if name.eq_ignore_ascii_case("content.xml") => {
            xml_scan::scan(&mut unpacked, &mut Tables::new(memory))
        }
        Some(file) if file.ends_with(".xml") || file.ends_with(".rels") => {
            let is_of_sheet = name.contains("worksheets/");
            xml_scan::scan(&mut unpacked, &mut Cells::new(memory, is_of_sheet))
        }
        Some(file) if file.ends_with(".bin") => records(&mut unpacked, file, memory),
        // Pictures and the like are not read.
        _ => return None,
    };
    if unpacked.is_over {
        return Some(Excess::Unpacked);
    }
    found.ok().flatten()
}

/// Counts what a part unpacks to: the size that the archive declares may be a lie.
struct Counting<'l, R> {
    part: R,
    left: &'l mut u64,
    is_over: bool,
}

impl<R: Read> Read for Counting<'_, R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.part.read(buffer)?;
        match self.left.checked_sub(read as u64) {
            Some(left) => *self.left = left,
            None => {
                self.is_over = true;
                return Err(io::ErrorKind::FileTooLarge.into());
            }
        }
        Ok(read)
    }
}

/// Takes `bytes` from what is `left`.
fn take(left: &mut u64, bytes: u64) -> Result<(), Excess> {
    *left = left.checked_sub(bytes).ok_or(Excess::Memory)?;
    Ok(())
}

/// Makes a piece so many bytes longer.
fn lengthen(piece: &mut u64, bytes: u64) -> Result<(), Excess> {
    *piece = piece.saturating_add(bytes);
    if *piece > LONGEST_PIECE {
        Err(Excess::Piece)
    } else {
        Ok(())
    }
}

/// The texts that cells of XLSX share, which are all held.
struct SharedTexts<'l> {
    left: &'l mut u64,
    declared: u64,
    texts: u64,
    piece: u64,
}

impl SharedTexts<'_> {
    fn new(left: &mut u64) -> SharedTexts<'_> {
        SharedTexts {
            left,
            declared: 0,
            texts: 0,
            piece: 0,
        }
    }
}

impl Sink for SharedTexts<'_> {
    type Excess = Excess;

    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
        match local_name(tag) {
            (b"si", true) => {
                self.piece = 0;
                self.texts += 1;
                if self.texts > self.declared {
                    take(self.left, TEXT)?;
                }
            }
            (b"sst", true) => {
                let declared = number_of(tag, "uniqueCount").unwrap_or(0);
                take(self.left, declared.saturating_mul(TEXT))?;
                self.declared = declared;
            }
            _ => {}
        }
        Ok(())
    }

    fn text(&mut self, bytes: usize) -> Result<(), Excess> {
        lengthen(&mut self.piece, bytes as u64)?;
        take(self.left, bytes as u64)
    }

    fn long_tag(&mut self) -> Excess {
        Excess::Piece
    }
}

/// The cells of a sheet of XLSX, which are held one at a time, and any other part: of
/// what is no cell, each piece is.
struct Cells<'l> {
    left: &'l mut u64,
    /// Whether it is a sheet, or says what a sheet is related to: its links, say.
    is_of_sheet: bool,
    is_in_cell: bool,
    piece: u64,
    formulas: u64,
}

impl Cells<'_> {
    fn new(left: &mut u64, is_of_sheet: bool) -> Cells<'_> {
        Cells {
            left,
            is_of_sheet,
            is_in_cell: false,
            piece: 0,
            formulas: 0,
        }
    }
}

impl Sink for Cells<'_> {
    type Excess = Excess;

    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
        match local_name(tag) {
            (b"c", opens) => {
                self.is_in_cell = opens && !tag.ends_with(b"/");
                self.piece = 0;
            }
            (b"f", true) => {
                // Room is made for all formulas before the one with this number.
                let number = number_of(tag, "si").map_or(0, |number| number.saturating_add(1));
                let more = number.saturating_sub(self.formulas);
                take(self.left, more.saturating_mul(SHARED_FORMULA))?;
                self.formulas = self.formulas.max(number);
            }
            // What a workbook, its styles and its relations list is held.
            (b"sheet" | b"xf" | b"numFmt" | b"Relationship" | b"definedName", true)
                if !self.is_of_sheet =>
            {
                take(self.left, 2 * tag.len() as u64 + TEXT)?;
            }
            _ if !self.is_in_cell => self.piece = 0,
            _ => {}
        }
        Ok(())
    }

    fn text(&mut self, bytes: usize) -> Result<(), Excess> {
        lengthen(&mut self.piece, bytes as u64)
    }

    fn long_tag(&mut self) -> Excess {
        Excess::Piece
    }
}

/// The tables of OpenDocument, which are all held, as rectangles: from the first cell
/// with something in it to the last (ISO/IEC 26300-3 §9.1).
struct Tables<'l> {
    left: &'l mut u64,
    piece: u64,
    /// How often the row stands there.
    row_repeats: u64,
    /// How many cells of the row are behind.
    column: u64,
    /// How many of them end with one that holds something.
    filled: u64,
    /// How many of them are held: an empty one only where another follows.
    held: u64,
    is_in_cell: bool,
    /// How often the cell stands there.
    cell_repeats: u64,
    /// The rows since the last with something in it.
    rows: u64,
    /// The rows of the rectangle, and its columns.
    rectangle: (u64, u64),
}

impl Tables<'_> {
    fn new(left: &mut u64) -> Tables<'_> {
        Tables {
            left,
            piece: 0,
            row_repeats: 1,
            column: 0,
            filled: 0,
            held: 0,
            is_in_cell: false,
            cell_repeats: 1,
            rows: 0,
            rectangle: (0, 0),
        }
    }

    /// The cell that was opened holds something.
    fn fill(&mut self) {
        (self.filled, self.held) = (self.column, self.column);
    }

    fn end_row(&mut self) -> Result<(), Excess> {
        // The cells of each row are held before they are put into the rectangle.
        take(self.left, self.held * CELL)?;
        self.rows = (self.rows + self.row_repeats).min(ROWS);
        if self.filled > 0 {
            let (rows, columns) = self.rectangle;
            let grown = ((rows + self.rows).min(ROWS), columns.max(self.filled));
            let area = |(rows, columns): (u64, u64)| rows * columns;
            let more = area(grown) - area(self.rectangle);
            take(self.left, more.saturating_mul(CELL))?;
            (self.rectangle, self.rows) = (grown, 0);
        }
        Ok(())
    }
}

impl Sink for Tables<'_> {
    type Excess = Excess;

    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
        let is_closed = tag.ends_with(b"/");
        match local_name(tag) {
            (b"table", true) => (self.rectangle, self.rows) = ((0, 0), 0),
            (b"table-row", true) => {
                let repeats = number_of(tag, "table:number-rows-repeated").unwrap_or(1);
                self.row_repeats = repeats.min(ROWS);
                (self.column, self.filled, self.held) = (0, 0, 0);
                if is_closed {
                    self.end_row()?;
                }
            }
            (b"table-row", false) => self.end_row()?,
            (b"table-cell" | b"covered-table-cell", true) => {
                self.piece = 0;
                let repeats = number_of(tag, "table:number-columns-repeated").unwrap_or(1);
                self.cell_repeats = repeats.min(COLUMNS);
                self.held = self.column;
                self.is_in_cell = !is_closed;
                self.column = (self.column + self.cell_repeats).min(COLUMNS);
                let has = |name| value_of(tag, name).is_some();
                if has("office:value-type") || has("table:formula") {
                    self.fill();
                }
                // A value of many letters is held for each time that it stands there.
                let copies = self.cell_repeats.saturating_mul(self.row_repeats);
                if tag.len() > 256 {
                    take(self.left, (tag.len() as u64).saturating_mul(copies))?;
                }
            }
            (b"table-cell" | b"covered-table-cell", false) => self.is_in_cell = false,
            (b"s", true) => {
                self.text_of(number_of(tag, "text:c").unwrap_or(1))?;
            }
            _ if !self.is_in_cell => self.piece = 0,
            _ => {}
        }
        Ok(())
    }

    fn text(&mut self, bytes: usize) -> Result<(), Excess> {
        self.text_of(bytes as u64)
    }

    fn long_tag(&mut self) -> Excess {
        Excess::Piece
    }
}

impl Tables<'_> {
    fn text_of(&mut self, bytes: u64) -> Result<(), Excess> {
        lengthen(&mut self.piece, bytes)?;
        if !self.is_in_cell {
            return Ok(());
        }
        let copies = self.cell_repeats.saturating_mul(self.row_repeats);
        take(self.left, bytes.saturating_mul(copies))
    }
}

/// The records of a part of XLSB: a number of one or two bytes, a length of up to four,
/// seven bits each, and as many bytes (MS-XLSB §2.1.4).
fn records(part: &mut impl Read, file: &str, left: &mut u64) -> io::Result<Option<Excess>> {
    let holds_texts = file.eq_ignore_ascii_case("sharedStrings.bin");
    let mut part = BufReader::new(part);
    loop {
        if next_byte(&mut part)? & 0x80 != 0 {
            next_byte(&mut part)?;
        }
        let mut size = 0;
        for place in 0..4 {
            let seven = next_byte(&mut part)?;
            size |= u64::from(seven & 0x7f) << (7 * place);
            if seven & 0x80 == 0 {
                break;
            }
        }
        if size > LONGEST_PIECE {
            return Ok(Some(Excess::Piece));
        }
        if holds_texts && take(left, size + TEXT).is_err() {
            return Ok(Some(Excess::Memory));
        }
        io::copy(&mut (&mut part).take(size), &mut io::sink())?;
    }
}

fn next_byte(part: &mut impl Read) -> io::Result<u8> {
    let mut byte = [0];
    part.read_exact(&mut byte)?;
    Ok(byte[0])
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::io::Write;

    /// What is said of a workbook with this part, where so many MiB may be held and
    /// unpacked.
    fn said(part: &str, content: &[u8], mebibytes: u64) -> Option<String> {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("odd.xlsx");
        let mut archive = zip::ZipWriter::new(File::create(&path).unwrap());
        let options = zip::write::SimpleFileOptions::default();
        archive.start_file(part, options).unwrap();
        archive.write_all(content).unwrap();
        archive.finish().unwrap();
        let budget = Budget {
            memory: mebibytes << 20,
            unpacked: 40 << 20,
        };
        let checked = check_within(&Source::file(&path).unwrap(), budget);
        checked.err().map(|refused| refused.to_string())
    }

    #[test]
    fn what_a_part_asks_for_is_added_up() {
        let shared = "xl/sharedStrings.xml";
        let sheet = "xl/worksheets/sheet1.xml";
        let ods = |rows: &str| format!("<table:table>{rows}</table:table>").into_bytes();
        let row = |repeats: &str, cell: &str| {
            format!("<table:table-row {repeats}>{cell}</table:table-row>")
        };
        let filled = "<table:table-cell office:value-type='float' office:value='1'/>";
        let empty = "<table:table-cell table:number-columns-repeated='16383'/>";
        let text = |inner: &str| {
            format!(
                "<table:table-cell office:value-type='string'><text:p>{inner}</text:p></table:table-cell>"
            )
        };
        let many = "table:number-rows-repeated='1048575'";
        let long = "x".repeat(17 << 20);
        for (name, part, content, excess) in [
            (
                "three texts",
                shared,
                b"<sst uniqueCount='3'><si><t>a</t></si></sst>".to_vec(),
                None,
            ),
            (
                "a count of billions",
                shared,
                b"<sst uniqueCount='4294967295'/>".to_vec(),
                Some("take more than"),
            ),
            (
                "empty texts",
                shared,
                ["<sst>", &"<si/>".repeat(40_000), "</sst>"]
                    .concat()
                    .into_bytes(),
                Some("take more than"),
            ),
            (
                "a long cell",
                sheet,
                format!("<c t='inlineStr'><is><t>{long}</t></is></c>").into_bytes(),
                Some("a cell or a tag of more than 16 MiB"),
            ),
            (
                "a long cell in runs",
                sheet,
                format!(
                    "<c>{}</c>",
                    format!("<r><t>{}</t></r>", &long[..1 << 20]).repeat(17)
                )
                .into_bytes(),
                Some("a cell or a tag"),
            ),
            (
                "as many bytes in many cells",
                sheet,
                format!("<c><v>{}</v></c>", &long[..1 << 20])
                    .repeat(17)
                    .into_bytes(),
                None,
            ),
            (
                "a long tag",
                sheet,
                format!("<c r='{long}'/>").into_bytes(),
                Some("a cell or a tag"),
            ),
            (
                "a formula's number",
                sheet,
                b"<c><f t='shared' si='4000000000'>A1</f></c>".to_vec(),
                Some("take more than"),
            ),
            (
                "a part of zeros",
                "xl/styles.xml",
                vec![b' '; 41 << 20],
                Some("a cell or a tag"),
            ),
            (
                "too much in all",
                sheet,
                "<c><v>1</v></c>".repeat(3 << 20).into_bytes(),
                Some("unpacks to more than 40 MiB"),
            ),
            (
                "rows that end empty",
                "content.xml",
                ods(&row("", &format!("{filled}{empty}")).repeat(2_000)),
                None,
            ),
            (
                "an empty end",
                "content.xml",
                ods(&format!("{}{}", row("", filled), row(many, empty))),
                None,
            ),
            (
                "a far cell",
                "content.xml",
                ods(&format!(
                    "{}{}{}",
                    row("", filled),
                    row(many, empty),
                    row("", filled)
                )),
                Some("take more than"),
            ),
            (
                "a wide row many times",
                "content.xml",
                ods(&row(many, &format!("{empty}{filled}"))),
                Some("take more than"),
            ),
            (
                "spaces",
                "content.xml",
                ods(&row("", &text("<text:s text:c='1000000000'/>"))),
                Some("a cell or a tag"),
            ),
            (
                "spaces many times",
                "content.xml",
                ods(&row(many, &text("<text:s text:c='100'/>"))),
                Some("take more than"),
            ),
            (
                "a long record",
                "xl/worksheets/sheet1.bin",
                vec![1, 0xff, 0xff, 0xff, 0x7f],
                Some("a cell or a tag"),
            ),
            (
                "a record",
                "xl/worksheets/sheet1.bin",
                vec![1, 2, 0, 0],
                None,
            ),
        ] {
            let said = said(part, &content, 1);
            let fits = match excess {
                None => said.is_none(),
                Some(excess) => said.as_ref().is_some_and(|said| said.contains(excess)),
            };
            assert!(fits, "{name}: {said:?}");
        }
    }
}
