//! The written forms of a column, and what each decision rests on.

use crate::decide::{Basis, Choice, ShapePlan};
use crate::evidence::{ColumnEvidence, Example, ShapeEvidence, Tally};
use crate::form::Order;
use crate::relations::Justification;
use crate::rulings::ColumnRuling;
use crate::settle::live_orders;

/// A written form of a column.
#[derive(Clone, Debug, PartialEq)]
pub struct FormForecast {
    /// The pattern it is read by; several where that is open.
    pub patterns: Vec<String>,
    /// How many cells are written so, readable or not.
    pub cells: u64,
    /// One of them.
    pub example: Example,
    /// What the decision rests on.
    pub rests_on: Rest,
    /// For each order that is possible for some cell: what speaks for it.
    pub orders: Vec<OrderCount>,
    /// Cells that several orders read differently.
    pub ambiguous: u64,
    /// Where the decision rests on the rest of the table: which of the
    /// column's justifications it is, from 0.
    pub justification: Option<usize>,
}

/// What the decision on a form rests on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Rest {
    /// There is only one way to read it.
    OneWay,
    /// Its cells leave only one order possible.
    Cells,
    /// They are numbers; the column's name, the written dates among them or
    /// the ruling say that they count time.
    Numbers,
    /// Its cells may be of several kinds, as times of day or lengths of time; the
    /// column's name, its other cells or the ruling say which.
    Kind,
    /// The rest of the table tells: see the column's justifications.
    Table,
    /// The ruling or the user says so.
    Declared,
    /// Nothing: all its cells fit several orders.
    NothingSettles,
    /// Nothing: its cells contradict each other.
    Clash,
}

/// What speaks for one order.
#[derive(Clone, Debug, PartialEq)]
pub struct OrderCount {
    /// The order.
    pub order: Order,
    /// The pattern.
    pub pattern: String,
    /// Cells that only this order can read.
    pub only: u64,
    /// The first of them.
    pub witness: Option<Example>,
    /// The first with another text.
    pub second_witness: Option<Example>,
}

pub(super) fn forms(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    plans: &[ShapePlan],
    justifications: &[Justification],
) -> Vec<FormForecast> {
    let mut forms: Vec<FormForecast> = Vec::new();
    for (shape, plan) in evidence.shapes.iter().zip(plans) {
        let Some(mut form) = form(shape, ruling, plan) else {
            continue;
        };
        let number = match &plan.choices()[0] {
            Choice::Settled { form, .. } | Choice::Open { form, .. } => *form,
        };
        if justifications
            .iter()
            .any(|justification| justification.form == Some(number))
        {
            form.rests_on = Rest::Table;
            form.justification = justifications
                .iter()
                .position(|justification| justification.form == Some(number));
        }
        match forms
            .iter_mut()
            .find(|known| known.patterns == form.patterns)
        {
            Some(known) => known.merge(form),
            None => forms.push(form),
        }
    }
    forms.sort_by_key(|form| std::cmp::Reverse(form.cells));
    forms
}

impl FormForecast {
    fn merge(&mut self, other: FormForecast) {
        self.cells += other.cells;
        self.ambiguous += other.ambiguous;
        if other.example.row < self.example.row {
            self.example = other.example;
        }
        for count in other.orders {
            match self
                .orders
                .iter_mut()
                .find(|known| known.order == count.order)
            {
                Some(known) => known.only += count.only,
                None => self.orders.push(count),
            }
        }
    }
}

