//! Level 5: rows in time order, columns that must not be earlier or later,
//! columns that repeat a part.

use super::justification::{Finding, Justification, Premise};
use super::tally::OrderOfRows;
use super::{ComparedColumns, OpenColumn, Votes};
use crate::rulings::{ColumnRuling, Part};
use crate::settle::{LEAST_IN_ORDER, is_kept};
use crate::words::{count, number};

/// That a column is never earlier than another is believed from so many rows
/// on in which both are known, none of which contradicts, where all cells of a
/// form go the same way …
const LEAST_IN_BOTH: u64 = 20;

/// … and from so many where it decides cell by cell. Where one row in a hundred
/// is an exception, thirty rows without one are common, and the cells that it
/// decides wrongly are just such exceptions.
const LEAST_FOR_CELLS: u64 = 500;

/// That a column repeats a part of the date is believed from so many rows on,
/// none of which contradicts …
pub const LEAST_AGREEING: u64 = 10;

/// … and which hold at least so many different values: a constant repeats
/// nothing.
const LEAST_VALUES: usize = 3;

/// Something that holds for all cells that are known, with what it says about
/// those that are not.
pub(super) struct Held<'t> {
    pub premise: Premise,
    pub votes: &'t Votes,
}

/// Every premise that holds for the known cells of the column.
pub(super) fn premises<'t>(open: &'t OpenColumn, compared: &ComparedColumns) -> Vec<Held<'t>> {
    let mut held = Vec::new();
    for in_time in [&open.ascending, &open.descending] {
        if is_in_order(in_time) {
            held.push(Held {
                premise: Premise::InTimeOrder {
                    order: in_time.order(),
                    steps: in_time.steps,
                    exceptions: in_time.exceptions,
                },
                votes: &in_time.votes,
            });
        }
    }
    for (against, &index) in open.against.iter().zip(&compared.temporal) {
        let column = || compared.columns[index].clone();
        let rows = against.before + against.same + against.after;
        if rows < LEAST_IN_BOTH {
            continue;
        }
        if against.before == 0 {
            held.push(Held {
                premise: Premise::NotBefore {
                    column: column(),
                    rows,
                },
                votes: &against.if_not_before,
            });
        }
        if against.after == 0 {
            held.push(Held {
                premise: Premise::NotAfter {
                    column: column(),
                    rows,
                },
                votes: &against.if_not_after,
            });
        }
    }
    for (repeats, column) in open.repeats.iter().zip(&compared.columns) {
        for (repeat, part) in repeats.iter().zip(Part::ALL) {
            let varied = repeat.values.len() >= LEAST_VALUES;
            if repeat.disagree == 0 && repeat.agree >= LEAST_AGREEING && varied {
                held.push(Held {
                    premise: Premise::Same {
                        part,
                        column: column.clone(),
                        rows: repeat.agree,
                    },
                    votes: &repeat.votes,
                });
            }
        }
    }
    held
}

fn is_in_order(in_time: &OrderOfRows) -> bool {
    in_time.steps >= LEAST_IN_ORDER && is_kept(in_time.steps, in_time.exceptions)
}

/// Puts the premises that decide on open cells into the ruling.
pub(super) fn settle(
    ruling: &mut ColumnRuling,
    open: &OpenColumn,
    compared: &ComparedColumns,
) -> Vec<Justification> {
    let mut justifications = Vec::new();
    let read = &mut ruling.read;
    for Held { premise, votes } in premises(open, compared) {
        let cells = votes.all();
        if cells == 0 {
            continue;
        }
        let is_weak = match &premise {
            Premise::NotBefore { rows, .. } | Premise::NotAfter { rows, .. } => {
                *rows < LEAST_FOR_CELLS
            }
            // Two rows that were swapped within an hour that was twice look just
            // like the change of the clocks.
            Premise::InTimeOrder { exceptions, .. } => read.has_zone() && *exceptions > 0,
            Premise::Same { .. } => false,
        };
        if is_weak {
            continue;
        }
        let taken = match &premise {
            Premise::InTimeOrder { order, .. } => put(&mut read.in_time_order, *order),
            Premise::NotBefore { column, .. } => put(&mut read.not_before, column.clone()),
            Premise::NotAfter { column, .. } => put(&mut read.not_after, column.clone()),
            Premise::Same { part, column, .. } => {
                let is_new = !read.same.contains_key(part);
                read.same.entry(*part).or_insert_with(|| column.clone());
                is_new
            }
        };
        if taken {
            justifications.push(Justification {
                form: None,
                found: Finding::Rule { cells, premise },
            });
        }
    }
    justifications
}

/// Puts a value where there is none; says whether it did.
fn put<T>(known: &mut Option<T>, value: T) -> bool {
    let is_new = known.is_none();
    known.get_or_insert(value);
    is_new
}

/// What was found of each premise, whether it holds or not.
pub(super) fn attempts(open: &OpenColumn, compared: &ComparedColumns) -> Vec<String> {
    let mut lines = Vec::new();
    let best = if open.ascending.steps >= open.descending.steps {
        &open.ascending
    } else {
        &open.descending
    };
    lines.push(format!(
        "time order of the rows: {} {}, {} break it; {}",
        count(best.steps, "step"),
        best.order().name(),
        number(best.exceptions),
        holds(
            is_in_order(best),
            &format!("{LEAST_IN_ORDER} steps and no more than 1 break in 100")
        )
    ));
    for (against, &index) in open.against.iter().zip(&compared.temporal) {
        if index == open.index {
            continue;
        }
        let rows = against.before + against.same + against.after;
        let one_way = against.before == 0 || against.after == 0;
        lines.push(format!(
            "against {}: {} before it, {} the same, {} after it; {}",
            compared.columns[index],
            number(against.before),
            number(against.same),
            number(against.after),
            holds(
                rows >= LEAST_IN_BOTH && one_way,
                &format!("{LEAST_IN_BOTH} rows, all on one side")
            )
        ));
    }
    for (repeats, column) in open.repeats.iter().zip(&compared.columns) {
        for (repeat, part) in repeats.iter().zip(Part::ALL) {
            if repeat.agree > 0 && repeat.disagree == 0 {
                let enough = repeat.agree >= LEAST_AGREEING && repeat.values.len() >= LEAST_VALUES;
                lines.push(format!(
                    "{column} repeats the {} in {}; {}",
                    part.name(),
                    count(repeat.agree, "row"),
                    holds(
                        enough,
                        &format!("{LEAST_AGREEING} rows with {LEAST_VALUES} different values")
                    )
                ));
            }
        }
    }
    lines
}

/// Whether a premise holds, and what it takes.
fn holds(it_does: bool, wanted: &str) -> String {
    if it_does {
        "so it holds".to_owned()
    } else {
        format!("it takes {wanted}")
    }
}
