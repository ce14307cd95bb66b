//! What the fields of a form are written from.

use super::OffsetStyle;
use crate::stamp::Stamp;
use crate::zone::{self, Zone};
use jiff::Timestamp;
use jiff::civil::{Date, ISOWeekDate, Time, Weekday};
use jiff::tz::Offset;

/// A stamp as the clocks of a zone show it.
pub(super) struct Shown<'w> {
    /// The day: the first of a longer span.
    pub date: Date,
    pub time: Time,
    pub offset: Offset,
    pub zone: &'w Zone,
    instant: Option<Timestamp>,
    /// Whether a day stands next to the month, which changes the month's name
    /// in many languages.
    pub has_day: bool,
}

impl Shown<'_> {
    pub(super) fn of(stamp: Stamp, zone: &Zone, has_day: bool) -> Shown<'_> {
        let (instant, offset) = match stamp {
            Stamp::Instant(at) => (Some(at), zone.offset_at(at)),
            _ => (None, Offset::UTC),
        };
        let (date, time) = match instant {
            Some(at) => {
                let local = offset.to_datetime(at);
                (local.date(), local.time())
            }
            None => parts(stamp),
        };
        Shown {
            date,
            time,
            offset,
            zone,
            instant,
            has_day,
        }
    }

    /// The month, 1–12.
    pub(super) fn month(&self) -> u8 {
        self.date.month().unsigned_abs()
    }

    /// The day of the week, 1 (Monday) – 7.
    pub(super) fn weekday(&self) -> u8 {
        self.date.weekday().to_monday_one_offset().unsigned_abs()
    }

    /// The hour, 0–23.
    pub(super) fn hour(&self) -> u8 {
        self.time.hour().unsigned_abs()
    }

    /// What the zone is called then.
    pub(super) fn abbreviation(&self) -> String {
        let instant = self.instant.unwrap_or_default();
        let info = self.zone.rules().to_offset_info(instant);
        info.abbreviation().to_owned()
    }
}

/// The day and the time of day of a stamp in no zone: the first of a longer
/// span.
fn parts(stamp: Stamp) -> (Date, Time) {
    let day = |year, month: u8| Date::new(year, month as i8, 1).unwrap_or(Date::ZERO);
    let midnight = |date| (date, Time::midnight());
    match stamp {
        Stamp::Date(date) => midnight(date),
        Stamp::Time(time) => (Date::ZERO, time),
        Stamp::DateTime(at) => (at.date(), at.time()),
        Stamp::Instant(at) => {
            let at = Offset::UTC.to_datetime(at);
            (at.date(), at.time())
        }
        Stamp::Month(year, month) => midnight(day(year, month)),
        Stamp::Quarter(year, quarter) => midnight(day(year, 3 * quarter - 2)),
        Stamp::Week(year, week) => {
            let first = ISOWeekDate::new(year, week as i8, Weekday::Monday);
            midnight(first.map_or(Date::ZERO, ISOWeekDate::date))
        }
        Stamp::Year(year) => midnight(day(year, 1)),
        Stamp::Duration(_) => midnight(Date::ZERO),
    }
}

/// An offset in one of the styles of UTS #35: `Z` where it is none.
pub(super) fn write_offset(offset: Offset, style: OffsetStyle) -> String {
    let extended = zone::written(offset);
    match style {
        OffsetStyle::Named if offset == Offset::UTC => "GMT".to_owned(),
        // The hours stand without a leading zero, and alone where they can.
        OffsetStyle::Named => {
            let whole = extended
                .strip_suffix(":00")
                .filter(|hours| hours.len() == 3);
            let short = whole.unwrap_or(&extended);
            format!("GMT{}", short.replacen("+0", "+", 1).replacen("-0", "-", 1))
        }
        OffsetStyle::Minutes => format!("{:+04}", offset.seconds() / 60),
        _ if offset == Offset::UTC => "Z".to_owned(),
        OffsetStyle::Extended | OffsetStyle::Seconds => extended,
        OffsetStyle::Basic => extended.replace(':', ""),
        OffsetStyle::Hours => match extended.strip_suffix(":00") {
            Some(hours) if hours.len() == 3 => hours.to_owned(),
            _ => extended.replace(':', ""),
        },
    }
}
