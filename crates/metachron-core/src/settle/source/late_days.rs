//! Days past the twelfth that are missing, in a form that such days settled.
//!
//! Of random dates six in ten have a day past the twelfth. Where all twelve
//! early days are there, and of the nineteen late ones a single one, that one
//! may be a slip, or a row of another hand: it must not settle four hundred
//! others.

use super::FormSource;
use crate::evidence::{DaysSeen, ShapeEvidence};
use crate::form::Order;
use crate::settle::column::Column;
use crate::settle::order::{decisive_and_ambiguous, rivals};

/// Opens a form again whose decisive cells are too few for the days that it
/// would have.
pub(super) struct LateDays;

impl FormSource for LateDays {
    fn conclude(&self, column: &mut Column<'_>) {
        column.open_again_where(|shape, index| missing_late_days(shape, index).is_some());
    }
}

/// The days of a form that has too few past the twelfth.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct MissingLateDays {
    /// The order that its decisive cells say.
    pub order: Order,
    /// How many cells they are.
    pub decisive: u64,
    /// How many cells have several readings.
    pub ambiguous: u64,
    /// How many different days of the month up to the twelfth there are.
    pub early_days: u32,
    /// How many past it.
    pub late_days: u32,
}

/// Were the order right, chance would leave so few late days in fewer than one
/// of so many columns …
const CHANCE_ONE_IN: f64 = 500.0;

/// … and where decisive cells are more than one in so many, they are no slips.
const DECISIVE_ONE_IN: u64 = 20;

/// The last of the days that may be months too.
const LAST_MONTH: u32 = 12;

/// Whether the cells of `shape`, read by the candidate at `index`, miss late
/// days though some have them.
pub fn missing_late_days(shape: &ShapeEvidence, index: usize) -> Option<MissingLateDays> {
    let candidate = &shape.readings.candidates()[index];
    let order = candidate.order()?;
    let rivals = rivals(Some(order), shape);
    let (decisive, ambiguous) = decisive_and_ambiguous(shape, index, &rivals);
    if decisive == 0 || decisive * DECISIVE_ONE_IN > ambiguous {
        return None;
    }
    let days = shape.days_read_by(index)?;
    let is_late = |day: &u32| *day > LAST_MONTH;
    let (late, early): (Vec<u32>, Vec<u32>) = days.of_months().partition(is_late);
    let are_missing =
        chance_of_so_few(early.len(), late.len(), late_share(&days)?) < 1.0 / CHANCE_ONE_IN;
    are_missing.then_some(MissingLateDays {
        order,
        decisive,
        ambiguous,
        early_days: early.len() as u32,
        late_days: late.len() as u32,
    })
}

/// Which share of the days of the year is late, from the first day there is to
/// the last: the first half of a month has few.
fn late_share(days: &DaysSeen) -> Option<f64> {
    let (first, last) = days.ends()?;
    let (mut all, mut late) = (0u32, 0u32);
    for day in first
        .series(jiff::Span::new().days(1))
        .take_while(|day| *day <= last)
    {
        all += 1;
        late += u32::from(u32::from(day.day().unsigned_abs()) > LAST_MONTH);
    }
    Some(f64::from(late) / f64::from(all))
}

/// How likely so few of the different days are late, where each is with
/// probability `share`: the lower tail of the binomial distribution.
fn chance_of_so_few(early: usize, late: usize, share: f64) -> f64 {
    let all = (early + late) as f64;
    let mut term = (1.0 - share).powf(all);
    let mut sum = term;
    for successes in 1..=late {
        let successes = successes as f64;
        term *= (all - successes + 1.0) / successes * share / (1.0 - share);
        sum += term;
    }
    sum
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_lower_tail_of_the_binomial_distribution() {
        for (early, late, share, expected) in [
            (1, 0, 0.5, 0.5),
            (1, 1, 0.5, 0.75),
            (12, 1, 0.6, 0.4f64.powi(13) + 13.0 * 0.6 * 0.4f64.powi(12)),
            (0, 5, 0.6, 1.0),
        ] {
            let chance = chance_of_so_few(early, late, share);
            assert!((chance - expected).abs() < 1e-9, "{early} {late}: {chance}");
        }
    }
}
