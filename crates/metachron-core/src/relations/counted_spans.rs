//! Level 5: numbers that count the time between the date and another.
//!
//! An age in years, a stay in nights, the days that a loan is late: the other end
//! is a date of the same row, or one day for all of them, which need not be known.
//! Read in the wrong order, dates are months away, and no day fits all ages.

use super::compared_columns::ComparedColumns;
use super::observed::Observed;
use super::premise::{Premise, SpanEnd, SpanUnit};
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::{OwnReading, day_of};
use crate::form::Hypothesis;
use crate::stamp::Stamp;
use indexmap::IndexMap;
use jiff::civil::Date;
use jiff::{Span, ToSpan};
use std::any::Any;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// That a column counts the time between two dates is believed from so many rows on,
/// none of which contradicts. Of dates in the wrong order, half are another number of
/// years away: one in a million random columns of 20 goes with them.
const LEAST_ROWS: u64 = 20;

/// So many different numbers there must be: that one number goes with all dates says
/// no more than that they are near each other.
const LEAST_DIFFERENT: usize = 3;

/// An order does not fit only where more than two rows contradict it: one wrong age in
/// the right order, and the wrong one would be the only one that fits.
const EXTREMES: usize = 3;

/// Both ends may count, or neither: a stay from Monday to Tuesday is one night and
/// two days.
const MOST_BEYOND: i32 = 1;

/// A column of dates is compared with so many others on either side of it.
const REACH: usize = 4;

/// No count of years or days has more digits.
const MOST_DIGITS: usize = 5;

/// The lower limit of what cannot be counted: it goes with nothing.
const NEVER: i32 = i32::MAX;

/// Day 0 of [`day_of`].
const EPOCH: Date = Date::constant(1970, 1, 1);

/// A column's dates against the numbers of others.
#[derive(Debug)]
pub(super) struct CountedSpans {
    /// By the index of the column of numbers.
    columns: IndexMap<usize, Numbers>,
    /// What every column of numbers may count.
    all_ways: Arc<[Way]>,
    /// What the numbers prove, once no row follows.
    found: Vec<Found>,
}

/// What a column of numbers may count.
#[derive(Clone, Debug, Default)]
struct Numbers {
    /// `None` before the first number: of a wide table, most columns hold none, and
    /// 1,000 columns with all ways each took 1.8 GB.
    ways: Option<Vec<Way>>,
    /// The different ones, as far as they are counted.
    different: BTreeSet<i32>,
}

/// The other end and the unit, and how the numbers go with the dates.
#[derive(Clone, Debug)]
struct Way {
    /// The number of the column of the other end; one day for all rows, if none.
    to: Option<usize>,
    unit: SpanUnit,
    /// Cells with one reading.
    known: Fit,
    /// Cells with several, by form and hypothesis.
    open: BTreeMap<(usize, Hypothesis), Fit>,
    /// Whether cells with one reading are just so far from the other column as their
    /// number says …
    is_exact: bool,
    /// … and those with several by the one reading that is.
    exact: Votes,
}

/// How well numbers fit the dates of some cells: each row has limits of days, of how far
/// its number is beyond the time between, or of the one day that all are counted to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Fit {
    rows: u64,
    /// The greatest of the lower limits, from the greatest on.
    least: [i32; EXTREMES],
    /// The least of the upper limits, from the least on.
    most: [i32; EXTREMES],
}

/// A column that counts the time to another date.
#[derive(Debug)]
struct Found {
    column: usize,
    to: Option<usize>,
    unit: SpanUnit,
    rows: u64,
    /// The days that it may be counted to, where that is one for all rows.
    days: Option<[Date; 2]>,
    votes: Votes,
}

impl Default for Fit {
    fn default() -> Fit {
        Fit {
            rows: 0,
            least: [i32::MIN; EXTREMES],
            most: [NEVER - 1; EXTREMES],
        }
    }
}

