//! The review list.

use crate::job::Job;
use crate::job::review_list::{REVIEW_COLUMNS, has_answers};
use crate::outcome::usage;
use crate::output::{Allowed, Complete, Output};
use anyhow::Context;
use metachron_core::engine::{ConvertedRows, may_be_formula};
use metachron_core::rulings::Rulings;
use std::path::PathBuf;

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
