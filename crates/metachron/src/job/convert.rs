//! Converting: every row once, in order, its temporal cells typed.

use super::Job;
use super::around::{Seated, file_name};
use super::deriving::{DerivedCounts, DerivedRow, Deriving, Made, Starts};
use super::pipeline::{self, Counted};
use super::progress::Progress;
use super::resolved::{Resolved, Settled};
use super::sort::SortBy;
use super::survey::{Ragged, RaggedRow};
use metachron_core::convert::Around;
use metachron_core::derive::{Derivations, Kept};
use metachron_core::lex::unmarked;
use metachron_core::outlook::Counts;
use metachron_core::phrase::{Track, Type, Value};
use metachron_core::rulings::Rulings;
use metachron_core::stamp::{Kind, Stamp};
use metachron_core::verdict::{Note, Verdict};
use metachron_table::{Block, CellType, Dialect, OutCell, Row, csv::RowWriter};
use std::sync::Arc;

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
    /// What became of the cells of derived columns.
    pub derived: Vec<DerivedCounts>,
    /// Rows that are left out.
    pub dropped: u64,
    /// Of these, those of which it could not be told.
    pub untold: u64,
    /// Where each row ends, and what it is sorted by, if they are sorted.
    pub sorted: Vec<(Vec<u8>, usize)>,
    /// The line that the block starts on.
    line: u64,
    /// What its rows say to later ones.
    tracks: Vec<Track>,
    read: u64,
}

/// A cell that waits for a person.
pub struct ReviewEntry {
    /// The row, from 0 in its block.
    pub row: u64,
    /// The line it starts on.
    pub line: u64,
    /// The place of its column; derived ones stand behind those of the table.
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

/// What a conversion goes by.
pub struct Conversion<'c> {
    /// How columns are read and written.
    pub rulings: &'c Rulings,
    /// What is derived from them, and which rows are kept.
    pub derivations: &'c Derivations,
    /// What rows are sorted by.
    pub sort: Option<&'c SortBy>,
    /// How the rows are written.
    pub dialect: Dialect,
    /// What is added beside columns.
    pub extras: Extras,
    /// What a reviewer resolved.
    pub resolved: &'c Resolved,
}

impl Job<'_> {
    /// The name of the column at `place`: derived ones stand behind those of
    /// the table.
    pub fn column_name<'n>(&'n self, place: usize, rulings: &'n Rulings) -> &'n str {
        let columns = self.table.columns();
        match columns.get(place) {
            Some(name) => name,
            None => &rulings.derive[place - columns.len()].name,
        }
    }

    /// Converts the table and hands block after block to `sink`.
    pub fn convert(
        &self,
        conversion: &Conversion<'_>,
        sink: impl FnMut(Converted) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let Conversion {
            rulings,
            derivations,
            ..
        } = *conversion;
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
        let zones = converters.iter().map(|column| {
            let ruling = rulings.column.get(&columns[column.place])?;
            ruling.write.zone_beside()
        });
        let deriving = (!derivations.is_nothing()).then(|| {
            let sort = conversion.sort;
            Deriving::new(self, derivations, sort, &converters, rulings)
        });
        let worker = Worker {
            kinds: kinds.collect(),
            zones: zones.collect(),
            derived: derived_cells(derivations),
            deriving,
            converters,
            writer: RowWriter::new(conversion.dialect),
            resolved: conversion.resolved,
            extras: conversion.extras,
            width: columns.len(),
            made: Vec::new(),
            stamp: None,
            clean: Vec::new(),
            scratch: String::new(),
        };
        let worker = match derivations.tracks() {
            0 => worker,
            _ => self.with_starts(worker)?,
        };
        self.work("converting", &worker, sink)
    }

    /// The same worker, with what other rows say at the start of each block:
    /// found by converting all of them once before.
    fn with_starts<'w>(&self, mut worker: Worker<'w>) -> anyhow::Result<Worker<'w>> {
        let mut starts = Starts::new();
        let mut so_far = match &worker.deriving {
            Some(deriving) => deriving.tracks().to_vec(),
            None => return Ok(worker),
        };
        self.work("looking at all rows", &worker, |block| {
            starts.insert((block.source, block.line), so_far.clone());
            for (track, more) in so_far.iter_mut().zip(&block.tracks) {
                track.append(more);
            }
            Ok(())
        })?;
        for tracks in starts.values_mut() {
            for (track, all) in tracks.iter_mut().zip(&so_far) {
                track.earliest = all.earliest.clone();
            }
        }
        let starts = Arc::new(starts);
        worker.deriving = worker.deriving.map(|deriving| deriving.with_starts(starts));
        Ok(worker)
    }

    fn work(
        &self,
        doing: &'static str,
        worker: &Worker<'_>,
        sink: impl FnMut(Converted) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let files: Vec<&str> = self
            .table
            .sources()
            .map(|source| file_name(source.name()))
            .collect();
        let mut reader = self.table.read()?;
        let mut progress = Progress::new(doing, self.table.size(), self.talk);
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut worker = worker.clone();
                let files = &files;
                move |block: Block| worker.convert(&block, files[block.source()])
            },
            sink,
        )
    }
}

/// What the cells of derived columns are, for a workbook.
fn derived_cells(derivations: &Derivations) -> Vec<OutCell> {
    let columns = derivations.columns().enumerate();
    columns
        .map(|(place, (_, of))| match of {
            Type::Stamp(kind) if derivations.is_iso(place) => OutCell::Stamp(kind),
            Type::Number => OutCell::AsItCame(CellType::Number),
            Type::Truth => OutCell::AsItCame(CellType::Truth),
            _ => OutCell::Text,
        })
        .collect()
}

