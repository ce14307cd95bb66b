//! Whether the years of a column are of our time, or those of another calendar, of another
//! origin, or of numbers that are no dates.

use super::header::Header;
use super::weight::Weight;
use crate::calendar::{Calendar, suggested_by};
use crate::evidence::{ColumnEvidence, Hint, ShapeEvidence, Span};
use crate::form::{Count, Field, Form};
use crate::lex::Class;
use crate::reading::BARE_YEARS;
use crate::rulings::{ColumnRuling, FormRuling};
use crate::stamp::Kind;
use jiff::ToSpan;
use jiff::civil::{Date, date};

/// Numbers that count days or seconds are proposed as dates from this year on.
const EARLIEST_YEAR: i16 = 1950;

/// And up to so many years ahead.
const YEARS_AHEAD: i16 = 20;

/// The earliest and the latest day that the counts of a column read, and
/// those that its other forms read.
fn spans(evidence: &ColumnEvidence) -> (Span, Span) {
    let (mut counted, mut written) = (Span::default(), Span::default());
    for shape in &evidence.shapes {
        for (candidate, span) in shape.readings.candidates().iter().zip(&shape.spans) {
            match candidate.form.bare_count() {
                Some(_) if candidate.form.is_swapped() => {}
                Some(_) => counted.merge(span),
                None if candidate.usual => written.merge(span),
                None => {}
            }
        }
    }
    (counted, written)
}

/// The calendars that all years of the column are those of our time in, where as
/// Gregorian years they lie centuries off: old registers have such years too,
/// so that a person has to say.
pub(super) fn calendars_of_years(evidence: &ColumnEvidence) -> &'static [Calendar] {
    let (_, mut written) = spans(evidence);
    for shape in &evidence.shapes {
        written.merge(&shape.far);
    }
    years(&written).map_or(&[], |(first, last)| suggested_by(first..=last))
}

/// How many cells are in years far from ours.
pub(super) fn in_far_years(evidence: &ColumnEvidence) -> u64 {
    let shapes = evidence.shapes.iter();
    let far = |shape: &ShapeEvidence| shape.count(|tally| tally.hint == Hint::FarYear);
    shapes.map(far).sum()
}

/// Days from which programs count: a time of day that was put into a datetime
/// stands on one of them.
const ZERO_DAYS: [Date; 4] = [
    date(1899, 12, 30),
    date(1899, 12, 31),
    date(1900, 1, 1),
    date(1970, 1, 1),
];

/// How many cells have a day that programs count from.
pub(super) fn on_zero_days(evidence: &ColumnEvidence) -> u64 {
    let markers = evidence.markers.iter();
    let zeros = markers.filter(|cells| ZERO_DAYS.contains(&cells.day));
    zeros.map(|cells| cells.count).sum()
}

/// Whether `form` reads a year of three digits without an era in cells of
/// `shape`, which in the Gregorian calendar nobody writes.
pub(crate) fn has_short_year(shape: &ShapeEvidence, form: &Form) -> bool {
    let has = |test: fn(&Field) -> bool| form.fields().any(|field| test(&field));
    shape.readings.shape().classes().contains(&Class::Digits(3))
        && has(|field| matches!(field, Field::YearFree))
        && !has(|field| matches!(field, Field::Era(_)))
}

fn years(span: &Span) -> Option<(i16, i16)> {
    Some((span.earliest?.year()?, span.latest?.year()?))
}

/// Whether the numbers and bare digits of `shape` would be days of our time.
/// Others are implausible out of nothing: `2024031` would be in the year 4031.
pub(super) fn is_of_our_time(shape: &ShapeEvidence, today: Date) -> bool {
    let recent = EARLIEST_YEAR..=today.year() + YEARS_AHEAD;
    let near = i16::MIN..=today.year() + 100;
    let candidates = shape.readings.candidates().iter().zip(&shape.spans);
    candidates
        .filter(|(candidate, _)| candidate.usual || candidate.form.bare_count().is_some())
        .all(|(candidate, span)| {
            let bounds = match candidate.form.bare_count() {
                Some(_) => &recent,
                // `2352` is a week as often, under a name about dates.
                None if candidate.form.kind() == Kind::Year => &near,
                None if Weight::of(&candidate.form) == Weight::Bare => &BARE_YEARS,
                None => return true,
            };
            years(span).is_none_or(|(from, to)| bounds.contains(&from) && bounds.contains(&to))
        })
}

/// Whether the years of `shape` are month and day as likely: `1105` is 5 November.
pub(super) fn are_days_of_a_year(shape: &ShapeEvidence) -> bool {
    let candidates = shape.readings.candidates().iter().zip(&shape.spans);
    let mut of_years =
        candidates.filter(|(candidate, _)| candidate.usual && candidate.form.kind() == Kind::Year);
    of_years.any(|(_, span)| years(span).is_some_and(|(_, last)| last <= LAST_OF_DAYS))
}

/// Whether the numbers of `shape` count to instants before 9 September 2001 alone: of nine
/// digits, as any number of an account or a telephone may have.
pub(super) fn are_early_instants(shape: &ShapeEvidence) -> bool {
    let candidates = shape.readings.candidates().iter().zip(&shape.spans);
    let mut counted = candidates.filter(|(candidate, _)| {
        candidate.form.bare_count().is_some() && candidate.form.kind() == Kind::Instant
    });
    counted.any(|(_, span)| years(span).is_some_and(|(_, last)| last <= LAST_OF_NINE_DIGITS))
}

/// 999,999,999 seconds after 1970 began.
const LAST_OF_NINE_DIGITS: i16 = 2001;

/// 31 December, as a year.
const LAST_OF_DAYS: i16 = 1231;

/// Whether the numbers of `shape` may be read as counts without being declared:
/// the column's name says dates and they are days of our time, or its written
/// dates are of the same years.
pub(super) fn counts_fit(
    name: &str,
    evidence: &ColumnEvidence,
    shape: &ShapeEvidence,
    today: Date,
) -> bool {
    let (counted, written) = spans(evidence);
    are_within(&counted, &written)
        || Header::of(name).is_about_dates() && is_of_our_time(shape, today)
}

/// Whether the counts are of the years that are written.
fn are_within(counted: &Span, written: &Span) -> bool {
    match (years(counted), years(written)) {
        (Some((from, to)), Some((first, last))) => from >= first - 1 && to <= last + 1,
        _ => false,
    }
}

/// The other origin that the workbook days of a column may be counted from,
/// where nothing but its name says that they are days: a workbook counts from
/// 1900 or from 1904, and four years later are as plausible unless they lie
/// ahead.
pub(crate) fn other_origin(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    today: Date,
) -> Option<Form> {
    let [FormRuling::Settled(form)] = &ruling.read.forms[..] else {
        return None;
    };
    let (counted, written) = spans(evidence);
    let latest = counted.latest?.date()?;
    let later = latest.checked_add(YEARS_BETWEEN_ORIGINS.years()).ok()?;
    let is_plausible =
        form.count() == Some(Count::WORKBOOK) && later <= today && !are_within(&counted, &written);
    is_plausible.then(|| Form::of_count(Count::WORKBOOK_1904))
}

/// Workbooks count from 1900 or from 1904.
const YEARS_BETWEEN_ORIGINS: i64 = 4;
