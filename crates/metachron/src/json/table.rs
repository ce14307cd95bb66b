//! How the table was read.

use crate::job::Job;
use metachron_core::engine;
use serde::Serialize;

/// How the table was read.
#[derive(Serialize)]
pub struct Table {
    files: Vec<File>,
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

/// Rows that are shorter or longer than the header.
#[derive(Serialize)]
struct Ragged {
    rows: u64,
    first: Vec<RaggedRow>,
}

#[derive(Serialize)]
struct RaggedRow {
    file: usize,
    line: u64,
    cells: usize,
}

#[derive(Serialize)]
struct File {
    file: String,
    rows: u64,
}

impl Table {
    /// The facts of the job's table, of which each file has so many rows.
    pub fn new(job: &Job<'_>, rows_by_file: &[u64], ragged: &engine::Ragged) -> Table {
        let header = job.table.header();
        let files = job.table.sources().zip(rows_by_file);
        Table {
            files: files
                .map(|(source, &rows)| File {
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
            ragged: Ragged {
                rows: ragged.rows,
                first: ragged
                    .first
                    .iter()
                    .map(|row| RaggedRow {
                        file: row.file,
                        line: row.line,
                        cells: row.cells,
                    })
                    .collect(),
            },
        }
    }
}
