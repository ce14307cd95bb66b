//! Where a form takes its fields from the digits of a cell.
//!
//! Cells of one layout differ in their digits alone. So every field stands at the same
//! bytes in all of them, and what is written in letters (a month's name, a part of the
//! day) says the same.

use super::plain::{four_digits, two_digits};
use super::slot::Slot;
use super::{HalfOfDay, Offset, Reader, YearNumber};
use crate::calendar::Calendar;
use crate::form::{Century, Conventions, Count, DayMonth, Elapsed, FieldType};
use crate::lex::Lexed;
use crate::locale::{HourSpan, Meaning, month_of, span_of, weekday_of};
use crate::stamp::Kind;

/// Digits of a cell: where they begin, and how many there are.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Place {
    start: u8,
    len: u8,
}

/// What a form makes of the digits of a layout.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum DigitFields {
    /// Cells of the layout have not the digits that the form demands.
    Never,
    /// A day, a time of day, or both.
    Calendar {
        kind: Kind,
        day: Option<DayDigits>,
        /// The day is meant with its day and month swapped.
        is_swapped: bool,
        clock: Option<ClockDigits>,
        /// Seconds ahead of UTC.
        offset: i32,
    },
    /// A number that counts units since an origin.
    Count(CountDigits),
    /// A length of time that is written as a clock is. Whatever is usual on a clock, it
    /// reads.
    Elapsed(ClockDigits),
}

/// The digits of a day, month or year.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct DayDigits {
    pub year: YearDigits,
    pub part: PartOfYear,
    /// The weekday that is written, 1 (Monday) – 7.
    pub weekday: Option<u8>,
}

/// The digits of a year.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum YearDigits {
    /// All four.
    Four(Place),
    /// The last two.
    Two(Place, Century),
}

/// What is written of a year.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum PartOfYear {
    /// Nothing: the year itself is meant.
    Whole,
    /// A month.
    Month(MonthDigits),
    /// A month, and a day of it.
    Day(MonthDigits, Place),
    /// A day of the year.
    DayOfYear(Place),
}

/// The digits of a month.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum MonthDigits {
    /// Its number.
    Number(Place),
    /// None: it is written by its name.
    Name(u8),
}

/// The digits of a time of day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct ClockDigits {
    pub hour: Place,
    pub minute: Option<Place>,
    pub second: Option<Place>,
    /// The decimals of the second.
    pub fraction: Option<Place>,
    /// The part of the day that is written, on the twelve-hour clock.
    pub part_of_day: Option<HourSpan>,
}

/// The digits of a number that counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct CountDigits {
    pub kind: Kind,
    pub count: Count,
    pub whole: Place,
    pub decimals: Option<Place>,
    /// It counts to the day with its day and month swapped.
    pub is_swapped: bool,
}

impl Place {
    /// The number that these up to two digits of `text` make.
    #[inline(always)]
    pub(crate) fn small(self, text: &[u8]) -> u8 {
        let digits = text.get(usize::from(self.start)..).unwrap_or_default();
        match (self.len, digits) {
            (2, [tens, ones, ..]) => two_digits([*tens, *ones]),
            (_, [ones, ..]) => ones.wrapping_sub(b'0'),
            (_, []) => 0,
        }
    }

    /// The number that these four digits of `text` make.
    #[inline(always)]
    pub(crate) fn year(self, text: &[u8]) -> i16 {
        let digits = text.get(usize::from(self.start)..).unwrap_or_default();
        digits
            .first_chunk()
            .map_or(0, |digits| four_digits(*digits))
    }

    /// The number that these up to eighteen digits of `text` make.
    #[inline]
    pub(crate) fn long(self, text: &[u8]) -> u64 {
        let digits = text.get(self.bytes()).unwrap_or_default();
        let digits = digits.iter().map(|byte| u64::from(byte.wrapping_sub(b'0')));
        digits.fold(0, |all, digit| all * 10 + digit)
    }

    /// How many digits there are.
    pub(crate) fn len(self) -> u8 {
        self.len
    }

    /// The bytes that they stand at.
    pub(crate) fn bytes(self) -> std::ops::Range<usize> {
        let start = usize::from(self.start);
        start..start + usize::from(self.len)
    }

    fn of_token(token: u8, cell: &Lexed<'_>) -> Option<Place> {
        Slot::Digits(token).place(cell)
    }

    fn up_to(self, most: u8) -> Option<Place> {
        (self.len <= most).then_some(self)
    }
}

