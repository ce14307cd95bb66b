//! Level 5: clock-like cells that are the time between two others of the row.
//!
//! `8:15` next to `07:30` and `15:45` is no time of day but a length of time, if
//! it is so in every row. It may be less by a third: `8:15` between `07:00` and
//! `16:00` with a break of `0:45`.

use super::clock_doubt::ClockDoubt;
use super::compared_columns::ComparedColumns;
use super::justification::Finding;
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::decide::OwnReading;
use crate::settle::side_named;
use crate::stamp::Stamp;
use jiff::civil::Time;
use std::any::Any;
use std::collections::BTreeSet;

/// The time between two columns is believed from so many rows on, none of which
/// contradicts …
const LEAST_ROWS: u64 = 10;

/// … and that have so many different lengths: every lesson lasts 0:45, and may
/// begin then.
const LEAST_LENGTHS: usize = 3;

/// A column is compared with so many columns of times on either side of it: the
/// ways to choose two of them and a third grow with the cube.
const REACH: usize = 3;

const DAY: i64 = 24 * 60 * 60;

/// A column of clock-like cells against the times between others.
#[derive(Debug)]
pub(super) struct TimeBetween {
    /// The numbers of the columns that it is compared with.
    near: Vec<usize>,
    ways: Vec<Way>,
    /// The lengths that the cells are, in seconds, as far as they are counted.
    lengths: BTreeSet<i64>,
    rows: u64,
}

/// From which column to which, and which is to be taken off.
#[derive(Clone, Copy, Debug)]
struct Way {
    start: usize,
    end: usize,
    less: Option<usize>,
    contradicting: u64,
}

impl TimeBetween {
    /// Of the column with this number, and those near it.
    pub fn new(compared: &ComparedColumns, own: usize) -> TimeBetween {
        let near: Vec<usize> = compared
            .near_temporal(own)
            .into_iter()
            .filter(|other| other.abs_diff(own) <= REACH)
            .collect();
        let mut ways = Vec::new();
        for &start in &near {
            for &end in near.iter().filter(|&&end| end != start) {
                let others = near.iter().copied();
                let others = others.filter(|&less| less != start && less != end);
                for less in std::iter::once(None).chain(others.map(Some)) {
                    ways.push(Way {
                        start,
                        end,
                        less,
                        contradicting: 0,
                    });
                }
            }
        }
        TimeBetween {
            near,
            ways,
            lengths: BTreeSet::new(),
            rows: 0,
        }
    }

    /// The ways that no row contradicts. Three times of which one is the time
    /// between the others can be taken two ways: what a name says to be a start or
    /// an end is no length.
    fn ways(&self, question: &Question<'_>) -> impl Iterator<Item = &Way> {
        let is_believed = self.rows >= LEAST_ROWS && self.lengths.len() >= LEAST_LENGTHS;
        let is_length = is_believed && side_named(question.name_of(question.number)).is_none();
        let ways = self.ways.iter().filter(|way| way.contradicting == 0);
        ways.filter(move |_| is_length)
    }

    /// The one of them between what the names say to be a start and an end.
    fn way(&self, question: &Question<'_>) -> Option<&Way> {
        let is_end = |column: usize| side_named(question.name_of(column)).is_some();
        let mut ways = self.ways(question);
        ways.find(|way| is_end(way.start) && is_end(way.end))
    }
}

/// The seconds of the time of day.
fn seconds_of(time: Time) -> i64 {
    i64::from(time.hour()) * 3600 + i64::from(time.minute()) * 60 + i64::from(time.second())
}

/// The seconds that a cell may be, as a length of time.
fn lengths_of(row: &Observed<'_>, number: usize) -> Vec<i64> {
    let seconds = |stamp: Stamp| match stamp {
        Stamp::Time(time) => Some(seconds_of(time)),
        Stamp::Duration(duration) => Some(duration.exact().as_secs()),
        _ => None,
    };
    match &row.own_readings[number] {
        OwnReading::Nothing(_) => Vec::new(),
        OwnReading::One { stamp, .. } => seconds(*stamp).into_iter().collect(),
        OwnReading::Several(several) => {
            several.stamps.iter().copied().filter_map(seconds).collect()
        }
    }
}

/// The seconds from one to the other, past midnight where both are times of day
/// and the second is the earlier one.
fn between(start: Stamp, end: Stamp) -> Option<i64> {
    match (start, end) {
        (Stamp::Time(start), Stamp::Time(end)) => {
            Some((seconds_of(end) - seconds_of(start)).rem_euclid(DAY))
        }
        (Stamp::DateTime(start), Stamp::DateTime(end)) => {
            Some((end - start).total(jiff::Unit::Second).ok()? as i64)
        }
        (Stamp::Instant(start), Stamp::Instant(end)) => Some(end.as_second() - start.as_second()),
        _ => None,
    }
}

impl EvidenceSource for TimeBetween {
    fn observe(&mut self, row: &Observed<'_>) {
        let Some(Stamp::Time(own)) = row.settled_stamp(row.number) else {
            return;
        };
        let near = |column: usize| self.near.binary_search(&column).ok();
        let stamps = self.near.iter().map(|&number| row.settled_stamp(number));
        let stamps: Vec<Option<Stamp>> = stamps.collect();
        let lengths = self.near.iter().map(|&number| lengths_of(row, number));
        let lengths: Vec<Vec<i64>> = lengths.collect();
        let own = seconds_of(own);
        self.rows += 1;
        if self.lengths.len() < LEAST_LENGTHS {
            self.lengths.insert(own);
        }
        for way in &mut self.ways {
            let stamp = |column: usize| stamps[near(column)?];
            let ends = stamp(way.start).zip(stamp(way.end));
            let between = ends.and_then(|(start, end)| between(start, end));
            let is_it = between.is_some_and(|between| match way.less.and_then(near) {
                None => between == own,
                Some(less) => lengths[less].contains(&(between - own)),
            });
            way.contradicting += u64::from(!is_it);
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<TimeBetween>(later);
        for (way, more) in self.ways.iter_mut().zip(later.ways) {
            way.contradicting += more.contradicting;
        }
        self.lengths.extend(later.lengths);
        self.rows += later.rows;
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let again = |way: &Way| Way {
            contradicting: 0,
            ..*way
        };
        Box::new(TimeBetween {
            near: self.near.clone(),
            ways: self.ways.iter().map(again).collect(),
            lengths: BTreeSet::new(),
            rows: 0,
        })
    }

    fn wants_reading(&self, number: usize) -> bool {
        self.near.contains(&number)
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let way = self.way(question).map(|way| {
            Conclusion::Lengths(Finding::TimeBetween {
                start: question.name_of(way.start).to_owned(),
                end: question.name_of(way.end).to_owned(),
                less: way.less.map(|less| question.name_of(less).to_owned()),
                rows: self.rows,
            })
        });
        way.into_iter().collect()
    }

    fn clock_doubt(&self, question: &Question<'_>) -> Option<ClockDoubt> {
        let mut ways = self.ways(question);
        let way = ways.find(|way| way.less.is_none())?;
        Some(ClockDoubt::IsBetween {
            start: question.name_of(way.start).to_owned(),
            end: question.name_of(way.end).to_owned(),
        })
    }

    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        Vec::new()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
