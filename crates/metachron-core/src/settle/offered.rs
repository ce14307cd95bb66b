//! Forms that nobody would think of by the cells alone, and which a column's name
//! makes likely: `0327` under `expiry` is March 2027, and `0.395833` under `start
//! time` half past nine.

use super::header::Header;
use crate::evidence::{ColumnEvidence, Example};
use crate::form::{Century, Conventions, Form};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::stamp::Stamp;

/// Months and years of two digits, as cards and invoices have them.
const DATES: &str = "MM/yy yy/MM MM-yy MMyy yyMM";

/// Days without a year, in digits alone: the year is asked for next.
const DAYS_OF_NO_YEAR: &str = "MMdd ddMM";

/// Weeks with years of two digits, as goods are stamped with.
const WEEKS: &str = "YYww wwYY";

/// Days in seven digits: with the digit of a century, as mainframes have it.
const DAYS: &str = "CCCMMdd";

/// What digits may be that have another reading too: days of a year, for which a day, a
/// month and a year without the zero in front are as well (`2022121`), and times to the
/// minute, which are numbers of seconds as well (`2203011157`).
const RIVALS: &str = "yyyyDDD yyMMddHHmm";

/// In these years such a rival is believed.
const YEARS_OF_RIVALS: std::ops::RangeInclusive<i16> = 1900..=2099;

/// Times of day in digits alone, whose leading zeros may be lost, with dots, and with the
/// sign of ISO 8601 (ISO 8601-1:2019 §5.3.1.2), which may begin any code.
const CLOCKS: &str = "HHmm Hmm Hmmss H.mm H.mm.ss 'T'HHmm 'T'HHmmss";

/// The part of a day that has passed, as spreadsheets keep times of day.
const PART_OF_DAY: &str = "days since midnight";

/// Those of them that read most of the cells that are kept as examples: for a
/// question, and nothing else.
pub(crate) fn offered_forms(name: &str, evidence: &ColumnEvidence) -> Vec<Form> {
    let header = Header::of(name);
    let mut patterns: Vec<&str> = Vec::new();
    if header.may_be_clocks() {
        patterns.extend(CLOCKS.split(' ').chain([PART_OF_DAY]));
    }
    let with_words = examples(evidence)
        .first()
        .and_then(|first| week_with_words(&first.text));
    // `valid until` may be either.
    if header.is_about_weeks() {
        patterns.extend(WEEKS.split(' '));
        patterns.extend(with_words.as_deref());
    } else if (header.is_about_dates() || header.is_ahead()) && !header.is_about_clocks() {
        let lists = [DATES, DAYS_OF_NO_YEAR, WEEKS, DAYS, RIVALS].into_iter();
        patterns.extend(lists.flat_map(|list| list.split(' ')));
    }
    let forms = patterns
        .into_iter()
        .filter_map(|pattern| pattern.parse().ok());
    forms.filter(|form| reads_most(form, evidence)).collect()
}

/// The pattern of a week that stands among words: `'KW 'w/YYYY` for `KW 3/2024`. Weeks
/// are counted in several ways, so that this is offered and never inferred.
fn week_with_words(text: &str) -> Option<String> {
    let mut pattern = String::new();
    let mut symbols = Vec::new();
    let mut rest = text.trim();
    while !rest.is_empty() {
        let is_digit = |letter: char| letter.is_ascii_digit();
        let is_number = rest.starts_with(is_digit);
        let end = rest.find(|letter| is_digit(letter) != is_number);
        let (part, behind) = rest.split_at(end.unwrap_or(rest.len()));
        if is_number {
            let symbol = match part.len() {
                1 | 2 => "w",
                4 => "YYYY",
                _ => return None,
            };
            symbols.push(symbol);
            pattern.push_str(symbol);
        } else {
            pattern.push_str(&format!("'{}'", part.replace('\'', "''")));
        }
        rest = behind;
    }
    symbols.sort_unstable();
    (symbols == ["YYYY", "w"]).then_some(pattern)
}

/// Whether digits are likely to be of such a form: `0327` under a name of dates ahead,
/// such as `expiry`, where no amount under `target` has a zero in front; or `2452`
/// under `week`.
pub(super) fn are_likely(name: &str, evidence: &ColumnEvidence) -> bool {
    let header = Header::of(name);
    let mut examples = examples(evidence).into_iter();
    let has_zero = examples.any(|example| example.text.trim_start().starts_with('0'));
    (header.is_about_weeks() || header.is_ahead() && has_zero)
        && !offered_forms(name, evidence).is_empty()
}

/// Whether all cells that are kept as examples may as well be of one of the [`RIVALS`].
pub(super) fn have_rivals(evidence: &ColumnEvidence) -> bool {
    let examples = examples(evidence);
    let mut rivals = RIVALS.split(' ').filter_map(|pattern| pattern.parse().ok());
    examples.len() > 1
        && rivals.any(|form: Form| {
            let years = stamps(&form, &examples)
                .into_iter()
                .map(|stamp| stamp?.year());
            let is_ours = |year: i16| YEARS_OF_RIVALS.contains(&year);
            years.into_iter().all(|year| year.is_some_and(is_ours))
        })
}

/// The cells that are kept as examples.
fn examples(evidence: &ColumnEvidence) -> Vec<&Example> {
    let tallies = evidence.shapes.iter().flat_map(|shape| &shape.tallies);
    let examples = tallies.flat_map(|tally| std::iter::once(&tally.first).chain(&tally.second));
    examples.chain(&evidence.others.first).collect()
}

/// Whether `form` reads more than half of the cells that are kept as examples.
fn reads_most(form: &Form, evidence: &ColumnEvidence) -> bool {
    let stamps = stamps(form, &examples(evidence));
    stamps.iter().flatten().count() * 2 > stamps.len()
}

/// What `form` reads `examples` as.
fn stamps(form: &Form, examples: &[&Example]) -> Vec<Option<Stamp>> {
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    // In a leap year, every day without a year is one.
    let conventions = Conventions {
        year: Some(2000),
        ..Century::Window(2000).into()
    };
    let read = |example: &&Example| {
        let cell = lexer.lex_cell(example.cell()).ok()?;
        form.fit(&cell.shape())?.read(&cell, conventions).ok()
    };
    examples.iter().map(read).collect()
}
