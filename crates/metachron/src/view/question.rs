//! Open questions, as questions.

use crate::job::RowNames;
use crate::words::{cell, count, number};
use metachron_core::forecast::{Answer, ColumnForecast, Question, Topic};

/// How an answer is given on the command line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Style {
    /// As an option for all columns: `--read-order dmy`.
    Option,
    /// As a setting of the column: `--set 'Due.read.order=dmy'`.
    Setting,
}

impl Style {
    /// The style for a table of these columns: an option that speaks of all
    /// columns will do where only one of them can hear it.
    pub fn for_columns(columns: &[ColumnForecast]) -> Style {
        let temporal = columns.iter().filter(|column| column.kind.is_some());
        let with_orders = temporal.filter(|column| {
            let forms = column.forms.iter();
            let years = column.two_digit_years.is_some();
            years || forms.map(|form| form.orders.len()).any(|orders| orders > 1)
        });
        match with_orders.count() {
            0 | 1 => Style::Option,
            _ => Style::Setting,
        }
    }
}

/// The question on `column`, in a sentence.
pub fn sentence(column: &str, question: &Question, row_names: &RowNames) -> String {
    let cells = count(question.cells, "cell");
    let example = format!(
        "such as {} ({})",
        cell(&question.example.text),
        row_names.of(question.example.row)
    );
    let fit = if question.cells == 1 { "fits" } else { "fit" };
    let them = if question.cells == 1 { "it" } else { "them" };
    let has = if question.cells == 1 { "has" } else { "have" };
    let was = if question.cells == 1 { "was" } else { "were" };
    let are = if question.cells == 1 { "is" } else { "are" };
    match question.topic {
        Topic::Order => {
            // Forms without a day and a month have no order to be told by.
            let what = if question.answers.iter().any(|answer| answer.set.is_empty()) {
                "forms"
            } else {
                "orders"
            };
            format!("{column}: {cells} {example} {fit} several {what}. Which is right?")
        }
        Topic::Swapped => format!(
            "{column}: in {cells} {example} an import may have swapped day and month: no day in \
             them is past 12, and in the column's other dates every day is. Were they swapped?"
        ),
        Topic::Century => format!(
            "{column}: {cells} {example} with a two-digit year. Which hundred years do they stand for?"
        ),
        Topic::Calendar => {
            let passed = match question.answers.len() {
                // Only whether the years are meant is asked of a few.
                1 => "Are they meant? If not, they stay on the list.",
                _ => "Whose calendar is it? The column is passed through as it came.",
            };
            format!("{column}: {cells} {example} with years far from ours. {passed}")
        }
        Topic::InOverlap => format!(
            "{column}: {cells} {example} {was} twice: clocks in the zone went back over {them}. \
             Which instant is meant?"
        ),
        Topic::InGap => format!(
            "{column}: {cells} {example} never {was}: clocks in the zone went forward over {them}. \
             Which instant is meant?"
        ),
        Topic::LeapSecond => format!(
            "{column}: {cells} {example} {has} a second of 60, which no clock without leap \
             seconds has. Which second is meant?"
        ),
        Topic::Year => format!("{column}: {cells} {example} {has} no year. Which is it?"),
        Topic::HalfOfDay => format!(
            "{column}: {cells} {example} {has} no a.m. or p.m. in the column that should say it. \
             {them} open until that is written there.",
            them = if question.cells == 1 {
                "It stays"
            } else {
                "They stay"
            }
        ),
        Topic::Language => format!(
            "{column}: {cells} {example} {has} a name that languages use for different months, units or \
             parts of the day. Which language is it? (--read-locale can name another.)"
        ),
        Topic::Period => format!(
            "{column}: {cells} {example} {has} no day, in a column of dates. Which day of the \
             month or year {are} {them}?",
            them = if question.cells == 1 { "it" } else { "they" }
        ),
        Topic::Zone => format!(
            "{column}: {cells} {example} {has} no zone, in a column of instants. Of which zone \
             {are} {them}? (Any other can be said as well.)",
            them = if question.cells == 1 { "it" } else { "they" }
        ),
        Topic::Kind => format!(
            "{column}: {cells} {example} {are} of another kind than the column, and would lose a \
             part in it, or {lack} one. {them} open, unless the column is ruled to be of another \
             kind.",
            lack = if question.cells == 1 { "lacks" } else { "lack" },
            them = if question.cells == 1 {
                "It stays"
            } else {
                "They stay"
            }
        ),
        Topic::ZoneName => format!(
            "{column}: {cells} {example} {name} {its} zone by what several zones go by. Which \
             is it? (Any other can be said as well; `metachron zones` finds them.)",
            name = if question.cells == 1 { "names" } else { "name" },
            its = if question.cells == 1 { "its" } else { "their" }
        ),
        Topic::EndOfDay => format!(
            "{column}: {cells} {example} {are} the end of a day that is not given. If midnight \
             will do:"
        ),
        Topic::UnitLetters => format!(
            "{column}: {cells} {example} {have} a single letter or a code for a unit, which may be \
             none of time.",
            have = if question.cells == 1 { "has" } else { "have" }
        ),
        Topic::IsMonth => format!(
            "{column}: {cells} {example} may be months, or the seasons of two years. The column \
             is passed through as it came; if they {are} months:"
        ),
        Topic::IsWholeDay => format!(
            "{column}: {cells} {example} never pass 12:59, where later hours should be: \
             a.m. and p.m. may be missing, or stand in another column. The column is passed through \
             as it came. What does its clock show?"
        ),
        Topic::AreSome => format!(
            "{column}: {cells} {example} {are} {} among others that are none. The column is passed \
             through as it came; if it holds dates, the others are listed:",
            if question.cells == 1 {
                "a date"
            } else {
                "dates"
            }
        ),
        Topic::Leftover => {
            let hold = if question.cells == 1 { "holds" } else { "hold" };
            let by_form = match question.answers[..] {
                [] => format!("--read-form can say what stands there, and reads {them} then."),
                _ => format!("a form that says what stands there reads {them}:"),
            };
            format!(
                "{column}: {cells} {example} {hold} a date or time and something besides. The column is \
                 passed through as it came; {by_form}"
            )
        }
        Topic::ListedLeftover => {
            let hold = if question.cells == 1 { "holds" } else { "hold" };
            format!(
                "{column}: {cells} {example} {hold} a date or time and something besides, and {are} listed. \
                 A form that says what stands there, or skips it (…), reads {them}:"
            )
        }
        Topic::Unread if question.answers.len() > 1 => format!(
            "{column}: {cells} {example} may be dates or times, by the column's name, in a form \
             that may be something else. The column is passed through as it came; if they {are}:"
        ),
        Topic::Unread => format!(
            "{column}: {cells} {example} may be dates or times, and no form reads {them}. The column \
             is passed through as it came; --read-form or --read-locale can say how {}.",
            if question.cells == 1 {
                "it is written"
            } else {
                "they are written"
            }
        ),
        Topic::IsDate => format!(
            "{column}: {cells} {example} may be dates or times, or numbers. The column is passed \
             through as it came; if they {are} dates or times:"
        ),
        Topic::IsDay => format!(
            "{column}: {cells} {example} all have a day that programs count from, so the column \
             may hold times of day. It is passed through as it came; if the day is meant:"
        ),
        Topic::IsLength => format!(
            "{column}: {cells} {example} may be times of day, or the time between two others, as \
             they are in every row. The column is passed through as it came; which {are} {them}?",
            them = if question.cells == 1 { "it" } else { "they" }
        ),
        Topic::Placeholder => format!(
            "{column}: {cells} {example} {hold} a day that programs write where there is no date. \
             {are_converted}; is the day meant?",
            hold = if question.cells == 1 { "holds" } else { "hold" },
            are_converted = if question.cells == 1 {
                "It is converted"
            } else {
                "They are converted"
            }
        ),
        Topic::ShiftedMidnights => format!(
            "{column}: {cells} {example} {are} all midnight at another offset from UTC, as days \
             are that were shifted through a zone. They are converted; are the times meant?"
        ),
        Topic::IsElapsed => format!(
            "{column}: {cells} {example} pass 24:00, so the column may hold elapsed times and \
             not times of day. It is passed through as it came."
        ),
    }
}

