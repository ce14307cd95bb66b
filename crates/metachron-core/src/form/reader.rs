//! Readers: a form, fitted to a shape, at work on cells.

use super::plain::Plain;
use super::slot::Slot;
use super::{Century, Conventions, Count, Elapsed, Field, Form, Impossible, Order};
use crate::calendar::{Calendar, ERAS, Month};
use crate::lex::Lexed;
use crate::locale::{Meaning, era_of, month_of, span_of, weekday_of};
use crate::stamp::{Kind, Stamp};
use crate::zone::{self, Local};
use jiff::civil::{Date, DateTime, ISOWeekDate, Time, Weekday};

/// Reads cells of one shape as one form.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reader {
    kind: Kind,
    /// The way of forms that have nothing but a day and a time in whole tokens.
    plain: Option<Plain>,
    order: Option<Order>,
    two_digit_year: bool,
    twelve_hours: bool,
    year: Slot,
    month: Slot,
    day: Slot,
    weekday: Slot,
    hour: Slot,
    minute: Slot,
    second: Slot,
    fraction: Slot,
    day_period: Slot,
    era: Slot,
    /// The quarter, the week or the day of the year.
    part: Slot,
    /// The number of the weekday.
    weekday_number: Slot,
    pub(super) offset: Offset,
    zone_name: Slot,
    zone_id: Slot,
    /// What the number from this token on counts.
    count: Option<(Count, u8)>,
    /// How the length of time is written.
    pub(super) elapsed: Option<Elapsed>,
    /// Tokens that must have exactly two digits, a bit each.
    pub(super) pairs: u32,
    /// Tokens that must be these words, in lower case.
    pub(super) words: Vec<(u8, String)>,
    leap: Leap,
}

/// What is made of a second numbered 60.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Leap {
    /// Nothing: it needs a rule.
    Refused,
    /// The second before it.
    SecondBefore,
}

/// The offset from UTC.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Offset {
    None,
    Zero,
    Plus(Slot, Slot),
    Minus(Slot, Slot),
}

impl Reader {
    pub(super) fn for_form(form: &Form) -> Reader {
        Reader {
            kind: form.kind(),
            plain: None,
            order: form.order(),
            two_digit_year: form.has_two_digit_year(),
            twelve_hours: form.fields().any(|field| matches!(field, Field::Hour12(_))),
            year: Slot::None,
            month: Slot::None,
            day: Slot::None,
            weekday: Slot::None,
            hour: Slot::None,
            minute: Slot::None,
            second: Slot::None,
            fraction: Slot::None,
            day_period: Slot::None,
            era: Slot::None,
            part: Slot::None,
            weekday_number: Slot::None,
            offset: Offset::None,
            zone_name: Slot::None,
            zone_id: Slot::None,
            count: None,
            elapsed: None,
            pairs: 0,
            words: Vec::new(),
            leap: Leap::Refused,
        }
    }

    /// Finds out how much there is to the form, once all its fields are set.
    pub(super) fn finish(mut self) -> Reader {
        let more = [
            self.weekday,
            self.era,
            self.part,
            self.day_period,
            self.weekday_number,
            self.fraction,
        ];
        let only_numbers = more.iter().all(|slot| *slot == Slot::None)
            && self.count.is_none()
            && self.words.is_empty();
        let clock = match self.kind {
            Kind::Date if only_numbers => None,
            Kind::DateTime if only_numbers => Some([self.hour, self.minute, self.second]),
            _ => return self,
        };
        self.plain = Plain::new([self.year, self.month, self.day], clock);
        self
    }

    pub(super) fn set(&mut self, field: Field, slot: Slot) {
        match field {
            Field::Year | Field::YearFree | Field::YearOfTwo | Field::WeekYear => self.year = slot,
            Field::Quarter | Field::Week(_) | Field::DayOfYear(_) => self.part = slot,
            Field::WeekdayNumber => self.weekday_number = slot,
            Field::Month(_) | Field::MonthName(_) => self.month = slot,
            Field::Day(_) => self.day = slot,
            Field::Weekday(_) => self.weekday = slot,
            Field::Hour(_) | Field::Hour12(_) => self.hour = slot,
            Field::Minute(_) => self.minute = slot,
            Field::Second(_) => self.second = slot,
            Field::Fraction(_) => self.fraction = slot,
            Field::DayPeriod | Field::FlexiblePeriod => self.day_period = slot,
            Field::Era(_) => self.era = slot,
            Field::ZoneName => self.zone_name = slot,
            Field::ZoneId => self.zone_id = slot,
            Field::Offset(_) | Field::Count(_) | Field::Elapsed(_) => {}
        }
    }

