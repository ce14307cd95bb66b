//! What the rest of the table may contradict: forms that a column's own cells
//! settled.

use super::column::as_written;
use super::source::written_form;
use crate::evidence::{ColumnEvidence, ShapeEvidence};
use crate::form::{Form, Hypothesis};
use crate::reading::Outcome;
use crate::rulings::{ColumnRuling, FormRuling};

/// A ruling whose forms are open again where the column's own cells settled
/// them (level 3), though some cells could be read in another order.
#[derive(Clone, Debug, PartialEq)]
pub struct Reopened {
    /// The ruling.
    pub ruling: ColumnRuling,
    /// By the number of the form: the order that the cells settled, where it is
    /// open again.
    pub own_hypotheses: Vec<Option<Hypothesis>>,
    /// Whether a few cells of such a form can only have another order: slips, as
    /// far as the column knows. All rows are looked at for a group that has them.
    pub has_slips: bool,
}

/// `ruling`, opened again.
///
/// One cell past the twelfth settles its form; thousands that a month column
/// contradicts must not be read by it.
pub fn reopened(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Reopened {
    let mut reopened = Reopened::none(ruling);
    let forms = reopened.ruling.read.forms.iter_mut();
    for (form, own_hypothesis) in forms.zip(&mut reopened.own_hypotheses) {
        let FormRuling::Settled(own) = form else {
            continue;
        };
        let rivals = rivals(evidence, own);
        if rivals.is_empty() {
            continue;
        }
        reopened.has_slips |= has_slips(evidence, own);
        *own_hypothesis = own.hypothesis();
        *form = if own.is_swapped() {
            // As a swap that is not proven is asked about.
            FormRuling::Open(rivals.into_iter().chain([own.clone()]).collect())
        } else {
            FormRuling::Open(std::iter::once(own.clone()).chain(rivals).collect())
        };
    }
    reopened
}

impl Reopened {
    /// `ruling`, with nothing opened again.
    pub fn none(ruling: &ColumnRuling) -> Reopened {
        Reopened {
            ruling: ruling.clone(),
            own_hypotheses: vec![None; ruling.read.forms.len()],
            has_slips: false,
        }
    }

    /// Whether a form is open again that its cells settled as swapped.
    pub fn is_swapped(&self) -> bool {
        let mut forms = self.ruling.read.forms.iter().zip(&self.own_hypotheses);
        forms.any(|(form, own)| own.is_some() && form.alternatives().iter().any(Form::is_swapped))
    }

    /// Whether some form is open again.
    pub fn is_any(&self) -> bool {
        self.own_hypotheses.iter().any(Option::is_some)
    }
}

/// Whether some cells of the form can only have another usual order.
fn has_slips(evidence: &ColumnEvidence, own: &Form) -> bool {
    let in_shape = |shape: &ShapeEvidence| {
        let Some(index) = shape.readings.index_of(own) else {
            return false;
        };
        let candidates = || shape.readings.candidates().iter().enumerate();
        let by_rival = |outcome: &Outcome| {
            let mut usual = candidates().filter(|(_, candidate)| candidate.usual);
            !outcome.may_be(index) && usual.any(|(rival, _)| outcome.reads(rival))
        };
        shape.count(|tally| by_rival(&tally.outcome)) > 0
    };
    evidence.shapes.iter().any(in_shape)
}

/// The forms that read some cells of `own` differently, one for each order.
fn rivals(evidence: &ColumnEvidence, own: &Form) -> Vec<Form> {
    let mut rivals: Vec<Form> = Vec::new();
    if own.order().is_none() {
        return rivals;
    }
    if own.is_swapped() {
        let mut shapes = evidence.shapes.iter();
        return shapes
            .find_map(|shape| written_form(shape, own))
            .into_iter()
            .collect();
    }
    for shape in &evidence.shapes {
        let Some(index) = shape.readings.index_of(own) else {
            continue;
        };
        for (rival, candidate) in shape.readings.candidates().iter().enumerate() {
            let order = candidate.order();
            if !candidate.usual || order.is_none() || order == own.order() {
                continue;
            }
            if shape.count(|tally| tally.outcome.differs_among(&[index, rival])) == 0 {
                continue;
            }
            let written = as_written(&candidate.form, shape, rival);
            match rivals.iter_mut().find(|known| known.order() == order) {
                Some(known) => *known = known.loosest(&written),
                None => rivals.push(written),
            }
        }
    }
    rivals
}
