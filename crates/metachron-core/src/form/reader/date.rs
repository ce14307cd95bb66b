//! The date of a cell.

use super::slot::Slot;
use super::{Reader, YearNumber};
use crate::calendar::{Calendar, ERAS, Month};
use crate::form::{Century, Conventions, FieldType, Impossible};
use crate::lex::Lexed;
use crate::locale::{Meaning, era_of, month_of, weekday_of};
use crate::stamp::{Kind, Stamp};
use jiff::civil::{Date, ISOWeekDate, Weekday};

impl Reader {
    /// A month, quarter, week or year: what `kind` says.
    pub(super) fn period(
        &self,
        kind: Kind,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        if conventions.calendar != Calendar::Gregory || self.slots[FieldType::Era] != Slot::None {
            return self.period_elsewhere(kind, cell, conventions);
        }
        let year = self.plain_year(cell, conventions)?;
        match kind {
            Kind::Month => match self.month_number(cell) {
                month @ 1..=12 => Ok(Stamp::Month(year, month)),
                month => Err(no_month(month, self.slots[FieldType::Month])),
            },
            Kind::Quarter => match self.quarter_number(cell) {
                quarter @ 1..=4 => Ok(Stamp::Quarter(year, quarter)),
                quarter => Err(Impossible::Quarter(quarter)),
            },
            Kind::Week => {
                let week = self.slots[FieldType::Week].small(cell);
                match ISOWeekDate::new(year, week as i8, Weekday::Monday) {
                    Ok(_) => Ok(Stamp::Week(year, week)),
                    Err(_) => Err(Impossible::Week { week, year }),
                }
            }
            _ => Ok(Stamp::Year(year)),
        }
    }

    /// A month, quarter or year of another calendar, or of the era that the cell names,
    /// where that calendar has the months of the Gregorian one.
    #[cold]
    fn period_elsewhere(
        &self,
        kind: Kind,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let quarter = self.quarter_number(cell);
        let (first, last) = match kind {
            Kind::Month => (self.month_number(cell), self.month_number(cell)),
            Kind::Quarter if !(1..=4).contains(&quarter) => {
                return Err(Impossible::Quarter(quarter));
            }
            Kind::Quarter => (3 * quarter - 2, 3 * quarter),
            Kind::Year => (1, 12),
            _ => return Err(Impossible::NoSuchStretch),
        };
        // An emperor's era may begin or end within it.
        let (calendar, date) = self
            .date_elsewhere(cell, conventions, first, 1)
            .or_else(|why| {
                let end = self.date_elsewhere(cell, conventions, last, 28);
                end.map_err(|_| why)
            })?;
        if !calendar.has_gregorian_months(date.year()) {
            return Err(Impossible::NoSuchStretch);
        }
        Ok(match kind {
            Kind::Month => Stamp::Month(date.year(), date.month().unsigned_abs()),
            Kind::Quarter => Stamp::Quarter(date.year(), quarter),
            _ => Stamp::Year(date.year()),
        })
    }

