//! The cells of an open column by form, and by the one order that can read
//! them.

use super::source::{Conclusion, EvidenceSource, Observed, Question, same_type};
use super::tally::add_all;
use crate::decide::OwnReading;
use crate::form::Order;
use std::any::Any;
use std::collections::BTreeMap;

/// How many cells each form has, by the one order that can read them; no order
/// for those that several can.
pub(super) type CellCounts = BTreeMap<(usize, Option<Order>), u64>;

/// The number of the form of cells whose form is settled, and which lie in a
/// fold of their zone.
pub(super) const IN_FOLD: usize = usize::MAX;

/// The cells of an open column by form and order.
#[derive(Clone, Debug, Default)]
pub(super) struct FormCells {
    counts: CellCounts,
}

/// The form of a cell, and the one order that can read it, where its form
/// leaves the order open.
pub(super) fn form_and_order(own: &OwnReading) -> Option<(usize, Option<Order>)> {
    match own {
        OwnReading::One {
            decisive: Some((form, order)),
            ..
        } => Some((*form, Some(*order))),
        OwnReading::Several {
            form: Some(form), ..
        } => Some((*form, None)),
        _ => None,
    }
}

impl FormCells {
    /// The forms that have cells, by their number in the ruling.
    pub fn forms(&self) -> Vec<usize> {
        let mut forms: Vec<usize> = self.counts.keys().map(|(form, _)| *form).collect();
        forms.dedup();
        forms
    }

    /// The orders that some cell of `form` can only have, with their cells.
    pub fn decisive(&self, form: usize) -> impl Iterator<Item = (Order, u64)> + '_ {
        let own = self.counts.iter();
        let own = own.filter(move |((known, _), _)| *known == form);
        own.filter_map(|((_, order), cells)| Some(((*order)?, *cells)))
    }
}

impl EvidenceSource for FormCells {
    fn observe(&mut self, row: &Observed<'_>) {
        if let Some(key) = form_and_order(row.own()) {
            *self.counts.entry(key).or_default() += 1;
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        add_all(&mut self.counts, same_type::<FormCells>(later).counts);
    }

    /// Decisive cells of both orders are what the other sources explain; those
    /// of one order have settled the form before.
    fn conclude<'s>(&'s self, _question: &Question<'_>) -> Vec<Conclusion<'s>> {
        Vec::new()
    }

    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        Vec::new()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
