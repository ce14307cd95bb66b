//! Cells whose digits say all about them: dates, times, and numbers that count.
//!
//! What all candidates make of such a cell is a code
//! ([`DigitReadings`](crate::reading::DigitReadings)). The first cell of a code is
//! tallied the slow way, and so is each that brings something new: a day of the year or
//! an hour that no cell of the code had, a day that marks empty cells. All others only
//! have to be counted, and put in time.

use super::ends::{Ends, ShortText};
use crate::evidence::column::{is_marker_day, may_be_marker};
use crate::evidence::moment::{Moment, TimeBits};
use crate::evidence::shape::ShapeEvidence;
use crate::evidence::time_steps::{Moments, Sources, TimeSteps};
use crate::evidence::{NameTally, TimesSeen};
use crate::form::Conventions;
use crate::lex::{Lexed, Lexer};
use crate::reading::{Clock, Day, DigitReadings, DigitsRead, Readings, Stamps};
use crate::stamp::Kind;

/// The cells of one layout.
#[derive(Debug)]
pub(in crate::evidence) struct DigitCells {
    readings: DigitReadings,
    /// What the digits of the last cell say.
    read: DigitsRead,
    /// Those of the same layout with other digits where no field is, by their number.
    next: Option<u16>,
    /// The index of their shape.
    shape: usize,
    /// Cells of the layout that no candidate reads may be blanks.
    has_blanks: bool,
    codes: Vec<CodeCells>,
    /// The code of the last cell.
    last: usize,
    ends: Ends,
    /// How many cells with names were counted and not yet looked at.
    named: u64,
    has_names: bool,
    example: ShortText,
}

/// The cells of one code.
#[derive(Debug)]
struct CodeCells {
    code: u32,
    tally: u16,
    /// The way in which the day is taken that counts for the days of the year.
    day: Option<u8>,
    /// The kind of what the first usual candidate reads.
    kind: Option<Kind>,
    when: When,
    /// The days of the year that were met, a bit each, by month: of times ahead of UTC
    /// or behind it, those that are the next or the last day there by themselves.
    days: [[u32; 13]; 2],
    /// The hours that were met, a bit each.
    hours: u32,
    /// The last times of day that were met, in seconds.
    times: [Option<u32>; 2],
}

/// Which moment of a cell stands in time, by the way its day is taken.
#[derive(Clone, Copy, Debug)]
enum When {
    None,
    One(u8),
    ByOrder([Option<u8>; 2]),
}

/// At most so many codes are told apart of a layout: `05.03.24` has some fifty.
const MOST_CODES: usize = 128;

/// The groups of ends of one way to take a day: of years near to our time, of others,
/// and of each of the two-digit years.
const GROUPS: usize = 102;

impl DigitCells {
    /// Those of cells that have the layout of `cell`, which is of the shape with this
    /// index; `None` where there is more to them than their digits.
    pub(in crate::evidence) fn of(
        cell: &Lexed<'_>,
        (shape, readings): (usize, &Readings),
        conventions: Conventions,
        has_blanks: bool,
    ) -> Option<DigitCells> {
        Some(DigitCells {
            readings: DigitReadings::of(readings, cell, conventions)?,
            read: DigitsRead::default(),
            next: None,
            shape,
            has_blanks,
            codes: Vec::new(),
            last: 0,
            ends: Ends::default(),
            named: 0,
            has_names: false,
            example: ShortText::of(cell.text())?,
        })
    }

    /// The index of their shape.
    pub(in crate::evidence) fn shape(&self) -> usize {
        self.shape
    }

    /// Whether `text`, which has their layout, is one of them.
    #[inline]
    pub(in crate::evidence) fn have(&self, text: &str) -> bool {
        self.readings.has_fixed_digits(text.as_bytes())
    }

    /// Whether they hold names, which are counted.
    #[inline]
    pub(in crate::evidence) fn have_names(&self) -> bool {
        self.has_names
    }

