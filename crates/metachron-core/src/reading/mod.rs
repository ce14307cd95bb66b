//! All readings of one cell.
//!
//! [`Readings`] holds, for one shape, every form that could have written it;
//! it is made once per shape. [`Readings::of`] then says, for one cell of
//! that shape, which of them give a stamp and which of those stamps are the
//! same.

mod around;
mod by_digits;
mod clock;
mod compact;
mod date;
mod elapsed;
mod far;
mod infer;
mod meant;
mod number;
mod outcome;
mod period;
mod pieces;
mod swapped;

pub(crate) use by_digits::{Clock, Day, DigitReadings, DigitsRead};
pub(crate) use far::BARE_YEARS;
pub use meant::{Meant, MeantError, read_iso};
pub use outcome::{MOST_FORMS, Outcome};

use crate::form::{Conventions, Field, Form, Impossible, Order, Reader};
use crate::lex::{Lexed, Shape};
use crate::stamp::{Kind, Stamp};
use crate::zone::Zones;
use far::FarYears;
use std::sync::Arc;

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
    /// It names a zone, in which its time may be twice, or none.
    names_zone: bool,
    /// It has a second, which may be a leap second.
    has_second: bool,
    /// Which of the years that it reads are far from our time.
    far_years: FarYears,
}

impl Candidate {
    /// What it reads `cell` as, where names in it stand for these zones.
    #[inline]
    fn stamp(
        &self,
        zones: Option<&Zones>,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let reader = &self.reader;
        let by_name = zones.and_then(|zones| reader.read_by_name(cell, conventions, zones));
        by_name.unwrap_or_else(|| reader.read(cell, conventions))
    }

    /// Whether it is a form that nobody is known to write, and no number that counts.
    pub fn is_rare(&self) -> bool {
        !self.usual && !self.reader.is_bare_number()
    }

    fn new(form: Form, reader: Reader, usual: bool) -> Candidate {
        let has = |wanted: fn(&Field) -> bool| form.fields().any(|field| wanted(&field));
        Candidate {
            names_zone: has(|field| matches!(field, Field::ZoneName | Field::ZoneId)),
            has_second: has(|field| matches!(field, Field::Second(_))),
            far_years: FarYears::of(&form, &reader),
            form,
            reader,
            usual,
        }
    }

    /// The order of day, month and year.
    pub fn order(&self) -> Option<Order> {
        self.reader.order()
    }

    /// Whether there may be cells of which `conventions` choose what they are, where
    /// `bare` ones do not.
    fn leaves_choice(&self, bare: Conventions, conventions: Conventions) -> bool {
        let kind = self.form.kind();
        self.names_zone
            || self.has_second && bare.leap_second != conventions.leap_second
            || kind == Kind::Time && bare.end_of_day != conventions.end_of_day
            || kind == Kind::Duration && bare.unit_letters != conventions.unit_letters
    }
}

/// Every form that could have written one shape.
///
/// ```
/// use metachron_core::form::Conventions;
/// use metachron_core::lex::Lexer;
/// use metachron_core::reading::Readings;
///
/// let mut lexer = Lexer::default();
/// let cell = lexer.lex("04/03/2024").unwrap();
/// let readings = Readings::new(cell.shape(), &[]);
/// let (_, stamps) = readings.of(&cell, Conventions::default());
/// let usual = readings.candidates().iter().zip(&stamps);
/// let usual = usual.filter(|(candidate, _)| candidate.usual);
/// let read: Vec<String> = usual
///     .map(|(candidate, stamp)| format!("{}: {}", candidate.form, stamp.unwrap()))
///     .collect();
/// assert_eq!(read, ["d/M/yyyy: 2024-03-04", "M/d/yyyy: 2024-04-03"]);
/// ```
#[derive(Clone, Debug)]
pub struct Readings {
    shape: Shape,
    candidates: Vec<Candidate>,
    /// The zones that names in the cells stand for, where some candidate reads
    /// one.
    zones: Option<Arc<Zones>>,
}

