//! What a cell is, before the rest of the table is asked.

use crate::decide::{Choice, Judgement, OpenReason, ShapePlan, Verdict};
use crate::form::{Hypothesis, RowFacts};
use crate::lex::Lexed;
use crate::reading::Stamps;
use crate::stamp::Stamp;
use smallvec::SmallVec;

/// What a cell is, by its own text and its group.
#[derive(Clone, Debug, PartialEq)]
pub enum OwnReading {
    /// It has no stamp that its order would change.
    Nothing(Verdict),
    /// It has one reading, or the ruling chose one.
    One {
        /// Certain or settled.
        verdict: Verdict,
        /// What it says.
        stamp: Stamp,
        /// Where the ruling leaves its form open: which form that is, by its
        /// number in the ruling, and the one hypothesis that can read it.
        decisive: Option<(usize, Hypothesis)>,
    },
    /// Its form is open, or it was twice in its zone.
    Several(SeveralReadings),
}

/// The readings of a cell that has more than one.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct SeveralReadings {
    /// The form's number in the ruling, where it is open.
    pub form: Option<usize>,
    /// Its readings, of which some may be the same, on different grounds.
    pub stamps: SmallVec<[Stamp; 2]>,
    /// What each rests on.
    pub hypotheses: SmallVec<[Option<Hypothesis>; 2]>,
}

impl Default for OwnReading {
    fn default() -> OwnReading {
        OwnReading::Nothing(Verdict::Blank)
    }
}

impl SeveralReadings {
    /// The readings with what each rests on.
    pub fn iter(&self) -> impl Iterator<Item = (Stamp, Option<Hypothesis>)> + '_ {
        let stamps = self.stamps.iter().copied();
        stamps.zip(self.hypotheses.iter().copied())
    }

    /// The reading that rests on `hypothesis`.
    pub fn by(&self, hypothesis: Hypothesis) -> Option<Stamp> {
        let mut readings = self.iter();
        readings.find_map(|(stamp, own)| (own == Some(hypothesis)).then_some(stamp))
    }
}

/// The first of `stamps` that fits, where all that fit are the same.
pub(super) fn only(stamps: &[Stamp], fits: impl Fn(&Stamp) -> bool) -> Option<usize> {
    let first = stamps.iter().position(&fits)?;
    let mut rest = stamps[first + 1..].iter().filter(|stamp| fits(stamp));
    rest.all(|stamp| *stamp == stamps[first]).then_some(first)
}

/// What a cell is, by the candidates that say it: the same for all cells that they read
/// alike.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Meaning {
    /// It has no stamp that its order would change.
    Nothing(Verdict),
    /// It is what this candidate reads.
    One {
        index: usize,
        verdict: Verdict,
        decisive: Option<(usize, Hypothesis)>,
    },
    /// It is what one of these candidates reads.
    Several {
        form: usize,
        readings: SmallVec<[(usize, Option<Hypothesis>); 2]>,
    },
}

impl Meaning {
    /// What a cell means that the candidates of `plan` read as `stamps`.
    pub(super) fn of(
        plan: &ShapePlan,
        cell: &Lexed<'_>,
        row_facts: RowFacts,
        stamps: &mut Stamps,
    ) -> Meaning {
        let conventions = plan.conventions().in_row(row_facts);
        let outcome = plan.readings().read(cell, conventions, stamps);
        let judgement = plan.judge(&outcome, plan.hint(cell, conventions, stamps));
        let candidates = plan.readings().candidates();
        let open = |index: Option<usize>| {
            plan.choices().iter().find_map(|choice| match choice {
                Choice::Open { indexes, form } => {
                    let reads = indexes.iter().any(|&index| stamps[index].is_ok());
                    let holds = index.is_none_or(|index| indexes.contains(&index));
                    (reads && holds).then_some((*form, indexes))
                }
                Choice::Settled { .. } => None,
            })
        };
        match judgement {
            Judgement::Certain(index) | Judgement::Settled(index) => {
                if stamps[index].is_err() {
                    return Meaning::Nothing(judgement.verdict());
                }
                let decisive = open(Some(index)).and_then(|(form, indexes)| {
                    let may_be = |index: &&usize| outcome.may_be(**index);
                    let mut reading = indexes.iter().filter(may_be);
                    match (reading.next(), reading.next()) {
                        (Some(&only), None) => Some((form, candidates[only].form.hypothesis()?)),
                        _ => None,
                    }
                });
                Meaning::One {
                    index,
                    verdict: judgement.verdict(),
                    decisive,
                }
            }
            Judgement::Open(OpenReason::Order) => {
                let Some((form, indexes)) = open(None) else {
                    return Meaning::Nothing(Verdict::Open);
                };
                // Hypotheses that read the cell alike are kept, each by itself: what speaks
                // for one of them speaks for the others too.
                let reading = |&index: &usize| {
                    let hypothesis = candidates[index].form.hypothesis();
                    stamps[index].is_ok().then_some((index, hypothesis))
                };
                let readings = indexes.iter().filter_map(reading).collect();
                Meaning::Several { form, readings }
            }
            _ => Meaning::Nothing(judgement.verdict()),
        }
    }

    /// The candidates that say it.
    pub(super) fn candidates(&self) -> impl Iterator<Item = usize> + '_ {
        let (one, several) = match self {
            Meaning::Nothing(_) => (None, &[][..]),
            Meaning::One { index, .. } => (Some(*index), &[][..]),
            Meaning::Several { readings, .. } => (None, &readings[..]),
        };
        one.into_iter()
            .chain(several.iter().map(|(index, _)| *index))
    }

    /// Says in `own` what a cell is that means this, where `stamp` is what a candidate
    /// reads it as; says whether that is known.
    ///
    /// What was there is written over: an own reading is large, and handing it up through
    /// every caller took a sixth of the passes that compare columns.
    #[inline]
    pub(super) fn put_into(
        &self,
        own: &mut OwnReading,
        plan: &ShapePlan,
        stamp: impl Fn(usize) -> Option<Stamp>,
    ) -> bool {
        match self {
            Meaning::Nothing(verdict) => *own = OwnReading::Nothing(*verdict),
            Meaning::One {
                index,
                verdict,
                decisive,
            } => {
                let Some(stamp) = stamp(*index) else {
                    return false;
                };
                *own = match plan.stamp_of_column(stamp) {
                    Some(stamp) => OwnReading::One {
                        verdict: *verdict,
                        stamp,
                        decisive: *decisive,
                    },
                    None => OwnReading::Nothing(Verdict::Blank),
                };
            }
            Meaning::Several { form, readings } => {
                if !matches!(own, OwnReading::Several(_)) {
                    *own = OwnReading::Several(SeveralReadings::default());
                }
                let OwnReading::Several(several) = own else {
                    return false;
                };
                several.form = Some(*form);
                several.stamps.clear();
                several.hypotheses.clear();
                for (index, hypothesis) in readings {
                    let Some(stamp) = stamp(*index) else {
                        return false;
                    };
                    several.stamps.push(plan.in_column(stamp));
                    several.hypotheses.push(*hypothesis);
                }
            }
        }
        true
    }
}
