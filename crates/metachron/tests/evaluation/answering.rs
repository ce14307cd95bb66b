//! A robot that gives every answer to every question, and then the true ones.

use super::count::is_right;
use super::program::{CleanCell, Program};
use super::tables::{Table, Truth};

/// What came of the answers to the questions on one column.
#[derive(Clone, Copy, Debug, Default)]
pub struct Answered {
    /// How many questions there were at first.
    pub questions: u64,
    /// Answers that converted other cells than they say, or changed one.
    pub harmful: u64,
    /// The cells that are right once the true answers are given.
    pub right: u64,
}

/// More rounds of questions than this are not answered.
const MOST_ROUNDS: usize = 4;

/// Answers the questions on the table that `program` works on, round by round: of all
/// answers the one that makes the most cells right, and none wrong.
pub fn answer(table: &Table, program: &Program) -> Answered {
    let mut args = table.declared.clone();
    let mut answered = Answered::default();
    let mut clean = program.convert(table, &args);
    for round in 0..MOST_ROUNDS {
        let mut best: Option<(u64, Vec<String>, Vec<CleanCell>)> = None;
        for question in program.questions(table, &args) {
            answered.questions += u64::from(round == 0);
            for answer in question["answers"].as_array().expect("answers") {
                let words = |key: &str| answer[key].as_str().expect("words");
                let option = shell_words::split(words("option")).expect("an option");
                let set = vec!["--set".to_owned(), words("declares").to_owned()];
                for more in [option, set] {
                    let with: Vec<String> = args.iter().cloned().chain(more).collect();
                    let after = program.convert(table, &with);
                    let gained = gained(&clean, &after)
                        .filter(|gained| Some(*gained) == answer["converts"].as_u64());
                    answered.harmful += u64::from(gained.is_none());
                    let right = count_right(table, &after);
                    let mut cells = after.iter().zip(&table.rows);
                    let is_false =
                        cells.any(|(cell, row)| cell.is_converted && !is_right(cell, &row.truth));
                    if !is_false && best.as_ref().is_none_or(|(known, ..)| right > *known) {
                        best = Some((right, with, after));
                    }
                }
            }
        }
        let Some((_, with, after)) = best.filter(|(_, with, _)| *with != args) else {
            break;
        };
        (args, clean) = (with, after);
    }
    answered.right = count_right(table, &clean);
    answered
}

fn count_right(table: &Table, clean: &[CleanCell]) -> u64 {
    let cells = clean.iter().zip(&table.rows);
    let counts = |truth: &Truth| matches!(truth, Truth::Day(_) | Truth::Is(_) | Truth::Text);
    let right = cells.filter(|(cell, row)| counts(&row.truth) && is_right(cell, &row.truth));
    right.count() as u64
}

/// How many cells are converted more; `None` where one that was converted has
/// changed.
fn gained(before: &[CleanCell], after: &[CleanCell]) -> Option<u64> {
    let is_kept = |(before, after): (&CleanCell, &CleanCell)| {
        !before.is_converted || after.is_converted && after.text == before.text
    };
    let converted = |cells: &[CleanCell]| {
        let converted = cells.iter().filter(|cell| cell.is_converted);
        converted.count() as u64
    };
    let kept = before.iter().zip(after).all(is_kept);
    kept.then(|| converted(after) - converted(before))
}
