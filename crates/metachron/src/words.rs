//! Numbers and facts in words.

use metachron_core::outlook::Counts;

/// `1,204`
pub fn number(value: u64) -> String {
    let digits = value.to_string();
    let mut text = String::with_capacity(digits.len() + digits.len() / 3);
    for (place, digit) in digits.chars().enumerate() {
        if place > 0 && (digits.len() - place).is_multiple_of(3) {
            text.push(',');
        }
        text.push(digit);
    }
    text
}

/// `1 cell`, `1,204 cells`
pub fn count(value: u64, thing: &str) -> String {
    match value {
        1 => format!("1 {thing}"),
        _ => format!("{} {thing}s", number(value)),
    }
}

/// `a`, `a and b`, `a, b and c`
pub fn list<S: AsRef<str>>(words: &[S], last: &str) -> String {
    match words {
        [] => String::new(),
        [one] => one.as_ref().to_owned(),
        [most @ .., end] => {
            let most: Vec<&str> = most.iter().map(AsRef::as_ref).collect();
            format!("{} {last} {}", most.join(", "), end.as_ref())
        }
    }
}

/// `2019–2025`, or `2025` where both are the same
pub fn range(first: i16, last: i16) -> String {
    match first == last {
        true => first.to_string(),
        false => format!("{first}–{last}"),
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
    match words.is_empty() {
        true => "no cells".to_owned(),
        false => words.join(", "),
    }
}

/// A cell's text as it is shown: with quotes where its ends could not be seen
/// otherwise, without line breaks and other control characters.
pub fn cell(text: &str) -> String {
    let shown: String = text
        .chars()
        .map(|letter| if letter.is_control() { '␣' } else { letter })
        .collect();
    match shown.trim() == shown && !shown.is_empty() {
        true => shown,
        false => format!("\"{shown}\""),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_and_lists() {
        assert_eq!(number(0), "0");
        assert_eq!(number(999), "999");
        assert_eq!(number(1_204_000), "1,204,000");
        assert_eq!(count(1, "row"), "1 row");
        assert_eq!(list(&["a", "b", "c"], "or"), "a, b or c");
        assert_eq!(cell(" 5\n"), "\" 5␣\"");
    }
}
