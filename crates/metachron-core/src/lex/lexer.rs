//! The lexer: one pass over a cell, no allocation.

use super::layout::{Layouts, Look};
use super::{Class, MAX_CELL_BYTES, MAX_TOKENS, Shape, Token};
use crate::locale::{DayPeriod, Meaning, NameWidth, meaning};

/// Why a cell is not cut: it cannot be a date.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum NoDate {
    /// More than [`MAX_CELL_BYTES`] bytes or [`MAX_TOKENS`] tokens.
    #[error("longer than any date: over {MAX_CELL_BYTES} bytes or {MAX_TOKENS} tokens")]
    TooLong,
    /// A word that means nothing in a date, under [`Words::Refuse`].
    #[error("it has a word that means nothing in a date")]
    Word,
}

/// Cuts cells into tokens. Holds its own buffers, so that one lexer serves
/// any number of cells.
#[derive(Clone, Debug)]
pub struct Lexer {
    tokens: [Token; MAX_TOKENS],
    codes: [u32; MAX_TOKENS],
    len: usize,
    hash: u64,
    marks: Marks,
    layouts: Layouts,
    words: Words,
}

/// What the lexer does about words that mean nothing in a date.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Words {
    /// Cut them as any other token: for forms that name words.
    #[default]
    Keep,
    /// Refuse the cell at the first of them: for looking at columns of text,
    /// most of which are no dates.
    Refuse,
}

/// A cell, cut into tokens.
#[derive(Clone, Copy, Debug)]
pub struct Lexed<'a> {
    pub(super) text: &'a str,
    pub(super) tokens: &'a [Token],
    pub(super) codes: &'a [u32],
    pub(super) hash: u64,
    pub(super) marks: Marks,
}

/// How the tokens are written, one bit per token: what a shape leaves out.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Marks {
    /// Numbers of exactly two digits.
    pub pairs: u32,
    /// Names of months and weekdays written in full (`May` is not among
    /// them).
    pub wide: u32,
    /// Names of months and weekdays written short.
    pub abbreviated: u32,
}

impl Default for Lexer {
    fn default() -> Self {
        Lexer {
            tokens: [Token::NONE; MAX_TOKENS],
            codes: [0; MAX_TOKENS],
            len: 0,
            hash: 0,
            marks: Marks::default(),
            layouts: Layouts::default(),
            words: Words::Keep,
        }
    }
}

impl<'a> Lexed<'a> {
    /// The text that was cut.
    pub fn text(&self) -> &'a str {
        self.text
    }

    /// Its tokens, white space at either end left out.
    pub fn tokens(&self) -> &'a [Token] {
        self.tokens
    }

    /// The text of token `index`.
    ///
    /// # Panics
    ///
    /// Where there is no such token.
    pub fn token_text(&self, index: usize) -> &'a str {
        let token = self.tokens[index];
        &self.text[token.start as usize..token.end as usize]
    }

    /// How the tokens are written.
    pub fn marks(&self) -> Marks {
        self.marks
    }

    /// The shape of the cell.
    pub fn shape(&self) -> Shape {
        Shape::of(self)
    }

    pub(crate) fn hash(&self) -> u64 {
        self.hash
    }

    pub(super) fn codes(&self) -> &'a [u32] {
        self.codes
    }
}

impl Lexer {
    /// A lexer that does `words` about words that mean nothing in a date.
    pub fn new(words: Words) -> Lexer {
        Lexer {
            words,
            ..Lexer::default()
        }
    }

    /// Cuts `text` into tokens.
    ///
    /// White space at either end and characters that are never seen (marks of
    /// writing direction, byte order) are left out.
    pub fn lex<'a>(&'a mut self, text: &'a str) -> Result<Lexed<'a>, NoDate> {
        if let Some(slot) = self.layouts.same_as_last(text) {
            return Ok(self.layouts.cut(slot, text));
        }
        let look = Look::of(text);
        let known = look.and_then(|look| self.layouts.find(&look));
        if let Some(slot) = known {
            return Ok(self.layouts.cut(slot, text));
        }
        self.cut(text)?;
        let lexed = Lexed {
            text,
            tokens: &self.tokens[..self.len],
            codes: &self.codes[..self.len],
            hash: self.hash,
            marks: self.marks,
        };
        if let Some(look) = look {
            self.layouts.put(look, lexed);
        }
        Ok(lexed)
    }