    /// Makes it read a number, from token `from` to the end, as `count`.
    pub(super) fn count(&mut self, count: Count, has_decimals: bool, from: u8) {
        self.kind = count.kind(has_decimals);
        self.count = Some((count, from));
    }

    /// The kind of stamp that comes out.
    pub fn kind(&self) -> Kind {
        self.kind
    }

    /// Whether it reads numbers that count time.
    pub fn is_count(&self) -> bool {
        self.count.is_some()
    }

    /// The order of day, month and year.
    pub fn order(&self) -> Option<Order> {
        self.order
    }

    /// The two digits of the year, where it has only those.
    pub fn short_year(&self, cell: &Lexed<'_>) -> Option<u8> {
        self.two_digit_year.then(|| self.year.small(cell))
    }

    /// Whether the year has only two digits.
    pub fn has_two_digit_year(&self) -> bool {
        self.two_digit_year
    }

    /// Whether `other` reads the same tokens as the same fields, whatever
    /// widths it demands.
    pub fn reads_alike(&self, other: &Reader) -> bool {
        let bare = |reader: &Reader| Reader {
            pairs: 0,
            ..reader.clone()
        };
        bare(self) == bare(other)
    }

    /// Whether some digits that this reader demands are not demanded by
    /// `other`, which reads alike.
    pub(crate) fn demands_more_than(&self, other: &Reader) -> bool {
        self.pairs & !other.pairs != 0
    }

    /// The tokens of day and month, where they are numbers, a bit each; then
    /// that of the hour.
    pub(crate) fn free_numbers(&self) -> (u32, u32) {
        let bit = |slot: Slot| match slot {
            Slot::Digits(token) => 1 << token,
            _ => 0,
        };
        (bit(self.day) | bit(self.month), bit(self.hour))
    }

    /// The tokens of the month's and of the weekday's name, a bit each.
    pub(crate) fn names(&self) -> (u32, u32) {
        let bit = |slot: Slot| match slot {
            Slot::Name(token) => 1 << token,
            _ => 0,
        };
        (bit(self.month), bit(self.weekday))
    }

    /// Reads `cell`, which must be of the shape that this reader was fitted
    /// to.
    ///
    /// # Errors
    ///
    /// Where the calendar or the clock has no such value; see [`Impossible`].
    #[inline]
    pub fn read(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        if self.pairs & !cell.marks().pairs != 0 {
            return Err(Impossible::Width);
        }
        if let Some(plain) = &self.plain
            && conventions.calendar == Calendar::Gregory
            && let Some(stamp) = plain.read(cell, conventions.century)
        {
            return Ok(stamp);
        }
        self.special(cell, conventions)
    }

    /// Any form whatever.
    #[inline(never)]
    fn special(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        if !self.words.is_empty() {
            self.check_words(cell)?;
        }
        if let Some((count, from)) = self.count {
            let start = cell.tokens()[usize::from(from)].start as usize;
            let end = cell
                .tokens()
                .last()
                .map_or(start, |token| token.end as usize);
            return count.read(&cell.text()[start..end]);
        }
        match self.kind {
            Kind::Date => Ok(Stamp::Date(self.date(cell, conventions)?)),
            Kind::Time => match self.time(cell)? {
                Clock::Time(time) => Ok(Stamp::Time(time)),
                Clock::EndOfDay => Err(Impossible::EndOfNoDay),
            },
            Kind::DateTime => Ok(Stamp::DateTime(self.datetime(cell, conventions)?)),
            Kind::Instant => self.instant(cell, conventions),
            Kind::Month | Kind::Quarter | Kind::Week | Kind::Year => {
                self.stretch(cell, conventions)
            }
            Kind::Duration => match self.elapsed {
                Some(elapsed) => elapsed.read(cell).map(Stamp::Duration),
                None => Err(Impossible::NoNumber),
            },
        }
    }

    /// Reads a cell whose second is a leap second (60) as the second before.
    pub(crate) fn read_second_before_leap(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let earlier = Reader {
            leap: Leap::SecondBefore,
            ..self.clone()
        };
        earlier.read(cell, conventions)
    }

