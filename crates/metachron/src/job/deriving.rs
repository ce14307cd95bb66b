//! A thread's derived columns: where their values come from, row by row.

use super::Job;
use super::around::Seated;
use super::declared::place_of;
use super::resolved::{Resolved, Settled};
use super::sort::SortBy;
use crate::outcome::usage;
use metachron_core::derive::{Derivations, DeriveError, Kept, Shown, Wanted};
use metachron_core::phrase::{Phrase, Refusal, Track, Value};
use metachron_core::rulings::{Blanks, Rulings};
use metachron_core::stamp::Stamp;
use metachron_core::verdict::{Note, Sort, Verdict};
use metachron_table::Row;
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

/// The tracks at the start of each block, by file and line.
pub type Starts = HashMap<(usize, u64), Vec<Track>>;

/// Derived columns at work.
#[derive(Clone)]
pub struct Deriving {
    derivations: Derivations,
    sources: Vec<Source>,
    /// Which columns what is tracked hangs on: sources, then derived ones.
    tracked: Vec<bool>,
    sort: Option<SortBy>,
    blanks: Blanks,
    tracks: Vec<Track>,
    starts: Arc<Starts>,
    /// This row's values: those of the sources, then derived ones.
    values: Vec<Value>,
    clean: Vec<u8>,
    scratch: String,
}

/// The answers of a reviewer, the number of the file that rows are from, and
/// how many columns stand before the derived ones.
pub type Answers<'a> = (&'a Resolved, usize, usize);

/// Where a source column's values come from.
#[derive(Clone, Copy)]
enum Source {
    /// From this converter.
    Converted(usize),
    /// From the text of the cell at this place.
    Cell(usize),
}

/// What a converter made of its cell.
pub type Made = (Verdict, Option<Stamp>);

/// A derived cell that has no value, or a row of which it cannot be told
/// whether it is kept.
pub struct Refused {
    /// Its place among the derived columns; behind them, of a row.
    pub derived: usize,
    /// What it is made from.
    pub made_from: String,
    /// Why it has none.
    pub note: Note,
}

