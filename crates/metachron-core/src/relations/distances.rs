//! Level 5: other dates at a steady distance, such as the same date in another
//! form, or one 30 days later.
//!
//! How many days lie between two dates of a row is a test of every order: under
//! the right one they are few in every row, under a wrong one months and years.

use super::form_cells::form_of;
use super::observed::Observed;
use super::premise::Premise;
use super::reading_sets::{ReadingSet, ReadingSets};
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::{OwnReading, day_of};
use crate::form::Hypothesis;
use crate::stamp::Stamp;
use crate::words::{count, in_days};
use indexmap::IndexMap;
use rustc_hash::FxHashMap;
use std::any::Any;

/// Distances are told up to so many days; what lies further is far.
const FURTHEST: i32 = 1000;

/// Two columns with more different distances than this have none.
const MOST_DISTANCES: usize = 4096;

/// That a distance is steady is believed from so many rows on …
const LEAST_ROWS: u64 = 10;

/// … or, where it is not the same in all, from so many on: the next row is
/// beyond the limits of n rows once in n / 2 …
const LEAST_FOR_LIMITS: u64 = 50;

/// … where fewer than one in so many random orders of the other column's dates
/// would stay within it as well, all columns that were tried taken together …
const CHANCE_ONE_IN: f64 = 1e6;

/// … and where it takes at most so much of what the other column spans.
const WIDEST: f64 = 0.25;

/// A column's dates against those of every other temporal column.
#[derive(Debug)]
pub(super) struct Distances {
    /// By the other column's number.
    columns: IndexMap<usize, Distance>,
    /// What the distances prove, once no row follows: by the other column's
    /// number.
    found: Vec<(usize, Steady)>,
}

/// The days that each reading of a cell is behind another cell: a small key, since there
/// is one for every row.
type EachDays = [i16; MOST_READINGS];

/// A cell has at most so many different readings: `05.03.24` has an order for each.
const MOST_READINGS: usize = 6;

/// A column's dates against those of another.
#[derive(Debug, Default)]
struct Distance {
    /// Cells with one reading, by the days that they are behind the other's.
    known: FxHashMap<i32, u64>,
    /// What the readings of cells rest on that have several.
    sets: ReadingSets,
    /// Those cells, by the number of that and the days of each.
    several: FxHashMap<(usize, EachDays), u64>,
    /// The earliest and the latest date of the other column, as days.
    span: Option<(i32, i32)>,
    /// There are too many different ones.
    is_out: bool,
}

/// A distance that holds for all cells.
#[derive(Debug)]
struct Steady {
    least: i32,
    most: i32,
    rows: u64,
    votes: Votes,
    /// How much of what the other column spans it takes.
    share: f64,
}

impl Distances {
    /// Of a column and these temporal ones.
    pub fn new(others: impl IntoIterator<Item = usize>) -> Distances {
        let others = others.into_iter();
        Distances {
            columns: others.map(|number| (number, Distance::default())).collect(),
            found: Vec::new(),
        }
    }
}

impl Distance {
    fn observe(&mut self, own: &OwnReading, other: i32) {
        let days = |stamp: Stamp| {
            let days = day_of(stamp)? - other;
            Some(days.clamp(-FURTHEST, FURTHEST))
        };
        match own {
            OwnReading::Nothing(_) => return,
            OwnReading::One { stamp, .. } => match days(*stamp) {
                Some(days) => *self.known.entry(days).or_default() += 1,
                None => return,
            },
            OwnReading::Several(several) => {
                // In a zone, each of them may have been twice.
                if several.stamps.len() > MOST_READINGS {
                    return;
                }
                let mut each = EachDays::default();
                for (place, &stamp) in each.iter_mut().zip(&several.stamps) {
                    let Some(days) = days(stamp) else { return };
                    *place = days as i16;
                }
                let number = self.sets.number_of(form_of(several), &several.hypotheses);
                *self.several.entry((number, each)).or_default() += 1;
            }
        }
        let (first, last) = self.span.unwrap_or((other, other));
        self.span = Some((first.min(other), last.max(other)));
        self.check();
    }

    /// Cells with several readings: which, how many days each is behind, and how many
    /// cells.
    fn several(&self) -> impl Iterator<Item = (&ReadingSet, &[i16], u64)> {
        self.several.iter().map(|((number, each), rows)| {
            let set = self.sets.get(*number);
            (set, &each[..set.hypotheses.len()], *rows)
        })
    }

    fn check(&mut self) {
        if self.known.len() + self.several.len() > MOST_DISTANCES {
            self.is_out = true;
            self.known.clear();
            self.several.clear();
        }
    }

    fn merge(&mut self, later: Distance) {
        self.is_out |= later.is_out;
        for (days, rows) in later.known {
            *self.known.entry(days).or_default() += rows;
        }
        for ((number, each), rows) in later.several {
            let set = later.sets.get(number);
            let number = self.sets.number_of(set.form, &set.hypotheses);
            *self.several.entry((number, each)).or_default() += rows;
        }
        for (first, last) in [self.span, later.span].into_iter().flatten() {
            let (earliest, latest) = self.span.unwrap_or((first, last));
            self.span = Some((earliest.min(first), latest.max(last)));
        }
        if self.is_out {
            self.known.clear();
            self.several.clear();
        }
        self.check();
    }

