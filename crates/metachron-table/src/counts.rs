//! Stamps of the counts that typed sources have.

use jiff::civil::{Date, DateTime, Time, date};
use jiff::{SignedDuration, Timestamp};
use metachron_core::stamp::{Duration, Stamp};
use std::fmt::Write;

/// Nanoseconds of a day of 24 hours.
pub(crate) const DAY: i128 = 86_400_000_000_000;

/// What stands before a count that no stamp is.
pub(crate) const OUT_OF_RANGE: &str = "out of range: ";

/// The day so many days behind 1970-01-01.
pub(crate) fn day(days: i64) -> Option<Date> {
    let days = jiff::Span::new().try_days(days).ok()?;
    date(1970, 1, 1).checked_add(days).ok()
}

/// The time of day so many nanoseconds behind midnight.
pub(crate) fn time_of_day(nanos: i128) -> Option<Time> {
    let nanos = i64::try_from(nanos).ok().filter(|nanos| *nanos >= 0)?;
    let seconds = nanos / 1_000_000_000;
    let hour = i8::try_from(seconds / 3600).ok()?;
    let (minute, second) = (seconds / 60 % 60, seconds % 60);
    let rest = (nanos % 1_000_000_000) as i32;
    Time::new(hour, minute as i8, second as i8, rest).ok()
}

/// The local time so many nanoseconds behind 1970-01-01T00:00:00.
pub(crate) fn local(nanos: i128) -> Option<DateTime> {
    const EPOCH: DateTime = date(1970, 1, 1).at(0, 0, 0, 0);
    let seconds = i64::try_from(nanos.div_euclid(1_000_000_000)).ok()?;
    let rest = nanos.rem_euclid(1_000_000_000) as i32;
    EPOCH.checked_add(SignedDuration::new(seconds, rest)).ok()
}

/// The instant so many nanoseconds behind 1970-01-01T00:00:00Z.
pub(crate) fn instant(nanos: i128) -> Option<Timestamp> {
    Timestamp::from_nanosecond(nanos).ok()
}

/// An interval, if its parts have one sign, as our lengths of time do: a day of it is taken
/// for 24 hours. Else its parts are appended to `text`.
pub(crate) fn interval(months: i32, days: i32, nanos: i128, text: &mut String) -> Option<Stamp> {
    let exact = i128::from(days) * DAY + nanos;
    let signs = [i128::from(months), i128::from(days), nanos];
    if signs.iter().all(|part| *part >= 0) || signs.iter().all(|part| *part <= 0) {
        return Some(Stamp::Duration(Duration::new(months.into(), exact)));
    }
    // Writing to a string does not fail.
    let _ = write!(text, "{months} months {days} days {nanos} ns");
    None
}
