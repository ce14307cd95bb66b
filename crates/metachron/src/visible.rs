//! Control characters of files, made visible: a cell may not move a cursor, ring a bell or
//! name a window, and a name that holds one looks like no other.

use std::borrow::Cow;

/// How the styles of views begin and end (ECMA-48 §8.3.117); any other sequence comes from a
/// file. The last two are a table's yellow, and its end.
const STYLES: [&str; 6] = [
    "\u{1b}[0m",
    "\u{1b}[1m",
    "\u{1b}[2m",
    "\u{1b}[33m",
    "\u{1b}[38;5;3m",
    "\u{1b}[39m",
];

/// Text for people, with symbols for its control characters but line ends and the styles
/// of views: `␛[2J`.
pub fn visible(text: &str) -> Cow<'_, str> {
    let is_control = |letter: char| letter != '\n' && letter.is_control();
    let Some(mut at) = text.find(is_control) else {
        return Cow::Borrowed(text);
    };
    let mut shown = String::with_capacity(text.len() + 8);
    let mut rest = text;
    loop {
        let (before, control) = rest.split_at(at);
        shown.push_str(before);
        let mut letters = control.chars();
        let Some(letter) = letters.next() else {
            return Cow::Owned(shown);
        };
        let style = STYLES.into_iter().find(|style| control.starts_with(style));
        rest = match style {
            Some(style) => {
                shown.push_str(style);
                &control[style.len()..]
            }
            None => {
                shown.push(symbol_of(letter));
                letters.as_str()
            }
        };
        at = rest.find(is_control).unwrap_or(rest.len());
    }
}

/// A name of a file's, in one line, as `-c` takes it too: `due␊day`.
pub fn one_line(name: &str) -> Cow<'_, str> {
    if name.contains(char::is_control) {
        Cow::Owned(name.chars().map(symbol_of).collect())
    } else {
        Cow::Borrowed(name)
    }
}

/// The letter itself, and for a control character a symbol: those of ASCII have one each
/// (Unicode's Control Pictures).
pub fn symbol_of(letter: char) -> char {
    const PICTURES: u32 = 0x2400;
    match u32::from(letter) {
        code @ 0..0x20 => char::from_u32(PICTURES + code).unwrap_or('\u{fffd}'),
        0x7f => '\u{2421}',
        0x80..0xa0 => '\u{fffd}',
        _ => letter,
    }
}

/// What a message quotes of a file, in letters: a cell, a pattern or a name may have
/// megabytes.
const LONGEST_QUOTE: usize = 200;

/// A message whose quotes, between backticks, are no longer than that.
pub fn shortened(message: &str) -> Cow<'_, str> {
    let is_long = |quote: &str| quote.chars().nth(LONGEST_QUOTE).is_some();
    // What stands between two backticks is every second piece.
    let pieces = || message.split('`').enumerate();
    if !pieces().any(|(number, piece)| number % 2 == 1 && is_long(piece)) {
        return Cow::Borrowed(message);
    }
    let shown = pieces().map(|(number, piece)| {
        if number % 2 == 0 || !is_long(piece) {
            return Cow::Borrowed(piece);
        }
        let start: String = piece.chars().take(LONGEST_QUOTE - 1).collect();
        Cow::Owned(start + "…")
    });
    Cow::Owned(shown.collect::<Vec<_>>().join("`"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn quotes_are_short() {
        let long = "ä".repeat(300);
        let said = format!("column `due`: no kind is called `{long}`; there are `date`");
        let shown = format!(
            "column `due`: no kind is called `{}…`; there are `date`",
            "ä".repeat(199)
        );
        assert_eq!(shortened(&said), shown);
        let short = format!("pattern `{}` has no year", "y".repeat(200));
        assert_eq!(shortened(&short), short);
    }

    #[test]
    fn control_characters_are_shown() {
        for (text, shown) in [
            ("due\nlate", "due\nlate"),
            ("\u{1b}[1mdue\u{1b}[0m", "\u{1b}[1mdue\u{1b}[0m"),
            ("due\u{1b}[2J\u{7}", "due␛[2J␇"),
            ("\u{1b}]0;x\u{7}", "␛]0;x␇"),
            ("a\rb\tc\u{8}\u{7f}\u{9b}", "a␍b␉c␈␡\u{fffd}"),
        ] {
            assert_eq!(visible(text), shown, "{text:?}");
        }
    }
}
