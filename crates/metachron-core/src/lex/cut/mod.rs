//! Cutting one cell into tokens, from left to right, without allocating.

mod letter;
mod passed;
mod skipped;

use super::token::Tokens;
use super::wrapping::wrapped;
use super::{Class, NoDate, Token, Words};
use crate::locale::{
    Lexicon, LexiconEntry, Meaning, NameWidth, Roles, Sign, ZoneName, english_word, filler,
    is_sign, is_word_letter,
};
use crate::zone;

/// Cuts cells, in buffers that serve the next.
#[derive(Clone, Debug, Default)]
pub(super) struct Cut {
    tokens: Tokens,
    /// White space just passed, which is a token only if another follows it.
    space: Option<(usize, usize)>,
    words: Words,
    /// The first token of the value: 1 behind what a program puts before it.
    from: usize,
}

impl Cut {
    /// Cuts `text`, by the names of `lexicon` or, without one, the English
    /// ones.
    pub(super) fn cut(
        &mut self,
        text: &str,
        lexicon: Option<&Lexicon>,
        words: Words,
    ) -> Result<(), NoDate> {
        self.tokens.clear();
        self.space = None;
        self.words = words;
        self.from = 0;
        let trimmed = text.trim();
        let before = text.len() - text.trim_start().len();
        let Some(wrapped) = wrapped(trimmed) else {
            return self.pass(text, 0, lexicon);
        };
        let (start, end) = (before + wrapped.start, before + wrapped.end);
        self.put(Class::Opening(wrapped.index), before, start, 0)?;
        self.from = 1;
        self.pass(&text[..end], start, lexicon)?;
        self.space = None;
        let close = end..before + trimmed.len();
        if close.is_empty() {
            return Ok(());
        }
        self.put(Class::Closing(wrapped.index), close.start, close.end, 0)
    }

    /// Cuts `text` from the byte `at` on.
    fn pass(&mut self, text: &str, at: usize, lexicon: Option<&Lexicon>) -> Result<(), NoDate> {
        let mut pass = Pass {
            text,
            bytes: text.as_bytes(),
            lexicon,
            at,
            out: self,
        };
        while pass.at < pass.bytes.len() {
            pass.next()?;
        }
        Ok(())
    }

    /// Marks all names as looked up in all languages.
    pub(super) fn mark_foreign(&mut self) {
        for (index, token) in self.tokens.tokens.iter().enumerate() {
            if matches!(token.class, Class::Name(_)) {
                self.tokens.marks.foreign |= 1 << (index & 31);
            }
        }
    }

    /// The tokens of the text that was cut last.
    pub(super) fn tokens(&self) -> &Tokens {
        &self.tokens
    }

    /// The tokens of the value so far.
    fn so_far(&self) -> &[Token] {
        &self.tokens.tokens[self.from..]
    }

    /// The bit of the token that comes next.
    fn bit(&self) -> u32 {
        1 << (self.tokens.tokens.len() & 31)
    }

    #[inline]
    fn flush_space(&mut self) -> Result<(), NoDate> {
        match self.space.take() {
            Some((start, end)) => self.put(Class::Space, start, end, 0),
            None => Ok(()),
        }
    }

    #[inline]
    fn put(&mut self, class: Class, start: usize, end: usize, value: u32) -> Result<(), NoDate> {
        self.tokens.push(Token {
            class,
            start: start as u32,
            end: end as u32,
            value,
        })
    }
}

/// One pass over a cell.
struct Pass<'p> {
    text: &'p str,
    bytes: &'p [u8],
    lexicon: Option<&'p Lexicon>,
    at: usize,
    out: &'p mut Cut,
}