/// The ways to answer, a line each: what to type, and what comes of it.
pub fn answers(question: &Question, style: Style) -> Vec<(String, String)> {
    question
        .answers
        .iter()
        .map(|answer| (typed(answer, style), consequence(answer, question.topic)))
        .collect()
}

fn typed(answer: &Answer, style: Style) -> String {
    match style {
        Style::Setting if !answer.set.is_empty() => {
            format!("--set '{}'", answer.set.replace('\'', r"'\''"))
        }
        _ => answer.option.clone(),
    }
}

/// What comes of an answer.
pub fn consequence(answer: &Answer, topic: Topic) -> String {
    if answer.is_text() {
        return answer.reads_as.clone();
    }
    let comes_of_it = match topic {
        Topic::Placeholder | Topic::ShiftedMidnights if answer.withdraws == 0 => {
            "nothing changes".to_owned()
        }
        Topic::Placeholder => format!("leaves {} blank", count(answer.withdraws, "cell")),
        _ => format!("converts {}", number(answer.converts)),
    };
    let mut text = format!("{}; {comes_of_it}", answer.reads_as);
    if answer.contradicted_by > 0 {
        text.push_str(", contradicts ");
        text.push_str(&number(answer.contradicted_by));
        if matches!(topic, Topic::Order | Topic::Swapped) {
            text.push_str(" that fit only another order");
        }
    }
    text
}