    /// Tallies a cell, if it brings nothing new; says in which tally, and the moment
    /// that it is.
    #[inline]
    pub(in crate::evidence) fn add(
        &mut self,
        text: &str,
        shape: &mut ShapeEvidence,
        in_time: &mut TimeSteps,
    ) -> Option<(u16, Moments)> {
        let read = &mut self.read;
        if !self.readings.read_into(text.as_bytes(), read) {
            return None;
        }
        let cells = find(&self.codes, &mut self.last, read.code)?;
        let tally = &mut shape.tallies[usize::from(cells.tally)];
        if !cells.knows(read, self.readings.offset(), &shape.times) || !tally.has_examples(text) {
            return None;
        }
        let time = TimeBits::of(read.clock);
        let moment = |way: usize| Some(Moment::start_of((*read.days.get(way)?)?).at(time));
        let ways = self.readings.days();
        let nanosecond = read.clock.nanosecond;
        if ways == 0 {
            let key = (Moment::start_of(Day::FIRST).at(time), nanosecond);
            self.ends.add(0, GROUPS, key, text)?;
        }
        let is_grouped = self.readings.has_short_years() || read.has_far();
        for way in 0..ways {
            let Some(at) = moment(way) else { continue };
            let group = if is_grouped {
                group_of(&self.readings, read, way, text)
            } else {
                0
            };
            self.ends
                .add(way * GROUPS + group, ways * GROUPS, (at, nanosecond), text)?;
        }
        tally.count += 1;
        self.named += 1;
        let moments = cells.when.moments(|way| moment(way.into()));
        in_time.add(moments);
        Some((cells.tally, moments))
    }

    /// Remembers that a cell was tallied, and where.
    pub(in crate::evidence) fn meet(
        &mut self,
        text: &str,
        shape: &ShapeEvidence,
        tally: u16,
        has_names: bool,
    ) {
        let Some(read) = self.readings.read(text.as_bytes()) else {
            return;
        };
        let outcome = &shape.tallies[usize::from(tally)].outcome;
        if self.has_blanks && outcome.is_unreadable() {
            return;
        }
        self.has_names |= has_names;
        let index = self.codes.iter().position(|known| known.code == read.code);
        let index = match index {
            Some(index) => index,
            None if self.codes.len() == MOST_CODES => return,
            None => {
                let usual = shape.first_usual(outcome);
                let day = usual.and_then(|index| self.readings.day_of(index));
                let way = |index: u16| match self.readings.day_of(index.into())? {
                    (day, Kind::Date | Kind::DateTime) => Some(day),
                    // Instants and times of day have no place among moments.
                    _ => None,
                };
                self.codes.push(CodeCells {
                    code: read.code,
                    tally,
                    day: day.map(|(day, _)| day),
                    kind: match (usual, day) {
                        (_, Some((_, kind))) => Some(kind),
                        (Some(index), None) if self.readings.is_clock(index) => Some(Kind::Time),
                        _ => None,
                    },
                    when: When::of(Sources::of(&shape.readings, outcome), way),
                    days: [[0; 13]; 2],
                    hours: 0,
                    times: [None; 2],
                });
                self.codes.len() - 1
            }
        };
        self.codes[index].meet(&read, self.readings.offset());
        // A day that is another one in UTC at some times of day is looked at each time,
        // and so is one that marks empty cells in some year.
        let may_mark = read.days.iter().flatten().any(|day| may_be_marker(*day));
        if self.readings.offset() == 0 && !may_mark {
            self.readings.know_days(text.as_bytes());
        }
    }

    /// Puts what is known of all cells that were tallied by their digits into the
    /// evidence.
    pub(in crate::evidence) fn hand_over(
        &mut self,
        lexer: &mut Lexer,
        shape: &mut ShapeEvidence,
        conventions: Conventions,
        names: &mut NameTally,
    ) {
        let mut stamps = Stamps::new();
        self.ends.take(|text| {
            if let Ok(cell) = lexer.lex(text) {
                shape.add_ends(&cell, conventions, &mut stamps);
            }
        });
        let named = std::mem::take(&mut self.named);
        if self.has_names
            && named > 0
            && let Ok(cell) = lexer.lex(self.example.as_str())
        {
            names.add(&cell, named);
        }
    }
}

/// The digit cells of a column.
#[derive(Debug, Default)]
pub(in crate::evidence) struct DigitCellsOfColumn(Vec<DigitCells>);

impl DigitCellsOfColumn {
    /// Those that `text` is one of, if any are, where it has the layout of those with this
    /// number.
    #[inline]
    pub(in crate::evidence) fn find(&mut self, number: u16, text: &str) -> Option<&mut DigitCells> {
        let mut number = usize::from(number);
        // Where no others have the layout, reading them says whether they have the text.
        while let Some(next) = self.0.get(number)?.next
            && !self.0[number].have(text)
        {
            number = usize::from(next);
        }
        self.0.get_mut(number)
    }

