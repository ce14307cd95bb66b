//! Level 5: columns that repeat a part of the date.
//!
//! What other columns say is a test of every order: of 60 cells, a month column
//! has the month of all 60 read day first, and of 6 read month first. That
//! needs no cell that one order alone can read, and it speaks against what such
//! cells settled where a few rows were written in another order.

use super::compared_columns::ComparedColumns;
use super::justification::{Finding, Justification};
use super::observed::Observed;
use super::premise::Premise;
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::OwnReading;
use crate::form::Hypothesis;
use crate::rulings::DatePart;
use crate::settle::{names_a_date, part_named};
use crate::words::{count, number};
use indexmap::IndexMap;
use std::any::Any;
use std::collections::BTreeMap;

/// That a column repeats a part of the date is believed from so many rows on,
/// none of which contradicts …
pub const LEAST_AGREEING: u64 = 10;

/// … and where fewer than one in so many random orders of its values would
/// agree as well, all columns and parts that were tried taken together: a
/// constant repeats nothing.
const CHANCE_ONE_IN: f64 = 1e6;

/// A part is no longer looked for in a column once so many rows contradict …
const MOST_CONTRADICTING: u64 = 10;

/// … which are more than one in so many of those that agree.
const CONTRADICTING_ONE_IN: u64 = 10;

/// A column some of whose rows contradict proves nothing. But where it agrees with
/// so many cells of a form in another order only than the one that decisive cells
/// settled, and fewer rows contradict, those are no noise: a wrong month is the
/// day of the same date once in 11.
const LEAST_AGAINST: u64 = 8;

/// So many different values of a part are counted; that many are by no chance
/// the same in row after row.
const VALUES_KEPT: usize = 64;

/// A column's dates against every part that every column may repeat.
#[derive(Debug)]
pub(super) struct RepeatedParts {
    /// By the other's index.
    columns: IndexMap<usize, Repeats>,
}

/// A column's dates against the parts that another may repeat.
#[derive(Debug)]
struct Repeats {
    /// Its name is about dates: months may be named in any language.
    is_named: bool,
    /// The part that its name names.
    named: Option<DatePart>,
    parts: [Repeat; DatePart::ALL.len()],
}

/// A column's dates against a part that another may repeat.
#[derive(Debug, Default)]
struct Repeat {
    /// Cells with one order, whose part the other column has.
    agree: u64,
    /// Those whose part it does not have.
    disagree: u64,
    /// Cells with several, by the one whose part it has.
    votes: Votes,
    /// What the other column says in rows that agree.
    said: BTreeMap<i32, u64>,
    /// Too many rows contradict, in some block of the table.
    is_out: bool,
}

impl RepeatedParts {
    /// Of the column at `index`.
    pub fn new(compared: &ComparedColumns, index: usize) -> RepeatedParts {
        let repeats = |other: usize| {
            let name = &compared.columns[other];
            let repeats = Repeats {
                is_named: names_a_date(name),
                named: part_named(name),
                parts: Default::default(),
            };
            (other, repeats)
        };
        RepeatedParts {
            columns: compared.near(index).into_iter().map(repeats).collect(),
        }
    }

    /// The limit of chance, as a natural logarithm.
    fn limit(&self) -> f64 {
        let tried = self.columns.len() * DatePart::ALL.len();
        -(CHANCE_ONE_IN * tried as f64).ln()
    }
}

impl Repeats {
    /// Whether every part is ruled out.
    fn is_out(&self) -> bool {
        self.parts.iter().all(|part| part.is_out)
    }

    /// The part by which the column says the most. Where it could as well be
    /// another part, which says something else, it says nothing: the numbers 1
    /// to 12 that are the months of dates read month first are their days read
    /// day first.
    fn best(&self, limit: f64) -> Option<(&Repeat, DatePart)> {
        self.best_of(|repeat| repeat.is_proven(limit))
    }

    /// The same of what it repeats but for some noise, where it repeats nothing
    /// without.
    fn likely(&self, limit: f64) -> Option<(&Repeat, DatePart)> {
        let mut parts = self.parts.iter();
        if parts.any(|repeat| repeat.is_proven(limit)) {
            return None;
        }
        self.best_of(|repeat| repeat.is_likely(limit))
    }

