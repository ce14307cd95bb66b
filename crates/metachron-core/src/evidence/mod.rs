//! What the cells of a table say together: a tally that can be merged.
//!
//! A [`Surveyor`] looks at every cell and tallies it. Rows are numbered from
//! 0 within the part that was surveyed, and merging puts the parts one behind
//! the other: evidence of two halves merged is the evidence of the whole.
//! That one property gives threads, several files and many machines.
//!
//! ```
//! use metachron_core::evidence::{Surveyor, ColumnOptions};
//!
//! let watches = [ColumnOptions::default()];
//! let survey = |cells: &[&str]| {
//!     let mut surveyor = Surveyor::new(&watches);
//!     for cell in cells {
//!         surveyor.cell(0, cell);
//!         surveyor.end_row();
//!     }
//!     surveyor.take()
//! };
//! let mut first = survey(&["31/12/2024", "n/a"]);
//! first.merge(survey(&["01/02/2025"]));
//! assert_eq!(first, survey(&["31/12/2024", "n/a", "01/02/2025"]));
//! ```

mod clock;
mod column;
mod days;
mod example;
mod fast;
mod moment;
mod names;
mod shape;
mod surveyor;
mod time_steps;
mod zone_names;

pub(crate) use clock::{OffsetsSeen, TimesSeen};
pub(crate) use column::is_marker;
pub use column::{ColumnEvidence, MarkerCells};
pub(crate) use days::DaysSeen;
pub use example::{Example, Examples};
pub(crate) use names::NameTally;
pub(crate) use shape::{Hint, ShapeEvidence, far_year};
pub use shape::{Span, Tally, Writing};
pub use surveyor::{ColumnOptions, Surveyor};
pub use time_steps::Steps;
pub(crate) use time_steps::TimeSteps;
pub(crate) use zone_names::ZoneNameTally;

/// The tally of a table, or of a part of one.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Evidence {
    /// How many rows were surveyed.
    pub rows: u64,
    /// The columns, in the order of the table.
    pub columns: Vec<ColumnEvidence>,
}

impl Evidence {
    /// Puts `later` behind this evidence.
    pub fn merge(&mut self, later: Evidence) {
        let by = self.rows;
        self.rows += later.rows;
        for (column, more) in self.columns.iter_mut().zip(later.columns) {
            column.merge(more, by);
        }
    }
}

#[cfg(test)]
mod tests;
