//! Digits behind a date that are a running number, and no time or offset:
//! `20240305_0012`, `202403051430-0012`.

use crate::evidence::{ColumnEvidence, ShapeEvidence};

/// So many cells all in the first hour of the day are there by chance once in
/// eight million columns …
const LEAST_CELLS: u64 = 5;

/// … and of times, no more than one in so many is none.
const FAILS_ONE_IN: u64 = 20;

/// How many cells have digits behind a date that hardly are a time: all of the
/// first hour, or many no time at all; or an offset that no zone has. Of a few cells
/// nobody knows what stands behind a hyphen, unless the column's name `is_about_time`:
/// personal numbers look the same (`19811218-0912`).
pub(super) fn running_numbers(evidence: &ColumnEvidence, is_about_time: bool) -> Option<u64> {
    let are_numbers = |shape: &&ShapeEvidence| {
        let candidates = || shape.readings.candidates().iter();
        let unreadable = shape.count(|tally| tally.outcome.is_unreadable());
        let cells = shape.cells();
        let has_time = candidates().any(|candidate| candidate.form.has_time_in_digits());
        let has_hyphen = candidates().any(|candidate| candidate.form.has_hyphen_before_hour());
        let has_offset = candidates().any(|candidate| candidate.form.has_offset_behind_digits());
        has_time && shape.hours_in_digits == 1 && cells >= LEAST_CELLS
            || has_time && has_hyphen && cells < LEAST_CELLS && !is_about_time
            || has_time && unreadable * FAILS_ONE_IN > cells
            || has_offset && shape.offsets.are_odd
    };
    let cells = evidence.shapes.iter().filter(are_numbers);
    let cells: u64 = cells.map(ShapeEvidence::cells).sum();
    (cells > 0).then_some(cells)
}
