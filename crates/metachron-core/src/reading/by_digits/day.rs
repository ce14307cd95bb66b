//! The day that digits say.

use super::slots::{Index, Numbers, Slots};
use crate::form::{Century, DayDigits, MonthDigits, PartOfYear, YearDigits};
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

/// The year of these two numbers.
#[inline(always)]
pub(super) fn year_of([first, last]: [Index; 2], numbers: Numbers<'_>) -> i16 {
    i16::from(numbers.get(first)) * 100 + i16::from(numbers.get(last))
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

/// The numbers that a day is made of.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct DayNumbers {
    year: YearNumbers,
    part: PartNumbers,
    /// The weekday that is written.
    weekday: Option<u8>,
}

#[derive(Clone, Copy, Debug, PartialEq)]
enum YearNumbers {
    Four([Index; 2]),
    Two(Index, Century),
}

#[derive(Clone, Copy, Debug, PartialEq)]
enum PartNumbers {
    Whole,
    Month(MonthNumber),
    Day(MonthNumber, Index),
    /// The first two digits of the day of the year, and the last.
    DayOfYear([Index; 2]),
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum MonthNumber {
    At(Index),
    Is(u8),
}

impl DayNumbers {
    /// Those of a day with these digits, in slots of their own.
    pub(super) fn of(digits: DayDigits, slots: &mut Slots) -> Option<DayNumbers> {
        let month = |month: MonthDigits, slots: &mut Slots| {
            Some(match month {
                MonthDigits::Number(place) => MonthNumber::At(slots.add(place)?),
                MonthDigits::Name(month) => MonthNumber::Is(month),
            })
        };
        Some(DayNumbers {
            year: match digits.year {
                YearDigits::Four(place) => {
                    let [first, last] = place.halves()?;
                    YearNumbers::Four([slots.add(first)?, slots.add(last)?])
                }
                YearDigits::Two(place, century) => YearNumbers::Two(slots.add(place)?, century),
            },
            part: match digits.part {
                PartOfYear::Whole => PartNumbers::Whole,
                PartOfYear::Month(own) => PartNumbers::Month(month(own, slots)?),
                PartOfYear::Day(own, day) => PartNumbers::Day(month(own, slots)?, slots.add(day)?),
                PartOfYear::DayOfYear(place) => {
                    let [first, last] = place.two_and_one()?;
                    PartNumbers::DayOfYear([slots.add(first)?, slots.add(last)?])
                }
            },
            weekday: digits.weekday,
        })
    }

    /// The day that they make, where there is one.
    #[inline(always)]
    pub(super) fn day(&self, numbers: Numbers<'_>) -> Option<Day> {
        let year = match self.year {
            YearNumbers::Four(year) => year_of(year, numbers),
            YearNumbers::Two(index, century) => century.year(numbers.get(index)),
        };
        let day = match self.part {
            PartNumbers::Day(month, day) => {
                let (month, day) = (month.number(numbers), numbers.get(day));
                let is_day = month.wrapping_sub(1) < 12
                    && (day.wrapping_sub(1) < 28 || is_late_day(year, month, day));
                is_day.then(|| Day::new(year, month, day))
            }
            PartNumbers::DayOfYear([first, last]) => {
                let number = u16::from(numbers.get(first)) * 10 + u16::from(numbers.get(last));
                day_of_year(year, number)
            }
            PartNumbers::Month(month) => {
                let month = month.number(numbers);
                (1..=12).contains(&month).then(|| Day::new(year, month, 0))
            }
            PartNumbers::Whole => Some(Day::new(year, 0, 0)),
        }?;
        if self
            .weekday
            .is_some_and(|weekday| !self.is_on(weekday, day))
        {
            return None;
        }
        Some(day)
    }

    /// The year and the pair of numbers that are month and day, or day and month, if that
    /// is all there is to them.
    pub(super) fn pair(&self) -> Option<([Index; 2], [MonthNumber; 2])> {
        match (self.year, self.part, self.weekday) {
            (YearNumbers::Four(year), PartNumbers::Day(month, day), None) => {
                Some((year, [month, MonthNumber::At(day)]))
            }
            _ => None,
        }
    }

    /// Whether `weekday`, which is written, is that of `day`. While the century is open,
    /// it may be that of the century before.
    fn is_on(&self, weekday: u8, day: Day) -> bool {
        let is_it = |day: Day| day.weekday() == Some(weekday);
        let is_open = matches!(self.year, YearNumbers::Two(_, Century::Open));
        let before = || Day::new(day.year() - 100, day.month(), day.day());
        is_it(day) || is_open && is_it(before())
    }

    /// The number of the two digits of the year, where it has no more.
    #[inline(always)]
    pub(super) fn short_year(&self) -> Option<Index> {
        match self.year {
            YearNumbers::Two(index, _) => Some(index),
            YearNumbers::Four(_) => None,
        }
    }
}

impl MonthNumber {
    #[inline(always)]
    pub(super) fn number(self, numbers: Numbers<'_>) -> u8 {
        match self {
            MonthNumber::At(index) => numbers.get(index),
            MonthNumber::Is(month) => month,
        }
    }
}

/// Whether the month has that day, which is past the 28th or none.
#[inline(never)]
fn is_late_day(year: i16, month: u8, day: u8) -> bool {
    day >= 1 && day <= days_of_month(year, month)
}

/// Day `number` of `year`, where it has so many.
fn day_of_year(year: i16, number: u16) -> Option<Day> {
    let mut rest = number.checked_sub(1)?;
    for month in 1..=12 {
        let days = u16::from(days_of_month(year, month));
        if rest < days {
            return Some(Day::new(year, month, rest as u8 + 1));
        }
        rest -= days;
    }
    None
}
