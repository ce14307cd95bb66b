//! One token and its class.

use super::{MAX_TOKENS, Marks, NoDate, WRAPPINGS};
use crate::locale::{Roles, filler_text};
use crate::stamp::{Kind, Stamp};

/// What sort of thing a token is, as far as its shape is concerned.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Class {
    /// One or two digits: a day, a month, an hour, a two-digit year.
    Short,
    /// Three or more digits: this many.
    Digits(u8),
    /// Digits of any number behind the decimal sign of a second.
    Fraction,
    /// A name: of a month, a weekday, a part of the day and so on. The token's
    /// value packs the numbers that it stands for in each role.
    Name(Roles),
    /// A word that stands inside dates without being a part of them, by its
    /// number: `of`, `de`, `Uhr`.
    Filler(u16),
    /// The `T` that ISO 8601 puts between a date and a time.
    T,
    /// The `Z` that ISO 8601 puts behind a time in UTC.
    Z,
    /// The letter `h` behind a number: `14h30`.
    H,
    /// The letter `W` before a week's number: `2024-W10`.
    W,
    /// The letter `Q` next to a quarter's number: `Q1`, `1Q24`.
    Q,
    /// The identifier of a time zone: `Europe/Lisbon`.
    ZoneId,
    /// A duration as ISO 8601 writes it: `P2DT3H`.
    Period,
    /// Any other word.
    Word,
    /// White space, however much.
    Space,
    /// Any other character.
    Symbol(char),
    /// Text that says nothing of the moment: the tags of RFC 9557, a comment behind
    /// an offset.
    Skipped,
    /// What a program puts before a value: the wrapping of this index.
    Opening(u8),
    /// What it puts behind it.
    Closing(u8),
    /// The whole cell: a value that its source types as this kind.
    Typed(Kind),
}

impl Class {
    /// Whether it is a name that may be `role`.
    pub fn may_be(self, role: Roles) -> bool {
        matches!(self, Class::Name(roles) if roles.has(role))
    }

    /// The text that every token of this class has, or is taken to have.
    pub fn text(self) -> String {
        match self {
            Class::Space => " ".to_owned(),
            Class::Symbol(symbol) => symbol.to_string(),
            Class::T => "T".to_owned(),
            Class::H => "h".to_owned(),
            Class::W => "W".to_owned(),
            Class::Q => "Q".to_owned(),
            Class::Filler(number) => filler_text(number).to_owned(),
            Class::Opening(index) => WRAPPINGS[usize::from(index)].open.to_owned(),
            Class::Closing(index) => WRAPPINGS[usize::from(index)].close.to_owned(),
            Class::Name(Roles::ORDINAL) => "th".to_owned(),
            _ => String::new(),
        }
    }

    /// A number that no other class has: what shapes are compared by.
    pub(super) fn code(self) -> u32 {
        // Characters need 21 bits; the classes count above them.
        const TAG: u32 = 1 << 24;
        match self {
            Class::Symbol(symbol) => u32::from(symbol),
            Class::Short => TAG,
            Class::Fraction => 2 * TAG,
            Class::Name(roles) => 3 * TAG + u32::from(roles.bits()),
            Class::Filler(number) => 4 * TAG + u32::from(number),
            Class::H => 5 * TAG,
            Class::W => 6 * TAG,
            Class::Q => 7 * TAG,
            Class::Period => 8 * TAG,
            Class::T => 9 * TAG,
            Class::Z => 10 * TAG,
            Class::Word => 11 * TAG,
            Class::Space => 12 * TAG,
            Class::ZoneId => 14 * TAG,
            Class::Digits(count) => 13 * TAG + u32::from(count),
            Class::Typed(kind) => 15 * TAG + kind as u32,
            Class::Opening(index) => 16 * TAG + u32::from(index),
            Class::Closing(index) => 17 * TAG + u32::from(index),
            Class::Skipped => 18 * TAG,
        }
    }
}

/// A span of a cell.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Token {
    /// What it is.
    pub class: Class,
    /// Where it starts in the cell, in bytes.
    pub start: u32,
    /// Where it ends in the cell, in bytes.
    pub end: u32,
    /// The numbers that a name stands for, packed as `Meaning::value` does.
    /// 0 for all else; digits are read where they are needed.
    pub value: u32,
}

impl Token {
    /// The token's length in bytes.
    pub fn len(&self) -> u32 {
        self.end - self.start
    }

    /// Whether it has no bytes, which no token of a cell has.
    pub fn is_empty(&self) -> bool {
        self.end == self.start
    }
}

/// The tokens of a text, which stand at the same bytes of every text that
/// looks like it.
#[derive(Clone, Debug, Default)]
pub(super) struct Tokens {
    pub tokens: Vec<Token>,
    /// The code of each token's class.
    pub codes: Vec<u32>,
    /// A hash of the codes.
    pub hash: u64,
    pub marks: Marks,
    /// The value, of a cell that its source types.
    pub stamp: Option<Stamp>,
}

impl Tokens {
    pub fn clear(&mut self) {
        self.tokens.clear();
        self.codes.clear();
        self.hash = 0;
        self.marks = Marks::default();
        self.stamp = None;
    }

    #[inline]
    pub fn push(&mut self, token: Token) -> Result<(), NoDate> {
        if self.tokens.len() == MAX_TOKENS {
            return Err(NoDate::TooLong);
        }
        let code = token.class.code();
        self.tokens.push(token);
        self.codes.push(code);
        self.hash = mix(self.hash, code);
        Ok(())
    }
}

#[inline]
fn mix(hash: u64, code: u32) -> u64 {
    // Multiply-rotate with the 64-bit golden ratio: shapes are short, and
    // equal hashes are compared code by code before they are believed.
    (hash.rotate_left(5) ^ u64::from(code)).wrapping_mul(0x9e37_79b9_7f4a_7c15)
}