    /// The year, or the one that is ruled for dates without.
    #[inline]
    fn plain_year(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<i16, Impossible> {
        match self.year_slot() {
            year if self.has_two_digit_year => Ok(conventions.century.year(year.small(cell))),
            Slot::None => conventions.year.ok_or(Impossible::NoYear),
            year => match i16::try_from(year.value(cell)) {
                Ok(year @ 0..=9999) => match self.year_number {
                    YearNumber::AsWritten | YearNumber::Plus => Ok(year),
                    YearNumber::Minus => Ok(-year),
                    YearNumber::Since1900 if year < 200 => Ok(1900 + year),
                    YearNumber::Since1900 => Err(Impossible::OutOfRange),
                },
                _ => Err(Impossible::OutOfRange),
            },
        }
    }

    fn quarter_number(&self, cell: &Lexed<'_>) -> u8 {
        match self.slots[FieldType::Quarter] {
            // A roman numeral, which is a month's number as well.
            Slot::Name(token) => month_of(cell.tokens()[usize::from(token)].value),
            slot => slot.small(cell),
        }
    }

    #[inline]
    fn month_number(&self, cell: &Lexed<'_>) -> u8 {
        match self.slots[FieldType::Month] {
            Slot::Name(token) => month_of(cell.tokens()[usize::from(token)].value),
            number => number.small(cell),
        }
    }

    /// A date by the day of its year.
    fn date_by_day_of_year(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Date, Impossible> {
        let day = self.slots[FieldType::DayOfYear].value(cell) as u16;
        let year = self.plain_year(cell, conventions)?;
        let first = Date::new(year, 1, 1).map_err(|_| Impossible::OutOfRange)?;
        if day == 0 || day > first.days_in_year().unsigned_abs() {
            return Err(Impossible::DayOfYear { day, year });
        }
        let after = jiff::Span::new().days(i64::from(day) - 1);
        let date = first.checked_add(after);
        let date = date.map_err(|_| Impossible::OutOfRange)?;
        self.check_weekday(cell, date, conventions.century)?;
        Ok(date)
    }

    /// A date by its week and weekday (ISO 8601-1:2019 §5.2.3).
    fn date_by_week(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Date, Impossible> {
        let year = self.plain_year(cell, conventions)?;
        let number = match self.slots[FieldType::Weekday] {
            Slot::Name(token) => weekday_of(cell.tokens()[usize::from(token)].value),
            number => number.small(cell),
        };
        let weekday = Weekday::from_monday_one_offset(number as i8)
            .map_err(|_| Impossible::WeekdayNumber(number))?;
        let week = self.slots[FieldType::Week].small(cell);
        ISOWeekDate::new(year, week as i8, weekday)
            .map(ISOWeekDate::date)
            .map_err(|_| Impossible::Week { week, year })
    }

    /// The date as it is written, whether day and month were swapped or not.
    #[inline]
    pub(super) fn written_date(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Date, Impossible> {
        if self.slots[FieldType::DayOfYear] != Slot::None {
            return self.date_by_day_of_year(cell, conventions);
        }
        if self.slots[FieldType::Week] != Slot::None {
            return self.date_by_week(cell, conventions);
        }
        let month = self.month_number(cell);
        let day = self.slots[FieldType::Day].small(cell);
        if conventions.calendar != Calendar::Gregory || self.slots[FieldType::Era] != Slot::None {
            let (_, date) = self.date_elsewhere(cell, conventions, month, day)?;
            self.check_weekday(cell, date, conventions.century)?;
            return Ok(date);
        }
        if self.slots[FieldType::Year] == Slot::None && conventions.year.is_none() {
            return Err(self.no_year(month, day));
        }
        let year = self.plain_year(cell, conventions)?;
        if !(1..=12).contains(&month) {
            return Err(no_month(month, self.slots[FieldType::Month]));
        }
        let Ok(date) = Date::new(year, month as i8, day as i8) else {
            return Err(Impossible::Day { day, month, year });
        };
        if self.slots[FieldType::Weekday] != Slot::None {
            self.check_weekday(cell, date, conventions.century)?;
        }
        Ok(date)
    }

    /// Why a date without a year is none: it waits for one, if any year has
    /// such a day.
    fn no_year(&self, month: u8, day: u8) -> Impossible {
        match Date::new(2000, month as i8, day as i8) {
            Ok(_) => Impossible::NoYear,
            Err(_) if !(1..=12).contains(&month) => no_month(month, self.slots[FieldType::Month]),
            Err(_) => Impossible::Day {
                day,
                month,
                year: 2000,
            },
        }
    }

    /// The date in another calendar, or in the era that the cell names, and which
    /// calendar that is.
    #[cold]
    fn date_elsewhere(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
        month: u8,
        day: u8,
    ) -> Result<(Calendar, Date), Impossible> {
        let ruled = conventions.calendar;
        if no_month(month, self.slots[FieldType::Month]) == Impossible::NameDiffers {
            return Err(Impossible::NameDiffers);
        }
        let numbered = match self.slots[FieldType::Month] {
            Slot::Name(_) => Month::Named(month),
            _ => Month::Number(month),
        };
        let year = self.slots[FieldType::Year].value(cell) as i32;
        let no_day = |calendar| Impossible::DayOf {
            calendar,
            day,
            month,
            year,
        };
        let era = match self.slots[FieldType::Era] {
            Slot::Name(token) => Some(era_of(cell.tokens()[usize::from(token)].value)),
            _ => None,
        };
        let Some(era) = era else {
            let date = if self.has_two_digit_year {
                self.short_year_elsewhere(conventions, numbered, day, year)?
            } else {
                ruled.date(year, numbered, day).ok_or(no_day(ruled))?
            };
            return Ok((ruled, date));
        };
        let Some(era) = ERAS.get(usize::from(era).wrapping_sub(1)) else {
            return Err(Impossible::NameDiffers);
        };
        let calendar = if ruled.shares_era_with(era.calendar) {
            ruled
        } else if era.calendar == Calendar::IslamicCivil {
            // A year of the Hijra is a day's question: four calendars count it.
            return Err(Impossible::WhichCalendar);
        } else {
            era.calendar
        };
        let date = calendar.date_in_era(era.code, year, numbered, day);
        date.map(|date| (calendar, date)).ok_or(no_day(calendar))
    }

    /// A two-digit year of another calendar: the one whose day falls into the
    /// window of the Gregorian calendar.
    fn short_year_elsewhere(
        &self,
        conventions: Conventions,
        month: Month,
        day: u8,
        short: i32,
    ) -> Result<Date, Impossible> {
        let calendar = conventions.calendar;
        let first = match conventions.century {
            Century::Window(first) => first,
            Century::Open => 2000,
        };
        let first = calendar.year_of(Date::constant(first, 7, 1));
        let year = first + (short - first).rem_euclid(100);
        calendar.date(year, month, day).ok_or(Impossible::DayOf {
            calendar,
            day,
            month: match month {
                Month::Number(number) | Month::Named(number) => number,
            },
            year,
        })
    }

    fn check_weekday(
        &self,
        cell: &Lexed<'_>,
        date: Date,
        century: Century,
    ) -> Result<(), Impossible> {
        let Slot::Name(token) = self.slots[FieldType::Weekday] else {
            return Ok(());
        };
        let written = weekday_of(cell.tokens()[usize::from(token)].value);
        // Where languages differ about it, it says nothing.
        if written == Meaning::DIFFERS {
            return Ok(());
        }
        let weekday_of = |date: Date| date.weekday().to_monday_one_offset().unsigned_abs();
        let agrees = |date| weekday_of(date) == written;
        // While the century is open, either one may be meant.
        let open = self.has_two_digit_year && century == Century::Open;
        let other = Date::new(date.year() - 100, date.month(), date.day());
        if agrees(date) || open && other.is_ok_and(agrees) {
            return Ok(());
        }
        Err(Impossible::Weekday { written, date })
    }
}

/// Why `month`, which was read from `slot`, is none.
pub(super) fn no_month(month: u8, slot: Slot) -> Impossible {
    match (month, slot) {
        (Meaning::DIFFERS, Slot::Name(_)) => Impossible::NameDiffers,
        _ => Impossible::Month(month),
    }
}
