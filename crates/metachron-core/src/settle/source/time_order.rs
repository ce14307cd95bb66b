//! The order of the rows against what decisive cells have settled: the first
//! rows of a file may have been written in another order than the rest, and
//! none of them says so by itself.

use super::FormSource;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, open_again};
use crate::settle::order::is_disputed;

/// Opens a form again that its decisive cells settled, where the rows would
/// not stand in time order if its other cells were read so.
pub(super) struct TimeOrder;

impl FormSource for TimeOrder {
    fn conclude(&self, column: &mut Column<'_>) {
        if column.declared.is_order_said() || !column.declared.locale.is_empty() {
            return;
        }
        let steps = &column.evidence.in_time;
        for (shape, ruling) in column.ruled_mut() {
            let FormRuling::Settled(form) = ruling else {
                continue;
            };
            let is_disputed = form.order().is_some_and(|order| is_disputed(steps, order));
            if is_disputed {
                *ruling = open_again(form, shape);
            }
        }
    }
}
