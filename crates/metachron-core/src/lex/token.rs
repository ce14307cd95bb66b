//! One token and its class.

/// What sort of thing a token is, as far as its shape is concerned.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Class {
    /// One or two digits: a day, a month, an hour, a two-digit year.
    Short,
    /// Three or more digits: this many.
    Digits(u8),
    /// Digits of any number behind the decimal sign of a second.
    Fraction,
    /// A month's name. The token's value is its number.
    Month,
    /// A weekday's name. The token's value is its ISO 8601 number.
    Weekday,
    /// `am` or `pm` in one of its spellings. The value is 0 or 1.
    DayPeriod,
    /// `st`, `nd`, `rd`, `th` behind a number.
    Ordinal,
    /// `UTC` or `GMT`.
    Utc,
    /// The word `of`.
    Of,
    /// The `T` that ISO 8601 puts between a date and a time.
    T,
    /// The `Z` that ISO 8601 puts behind a time in UTC.
    Z,
    /// Any other word.
    Word,
    /// White space, however much.
    Space,
    /// Any other character.
    Symbol(char),
}

impl Class {
    /// A number that no other class has: what shapes are compared by.
    pub(super) fn code(self) -> u32 {
        // Characters need 21 bits; the classes count above them.
        const TAG: u32 = 1 << 24;
        match self {
            Class::Symbol(symbol) => u32::from(symbol),
            Class::Short => TAG,
            Class::Fraction => 2 * TAG,
            Class::Month => 3 * TAG,
            Class::Weekday => 4 * TAG,
            Class::DayPeriod => 5 * TAG,
            Class::Ordinal => 6 * TAG,
            Class::Utc => 7 * TAG,
            Class::Of => 8 * TAG,
            Class::T => 9 * TAG,
            Class::Z => 10 * TAG,
            Class::Word => 11 * TAG,
            Class::Space => 12 * TAG,
            Class::Digits(count) => 13 * TAG + u32::from(count),
        }
    }
}

/// A stretch of a cell.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Token {
    /// What it is.
    pub class: Class,
    /// Where it starts in the cell, in bytes.
    pub start: u32,
    /// Where it ends in the cell, in bytes.
    pub end: u32,
    /// The number that a name stands for: of a month, a weekday or a half of
    /// the day. 0 for all else; digits are read where they are needed.
    pub value: u32,
}

impl Token {
    pub(super) const NONE: Token = Token {
        class: Class::Space,
        start: 0,
        end: 0,
        value: 0,
    };

    /// The token's length in bytes.
    pub fn len(&self) -> u32 {
        self.end - self.start
    }

    /// Whether it has no bytes, which no token of a cell has.
    pub fn is_empty(&self) -> bool {
        self.end == self.start
    }
}
