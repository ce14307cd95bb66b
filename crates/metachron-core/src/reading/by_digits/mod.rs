//! What the candidates of a shape make of cells that differ in their digits alone.
//!
//! All cells of a layout have the same letters and signs at the same bytes. So each
//! candidate takes its fields from the same places, and whether it reads a cell hangs on
//! the numbers there: is the month at most 12, does the month have that day? The answers
//! for all candidates, with which of them agree, make a [`DigitsRead::code`]. Cells of
//! the same code have the same [`Outcome`](super::Outcome) and the same hint: what was
//! found out about one of them, the slow way, holds for all.
//!
//! What is unusual (hour 24, second 60, the first counts of a calendar) has no code, and
//! always goes the slow way.

mod count;
mod day;
mod pair;

pub(crate) use day::Day;

use super::far::FarYears;
use super::{Candidate, Readings};
use crate::form::{ClockDigits, Conventions, DayDigits, DigitFields, Place};
use crate::lex::{Lexed, Signature};
use crate::stamp::{Kind, Stamp};
use count::{CountedFrom, Step};
use jiff::Timestamp;
use jiff::civil::{Date, Time};
use jiff::tz::Offset;
use pair::Pairs;

/// The candidates of a shape, at work on the cells of one layout.
#[derive(Clone, Debug)]
pub(crate) struct DigitReadings {
    /// The different days that the digits make.
    written: Vec<DayOf>,
    /// The different ways in which candidates take them.
    days: Vec<DayReading>,
    clock: ClockSource,
    /// Seconds ahead of UTC.
    offset: i32,
    /// Some candidate reads points in time.
    has_instants: bool,
    /// Some way takes a year of two digits.
    has_short_years: bool,
    /// What each candidate makes of it.
    sources: Vec<Source>,
    /// Digits that belong to no field, by the bytes they stand at: they are the same in
    /// all cells.
    fixed: Vec<(u8, u8)>,
    /// Where all days are made of one pair of numbers: the codes of the pairs.
    pairs: Option<Pairs>,
}

/// A way of taking a day from the digits.
#[derive(Clone, Copy, Debug, PartialEq)]
struct DayReading {
    /// Which of the days that are written.
    written: u8,
    /// With its day and month swapped.
    is_swapped: bool,
    far: FarYears,
}

#[derive(Clone, Copy, Debug, PartialEq)]
enum DayOf {
    Digits(DayDigits),
    Count(CountedFrom),
}

/// Where the time of day comes from.
#[derive(Clone, Copy, Debug, PartialEq)]
enum ClockSource {
    None,
    Digits(ClockDigits),
    /// The number, which counts in these steps.
    Count(Step),
}

/// What a candidate makes of a cell.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Source {
    /// Nothing: it demands other digits.
    Never,
    /// A day, by its number among the ways, or a time on it.
    Day(u8, Kind),
    /// The time of day.
    Clock,
    /// A length of time.
    Elapsed,
}

/// At most so many ways of taking a day are told apart: `05.03.24` has six.
pub(crate) const MOST_DAYS: usize = 6;

/// What the digits of a cell say.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct DigitsRead {
    /// Which ways read the cell, which of their days are far from our time, which are the
    /// same, and whether it is midnight.
    pub code: u32,
    /// What [`DigitReadings::know_days`] was told of holds for this cell.
    pub is_known_day: bool,
    /// The day by each of the ways; what is behind them says nothing.
    pub days: [Option<Day>; MOST_DAYS],
    /// The time of day.
    pub clock: Clock,
}

impl DigitsRead {
    /// Whether some day is far from our time.
    #[inline(always)]
    pub(crate) fn has_far(&self) -> bool {
        self.code & FAR != 0
    }

    /// Whether the day by way `number` is far from our time.
    #[inline(always)]
    pub(crate) fn is_far(&self, number: usize) -> bool {
        self.code >> (2 * number) & 2 != 0
    }
}

/// A time of day.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Clock {
    pub hour: u8,
    pub minute: u8,
    pub second: u8,
    pub nanosecond: u32,
}

impl Clock {
    /// Seconds since midnight.
    #[inline(always)]
    pub(crate) fn seconds(self) -> u32 {
        (u32::from(self.hour) * 60 + u32::from(self.minute)) * 60 + u32::from(self.second)
    }

