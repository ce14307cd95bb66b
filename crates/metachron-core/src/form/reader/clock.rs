//! The time of day of a cell.

use super::Reader;
use super::slot::Slot;
use crate::form::{FieldType, HalfOfDay, Impossible};
use crate::lex::Lexed;
use crate::locale::span_of;
use jiff::SignedDuration;
use jiff::civil::{Date, DateTime, Time};

/// What is made of a second numbered 60.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Leap {
    /// Nothing: it needs a rule.
    Refused,
    /// The second before it.
    SecondBefore,
}

/// What a clock shows.
pub(super) enum Clock {
    Time(Time),
    /// `24:00`: the midnight that ends the day (ISO 8601-1:2019 §5.3.1.1).
    EndOfDay,
}

impl Reader {
    /// What the clock of a cell shows.
    #[inline]
    pub(super) fn clock(&self, cell: &Lexed<'_>, half: HalfOfDay) -> Result<Clock, Impossible> {
        if self.slots[FieldType::Hour] == Slot::None {
            return self.named_moment(cell);
        }
        let mut hour = self.slots[FieldType::Hour].small(cell);
        let (minute, mut second) = (
            self.slots[FieldType::Minute].small(cell),
            self.slots[FieldType::Second].small(cell),
        );
        if self.has_twelve_hours {
            // Noon is 0 p.m. in Japanese, and midnight 0 a.m. in many files.
            if hour > 12 {
                return Err(Impossible::Hour(hour));
            }
            hour = self.hour_of_day(cell, hour)?;
        } else if self.slots[FieldType::DayPeriod] == Slot::None {
            hour = half.hour(hour)?;
        }
        let decimals = self.nanosecond(cell);
        let has_second = self.slots[FieldType::Second] != Slot::None;
        let nanosecond = if has_second { decimals } else { 0 };
        if minute > 59 {
            return Err(Impossible::Minute(minute));
        }
        if second > 59 {
            match (minute, second, self.leap) {
                (59, 60, Leap::SecondBefore) => second = 59,
                (59, 60, Leap::Refused) => return Err(Impossible::LeapSecond),
                _ => return Err(Impossible::Second(second)),
            }
        }
        if hour == 24 && minute == 0 && second == 0 && decimals == 0 {
            return Ok(Clock::EndOfDay);
        }
        let time = Time::new(hour as i8, minute as i8, second as i8, nanosecond)
            .map_err(|_| Impossible::Hour(hour))?;
        if has_second || self.slots[FieldType::Fraction] == Slot::None {
            return Ok(Clock::Time(time));
        }
        let time = time.checked_add(self.decimal_part(cell));
        time.map(Clock::Time).map_err(|_| Impossible::Hour(hour))
    }

    /// The hour of the day, by the part of the day that is written.
    fn hour_of_day(&self, cell: &Lexed<'_>, hour: u8) -> Result<u8, Impossible> {
        let Some(token) = self.slots[FieldType::DayPeriod].token() else {
            return Err(Impossible::Hour(hour));
        };
        match span_of(cell.tokens()[usize::from(token)].value) {
            None => Err(Impossible::NameDiffers),
            Some(span) => span.hour(hour).ok_or(Impossible::NotThen { hour }),
        }
    }

    /// Noon or midnight, in a word.
    fn named_moment(&self, cell: &Lexed<'_>) -> Result<Clock, Impossible> {
        let span = self.slots[FieldType::DayPeriod]
            .token()
            .and_then(|token| span_of(cell.tokens()[usize::from(token)].value));
        match span {
            Some(span) if span.from == span.before => Time::new(span.from as i8 % 24, 0, 0, 0)
                .map(Clock::Time)
                .map_err(|_| Impossible::Hour(span.from)),
            _ => Err(Impossible::NoMoment),
        }
    }

    /// The decimals of the second in nanoseconds; digits past the ninth are cut, never
    /// rounded, so that no value moves into the next second.
    fn nanosecond(&self, cell: &Lexed<'_>) -> i32 {
        let slot = self.slots[FieldType::Fraction];
        let digits = slot.digits(cell);
        (0..9).fold(0, |value, index| {
            value * 10 + i32::from(digits.get(index).map_or(0, |digit| digit - b'0'))
        })
    }

    /// What decimals of the last part add to it, where that is a minute or an hour
    /// (ISO 8601-1:2019 §5.3.1.4).
    fn decimal_part(&self, cell: &Lexed<'_>) -> SignedDuration {
        let seconds = match self.slots[FieldType::Minute] {
            Slot::None => 3600,
            _ => 60,
        };
        let nanoseconds = i64::from(self.nanosecond(cell)) * seconds;
        SignedDuration::from_nanos(nanoseconds)
    }

    /// The time of day on `date`, or the midnight that ends it.
    pub(super) fn clock_on(
        &self,
        date: Date,
        cell: &Lexed<'_>,
        half: HalfOfDay,
    ) -> Result<DateTime, Impossible> {
        match self.clock(cell, half)? {
            Clock::Time(time) => Ok(date.to_datetime(time)),
            Clock::EndOfDay => match date.tomorrow() {
                Ok(next) => Ok(next.to_datetime(Time::midnight())),
                Err(_) => Err(Impossible::OutOfRange),
            },
        }
    }
}
