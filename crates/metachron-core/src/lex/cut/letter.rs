//! Letters that stand by themselves: `T`, `Z`, the `h` of an hour, `a.m.` and its like.

use super::Pass;
use crate::calendar::{Calendar, ERAS, Era};
use crate::lex::{Class, Token};
use crate::locale::{HourSpan, LexiconEntry, Meaning, Roles, english_word, filler};

impl Pass<'_> {
    /// A letter that stands by itself: `T`, `Z`, the `h` of an hour, or `a.m.`
    /// and its like.
    pub(super) fn letter(&self) -> Option<(Class, usize, u32)> {
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
            b't' if behind_digits && (before_digits || self.is_trimester()) => {
                Some((Class::T, 1, 0))
            }
            // `T14:30`, a time alone; `T1430` may be any code.
            b't' if self.out.so_far().is_empty() && self.is_before_minutes() => {
                Some((Class::T, 1, 0))
            }
            b'z' if behind_digits || self.is_last_behind_clock() => Some((Class::Z, 1, 0)),
            b'm' if self.is_month_sign() => filler("m").map(|number| (Class::Filler(number), 1, 0)),
            b'q' if self.is_between_numbers() => Some((Class::Q, 1, 0)),
            b'h' if self.behind_a_number() || self.is_before_minutes_of_hour() => {
                Some((Class::H, 1, 0))
            }
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
                    // `2:05a`, `2:05 P`, but `10a` may be a room.
                    [] if self.is_behind_minutes() => half(span, 1),
                    _ => None,
                }
            }
            _ => None,
        }
    }

    /// Whether the letter that starts `word` is that of UTC, with the month of a
    /// date-time group behind it: `051430ZMAR24`.
    pub(super) fn is_zone_before_month(&self, word: &str) -> bool {
        let is_digits = |token: &Token| token.class == Class::Digits(6);
        let is_month = |name: &str| {
            matches!(english_word(name), Some(LexiconEntry::Name(meaning))
                if meaning.roles.has(Roles::MONTH))
        };
        matches!(self.out.so_far(), [token] if is_digits(token))
            && word.strip_prefix(['Z', 'z']).is_some_and(is_month)
    }

    /// Whether two digits, a colon and a digit come behind the letter that starts here.
    fn is_before_minutes(&self) -> bool {
        matches!(
            self.bytes[self.at + 1..],
            [a, b, b':', c, ..] if [a, b, c].iter().all(u8::is_ascii_digit)
        )
    }

    /// Whether the T that starts here stands between a number and a year: `1T 2024`; `3t
    /// 2024` may be tons.
    fn is_trimester(&self) -> bool {
        let [b'T', b' ', year @ ..] = &self.bytes[self.at..] else {
            return false;
        };
        self.out.so_far().len() == 1 && year.len() == 4 && year.iter().all(u8::is_ascii_digit)
    }

    /// Whether the h that starts here stands before all of a time: `h 14:30`; `h 14.30` may be
    /// a height.
    fn is_before_minutes_of_hour(&self) -> bool {
        let rest = self.text[self.at + 1..].trim_start_matches('.');
        let parts = rest
            .strip_prefix(' ')
            .and_then(|clock| clock.split_once(':'));
        let are_digits = |text: &str| text.bytes().all(|byte| byte.is_ascii_digit());
        self.out.so_far().is_empty()
            && parts.is_some_and(|(hour, minute)| {
                matches!((hour.len(), minute.len()), (1 | 2, 2))
                    && are_digits(hour)
                    && are_digits(minute)
            })
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
}

/// The number of the Japanese era that goes by this letter.
fn japanese_era(letter: u8) -> Option<u8> {
    let is_it = |era: &Era| {
        era.calendar == Calendar::Japanese && era.code.as_bytes()[0].to_ascii_uppercase() == letter
    };
    let index = ERAS.iter().position(is_it)?;
    u8::try_from(index + 1).ok()
}
