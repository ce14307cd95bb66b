//! The long names of zones in every language: `Central European Summer Time`, `temps
//! universel coordonné`.
//!
//! They are those of CLDR, in `data/zone-names.tsv`. A name is there if it says one offset
//! from UTC in every language, and its clocks have shown that since 1972.

use fst::Map;
use std::sync::LazyLock;

/// The names, in lower case, each with its offset: a transducer that the build script
/// makes.
static NAMES: LazyLock<Map<&[u8]>> = LazyLock::new(|| {
    let names = include_bytes!(concat!(env!("OUT_DIR"), "/zone-names.fst"));
    Map::new(&names[..]).expect("the build script made it")
});

/// The offset from UTC of a zone's long name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct LongName {
    /// Minutes from UTC, and a day more: never 0.
    value: u32,
}

/// What the build script adds to minutes from UTC.
const DAY: i32 = 24 * 60;

impl LongName {
    /// The name that `text` is, or is up to a bracket at its end, and its length in bytes.
    pub fn at_start_of(text: &str) -> Option<(usize, LongName)> {
        let text = text.trim_end();
        let inner = text.strip_suffix(')').unwrap_or(text);
        [text, inner].into_iter().find_map(|name| {
            let value = NAMES.get(name.to_lowercase())?;
            let value = u32::try_from(value).ok()?;
            Some((name.len(), LongName { value }))
        })
    }

    /// As a token keeps it; not 0.
    pub fn value(self) -> u32 {
        self.value
    }

    /// The name that a token keeps.
    pub fn of_value(value: u32) -> Option<LongName> {
        (value != 0).then_some(LongName { value })
    }

    /// Seconds from UTC.
    pub fn offset(self) -> i32 {
        (self.value as i32 - DAY) * 60
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_in_several_languages() {
        for (text, hours) in [
            ("Coordinated Universal Time", 0.0),
            ("temps universel coordonné", 0.0),
            ("Tiempo Universal Coordinado)", 0.0),
            ("Mitteleuropäische Sommerzeit", 2.0),
            ("Japan Standard Time", 9.0),
            ("北美东部标准时间", -5.0),
            ("भारतीय मानक समय", 5.5),
        ] {
            let (len, name) = LongName::at_start_of(text).expect(text);
            assert_eq!(len, text.trim_end_matches(')').len());
            assert_eq!(f64::from(name.offset()) / 3600.0, hours, "{text}");
        }
        // The whole year's name says nothing, and Moscow's standard time was moved.
        for text in ["Central European Time", "Moscow Standard Time", "UTC", ""] {
            assert_eq!(LongName::at_start_of(text), None, "{text}");
        }
    }
}