impl Fit {
    fn add(&mut self, limits: Option<(i32, i32)>) {
        self.rows += 1;
        let (least, most) = limits.unwrap_or((NEVER, NEVER - 1));
        put(&mut self.least, least, |one, other| one > other);
        put(&mut self.most, most, |one, other| one < other);
    }

    fn with(mut self, more: Fit) -> Fit {
        self.rows += more.rows;
        for (least, most) in more.least.into_iter().zip(more.most) {
            put(&mut self.least, least, |one, other| one > other);
            put(&mut self.most, most, |one, other| one < other);
        }
        self
    }

    /// The limits that all rows have in common; the lower one is above the upper one
    /// where they have none.
    fn limits(self) -> [i32; 2] {
        [self.least[0], self.most[0]]
    }

    fn holds(self) -> bool {
        self.least[0] <= self.most[0]
    }

    /// Whether it does not hold, whichever few rows are left out: so many with the
    /// greatest lower limits, and the others with the least upper ones.
    fn is_disproved(self) -> bool {
        let mut limits = self.least.iter().zip(self.most.iter().rev());
        limits.all(|(least, most)| least > most)
    }
}

/// Puts a limit where it belongs among those that are kept.
fn put(kept: &mut [i32; EXTREMES], limit: i32, is_further: impl Fn(i32, i32) -> bool) {
    if let Some(place) = kept.iter().position(|known| is_further(limit, *known)) {
        kept[place..].rotate_right(1);
        kept[place] = limit;
    }
}

impl SpanUnit {
    /// The whole units between two days, whichever is the earlier one.
    fn between(self, one: Date, other: Date) -> Option<i32> {
        let (from, to) = (one.min(other), one.max(other));
        match self {
            SpanUnit::Days => Some(day_of(Stamp::Date(to))? - day_of(Stamp::Date(from))?),
            SpanUnit::Years => {
                let is_before = (to.month(), to.day()) < (from.month(), from.day());
                Some(i32::from(to.year()) - i32::from(from.year()) - i32::from(is_before))
            }
        }
    }

    fn after(self, date: Date, units: i32) -> Option<i32> {
        let span = match self {
            SpanUnit::Days => Span::new().try_days(units),
            SpanUnit::Years => Span::new().try_years(units),
        };
        day_of(Stamp::Date(date.checked_add(span.ok()?).ok()?))
    }
}

impl Way {
    /// Between which limits the day or the count lies that the number makes.
    fn limits(&self, date: Date, other: Option<Date>, number: i32) -> Option<(i32, i32)> {
        match other {
            None => {
                let last = self.unit.after(date, number + 1)? - 1;
                Some((self.unit.after(date, number)?, last))
            }
            Some(other) => {
                let beyond = number - self.unit.between(date, other)?;
                (beyond.abs() <= MOST_BEYOND).then_some((beyond, beyond))
            }
        }
    }

    fn observe(&mut self, own: &OwnReading, other: Option<Date>, number: i32) {
        match own {
            OwnReading::Nothing(_) => {}
            OwnReading::One { stamp, .. } => {
                let limits = |date| self.limits(date, other, number);
                let limits = stamp.date().and_then(limits);
                self.known.add(limits);
                self.is_exact &= limits == Some((0, 0));
            }
            OwnReading::Several(several) => {
                let Some(form) = several.form else { return };
                if other.is_some() {
                    let mut exact = std::mem::take(&mut self.exact);
                    exact.add(several, |index| {
                        let date = several.stamps[index].date();
                        date.and_then(|date| self.limits(date, other, number)) == Some((0, 0))
                    });
                    self.exact = exact;
                }
                for (stamp, hypothesis) in several.iter() {
                    let Some(hypothesis) = hypothesis else {
                        continue;
                    };
                    let limits = |date| self.limits(date, other, number);
                    let limits = stamp.date().and_then(limits);
                    self.open.entry((form, hypothesis)).or_default().add(limits);
                }
            }
        }
    }

