//! What premises that hold say: the order of a form, or a rule that decides cell
//! by cell.

use super::form_cells::FormCells;
use super::justification::{Finding, Justification, Premise};
use super::source::HeldPremise;
use super::votes::{LEAST_VOTES, Votes};
use crate::form::Order;
use crate::rulings::ColumnRuling;

/// That a column is never earlier than another decides cell by cell from so
/// many rows on. Where one row in a hundred is an exception, thirty rows
/// without one are common, and the cells that it decides wrongly are just such
/// exceptions.
const LEAST_FOR_CELLS: u64 = 500;

/// The order of a form, where every premise that holds leaves its open cells
/// that order only, and none of its cells can only have another.
pub(super) fn order_of(
    form: usize,
    cells: &FormCells,
    premises: &[HeldPremise<'_>],
) -> Option<(Order, Justification)> {
    let mut decisive = cells.decisive(form).map(|(order, _)| order);
    let mut order = decisive.next();
    if decisive.next().is_some() {
        return None;
    }
    for premise in premises {
        if premise.votes.against(form) > 0 {
            return None;
        }
        for (voted, _) in premise.votes.on(form) {
            if *order.get_or_insert(voted) != voted {
                return None;
            }
        }
    }
    let order = order?;
    let votes = |votes: &Votes| votes.on(form).map(|(_, count)| count).sum::<u64>();
    let best = premises.iter().max_by_key(|premise| votes(premise.votes))?;
    let cells = votes(best.votes);
    (cells >= LEAST_VOTES).then_some((
        order,
        Justification {
            form: Some(form),
            found: Finding::Votes {
                order,
                cells,
                premise: best.premise.clone(),
            },
        },
    ))
}

/// Puts the premises that decide on open cells into the ruling.
pub(super) fn put_rules(
    ruling: &mut ColumnRuling,
    premises: Vec<HeldPremise<'_>>,
) -> Vec<Justification> {
    let mut justifications = Vec::new();
    for HeldPremise { premise, votes } in premises {
        let cells = votes.all();
        if cells > 0 && !is_weak(&premise, ruling) && put(&premise, ruling) {
            justifications.push(Justification {
                form: None,
                found: Finding::Rule { cells, premise },
            });
        }
    }
    justifications
}

fn is_weak(premise: &Premise, ruling: &ColumnRuling) -> bool {
    match premise {
        Premise::NotBefore { rows, .. } | Premise::NotAfter { rows, .. } => *rows < LEAST_FOR_CELLS,
        // Two rows that were swapped within a fold look just like the change of
        // the clocks.
        Premise::InTimeOrder { exceptions, .. } => ruling.read.has_zone() && *exceptions > 0,
        Premise::Same { .. } => false,
    }
}

/// Puts a premise into the ruling, unless one of its sort is there; says
/// whether it did.
fn put(premise: &Premise, ruling: &mut ColumnRuling) -> bool {
    let read = &mut ruling.read;
    match premise {
        Premise::InTimeOrder { order, .. } => put_value(&mut read.in_time_order, *order),
        Premise::NotBefore { column, .. } => put_value(&mut read.not_before, column.clone()),
        Premise::NotAfter { column, .. } => put_value(&mut read.not_after, column.clone()),
        Premise::Same { part, column, .. } => {
            let is_new = !read.same.contains_key(part);
            read.same.entry(*part).or_insert_with(|| column.clone());
            is_new
        }
    }
}

/// Puts a value where there is none; says whether it did.
fn put_value<T>(known: &mut Option<T>, value: T) -> bool {
    let is_new = known.is_none();
    known.get_or_insert(value);
    is_new
}
