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
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct SeveralReadings {
    /// The form's number in the ruling, where it is open.
    pub form: Option<usize>,
    /// Its different readings.
    pub stamps: SmallVec<[Stamp; 2]>,
    /// What each rests on.
    pub hypotheses: SmallVec<[Option<Hypothesis>; 2]>,
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

pub(super) fn own_reading(
    plan: &ShapePlan,
    cell: &Lexed<'_>,
    row_facts: RowFacts,
    stamps: &mut Stamps,
) -> OwnReading {
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
            let Ok(stamp) = stamps[index] else {
                return OwnReading::Nothing(judgement.verdict());
            };
            let decisive = open(Some(index)).and_then(|(form, indexes)| {
                let may_be = |index: &&usize| outcome.may_be(**index);
                let mut reading = indexes.iter().filter(may_be);
                match (reading.next(), reading.next()) {
                    (Some(&only), None) => Some((form, candidates[only].form.hypothesis()?)),
                    _ => None,
                }
            });
            OwnReading::One {
                verdict: judgement.verdict(),
                stamp: plan.in_column(stamp),
                decisive,
            }
        }
        Judgement::Open(OpenReason::Order) => {
            let Some((form, indexes)) = open(None) else {
                return OwnReading::Nothing(Verdict::Open);
            };
            let (mut different, mut hypotheses) = (SmallVec::new(), SmallVec::new());
            for &index in indexes {
                if let Ok(stamp) = stamps[index]
                    && !different.contains(&plan.in_column(stamp))
                {
                    different.push(plan.in_column(stamp));
                    hypotheses.push(candidates[index].form.hypothesis());
                }
            }
            OwnReading::Several(SeveralReadings {
                form: Some(form),
                stamps: different,
                hypotheses,
            })
        }
        _ => OwnReading::Nothing(judgement.verdict()),
    }
}
