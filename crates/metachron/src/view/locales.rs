//! The list of locales, and what a cell is in them.

use super::plain_table;
use metachron_core::calendar::Calendar;
use serde::Serialize;

/// A locale of the list. See docs/json.md.
#[derive(Debug, Serialize)]
pub struct LocaleFacts {
    /// Its tag.
    pub tag: String,
    /// The calendar it writes dates in.
    pub calendar: Calendar,
    /// The fifth of March 2024, half past two in the afternoon, in short.
    pub short: String,
    /// The same in full, with the weekday.
    pub full: String,
    /// Its patterns, where it alone is asked for.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub patterns: Vec<String>,
}

/// What a cell is in some locales. See docs/json.md.
#[derive(Debug, Serialize)]
pub struct CellFacts {
    /// The value, as ISO 8601 text.
    pub stamp: String,
    /// How it is written.
    pub form: String,
    /// The locales in which it is that.
    pub locales: Vec<String>,
}

/// The list as text, a locale a line, with the patterns behind it.
pub fn list(locales: &[LocaleFacts]) -> String {
    let mut table = plain_table();
    for locale in locales {
        let calendar = match locale.calendar {
            Calendar::Gregory => "",
            other => other.name(),
        };
        table.add_row([&*locale.tag, &locale.short, &locale.full, calendar]);
    }
    if locales.is_empty() {
        return String::new();
    }
    let mut text = lines(&table.to_string());
    for locale in locales.iter().filter(|locale| !locale.patterns.is_empty()) {
        text.push_str(&format!("\nPatterns that {} is read by\n", locale.tag));
        for pattern in &locale.patterns {
            text.push_str(&format!("  {pattern}\n"));
        }
    }
    text
}

/// What a cell is, a value a line, with the locales in which it is that.
pub fn cell(read: &[CellFacts]) -> String {
    let mut table = plain_table();
    for read in read {
        table.add_row([&*read.stamp, &read.form, &read.locales.join(", ")]);
    }
    if read.is_empty() {
        return String::new();
    }
    let mut text = lines(&table.to_string());
    let first = &read[0].stamp;
    if read.iter().any(|read| read.stamp != *first) {
        text.push_str(
            "\nThis cell does not tell them apart: others of its column may, or --read-locale says it.\n",
        );
    }
    text
}

/// The lines of a table, without the space behind them.
fn lines(table: &str) -> String {
    let lines = table.lines().map(|line| format!("{}\n", line.trim_end()));
    lines.collect()
}
