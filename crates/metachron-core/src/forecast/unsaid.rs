//! Questions about what cells leave unsaid: their year, the language of a name,
//! the day of a month, the zone, the day that 24:00 ends.

use super::question::{Answer, Facts, Question, Topic, in_words};
use super::setting::toml_key;
use super::{Waiting, either};
use crate::calendar::Calendar;
use crate::decide::{KindMismatch, Reason};
use crate::evidence::{ColumnEvidence, Example, Hint};
use crate::form::{Conventions, EndOfDay, Impossible, UnitLetters};
use crate::lex::{Lexer, Words};
use crate::locale::{Names, meanings_in, zones_meant};
use crate::rulings::PeriodAs;
use crate::settle::fitting_locales;
use crate::stamp::{Kind, Stamp};
use crate::zone::Zone;
use jiff::civil::Time;
use std::collections::BTreeMap;

/// What is asked of cells that wait for this reason.
fn topic(reason: &Reason) -> Option<Topic> {
    match reason {
        Reason::Rule(Impossible::NoYear) => Some(Topic::Year),
        Reason::Rule(Impossible::NoHalfOfDay) => Some(Topic::HalfOfDay),
        Reason::Rule(Impossible::EndOfNoDay) => Some(Topic::EndOfDay),
        Reason::Rule(Impossible::WhichUnit) => Some(Topic::UnitLetters),
        Reason::NameDiffers { .. } | Reason::Rule(Impossible::NameDiffers) => Some(Topic::Language),
        Reason::Kind(KindMismatch::Coarser) => Some(Topic::Period),
        Reason::Kind(KindMismatch::NoZone) => Some(Topic::Zone),
        Reason::Kind(_) => Some(Topic::Kind),
        _ => None,
    }
}

/// The questions about the cells of a column that wait so. `years_in` are the
/// columns that hold years.
pub(super) fn questions(
    facts: &Facts<'_>,
    waiting: &[Waiting],
    years_in: &[String],
) -> Vec<Question> {
    let topics = [
        Topic::Year,
        Topic::HalfOfDay,
        Topic::Language,
        Topic::Period,
        Topic::Zone,
        Topic::EndOfDay,
        Topic::UnitLetters,
        Topic::Kind,
    ];
    let asked = topics.into_iter().filter_map(|asked| {
        let is_asked = |waiting: &Waiting| topic(&waiting.cause) == Some(asked);
        either::question(asked, waiting, is_asked, |first, cells| match asked {
            Topic::Year => years(facts, first, cells, years_in),
            Topic::Language => languages(facts, first, cells),
            Topic::Period => periods(facts, first, cells),
            Topic::Zone => zones(facts, first, cells),
            // The column that should say it was named already; another kind of the
            // column would change what is converted.
            Topic::HalfOfDay | Topic::Kind => Vec::new(),
            Topic::UnitLetters => unit_letters(facts, first, cells),
            _ => ends_of_day(facts, first, cells),
        })
    });
    let mut asked: Vec<Question> = asked.collect();
    let is_zone_open = |waiting: &Waiting| waiting.cause == Reason::Rule(Impossible::WhichZone);
    if waiting.iter().any(is_zone_open) {
        asked.extend(zone_names(facts));
    }
    asked
}

/// For each abbreviation of a zone, which of the zones it stands for that it may.
fn zone_names(facts: &Facts<'_>) -> Vec<Question> {
    let mut questions: BTreeMap<&str, Question> = BTreeMap::new();
    for (shape, plan) in facts.evidence.shapes.iter().zip(facts.plans) {
        for (name, cells) in shape.zone_names.iter() {
            let question = questions.entry(name).or_insert_with(|| Question {
                topic: Topic::ZoneName,
                cells: 0,
                example: cells.first.clone(),
                samples: vec![cells.first.clone()],
                answers: zones_of_name(facts, name, &cells.first),
            });
            question.cells += cells.count;
            for (answer, would_be) in question.answers.iter_mut().zip(&cells.in_zones) {
                let converted = would_be.iter().filter(|(outcome, hint, _)| {
                    !plan.judge(outcome, *hint).verdict().needs_review()
                });
                answer.converts += converted.map(|(_, _, count)| count).sum::<u64>();
            }
        }
    }
    // A zone that no clock shows the abbreviation in then is not meant.
    for question in questions.values_mut() {
        let is_any = question.answers.iter().any(|answer| answer.converts > 0);
        question
            .answers
            .retain(|answer| !is_any || answer.converts > 0);
    }
    questions.into_values().collect()
}

/// An answer for each zone that an abbreviation may stand for, which converts no cell
/// yet.
fn zones_of_name(facts: &Facts<'_>, name: &str, first: &Example) -> Vec<Answer> {
    let mut lexer = Lexer::new(facts.ruling.read.names(), Words::Keep);
    let text = lexer.lex_cell(first.cell()).ok();
    let forms = facts.ruling.read.all_forms();
    let conventions = facts.ruling.read.conventions().in_row(first.row_facts);
    let reads_as = |zone: &Zone| {
        let text = text.as_ref()?;
        let mut readers = forms.iter().filter_map(|form| form.fit(&text.shape()));
        let stamp = readers.find_map(|reader| reader.read_in_zone(text, conventions, zone).ok());
        Some(stamp.map_or_else(|| "cannot be".to_owned(), in_words))
    };
    let answers = zones_meant(name).iter().map(|zone| {
        let key = format!("read.zone-names.{}", toml_key(name));
        let reads_as = reads_as(zone).unwrap_or_default();
        Answer::by_setting(facts.name, &key, zone.name(), reads_as, 0)
    });
    answers.collect()
}

