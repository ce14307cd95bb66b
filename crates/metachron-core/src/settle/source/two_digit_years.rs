//! Which of two pairs of digits is the year and which the day, by how they are
//! spread: `20/04/22` and `31/01/24` among hundreds of `dd/MM/yy`.
//!
//! Days go evenly from 1 to 31. Years are few, and of the past. A column whose
//! first digits do the one and whose last the other would be, read the other
//! way round, one of years that go from 2001 to 2031 and end with it, on a few
//! days of the month. (A file of nearly all of those years, on two or three
//! days of each month, would be read wrongly.)

use super::FormSource;
use crate::evidence::{ColumnEvidence, ShapeEvidence};
use crate::form::Order;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, as_written};
use crate::settle::header::Header;
use crate::settle::order::open_orders;
use jiff::civil::Date;
use std::collections::BTreeSet;

/// Settles a form that is open between a year in front and one behind.
pub(super) struct TwoDigitYears;

impl FormSource for TwoDigitYears {
    fn conclude(&self, column: &mut Column<'_>) {
        if column.declared.order.is_some() || !column.declared.forms.is_empty() {
            return;
        }
        let (name, evidence, today) = (column.name, column.evidence, column.today);
        for (shape, ruling) in column.ruled_mut() {
            let FormRuling::Open(_) = ruling else {
                continue;
            };
            if let Some(spread) = spread(name, evidence, shape, today) {
                let candidate = &shape.readings.candidates()[spread.index];
                let form = as_written(&candidate.form, shape, spread.index);
                *ruling = FormRuling::Settled(form);
            }
        }
    }
}

/// How days and years are spread, where that says which is which.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Spread {
    /// The candidate that it leaves.
    pub index: usize,
    /// Its order.
    pub order: Order,
    /// How many different years it has.
    pub years: u64,
    /// How many different days.
    pub days: u64,
    /// The earliest and the latest year that the other order would have.
    pub other_years: (i16, i16),
    /// How many cells there are.
    pub cells: u64,
}

/// More different years than this may as well be days.
const MOST_YEARS: usize = 12;

/// Were the years days of the month, so few different ones would be there by
/// chance in fewer than one of so many columns.
const FEW_ONE_IN: f64 = 1e6;

/// The days leave out no more than chance does in one of so many columns: years
/// that go from 2005 to 2031 never are from 1 to 4 …
const MISSING_ONE_IN: f64 = 1e3;

/// … of at least so many cells: as many as it takes for years that go from 2005 to 2030 to
/// be no days …
const LEAST_CELLS: u64 = 40;

/// … and were they years, would go so many years past ours.
const YEARS_AHEAD: i16 = 3;

/// The days of a month.
const DAYS: f64 = 31.0;

/// What the spread of days and years says about the cells of `shape`.
pub fn spread(
    name: &str,
    evidence: &ColumnEvidence,
    shape: &ShapeEvidence,
    today: Date,
) -> Option<Spread> {
    let open = open_orders(shape);
    let candidates = shape.readings.candidates();
    let of = |order| {
        let is_it = |index: &usize| {
            let candidate = &candidates[*index];
            candidate.order() == Some(order) && candidate.reader.has_two_digit_year()
        };
        open.iter().copied().find(is_it)
    };
    if of(Order::Mdy).is_some() {
        return None;
    }
    let (behind, in_front) = (of(Order::Dmy)?, of(Order::Ymd)?);
    let is_ahead = Header::of(name).is_ahead();
    let written = written_years(evidence);
    let mut told = [(behind, in_front), (in_front, behind)]
        .into_iter()
        .filter_map(|(index, other)| {
            let years: BTreeSet<i16> = years(shape, index);
            let days = self::years(shape, other);
            let cells = shape.count(|tally| tally.outcome.may_be(index));
            let is_told = are_few(years.len(), cells)
                && (are_days(&days, cells, today) && !is_ahead && *years.last()? <= today.year()
                    || written.is_some_and(|written| {
                        are_within(&years, written) && are_outside(&days, written)
                    }));
            is_told.then_some(Spread {
                index,
                order: if index == behind {
                    Order::Dmy
                } else {
                    Order::Ymd
                },
                years: years.len() as u64,
                days: days.len() as u64,
                other_years: (*days.first()?, *days.last()?),
                cells,
            })
        });
    told.next().filter(|_| told.next().is_none())
}

/// The years that the candidate at `index` reads, as 20yy.
fn years(shape: &ShapeEvidence, index: usize) -> BTreeSet<i16> {
    let years = shape.spans[index].short_years.keys();
    years.map(|&year| 2000 + i16::from(year)).collect()
}

/// The natural logarithm of how likely so many random days of the month are no
/// more than so many different ones.
fn chance_of(different: usize, cells: u64) -> f64 {
    let different = different as f64;
    let ways: f64 = (0..different as u64)
        .map(|taken| ((DAYS - taken as f64) / (taken + 1) as f64).ln())
        .sum();
    ways + cells as f64 * (different / DAYS).ln()
}

/// Whether so few different numbers are no days of the month.
fn are_few(different: usize, cells: u64) -> bool {
    different <= MOST_YEARS && chance_of(different, cells) < -FEW_ONE_IN.ln()
}

/// Whether these numbers, as 20yy, are days of the month rather than years.
fn are_days(years: &BTreeSet<i16>, cells: u64, today: Date) -> bool {
    let (Some(&first), Some(&last)) = (years.first(), years.last()) else {
        return false;
    };
    let range = f64::from(last - first + 1) / DAYS;
    let chance = chance_of(years.len(), cells).min(cells as f64 * range.ln());
    cells >= LEAST_CELLS && chance >= -MISSING_ONE_IN.ln() && last > today.year() + YEARS_AHEAD
}

/// The first and the last year of the dates in the column that have four digits
/// of them.
fn written_years(evidence: &ColumnEvidence) -> Option<(i16, i16)> {
    let mut written: Option<(i16, i16)> = None;
    for shape in &evidence.shapes {
        let candidates = shape.readings.candidates().iter().zip(&shape.spans);
        let usual = candidates.filter(|(candidate, _)| {
            candidate.usual && candidate.order().is_some() && !candidate.reader.has_two_digit_year()
        });
        for (_, span) in usual {
            let ends = span.earliest.and_then(|stamp| stamp.date());
            let ends = ends.zip(span.latest.and_then(|stamp| stamp.date()));
            if let Some((earliest, latest)) = ends {
                let (first, last) = written.unwrap_or((earliest.year(), latest.year()));
                written = Some((first.min(earliest.year()), last.max(latest.year())));
            }
        }
    }
    written
}

/// Whether all of these are years of the written dates.
fn are_within(years: &BTreeSet<i16>, (first, last): (i16, i16)) -> bool {
    years.iter().all(|year| (first..=last).contains(year))
}

/// Whether most of these are none.
fn are_outside(years: &BTreeSet<i16>, (first, last): (i16, i16)) -> bool {
    let within = years.iter().filter(|year| (first..=last).contains(year));
    within.count() * 2 < years.len()
}