    /// Whether nothing fits it any more, whatever rows follow.
    fn is_out(&self) -> bool {
        let mut open = self.open.values();
        let decides_each = self.to.is_some() && self.is_exact && self.exact.all_against() == 0;
        let no_form_fits = !self.open.is_empty() && open.all(|fit| !fit.holds());
        !self.known.holds() || no_form_fits && !decides_each
    }

    /// What it proves: for each form of which one hypothesis fits and no other, that
    /// its cells are read by that; else what it leaves each cell.
    fn found(&self, column: usize) -> Option<Found> {
        let mut votes = Votes::default();
        let mut all = self.known;
        let mut forms: Vec<usize> = self.open.keys().map(|(form, _)| *form).collect();
        forms.dedup();
        for form in forms {
            let own = || self.open.iter().filter(|((known, _), _)| *known == form);
            let left = own().filter(|(_, fit)| !fit.with(self.known).is_disproved());
            let mut left = left.map(|((_, hypothesis), fit)| (*hypothesis, *fit));
            if let (Some((hypothesis, fit)), None) = (left.next(), left.next())
                && let with_known = fit.with(self.known)
                && with_known.holds()
                && with_known.rows >= LEAST_ROWS
            {
                votes.add_rows(form, &[Some(hypothesis)], fit.rows, |_| true);
                all = all.with(fit);
            }
        }
        // Where cells are of several orders, each has its own.
        if votes.all() == 0
            && self.to.is_some()
            && self.is_exact
            && self.known.rows >= LEAST_ROWS
            && self.exact.all_against() == 0
        {
            all.rows += self.exact.all();
            votes = self.exact.clone();
        }
        (votes.all() > 0 && all.holds()).then(|| Found {
            column,
            to: self.to,
            unit: self.unit,
            rows: all.rows,
            days: (self.to.is_none()).then(|| all.limits().map(|day| EPOCH + day.days())),
            votes,
        })
    }
}

/// A whole number of a few digits.
fn number_of(text: &str) -> Option<i32> {
    let digits = text.strip_prefix('-').unwrap_or(text);
    let is_number = !digits.is_empty()
        && digits.len() <= MOST_DIGITS
        && digits.bytes().all(|byte| byte.is_ascii_digit());
    text.parse().ok().filter(|_| is_number)
}

impl CountedSpans {
    /// Of the column with this number, and those near it.
    pub fn new(compared: &ComparedColumns, own: usize) -> CountedSpans {
        let others = compared.near_temporal(own).into_iter();
        let others = others.filter(|other| other.abs_diff(own) <= REACH);
        let ends: Vec<Option<usize>> = others.map(Some).chain([None]).collect();
        let way = |to, unit| Way {
            to,
            unit,
            known: Fit::default(),
            open: BTreeMap::new(),
            is_exact: true,
            exact: Votes::default(),
        };
        let units = [SpanUnit::Years, SpanUnit::Days];
        let ways = ends.iter().flat_map(|to| units.map(|unit| way(*to, unit)));
        let near = compared.near(compared.temporal[own]);
        CountedSpans {
            columns: (near.into_iter())
                .map(|index| (index, Numbers::default()))
                .collect(),
            all_ways: ways.collect(),
            found: Vec::new(),
        }
    }
}

impl Numbers {
    fn observe(&mut self, row: &Observed<'_>, number: i32, all_ways: &[Way]) {
        if self.different.len() < LEAST_DIFFERENT {
            self.different.insert(number);
        }
        let ways = self.ways.get_or_insert_with(|| all_ways.to_vec());
        ways.retain_mut(|way| {
            let other = way
                .to
                .map(|to| row.settled_stamp(to).and_then(|to| to.date()));
            // A row without the other end says nothing.
            if other != Some(None) {
                way.observe(row.own(), other.flatten(), number);
            }
            !way.is_out()
        });
    }

