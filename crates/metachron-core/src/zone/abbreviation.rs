//! The abbreviations of zones.

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
    one.or_else(|| SEVERAL.contains(&word).then_some(None))
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
