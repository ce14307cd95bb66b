//! Converting: every row once, in order, its temporal cells typed.

use super::Job;
use super::around::{Seated, file_name};
use super::pipeline::{self, Counted};
use super::progress::Progress;
use super::resolved::{Resolved, Settled};
use super::survey::{Ragged, RaggedRow};
use metachron_core::convert::Around;
use metachron_core::lex::unmarked;
use metachron_core::outlook::Counts;
use metachron_core::rulings::Rulings;
use metachron_core::stamp::{Kind, Stamp};
use metachron_core::verdict::{Note, Verdict};
use metachron_table::{Block, Dialect, OutCell, Row, csv::RowWriter};

/// Columns that are added beside each converted one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Extras {
    /// The source text, as NAME_raw.
    pub raw: bool,
    /// The verdict, as NAME_verdict.
    pub verdict: bool,
    /// What each cell is, for a workbook.
    pub types: bool,
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
    /// What their cells are, row by row, where that is asked for.
    pub cells: Vec<Vec<OutCell>>,
    /// How many rows.
    pub rows: u64,
    /// Which file they are from.
    pub source: usize,
    /// Verdicts by converted column.
    pub counts: Vec<Counts>,
    /// Cells that wait for a person; rows count from 0 in the block.
    pub review: Vec<ReviewEntry>,
    /// The earliest and the latest stamp of each converted column, in the rows
    /// that its thread has converted so far.
    pub spans: Vec<Option<(Stamp, Stamp)>>,
    /// Cells that a reviewer resolved.
    pub resolved: u64,
    /// Cells that a reviewer resolved and that say something else now.
    pub changed: u64,
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
        resolved: &Resolved,
        sink: impl FnMut(Converted) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let columns = self.table.columns();
        let ruled = rulings.column.len().max(1);
        let mut converters = self.seated(rulings)?;
        for column in &mut converters {
            column.converter = column.converter.clone().with_memory(MEMORY / ruled);
        }
        let converters = self.with_places(converters, rulings)?;
        let kinds = converters.iter().map(|column| {
            let ruling = rulings.column.get(&columns[column.place])?;
            ruling.write.is_iso().then_some(ruling.kind)
        });
        let kinds: Vec<Option<Kind>> = kinds.collect();
        let zones = converters.iter().map(|column| {
            let ruling = rulings.column.get(&columns[column.place])?;
            ruling.write.zone_beside()
        });
        let zones: Vec<Option<String>> = zones.collect();
        let files: Vec<&str> = self
            .table
            .sources()
            .map(|source| file_name(source.name()))
            .collect();
        let mut reader = self.table.read()?;
        let mut progress = Progress::new("converting", self.table.size(), self.talk);
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut worker = Worker {
                    converters: converters.clone(),
                    kinds: kinds.clone(),
                    zones: zones.clone(),
                    writer: RowWriter::new(dialect),
                    resolved,
                    extras,
                    width: columns.len(),
                    clean: Vec::new(),
                    scratch: String::new(),
                };
                let files = &files;
                move |block: Block| worker.convert(&block, files[block.source()])
            },
            sink,
        )
    }
}

struct Worker<'r> {
    converters: Vec<Seated>,
    /// The kind of each converted column that is written as ISO 8601.
    kinds: Vec<Option<Kind>>,
    /// The zone that stands in a column of its own beside each converter's.
    zones: Vec<Option<String>>,
    writer: RowWriter,
    resolved: &'r Resolved,
    extras: Extras,
    width: usize,
    clean: Vec<u8>,
    scratch: String,
}