impl Readings {
    /// The readings of `shape`: those that its classes suggest, then those of
    /// `declared` that fit it and are not among them. A declared form may be
    /// stricter about digits than the suggested one that reads alike; both
    /// are kept, so that what it refuses is not taken for another order.
    pub fn new(shape: Shape, declared: &[Form]) -> Readings {
        let mut suggested = infer::infer(shape.classes());
        let swapped = swapped::swapped(&suggested);
        suggested.extend(swapped);
        let declared = declared.iter().map(|form| (form.clone(), true));
        let mut candidates: Vec<Candidate> = Vec::with_capacity(suggested.len());
        for (form, usual) in suggested.into_iter().chain(declared) {
            let Some(reader) = form.fit(&shape) else {
                continue;
            };
            match candidates.iter().position(|known| known.reader == reader) {
                // What is declared is usual for this column.
                Some(index) => candidates[index].usual |= usual,
                None => candidates.push(Candidate::new(form, reader, usual)),
            }
        }
        Readings {
            shape,
            candidates,
            zones: None,
        }
    }

    /// These readings and those of `forms`, except where a form reads as one
    /// that is there already.
    pub fn with(mut self, forms: &[Form]) -> Readings {
        for form in forms {
            let Some(reader) = form.fit(&self.shape) else {
                continue;
            };
            let candidate = Candidate::new(form.clone(), reader, true);
            let reads_alike = |known: &Candidate| known.reader.reads_alike(&candidate.reader);
            match self.candidates.iter().position(reads_alike) {
                Some(index) => {
                    let known = &mut self.candidates[index];
                    // The one that demands less reads what the other reads.
                    if known.reader.demands_more_than(&candidate.reader) {
                        *known = candidate;
                    }
                }
                None => self.candidates.push(candidate),
            }
        }
        self
    }

    /// These readings where the cells are declared to be of `kind`: clocks may be
    /// written with dots, which are no dates then; and where some candidate reads
    /// times of day or lengths of time, which have nothing in common with other kinds,
    /// only those do.
    pub fn of_kind(self, kind: Kind) -> Readings {
        let clocks = match kind {
            Kind::Time => &CLOCKS_WITH_DOTS[..],
            _ => &[],
        };
        let clocks: Vec<Form> = clocks.iter().filter_map(|form| form.parse().ok()).collect();
        let mut readings = self.with(&clocks);
        let is_it = |candidate: &Candidate| candidate.reader.kind() == kind;
        if matches!(kind, Kind::Time | Kind::Duration) && readings.candidates.iter().any(is_it) {
            readings.candidates.retain(is_it);
        }
        readings
    }

    /// The shape.
    pub fn shape(&self) -> &Shape {
        &self.shape
    }

    /// The forms. Their indexes are what [`Outcome`] counts by.
    pub fn candidates(&self) -> &[Candidate] {
        &self.candidates
    }

    /// Calls the candidate that is `form` by that form; says which candidate
    /// it is. If none is as strict as `form`, it is the one that reads alike.
    pub(crate) fn name(&mut self, form: &Form) -> Option<usize> {
        let index = self.index_of(form)?;
        self.candidates[index].form = form.clone();
        Some(index)
    }

    /// The index of the candidate that is `form`; if none is as strict, of the
    /// one that reads alike.
    pub(crate) fn index_of(&self, form: &Form) -> Option<usize> {
        let reader = form.fit(&self.shape)?;
        let index = |test: &dyn Fn(&Reader) -> bool| {
            let mut candidates = self.candidates.iter();
            candidates.position(|candidate| test(&candidate.reader))
        };
        index(&|known| *known == reader).or_else(|| index(&|known| known.reads_alike(&reader)))
    }

    /// The first candidate that reads as the one at `index` does: the least
    /// strict of them.
    pub(crate) fn least_strict(&self, index: usize) -> usize {
        let reader = &self.candidates[index].reader;
        let mut candidates = self.candidates.iter();
        let first = candidates.position(|candidate| candidate.reader.reads_alike(reader));
        first.unwrap_or(index)
    }