    fn cut(&mut self, text: &str) -> Result<(), NoDate> {
        if text.len() > MAX_CELL_BYTES {
            return Err(NoDate::TooLong);
        }
        let mut cut = Cut {
            text,
            bytes: text.as_bytes(),
            at: 0,
            tokens: &mut self.tokens,
            codes: &mut self.codes,
            len: 0,
            space: None,
            hash: 0,
            marks: Marks::default(),
            words: self.words,
        };
        while cut.at < cut.bytes.len() {
            cut.next()?;
        }
        (self.len, self.hash, self.marks) = (cut.len, cut.hash, cut.marks);
        Ok(())
    }
}

/// The lexer at work on one cell.
struct Cut<'c> {
    text: &'c str,
    bytes: &'c [u8],
    at: usize,
    tokens: &'c mut [Token; MAX_TOKENS],
    codes: &'c mut [u32; MAX_TOKENS],
    len: usize,
    /// White space just passed, which is a token only if another follows it.
    space: Option<(usize, usize)>,
    hash: u64,
    marks: Marks,
    words: Words,
}

impl Cut<'_> {
    #[inline]
    fn next(&mut self) -> Result<(), NoDate> {
        let byte = self.bytes[self.at];
        if let b' ' | b'\t' | b'\n' | b'\r' = byte {
            return self.space(1);
        }
        if !byte.is_ascii() {
            return self.beyond_ascii();
        }
        self.flush_space()?;
        match byte {
            b'0'..=b'9' => self.digits(),
            b'a'..=b'z' | b'A'..=b'Z' => self.word(),
            _ => self.push(Class::Symbol(char::from(byte)), 1, 0),
        }
    }

    #[inline]
    fn flush_space(&mut self) -> Result<(), NoDate> {
        match self.space.take() {
            Some((start, end)) => self.put(Class::Space, start, end, 0),
            None => Ok(()),
        }
    }

    #[inline]
    fn digits(&mut self) -> Result<(), NoDate> {
        let rest = &self.bytes[self.at..];
        let count = rest.iter().take_while(|byte| byte.is_ascii_digit()).count();
        let class = match count {
            _ if self.behind_decimal_sign() => Class::Fraction,
            1 => Class::Short,
            2 => {
                self.marks.pairs |= 1 << (self.len & 31);
                Class::Short
            }
            // A run too long to count is no date whatever its length.
            _ => Class::Digits(u8::try_from(count).unwrap_or(u8::MAX)),
        };
        self.push(class, count, 0)
    }

    /// Whether digits that start here continue a second: `:59.`, `T143000,`.
    fn behind_decimal_sign(&self) -> bool {
        let [.., before, second, sign] = &self.tokens[..self.len] else {
            return false;
        };
        matches!(sign.class, Class::Symbol('.' | ','))
            && match second.class {
                Class::Short => before.class == Class::Symbol(':'),
                Class::Digits(6) => before.class == Class::T,
                _ => false,
            }
    }

    fn word(&mut self) -> Result<(), NoDate> {
        let rest = &self.text[self.at..];
        let len = word_len(rest);
        if len == 1 {
            return self.letter();
        }
        match meaning(&rest[..len]) {
            Some(Meaning::Month(number, width)) => self.name(Class::Month, len, number, width),
            Some(Meaning::Weekday(number, width)) => self.name(Class::Weekday, len, number, width),
            Some(Meaning::DayPeriod(half)) => self.push(Class::DayPeriod, len, half as u32),
            Some(Meaning::Ordinal) => self.push(Class::Ordinal, len, 0),
            Some(Meaning::Utc) => self.push(Class::Utc, len, 0),
            Some(Meaning::Of) => self.push(Class::Of, len, 0),
            None => self.unknown(len),
        }
    }

    /// A letter that stands by itself: `T`, `Z`, or `a.m.` and its like.
    fn letter(&mut self) -> Result<(), NoDate> {
        let behind_digits = self.at > 0 && self.bytes[self.at - 1].is_ascii_digit();
        let before_digits = self.bytes.get(self.at + 1).is_some_and(u8::is_ascii_digit);
        match self.bytes[self.at].to_ascii_lowercase() {
            b't' if behind_digits && before_digits => self.push(Class::T, 1, 0),
            b'z' if behind_digits => self.push(Class::Z, 1, 0),
            half @ (b'a' | b'p') => {
                let half = if half == b'a' {
                    DayPeriod::Am
                } else {
                    DayPeriod::Pm
                };
                match self.bytes[self.at + 1..] {
                    [b'.', b'm' | b'M', b'.', ..] => self.push(Class::DayPeriod, 4, half as u32),
                    [b'.', b'm' | b'M'] => self.push(Class::DayPeriod, 3, half as u32),
                    [] if behind_digits => self.push(Class::DayPeriod, 1, half as u32),
                    _ => self.unknown(1),
                }
            }
            _ => self.unknown(1),
        }
    }

    fn unknown(&mut self, len: usize) -> Result<(), NoDate> {
        match self.words {
            Words::Keep => self.push(Class::Word, len, 0),
            Words::Refuse => Err(NoDate::Word),
        }
    }

    fn name(
        &mut self,
        class: Class,
        len: usize,
        number: u8,
        width: NameWidth,
    ) -> Result<(), NoDate> {
        let bit = 1 << (self.len & 31);
        match width {
            NameWidth::Abbreviated => self.marks.abbreviated |= bit,
            NameWidth::Wide => self.marks.wide |= bit,
            NameWidth::Either => {}
        }
        self.push(class, len, number.into())
    }

    fn space(&mut self, len: usize) -> Result<(), NoDate> {
        let start = self.space.map_or(self.at, |(start, _)| start);
        self.at += len;
        if self.len > 0 {
            self.space = Some((start, self.at));
        }
        Ok(())
    }

    fn beyond_ascii(&mut self) -> Result<(), NoDate> {
        let rest = &self.text[self.at..];
        let letter = rest.chars().next().unwrap_or(' ');
        let len = letter.len_utf8();
        match letter {
            // Direction marks, zero-width space, byte order mark.
            '\u{200b}' | '\u{200e}' | '\u{200f}' | '\u{061c}' | '\u{feff}' => {
                self.at += len;
                return Ok(());
            }
            _ if letter.is_whitespace() => return self.space(len),
            _ => self.flush_space()?,
        }
        match letter {
            // The hyphens, and the minus sign that stands before offsets.
            '\u{2010}' | '\u{2011}' | '\u{2212}' => self.push(Class::Symbol('-'), len, 0),
            _ if letter.is_alphabetic() => self.unknown(word_len(rest)),
            _ => self.push(Class::Symbol(letter), len, 0),
        }
    }

    #[inline]
    fn push(&mut self, class: Class, len: usize, value: u32) -> Result<(), NoDate> {
        let (start, end) = (self.at, self.at + len);
        self.at = end;
        self.put(class, start, end, value)
    }

    #[inline]
    fn put(&mut self, class: Class, start: usize, end: usize, value: u32) -> Result<(), NoDate> {
        let Some(token) = self.tokens.get_mut(self.len) else {
            return Err(NoDate::TooLong);
        };
        let code = class.code();
        *token = Token {
            class,
            start: start as u32,
            end: end as u32,
            value,
        };
        self.codes[self.len] = code;
        self.hash = mix(self.hash, code);
        self.len += 1;
        Ok(())
    }
}

