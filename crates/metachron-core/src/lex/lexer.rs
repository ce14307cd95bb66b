//! The lexer: one pass over a cell, no allocation.

use super::cut::Cut;
use super::layouts::Layouts;
use super::token::Tokens;
use super::{Class, MAX_CELL_BYTES, MAX_TOKENS, Shape, Signature, Token};
use crate::cell::Cell;
use crate::locale::{Lexicon, Names, everywhere, plain_text};
use crate::stamp::Stamp;
use std::num::NonZeroU64;

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
#[derive(Clone, Debug, Default)]
pub struct Lexer {
    cut: Cut,
    layouts: Layouts,
    words: Words,
    names: Names,
    /// The plain text of a cell that is not written in ASCII, or the ISO 8601
    /// text of a typed one.
    plain: String,
    /// The one token of a typed cell.
    typed: Tokens,
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

/// How a cell is written.
#[derive(Clone, Copy)]
enum Written {
    /// As its plain text.
    Plainly,
    /// With digits or signs that have an equal in ASCII.
    Otherwise,
}

/// A cell, cut into tokens.
#[derive(Clone, Copy, Debug)]
pub struct Lexed<'a> {
    pub(super) text: &'a str,
    pub(super) cut: &'a Tokens,
    /// The serial number of its layout, where it has been cut before; else 0.
    pub(super) layout: u64,
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
    /// Names that were looked up in all languages.
    pub foreign: u32,
}

impl<'a> Lexed<'a> {
    /// The text that was cut: that of the cell, or what it is in ASCII digits
    /// and signs.
    pub fn text(&self) -> &'a str {
        self.text
    }

    /// Its tokens, white space at either end left out.
    pub fn tokens(&self) -> &'a [Token] {
        &self.cut.tokens
    }

    /// The text of token `index`.
    ///
    /// # Panics
    ///
    /// Where there is no such token.
    pub fn token_text(&self, index: usize) -> &'a str {
        let token = self.cut.tokens[index];
        &self.text[token.start as usize..token.end as usize]
    }

    /// How the tokens are written.
    pub fn marks(&self) -> Marks {
        self.cut.marks
    }

    /// The value, of a cell that its source types.
    pub fn stamp(&self) -> Option<Stamp> {
        self.cut.stamp
    }

    /// The shape of the cell.
    pub fn shape(&self) -> Shape {
        Shape::of(self)
    }

    /// A number that only cells with the same tokens have, all of this lexer;
    /// `None` where it was cut for the first time.
    #[inline]
    pub(crate) fn layout(&self) -> Option<NonZeroU64> {
        NonZeroU64::new(self.layout)
    }

    pub(crate) fn hash(&self) -> u64 {
        self.cut.hash
    }

    pub(super) fn codes(&self) -> &'a [u32] {
        &self.cut.codes
    }
}

impl Lexer {
    /// A lexer that knows `names` and does `words` about words that mean
    /// nothing in a date.
    pub fn new(names: Names, words: Words) -> Lexer {
        Lexer {
            names,
            words,
            ..Lexer::default()
        }
    }

    /// Cuts a cell into tokens: its text, as [`Lexer::lex`] does; a stamp is
    /// one token, whose class is its kind.
    #[inline(always)]
    pub fn lex_cell<'a>(&'a mut self, cell: Cell<'a>) -> Result<Lexed<'a>, NoDate> {
        match cell {
            Cell::Text(text) | Cell::Number(text) | Cell::Error(text) => self.lex(text),
            Cell::Boolean(true) => self.lex("TRUE"),
            Cell::Boolean(false) => self.lex("FALSE"),
            Cell::Stamp(stamp) => self.lex_stamp(stamp),
        }
    }

