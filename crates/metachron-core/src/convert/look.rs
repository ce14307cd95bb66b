//! What a cell is, before the rest of the table is asked.

use crate::form::{Beside, Order};
use crate::lex::Lexed;
use crate::reading::Stamps;
use crate::stamp::Stamp;
use crate::verdict::{Choice, Judgement, OpenReason, Plan, Verdict, to_kind};

/// What a cell is, by its own text and its group.
#[derive(Clone, Debug, PartialEq)]
pub enum Look {
    /// It has no stamp that its order would change.
    Nothing(Verdict),
    /// It has one reading, or the ruling chose one.
    One {
        /// Certain or settled.
        verdict: Verdict,
        /// What it says.
        stamp: Stamp,
        /// Where the ruling leaves its form open: which form that is, by its
        /// number in the ruling, and the one order that can read it.
        decisive: Option<(usize, Order)>,
    },
    /// Its form is open, or it was twice in its zone.
    Several {
        /// The form's number in the ruling, where it is open.
        form: Option<usize>,
        /// Its different readings.
        stamps: Vec<Stamp>,
        /// The order of each.
        orders: Vec<Option<Order>>,
    },
}

pub(super) fn look(plan: &Plan, cell: &Lexed<'_>, beside: Beside, stamps: &mut Stamps) -> Look {
    let conventions = plan.conventions().beside(beside);
    let outcome = plan.readings().read(cell, conventions, stamps);
    let judgement = plan.judge(&outcome, plan.hint(cell, conventions, stamps));
    let candidates = plan.readings().candidates();
    let open = |place: Option<usize>| {
        plan.choices().iter().find_map(|choice| match choice {
            Choice::Open { places, form } => {
                let reads = places.iter().any(|&place| stamps[place].is_ok());
                let holds = place.is_none_or(|place| places.contains(&place));
                (reads && holds).then_some((*form, places))
            }
            Choice::Settled { .. } => None,
        })
    };
    match judgement {
        Judgement::Certain(place) | Judgement::Settled(place) => {
            let Ok(stamp) = stamps[place] else {
                return Look::Nothing(judgement.verdict());
            };
            let decisive = open(Some(place)).and_then(|(form, places)| {
                let may_be = |place: &&usize| outcome.may_be(**place);
                let mut reading = places.iter().filter(may_be);
                match (reading.next(), reading.next()) {
                    (Some(&only), None) => Some((form, candidates[only].order()?)),
                    _ => None,
                }
            });
            Look::One {
                verdict: judgement.verdict(),
                stamp: to_kind(stamp, plan.kind()),
                decisive,
            }
        }
        Judgement::Open(OpenReason::Order) => {
            let Some((form, places)) = open(None) else {
                return Look::Nothing(Verdict::Open);
            };
            let (mut different, mut orders) = (Vec::new(), Vec::new());
            for &place in places {
                if let Ok(stamp) = stamps[place]
                    && !different.contains(&to_kind(stamp, plan.kind()))
                {
                    different.push(to_kind(stamp, plan.kind()));
                    orders.push(candidates[place].order());
                }
            }
            Look::Several {
                form: Some(form),
                stamps: different,
                orders,
            }
        }
        _ => Look::Nothing(judgement.verdict()),
    }
}
