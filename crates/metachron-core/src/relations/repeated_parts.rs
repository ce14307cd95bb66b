//! Level 5: columns that repeat a part of the date.

use super::form_cells::IN_FOLD;
use super::justification::Premise;
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::OwnReading;
use crate::rulings::DatePart;
use crate::stamp::Stamp;
use crate::words::count;
use std::any::Any;
use std::collections::BTreeSet;

/// That a column repeats a part of the date is believed from so many rows on,
/// none of which contradicts …
pub const LEAST_AGREEING: u64 = 10;

/// … and which hold at least so many different values: a constant repeats
/// nothing.
const LEAST_VALUES: usize = 3;

/// So many different values of a part are kept.
const VALUES_KEPT: usize = 4;

/// A column's dates against every part that every column may repeat.
#[derive(Debug)]
pub(super) struct RepeatedParts {
    columns: Vec<[Repeat; DatePart::ALL.len()]>,
}

/// A column's dates against a part that another may repeat.
#[derive(Debug, Default)]
struct Repeat {
    agree: u64,
    disagree: u64,
    /// A few different values that agree.
    values: BTreeSet<i16>,
    votes: Votes,
}

impl RepeatedParts {
    /// Of so many columns.
    pub fn new(columns: usize) -> RepeatedParts {
        RepeatedParts {
            columns: (0..columns).map(|_| Default::default()).collect(),
        }
    }
}

impl Repeat {
    fn is_enough(&self) -> bool {
        self.agree >= LEAST_AGREEING && self.values.len() >= LEAST_VALUES
    }

    fn keep(&mut self, value: i16) {
        if self.values.len() < VALUES_KEPT {
            self.values.insert(value);
        }
    }

    fn known(&mut self, part: DatePart, date: jiff::civil::Date, text: &str) {
        // What disagrees once is no repeat; one counter-example will do.
        if self.disagree > 0 || text.trim().is_empty() {
            return;
        }
        if part.read(text) == Some(part.of(date)) {
            self.agree += 1;
            self.keep(part.of(date));
        } else {
            self.disagree += 1;
        }
    }
}

impl EvidenceSource for RepeatedParts {
    fn observe(&mut self, row: &Observed<'_>) {
        let columns = self.columns.iter_mut().zip(row.texts).enumerate();
        for (index, (repeats, text)) in columns {
            if index == row.index {
                continue;
            }
            for (repeat, part) in repeats.iter_mut().zip(DatePart::ALL) {
                match row.own() {
                    OwnReading::Nothing(_) => {}
                    OwnReading::One { stamp, .. } => {
                        if let Some(date) = stamp.date() {
                            repeat.known(part, date, text);
                        }
                    }
                    OwnReading::Several {
                        form,
                        stamps,
                        orders,
                    } => {
                        if repeat.disagree == 0
                            && let Some(said) = part.read(text)
                        {
                            let form = form.unwrap_or(IN_FOLD);
                            let has =
                                |stamp: Stamp| stamp.date().map(|date| part.of(date)) == Some(said);
                            repeat.votes.add(form, orders, |index| has(stamps[index]));
                        }
                    }
                }
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<RepeatedParts>(later).columns;
        let repeats = self.columns.iter_mut().flatten();
        for (repeat, more) in repeats.zip(later.into_iter().flatten()) {
            repeat.agree += more.agree;
            repeat.disagree += more.disagree;
            repeat.votes.merge(&more.votes);
            more.values.into_iter().for_each(|value| repeat.keep(value));
        }
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let mut held = Vec::new();
        for (repeats, column) in self.columns.iter().zip(&question.compared.columns) {
            for (repeat, part) in repeats.iter().zip(DatePart::ALL) {
                if repeat.disagree == 0 && repeat.is_enough() {
                    held.push(Conclusion::Premise(HeldPremise {
                        premise: Premise::Same {
                            part,
                            column: column.clone(),
                            rows: repeat.agree,
                        },
                        votes: &repeat.votes,
                    }));
                }
            }
        }
        held
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let mut lines = Vec::new();
        for (repeats, column) in self.columns.iter().zip(&question.compared.columns) {
            for (repeat, part) in repeats.iter().zip(DatePart::ALL) {
                if repeat.agree > 0 && repeat.disagree == 0 {
                    lines.push(format!(
                        "{column} repeats the {} in {}; {}",
                        part.name(),
                        count(repeat.agree, "row"),
                        holds(
                            repeat.is_enough(),
                            &format!("{LEAST_AGREEING} rows with {LEAST_VALUES} different values")
                        )
                    ));
                }
            }
        }
        lines
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
