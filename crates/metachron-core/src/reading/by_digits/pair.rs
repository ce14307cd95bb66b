//! Days that are all made of one pair of numbers: `31/12/2024`, `5 March 2024`.
//!
//! Whatever the year, the pair alone says which candidates read the cell. Most cells of
//! most tables are such.

use super::{Clock, Day, DayOf, DigitReadings, DigitsRead, MIDNIGHT, MOST_DAYS};
use crate::form::{MonthDigits, Place};

/// The codes of the pairs that were met.
#[derive(Clone, Debug)]
pub(super) struct Pairs {
    year: Place,
    pair: [MonthDigits; 2],
    /// Whether the second number is the month, by the way the day is taken.
    is_second_month: [bool; MOST_DAYS],
    ways: usize,
    has_clock: bool,
    /// By the pair; 0 where it was not met.
    codes: Vec<u32>,
}

/// Numbers of a pair are below this.
const MOST: usize = 32;

/// A bit of the codes that were met.
const IS_MET: u32 = 1 << 30;

/// A bit of the codes of pairs whose days bring nothing new.
const IS_KNOWN: u32 = 1 << 29;

/// In these years no candidate has a year far from our time.
const NEAR_YEARS: std::ops::Range<i16> = 1500..2400;

impl Pairs {
    /// Those of `readings`, if all of their days are made so.
    pub(super) fn of(readings: &DigitReadings) -> Option<Pairs> {
        let pair = |of: &DayOf| match of {
            DayOf::Digits(day) => day.pair(),
            DayOf::Count(_) => None,
        };
        let (year, [one, other]) = pair(readings.written.first()?)?;
        let mut is_second_month = [false; MOST_DAYS];
        for (is_second, reading) in is_second_month.iter_mut().zip(&readings.days) {
            let own = pair(readings.written.get(usize::from(reading.written))?)?;
            let is_turned = if own == (year, [one, other]) {
                false
            } else if own == (year, [other, one]) {
                true
            } else {
                return None;
            };
            *is_second = is_turned != reading.is_swapped;
        }
        Some(Pairs {
            year,
            pair: [one, other],
            is_second_month,
            ways: readings.days(),
            has_clock: readings.has_clock(),
            codes: Vec::new(),
        })
    }

    /// The pair of a cell.
    #[inline(always)]
    fn numbers(&self, text: &[u8]) -> (u8, u8) {
        let [one, other] = &self.pair;
        (one.number(text), other.number(text))
    }

    /// Reads a cell whose pair was met; says whether it was. `read.clock` is known.
    #[inline(always)]
    pub(super) fn read(&self, text: &[u8], read: &mut DigitsRead) -> Option<()> {
        let (one, other) = self.numbers(text);
        let code = *self.codes.get(index_of(one, other)?)?;
        let year = self.year.year(text);
        let is_midnight = self.has_clock && read.clock == Clock::default();
        if code == 0 || is_midnight || !NEAR_YEARS.contains(&year) {
            return None;
        }
        let of_way = [Day::new(year, one, other), Day::new(year, other, one)];
        read.code = code & !(IS_MET | IS_KNOWN);
        read.is_known_day = code & IS_KNOWN != 0;
        for way in 0..self.ways.min(MOST_DAYS) {
            let day = of_way[usize::from(self.is_second_month[way])];
            read.days[way] = (code >> (2 * way) & 1 != 0).then_some(day);
        }
        Some(())
    }

    /// Remembers that the days of a cell brought nothing new, if its pair was met.
    pub(super) fn know_days(&mut self, text: &[u8]) {
        let (one, other) = self.numbers(text);
        let code = index_of(one, other).and_then(|index| self.codes.get_mut(index));
        if let Some(code) = code.filter(|code| **code != 0) {
            *code |= IS_KNOWN;
        }
    }

    /// Remembers what a cell says.
    pub(super) fn learn(&mut self, text: &[u8], read: &DigitsRead) {
        let (one, other) = self.numbers(text);
        let is_near = NEAR_YEARS.contains(&self.year.year(text));
        // 29 February is not in every year.
        let may_be_leap = matches!((one, other), (2, 29) | (29, 2));
        let is_usual = is_near && !may_be_leap && read.code & MIDNIGHT == 0;
        if let Some(index) = index_of(one, other).filter(|_| is_usual) {
            if self.codes.is_empty() {
                self.codes = vec![0; MOST * MOST];
            }
            self.codes[index] = read.code | IS_MET;
        }
    }
}

#[inline(always)]
fn index_of(one: u8, other: u8) -> Option<usize> {
    let (one, other) = (usize::from(one), usize::from(other));
    (one < MOST && other < MOST).then_some(one * MOST + other)
}
