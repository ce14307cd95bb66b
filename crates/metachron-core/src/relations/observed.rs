//! A row, as the sources of evidence see it.

use super::compared_columns::ComparedColumns;
use crate::decide::{OwnReading, Verdict};
use crate::stamp::Stamp;
use std::borrow::Cow;

/// A row, as a source sees it.
pub(super) struct Observed<'r> {
    /// The columns of the table.
    pub compared: &'r ComparedColumns,
    /// The number of the column in question among the temporal ones.
    pub number: usize,
    /// What the temporal cells of the row are by themselves.
    pub own_readings: &'r [OwnReading],
    /// The texts of all cells, and the name of the file behind them.
    pub texts: &'r [String],
}

impl Observed<'_> {
    /// What the cell in question is by itself.
    pub fn own(&self) -> &OwnReading {
        &self.own_readings[self.number]
    }

    /// The same, where its form is read as the column's own cells settled it.
    pub fn as_settled(&self) -> Cow<'_, OwnReading> {
        let own = self.own();
        match own {
            OwnReading::Several(_) => {
                self.settled_stamp(self.number)
                    .map_or(Cow::Borrowed(own), |stamp| {
                        Cow::Owned(OwnReading::One {
                            verdict: Verdict::Settled,
                            stamp,
                            decisive: None,
                        })
                    })
            }
            _ => Cow::Borrowed(own),
        }
    }

    /// The stamp of a temporal cell, where it has one by itself or its column's
    /// own cells settled which; none of another column that may hold numbers.
    pub fn settled_stamp(&self, number: usize) -> Option<Stamp> {
        if number != self.number && self.compared.tentative.contains(&number) {
            return None;
        }
        match &self.own_readings[number] {
            OwnReading::Nothing(_) => None,
            OwnReading::One { stamp, .. } => Some(*stamp),
            OwnReading::Several(several) => {
                several.by(self.compared.own_hypothesis(number, several.form?)?)
            }
        }
    }
}
