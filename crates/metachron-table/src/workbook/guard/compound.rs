//! What an XLS file may ask for before it is opened.
//!
//! It is a compound file (MS-CFB) with a stream of records (MS-XLS). The
//! reader follows its sectors wherever they lead, and makes room for every cell
//! between the first and the last that there are: a damaged number asks for
//! more memory than there is.

use super::budget::{Budget, CELL};
use crate::Source;
use std::io::{BufReader, ErrorKind, Read};

/// A sheet has so many rows and columns (MS-XLS §2.5.242, `Rw`, and §2.5.46,
/// `ColU`).
const ROWS: u64 = 1 << 16;
const COLUMNS: u64 = 1 << 8;

/// The records that are looked at (MS-XLS §2.3.2).
mod kind {
    pub const DIMENSIONS: u16 = 0x0200;
    pub const FILE_PASS: u16 = 0x002f;
    /// Several cells of a row; the last column stands at the end.
    pub const SEVERAL_CELLS: [u16; 2] = [0x00bd, 0x00be];
    /// The start of the workbook or of a sheet, in the versions of the format.
    pub const STARTS: [u16; 4] = [0x0009, 0x0209, 0x0409, 0x0809];
    /// Row and column are the first that they say.
    pub const CELLS: [u16; 9] = [
        0x0006, 0x00bd, 0x00be, 0x00fd, 0x0201, 0x0203, 0x0204, 0x0205, 0x027e,
    ];
}

/// Refuses a file that no program has written; says what is wrong with it.
pub fn check(source: &Source) -> Result<(), String> {
    let file = source.open().map_err(|cause| cause.to_string())?;
    let mut file = cfb::CompoundFile::open(file).map_err(|cause| cause.to_string())?;
    let mut names = ["/Workbook", "/Book"].into_iter();
    let Some(name) = names.find(|name| file.is_stream(name)) else {
        // Its reader says what it misses.
        return Ok(());
    };
    let stream = file.open_stream(name).map_err(|cause| cause.to_string())?;
    check_records(BufReader::new(stream), Budget::of(source.size()).memory)
}

/// Checks the records, where so many bytes of memory may be taken.
fn check_records(mut stream: impl Read, memory: u64) -> Result<(), String> {
    let mut content = Vec::new();
    let mut left = memory;
    let mut sheet = Rectangle::default();
    loop {
        let mut head = [0; 4];
        match stream.read_exact(&mut head) {
            Ok(()) => {}
            Err(end) if end.kind() == ErrorKind::UnexpectedEof => {
                return sheet.take_from(&mut left);
            }
            Err(cause) => return Err(cause.to_string()),
        }
        let [kind, size] = [[head[0], head[1]], [head[2], head[3]]].map(u16::from_le_bytes);
        content.clear();
        let mut rest = stream.by_ref().take(u64::from(size));
        rest.read_to_end(&mut content)
            .map_err(|cause| cause.to_string())?;
        match kind {
            // What follows is encrypted, and its reader says so.
            kind::FILE_PASS => return Ok(()),
            kind::DIMENSIONS => check_dimensions(&content)?,
            _ if kind::CELLS.contains(&kind) => {
                check_cell(&content)?;
                sheet.add(kind, &content);
            }
            _ if kind::STARTS.contains(&kind) => {
                std::mem::take(&mut sheet).take_from(&mut left)?;
            }
            _ => {}
        }
    }
}

/// From the first cell of a sheet to the last: room is made for all between them.
#[derive(Default)]
struct Rectangle {
    /// The first and the last row, and the first and the last column.
    sides: Option<[(u16, u16); 2]>,
}

impl Rectangle {
    fn add(&mut self, kind: u16, content: &[u8]) {
        let number = |at: usize| {
            let bytes = content.get(at..)?.first_chunk()?;
            Some(u16::from_le_bytes(*bytes))
        };
        let (Some(row), Some(column)) = (number(0), number(2)) else {
            return;
        };
        let is_several = kind::SEVERAL_CELLS.contains(&kind) && content.len() > 5;
        let last = if is_several {
            number(content.len() - 2).unwrap_or(column)
        } else {
            column
        };
        let [rows, columns] = (self.sides).unwrap_or([(row, row), (column, column)]);
        let grown = |(first, last): (u16, u16), to: u16| (first.min(to), last.max(to));
        let columns = grown(grown(columns, column), last);
        self.sides = Some([grown(rows, row), columns]);
    }

