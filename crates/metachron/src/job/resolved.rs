//! What a reviewer wrote into a review list, on the next run.

use super::around::file_name;
use crate::outcome::usage;
use anyhow::Context;
use metachron_core::derive::Derivations;
use metachron_core::phrase::{Number, Type, Value};
use metachron_core::reading::read_iso;
use metachron_core::rulings::{Clean, Rulings};
use metachron_core::stamp::{Kind, Stamp};
use metachron_core::verdict::to_kind;
use metachron_table::Table;
use std::collections::HashMap;
use std::path::Path;

/// What stands for a column in the review list where it cannot be told whether
/// a row is kept.
pub const KEEP: &str = "--where";

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
    value: Value,
    /// The clean text; nothing, of a blank.
    clean: Vec<u8>,
}

/// What becomes of a cell that a reviewer resolved.
pub enum Settled<'r> {
    /// It has this value, or is blank, and its clean text is this.
    Value(&'r Value, &'r [u8]),
    /// Its text has changed since.
    Changed,
}

impl Resolved {
    /// Reads the review list at `path`, filled in by a reviewer.
    ///
    /// What is filled in must be ISO 8601 of the column's kind, or `blank`.
    pub fn read(
        path: &Path,
        table: &Table,
        rulings: &Rulings,
        derivations: &Derivations,
    ) -> anyhow::Result<Resolved> {
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
            let named = |why: String| wrong(format!("column `{}`: {why}", cell(2)));
            let column = Column::find(cell(2), table, rulings, derivations)
                .map_err(|why| wrong(why.to_string()))?;
            let (value, clean) = column.value(text).map_err(named)?;
            let answer = Answer {
                raw: cell(3).to_owned(),
                value,
                clean,
            };
            let column = column.place;
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
        Some(match answer.raw == raw {
            true => Settled::Value(&answer.value, &answer.clean),
            false => Settled::Changed,
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

/// A column whose cells a reviewer can resolve.
struct Column {
    /// Its place; derived columns stand behind those of the table.
    place: usize,
    of: Type,
    clean: Clean,
}

impl Column {
    fn find(
        name: &str,
        table: &Table,
        rulings: &Rulings,
        derivations: &Derivations,
    ) -> anyhow::Result<Column> {
        let columns = table.columns();
        if let Some(place) = derivations.columns().position(|(known, _)| known == name) {
            let of = derivations.columns().nth(place).map(|(_, of)| of);
            return Ok(Column {
                place: columns.len() + place,
                of: of.unwrap_or(Type::Blank),
                clean: derivations.clean(place).clone(),
            });
        }
        if name == KEEP && derivations.keeps_some() {
            return Ok(Column {
                place: columns.len() + derivations.columns().len(),
                of: Type::Truth,
                clean: Clean::Iso,
            });
        }
        let place = columns.iter().position(|column| column == name);
        let place =
            place.ok_or_else(|| anyhow::anyhow!(super::declared::no_such_column(name, columns)))?;
        let ruling = rulings.column.get(name);
        let ruling = ruling.with_context(|| format!("column `{name}` is not converted"))?;
        Ok(Column {
            place,
            of: Type::Stamp(ruling.kind),
            clean: ruling.write.clean(ruling.kind)?,
        })
    }

    /// What a reviewer wrote, and its clean text.
    fn value(&self, text: &str) -> Result<(Value, Vec<u8>), String> {
        if text.eq_ignore_ascii_case(BLANK) {
            return Ok((Value::Blank, Vec::new()));
        }
        let value = match self.of {
            Type::Stamp(kind) => Value::Stamp(stamp_of(text, kind)?),
            Type::Number => {
                let number = Number::parse(text);
                Value::Number(number.ok_or_else(|| format!("`{text}` is no number"))?)
            }
            Type::Truth => Value::Truth(match text {
                "true" => true,
                "false" => false,
                _ => return Err(format!("`{text}` is neither `true` nor `false`")),
            }),
            Type::Text | Type::Cell | Type::Blank => Value::Text(text.into()),
        };
        let mut out = Vec::new();
        match &value {
            Value::Stamp(stamp) => {
                let mut clean = self.clean.clone();
                clean
                    .write(stamp, &mut out)
                    .map_err(|why| why.to_string())?;
            }
            Value::Number(number) => out.extend(number.to_string().bytes()),
            _ => out.extend(text.bytes()),
        }
        Ok((value, out))
    }
}

/// The stamp of `kind` that a reviewer wrote.
fn stamp_of(text: &str, kind: Kind) -> Result<Stamp, String> {
    let stamp = read_iso(text).map_err(|why| format!("{why}, or `{BLANK}`"))?;
    // Midnight is put to a date; a time of day is not cut off.
    let put = to_kind(stamp, kind);
    match put.kind() == kind && to_kind(put, stamp.kind()) == stamp {
        true => Ok(put),
        false => Err(format!(
            "`{text}` is a {}, and the column holds {kind}s",
            stamp.kind()
        )),
    }
}
