//! Clock-like cells that are lengths of time, as declared or as the column says.

use super::FormSource;
use crate::evidence::ShapeEvidence;
use crate::form::Form;
use crate::rulings::FormRuling;
use crate::settle::clocks;
use crate::settle::column::{Column, State};

/// Lengths of time, where they are declared, or the column's name or cells past 24
/// hours say so.
pub(super) struct LengthsOfTime;

impl FormSource for LengthsOfTime {
    fn conclude(&self, column: &mut Column<'_>) {
        if clocks::is_elapsed(column.name, column.evidence, column.declared) {
            column.decide(|shape| lengths_in(shape).map(State::Ruled));
        }
    }
}

/// The lengths of time that clock-like cells are: hours, minutes and seconds,
/// or one of two things where there are no seconds.
fn lengths_in(shape: &ShapeEvidence) -> Option<FormRuling> {
    let candidates = shape.readings.candidates().iter();
    let lengths = candidates.filter(|candidate| candidate.form.elapsed().is_some());
    let lengths: Vec<Form> = lengths.map(|candidate| candidate.form.clone()).collect();
    match &lengths[..] {
        [] => None,
        [one] => Some(FormRuling::Settled(one.clone())),
        _ => Some(FormRuling::Open(lengths)),
    }
}
