//! Cells that stand for nothing.

use crate::phrase::Number;
use std::sync::{Arc, LazyLock};

/// What usually stands for an empty cell, besides white space.
pub const USUAL_BLANKS: [&str; 24] = [
    "-",
    "--",
    "---",
    "–",
    "—",
    ".",
    "n/a",
    "na",
    "n.a.",
    "n.a",
    "#n/a",
    "null",
    "(null)",
    "\\n",
    "nil",
    "none",
    "nan",
    "nat",
    "<na>",
    "(blank)",
    "0000-00-00",
    "0000-00-00 00:00:00",
    "00/00/0000",
    "00.00.0000",
];

/// A list of blanks, made ready for asking.
///
/// ```
/// use metachron_core::rulings::Blanks;
///
/// let blanks = Blanks::default();
/// assert_eq!(blanks.find("  "), Some(""));
/// assert_eq!(blanks.find("N/A "), Some("n/a"));
/// assert_eq!(blanks.find("31/12/2024"), None);
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Blanks {
    /// In lower case. A table of thousands of columns holds them once.
    markers: Arc<[String]>,
    /// A bit for the length and the ends of each: most cells are told apart by
    /// those.
    ends: [u64; 4],
}

impl Default for Blanks {
    fn default() -> Self {
        static USUAL: LazyLock<Blanks> = LazyLock::new(|| Blanks::new(USUAL_BLANKS));
        USUAL.clone()
    }
}

impl Blanks {
    /// The blanks of this list. An empty cell and white space always belong
    /// to it.
    pub fn new<S: AsRef<str>>(markers: impl IntoIterator<Item = S>) -> Blanks {
        let (mut all, mut bits) = (Vec::new(), [0; 4]);
        for marker in markers {
            let marker = marker.as_ref().trim().to_lowercase();
            if !marker.is_empty() && !all.contains(&marker) {
                let (word, bit) = ends(&marker);
                bits[word] |= bit;
                all.push(marker);
            }
        }
        Blanks {
            markers: all.into(),
            ends: bits,
        }
    }

    /// The blank that `text` is, if it is one; `""` for white space.
    #[inline]
    pub fn find(&self, text: &str) -> Option<&str> {
        let text = match text.as_bytes() {
            // Most cells neither begin nor end with white space.
            [b'!'..=b'~', .., b'!'..=b'~'] => text,
            _ => text.trim(),
        };
        if text.is_empty() {
            return Some("");
        }
        let (word, bit) = ends(text);
        if self.ends[word] & bit == 0 {
            return None;
        }
        self.markers
            .iter()
            .find(|marker| marker.len() == text.len() && marker.eq_ignore_ascii_case(text))
            .map(String::as_str)
    }

    /// Whether one of them is a number, such as -999.
    pub fn have_numbers(&self) -> bool {
        self.markers
            .iter()
            .any(|text| Number::parse(text).is_some())
    }

    /// Whether a day that stands for nothing is written as `text` is, in other digits.
    /// No day is all zeros.
    pub(crate) fn have_day_alike(&self, text: &str) -> bool {
        let is_day = |blank: &str| blank.bytes().any(|byte| matches!(byte, b'1'..=b'9'));
        self.alike(text).any(is_day)
    }

    /// The blanks that differ from `text` in their digits alone, if at all.
    pub(crate) fn alike(&self, text: &str) -> impl Iterator<Item = &str> {
        let without_digits = |text: &str| -> String {
            let digit = |letter: char| match letter {
                '0'..='9' => '0',
                other => other.to_ascii_lowercase(),
            };
            text.trim().chars().map(digit).collect()
        };
        let own = without_digits(text);
        let markers = self.markers.iter().map(String::as_str);
        markers.filter(move |marker| without_digits(marker) == own)
    }
}

/// One of 256 bits, by the length, the first and the last byte of a text that
/// has one, whatever the case of ASCII letters.
#[inline]
fn ends(text: &str) -> (usize, u64) {
    let bytes = text.as_bytes();
    let ends = bytes.first().zip(bytes.last());
    let (first, last) = ends.map_or((0, 0), |(first, last)| (first | 0x20, last | 0x20));
    let mixed =
        first.wrapping_mul(31) ^ last.wrapping_mul(7) ^ (bytes.len() as u8).wrapping_mul(97);
    (usize::from(mixed >> 6), 1 << (mixed & 63))
}