impl Pass<'_> {
    #[inline]
    fn next(&mut self) -> Result<(), NoDate> {
        let byte = self.bytes[self.at];
        if let b' ' | b'\t' | b'\n' | b'\r' = byte {
            return self.space(1);
        }
        if !byte.is_ascii() {
            return self.beyond_ascii();
        }
        self.out.flush_space()?;
        match byte {
            b'0'..=b'9' => self.digits(),
            b'a'..=b'z' | b'A'..=b'Z' => self.word(),
            b'(' | b'[' if let Some(len) = self.skipped() => self.skip(len),
            _ => self.push(Class::Symbol(char::from(byte)), 1, 0),
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
                self.out.tokens.marks.pairs |= self.out.bit();
                Class::Short
            }
            // `14:30:00:123`, as some databases write milliseconds.
            3 if self.behind_seconds(&[':']) => Class::Fraction,
            // A run too long to count is no date whatever its length.
            _ => Class::Digits(u8::try_from(count).unwrap_or(u8::MAX)),
        };
        self.push(class, count, 0)
    }

    fn word(&mut self) -> Result<(), NoDate> {
        let rest = &self.text[self.at..];
        let len = word_len(rest);
        if len == 1
            && let Some((class, len, value)) = self.letter()
        {
            return self.push(class, len, value);
        }
        if self.is_zone_before_month(&rest[..len]) {
            return self.push(Class::Z, 1, 0);
        }
        if self.is_monotonic_clock() {
            return self.push(Class::Skipped, rest.len(), 0);
        }
        if self.is_iso_duration() {
            return self.push(Class::Period, rest.len(), 0);
        }
        if !self.out.so_far().is_empty()
            && let Some(len) = zone::id_len(rest)
        {
            return self.push(Class::ZoneId, len, 0);
        }
        if self.may_be_zone(rest)
            && let Some((len, name)) = ZoneName::at_start_of(rest)
        {
            return self.push(Class::Name(Roles::ZONE), len, name.value());
        }
        if let Some(number) = roman_numeral(&rest[..len])
            && (!self.out.so_far().is_empty() || is_before_a_year(&rest[len..]))
        {
            return self.name(Meaning::numeral(number), len);
        }
        if let Some(meaning) = self.short_half_day() {
            return self.name(meaning, rest.len());
        }
        if let Some((day, len)) = self.weekday_in_brackets() {
            return self.name(Meaning::weekday(day, NameWidth::Abbreviated), len);
        }
        let known = match self.lexicon {
            // Croatian has `čet` for Thursday.
            _ if self.is_zone_of_clock(&rest[..len]) => None,
            Some(lexicon) => lexicon
                .longest(rest)
                .or_else(|| prefix(rest, lexicon))
                .or_else(|| Some((len, universal(&rest[..len])?))),
            None => english_word(&rest[..len]).map(|found| (len, found)),
        };
        match known {
            Some((len, _)) if self.behind_digits() && is_ordinal_first(rest, len) => {
                self.push(Class::Name(Roles::ORDINAL), len, 0)
            }
            Some((len, _)) if self.is_on_the(&rest[..len]) => {
                let number = filler("am").ok_or(NoDate::Word)?;
                self.push(Class::Filler(number), len, 0)
            }
            Some((len, LexiconEntry::Name(meaning))) => match self.joining(meaning, &rest[..len]) {
                Some(number) => self.push(Class::Filler(number), len, 0),
                None => self.name(meaning, len),
            },
            Some((len, LexiconEntry::Filler(number))) => self.push(Class::Filler(number), len, 0),
            None if self.behind_digits() && is_ordinal(&rest[..len]) => {
                self.push(Class::Name(Roles::ORDINAL), len, 0)
            }
            None if (self.behind_a_clock() || self.is_before_clock(len))
                && zone::abbreviation(&rest[..len]).is_some() =>
            {
                self.push(Class::Name(Roles::ZONE), len, 0)
            }
            None => match self.out.words {
                Words::Keep => self.push(Class::Word, len, 0),
                Words::Refuse => Err(NoDate::Word),
            },
        }
    }

    /// Whether `word` is the German `am`, on the: `am 5. März`, `Dienstag, am 5.3.2024`,
    /// `am Dienstag, dem 5. März`.
    /// Next to a time it is a half of the day, as in Korea (`AM 12:30`).
    fn is_on_the(&self, word: &str) -> bool {
        let starts = || {
            self.out.so_far().iter().all(|token| {
                token.class.may_be(Roles::WEEKDAY)
                    || matches!(token.class, Class::Space | Class::Symbol(','))
            })
        };
        let behind = || {
            let behind = self.text[self.at + word.len()..].strip_prefix(' ');
            behind.unwrap_or_default()
        };
        let is_before_day = || {
            let rest = behind();
            let digits = rest.bytes().take_while(u8::is_ascii_digit).count();
            matches!(digits, 1 | 2) && rest[digits..].starts_with('.')
        };
        let is_before_weekday = || {
            let end = |letter: char| !letter.is_alphabetic();
            let word = behind().split(end).next().unwrap_or_default();
            let lower = word.to_lowercase();
            matches!(&*lower, "mittwoch" | "sonnabend") || lower.ends_with("tag")
        };
        word.eq_ignore_ascii_case("am") && starts() && (is_before_day() || is_before_weekday())
    }

    /// What the last word of the text is, which stands behind minutes: `2:08 م`,
    /// `2:08 CH`. Such a word may be the name of a weekday as well.
    fn short_half_day(&self) -> Option<Meaning> {
        let word = &self.text[self.at..];
        let is_short = word.len() <= 2 && self.is_behind_minutes();
        let half = self.lexicon.filter(|_| is_short)?.short_half_day(word)?;
        match self.lexicon.and_then(|lexicon| lexicon.get(word)) {
            Some(LexiconEntry::Name(name)) => Some(half.or(name)),
            _ => Some(half),
        }
    }

    /// The weekday and its length, where it is a sign that stands for the month or
    /// the day elsewhere, or a number, alone in brackets: `2022年4月4日(月)`.
    fn weekday_in_brackets(&self) -> Option<(u8, usize)> {
        let open = self.out.so_far().last()?.class;
        let mut letters = self.text[self.at..].chars();
        let (day, close) = (letters.next()?, letters.next()?);
        let is_alone = matches!(
            (open, close),
            (Class::Symbol('('), ')') | (Class::Symbol('（'), '）')
        );
        let day_of_week = match day {
            '月' | '월' | '一' => 1,
            '二' => 2,
            '三' => 3,
            '四' => 4,
            '五' => 5,
            '六' => 6,
            '日' | '일' => 7,
            _ => return None,
        };
        is_alone.then_some((day_of_week, day.len_utf8()))
    }

    /// The number of a word that is a unit of time and stands inside dates as well,
    /// where it is no unit: `dnia 12 marca 2016 roku` is the day, of the year. It
    /// is one behind a number, unless a date or a month's name came before.
    fn joining(&self, meaning: Meaning, word: &str) -> Option<u16> {
        if meaning.roles != Roles::UNIT || word.len() > LONGEST_JOINING {
            return None;
        }
        let mut before = self.out.so_far().iter();
        let has_month = before.any(|token| token.class.may_be(Roles::MONTH));
        // `2018 m. rugsėjo 14 d.`
        let is_year_word = || {
            let after = self.bytes.get(self.at + word.len()..).unwrap_or_default();
            matches!(self.out.so_far(), [year, space] if year.class == Class::Digits(4) && space.class == Class::Space)
                && after.starts_with(b". ")
        };
        // `10/04/2024 ore 14:08`
        let has_date = || {
            let so_far = self.out.so_far().iter().rev();
            let mut classes = so_far.map(|token| token.class);
            let year = classes.find(|class| *class != Class::Space);
            let sign = classes.next();
            year == Some(Class::Digits(4)) && matches!(sign, Some(Class::Symbol('/' | '.' | '-')))
        };
        let number = filler(&word.to_lowercase())?;
        // `14:30 hrs`, `1430 hrs`, `05/03/2024 14:30 hrs`
        let is_word_of_clock = || {
            is_sign(number, Sign::Clock) && (self.is_all_a_clock() || self.has_date_in_numbers())
        };
        (has_month || !self.behind_a_number() || has_date() || is_year_word() || is_word_of_clock())
            .then_some(number)
    }

    /// Whether the rest of the cell is `P`, numbers and designators
    /// (ISO 8601-1:2019 §5.5.2).
    fn is_iso_duration(&self) -> bool {
        let is_before = |token: &Token| matches!(token.class, Class::Symbol('-' | '+'));
        let sign = self.out.so_far().len() <= 1 && self.out.so_far().iter().all(is_before);
        let rest = &self.bytes[self.at..];
        let part = |byte: &u8| byte.is_ascii_digit() || b"YMWDTHSymwdths.,-+:".contains(byte);
        sign && matches!(rest, [b'P' | b'p', next, ..] if next.is_ascii_digit() || b"Tt-+".contains(next))
            && rest[1..].iter().all(part)
            && rest.iter().any(u8::is_ascii_digit)
    }

    fn name(&mut self, meaning: Meaning, len: usize) -> Result<(), NoDate> {
        let bit = self.out.bit();
        match meaning.width {
            NameWidth::Abbreviated => self.out.tokens.marks.abbreviated |= bit,
            NameWidth::Wide => self.out.tokens.marks.wide |= bit,
            NameWidth::Either => {}
        }
        // The dot of an abbreviation belongs to it; before a digit it stands
        // between parts of the date (`5.Mar.2024`).
        let dotted = meaning.width != NameWidth::Wide
            && meaning.roles != Roles::UNIT
            && self.bytes.get(self.at + len) == Some(&b'.')
            && !self
                .bytes
                .get(self.at + len + 1)
                .is_some_and(u8::is_ascii_digit);
        let len = len + usize::from(dotted);
        self.push(Class::Name(meaning.roles), len, meaning.value())
    }

    fn space(&mut self, len: usize) -> Result<(), NoDate> {
        let start = self.out.space.map_or(self.at, |(start, _)| start);
        self.at += len;
        if !self.out.so_far().is_empty() {
            self.out.space = Some((start, self.at));
        }
        Ok(())
    }

    fn beyond_ascii(&mut self) -> Result<(), NoDate> {
        let letter = self.text[self.at..].chars().next().unwrap_or(' ');
        let len = letter.len_utf8();
        if letter.is_whitespace() {
            return self.space(len);
        }
        self.out.flush_space()?;
        match letter {
            'º' | 'ª' if self.behind_digits() => self.push(Class::Name(Roles::ORDINAL), len, 0),
            _ if is_word_letter(letter) => self.word(),
            _ => self.push(Class::Symbol(letter), len, 0),
        }
    }

    #[inline]
    fn push(&mut self, class: Class, len: usize, value: u32) -> Result<(), NoDate> {
        let (start, end) = (self.at, self.at + len);
        self.at = end;
        self.out.put(class, start, end, value)
    }
}

