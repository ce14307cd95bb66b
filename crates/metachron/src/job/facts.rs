//! How the table was read, as JSON. See docs/json.md.

use super::Job;
use metachron_core::engine::Ragged;
use serde::Serialize;

/// How the table was read.
#[derive(Serialize)]
pub struct TableFacts {
    files: Vec<FileFacts>,
    rows: u64,
    encoding: &'static str,
    delimiter: String,
    sheet: Option<String>,
    sheets: Vec<String>,
    header_line: Option<u64>,
    notes: Vec<String>,
    remarks: Vec<String>,
    ragged: Ragged,
}

#[derive(Serialize)]
struct FileFacts {
    file: String,
    rows: u64,
}

impl TableFacts {
    /// The facts of the job's table, of which each file has so many rows.
    pub fn new(job: &Job<'_>, rows_by_file: &[u64], ragged: Ragged) -> TableFacts {
        let header = job.table.header();
        let files = job.table.sources().zip(rows_by_file);
        TableFacts {
            files: files
                .map(|(source, &rows)| FileFacts {
                    file: source.name().to_owned(),
                    rows,
                })
                .collect(),
            rows: rows_by_file.iter().sum(),
            encoding: job.table.encoding().name(),
            delimiter: char::from(job.table.dialect().delimiter).to_string(),
            sheet: job.table.sheet().map(|sheet| sheet.name.to_owned()),
            sheets: job.table.sheet().map_or_else(Vec::new, |sheet| {
                sheet.all.iter().map(|one| one.name.clone()).collect()
            }),
            header_line: header.line,
            notes: header.notes.clone(),
            remarks: header.remarks.clone(),
            ragged,
        }
    }
}
