//! Columns whose cells all hold the same besides a date: `[2024-06-04]`,
//! `2024-06-04 checked`.

use super::weight::Weight;
use crate::evidence::{ColumnEvidence, Example, ShapeEvidence};
use crate::form::{Century, Form};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::reading::{Readings, leftover};
use crate::stamp::Kind;

/// Of a column, at least one in so many filled cells must hold a date and
/// something besides.
const CELLS_ONE_IN: u64 = 2;

/// What the cells of a column hold besides a date; `is_about_time` says that
/// its name is about dates or times.
///
/// Only where all that are kept as examples hold the same, apart from digits, or the
/// name says that they are dates: free text holds something else in every cell.
/// Numbers of vouchers (`INV-2024-03-05`) and names of files have letters right next
/// to their date, and are none of our business.
pub(super) fn of_column(evidence: &ColumnEvidence, is_about_time: bool) -> Option<Leftover> {
    let others = &evidence.others;
    if others.count * CELLS_ONE_IN < evidence.filled() {
        return None;
    }
    let examples: Vec<&Example> = others.first.iter().collect();
    let parts: Option<Vec<Parts<'_>>> = examples.iter().copied().map(Parts::of).collect();
    let parts = parts?;
    let first = parts.first()?;
    let is_label = first.left().contains(char::is_alphabetic) && first.is_one_word();
    if is_label && !is_about_time {
        return None;
    }
    let forms = forms_of(&parts, &examples, is_about_time)?;
    Some(Leftover {
        cells: others.count,
        example: others.first[0].clone(),
        forms,
        reads: Vec::new(),
    })
}

/// What cells that were not read hold besides a date of `kind`, in a column that is
/// known to be of dates or times. Cells that hold no date are left out.
pub(crate) fn of_others(evidence: &ColumnEvidence, kind: Option<Kind>) -> Option<Leftover> {
    let with_parts = evidence
        .others
        .first
        .iter()
        .filter_map(|example| Some((example, Parts::of(example)?)));
    let (examples, parts): (Vec<&Example>, Vec<Parts<'_>>) = with_parts.unzip();
    let mut forms = forms_of(&parts, &examples, true)?;
    forms.retain(|form| kind.is_none_or(|kind| form.kind() == kind));
    (!forms.is_empty()).then(|| Leftover {
        cells: evidence.others.count,
        example: examples[0].clone(),
        forms,
        reads: Vec::new(),
    })
}

/// The forms that read all `examples` with what their `parts` hold besides a date;
/// `None` where they hold different things that no form may skip.
fn forms_of(parts: &[Parts<'_>], examples: &[&Example], may_skip: bool) -> Option<Vec<Form>> {
    let first = parts.first()?;
    let is_same = |own: &Parts<'_>| without_digits(own.left()) == without_digits(first.left());
    let are_same = parts.iter().all(is_same);
    if !are_same && !may_skip {
        // Two dates, from one to another: no form reads both.
        return parts.iter().all(Parts::is_of_two).then(Vec::new);
    }
    let read_all = |mut forms: Vec<Form>| {
        forms.retain(|form| examples.iter().all(|own| reads(form, own)));
        forms
    };
    let forms = if are_same {
        read_all(first.forms())
    } else {
        Vec::new()
    };
    // Numbers in it differ: a second date, the number of a page.
    if !forms.is_empty() || !may_skip {
        return Some(forms);
    }
    let parted = read_all(first.skipping_forms(" "));
    Some(if parted.is_empty() {
        read_all(first.skipping_forms(""))
    } else {
        parted
    })
}

/// Cells that hold something besides a date.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Leftover {
    /// How many cells hold no date alone.
    pub cells: u64,
    /// The first of them.
    pub example: Example,
    /// The forms that read those that are kept as examples, with what stands
    /// there besides.
    pub forms: Vec<Form>,
    /// How many cells each of them reads, once the column was surveyed with them.
    pub reads: Vec<u64>,
}

impl Leftover {
    /// Counts the cells that each form reads and nothing else does, in a column that
    /// was surveyed with them.
    pub(crate) fn count(&mut self, evidence: &ColumnEvidence) {
        let reads = |form: &Form| {
            let in_shape = |shape: &ShapeEvidence| {
                let readings = &shape.readings;
                let offered: Vec<usize> = self
                    .forms
                    .iter()
                    .filter_map(|form| readings.index_of(form))
                    .collect();
                let index = readings.index_of(form)?;
                let all = 0..readings.candidates().len();
                let others: Vec<usize> = all.filter(|own| !offered.contains(own)).collect();
                Some(shape.count(|tally| {
                    let is_known = others.iter().any(|own| tally.outcome.reads(*own));
                    tally.outcome.reads(index) && !is_known
                }))
            };
            evidence.shapes.iter().filter_map(in_shape).sum()
        };
        self.reads = self.forms.iter().map(reads).collect();
    }
}

/// Whether at least half of the cells are no dates, and those that are kept as
/// examples all have digits and something besides, as dates have, or are parts
/// of a day.
pub(super) fn is_marked(evidence: &ColumnEvidence) -> bool {
    let others = &evidence.others;
    let is_number = |letter: char| letter.is_numeric() || matches!(letter, '.' | ',' | '-' | '+');
    // `0.3541666667` is a time of day to a spreadsheet.
    let is_fraction = |text: &str| {
        let decimals = text.strip_prefix("0.").unwrap_or_default();
        decimals.len() > 3 && decimals.bytes().all(|byte| byte.is_ascii_digit())
    };
    let is_marked = |example: &Example| {
        let text = example.text.trim();
        let is_number = !text.contains(|letter| !is_number(letter));
        text.contains(char::is_numeric) && (!is_number || is_fraction(text))
    };
    others.count * CELLS_ONE_IN >= evidence.filled() && others.first.iter().all(is_marked)
}

/// A cell that holds a date that is hardly anything else, and something besides.
struct Parts<'c> {
    /// What stands before the date, with the white space between.
    before: &'c str,
    date: &'c str,
    behind: &'c str,
}

