//! Columns of which nobody knows whether they are dates, or whose.

use super::question::{Answer, Question, Topic, in_words};
use super::setting::{forms_setting, shell_text, shell_word};
use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, Example, Hint, ShapeEvidence};
use crate::form::{Century, Conventions, Form};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::reading::Readings;
use crate::rulings::FormRuling;
use crate::settle::{SkipReason, as_written};
use crate::stamp::{Kind, Stamp};

/// The question that a column of doubtful cells asks.
pub(super) fn is_it_temporal(
    name: &str,
    evidence: &ColumnEvidence,
    reason: &SkipReason,
) -> Vec<Question> {
    if let SkipReason::OtherCalendar { cells, calendars } = *reason {
        return which_calendar(name, evidence, cells, calendars)
            .into_iter()
            .collect();
    }
    if let SkipReason::Leftover { cells, left } = reason {
        return what_is_left(name, evidence, *cells, left)
            .into_iter()
            .collect();
    }
    if let SkipReason::Unread { cells } = *reason {
        let example = evidence.others.first.first().cloned();
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
        SkipReason::NoDay { cells } => (Topic::IsDay, cells),
        SkipReason::HalfDay { cells } => (Topic::IsWholeDay, cells),
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
    let answers = candidates
        .filter(|(index, candidate)| match topic {
            Topic::IsElapsed => candidate.form.elapsed().is_some(),
            _ => candidate.usual && tally.outcome.reads(*index),
        })
        .filter_map(|(index, candidate)| {
            let stamp = candidate
                .reader
                .read(text.as_ref()?, Century::Open.into())
                .ok()?;
            let mut reads_as = in_words(stamp);
            let mut option = "--read-form";
            if candidate.form.count().is_some() {
                option = "--read-count";
                let year = |stamp: Option<Stamp>| Some(stamp?.date()?.year());
                let span = &shape.spans[index];
                if let (Some(first), Some(last)) = (year(span.earliest), year(span.latest)) {
                    reads_as.push_str(&format!(", all from {first} to {last}"));
                }
            }
            let form = as_written(&candidate.form, shape, index);
            let reads = |shape: &ShapeEvidence| {
                let index = shape.readings.index_of(&form);
                index.map(|index| shape.count(|tally| tally.outcome.reads(index)))
            };
            let converts = match topic {
                Topic::IsElapsed => evidence.filled(),
                _ => evidence.shapes.iter().filter_map(reads).sum(),
            };
            Some(Answer {
                set: String::new(),
                option: format!(
                    "-c {} {option} {}",
                    shell_word(name),
                    shell_text(&form.to_string())
                ),
                says: form.to_string(),
                declares: forms_setting(name, &[FormRuling::Settled(form.clone())]),
                samples_read_as: vec![Some(reads_as.clone())],
                reads_as,
                converts,
                contradicted_by: match topic {
                    Topic::IsMonth => cells - converts,
                    Topic::AreSome => evidence.filled() - converts,
                    _ => 0,
                },
            })
        })
        .collect();
    vec![Question {
        topic,
        cells,
        example: tally.first.clone(),
        samples: vec![tally.first.clone()],
        answers,
    }]
}

/// What the cells of a column are that all hold the same besides a date. Where
/// that is always the same text, a pattern with it reads them.
fn what_is_left(name: &str, evidence: &ColumnEvidence, cells: u64, left: &str) -> Option<Question> {
    let example = evidence.others.first.first()?;
    let text = example.text.trim();
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let (before, date, behind) = match text.strip_prefix(left) {
        Some(date) => (left, date, ""),
        None => ("", text.strip_suffix(left)?, left),
    };
    let shape = lexer.lex(date.trim()).ok()?.shape();
    let quoted = |literal: &str| match literal {
        "" => String::new(),
        _ => format!("'{}'", literal.replace('\'', "''")),
    };
    let readings = Readings::new(shape, &[]);
    let dates = readings.candidates().iter().filter(|own| own.usual);
    let from_start = &date[..date.len() - date.trim_start().len()];
    let to_end = &date[date.trim_end().len()..];
    let before = quoted(&format!("{before}{from_start}"));
    let behind = format!("{to_end}{behind}");
    let times = times_in(&behind);
    let patterns = dates.flat_map(|date| {
        let with_time = times.iter().map(|(sign, time, end)| {
            format!("{before}{}{}{time}{}", date.form, quoted(sign), quoted(end))
        });
        let alone = format!("{before}{}{}", date.form, quoted(&behind));
        with_time.chain([alone]).collect::<Vec<String>>()
    });
    let answers = patterns.filter_map(|pattern| {
        let form: Form = pattern.parse().ok()?;
        let read = |example: &Example| {
            let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
            let cell = lexer.lex(&example.text).ok()?;
            let reader = form.fit(&cell.shape())?;
            reader.read(&cell, Century::Open.into()).ok()
        };
        // What stands there is the same in all that are kept, or this is no form
        // of theirs.
        let is_whole = evidence
            .others
            .first
            .iter()
            .all(|kept| read(kept).is_some());
        let reads_as = in_words(read(example).filter(|_| is_whole)?);
        Some(Answer {
            set: String::new(),
            option: format!(
                "-c {} --read-form {}",
                shell_word(name),
                shell_text(&form.to_string())
            ),
            says: form.to_string(),
            declares: forms_setting(name, &[FormRuling::Settled(form.clone())]),
            samples_read_as: vec![Some(reads_as.clone())],
            reads_as,
            converts: cells,
            contradicted_by: 0,
        })
    });
    let answers: Vec<Answer> = answers.collect();
    Some(Question {
        topic: Topic::Leftover,
        cells,
        example: example.clone(),
        samples: vec![example.clone()],
        answers,
    })
}

/// The time of day in what stands behind a date, by every form that reads it:
/// the sign before it, the form, and what stands behind.
fn times_in(behind: &str) -> Vec<(String, Form, String)> {
    let is_part = |letter: char| letter.is_alphanumeric();
    let Some(start) = behind.find(|letter: char| letter.is_ascii_digit()) else {
        return Vec::new();
    };
    let end = behind.rfind(is_part).map_or(behind.len(), |at| {
        at + behind[at..].chars().next().map_or(0, char::len_utf8)
    });
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let Ok(cell) = lexer.lex(&behind[start..end]) else {
        return Vec::new();
    };
    let readings = Readings::new(cell.shape(), &[]);
    let times = readings
        .candidates()
        .iter()
        .filter(|own| own.usual && own.form.kind() == Kind::Time);
    times
        .map(|own| {
            let (sign, end) = (&behind[..start], &behind[end..]);
            (sign.to_owned(), own.form.clone(), end.to_owned())
        })
        .collect()
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
