//! Columns of which nobody knows whether they are dates, or whose.

use super::SayingColumns;
use super::question::{Answer, Facts, Question, Topic, in_words};
use super::setting::{forms_setting, shell_text};
use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, Hint, Tally};
use crate::form::{Century, Conventions, Elapsed, Form, Impossible};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::reading::Candidate;
use crate::rulings::FormRuling;
use crate::settle::{
    Leftover, SkipReason, as_written, is_century_clear, names_a_clock, offered_forms,
};
use crate::stamp::{Kind, Stamp};
use jiff::civil::Date;

/// Digits are believed in years up to so many ahead, where they may be of others …
const YEARS_AHEAD: i16 = 100;

/// … and from this year on: `0305` is hardly the year 305.
const FIRST_YEAR: i16 = 1000;

/// The question that a column of doubtful cells asks.
pub(super) fn is_it_temporal(
    name: &str,
    evidence: &ColumnEvidence,
    reason: &SkipReason,
    said_by: &SayingColumns,
    today: Date,
) -> Vec<Question> {
    if let SkipReason::OtherCalendar { cells, calendars } = *reason {
        return which_calendar(name, evidence, cells, calendars)
            .into_iter()
            .collect();
    }
    if let SkipReason::Leftover(left) = reason {
        return vec![what_is_left(name, evidence, left)];
    }
    let is_unread = |tally: &Tally| tally.outcome.is_unreadable();
    let mut tallies = evidence.shapes.iter().flat_map(|shape| &shape.tallies);
    if let SkipReason::Unread { cells } = *reason
        && tallies.all(is_unread)
    {
        let impossible = evidence.shapes.iter().flat_map(|shape| &shape.tallies);
        let impossible = impossible.map(|tally| &tally.first);
        let examples = evidence.others.first.iter().chain(impossible);
        let example = examples.min_by_key(|example| example.row).cloned();
        let question = example.map(|example| Question {
            topic: Topic::Unread,
            cells,
            samples: vec![example.clone()],
            example,
            answers: Vec::new(),
        });
        return question.into_iter().collect();
    }
    let (topic, cells) = match *reason {
        SkipReason::BareDigits { cells } | SkipReason::Doubtful { cells } => (Topic::IsDate, cells),
        SkipReason::TooFew {
            readable,
            plain: true,
        } => (Topic::AreSome, readable),
        SkipReason::Unread { cells } => (Topic::Unread, cells),
        SkipReason::NoDay { cells } => (Topic::IsDay, cells),
        SkipReason::HalfDay { cells, .. } => (Topic::IsWholeDay, cells),
        SkipReason::Between { cells, .. } => (Topic::IsLength, cells),
        SkipReason::Seasons { cells } => (Topic::IsMonth, cells),
        SkipReason::PastMidnight { cells } => (Topic::IsElapsed, cells),
        _ => return Vec::new(),
    };
    let Some((shape, tally)) = evidence
        .shapes
        .iter()
        .flat_map(|shape| shape.tallies.iter().map(move |tally| (shape, tally)))
        .filter(|(_, tally)| match topic {
            Topic::IsElapsed => tally.hint == Hint::Past24,
            _ => !tally.outcome.is_unreadable(),
        })
        .min_by_key(|(_, tally)| tally.first.row)
    else {
        return Vec::new();
    };
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let text = lexer.lex_cell(tally.first.cell()).ok();
    let candidates = shape.readings.candidates().iter().enumerate();
    // Digits that one form reads in years far from ours are rather of another that reads
    // them in ours: `2024065` is no day of 4065.
    let is_near = |index: usize| {
        let near = FIRST_YEAR..=today.year() + YEARS_AHEAD;
        let span = &shape.spans[index];
        let mut ends = [span.earliest, span.latest].into_iter().flatten();
        // Years very far from ours are in no span.
        let reader = &shape.readings.candidates()[index].reader;
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let mut firsts = shape.tallies.iter().filter_map(|tally| {
            let cell = lexer.lex_cell(tally.first.cell()).ok()?;
            reader.read(&cell, Century::Open.into()).ok()
        });
        let is_in_near = |stamp: Stamp| stamp.year().is_none_or(|year| near.contains(&year));
        ends.all(is_in_near) && firsts.all(is_in_near)
    };
    let may_be = |index: usize| tally.outcome.reads(index) || tally.outcome.needs_rule(index);
    let offered = offered_forms(name, evidence);
    let is_meant = |candidate: &Candidate| candidate.usual || offered.contains(&candidate.form);
    let mut meant = candidates
        .clone()
        .filter(|(index, candidate)| is_meant(candidate) && may_be(*index));
    let has_near = meant.any(|(index, _)| is_near(index));
    let by_form = candidates
        .clone()
        .filter(|(index, candidate)| match topic {
            Topic::IsDate if has_near => is_meant(candidate) && is_near(*index) && may_be(*index),
            Topic::IsElapsed => candidate.form.elapsed().is_some(),
            Topic::IsLength => {
                let is_length = candidate.form.elapsed() == Some(Elapsed::HourMinute)
                    || candidate.form.elapsed() == Some(Elapsed::HourMinuteSecond);
                (candidate.usual || is_length) && tally.outcome.reads(*index)
            }
            _ => candidate.usual && tally.outcome.reads(*index),
        })
        // `1430` under `start time` is no year.
        .filter(|(_, candidate)| candidate.form.kind() != Kind::Year || !names_a_clock(name))
        .filter_map(|(index, candidate)| {
            let text = text.as_ref()?;
            let in_year = |year: Option<i16>| {
                let conventions = Conventions {
                    year,
                    ..Century::Open.into()
                };
                candidate.reader.read(text, conventions)
            };
            let mut reads_as = match in_year(None) {
                Ok(stamp) => in_words(stamp),
                Err(Impossible::NoYear) => {
                    let stamp = in_year(Some(today.year())).ok()?;
                    format!("{}, or of a year that is asked for next", in_words(stamp))
                }
                Err(_) => return None,
            };
            if candidate.form.bare_count().is_some() {
                let year = |stamp: Option<Stamp>| stamp?.year();
                let span = &shape.spans[index];
                if let (Some(first), Some(last)) = (year(span.earliest), year(span.latest)) {
                    reads_as.push_str(&format!(", all from {first} to {last}"));
                }
            }
            let form = as_written(&candidate.form, shape, index);
            let converts = match topic {
                Topic::IsElapsed => evidence.filled(),
                // They wait for their century.
                _ if !is_century_clear(name, &form, evidence, today) => 0,
                _ => evidence.read_by(&form),
            };
            Some(Answer {
                contradicted_by: match topic {
                    Topic::IsMonth => cells - converts,
                    Topic::AreSome => evidence.filled() - converts,
                    _ => 0,
                },
                ..Answer::by_form(name, &form, reads_as, converts)
            })
        });
    let halves = said_by
        .halves_of_day
        .iter()
        .filter(|_| topic == Topic::IsWholeDay);
    let by_column = halves.map(|column| {
        let reads_as = format!("a.m. or p.m., as `{column}` says in the same row");
        Answer::by_setting(name, "read.half-of-day-from", column, reads_as, cells)
    });
    let answers = by_column.chain(by_form).collect();
    vec![Question {
        topic,
        cells,
        example: tally.first.clone(),
        samples: vec![tally.first.clone()],
        answers,
    }]
}

