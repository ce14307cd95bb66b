//! Level 2: the locale that the user declared.

use super::FormSource;
use crate::evidence::ShapeEvidence;
use crate::form::{Order, Reader};
use crate::rulings::Locales;
use crate::settle::Declared;
use crate::settle::column::{Column, State};
use crate::settle::order::{contradicting, live_orders, rivals};

/// The forms and the order of the declared locale. Its order is a presumption:
/// a form is open where more than a few slips of its cells contradict it, and where
/// editions of CLDR have another order for the locale.
pub(super) struct DeclaredLocale;

impl FormSource for DeclaredLocale {
    fn conclude(&self, column: &mut Column<'_>) {
        let locale = &column.declared.locale;
        if locale.is_empty() {
            return;
        }
        column.decide(|shape| {
            let index = by_locale(shape, &live_orders(shape), locale)?;
            let mut indexes = vec![index];
            if contradicting(shape, index).is_some() {
                let order = shape.readings.candidates()[index].order();
                indexes.extend(rivals(order, shape));
            } else {
                let others = other_editions(shape, index, locale).into_iter();
                indexes.extend(others.map(|(other, _)| other));
            }
            Some(State::among(shape, &indexes))
        });
    }
}

/// How many cells of `shape` contradict the order of the declared locale, where
/// that is why they are open and the candidate at `index` is the locale's.
pub fn contradicted_locale(
    shape: &ShapeEvidence,
    index: usize,
    declared: &Declared,
) -> Option<u64> {
    let order = declared.locale.order()?;
    let candidate = &shape.readings.candidates()[index];
    (candidate.order() == Some(order)).then_some(())?;
    contradicting(shape, index)
}

/// The candidates of a shape that other editions of CLDR would choose than the one at
/// `index`, which the declared locale has now, each with those editions.
fn other_editions(
    shape: &ShapeEvidence,
    index: usize,
    locale: &Locales,
) -> Vec<(usize, &'static str)> {
    let candidates = shape.readings.candidates();
    let own = candidates[index].order();
    let live = live_orders(shape);
    let mut others: Vec<(usize, &'static str)> = Vec::new();
    for (form, editions) in locale.short_forms() {
        let reader = form.fit(shape.readings.shape());
        let reads_alike = |reader: Reader| {
            let mut alike = candidates.iter();
            alike.position(|candidate| candidate.usual && reader.reads_alike(&candidate.reader))
        };
        if form.order() != own
            && let Some(other) = reader.and_then(reads_alike)
            && live.contains(&other)
            && others.iter().all(|(known, _)| *known != other)
        {
            others.push((other, editions));
        }
    }
    others
}

/// The orders that other editions of CLDR have for the declared locale, each with those
/// editions, where that is why cells are open and the candidate at `index` is the
/// locale's.
pub fn orders_of_editions(
    shape: &ShapeEvidence,
    index: usize,
    declared: &Declared,
) -> Vec<(Order, &'static str)> {
    let candidates = shape.readings.candidates();
    let others = other_editions(shape, index, &declared.locale);
    let orders = others.into_iter();
    orders
        .filter_map(|(other, editions)| Some((candidates[other].order()?, editions)))
        .collect()
}

/// The form that the declared locale chooses: its own among those that are
/// possible, else the one with its order.
/// That `00.00.00` is a time and no day is not for a locale's order to say.
fn by_locale(shape: &ShapeEvidence, live: &[usize], locale: &Locales) -> Option<usize> {
    let candidates = shape.readings.candidates();
    let order = locale.order()?;
    let has_order = |index: &&usize| candidates[**index].order() == Some(order);
    if let Some(&index) = live.iter().find(has_order).filter(|_| live.len() > 1) {
        return Some(index);
    }
    let own = locale.forms(locale.calendar());
    let own = own
        .iter()
        .filter_map(|form| form.fit(shape.readings.shape()));
    let own: Vec<Reader> = own.collect();
    let is_own = |index: &&usize| {
        let reader = &candidates[**index].reader;
        own.iter().any(|own| own.reads_alike(reader))
    };
    if let Some(&index) = live.iter().find(is_own) {
        return Some(index);
    }
    let is_rival = |index: &usize| {
        candidates[*index].order().is_some() && candidates[*index].form.has_numeric_month()
    };
    let declared = |index: &usize| {
        candidates[*index].usual
            && candidates[*index].order() == Some(order)
            && is_rival(index)
            && shape.count(|tally| tally.outcome.reads(*index)) > 0
    };
    let all_rivals = !live.is_empty() && live.iter().all(is_rival);
    (0..candidates.len()).find(declared).filter(|_| all_rivals)
}
