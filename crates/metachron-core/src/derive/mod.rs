//! Columns that are made from others, and the rows that are kept.
//!
//! ```
//! use metachron_core::derive::{Derivations, DeriveRequest, Given};
//! use metachron_core::phrase::Value;
//! use metachron_core::row::OutCell;
//! use metachron_core::rulings::Rulings;
//! use metachron_core::stamp::Stamp;
//!
//! let rulings = Rulings::from_toml(
//!     r#"
//!     metachron = 1
//!     [column.due]
//!     kind = "date"
//!     [[derive]]
//!     name = "reminder"
//!     value = "due - n days"
//!     "#,
//! )?;
//! let columns = ["due".to_owned(), "n".to_owned()];
//! let mut derivations = Derivations::new(&DeriveRequest {
//!     rulings: &rulings,
//!     columns: &columns,
//!     keep: None,
//!     also: &[],
//!     now: "2026-11-24T12:00:00Z".parse().unwrap(),
//!     shown: Default::default(),
//! })?;
//! assert_eq!(derivations.sources(), ["due", "n"]);
//!
//! let due = Value::Stamp(Stamp::Date(jiff::civil::date(2024, 3, 1)));
//! let mut values = [due, Value::Text("3".into()), Value::Blank];
//! let given = derivations.run(0, &mut values, &[], &mut Vec::new())?;
//! let reminder = Stamp::Date(jiff::civil::date(2024, 2, 27));
//! assert_eq!(given, Given::Value(OutCell::Stamp(reminder)));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod error;
mod memo;
mod order;

pub(crate) use error::CannotDerive;
pub use error::DeriveError;

use crate::form::Unwritable;
use crate::phrase::{Phrase, Ready, Refusal, Row, RowScope, Scope, Track, Type, Value};
use crate::row::{OutCell, push_text};
use crate::rulings::{DeriveRuling, Rulings, StampRenderer, ZoneAs};
use crate::stamp::{Kind, Stamp};
use crate::words::no_column;
use crate::zone::Zone;
use jiff::Timestamp;
use jiff::civil::Date;
use memo::Memo;
use std::sync::Arc;

/// What is to be derived.
pub struct DeriveRequest<'w> {
    /// The rulings, with what they derive.
    pub rulings: &'w Rulings,
    /// The columns of the table.
    pub columns: &'w [String],
    /// What holds of the rows that are kept.
    pub keep: Option<&'w Phrase>,
    /// Columns whose values are wanted besides those that phrases name.
    pub also: &'w [String],
    /// What counts as now.
    pub now: Timestamp,
    /// How instants are shown whose ruling says nothing of it.
    pub shown: Shown,
}

/// How instants are shown.
#[derive(Clone, Debug, Default)]
pub struct Shown {
    /// The zone, instead of UTC.
    pub zone: Option<Zone>,
    /// How it is told. A derived column has no column next to it that could.
    pub zone_as: ZoneAs,
}

/// The columns that are derived, made ready.
#[derive(Clone, Debug)]
pub struct Derivations {
    sources: Vec<String>,
    /// How the cells of each source without a ruling are used.
    cell_use: Vec<CellUse>,
    derived: Vec<Derived>,
    keep: Option<Keep>,
    tracked: Vec<usize>,
}

/// What holds of the rows that are kept.
#[derive(Clone, Debug)]
struct Keep {
    ready: Ready,
    made_from: Vec<usize>,
}

#[derive(Clone, Debug)]
struct Derived {
    name: String,
    ready: Ready,
    renderer: StampRenderer,
    /// The places among a row's values of the columns that it names.
    made_from: Vec<usize>,
    /// The index of the column of dates that alone decides on the value, of
    /// which nothing but the text is wanted.
    by_day: Option<usize>,
    memo: Memo,
}

/// How the cells of a column without a ruling are used.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CellUse {
    /// Their text.
    Text,
    /// The number that they are; their text, where they are none.
    Number,
}

/// What a phrase gives for a cell.
#[derive(Clone, Debug, PartialEq)]
pub enum Given {
    /// A value, as this cell.
    Value(OutCell),
    /// None: it is made from blank cells.
    Blank,
    /// None yet: it is made from cells that wait for a person.
    Waits,
}

/// Whether a row is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kept {
    /// It is.
    Yes,
    /// It is not.
    No,
    /// It is not, because a cell that would tell is blank or waits for a
    /// person.
    Untold,
}