    /// The same, with the zones that names in the cells stand for.
    pub fn with_zones(mut self, zones: &Arc<Zones>) -> Readings {
        let mut readers = self.candidates.iter().map(|candidate| &candidate.reader);
        let has_name = readers.any(Reader::has_zone_name);
        self.zones = (has_name && !zones.is_empty()).then(|| zones.clone());
        self
    }

    /// Whether no form could have written this shape.
    pub fn is_empty(&self) -> bool {
        self.candidates.is_empty()
    }

    /// Reads `cell`, which must be of this shape, as every candidate.
    pub fn of(&self, cell: &Lexed<'_>, conventions: Conventions) -> (Outcome, Stamps) {
        let mut stamps = Stamps::new();
        (self.read(cell, conventions, &mut stamps), stamps)
    }

    /// The same as [`Readings::of`], into a list that the caller uses again.
    #[inline]
    pub fn read(&self, cell: &Lexed<'_>, conventions: Conventions, stamps: &mut Stamps) -> Outcome {
        self.read_in(self.zones.as_deref(), cell, conventions, stamps)
    }

    /// The same, where names in the cell stand for these zones.
    #[inline]
    pub fn read_in(
        &self,
        zones: Option<&Zones>,
        cell: &Lexed<'_>,
        conventions: Conventions,
        stamps: &mut Stamps,
    ) -> Outcome {
        stamps.clear();
        let mut outcome = Outcome::default();
        for (index, candidate) in self.candidates.iter().enumerate() {
            let stamp = candidate.stamp(zones, cell, conventions);
            match stamp {
                Ok(stamp) => {
                    let same = stamps.iter().position(|other| *other == Ok(stamp));
                    outcome.possible(index, same.unwrap_or(index));
                }
                Err(reason) if reason.awaits_rule() => outcome.awaits_rule(index),
                Err(reason) if reason.is_slip() => outcome.slip(index),
                Err(_) => {}
            }
            stamps.push(stamp);
        }
        outcome
    }

    /// Whether there may be cells of the shape that are no single instant by
    /// themselves, and of which `conventions` choose one.
    pub fn leave_choice(&self, conventions: Conventions) -> bool {
        let bare = conventions.without_choice();
        let mut candidates = self.candidates.iter();
        bare != conventions && candidates.any(|own| own.leaves_choice(bare, conventions))
    }

    /// Whether `cell`, which was read as `stamps`, is no single instant by
    /// itself: the conventions chose one.
    pub fn is_by_choice(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
        stamps: &Stamps,
    ) -> bool {
        let bare = conventions.without_choice();
        if bare == conventions {
            return false;
        }
        let candidates = self.candidates.iter().zip(stamps);
        let mut read =
            candidates.filter(|(own, stamp)| own.leaves_choice(bare, conventions) && stamp.is_ok());
        read.any(|(own, _)| own.stamp(self.zones.as_deref(), cell, bare).is_err())
    }
}

/// Clocks that are written as dates are.
const CLOCKS_WITH_DOTS: [&str; 4] = ["H.mm", "H.mm.ss", "H.mm.ss.S", "H.mm.ss,S"];

/// The part of `cell` that no date or time explains, where it holds one;
/// `None` where it holds none, or nothing is left over.
pub fn leftover<'a>(cell: &Lexed<'a>) -> Option<&'a str> {
    let classes: Vec<_> = cell.tokens().iter().map(|token| token.class).collect();
    let (from, to) = infer::longest(&classes)?;
    let tokens = cell.tokens();
    let text = cell.text();
    let left = match (from, to) {
        (0, to) if to == tokens.len() => return None,
        (0, to) => &text[tokens[to].start as usize..],
        (from, _) => &text[..tokens[from - 1].end as usize],
    };
    Some(left.trim())
}

/// What each candidate makes of a cell, by its index.
pub type Stamps = Vec<Result<Stamp, Impossible>>;

#[cfg(test)]
mod tests;