impl Worker<'_> {
    fn convert(&mut self, block: &Block, file: &str) -> anyhow::Result<Converted> {
        for column in &mut self.converters {
            column.start(block.source(), block.line());
        }
        let mut done = Converted {
            bytes: Vec::with_capacity(block.len() + block.len() / 8),
            cells: Vec::new(),
            rows: 0,
            source: block.source(),
            counts: vec![Counts::default(); self.converters.len()],
            review: Vec::new(),
            spans: Vec::new(),
            resolved: 0,
            changed: 0,
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
            if self.extras.types {
                done.cells.push(self.types(&row));
            }
            self.row(&row, file, &mut done);
            done.rows += 1;
        }
        let spans = self.converters.iter().map(|column| column.converter.span());
        done.spans = spans.collect();
        Ok(done)
    }

    fn row(&mut self, row: &Row<'_>, file: &str, done: &mut Converted) {
        let mut from = 0;
        for column in 0..self.converters.len() {
            let place = self.converters[column].place;
            let there = place < row.len();
            self.writer
                .copy(row, from, place.min(row.len()), &mut done.bytes);
            if self.adds() {
                // A short row is filled up, so that what is added stands
                // below its name.
                for missing in row.len().max(from)..place {
                    self.writer.delimit(missing, &mut done.bytes);
                }
            }
            let verdict = self.decide(row, file, column, done);
            done.counts[column].add(verdict, 1);
            if there || self.adds() {
                self.writer.plain_cell(place, &self.clean, &mut done.bytes);
            }
            self.add_extras(row, column, verdict, done);
            from = place + 1;
        }
        self.writer.copy(row, from, row.len(), &mut done.bytes);
        self.writer.end_like(row, &mut done.bytes);
    }

    /// What the cells of the row are, as it is written.
    fn types(&self, row: &Row<'_>) -> Vec<OutCell> {
        let width = match self.adds() {
            true => row.len().max(self.width),
            false => row.len(),
        };
        let mut types = Vec::with_capacity(width);
        for place in 0..width {
            let ruled = self
                .converters
                .iter()
                .position(|column| column.place == place);
            let Some(ruled) = ruled else {
                types.push(OutCell::AsItCame(row.cell_type(place)));
                continue;
            };
            types.push(match self.kinds[ruled] {
                Some(kind) => OutCell::Stamp(kind),
                None => OutCell::Text,
            });
            let added = usize::from(self.extras.raw)
                + usize::from(self.extras.verdict)
                + usize::from(self.zones[ruled].is_some());
            types.resize(types.len() + added, OutCell::Text);
        }
        types
    }

    /// Decides on a cell; its clean text is left in `self.clean`.
    fn decide(
        &mut self,
        row: &Row<'_>,
        file: &str,
        column: usize,
        done: &mut Converted,
    ) -> Verdict {
        let column = &mut self.converters[column];
        let place = column.place;
        let clean = &mut self.clean;
        clean.clear();
        if self.resolved.len() > 0 {
            let raw = row.cell(place, &mut self.scratch);
            match self.resolved.find((done.source, row.line(), place), raw) {
                Some(Settled::Clean(text)) => {
                    clean.extend_from_slice(text);
                    done.resolved += 1;
                    return Verdict::Settled;
                }
                Some(Settled::Blank) => {
                    done.resolved += 1;
                    return Verdict::Blank;
                }
                Some(Settled::Changed) => done.changed += 1,
                None => {}
            }
        }
        let mut listed = |raw: &str, note: Note| {
            done.review.push(ReviewEntry {
                row: done.rows,
                line: row.line(),
                column: place,
                note,
                raw: unmarked(raw).to_owned(),
            });
        };
        if column.sits_alone() {
            let raw = row.value(place, &mut self.scratch);
            let verdict = column.converter.convert(raw, clean);
            if verdict.needs_review() {
                listed(raw, column.converter.note(raw, &Around::default()));
            }
            return verdict;
        }
        column.at(row, file, &mut self.scratch, |converter, raw, around| {
            let verdict = converter.convert_around(raw, around, clean);
            if verdict.needs_review() {
                listed(raw, converter.note(raw, around));
            }
            verdict
        })
    }

    /// Whether columns are added.
    fn adds(&self) -> bool {
        self.extras.any() || self.zones.iter().any(Option::is_some)
    }

    fn add_extras(&mut self, row: &Row<'_>, column: usize, verdict: Verdict, done: &mut Converted) {
        let place = self.converters[column].place;
        if let Some(zone) = &self.zones[column] {
            let is_empty = self.clean.is_empty();
            let zone = if is_empty { "" } else { zone };
            self.writer.cell(place + 1, zone, &mut done.bytes);
        }
        if self.extras.raw {
            let raw = row.cell(place, &mut self.scratch);
            self.writer.cell(place + 1, raw, &mut done.bytes);
        }
        if self.extras.verdict {
            self.writer.cell(place + 1, verdict.name(), &mut done.bytes);
        }
    }
}
