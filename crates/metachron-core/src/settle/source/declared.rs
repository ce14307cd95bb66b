//! Level 2: forms and orders that the user declared.

use super::FormSource;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, State};

/// The declared forms, and no others.
pub(super) struct DeclaredForms;

impl FormSource for DeclaredForms {
    fn conclude(&self, column: &mut Column<'_>) {
        let forms = &column.declared.forms;
        if forms.is_empty() {
            return;
        }
        column.decide(|shape| {
            let mut candidates = shape.readings.candidates().iter();
            let named = candidates.find(|candidate| forms.contains(&candidate.form));
            Some(match named {
                Some(named) => State::Ruled(FormRuling::Settled(named.form.clone())),
                None => State::NotOfColumn,
            })
        });
    }
}

/// The declared order of day, month and year, whatever the cells say.
pub(super) struct DeclaredOrder;

impl FormSource for DeclaredOrder {
    fn conclude(&self, column: &mut Column<'_>) {
        let Some(order) = column.declared.order else {
            return;
        };
        column.decide(|shape| {
            let mut candidates = shape.readings.candidates().iter();
            let ruled = candidates.position(|candidate| candidate.order() == Some(order))?;
            Some(State::among(shape, &[ruled]))
        });
    }
}
