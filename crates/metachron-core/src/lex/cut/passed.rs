//! What was passed last, by which the next token is told from its like.

use super::Pass;
use crate::lex::{Class, Token};
use crate::locale::Roles;
use crate::zone;
use smallvec::SmallVec;

impl Pass<'_> {
    /// Whether digits that start here continue a second: `:59.`, `T143000,`.
    pub(super) fn behind_decimal_sign(&self) -> bool {
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
    pub(super) fn behind_seconds(&self, signs: &[char]) -> bool {
        matches!(
            self.out.so_far(),
            [.., colon, second, sign]
                if colon.class == Class::Symbol(':')
                    && second.class == Class::Short
                    && matches!(sign.class, Class::Symbol(sign) if signs.contains(&sign))
        )
    }

    pub(super) fn behind_digits(&self) -> bool {
        self.at > 0 && self.bytes[self.at - 1].is_ascii_digit()
    }

    /// Whether a colon and a number were passed last, perhaps with a space behind
    /// them.
    pub(super) fn is_behind_minutes(&self) -> bool {
        let colon = Class::Symbol(':');
        let so_far = match self.out.so_far() {
            [before @ .., space] if space.class == Class::Space => before,
            all => all,
        };
        matches!(so_far, [.., sign, number] if sign.class == colon && number.class == Class::Short)
    }

    /// Whether a number was passed last, perhaps with a space behind it.
    pub(super) fn behind_a_number(&self) -> bool {
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
    pub(super) fn behind_a_clock(&self) -> bool {
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

    /// Whether what was passed may be a time of day and nothing else: `14:30`, `14.30:05`,
    /// `1430`, `om 14:30`.
    pub(super) fn is_all_a_clock(&self) -> bool {
        let so_far = self.out.so_far().iter().map(|token| token.class);
        let so_far: SmallVec<[Class; 6]> = so_far.collect();
        let is_sign = |class| matches!(class, Class::Symbol(':' | '.'));
        let clock = so_far.strip_suffix(&[Class::Space]).unwrap_or(&so_far);
        let clock = match clock {
            [Class::Filler(_), Class::Space, clock @ ..] => clock,
            clock => clock,
        };
        match *clock {
            [Class::Digits(4)] => true,
            [Class::Short, a, Class::Short] => is_sign(a),
            [Class::Short, a, Class::Short, b, Class::Short] => is_sign(a) && a == b,
            _ => false,
        }
    }

    /// Whether there was a date in numbers: a year, and a sign next to it.
    pub(super) fn has_date_in_numbers(&self) -> bool {
        let is_sign = |class| matches!(class, Class::Symbol('/' | '.' | '-'));
        let mut pairs = self.out.so_far().windows(2);
        pairs.any(|pair| match [pair[0].class, pair[1].class] {
            [Class::Digits(4), other] | [other, Class::Digits(4)] => is_sign(other),
            _ => false,
        })
    }

    /// Whether the long name of a zone may start here: there was a time of day, or it is
    /// not in Latin letters, in which times have signs of their own.
    pub(super) fn may_be_zone(&self, rest: &str) -> bool {
        let so_far = self.out.so_far();
        let has_sign =
            || (so_far.iter()).any(|token| matches!(token.class, Class::Symbol(':' | '.')));
        !so_far.is_empty() && (!rest.is_ascii() || has_sign())
    }

    /// Whether a time of day follows what is `len` bytes long: `CST 14:30:00`.
    pub(super) fn is_before_clock(&self, len: usize) -> bool {
        let behind = self.bytes[self.at + len..].strip_prefix(b" ");
        let is_clock = |behind: &[u8]| {
            let hour = behind
                .iter()
                .take_while(|byte| byte.is_ascii_digit())
                .count();
            matches!((hour, &behind[hour..]), (1 | 2, [b':', minute, ..]) if minute.is_ascii_digit())
        };
        !self.out.so_far().is_empty() && behind.is_some_and(is_clock)
    }

    /// Whether `word` is the abbreviation of one zone, in capitals, right behind minutes
    /// or seconds.
    pub(super) fn is_zone_of_clock(&self, word: &str) -> bool {
        let mut before = self.out.so_far().iter().rev();
        let has_one_offset = || zone::abbreviation(word).flatten().is_some();
        matches!(before.next(), Some(space) if space.class == Class::Space)
            && matches!(before.next(), Some(last) if last.class == Class::Short)
            && matches!(before.next(), Some(sign) if sign.class == Class::Symbol(':'))
            && has_one_offset()
    }
}
