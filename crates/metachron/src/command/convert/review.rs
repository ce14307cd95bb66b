//! The review list.

use crate::job::{Converted, Job};
use crate::output::Output;
use anyhow::Context;
use std::path::{Path, PathBuf};

/// The columns of a review list.
const REVIEW_HEADER: [&str; 8] = [
    "file", "row", "line", "column", "raw", "verdict", "reason", "readings",
];

/// The review list, opened when there is something to put in it.
pub struct Review {
    path: Option<PathBuf>,
    list: Option<csv::Writer<Output>>,
}

impl Review {
    /// A list that goes to `path`, if it goes anywhere.
    pub fn new(path: Option<PathBuf>) -> Review {
        Review { path, list: None }
    }

    /// Lists the cells of `block`, before which its file had `rows` rows.
    pub fn add(&mut self, block: &Converted, job: &Job<'_>, rows: u64) -> anyhow::Result<()> {
        let (Some(path), false) = (&self.path, block.review.is_empty()) else {
            return Ok(());
        };
        let list = match &mut self.list {
            Some(list) => list,
            None => {
                let mut list = csv::Writer::from_writer(Output::file(path)?);
                list.write_record(REVIEW_HEADER)?;
                self.list.insert(list)
            }
        };
        let file = job
            .table
            .sources()
            .nth(block.source)
            .map_or("", |s| s.name());
        for entry in &block.review {
            list.write_record([
                file,
                &(rows + entry.row + 1).to_string(),
                &entry.line.to_string(),
                &job.table.columns()[entry.column],
                &entry.raw,
                entry.note.verdict.name(),
                &entry.note.reason,
                &entry.note.readings.join("; "),
            ])
            .with_context(|| format!("cannot write {}", path.display()))?;
        }
        Ok(())
    }

    /// Puts the list in its place, or removes the one of an earlier run.
    pub fn finish(self) -> anyhow::Result<()> {
        match (self.list, &self.path) {
            (Some(list), Some(path)) => {
                let output = list
                    .into_inner()
                    .map_err(|error| error.into_error())
                    .with_context(|| format!("cannot write {}", path.display()))?;
                output.finish()
            }
            (None, Some(path)) if is_review_list(path) => std::fs::remove_file(path)
                .with_context(|| format!("cannot remove {}, which is out of date", path.display())),
            _ => Ok(()),
        }
    }
}

fn is_review_list(path: &Path) -> bool {
    let header = REVIEW_HEADER.join(",");
    std::fs::read(path).is_ok_and(|bytes| bytes.starts_with(header.as_bytes()))
}
