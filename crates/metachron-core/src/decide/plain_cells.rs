//! What cells of plain numbers are by themselves: known from the pair of day and
//! month, once one cell of the pair was read as any other cell is.

use super::{OwnReading, SeveralReadings, ShapePlan, Verdict};
use crate::form::{First, Hypothesis, Order};
use crate::lex::Lexed;
use crate::reading::{NumberPositions, PairTable, Parts, PlainNumbers};
use crate::rulings::Blanks;
use crate::stamp::Stamp;
use jiff::civil::Date;
use smallvec::SmallVec;
use std::num::NonZeroU64;

/// What is known of the cells of one plan.
#[derive(Clone, Debug)]
pub(super) struct PlainCells {
    numbers: PlainNumbers,
    /// Where the numbers stand in the cells of each layout that was met; nowhere where
    /// they do not tell all about the cell.
    layouts: SmallVec<[(NonZeroU64, Option<NumberPositions>); 4]>,
    /// The meaning of each pair that was met, by its index.
    met: PairTable<u8>,
    meanings: Vec<Meaning>,
}

/// What the cells of a pair are.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Meaning {
    /// None of their readings counts.
    Nothing(Verdict),
    /// They have one reading.
    One {
        first: First,
        verdict: Verdict,
        decisive: Option<(usize, Order)>,
    },
    /// They have two.
    Several {
        form: Option<usize>,
        readings: [(First, Option<Order>); 2],
    },
}

/// A cell of plain numbers, of whose pair one was read before.
#[derive(Clone, Copy, Debug)]
pub(super) struct PlainCell<'p> {
    parts: Parts,
    meaning: &'p Meaning,
    plan: &'p ShapePlan,
}

impl PlainCell<'_> {
    /// What it is in no zone.
    #[inline]
    pub(super) fn own_reading(self) -> OwnReading {
        match *self.meaning {
            Meaning::Nothing(verdict) => OwnReading::Nothing(verdict),
            Meaning::One {
                first,
                verdict,
                decisive,
            } => OwnReading::One {
                verdict,
                stamp: self.stamp(first),
                decisive: decisive.map(|(form, order)| (form, Hypothesis::Order(order))),
            },
            Meaning::Several { form, readings } => OwnReading::Several(SeveralReadings {
                form,
                stamps: readings.map(|(first, _)| self.stamp(first)).into(),
                hypotheses: readings
                    .map(|(_, order)| order.map(Hypothesis::Order))
                    .into(),
            }),
        }
    }

    #[inline(always)]
    fn stamp(self, first: First) -> Stamp {
        match stamp(self.parts, first, self.plan) {
            Some(stamp) => stamp,
            None => unreachable!("a day that is in every year was read before"),
        }
    }
}

/// So many layouts are told apart: numbers of one digit and of two.
const MOST_LAYOUTS: usize = 16;

impl PlainCells {
    /// What a plan's cells take, in bytes.
    pub(super) const BYTES: usize = PairTable::<u8>::BYTES;

    /// Those of a plan, if its readings leave it at plain numbers.
    pub(super) fn of(plan: &ShapePlan) -> Option<PlainCells> {
        Some(PlainCells {
            numbers: PlainNumbers::of(plan.readings(), plan.conventions())?,
            layouts: SmallVec::new(),
            met: PairTable::default(),
            meanings: Vec::new(),
        })
    }

    /// The numbers of `cell`, if cells of its layout are told by their pairs, and none of
    /// them stands for nothing.
    #[inline]
    pub(super) fn parts(&mut self, cell: &Lexed<'_>, blanks: &Blanks) -> Option<Parts> {
        let layout = cell.layout()?;
        let known = self.layouts.iter().find(|(known, _)| *known == layout);
        let positions = match known {
            Some((_, positions)) => *positions,
            None => {
                let positions = self.numbers.positions_in_layout(cell);
                let positions = positions.filter(|_| !blanks.have_day_alike(cell.text()));
                if self.layouts.len() == MOST_LAYOUTS {
                    self.layouts.clear();
                }
                self.layouts.push((layout, positions));
                positions
            }
        };
        positions?.of(cell.text().as_bytes())
    }

    /// A cell of these numbers, if one of its pair was met.
    #[inline]
    pub(super) fn get<'p>(&'p self, parts: Parts, plan: &'p ShapePlan) -> Option<PlainCell<'p>> {
        let meaning = self.meanings.get(usize::from(self.met.get(parts)?))?;
        Some(PlainCell {
            parts,
            meaning,
            plan,
        })
    }

    /// Remembers what a cell of these numbers was found to be.
    pub(super) fn learn(&mut self, parts: Parts, own_reading: &OwnReading, plan: &ShapePlan) {
        let Some(meaning) = meaning(parts, own_reading, plan) else {
            return;
        };
        let known = self.meanings.iter().position(|known| *known == meaning);
        let index = known.unwrap_or_else(|| {
            self.meanings.push(meaning);
            self.meanings.len() - 1
        });
        if let Ok(index) = u8::try_from(index) {
            self.met.put(parts, index);
        }
    }
}