impl Slot {
    /// The digits that stand in this slot.
    fn place(self, cell: &Lexed<'_>) -> Option<Place> {
        let (token, from, len) = match self {
            Slot::None | Slot::Name(_) => return None,
            Slot::Digits(token) => (token, 0, None),
            Slot::Part { token, from, len } => (token, from, Some(len)),
        };
        let token = cell.tokens().get(usize::from(token))?;
        let start = u8::try_from(token.start).ok()?.checked_add(from)?;
        let len = match len {
            Some(len) => len,
            None => u8::try_from(token.len()).ok()?,
        };
        let digits = (cell.text().as_bytes())
            .get(usize::from(start)..usize::from(start) + usize::from(len))?;
        let are_digits = len > 0 && digits.iter().all(u8::is_ascii_digit);
        are_digits.then_some(Place { start, len })
    }
}

impl DigitFields {
    /// Where all their digits stand.
    pub(crate) fn places(&self) -> Vec<Place> {
        let of_clock = |clock: &ClockDigits| {
            let places = [Some(clock.hour), clock.minute, clock.second, clock.fraction];
            places.into_iter().flatten()
        };
        match self {
            DigitFields::Never => Vec::new(),
            DigitFields::Elapsed(clock) => of_clock(clock).collect(),
            DigitFields::Count(count) => [Some(count.whole), count.decimals]
                .into_iter()
                .flatten()
                .collect(),
            DigitFields::Calendar { day, clock, .. } => {
                let day = day.iter().flat_map(DayDigits::places);
                day.chain(clock.iter().flat_map(of_clock)).collect()
            }
        }
    }
}

impl DayDigits {
    fn places(&self) -> Vec<Place> {
        let month = |month: MonthDigits| match month {
            MonthDigits::Number(place) => Some(place),
            MonthDigits::Name(_) => None,
        };
        let year = match self.year {
            YearDigits::Four(place) | YearDigits::Two(place, _) => place,
        };
        let (month, day) = match self.part {
            PartOfYear::Whole => (None, None),
            PartOfYear::Month(digits) => (month(digits), None),
            PartOfYear::Day(digits, day) => (month(digits), Some(day)),
            PartOfYear::DayOfYear(day) => (None, Some(day)),
        };
        [Some(year), month, day].into_iter().flatten().collect()
    }
}

/// Longer numbers, such as Unix nanoseconds, go the slow way: with room to compute they
/// do not fit into 64 bits.
const MOST_DIGITS: u8 = 18;

