//! What premises that hold say: the order of a form, or a rule that decides cell
//! by cell.

use super::form_cells::FormCells;
use super::justification::{Finding, Justification};
use super::premise::Premise;
use super::source::HeldPremise;
use super::votes::{LEAST_VOTES, Votes};
use crate::form::Hypothesis;
use crate::rulings::ColumnRuling;

/// That a column is never earlier than another decides cell by cell from so
/// many rows on. Where one row in a hundred is an exception, thirty rows
/// without one are common, and the cells that it decides wrongly are just such
/// exceptions.
const LEAST_FOR_CELLS: u64 = 500;

/// What a form is read as, where every premise that holds leaves its open cells
/// one hypothesis only, and none of its cells can only have others.
pub(super) fn hypothesis_of(
    form: usize,
    cells: &FormCells,
    premises: &[HeldPremise<'_>],
) -> Option<(Hypothesis, Justification)> {
    let mut decisive = cells.decisive(form).map(|(hypothesis, _)| hypothesis);
    let mut hypothesis = decisive.next();
    if decisive.next().is_some() {
        return None;
    }
    for premise in premises {
        if premise.votes.against(form) > 0 {
            return None;
        }
        for (voted, _) in premise.votes.on(form) {
            if *hypothesis.get_or_insert(voted) != voted {
                return None;
            }
        }
    }
    let hypothesis = hypothesis.filter(|&hypothesis| cells.lacking(form, hypothesis) == 0)?;
    let votes = |votes: &Votes| votes.on(form).map(|(_, count)| count).sum::<u64>();
    let best = premises.iter().max_by_key(|premise| votes(premise.votes))?;
    let cells = votes(best.votes);
    (cells >= LEAST_VOTES).then_some((
        hypothesis,
        Justification {
            form: Some(form),
            found: Finding::Votes {
                hypothesis,
                cells,
                premise: best.premise.clone(),
            },
        },
    ))
}

/// What premises say against the order that a form's own cells settled.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Against {
    /// No cell has another order by them.
    Nothing,
    /// So few have that they are slips: all that nothing is said about have the
    /// order of the rest.
    Slips,
    /// So many have that every cell needs a premise of its own.
    Cells,
}

/// Cells of another order are slips where they are at most one in so many.
const SLIPS_ONE_IN: u64 = 100;

/// A premise that has exceptions speaks against an order where fewer than one in
/// so many times the exceptions would be left another one by chance.
const CHANCE_ONE_IN: f64 = 1e6;

/// Of the cells that a premise leaves one order, at most one in so many has another where
/// it speaks mostly for one.
const MOSTLY_ONE_IN: u64 = 10;