    fn merge(&mut self, later: Numbers) {
        self.different.extend(later.different);
        let Some(later) = later.ways else { return };
        let Some(ways) = &mut self.ways else {
            self.ways = Some(later);
            return;
        };
        ways.retain_mut(|way| {
            let is_same = |more: &&Way| (more.to, more.unit) == (way.to, way.unit);
            let Some(more) = later.iter().find(is_same) else {
                return false;
            };
            way.known = way.known.with(more.known);
            way.is_exact &= more.is_exact;
            way.exact.merge(&more.exact);
            for (key, fit) in &more.open {
                let own = way.open.entry(*key).or_default();
                *own = own.with(*fit);
            }
            !way.is_out()
        });
    }

    fn start_again(&self) -> Numbers {
        let again = |way: &Way| Way {
            known: Fit::default(),
            open: BTreeMap::new(),
            is_exact: true,
            exact: Votes::default(),
            ..*way
        };
        Numbers {
            ways: (self.ways.as_ref()).map(|ways| ways.iter().map(again).collect()),
            different: BTreeSet::new(),
        }
    }

    /// Whether they count nothing.
    fn are_out(&self) -> bool {
        self.ways.as_ref().is_some_and(Vec::is_empty)
    }
}

impl EvidenceSource for CountedSpans {
    fn observe(&mut self, row: &Observed<'_>) {
        if matches!(row.own(), OwnReading::Nothing(_)) {
            return;
        }
        self.columns.retain(|&index, numbers| {
            let text = row.texts[index].trim();
            if text.is_empty() {
                return true;
            }
            let Some(number) = number_of(text) else {
                return false;
            };
            numbers.observe(row, number, &self.all_ways);
            !numbers.are_out()
        });
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let mut later = same_type::<CountedSpans>(later).columns;
        self.columns.retain(|index, numbers| {
            let Some(more) = later.swap_remove(index) else {
                return false;
            };
            numbers.merge(more);
            !numbers.are_out()
        });
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let columns = self.columns.iter();
        Box::new(CountedSpans {
            columns: columns
                .map(|(index, numbers)| (*index, numbers.start_again()))
                .collect(),
            all_ways: self.all_ways.clone(),
            found: Vec::new(),
        })
    }

    fn wants_text(&self, index: usize) -> bool {
        self.columns.contains_key(&index)
    }

    fn wants_reading(&self, number: usize) -> bool {
        let mut columns = self.columns.values();
        columns.any(|numbers| {
            let ways = numbers.ways.as_deref().unwrap_or(&self.all_ways);
            ways.iter().any(|way| way.to == Some(number))
        })
    }

    fn is_out(&self) -> bool {
        self.columns.is_empty()
    }

    fn finish(&mut self) {
        let columns = self.columns.iter();
        let varied = columns.filter(|(_, own)| own.different.len() >= LEAST_DIFFERENT);
        let found = varied.flat_map(|(&index, own)| {
            let ways = own.ways.iter().flatten();
            ways.filter_map(move |way| way.found(index))
        });
        self.found = found.collect();
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let found = self.found.iter();
        let premises = found.map(|found| {
            Conclusion::Premise(HeldPremise {
                premise: found.premise(question),
                votes: &found.votes,
                by_chance: 0.0,
            })
        });
        premises.collect()
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let found = self.found.iter();
        found
            .map(|found| {
                let premise = found.premise(question);
                format!("{}; {}", premise.sentence(), holds(true, ""))
            })
            .collect()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}

impl Found {
    fn premise(&self, question: &Question<'_>) -> Premise {
        let to = match (self.to, self.days) {
            (Some(number), _) => SpanEnd::Column(question.name_of(number).to_owned()),
            (None, days) => SpanEnd::OneDay(days.unwrap_or_default()),
        };
        Premise::Counts {
            column: question.compared.columns[self.column].clone(),
            unit: self.unit,
            to,
            rows: self.rows,
        }
    }
}