#[derive(Clone)]
struct Worker<'r> {
    converters: Vec<Seated>,
    /// The kind of each converted column that is written as ISO 8601.
    kinds: Vec<Option<Kind>>,
    /// The zone that stands in a column of its own beside each converter's.
    zones: Vec<Option<String>>,
    deriving: Option<Deriving>,
    derived: Vec<OutCell>,
    writer: RowWriter,
    resolved: &'r Resolved,
    extras: Extras,
    width: usize,
    /// What the converters made of the row's cells.
    made: Vec<Made>,
    /// The stamp of the cell that was decided on last.
    stamp: Option<Stamp>,
    clean: Vec<u8>,
    scratch: String,
}

impl Worker<'_> {
    fn convert(&mut self, block: &Block, file: &str) -> anyhow::Result<Converted> {
        for column in &mut self.converters {
            column.start(block.source(), block.line());
        }
        if let Some(deriving) = &mut self.deriving {
            deriving.start(block.source(), block.line());
        }
        let sorts = self.deriving.as_ref().is_some_and(Deriving::sorts);
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
            derived: vec![DerivedCounts::default(); self.derived.len()],
            dropped: 0,
            untold: 0,
            sorted: Vec::new(),
            line: block.line(),
            tracks: Vec::new(),
            read: block.len() as u64,
        };
        let mut rows = block.rows()?;
        while let Some(row) = rows.next_row() {
            if row.is_empty() && self.width > 1 {
                if !sorts {
                    self.writer.end_like(&row, &mut done.bytes);
                }
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
        if let Some(deriving) = &self.deriving {
            done.tracks = deriving.tracks().to_vec();
        }
        Ok(done)
    }

    fn row(&mut self, row: &Row<'_>, file: &str, done: &mut Converted) {
        let mut from = 0;
        let start = done.bytes.len();
        self.made.clear();
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
            self.made.push((verdict, self.stamp));
            if there || self.adds() {
                self.writer.plain_cell(place, &self.clean, &mut done.bytes);
            }
            self.add_extras(row, column, verdict, done);
            from = place + 1;
        }
        let own = row.len().min(self.width).max(from);
        self.writer.copy(row, from, own, &mut done.bytes);
        let derived = self.derive(row, own, done);
        // What a row has too many of stands behind all columns.
        self.writer.copy(row, own, row.len(), &mut done.bytes);
        self.writer.end_like(row, &mut done.bytes);
        match derived {
            Some(derived) if derived.kept != Kept::Yes => {
                done.dropped += 1;
                done.untold += u64::from(derived.kept == Kept::Untold);
                done.bytes.truncate(start);
                if self.extras.types {
                    done.cells.pop();
                }
            }
            Some(derived) if self.deriving.as_ref().is_some_and(Deriving::sorts) => {
                done.sorted.push((derived.key, done.bytes.len()));
            }
            _ => {}
        }
    }

    /// Puts the derived cells of `row` behind its first `own` ones.
    fn derive(&mut self, row: &Row<'_>, own: usize, done: &mut Converted) -> Option<DerivedRow> {
        let deriving = self.deriving.as_mut()?;
        if !self.derived.is_empty() {
            for missing in own..self.width {
                self.writer.delimit(missing, &mut done.bytes);
            }
        }
        let mut refused = Vec::new();
        let derived = deriving.row(
            row,
            &self.made,
            (self.resolved, done.source, self.width),
            &mut done.derived,
            &mut refused,
            |place, value, text| match value {
                Value::Text(_) => {
                    let text = String::from_utf8_lossy(text);
                    self.writer.cell(self.width + place, &text, &mut done.bytes);
                }
                _ => self
                    .writer
                    .plain_cell(self.width + place, text, &mut done.bytes),
            },
        );
        for refused in refused {
            done.review.push(ReviewEntry {
                row: done.rows,
                line: row.line(),
                column: self.width + refused.derived,
                raw: refused.made_from,
                note: refused.note,
            });
        }
        Some(derived)
    }

    /// What the cells of the row are, as it is written.
    fn types(&self, row: &Row<'_>) -> Vec<OutCell> {
        let width = match self.adds() {
            true => row.len().max(self.width),
            false => row.len(),
        };
        let mut types = Vec::with_capacity(width + self.derived.len());
        for place in 0..width {
            if place == self.width {
                types.extend(&self.derived);
            }
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
        if width == self.width {
            types.extend(&self.derived);
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
        self.stamp = None;
        if self.resolved.len() > 0 {
            let raw = row.cell(place, &mut self.scratch);
            match self.resolved.find((done.source, row.line(), place), raw) {
                Some(Settled::Value(value, text)) => {
                    clean.extend_from_slice(text);
                    done.resolved += 1;
                    return match value {
                        Value::Stamp(stamp) => {
                            self.stamp = Some(*stamp);
                            Verdict::Settled
                        }
                        _ => Verdict::Blank,
                    };
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
            self.stamp = column.converter.stamp();
            if verdict.needs_review() {
                listed(raw, column.converter.note(raw, &Around::default()));
            }
            return verdict;
        }
        let stamp = &mut self.stamp;
        column.at(row, file, &mut self.scratch, |converter, raw, around| {
            let verdict = converter.convert_around(raw, around, clean);
            *stamp = converter.stamp();
            if verdict.needs_review() {
                listed(raw, converter.note(raw, around));
            }
            verdict
        })
    }

    /// Whether columns are added.
    fn adds(&self) -> bool {
        self.extras.any() || self.zones.iter().any(Option::is_some) || !self.derived.is_empty()
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
