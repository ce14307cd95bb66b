//! The tally of the cells of one shape in one column.

use super::column::{is_marker, reserve_first};
use super::{DaysSeen, Example, OffsetsSeen, TimesSeen, ZoneNameTally};
use crate::form::{Century, Conventions, Field, Impossible, RowFacts};
use crate::lex::{Class, Lexed, Marks};
use crate::reading::{Candidate, Outcome, Readings, Stamps};
use crate::stamp::Stamp;
use jiff::ToSpan;
use jiff::civil::Time;
use jiff::tz::Offset;
use std::collections::BTreeMap;
use std::sync::Arc;

/// The cells of one shape.
#[derive(Clone, Debug)]
pub struct ShapeEvidence {
    /// The forms that could have written the shape, which the tallies of all
    /// parts share.
    pub readings: Arc<Readings>,
    /// The cells, by what the forms make of them, in order of appearance.
    pub tallies: Vec<Tally>,
    /// How the readable cells are written.
    pub writing: Writing,
    /// The stamps that each candidate reads, by its index.
    pub spans: Vec<Span>,
    /// What usual candidates read in years far from our time, which is in no
    /// span.
    pub far: Span,
    /// The hours of times of day, with or without a date, that are written without a
    /// half of the day, a bit each.
    pub hours: u32,
    /// The hours of times in digits alone behind a date, a bit each: those of
    /// `20240305_1430`, which may be no time.
    pub hours_in_digits: u32,
    /// The days of the year that the first usual candidate reads.
    pub days: DaysSeen,
    /// The days that the second usual one reads where the first does not.
    pub other_days: DaysSeen,
    /// The times of day of points in time: those of instants in UTC.
    pub times: TimesSeen,
    /// The abbreviations of zones that several offsets go by.
    pub zone_names: ZoneNameTally,
    /// The offsets from UTC that are written next to them.
    pub offsets: OffsetsSeen,
    /// Whether a month or weekday is written by name.
    pub(crate) has_names: bool,
    /// Whether a time in digits alone stands behind the date.
    has_time_in_digits: bool,
    /// The tokens of a year and of the two digits behind it, where the shape
    /// has nothing else.
    season: Option<(usize, usize)>,
}

/// Cells that the candidates read alike.
#[derive(Clone, Debug, PartialEq)]
pub struct Tally {
    /// What the candidates make of each of them.
    pub outcome: Outcome,
    /// What else they show.
    pub hint: Hint,
    /// How many there are.
    pub count: u64,
    /// The first of them.
    pub first: Example,
    /// The first with another text.
    pub second: Option<Example>,
}

/// What a cell shows beyond its stamp, as far as a column's kind hangs on it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Hint {
    /// A day and midnight.
    Midnight,
    /// What is no single instant, of which a ruling chose one.
    ByChoice,
    /// An hour past 24, which makes the cell unreadable as a time of day.
    Past24,
    /// A year and the two digits of the next: `2008-09`, which may be the
    /// season of both.
    Season,
    /// The 29th of February, of no year: there is none in most.
    LeapDay,
    /// A year so far from our time that it may be one of another calendar, or a
    /// number that counts to such a year.
    FarYear,
    /// The same in a form that is rare: it counts where that is the form that is ruled.
    FarYearIfRare,
    /// Anything else.
    Plain,
}

/// The hint of a cell that was read as `stamps`, one of which is far from our time.
pub(crate) fn far_year(readings: &Readings, stamps: &Stamps) -> Option<Hint> {
    let mut hint = None;
    for (candidate, stamp) in readings.candidates().iter().zip(stamps) {
        if stamp.is_ok_and(|stamp| candidate.is_far_from_us(stamp)) {
            if !candidate.is_rare() {
                return Some(Hint::FarYear);
            }
            hint = Some(Hint::FarYearIfRare);
        }
    }
    hint
}

