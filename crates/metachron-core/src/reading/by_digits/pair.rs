//! Days that are all made of one pair of numbers: `31/12/2024`, `5 March 2024`.
//!
//! Whatever the year, the pair alone says which candidates read the cell. Most cells of
//! most tables are such.

use super::day::{MonthNumber, year_of};
use super::slots::{Index, Numbers};
use super::{Clock, Day, DayOf, DigitReadings, DigitsRead, MIDNIGHT, MOST_DAYS};

/// The codes of the pairs that were met.
#[derive(Clone, Debug)]
pub(super) struct Pairs {
    year: [Index; 2],
    pair: [MonthNumber; 2],
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

/// In these years no candidate has a year far from our time.
const NEAR_YEARS: std::ops::Range<i16> = 1500..2400;

impl Pairs {
    /// Those of `readings`, if all of their days are made so.
    pub(super) fn of(readings: &DigitReadings) -> Option<Pairs> {
        let pair = |of: &DayOf| match of {
            DayOf::Numbers(day) => day.pair(),
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

    /// Reads a cell whose pair was met; says whether it was. `read.clock` is known.
    #[inline(always)]
    pub(super) fn read(&self, numbers: Numbers<'_>, read: &mut DigitsRead) -> Option<()> {
        let [one, other] = self.pair.map(|number| number.number(numbers));
        let code = *self.codes.get(index_of(one, other)?)?;
        let year = year_of(self.year, numbers);
        let is_midnight = self.has_clock && read.clock == Clock::default();
        if code == 0 || is_midnight || !NEAR_YEARS.contains(&year) {
            return None;
        }
        let of_way = [Day::new(year, one, other), Day::new(year, other, one)];
        read.code = code & !IS_MET;
        for way in 0..self.ways.min(MOST_DAYS) {
            let day = of_way[usize::from(self.is_second_month[way])];
            read.days[way] = (code >> (2 * way) & 1 != 0).then_some(day);
        }
        Some(())
    }

    /// Remembers what a cell says.
    pub(super) fn learn(&mut self, numbers: Numbers<'_>, read: &DigitsRead) {
        let [one, other] = self.pair.map(|number| number.number(numbers));
        let is_near = NEAR_YEARS.contains(&year_of(self.year, numbers));
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
    let [one, other] = [one, other].map(usize::from);
    (one < MOST && other < MOST).then_some(one * MOST + other)
}
