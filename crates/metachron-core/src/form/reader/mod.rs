//! Readers: a form, fitted to a shape, at work on cells.

mod clock;
mod date;
mod digits;
mod plain;
mod slot;
mod zone;

pub(crate) use digits::{
    ClockDigits, CountDigits, DayDigits, DigitFields, MonthDigits, PartOfYear, Place, YearDigits,
};
pub(super) use slot::Slot;
pub(super) use zone::Offset;

use super::{
    Conventions, Count, DayMonth, Elapsed, EndOfDay, Field, FieldType, Form, HalfOfDay, Impossible,
    LeapSecond, Order,
};
use crate::calendar::Calendar;
use crate::lex::{Class, Lexed};
use crate::stamp::{Kind, Stamp};
use crate::zone::{Zone, Zones};
use clock::{Clock, Leap};
use jiff::ToSpan;
use jiff::civil::{Date, DateTime};
use plain::Plain;
use slot::Slots;

/// Reads cells of one shape as one form.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reader {
    kind: Kind,
    day_month: DayMonth,
    /// The way of forms that have nothing but a day and a time in whole tokens.
    plain: Option<Plain>,
    order: Option<Order>,
    slots: Slots,
    has_two_digit_year: bool,
    pub(super) year_number: YearNumber,
    has_twelve_hours: bool,
    leap: Leap,
    /// It is how mails are dated, in which some names of zones have one meaning.
    is_of_mail: bool,
    pub(super) offset: Offset,
    /// The name that an offset stands behind: that of UTC.
    pub(super) offset_base: Slot,
    /// What the number in these tokens counts: from the one to before the other.
    count: Option<(Count, (u8, u8))>,
    /// Whether that number is all there is.
    is_bare_number: bool,
    /// How the length of time is written, and its tokens: from the one to before
    /// the other.
    pub(super) elapsed: Option<(Elapsed, (u8, u8))>,
    /// It takes the value of a cell that its source types.
    pub(super) is_typed: bool,
    /// Tokens that must have exactly two digits, a bit each.
    pub(super) pairs: u32,
    /// Tokens that must be these words, in lower case.
    pub(super) words: Vec<(u8, String)>,
}

/// What the number of a year counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum YearNumber {
    /// The years of the calendar.
    AsWritten,
    /// The same, behind a sign (ISO 8601-1:2019 §5.2.2.3).
    Plus,
    /// Those before the year 0, behind a sign.
    Minus,
    /// Those since 1900.
    Since1900,
}

impl Reader {
    pub(super) fn for_form(form: &Form) -> Reader {
        Reader {
            kind: form.kind(),
            day_month: form.day_month,
            plain: None,
            order: form.order(),
            slots: Slots::NONE,
            has_two_digit_year: form.has_two_digit_year(),
            year_number: if form.fields().any(|field| field == Field::YearsSince1900) {
                YearNumber::Since1900
            } else {
                YearNumber::AsWritten
            },
            has_twelve_hours: form.fields().any(|field| matches!(field, Field::Hour12(_))),
            leap: Leap::Refused,
            is_of_mail: form.is_of_mail(),
            offset: Offset::None,
            offset_base: Slot::None,
            count: None,
            is_bare_number: false,
            elapsed: None,
            is_typed: false,
            pairs: 0,
            words: Vec::new(),
        }
    }

    /// Finds out how much there is to the form, once all its fields are set.
    pub(super) fn finish(mut self) -> Reader {
        const NUMBERS: [FieldType; 6] = [
            FieldType::Year,
            FieldType::Month,
            FieldType::Day,
            FieldType::Hour,
            FieldType::Minute,
            FieldType::Second,
        ];
        let slots = &self.slots;
        let is_plain = !slots.has_other_than(&NUMBERS)
            && !self.has_twelve_hours
            && self.year_number == YearNumber::AsWritten
            && self.count.is_none()
            && !self.is_typed
            && self.words.is_empty();
        let [year, month, day, hour, minute, second] = NUMBERS.map(|field_type| slots[field_type]);
        let clock = match self.kind {
            Kind::Date if is_plain => None,
            Kind::DateTime if is_plain => Some([hour, minute, second]),
            _ => return self,
        };
        self.plain = Plain::new([year, month, day], clock);
        self
    }

    pub(super) fn set(&mut self, field: Field, slot: Slot) {
        self.slots[field.field_type()] = slot;
    }

    /// Makes it read the number in `tokens` as `count`; `is_bare` if there are no
    /// others.
    pub(super) fn count(
        &mut self,
        count: Count,
        has_decimals: bool,
        tokens: (u8, u8),
        is_bare: bool,
    ) {
        self.kind = count.kind(has_decimals);
        self.count = Some((count, tokens));
        self.is_bare_number = is_bare;
    }

