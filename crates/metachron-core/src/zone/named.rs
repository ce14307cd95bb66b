//! Zones by the names that people give them.

use super::abbreviation::is_abbreviation;
use super::database::{zone, zone_ids};
use crate::words::nearest;
use indexmap::IndexMap;
use jiff::Timestamp;
use jiff::tz::{Offset, TimeZone, TimeZoneTransition};
use serde::{Deserialize, Serialize};
use std::str::FromStr;

/// A zone: one of the IANA time zone database, or a fixed offset from UTC.
///
/// ```
/// use metachron_core::zone::Zone;
///
/// for (text, name) in [
///     ("europe/lisbon", "Europe/Lisbon"),
///     ("UTC", "UTC"),
///     ("+0100", "+01:00"),
///     ("GMT+2", "+02:00"),
///     ("\u{2212}05:30", "-05:30"),
///     ("+00:19:32", "+00:19:32"),
/// ] {
///     assert_eq!(text.parse::<Zone>().unwrap().to_string(), name);
/// }
/// let error = "Europe/Lisboa".parse::<Zone>().unwrap_err();
/// assert_eq!(error.to_string(), "no zone is called `Europe/Lisboa`; did you mean `Europe/Lisbon`?");
/// ```
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub struct Zone {
    name: String,
    rules: TimeZone,
}

/// Zones by names of one's own: of sites, of offices, or abbreviations that
/// several zones go by.
pub type Zones = IndexMap<String, Zone>;

/// A text that names no zone.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum NoSuchZone {
    /// No zone is called so.
    #[error("no zone is called `{name}`{}", did_you_mean(.near))]
    Unknown {
        /// What was asked for.
        name: String,
        /// The nearest name there is.
        near: Option<String>,
    },
    /// It is an abbreviation. The database has zones called `EST` and `CET`, one
    /// of which has no summer time and the other has; people who write them
    /// mean the clocks of a place.
    #[error(
        "`{0}` is an abbreviation, which says nothing of summer time; name the zone of a place, such as Europe/Lisbon, or an offset"
    )]
    Abbreviation(String),
}

fn did_you_mean(near: &Option<String>) -> String {
    let near = near
        .as_ref()
        .map(|near| format!("; did you mean `{near}`?"));
    near.unwrap_or_default()
}

impl Zone {
    /// UTC.
    pub fn utc() -> Zone {
        Zone {
            name: "UTC".to_owned(),
            rules: TimeZone::UTC,
        }
    }

    /// That of a fixed offset from UTC.
    pub fn fixed(offset: Offset) -> Zone {
        Zone {
            name: written(offset),
            rules: TimeZone::fixed(offset),
        }
    }

    /// That of rules from elsewhere, such as a TZif file (RFC 9636), under a name of one's own.
    pub fn with_rules(name: impl Into<String>, rules: TimeZone) -> Zone {
        Zone {
            name: name.into(),
            rules,
        }
    }

    /// What it goes by: an identifier, or an offset as `+01:00`.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// Whether it is a fixed offset, UTC included.
    pub fn is_fixed(&self) -> bool {
        self.rules.to_fixed_offset().is_ok()
    }

    /// Its offset from UTC at an instant.
    ///
    /// ```
    /// use metachron_core::zone::Zone;
    ///
    /// let lisbon: Zone = "Europe/Lisbon".parse().unwrap();
    /// let summer = "2026-07-01T00:00:00Z".parse().unwrap();
    /// assert_eq!(lisbon.offset_at(summer).seconds(), 3600);
    /// ```
    pub fn offset_at(&self, at: Timestamp) -> Offset {
        self.rules.to_offset(at)
    }

    /// Its rules.
    pub fn rules(&self) -> &TimeZone {
        &self.rules
    }

    /// The changes of its offset or its abbreviation after an instant, in their order.
    ///
    /// ```
    /// use metachron_core::zone::Zone;
    ///
    /// let lisbon: Zone = "Europe/Lisbon".parse().unwrap();
    /// let summer = "2026-07-01T00:00:00Z".parse().unwrap();
    /// let change = lisbon.changes_after(summer).next().unwrap();
    /// assert_eq!(change.timestamp().to_string(), "2026-10-25T01:00:00Z");
    /// ```
    pub fn changes_after(&self, at: Timestamp) -> impl Iterator<Item = TimeZoneTransition<'_>> {
        changes_after(&self.rules, at)
    }
}

/// The changes of `rules` after an instant, in their order.
///
/// A file of a zone may end without rules for the time behind its last change
/// (RFC 8536 §3.3: the footer may be empty). The library then hands out that change
/// again and again.
pub(super) fn changes_after(
    rules: &TimeZone,
    at: Timestamp,
) -> impl Iterator<Item = TimeZoneTransition<'_>> {
    let mut last = at;
    rules.following(at).take_while(move |change| {
        let is_later = change.timestamp() > last;
        last = change.timestamp();
        is_later
    })
}

