//! Columns whose cells all hold the same besides a date: `[2024-06-04]`,
//! `2024-06-04 checked`.

use super::weight::Weight;
use crate::evidence::{ColumnEvidence, Example};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::reading::{Readings, leftover};

/// Of a column, at least one in so many filled cells must hold a date and
/// something besides.
const CELLS_ONE_IN: u64 = 2;

/// What the cells of a column hold besides a date; `is_about_time` says that
/// its name is about dates or times.
///
/// Only where all that are kept as examples hold the same, apart from digits: free text holds something else in
/// every cell. Numbers of vouchers (`INV-2024-03-05`) and names of files have
/// letters right next to their date, and are none of our business.
pub(super) fn of_column(evidence: &ColumnEvidence, is_about_time: bool) -> Option<String> {
    let others = &evidence.others;
    if others.count * CELLS_ONE_IN < evidence.filled() {
        return None;
    }
    let first = of_cell(others.first.first()?)?;
    let is_same = |example: &Example| {
        of_cell(example).is_some_and(|left| without_digits(&left) == without_digits(&first))
    };
    let text = others.first.first()?.text.trim();
    let has_letters = first.contains(char::is_alphabetic);
    let is_apart = text.contains(&format!(" {first}")) || text.contains(&format!("{first} "));
    let is_label = has_letters && !is_apart && !is_about_time;
    (others.first.iter().all(is_same) && !is_label).then_some(first)
}

/// Whether at least half of the cells are no dates, and those that are kept as
/// examples all have digits and something besides, as dates have, or are parts
/// of a day.
pub(super) fn is_marked(evidence: &ColumnEvidence) -> bool {
    let others = &evidence.others;
    let is_number = |letter: char| letter.is_numeric() || matches!(letter, '.' | ',' | '-' | '+');
    // `0.3541666667` is a time of day to a spreadsheet.
    let is_fraction = |text: &str| {
        let decimals = text.strip_prefix("0.").map_or("", |decimals| decimals);
        decimals.len() > 3 && decimals.bytes().all(|byte| byte.is_ascii_digit())
    };
    let is_marked = |example: &Example| {
        let text = example.text.trim();
        let is_number = !text.contains(|letter| !is_number(letter));
        text.contains(char::is_numeric) && (!is_number || is_fraction(text))
    };
    others.count * CELLS_ONE_IN >= evidence.filled() && others.first.iter().all(is_marked)
}

/// What a cell holds besides a date that is hardly anything else.
fn of_cell(example: &Example) -> Option<String> {
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let text = example.text.trim();
    let left = leftover(&lexer.lex(text).ok()?)?.to_owned();
    let date = text
        .strip_suffix(&left)
        .or_else(|| text.strip_prefix(&left))?
        .trim();
    let shape = lexer.lex(date).ok()?.shape();
    let readings = Readings::new(shape, &[]);
    let mut usual = readings.candidates().iter().filter(|own| own.usual);
    usual
        .any(|own| Weight::of(&own.form) == Weight::Plain)
        .then_some(left)
}

/// How often something is left over says nothing: `(Mon)`, `#17`.
fn without_digits(text: &str) -> String {
    let digit = |letter: char| if letter.is_numeric() { '0' } else { letter };
    text.chars().map(digit).collect()
}
