//! One value, explained.

use super::message::{FAINT, STRONG, WAITS};
use super::plain_table;
use crate::job::explain::{Explained, ReadingFacts, Standing};
use crate::words::cell;
use comfy_table::Table;
use metachron_core::stamp::Kind;

/// The explanation as text, styled.
pub fn explained(explained: &Explained) -> String {
    let standing = match explained.standing {
        Standing::Certain => "certain: there is one way to read it".to_owned(),
        Standing::Blank => "blank: it stands for an empty cell".to_owned(),
        Standing::Unreadable => {
            let why = match (&explained.rejected[..], &explained.leftover) {
                ([], Some(leftover)) => format!("besides a date or time it holds `{leftover}`"),
                ([], None) => "no date or time can be read in it".to_owned(),
                _ => "looks like a date, but none it can be".to_owned(),
            };
            format!("{WAITS}unreadable{WAITS:#}: {why}")
        }
        Standing::Open => match usual(explained) {
            0 if explained.readings.is_empty() => {
                format!("{WAITS}open{WAITS:#}: it can be read once the rest is said")
            }
            0 => format!(
                "{WAITS}open{WAITS:#}: it can be read in rare ways alone, or once more is said"
            ),
            1 if explained.calendars.len() == 1 => {
                format!("{WAITS}open{WAITS:#}: one way to read it, if its year is of our calendar")
            }
            1 if explained.year_is_far => {
                format!("{WAITS}open{WAITS:#}: one way to read it, if its year is meant")
            }
            _ if explained.readings.iter().any(|reading| reading.count) => format!(
                "{WAITS}open{WAITS:#}: a number; only its column says whether it counts time"
            ),
            1 if !explained
                .readings
                .iter()
                .any(|reading| reading.two_digit_year) =>
            {
                format!(
                    "{WAITS}open{WAITS:#}: one way to read it, and another once the rest is said"
                )
            }
            1 => format!("{WAITS}open{WAITS:#}: one way to read it, in a century that is not said"),
            several => format!("{WAITS}open{WAITS:#}: {several} ways to read it"),
        },
    };
    let mut text = format!("{STRONG}{}{STRONG:#}  {standing}\n", cell(&explained.value));
    if !explained.tokens.is_empty() {
        let tokens: Vec<String> = explained
            .tokens
            .iter()
            .filter(|token| token.what != "space")
            .map(|token| match token.what.as_str() {
                "sign" => token.text.clone(),
                what => format!("{} {FAINT}{what}{FAINT:#}", token.text),
            })
            .collect();
        text.push_str(&format!("  {}\n", tokens.join("  ")));
    }
    if !explained.readings.is_empty() {
        text.push('\n');
        text.push_str(&readings(&explained.readings));
    }
    if !explained.rejected.is_empty() {
        text.push_str(&rejected(explained));
    }
    if !explained.settled_by.is_empty() {
        text.push_str("\n  What would settle it:\n");
        for way in &explained.settled_by {
            text.push_str(&format!("  - {way}\n"));
        }
    }
    text
}

fn usual(explained: &Explained) -> usize {
    explained
        .readings
        .iter()
        .filter(|reading| reading.usual)
        .count()
}

fn readings(readings: &[ReadingFacts]) -> String {
    let mut table = plain_table();
    for reading in readings {
        let order = reading
            .order
            .map_or(reading.kind.name(), |order| order.words());
        let note = match (reading.usual, reading.kind) {
            (true, _) => "",
            (false, Kind::Duration) => "only where the column says so",
            (false, _) => "rare: counts only where no usual way fits",
        };
        table.add_row([
            &reading.stamp,
            &reading.in_words,
            &reading.form,
            order,
            note,
        ]);
    }
    lines(&table)
}

fn rejected(explained: &Explained) -> String {
    let mut table = plain_table();
    for reading in &explained.rejected {
        table.add_row(["not", &reading.form, &reading.reason]);
    }
    format!("{FAINT}{}{FAINT:#}\n", lines(&table).trim_end_matches('\n'))
}

fn lines(table: &Table) -> String {
    let text = table.to_string();
    text.lines()
        .map(|line| format!(" {}\n", line.trim_end()))
        .collect()
}
