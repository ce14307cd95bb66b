//! What a cell leaves unsaid.

use super::Century;
use crate::calendar::Calendar;

/// What a cell leaves unsaid, and a ruling says for its whole column.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Conventions {
    /// Which hundred years two-digit years stand for.
    pub century: Century,
    /// The calendar that the dates are written in. A cell that names an era
    /// says it itself.
    pub calendar: Calendar,
    /// The year of dates without one.
    pub year: Option<i16>,
}

impl Conventions {
    /// The usual ones, with two-digit years in `century`.
    pub const fn with_century(century: Century) -> Conventions {
        Conventions {
            century,
            calendar: Calendar::Gregory,
            year: None,
        }
    }
}

impl From<Century> for Conventions {
    fn from(century: Century) -> Conventions {
        Conventions::with_century(century)
    }
}