/// A row's derived cells.
pub struct DerivedRow {
    /// Whether the row is kept.
    pub kept: Kept,
    /// What it is sorted by.
    pub key: Vec<u8>,
    /// What has no value.
    pub refused: Vec<Refused>,
    /// How many answers of a reviewer were taken.
    pub resolved: u64,
    /// How many were not, because what they answer has changed.
    pub changed: u64,
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

impl Deriving {
    /// Of `derivations`, beside these converters.
    pub fn new(
        job: &Job<'_>,
        derivations: &Derivations,
        sort: Option<&SortBy>,
        converters: &[Seated],
        rulings: &Rulings,
    ) -> Deriving {
        let columns = job.table.columns();
        let sources: Vec<Source> = derivations
            .sources()
            .iter()
            .filter_map(|name| columns.iter().position(|column| column == name))
            .map(
                |place| match converters.iter().position(|c| c.place == place) {
                    Some(converter) => Source::Converted(converter),
                    None => Source::Cell(place),
                },
            )
            .collect();
        Deriving {
            values: vec![Value::Blank; sources.len() + derivations.columns().len()],
            sources,
            tracked: derivations.tracked(),
            sort: sort.cloned(),
            blanks: rulings.blanks(None),
            tracks: vec![Track::default(); derivations.tracks()],
            starts: Arc::default(),
            clean: Vec::new(),
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
        match self.starts.get(&(source, line)) {
            Some(tracks) => self.tracks.clone_from(tracks),
            None => self.tracks.fill(Track::default()),
        }
    }

    /// What the rows since the start say.
    pub fn tracks(&self) -> &[Track] {
        &self.tracks
    }

    /// Whether what rows say to later ones hangs on this converter.
    pub fn tracks_by(&self, converter: usize) -> bool {
        let sources = self.sources.iter().zip(&self.tracked);
        let mut sources = sources.filter(|(_, tracked)| **tracked);
        sources.any(|(source, _)| matches!(source, Source::Converted(known) if *known == converter))
    }

    /// Goes past `row`, of whose cells the converters made `made`: takes what
    /// it says to later ones, and nothing else.
    pub fn track(&mut self, row: &Row<'_>, made: &[Made], answers: Answers<'_>) {
        self.read(row, made);
        let mut done = DerivedRow::new();
        for derived in 0..self.values.len() - self.sources.len() {
            if self.tracked[self.sources.len() + derived] {
                self.derive(derived, row.line(), answers, &mut done);
            }
        }
        self.derivations.track(&self.values, &mut self.tracks);
    }

    /// Derives the cells of `row`, of whose cells the converters made `made`,
    /// and hands the text of each to `put`.
    pub fn row(
        &mut self,
        row: &Row<'_>,
        made: &[Made],
        answers: Answers<'_>,
        counts: &mut [DerivedCounts],
        mut put: impl FnMut(usize, &[u8]),
    ) -> DerivedRow {
        self.read(row, made);
        let mut done = DerivedRow::new();
        for (derived, counts) in counts.iter_mut().enumerate() {
            let refused = done.refused.len();
            self.derive(derived, row.line(), answers, &mut done);
            *match self.values[self.sources.len() + derived] {
                _ if done.refused.len() > refused => &mut counts.refused,
                Value::Blank => &mut counts.blank,
                Value::Waits => &mut counts.waiting,
                _ => &mut counts.given,
            } += 1;
            put(derived, &self.clean);
        }
        done.kept = match self.derivations.keeps(&self.values, &self.tracks) {
            Ok(kept) => kept,
            Err(refusal) => {
                let made_from = self.derivations.kept_by(&self.values);
                let place = (counts.len(), made_from, row.line());
                match done.take(answers, place, &refusal) {
                    Some((Value::Truth(true), _)) => Kept::Yes,
                    Some((Value::Truth(false), _)) => Kept::No,
                    _ => Kept::Untold,
                }
            }
        };
        if let Some(sort) = &self.sort {
            done.key = sort.key(&self.values);
        }
        self.derivations.track(&self.values, &mut self.tracks);
        done
    }

    /// Takes the values of the source columns in a row.
    fn read(&mut self, row: &Row<'_>, made: &[Made]) {
        for (source, value) in self.sources.iter().zip(&mut self.values) {
            *value = match source {
                Source::Converted(converter) => match made[*converter] {
                    (Verdict::Blank, _) => Value::Blank,
                    (_, Some(stamp)) => Value::Stamp(stamp),
                    (_, None) => Value::Waits,
                },
                Source::Cell(place) => {
                    let cell = row.cell(*place, &mut self.scratch);
                    match self.blanks.find(cell) {
                        Some(_) => Value::Blank,
                        None => Value::Text(cell.into()),
                    }
                }
            };
        }
    }

    /// Puts the value of a derived column among the row's, and its text in
    /// `self.clean`.
    fn derive(&mut self, derived: usize, line: u64, answers: Answers<'_>, done: &mut DerivedRow) {
        self.clean.clear();
        let place = self.sources.len() + derived;
        let values = &self.values[..place];
        let value = self
            .derivations
            .run(derived, values, &self.tracks, &mut self.clean);
        self.values[place] = value.unwrap_or_else(|refusal| {
            let made_from = self.derivations.made_from(derived, &self.values);
            match done.take(answers, (derived, made_from, line), &refusal) {
                Some((value, text)) => {
                    self.clean.extend_from_slice(text);
                    value.clone()
                }
                None => Value::Waits,
            }
        });
    }
}

impl DerivedRow {
    fn new() -> DerivedRow {
        DerivedRow {
            kept: Kept::Yes,
            key: Vec::new(),
            refused: Vec::new(),
            resolved: 0,
            changed: 0,
        }
    }

    /// Takes what a reviewer answered, or lists what has no value.
    fn take<'a>(
        &mut self,
        answers: Answers<'a>,
        (derived, made_from, line): (usize, String, u64),
        refusal: &Refusal,
    ) -> Option<(&'a Value, &'a [u8])> {
        let (resolved, file, width) = answers;
        match resolved.find((file, line, width + derived), &made_from) {
            Some(Settled::Value(value, text)) => {
                self.resolved += 1;
                return Some((value, text));
            }
            Some(Settled::Changed) => self.changed += 1,
            None => {}
        }
        self.refused.push(Refused {
            derived,
            made_from,
            note: note(refusal),
        });
        None
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
