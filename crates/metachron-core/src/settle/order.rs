//! Level 3: one form, one order.

use crate::evidence::{ShapeEvidence, TimeSteps};
use crate::form::{DayMonth, Form, Order};
use crate::reading::Outcome;

/// Cells that only an unusual order can read are slips of the pen as long as
/// they are no more than one in so many of those that a usual order can read.
/// `2024-13-05` does not make a year-day-month file of a thousand ISO dates.
const SLIPS_ONE_IN: u64 = 100;

/// Cells that only another order can read are slips as well, and listed, where
/// they are no more than one in so many of those that only this one can. Were
/// they another writer's, two in three more of theirs could be either: of the
/// ambiguous cells fewer than one in 700 would be read wrongly, and the list
/// says where to look.
const CONTRADICTING_ONE_IN: u64 = 500;

/// How many more cells that only another order can read it takes until a form
/// that its own cells settled is open, where so many can only have its order,
/// and so many another.
pub fn contradicting_until_open(own: u64, contradicting: u64) -> u64 {
    (own / CONTRADICTING_ONE_IN + 1).saturating_sub(contradicting)
}

/// Which candidates of a shape may be right for its cells.
///
/// Their indexes; one means that the form is settled. A candidate that reads
/// every readable cell is possible; if none does, the cells clash, and all
/// that read any of them stay possible, unless the cells that clash are slips.
pub fn live_orders(shape: &ShapeEvidence) -> Vec<usize> {
    let candidates = shape.readings.candidates();
    // Clock-like cells are lengths of time where the column says so, and not
    // because one of them is no time of day.
    // A swap of day and month is no order that anybody writes.
    let is_order =
        |form: &Form| form.elapsed().is_none() && form.day_month() == DayMonth::AsWritten;
    let all: Vec<usize> = (0..candidates.len())
        .filter(|&index| candidates[index].usual || is_order(&candidates[index].form))
        .collect();
    let usual: Vec<usize> = all
        .iter()
        .copied()
        .filter(|&index| candidates[index].usual)
        .collect();
    let usual_reads = |outcome: &Outcome| usual.iter().any(|&index| outcome.may_be(index));
    let by_usual = shape.count(|tally| usual_reads(&tally.outcome));
    let unusual_reads = |outcome: &Outcome| {
        let unusual = all.iter().filter(|index| !usual.contains(index));
        unusual.into_iter().any(|&index| outcome.may_be(index))
    };
    let by_unusual_alone =
        shape.count(|tally| !usual_reads(&tally.outcome) && unusual_reads(&tally.outcome));
    let by_usual_alone =
        shape.count(|tally| usual_reads(&tally.outcome) && !unusual_reads(&tally.outcome));
    // Nobody writes year, day and month among ISO dates: `2020-13-01` is a slip
    // where some cells have a day past the 12th behind.
    let are_slips =
        by_unusual_alone * SLIPS_ONE_IN <= by_usual || by_unusual_alone < by_usual_alone;
    let in_play = if are_slips { usual } else { all };
    live_among(shape, &in_play)
}

/// That rows stand in time order is believed from so many steps between known
/// cells on …
pub const LEAST_IN_ORDER: u64 = 20;

/// … of which no more than one in so many breaks it.
pub const BREAKS_ONE_IN: u64 = 100;

/// Whether the rows stand in time order as far as they are known, and would
/// not if the open ones were read by `order`: the first rows of a file may have
/// been written in another order than the rest, and none of them says so by
/// itself.
pub(super) fn is_disputed(in_time: &TimeSteps, order: Order) -> bool {
    let known = &in_time.known;
    let in_order = known.up.max(known.down) >= LEAST_IN_ORDER
        && is_kept(known.up.max(known.down), known.breaks());
    in_order
        && in_time
            .under(order)
            .is_some_and(|steps| steps.breaks() > known.breaks())
}

/// Whether so few steps break an order in time that the others keep it.
pub fn is_kept(steps: u64, breaks: u64) -> bool {
    breaks * BREAKS_ONE_IN <= steps
}

/// The usual candidates of another order than `order` that can read some of the
/// cells.
pub(super) fn rivals(order: Option<Order>, shape: &ShapeEvidence) -> Vec<usize> {
    let candidates = shape.readings.candidates().iter().enumerate();
    let others = candidates.filter(|(index, candidate)| {
        candidate.usual
            && candidate.order().is_some_and(|other| Some(other) != order)
            && shape.count(|tally| tally.outcome.reads(*index)) > 0
    });
    others.map(|(index, _)| index).collect()
}

/// How many cells only the candidate at `index` reads, and how many it and one of `rivals`
/// do.
pub(super) fn decisive_and_ambiguous(
    shape: &ShapeEvidence,
    index: usize,
    rivals: &[usize],
) -> (u64, u64) {
    let by_rival = |outcome: &Outcome| rivals.iter().any(|&rival| outcome.may_be(rival));
    let own = |is_by_rival: bool| {
        shape.count(|tally| tally.outcome.may_be(index) && by_rival(&tally.outcome) == is_by_rival)
    };
    (own(false), own(true))
}

/// How many cells can only have another order than that of the candidate at
/// `index`, where they are more than slips.
pub(super) fn contradicting(shape: &ShapeEvidence, index: usize) -> Option<u64> {
    let rivals = rivals(shape.readings.candidates()[index].order(), shape);
    let by_rival = |outcome: &Outcome| rivals.iter().any(|&rival| outcome.may_be(rival));
    let own = shape.count(|tally| tally.outcome.may_be(index) && !by_rival(&tally.outcome));
    let others = shape.count(|tally| !tally.outcome.may_be(index) && by_rival(&tally.outcome));
    (others > 0 && contradicting_until_open(own, others) == 0).then_some(others)
}

/// The candidates of a shape that read every readable cell of it, where there are
/// several: its cells leave them open, and contradict none.
pub(super) fn open_orders(shape: &ShapeEvidence) -> Vec<usize> {
    let mut open = live_orders(shape);
    open.retain(|&index| {
        let is_unread = |outcome: &Outcome| !outcome.may_be(index) && !outcome.is_unreadable();
        shape.count(|tally| is_unread(&tally.outcome)) == 0
    });
    if open.len() < 2 {
        open.clear();
    }
    open
}

pub(super) fn live_among(shape: &ShapeEvidence, in_play: &[usize]) -> Vec<usize> {
    let readable = |outcome: &Outcome| in_play.iter().any(|&index| outcome.may_be(index));
    let reads_all = |index: usize| {
        shape.count(|tally| readable(&tally.outcome) && !tally.outcome.may_be(index)) == 0
    };
    let reads_any = |index: usize| shape.count(|tally| tally.outcome.may_be(index)) > 0;
    let whole: Vec<usize> = in_play
        .iter()
        .copied()
        .filter(|&index| reads_all(index) && reads_any(index))
        .collect();
    if !whole.is_empty() {
        return whole;
    }
    let unread = |index: usize| {
        shape.count(|tally| readable(&tally.outcome) && !tally.outcome.may_be(index))
    };
    let any: Vec<usize> = in_play.iter().copied().filter(|&p| reads_any(p)).collect();
    let fewest = any.iter().map(|&index| unread(index)).min().unwrap_or(0);
    let (best, others): (Vec<usize>, Vec<usize>) =
        any.iter().partition(|&&index| unread(index) == fewest);
    let are_slips = |&other: &usize| fewest * CONTRADICTING_ONE_IN <= unread(other);
    if others.iter().all(are_slips) {
        best
    } else {
        any
    }
}