    /// Makes one token of a typed cell.
    #[cold]
    pub(crate) fn lex_stamp(&mut self, stamp: Stamp) -> Result<Lexed<'_>, NoDate> {
        self.plain.clear();
        stamp.push_iso(&mut self.plain);
        self.typed.clear();
        self.typed.push(Token {
            class: Class::Typed(stamp.kind()),
            start: 0,
            end: self.plain.len() as u32,
            value: 0,
        })?;
        self.typed.stamp = Some(stamp);
        Ok(Lexed {
            text: &self.plain,
            cut: &self.typed,
            layout: 0,
        })
    }

    /// Cuts `text` into tokens.
    ///
    /// Digits of any script are read as ASCII's, and so are the signs that
    /// have an ASCII equal. White space at either end and characters that are
    /// never seen (marks of writing direction, byte order) are left out.
    ///
    /// # Errors
    ///
    /// Where the text is none that a date could stand in; see [`NoDate`].
    ///
    /// ```
    /// use metachron_core::lex::{Class, Lexer};
    ///
    /// let mut lexer = Lexer::default();
    /// let cell = lexer.lex("٠٥/03/2024").unwrap();
    /// let classes: Vec<Class> = cell.tokens().iter().map(|token| token.class).collect();
    /// let slash = Class::Symbol('/');
    /// assert_eq!(classes, [Class::Short, slash, Class::Short, slash, Class::Digits(4)]);
    /// ```
    // Always inline: handed back through memory, a `Lexed` costs as much as
    // finding its layout.
    #[inline(always)]
    pub fn lex<'a>(&'a mut self, text: &'a str) -> Result<Lexed<'a>, NoDate> {
        if self.layouts.seek(text) {
            return match self.layouts.last() {
                Some((cut, layout)) => Ok(Lexed { text, cut, layout }),
                None => Err(NoDate::Word),
            };
        }
        let text = match self.cut_uncached(text)? {
            Written::Plainly => text,
            Written::Otherwise => &self.plain,
        };
        Ok(Lexed {
            text,
            cut: self.cut.tokens(),
            layout: 0,
        })
    }

    /// Refuses texts with the signature of `text` from now on, if it was cut last:
    /// for a caller that knows no form of its shape.
    pub(crate) fn refuse(&mut self, text: &str) {
        if self.layouts.last_fits(text) {
            self.layouts.put(text, None);
        }
    }

    /// Whether no text that differs from `text` in its digits alone can be a
    /// date, as far as that was found out.
    pub(crate) fn refuses(&self, text: &str) -> bool {
        self.layouts.last_is_refused(text)
    }

    /// Cuts a text whose signature was not met, or its plain text.
    #[inline(never)]
    fn cut_uncached(&mut self, text: &str) -> Result<Written, NoDate> {
        if text.len() > MAX_CELL_BYTES {
            return Err(NoDate::TooLong);
        }
        let is_plain = text.is_ascii() || !plain_text(text, &mut self.plain);
        let plain = if is_plain { text } else { &self.plain };
        let cut = &mut self.cut;
        let mut lexicon = None;
        let result = match &self.names {
            Names::English => cut.cut(plain, None, self.words),
            Names::Of(own) => {
                lexicon = Some(&**own);
                cut.cut(plain, lexicon, self.words)
            }
            Names::Anywhere => match cut.cut(plain, None, Words::Refuse) {
                // A cell without a digit is hardly a date in any language, and
                // nor is a code, which is not worth the index of all of them.
                Err(NoDate::Word)
                    if !(plain.is_ascii() && is_code(plain))
                        && plain.bytes().any(|byte| byte.is_ascii_digit()) =>
                {
                    lexicon = Some(everywhere());
                    let result = cut.cut(plain, lexicon, self.words);
                    cut.mark_foreign();
                    result
                }
                Err(NoDate::Word) => cut.cut(plain, None, self.words),
                result => result,
            },
        };
        if text.len() > Signature::LONGEST {
            // Nothing is remembered of it.
            result?;
        } else if let Err(why) = result {
            // A word is the same whatever the digits around it, unless a name
            // goes on with one.
            let with_digit = |lexicon: &Lexicon| lexicon.before_digits(plain).next().is_some();
            if why == NoDate::Word && is_plain && !lexicon.is_some_and(with_digit) {
                self.layouts.put(text, None);
            }
            return Err(why);
        } else {
            let cut = self.cut.tokens();
            // With another digit, a name with a digit in it is another one.
            let by_digits = |lexicon: &Lexicon| {
                let is_start = |start| cut.tokens.iter().any(|token| token.start as usize == start);
                lexicon.before_digits(plain).any(is_start)
            };
            if is_plain && !lexicon.is_some_and(by_digits) {
                self.layouts.put(text, Some(cut));
            }
        }
        Ok(if is_plain {
            Written::Plainly
        } else {
            Written::Otherwise
        })
    }
}

/// Whether `text` begins with one Latin letter and a number: `K-12`, `B7`. No
/// language has a name that goes on so, but for months and weekdays by their
/// number: `M03`, `T2`.
fn is_code(text: &str) -> bool {
    let is_letter = |byte: &u8| byte.is_ascii_alphabetic() && !b"mMtT".contains(byte);
    let behind = match text.as_bytes() {
        [letter, b'-', behind, ..] | [letter, behind, ..] if is_letter(letter) => behind,
        _ => return false,
    };
    behind.is_ascii_digit()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_name_begins_as_a_code() {
        for letter in ('a'..='z').filter(|letter| !"mt".contains(*letter)) {
            for digit in '0'..='9' {
                assert!(
                    !everywhere().begins_with(&[letter, digit]),
                    "{letter}{digit}"
                );
                assert!(
                    !everywhere().begins_with(&[letter, '-', digit]),
                    "{letter}-{digit}"
                );
            }
        }
        for (text, code) in [("K-12", true), ("b7", true), ("K-a1", false), ("M7", false)] {
            assert_eq!(is_code(text), code, "{text}");
        }
    }
}