impl Derivations {
    /// Makes ready what `wanted` says.
    ///
    /// # Errors
    ///
    /// Where a phrase names what there is not, makes of values what they
    /// cannot be, or where derived columns need each other in a circle.
    pub fn new(wanted: &DeriveRequest<'_>) -> Result<Derivations, DeriveError> {
        let rulings = &wanted.rulings.derive;
        order::check(rulings, wanted.columns)?;
        let names: Vec<&str> = rulings.iter().map(|derive| derive.name.as_str()).collect();
        let phrases = rulings
            .iter()
            .map(|derive| &derive.value)
            .chain(wanted.keep);
        let mut sources: Vec<String> = Vec::new();
        let mut add = |name: &str| {
            let is_source = wanted.columns.iter().any(|column| column == name);
            if is_source && !sources.iter().any(|known| known == name) {
                sources.push(name.to_owned());
            }
        };
        for phrase in phrases {
            phrase.columns().into_iter().for_each(|(name, _)| add(name));
        }
        wanted.also.iter().for_each(|name| add(name));

        let mut known: Vec<(String, Type)> = Vec::with_capacity(sources.len() + rulings.len());
        for name in &sources {
            let ruling = wanted.rulings.column.get(name);
            let of = ruling.map_or(Type::Cell, |ruling| Type::Stamp(ruling.kind));
            known.push((name.clone(), of));
        }
        let zones = Arc::new(wanted.rulings.zones.clone());
        let mut tracked = Vec::new();
        let mut check = |phrase: &Phrase, known: &[(String, Type)]| {
            let find = |name: &str| match known.iter().position(|(column, _)| column == name) {
                Some(index) => Ok((index, known[index].1)),
                None => {
                    let columns = wanted.columns.iter().map(String::as_str);
                    Err(no_column(name, columns.chain(names.iter().copied())))
                }
            };
            let scope = Scope {
                column: &find,
                zones: zones.clone(),
                now: wanted.now,
            };
            phrase.check(&scope, &mut tracked)
        };
        let mut derived: Vec<Derived> = Vec::with_capacity(rulings.len());
        for (index, ruling) in rulings.iter().enumerate() {
            let ready =
                check(&ruling.value, &known).map_err(|why| error::of(ruling, why.into()))?;
            known.push((ruling.name.clone(), ready.of()));
            let renderer = renderer(ruling, ready.of(), &wanted.shown)
                .map_err(|why| error::of(ruling, why))?;
            let made_from = indexes_of(&ruling.value, &known);
            let later = rulings[index + 1..].iter().map(|later| &later.value);
            let mut named = later.chain(wanted.keep).flat_map(Phrase::columns);
            let is_wanted =
                named.any(|(name, _)| *name == ruling.name) || wanted.also.contains(&ruling.name);
            derived.push(Derived {
                by_day: match made_from[..] {
                    [one] if !is_wanted && ready.row_scope() == RowScope::NoOthers => {
                        (known[one].1 == Type::Stamp(Kind::Date)).then_some(one)
                    }
                    _ => None,
                },
                memo: Memo::default(),
                name: ruling.name.clone(),
                ready,
                renderer,
                made_from,
            });
        }
        let keep = match wanted.keep {
            Some(phrase) => {
                let ready = check(phrase, &known).map_err(error::of_keep)?;
                if ready.of() != Type::Truth {
                    let message = format!(
                        "rows are kept by a test, such as `due < 2025-01-01`, and this is {}",
                        ready.of()
                    );
                    return Err(error::of_keep(phrase.error(phrase.span(), message)));
                }
                Some(Keep {
                    ready,
                    made_from: indexes_of(phrase, &known),
                })
            }
            None => None,
        };
        let phrases = derived.iter().map(|derived| &derived.ready);
        let phrases: Vec<&Ready> = phrases.chain(keep.iter().map(|keep| &keep.ready)).collect();
        let cell_use = sources.iter().enumerate().map(|(slot, name)| {
            let is_text = |phrase: &&Ready| phrase.wants_text(slot);
            if wanted.also.contains(name) || phrases.iter().any(is_text) {
                CellUse::Text
            } else {
                CellUse::Number
            }
        });
        let derivations = Derivations {
            cell_use: cell_use.collect(),
            sources,
            derived,
            keep,
            tracked,
        };
        derivations.check_tracked(rulings)?;
        Ok(derivations)
    }

