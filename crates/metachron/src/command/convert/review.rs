//! The review list.

use crate::input_file::Lines;
use crate::job::Job;
use crate::outcome::usage;
use crate::output::{Allowed, Complete, Output};
use anyhow::Context;
use metachron_core::engine::{ConvertedRows, may_be_formula};
use metachron_core::rulings::Rulings;
use std::fs::{self, File};
use std::io::{self, Read};
use std::path::{Path, PathBuf};

/// The columns of a review list.
const REVIEW_HEADER: [&str; 9] = [
    "file", "row", "line", "column", "raw", "verdict", "reason", "readings", "resolved",
];

/// The review list, opened when there is something to put in it.
pub struct Review {
    path: Option<PathBuf>,
    allowed: Allowed,
    /// Whether texts that a spreadsheet would compute are made plain.
    escape_formulas: bool,
    list: Option<csv::Writer<Output>>,
}

impl Review {
    /// A list that goes to `path`, if it goes anywhere, and allows no more than `allowed`.
    ///
    /// A list that a reviewer has written into is not written over.
    pub fn new(
        path: Option<PathBuf>,
        allowed: Allowed,
        escape_formulas: bool,
    ) -> anyhow::Result<Review> {
        let answered = path.as_ref().map_or(Ok(false), |path| has_answers(path));
        let shown = || {
            path.as_ref()
                .map_or(String::new(), |path| path.display().to_string())
        };
        if answered.with_context(shown)? {
            return Err(usage(format!(
                "{} holds answers in its column `resolved`, or what cannot be read, and is not \
                 written over; take them with --resolved {0}, and name another list with --review",
                shown()
            )));
        }
        Ok(Review {
            path,
            allowed,
            escape_formulas,
            list: None,
        })
    }

    /// Lists the cells of `block`, before which its file had `rows` rows.
    pub fn add(
        &mut self,
        block: &ConvertedRows,
        job: &Job<'_>,
        rulings: &Rulings,
        rows: u64,
    ) -> anyhow::Result<()> {
        let (Some(path), false) = (&self.path, block.review.is_empty()) else {
            return Ok(());
        };
        let list = match &mut self.list {
            Some(list) => list,
            None => {
                let mut list = csv::Writer::from_writer(Output::file(path, self.allowed)?);
                list.write_record(REVIEW_HEADER)?;
                self.list.insert(list)
            }
        };
        let file = job
            .table
            .sources()
            .nth(block.at.file)
            .map_or("", |s| s.name());
        let plain = |text: &'_ str| -> String {
            let is_formula = self.escape_formulas && may_be_formula(text);
            format!("{}{text}", if is_formula { "'" } else { "" })
        };
        for entry in &block.review {
            list.write_record([
                &plain(file),
                &(rows + entry.row + 1).to_string(),
                &entry.line.to_string(),
                &plain(job.column_name(entry.column, rulings)),
                &plain(&entry.raw),
                entry.decision.verdict.name(),
                &plain(&entry.decision.sentence()),
                &plain(&entry.decision.readings().join("; ")),
                // For the reviewer: see --resolved.
                "",
            ])
            .with_context(|| format!("cannot write {}", path.display()))?;
        }
        Ok(())
    }

    /// Writes what is left of the list, if there is something on it.
    pub fn complete(self) -> anyhow::Result<Option<Complete>> {
        let (Some(list), Some(path)) = (self.list, &self.path) else {
            return Ok(None);
        };
        let output = list
            .into_inner()
            .map_err(|error| error.into_error())
            .with_context(|| format!("cannot write {}", path.display()))?;
        Ok(Some(output.complete()?))
    }
}

/// The file at `path`, if it is one: a device may be read without end, and a pipe holds
/// nothing yet.
fn file_at(path: &Path) -> io::Result<Option<Lines>> {
    match fs::metadata(path) {
        Ok(meta) if meta.is_file() => Ok(Some(Lines::from(File::open(path)?))),
        Err(error) if error.kind() != io::ErrorKind::NotFound => Err(error),
        _ => Ok(None),
    }
}

/// Whether the file at `path` is a review list that somebody wrote into. One that the
/// system cannot read may be, and is an error.
fn has_answers(path: &Path) -> io::Result<bool> {
    let Some(list) = file_at(path)? else {
        return Ok(false);
    };
    let mut list = list.records()?;
    let header = if_text(list.headers())?;
    if !header.is_some_and(|header| header.iter().eq(REVIEW_HEADER)) {
        return Ok(false);
    }
    for record in list.records() {
        // What is no text may be an answer: spreadsheets save lists in other encodings.
        let record = if_text(record)?;
        let answer = record
            .as_ref()
            .map(|record| record.get(REVIEW_HEADER.len() - 1));
        if answer.is_none_or(|answer| answer.is_some_and(|answer| !answer.trim().is_empty())) {
            return Ok(true);
        }
    }
    Ok(false)
}

/// What was read; `None` where it is no text.
fn if_text<T>(read: csv::Result<T>) -> io::Result<Option<T>> {
    let other = |error: csv::Error| match error.into_kind() {
        csv::ErrorKind::Io(error) => Err(error),
        _ => Ok(None),
    };
    read.map(Some).or_else(other)
}

/// Whether the file at `path` is a review list.
pub fn is_review_list(path: &Path) -> io::Result<bool> {
    let header = REVIEW_HEADER.join(",");
    let mut start = Vec::new();
    if let Some(list) = file_at(path)? {
        list.take(header.len() as u64).read_to_end(&mut start)?;
    }
    Ok(start == header.as_bytes())
}