/// What the example means under `conventions`.
fn read(facts: &Facts<'_>, names: Names, first: &Waiting, by: Conventions) -> Option<Stamp> {
    let mut lexer = Lexer::new(names, Words::Keep);
    let text = lexer.lex_cell(first.example.cell()).ok()?;
    let forms = facts.ruling.read.all_forms();
    let mut readers = forms.iter().filter_map(|form| form.fit(&text.shape()));
    readers.find_map(|reader| reader.read(&text, by).ok())
}

/// The columns that hold years, and the year that it is.
fn years(facts: &Facts<'_>, first: &Waiting, cells: u64, years_in: &[String]) -> Vec<Answer> {
    let ruled = &facts.ruling.read;
    if ruled.year.is_some() || ruled.year_from.is_some() {
        return Vec::new();
    }
    let year = facts.today.year();
    let by_column = years_in.iter().map(|column| {
        let reads_as = format!("the year is that of `{column}` in the same row");
        Answer::by_setting(facts.name, "read.year-from", column, reads_as, cells)
    });
    let conventions = Conventions {
        year: Some(year),
        ..ruled.conventions()
    };
    let stamp = read(facts, ruled.names(), first, conventions);
    // The 29th of February is in leap years alone.
    let without = if facts.today.in_leap_year() {
        0
    } else {
        leap_days(facts.evidence)
    };
    let this_year = stamp.map(|stamp| {
        let year = year.to_string();
        Answer::by_setting(
            facts.name,
            "read.year",
            &year,
            in_words(stamp),
            cells - without,
        )
    });
    by_column.chain(this_year).collect()
}

/// How many cells are the 29th of a February of no year.
fn leap_days(evidence: &ColumnEvidence) -> u64 {
    let shapes = evidence.shapes.iter();
    shapes
        .map(|shape| shape.count(|tally| tally.hint == Hint::LeapDay))
        .sum()
}

/// A language for each meaning of the names, of those that have all names of the
/// column.
fn languages(facts: &Facts<'_>, first: &Waiting, cells: u64) -> Vec<Answer> {
    let mut answers: Vec<Answer> = Vec::new();
    let words = facts.evidence.names.words_of_language();
    let mut meant = Vec::new();
    for tag in fitting_locales(&facts.evidence.names) {
        if tag.calendar() != Calendar::Gregory {
            continue;
        }
        let names = Names::of(std::slice::from_ref(&tag), Calendar::Gregory);
        let stamp = read(facts, names, first, facts.ruling.read.conventions());
        let Some(reads_as) = stamp.map(in_words) else {
            continue;
        };
        let meanings = meanings_in(&tag, &words);
        if !meant.contains(&meanings) {
            meant.push(meanings);
            let tag = tag.to_string();
            answers.push(Answer::by_setting(
                facts.name,
                "read.locale",
                &tag,
                reads_as,
                cells,
            ));
        }
    }
    answers
}

/// The first and the last day of a month, quarter, week or year among dates.
fn periods(facts: &Facts<'_>, first: &Waiting, cells: u64) -> Vec<Answer> {
    if !matches!(facts.ruling.kind, Kind::Date | Kind::DateTime) {
        return Vec::new();
    }
    let ruled = &facts.ruling.read;
    let Some(period) = read(facts, ruled.names(), first, ruled.conventions()) else {
        return Vec::new();
    };
    let ways = [("first", PeriodAs::First), ("last", PeriodAs::Last)];
    let answers = ways.into_iter().filter_map(|(name, period_as)| {
        let reads_as = in_words(Stamp::Date(period_as.day_of(period)?));
        Some(Answer::by_setting(
            facts.name,
            "read.period-as",
            name,
            reads_as,
            cells,
        ))
    });
    answers.collect()
}

/// UTC, for local times among instants.
fn zones(facts: &Facts<'_>, first: &Waiting, cells: u64) -> Vec<Answer> {
    let ruled = &facts.ruling.read;
    let stamp = read(facts, ruled.names(), first, ruled.conventions());
    let answer = stamp.map(|stamp| {
        let reads_as = format!("{} UTC", in_words(stamp));
        Answer::by_setting(facts.name, "read.zone", "UTC", reads_as, cells)
    });
    answer.into_iter().collect()
}

/// Midnight, for 24:00 without a date.
fn ends_of_day(facts: &Facts<'_>, first: &Waiting, cells: u64) -> Vec<Answer> {
    let conventions = Conventions {
        end_of_day: EndOfDay::Midnight,
        ..facts.ruling.read.conventions()
    };
    let names = facts.ruling.read.names();
    let midnight = Some(Stamp::Time(Time::midnight()));
    let answer = (read(facts, names, first, conventions) == midnight).then(|| {
        let reads_as = in_words(Stamp::Time(Time::midnight()));
        Answer::by_setting(facts.name, "read.end-of-day", "midnight", reads_as, cells)
    });
    answer.into_iter().collect()
}

/// Units of time, for a single letter that may be one.
fn unit_letters(facts: &Facts<'_>, first: &Waiting, cells: u64) -> Vec<Answer> {
    let conventions = Conventions {
        unit_letters: UnitLetters::Time,
        ..facts.ruling.read.conventions()
    };
    let stamp = read(facts, facts.ruling.read.names(), first, conventions);
    let answer = stamp.map(|stamp| {
        let key = "read.unit-letters";
        Answer::by_setting(facts.name, key, "time", in_words(stamp), cells)
    });
    answer.into_iter().collect()
}