    /// A column whose other rows are asked for must not itself need other
    /// rows: that would take another pass for each.
    fn check_tracked(&self, rulings: &[DeriveRuling]) -> Result<(), DeriveError> {
        let first = self.sources.len();
        let mut by_rows = vec![false; self.derived.len()];
        for (index, derived) in self.derived.iter().enumerate() {
            let is_by_rows = |slot: &usize| *slot >= first && by_rows[*slot - first];
            by_rows[index] = derived.ready.row_scope() > RowScope::NoOthers
                || derived.made_from.iter().any(is_by_rows);
        }
        for &slot in self.tracked.iter().filter(|slot| **slot >= first) {
            if by_rows[slot - first] {
                let why = CannotDerive::ByRows(rulings[slot - first].name.clone());
                return Err(error::of(&rulings[slot - first], why));
            }
        }
        Ok(())
    }

    /// Nothing to do.
    pub fn none() -> Derivations {
        Derivations {
            sources: Vec::new(),
            cell_use: Vec::new(),
            derived: Vec::new(),
            keep: None,
            tracked: Vec::new(),
        }
    }

    /// Whether there is nothing to do.
    pub fn is_nothing(&self) -> bool {
        self.derived.is_empty() && self.keep.is_none() && self.sources.is_empty()
    }

    /// Whether some rows may be left out.
    pub fn keeps_some(&self) -> bool {
        self.keep.is_some()
    }

    /// The columns of the table whose values are needed, in the order that
    /// [`Derivations::run`] wants them.
    pub fn sources(&self) -> &[String] {
        &self.sources
    }

    /// How a source's cells are used, if no ruling reads them.
    pub fn cell_use(&self, source: usize) -> CellUse {
        self.cell_use[source]
    }

    /// The derived columns, and the type of each.
    pub fn columns(&self) -> impl ExactSizeIterator<Item = (&str, Type)> {
        self.derived
            .iter()
            .map(|derived| (derived.name.as_str(), derived.ready.of()))
    }

    /// How stamps of a derived column are written.
    pub fn renderer(&self, derived: usize) -> &StampRenderer {
        &self.derived[derived].renderer
    }

    /// The index of a column among the values of a row, if it is there.
    pub fn index(&self, name: &str) -> Option<usize> {
        let derived = self.derived.iter().map(|derived| &derived.name);
        let mut all = self.sources.iter().chain(derived);
        all.position(|known| known == name)
    }

    /// Which other rows are asked.
    pub fn row_scope(&self) -> RowScope {
        let keep = self.keep.iter().map(|keep| keep.ready.row_scope());
        let derived = self.derived.iter().map(|derived| derived.ready.row_scope());
        keep.chain(derived).max().unwrap_or(RowScope::NoOthers)
    }

    /// How many columns have to be tracked from row to row.
    pub fn tracks(&self) -> usize {
        self.tracked.len()
    }

    /// Which columns those that are tracked are made from, themselves among
    /// them: sources, then derived ones.
    pub fn tracked(&self) -> Vec<bool> {
        let first = self.sources.len();
        let mut tracked = vec![false; first + self.derived.len()];
        for &slot in &self.tracked {
            tracked[slot] = true;
        }
        // A derived column is made from such as stand before it.
        for (index, derived) in self.derived.iter().enumerate().rev() {
            if tracked[first + index] {
                derived
                    .made_from
                    .iter()
                    .for_each(|&slot| tracked[slot] = true);
            }
        }
        tracked
    }

    /// Puts the value of a derived column among the `values` of a row: those of
    /// its sources, and behind them of the derived columns; or only says
    /// whether there is one, where nothing else is made from it. Its clean text
    /// is appended to `out`.
    ///
    /// # Errors
    ///
    /// Where it has no value, although no cell that it needs is blank, or
    /// where its form cannot write it; `out` is then as it was, and what
    /// stands at its place says nothing.
    #[inline]
    pub fn run(
        &mut self,
        derived: usize,
        values: &mut [Value],
        tracks: &[Track],
        out: &mut Vec<u8>,
    ) -> Result<Given, Box<Refusal>> {
        let (slots, rest) = values.split_at_mut(self.sources.len() + derived);
        let (row, value) = (Row { slots, tracks }, &mut rest[0]);
        let derived = &mut self.derived[derived];
        match derived.by_day.map(|slot| &slots[slot]) {
            Some(Value::Stamp(Stamp::Date(day))) => derived.run_by_day(*day, row, value, out),
            _ => derived.run(row, value, out),
        }
    }

    /// Whether the row of these values is kept.
    ///
    /// # Errors
    ///
    /// Where the test has no result, although no cell that it needs is blank.
    pub fn keeps(&mut self, values: &[Value], tracks: &[Track]) -> Result<Kept, Box<Refusal>> {
        let Some(keep) = &mut self.keep else {
            return Ok(Kept::Yes);
        };
        let row = Row {
            slots: values,
            tracks,
        };
        Ok(match keep.ready.run(row)? {
            Value::Truth(true) => Kept::Yes,
            Value::Truth(false) => Kept::No,
            _ => Kept::Untold,
        })
    }

