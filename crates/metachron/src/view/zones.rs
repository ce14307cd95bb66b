//! The list of zones.

use super::plain_table;
use jiff::{Timestamp, Unit};
use metachron_core::zone::{Zone, ZoneFacts};

/// The list as text, a zone a line.
pub fn list(zones: &[ZoneFacts], at: Timestamp) -> String {
    if zones.is_empty() {
        return String::new();
    }
    let mut table = plain_table();
    let at = at.round(Unit::Second).unwrap_or(at);
    table.add_row(["zone", "in", "offset", "", "next change"]);
    for facts in zones {
        let abbreviation = facts.abbreviation.as_deref().unwrap_or_default();
        table.add_row([
            &*facts.zone,
            facts.country.as_deref().unwrap_or_default(),
            &facts.offset,
            abbreviation,
            &next(facts),
        ]);
    }
    let lines = table.to_string();
    let lines = lines.lines().map(|line| format!("{}\n", line.trim_end()));
    let offsets = format!(" offsets at {at}\n");
    std::iter::once(offsets).chain(lines).collect()
}

/// When its clocks are changed next, by the clocks before, and to what.
fn next(facts: &ZoneFacts) -> String {
    let Some(change) = &facts.next_change else {
        return "none is known".to_owned();
    };
    let before = facts
        .offset
        .parse::<Zone>()
        .map(|zone| zone.offset_at(change.at));
    let local = before.map(|offset| offset.to_datetime(change.at).strftime("%F %R").to_string());
    format!(
        "{} to {}",
        local.unwrap_or_else(|_| change.at.to_string()),
        change.offset
    )
}
