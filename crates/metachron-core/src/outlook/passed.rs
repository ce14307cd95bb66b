//! Columns that are passed through as they came.

use crate::evidence::ColumnEvidence;
use crate::settle::Passed;
use crate::words::{count, number};
use serde::Serialize;

/// Why a column is passed through.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case", tag = "why")]
pub enum PassedOutlook {
    /// It has no filled cell.
    Empty,
    /// Nothing in it reads as a date or time.
    NoDates,
    /// Too few cells read as dates or times.
    TooFew {
        /// How many do.
        readable: u64,
    },
    /// Its cells may be dates and as well something else: a person has to
    /// say.
    Doubtful {
        /// How many cells may be dates.
        readable: u64,
    },
    /// The user asked for other columns only.
    NotAsked,
}

impl PassedOutlook {
    pub(super) fn new(reason: &Passed) -> PassedOutlook {
        match *reason {
            Passed::Empty => PassedOutlook::Empty,
            Passed::NoDates => PassedOutlook::NoDates,
            Passed::TooFew { readable } => PassedOutlook::TooFew { readable },
            Passed::NotAsked => PassedOutlook::NotAsked,
            Passed::BareDigits { cells }
            | Passed::Doubtful { cells }
            | Passed::OtherCalendar { cells, .. }
            | Passed::Seasons { cells }
            | Passed::PastMidnight { cells } => PassedOutlook::Doubtful { readable: cells },
        }
    }
}

pub(super) fn remarks(evidence: &ColumnEvidence, reason: &Passed) -> Vec<String> {
    match reason {
        Passed::TooFew { readable } => vec![format!(
            "{} of {} read as dates or times, too few to convert the column; \
             name it with -c to convert them",
            number(*readable),
            count(evidence.filled(), "cell")
        )],
        _ => Vec::new(),
    }
}
