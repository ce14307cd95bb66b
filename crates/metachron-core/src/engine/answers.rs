//! What a reviewer wrote of cells that waited.

use crate::decide::to_kind;
use crate::derive::Derivations;
use crate::phrase::{Number, Type, Value};
use crate::reading::read_iso;
use crate::rulings::{Rulings, StampRenderer, WriteError};
use crate::stamp::{Kind, Stamp};
use std::collections::HashMap;

/// What stands for a column in the review list where it cannot be told whether
/// a row is kept.
pub const WHERE: &str = "--where";

/// What a reviewer writes for "this cell holds nothing".
const BLANK: &str = "blank";

/// What cells mean by the word of a reviewer.
///
/// ```
/// use metachron_core::engine::{Answers, CellAt};
/// use metachron_core::phrase::Value;
///
/// let mut answers = Answers::default();
/// let at = CellAt { file: 0, line: 2, column: 1 };
/// assert!(answers.add(at, "31/02/2024", Value::Blank));
/// assert_eq!(answers.len(), 1);
/// ```
#[derive(Clone, Debug, Default)]
pub struct Answers {
    answers: HashMap<CellAt, Answer>,
}

/// Where a cell stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct CellAt {
    /// Its file, from 0.
    pub file: usize,
    /// The line that its row starts on.
    pub line: u64,
    /// Its column; derived ones stand behind those of the table, and what
    /// tells whether a row is kept behind all.
    pub column: usize,
}

#[derive(Clone, Debug)]
struct Answer {
    /// What the cell said when it was answered.
    raw: String,
    value: Value,
}

/// What a reviewer said of a cell.
pub(super) enum Answered<'a> {
    /// That it has this value, or is blank.
    Value(&'a Value),
    /// Something, but the cell's text has changed since.
    Changed,
}

impl Answers {
    /// Takes an answer; says whether it is the first for that cell.
    pub fn add(&mut self, at: CellAt, raw: &str, value: Value) -> bool {
        let raw = raw.to_owned();
        self.answers.insert(at, Answer { raw, value }).is_none()
    }

    /// How many there are.
    pub fn len(&self) -> u64 {
        self.answers.len() as u64
    }

    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.answers.is_empty()
    }

    /// What was said of a cell, which now says `raw`.
    pub(super) fn find(&self, at: CellAt, raw: &str) -> Option<Answered<'_>> {
        let answer = self.answers.get(&at)?;
        let escaped = answer.raw.strip_prefix('\'');
        let is_escaped = escaped == Some(raw) && may_be_formula(raw);
        Some(if answer.raw == raw || is_escaped {
            Answered::Value(&answer.value)
        } else {
            Answered::Changed
        })
    }
}

/// Whether a spreadsheet may take a text for a formula, which it would compute when it
/// opens a file that holds it. An apostrophe before it makes it a text again.
pub fn may_be_formula(text: &str) -> bool {
    // OWASP, "CSV Injection": the signs, wide ones, and white space that is left out.
    text.starts_with(['=', '+', '-', '@', '\t', '\r', '＝', '＋', '－', '＠'])
}

/// A column whose cells a reviewer can answer for.
#[derive(Clone, Debug)]
pub struct AnswerColumn {
    /// Its index; see [`CellAt::column`].
    pub index: usize,
    of: Type,
    renderer: StampRenderer,
}

impl AnswerColumn {
    /// The column that a review list calls `name`; `None` where there is none
    /// that is converted or derived.
    ///
    /// # Errors
    ///
    /// Where it cannot be written as it is ruled.
    pub fn find(
        name: &str,
        columns: &[String],
        rulings: &Rulings,
        derivations: &Derivations,
    ) -> Result<Option<AnswerColumn>, WriteError> {
        let mut derived = derivations.columns().enumerate();
        if let Some((number, (_, of))) = derived.find(|(_, (known, _))| *known == name) {
            return Ok(Some(AnswerColumn {
                index: columns.len() + number,
                of,
                renderer: derivations.renderer(number).clone(),
            }));
        }
        if name == WHERE && derivations.keeps_some() {
            return Ok(Some(AnswerColumn {
                index: columns.len() + derivations.columns().len(),
                of: Type::Truth,
                renderer: StampRenderer::Iso,
            }));
        }
        let index = columns.iter().position(|column| column == name);
        let (Some(index), Some(ruling)) = (index, rulings.column.get(name)) else {
            return Ok(None);
        };
        Ok(Some(AnswerColumn {
            index,
            of: Type::Stamp(ruling.kind),
            renderer: ruling.write.renderer(ruling.kind)?,
        }))
    }

    /// What a reviewer wrote: ISO 8601 of the column's kind, or `blank`.
    ///
    /// # Errors
    ///
    /// Where it is neither, in words.
    pub fn value(&self, text: &str) -> Result<Value, String> {
        if text.eq_ignore_ascii_case(BLANK) {
            return Ok(Value::Blank);
        }
        Ok(match self.of {
            Type::Stamp(kind) => {
                let stamp = stamp_of(text, kind)?;
                let written = self.renderer.clone().cell(&stamp, &mut Vec::new());
                written.map_err(|why| why.to_string())?;
                Value::Stamp(stamp)
            }
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
        })
    }
}

/// The stamp of `kind` that a reviewer wrote.
fn stamp_of(text: &str, kind: Kind) -> Result<Stamp, String> {
    let stamp = read_iso(text).map_err(|why| format!("{why}, or `{BLANK}`"))?;
    // Midnight is put to a date; a time of day is not cut off.
    let put = to_kind(stamp, kind);
    if put.kind() == kind && to_kind(put, stamp.kind()) == stamp {
        return Ok(put);
    }
    Err(format!(
        "`{text}` is a {}, and the column holds {kind}s",
        stamp.kind()
    ))
}
