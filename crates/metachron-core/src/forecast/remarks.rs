//! What a person should know about a column.

use super::{Judged, shifted};
use crate::calendar::{Calendar, suggested_by};
use crate::decide::{Judgement, ShapePlan};
use crate::evidence::{ColumnEvidence, Hint};
use crate::form::Order;
use crate::rulings::ColumnRuling;
use crate::settle::{fitting_locales, has_short_year};
use crate::stamp::Kind;
use crate::words::{self, count};
use jiff::civil::Date;

/// What other columns say that the cells leave out.
fn said_in_row(ruling: &ColumnRuling) -> Vec<String> {
    let said = [
        ("the year is that", &ruling.read.year_from),
        ("a.m. or p.m. is that", &ruling.read.half_of_day_from),
    ];
    let said = said.into_iter().filter_map(|(what, column)| {
        let column = column.as_ref()?;
        Some(format!("{what} of `{column}` in the same row"))
    });
    said.collect()
}

pub(super) fn remarks(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    plans: &[ShapePlan],
    judged: &[Judged<'_>],
) -> Vec<String> {
    let mut remarks = said_in_row(ruling);
    remarks.extend(other_calendar(evidence, ruling));
    remarks.extend(languages(evidence, ruling));
    remarks.extend(wrongly_declared(evidence, ruling, plans));
    remarks.extend(shifted::midnights(evidence, ruling));
    remarks.extend(shifted::one_zone(evidence, ruling));
    let kind_of = |cell: &Judged<'_>| match cell.judgement {
        Judgement::Certain(index) | Judgement::Settled(index) => Some(
            plans[cell.shape].readings().candidates()[index]
                .reader
                .kind(),
        ),
        _ => None,
    };
    let cells_that = |test: &dyn Fn(&Judged<'_>) -> bool| -> u64 {
        let counted = judged.iter().filter(|cell| test(cell));
        counted.map(|cell| cell.count).sum()
    };
    if ruling.kind == Kind::DateTime {
        let dates = cells_that(&|cell| kind_of(cell) == Some(Kind::Date));
        if dates > 0 {
            remarks.push(format!(
                "{} a date and no time; {} midnight",
                match dates {
                    1 => "1 cell has".to_owned(),
                    _ => format!("{} cells have", words::number(dates)),
                },
                match dates {
                    1 => "it gets",
                    _ => "they get",
                }
            ));
        }
        if dates == 0 && all_midnights(evidence) {
            remarks.push(
                "every time of day is midnight; if these are dates, set kind = \"date\"".to_owned(),
            );
        }
    }
    remarks
}

/// That all cells of a form fit another order than the declared one, which many
/// do not fit: people mix up how the source is written and how the result is
/// to be.
fn wrongly_declared(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    plans: &[ShapePlan],
) -> Option<String> {
    if ruling.read.order.is_none() && ruling.read.locale.is_empty() {
        return None;
    }
    let said = match (ruling.read.order, &ruling.read.locale.0[..]) {
        (None, [tag]) => format!("--read-locale {tag}"),
        (None, _) => "--read-locale".to_owned(),
        (Some(order), _) => format!("--read-order {order}"),
    };
    evidence.shapes.iter().zip(plans).find_map(|(shape, plan)| {
        let candidates = plan.readings().candidates();
        // Of forms that are open, that of the declared locale is the first.
        let ruled = plan.choices().first()?.indexes().first()?;
        let order = candidates[*ruled].order()?;
        let readable = shape.count(|tally| !tally.outcome.is_unreadable());
        let fails = shape.count(|tally| {
            !tally.outcome.is_unreadable() && !tally.outcome.reads(*ruled)
        });
        let fits_all = |index: &usize| {
            shape.count(|tally| tally.outcome.reads(*index)) == readable
                && candidates[*index].usual
                && candidates[*index].order().is_some_and(|other| other != order)
        };
        let other = (0..candidates.len()).find(fits_all)?;
        (fails > 0).then(|| {
            format!(
                "{said} says {}, but all {} of {} fit {}, and {} cannot be {}. Options that begin \
                 with --read- say how the source is written; for the result there is --write-locale",
                order.words(),
                count(readable, "cell"),
                candidates[other].form,
                candidates[other].order().map_or("", Order::words),
                words::number(fails),
                order.words(),
            )
        })
    })
}

/// At most so many languages are named.
const LANGUAGES_NAMED: usize = 5;

/// Whose names the column holds, and who else has all of them.
fn languages(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Option<String> {
    let [chosen] = &ruling.read.locale.0[..] else {
        return None;
    };
    let others: Vec<String> = fitting_locales(&evidence.names)
        .into_iter()
        .filter(|tag| tag.language_and_script() != chosen.language_and_script())
        .map(|tag| tag.to_string())
        .collect();
    let named = &others[..others.len().min(LANGUAGES_NAMED)];
    let more = match others.len() - named.len() {
        0 => String::new(),
        more => format!(" and {more} more"),
    };
    match (evidence.names.has_foreign(), named.is_empty()) {
        (false, _) => None,
        (true, true) => Some(format!(
            "its names are those of {chosen}, and of no other language"
        )),
        (true, false) => Some(format!(
            "its names are read as those of {chosen}; {}{more} would fit too",
            words::list(named, "and")
                .replace(" and ", if more.is_empty() { " and " } else { ", " })
        )),
    }
}

/// That the years of the column are those of another calendar, perhaps, or
/// that a source may have written Julian dates.
fn other_calendar(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Vec<String> {
    if ruling.read.conventions().calendar != Calendar::Gregory {
        return Vec::new();
    }
    let days = evidence.shapes.iter().flat_map(|shape| {
        let spans = shape.readings.candidates().iter().zip(&shape.spans);
        spans
            .filter(|(candidate, _)| {
                candidate.usual
                    && candidate.form.bare_count().is_none()
                    && !has_short_year(shape, &candidate.form)
            })
            .flat_map(|(_, span)| [span.earliest, span.latest])
            .flatten()
            .filter_map(|stamp| stamp.date())
    });
    let (mut first, mut last) = (None::<Date>, None::<Date>);
    for day in days {
        first = Some(first.map_or(day, |known| known.min(day)));
        last = Some(last.map_or(day, |known| known.max(day)));
    }
    let (Some(first), Some(last)) = (first, last) else {
        return Vec::new();
    };
    let mut remarks = Vec::new();
    let calendars = suggested_by(first.year()..=last.year()).iter();
    let settings: Vec<String> = calendars
        .map(|calendar| format!("read.calendar = \"{}\"", calendar.name()))
        .collect();
    if !settings.is_empty() {
        remarks.push(format!(
            "its years, {} to {}, may be those of another calendar; if so, say it: {}",
            first.year(),
            last.year(),
            words::list(&settings, "or")
        ));
    }
    if first < REFORM && remarks.is_empty() {
        remarks.push(
            "days before 1582-10-15 are read in the Gregorian calendar, extended backwards; if the \
             source wrote Julian dates, set read.calendar = \"julian\" for them"
                .to_owned(),
        );
    }
    remarks
}

/// The first day of the Gregorian calendar.
const REFORM: Date = jiff::civil::date(1582, 10, 15);

fn all_midnights(evidence: &ColumnEvidence) -> bool {
    let tallies = || evidence.shapes.iter().flat_map(|shape| &shape.tallies);
    let mut readable = tallies().filter(|tally| !tally.outcome.is_unreadable());
    tallies().any(|tally| tally.hint == Hint::Midnight)
        && readable.all(|tally| tally.hint == Hint::Midnight)
}
