//! Tables through the program, cells against the truth.

use super::answering::answer;
use super::cases::Case;
use super::program::{CleanCell, Program};
use super::random::Random;
use super::tables::{Table, Truth};
use std::path::Path;

/// What became of the cells of one sort of table.
#[derive(Clone, Copy, Debug, Default)]
pub struct Count {
    pub tables: u64,
    /// Tables with a question about the column.
    pub asked: u64,
    /// Cells that truly say something, or stay as they are.
    pub cells: u64,
    /// Cells that came out as that.
    pub right: u64,
    /// Cells that were left to a person.
    pub open: u64,
    /// Cells that came out as something else.
    pub wrong: u64,
    /// Cells that are right once a person has answered the questions.
    pub answered: u64,
    /// Answers that did something else than they say.
    pub harmful: u64,
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
    /// Tries `tables` tables of `case`.
    pub fn of(case: Case, tables: u64, program: &Program) -> Count {
        let mut count = Count::default();
        for number in 0..tables {
            let seed = number * 1_000 + case as u64;
            let table = case.table(&mut Random::new(seed));
            program.write(&table);
            let wrong = count.wrong;
            let clean = program.convert(&table, &table.declared);
            count.add(&table, &clean);
            if count.wrong > wrong {
                program.keep(Path::new(&format!("wrong-{seed}.csv")));
            }
            // What is declared wrongly is no question of the program's.
            if table.declared.is_empty() {
                let answered = answer(&table, program);
                count.asked += u64::from(answered.questions > 0);
                count.answered += answered.right;
                count.harmful += answered.harmful;
                if case.says_all() && answered.questions > 0 {
                    program.keep(Path::new(&format!("needless-{seed}.csv")));
                }
                if answered.harmful > 0 {
                    program.keep(Path::new(&format!("harmful-{seed}.csv")));
                }
            }
        }
        count
    }

    fn add(&mut self, table: &Table, clean: &[CleanCell]) {
        self.tables += 1;
        for (row, clean) in table.rows.iter().zip(clean) {
            let is_left = !clean.is_converted;
            match row.truth {
                Truth::Day(_) | Truth::Is(_) | Truth::Text => {
                    self.cells += 1;
                    match (is_left, is_right(clean, &row.truth)) {
                        (_, true) => self.right += 1,
                        (true, _) => self.open += 1,
                        // The user said so, and the cells that cannot be so wait.
                        _ if !table.declared.is_empty() => self.as_declared += 1,
                        _ => self.wrong += 1,
                    }
                }
                Truth::Unshown(day) => {
                    self.unshown += 1;
                    self.unshown_wrong += u64::from(!is_left && day_of(clean) != day.to_string());
                }
                Truth::Nothing | Truth::False => {
                    self.apart += 1;
                    self.invented += u64::from(row.truth == Truth::Nothing && !is_left);
                }
            }
        }
    }
}

/// Whether a clean cell is what is true.
pub fn is_right(clean: &CleanCell, truth: &Truth) -> bool {
    match truth {
        Truth::Day(day) => clean.is_converted && day_of(clean) == day.to_string(),
        Truth::Is(text) => clean.is_converted && clean.text == *text,
        Truth::Text => !clean.is_converted && !clean.text.is_empty(),
        Truth::Nothing | Truth::False | Truth::Unshown(_) => true,
    }
}

/// The day of a clean cell: what has midnights in it is a column of datetimes.
fn day_of(clean: &CleanCell) -> &str {
    let text = &clean.text;
    text.strip_suffix("T00:00:00").unwrap_or(text)
}
