//! All readings of one cell.
//!
//! [`Readings`] holds, for one shape, every form that could have written it;
//! it is made once per shape. [`Readings::of`] then says, for one cell of
//! that shape, which of them give a stamp and which of those stamps are the
//! same.

mod clock;
mod date;
mod infer;
mod outcome;
mod pieces;

pub use outcome::Outcome;

use crate::form::{Century, Form, Impossible, Order, Reader};
use crate::lex::{Lexed, Shape};
use crate::stamp::Stamp;

/// At most this many forms are considered for one shape.
pub const MAX_READINGS: usize = 14;

/// One form that could have written a shape.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// The form.
    pub form: Form,
    /// The form, fitted to the shape.
    pub reader: Reader,
    /// Whether anybody is known to write this way. A reading that is not
    /// usual counts only where no usual one is possible.
    pub usual: bool,
}

impl Candidate {
    /// The order of day, month and year.
    pub fn order(&self) -> Option<Order> {
        self.reader.order()
    }
}

/// Every form that could have written one shape.
#[derive(Clone, Debug)]
pub struct Readings {
    shape: Shape,
    candidates: Vec<Candidate>,
}

impl Readings {
    /// The readings of `shape`: those that its look suggests, and those of
    /// `declared` that fit it. A declared form takes the place of a suggested
    /// one that reads alike, since it may be stricter about digits.
    pub fn new(shape: Shape, declared: &[Form]) -> Readings {
        let mut candidates: Vec<Candidate> = infer::infer(shape.classes())
            .into_iter()
            .filter_map(|(form, usual)| {
                let reader = form.fit(&shape)?;
                Some(Candidate {
                    form,
                    reader,
                    usual,
                })
            })
            .collect();
        for form in declared {
            let Some(reader) = form.fit(&shape) else {
                continue;
            };
            let declared = Candidate {
                form: form.clone(),
                reader,
                usual: true,
            };
            let alike = |candidate: &Candidate| {
                candidate.form == *form || candidate.reader.reads_alike(&declared.reader)
            };
            match candidates.iter().position(alike) {
                // Declaring an unusual order does not make it usual: the
                // ruling that names it is what lets it be read.
                Some(known) => {
                    candidates[known].form = declared.form;
                    candidates[known].reader = declared.reader;
                }
                None if candidates.len() < MAX_READINGS => candidates.push(declared),
                None => {}
            }
        }
        Readings { shape, candidates }
    }

    /// The shape.
    pub fn shape(&self) -> &Shape {
        &self.shape
    }

    /// The forms. Their places are what [`Outcome`] counts by.
    pub fn candidates(&self) -> &[Candidate] {
        &self.candidates
    }

    /// Calls the candidate that reads as `form` does by that form, without
    /// making it as strict; says which candidate it is.
    pub(crate) fn name(&mut self, form: &Form) -> Option<usize> {
        let reader = form.fit(&self.shape)?;
        let mut candidates = self.candidates.iter_mut().enumerate();
        let (place, known) =
            candidates.find(|(_, candidate)| candidate.reader.reads_alike(&reader))?;
        known.form = form.clone();
        Some(place)
    }

    /// Whether no form could have written this shape.
    pub fn is_empty(&self) -> bool {
        self.candidates.is_empty()
    }

    /// Reads `cell`, which must be of this shape, as every candidate.
    pub fn of(&self, cell: &Lexed<'_>, century: Century) -> (Outcome, Stamps) {
        let mut stamps = Stamps::new();
        (self.read(cell, century, &mut stamps), stamps)
    }

    /// The same as [`Readings::of`], into a list that the caller uses again.
    #[inline]
    pub fn read(&self, cell: &Lexed<'_>, century: Century, stamps: &mut Stamps) -> Outcome {
        stamps.clear();
        let mut outcome = Outcome::default();
        for (place, candidate) in self.candidates.iter().enumerate() {
            let stamp = candidate.reader.read(cell, century);
            match stamp {
                Ok(stamp) => {
                    let same = stamps.iter().position(|other| *other == Ok(stamp));
                    outcome.possible(place, same.unwrap_or(place));
                }
                Err(reason) if reason.awaits_rule() => outcome.awaits_rule(place),
                Err(_) => {}
            }
            stamps.push(stamp);
        }
        outcome
    }
}

/// What each candidate makes of a cell, by its place.
pub type Stamps = Vec<Result<Stamp, Impossible>>;

#[cfg(test)]
mod tests;
