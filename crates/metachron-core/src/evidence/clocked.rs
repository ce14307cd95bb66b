//! Days that were tallied before, with another time of day: most cells with a
//! time are new, and few of their days are.

use super::moment::{Moment, TimeBits};
use super::shape::ShapeEvidence;
use super::steps::Moments;
use crate::form::PlainClock;
use crate::reading::{Readings, Stamps};
use jiff::civil::Time;

/// Shapes with more candidates are read cell by cell.
const MOST_CANDIDATES: usize = 4;

/// A day, as the candidates of a shape read it.
#[derive(Clone, Copy, Debug)]
pub(super) struct KnownDay {
    /// The place of the shape.
    pub shape: u16,
    /// In which of its tallies cells of this day are, unless they are
    /// midnights.
    pub tally: u16,
    /// The day, by candidate; `None` for those that do not read it.
    days: [Option<Moment>; MOST_CANDIDATES],
    /// A moment of the day.
    moments: Moments,
}

/// The clock behind the day of all candidates, where that is all that they
/// agree about.
pub(super) fn shared_clock(readings: &Readings) -> Option<PlainClock> {
    let candidates = readings.candidates();
    let first = candidates.first()?.reader.clock_behind_day()?;
    let alike = candidates
        .iter()
        .all(|candidate| candidate.reader.clock_behind_day() == Some(first));
    (alike && candidates.len() <= MOST_CANDIDATES).then_some(first)
}

impl KnownDay {
    /// The day of a cell that was tallied.
    pub(super) fn new(shape: u16, tally: u16, stamps: &Stamps, moments: Moments) -> KnownDay {
        let mut days = [None; MOST_CANDIDATES];
        for (day, stamp) in days.iter_mut().zip(stamps) {
            *day = stamp.ok().and_then(Moment::of);
        }
        KnownDay {
            shape,
            tally,
            days,
            moments,
        }
    }

    /// Tallies another cell of this day, with another time.
    #[inline]
    pub(super) fn add(&self, time: Time, shape: &mut ShapeEvidence) -> Moments {
        let time = TimeBits::from(time);
        shape.tallies[usize::from(self.tally)].count += 1;
        for (span, day) in shape.spans.iter_mut().zip(self.days) {
            if let Some(day) = day {
                span.add_moment(day.at(time));
            }
        }
        self.moments.map(|day| day.at(time))
    }
}
