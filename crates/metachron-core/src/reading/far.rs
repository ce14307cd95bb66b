//! Years that are far from our time: numbers that are no dates come out in them, and
//! dates of other calendars.

use crate::calendar::{is_far, is_of_another_calendar};
use crate::form::{Field, Form, Reader};
use crate::reading::Candidate;
use crate::stamp::{Kind, Stamp};
use jiff::civil::Date;
use std::ops::RangeInclusive;

/// Numbers that count time are believed in these years.
const COUNTED_YEARS: RangeInclusive<i16> = 1920..=2069;

/// Digits without a sign have years in these bounds, if they are dates.
pub(crate) const BARE_YEARS: RangeInclusive<i16> = 1500..=2500;

/// Before it, years of four digits begin with a zero.
const FIRST_YEAR_OF_FOUR_DIGITS: i16 = 1000;

/// Which years that a candidate reads are far from our time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum FarYears {
    /// None: who writes an era says which calendar it is, and who writes a sign before more
    /// than four digits (ISO 8601-1:2019 §5.2.2.3) means the year; two digits stand in the
    /// window that is ruled.
    None,
    /// Of cells that their source types as dates: those alone that another calendar has
    /// now, which a person may have typed in.
    OfTyped,
    /// Those of another calendar, and those that nobody's dates are in.
    OfCalendars,
    /// Those, and all that nobody writes without a sign between the digits.
    OfBareDigits,
    /// Of years by themselves: nobody writes `0327` for one, but there are columns of
    /// old ones.
    OfBareYears,
    /// Those that no number counts to. The last day that a workbook knows is one
    /// without an end.
    OfCounts,
    /// The same of instants, where a few seconds about zero are an empty cell.
    OfInstants,
}

impl FarYears {
    pub(super) fn of(form: &Form, reader: &Reader) -> FarYears {
        if form.typed().is_some() {
            return FarYears::OfTyped;
        }
        let is_whole = |field| matches!(field, Field::Era(_) | Field::YearExpanded);
        let says_more = || form.fields().any(is_whole);
        if reader.kind() == Kind::Year && !reader.is_bare_number() {
            return if form.is_bare() {
                FarYears::OfBareYears
            } else {
                FarYears::None
            };
        }
        if reader.is_bare_number() {
            return match reader.kind() {
                Kind::Instant => FarYears::OfInstants,
                _ => FarYears::OfCounts,
            };
        }
        if reader.has_two_digit_year() || says_more() {
            FarYears::None
        } else if form.is_bare() {
            FarYears::OfBareDigits
        } else {
            FarYears::OfCalendars
        }
    }

    /// Whether `year` is one of them; `is_about_zero` tells whether it is that of the
    /// last day before 1970 or of the day behind it.
    #[inline]
    pub(crate) fn has(self, year: i16, is_about_zero: impl FnOnce() -> bool) -> bool {
        let is_uncounted = !COUNTED_YEARS.contains(&year) && year != 9999;
        match self {
            FarYears::None => false,
            FarYears::OfTyped => is_of_another_calendar(year),
            FarYears::OfCalendars => is_far(year),
            FarYears::OfBareDigits => is_far(year) || !BARE_YEARS.contains(&year),
            FarYears::OfBareYears => {
                let is_old = (FIRST_YEAR_OF_FOUR_DIGITS..BARE_YEARS.start() + 1).contains(&year);
                is_far(year) && !is_old
            }
            FarYears::OfCounts => is_uncounted,
            FarYears::OfInstants => is_uncounted || is_about_zero(),
        }
    }
}

impl Candidate {
    /// Whether what it reads as `stamp` is far from our time.
    #[inline]
    pub fn is_far_from_us(&self, stamp: Stamp) -> bool {
        let about_zero = Date::constant(1969, 12, 31)..=Date::constant(1970, 1, 1);
        let is_about_zero = || stamp.date().is_some_and(|date| about_zero.contains(&date));
        stamp
            .year()
            .is_some_and(|year| self.far_years.has(year, is_about_zero))
    }
}
