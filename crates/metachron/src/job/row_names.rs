//! Rows of a table as rows of its files.

use super::Job;
use metachron_core::engine::Surveyed;
use std::path::Path;

/// Where the rows of each file begin in the table.
#[derive(Clone, Debug, Default)]
pub struct RowNames {
    files: Vec<(String, u64)>,
}

impl RowNames {
    /// The indexes of a table that was surveyed.
    pub fn of_table(job: &Job<'_>, surveyed: &Surveyed) -> RowNames {
        let names = job.table.sources().map(|source| source.name());
        RowNames::new(names.zip(surveyed.rows_by_file.iter().copied()))
    }

    /// The indexes of a table of files with so many rows each.
    fn new<'f>(files: impl IntoIterator<Item = (&'f str, u64)>) -> RowNames {
        let mut start = 0;
        let files = files.into_iter().map(|(name, rows)| {
            let first = start;
            start += rows;
            (name.to_owned(), first)
        });
        RowNames {
            files: files.collect(),
        }
    }

    /// `row 18`, or `riga.csv row 18` where there are several files. `row`
    /// counts from 0 over the whole table.
    pub fn of(&self, row: u64) -> String {
        let file = self.files.iter().rev().find(|(_, first)| *first <= row);
        match (self.files.len(), file) {
            (2.., Some((name, first))) => {
                let short = Path::new(name)
                    .file_name()
                    .map(|name| name.to_string_lossy());
                let name = short.as_deref().unwrap_or(name);
                format!("{name} row {}", row - first + 1)
            }
            _ => format!("row {}", row + 1),
        }
    }
}