/// Whether the days that a candidate reads are kept. Numbers that count days are
/// usual nowhere, and have days all the same.
fn has_days(candidate: &Candidate) -> bool {
    candidate.usual || candidate.reader.is_bare_number() && !candidate.form.is_swapped()
}

/// How numbers and names are written throughout, a bit per token.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Writing {
    /// Numbers that have two digits in every cell.
    pub always_pairs: u32,
    /// Names that are written in full in some cell.
    pub ever_wide: u32,
}

/// The stamps that one candidate reads.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Span {
    /// The earliest, marker dates left out.
    pub earliest: Option<Stamp>,
    /// The latest, marker dates left out.
    pub latest: Option<Stamp>,
    /// The two-digit years there are, each with the earliest and the latest
    /// stamp in it, read as 20yy. Stamps with two-digit years are not in
    /// `earliest` and `latest`, which wait for no century.
    pub short_years: BTreeMap<u8, (Stamp, Stamp)>,
}

impl Default for Writing {
    fn default() -> Self {
        Writing {
            always_pairs: u32::MAX,
            ever_wide: 0,
        }
    }
}

impl Writing {
    pub(super) fn add(&mut self, marks: Marks) {
        self.always_pairs &= marks.pairs;
        self.ever_wide |= marks.wide;
    }

    fn merge(&mut self, other: Writing) {
        self.always_pairs &= other.always_pairs;
        self.ever_wide |= other.ever_wide;
    }
}

impl Span {
    fn add(&mut self, stamp: Stamp) {
        self.earliest = Some(self.earliest.map_or(stamp, |known| known.min(stamp)));
        self.latest = Some(self.latest.map_or(stamp, |known| known.max(stamp)));
    }

    fn add_short(&mut self, year: u8, stamp: Stamp) {
        let (earliest, latest) = self.short_years.entry(year).or_insert((stamp, stamp));
        *earliest = stamp.min(*earliest);
        *latest = stamp.max(*latest);
    }

    /// Takes the stamps of `other` in.
    pub fn merge(&mut self, other: &Span) {
        for stamp in [other.earliest, other.latest].into_iter().flatten() {
            self.add(stamp);
        }
        for (&year, &(earliest, latest)) in &other.short_years {
            self.add_short(year, earliest);
            self.add_short(year, latest);
        }
    }

    /// The earliest and the latest stamp, two-digit years placed in
    /// `century`.
    pub fn bounds(&self, century: Century) -> (Option<Stamp>, Option<Stamp>) {
        let mut all = Span {
            earliest: self.earliest,
            latest: self.latest,
            ..Span::default()
        };
        if let Century::Window(_) = century {
            for (&year, &(earliest, latest)) in &self.short_years {
                all.add(earliest.in_year(century.year(year)));
                all.add(latest.in_year(century.year(year)));
            }
        }
        (all.earliest, all.latest)
    }
}

/// What a clock shows that no zone is known of.
fn clock_of(stamp: Stamp) -> Option<Time> {
    match stamp {
        Stamp::Time(time) => Some(time),
        Stamp::DateTime(at) => Some(at.time()),
        _ => None,
    }
}

impl PartialEq for ShapeEvidence {
    fn eq(&self, other: &Self) -> bool {
        // The readings follow from the shape.
        self.readings.shape() == other.readings.shape()
            && self.tallies == other.tallies
            && self.writing == other.writing
            && self.spans == other.spans
            && self.days == other.days
            && self.other_days == other.other_days
            && self.times == other.times
            && self.offsets == other.offsets
            && self.zone_names == other.zone_names
    }
}

/// What became of one cell.
#[derive(Clone, Copy, Debug)]
pub(super) struct Added {
    /// The index of its tally.
    pub tally: usize,
    /// The day that the first usual candidate reads.
    pub day: Option<jiff::civil::Date>,
}

