//! What the rest of the table says for and against how a column is read.
//!
//! A column whose own cells do not settle how it is read (level 3) may be
//! settled by others: a column whose values part the orders (level 4), the
//! order of the rows, a column that must not be earlier, one that repeats a
//! part of the date or stands at a steady distance (level 5). And a column that
//! its own cells settle may be contradicted by them: it is read as if it were
//! open meanwhile, and stays settled where nothing speaks against it. Each of
//! these is an evidence source in a file of its own: it observes rows, is
//! merged, and concludes. [`Tally`] is a loop over them; two halves merged are
//! the whole. [`settle`] puts what the counts prove into the rulings, with its
//! [`Justification`]s. What is not proven stays open.
//!
//! The thresholds follow from the evaluation (`docs/evidence.md`), which knows
//! the truth of the tables it makes.

mod by_value;
mod clock_doubt;
mod column_pairs;
mod compared_columns;
mod counted_spans;
mod counts;
mod day_runs;
mod distances;
mod form_cells;
mod group;
mod half_clocks;
mod justification;
mod number_order;
mod observed;
mod premise;
mod premises;
mod reading_sets;
mod repeated_parts;
mod silent_groups;
mod source;
mod sources_left;
mod swap_rivals;
mod tally;
mod time_between;
mod time_order;
mod votes;

pub use clock_doubt::ClockDoubt;
pub use compared_columns::{ComparedColumns, Doubts, InQuestion};
pub use justification::{Finding, Justification};
pub use premise::{Premise, SpanEnd, SpanUnit};
pub(crate) use sources_left::SourcesLeft;
pub(crate) use tally::OpenColumn;
pub use tally::Tally;
pub use votes::Votes;

use crate::decide::{Choice, Judgement, OpenReason, ShapePlan};
use crate::evidence::{ColumnEvidence, Hint};
use crate::form::{Form, Hypothesis};
use crate::rulings::{ColumnRuling, DatePart, FormRuling};
use crate::stamp::Kind;
use crate::zone::WhichInstant;
use premises::Against;
use source::{Conclusion, EvidenceSource};
use std::collections::HashMap;

