//! The day and the time of day that a number counts to.

use super::Clock;
use super::day::Day;
use crate::form::{CountDigits, CountUnit, Place};

/// A count, at work on the numbers of one layout.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct CountedFrom {
    whole: Place,
    decimals: Option<Place>,
    /// The day that is counted from, as days since 1970-01-01.
    origin: i64,
    step: Step,
}

/// What is counted.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Step {
    /// Days, whose decimals are taken to the nearest of so many parts of a day.
    Days { parts_of_second: u64 },
    /// Parts of a second, of which one has so many.
    PartsOfSecond(u64),
}

/// What is below is 0, a time of day without a date, or a day that a workbook counts in a
/// way of its own.
const LEAST: u64 = 100;

/// The last day of the year 9999, as days since 1970-01-01.
const LAST_DAY: i64 = 2_932_896;

const SECONDS_OF_DAY: u64 = 86_400;
const NANOSECONDS: u64 = 1_000_000_000;

impl CountedFrom {
    /// `None` where it is no count of days or of parts of a second since a midnight.
    pub(super) fn of(digits: CountDigits) -> Option<CountedFrom> {
        let decimals = digits.decimals.map_or(0, |decimals| decimals.len());
        let all = digits.whole.len() + decimals;
        let step = match digits.count.unit() {
            CountUnit::Days => Step::Days {
                // As `Count::read` takes them: to the second that the last decimal can
                // tell apart, or to the millisecond. Numbers come out of floats, whose
                // digits past the fifteenth are noise.
                parts_of_second: match decimals {
                    0..=7 if all <= 15 => 1,
                    8..=10 if all <= 15 => 1000,
                    _ => return None,
                },
            },
            unit => {
                let parts = unit.parts_of_second()?;
                let with_decimals = parts.checked_mul(10_u64.checked_pow(decimals.into())?)?;
                Step::PartsOfSecond(Some(with_decimals).filter(|parts| *parts <= NANOSECONDS)?)
            }
        };
        Some(CountedFrom {
            whole: digits.whole,
            decimals: digits.decimals,
            origin: digits.count.origin_day()?,
            step,
        })
    }

    /// What is counted.
    pub(super) fn step(&self) -> Step {
        self.step
    }

    /// The day and the time of day; `None` where the number is unusual.
    #[inline]
    pub(super) fn read(&self, text: &[u8]) -> Option<(Day, Clock)> {
        let whole = self.whole.long(text);
        if whole < LEAST {
            return None;
        }
        let decimals = match self.decimals {
            Some(place) => (place.long(text), 10_u64.pow(place.len().into())),
            None => (0, 1),
        };
        let (days, second, nanosecond) = match self.step {
            Step::Days { parts_of_second } => {
                let (number, of) = decimals;
                let parts = SECONDS_OF_DAY * parts_of_second;
                let nearest = (2 * number * parts + of) / (2 * of);
                // The last moment of its own day, where rounding would leave it.
                let nearest = nearest.min(parts - 1);
                let nanosecond = nearest % parts_of_second * (NANOSECONDS / parts_of_second);
                (whole, nearest / parts_of_second, nanosecond)
            }
            Step::PartsOfSecond(parts) => {
                let (number, of) = decimals;
                let all = whole.checked_mul(of)?.checked_add(number)?;
                let seconds = all / parts;
                let nanosecond = all % parts * (NANOSECONDS / parts);
                (
                    seconds / SECONDS_OF_DAY,
                    seconds % SECONDS_OF_DAY,
                    nanosecond,
                )
            }
        };
        let since_1970 = i64::try_from(days).ok()?.checked_add(self.origin)?;
        if since_1970 > LAST_DAY {
            return None;
        }
        let clock = Clock {
            hour: (second / 3600) as u8,
            minute: (second / 60 % 60) as u8,
            second: (second % 60) as u8,
            nanosecond: nanosecond as u32,
        };
        Some((civil(since_1970), clock))
    }
}

/// The day of the Gregorian calendar that is so many days behind 1970-01-01.
///
/// Years are counted from March on, so that the day that only some of them have is their
/// last; 400 of them have 146,097 days.
#[inline]
fn civil(since_1970: i64) -> Day {
    let since_march_0 = since_1970 + 719_468;
    let era = since_march_0.div_euclid(146_097);
    let day = since_march_0.rem_euclid(146_097);
    let year = (day - day / 1460 + day / 36_524 - day / 146_096) / 365;
    let day_of_year = day - (365 * year + year / 4 - year / 100);
    let month = (5 * day_of_year + 2) / 153;
    let day = day_of_year - (153 * month + 2) / 5 + 1;
    let (month, is_next) = if month < 10 {
        (month + 3, 0)
    } else {
        (month - 9, 1)
    };
    Day::new((year + era * 400 + is_next) as i16, month as u8, day as u8)
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::ToSpan;
    use jiff::civil::{Date, date};
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn days_are_those_of_the_calendar(since in -700_000..2_900_000_i64) {
            let day: Date = date(1970, 1, 1).checked_add(since.days()).unwrap();
            let own = civil(since);
            prop_assert_eq!(
                (own.year(), own.month() as i8, own.day() as i8),
                (day.year(), day.month(), day.day())
            );
        }
    }
}