impl Tally {
    /// Whether a cell with `text` only has to be counted: the examples are
    /// there.
    #[inline]
    pub(super) fn has_examples(&self, text: &str) -> bool {
        self.second.is_some() || self.count > 0 && self.first.text == text
    }
}

impl ShapeEvidence {
    pub(super) fn new(readings: Arc<Readings>) -> ShapeEvidence {
        ShapeEvidence {
            tallies: Vec::new(),
            writing: Writing::default(),
            days: DaysSeen::default(),
            times: TimesSeen::default(),
            zone_names: ZoneNameTally::default(),
            offsets: OffsetsSeen::default(),
            other_days: DaysSeen::default(),
            spans: vec![Span::default(); readings.candidates().len()],
            far: Span::default(),
            hours: 0,
            hours_in_digits: 0,
            has_names: readings.candidates().iter().any(|candidate| {
                let names = |field| matches!(field, Field::MonthName(_) | Field::Weekday(_));
                candidate.form.fields().any(names)
            }),
            has_time_in_digits: readings
                .candidates()
                .iter()
                .any(|candidate| candidate.form.has_time_in_digits()),
            season: match readings.shape().classes() {
                [Class::Digits(4), Class::Symbol('-' | '/'), Class::Short] => Some((0, 2)),
                [
                    Class::Digits(4),
                    Class::Space,
                    Class::Symbol('-' | '/'),
                    Class::Space,
                    Class::Short,
                ] => Some((0, 4)),
                _ => None,
            },
            readings,
        }
    }

    /// The days that the candidate at `index` reads, if it is the first or the
    /// second usual one.
    pub(crate) fn days_read_by(&self, index: usize) -> Option<DaysSeen> {
        let candidates = self.readings.candidates().iter().enumerate();
        let mut usual = candidates.filter(|(_, candidate)| has_days(candidate));
        if usual.next()?.0 == index {
            return Some(self.days);
        }
        (usual.next()?.0 == index).then(|| {
            let mut days = self.days.swapped();
            days.merge(&self.other_days);
            days
        })
    }

    /// How many cells have this shape.
    pub fn cells(&self) -> u64 {
        self.tallies.iter().map(|tally| tally.count).sum()
    }

    /// How many of them `test` holds for.
    pub fn count(&self, test: impl Fn(&Tally) -> bool) -> u64 {
        let counted = self.tallies.iter().filter(|tally| test(tally));
        counted.map(|tally| tally.count).sum()
    }

    /// The first two different texts of each tally.
    pub(crate) fn texts(&self) -> impl Iterator<Item = &str> {
        let tallies = self.tallies.iter();
        let kept = tallies.flat_map(|tally| std::iter::once(&tally.first).chain(&tally.second));
        kept.map(|example| example.text.as_str())
    }

