//! What there is to know of a zone.

use super::named::written;
use super::{Zone, zone_ids};
use icu_time::zone::iana::IanaParser;
use jiff::{Span, Timestamp};

/// What there is to know of a zone at an instant.
///
/// ```
/// use metachron_core::zone::{Zone, ZoneFacts};
///
/// let lisbon: Zone = "Europe/Lisbon".parse()?;
/// let facts = ZoneFacts::of(&lisbon, "2026-11-24T00:00:00Z".parse()?);
/// assert_eq!(facts.country.as_deref(), Some("PT"));
/// assert_eq!((facts.offset.as_str(), facts.abbreviation.as_deref()), ("+00:00", Some("WET")));
/// assert_eq!(facts.offsets_in_a_year, ["+00:00", "+01:00"]);
/// let next = facts.next_change.expect("summer comes");
/// assert_eq!((next.at.to_string().as_str(), next.offset.as_str()), ("2027-03-28T01:00:00Z", "+01:00"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ZoneFacts {
    /// Its identifier.
    pub zone: String,
    /// The country it is in, by its code (ISO 3166-1 alpha-2), if it is in one.
    pub country: Option<String>,
    /// Its offset from UTC at the instant.
    pub offset: String,
    /// The abbreviation it goes by then, where it has one in letters.
    pub abbreviation: Option<String>,
    /// The offsets it has within a year from the instant on, that one first.
    pub offsets_in_a_year: Vec<String>,
    /// The abbreviations that go with them, where they are in letters.
    pub abbreviations_in_a_year: Vec<String>,
    /// When its offset changes next, if it does.
    pub next_change: Option<ZoneChange>,
}

/// A change of a zone's offset.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ZoneChange {
    /// When.
    pub at: Timestamp,
    /// The offset from then on.
    pub offset: String,
}

impl ZoneFacts {
    /// Those of a zone at an instant.
    pub fn of(zone: &Zone, at: Timestamp) -> ZoneFacts {
        let rules = zone.rules();
        let offset = zone.offset_at(at);
        // A day longer, so that a change on the same date next year is seen.
        let year = Span::new().hours(366 * 24);
        let end = at.checked_add(year).unwrap_or(Timestamp::MAX);
        let lettered = |text: &str| {
            let is_lettered = text.bytes().all(|byte| byte.is_ascii_alphabetic());
            is_lettered.then(|| text.to_owned())
        };
        let abbreviation = lettered(rules.to_offset_info(at).abbreviation());
        let mut facts = ZoneFacts {
            zone: zone.name().to_owned(),
            country: country(zone.name()),
            offset: written(offset),
            offsets_in_a_year: vec![written(offset)],
            abbreviations_in_a_year: abbreviation.iter().cloned().collect(),
            abbreviation,
            next_change: None,
        };
        let mut known = offset;
        for change in zone.changes_after(at) {
            if change.offset() != known && facts.next_change.is_none() {
                facts.next_change = Some(ZoneChange {
                    at: change.timestamp(),
                    offset: written(change.offset()),
                });
            }
            if change.timestamp() > end {
                break;
            }
            known = change.offset();
            push(&mut facts.offsets_in_a_year, Some(written(known)));
            push(
                &mut facts.abbreviations_in_a_year,
                lettered(change.abbreviation()),
            );
        }
        facts
    }