    fn time(self) -> Option<Time> {
        let [hour, minute, second] = [self.hour, self.minute, self.second].map(|part| part as i8);
        Time::new(hour, minute, second, self.nanosecond as i32).ok()
    }
}

/// The bits of days far from our time in a code.
const FAR: u32 = 0b1010_1010_1010;

/// The bit of midnight in a code.
const MIDNIGHT: u32 = 1 << 31;

impl DigitReadings {
    /// Those of cells that have the layout of `cell`, which is of the shape of
    /// `readings`; `None` where some candidate needs to know more than their digits.
    pub(crate) fn of(
        readings: &Readings,
        cell: &Lexed<'_>,
        conventions: Conventions,
    ) -> Option<DigitReadings> {
        let is_short = cell.text().len() <= Signature::LONGEST;
        let is_any = !readings.candidates().is_empty();
        if readings.leave_choice(conventions) || !is_any || !is_short {
            return None;
        }
        let mut own = DigitReadings {
            written: Vec::new(),
            days: Vec::new(),
            clock: ClockSource::None,
            offset: 0,
            has_instants: false,
            has_short_years: false,
            sources: Vec::new(),
            fixed: Vec::new(),
            pairs: None,
        };
        // Which digits no candidate leaves to another field than one of its own.
        let mut free = [true; Signature::LONGEST];
        let (mut clocks, mut offsets) = (Vec::new(), Vec::new());
        for candidate in readings.candidates() {
            let fields = candidate.reader.digit_fields(cell, conventions)?;
            let source = match fields {
                DigitFields::Never => Source::Never,
                DigitFields::Elapsed(clock) => {
                    clocks.push(ClockSource::Digits(clock));
                    Source::Elapsed
                }
                DigitFields::Count(digits) => {
                    let counted = CountedFrom::of(digits)?;
                    clocks.push(match digits.kind {
                        Kind::Date => ClockSource::None,
                        _ => ClockSource::Count(counted.step()),
                    });
                    let day = own.day(DayOf::Count(counted), digits.is_swapped, candidate)?;
                    Source::Day(day, digits.kind)
                }
                DigitFields::Calendar {
                    kind,
                    day,
                    is_swapped,
                    clock,
                    offset,
                } => {
                    clocks.push(clock.map_or(ClockSource::None, ClockSource::Digits));
                    if kind == Kind::Instant {
                        offsets.push(offset);
                    }
                    match day {
                        Some(digits) => {
                            let day = own.day(DayOf::Digits(digits), is_swapped, candidate)?;
                            Source::Day(day, kind)
                        }
                        None => Source::Clock,
                    }
                }
            };
            own.has_instants |= matches!(source, Source::Day(_, Kind::Instant));
            own.sources.push(source);
            if fields != DigitFields::Never {
                let mut is_own = [false; Signature::LONGEST];
                for place in fields.places() {
                    is_own.get_mut(place.bytes())?.fill(true);
                }
                free.iter_mut()
                    .zip(is_own)
                    .for_each(|(free, own)| *free &= own);
            }
        }
        // One time of day for all, and one offset: then the same day is the same stamp.
        own.clock = alike(&clocks, ClockSource::None)?;
        own.offset = alike(&offsets, 0)?;
        for ((at, byte), free) in cell.text().bytes().enumerate().zip(free) {
            if byte.is_ascii_digit() && !free {
                own.fixed.push((u8::try_from(at).ok()?, byte));
            }
        }
        own.has_short_years = own.written.iter().any(|of| match of {
            DayOf::Digits(day) => day.short_year().is_some(),
            DayOf::Count(_) => false,
        });
        own.pairs = Pairs::of(&own);
        Some(own)
    }

    /// The number of a way of taking a day.
    fn day(&mut self, of: DayOf, is_swapped: bool, candidate: &Candidate) -> Option<u8> {
        let day = DayReading {
            written: number_among(&mut self.written, of)?,
            is_swapped,
            far: candidate.far_years,
        };
        number_among(&mut self.days, day)
    }

    /// Seconds ahead of UTC that the times are.
    #[inline(always)]
    pub(crate) fn offset(&self) -> i32 {
        self.offset
    }

