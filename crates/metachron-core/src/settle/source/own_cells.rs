//! Level 3: one form, one order.

use super::FormSource;
use crate::evidence::ShapeEvidence;
use crate::settle::column::{Column, State};
use crate::settle::order::live_orders;

/// The cells of a form themselves: where one order only is possible for all of
/// them, it holds for the ambiguous ones among them.
pub(super) struct OwnCells;

impl FormSource for OwnCells {
    fn conclude(&self, column: &mut Column<'_>) {
        column.decide(|shape| {
            let mut live = live_orders(shape);
            // Several ways of writing, and no cell that they read differently.
            if let [first, _, ..] = live[..]
                && !shape.readings.candidates()[first].form.has_numeric_month()
                && read_alike(shape, &live)
            {
                live.truncate(1);
            }
            Some(State::among(shape, &live))
        });
    }
}

/// Whether no cell is read differently by these candidates.
fn read_alike(shape: &ShapeEvidence, indexes: &[usize]) -> bool {
    shape.count(|tally| tally.outcome.differs_among(indexes)) == 0
}