/// What the cells of a column are that all hold the same besides a date: an
/// answer for each form that reads it too.
fn what_is_left(name: &str, evidence: &ColumnEvidence, left: &Leftover) -> Question {
    let mut left = left.clone();
    if left.reads.is_empty() {
        left.count(evidence);
    }
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let text = lexer.lex_cell(left.example.cell()).ok();
    let forms = left.forms.iter().zip(&left.reads);
    let answers = forms.filter_map(|(form, cells)| {
        let text = text.as_ref()?;
        let stamp = form.fit(&text.shape())?.read(text, Century::Open.into());
        let reads_as = in_words(stamp.ok()?);
        Some(Answer::by_form(name, form, reads_as, *cells))
    });
    Question {
        topic: Topic::Leftover,
        cells: left.cells,
        answers: answers.collect(),
        samples: vec![left.example.clone()],
        example: left.example,
    }
}

/// The same of some cells of a column that is read as dates or times: they are read
/// besides the others, of which none changes.
pub(super) fn what_is_left_in(facts: &Facts<'_>, left: &Leftover) -> Option<Question> {
    let question = Question {
        topic: Topic::ListedLeftover,
        ..what_is_left(facts.name, facts.evidence, left)
    };
    let ruled = &facts.ruling.read.forms;
    if ruled.is_empty() {
        return Some(question);
    }
    let with_form = |mut answer: Answer| {
        let form: Form = answer.says.parse().ok()?;
        let forms = [&ruled[..], &[FormRuling::Settled(form)]].concat();
        answer.declares = forms_setting(facts.name, &forms);
        answer.set.clone_from(&answer.declares);
        answer.option = format!("--set {}", shell_text(&answer.declares));
        Some(answer)
    };
    let answers: Vec<Answer> = question.answers.into_iter().filter_map(with_form).collect();
    Some(Question {
        cells: answers.iter().map(|answer| answer.converts).max()?,
        answers,
        ..question
    })
}

/// Which calendar the years of a column are those of.
fn which_calendar(
    name: &str,
    evidence: &ColumnEvidence,
    cells: u64,
    calendars: &[Calendar],
) -> Option<Question> {
    let tallies = evidence
        .shapes
        .iter()
        .flat_map(|shape| shape.tallies.iter().map(move |tally| (shape, tally)));
    let (shape, tally) = tallies
        .filter(|(_, tally)| !tally.outcome.is_unreadable())
        .min_by_key(|(_, tally)| tally.first.row)?;
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let text = lexer.lex_cell(tally.first.cell()).ok()?;
    let mut candidates = shape.readings.candidates().iter().enumerate();
    let (_, candidate) = candidates.find(|(index, _)| tally.outcome.reads(*index))?;
    let answers = calendars
        .iter()
        .copied()
        .chain([Calendar::Gregory])
        .filter_map(|calendar| {
            let conventions = Conventions {
                calendar,
                ..Conventions::default()
            };
            let reads_as = in_words(candidate.reader.read(&text, conventions).ok()?);
            let key = "read.calendar";
            Some(Answer::by_setting(
                name,
                key,
                calendar.name(),
                reads_as,
                cells,
            ))
        });
    Some(Question {
        topic: Topic::Calendar,
        cells,
        example: tally.first.clone(),
        samples: vec![tally.first.clone()],
        answers: answers.collect(),
    })
}