    pub(super) fn add(
        &mut self,
        cell: &Lexed<'_>,
        (conventions, row_facts): (Conventions, RowFacts),
        row: u64,
        stamps: &mut Stamps,
    ) -> Added {
        let outcome = self
            .readings
            .read(cell, conventions.in_row(row_facts), stamps);
        if !outcome.is_unreadable() {
            self.writing.add(cell.marks());
        }
        self.add_spans(cell, &outcome, stamps);
        let usual = self.readings.candidates().iter().zip(stamps.iter());
        let mut usual = usual.filter(|(candidate, _)| has_days(candidate));
        let first_read = usual.clone().find(|(_, stamp)| stamp.is_ok());
        if let Some((candidate, &Ok(stamp))) = first_read
            && let Some(time) = clock_of(stamp)
            && !candidate
                .form
                .fields()
                .any(|field| matches!(field, Field::DayPeriod))
        {
            self.hours |= 1 << time.hour();
        }
        let is_first = usual.clone().next().is_some_and(|(_, stamp)| stamp.is_ok());
        let first_usual = usual.find_map(|(_, stamp)| stamp.ok());
        if let Some(day) = first_usual.and_then(|stamp| stamp.date()) {
            if is_first {
                self.days.add(day)
            } else {
                self.other_days.add(day)
            }
        }
        if let Some(stamp) = first_usual {
            self.add_clock(cell, stamp);
        }
        if let Some(Stamp::DateTime(at)) = first_usual
            && self.has_time_in_digits
        {
            self.hours_in_digits |= 1 << at.hour();
        }
        let conventions = conventions.in_row(row_facts);
        let far = far_year(&self.readings, stamps);
        let hint = match (first_usual, stamps[0]) {
            _ if self.readings.is_by_choice(cell, conventions, stamps) => Hint::ByChoice,
            _ if far == Some(Hint::FarYear) => Hint::FarYear,
            (Some(Stamp::DateTime(at)), _) if at.time() == Time::midnight() => Hint::Midnight,
            (None, Err(Impossible::Hour(24..))) => Hint::Past24,
            _ if self.is_season(cell) => Hint::Season,
            (None, Err(Impossible::NoYear)) if self.is_leap_day(cell) => Hint::LeapDay,
            _ => far.unwrap_or(Hint::Plain),
        };
        let known = |tally: &Tally| tally.hint == hint && tally.outcome == outcome;
        let tally = match self.tallies.iter().position(known) {
            Some(index) => {
                let tally = &mut self.tallies[index];
                tally.count += 1;
                if tally.count == 1 {
                    tally.first = Example::of(row, cell, row_facts);
                } else if tally.second.is_none() && tally.first.text != cell.text() {
                    tally.second = Some(Example::of(row, cell, row_facts));
                }
                index
            }
            None => {
                reserve_first(&mut self.tallies);
                self.tallies.push(Tally {
                    outcome,
                    hint,
                    count: 1,
                    first: Example::of(row, cell, row_facts),
                    second: None,
                });
                self.tallies.len() - 1
            }
        };
        Added {
            tally,
            day: first_usual.and_then(|stamp| stamp.date()),
        }
    }

    /// Whether a cell that differs from another in its digits alone may show something
    /// else than its stamps: the season of two years.
    pub(super) fn has_hints_in_digits(&self) -> bool {
        self.season.is_some()
    }

    /// The first candidate whose days are kept that reads cells of this outcome.
    pub(super) fn first_usual(&self, outcome: &Outcome) -> Option<usize> {
        let mut candidates = self.readings.candidates().iter().enumerate();
        let first = candidates.find(|(index, own)| has_days(own) && outcome.reads(*index));
        first.map(|(index, _)| index)
    }

    /// Takes in what the candidates read a cell as which was counted: it is the first or
    /// the last.
    pub(super) fn add_ends(
        &mut self,
        cell: &Lexed<'_>,
        conventions: Conventions,
        stamps: &mut Stamps,
    ) {
        let outcome = self.readings.read(cell, conventions, stamps);
        self.add_spans(cell, &outcome, stamps);
    }

    fn add_clock(&mut self, cell: &Lexed<'_>, stamp: Stamp) {
        let at = match stamp {
            Stamp::DateTime(at) => at,
            Stamp::Instant(at) => Offset::UTC.to_datetime(at),
            _ => return,
        };
        let time = at.time();
        match time.subsec_nanosecond() {
            0 => {
                let parts = [time.hour(), time.minute(), time.second()];
                self.times.add(parts.map(i8::unsigned_abs));
            }
            _ => self.times.add_with_fraction(time.hour().unsigned_abs()),
        }
        let mut readers = self
            .readings
            .candidates()
            .iter()
            .map(|candidate| &candidate.reader);
        let offset = readers.find_map(|reader| reader.offset(cell));
        if let Some(offset) = offset
            && let Ok(local) = at.checked_add(offset.seconds())
        {
            self.offsets.add(offset, local);
        }
    }

