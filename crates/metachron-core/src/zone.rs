//! Time zones that a cell names: by the identifiers of the IANA time zone
//! database, which is built into the program, and by abbreviations.
//!
//! ```
//! use jiff::civil::date;
//! use metachron_core::zone::{Local, abbreviation, local, offset_at};
//!
//! // CET has stood for one offset ever since 1970, CST for three.
//! assert_eq!(abbreviation("CET"), Some(Some(3600)));
//! assert_eq!(abbreviation("CST"), Some(None));
//! assert_eq!(abbreviation("Crate"), None);
//!
//! let summer = date(2024, 7, 1).at(12, 0, 0, 0);
//! let Some(Local::Once(at)) = local("Europe/Lisbon", summer) else { unreachable!() };
//! assert_eq!(at.to_string(), "2024-07-01T11:00:00Z");
//! assert_eq!(offset_at("Europe/Lisbon", at), Some(3600));
//! ```

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, TimeZone, TimeZoneDatabase};
use std::sync::LazyLock;

/// Abbreviations with the one offset, in minutes, that they have stood for
/// since 1970 in the IANA time zone database, and stand for elsewhere.
const ABBREVIATIONS: [(&str, i32); 31] = [
    ("ACDT", 630),
    ("ACST", 570),
    ("AEDT", 660),
    ("AEST", 600),
    ("AKDT", -480),
    ("AKST", -540),
    ("AWST", 480),
    ("CAT", 120),
    ("CEST", 120),
    ("CET", 60),
    ("EAT", 180),
    ("EEST", 180),
    ("EET", 120),
    ("GMT", 0),
    ("HKT", 480),
    ("HST", -600),
    ("JST", 540),
    ("MEST", 120),
    ("MET", 60),
    ("NZDT", 780),
    ("NZST", 720),
    ("PKT", 300),
    ("SAST", 120),
    ("UT", 0),
    ("UTC", 0),
    ("WAT", 60),
    ("WEST", 60),
    ("WET", 0),
    ("WIB", 420),
    ("WIT", 540),
    ("WITA", 480),
];

/// Abbreviations that several offsets go by: Eastern time is one thing in
/// America and another in Australia, Moscow's was moved twice.
const SEVERAL: [&str; 19] = [
    "ADT", "AST", "BST", "CDT", "CST", "EDT", "EST", "GST", "IST", "KST", "MDT", "MSK", "MST",
    "NDT", "NST", "PDT", "PST", "SST", "WST",
];

/// The offset from UTC, in seconds, that an abbreviation stands for:
/// `Some(None)` where it stands for several, `None` where it is none that is
/// known. Abbreviations are capitals; in small letters many are words.
pub fn abbreviation(word: &str) -> Option<Option<i32>> {
    let known = ABBREVIATIONS.iter().find(|(name, _)| *name == word);
    let one = known.map(|(_, minutes)| Some(60 * minutes));
    one.or_else(|| SEVERAL.contains(&word).then_some(None))
}

/// The areas that the identifiers of zones begin with.
const AREAS: [&str; 11] = [
    "Africa",
    "America",
    "Antarctica",
    "Arctic",
    "Asia",
    "Atlantic",
    "Australia",
    "Etc",
    "Europe",
    "Indian",
    "Pacific",
];

/// How many bytes at the start of `text` look like the identifier of a zone:
/// `Europe/Lisbon`, `America/Argentina/Ushuaia`.
pub fn id_len(text: &str) -> Option<usize> {
    let area = AREAS.iter().find_map(|area| text.strip_prefix(area));
    let place = area?.strip_prefix('/')?;
    place
        .starts_with(|first: char| first.is_ascii_alphabetic())
        .then_some(())?;
    let is_part = |byte: &u8| byte.is_ascii_alphanumeric() || b"/_+-".contains(byte);
    Some(text.bytes().take_while(|byte| is_part(byte)).count())
}

/// What a local time is in a zone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Local {
    /// An instant.
    Once(Timestamp),
    /// It was skipped when clocks went forward.
    Never,
    /// It was twice when clocks went back.
    Twice,
    /// An instant beyond those that can be reckoned with.
    OutOfRange,
}

/// The zone of that identifier. The database is the one that is built in: a
/// machine's own would make the same file come out differently elsewhere.
fn zone(id: &str) -> Option<TimeZone> {
    static ZONES: LazyLock<TimeZoneDatabase> = LazyLock::new(TimeZoneDatabase::bundled);
    ZONES.get(id).ok()
}

/// What the local time `at` is in the zone `id`; `None` where there is no such
/// zone.
pub fn local(id: &str, at: DateTime) -> Option<Local> {
    let ambiguous = zone(id)?.to_ambiguous_timestamp(at);
    Some(match ambiguous.offset() {
        AmbiguousOffset::Gap { .. } => Local::Never,
        AmbiguousOffset::Fold { .. } => Local::Twice,
        AmbiguousOffset::Unambiguous { .. } => match ambiguous.unambiguous() {
            Ok(at) => Local::Once(at),
            Err(_) => Local::OutOfRange,
        },
    })
}

/// The offset from UTC, in seconds, that the zone `id` has at an instant.
pub fn offset_at(id: &str, at: Timestamp) -> Option<i32> {
    Some(zone(id)?.to_offset(at).seconds())
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn identifiers_of_zones() {
        for (text, len) in [
            ("Europe/Lisbon]", Some(13)),
            ("America/Argentina/Ushuaia", Some(25)),
            ("Etc/GMT+5 x", Some(9)),
            ("Europe", None),
            ("Europe/", None),
            ("Europe/1", None),
            ("Oslo/Riga", None),
        ] {
            assert_eq!(id_len(text), len, "{text}");
        }
    }

    #[test]
    fn local_times_that_never_were_and_that_were_twice() {
        let at = |month, day, hour| date(2025, month, day).at(hour, 30, 0, 0);
        assert_eq!(local("Europe/Riga", at(3, 30, 3)), Some(Local::Never));
        assert_eq!(local("Europe/Riga", at(10, 26, 3)), Some(Local::Twice));
        assert!(matches!(
            local("Europe/Riga", at(10, 26, 5)),
            Some(Local::Once(_))
        ));
        assert_eq!(local("Europe/Nowhere", at(1, 1, 1)), None);
    }

    /// The database knows every abbreviation here by the offset given, and no
    /// other zone of it uses the abbreviation for another one now.
    #[test]
    fn abbreviations_agree_with_the_database() {
        let times = [date(2025, 1, 15), date(2025, 7, 15)].map(|day| {
            let noon = day.at(12, 0, 0, 0);
            jiff::tz::Offset::UTC.to_timestamp(noon).unwrap()
        });
        let mut seen = 0;
        for name in TimeZoneDatabase::bundled().available() {
            let zone = zone(name.as_str()).unwrap();
            for at in times {
                let info = zone.to_offset_info(at);
                if let Some(Some(offset)) = abbreviation(info.abbreviation()) {
                    assert_eq!(
                        info.offset().seconds(),
                        offset,
                        "{name} {}",
                        info.abbreviation()
                    );
                    seen += 1;
                }
            }
        }
        assert!(seen > 300, "{seen}");
    }
}
