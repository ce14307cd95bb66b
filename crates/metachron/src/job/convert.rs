//! Converting: every row once, in order, its temporal cells typed.

use super::Job;
use super::pipeline::{self, Counted};
use super::progress::Progress;
use super::survey::{Ragged, RaggedRow};
use metachron_core::convert::Converter;
use metachron_core::form::Beside;
use metachron_core::outlook::Counts;
use metachron_core::rulings::Rulings;
use metachron_core::verdict::{Note, Verdict};
use metachron_table::{Block, Dialect, Row, csv::RowWriter};

/// Columns that are added beside each converted one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Extras {
    /// The source text, as NAME_raw.
    pub raw: bool,
    /// The verdict, as NAME_verdict.
    pub verdict: bool,
}

impl Extras {
    fn any(self) -> bool {
        self.raw || self.verdict
    }
}

/// What all converters of a thread may take to remember cells, in bytes.
const MEMORY: usize = 4 << 20;

/// A block, converted.
pub struct Converted {
    /// The rows, as they are written.
    pub bytes: Vec<u8>,
    /// How many rows.
    pub rows: u64,
    /// Which file they are from.
    pub source: usize,
    /// Verdicts by converted column.
    pub counts: Vec<Counts>,
    /// Cells that wait for a person; rows count from 0 in the block.
    pub review: Vec<ReviewEntry>,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
    read: u64,
}

/// A cell that waits for a person.
pub struct ReviewEntry {
    /// The row, from 0 in its block.
    pub row: u64,
    /// The line it starts on.
    pub line: u64,
    /// The place of its column.
    pub column: usize,
    /// What it says.
    pub raw: String,
    /// Why it waits.
    pub note: Note,
}

impl Counted for Converted {
    fn bytes(&self) -> u64 {
        self.read
    }

    fn rows(&self) -> u64 {
        self.rows
    }
}

impl Job<'_> {
    /// Converts the table by `rulings` into rows of `dialect` and hands block
    /// after block to `sink`.
    pub fn convert(
        &self,
        rulings: &Rulings,
        dialect: Dialect,
        extras: Extras,
        sink: impl FnMut(Converted) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let columns = self.table.columns();
        let ruled = rulings.column.len().max(1);
        let mut converters: Vec<Column> = Vec::with_capacity(ruled);
        for &place in &self.asked {
            let name = &columns[place];
            if let Some(converter) = Converter::new(rulings, name)? {
                converters.push(Column {
                    place,
                    year: self.year_column(name, converter.year_from())?,
                    converter: converter.with_memory(MEMORY / ruled),
                });
            }
        }
        let mut reader = self.table.read()?;
        let mut progress = Progress::new("converting", self.table.size(), self.talk);
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut worker = Worker {
                    converters: converters.clone(),
                    writer: RowWriter::new(dialect),
                    extras,
                    width: columns.len(),
                    clean: Vec::new(),
                    scratch: String::new(),
                };
                move |block: Block| worker.convert(&block)
            },
            sink,
        )
    }
}

/// A column that is converted.
#[derive(Clone)]
struct Column {
    place: usize,
    /// The place of the column that says the years of its dates.
    year: Option<usize>,
    converter: Converter,
}

impl Column {
    /// What other cells of `row` say about this column's.
    fn beside(&self, row: &Row<'_>, scratch: &mut String) -> Beside {
        self.year
            .map(|year| Beside::year_cell(row.cell(year, scratch)))
            .unwrap_or_default()
    }
}

struct Worker {
    converters: Vec<Column>,
    writer: RowWriter,
    extras: Extras,
    width: usize,
    clean: Vec<u8>,
    scratch: String,
}

impl Worker {
    fn convert(&mut self, block: &Block) -> anyhow::Result<Converted> {
        let mut done = Converted {
            bytes: Vec::with_capacity(block.len() + block.len() / 8),
            rows: 0,
            source: block.source(),
            counts: vec![Counts::default(); self.converters.len()],
            review: Vec::new(),
            ragged: Ragged::default(),
            read: block.len() as u64,
        };
        let mut rows = block.rows()?;
        while let Some(row) = rows.next_row() {
            if row.is_empty() && self.width > 1 {
                self.writer.end_like(&row, &mut done.bytes);
                continue;
            }
            if row.len() != self.width && !row.is_empty() {
                done.ragged.add(RaggedRow {
                    file: block.source(),
                    line: row.line(),
                    cells: row.len(),
                });
            }
            self.row(&row, &mut done);
            done.rows += 1;
        }
        Ok(done)
    }

    fn row(&mut self, row: &Row<'_>, done: &mut Converted) {
        let mut from = 0;
        for column in 0..self.converters.len() {
            let place = self.converters[column].place;
            let there = place < row.len();
            self.writer
                .copy(row, from, place.min(row.len()), &mut done.bytes);
            if self.extras.any() {
                // A short row is filled up, so that what is added stands
                // below its name.
                for missing in row.len().max(from)..place {
                    self.writer.delimit(missing, &mut done.bytes);
                }
            }
            let verdict = self.decide(row, column, done);
            done.counts[column].add(verdict, 1);
            if there || self.extras.any() {
                self.writer.plain_cell(place, &self.clean, &mut done.bytes);
            }
            self.add_extras(row, place, verdict, done);
            from = place + 1;
        }
        self.writer.copy(row, from, row.len(), &mut done.bytes);
        self.writer.end_like(row, &mut done.bytes);
    }

    /// Decides on a cell; its clean text is left in `self.clean`.
    fn decide(&mut self, row: &Row<'_>, column: usize, done: &mut Converted) -> Verdict {
        let column = &mut self.converters[column];
        let beside = column.beside(row, &mut self.scratch);
        let raw = row.cell(column.place, &mut self.scratch);
        let Column {
            place,
            year,
            converter,
        } = column;
        self.clean.clear();
        let verdict = match year {
            None => converter.convert(raw, &mut self.clean),
            Some(_) => converter.convert_beside(raw, beside, &mut self.clean),
        };
        if verdict.needs_review() {
            done.review.push(ReviewEntry {
                row: done.rows,
                line: row.line(),
                column: *place,
                note: converter.note(raw, beside),
                raw: raw.to_owned(),
            });
        }
        verdict
    }

    fn add_extras(&mut self, row: &Row<'_>, place: usize, verdict: Verdict, done: &mut Converted) {
        if self.extras.raw {
            let raw = row.cell(place, &mut self.scratch);
            self.writer.cell(place + 1, raw, &mut done.bytes);
        }
        if self.extras.verdict {
            self.writer.cell(place + 1, verdict.name(), &mut done.bytes);
        }
    }
}
