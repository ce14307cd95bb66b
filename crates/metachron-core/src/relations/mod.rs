//! What the open cells of a column have to do with the rest of the table.
//!
//! A column whose own cells do not settle how it is read (level 3) may be
//! settled by others: a column whose values part the orders (level 4), the
//! order of the rows, a column that must not be earlier, or one that repeats a
//! part of the date (level 5). [`Tally`] looks at every row and counts; two
//! halves merged are the whole. [`settle`] puts what the counts prove into the
//! rulings, with its [`Justification`]s. What is not proven stays open.
//!
//! The thresholds follow from the evaluation (`docs/evidence.md`), which knows
//! the truth of the tables it makes.

mod group;
mod justification;
mod row;
mod tally;
mod votes;

pub use group::{LEAST_DECISIVE, pairs_to_try};
pub use justification::{Finding, Justification, Premise};
pub use row::LEAST_AGREEING;
pub use tally::{ComparedColumns, OpenColumn, Tally};
pub use votes::{LEAST_VOTES, Votes};

use crate::decide::{Judgement, OpenReason, ShapePlan};
use crate::evidence::{ColumnEvidence, Hint};
use crate::form::Order;
use crate::rulings::{ColumnRuling, FormRuling};
use crate::zone::WhichInstant;

/// Whether cells of the column are open between orders of day, month and
/// year, or may have been twice in their zone, which the rest of the table may
/// tell apart.
pub fn is_open(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> bool {
    let has_orders = |form: &FormRuling| match form {
        FormRuling::Open(forms) => {
            let orders: Vec<Option<Order>> = forms.iter().map(|form| form.order()).collect();
            orders.iter().flatten().count() > 1
        }
        FormRuling::Settled(_) | FormRuling::ByGroup(_) => false,
    };
    if ruling.read.has_zone() && ruling.read.in_overlap == WhichInstant::Reject {
        // Times that were twice may have a place among the others.
        return true;
    }
    if ruling.read.order.is_some() || !ruling.read.forms.iter().any(has_orders) {
        return false;
    }
    evidence.shapes.iter().any(|shape| {
        let plan = ShapePlan::of(ruling, (*shape.readings).clone());
        let open = |outcome| plan.judge(outcome, Hint::Plain) == Judgement::Open(OpenReason::Order);
        shape.tallies.iter().any(|tally| open(&tally.outcome))
    })
}

/// Whether converting by `ruling` looks beyond the cell: then a survey has to
/// look at every row to forecast what becomes of it.
pub fn looks_around(ruling: &ColumnRuling) -> bool {
    let read = &ruling.read;
    ruling.groups().next().is_some()
        || read.has_zone()
        || read.in_time_order.is_some()
        || read.not_before.is_some()
        || read.not_after.is_some()
        || !read.same.is_empty()
        || read.otherwise.is_some()
}

/// What was looked for in the rest of the table, and what was found, a
/// sentence each.
pub fn attempts(open: &OpenColumn, compared: &ComparedColumns) -> Vec<String> {
    let mut lines = group::attempts(open, compared);
    lines.extend(row::attempts(open, compared));
    lines
}

/// Puts what the rest of the table proves about an open column into its
/// ruling, and says what it rests on.
pub fn settle(
    ruling: &mut ColumnRuling,
    open: &OpenColumn,
    compared: &ComparedColumns,
) -> Vec<Justification> {
    let mut justifications = Vec::new();
    let mut left = Vec::new();
    for form in 0..ruling.read.forms.len() {
        let FormRuling::Open(either) = ruling.read.forms[form].clone() else {
            continue;
        };
        if either.iter().filter(|form| form.order().is_some()).count() < 2 {
            continue;
        }
        if let Some((group, justification)) = group::settle(form, &either, open, compared) {
            ruling.read.forms[form] = FormRuling::ByGroup(group);
            justifications.push(justification);
            continue;
        }
        if let Some((order, justification)) = votes::settle(form, open, compared)
            && let Some(settled) = either.iter().find(|form| form.order() == Some(order))
        {
            ruling.read.forms[form] = FormRuling::Settled(settled.clone());
            justifications.push(justification);
            continue;
        }
        left.push(form);
    }
    let is_left = |form: &FormRuling| matches!(form, FormRuling::Open(_) | FormRuling::ByGroup(_));
    if ruling.read.has_zone() || ruling.read.forms.iter().any(is_left) {
        justifications.extend(row::settle(ruling, open, compared));
    }
    justifications
}

#[cfg(test)]
mod tests;
