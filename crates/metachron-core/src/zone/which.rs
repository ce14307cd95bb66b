//! What is made of local times that were never, or twice.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// What is made of a local time that is no single instant: one that was
/// skipped when clocks went forward, or was twice when they went back.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum WhichInstant {
    /// It stays open: a person has to say. Right unless the clocks' makers are
    /// known to have chosen.
    #[default]
    Reject,
    /// The earlier of both instants: the first run of an hour that was twice;
    /// of one that never was, as if clocks had gone forward already.
    Earlier,
    /// The later of both instants: the second run of an hour that was twice;
    /// of one that never was, as if clocks had not gone forward yet.
    Later,
}

impl WhichInstant {
    /// The one of both instants, the earlier first, that it chooses.
    pub fn of(self, [earlier, later]: [Timestamp; 2]) -> Option<Timestamp> {
        match self {
            WhichInstant::Reject => None,
            WhichInstant::Earlier => Some(earlier),
            WhichInstant::Later => Some(later),
        }
    }

    pub(crate) fn is_default(&self) -> bool {
        *self == WhichInstant::Reject
    }
}
