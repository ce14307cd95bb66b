//! A thread's worker: what a row becomes.

use super::Job;
use super::around::Seated;
use super::converted::{Conversion, Converted, Extras, ReviewEntry, Tracked};
use super::deriving::{Deriving, Starts};
use super::resolved::{Resolved, Settled};
use super::survey::RaggedRow;
use metachron_core::convert::Around;
use metachron_core::derive::{Derivations, Kept};
use metachron_core::lex::unmarked;
use metachron_core::phrase::{Type, Value};
use metachron_core::rulings::CleanText;
use metachron_core::verdict::{Note, Verdict};
use metachron_table::{Block, CellType, OutCell, Row, csv::RowWriter};

/// What all converters of a thread may take to remember cells, in bytes.
const MEMORY: usize = 4 << 20;

/// Converts rows, block after block. Each thread has a clone.
#[derive(Clone)]
pub struct Worker<'r> {
    converters: Vec<Seated>,
    /// What the clean text of each converter is.
    texts: Vec<CleanText>,
    /// The zone that stands in a column of its own beside each converter's.
    zones: Vec<Option<String>>,
    deriving: Option<Deriving<'r>>,
    derived: Vec<OutCell>,
    writer: RowWriter,
    resolved: &'r Resolved,
    extras: Extras,
    width: usize,
    clean: Vec<u8>,
    scratch: String,
}