    /// Takes the row of these values into what later rows ask of it.
    #[inline]
    pub fn track(&self, values: &[Value], tracks: &mut [Track]) {
        for (track, slot) in tracks.iter_mut().zip(&self.tracked) {
            track.pass(&values[*slot]);
        }
    }

    /// What a derived value is made from, in words: `due 2024-01-31, n 3`.
    pub fn made_from(&self, derived: usize, values: &[Value]) -> String {
        self.in_words(&self.derived[derived].made_from, values)
    }

    /// What tells whether a row is kept, in the same words.
    pub fn kept_by(&self, values: &[Value]) -> String {
        let keep = self.keep.as_ref();
        self.in_words(keep.map_or(&[], |keep| &keep.made_from), values)
    }

    fn in_words(&self, indexes: &[usize], values: &[Value]) -> String {
        let name = |slot: usize| match slot.checked_sub(self.sources.len()) {
            Some(derived) => &self.derived[derived].name,
            None => &self.sources[slot],
        };
        let parts = indexes.iter().map(|&slot| {
            let text = match &values[slot] {
                Value::Blank | Value::Waits => String::new(),
                Value::Text(text) => text.to_string(),
                Value::Number(number) => number.to_string(),
                Value::Truth(truth) => truth.to_string(),
                Value::Stamp(stamp) => stamp.to_string(),
            };
            format!("{} {text}", name(slot))
        });
        parts.collect::<Vec<_>>().join(", ")
    }
}

impl Derived {
    #[inline]
    fn run(
        &mut self,
        row: Row<'_>,
        value: &mut Value,
        out: &mut Vec<u8>,
    ) -> Result<Given, Box<Refusal>> {
        self.ready.put(row, value)?;
        Ok(write(value, &mut self.renderer, out).map_err(Refusal::from)?)
    }

    fn run_by_day(
        &mut self,
        day: Date,
        row: Row<'_>,
        value: &mut Value,
        out: &mut Vec<u8>,
    ) -> Result<Given, Box<Refusal>> {
        if let Some(given) = self.memo.get(day, out) {
            return Ok(given);
        }
        let given = self.run(row, value, out)?;
        self.memo.put(day, &given, out);
        Ok(given)
    }
}

/// What a derived value is as a cell; its text is appended to `text`, unless
/// it is a stamp.
#[inline]
fn write(
    value: &Value,
    renderer: &mut StampRenderer,
    text: &mut Vec<u8>,
) -> Result<Given, Unwritable> {
    Ok(Given::Value(match value {
        Value::Blank => return Ok(Given::Blank),
        Value::Waits => return Ok(Given::Waits),
        Value::Text(own) => OutCell::Text(push_text(text, |out| {
            out.extend_from_slice(own.as_bytes());
        })),
        Value::Stamp(stamp) => renderer.cell(stamp, text)?,
        Value::Number(number) => OutCell::Number(push_text(text, |out| number.write(out))),
        Value::Truth(truth) => OutCell::Boolean(*truth),
    }))
}

/// The places among `known` of the columns that `phrase` names.
fn indexes_of(phrase: &Phrase, known: &[(String, Type)]) -> Vec<usize> {
    let mut indexes = Vec::new();
    for (name, _) in phrase.columns() {
        let index = known.iter().position(|(known, _)| known == name);
        indexes.extend(index.filter(|index| !indexes.contains(index)));
    }
    indexes
}

/// How values of a derived column are written.
fn renderer(ruling: &DeriveRuling, of: Type, shown: &Shown) -> Result<StampRenderer, CannotDerive> {
    let mut write = ruling.write.clone();
    if write.name.is_some() {
        return Err(CannotDerive::Renamed);
    }
    if write.zone_as == ZoneAs::Column {
        return Err(CannotDerive::ZoneColumn);
    }
    if of == Type::Stamp(Kind::Instant) && write.is_iso() {
        write.zone = shown.zone.clone();
        if shown.zone_as != ZoneAs::Column {
            write.zone_as = shown.zone_as;
        }
    }
    match of {
        Type::Stamp(kind) => Ok(write.renderer(kind)?),
        _ if !write.is_iso() => Err(CannotDerive::NotWritten(of)),
        _ => Ok(StampRenderer::Iso),
    }
}

#[cfg(test)]
mod tests;