fn form(shape: &ShapeEvidence, ruling: &ColumnRuling, plan: &ShapePlan) -> Option<FormForecast> {
    let choice = plan.choices().first()?;
    let candidates = plan.readings().candidates();
    let chosen = || plan.choices().iter().flat_map(|choice| choice.indexes());
    let pattern_of = |index: usize| {
        // Of candidates that read alike, the ruling knows the chosen one.
        let mut alike = chosen().filter(|&&other| plan.readings().least_strict(other) == index);
        candidates[*alike.next().unwrap_or(&index)].form.to_string()
    };
    let in_play = in_play(shape, plan);
    let reads = |index: usize| shape.count(|tally| tally.outcome.reads(index)) > 0;
    let orders: Vec<OrderCount> = in_play
        .iter()
        .filter(|&&index| reads(index))
        .filter_map(|&index| {
            Some(OrderCount {
                order: candidates[index].order()?,
                pattern: pattern_of(index),
                only: only(shape, index, &in_play).map(|tally| tally.count).sum(),
                witness: first_of(only(shape, index, &in_play)).map(|tally| tally.first.clone()),
                second_witness: first_of(only(shape, index, &in_play))
                    .and_then(|tally| tally.second.clone()),
            })
        })
        .collect();
    let ambiguous = shape.count(|tally| tally.outcome.differs_among(&in_play));
    let first = shape.tallies.iter().min_by_key(|tally| {
        let unreadable = tally.outcome.is_unreadable();
        (unreadable, tally.first.row)
    })?;
    let patterns: Vec<String> = choice
        .indexes()
        .iter()
        .map(|&index| candidates[index].form.to_string())
        .collect();
    let counts = choice
        .indexes()
        .iter()
        .all(|&index| candidates[index].reader.is_bare_number());
    // `5 h` among `14h30` is a time of day, and among `90 min` a length.
    let by_kind = matches!(choice, Choice::Settled { .. }) && orders.is_empty() && ambiguous > 0;
    Some(FormForecast {
        rests_on: match (counts, by_kind) {
            (true, _) if matches!(choice, Choice::Settled { .. }) => Rest::Numbers,
            (_, true) => Rest::Kind,
            _ => rest(choice, &orders, &patterns, ruling, shape),
        },
        patterns,
        cells: shape.cells(),
        example: first.first.clone(),
        orders,
        ambiguous,
        justification: None,
    })
}

/// The candidates that count: the usual ones, and those that are chosen; of
/// those that read alike, the least strict.
fn in_play(shape: &ShapeEvidence, plan: &ShapePlan) -> Vec<usize> {
    let chosen: Vec<usize> = plan
        .choices()
        .iter()
        .flat_map(|choice| choice.indexes().iter().copied())
        .collect();
    let candidates = shape.readings.candidates().iter().enumerate();
    let mut indexes: Vec<usize> = candidates
        .filter(|(index, candidate)| candidate.usual || chosen.contains(index))
        .map(|(index, _)| plan.readings().least_strict(index))
        .collect();
    indexes.sort_unstable();
    indexes.dedup();
    indexes
}

/// The tallies that, of the candidates in play, only `place` can read.
fn only<'s>(
    shape: &'s ShapeEvidence,
    index: usize,
    in_play: &'s [usize],
) -> impl Iterator<Item = &'s Tally> {
    let alone = move |outcome: &crate::reading::Outcome| {
        outcome.reads(index)
            && in_play
                .iter()
                .all(|&other| other == index || !outcome.may_be(other))
    };
    shape
        .tallies
        .iter()
        .filter(move |tally| alone(&tally.outcome))
}

fn first_of<'s>(tallies: impl Iterator<Item = &'s Tally>) -> Option<&'s Tally> {
    tallies.min_by_key(|tally| tally.first.row)
}

fn rest(
    choice: &Choice,
    orders: &[OrderCount],
    patterns: &[String],
    ruling: &ColumnRuling,
    shape: &ShapeEvidence,
) -> Rest {
    let chosen = |order: &OrderCount| patterns.contains(&order.pattern);
    let speak = orders.iter().filter(|order| order.only > 0).count();
    let others_speak = orders.iter().any(|order| order.only > 0 && !chosen(order));
    match choice {
        Choice::Open { .. } if speak > 1 => Rest::Clash,
        Choice::Open { .. } => Rest::NothingSettles,
        Choice::Settled {
            basis: Basis::OrderOfSeveral,
            ..
        } => Rest::Declared,
        Choice::Settled { .. } if orders.iter().all(chosen) => Rest::OneWay,
        Choice::Settled { .. } if ruling.read.order.is_some() => Rest::Declared,
        Choice::Settled { .. } if speak == 1 && !others_speak => Rest::Cells,
        // The others are so few that they are slips.
        Choice::Settled { .. }
            if live_orders(shape)
                .iter()
                .all(|index| choice.indexes().contains(index)) =>
        {
            Rest::Cells
        }
        Choice::Settled { .. } => Rest::Declared,
    }
}
