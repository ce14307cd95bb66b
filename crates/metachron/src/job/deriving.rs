//! A thread's derived columns: where their values come from, row by row.

use super::Job;
use super::around::Seated;
use super::converted::{Conversion, Converted, ReviewEntry};
use super::declared::place_of;
use super::resolved::{Resolved, Settled};
use super::sort::SortBy;
use crate::outcome::usage;
use metachron_core::derive::{Derivations, DeriveError, Given, Kept, Shown, Wanted, Wants};
use metachron_core::phrase::{Asks, Number, Phrase, Refusal, Track, Value};
use metachron_core::rulings::{Blanks, Rulings};
use metachron_core::stamp::Stamp;
use metachron_core::verdict::{Note, Sort, Verdict};
use metachron_table::csv::RowWriter;
use metachron_table::{OutCell, Row};
use serde::Serialize;
use std::collections::HashMap;
use std::sync::Arc;

/// What became of the cells of a derived column.
#[derive(Clone, Copy, Debug, Default, Serialize)]
pub struct DerivedCounts {
    /// Cells that have a value.
    pub given: u64,
    /// Cells that are made from blank ones.
    pub blank: u64,
    /// Cells that are made from such as wait for a person.
    pub waiting: u64,
    /// Cells whose phrase gives no value: they are on the review list.
    pub refused: u64,
}

impl DerivedCounts {
    /// Counts those of other rows too.
    pub fn merge(&mut self, other: DerivedCounts) {
        self.given += other.given;
        self.blank += other.blank;
        self.waiting += other.waiting;
        self.refused += other.refused;
    }
}

/// What other rows say at the start of each block.
#[derive(Default)]
pub struct Starts {
    /// The tracks by file and line.
    pub blocks: HashMap<(usize, u64), Vec<Track>>,
    /// The tracks of all other blocks.
    pub others: Vec<Track>,
}

/// A column whose cells no converter makes.
#[derive(Clone, Copy)]
struct Taken {
    place: usize,
    /// Its place among the values.
    slot: usize,
    wants: Wants,
}

/// Derived columns at work.
#[derive(Clone)]
pub struct Deriving<'r> {
    derivations: Derivations,
    /// The places among the values of what the converters make.
    converted: Vec<Option<usize>>,
    /// The columns whose cells are taken as they came.
    cells: Vec<Taken>,
    /// Which values what is tracked hangs on.
    tracked: Vec<bool>,
    sort: Option<SortBy>,
    blanks: Blanks,
    resolved: &'r Resolved,
    /// How many columns stand before the derived ones.
    width: usize,
    /// Which other rows are asked.
    asks: Asks,
    tracks: Vec<Track>,
    starts: Arc<Starts>,
    /// This row's values: those of the source columns, then derived ones.
    values: Vec<Value>,
    scratch: String,
}

impl Job<'_> {
    /// What `rulings` derive, which rows are kept, and what they are sorted by,
    /// checked against the table.
    pub fn derivations(
        &self,
        rulings: &Rulings,
        keep: Option<&Phrase>,
        sort: &[String],
        shown: Shown,
    ) -> anyhow::Result<Derivations> {
        let columns = self.table.columns();
        let derived: Vec<String> = rulings.derive.iter().map(|d| d.name.clone()).collect();
        let all = [columns, &derived].concat();
        for name in sort {
            place_of(name, &all, "--sort")?;
        }
        let derivations = Derivations::new(&Wanted {
            rulings,
            columns,
            keep,
            also: sort,
            now: self.now,
            shown,
        });
        derivations.map_err(|why| {
            let given = self.rulings.iter().flat_map(|given| &given.derive);
            let from = self.args.rulings.as_ref().filter(|_| {
                let mut names = given.map(|derive| DeriveError::of_column(&derive.name));
                names.any(|what| what == why.what)
            });
            match from {
                Some(path) => anyhow::anyhow!("{}: {why}", path.display()),
                None => usage(why.to_string()),
            }
        })
    }
}