/// No word inside dates that is a unit as well has more bytes than this.
const LONGEST_JOINING: usize = 16;

/// How many bytes the word at the start of `text` has.
fn word_len(text: &str) -> usize {
    let ascii = text.bytes().take_while(u8::is_ascii_alphabetic).count();
    match text.as_bytes().get(ascii) {
        Some(byte) if !byte.is_ascii() => text
            .find(|letter: char| !is_word_letter(letter))
            .unwrap_or(text.len()),
        _ => ascii,
    }
}

/// A letter that is a word of its own and yet written as part of the name
/// behind it, as Hebrew and Syriac do: `במרץ`, in March.
fn prefix(text: &str, lexicon: &Lexicon) -> Option<(usize, LexiconEntry)> {
    let len = text
        .chars()
        .next()
        .filter(|first| !first.is_ascii())?
        .len_utf8();
    let found @ LexiconEntry::Filler(_) = lexicon.get(&text[..len])? else {
        return None;
    };
    matches!(lexicon.longest(&text[len..])?.1, LexiconEntry::Name(_)).then_some((len, found))
}

/// Whether a year is all that follows, perhaps between words: ` 2024`,
/// `/2024`, ` quarter 2024`, ` квартал 2024 г.`
fn is_before_a_year(rest: &str) -> bool {
    const LONGEST_WORD_FOR_YEAR: usize = " године".len();
    let end = rest.rfind(|letter: char| letter.is_ascii_digit());
    let (rest, behind) = rest.split_at(end.map_or(rest.len(), |last| last + 1));
    if behind.len() > LONGEST_WORD_FOR_YEAR {
        return false;
    }
    let year = rest
        .len()
        .checked_sub(4)
        .and_then(|at| rest.split_at_checked(at));
    year.is_some_and(|(before, year)| {
        year.bytes().all(|byte| byte.is_ascii_digit())
            && !before.is_empty()
            && !before.bytes().any(|byte| byte.is_ascii_digit())
    })
}

