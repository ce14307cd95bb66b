//! The list of locales.

use super::plain_table;
use crate::command::locales::LocaleFacts;
use metachron_core::calendar::Calendar;

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
