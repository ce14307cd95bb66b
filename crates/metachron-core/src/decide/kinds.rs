//! A stamp of one kind in a column of another.

use crate::rulings::PeriodAs;
use crate::stamp::{Kind, Stamp};
use jiff::civil::Time;

/// Why a stamp does not belong into a column.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, thiserror::Error)]
pub enum KindMismatch {
    /// A local time among instants: the zone is not known.
    #[error("a clock time without a zone, in a column of instants")]
    NoZone,
    /// An instant among local times: its zone would be lost.
    #[error("a time with a zone, in a column without")]
    ZoneWouldBeLost,
    /// A time of day other than midnight in a column of dates.
    #[error("a time of day that a column of dates would lose")]
    TimeWouldBeLost,
    /// A time of day in a column that needs a date.
    #[error("a time of day without a date")]
    NoDate,
    /// A date in a column of times of day.
    #[error("a date in a column of times of day")]
    DateWouldBeLost,
    /// A month, quarter, week or year among values of another precision.
    #[error("of another precision than its column")]
    Coarser,
    /// A length of time among points in time, or the other way round.
    #[error("a length of time is no point in time")]
    Length,
}

/// How a stamp that belongs into a column gets there.
pub(super) enum Fit {
    /// As it is.
    AsIs,
    /// With midnight put to a date or taken from it, or as a day of a period.
    Midnight,
}

/// How a stamp of kind `from` gets into a column of kind `into`. `midnight`:
/// its time of day is midnight.
pub(super) fn fit(
    from: Kind,
    into: Kind,
    midnight: bool,
    zone: ReadZone,
    period_as: PeriodAs,
) -> Result<Fit, KindMismatch> {
    match (from, into) {
        _ if from == into => Ok(Fit::AsIs),
        (Kind::Month | Kind::Quarter | Kind::Week | Kind::Year, Kind::Date | Kind::DateTime)
            if period_as != PeriodAs::Reject =>
        {
            Ok(Fit::Midnight)
        }
        (Kind::DateTime, Kind::Instant) if zone == ReadZone::Ruled => Ok(Fit::AsIs),
        (Kind::Date, Kind::Instant) if zone == ReadZone::Ruled => Ok(Fit::Midnight),
        (Kind::Date, Kind::DateTime) => Ok(Fit::Midnight),
        (Kind::DateTime, Kind::Date) if midnight => Ok(Fit::Midnight),
        (Kind::DateTime, Kind::Date) => Err(KindMismatch::TimeWouldBeLost),
        (Kind::Duration, _) | (_, Kind::Duration) => Err(KindMismatch::Length),
        (Kind::Month | Kind::Quarter | Kind::Week | Kind::Year, _)
        | (_, Kind::Month | Kind::Quarter | Kind::Week | Kind::Year) => Err(KindMismatch::Coarser),
        (Kind::Time, _) => Err(KindMismatch::NoDate),
        (_, Kind::Time) => Err(KindMismatch::DateWouldBeLost),
        (_, Kind::Instant) => Err(KindMismatch::NoZone),
        _ => Err(KindMismatch::ZoneWouldBeLost),
    }
}

/// Whether local times of a column have a zone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum ReadZone {
    /// None is known.
    Unknown,
    /// The ruling says it, or where it is said.
    Ruled,
}

/// `stamp` as a column of kind `kind` holds it: a date gets midnight among
/// datetimes, and the other way round; nothing else is changed.
pub fn to_kind(stamp: Stamp, kind: Kind) -> Stamp {
    match (stamp, kind) {
        // Among instants, a zone will be put to it.
        (Stamp::Date(date), Kind::DateTime | Kind::Instant) => {
            Stamp::DateTime(date.to_datetime(Time::midnight()))
        }
        (Stamp::DateTime(at), Kind::Date) => Stamp::Date(at.date()),
        _ => stamp,
    }
}