    /// The zones that `text` asks for: a country's code, an abbreviation or an
    /// offset of the year, or else a part of their names.
    pub fn find(text: &str, at: Timestamp) -> Vec<ZoneFacts> {
        let text = text.trim();
        let all: Vec<ZoneFacts> = ZoneFacts::all(at).collect();
        let offset = text.parse::<Zone>().ok().filter(Zone::is_fixed);
        let offset = offset.map(|zone| written(zone.offset_at(at)));
        let by_rule = |facts: &&ZoneFacts| {
            let is = |other: &str| other == text;
            let offset = offset.as_ref();
            facts.abbreviations_in_a_year.iter().any(|own| is(own))
                || facts
                    .country
                    .as_deref()
                    .is_some_and(|own| own.eq_ignore_ascii_case(text))
                || offset.is_some_and(|offset| facts.offsets_in_a_year.contains(offset))
        };
        let lower = |text: &str| text.to_lowercase().replace(' ', "_");
        let by_name = |facts: &&ZoneFacts| lower(&facts.zone).contains(&lower(text));
        let found: Vec<ZoneFacts> = all.iter().filter(by_rule).cloned().collect();
        if found.is_empty() {
            all.iter().filter(by_name).cloned().collect()
        } else {
            found
        }
    }

    /// Those of all zones of the database at an instant.
    pub fn all(at: Timestamp) -> impl Iterator<Item = ZoneFacts> {
        let zones = zone_ids()
            .into_iter()
            .filter_map(|id| id.parse::<Zone>().ok());
        zones.map(move |zone| ZoneFacts::of(&zone, at))
    }
}

fn push(known: &mut Vec<String>, more: Option<String>) {
    known.extend(more.filter(|more| !known.contains(more)));
}

/// The country that a zone is in. CLDR's short identifiers of zones begin with
/// that of their country, as the codes of places do (UN/LOCODE), but for those
/// of zones that are in none and for a few names that were too short (UTS #35,
/// "Time Zone Identifiers").
fn country(id: &str) -> Option<String> {
    let short = IanaParser::new().parse(id);
    let code = short.as_str();
    match code {
        "jeruslm" => return Some("IL".to_owned()),
        "gazastrp" | "hebron" => return Some("PS".to_owned()),
        _ => {}
    }
    // `gmt`, `utce01`, `est5edt` and `unk` are no places.
    let has_digit = code.bytes().any(|byte| byte.is_ascii_digit());
    let is_place = code.len() == 5 || code.len() > 5 && !has_digit;
    is_place.then(|| code[..2].to_uppercase())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn asked(text: &str) -> Vec<String> {
        let at = "2026-07-01T00:00:00Z".parse().unwrap();
        let zones = ZoneFacts::find(text, at).into_iter();
        zones.map(|facts| facts.zone).collect()
    }

    #[test]
    fn zones_are_found_by_what_is_known_of_them() {
        for (text, some, other) in [
            ("lisb", "Europe/Lisbon", "Europe/Riga"),
            ("new york", "America/New_York", "America/Lima"),
            ("PT", "Atlantic/Azores", "Asia/Tokyo"),
            ("pt", "Europe/Lisbon", "Africa/Lagos"),
            ("CEST", "Europe/Berlin", "Europe/Lisbon"),
            ("EET", "Europe/Riga", "Europe/Lisbon"),
            ("+05:45", "Asia/Kathmandu", "Asia/Kolkata"),
            ("IL", "Asia/Jerusalem", "Asia/Gaza"),
            ("IST", "Asia/Kolkata", "Europe/Istanbul"),
            ("ist", "Europe/Istanbul", "Asia/Kolkata"),
            ("UTC+1", "Europe/Lisbon", "Europe/Riga"),
        ] {
            let found = asked(text);
            assert!(found.iter().any(|zone| zone == some), "{text}: {found:?}");
            assert!(!found.iter().any(|zone| zone == other), "{text}: {found:?}");
        }
        assert!(asked("nowhere at all").is_empty());
    }

    #[test]
    fn zones_that_never_change_again() {
        let zone: Zone = "Asia/Tokyo".parse().unwrap();
        let facts = ZoneFacts::of(&zone, "2026-07-01T00:00:00Z".parse().unwrap());
        assert_eq!(facts.next_change, None);
        assert_eq!(facts.offsets_in_a_year, ["+09:00"]);
        let before = ZoneFacts::of(&zone, "1948-04-01T00:00:00Z".parse().unwrap());
        assert_eq!(before.offsets_in_a_year, ["+09:00", "+10:00"]);
    }
}