    fn check_words(&self, cell: &Lexed<'_>) -> Result<(), Impossible> {
        let same = |(token, word): &(u8, String)| {
            cell.token_text(usize::from(*token)).to_lowercase() == *word
        };
        match self.words.iter().all(same) {
            true => Ok(()),
            false => Err(Impossible::Literal),
        }
    }

    /// A month, quarter, week or year.
    fn stretch(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        let part = self.part.small(cell);
        if conventions.calendar != Calendar::Gregory {
            return Err(Impossible::NoSuchStretch);
        }
        let year = self.plain_year(cell, conventions)?;
        match self.kind {
            Kind::Month => match self.month_number(cell) {
                month @ 1..=12 => Ok(Stamp::Month(year, month)),
                month => Err(no_month(month)),
            },
            Kind::Quarter => match part {
                1..=4 => Ok(Stamp::Quarter(year, part)),
                _ => Err(Impossible::Quarter(part)),
            },
            Kind::Week => match ISOWeekDate::new(year, part as i8, Weekday::Monday) {
                Ok(_) => Ok(Stamp::Week(year, part)),
                Err(_) => Err(Impossible::Week { week: part, year }),
            },
            _ => Ok(Stamp::Year(year)),
        }
    }

    /// The year, or the one that is ruled for dates without.
    #[inline]
    fn plain_year(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<i16, Impossible> {
        match (self.two_digit_year, self.year) {
            (true, year) => Ok(conventions.century.year(year.small(cell))),
            (false, Slot::None) => conventions.year.ok_or(Impossible::NoYear),
            (false, year) => Ok(year.value(cell) as i16),
        }
    }

    #[inline]
    fn month_number(&self, cell: &Lexed<'_>) -> u8 {
        match self.month {
            Slot::Name(token) => month_of(cell.tokens()[usize::from(token)].value),
            number => number.small(cell),
        }
    }

    /// A date by the day of its year, or by its week.
    fn date_by_part(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Date, Impossible> {
        let part = self.part.value(cell) as u16;
        let year = self.plain_year(cell, conventions)?;
        let number = self.weekday_number.small(cell);
        let number = match self.weekday {
            Slot::Name(token) => weekday_of(cell.tokens()[usize::from(token)].value),
            _ => number,
        };
        if self.weekday == Slot::None && self.weekday_number == Slot::None {
            let first = Date::new(year, 1, 1).map_err(|_| Impossible::OutOfRange)?;
            return match part {
                1.. if part <= first.days_in_year().unsigned_abs() => first
                    .checked_add(jiff::Span::new().days(i64::from(part) - 1))
                    .map_err(|_| Impossible::OutOfRange),
                _ => Err(Impossible::DayOfYear { day: part, year }),
            };
        }
        let weekday = Weekday::from_monday_one_offset(number as i8)
            .map_err(|_| Impossible::WeekdayNumber(number))?;
        let week = part as u8;
        ISOWeekDate::new(year, week as i8, weekday)
            .map(ISOWeekDate::date)
            .map_err(|_| Impossible::Week { week, year })
    }

    #[inline]
    fn date(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Date, Impossible> {
        if self.part != Slot::None {
            return self.date_by_part(cell, conventions);
        }
        let month = self.month_number(cell);
        let day = self.day.small(cell);
        if conventions.calendar != Calendar::Gregory || self.era != Slot::None {
            let date = self.date_elsewhere(cell, conventions, month, day)?;
            self.check_weekday(cell, date, conventions.century)?;
            return Ok(date);
        }
        if self.year == Slot::None && conventions.year.is_none() {
            return Err(self.no_year(month, day));
        }
        let year = self.plain_year(cell, conventions)?;
        if !(1..=12).contains(&month) {
            return Err(no_month(month));
        }
        let Ok(date) = Date::new(year, month as i8, day as i8) else {
            return Err(Impossible::Day { day, month, year });
        };
        if self.weekday != Slot::None {
            self.check_weekday(cell, date, conventions.century)?;
        }
        Ok(date)
    }

    /// Why a date without a year is none: it waits for one, if any year has
    /// such a day.
    fn no_year(&self, month: u8, day: u8) -> Impossible {
        match Date::new(2000, month as i8, day as i8) {
            Ok(_) => Impossible::NoYear,
            Err(_) if !(1..=12).contains(&month) => no_month(month),
            Err(_) => Impossible::Day {
                day,
                month,
                year: 2000,
            },
        }
    }

    /// The date in another calendar, or in the era that the cell names.
    #[cold]
    fn date_elsewhere(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
        month: u8,
        day: u8,
    ) -> Result<Date, Impossible> {
        let ruled = conventions.calendar;
        if month == Meaning::DIFFERS {
            return Err(Impossible::NameDiffers);
        }
        let numbered = match self.month {
            Slot::Name(_) => Month::Named(month),
            _ => Month::Number(month),
        };
        let year = self.year.value(cell) as i32;
        let no_day = |calendar| Impossible::DayOf {
            calendar,
            day,
            month,
            year,
        };
        let era = match self.era {
            Slot::Name(token) => Some(era_of(cell.tokens()[usize::from(token)].value)),
            _ => None,
        };
        let Some(era) = era else {
            if self.two_digit_year {
                return self.short_year_elsewhere(conventions, numbered, day, year);
            }
            return ruled.date(year, numbered, day).ok_or(no_day(ruled));
        };
        let Some(era) = ERAS.get(usize::from(era).wrapping_sub(1)) else {
            return Err(Impossible::NameDiffers);
        };
        let calendar = match ruled.shares_era_with(era.calendar) {
            true => ruled,
            // A year of the Hijra is a day's question: four calendars count it.
            false if era.calendar == Calendar::IslamicCivil => {
                return Err(Impossible::WhichCalendar);
            }
            false => era.calendar,
        };
        calendar
            .date_in_era(era.code, year, numbered, day)
            .ok_or(no_day(calendar))
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

    /// The hour of the day, by the part of the day that is written.
    fn hour_of_day(&self, cell: &Lexed<'_>, hour: u8) -> Result<u8, Impossible> {
        let Some(token) = self.day_period.token() else {
            return Err(Impossible::Hour(hour));
        };
        match span_of(cell.tokens()[usize::from(token)].value) {
            None => Err(Impossible::NameDiffers),
            Some(span) => span.hour(hour).ok_or(Impossible::NotThen { hour }),
        }
    }

    fn check_weekday(
        &self,
        cell: &Lexed<'_>,
        date: Date,
        century: Century,
    ) -> Result<(), Impossible> {
        let Slot::Name(token) = self.weekday else {
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
        let open = self.two_digit_year && century == Century::Open;
        let other = Date::new(date.year() - 100, date.month(), date.day());
        if agrees(date) || open && other.is_ok_and(agrees) {
            return Ok(());
        }
        Err(Impossible::Weekday { written, date })
    }

    #[inline]
    fn time(&self, cell: &Lexed<'_>) -> Result<Clock, Impossible> {
        if self.hour == Slot::None {
            return self.named_moment(cell);
        }
        let mut hour = self.hour.small(cell);
        let (minute, mut second) = (self.minute.small(cell), self.second.small(cell));
        if self.twelve_hours {
            if !(1..=12).contains(&hour) {
                return Err(Impossible::Hour(hour));
            }
            hour = self.hour_of_day(cell, hour)?;
        }
        let nanosecond = self.nanosecond(cell);
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
        if hour == 24 && minute == 0 && second == 0 && nanosecond == 0 {
            return Ok(Clock::EndOfDay);
        }
        Time::new(hour as i8, minute as i8, second as i8, nanosecond)
            .map(Clock::Time)
            .map_err(|_| Impossible::Hour(hour))
    }

    /// Noon or midnight, in a word.
    fn named_moment(&self, cell: &Lexed<'_>) -> Result<Clock, Impossible> {
        let span = self
            .day_period
            .token()
            .and_then(|token| span_of(cell.tokens()[usize::from(token)].value));
        match span {
            Some(span) if span.from == span.before => Time::new(span.from as i8 % 24, 0, 0, 0)
                .map(Clock::Time)
                .map_err(|_| Impossible::Hour(span.from)),
            _ => Err(Impossible::NoMoment),
        }
    }

    /// The fraction of the second; digits past the ninth are cut, never
    /// rounded, so that no value moves into the next second.
    fn nanosecond(&self, cell: &Lexed<'_>) -> i32 {
        let Some(token) = self.fraction.token() else {
            return 0;
        };
        let token = &cell.tokens()[usize::from(token)];
        let digits = &cell.text().as_bytes()[token.start as usize..token.end as usize];
        (0..9).fold(0, |value, place| {
            value * 10 + i32::from(digits.get(place).map_or(0, |digit| digit - b'0'))
        })
    }

    fn datetime(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<DateTime, Impossible> {
        let date = self.date(cell, conventions)?;
        self.end_of_day(date, cell)
    }

    /// The time of day on `date`, or the midnight that ends it.
    fn end_of_day(&self, date: Date, cell: &Lexed<'_>) -> Result<DateTime, Impossible> {
        match self.time(cell)? {
            Clock::Time(time) => Ok(date.to_datetime(time)),
            Clock::EndOfDay => match date.tomorrow() {
                Ok(next) => Ok(next.to_datetime(Time::midnight())),
                Err(_) => Err(Impossible::OutOfRange),
            },
        }
    }

    fn instant(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        let local = self.datetime(cell, conventions)?;
        let named = self.named_offset(cell)?;
        let Some(offset) = self.written_offset(cell)?.or(named.flatten()) else {
            if named.is_some() {
                return Err(Impossible::WhichZone);
            }
            return self.in_zone(cell, local);
        };
        if named.flatten().is_some_and(|named| named != offset) {
            return Err(Impossible::ZoneDisagrees);
        }
        let at = jiff::tz::Offset::from_seconds(offset)
            .and_then(|offset| offset.to_timestamp(local))
            .map_err(|_| Impossible::OutOfRange)?;
        // `Z` says nothing of the zone's own offset (RFC 9557 §2.2).
        if let Some(id) = self.zone_id.token()
            && self.offset != Offset::Zero
        {
            let there = zone::offset_at(cell.token_text(id.into()), at);
            if there.ok_or(Impossible::NoSuchZone)? != offset {
                return Err(Impossible::ZoneDisagrees);
            }
        }
        Ok(Stamp::Instant(at))
    }

    /// The offset from UTC that is written as a number or `Z`, in seconds.
    fn written_offset(&self, cell: &Lexed<'_>) -> Result<Option<i32>, Impossible> {
        let (sign, hours, minutes) = match self.offset {
            Offset::None => return Ok(None),
            Offset::Zero => return Ok(Some(0)),
            Offset::Plus(hours, minutes) => (1, hours.small(cell), minutes.small(cell)),
            Offset::Minus(hours, minutes) => (-1, hours.small(cell), minutes.small(cell)),
        };
        // No zone has ever been 18 hours or more from UTC.
        if minutes > 59 || hours >= 18 {
            return Err(Impossible::Offset);
        }
        Ok(Some(
            sign * (i32::from(hours) * 60 + i32::from(minutes)) * 60,
        ))
    }

    /// The offset that an abbreviation stands for; `Some(None)` where that is
    /// not said.
    fn named_offset(&self, cell: &Lexed<'_>) -> Result<Option<Option<i32>>, Impossible> {
        let Some(token) = self.zone_name.token() else {
            return Ok(None);
        };
        let name = cell.token_text(token.into()).trim_end_matches('.');
        let offset = zone::abbreviation(&name.to_uppercase());
        offset.ok_or(Impossible::NoSuchZone).map(Some)
    }

    /// The instant that `local` is in the zone of the cell.
    fn in_zone(&self, cell: &Lexed<'_>, local: DateTime) -> Result<Stamp, Impossible> {
        let token = self.zone_id.token().ok_or(Impossible::NoSuchZone)?;
        match zone::local(cell.token_text(token.into()), local) {
            Some(Local::Once(at)) => Ok(Stamp::Instant(at)),
            Some(Local::Never) => Err(Impossible::NeverThere),
            Some(Local::Twice) => Err(Impossible::TwiceThere),
            Some(Local::OutOfRange) => Err(Impossible::OutOfRange),
            None => Err(Impossible::NoSuchZone),
        }
    }
}

pub(super) fn no_month(month: u8) -> Impossible {
    match month {
        Meaning::DIFFERS => Impossible::NameDiffers,
        _ => Impossible::Month(month),
    }
}

/// What a clock shows.
enum Clock {
    Time(Time),
    /// `24:00`: the midnight that ends the day (ISO 8601-1:2019 §5.3.1.1).
    EndOfDay,
}