impl<'r> Deriving<'r> {
    /// What `conversion` derives, beside these converters.
    pub fn new(job: &Job<'_>, conversion: &Conversion<'r>, converters: &[Seated]) -> Deriving<'r> {
        let derivations = conversion.derivations;
        let columns = job.table.columns();
        let blanks = conversion.rulings.blanks(None);
        let mut converted = vec![None; converters.len()];
        let mut cells = Vec::new();
        for (slot, name) in derivations.sources().iter().enumerate() {
            let place = columns.iter().position(|column| column == name);
            match converters.iter().position(|c| Some(c.place) == place) {
                Some(converter) => converted[converter] = Some(slot),
                None => cells.extend(place.map(|place| Taken {
                    place,
                    slot,
                    wants: match blanks.have_numbers() {
                        // What is a number may be blank.
                        true => Wants::Text,
                        false => derivations.wants(slot),
                    },
                })),
            }
        }
        let values = derivations.sources().len() + derivations.columns().len();
        Deriving {
            converted,
            cells,
            tracked: derivations.tracked(),
            sort: conversion.sort.cloned(),
            blanks,
            resolved: conversion.resolved,
            width: columns.len(),
            asks: derivations.asks(),
            tracks: vec![Track::default(); derivations.tracks()],
            starts: Arc::default(),
            values: vec![Value::Blank; values],
            scratch: String::new(),
            derivations: derivations.clone(),
        }
    }

    /// Tells it what other rows say at the start of each block.
    pub fn set_starts(&mut self, starts: Starts) {
        self.starts = Arc::new(starts);
    }

    /// Whether rows are sorted.
    pub fn sorts(&self) -> bool {
        self.sort.is_some()
    }

    /// Makes it ready for the rows of a file from `line` on.
    pub fn start(&mut self, source: usize, line: u64) {
        let known = self.starts.blocks.get(&(source, line));
        let tracks = known.unwrap_or(&self.starts.others);
        match tracks.is_empty() {
            true => self.tracks.fill(Track::default()),
            false => self.tracks.clone_from(tracks),
        }
    }

    /// What the rows since the start say.
    pub fn tracks(&self) -> &[Track] {
        &self.tracks
    }

    /// Whether all is said that later rows ask: no more than the first value of
    /// each column is, and these are known.
    pub fn is_told(&self) -> bool {
        let mut firsts = self.tracks.iter().map(|track| &track.first);
        self.asks == Asks::First && firsts.all(|first| *first != Value::Blank)
    }

    /// Whether what rows say to later ones hangs on this converter.
    pub fn tracks_by(&self, converter: usize) -> bool {
        self.converted[converter].is_some_and(|slot| self.tracked[slot])
    }

    /// Takes what a converter made of its cell of the row.
    #[inline]
    pub fn take(&mut self, converter: usize, verdict: Verdict, stamp: Option<Stamp>) {
        if let Some(slot) = self.converted[converter] {
            self.values[slot] = match (verdict, stamp) {
                (Verdict::Blank, _) => Value::Blank,
                (_, Some(stamp)) => Value::Stamp(stamp),
                (_, None) => Value::Waits,
            };
        }
    }

    /// Goes past `row`, whose cells the converters have made: takes what it
    /// says to later ones, and nothing else.
    pub fn track(&mut self, row: &Row<'_>, done: &mut Converted) {
        self.read(row);
        let sources = self.derivations.sources().len();
        for derived in 0..self.values.len() - sources {
            if self.tracked[sources + derived] {
                self.derive(derived, row, done);
            }
        }
        self.derivations.track(&self.values, &mut self.tracks);
    }

    /// Derives the cells of `row`, whose other cells the converters have made,
    /// and has them written as what they are; whether the row is kept.
    pub fn row(
        &mut self,
        row: &Row<'_>,
        (writer, cells): (&RowWriter, &[OutCell]),
        done: &mut Converted,
    ) -> Kept {
        if !self.cells.is_empty() {
            self.read(row);
        }
        for (derived, cell) in cells.iter().enumerate() {
            writer.delimit(self.width + derived, &mut done.bytes);
            let start = done.bytes.len();
            let given = self.derive(derived, row, done);
            match cell {
                OutCell::Text => writer.quote(start, &mut done.bytes),
                _ => writer.quote_plain(start, &mut done.bytes),
            }
            let counts = &mut done.derived[derived];
            *match given {
                Some(Given::Value) => &mut counts.given,
                Some(Given::Blank) => &mut counts.blank,
                Some(Given::Waits) => &mut counts.waiting,
                None => &mut counts.refused,
            } += 1;
        }
        let kept = match self.derivations.keeps(&self.values, &self.tracks) {
            Ok(kept) => kept,
            Err(refusal) => {
                self.show(row);
                let made_from = self.derivations.kept_by(&self.values);
                let derived = cells.len();
                match self.refused(derived, made_from, &refusal, row, done) {
                    Some((Value::Truth(true), _)) => Kept::Yes,
                    Some((Value::Truth(false), _)) => Kept::No,
                    _ => {
                        done.unkept += 1;
                        Kept::Untold
                    }
                }
            }
        };
        // What the first row says was found beforehand.
        if self.asks == Asks::All {
            self.derivations.track(&self.values, &mut self.tracks);
        }
        kept
    }

    /// What the row is sorted by, if rows are.
    pub fn key(&self) -> Option<Vec<u8>> {
        Some(self.sort.as_ref()?.key(&self.values))
    }

    /// Takes the cells that no converter makes.
    fn read(&mut self, row: &Row<'_>) {
        for Taken { place, slot, wants } in &self.cells {
            let cell = row.cell(*place, &mut self.scratch);
            let value = &mut self.values[*slot];
            let number = match wants {
                Wants::Number => Number::parse(cell),
                Wants::Text => None,
            };
            match number {
                Some(number) => *value = Value::Number(number),
                None => take_text(cell, &self.blanks, value),
            }
        }
    }

    /// Takes their texts instead of the numbers that they are: a reviewer is
    /// shown what stands there.
    fn show(&mut self, row: &Row<'_>) {
        for Taken { place, slot, .. } in &self.cells {
            let cell = row.cell(*place, &mut self.scratch);
            take_text(cell, &self.blanks, &mut self.values[*slot]);
        }
    }

    /// Puts the value of a derived column among the row's, and its text behind
    /// what is written; what it is, unless it is refused.
    #[inline]
    fn derive(&mut self, derived: usize, row: &Row<'_>, done: &mut Converted) -> Option<Given> {
        let values = &mut self.values;
        let run = self
            .derivations
            .run(derived, values, &self.tracks, &mut done.bytes);
        match run {
            Ok(given) => Some(given),
            Err(refusal) => self.answer(derived, &refusal, row, done),
        }
    }

    /// Takes the answer of a reviewer instead; what it is, if there is one.
    #[cold]
    fn answer(
        &mut self,
        derived: usize,
        refusal: &Refusal,
        row: &Row<'_>,
        done: &mut Converted,
    ) -> Option<Given> {
        self.show(row);
        let made_from = self.derivations.made_from(derived, &self.values);
        let answer = self.refused(derived, made_from, refusal, row, done);
        let value = &mut self.values[self.derivations.sources().len() + derived];
        *value = Value::Waits;
        let (known, text) = answer?;
        done.bytes.extend_from_slice(text);
        value.clone_from(known);
        Some(match known {
            Value::Blank => Given::Blank,
            _ => Given::Value,
        })
    }

    /// What a reviewer answered of a derived cell that has no value; without
    /// an answer, it is listed. Behind the derived columns stands what tells
    /// whether a row is kept.
    fn refused(
        &self,
        derived: usize,
        made_from: String,
        refusal: &Refusal,
        row: &Row<'_>,
        done: &mut Converted,
    ) -> Option<(&'r Value, &'r [u8])> {
        let column = self.width + derived;
        let place = (done.source, row.line(), column);
        match self.resolved.find(place, &made_from) {
            Some(Settled::Value(value, text)) => {
                done.resolved += 1;
                return Some((value, text));
            }
            Some(Settled::Changed) => done.changed += 1,
            None => {}
        }
        done.review.push(ReviewEntry {
            row: done.rows,
            line: row.line(),
            column,
            raw: made_from,
            note: note(refusal),
        });
        None
    }
}

/// Makes `value` the text of a cell.
fn take_text(cell: &str, blanks: &Blanks, value: &mut Value) {
    match blanks.find(cell) {
        Some(_) => *value = Value::Blank,
        None => value.set_text(cell),
    }
}

fn note(refusal: &Refusal) -> Note {
    Note {
        verdict: Verdict::Open,
        sort: Sort::NoValue,
        reason: refusal.to_string(),
        readings: refusal.readings(),
    }
}