    /// Whether the digits of `text` that belong to no field are those of this layout.
    #[inline(always)]
    pub(crate) fn has_fixed_digits(&self, text: &[u8]) -> bool {
        let is_fixed = |(at, byte): &(u8, u8)| text.get(usize::from(*at)) == Some(byte);
        self.fixed.iter().all(is_fixed)
    }

    /// Whether some way takes a year of two digits.
    #[inline(always)]
    pub(crate) fn has_short_years(&self) -> bool {
        self.has_short_years
    }

    /// How many ways of taking a day there are.
    #[inline(always)]
    pub(crate) fn days(&self) -> usize {
        self.days.len().min(MOST_DAYS)
    }

    /// The way in which the candidate at `index` takes a day, and the kind of its
    /// stamps.
    pub(crate) fn day_of(&self, index: usize) -> Option<(u8, Kind)> {
        match self.sources.get(index)? {
            Source::Day(day, kind) => Some((*day, *kind)),
            _ => None,
        }
    }

    /// Whether the candidate at `index` reads a time of day by itself.
    pub(crate) fn is_clock(&self, index: usize) -> bool {
        self.sources.get(index) == Some(&Source::Clock)
    }

    /// Whether the cells have a time of day.
    #[inline(always)]
    fn has_clock(&self) -> bool {
        !matches!(self.clock, ClockSource::None)
    }

    /// The two digits of the year that way `number` has no more of.
    #[inline(always)]
    pub(crate) fn short_year(&self, number: usize, text: &[u8]) -> Option<u8> {
        let written = self.days.get(number)?.written;
        match self.written.get(usize::from(written))? {
            DayOf::Digits(day) => Some(day.short_year()?.small(text)),
            DayOf::Count(_) => None,
        }
    }

    /// What the digits of `text` say, which has the letters and signs of this layout;
    /// `None` where something about them is unusual.
    #[inline]
    pub(crate) fn read(&mut self, text: &[u8]) -> Option<DigitsRead> {
        let mut read = DigitsRead::default();
        self.read_into(text, &mut read).then_some(read)
    }

    /// The same, into what the caller uses again; says whether nothing is unusual.
    #[inline(always)]
    pub(crate) fn read_into(&mut self, text: &[u8], read: &mut DigitsRead) -> bool {
        if !self.has_fixed_digits(text) {
            return false;
        }
        read.clock = match &self.clock {
            ClockSource::Digits(digits) => match clock(digits, text) {
                Some(clock) => clock,
                None => return false,
            },
            ClockSource::None | ClockSource::Count(_) => Clock::default(),
        };
        if let Some(pairs) = &self.pairs
            && pairs.read(text, read).is_some()
        {
            return true;
        }
        self.read_days(text, read).is_some()
    }

    /// The same of a cell whose time of day is known, unless it comes from the number
    /// that counts.
    #[inline(never)]
    fn read_days(&mut self, text: &[u8], read: &mut DigitsRead) -> Option<()> {
        let mut written = [None; MOST_DAYS];
        for (written, of) in written.iter_mut().zip(&self.written) {
            *written = match of {
                DayOf::Digits(own) => own.day(text),
                DayOf::Count(count) => {
                    let (day, at) = count.read(text)?;
                    if self.has_clock() {
                        read.clock = at;
                    }
                    Some(day)
                }
            };
        }
        read.code = 0;
        read.is_known_day = false;
        for (number, reading) in self.days.iter().enumerate().take(MOST_DAYS) {
            let written = written.get(usize::from(reading.written)).copied().flatten();
            let day = if reading.is_swapped {
                written.and_then(Day::swapped)
            } else {
                written
            };
            read.days[number] = day;
            let Some(day) = day else { continue };
            if self.has_instants && self.is_unusual_in_utc(day) {
                return None;
            }
            let is_far = reading.far.has(day.year(), || day.is_about_1970());
            read.code |= (1 + u32::from(is_far)) << (2 * number);
        }
        if self.days.len() > 1 {
            read.code |= self.equal_days(&read.days) << (2 * MOST_DAYS);
        }
        if self.has_clock() && read.clock == Clock::default() {
            read.code |= MIDNIGHT;
        }
        if let Some(pairs) = &mut self.pairs {
            pairs.learn(text, read);
        }
        Some(())
    }