    fn best_of(&self, test: impl Fn(&Repeat) -> bool) -> Option<(&Repeat, DatePart)> {
        let parts = self.parts.iter().zip(DatePart::ALL);
        let can_be = |part: DatePart| match (self.named, part) {
            (Some(named), DatePart::Month | DatePart::Day | DatePart::Week) => named == part,
            _ => true,
        };
        let proven: Vec<(&Repeat, DatePart)> = parts
            .filter(|(repeat, part)| can_be(*part) && test(repeat))
            .collect();
        let best = proven.iter().max_by_key(|(repeat, _)| repeat.votes.all());
        let (best, part) = *best?;
        let agree = |(other, _): &(&Repeat, _)| best.votes.cover(&other.votes);
        proven.iter().all(agree).then_some((best, part))
    }
}

impl Repeat {
    fn agreeing(&self) -> u64 {
        self.agree + self.votes.all()
    }

    fn contradicting(&self) -> u64 {
        self.disagree + self.votes.all_against()
    }

    fn check(&mut self) {
        let contradicting = self.contradicting();
        self.is_out |= contradicting > MOST_CONTRADICTING
            && contradicting * CONTRADICTING_ONE_IN > self.agreeing();
    }

    /// How likely the values of the other column, in a random order, agree as
    /// well, as a natural logarithm. A row agrees with one date where its value
    /// meets the same one: the sum of the squared shares; with one of two,
    /// twice as often.
    fn chance(&self) -> f64 {
        let all: u64 = self.said.values().sum();
        let share = |count: &u64| (*count as f64 / all as f64).powi(2);
        let meets = self.said.values().map(share).sum::<f64>().min(1.0);
        let meets_either = (2.0 * meets).min(1.0);
        self.agree as f64 * meets.ln() + self.votes.all() as f64 * meets_either.ln()
    }

    /// Whether the column repeats the part but for some noise.
    fn is_likely(&self, limit: f64) -> bool {
        !self.is_out
            && self.contradicting() * CONTRADICTING_ONE_IN <= self.agreeing()
            && self.chance() < limit
    }

    /// Whether it speaks against `own` as the order of `form`, for all its noise:
    /// how many cells of it agree in another order only.
    fn against(&self, form: usize, own: Hypothesis) -> Option<u64> {
        let votes = self.votes.on(form);
        let others = votes.filter(|(hypothesis, _)| *hypothesis != own);
        let against = others.map(|(_, cells)| cells).sum();
        (against >= LEAST_AGAINST && against > self.contradicting()).then_some(against)
    }

    fn is_proven(&self, limit: f64) -> bool {
        !self.is_out
            && self.contradicting() == 0
            && self.agreeing() >= LEAST_AGREEING
            && self.chance() < limit
    }

    /// What was found of `part`, which the column is `taken` to repeat or not.
    fn attempt(&self, column: &str, part: DatePart, taken: bool, limit: f64) -> String {
        let wanted = if self.is_proven(limit) {
            "a name that says which part its numbers are".to_owned()
        } else {
            format!("{LEAST_AGREEING} rows without a contradiction, and more than chance gives")
        };
        let contradict = match self.contradicting() {
            1 => "1 contradicts".to_owned(),
            more => format!("{} contradict", number(more)),
        };
        format!(
            "{column} repeats the {} in {}, {contradict}; {}",
            part.words(),
            count(self.agreeing(), "row"),
            holds(taken, &wanted)
        )
    }

    fn keep(&mut self, value: i32, rows: u64) {
        if self.said.len() < VALUES_KEPT || self.said.contains_key(&value) {
            *self.said.entry(value).or_default() += rows;
        }
    }

    fn observe(&mut self, part: DatePart, own: &OwnReading, said: Option<i32>) {
        match own {
            OwnReading::Nothing(_) => {}
            OwnReading::One { stamp, .. } => {
                let Some(date) = stamp.date() else {
                    return;
                };
                match said.filter(|said| *said == part.of(date)) {
                    Some(said) => {
                        self.agree += 1;
                        self.keep(said, 1);
                    }
                    None => self.disagree += 1,
                }
            }
            OwnReading::Several(several) => {
                let has = |index: usize| {
                    let date = several.stamps[index].date();
                    date.is_some_and(|date| said == Some(part.of(date)))
                };
                let votes = self.votes.all();
                self.votes.add(several, has);
                if let Some(said) = said.filter(|_| self.votes.all() > votes) {
                    self.keep(said, 1);
                }
            }
        }
    }
}

