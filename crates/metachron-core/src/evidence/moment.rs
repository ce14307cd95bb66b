//! Moments as numbers, to be compared once a cell.

use crate::reading::{Clock, Day};
use crate::stamp::Stamp;
use jiff::civil::{Date, DateTime, Time};
use std::num::NonZeroU64;

/// A day, or a day with a time, as a number that is greater the later it is.
///
/// Year, month, day, hour, minute, second and a part of the second stand in
/// bits of their own, so that no calendar has to be counted through. Of the
/// nanoseconds the last nine bits are left out, to fit in 64.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Moment(NonZeroU64);

/// The bits of the time: 5 of the hour, 6 of the minute, 6 of the second, 22 of
/// its part.
const TIME_BITS: u32 = 39;

impl Moment {
    /// The moment of a stamp in no zone.
    #[inline]
    pub(super) fn of(stamp: Stamp) -> Option<Moment> {
        match stamp {
            Stamp::Date(date) => Some(date.into()),
            Stamp::DateTime(at) => Some(at.into()),
            _ => None,
        }
    }

    /// The first moment of a day that is told by its numbers.
    #[inline]
    pub(super) fn start_of(day: Day) -> Moment {
        Moment(NonZeroU64::MIN | u64::from(day.number()) << TIME_BITS)
    }

    /// The first moment of a day that the calendar has.
    #[inline]
    fn midnight(year: i16, month: u8, day: u8) -> Moment {
        Moment::start_of(Day::new(year, month, day))
    }

    /// The same day at another time.
    #[inline]
    pub(super) fn at(self, time: TimeBits) -> Moment {
        let day = self.0.get() >> TIME_BITS << TIME_BITS;
        Moment(NonZeroU64::MIN | day | time.0)
    }
}

/// The time of day in a [`Moment`].
#[derive(Clone, Copy, Debug)]
pub(super) struct TimeBits(u64);

impl TimeBits {
    /// That of what a clock shows.
    #[inline]
    pub(super) fn of(clock: Clock) -> TimeBits {
        let whole = TimeBits::whole([clock.hour, clock.minute, clock.second]);
        TimeBits(whole.0 | u64::from(clock.nanosecond >> 8))
    }

    /// That of an hour, a minute and a second.
    #[inline]
    fn whole([hour, minute, second]: [u8; 3]) -> TimeBits {
        let [hour, minute, second] = [hour, minute, second].map(u64::from);
        TimeBits(((hour << 6 | minute) << 6 | second) << 22)
    }
}

impl From<Time> for TimeBits {
    #[inline]
    fn from(time: Time) -> TimeBits {
        let whole = [time.hour(), time.minute(), time.second()].map(i8::unsigned_abs);
        let part = u64::from(time.subsec_nanosecond().unsigned_abs() >> 8);
        TimeBits(TimeBits::whole(whole).0 | part)
    }
}

impl From<Date> for Moment {
    #[inline]
    fn from(date: Date) -> Moment {
        let [month, day] = [date.month(), date.day()].map(i8::unsigned_abs);
        Moment::midnight(date.year(), month, day)
    }
}

impl From<DateTime> for Moment {
    #[inline]
    fn from(at: DateTime) -> Moment {
        Moment::from(at.date()).at(at.time().into())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::Timestamp;
    use jiff::tz::Offset;
    use proptest::prelude::*;

    fn moment() -> impl Strategy<Value = DateTime> {
        let seconds = -377_705_000_000..253_402_200_000_i64;
        (seconds, 0..1_000_000_000_i32).prop_map(|(second, part)| {
            // Parts that the number can tell apart.
            let at = Timestamp::new(second, part >> 9 << 9);
            Offset::UTC.to_datetime(at.unwrap_or(Timestamp::UNIX_EPOCH))
        })
    }

    proptest! {
        #[test]
        fn later_is_greater(one in moment(), other in moment()) {
            prop_assert_eq!(Moment::from(one).cmp(&Moment::from(other)), one.cmp(&other));
            let moved = other.date().to_datetime(one.time());
            prop_assert_eq!(Moment::from(other).at(one.time().into()), Moment::from(moved));
        }
    }
}