    /// Remembers that day and month of `text` bring nothing new, whatever the year: cells
    /// that have both say so from now on, where nothing else is unusual about them.
    pub(crate) fn know_days(&mut self, text: &[u8]) {
        if let Some(pairs) = &mut self.pairs {
            pairs.know_days(text);
        }
    }

    /// Whether the year of `day` may be another one in UTC, or end before points in time
    /// do.
    #[inline]
    fn is_unusual_in_utc(&self, day: Day) -> bool {
        day.year() == 9999 || self.offset != 0 && day.is_at_turn_of_year()
    }

    /// Which of the days are the same, a bit for each pair.
    #[inline]
    fn equal_days(&self, days: &[Option<Day>; MOST_DAYS]) -> u32 {
        let (mut bits, mut bit) = (0, 1);
        for (number, day) in days.iter().enumerate().take(self.days()) {
            for other in &days[..number] {
                if day.is_some() && day == other {
                    bits |= bit;
                }
                bit <<= 1;
            }
        }
        bits
    }

    /// The stamp that the candidate at `index` reads a cell as, which says `read`;
    /// `None` where it reads nothing, or a length of time.
    #[inline(always)]
    pub(crate) fn stamp(&self, index: usize, read: &DigitsRead) -> Option<Stamp> {
        match *self.sources.get(index)? {
            Source::Day(day, kind) => {
                let day = (*read.days.get(usize::from(day))?)?;
                self.stamp_on(day, kind, read.clock)
            }
            Source::Clock => read.clock.time().map(Stamp::Time),
            Source::Never | Source::Elapsed => None,
        }
    }

    #[inline(always)]
    fn stamp_on(&self, day: Day, kind: Kind, clock: Clock) -> Option<Stamp> {
        let date = || Date::new(day.year(), day.month() as i8, day.day() as i8).ok();
        Some(match kind {
            Kind::Date => Stamp::Date(date()?),
            Kind::DateTime => Stamp::DateTime(date()?.to_datetime(clock.time()?)),
            Kind::Instant => {
                let local = date()?.to_datetime(clock.time()?);
                Stamp::Instant(instant(local, self.offset)?)
            }
            Kind::Month => Stamp::Month(day.year(), day.month()),
            Kind::Year => Stamp::Year(day.year()),
            _ => return None,
        })
    }
}

fn instant(local: jiff::civil::DateTime, offset: i32) -> Option<Timestamp> {
    let offset = Offset::from_seconds(offset).ok()?;
    offset.to_timestamp(local).ok()
}

/// The one that all are, or `default` where there are none; `None` where they differ.
fn alike<T: Copy + PartialEq>(all: &[T], default: T) -> Option<T> {
    let first = all.first().copied().unwrap_or(default);
    all.iter().all(|own| *own == first).then_some(first)
}

/// The index of `own` among `all`, where it is put unless it is there; `None` where they
/// become too many.
fn number_among<T: Copy + PartialEq>(all: &mut Vec<T>, own: T) -> Option<u8> {
    let known = all.iter().position(|known| *known == own);
    let number = known.unwrap_or(all.len());
    if known.is_none() {
        all.push(own);
    }
    (number < MOST_DAYS).then_some(number as u8)
}

/// The number in `place`; 0 where there is none.
#[inline(always)]
fn small(place: Option<Place>, text: &[u8]) -> u8 {
    match place {
        Some(place) => place.small(text),
        None => 0,
    }
}

/// The time of day that these digits of `text` make; `None` where it is no usual one.
#[inline(always)]
fn clock(digits: &ClockDigits, text: &[u8]) -> Option<Clock> {
    let mut hour = digits.hour.small(text);
    if let Some(part) = digits.part_of_day {
        if hour > 12 {
            return None;
        }
        hour = part.hour(hour)?;
    }
    let (minute, second) = (small(digits.minute, text), small(digits.second, text));
    if hour > 23 || minute > 59 || second > 59 {
        return None;
    }
    let nanosecond = match digits.fraction {
        None => 0,
        Some(place) => {
            let more = 9_u32.checked_sub(u32::from(place.len()))?;
            (place.long(text) * 10_u64.pow(more)) as u32
        }
    };
    Some(Clock {
        hour,
        minute,
        second,
        nanosecond,
    })
}

#[cfg(test)]
mod tests;
