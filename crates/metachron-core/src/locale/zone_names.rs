//! The long names of zones in every language: `Central European Summer Time`, `temps
//! universel coordonné`.
//!
//! They are those of CLDR, in `data/zone-names.tsv`. A name is there if it says one offset
//! from UTC in every language, and its clocks have shown that since 1972.

use super::fold::{is_word_letter, lower};
use crate::zone::{Zone, zones_called};
use fst::Map;
use fst::raw::Output;
use std::sync::LazyLock;

/// The names, in lower case, each with its number: a transducer that the build script
/// makes.
static NAMES: LazyLock<Map<&[u8]>> = LazyLock::new(|| {
    let names = include_bytes!(concat!(env!("OUT_DIR"), "/zone-names.fst"));
    Map::new(&names[..]).expect("the build script made it")
});

// For each number, from 1: minutes from UTC, and a zone whose clocks change.
include!(concat!(env!("OUT_DIR"), "/zone_offsets.rs"));

/// The offset from UTC of a zone's long name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct ZoneName {
    /// Its place among the offsets, from 1.
    number: u32,
}

/// The zones that a name or an abbreviation may be meant for, where one offset does not say
/// it all: those that an abbreviation is in use for; of a long name, the zone whose clocks
/// change, and its offset for the whole year.
pub(crate) fn zones_meant(name: &str) -> &'static [Zone] {
    static BY_NUMBER: LazyLock<Vec<Vec<Zone>>> = LazyLock::new(|| {
        let meant = |&(minutes, zone): &(i32, &str)| {
            let offset = jiff::tz::Offset::from_seconds(60 * minutes).ok();
            let fixed = offset.map(Zone::fixed);
            zone.parse().ok().into_iter().chain(fixed).collect()
        };
        OFFSETS.iter().map(meant).collect()
    });
    match ZoneName::at_start_of(name) {
        Some((len, own)) if len == name.len() => &BY_NUMBER[own.number as usize - 1],
        _ => zones_called(name),
    }
}

impl ZoneName {
    /// The longest name that `text` starts with, and that no letter follows; its length in
    /// bytes.
    pub fn at_start_of(text: &str) -> Option<(usize, ZoneName)> {
        let tree = NAMES.as_fst();
        let (mut node, mut output) = (tree.root(), Output::zero());
        let mut longest = None;
        let mut letters = text.char_indices().peekable();
        while let Some((at, letter)) = letters.next() {
            for letter in lower(letter) {
                for byte in letter.encode_utf8(&mut [0; 4]).bytes() {
                    let Some(step) = node.find_input(byte) else {
                        return longest;
                    };
                    let step = node.transition(step);
                    output = output.cat(step.out);
                    node = tree.node(step.addr);
                }
            }
            let ends = letters
                .peek()
                .is_none_or(|(_, next)| !is_word_letter(*next));
            if node.is_final() && ends {
                let number = output.cat(node.final_output()).value() as u32;
                longest = Some((at + letter.len_utf8(), ZoneName { number }));
            }
        }
        longest
    }

    /// As a token keeps it; not 0.
    pub fn value(self) -> u32 {
        self.number
    }

    /// The name that a token keeps.
    pub fn of_value(number: u32) -> Option<ZoneName> {
        (number != 0).then_some(ZoneName { number })
    }

    /// Seconds from UTC.
    pub fn offset(self) -> i32 {
        self.entry().0 * 60
    }

    /// The identifier of a zone that goes by this name for a part of the year; none where
    /// clocks never change. `Eastern Standard Time` in July is a contradiction in New York,
    /// and the whole year's name of that zone to some programs.
    pub fn changing_zone(self) -> Option<&'static str> {
        Some(self.entry().1).filter(|zone| !zone.is_empty())
    }

    fn entry(self) -> (i32, &'static str) {
        OFFSETS[self.number as usize - 1]
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
            let (len, name) = ZoneName::at_start_of(text).expect(text);
            let own = text.trim_end_matches(')');
            assert_eq!(len, own.len());
            assert_eq!(ZoneName::at_start_of(&format!("{own}x")), None);
            assert_eq!(f64::from(name.offset()) / 3600.0, hours, "{text}");
        }
        let (_, eastern) = ZoneName::at_start_of("Eastern Standard Time").unwrap();
        assert_eq!(eastern.changing_zone(), Some("America/New_York"));
        let (_, india) = ZoneName::at_start_of("India Standard Time").unwrap();
        assert_eq!(india.changing_zone(), None);
        // The whole year's name says nothing, and Moscow's standard time was moved.
        for text in ["Central European Time", "Moscow Standard Time", "UTC", ""] {
            assert_eq!(ZoneName::at_start_of(text), None, "{text}");
        }
    }
}
