//! The abbreviations of zones.

use super::Zone;
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

/// Abbreviations that several offsets go by, with a zone for each way that clocks
/// may be meant: Eastern time is one thing in New York, another in Panama, which
/// has no summer time, and another in Australia; Moscow's was moved twice.
const SEVERAL: [(&str, &[&str]); 19] = [
    ("ADT", &["America/Halifax"]),
    (
        "AST",
        &["America/Halifax", "America/Puerto_Rico", "Asia/Riyadh"],
    ),
    ("BST", &["Europe/London", "Asia/Dhaka"]),
    ("CDT", &["America/Chicago", "America/Havana"]),
    (
        "CST",
        &[
            "America/Chicago",
            "America/Costa_Rica",
            "America/Havana",
            "Asia/Shanghai",
            "Australia/Adelaide",
        ],
    ),
    ("EDT", &["America/New_York", "Australia/Sydney"]),
    (
        "EST",
        &["America/New_York", "America/Panama", "Australia/Sydney"],
    ),
    (
        "GST",
        &["Asia/Dubai", "Atlantic/South_Georgia", "Pacific/Guam"],
    ),
    ("IST", &["Asia/Kolkata", "Europe/Dublin", "Asia/Jerusalem"]),
    ("KST", &["Asia/Seoul"]),
    ("MDT", &["America/Denver"]),
    ("MSK", &["Europe/Moscow"]),
    ("MST", &["America/Denver", "America/Phoenix"]),
    ("NDT", &["America/St_Johns"]),
    ("NST", &["America/St_Johns"]),
    ("PDT", &["America/Los_Angeles"]),
    ("PST", &["America/Los_Angeles", "Asia/Manila"]),
    ("SST", &["Pacific/Pago_Pago", "Asia/Singapore"]),
    ("WST", &["Pacific/Apia", "Australia/Perth"]),
];

/// The zones that an abbreviation may be meant for, where several offsets go by it.
///
/// ```
/// use metachron_core::zone::zones_called;
///
/// let zones: Vec<String> = zones_called("BST").iter().map(ToString::to_string).collect();
/// assert_eq!(zones, ["Europe/London", "Asia/Dhaka"]);
/// assert!(zones_called("CET").is_empty());
/// ```
pub fn zones_called(abbreviation: &str) -> &'static [Zone] {
    static ZONES: LazyLock<Vec<Vec<Zone>>> = LazyLock::new(|| {
        let zones = SEVERAL.iter().map(|(_, zones)| zones);
        let parsed = zones.map(|zones| zones.iter().filter_map(|zone| zone.parse().ok()));
        parsed.map(Iterator::collect).collect()
    });
    let mut known = SEVERAL.iter();
    let number = known.position(|(name, _)| name.eq_ignore_ascii_case(abbreviation));
    number.map_or(&[], |number| &ZONES[number])
}

/// The offset from UTC, in seconds, that an abbreviation stands for:
/// `Some(None)` where it stands for several, `None` where it is none that is
/// known. Abbreviations are capitals; in small letters many are words.
///
/// ```
/// use metachron_core::zone::abbreviation;
///
/// // CET has stood for one offset ever since 1970, CST for three.
/// assert_eq!(abbreviation("CET"), Some(Some(3600)));
/// assert_eq!(abbreviation("CST"), Some(None));
/// assert_eq!(abbreviation("Crate"), None);
/// ```
pub fn abbreviation(word: &str) -> Option<Option<i32>> {
    let known = ABBREVIATIONS.iter().find(|(name, _)| *name == word);
    let one = known.map(|(_, minutes)| Some(60 * minutes));
    let mut several = SEVERAL.iter().map(|(name, _)| *name);
    one.or_else(|| several.any(|name| name == word).then_some(None))
}

/// The abbreviations that the date and time of a mail may end in, with the minutes
/// that they are from UTC there, whatever else they are elsewhere (RFC 5322 §4.3).
const OF_MAIL: [(&str, i32); 8] = [
    ("EST", -300),
    ("EDT", -240),
    ("CST", -360),
    ("CDT", -300),
    ("MST", -420),
    ("MDT", -360),
    ("PST", -480),
    ("PDT", -420),
];

/// The offset, in seconds, that an abbreviation stands for in the date of a mail.
///
/// ```
/// use metachron_core::zone::abbreviation_of_mail;
///
/// assert_eq!(abbreviation_of_mail("EST"), Some(-18_000));
/// assert_eq!(abbreviation_of_mail("CET"), None);
/// ```
pub fn abbreviation_of_mail(word: &str) -> Option<i32> {
    let known = OF_MAIL.iter().find(|(name, _)| *name == word);
    known.map(|(_, minutes)| 60 * minutes)
}

/// Whether `text`, in whatever case, is an abbreviation other than those of UTC,
/// which are names of a zone as well.
pub(super) fn is_abbreviation(text: &str) -> bool {
    abbreviation(&text.to_ascii_uppercase()).is_some() && !is_utc(text)
}

/// Whether `text` is one of the names of UTC, in whatever case.
pub(crate) fn is_utc(text: &str) -> bool {
    ["GMT", "UT", "UTC"]
        .iter()
        .any(|name| name.eq_ignore_ascii_case(text))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::zone::{Zone, zone_ids};
    use jiff::civil::date;

    /// Each of these zones is in the database, and is another one by its clocks.
    #[test]
    fn abbreviations_of_several_zones_have_zones_that_differ() {
        for (name, zones) in SEVERAL {
            let known = zones_called(name);
            assert_eq!(known.len(), zones.len(), "{name}");
            let offsets = known.iter().map(|zone| {
                [date(2025, 1, 15), date(2025, 7, 15)].map(|day| {
                    let noon = day.at(12, 0, 0, 0);
                    zone.offset_at(jiff::tz::Offset::UTC.to_timestamp(noon).unwrap())
                })
            });
            let mut offsets: Vec<_> = offsets.collect();
            offsets.sort_unstable();
            offsets.dedup();
            assert_eq!(offsets.len(), zones.len(), "{name}");
        }
    }

    /// The database knows every abbreviation here by the offset given, and no
    /// other zone of it uses the abbreviation for another one now.
    #[test]
    fn abbreviations_agree_with_the_database() {
        let times = [date(2025, 1, 15), date(2025, 7, 15)].map(|day| {
            let noon = day.at(12, 0, 0, 0);
            jiff::tz::Offset::UTC.to_timestamp(noon).unwrap()
        });
        let mut baseline = 0;
        for name in zone_ids() {
            let zone: Zone = name.parse().unwrap();
            let zone = zone.rules();
            for at in times {
                let info = zone.to_offset_info(at);
                if let Some(Some(offset)) = abbreviation(info.abbreviation()) {
                    assert_eq!(
                        info.offset().seconds(),
                        offset,
                        "{name} {}",
                        info.abbreviation()
                    );
                    baseline += 1;
                }
            }
        }
        assert!(baseline > 300, "{baseline}");
    }
}
