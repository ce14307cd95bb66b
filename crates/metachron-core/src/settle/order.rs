//! Level 3: one form, one order.

use crate::evidence::ShapeEvidence;
use crate::reading::Outcome;

/// Cells that only an unusual order can read are slips of the pen as long as
/// they are no more than one in so many of those that a usual order can read.
/// `2024-13-05` does not make a year-day-month file of a thousand ISO dates.
const SLIPS_ONE_IN: u64 = 100;

/// Which candidates of a shape may be right for its cells.
///
/// Their places; one means that the form is settled. A candidate that reads
/// every readable cell is possible; if none does, the cells clash, and all
/// that read any of them stay possible.
pub fn live_orders(shape: &ShapeEvidence) -> Vec<usize> {
    let candidates = shape.readings.candidates();
    // Clock-like cells are lengths of time where the column says so, and not
    // because one of them is no time of day.
    let all: Vec<usize> = (0..candidates.len())
        .filter(|&place| candidates[place].usual || candidates[place].form.elapsed().is_none())
        .collect();
    let usual: Vec<usize> = all
        .iter()
        .copied()
        .filter(|&place| candidates[place].usual)
        .collect();
    let usual_reads = |outcome: Outcome| usual.iter().any(|&place| reads(outcome, place));
    let by_usual = shape.count(|tally| usual_reads(tally.outcome));
    let by_unusual_alone = shape.count(|tally| {
        !usual_reads(tally.outcome) && all.iter().any(|&place| reads(tally.outcome, place))
    });
    let in_play = match by_unusual_alone * SLIPS_ONE_IN <= by_usual {
        true => usual,
        false => all,
    };
    live_among(shape, &in_play)
}

pub(super) fn live_among(shape: &ShapeEvidence, in_play: &[usize]) -> Vec<usize> {
    let readable = |outcome: Outcome| in_play.iter().any(|&place| reads(outcome, place));
    let reads_all = |place: usize| {
        shape.count(|tally| readable(tally.outcome) && !reads(tally.outcome, place)) == 0
    };
    let reads_any = |place: usize| shape.count(|tally| reads(tally.outcome, place)) > 0;
    let whole: Vec<usize> = in_play
        .iter()
        .copied()
        .filter(|&place| reads_all(place) && reads_any(place))
        .collect();
    match whole.is_empty() {
        false => whole,
        true => in_play.iter().copied().filter(|&p| reads_any(p)).collect(),
    }
}

fn reads(outcome: Outcome, place: usize) -> bool {
    outcome.reads(place) || outcome.needs_rule(place)
}
