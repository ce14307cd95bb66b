//! Few cells that say which end of a two-digit date the year is at: `10/04/1`, cut off,
//! among dates such as `25/11/16`.
//!
//! Read with the year in front, most dates of `dd/MM/yy` are dates too. A cell that has
//! one digit where the others have two, or a year that no day is, must not settle hundreds
//! of others: they would be years and days of each other.

use super::FormSource;
use crate::evidence::ShapeEvidence;
use crate::form::Order;
use crate::settle::column::Column;
use crate::settle::order::{decisive_and_ambiguous, rivals};

/// Fewer decisive cells than one in so many: were they right, their like would not be so
/// rare.
const DECISIVE_ONE_IN: u64 = 10;

/// Opens such a form again.
pub(super) struct FewYearWitnesses;

impl FormSource for FewYearWitnesses {
    fn conclude(&self, column: &mut Column<'_>) {
        column.open_again_where(|shape, index| few_year_witnesses(shape, index).is_some());
    }
}

/// The cells of a form of which too few say where its year is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FewWitnesses {
    /// The order that its decisive cells say.
    pub order: Order,
    /// How many cells they are.
    pub decisive: u64,
    /// How many cells have several readings.
    pub ambiguous: u64,
}

/// Whether so few cells of `shape` say that the year is where the candidate at `index` has
/// it, and another has it at the other end.
pub fn few_year_witnesses(shape: &ShapeEvidence, index: usize) -> Option<FewWitnesses> {
    let candidates = shape.readings.candidates();
    let order = candidates[index].order()?;
    if !candidates[index].reader.has_two_digit_year() {
        return None;
    }
    let is_at_other_end = |&rival: &usize| {
        let other = candidates[rival].order();
        other.is_some_and(|other| other.starts_with_year() != order.starts_with_year())
    };
    let rivals: Vec<usize> = rivals(Some(order), shape)
        .into_iter()
        .filter(is_at_other_end)
        .collect();
    let (decisive, ambiguous) = decisive_and_ambiguous(shape, index, &rivals);
    let are_few = decisive > 0 && decisive * DECISIVE_ONE_IN <= ambiguous;
    are_few.then_some(FewWitnesses {
        order,
        decisive,
        ambiguous,
    })
}