/// Whether cells of the column are open between orders of day, month and
/// year, or may have been twice in their zone, which the rest of the table may
/// tell apart.
pub fn is_open(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> bool {
    let has_orders = |form: &FormRuling| match form {
        FormRuling::Open(forms) => {
            let hypotheses: Vec<Option<Hypothesis>> =
                forms.iter().map(|form| form.hypothesis()).collect();
            hypotheses.iter().flatten().count() > 1
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

/// Whether some cells of an open form can only be read by one of its orders, and
/// others only by another: then a group of rows may be what parts them.
pub fn is_mixed(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> bool {
    let mut decisive: Vec<(usize, Hypothesis)> = Vec::new();
    for shape in &evidence.shapes {
        let plan = ShapePlan::of(ruling, (*shape.readings).clone());
        let candidates = plan.readings().candidates();
        for choice in plan.choices() {
            let Choice::Open { indexes, form } = choice else {
                continue;
            };
            for tally in &shape.tallies {
                let mut reading = indexes.iter().filter(|index| tally.outcome.may_be(**index));
                if let (Some(&only), None) = (reading.next(), reading.next())
                    && let Some(hypothesis) = candidates[only].form.hypothesis()
                {
                    decisive.push((*form, hypothesis));
                }
            }
        }
    }
    let differ = |(form, own): &(usize, Hypothesis)| {
        let mut others = decisive.iter().filter(|(other, _)| other == form);
        others.any(|(_, other)| other != own)
    };
    decisive.iter().any(differ)
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
        || !read.days_after.is_empty()
        || read.otherwise.is_some()
        || read.placeholders.have_blanks()
}

/// What was looked for in the rest of the table, and what was found, a
/// sentence each.
pub fn attempts(open: &OpenColumn, compared: &ComparedColumns) -> Vec<String> {
    let question = open.question(compared, &[]);
    let sources = open.sources.iter();
    sources
        .flat_map(|source| source.attempts(&question))
        .collect()
}

/// Whether another column shows that the cells of one are dates: it has the same
/// dates, or stands at a steady distance. One that repeats a part alone may repeat a
/// part of a version.
pub fn are_dates(open: &OpenColumn, compared: &ComparedColumns) -> bool {
    let question = open.question(compared, &[]);
    let conclusions = open.sources.iter();
    let mut conclusions = conclusions.flat_map(|source| source.conclude(&question));
    conclusions.any(|conclusion| {
        let Conclusion::Premise(held) = conclusion else {
            return false;
        };
        match held.premise {
            Premise::DaysAfter { .. } => true,
            Premise::Same { part, .. } => part == DatePart::Date,
            _ => false,
        }
    })
}

/// What speaks against the times of day of a column.
pub fn clock_doubt(open: &OpenColumn, compared: &ComparedColumns) -> Option<ClockDoubt> {
    let question = open.question(compared, &[]);
    let mut sources = open.sources.iter();
    sources.find_map(|source| source.clock_doubt(&question))
}

/// What more rows of the table could say about a column, which is read by `ruling`.
pub(crate) fn sources_left(
    ruling: Option<&ColumnRuling>,
    reopened: &ColumnRuling,
    open: &OpenColumn,
    compared: &ComparedColumns,
) -> SourcesLeft {
    let open_forms = open_forms(reopened);
    let question = open.question(compared, &open_forms);
    let is_settled = ruling.is_some_and(|ruling| {
        let mut ruling = ruling.clone();
        !settle(&mut ruling, reopened, open, compared).is_empty()
    });
    let number = open.in_question.number;
    let is_told = is_settled || compared.tentative.contains(&number) && are_dates(open, compared);
    let is_left = |source: &dyn EvidenceSource| {
        open.in_question.doubts.is_open && source.may_follow(&question)
            || is_told && !source.conclude(&question).is_empty()
            || source.clock_doubt(&question).is_some()
    };
    let mut left = SourcesLeft::default();
    for source in &open.sources {
        let is_left = is_left(source.as_ref());
        if !is_left {
            left.attempts.extend(source.attempts(&question));
        }
        left.sources.push(is_left);
    }
    left
}

/// The forms of a ruling whose order is open, by their number.
fn open_forms(ruling: &ColumnRuling) -> Vec<(usize, Vec<Form>)> {
    let forms = ruling.read.forms.iter().enumerate();
    forms
        .filter_map(|(number, form)| match form {
            FormRuling::Open(either) => Some((number, either.clone())),
            FormRuling::Settled(_) | FormRuling::ByGroup(_) => None,
        })
        .filter(|(_, either)| {
            either
                .iter()
                .filter(|form| form.hypothesis().is_some())
                .count()
                > 1
        })
        .collect()
}

/// Puts what the rest of the table proves about a column into its ruling, and
/// says what it rests on.
///
/// `reopened` is the ruling that the column was read by meanwhile: with forms
/// open that its own cells settled. Those stay settled unless something speaks
/// against it.
pub fn settle(
    ruling: &mut ColumnRuling,
    reopened: &ColumnRuling,
    open: &OpenColumn,
    compared: &ComparedColumns,
) -> Vec<Justification> {
    let open_forms = open_forms(reopened);
    let question = open.question(compared, &open_forms);
    let mut justifications = Vec::new();
    let mut held = Vec::new();
    let mut groups = HashMap::new();
    let mut doubts = HashMap::new();
    let sources = open.sources.iter();
    for conclusion in sources.flat_map(|source| source.conclude(&question)) {
        match conclusion {
            Conclusion::Premise(premise) => held.push(premise),
            Conclusion::Group {
                form,
                group,
                justification,
            } => {
                groups.insert(form, (group, justification));
            }
            Conclusion::Doubt {
                form,
                justification,
            } => {
                doubts.insert(form, justification);
            }
            Conclusion::Lengths(found) => return read_as_lengths(ruling, &found),
        }
    }
    // Some rows out of order are no reason to doubt what their cells settle.
    if !open.in_question.doubts.is_open && doubts.is_empty() {
        held.retain(|held| !matches!(held.premise, Premise::InTimeOrder { .. }));
    }
    let held = premises::without_conflicts(held);
    let mut otherwise = None;
    for (form, either) in &open_forms {
        let own_hypothesis = question.own_hypothesis(*form);
        if let Some((group, justification)) = groups.remove(form)
            && !premises::have_parts_of_date(&group.by, &held)
        {
            ruling.read.forms[*form] = FormRuling::ByGroup(group);
            justifications.push(justification);
        } else if let Some(justification) = doubts.remove(form)
            && !premises::confirm(*form, own_hypothesis, &open.cells, &held)
        {
            ruling.read.forms[*form] = FormRuling::Open(either.clone());
            justifications.push(justification);
        } else if let Some(own_hypothesis) = own_hypothesis {
            // A date at a steady distance, under which all cells have the order that some of
            // them settled, outweighs a part that is that of another date now and then.
            if premises::confirm(*form, Some(own_hypothesis), &open.cells, &held)
                && premises::speak_mostly_for(*form, own_hypothesis, &held)
            {
                continue;
            }
            match premises::against(*form, own_hypothesis, &held) {
                Against::Nothing => {}
                Against::Slips => {
                    ruling.read.forms[*form] = FormRuling::Open(either.clone());
                    otherwise = own_hypothesis.order();
                }
                Against::Cells => ruling.read.forms[*form] = FormRuling::Open(either.clone()),
            }
        } else if let Some((order, justification)) =
            premises::hypothesis_of(*form, &open.cells, &held)
            && let Some(settled) = either.iter().find(|form| form.hypothesis() == Some(order))
        {
            ruling.read.forms[*form] = FormRuling::Settled(settled.clone());
            justifications.push(justification);
        }
    }
    let is_open = |form: &&FormRuling| matches!(form, FormRuling::Open(_));
    // The order of a few slips must settle no form that is open by itself.
    if otherwise.is_some() && ruling.read.forms.iter().filter(is_open).count() == 1 {
        ruling.read.otherwise = ruling.read.otherwise.or(otherwise);
    }
    let is_left = |form: &FormRuling| matches!(form, FormRuling::Open(_) | FormRuling::ByGroup(_));
    if ruling.read.has_zone() || ruling.read.forms.iter().any(is_left) {
        justifications.extend(premises::put_rules(ruling, held));
    }
    justifications
}

/// Reads the times of day of a column as lengths of time, where all of its forms
/// can be; says for each what it rests on.
fn read_as_lengths(ruling: &mut ColumnRuling, found: &Finding) -> Vec<Justification> {
    let lengths = ruling.read.forms.iter().map(|form| match form {
        FormRuling::Settled(form) => form.as_length().map(FormRuling::Settled),
        FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
    });
    let Some(mut lengths) = lengths.collect::<Option<Vec<FormRuling>>>() else {
        return Vec::new();
    };
    // `HH:mm` and `H:mm` are one form of lengths.
    lengths.dedup();
    ruling.read.forms = lengths;
    ruling.kind = Kind::Duration;
    let forms = 0..ruling.read.forms.len();
    let justified = forms.map(|form| Justification {
        form: Some(form),
        found: found.clone(),
    });
    justified.collect()
}

#[cfg(test)]
mod tests;
