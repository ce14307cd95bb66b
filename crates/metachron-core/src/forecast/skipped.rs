//! Columns that are passed through as they came.

use crate::evidence::ColumnEvidence;
use crate::settle::{Leftover, SkipReason};
use crate::words::{count, number};

/// Why a column is passed through.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Skipped {
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
    /// The user said that it is text.
    Text,
}

impl Skipped {
    pub(super) fn new(reason: &SkipReason) -> Skipped {
        match reason.clone() {
            SkipReason::Empty => Skipped::Empty,
            SkipReason::NoDates => Skipped::NoDates,
            SkipReason::TooFew { readable, .. } => Skipped::TooFew { readable },
            SkipReason::NotAsked => Skipped::NotAsked,
            SkipReason::Text => Skipped::Text,
            SkipReason::Leftover(Leftover { cells, .. })
            | SkipReason::Unread { cells }
            | SkipReason::BareDigits { cells }
            | SkipReason::Doubtful { cells }
            | SkipReason::OtherCalendar { cells, .. }
            | SkipReason::NoDay { cells }
            | SkipReason::HalfDay { cells, .. }
            | SkipReason::Between { cells, .. }
            | SkipReason::Seasons { cells }
            | SkipReason::PastMidnight { cells } => Skipped::Doubtful { readable: cells },
        }
    }
}

pub(super) fn remarks(evidence: &ColumnEvidence, reason: &SkipReason) -> Vec<String> {
    match reason {
        SkipReason::HalfDay {
            before: Some(other),
            ..
        } => vec![format!(
            "it is before {other}, which it should follow, and neither passes 12:59"
        )],
        SkipReason::Between { start, end, .. } => {
            vec![format!(
                "it is the time between {start} and {end} in every row"
            )]
        }
        // Where they are hardly anything but dates, there is a question.
        SkipReason::TooFew {
            readable,
            plain: false,
        } => vec![format!(
            "{} of {} read as dates or times, too few to convert the column; \
             name it with -c to convert them",
            number(*readable),
            count(evidence.filled(), "cell")
        )],
        _ => Vec::new(),
    }
}
