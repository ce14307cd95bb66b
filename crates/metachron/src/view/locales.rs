//! The list of locales.

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
}

/// The list as text, a locale a line.
pub fn list(locales: &[LocaleFacts]) -> String {
    let mut table = plain_table();
    for locale in locales {
        let calendar = match locale.calendar {
            Calendar::Gregory => "",
            other => other.name(),
        };
        table.add_row([&*locale.tag, &locale.short, &locale.full, calendar]);
    }
    let lines = table.to_string();
    let mut text: String = lines
        .lines()
        .map(|line| format!("{}\n", line.trim_end()))
        .collect();
    if locales.is_empty() {
        text.clear();
    }
    text
}
