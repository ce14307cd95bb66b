//! Level 2: cells of which the user said what they mean.

use super::FormSource;
use crate::settle::column::{Column, State};
use crate::settle::order::live_among;

/// The forms that read the user's examples, as far as the cells allow them.
pub(super) struct Examples;

impl FormSource for Examples {
    fn conclude(&self, column: &mut Column<'_>) {
        let by_example = &column.declared.by_example;
        column.decide(|shape| {
            let candidates = shape.readings.candidates().iter().enumerate();
            let meant = candidates.filter(|(_, candidate)| by_example.contains(&candidate.form));
            let indexes: Vec<usize> = meant.map(|(index, _)| index).collect();
            let live = || State::among(shape, &live_among(shape, &indexes));
            (!indexes.is_empty()).then(live)
        });
    }
}
