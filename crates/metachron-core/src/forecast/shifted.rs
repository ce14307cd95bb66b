//! Signs that times went through a zone: questions, not repairs.

use crate::evidence::ColumnEvidence;
use crate::rulings::{ColumnRuling, ShiftedMidnights};
use crate::stamp::Kind;
use crate::words::{self, list};
use crate::zone::{Zone, written, zone_ids};
use jiff::civil::{Time, date};
use jiff::tz::Offset;

/// So many cells, on so many days of the year, are no accident.
const LEAST_CELLS: u64 = 5;
const LEAST_DAYS: u32 = 3;

/// At most so many zones are named.
const ZONES_NAMED: usize = 3;

/// Whether times that are all midnights somewhere else are hardly anything else: an hour
/// apart in winter and summer, or at night. At nine every morning somebody reads a gauge.
pub(super) fn are_hardly_meant(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> bool {
    shifted_times(evidence, ruling).is_some_and(|times| match times[..] {
        [only] => !DAYTIME.contains(&only.hour()),
        _ => true,
    })
}

/// Hours in which something is done at the same time every day.
const DAYTIME: std::ops::Range<i8> = 4..21;

/// The one or two times of a column that are all midnights somewhere else: days that a
/// program took for midnights in a zone, and another wrote in UTC.
fn shifted_times(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Option<Vec<Time>> {
    let is_asked = ruling.read.shifted_midnights == ShiftedMidnights::Ask;
    let has_time = matches!(ruling.kind, Kind::DateTime | Kind::Instant);
    if !is_asked || !has_time || ruling.read.has_zone() {
        return None;
    }
    let points = || {
        evidence
            .shapes
            .iter()
            .filter(|shape| !shape.times.is_empty())
    };
    let cells: u64 = points().map(|shape| shape.cells()).sum();
    let days: u32 = points().map(|shape| shape.days.count()).sum();
    let mut times: Vec<Time> = Vec::new();
    for shape in points() {
        let own = shape.times.all();
        if own.is_empty() {
            return None;
        }
        times.extend(own);
    }
    times.sort_unstable();
    times.dedup();
    let is_whole = |time: &Time| time.minute() % 15 == 0 && time.second() == 0;
    let is_shift = match &times[..] {
        [only] => *only != Time::midnight() && is_whole(only),
        // Winter and summer of one zone are an hour apart.
        [one, other] => {
            is_whole(one)
                && one.minute() == other.minute()
                && is_whole(other)
                && (hours(one) - hours(other)).abs() == 1
        }
        _ => false,
    };
    (is_shift && cells >= LEAST_CELLS && days >= LEAST_DAYS).then_some(times)
}

/// The hours that a time is behind midnight; below zero where it is before.
fn hours(time: &Time) -> i32 {
    (i32::from(time.hour()) + 12) % 24 - 12
}

/// That all times are midnights somewhere else.
pub(super) fn midnights(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Option<String> {
    let times = shifted_times(evidence, ruling)?;
    let offset = |time: &Time| {
        let minutes = hours(time) * 60 + i32::from(time.minute());
        Offset::from_seconds(-60 * minutes).ok().map(written)
    };
    let written: Vec<String> = times
        .iter()
        .map(|time| time.strftime("%H:%M").to_string())
        .collect();
    let offsets: Vec<String> = times.iter().filter_map(offset).collect();
    let zone = match ruling.kind {
        Kind::Instant => " in UTC",
        _ => "",
    };
    let then = match ruling.kind {
        Kind::Instant => "Shown there, with --write-zone, they are midnights again",
        _ => {
            "If they were, they are one day short or the clock is not theirs: ask where the file \
             came from"
        }
    };
    Some(format!(
        "all times are {}{zone}, as days are that were shifted through a zone of offset {}. \
         {then}",
        list(&written, "or"),
        list(&offsets, "and"),
    ))
}

/// That the offsets are those of one zone in winter and in summer.
pub(super) fn one_zone(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Option<String> {
    if ruling.kind != Kind::Instant {
        return None;
    }
    let mut offsets: Vec<(i32, u16)> = Vec::new();
    let mut year = None;
    for shape in &evidence.shapes {
        let own = shape.offsets.all();
        let ends = shape.spans.iter().filter_map(|span| span.latest?.date());
        year = year.max(ends.map(|day| day.year()).max());
        for (offset, months) in own {
            match offsets.iter_mut().find(|(known, _)| *known == offset) {
                Some((_, known)) => *known |= months,
                None => offsets.push((offset, months)),
            }
        }
    }
    let (year, cells) = (year?, evidence.filled());
    if offsets.len() < 2 || cells < LEAST_CELLS {
        return None;
    }
    let has_all = |zone: &Zone| {
        let has = |(offset, months): &(i32, u16)| {
            (1..=12)
                .filter(|month| months >> month & 1 == 1)
                .all(|month| {
                    [1, 15, 28].iter().any(|&day| {
                        let noon = Offset::UTC.to_timestamp(date(year, month, day).at(12, 0, 0, 0));
                        noon.is_ok_and(|noon| zone.offset_at(noon).seconds() == *offset)
                    })
                })
        };
        offsets.iter().all(has)
    };
    let zones = zone_ids().into_iter().filter(|id| id.contains('/'));
    let mut zones: Vec<String> = zones
        .filter(|id| id.parse().is_ok_and(|zone| has_all(&zone)))
        .collect();
    // Capitals and their like before islands of the same clocks.
    let is_land = |id: &String| {
        ["Europe", "America", "Asia", "Australia"]
            .iter()
            .any(|land| id.starts_with(land))
    };
    zones.sort_by_key(|id| !is_land(id));
    let more = zones.len().saturating_sub(ZONES_NAMED);
    zones.truncate(ZONES_NAMED);
    if zones.is_empty() {
        return None;
    }
    offsets.sort_unstable();
    let offset = |&(seconds, _): &(i32, u16)| Offset::from_seconds(seconds).ok().map(written);
    let offsets: Vec<String> = offsets.iter().filter_map(offset).collect();
    let more = match more {
        0 => String::new(),
        more => format!(" and {} more", words::number(more as u64)),
    };
    Some(format!(
        "its offsets, {}, change with the seasons as those of {}{more} do: was it written in one of \
         them? --write-zone shows the times of its clocks",
        words::list(&offsets, "and"),
        zones.join(", "),
    ))
}
