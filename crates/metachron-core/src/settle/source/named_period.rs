//! The months or quarters that the column's name names.

use super::FormSource;
use crate::settle::column::{Column, State};
use crate::settle::period::named_period;

/// Settles a form as months or quarters, where the name says so and all of its
/// cells can be.
pub(super) struct NamedPeriod;

impl FormSource for NamedPeriod {
    fn conclude(&self, column: &mut Column<'_>) {
        if column.declared.is_order_said() {
            return;
        }
        let name = column.name;
        column.decide(|shape| Some(State::among(shape, &[named_period(name, shape)?])));
    }
}
