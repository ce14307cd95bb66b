//! The words, names, texts and numbers of a phrase.

use super::error::{Span, Wrong};
use super::number::Number;
use crate::reading::read_iso;
use crate::stamp::Stamp;

/// A token and its span.
#[derive(Clone, Debug)]
pub(super) struct Token<'p> {
    pub what: What<'p>,
    pub at: Span,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum What<'p> {
    /// A word of the language, or a column's name that looks like one.
    Word(&'p str),
    /// A column's name between backticks.
    Column(String),
    /// Text between double quotes.
    Text(String),
    Number(Number),
    /// A date, a time of day or both, as ISO 8601 writes them.
    Stamp(Stamp),
    Symbol(&'static str),
    /// The end of the phrase.
    End,
}

/// More is no phrase that somebody wrote.
pub(super) const LONGEST: usize = 64 * 1024;

/// Symbols as they are written, and what they stand for: the longer first.
const SYMBOLS: [(&str, &str); 17] = [
    ("!=", "!="),
    ("<=", "<="),
    (">=", ">="),
    ("≠", "!="),
    ("≤", "<="),
    ("≥", ">="),
    ("\u{2212}", "-"),
    ("(", "("),
    (")", ")"),
    (",", ","),
    ("+", "+"),
    ("-", "-"),
    ("*", "*"),
    ("/", "/"),
    ("=", "="),
    ("<", "<"),
    (">", ">"),
];

/// The tokens of `text`, the last of which is its end.
pub(super) fn tokens(text: &str) -> Result<Vec<Token<'_>>, Wrong> {
    if text.len() > LONGEST {
        let start = (LONGEST - 3..).find(|index| text.is_char_boundary(*index));
        let at = start.unwrap_or(0)..text.len();
        return Err(Wrong::new(
            &at,
            format!(
                "the phrase has {} bytes, and more than {LONGEST} are no phrase",
                text.len()
            ),
        ));
    }
    let mut tokens = Vec::new();
    let mut index = 0;
    loop {
        index = text.len() - text[index..].trim_start().len();
        if index == text.len() {
            tokens.push(Token {
                what: What::End,
                at: index..index,
            });
            return Ok(tokens);
        }
        let (what, len) = token(text, index)?;
        tokens.push(Token {
            what,
            at: index..index + len,
        });
        index += len;
    }
}

fn token(text: &str, index: usize) -> Result<(What<'_>, usize), Wrong> {
    let rest = &text[index..];
    let first = rest.chars().next().unwrap_or_default();
    match first {
        '`' => quoted(rest, index, '`').map(|(name, len)| (What::Column(name), len)),
        '"' => quoted(rest, index, '"').map(|(text, len)| (What::Text(text), len)),
        '0'..='9' => number_or_stamp(rest, index),
        _ if first.is_alphabetic() || first == '_' => {
            let goes_on = |letter: char| letter.is_alphanumeric() || letter == '_';
            let len = rest.find(|letter| !goes_on(letter)).unwrap_or(rest.len());
            Ok((What::Word(&rest[..len]), len))
        }
        _ => match SYMBOLS.iter().find(|(sign, _)| rest.starts_with(sign)) {
            Some((sign, means)) => Ok((What::Symbol(means), sign.len())),
            None => {
                let at = index..index + first.len_utf8();
                Err(Wrong::new(&at, no_symbol(first)))
            }
        },
    }
}

fn no_symbol(letter: char) -> String {
    let hint = match letter {
        '\'' => "; texts stand between double quotes, columns between backticks",
        '&' => "; write `and`",
        '|' => "; write `or`",
        '!' => "; write `not`, or `!=`",
        '[' | ']' | '{' | '}' => "; columns stand between backticks",
        ';' => "; only a comma stands before what is said about the whole phrase",
        _ => "",
    };
    format!("`{letter}` has no meaning here{hint}")
}

/// What stands between two `mark`s, the first of which `rest` starts with;
/// within, two of them stand for one.
fn quoted(rest: &str, index: usize, mark: char) -> Result<(String, usize), Wrong> {
    let mut text = String::new();
    let mut letters = rest.char_indices().skip(1).peekable();
    while let Some((at, letter)) = letters.next() {
        if letter != mark {
            text.push(letter);
        } else if letters.next_if(|(_, next)| *next == mark).is_some() {
            text.push(mark);
        } else {
            return Ok((text, at + 1));
        }
    }
    let what = if mark == '`' { "column" } else { "text" };
    let at = index..index + rest.len();
    Err(Wrong::new(
        &at,
        format!("this {what} has no end; put {mark} behind it"),
    ))
}

fn number_or_stamp(rest: &str, index: usize) -> Result<(What<'_>, usize), Wrong> {
    if let Some(len) = stamp_len(rest) {
        let at = index..index + len;
        let stamp = read_iso(&rest[..len]);
        return match stamp {
            Ok(stamp) => Ok((What::Stamp(stamp), len)),
            Err(why) => Err(Wrong::new(&at, why.to_string())),
        };
    }
    let goes_on = |byte: &u8| byte.is_ascii_digit() || *byte == b'.';
    let len = rest.bytes().take_while(goes_on).count();
    let at = index..index + len;
    match Number::parse(&rest[..len]) {
        Some(number) => Ok((What::Number(number), len)),
        None => Err(Wrong::new(
            &at,
            format!("`{}` is no number; write it as 1.5", &rest[..len]),
        )),
    }
}

/// How long the date or time is that `rest` starts with, if it does:
/// `2025-03-04`, `2025-03-04T14:30:00Z`, `14:30`.
fn stamp_len(rest: &str) -> Option<usize> {
    let digits = rest.bytes().take_while(u8::is_ascii_digit).count();
    let is_date = digits == 4 && is_like(&rest[digits..], "-00-00");
    let is_time = digits == 2 && is_like(&rest[digits..], ":00");
    let goes_on = |byte: u8| byte.is_ascii_digit() || b":.+-TZ".contains(&byte);
    (is_date || is_time).then(|| {
        let len = rest.bytes().take_while(|byte| goes_on(*byte)).count();
        // `2025-03-04 - 1 day` has a space; `16:00-1 hour` has none.
        rest[..len].trim_end_matches(['-', '+', '.', ':']).len()
    })
}

/// Whether `text` starts as `sample` does, with any digits for its zeros.
fn is_like(text: &str, sample: &str) -> bool {
    let mut text = text.bytes();
    sample.bytes().all(|wanted| match (wanted, text.next()) {
        (b'0', Some(found)) => found.is_ascii_digit(),
        (_, found) => found == Some(wanted),
    })
}
