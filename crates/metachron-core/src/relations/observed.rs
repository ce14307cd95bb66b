//! A row, as the sources of evidence see it.

use crate::decide::OwnReading;

/// A row, as a source sees it.
pub(super) struct Observed<'r> {
    /// The number of the open column among the temporal ones.
    pub number: usize,
    /// Its index among all columns.
    pub index: usize,
    /// What the temporal cells of the row are by themselves.
    pub own_readings: &'r [OwnReading],
    /// The texts of all cells, and the name of the file behind them.
    pub texts: &'r [String],
}

impl Observed<'_> {
    /// What the cell of the open column is by itself.
    pub fn own(&self) -> &OwnReading {
        &self.own_readings[self.number]
    }
}