impl<'r> Worker<'r> {
    /// One that does what `conversion` says.
    pub fn new(job: &Job<'_>, conversion: &Conversion<'r>) -> anyhow::Result<Worker<'r>> {
        let Conversion {
            rulings,
            derivations,
            ..
        } = *conversion;
        let columns = job.table.columns();
        let ruled = rulings.column.len().max(1);
        let mut converters = job.seated(rulings)?;
        for column in &mut converters {
            column.converter = column.converter.clone().with_memory(MEMORY / ruled);
        }
        let converters = job.with_places(converters, rulings)?;
        let texts = converters.iter().map(|column| {
            let ruling = &rulings.column[&columns[column.place]];
            let clean = ruling.write.clean(ruling.kind)?;
            Ok(clean.text_of(ruling.kind))
        });
        let zones = converters.iter().map(|column| {
            let ruling = rulings.column.get(&columns[column.place])?;
            ruling.write.zone_beside()
        });
        let deriving =
            (!derivations.is_nothing()).then(|| Deriving::new(job, conversion, &converters));
        Ok(Worker {
            texts: texts.collect::<anyhow::Result<_>>()?,
            zones: zones.collect(),
            derived: derived_cells(derivations),
            deriving,
            converters,
            writer: RowWriter::new(conversion.dialect),
            resolved: conversion.resolved,
            extras: conversion.extras,
            width: columns.len(),
            clean: Vec::new(),
            scratch: String::new(),
        })
    }

    /// Tells it what other rows say at the start of each block.
    pub fn set_starts(&mut self, starts: Starts) {
        if let Some(deriving) = &mut self.deriving {
            deriving.set_starts(starts);
        }
    }

    fn start(&mut self, block: &Block) {
        for column in &mut self.converters {
            column.start(block.source(), block.line());
        }
        if let Some(deriving) = &mut self.deriving {
            deriving.start(block.source(), block.line());
        }
    }

    /// What the rows of `block` say to later ones: of its rows and cells, no
    /// more are looked at than that hangs on.
    pub fn track(&mut self, block: &Block, file: &str) -> anyhow::Result<Tracked> {
        self.start(block);
        let mut tracked = Tracked {
            source: block.source(),
            line: block.line(),
            tracks: Vec::new(),
            rows: 0,
            read: block.len() as u64,
        };
        let mut done = Converted::of(block, 0, 0);
        let mut rows = block.rows()?;
        while let Some(row) = rows.next_row() {
            if row.is_empty() && self.width > 1 {
                continue;
            }
            for column in 0..self.converters.len() {
                let deriving = self.deriving.as_ref();
                if deriving.is_some_and(|deriving| deriving.tracks_by(column)) {
                    self.decide(&row, file, column, &mut done);
                }
            }
            if let Some(deriving) = &mut self.deriving {
                deriving.track(&row, &mut done);
            }
            done.review.clear();
            done.bytes.clear();
            tracked.rows += 1;
            if self.deriving.as_ref().is_some_and(Deriving::is_told) {
                break;
            }
        }
        if let Some(deriving) = &self.deriving {
            tracked.tracks = deriving.tracks().to_vec();
        }
        Ok(tracked)
    }

    /// Converts the rows of `block`.
    pub fn convert(&mut self, block: &Block, file: &str) -> anyhow::Result<Converted> {
        self.start(block);
        let sorts = self.deriving.as_ref().is_some_and(Deriving::sorts);
        let mut done = Converted::of(block, self.converters.len(), self.derived.len());
        done.bytes.reserve(block.len() + block.len() / 8);
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
        Ok(done)
    }

    fn row(&mut self, row: &Row<'_>, file: &str, done: &mut Converted) {
        let mut from = 0;
        let start = done.bytes.len();
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
                match self.texts[column] {
                    CleanText::Text => self.writer.cell(place, &self.clean, &mut done.bytes),
                    _ => self.writer.plain_cell(place, &self.clean, &mut done.bytes),
                }
            }
            self.add_extras(row, column, verdict, done);
            from = place + 1;
        }
        let own = row.len().min(self.width).max(from);
        self.writer.copy(row, from, own, &mut done.bytes);
        let kept = self.derive(row, own, done);
        // What a row has too many of stands behind all columns.
        self.writer.copy(row, own, row.len(), &mut done.bytes);
        self.writer.end_like(row, &mut done.bytes);
        if kept != Kept::Yes {
            done.dropped += 1;
            done.untold += u64::from(kept == Kept::Untold);
            done.bytes.truncate(start);
            if self.extras.types {
                done.cells.pop();
            }
        } else if let Some(key) = self.deriving.as_ref().and_then(Deriving::key) {
            done.sorted.push((key, done.bytes.len()));
        }
    }

    /// Puts the derived cells of `row` behind its first `own` ones; whether the
    /// row is kept.
    fn derive(&mut self, row: &Row<'_>, own: usize, done: &mut Converted) -> Kept {
        let Some(deriving) = &mut self.deriving else {
            return Kept::Yes;
        };
        if !self.derived.is_empty() {
            for missing in own..self.width {
                self.writer.delimit(missing, &mut done.bytes);
            }
        }
        deriving.row(row, (&self.writer, &self.derived), done)
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
            types.push(out_cell(self.texts[ruled]));
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

    /// Decides on a cell, and tells those who derive from it; its clean text is
    /// left in `self.clean`.
    fn decide(
        &mut self,
        row: &Row<'_>,
        file: &str,
        number: usize,
        done: &mut Converted,
    ) -> Verdict {
        let column = &mut self.converters[number];
        let place = column.place;
        let clean = &mut self.clean;
        clean.clear();
        if self.resolved.len() > 0 {
            let raw = row.cell(place, &mut self.scratch);
            match self.resolved.find((done.source, row.line(), place), raw) {
                Some(Settled::Value(value, text)) => {
                    clean.extend_from_slice(text);
                    done.resolved += 1;
                    let (verdict, stamp) = match value {
                        Value::Stamp(stamp) => (Verdict::Settled, Some(*stamp)),
                        _ => (Verdict::Blank, None),
                    };
                    if let Some(deriving) = &mut self.deriving {
                        deriving.take(number, verdict, stamp);
                    }
                    return verdict;
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
        let verdict = if column.sits_alone() {
            let raw = row.value(place, &mut self.scratch);
            let verdict = column.converter.convert(raw, clean);
            if verdict.needs_review() {
                listed(raw, column.converter.note(raw, &Around::default()));
            }
            verdict
        } else {
            column.at(row, file, &mut self.scratch, |converter, raw, around| {
                let verdict = converter.convert_around(raw, around, clean);
                if verdict.needs_review() {
                    listed(raw, converter.note(raw, around));
                }
                verdict
            })
        };
        if let Some(deriving) = &mut self.deriving {
            deriving.take(number, verdict, column.converter.stamp());
        }
        verdict
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

/// What a cell of such clean text is in a workbook.
fn out_cell(text: CleanText) -> OutCell {
    match text {
        CleanText::Stamp(kind) => OutCell::Stamp(kind),
        CleanText::Number => OutCell::AsItCame(CellType::Number),
        CleanText::InZone | CleanText::Text => OutCell::Text,
    }
}

/// What the cells of derived columns are, for a workbook.
fn derived_cells(derivations: &Derivations) -> Vec<OutCell> {
    let columns = derivations.columns().enumerate();
    columns
        .map(|(place, (_, of))| match of {
            Type::Stamp(kind) => out_cell(derivations.clean(place).text_of(kind)),
            Type::Number => OutCell::AsItCame(CellType::Number),
            Type::Truth => OutCell::AsItCame(CellType::Truth),
            _ => OutCell::Text,
        })
        .collect()
}
