//! The kind of a column: what most of its cells are.

use super::Declared;
use crate::evidence::{ShapeEvidence, Tally};
use crate::rulings::FormRuling;
use crate::stamp::Kind;

/// The kinds of stamps that the cells of the shape are, which `form` was settled
/// for, and how many are of each. A form that every cell leaves waiting for a
/// rule has its kind all the same.
pub(super) fn kinds_of(
    shape: &ShapeEvidence,
    form: &FormRuling,
    declared: &Declared,
) -> Vec<(Kind, u64)> {
    let candidates = shape.readings.candidates();
    if declared.forms.is_empty() {
        let first = form.alternatives().first();
        let reader = first.and_then(|form| form.fit(shape.readings.shape()));
        let reads = |tally: &Tally| (0..candidates.len()).any(|own| tally.outcome.reads(own));
        return reader
            .map(|reader| (reader.kind(), shape.count(reads)))
            .into_iter()
            .collect();
    }
    // Declared forms are tried in their order: a cell is of the kind of the
    // first that reads it.
    let attempts = declared.forms.iter();
    let attempts: Vec<usize> = attempts
        .filter_map(|form| shape.readings.index_of(form))
        .collect();
    let own_kinds = attempts.iter().enumerate().map(|(number, &own)| {
        let is_first = |tally: &Tally| {
            let mut earlier = attempts[..number].iter();
            tally.outcome.reads(own) && !earlier.any(|&other| tally.outcome.reads(other))
        };
        (candidates[own].reader.kind(), shape.count(is_first))
    });
    let mut kinds: Vec<(Kind, u64)> = own_kinds.collect();
    if kinds.iter().all(|(_, cells)| *cells == 0) {
        kinds.truncate(1);
    } else {
        kinds.retain(|(_, cells)| *cells > 0);
    }
    kinds
}

/// How many cells there are of each kind.
#[derive(Default)]
pub(super) struct KindCount {
    cells: [u64; Kind::ALL.len()],
}

impl KindCount {
    pub(super) fn add(&mut self, kind: Kind, cells: u64) {
        self.cells[kind as usize] += cells;
    }

    pub(super) fn is_empty(&self) -> bool {
        self.cells.iter().all(|cells| *cells == 0)
    }

    /// The kind of a column with these cells: what most cells are, except
    /// that dates join datetimes, which can hold them.
    pub(super) fn kind(&self) -> Kind {
        let of = |kind: Kind| self.cells[kind as usize];
        let local = of(Kind::Date) + of(Kind::DateTime);
        let others = Kind::ALL
            .into_iter()
            .filter(|kind| !matches!(kind, Kind::Date | Kind::DateTime));
        let most = others.clone().map(of).max().unwrap_or(0).max(local);
        let mut others = others.rev();
        if let Some(kind) = others.find(|kind| of(*kind) == most && most > 0) {
            kind
        } else if of(Kind::DateTime) > 0 {
            Kind::DateTime
        } else {
            Kind::Date
        }
    }
}