    /// The kind of stamp that comes out.
    pub fn kind(&self) -> Kind {
        self.kind
    }

    /// Whether it reads numbers that count time and look like any others.
    pub fn is_bare_number(&self) -> bool {
        self.is_bare_number
    }

    /// The order of day, month and year.
    pub fn order(&self) -> Option<Order> {
        self.order
    }

    /// The two digits of the year, where it has only those.
    pub fn short_year(&self, cell: &Lexed<'_>) -> Option<u8> {
        self.has_two_digit_year
            .then(|| self.year_slot().small(cell))
    }

    /// That of the year, or of the year that a week belongs to.
    #[inline]
    fn year_slot(&self) -> Slot {
        match self.slots[FieldType::Year] {
            Slot::None => self.slots[FieldType::WeekYear],
            year => year,
        }
    }

    /// Whether the year has only two digits.
    pub fn has_two_digit_year(&self) -> bool {
        self.has_two_digit_year
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
        (
            bit(self.slots[FieldType::Day]) | bit(self.slots[FieldType::Month]),
            bit(self.slots[FieldType::Hour]),
        )
    }

    /// The tokens of the month's and of the weekday's name, a bit each.
    pub(crate) fn names(&self) -> (u32, u32) {
        let bit = |slot: Slot| match slot {
            Slot::Name(token) => 1 << token,
            _ => 0,
        };
        (
            bit(self.slots[FieldType::Month]),
            bit(self.slots[FieldType::Weekday]),
        )
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
            && self.day_month == DayMonth::AsWritten
            && conventions.calendar == Calendar::Gregory
            && conventions.half_of_day == HalfOfDay::AsWritten
        {
            if let Some(stamp) = plain.read(cell, conventions.century) {
                return Ok(stamp);
            }
            if let Some(reason) = plain.no_day(cell, conventions.century) {
                return Err(reason);
            }
        }
        self.special(cell, conventions)
    }

    /// Any form whatever.
    #[inline(never)]
    fn special(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        match self.as_written(cell, conventions) {
            Err(Impossible::LeapSecond) => self.leap_second(cell, conventions),
            result => result,
        }
    }

    /// What a cell is whose second is a leap second.
    fn leap_second(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        if conventions.leap_second == LeapSecond::Reject {
            return Err(Impossible::LeapSecond);
        }
        let last = self.read_second_before_leap(cell, conventions)?;
        match conventions.leap_second {
            LeapSecond::Next => second_after(last).ok_or(Impossible::LeapSecond),
            LeapSecond::Last | LeapSecond::Reject => Ok(last),
        }
    }