impl FromStr for Zone {
    type Err = NoSuchZone;

    fn from_str(text: &str) -> Result<Zone, NoSuchZone> {
        let text = text.trim();
        if text == "Z" || text.eq_ignore_ascii_case("utc") {
            return Ok(Zone::utc());
        }
        if let Some(offset) = offset(text) {
            return Ok(Zone::fixed(offset));
        }
        if is_abbreviation(text) {
            return Err(NoSuchZone::Abbreviation(text.to_owned()));
        }
        match zone(text) {
            Some(rules) => Ok(Zone {
                name: rules.iana_name().unwrap_or(text).to_owned(),
                rules,
            }),
            None => Err(NoSuchZone::Unknown {
                name: text.to_owned(),
                near: nearest(text, zone_ids().iter().map(String::as_str)).map(str::to_owned),
            }),
        }
    }
}

impl TryFrom<String> for Zone {
    type Error = NoSuchZone;

    fn try_from(text: String) -> Result<Zone, NoSuchZone> {
        text.parse()
    }
}

impl From<Zone> for String {
    fn from(zone: Zone) -> String {
        zone.name
    }
}

impl std::fmt::Display for Zone {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.name)
    }
}

/// The offset that `+01`, `+0100`, `+01:00`, `+01:00:30`, each perhaps behind
/// `UTC` or `GMT`, stands for. The sign may be U+2212.
fn offset(text: &str) -> Option<Offset> {
    let area = text
        .get(..3)
        .filter(|area| ["utc", "gmt"].contains(&&*area.to_ascii_lowercase()));
    let text = &text[area.map_or(0, str::len)..];
    let (sign, digits) = match text.strip_prefix('+') {
        Some(digits) => (1, digits),
        None => (-1, text.strip_prefix(['-', '\u{2212}'])?),
    };
    let number = |text: &str| match text.len() {
        1 | 2 => text
            .bytes()
            .all(|b| b.is_ascii_digit())
            .then(|| text.parse().ok())?,
        _ => None,
    };
    let parts: Vec<i32> = if digits.contains(':') {
        digits.split(':').map(number).collect::<Option<_>>()?
    } else {
        let pairs = digits.as_bytes().chunks(2).map(std::str::from_utf8);
        pairs
            .map(|pair| number(pair.ok()?))
            .collect::<Option<_>>()?
    };
    let (hours, minutes, seconds) = match parts[..] {
        [hours] => (hours, 0, 0),
        [hours, minutes] => (hours, minutes, 0),
        [hours, minutes, seconds] => (hours, minutes, seconds),
        _ => return None,
    };
    // No zone has ever been 18 hours or more from UTC.
    if hours >= 18 || minutes >= 60 || seconds >= 60 || digits.len() % 2 == 1 && digits.len() == 3 {
        return None;
    }
    Offset::from_seconds(sign * ((hours * 60 + minutes) * 60 + seconds)).ok()
}

/// `+01:00`, with seconds only where there are some.
pub(crate) fn written(offset: Offset) -> String {
    let mut text = Vec::new();
    write_offset(offset, &mut text);
    String::from_utf8(text).unwrap_or_default()
}

/// The same, put behind `out`.
pub(crate) fn write_offset(offset: Offset, out: &mut Vec<u8>) {
    let all = offset.seconds().unsigned_abs();
    out.push(if offset.is_negative() { b'-' } else { b'+' });
    out.extend([b'0' + (all / 36_000) as u8, b'0' + (all / 3600 % 10) as u8]);
    let (minutes, seconds) = (all / 60 % 60, all % 60);
    for (part, is_there) in [(minutes, true), (seconds, seconds != 0)] {
        if is_there {
            out.push(b':');
            out.extend([b'0' + (part / 10) as u8, b'0' + (part % 10) as u8]);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn what_is_no_zone() {
        for text in [
            "",
            "+",
            "+1:0:0:0",
            "+100",
            "+25",
            "+01:75",
            "Lisbon office",
            "CST",
            "+-1",
            "EST",
            "cet",
        ] {
            assert!(text.parse::<Zone>().is_err(), "{text}");
        }
    }

    proptest! {
        #[test]
        fn offsets_are_read_as_they_are_written(seconds in -64_799..64_800_i32) {
            let zone = Zone::fixed(Offset::from_seconds(seconds).unwrap());
            prop_assert_eq!(zone.to_string().parse::<Zone>().unwrap(), zone);
        }
    }
}
