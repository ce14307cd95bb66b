//! Cutting one cell into tokens, from left to right, without allocating.

use super::token::Tokens;
use super::wrapping::wrapped;
use super::{Class, NoDate, Token, Words};
use crate::calendar::{Calendar, ERAS, Era};
use crate::locale::{
    HourSpan, Lexicon, LexiconEntry, Meaning, NameWidth, Roles, english_word, filler,
    is_word_letter,
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

    /// Whether digits that start here continue a second: `:59.`, `T143000,`.
    fn behind_decimal_sign(&self) -> bool {
        let is_dot = |token: &Token| token.class == Class::Symbol('.');
        let is_short = |token: &Token| token.class == Class::Short;
        // Three numbers and dots make a date or a time: what follows is a fraction
        // (`2024-04-29-14.04.50.000000`).
        if let [.., hour, first, minute, dot, second, last] = self.out.so_far()
            && [hour, minute, second].into_iter().all(is_short)
            && [first, dot, last].into_iter().all(is_dot)
        {
            return true;
        }
        // A date and a time in one run of digits: `20240305143000.25`.
        if let [run, sign] = self.out.so_far()
            && run.class == Class::Digits(14)
            && matches!(sign.class, Class::Symbol('.' | ','))
        {
            return true;
        }
        self.behind_seconds(&['.', ','])
            || matches!(
                self.out.so_far(),
                // `T143000,`, and the decimals of an hour: `T14,5`.
                [.., sign, number, decimal]
                    if sign.class == Class::T
                        && matches!(number.class, Class::Digits(6) | Class::Short)
                        && matches!(decimal.class, Class::Symbol('.' | ','))
            )
    }

    /// Whether a colon, a number and one of `signs` were passed last.
    fn behind_seconds(&self, signs: &[char]) -> bool {
        matches!(
            self.out.so_far(),
            [.., colon, second, sign]
                if colon.class == Class::Symbol(':')
                    && second.class == Class::Short
                    && matches!(sign.class, Class::Symbol(sign) if signs.contains(&sign))
        )
    }

    /// The length of what is skipped behind the bracket that starts here, where
    /// another closes it at the end of the text: tags of RFC 9557 (§4.1) that name no
    /// zone, and a comment behind an offset (RFC 5322 §3.2.2).
    fn skipped(&self) -> Option<usize> {
        let rest = &self.text[self.at..];
        let inner = rest.get(1..rest.len() - 1)?;
        let is_skipped = match (self.bytes[self.at], rest.as_bytes().last()?) {
            (b'[', b']') => inner.split("][").all(is_tag),
            (b'(', b')') => self.is_behind_offset() && !is_zone_name(inner),
            _ => false,
        };
        (is_skipped && !inner.is_empty()).then_some(inner.len())
    }

    /// Whether a sign, four digits and perhaps a space were passed last.
    fn is_behind_offset(&self) -> bool {
        let so_far = match self.out.so_far() {
            [before @ .., space] if space.class == Class::Space => before,
            all => all,
        };
        matches!(
            so_far,
            [.., sign, offset]
                if matches!(sign.class, Class::Symbol('+' | '-'))
                    && offset.class == Class::Digits(4)
        )
    }

    /// Takes the bracket that starts here, what is skipped in it, and the one that
    /// closes it.
    fn skip(&mut self, len: usize) -> Result<(), NoDate> {
        let sign = |at: usize| Class::Symbol(char::from(self.bytes[at]));
        let (open, close) = (sign(self.at), sign(self.bytes.len() - 1));
        self.push(open, 1, 0)?;
        self.push(Class::Skipped, len, 0)?;
        self.push(close, 1, 0)
    }

    fn word(&mut self) -> Result<(), NoDate> {
        let rest = &self.text[self.at..];
        let len = word_len(rest);
        if len == 1
            && let Some((class, len, value)) = self.letter()
        {
            return self.push(class, len, value);
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
            None if self.behind_a_clock() && zone::abbreviation(&rest[..len]).is_some() => {
                self.push(Class::Name(Roles::ZONE), len, 0)
            }
            None => match self.out.words {
                Words::Keep => self.push(Class::Word, len, 0),
                Words::Refuse => Err(NoDate::Word),
            },
        }
    }

    /// Whether `word` is the German `am`, on the: `am 5. März`, `Dienstag, am 5.3.2024`.
    /// Next to a time it is a half of the day, as in Korea (`AM 12:30`).
    fn is_on_the(&self, word: &str) -> bool {
        let starts = || {
            self.out.so_far().iter().all(|token| {
                token.class.may_be(Roles::WEEKDAY)
                    || matches!(token.class, Class::Space | Class::Symbol(','))
            })
        };
        let is_before_day = || {
            let behind = self.bytes[self.at + word.len()..].strip_prefix(b" ");
            let day = behind.and_then(|rest| {
                let digits = rest.iter().take_while(|byte| byte.is_ascii_digit()).count();
                matches!(digits, 1 | 2).then(|| rest[digits..].first())
            });
            matches!(day, Some(Some(b'.')))
        };
        word.eq_ignore_ascii_case("am") && starts() && is_before_day()
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
        (has_month || !self.behind_a_number() || has_date() || is_year_word())
            .then(|| filler(&word.to_lowercase()))
            .flatten()
    }

    /// Whether the rest of the cell is what Go shows of a clock that measures lengths of
    /// time: ` m=+0.000012345`.
    fn is_monotonic_clock(&self) -> bool {
        let seconds = self.bytes[self.at..].strip_prefix(b"m=");
        let seconds = seconds.and_then(|rest| rest.strip_prefix(b"+").or(rest.strip_prefix(b"-")));
        seconds.is_some_and(|rest| {
            !rest.is_empty()
                && rest
                    .iter()
                    .all(|byte| byte.is_ascii_digit() || *byte == b'.')
        })
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

    fn behind_digits(&self) -> bool {
        self.at > 0 && self.bytes[self.at - 1].is_ascii_digit()
    }

    /// A letter that stands by itself: `T`, `Z`, the `h` of an hour, or `a.m.`
    /// and its like.
    fn letter(&self) -> Option<(Class, usize, u32)> {
        let behind_digits = self.behind_digits();
        let before_digits = self.bytes.get(self.at + 1).is_some_and(u8::is_ascii_digit);
        let half = |span, len| {
            let value = Meaning::day_period(span).value();
            Some((Class::Name(Roles::DAY_PERIOD), len, value))
        };
        if let Some(era) = self.japanese_era() {
            return Some((Class::Name(Roles::ERA), 1, Meaning::era(era).value()));
        }
        match self.bytes[self.at].to_ascii_lowercase() {
            b't' if behind_digits && before_digits => Some((Class::T, 1, 0)),
            // `T14:30`, a time alone; `T1430` may be any code.
            b't' if self.out.so_far().is_empty() && self.is_before_minutes() => {
                Some((Class::T, 1, 0))
            }
            b'z' if behind_digits || self.is_last_behind_clock() => Some((Class::Z, 1, 0)),
            b'm' if self.is_month_sign() => filler("m").map(|number| (Class::Filler(number), 1, 0)),
            b'q' if self.is_between_numbers() => Some((Class::Q, 1, 0)),
            b'h' if self.behind_a_number() => Some((Class::H, 1, 0)),
            b'w' if before_digits => Some((Class::W, 1, 0)),
            b'q' if before_digits || behind_digits => Some((Class::Q, 1, 0)),
            letter @ (b'a' | b'p') => {
                let span = match letter {
                    b'a' => HourSpan::AM,
                    _ => HourSpan::PM,
                };
                match self.bytes[self.at + 1..] {
                    [b'.', b'm' | b'M', b'.', ..] => half(span, 4),
                    [b'.', b'm' | b'M'] => half(span, 3),
                    // `2:05a`, but `10a` may be a room.
                    [] if behind_digits && self.is_behind_minutes() => half(span, 1),
                    _ => None,
                }
            }
            _ => None,
        }
    }

    /// Whether two digits, a colon and a digit come behind the letter that starts here.
    fn is_before_minutes(&self) -> bool {
        matches!(
            self.bytes[self.at + 1..],
            [a, b, b':', c, ..] if [a, b, c].iter().all(u8::is_ascii_digit)
        )
    }

    /// Whether the letter that starts here is the last, with a time and a space
    /// before it: `14:30:00 Z`.
    fn is_last_behind_clock(&self) -> bool {
        let is_last = self.at + 1 == self.bytes.len();
        let number_before = match self.out.so_far() {
            [.., colon, number, space] if space.class == Class::Space => Some((colon, number)),
            _ => None,
        };
        is_last
            && number_before.is_some_and(|(sign, number)| {
                number.class == Class::Fraction
                    || number.class == Class::Short && sign.class == Class::Symbol(':')
            })
    }

    /// Whether the m that starts here stands between a year and its month, as
    /// statistics programs and offices write it: `2024m3`, `2024M03`, `2024-M03`.
    fn is_month_sign(&self) -> bool {
        let before = match self.out.so_far() {
            [year] => Some(year),
            [year, sign] if sign.class == Class::Symbol('-') => Some(year),
            _ => None,
        };
        let digits = &self.bytes[self.at + 1..];
        before.is_some_and(|year| year.class == Class::Digits(4))
            && matches!(digits.len(), 1 | 2)
            && digits.iter().all(u8::is_ascii_digit)
    }

    /// Whether a number and a space were passed last, and a space and a digit come:
    /// `2 Q 2024`.
    fn is_between_numbers(&self) -> bool {
        let is_behind = matches!(
            self.out.so_far(),
            [number, space] if number.class == Class::Short && space.class == Class::Space
        );
        is_behind && matches!(self.bytes[self.at + 1..], [b' ', b'0'..=b'9', ..])
    }

    /// The Japanese era that a capital letter stands for, before a date in numbers:
    /// `R6.3.5`, `H30/7/4`, `S57年1月2日`.
    fn japanese_era(&self) -> Option<u8> {
        let (letter, date) = self.bytes.split_at_checked(1)?;
        let era = japanese_era(letter[0]).filter(|_| self.at == 0)?;
        let mut runs = date.split(|byte| !byte.is_ascii_digit());
        let is_number = |run: Option<&[u8]>| run.is_some_and(|run| matches!(run.len(), 1 | 2));
        let are_parted = |sign: char| {
            let parts = || date.split(|byte| *byte == sign as u8);
            parts().count() == 3
                && parts().all(|part| is_number(part.split(|byte| *byte == b' ').next()))
        };
        let is_date = ['.', '/', '-'].into_iter().any(are_parted)
            || is_number(runs.next()) && self.text[1..].contains('年');
        is_date.then_some(era)
    }

    /// Whether a colon and a number were passed last, perhaps with a space behind
    /// them.
    fn is_behind_minutes(&self) -> bool {
        let colon = Class::Symbol(':');
        let so_far = match self.out.so_far() {
            [before @ .., space] if space.class == Class::Space => before,
            all => all,
        };
        matches!(so_far, [.., sign, number] if sign.class == colon && number.class == Class::Short)
    }

    /// Whether a number was passed last, perhaps with a space behind it.
    fn behind_a_number(&self) -> bool {
        let mut before = self.out.so_far().iter().rev();
        let number = before.find(|token| token.class != Class::Space);
        number.is_some_and(|token| {
            matches!(
                token.class,
                Class::Short | Class::Digits(_) | Class::Fraction
            )
        })
    }

    /// Whether a number, its half of the day, an offset or the bracket behind it
    /// was passed last.
    fn behind_a_clock(&self) -> bool {
        let mut before = self.out.so_far().iter().rev();
        let last = before.find(|token| token.class != Class::Space);
        let is_sign = |token: &Token| matches!(token.class, Class::Symbol('+' | '-'));
        last.is_some_and(|token| match token.class {
            Class::Short | Class::Fraction | Class::Symbol('(') => true,
            // An offset: `+0200 CEST`; or the year behind the time.
            Class::Digits(4) => {
                before.next().is_some_and(is_sign)
                    || before.any(|token| token.class == Class::Symbol(':'))
            }
            // `[-5:EST]`
            Class::Symbol(':') => before.nth(1).is_some_and(is_sign),
            class => class.may_be(Roles::DAY_PERIOD),
        })
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

/// The number of the Japanese era that goes by this letter.
fn japanese_era(letter: u8) -> Option<u8> {
    let is_it = |era: &Era| {
        era.calendar == Calendar::Japanese && era.code.as_bytes()[0].to_ascii_uppercase() == letter
    };
    let index = ERAS.iter().position(is_it)?;
    u8::try_from(index + 1).ok()
}

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

/// Whether `text` is the inside of a tag of RFC 9557 that names no zone: `u-ca=hebrew`,
/// `!_foo=bar`; or an offset, which repeats the one before it.
fn is_tag(text: &str) -> bool {
    let is_offset = text.len() == 6 && text.starts_with(['+', '-']) && text.as_bytes()[3] == b':';
    let tag = text.strip_prefix('!').unwrap_or(text);
    is_offset
        || tag.split_once('=').is_some_and(|(key, value)| {
            let are = |text: &str, others: &[u8]| {
                !text.is_empty()
                    && text
                        .bytes()
                        .all(|byte| byte.is_ascii_alphanumeric() || others.contains(&byte))
            };
            key.starts_with(|first: char| first.is_ascii_lowercase() || first == '_')
                && are(key, b"-_")
                && are(value, b"-")
        })
}

/// Whether `text` may be the abbreviation of a zone, which is checked.
fn is_zone_name(text: &str) -> bool {
    text.len() <= 5 && text.bytes().all(|byte| byte.is_ascii_uppercase())
}

/// Whether a year is all that follows, perhaps behind a word: ` 2024`,
/// `/2024`, ` quarter 2024`.
fn is_before_a_year(rest: &str) -> bool {
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
    ["er", "re", "e", "de", "ste", "a", "o", "."].contains(&word)
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
