//! Cells that stand for nothing.

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
    /// In lower case.
    markers: Vec<String>,
    /// Which lengths in bytes there are, a bit each; bit 63 for all longer.
    lengths: u64,
    /// Which bytes of ASCII they begin with, a bit each, in both cases; bit 127
    /// for all other bytes.
    firsts: u128,
}

impl Default for Blanks {
    fn default() -> Self {
        Blanks::new(USUAL_BLANKS)
    }
}

impl Blanks {
    /// The blanks of this list. An empty cell and white space always belong
    /// to it.
    pub fn new<S: AsRef<str>>(markers: impl IntoIterator<Item = S>) -> Blanks {
        let mut blanks = Blanks {
            markers: Vec::new(),
            lengths: 0,
            firsts: 0,
        };
        for marker in markers {
            let marker = marker.as_ref().trim().to_lowercase();
            if !marker.is_empty() && !blanks.markers.contains(&marker) {
                blanks.lengths |= length_bit(&marker);
                let first = marker.as_bytes()[0];
                blanks.firsts |= first_bit(first) | first_bit(first.to_ascii_uppercase());
                blanks.markers.push(marker);
            }
        }
        blanks
    }

    /// The blank that `text` is, if it is one; `""` for white space.
    #[inline]
    pub fn find(&self, text: &str) -> Option<&str> {
        let text = match text.as_bytes() {
            // Most cells neither begin nor end with white space.
            [b'!'..=b'~', .., b'!'..=b'~'] => text,
            _ => text.trim(),
        };
        let Some(&first) = text.as_bytes().first() else {
            return Some("");
        };
        if self.lengths & length_bit(text) == 0 || self.firsts & first_bit(first) == 0 {
            return None;
        }
        self.markers
            .iter()
            .find(|marker| marker.len() == text.len() && marker.eq_ignore_ascii_case(text))
            .map(String::as_str)
    }
}

fn first_bit(byte: u8) -> u128 {
    1 << byte.min(127)
}

fn length_bit(text: &str) -> u64 {
    1 << text.len().min(63)
}
