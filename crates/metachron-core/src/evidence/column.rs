//! The tally of one column.

use super::{Example, Examples, NameTally, ShapeEvidence, TimeSteps};
use crate::form::Form;
use crate::reading::Day;
use jiff::civil::{Date, date};

/// Days that programs write where there is no date.
const MARKERS: [Date; 12] = [
    date(1, 1, 1),
    date(1000, 1, 1),
    date(1111, 11, 11),
    date(1753, 1, 1),
    date(1899, 12, 30),
    date(1899, 12, 31),
    date(1900, 1, 1),
    date(1970, 1, 1),
    date(2099, 12, 31),
    date(2999, 12, 31),
    date(9999, 1, 1),
    date(9999, 12, 31),
];

/// The tally of one column.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ColumnEvidence {
    /// Cells that are empty or white space, or that a row is too short to
    /// have.
    pub empty: u64,
    /// Cells that stand for an empty one, by their marker in lower case, in
    /// order of appearance.
    pub blanks: Vec<(String, u64)>,
    /// Cells of shapes that some form could have written, in order of
    /// appearance.
    pub shapes: Vec<ShapeEvidence>,
    /// Cells of all other shapes.
    pub others: Examples,
    /// Days that may stand for no date, in order of appearance.
    pub markers: Vec<MarkerCells>,
    /// The names of months and weekdays.
    pub names: NameTally,
    /// Whether the rows stand in time order.
    pub in_time: TimeSteps,
}

/// Cells that read as a day that may stand for no date.
#[derive(Clone, Debug, PartialEq)]
pub struct MarkerCells {
    /// The day.
    pub day: Date,
    /// How many cells.
    pub count: u64,
    /// The first of them.
    pub first: Example,
}

/// Whether programs write this day where there is no date.
pub(crate) fn is_marker(day: Date) -> bool {
    MARKERS.contains(&day)
}

/// The same of a day that is told by its numbers.
#[inline]
pub(super) fn is_marker_day(day: Day) -> bool {
    may_be_marker(day) && is_marker(date(day.year(), day.month() as i8, day.day() as i8))
}

/// Whether it is such a day in some year: few days are.
#[inline]
pub(super) fn may_be_marker(day: Day) -> bool {
    matches!((day.month(), day.day()), (1, 1) | (11, 11) | (12, 30 | 31))
}

impl ColumnEvidence {
    /// Cells that stand for nothing.
    pub fn blank(&self) -> u64 {
        self.empty + self.blanks.iter().map(|(_, count)| count).sum::<u64>()
    }

    /// Cells that stand for something.
    pub fn filled(&self) -> u64 {
        let shaped: u64 = self.shapes.iter().map(ShapeEvidence::cells).sum();
        shaped + self.others.count
    }

    /// Cells that `form` reads, where the column was surveyed with it.
    pub(crate) fn read_by(&self, form: &Form) -> u64 {
        let in_shape = |shape: &ShapeEvidence| {
            let index = shape.readings.index_of(form)?;
            Some(shape.count(|tally| tally.outcome.reads(index)))
        };
        self.shapes.iter().filter_map(in_shape).sum()
    }

    /// Cells that some form may read.
    pub(crate) fn readable(&self) -> u64 {
        let readable = |shape: &ShapeEvidence| shape.count(|tally| !tally.outcome.is_unreadable());
        self.shapes.iter().map(readable).sum()
    }

    /// The counts of time that its numbers may be.
    pub(crate) fn counts(&self) -> Vec<Form> {
        let shapes = self.shapes.iter();
        let candidates = shapes.flat_map(|shape| shape.readings.candidates());
        let mut counts: Vec<Form> = Vec::new();
        for candidate in candidates {
            let is_count = candidate.reader.is_bare_number() && !candidate.form.is_swapped();
            if is_count && !counts.contains(&candidate.form) {
                counts.push(candidate.form.clone());
            }
        }
        counts
    }

    pub(super) fn add_blank(&mut self, marker: &str) {
        match marker {
            "" => self.empty += 1,
            _ => count(&mut self.blanks, marker, 1),
        }
    }

    pub(super) fn add_marker(&mut self, more: MarkerCells) {
        match self.markers.iter_mut().find(|known| known.day == more.day) {
            Some(known) => known.count += more.count,
            None => self.markers.push(more),
        }
    }

    /// Hands out what was tallied since this was called last; see
    /// [`ShapeEvidence::take`].
    pub(super) fn take(&mut self) -> ColumnEvidence {
        let mut shapes = Vec::with_capacity(self.shapes.len());
        shapes.extend(self.shapes.iter_mut().filter_map(ShapeEvidence::take));
        shapes.sort_by_key(ShapeEvidence::first_row);
        let known = std::mem::take(&mut self.shapes);
        let rest = std::mem::take(self);
        self.shapes = known;
        ColumnEvidence { shapes, ..rest }
    }

    pub(super) fn merge(&mut self, later: ColumnEvidence, by: u64) {
        self.empty += later.empty;
        for (marker, more) in later.blanks {
            count(&mut self.blanks, &marker, more);
        }
        for more in later.markers {
            self.add_marker(MarkerCells {
                first: more.first.moved(by),
                ..more
            });
        }
        self.names.merge(later.names);
        self.in_time.merge(later.in_time);
        for shape in later.shapes {
            let same =
                |known: &&mut ShapeEvidence| known.readings.shape() == shape.readings.shape();
            match self.shapes.iter_mut().find(same) {
                Some(known) => known.merge(shape, by),
                None => {
                    let mut moved = ShapeEvidence::new(shape.readings.clone());
                    moved.merge(shape, by);
                    reserve_first(&mut self.shapes);
                    self.shapes.push(moved);
                }
            }
        }
        self.others.merge(later.others, by);
    }
}

/// Makes room for one element where there is none yet: most columns have one shape,
/// and a list that grows by itself makes room for four, which is half of the memory of a
/// table of thousands of columns.
pub(super) fn reserve_first<T>(list: &mut Vec<T>) {
    if list.is_empty() {
        list.reserve_exact(1);
    }
}

fn count(counts: &mut Vec<(String, u64)>, text: &str, more: u64) {
    match counts.iter_mut().find(|(known, _)| known == text) {
        Some((_, count)) => *count += more,
        None => counts.push((text.to_owned(), more)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn markers_are_told_by_their_numbers() {
        for marker in MARKERS {
            let [month, day] = [marker.month(), marker.day()].map(i8::unsigned_abs);
            assert!(is_marker_day(Day::new(marker.year(), month, day)));
        }
        assert!(!is_marker_day(Day::new(2024, 1, 1)));
    }
}
