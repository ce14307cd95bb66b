//! The order of the rows against what decisive cells have settled: the first
//! rows of a file may have been written in another order than the rest, and
//! none of them says so by itself.

use super::FormSource;
use crate::evidence::ShapeEvidence;
use crate::form::Form;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, as_written};
use crate::settle::order::is_disputed;

/// Opens a form again that its decisive cells settled, where the rows would
/// not stand in time order if its other cells were read so.
pub(super) struct TimeOrder;

impl FormSource for TimeOrder {
    fn conclude(&self, column: &mut Column<'_>) {
        let declared = column.declared;
        let is_declared = !declared.forms.is_empty()
            || declared.order.is_some()
            || !declared.by_example.is_empty()
            || !declared.locale.is_empty();
        if is_declared {
            return;
        }
        let steps = &column.evidence.in_time;
        for (shape, ruling) in column.ruled_mut() {
            let FormRuling::Settled(form) = ruling else {
                continue;
            };
            let is_disputed = form.order().is_some_and(|order| is_disputed(steps, order));
            let rivals = rivals(form, shape);
            if is_disputed && !rivals.is_empty() {
                *ruling = FormRuling::Open([vec![form.clone()], rivals].concat());
            }
        }
    }
}

/// The usual forms of another order that can read some of the cells.
fn rivals(form: &Form, shape: &ShapeEvidence) -> Vec<Form> {
    let candidates = shape.readings.candidates().iter().enumerate();
    let others = candidates.filter(|(index, candidate)| {
        candidate.usual
            && candidate
                .order()
                .is_some_and(|order| Some(order) != form.order())
            && shape.count(|tally| tally.outcome.reads(*index)) > 0
    });
    others
        .map(|(index, candidate)| as_written(&candidate.form, shape, index))
        .collect()
}
