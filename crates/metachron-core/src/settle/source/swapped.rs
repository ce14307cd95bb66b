//! Level 6: dates whose day and month an import has swapped.
//!
//! A spreadsheet that reads month before day opens a file that writes day
//! before month. `25/12/2024` is no date to it and stays text; `04/03/2024`
//! becomes the third of April, and is rewritten as `2024-04-03`, or as
//! whatever form the next program prefers. What is left is a column of two forms: text whose day is past 12 throughout, and
//! dates whose day is never past 12. No other cause is known that makes such a
//! column, and a single cell against it disproves it.

use super::FormSource;
use crate::evidence::{ColumnEvidence, DaysSeen, ShapeEvidence};
use crate::form::{Conventions, Form, Item, Order};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::reading::Outcome;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, as_written};

/// Reads dates that an import rewrote with day and month swapped, or leaves
/// them open where that is not proven.
pub(super) struct Swapped;

impl FormSource for Swapped {
    fn conclude(&self, column: &mut Column<'_>) {
        let declared = column.declared;
        let is_declared =
            !declared.forms.is_empty() || declared.order.is_some_and(Order::starts_with_year);
        if is_declared {
            return;
        }
        let Some(swap) = swap(column.evidence) else {
            return;
        };
        let evidence = column.evidence;
        for (shape, ruling) in column.ruled_mut() {
            let mut rewritten = swap.rewritten.iter();
            let is_rewritten = rewritten.any(|&index| std::ptr::eq(shape, &evidence.shapes[index]));
            let Some((written, swapped)) = pair(shape).filter(|_| is_rewritten) else {
                continue;
            };
            let form = |index: usize| {
                let candidate = &shape.readings.candidates()[index];
                as_written(&candidate.form, shape, index)
            };
            let pair = [form(written), form(swapped)];
            let others = ruling.alternatives().iter();
            let others: Vec<Form> = others
                .filter(|form| !pair.contains(form))
                .cloned()
                .collect();
            *ruling = match swap.proof {
                // What it may be otherwise is no matter of a swap.
                _ if !others.is_empty() => FormRuling::Open([&pair[..], &others].concat()),
                Proof::Proven => FormRuling::Settled(form(swapped)),
                Proof::Possible => FormRuling::Open(pair.to_vec()),
            };
        }
    }
}

/// What the cells say about a swap of day and month.
#[derive(Clone, Debug, PartialEq)]
pub struct Swap {
    /// The shapes of the dates that were rewritten, by their index in the
    /// evidence.
    pub rewritten: Vec<usize>,
    /// How many dates were rewritten.
    pub cells: u64,
    /// How many cells were left as text.
    pub witnesses: u64,
    /// How many different days of the year the dates are.
    pub days: u32,
    /// A few of the dates, as they stand there and as they were.
    pub samples: Vec<(String, String)>,
    /// Whether chance is excluded; if not, a person has to say.
    pub proof: Proof,
}

/// How sure it is that day and month were swapped.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Proof {
    /// Chance is excluded.
    Proven,
    /// Every cell agrees, but so few that it may be chance.
    Possible,
}

/// The share of days of the year that are no later than the 12th.
const EARLY: f64 = 144.0 / 365.25;

/// An swap is proven where chance would make such a column less often than
/// once in so many.
const CHANCE_ONE_IN: f64 = 1e6;

/// The dates rewritten must, read with day and month swapped, be of at
/// least so many months: payments on the first three days of a month are no
/// damage.
const LEAST_MONTHS: u32 = 5;

/// The months of the two halves must go together: where chance would leave out
/// the missing ones less often than once in so many, they are of two sources.
const MONTHS_ONE_IN: f64 = 100.0;

/// Whether every cell of the column says that day and month were swapped in
/// a part of it.
pub fn swap(evidence: &ColumnEvidence) -> Option<Swap> {
    let mut rewritten = Vec::new();
    let (mut cells, mut witnesses) = (0, 0);
    let (mut dates, mut text) = (DaysSeen::default(), DaysSeen::default());
    let mut left_order = None;
    for (index, shape) in evidence.shapes.iter().enumerate() {
        match half(shape)? {
            Half::Neither => {}
            Half::Rewritten(count) => {
                rewritten.push(index);
                cells += count;
                dates.merge(&shape.days);
            }
            Half::Left(order, count) => {
                if *left_order.get_or_insert(order) != order {
                    return None;
                }
                witnesses += count;
                text.merge(&match order {
                    Order::Mdy => shape.other_days,
                    _ => shape.days,
                });
            }
        }
    }
    if cells == 0 || witnesses == 0 {
        return None;
    }
    let days = dates.count();
    let chance = EARLY.ln() * f64::from(days) + (1.0 - EARLY).ln() * f64::from(text.count());
    let months = dates.swapped();
    let is_proven = chance < -CHANCE_ONE_IN.ln()
        && months.months().count_ones() >= LEAST_MONTHS
        && go_together(&months, &text);
    let samples = rewritten
        .iter()
        .flat_map(|&index| samples(&evidence.shapes[index]));
    Some(Swap {
        samples: samples.take(SAMPLES).collect(),
        rewritten,
        cells,
        witnesses,
        days,
        proof: if is_proven {
            Proof::Proven
        } else {
            Proof::Possible
        },
    })
}

/// So many dates are shown.
const SAMPLES: usize = 2;