    /// Adds some, behind those of the same layout with this number; says their own
    /// number. `None` where there is no room.
    pub(in crate::evidence) fn add(
        &mut self,
        cells: DigitCells,
        behind: Option<u16>,
    ) -> Option<u16> {
        if self.0.len() == MOST_OF_COLUMN {
            return None;
        }
        let own = self.0.len() as u16;
        self.0.push(cells);
        let mut last = behind.map(usize::from);
        while let Some(next) = last.and_then(|last| self.0[last].next) {
            last = Some(next.into());
        }
        if let Some(last) = last {
            self.0[last].next = Some(own);
        }
        Some(own)
    }

    /// All of them.
    pub(in crate::evidence) fn iter_mut(&mut self) -> impl Iterator<Item = &mut DigitCells> {
        self.0.iter_mut()
    }
}

/// At most so many are kept of a column.
const MOST_OF_COLUMN: usize = 2 * super::MOST_KINDS;

/// The cells of this code, if one was met.
#[inline]
fn find<'c>(codes: &'c [CodeCells], last: &mut usize, code: u32) -> Option<&'c CodeCells> {
    match codes.get(*last) {
        Some(known) if known.code == code => Some(known),
        _ => {
            *last = codes.iter().position(|known| known.code == code)?;
            codes.get(*last)
        }
    }
}

/// The group of ends that the day of a cell by this way belongs to.
#[inline(never)]
fn group_of(readings: &DigitReadings, read: &DigitsRead, way: usize, text: &str) -> usize {
    match readings.short_year(way, text.as_bytes()) {
        Some(short) => 2 + usize::from(short),
        None => usize::from(read.is_far(way)),
    }
}

impl CodeCells {
    /// Whether all that the cell says besides its moment was met.
    #[inline]
    fn knows(&self, read: &DigitsRead, offset: i32, times: &TimesSeen) -> bool {
        let DigitsRead { clock, days, .. } = read;
        let (hour, seconds, is_other_day) = in_utc(*clock, offset);
        if !read.is_known_day
            && let Some(number) = self.day
            && let Some(Some(day)) = days.get(usize::from(number))
        {
            if is_marker_day(*day) {
                return false;
            }
            let known = &self.days[usize::from(is_other_day)];
            if known[usize::from(day.month() & 0xf)] >> day.day() & 1 == 0 {
                return false;
            }
        }
        let is_hour_met = self.hours >> hour & 1 == 1;
        match self.kind {
            Some(Kind::Time) => is_hour_met,
            Some(Kind::DateTime | Kind::Instant) => {
                let is_met = || self.times.contains(&Some(seconds)) && clock.nanosecond == 0;
                is_hour_met && (times.were_many() || is_met())
            }
            _ => true,
        }
    }

    fn meet(&mut self, read: &DigitsRead, offset: i32) {
        let DigitsRead { clock, days, .. } = read;
        let (hour, seconds, is_other_day) = in_utc(*clock, offset);
        if let Some(number) = self.day
            && let Some(Some(day)) = days.get(usize::from(number))
        {
            let known = &mut self.days[usize::from(is_other_day)];
            known[usize::from(day.month())] |= 1 << day.day();
        }
        self.hours |= 1 << hour;
        if clock.nanosecond == 0 && !self.times.contains(&Some(seconds)) {
            self.times = [Some(seconds), self.times[0]];
        }
    }
}

const SECONDS_OF_HOUR: u32 = 60 * 60;
const SECONDS_OF_DAY: i32 = 24 * 60 * 60;

/// The hour and the seconds of the day in UTC of a time so far ahead of it, and whether
/// that is another day.
#[inline(always)]
fn in_utc(clock: Clock, offset: i32) -> (u32, u32, bool) {
    let local = clock.seconds();
    if offset == 0 {
        return (clock.hour.into(), local, false);
    }
    let seconds = local as i32 - offset;
    let is_other_day = !(0..SECONDS_OF_DAY).contains(&seconds);
    let seconds = seconds.rem_euclid(SECONDS_OF_DAY).unsigned_abs();
    (seconds / SECONDS_OF_HOUR, seconds, is_other_day)
}

impl When {
    fn of(sources: Sources, way: impl Fn(u16) -> Option<u8>) -> When {
        match sources {
            Sources::None => When::None,
            Sources::One(candidate) => way(candidate).map_or(When::None, When::One),
            Sources::ByOrder(both) => When::ByOrder(both.map(|candidate| way(candidate?))),
        }
    }

    #[inline(always)]
    fn moments(self, moment: impl Fn(u8) -> Option<Moment>) -> Moments {
        match self {
            When::None => Moments::None,
            When::One(way) => moment(way).map_or(Moments::None, Moments::One),
            When::ByOrder(both) => Moments::ByOrder(both.map(|way| moment(way?))),
        }
    }
}
