//! Months and quarters that the column's name names: `2/2021` under `quarter` is no
//! February, and `202108` under `month` no day.

use super::header::Header;
use crate::evidence::ShapeEvidence;
use crate::reading::BARE_YEARS;

/// The candidate of the kind that the column's name names, where it reads every
/// cell of `shape` that any candidate reads, in years that digits may be.
pub(super) fn named_period(name: &str, shape: &ShapeEvidence) -> Option<usize> {
    let named = Header::of(name).period()?;
    let candidates = shape.readings.candidates();
    let reads_all = |index: &usize| {
        let readable = shape.count(|tally| !tally.outcome.is_unreadable());
        readable > 0 && shape.count(|tally| tally.outcome.may_be(*index)) == readable
    };
    let is_of_our_time = |index: &usize| {
        let span = &shape.spans[*index];
        // Years far from ours are in no span.
        let ends = [span.earliest, span.latest].map(|end| end.and_then(|end| end.year()));
        (ends.into_iter()).all(|year| year.is_some_and(|year| BARE_YEARS.contains(&year)))
    };
    (0..candidates.len())
        .filter(|index| candidates[*index].form.kind() == named)
        .find(|index| reads_all(index) && is_of_our_time(index))
}