/// Dates of `shape` that differ with day and month swapped: as they stand
/// there, and as they were.
fn samples(shape: &ShapeEvidence) -> Vec<(String, String)> {
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let Some(pair) = pair(shape) else {
        return Vec::new();
    };
    let candidates = shape.readings.candidates();
    let [written, swapped] = [pair.0, pair.1].map(|index| &candidates[index].reader);
    let examples = shape.tallies.iter().flat_map(|tally| {
        let second = tally.second.iter();
        std::iter::once(&tally.first).chain(second)
    });
    examples
        .filter_map(|example| {
            let cell = lexer.lex_cell(example.cell()).ok()?;
            let says = written.read(&cell, Conventions::default()).ok()?;
            let was = swapped.read(&cell, Conventions::default()).ok()?;
            let there = example.text.clone();
            (says != was).then(|| (there, was.to_string()))
        })
        .collect()
}

/// Whether two sets of days may be of the same months, apart from chance.
fn go_together(one: &DaysSeen, other: &DaysSeen) -> bool {
    let (ours, theirs) = (one.months(), other.months());
    let shared = (ours & theirs).count_ones();
    // That so many days miss some months of `all`, whichever those are.
    let chance = |all: u16, days: u32| {
        let all = all.count_ones();
        let missed = all - shared;
        let share = f64::from(shared) / f64::from(all);
        ways_to_choose(missed, all).ln() + share.ln() * f64::from(days)
    };
    shared > 0
        && chance(theirs, one.count()) >= -MONTHS_ONE_IN.ln()
        && chance(ours, other.count()) >= -MONTHS_ONE_IN.ln()
}

/// In how many ways `some` can be chosen of `all`.
fn ways_to_choose(some: u32, all: u32) -> f64 {
    (0..some).fold(1.0, |ways, number| {
        ways * f64::from(all - number) / f64::from(number + 1)
    })
}

/// What a shape's cells are, if there was a swap.
enum Half {
    /// Nothing that a swap would touch.
    Neither,
    /// Dates rewritten, so many.
    Rewritten(u64),
    /// Text that was left, in this order, so many.
    Left(Order, u64),
}

/// The candidate that reads dates as they were rewritten, and the one that
/// swaps their day and month back.
fn pair(shape: &ShapeEvidence) -> Option<(usize, usize)> {
    let candidates = shape.readings.candidates();
    let swapped = candidates.iter().position(|own| own.form.is_swapped())?;
    let written = candidates.iter().position(|own| {
        let form = own.form.swapped();
        let by_order = own.order() == Some(Order::Ymd) && own.form.has_numeric_month();
        form.as_ref() == Some(&candidates[swapped].form) || by_order
    });
    Some((written?, swapped))
}

/// How the dates of `shape` are written, which `own` reads with day and month
/// swapped.
pub(crate) fn written_form(shape: &ShapeEvidence, own: &Form) -> Option<Form> {
    let own = shape.readings.index_of(own)?;
    let (written, swapped) = pair(shape)?;
    let candidate = &shape.readings.candidates()[written];
    (swapped == own).then(|| as_written(&candidate.form, shape, written))
}

/// Which half the cells of `shape` are; `None` where one of them says that
/// there was no swap.
fn half(shape: &ShapeEvidence) -> Option<Half> {
    let candidates = shape.readings.candidates();
    let index = |order: Order| {
        candidates.iter().position(|candidate| {
            candidate.order() == Some(order)
                && candidate.form.has_numeric_month()
                && !candidate.form.is_swapped()
        })
    };
    let cells = |test: &dyn Fn(&Outcome) -> bool| shape.count(|tally| test(&tally.outcome));
    if let (Some(dmy), Some(mdy)) = (index(Order::Dmy), index(Order::Mdy)) {
        let day_first = cells(&|outcome| outcome.reads(dmy));
        let month_first = cells(&|outcome| outcome.reads(mdy));
        let both = cells(&|outcome| outcome.reads(dmy) && outcome.reads(mdy));
        match (both, day_first, month_first) {
            (0, 0, 0) => {}
            (0, cells, 0) => return Some(Half::Left(Order::Dmy, cells)),
            (0, 0, cells) => return Some(Half::Left(Order::Mdy, cells)),
            _ => return None,
        }
    }
    let Some((written, swapped)) = pair(shape) else {
        return Some(Half::Neither);
    };
    let rewritten = cells(&|outcome| outcome.reads(written));
    let late = cells(&|outcome| outcome.reads(written) && !outcome.reads(swapped));
    match (rewritten, late) {
        (0, _) => Some(Half::Neither),
        (_, 0) => Some(Half::Rewritten(rewritten)),
        _ if is_understood(&candidates[written].form) => None,
        _ => Some(Half::Neither),
    }
}

/// Whether a spreadsheet takes text of this form for a date, so that it leaves
/// none of the source's as it came: ISO dates, and what it says itself are
/// dates. Others (`20240425`, `25 Dez 2024`) it may not have understood.
fn is_understood(form: &Form) -> bool {
    let by_sign = |sign: char| {
        let mut items = form.items().iter();
        items.any(|item| matches!(item, Item::Literal(text) if text.contains(sign)))
    };
    let is_its_own = form.typed().is_some() || form.count().is_some();
    is_its_own || form.has_numeric_month() && by_sign('-') && !by_sign('T')
}
