//! Numbers and facts in words.

use crate::visible::symbol_of;
use metachron_core::forecast::Counts;
pub use metachron_core::words::{count, list, number};
use unicode_width::UnicodeWidthStr;

/// `2019–2025`, or `2025` where both are the same
pub fn range(first: i16, last: i16) -> String {
    if first == last {
        first.to_string()
    } else {
        format!("{first}–{last}")
    }
}

/// `22 certain, 1 settled, 3 blank`
pub fn counts(cells: &Counts) -> String {
    let named = [
        (cells.certain, "certain"),
        (cells.settled, "settled"),
        (cells.open, "open"),
        (cells.unreadable, "unreadable"),
        (cells.blank, "blank"),
    ];
    let words: Vec<String> = named
        .into_iter()
        .filter(|(cells, _)| *cells > 0)
        .map(|(cells, name)| format!("{} {name}", number(cells)))
        .collect();
    if words.is_empty() {
        "no cells".to_owned()
    } else {
        words.join(", ")
    }
}

/// Each of `texts`, filled up with spaces to the width that the widest takes
/// on a terminal.
pub fn in_column(texts: &[&str]) -> impl Iterator<Item = String> {
    let widest = texts.iter().map(|text| text.width()).max().unwrap_or(0);
    texts
        .iter()
        .map(move |text| format!("{text}{}", " ".repeat(widest - text.width())))
}

/// A cell's text as it is shown: with quotes where its ends could not be seen
/// otherwise, and symbols for line breaks and other control characters.
pub fn cell(text: &str) -> String {
    let shown = text.chars().map(symbol_of).collect::<String>();
    if shown.trim() == shown && !shown.is_empty() {
        shown
    } else {
        format!("\"{shown}\"")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn cells_and_ranges() {
        assert_eq!(cell(" 5\n"), "\" 5␊\"");
        assert_eq!(range(2019, 2025), "2019–2025");
        assert_eq!(range(2025, 2025), "2025");
        let names: Vec<String> = in_column(&["登録日", "รับเข้า", "due"]).collect();
        assert_eq!(names, ["登録日", "รับเข้า ", "due   "]);
    }
}
