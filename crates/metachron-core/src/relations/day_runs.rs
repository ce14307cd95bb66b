//! Level 5, against level 3: rows that follow each other on the same day of one
//! month after the other, in a column whose other cells settle its order.
//!
//! `12/01/2023`, `12/02/2023`, `12/03/2023` at the head of a file that writes
//! day first are the twelfth of each month, or the first days of a December
//! that somebody else wrote. Nothing tells, and no day past the twelfth would
//! show in it.

use super::justification::{Finding, Justification};
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::decide::OwnReading;
use std::any::Any;
use std::collections::BTreeMap;

/// A run has at least so many rows: days up to the twelfth are the same in so
/// many rows once in 36 million …
const LEAST_ROWS: u64 = 8;

/// … in at least so many months …
const LEAST_MONTHS: u32 = 5;

/// … on a later day than these, on which bills of every month are.
const FIRST_DAYS: i8 = 3;

/// More runs than this are how the column is: they stand on one day each.
const MOST_RUNS: u64 = 2;

/// The runs of a column.
#[derive(Debug, Default)]
pub(super) struct DayRuns {
    current: Run,
    /// By the form's number in the ruling.
    found: BTreeMap<usize, Found>,
}

/// Cells of one form that follow each other on one day of a month.
#[derive(Clone, Copy, Debug, Default)]
struct Run {
    form: usize,
    day: i8,
    rows: u64,
    /// The months, a bit each.
    months: u16,
}

#[derive(Clone, Copy, Debug, Default)]
struct Found {
    runs: u64,
    longest: Run,
}

impl DayRuns {
    fn end(&mut self) {
        let run = std::mem::take(&mut self.current);
        if run.rows >= LEAST_ROWS && run.months.count_ones() >= LEAST_MONTHS {
            let found = Found {
                runs: 1,
                longest: run,
            };
            self.found.entry(run.form).or_default().merge(found);
        }
    }
}

impl Found {
    fn merge(&mut self, more: Found) {
        self.runs += more.runs;
        if more.longest.rows > self.longest.rows {
            self.longest = more.longest;
        }
    }
}

impl EvidenceSource for DayRuns {
    fn observe(&mut self, row: &Observed<'_>) {
        let form = match row.own() {
            OwnReading::Nothing(_) => return,
            OwnReading::One {
                decisive: Some((form, _)),
                ..
            } => Some(*form),
            OwnReading::One { .. } => None,
            OwnReading::Several(several) => several.form,
        };
        let date = row.settled_stamp(row.number).and_then(|own| own.date());
        let Some((form, date)) = form.zip(date) else {
            self.end();
            return;
        };
        if (self.current.form, self.current.day) != (form, date.day()) {
            self.end();
        }
        let run = &mut self.current;
        (run.form, run.day) = (form, date.day());
        run.rows += 1;
        run.months |= 1 << date.month();
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        self.end();
        let mut later = same_type::<DayRuns>(later);
        later.end();
        for (form, more) in later.found {
            self.found.entry(form).or_default().merge(more);
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(DayRuns::default())
    }

    fn finish(&mut self) {
        self.end();
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let forms = question.open_forms.iter();
        let doubted = forms.filter_map(|(form, _)| {
            let order = question.own_hypothesis(*form)?.order()?;
            let Found { runs, longest } = *self.found.get(form)?;
            let is_told = (FIRST_DAYS + 1..=12).contains(&longest.day) && runs <= MOST_RUNS;
            is_told.then_some(Conclusion::Doubt {
                form: *form,
                justification: Justification {
                    form: Some(*form),
                    found: Finding::DayRun {
                        rows: longest.rows,
                        day: longest.day,
                        months: longest.months.count_ones(),
                        order,
                    },
                },
            })
        });
        doubted.collect()
    }

    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        Vec::new()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