/// How many bytes the word at the start of `text` has.
fn word_len(text: &str) -> usize {
    let ascii = text.bytes().take_while(u8::is_ascii_alphabetic).count();
    match text.as_bytes().get(ascii) {
        Some(byte) if !byte.is_ascii() => text
            .find(|letter: char| !letter.is_alphabetic())
            .unwrap_or(text.len()),
        _ => ascii,
    }
}

#[inline]
fn mix(hash: u64, code: u32) -> u64 {
    // Multiply-rotate with the 64-bit golden ratio: shapes are short, and
    // equal hashes are compared code by code before they are believed.
    (hash.rotate_left(5) ^ u64::from(code)).wrapping_mul(0x9e37_79b9_7f4a_7c15)
}

#[cfg(test)]
mod tests {
    use super::*;
    use Class::{
        DayPeriod, Digits, Fraction, Month, Of, Ordinal, Short, Space, Symbol, T, Weekday, Word, Z,
    };

    #[test]
    fn classes_of_cells() {
        for (text, classes) in [
            ("", &[] as &[Class]),
            (" \t\u{a0}", &[]),
            (
                "  31/12/2024 ",
                &[Short, Symbol('/'), Short, Symbol('/'), Digits(4)],
            ),
            ("5th of May", &[Short, Ordinal, Space, Of, Space, Month]),
            ("20240305T143000Z", &[Digits(8), T, Digits(6), Z]),
            ("Tue,\u{202f} 5", &[Weekday, Symbol(','), Space, Short]),
            ("2 p.m.", &[Short, Space, DayPeriod]),
            ("2:05a", &[Short, Symbol(':'), Short, DayPeriod]),
            (
                "1:02:03.4567",
                &[
                    Short,
                    Symbol(':'),
                    Short,
                    Symbol(':'),
                    Short,
                    Symbol('.'),
                    Fraction,
                ],
            ),
            ("1.2.3", &[Short, Symbol('.'), Short, Symbol('.'), Short]),
            ("A T Z", &[Word, Space, Word, Space, Word]),
            ("Š5", &[Word, Short]),
            ("\u{200e}5\u{2212}1", &[Short, Symbol('-'), Short]),
        ] {
            let mut lexer = Lexer::default();
            let lexed = lexer.lex(text).unwrap();
            let found: Vec<Class> = lexed.tokens().iter().map(|token| token.class).collect();
            assert_eq!(found, classes, "{text:?}");
        }
    }

