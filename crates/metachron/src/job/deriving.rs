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
    sort: Option<SortBy>,
    blanks: Blanks,
    tracks: Vec<Track>,
    starts: Arc<Starts>,
    /// The texts of this row's source cells.
    texts: Vec<String>,
    /// Memory of the last row's values.
    values: Vec<Value<'static>>,
    clean: Vec<u8>,
}

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

/// A derived cell that has no value.
pub struct Refused {
    /// Its place among the derived columns.
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
                Some(path) => usage(format!("{}: {why}", path.display())),
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
            texts: vec![String::new(); sources.len()],
            sources,
            sort: sort.cloned(),
            blanks: rulings.blanks(None),
            tracks: vec![Track::default(); derivations.tracks()],
            starts: Arc::default(),
            values: Vec::new(),
            clean: Vec::new(),
            derivations: derivations.clone(),
        }
    }

    /// The same, with what other rows say at the start of each block.
    pub fn with_starts(self, starts: Arc<Starts>) -> Deriving {
        Deriving { starts, ..self }
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

    /// Derives the cells of `row`, of whose cells the converters made `made`,
    /// and hands the text of each to `put`.
    pub fn row(
        &mut self,
        row: &Row<'_>,
        made: &[Made],
        (resolved, file, first): (&Resolved, usize, usize),
        counts: &mut [DerivedCounts],
        refused: &mut Vec<Refused>,
        mut put: impl FnMut(usize, &Value<'_>, &[u8]),
    ) -> DerivedRow {
        let mut scratch = String::new();
        for (source, text) in self.sources.iter().zip(&mut self.texts) {
            if let Source::Cell(place) = source {
                text.clear();
                text.push_str(row.cell(*place, &mut scratch));
            }
        }
        let mut values = reused(std::mem::take(&mut self.values));
        for (source, text) in self.sources.iter().zip(&self.texts) {
            values.push(match source {
                Source::Converted(converter) => match made[*converter] {
                    (Verdict::Blank, _) => Value::Blank,
                    (_, Some(stamp)) => Value::Stamp(stamp),
                    (_, None) => Value::Waits,
                },
                Source::Cell(_) if self.blanks.find(text).is_some() => Value::Blank,
                Source::Cell(_) => Value::Text(text.as_str().into()),
            });
        }
        for (derived, counts) in counts.iter_mut().enumerate() {
            self.clean.clear();
            let value = self.derivations.run(derived, &values, &self.tracks);
            let written = value.and_then(|value| {
                let written = self.derivations.write(derived, &value, &mut self.clean);
                written.map_err(Refusal::from)?;
                Ok(value)
            });
            let value = written.unwrap_or_else(|refusal| {
                let made_from = self.derivations.made_from(derived, &values);
                let place = (file, row.line(), first + derived);
                if let Some(Settled::Value(value, text)) = resolved.find(place, &made_from) {
                    self.clean.extend_from_slice(text);
                    return value.clone();
                }
                refused.push(Refused {
                    derived,
                    made_from,
                    note: note(&refusal),
                });
                Value::Waits
            });
            match value {
                Value::Blank => counts.blank += 1,
                Value::Waits if refused.last().is_some_and(|last| last.derived == derived) => {
                    counts.refused += 1;
                }
                Value::Waits => counts.waiting += 1,
                _ => counts.given += 1,
            }
            put(derived, &value, &self.clean);
            values.push(value);
        }
        let kept = self.derivations.keeps(&values, &self.tracks);
        let key = self.sort.as_ref().map(|sort| sort.key(&values));
        self.derivations.track(&values, &mut self.tracks);
        self.values = reused(values);
        DerivedRow {
            kept,
            key: key.unwrap_or_default(),
        }
    }
}

/// The memory of `values`, empty.
fn reused<'old, 'new>(mut values: Vec<Value<'old>>) -> Vec<Value<'new>> {
    values.clear();
    // Collected in place: values of both lifetimes have one size.
    values.into_iter().map(Value::into_owned).collect()
}

fn note(refusal: &Refusal) -> Note {
    Note {
        verdict: Verdict::Open,
        sort: Sort::NoValue,
        reason: refusal.to_string(),
        readings: refusal.readings(),
    }
}
