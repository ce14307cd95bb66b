//! Cells that are converted, and may not be meant: a day that programs write where there
//! is no date, and times that went through a zone.
//!
//! A suspicion settles nothing, and is never silent: it is a question, until a person
//! says that the cells are meant, or that they stand for nothing.

use super::question::{Answer, Facts, Question, Topic, in_words};
use super::{shifted, span_of};
use crate::evidence::{Example, MarkerCells};
use crate::lex::{Lexer, Words};
use crate::stamp::Stamp;
use jiff::civil::Date;

/// Years that tables are not about.
fn is_absurd(day: Date) -> bool {
    day.year() < 1700 || day.year() > 2200
}

/// A day of our time may mark empty cells where so many hold it …
const LEAST_CELLS: f64 = 3.0;

/// … and more than chance puts there, by so many standard deviations of a count: once in
/// some million columns.
const DEVIATIONS: f64 = 5.0;

/// One cell is enough where the day lies further from the column's others than they span
/// together, and at least so many days.
const LEAST_GAP: i32 = 3653;

const DAYS_OF_YEAR: f64 = 366.0;

/// The questions about the cells of a column that are converted, and may not be meant.
pub(super) fn questions(facts: &Facts<'_>) -> Vec<Question> {
    let markers = facts.evidence.markers.iter();
    let mut questions: Vec<Question> = markers
        .filter(|cells| facts.may_be_placeholder(cells))
        .map(|cells| facts.placeholder_question(cells))
        .collect();
    questions.extend(facts.midnights_question());
    questions
}

impl Facts<'_> {
    /// What the ruling makes of a cell, before any zone; `None` where it waits.
    fn stamp_of(&self, example: &Example) -> Option<Stamp> {
        let mut lexer = Lexer::new(self.ruling.read.names(), Words::Keep);
        let cell = lexer.lex_cell(example.cell()).ok()?;
        let mut plans = self.plans.iter();
        let plan = plans.find(|plan| plan.readings().shape().fits(&cell))?;
        plan.decide(&cell, example.row_facts).stamp
    }

    /// Whether a day is converted that more cells hold than such a column has by chance.
    fn may_be_placeholder(&self, cells: &MarkerCells) -> bool {
        let read = &self.ruling.read;
        // A survey takes `31/12/99` for a day of 2099, which the ruling may not.
        let meant = self.stamp_of(&cells.first).and_then(|stamp| stamp.date());
        if read.placeholders.get(cells.day).is_some() || meant != Some(cells.day) {
            return false;
        }
        let century = read.conventions().century;
        let (earliest, latest) = span_of(self.evidence, self.judged).bounds(century);
        let day = |stamp: Option<Stamp>| stamp?.date();
        let span = day(earliest).zip(day(latest));
        let is_among = span.is_some_and(|(first, last)| (first..=last).contains(&cells.day));
        if !is_among && is_absurd(cells.day) {
            return true;
        }
        let Some((first, last)) = span else {
            return cells.count as f64 >= LEAST_CELLS;
        };
        let days = |from: Date, to: Date| (to - from).get_days();
        let gap = days(cells.day, first).max(days(last, cells.day));
        if gap > days(first, last).max(LEAST_GAP) {
            return true;
        }
        // Of months or years, fewer days of the year are there for the same cells.
        let shapes = self.evidence.shapes.iter();
        let days_of_year: u32 = shapes.map(|shape| shape.days.count()).sum();
        let share = f64::from(days_of_year).min(DAYS_OF_YEAR) / DAYS_OF_YEAR;
        let different = (f64::from(days(first, last) + 1) * share).max(1.0);
        let by_chance = self.evidence.readable() as f64 / different;
        let count = cells.count as f64;
        count >= LEAST_CELLS && count > by_chance + DEVIATIONS * by_chance.sqrt()
    }

    fn placeholder_question(&self, cells: &MarkerCells) -> Question {
        let key = format!("read.placeholders.{}", cells.day);
        let answer = |says: &str, reads_as: String, withdraws| Answer {
            withdraws,
            ..Answer::by_setting(self.name, &key, says, reads_as, 0)
        };
        let meant = in_words(Stamp::Date(cells.day));
        Question {
            topic: Topic::Placeholder,
            cells: cells.count,
            example: cells.first.clone(),
            samples: vec![cells.first.clone()],
            answers: vec![
                answer("keep", meant, 0),
                answer("blank", "no date".to_owned(), cells.count),
            ],
        }
    }

    fn midnights_question(&self) -> Option<Question> {
        if !shifted::are_hardly_meant(self.evidence, self.ruling) {
            return None;
        }
        let tallies = self.evidence.shapes.iter().flat_map(|shape| &shape.tallies);
        let readable = tallies.filter(|tally| !tally.outcome.is_unreadable());
        let example = readable
            .map(|tally| &tally.first)
            .min_by_key(|first| first.row)?;
        let meant = "the time that is written".to_owned();
        Some(Question {
            topic: Topic::ShiftedMidnights,
            cells: self.evidence.readable(),
            answers: vec![Answer::by_setting(
                self.name,
                "read.shifted-midnights",
                "keep",
                meant,
                0,
            )],
            samples: vec![example.clone()],
            example: example.clone(),
        })
    }
}
