//! What an XLS file may ask for before it is opened.
//!
//! It is a compound file (MS-CFB) with a stream of records (MS-XLS). The
//! reader follows its sectors wherever they lead, and makes room for every cell
//! between the first and the last that there are: a damaged number asks for
//! more memory than there is.

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
    /// Row and column are the first that they say.
    pub const CELLS: [u16; 9] = [
        0x0006, 0x00bd, 0x00be, 0x00fd, 0x0201, 0x0203, 0x0204, 0x0205, 0x027e,
    ];
}

/// Refuses a file that no program has written; says what is wrong with it.
pub(super) fn check(source: &Source) -> Result<(), String> {
    let file = source.open().map_err(|cause| cause.to_string())?;
    let mut file = cfb::CompoundFile::open(file).map_err(|cause| cause.to_string())?;
    let mut names = ["/Workbook", "/Book"].into_iter();
    let Some(name) = names.find(|name| file.is_stream(name)) else {
        // Its reader says what it misses.
        return Ok(());
    };
    let stream = file.open_stream(name).map_err(|cause| cause.to_string())?;
    check_records(BufReader::new(stream))
}

fn check_records(mut stream: impl Read) -> Result<(), String> {
    let mut content = Vec::new();
    loop {
        let mut head = [0; 4];
        match stream.read_exact(&mut head) {
            Ok(()) => {}
            Err(end) if end.kind() == ErrorKind::UnexpectedEof => return Ok(()),
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
            _ if kind::CELLS.contains(&kind) => check_cell(&content)?,
            _ => {}
        }
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
            let checked = check_records(records.concat().as_slice());
            assert_eq!(checked.is_ok(), is_well, "{checked:?}");
        }
    }
}