/// The month or quarter that a roman numeral stands for: `5.III.2024`, `III 2024`.
/// In capitals only, since small letters are words in many languages.
fn roman_numeral(word: &str) -> Option<u8> {
    const NUMERALS: [&str; 12] = [
        "I", "II", "III", "IV", "V", "VI", "VII", "VIII", "IX", "X", "XI", "XII",
    ];
    if !word.starts_with(['I', 'V', 'X']) {
        return None;
    }
    (1..)
        .zip(NUMERALS)
        .find_map(|(month, numeral)| (numeral == word).then_some(month))
}

/// What is English and written everywhere: `am`, `pm`, `UTC`, `mins`.
fn universal(word: &str) -> Option<LexiconEntry> {
    const EVERYWHERE: [Roles; 3] = [Roles::DAY_PERIOD, Roles::ZONE, Roles::UNIT];
    let found = english_word(word)?;
    let LexiconEntry::Name(meaning) = found else {
        return None;
    };
    EVERYWHERE.contains(&meaning.roles).then_some(found)
}

/// The suffixes that languages put behind the day's number; CLDR lists none.
fn is_ordinal(word: &str) -> bool {
    ["er", "re", "e", "de", "ste", "te", "ten", "a", "o", "."].contains(&word)
        || ENGLISH_ORDINALS.contains(&word)
}

const ENGLISH_ORDINALS: [&str; 4] = ["st", "nd", "rd", "th"];

/// Whether the first letters of `rest`, right behind a number, are an ordinal's ending
/// whatever else they may be: `Th` is a Thursday as well, `st` joins words in Occitan,
/// and `1η Ιουνίου` is the first, where `1η 2ω` is a day.
fn is_ordinal_first(rest: &str, len: usize) -> bool {
    let (word, behind) = rest.split_at(len);
    let is_before_a_word = || {
        let word = behind.strip_prefix(' ');
        word.is_some_and(|word| word.starts_with(is_word_letter))
    };
    ENGLISH_ORDINALS.contains(&word) || word == "η" && is_before_a_word()
}
