//! A time zone.

use metachron_core::zone::ZoneFacts;
use serde::Serialize;

/// A zone of the list.
#[derive(Serialize)]
pub struct Zone<'z> {
    zone: &'z str,
    country: Option<&'z str>,
    offset: &'z str,
    abbreviation: Option<&'z str>,
    offsets_in_a_year: &'z [String],
    next_change: Option<Change<'z>>,
}

#[derive(Serialize)]
struct Change<'z> {
    at: String,
    offset: &'z str,
}

impl<'z> From<&'z ZoneFacts> for Zone<'z> {
    fn from(facts: &'z ZoneFacts) -> Zone<'z> {
        Zone {
            zone: &facts.zone,
            country: facts.country.as_deref(),
            offset: &facts.offset,
            abbreviation: facts.abbreviation.as_deref(),
            offsets_in_a_year: &facts.offsets_in_a_year,
            next_change: facts.next_change.as_ref().map(|change| Change {
                at: change.at.to_string(),
                offset: &change.offset,
            }),
        }
    }
}