    /// Whether dates that have nothing to do with each other are never this
    /// close in so many rows.
    fn is_beyond_chance(&self, (least, most): (i32, i32), rows: u64, tried: usize) -> bool {
        if rows < LEAST_ROWS || least <= -FURTHEST || most >= FURTHEST {
            return false;
        }
        let share = self.share((least, most));
        // Two of the rows made the limits, whichever they are.
        let chance = (rows - 2) as f64 * share.ln() + 2.0 * (rows as f64).ln();
        share <= WIDEST && chance < -(CHANCE_ONE_IN * tried as f64).ln()
    }

    /// How much of what the other column spans lies between these limits.
    fn share(&self, (least, most): (i32, i32)) -> f64 {
        let (first, last) = self.span.unwrap_or_default();
        (f64::from(most - least + 1) / f64::from(last - first + 1)).min(1.0)
    }

    /// The cells that the distance leaves one reading.
    fn votes(&self, (least, most): (i32, i32)) -> Votes {
        let mut votes = Votes::default();
        for (set, each, rows) in self.several() {
            votes.add_rows(set.form, &set.hypotheses, rows, |index| {
                (least..=most).contains(&each[index].into())
            });
        }
        votes
    }

    /// The distance that holds for the cells that have one reading, and leaves
    /// all others one at least; else the one that holds for all under one hypothesis
    /// and under no other.
    fn steady(&self, tried: usize) -> Option<Steady> {
        let rows: u64 = self.known.values().sum();
        let limits = |days: &mut dyn Iterator<Item = i32>| {
            days.fold(None, |limits: Option<(i32, i32)>, days| {
                let (least, most) = limits.unwrap_or((days, days));
                Some((least.min(days), most.max(days)))
            })
        };
        if let Some((least, most)) = limits(&mut self.known.keys().copied())
            && (least == most || rows >= LEAST_FOR_LIMITS)
            && self.is_beyond_chance((least, most), rows, tried)
            && let votes = self.votes((least, most))
            && votes.all_against() == 0
        {
            return Some(Steady {
                least,
                most,
                rows,
                votes,
                share: self.share((least, most)),
            });
        }
        let mut hypotheses: Vec<Hypothesis> = Vec::new();
        for hypothesis in self.sets.iter().flat_map(|set| &set.hypotheses).flatten() {
            if !hypotheses.contains(hypothesis) {
                hypotheses.push(*hypothesis);
            }
        }
        let mut steady = hypotheses.into_iter().filter_map(|hypothesis| {
            let by_hypothesis = self.several().map(|(set, each, rows)| {
                let own = &set.hypotheses;
                let index = own.iter().position(|own| *own == Some(hypothesis))?;
                Some((i32::from(each[index]), rows))
            });
            let by_hypothesis = by_hypothesis.collect::<Option<Vec<(i32, u64)>>>()?;
            let days = by_hypothesis.iter().map(|(days, _)| *days);
            let (least, most) = limits(&mut self.known.keys().copied().chain(days))?;
            let rows = rows + by_hypothesis.iter().map(|(_, rows)| rows).sum::<u64>();
            let holds = self.is_beyond_chance((least, most), rows, tried);
            holds.then(|| Steady {
                least,
                most,
                rows,
                votes: self.votes((least, most)),
                share: self.share((least, most)),
            })
        });
        steady.next().filter(|_| steady.next().is_none())
    }
}

impl EvidenceSource for Distances {
    fn observe(&mut self, row: &Observed<'_>) {
        for (&number, distance) in &mut self.columns {
            if !distance.is_out
                && let Some(other) = row.settled_stamp(number).and_then(day_of)
            {
                distance.observe(row.own(), other);
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<Distances>(later).columns;
        for (distance, more) in self.columns.values_mut().zip(later.into_values()) {
            distance.merge(more);
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let columns = self.columns.iter().map(|(number, distance)| {
            let again = Distance {
                is_out: distance.is_out,
                ..Distance::default()
            };
            (*number, again)
        });
        Box::new(Distances {
            columns: columns.collect(),
            found: Vec::new(),
        })
    }

    fn wants_reading(&self, number: usize) -> bool {
        let distance = self.columns.get(&number);
        distance.is_some_and(|distance| !distance.is_out)
    }

    fn is_out(&self) -> bool {
        self.columns.values().all(|distance| distance.is_out)
    }

    fn finish(&mut self) {
        let tried = self.columns.len();
        let columns = self.columns.iter();
        let steady = |(number, own): (&usize, &Distance)| Some((*number, own.steady(tried)?));
        self.found = columns.filter_map(steady).collect();
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let found = self.found.iter();
        found
            .map(|(number, steady)| {
                let index = question.compared.temporal[*number];
                Conclusion::Premise(HeldPremise {
                    premise: Premise::DaysAfter {
                        column: question.compared.columns[index].clone(),
                        least: steady.least,
                        most: steady.most,
                        rows: steady.rows,
                    },
                    votes: &steady.votes,
                    by_chance: steady.share,
                })
            })
            .collect()
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let found = self.found.iter();
        found
            .map(|(number, steady)| {
                let column = &question.compared.columns[question.compared.temporal[*number]];
                format!(
                    "{} {column} in {}; {}",
                    in_days(steady.least, steady.most),
                    count(steady.rows, "row"),
                    holds(true, "")
                )
            })
            .collect()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