impl Reader {
    /// What it makes of the digits of cells that have the layout of `cell`, which it
    /// was fitted to; `None` where more than their digits tells them apart, or
    /// something else than digits has to be computed with.
    pub(crate) fn digit_fields(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Option<DigitFields> {
        let has_other = [
            FieldType::Era,
            FieldType::Quarter,
            FieldType::Week,
            FieldType::WeekYear,
            FieldType::Skipped,
            FieldType::ZoneId,
            FieldType::ZoneName,
        ]
        .into_iter()
        .any(|field| self.slots[field] != Slot::None);
        let is_usual = conventions.calendar == Calendar::Gregory
            && conventions.half_of_day == HalfOfDay::AsWritten
            && self.year_number == YearNumber::AsWritten
            && !self.is_typed
            && !has_other;
        if !is_usual {
            return None;
        }
        if self.pairs & !cell.marks().pairs != 0 {
            return Some(DigitFields::Never);
        }
        let has_digits = |token: u8| {
            let text = cell.token_text(usize::from(token));
            text.bytes().any(|byte| byte.is_ascii_digit())
        };
        if self.words.iter().any(|(token, _)| has_digits(*token)) {
            return None;
        }
        if let Some((count, tokens)) = self.count {
            return self
                .count_digits(count, tokens, cell)
                .map(DigitFields::Count);
        }
        if let Some((elapsed, tokens)) = self.elapsed {
            return elapsed_clock(elapsed, tokens, cell).map(DigitFields::Elapsed);
        }
        let offset = match self.offset {
            Offset::None => 0,
            _ => self.written_offset(cell).ok()??,
        };
        Some(DigitFields::Calendar {
            kind: self.kind,
            day: match self.kind {
                Kind::Time => None,
                _ => Some(self.day_digits(cell, conventions.century)?),
            },
            is_swapped: self.day_month == DayMonth::Swapped,
            clock: match self.kind {
                Kind::Time | Kind::DateTime | Kind::Instant => Some(self.clock_digits(cell)?),
                _ => None,
            },
            offset,
        })
    }

    fn day_digits(&self, cell: &Lexed<'_>, century: Century) -> Option<DayDigits> {
        let place = |field: FieldType| self.slots[field].place(cell);
        let year = place(FieldType::Year)?;
        let year = match year.len {
            2 if self.has_two_digit_year => YearDigits::Two(year, century),
            4 if !self.has_two_digit_year => YearDigits::Four(year),
            _ => return None,
        };
        let month = || match self.slots[FieldType::Month] {
            Slot::Name(token) => {
                let month = month_of(cell.tokens().get(usize::from(token))?.value);
                (1..=12)
                    .contains(&month)
                    .then_some(MonthDigits::Name(month))
            }
            _ => place(FieldType::Month)?.up_to(2).map(MonthDigits::Number),
        };
        let part = match self.kind {
            Kind::Year => PartOfYear::Whole,
            Kind::Month => PartOfYear::Month(month()?),
            Kind::Date | Kind::DateTime | Kind::Instant => match place(FieldType::DayOfYear) {
                Some(day) => PartOfYear::DayOfYear(day),
                None => PartOfYear::Day(month()?, place(FieldType::Day)?.up_to(2)?),
            },
            _ => return None,
        };
        let weekday = match self.slots[FieldType::Weekday] {
            Slot::None => None,
            Slot::Name(token) => {
                match weekday_of(cell.tokens().get(usize::from(token))?.value) {
                    // Where languages differ about it, it says nothing.
                    Meaning::DIFFERS => None,
                    weekday => Some(weekday),
                }
            }
            _ => return None,
        };
        Some(DayDigits {
            year,
            part,
            weekday,
        })
    }

    fn clock_digits(&self, cell: &Lexed<'_>) -> Option<ClockDigits> {
        let small = |field: FieldType| match self.slots[field] {
            Slot::None => Some(None),
            slot => slot.place(cell)?.up_to(2).map(Some),
        };
        let second = small(FieldType::Second)?;
        let fraction = match self.slots[FieldType::Fraction] {
            Slot::None => None,
            // Decimals of a minute or an hour are computed with.
            _ if second.is_none() => return None,
            slot => Some(slot.place(cell)?.up_to(9)?),
        };
        let part_of_day = match self.slots[FieldType::DayPeriod].token() {
            None if self.has_twelve_hours => return None,
            None => None,
            // A part of the day on the clock of 24 hours says nothing.
            Some(_) if !self.has_twelve_hours => None,
            Some(token) => Some(span_of(cell.tokens().get(usize::from(token))?.value)?),
        };
        Some(ClockDigits {
            hour: small(FieldType::Hour)??,
            minute: small(FieldType::Minute)?,
            second,
            fraction,
            part_of_day,
        })
    }

    fn count_digits(
        &self,
        count: Count,
        (from, to): (u8, u8),
        cell: &Lexed<'_>,
    ) -> Option<CountDigits> {
        let tokens = cell.tokens().get(usize::from(from)..usize::from(to))?;
        let whole = Place::of_token(from, cell)?;
        let decimals = match tokens {
            [_] => None,
            // A comma before three digits may part thousands.
            [_, sign, _] if cell.text().as_bytes().get(sign.start as usize) == Some(&b'.') => {
                Some(Place::of_token(from + 2, cell)?)
            }
            _ => return None,
        };
        let digits = whole.len + decimals.map_or(0, |decimals| decimals.len);
        let is_usual = self.is_bare_number && digits <= MOST_DIGITS;
        is_usual.then_some(CountDigits {
            kind: self.kind,
            count,
            whole,
            decimals,
            is_swapped: self.day_month == DayMonth::Swapped,
        })
    }
}

/// The digits of a length of time that is written as a clock is.
fn elapsed_clock(elapsed: Elapsed, (from, to): (u8, u8), cell: &Lexed<'_>) -> Option<ClockDigits> {
    let tokens = to.checked_sub(from)?;
    let small = |token: u8| Place::of_token(from + token, cell)?.up_to(2);
    let fits = matches!(
        (elapsed, tokens),
        (Elapsed::HourMinuteSecond, 5) | (Elapsed::HourMinute | Elapsed::MinuteSecond, 3)
    );
    Some(ClockDigits {
        hour: small(0).filter(|_| fits)?,
        minute: Some(small(2)?),
        second: match tokens {
            5 => Some(small(4)?),
            _ => None,
        },
        fraction: None,
        part_of_day: None,
    })
}
