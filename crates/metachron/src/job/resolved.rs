//! What a reviewer wrote into a review list, on the next run.

use super::around::file_name;
use crate::outcome::usage;
use anyhow::Context;
use metachron_core::reading::read_iso;
use metachron_core::rulings::{Clean, Rulings};
use metachron_core::stamp::Kind;
use metachron_core::verdict::to_kind;
use metachron_table::Table;
use std::collections::HashMap;
use std::path::Path;

/// What stands for "this cell says nothing".
const BLANK: &str = "blank";

/// What cells mean that a reviewer resolved, by their places.
#[derive(Debug, Default)]
pub struct Resolved {
    answers: HashMap<Place, Answer>,
}

/// A cell: its file, from 0; the line its row starts on; its column's place.
type Place = (usize, u64, usize);

/// What a reviewer says of a cell.
#[derive(Debug)]
struct Answer {
    raw: String,
    /// The clean text; nothing, of a blank.
    clean: Vec<u8>,
}

/// What becomes of a cell that a reviewer resolved.
pub enum Settled<'r> {
    /// Its clean text.
    Clean(&'r [u8]),
    /// It is blank.
    Blank,
    /// Its text has changed since.
    Changed,
}

impl Resolved {
    /// Reads the review list at `path`, filled in by a reviewer.
    ///
    /// What is filled in must be ISO 8601 of the column's kind, or `blank`.
    pub fn read(path: &Path, table: &Table, rulings: &Rulings) -> anyhow::Result<Resolved> {
        let name = path.display().to_string();
        let mut list = csv::Reader::from_path(path).with_context(|| name.clone())?;
        let header = list.headers().with_context(|| name.clone())?.clone();
        let place_of = |column: &str| {
            header.iter().position(|known| known == column).ok_or_else(|| {
                usage(format!(
                    "{name} has no column `{column}`; it must be a review list, as convert writes \
                     it, with its column `resolved` filled in"
                ))
            })
        };
        let wanted = ["file", "line", "column", "raw", "resolved"];
        let places: Vec<usize> = wanted.into_iter().map(place_of).collect::<Result<_, _>>()?;
        let mut answers = HashMap::new();
        for record in list.records() {
            let record = record.with_context(|| name.clone())?;
            let at = record.position().map_or(0, csv::Position::line);
            let cell = |number: usize| record.get(places[number]).unwrap_or("");
            let text = cell(4).trim();
            if text.is_empty() {
                continue;
            }
            let wrong = |why: String| usage(format!("{name}, line {at}: {why}"));
            let file = file_of(cell(0), table).ok_or_else(|| {
                wrong(format!(
                    "file `{}` is not among those that are converted",
                    cell(0)
                ))
            })?;
            let line: u64 = cell(1)
                .parse()
                .map_err(|_| wrong(format!("line `{}` is no number", cell(1))))?;
            let column = table
                .columns()
                .iter()
                .position(|column| column == cell(2))
                .ok_or_else(|| wrong(super::declared::no_such_column(cell(2), table.columns())))?;
            let ruling = rulings
                .column
                .get(cell(2))
                .ok_or_else(|| wrong(format!("column `{}` is not converted", cell(2))))?;
            let mut clean = ruling.write.clean(ruling.kind)?;
            let answer = Answer {
                raw: cell(3).to_owned(),
                clean: clean_text(text, ruling.kind, &mut clean)
                    .map_err(|why| wrong(format!("column `{}`: {why}", cell(2))))?,
            };
            if answers.insert((file, line, column), answer).is_some() {
                return Err(wrong("this cell is resolved twice".to_owned()));
            }
        }
        Ok(Resolved { answers })
    }

    /// How many cells a reviewer resolved.
    pub fn len(&self) -> u64 {
        self.answers.len() as u64
    }

    /// What becomes of the cell `raw`, if it was resolved.
    pub fn find(&self, place: Place, raw: &str) -> Option<Settled<'_>> {
        let answer = self.answers.get(&place)?;
        Some(match (answer.raw == raw, answer.clean.is_empty()) {
            (false, _) => Settled::Changed,
            (true, true) => Settled::Blank,
            (true, false) => Settled::Clean(&answer.clean),
        })
    }
}

/// The number of the table's file that a review list calls so: by its whole
/// name, else by its name without the folder, where one file alone has it.
fn file_of(name: &str, table: &Table) -> Option<usize> {
    let exact = table.sources().position(|source| source.name() == name);
    exact.or_else(|| {
        let alike = |source: &str| file_name(source) == file_name(name);
        let sources = table.sources().enumerate();
        let mut alike = sources.filter(|(_, source)| alike(source.name()));
        match (alike.next(), alike.next()) {
            (Some((place, _)), None) => Some(place),
            _ => None,
        }
    })
}

/// The clean text of what a reviewer wrote.
fn clean_text(text: &str, kind: Kind, clean: &mut Clean) -> Result<Vec<u8>, String> {
    let mut out = Vec::new();
    if text.eq_ignore_ascii_case(BLANK) {
        return Ok(out);
    }
    let stamp = read_iso(text).map_err(|why| format!("{why}, or `{BLANK}`"))?;
    // Midnight is put to a date; a time of day is not cut off.
    let put = to_kind(stamp, kind);
    if put.kind() != kind || to_kind(put, stamp.kind()) != stamp {
        return Err(format!(
            "`{text}` is a {}, and the column holds {kind}s",
            stamp.kind()
        ));
    }
    clean.write(put, &mut out).map_err(|why| why.to_string())?;
    Ok(out)
}
