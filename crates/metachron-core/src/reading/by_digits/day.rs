//! The day that digits say.

use crate::form::{Century, DayDigits, MonthDigits, PartOfYear, Place, YearDigits};
use jiff::civil::Date;
use std::num::NonZeroU32;

/// A day, month or year as a number that is greater the later it is. Of a month, the day
/// is 0, and of a year, the month is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Day(NonZeroU32);

/// Years from here on are made positive.
const LEAST_YEAR: i32 = -10_000;

/// A bit that all have, so that no day takes no more room than a day.
const ALWAYS: NonZeroU32 = match NonZeroU32::new(1 << 31) {
    Some(bit) => bit,
    None => unreachable!(),
};

impl Day {
    /// Before all others.
    pub(crate) const FIRST: Day = Day(ALWAYS);

    #[inline(always)]
    pub(crate) fn new(year: i16, month: u8, day: u8) -> Day {
        let year = (i32::from(year) - LEAST_YEAR).unsigned_abs();
        Day(ALWAYS | (year << 4 | u32::from(month)) << 5 | u32::from(day))
    }

    #[inline(always)]
    pub(crate) fn year(self) -> i16 {
        ((self.number() >> 9) as i32 + LEAST_YEAR) as i16
    }

    #[inline(always)]
    pub(crate) fn month(self) -> u8 {
        (self.number() >> 5 & 0xf) as u8
    }

    #[inline(always)]
    pub(crate) fn day(self) -> u8 {
        (self.number() & 0x1f) as u8
    }

    /// Five bits of the day, four of the month, and the year behind 10,001 BC.
    #[inline(always)]
    pub(crate) fn number(self) -> u32 {
        self.0.get() & !ALWAYS.get()
    }

    #[inline]
    pub(super) fn is_at_turn_of_year(self) -> bool {
        matches!((self.month(), self.day()), (12, 31) | (1, 1))
    }

    #[inline]
    pub(super) fn is_about_1970(self) -> bool {
        self == Day::new(1970, 1, 1) || self == Day::new(1969, 12, 31)
    }

    /// The day with its day and month swapped, where the year has it.
    #[inline]
    pub(super) fn swapped(self) -> Option<Day> {
        (self.day() <= 12).then(|| Day::new(self.year(), self.day(), self.month()))
    }

    fn weekday(self) -> Option<u8> {
        let date = Date::new(self.year(), self.month() as i8, self.day() as i8).ok()?;
        Some(date.weekday().to_monday_one_offset().unsigned_abs())
    }
}

#[inline]
fn is_leap(year: i16) -> bool {
    // Hundreds divide by 400 where they divide by 16.
    year % 4 == 0 && (year % 100 != 0 || year % 16 == 0)
}

#[inline]
fn days_of_month(year: i16, month: u8) -> u8 {
    match month {
        2 => 28 + u8::from(is_leap(year)),
        4 | 6 | 9 | 11 => 30,
        _ => 31,
    }
}

impl DayDigits {
    /// The day that they make, where there is one.
    #[inline(always)]
    pub(super) fn day(&self, text: &[u8]) -> Option<Day> {
        let year = match self.year {
            YearDigits::Four(place) => place.year(text),
            YearDigits::Two(place, century) => century.year(place.small(text)),
        };
        let day = match self.part {
            PartOfYear::Day(month, day) => {
                let (month, day) = (month.number(text), day.small(text));
                let is_day = month.wrapping_sub(1) < 12
                    && (day.wrapping_sub(1) < 28 || is_late_day(year, month, day));
                is_day.then(|| Day::new(year, month, day))
            }
            PartOfYear::DayOfYear(place) => day_of_year(year, place.long(text)),
            PartOfYear::Month(month) => {
                let month = month.number(text);
                (1..=12).contains(&month).then(|| Day::new(year, month, 0))
            }
            PartOfYear::Whole => Some(Day::new(year, 0, 0)),
        }?;
        let is_it = self.weekday.is_none_or(|weekday| self.is_on(weekday, day));
        is_it.then_some(day)
    }

    /// Whether `weekday`, which is written, is that of `day`. While the century is open,
    /// it may be that of the century before.
    fn is_on(&self, weekday: u8, day: Day) -> bool {
        let is_it = |day: Day| day.weekday() == Some(weekday);
        let is_open = matches!(self.year, YearDigits::Two(_, Century::Open));
        let before = || Day::new(day.year() - 100, day.month(), day.day());
        is_it(day) || is_open && is_it(before())
    }

    /// The year and the pair of numbers that are month and day, or day and month, if that
    /// is all there is to them.
    pub(super) fn pair(&self) -> Option<(Place, [MonthDigits; 2])> {
        match (self.year, self.part, self.weekday) {
            (YearDigits::Four(year), PartOfYear::Day(month, day), None) => {
                Some((year, [month, MonthDigits::Number(day)]))
            }
            _ => None,
        }
    }

    /// The two digits of the year, where it has no more.
    #[inline(always)]
    pub(super) fn short_year(&self) -> Option<Place> {
        match self.year {
            YearDigits::Two(place, _) => Some(place),
            YearDigits::Four(_) => None,
        }
    }
}

impl MonthDigits {
    #[inline(always)]
    pub(super) fn number(&self, text: &[u8]) -> u8 {
        match *self {
            MonthDigits::Number(place) => place.small(text),
            MonthDigits::Name(month) => month,
        }
    }
}

/// Whether the month has that day, which is past the 28th or none.
#[inline(never)]
fn is_late_day(year: i16, month: u8, day: u8) -> bool {
    day >= 1 && day <= days_of_month(year, month)
}

/// Day `number` of `year`, where it has so many.
fn day_of_year(year: i16, number: u64) -> Option<Day> {
    let mut rest = number.checked_sub(1)?;
    for month in 1..=12 {
        let days = u64::from(days_of_month(year, month));
        if rest < days {
            return Some(Day::new(year, month, rest as u8 + 1));
        }
        rest -= days;
    }
    None
}
