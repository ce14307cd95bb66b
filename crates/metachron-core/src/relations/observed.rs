//! A row, as the sources of evidence see it.

use super::compared_columns::ComparedColumns;
use super::counts::CountKey;
use super::form_cells::form_and_hypothesis;
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
    /// The texts of all cells, and what stands for the file behind them, if there are
    /// several.
    pub texts: &'r [String],
    /// The form of the cell in question and the one hypothesis that can read it, where
    /// its form leaves the order open.
    pub counted: Option<CountKey>,
}

impl<'r> Observed<'r> {
    /// The row of these cells, as a source of the column in question with this number
    /// sees it.
    pub fn new(
        compared: &'r ComparedColumns,
        number: usize,
        own_readings: &'r [OwnReading],
        texts: &'r [String],
    ) -> Observed<'r> {
        Observed {
            counted: form_and_hypothesis(&own_readings[number]),
            compared,
            number,
            own_readings,
            texts,
        }
    }

    /// What the cell in question is by itself.
    pub fn own(&self) -> &OwnReading {
        &self.own_readings[self.number]
    }

    /// The same, where its form is read as the column's own cells settled it.
    pub fn as_settled(&self) -> Cow<'_, OwnReading> {
        let own = self.own();
        match (own, self.settled_stamp(self.number)) {
            (OwnReading::Several(_), Some(stamp)) => Cow::Owned(OwnReading::One {
                verdict: Verdict::Settled,
                stamp,
                decisive: None,
            }),
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