    #[test]
    fn white_space_at_the_ends_has_no_part_in_the_shape() {
        let mut lexer = Lexer::default();
        let bare = lexer.lex("5 Mar 2024").unwrap().shape();
        assert!(bare.fits(&lexer.lex("\u{feff} 5  Mar\t2024 \u{200e} ").unwrap()));
    }

    #[test]
    fn what_is_too_long_is_refused() {
        let mut lexer = Lexer::default();
        assert!(lexer.lex(&"7".repeat(MAX_CELL_BYTES)).is_ok());
        assert_eq!(
            lexer.lex(&"7".repeat(MAX_CELL_BYTES + 1)).err(),
            Some(NoDate::TooLong)
        );
        assert_eq!(lexer.lex(&"1.".repeat(13)).err(), Some(NoDate::TooLong));
    }

    proptest::proptest! {
        /// A cell is cut the same whatever cell was cut before it.
        #[test]
        fn cutting_does_not_depend_on_the_cell_before(
            cells in proptest::collection::vec("[0-3][0-9]/[01]?[0-9]/20[0-9]{2}( [0-9]{2}:[0-9]{2})?(am|pm|Z)?|[0-9T:.-]{1,20}|[0-9]{1,2} (Jan|May|March|June) [0-9]{4}", 2..30),
        ) {
            let mut used = Lexer::default();
            for cell in &cells {
                let mut fresh = Lexer::default();
                match (used.lex(cell), fresh.lex(cell)) {
                    (Ok(one), Ok(other)) => {
                        proptest::prop_assert_eq!(one.tokens(), other.tokens());
                        proptest::prop_assert_eq!(one.shape(), other.shape());
                        proptest::prop_assert_eq!(one.marks(), other.marks());
                    }
                    (one, other) => proptest::prop_assert_eq!(one.err(), other.err()),
                }
            }
        }
    }

    #[test]
    fn marks_tell_how_numbers_and_names_are_written() {
        let mut lexer = Lexer::default();
        let marks = lexer.lex("Tuesday 5 Mar 24").unwrap().marks();
        assert_eq!(marks.wide, 0b1);
        assert_eq!(marks.abbreviated, 0b1_0000);
        assert_eq!(marks.pairs, 0b100_0000);
    }
}