    fn take_from(self, left: &mut u64) -> Result<(), String> {
        let lengths = self.sides.unwrap_or([(1, 0); 2]);
        let length = |(first, last): (u16, u16)| (u64::from(last) + 1).saturating_sub(first.into());
        let area = lengths.map(length).iter().product::<u64>();
        *left = left.checked_sub(area * CELL).ok_or_else(|| {
            "between the first cell of its sheets and the last there is more room than there may \
             be memory for; save the sheet as CSV, which is read at any size"
                .to_owned()
        })?;
        Ok(())
    }
}

/// First row, first behind the last, and the same of columns: rows in four
/// bytes each, in two in older versions (MS-XLS §2.4.90).
fn check_dimensions(content: &[u8]) -> Result<(), String> {
    let number = |from: usize, size: usize| {
        let bytes = content.get(from..from + size)?.iter().rev();
        Some(bytes.fold(0, |all, byte| all << 8 | u64::from(*byte)))
    };
    let parts = match content.len() {
        10 => [number(0, 2), number(2, 2), number(6, 2)],
        _ => [number(0, 4), number(4, 4), number(10, 2)],
    };
    let [Some(first), Some(behind), Some(columns)] = parts else {
        return Ok(());
    };
    if first > behind || behind.saturating_mul(columns) > ROWS * COLUMNS {
        Err("it states more cells than a sheet can have".to_owned())
    } else {
        Ok(())
    }
}

fn check_cell(content: &[u8]) -> Result<(), String> {
    let Some(&[low, high]) = content.get(2..4).and_then(|bytes| bytes.first_chunk()) else {
        return Ok(());
    };
    if u64::from(u16::from_le_bytes([low, high])) < COLUMNS {
        Ok(())
    } else {
        Err("it has a cell beyond the last column of a sheet".to_owned())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn record(kind: u16, content: &[u8]) -> Vec<u8> {
        let size = content.len() as u16;
        [&kind.to_le_bytes(), &size.to_le_bytes(), content].concat()
    }

    #[test]
    fn what_a_sheet_cannot_have() {
        let dimensions = |rows: [u32; 2], columns: u16| {
            let [first, behind] = rows.map(u32::to_le_bytes);
            let columns = columns.to_le_bytes();
            let content = [&first[..], &behind, &[0; 2], &columns, &[0; 2]];
            record(kind::DIMENSIONS, &content.concat())
        };
        let number = |column: u16| {
            record(
                0x0203,
                &[&[5, 0][..], &column.to_le_bytes(), &[0; 10]].concat(),
            )
        };
        for (records, is_well) in [
            (vec![dimensions([0, 65_536], 256), number(255)], true),
            (vec![dimensions([0, 1 << 31], 256)], false),
            (vec![dimensions([9, 2], 256)], false),
            (vec![number(256)], false),
            (vec![record(kind::FILE_PASS, &[]), number(9_999)], true),
            (vec![vec![1, 2, 3]], true),
            (Vec::new(), true),
        ] {
            let checked = check_records(records.concat().as_slice(), 1 << 30);
            assert_eq!(checked.is_ok(), is_well, "{checked:?}");
        }
        let cell = |row: u16, column: u16| {
            let place = [row.to_le_bytes(), column.to_le_bytes()].concat();
            record(0x0203, &[&place[..], &[0; 10]].concat())
        };
        let start = || record(0x0809, &[0; 16]);
        for (records, is_well) in [
            (vec![cell(3, 3), cell(1_002, 12)], true),
            (vec![cell(3, 3), start(), cell(65_535, 255)], true),
            (vec![cell(3, 3), cell(65_535, 255)], false),
            (
                vec![cell(0, 0), cell(999, 9), start(), cell(0, 0), cell(999, 15)],
                false,
            ),
        ] {
            let checked = check_records(records.concat().as_slice(), 1 << 20);
            assert_eq!(checked.is_ok(), is_well, "{checked:?}");
        }
    }
}
