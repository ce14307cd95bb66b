//! Tables through the program, cells against the truth.

use super::cases::Case;
use super::random::Random;
use super::tables::{Table, Truth};
use std::path::Path;
use std::process::Command;

/// What became of the cells of one sort of table.
#[derive(Clone, Copy, Debug, Default)]
pub struct Count {
    pub tables: u64,
    /// Cells that have a true day.
    pub cells: u64,
    /// Cells that came out as that day.
    pub right: u64,
    /// Cells that were left to a person.
    pub open: u64,
    /// Cells that came out as another day.
    pub wrong: u64,
    /// Cells that came out as another day because the user declared so.
    pub as_declared: u64,
    /// Cells in an order that nothing in the table shows.
    pub unshown: u64,
    /// Of these, those that came out as another day.
    pub unshown_wrong: u64,
    /// Cells that are no date, or a false one.
    pub apart: u64,
    /// Of these, those that came out as a day although they are none.
    pub invented: u64,
}

impl Count {
    /// Tries `tables` tables of `case` in `folder`.
    pub fn of(case: Case, tables: u64, program: &Path, folder: &Path) -> Count {
        let mut count = Count::default();
        for number in 0..tables {
            let seed = number * 1_000 + case as u64;
            let table = case.table(&mut Random::new(seed));
            count.add(&table, program, folder, seed);
        }
        count
    }

    fn add(&mut self, table: &Table, program: &Path, folder: &Path, seed: u64) {
        let input = folder.join("table.csv");
        let mut writer = csv::Writer::from_path(&input).expect("a file");
        writer.write_record(&table.header).expect("a header");
        for row in &table.rows {
            writer.write_record(&row.cells).expect("a row");
        }
        writer.flush().expect("a file");
        let run = Command::new(program)
            .args([
                "convert",
                "table.csv",
                "-o",
                "clean.csv",
                "-q",
                "--threads",
                "1",
            ])
            .args(["--now", "2026-11-23"])
            .args(&table.declared)
            .current_dir(folder)
            .output()
            .expect("the program runs");
        let said = String::from_utf8_lossy(&run.stderr).into_owned();
        assert!(
            matches!(run.status.code(), Some(0 | 3)),
            "seed {seed}: {said}"
        );
        let mut reader = csv::Reader::from_path(folder.join("clean.csv")).expect("an output");
        let index = table
            .header
            .iter()
            .position(|name| *name == "date")
            .expect("a date");
        self.tables += 1;
        for (row, clean) in table.rows.iter().zip(reader.records()) {
            let clean = clean.expect("a row");
            let clean = &clean[index];
            // A column that is not taken for dates is passed through.
            let is_left = clean.is_empty() || clean == row.cells[index] && !is_iso(clean);
            // What has midnights in it is a column of datetimes.
            let clean = clean.strip_suffix("T00:00:00").unwrap_or(clean);
            match row.truth {
                Truth::Day(day) => {
                    self.cells += 1;
                    match (is_left, clean == day.to_string()) {
                        (true, _) => self.open += 1,
                        (false, true) => self.right += 1,
                        // The user said so, and the cells that cannot be so wait.
                        (false, false) if !table.declared.is_empty() => self.as_declared += 1,
                        (false, false) => {
                            if self.wrong == 0 {
                                let _ =
                                    std::fs::copy(&input, folder.join(format!("wrong-{seed}.csv")));
                            }
                            self.wrong += 1;
                        }
                    }
                }
                Truth::Unshown(day) => {
                    self.unshown += 1;
                    self.unshown_wrong += u64::from(!is_left && clean != day.to_string());
                }
                Truth::Nothing | Truth::False => {
                    self.apart += 1;
                    self.invented += u64::from(row.truth == Truth::Nothing && !is_left);
                }
            }
        }
    }
}

fn is_iso(text: &str) -> bool {
    // A run of digits is ISO's basic format, and is passed through as it came.
    text.contains('-') && text.parse::<jiff::civil::DateTime>().is_ok()
}