impl RepeatedParts {
    /// The forms that a column speaks against, though some of its rows are wrong.
    fn doubts<'s>(
        &'s self,
        question: &Question<'_>,
        limit: f64,
    ) -> impl Iterator<Item = Conclusion<'s>> {
        let forms = question.open_forms.iter();
        forms.filter_map(move |(form, _)| {
            let own = question.own_hypothesis(*form)?;
            let mut columns = self.columns.iter();
            columns.find_map(|(index, repeats)| {
                let (repeat, part) = repeats.likely(limit)?;
                let found = Finding::NoisyPart {
                    column: question.compared.columns[*index].clone(),
                    part,
                    rows: repeat.agreeing(),
                    contradicting: repeat.contradicting(),
                    hypothesis: own,
                    against: repeat.against(*form, own)?,
                };
                Some(Conclusion::Doubt {
                    form: *form,
                    justification: Justification {
                        form: Some(*form),
                        found,
                    },
                })
            })
        })
    }
}

impl EvidenceSource for RepeatedParts {
    fn observe(&mut self, row: &Observed<'_>) {
        if matches!(row.own(), OwnReading::Nothing(_)) {
            return;
        }
        for (&index, repeats) in &mut self.columns {
            if repeats.is_out() {
                continue;
            }
            let text = &row.texts[index];
            if text.trim().is_empty() {
                continue;
            }
            let is_named = repeats.is_named;
            for (repeat, part) in repeats.parts.iter_mut().zip(DatePart::ALL) {
                if !repeat.is_out {
                    let said = if is_named {
                        part.read(text)
                    } else {
                        part.read_plain(text)
                    };
                    repeat.observe(part, row.own(), said);
                    repeat.check();
                }
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<RepeatedParts>(later).columns;
        let repeats = self.columns.values_mut().flat_map(|own| &mut own.parts);
        let later = later.into_values().flat_map(|own| own.parts);
        for (repeat, more) in repeats.zip(later) {
            repeat.is_out |= more.is_out;
            repeat.agree += more.agree;
            repeat.disagree += more.disagree;
            repeat.votes.merge(&more.votes);
            for (value, rows) in more.said {
                repeat.keep(value, rows);
            }
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let again = |repeat: &Repeat| Repeat {
            is_out: repeat.is_out,
            ..Repeat::default()
        };
        let columns = self.columns.iter().map(|(index, repeats)| {
            let again = Repeats {
                is_named: repeats.is_named,
                named: repeats.named,
                parts: repeats.parts.each_ref().map(again),
            };
            (*index, again)
        });
        Box::new(RepeatedParts {
            columns: columns.collect(),
        })
    }

    fn wants_text(&self, index: usize) -> bool {
        self.columns.get(&index).is_some_and(|own| !own.is_out())
    }

    fn is_out(&self) -> bool {
        self.columns.values().all(Repeats::is_out)
    }

    /// Of each column, what it says the most by: a date that it repeats has a
    /// month too.
    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let limit = self.limit();
        let columns = self.columns.iter();
        let premises = columns.filter_map(|(index, repeats)| {
            let column = &question.compared.columns[*index];
            let (repeat, part) = repeats.best(limit)?;
            Some(Conclusion::Premise(HeldPremise {
                premise: Premise::Same {
                    part,
                    column: column.clone(),
                    rows: repeat.agreeing(),
                },
                votes: &repeat.votes,
                by_chance: 0.0,
            }))
        });
        premises.chain(self.doubts(question, limit)).collect()
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let limit = self.limit();
        let columns = self.columns.iter();
        let lines = columns.flat_map(|(index, repeats)| {
            let column = &question.compared.columns[*index];
            let best = repeats.best(limit).map(|(_, part)| part);
            let parts = repeats.parts.iter().zip(DatePart::ALL);
            parts
                .filter(move |(_, part)| best.is_none_or(|best| best == *part))
                .filter(|(repeat, _)| repeat.agreeing() > 0 && !repeat.is_out)
                .filter(|(repeat, _)| repeat.contradicting() <= repeat.agreeing())
                .map(move |(repeat, part)| repeat.attempt(column, part, best.is_some(), limit))
        });
        lines.collect()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
