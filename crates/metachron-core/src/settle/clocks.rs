//! What the clock-like cells of a column are: times of day, times that lack the half
//! of the day, or lengths of time.

use super::Declared;
use super::header::Header;
use crate::evidence::{ColumnEvidence, Hint, ShapeEvidence};
use crate::form::Elapsed;
use crate::stamp::Kind;

/// Of the hours from 1 to 12, at least so many must be there: who works in the
/// morning alone has fewer.
const HOURS_OF_HALF_DAY: u32 = 11;

/// And in so many cells: by chance, fewer than one in a million columns of times
/// of all day has none past 12:59.
pub(super) const LEAST_OF_HALF_DAY: u64 = 20;

/// Whether all cells are times of a clock that goes from 1 to 12, without a word
/// for the half of the day.
pub(super) fn lacks_half_of_day(evidence: &ColumnEvidence) -> bool {
    hours_of_half_a_clock(evidence).is_some_and(|hours| hours >= HOURS_OF_HALF_DAY)
}

/// Whether they may be times of a clock that goes from 1 to 12.
pub(crate) fn is_half_a_clock(evidence: &ColumnEvidence) -> bool {
    hours_of_half_a_clock(evidence).is_some_and(|hours| hours > 0)
}

/// How many different hours there are, where all cells are times from 1:00 to
/// 12:59 without a word for the half of the day.
fn hours_of_half_a_clock(evidence: &ColumnEvidence) -> Option<u32> {
    let mut hours = 0;
    for shape in &evidence.shapes {
        let is_time = shape.hours != 0;
        if !is_time && shape.count(|tally| !tally.outcome.is_unreadable()) > 0 {
            return None;
        }
        hours |= shape.hours;
    }
    let from_1_to_12 = 0b1_1111_1111_1110;
    (hours & !from_1_to_12 == 0).then_some(hours.count_ones())
}

/// Whether there are times of day in digits alone, or with dots, under a name that says
/// so: `1430`, `14.30`, and `94216`, whose leading zeros were dropped. Those are asked
/// about.
pub(super) fn has_clock_digits(header: &Header, evidence: &ColumnEvidence) -> bool {
    let tallies = evidence.shapes.iter().flat_map(|shape| &shape.tallies);
    let examples = tallies.flat_map(|tally| std::iter::once(&tally.first).chain(&tally.second));
    let texts = examples.chain(&evidence.others.first);
    let texts = texts.map(|example| example.text.trim());
    // With so many digits, two of them for each part.
    let are_clocks = |digits: usize| {
        let is_clock = |text: &str| {
            let whole = format!("{text:0>digits$}");
            let parts = (0..digits).step_by(2).zip([24, 60, 60]);
            let mut are_below = parts.map(|(at, end)| {
                let part = whole.get(at..at + 2).and_then(|pair| pair.parse().ok());
                part.is_some_and(|value: u8| value < end)
            });
            (3..=digits).contains(&text.len())
                && text.bytes().all(|byte| byte.is_ascii_digit())
                && are_below.all(|is_below| is_below)
        };
        texts.clone().any(|text| text.len() == digits) && texts.clone().all(is_clock)
    };
    let is_dotted = |text: &str| {
        let part = |part: &str, digits: &[usize], end: u8| {
            let is_below = part.parse().is_ok_and(|value: u8| value < end);
            digits.contains(&part.len()) && is_below
        };
        let (hour, rest) = text.split_once('.').unwrap_or((text, ""));
        let mut parts = rest.split('.');
        part(hour, &[1, 2], 24)
            && rest.len() <= "mm.ss".len()
            && parts.all(|part_of_hour| part(part_of_hour, &[2], 60))
    };
    let are_enough = texts.clone().count() >= LEAST_CLOCKS;
    // `02.01.16` is rather a date, unless the name says that it is a time.
    let has_seconds = |text: &str| text.split('.').count() > 2;
    let may_have_seconds = header.is_about_clocks();
    let is_clock = |text| is_dotted(text) && (may_have_seconds || !has_seconds(text));
    let are_dotted = || are_enough && texts.clone().all(is_clock);
    header.is_about_clocks() && are_clocks(6)
        || header.may_be_clocks() && (are_enough && are_clocks(4) || are_dotted())
}

/// So many different cells must be times of four digits, or with dots: other numbers have
/// minutes below sixty in six of ten.
const LEAST_CLOCKS: usize = 3;

/// Whether clock-like cells are lengths of time: it is declared, the column's name says so,
/// or one with seconds passes 24 hours. Without seconds, what passes 24 may
/// be minutes and seconds, and has to be asked about.
pub(super) fn is_elapsed(name: &str, evidence: &ColumnEvidence, declared: &Declared) -> bool {
    if let Some(kind) = declared.kind {
        return kind == Kind::Duration;
    }
    let said = Header::of(name).is_about_lengths();
    let with_seconds = |shape: &ShapeEvidence, sure: bool| {
        let mut candidates = shape.readings.candidates().iter();
        candidates.any(|candidate| {
            candidate.form.elapsed() == Some(Elapsed::HourMinuteSecond)
                && (candidate.usual || !sure)
        })
    };
    let past = |shape: &ShapeEvidence| shape.count(|tally| tally.hint == Hint::Past24) > 0;
    // Three digits of hours are past 24 whatever they are.
    let long = evidence
        .shapes
        .iter()
        .any(|shape| with_seconds(shape, true));
    let over = clock_past_midnight(evidence) > 0
        && evidence
            .shapes
            .iter()
            .filter(|shape| past(shape))
            .all(|shape| with_seconds(shape, false));
    said || long || over
}

/// Cells whose hour is past 24, in a column of nothing but clock-like cells.
pub(super) fn clock_past_midnight(evidence: &ColumnEvidence) -> u64 {
    let mut past = 0;
    for shape in &evidence.shapes {
        let mut forms = shape.readings.candidates().iter();
        if !forms.all(|candidate| candidate.order().is_none()) {
            return 0;
        }
        past += shape.count(|tally| tally.hint == Hint::Past24);
    }
    past
}