    /// Whether `cell`, which has no year, is the 29th of February.
    fn is_leap_day(&self, cell: &Lexed<'_>) -> bool {
        let in_leap_year = Conventions {
            year: Some(2000),
            ..Conventions::default()
        };
        let stamp = self.readings.candidates()[0]
            .reader
            .read(cell, in_leap_year);
        let day = stamp.ok().and_then(|stamp| stamp.date());
        day.is_some_and(|day| (day.month(), day.day()) == (2, 29))
    }

    /// Whether `cell` is a year and the two digits of the next.
    fn is_season(&self, cell: &Lexed<'_>) -> bool {
        let number = |token| cell.token_text(token).parse::<u32>().ok();
        let Some((year, next)) = self.season else {
            return false;
        };
        let digits = cell.token_text(next).len();
        match (number(year), number(next)) {
            (Some(year), Some(next)) => digits == 2 && (year + 1) % 100 == next,
            _ => false,
        }
    }

    fn add_spans(&mut self, cell: &Lexed<'_>, outcome: &Outcome, stamps: &Stamps) {
        let candidates = self.readings.candidates();
        for (index, (span, candidate)) in self.spans.iter_mut().zip(candidates).enumerate() {
            let Ok(stamp) = stamps[index] else { continue };
            debug_assert!(outcome.reads(index));
            match candidate.reader.short_year(cell) {
                Some(short) => span.add_short(short, stamp),
                // One number that is no date hides none of the others.
                None if candidate.is_far_from_us(stamp) && candidate.usual => {
                    self.far.add(stamp);
                }
                None if candidate.is_far_from_us(stamp) => {}
                None if !stamp.date().is_some_and(is_marker) => span.add(stamp),
                None => {}
            }
        }
    }

    /// Hands out what was tallied since this was called last, if there was
    /// anything. Spans, days and how cells are written stay: to take them in
    /// again changes nothing.
    pub(super) fn take(&mut self) -> Option<ShapeEvidence> {
        self.tallies.iter().find(|tally| tally.count > 0)?;
        let zone_names = std::mem::take(&mut self.zone_names);
        let mut taken = ShapeEvidence {
            zone_names,
            ..self.clone()
        };
        taken.tallies.retain(|tally| tally.count > 0);
        taken.tallies.sort_by_key(|tally| tally.first.row);
        for tally in &mut self.tallies {
            tally.count = 0;
            tally.second = None;
        }
        Some(taken)
    }

    /// The row of its first cell, where there is one.
    pub(super) fn first_row(&self) -> Option<u64> {
        self.tallies.iter().map(|tally| tally.first.row).min()
    }

    pub(super) fn merge(&mut self, later: ShapeEvidence, by: u64) {
        self.writing.merge(later.writing);
        self.far.merge(&later.far);
        self.hours |= later.hours;
        self.hours_in_digits |= later.hours_in_digits;
        self.days.merge(&later.days);
        self.other_days.merge(&later.other_days);
        self.times.merge(&later.times);
        self.offsets.merge(&later.offsets);
        self.zone_names.merge(later.zone_names, by);
        for (span, more) in self.spans.iter_mut().zip(later.spans) {
            span.merge(&more);
        }
        for tally in later.tallies {
            let same =
                |known: &&mut Tally| known.outcome == tally.outcome && known.hint == tally.hint;
            match self.tallies.iter_mut().find(same) {
                Some(known) => {
                    known.count += tally.count;
                    if known.second.is_none() {
                        let others = [Some(tally.first), tally.second].into_iter().flatten();
                        let mut others = others.filter(|other| other.text != known.first.text);
                        known.second = others.next().map(|other| other.moved(by));
                    }
                }
                None => {
                    reserve_first(&mut self.tallies);
                    self.tallies.push(Tally {
                        first: tally.first.moved(by),
                        second: tally.second.map(|second| second.moved(by)),
                        ..tally
                    });
                }
            }
        }
    }
}
