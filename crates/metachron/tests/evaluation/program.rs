//! The built program, on one table.

use super::tables::Table;
use serde_json::Value;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

/// The built program, and the folder that it works in.
pub struct Program {
    pub path: PathBuf,
    pub folder: PathBuf,
}

/// A cell of the column that is looked at, in the clean table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CleanCell {
    pub text: String,
    /// Whether it was converted. If not, it waits, or stands as it came.
    pub is_converted: bool,
}

impl Program {
    /// The file of the table that it works on.
    pub fn input(&self) -> PathBuf {
        self.folder.join("table.csv")
    }

    /// Writes the table to work on.
    pub fn write(&self, table: &Table) {
        let mut writer = csv::Writer::from_path(self.input()).expect("a file");
        writer.write_record(&table.header).expect("a header");
        for row in &table.rows {
            writer.write_record(&row.cells).expect("a row");
        }
        writer.flush().expect("a file");
    }

    /// The clean cells of the column that is looked at.
    pub fn convert(&self, table: &Table, args: &[String]) -> Vec<CleanCell> {
        let output = self.run("convert", &["--verdicts"], args);
        let mut reader = csv::Reader::from_reader(&output.stdout[..]);
        let header = reader.headers().expect("a header").clone();
        let index_of = |name: &str| header.iter().position(|known| known == name);
        let own = index_of(table.column).expect("the column");
        let verdict = index_of(&format!("{}_verdict", table.column));
        let cell = |record: csv::StringRecord| CleanCell {
            text: record[own].to_owned(),
            is_converted: verdict
                .is_some_and(|index| ["certain", "settled"].contains(&&record[index])),
        };
        let records = reader.records();
        records.map(|record| cell(record.expect("a row"))).collect()
    }

    /// The questions on the column that is looked at.
    pub fn questions(&self, table: &Table, args: &[String]) -> Vec<Value> {
        let output = self.run("settle", &["--json"], args);
        let settled: Value = serde_json::from_slice(&output.stdout).expect("JSON");
        let mut columns = settled["columns"].as_array().expect("columns").iter();
        let column = columns.find(|column| column["name"] == table.column);
        let questions = column.and_then(|column| column["questions"].as_array());
        questions.cloned().unwrap_or_default()
    }

    fn run(&self, command: &str, options: &[&str], args: &[String]) -> Output {
        let output = Command::new(&self.path)
            .args([command, "table.csv", "-q", "--threads", "1"])
            .args(["--now", "2026-11-23"])
            .args(options)
            .args(args)
            .current_dir(&self.folder)
            .output()
            .expect("the program runs");
        let said = String::from_utf8_lossy(&output.stderr);
        assert!(
            matches!(output.status.code(), Some(0 | 3)),
            "{command} {args:?}: {said}"
        );
        output
    }
}

impl Program {
    /// Keeps the table, to be looked at.
    pub fn keep(&self, name: &Path) {
        let _ = std::fs::copy(self.input(), self.folder.join(name));
    }
}
