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
        };
        for marker in markers {
            let marker = marker.as_ref().trim().to_lowercase();
            if !marker.is_empty() && !blanks.markers.contains(&marker) {
                blanks.lengths |= length_bit(&marker);
                blanks.markers.push(marker);
            }
        }
        blanks
    }

    /// The blank that `text` is, if it is one; `""` for white space.
    #[inline]
    pub fn find(&self, text: &str) -> Option<&str> {
        let text = text.trim();
        if text.is_empty() {
            return Some("");
        }
        if self.lengths & length_bit(text) == 0 {
            return None;
        }
        self.markers
            .iter()
            .find(|marker| marker.len() == text.len() && marker.eq_ignore_ascii_case(text))
            .map(String::as_str)
    }
}

fn length_bit(text: &str) -> u64 {
    1 << text.len().min(63)
}