/// Whether each premise leaves nearly all cells of `form` the order `own`.
pub(super) fn speak_mostly_for(form: usize, own: Hypothesis, premises: &[HeldPremise<'_>]) -> bool {
    premises.iter().all(|premise| {
        let (for_own, others) = votes_for(form, own, premise);
        others * MOSTLY_ONE_IN <= for_own
    })
}

/// How many cells of `form` a premise leaves `own`, and how many another order.
fn votes_for(form: usize, own: Hypothesis, premise: &HeldPremise<'_>) -> (u64, u64) {
    let (mut for_own, mut others) = (0, 0);
    for (hypothesis, cells) in premise.votes.on(form) {
        *if hypothesis == own {
            &mut for_own
        } else {
            &mut others
        } += cells;
    }
    (for_own, others)
}

/// What the premises say against `own`, which the cells of `form` settled.
pub(super) fn against(form: usize, own: Hypothesis, premises: &[HeldPremise<'_>]) -> Against {
    let mut against = Against::Nothing;
    for premise in premises {
        let (for_own, others) = votes_for(form, own, premise);
        if others as f64 * premise.by_chance.ln() > -CHANCE_ONE_IN.ln() {
            continue;
        }
        if others * SLIPS_ONE_IN > for_own {
            return Against::Cells;
        }
        if others > 0 {
            against = Against::Slips;
        }
    }
    against
}

/// Whether all of `columns` repeat a part of the date: rows with the same month are no
/// group that was written by one hand, and each says by itself which order it has.
pub(super) fn have_parts_of_date(columns: &[String], premises: &[HeldPremise<'_>]) -> bool {
    let has_part = |own: &String| {
        premises
            .iter()
            .any(|held| matches!(&held.premise, Premise::Same { column, .. } if column == own))
    };
    columns.iter().all(has_part)
}

/// Whether a column that has the date, or a part of it, leaves nearly all open cells
/// of `form` what its own cells settled, and none anything else: that dispels what a
/// suspicion says against it.
pub(super) fn confirm(
    form: usize,
    own: Option<Hypothesis>,
    cells: &FormCells,
    premises: &[HeldPremise<'_>],
) -> bool {
    let Some(own) = own else {
        return false;
    };
    let has_date = |held: &&HeldPremise<'_>| {
        matches!(
            held.premise,
            Premise::Same { .. } | Premise::DaysAfter { .. }
        )
    };
    premises.iter().filter(has_date).any(|premise| {
        let mut for_own = 0;
        for (hypothesis, cells) in premise.votes.on(form) {
            if hypothesis != own {
                return false;
            }
            for_own += cells;
        }
        premise.votes.against(form) == 0
            && for_own >= LEAST_VOTES
            && for_own * 10 >= cells.open(form) * 9
    })
}

/// The premises without those about the same part of the date that contradict
/// each other: nothing says which column is right.
pub(super) fn without_conflicts(held: Vec<HeldPremise<'_>>) -> Vec<HeldPremise<'_>> {
    let part = |held: &HeldPremise<'_>| match held.premise {
        Premise::Same { part, .. } => Some(part),
        _ => None,
    };
    let agree = |one: &HeldPremise<'_>, other: &HeldPremise<'_>| {
        part(one).is_none()
            || part(one) != part(other)
            || one.votes.cover(other.votes)
            || other.votes.cover(one.votes)
    };
    let stays: Vec<bool> = held
        .iter()
        .map(|one| held.iter().all(|other| agree(one, other)))
        .collect();
    let mut stays = stays.into_iter();
    let mut held = held;
    held.retain(|_| stays.next() == Some(true));
    // Of those that agree, the one that says the most is put into the ruling.
    held.sort_by_key(|held| std::cmp::Reverse(held.votes.all()));
    held
}

/// Puts the premises that decide on open cells into the ruling.
pub(super) fn put_rules(
    ruling: &mut ColumnRuling,
    premises: Vec<HeldPremise<'_>>,
) -> Vec<Justification> {
    let mut justifications = Vec::new();
    for HeldPremise { premise, votes, .. } in premises {
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
        // Of n rows within limits, the next one is beyond them twice in n: as
        // often, a range would leave a cell the wrong order.
        Premise::DaysAfter { least, most, .. } => least != most,
        // The next file is counted to another day.
        Premise::Counts { .. } => true,
        Premise::Same { .. } => false,
    }
}

/// Puts a premise into the ruling, unless one of its sort is there; says
/// whether it did.
fn put(premise: &Premise, ruling: &mut ColumnRuling) -> bool {
    let read = &mut ruling.read;
    match premise {
        Premise::InTimeOrder {
            order, sorted_by, ..
        } => {
            let is_new = put_value(&mut read.in_time_order, *order);
            if is_new {
                read.sorted_by.clone_from(sorted_by);
            }
            is_new
        }
        Premise::NotBefore { column, .. } => put_value(&mut read.not_before, column.clone()),
        Premise::NotAfter { column, .. } => put_value(&mut read.not_after, column.clone()),
        Premise::DaysAfter {
            column,
            least,
            most,
            ..
        } => {
            let is_new = !read.days_after.contains_key(column);
            let days = read.days_after.entry(column.clone());
            days.or_insert([*least, *most]);
            is_new
        }
        Premise::Counts { .. } => false,
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
