//! What speaks against reading cells as dates or times at all.

use super::FormSource;
use crate::calendar::Calendar;
use crate::evidence::{ShapeEvidence, Tally};
use crate::form::Form;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, Shape, State};
use crate::settle::weight::Weight;
use crate::settle::{clocks, temporal, years};

/// Rules out forms that read no cell, or cells of their shape by chance, that take
/// clock-like cells for lengths of time without a reason, numbers for counts of no time of
/// ours, and small numbers for years.
pub(super) struct Plausible;

impl FormSource for Plausible {
    fn conclude(&self, column: &mut Column<'_>) {
        let declared = column.declared;
        let are_forms_declared = !declared.forms.is_empty();
        let is_elapsed =
            !are_forms_declared && clocks::is_elapsed(column.name, column.evidence, declared);
        let are_counts_said = are_forms_declared
            || declared
                .by_example
                .iter()
                .any(|form| form.bare_count().is_some());
        let years_are_said = are_forms_declared
            || declared.calendar.is_some()
            || declared.locale.calendar() != Calendar::Gregory;
        for Shape { evidence, state } in &mut column.shapes {
            let State::Ruled(ruling) = state else {
                continue;
            };
            let any = |test: &dyn Fn(&Form) -> bool| ruling.alternatives().iter().any(test);
            let is_plausible = evidence.count(|tally| !tally.outcome.is_unreadable()) > 0
                && (declared.is_order_said() || !reads_by_chance(evidence))
                && (is_elapsed || are_forms_declared || !is_unlikely_length(evidence, ruling))
                && (years_are_said || !any(&|form| years::has_short_year(evidence, form)))
                && (are_counts_said
                    || !any(&|form| form.bare_count().is_some())
                    || years::counts_fit(column.name, column.evidence, evidence, column.today))
                && (are_forms_declared
                    || declared.temporal
                    || !any(&|form| Weight::of(form) == Weight::Bare)
                    || years::is_of_our_time(evidence, column.today));
            if !is_plausible {
                *state = State::NotOfColumn;
            }
        }
    }
}

/// Whether so many different cells of a shape are dates in no usual order that those which
/// are may be by chance: `8.16.36` stands among `20.45.38` where times have points. What
/// one order reads most of is no chance.
fn reads_by_chance(shape: &ShapeEvidence) -> bool {
    let candidates = shape.readings.candidates();
    let reads = |index: usize| shape.count(|tally| tally.outcome.may_be(index));
    let best = (0..candidates.len()).map(reads).max().unwrap_or_default();
    let is_left = |tally: &Tally| {
        let mut usual = (0..candidates.len()).filter(|index| candidates[*index].usual);
        // The same text all over stands for nothing, and says nothing of the others.
        tally.second.is_some() && !usual.any(|index| tally.outcome.may_be(index))
    };
    let left = shape.count(is_left);
    temporal::has_order(shape)
        && left >= LEAST_LEFT
        && left * LEFT_ONE_IN >= shape.cells()
        && 2 * best < shape.cells()
}

/// So many cells without a usual reading are no slips …
const LEAST_LEFT: u64 = 5;

/// … where they are one in so many.
const LEFT_ONE_IN: u64 = 4;

/// Whether `form` takes clock-like cells for lengths of time, though nothing
/// says that they are.
fn is_unlikely_length(shape: &ShapeEvidence, form: &FormRuling) -> bool {
    let candidates = shape.readings.candidates().iter();
    let unlikely = |form: &Form| {
        form.elapsed().is_some()
            && candidates
                .clone()
                .any(|candidate| candidate.form == *form && !candidate.usual)
    };
    form.alternatives().iter().any(unlikely)
}
