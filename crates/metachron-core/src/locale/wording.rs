//! The words and digits that a locale writes dates with.

use super::names::parts_of_day;
use super::{Tag, cldr};
use crate::stamp::two;

/// The words and digits that a locale writes dates with, in the Gregorian
/// calendar.
///
/// ```
/// use metachron_core::locale::Wording;
///
/// let czech = Wording::of(&"cs".parse()?);
/// assert_eq!(czech.month(3, "MMMM"), "března", "next to a day");
/// assert_eq!(czech.month(3, "LLLL"), "březen", "alone");
/// assert_eq!(czech.weekday(2, "EEEE"), "úterý");
/// # Ok::<(), metachron_core::locale::ParseTagError>(())
/// ```
#[derive(Clone, Debug)]
pub struct Wording {
    /// By symbol.
    names: Vec<(&'static str, Vec<String>)>,
    /// Other digits than those of ASCII.
    digits: Option<Vec<char>>,
}

/// No words, and the digits of ASCII.
impl Default for Wording {
    fn default() -> Wording {
        Wording {
            names: Vec::new(),
            digits: None,
        }
    }
}

impl Wording {
    /// That of `tag`.
    pub fn of(tag: &Tag) -> Wording {
        let locale = tag.locale();
        let symbols = [
            "MMMM", "MMM", "LLLL", "LLL", "EEEE", "EEE", "a", "GGGG", "G",
        ];
        let mut wording = Wording {
            names: symbols
                .map(|symbol| (symbol, cldr::words_of(locale, symbol)))
                .into(),
            digits: Some(cldr::digits(locale)).filter(|digits| !digits.contains(&'0')),
        };
        let parts_of_day = (0..24).zip(parts_of_day(tag)).map(|(hour, word)| {
            let half = || wording.half_day(hour).to_owned();
            word.unwrap_or_else(half)
        });
        let parts_of_day = parts_of_day.collect();
        wording.names.push(("B", parts_of_day));
        wording
    }

    /// The name of month `1..=12` that `symbol` stands for: `MMMM`, `MMM`, or
    /// without a day next to it `LLLL`, `LLL` (UTS #35 part 4, §8).
    pub fn month(&self, month: u8, symbol: &str) -> &str {
        self.word(symbol, usize::from(month) - 1)
    }

    /// The name of weekday `1..=7` (Monday is 1): `EEEE` or `EEE`.
    pub fn weekday(&self, weekday: u8, symbol: &str) -> &str {
        self.word(symbol, usize::from(weekday) - 1)
    }

    /// Before or after noon, as `a`.
    pub fn half_day(&self, hour: u8) -> &str {
        self.word("a", usize::from(hour / 12))
    }

    /// The part of the day that hour `0..=23` falls into, as `B`: the half of
    /// it, where the language has no other words.
    pub fn part_of_day(&self, hour: u8) -> &str {
        self.word("B", usize::from(hour))
    }

    /// The era that `year` falls into: `GGGG` or `G`.
    pub fn era(&self, year: i16, symbol: &str) -> &str {
        self.word(symbol, usize::from(year > 0))
    }

    fn word(&self, symbol: &str, index: usize) -> &str {
        let mut names = self.names.iter();
        let words = names.find(|(known, _)| *known == symbol);
        let word = words.and_then(|(_, words)| words.get(index));
        word.map_or("", String::as_str)
    }

    /// Appends `number` to `out`, with zeros before it up to `width` digits, of
    /// which there are at most ten.
    pub fn number(&self, number: u32, width: usize, out: &mut Vec<u8>) {
        const MOST: usize = 10;
        // Most fields have two digits, of ASCII.
        if let (None, 0..100, 0..=2) = (&self.digits, number, width) {
            return if number < 10 && width < 2 {
                out.push(b'0' + number as u8)
            } else {
                out.extend_from_slice(&two(number as u8))
            };
        }
        let (mut text, mut first, mut rest) = ([b'0'; MOST], MOST, number);
        while rest > 0 {
            first -= 1;
            text[first] += (rest % 10) as u8;
            rest /= 10;
        }
        let text = &text[first.min(MOST - width.clamp(1, MOST))..];
        let Some(digits) = &self.digits else {
            return out.extend_from_slice(text);
        };
        for digit in text {
            let digit = digits[usize::from(digit - b'0')];
            out.extend_from_slice(digit.encode_utf8(&mut [0; 4]).as_bytes());
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_and_digits_of_locales() {
        let of = |tag: &str| Wording::of(&tag.parse().unwrap());
        assert_eq!(of("en").month(9, "MMM"), "Sep");
        assert_eq!(of("en-GB").month(9, "MMM"), "Sept");
        assert_eq!(of("de").weekday(7, "EEE"), "So.");
        assert_eq!((of("en").half_day(11), of("en").half_day(12)), ("AM", "PM"));
        assert_eq!(of("en").part_of_day(9), "in the morning");
        assert_eq!((of("en").era(1, "G"), of("en").era(0, "G")), ("AD", "BC"));
        for (tag, text) in [
            ("de", "0503"),
            ("ar-EG", "٠٥٠٣"),
            ("ar-EG-u-nu-latn", "0503"),
        ] {
            let mut out = Vec::new();
            of(tag).number(503, 4, &mut out);
            assert_eq!(String::from_utf8(out).unwrap(), text, "{tag}");
        }
        let numbers = [
            (0, 1),
            (0, 0),
            (7, 1),
            (7, 2),
            (12, 1),
            (12, 2),
            (123, 2),
            (65, 3),
            (2024, 1),
            (u32::MAX, 4),
            (5, 9),
        ];
        for (number, width) in numbers {
            let mut out = Vec::new();
            Wording::default().number(number, width, &mut out);
            let text = String::from_utf8(out).unwrap();
            assert_eq!(text, format!("{number:0width$}"), "{width}");
        }
    }

    #[test]
    fn every_locale_has_every_word() {
        for tag in super::super::locales() {
            let wording = Wording::of(&tag.parse().unwrap());
            assert!(
                wording.digits.is_none_or(|digits| digits.len() == 10),
                "{tag}"
            );
            for (symbol, words) in &wording.names {
                let wanted = match &symbol[..1] {
                    "M" | "L" => 12,
                    "E" => 7,
                    "B" => 24,
                    _ => 2,
                };
                let filled = words.iter().filter(|word| !word.is_empty());
                assert_eq!(filled.count(), wanted, "{tag} {symbol} {words:?}");
            }
        }
    }
}
