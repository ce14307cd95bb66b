//! Rows in the order of their keys, however many there are: sorted in memory
//! as far as that is allowed to grow, then merged from temporary files.

use std::cmp::Reverse;
use std::collections::BinaryHeap;
use std::fs::File;
use std::io::{self, BufReader, BufWriter, Read, Seek, Write};

/// What rows may take in memory, in bytes.
const MEMORY: usize = 48 << 20;

/// At most so many files are merged at a time: each is open, and has a buffer.
const RUNS: usize = 64;

/// Sorts rows by their keys. Rows of equal keys stay in their order.
pub struct Sorter {
    /// Keys and rows, one behind the other.
    bytes: Vec<u8>,
    rows: Vec<RowSpan>,
    runs: Vec<File>,
    memory: usize,
    last: Option<Vec<u8>>,
    steps_back: u64,
}

/// Where a row stands among the bytes.
#[derive(Clone, Copy)]
struct RowSpan {
    start: usize,
    lengths: [u32; 2],
}

impl Sorter {
    /// One without rows.
    pub fn new() -> Sorter {
        Sorter::with_memory(MEMORY)
    }

    /// One that keeps no more than so many bytes in memory.
    fn with_memory(memory: usize) -> Sorter {
        Sorter {
            bytes: Vec::new(),
            rows: Vec::new(),
            runs: Vec::new(),
            memory,
            last: None,
            steps_back: 0,
        }
    }

    /// Takes an encoded row.
    pub fn add(&mut self, key: &[u8], row: &[u8]) -> io::Result<()> {
        let last = self.last.get_or_insert_with(|| key.to_vec());
        self.steps_back += u64::from(key < last.as_slice());
        last.clear();
        last.extend_from_slice(key);

        let taken = self.bytes.len() + self.rows.len() * size_of::<RowSpan>();
        if taken + key.len() + row.len() > self.memory && !self.rows.is_empty() {
            self.spill()?;
        }
        let start = self.bytes.len();
        self.bytes.extend_from_slice(key);
        self.bytes.extend_from_slice(row);
        let length = |len: usize| u32::try_from(len).map_err(io::Error::other);
        self.rows.push(RowSpan {
            start,
            lengths: [length(key.len())?, length(row.len())?],
        });
        Ok(())
    }

    /// How many rows stood before one that they belong behind.
    pub fn steps_back(&self) -> u64 {
        self.steps_back
    }

    /// Hands every row to `take`, in order.
    pub fn finish(
        mut self,
        mut take: impl FnMut(&[u8]) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        if self.runs.is_empty() {
            self.sort();
            for index in &self.rows {
                let record = Record::at(&self.bytes, *index);
                take(record.row())?;
            }
            return Ok(());
        }
        self.spill()?;
        merge(std::mem::take(&mut self.runs), |record| take(record.row()))
    }

    fn sort(&mut self) {
        let bytes = &self.bytes;
        let key = |index: &RowSpan| &bytes[index.start..index.start + index.lengths[0] as usize];
        self.rows.sort_by(|one, other| key(one).cmp(key(other)));
    }

    /// Writes the rows in memory to a file of their own.
    fn spill(&mut self) -> io::Result<()> {
        self.sort();
        let mut run = BufWriter::new(tempfile::tempfile()?);
        for index in &self.rows {
            Record::at(&self.bytes, *index).write(&mut run)?;
        }
        self.bytes.clear();
        self.rows.clear();
        self.runs.push(run.into_inner().map_err(io::Error::other)?);
        if self.runs.len() == RUNS {
            let mut merged = BufWriter::new(tempfile::tempfile()?);
            merge(std::mem::take(&mut self.runs), |record| {
                Ok(record.write(&mut merged)?)
            })
            .map_err(io::Error::other)?;
            // It holds the first rows, and stays the first file.
            self.runs
                .push(merged.into_inner().map_err(io::Error::other)?);
        }
        Ok(())
    }
}

/// Hands the rows of all files to `take`, in order.
fn merge(
    runs: Vec<File>,
    mut take: impl FnMut(&Record<'_>) -> anyhow::Result<()>,
) -> anyhow::Result<()> {
    let mut readers = Vec::with_capacity(runs.len());
    for mut run in runs {
        run.rewind()?;
        readers.push((BufReader::new(run), Vec::new(), [0; 2]));
    }
    let mut heap = BinaryHeap::new();
    for (number, (reader, bytes, lengths)) in readers.iter_mut().enumerate() {
        if read(reader, bytes, lengths)? {
            heap.push(Reverse((bytes[..lengths[0] as usize].to_vec(), number)));
        }
    }
    while let Some(Reverse((mut key, number))) = heap.pop() {
        let (reader, bytes, lengths) = &mut readers[number];
        let index = RowSpan {
            start: 0,
            lengths: *lengths,
        };
        take(&Record::at(bytes, index))?;
        if read(reader, bytes, lengths)? {
            key.clear();
            key.extend_from_slice(&bytes[..lengths[0] as usize]);
            heap.push(Reverse((key, number)));
        }
    }
    Ok(())
}

/// Reads the next record of a file; says whether there was one.
fn read(reader: &mut impl Read, bytes: &mut Vec<u8>, lengths: &mut [u32; 2]) -> io::Result<bool> {
    let mut head = [0; 8];
    match reader.read_exact(&mut head) {
        Err(error) if error.kind() == io::ErrorKind::UnexpectedEof => return Ok(false),
        other => other?,
    }
    for (length, bytes) in lengths.iter_mut().zip(head.chunks_exact(4)) {
        *length = bytes
            .iter()
            .rev()
            .fold(0, |all, byte| all << 8 | u32::from(*byte));
    }
    bytes.resize(lengths.iter().map(|length| *length as usize).sum(), 0);
    reader.read_exact(bytes)?;
    Ok(true)
}

/// A row with its key.
struct Record<'s> {
    all: &'s [u8],
    lengths: [u32; 2],
}

impl<'s> Record<'s> {
    fn at(bytes: &'s [u8], index: RowSpan) -> Record<'s> {
        let len: usize = index.lengths.iter().map(|length| *length as usize).sum();
        Record {
            all: &bytes[index.start..index.start + len],
            lengths: index.lengths,
        }
    }

    fn row(&self) -> &'s [u8] {
        &self.all[self.lengths[0] as usize..]
    }

    fn write(&self, out: &mut impl Write) -> io::Result<()> {
        for length in self.lengths {
            out.write_all(&length.to_le_bytes())?;
        }
        out.write_all(self.all)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Whatever fits into memory, rows come out as a stable sort has them.
        #[test]
        fn rows_come_out_sorted_and_stable(
            keys in prop::collection::vec(0_u8..20, 0..400),
            memory in 60_usize..3000,
        ) {
            let mut sorter = Sorter::with_memory(memory);
            let mut expected: Vec<(u8, String)> = Vec::new();
            for (number, key) in keys.iter().enumerate() {
                let row = format!("{key},{number}");
                sorter.add(&[*key], row.as_bytes()).unwrap();
                expected.push((*key, row));
            }
            let back = keys.windows(2).filter(|pair| pair[1] < pair[0]).count();
            prop_assert_eq!(sorter.steps_back(), back as u64);
            expected.sort_by_key(|(key, _)| *key);
            let mut found = Vec::new();
            sorter
                .finish(|row| {
                    found.push(String::from_utf8_lossy(row).into_owned());
                    Ok(())
                })
                .unwrap();
            let expected: Vec<String> = expected.into_iter().map(|(_, row)| row).collect();
            prop_assert_eq!(found, expected);
        }
    }
}