impl<'c> Parts<'c> {
    fn of(example: &'c Example) -> Option<Parts<'c>> {
        Parts::in_text(example.text.trim())
    }

    fn in_text(text: &'c str) -> Option<Parts<'c>> {
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let left = leftover(&lexer.lex(text).ok()?)?.to_owned();
        let parts = match text.strip_suffix(&left) {
            Some(date) => Parts {
                before: "",
                date: date.trim_end(),
                behind: &text[date.trim_end().len()..],
            },
            None => {
                let date = text.strip_prefix(&left)?.trim_start();
                Parts {
                    before: &text[..text.len() - date.len()],
                    date,
                    behind: "",
                }
            }
        };
        let is_date = |form: &Form| Weight::of(form) == Weight::Plain || form.kind() == Kind::Time;
        usual_forms(parts.date).iter().any(is_date).then_some(parts)
    }

    /// What stands besides the date: on one of its sides.
    fn left(&self) -> &'c str {
        match self.behind {
            "" => self.before.trim(),
            behind => behind.trim(),
        }
    }

    /// Whether what stands besides the date holds another one: `- 3 October 2023`,
    /// `from 30 September 2023 to`.
    fn is_of_two(&self) -> bool {
        let left = self.left();
        let starts = left.match_indices(' ').map(|(at, _)| at + 1);
        let mut rests = [0].into_iter().chain(starts).map(|at| &left[at..]);
        rests.any(|rest| {
            let date = Parts::in_text(rest).map_or(rest, |parts| parts.date);
            let mut forms = usual_forms(date).into_iter();
            forms.any(|form| form.order().is_some() && Weight::of(&form) == Weight::Plain)
        })
    }

    /// Whether nothing parts the date from what stands besides.
    fn is_one_word(&self) -> bool {
        let between = [self.before, self.behind];
        between.iter().all(|text| text.len() == text.trim().len())
    }

    /// The forms that skip what stands besides the date, behind `gap`.
    fn skipping_forms(&self, gap: &str) -> Vec<Form> {
        let patterns = usual_forms(self.date)
            .into_iter()
            .map(|date| match self.behind {
                "" => format!("…{gap}{date}"),
                _ => format!("{date}{gap}…"),
            });
        patterns
            .filter_map(|pattern| pattern.parse().ok())
            .collect()
    }

    /// The forms that the cell may have: the date with what stands before and
    /// behind it as text, or with the time of day that stands behind.
    fn forms(&self) -> Vec<Form> {
        let times = times_in(self.behind);
        let patterns = usual_forms(self.date).into_iter().flat_map(|date| {
            let start = format!("{}{date}", quoted(self.before));
            let with_time = times
                .iter()
                .map(|(sign, time, end)| format!("{start}{}{time}{}", quoted(sign), quoted(end)));
            let alone = format!("{start}{}", quoted(self.behind));
            with_time.chain([alone]).collect::<Vec<String>>()
        });
        patterns
            .filter_map(|pattern| pattern.parse().ok())
            .collect()
    }
}

/// The time of day in what stands behind a date, by every form that reads it:
/// the sign before it, the form, and what stands behind.
fn times_in(behind: &str) -> Vec<(&str, Form, &str)> {
    let Some(start) = behind.find(|letter: char| letter.is_ascii_digit()) else {
        return Vec::new();
    };
    let after_last = |(at, letter): (usize, char)| at + letter.len_utf8();
    let mut letters = behind.char_indices().rev();
    let last = letters.find(|(_, letter)| letter.is_alphanumeric());
    let end = last.map_or(behind.len(), after_last);
    let mut times = usual_forms(&behind[start..end]);
    times.retain(|form| form.kind() == Kind::Time);
    let (sign, rest) = (&behind[..start], &behind[end..]);
    times.into_iter().map(|form| (sign, form, rest)).collect()
}

/// The usual forms that text may have.
fn usual_forms(text: &str) -> Vec<Form> {
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let Ok(cell) = lexer.lex(text) else {
        return Vec::new();
    };
    let readings = Readings::new(cell.shape(), &[]);
    let usual = readings.candidates().iter().filter(|own| own.usual);
    usual.map(|own| own.form.clone()).collect()
}

fn reads(form: &Form, example: &Example) -> bool {
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let Ok(cell) = lexer.lex(&example.text) else {
        return false;
    };
    let reader = form.fit(&cell.shape());
    reader.is_some_and(|reader| reader.read(&cell, Century::Open.into()).is_ok())
}

/// Text as a pattern has it.
fn quoted(text: &str) -> String {
    match text {
        "" => String::new(),
        _ => format!("'{}'", text.replace('\'', "''")),
    }
}

/// Text with one digit for each of its numbers: `(Mon)`, `#0`. How large a number is that
/// is left over says nothing.
fn without_digits(text: &str) -> String {
    let mut letters: Vec<char> = text
        .chars()
        .map(|letter| if letter.is_numeric() { '0' } else { letter })
        .collect();
    letters.dedup_by(|letter, before| *letter == '0' && *before == '0');
    letters.into_iter().collect()
}
