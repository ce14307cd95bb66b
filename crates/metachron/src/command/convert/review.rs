//! The review list.

use crate::input_file::Lines;
use crate::job::Job;
use crate::outcome::usage;
use crate::output::{Allowed, Complete, Output};
use anyhow::Context;
use metachron_core::engine::{ConvertedRows, may_be_formula};
use metachron_core::rulings::Rulings;
use std::fs::{self, File};
use std::io::Read;
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
        if let Some(path) = path.as_ref().filter(|path| has_answers(path)) {
            return Err(usage(format!(
                "{} holds answers in its column `resolved`, or what cannot be read, and is not \
                 written over; take them with --resolved {0}, and name another list with --review",
                path.display()
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
fn file_at(path: &Path) -> Option<Lines> {
    let is_file = fs::metadata(path).is_ok_and(|meta| meta.is_file());
    let file = is_file.then(|| File::open(path).ok()).flatten()?;
    Some(Lines::from(file))
}

/// Whether the file at `path` is a review list that somebody wrote into.
fn has_answers(path: &Path) -> bool {
    let Some(Ok(mut list)) = file_at(path).map(Lines::records) else {
        return false;
    };
    let is_ours = |header: &csv::StringRecord| header.iter().eq(REVIEW_HEADER);
    // What cannot be read may be an answer: spreadsheets save lists in other encodings.
    let filled = |record: csv::Result<csv::StringRecord>| {
        record.map_or(true, |record| {
            let answer = record.get(REVIEW_HEADER.len() - 1);
            answer.is_some_and(|answer| !answer.trim().is_empty())
        })
    };
    list.headers().is_ok_and(is_ours) && list.records().any(filled)
}

/// Whether the file at `path` is a review list.
pub fn is_review_list(path: &Path) -> bool {
    let header = REVIEW_HEADER.join(",");
    let mut start = Vec::new();
    file_at(path).is_some_and(|list| {
        let read = list.take(header.len() as u64).read_to_end(&mut start);
        read.is_ok() && start == header.as_bytes()
    })
}
