//! The review list.

use crate::job::Job;
use crate::job::review_list::{NoReviewList, REVIEW_COLUMNS, ReviewList};
use crate::outcome::usage;
use crate::output::{Allowed, Complete, Output};
use anyhow::Context;
use metachron_core::engine::{ConvertedRows, may_be_formula};
use metachron_core::rulings::Rulings;
use metachron_table::{Source, TableError};
use std::fs::{self, File};
use std::io::{self, Read};
use std::ops::ControlFlow;
use std::path::{Path, PathBuf};

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
                list.write_record(REVIEW_COLUMNS)?;
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

/// Whether there is a file at `path`: a device may be read without end, and a pipe holds
/// nothing yet.
fn is_file(path: &Path) -> io::Result<bool> {
    match fs::metadata(path) {
        Err(error) if error.kind() != io::ErrorKind::NotFound => Err(error),
        meta => Ok(meta.is_ok_and(|meta| meta.is_file())),
    }
}

/// Whether the file at `path` is a review list that somebody wrote into. One that the
/// system cannot read may be, and is an error.
fn has_answers(path: &Path) -> anyhow::Result<bool> {
    match is_file(path)?.then(|| find_answer(path)) {
        None => Ok(false),
        // Another run has put nothing in its place meanwhile.
        Some(Err(TableError::Io { cause, .. })) if cause.kind() == io::ErrorKind::NotFound => {
            Ok(false)
        }
        Some(found) => Ok(found?),
    }
}

fn find_answer(path: &Path) -> Result<bool, TableError> {
    let list = match ReviewList::open(Source::file(path)?) {
        Ok(list) if list.is_as_written() => list,
        Err(NoReviewList::Table(error @ TableError::Io { .. })) => return Err(error),
        Ok(_) | Err(_) => return Ok(false),
    };
    match list.for_each_answer(|_| ControlFlow::Break(())) {
        Err(error @ TableError::Io { .. }) => Err(error),
        // What cannot be read may be an answer.
        found => Ok(found.map_or(true, |found| found.is_break())),
    }
}

/// Whether the file at `path` is a review list.
pub fn is_review_list(path: &Path) -> io::Result<bool> {
    if !is_file(path)? {
        return Ok(false);
    }
    let header = REVIEW_COLUMNS.join(",");
    let mut start = Vec::new();
    let read = File::open(path).and_then(|file| {
        let start = file.take(header.len() as u64).read_to_end(&mut start);
        start.map(|_| ())
    });
    match read {
        // Another run has put nothing in its place meanwhile.
        Err(error) if error.kind() == io::ErrorKind::NotFound => Ok(false),
        read => read.map(|()| start == header.as_bytes()),
    }
}