    fn as_written(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Stamp, Impossible> {
        if !self.words.is_empty() {
            self.check_words(cell)?;
        }
        if let Some(token) = self.slots[FieldType::Skipped].token() {
            check_skipped(cell, token)?;
        }
        if self.is_typed {
            return self.typed(cell);
        }
        if let Some((count, (from, to))) = self.count {
            // It says what the clock showed, not when. A number that is not the offset
            // of some zone is a part of something else.
            if let Some(offset) = self.written_offset(cell)?
                && offset % QUARTER_OF_AN_HOUR != 0
            {
                return Err(Impossible::Offset);
            }
            let start = cell.tokens()[usize::from(from)].start as usize;
            let end = cell.tokens()[usize::from(to) - 1].end as usize;
            let stamp = count.read(&cell.text()[start..end])?;
            return self.in_ruled_order(stamp);
        }
        match self.kind {
            Kind::Date => Ok(Stamp::Date(self.date(cell, conventions)?)),
            Kind::Time => match self.clock(cell, conventions.half_of_day)? {
                Clock::Time(time) => Ok(Stamp::Time(time)),
                Clock::EndOfDay if conventions.end_of_day == EndOfDay::Midnight => {
                    Ok(Stamp::Time(jiff::civil::Time::midnight()))
                }
                Clock::EndOfDay => Err(Impossible::EndOfNoDay),
            },
            Kind::DateTime => Ok(Stamp::DateTime(self.datetime(cell, conventions)?)),
            Kind::Instant => {
                let local = self.datetime(cell, conventions)?;
                self.instant(cell, local, conventions)
            }
            Kind::Month | Kind::Quarter | Kind::Week | Kind::Year => {
                self.period(self.kind, cell, conventions)
            }
            Kind::Duration => match self.elapsed {
                Some((elapsed, (from, to))) => {
                    let range = from.into()..to.into();
                    let length = elapsed.read(cell, range, conventions.unit_letters);
                    length.map(Stamp::Duration)
                }
                None => Err(Impossible::NoNumber),
            },
        }
    }

    /// The offset from UTC that a cell writes as a number or as `Z`, in seconds.
    pub(crate) fn offset(&self, cell: &Lexed<'_>) -> Option<i32> {
        self.written_offset(cell).ok().flatten()
    }

    /// The instant of a cell that calls its zone by one of these names; `None`
    /// where it does not.
    pub(crate) fn read_by_name(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
        zones: &Zones,
    ) -> Option<Result<Stamp, Impossible>> {
        let zone = zones.get(self.zone_name(cell)?)?;
        Some(self.read_in_zone(cell, conventions, zone))
    }

    /// The instant of a cell whose name for its zone stands for `zone`.
    pub(crate) fn read_in_zone(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
        zone: &Zone,
    ) -> Result<Stamp, Impossible> {
        let local = self.datetime(cell, conventions)?;
        self.by_zone_name(cell, local, zone, conventions)
    }

    /// Reads a cell whose second is a leap second (60) as the second before.
    pub(crate) fn read_second_before_leap(
        &self,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let mut earlier = self.clone();
        earlier.leap = Leap::SecondBefore;
        earlier.read(cell, conventions)
    }

    fn check_words(&self, cell: &Lexed<'_>) -> Result<(), Impossible> {
        let same = |(token, word): &(u8, String)| {
            cell.token_text(usize::from(*token)).to_lowercase() == *word
        };
        if self.words.iter().all(same) {
            Ok(())
        } else {
            Err(Impossible::Literal)
        }
    }

    fn typed(&self, cell: &Lexed<'_>) -> Result<Stamp, Impossible> {
        let Some(stamp) = cell.stamp() else {
            unreachable!("only typed cells have the shape that a typed form fits")
        };
        self.in_ruled_order(stamp)
    }

    /// `stamp`, with day and month swapped where the form says so.
    fn in_ruled_order(&self, stamp: Stamp) -> Result<Stamp, Impossible> {
        match (self.day_month, stamp) {
            (DayMonth::AsWritten, _) => Ok(stamp),
            (DayMonth::Swapped, Stamp::Date(date)) => swapped_day(date).map(Stamp::Date),
            (DayMonth::Swapped, Stamp::DateTime(at)) => Ok(Stamp::DateTime(
                swapped_day(at.date())?.to_datetime(at.time()),
            )),
            (DayMonth::Swapped, _) => Err(Impossible::OutOfRange),
        }
    }

    fn date(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<Date, Impossible> {
        let written = self.written_date(cell, conventions)?;
        match self.day_month {
            DayMonth::AsWritten => Ok(written),
            DayMonth::Swapped => swapped_day(written),
        }
    }

    fn datetime(&self, cell: &Lexed<'_>, conventions: Conventions) -> Result<DateTime, Impossible> {
        let date = self.date(cell, conventions)?;
        self.clock_on(date, cell, conventions.half_of_day)
    }
}

/// The offsets of zones today are whole numbers of these seconds.
const QUARTER_OF_AN_HOUR: i32 = 15 * 60;

/// Whether text that is skipped contradicts what stands before it: an offset must be
/// that of the time, unless that is in UTC, which says nothing of the zone; numbers in
/// a comment must be numbers of the cell.
fn check_skipped(cell: &Lexed<'_>, token: u8) -> Result<(), Impossible> {
    let token = usize::from(token);
    let text = cell.token_text(token);
    let before = cell.text()[..cell.tokens()[token].start as usize].trim_end();
    let before = before.trim_end_matches(['(', '[']).trim_end();
    let is_utc = before.ends_with(['Z', 'z']);
    let mut offsets = text.split("][").filter(|tag| tag.starts_with(['+', '-']));
    if offsets.any(|offset| !is_utc && !before.ends_with(offset)) {
        return Err(Impossible::ZoneDisagrees);
    }
    let is_comment = token > 0 && cell.tokens()[token - 1].class == Class::Symbol('(');
    let numbers = |text| {
        let runs = str::split(text, |letter: char| !letter.is_ascii_digit());
        runs.map(|run| run.trim_start_matches('0'))
    };
    let is_known = |run: &str| run.is_empty() || numbers(before).any(|known| known == run);
    (!is_comment || numbers(text).all(is_known))
        .then_some(())
        .ok_or(Impossible::Literal)
}

/// The second after a stamp that is a point in time.
pub(crate) fn second_after(stamp: Stamp) -> Option<Stamp> {
    match stamp {
        Stamp::DateTime(at) => at.checked_add(1.second()).map(Stamp::DateTime).ok(),
        Stamp::Instant(at) => at.checked_add(1.second()).map(Stamp::Instant).ok(),
        _ => None,
    }
}

/// The day whose number is that of the written month, and the reverse.
fn swapped_day(written: Date) -> Result<Date, Impossible> {
    let swapped = Date::new(written.year(), written.day(), written.month());
    swapped.map_err(|_| Impossible::Month(written.day().unsigned_abs()))
}