/// What the cells of a pair are, of which one is `own_reading`; `None` where there is
/// more to it than its numbers.
fn meaning(parts: Parts, own_reading: &OwnReading, plan: &ShapePlan) -> Option<Meaning> {
    let first_of = |own: Stamp| {
        let firsts = [First::Month, First::Day];
        firsts
            .into_iter()
            .find(|first| stamp(parts, *first, plan) == Some(own))
    };
    let order_of = |hypothesis: Hypothesis| hypothesis.order();
    Some(match own_reading {
        OwnReading::Nothing(verdict) => Meaning::Nothing(*verdict),
        OwnReading::One {
            verdict,
            stamp,
            decisive,
        } => Meaning::One {
            first: first_of(*stamp)?,
            verdict: *verdict,
            decisive: match decisive {
                Some((form, hypothesis)) => Some((*form, order_of(*hypothesis)?)),
                None => None,
            },
        },
        OwnReading::Several(several) => {
            let reading = |index: usize| {
                let order = match several.hypotheses[index] {
                    Some(hypothesis) => Some(order_of(hypothesis)?),
                    None => None,
                };
                Some((first_of(several.stamps[index])?, order))
            };
            if several.stamps.len() != 2 {
                return None;
            }
            Meaning::Several {
                form: several.form,
                readings: [reading(0)?, reading(1)?],
            }
        }
    })
}

/// What a cell of these numbers is in its column, with the month or the day first.
#[inline(always)]
fn stamp(parts: Parts, first: First, plan: &ShapePlan) -> Option<Stamp> {
    let [one, other] = parts.pair;
    let [month, day] = match first {
        First::Month => [one, other],
        First::Day => [other, one],
    };
    let date = Date::new(parts.year, month as i8, day as i8).ok()?;
    Some(plan.in_column(match parts.clock {
        None => Stamp::Date(date),
        Some(clock) => {
            let [hour, minute, second] = clock.map(|part| part as i8);
            Stamp::DateTime(date.at(hour, minute, second, 0))
        }
    }))
}

#[cfg(test)]
mod tests {
    use crate::decide::{Decider, RowContext};
    use crate::rulings::Rulings;
    use proptest::prelude::*;

    const RULINGS: [&str; 9] = [
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"], "yyyy-MM-dd"]"#,
        r#"kind = "datetime"
        read.forms = [["dd/MM/yyyy HH:mm", "MM/dd/yyyy HH:mm"], ["dd/MM/yyyy", "MM/dd/yyyy"]]"#,
        r#"kind = "date"
        read.forms = ["d/M/yyyy", "M/d/yyyy"]"#,
        r#"kind = "date"
        read.forms = ["dd/MM/yyyy HH:mm", ["yyyy-MM-dd", "yyyy-dd-MM"]]"#,
        r#"kind = "instant"
        read.forms = [["dd/MM/yyyy HH:mm", "MM/dd/yyyy HH:mm"]]
        read.zone = "Europe/Lisbon""#,
        r#"kind = "date"
        read.forms = ["d/M/yyyy"]
        read.blanks = ["01/02/2024", "9/9/2024"]"#,
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"]]
        read.order = "mdy""#,
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"]]
        read.calendar = "buddhist""#,
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"]]
        read.otherwise = "dmy""#,
    ];

    fn decider(ruling: usize) -> Decider {
        let text = format!("metachron = 1\n[column.x]\n{}", RULINGS[ruling]);
        let rulings = Rulings::from_toml(&text).unwrap();
        Decider::new(&rulings, "x").unwrap().unwrap()
    }

    /// Cells of few pairs of day and month, so that most have been met.
    fn cells() -> impl Strategy<Value = Vec<String>> {
        let years = [327, 1399, 1900, 2023, 2024, 2567, 9999];
        let year = prop_oneof![3 => Just(2024), 1 => prop::sample::select(years.to_vec())];
        let number = prop::sample::select(vec![0, 1, 2, 5, 9, 12, 13, 29, 30, 31]);
        let time = (
            prop::sample::select(vec![0, 1, 23, 24]),
            prop::sample::select(vec![0, 30, 60]),
        );
        let cell = (year, number.clone(), number, time, 0..4);
        let cell = cell.prop_map(|(year, one, other, (hour, minute), form)| match form {
            0 => format!("{one:02}/{other:02}/{year:04}"),
            1 => format!("{one}/{other}/{year}"),
            2 => format!("{one:02}/{other:02}/{year:04} {hour:02}:{minute:02}"),
            _ => format!("{year:04}-{one:02}-{other:02}"),
        });
        prop::collection::vec(cell, 1..80)
    }

    proptest! {
        /// What is known of a cell by its pair is what is found of it alone.
        #[test]
        fn cells_that_were_met_are_what_they_are_alone(
            ruling in 0..RULINGS.len(),
            cells in cells(),
        ) {
            let context = RowContext::default();
            let mut used = decider(ruling);
            for cell in &cells {
                let cell = cell.as_str();
                let own_reading = decider(ruling).own_reading(cell, &context);
                prop_assert_eq!(used.own_reading(cell, &context), own_reading, "{}", cell);
                let decision = decider(ruling).decide(cell, &context);
                prop_assert_eq!(used.decide(cell, &context), decision, "{}", cell);
            }
        }
    }
}
