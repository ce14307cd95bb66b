//! Fitting a form to a shape: which token each field is read from.

use super::field::Reads;
use super::reader::{Offset, Reader, Slot, YearNumber};
use super::{Count, Digits, Field, FieldType, Form, Item, OffsetStyle};
use crate::lex::{Class, Shape, WRAPPINGS, prefix_len};
use crate::locale::{Roles, filler_text, is_unspaced, is_word_letter, plain_text};

/// The reader of `form`, which has no optional parts, for cells of `shape`;
/// `None` where they differ.
pub(super) fn fit(form: &Form, shape: &Shape) -> Option<Reader> {
    let fitting = Fitting {
        classes: shape.classes(),
        at: 0,
        reader: Reader::for_form(form),
        has_era: form.has(FieldType::Era),
        has_offset: form.has(FieldType::Offset),
    };
    let fitting = fitting.items(form.items())?;
    Some(fitting.reader.finish())
}

/// How many number fields stand at the start with nothing between them.
fn number_run(items: &[Item]) -> usize {
    items
        .iter()
        .take_while(|item| matches!(item, Item::Field(field) if field.is_number()))
        .count()
}

#[derive(Clone)]
struct Fitting<'s> {
    classes: &'s [Class],
    at: usize,
    reader: Reader,
    has_era: bool,
    has_offset: bool,
}

impl Fitting<'_> {
    /// Fits all of `items` to all that is left.
    fn items(mut self, mut items: &[Item]) -> Option<Self> {
        while let Some(item) = items.first() {
            let used = match item {
                Item::Literal(text) => {
                    self.literal(text)?;
                    1
                }
                Item::Field(Field::Skipped) if self.peek(0)? != Class::Skipped => {
                    return self.skip(&items[1..]);
                }
                Item::Field(_) => {
                    let run = number_run(items);
                    if run > 1 {
                        self.compact(&items[..run])?;
                    } else if let Item::Field(field) = item {
                        self.field(*field)?;
                    }
                    run.max(1)
                }
                Item::Optional(_) => return None,
            };
            items = &items[used..];
        }
        (self.at == self.classes.len()).then_some(self)
    }

    /// Skips as little as there may be before `rest`, which takes all that is left.
    fn skip(self, rest: &[Item]) -> Option<Self> {
        let all = self.classes.len();
        if rest.is_empty() {
            return (self.at < all).then_some(Fitting { at: all, ..self });
        }
        (self.at + 1..all).find_map(|at| Fitting { at, ..self.clone() }.items(rest))
    }

    fn peek(&self, ahead: usize) -> Option<Class> {
        self.classes.get(self.at + ahead).copied()
    }

    fn take(&mut self, class: Class) -> Option<u8> {
        (self.peek(0)? == class).then(|| {
            self.at += 1;
            (self.at - 1) as u8
        })
    }

    /// Takes a token that may be a name in `role`.
    fn name(&mut self, role: Roles) -> Option<u8> {
        self.peek(0).filter(|class| class.may_be(role))?;
        self.at += 1;
        Some((self.at - 1) as u8)
    }

    /// Takes decimals: behind a decimal sign, digits of any number.
    fn fraction(&mut self) -> Option<u8> {
        if let Some(token) = self.take(Class::Fraction) {
            return Some(token);
        }
        let sign = self.at.checked_sub(1).map(|before| self.classes[before]);
        let is_decimal = matches!(sign, Some(Class::Symbol('.' | ',')));
        let is_number = matches!(self.peek(0)?, Class::Short | Class::Digits(_));
        (is_decimal && is_number).then(|| {
            self.at += 1;
            (self.at - 1) as u8
        })
    }

    /// Takes a sign and a year of four to six digits.
    fn signed_year(&mut self, field: Field) -> Option<()> {
        self.reader.year_number = match self.peek(0)? {
            Class::Symbol('+') => YearNumber::Plus,
            Class::Symbol('-') => YearNumber::Minus,
            _ => return None,
        };
        matches!(self.peek(1)?, Class::Digits(4..=6)).then_some(())?;
        self.reader.set(field, Slot::Digits(self.at as u8 + 1));
        self.at += 2;
        Some(())
    }

    /// Takes a year of as many digits as it has.
    fn year(&mut self) -> Option<u8> {
        let class = self.peek(0)?;
        let fits = match class {
            Class::Digits(count) => matches!(count, 3 | 4),
            Class::Short => self.has_era,
            _ => false,
        };
        fits.then(|| {
            self.at += 1;
            (self.at - 1) as u8
        })
    }

    fn field(&mut self, field: Field) -> Option<()> {
        let Some(spelling) = field.spelling() else {
            return self.whole(field);
        };
        let slot = match spelling.reads {
            Reads::Digits(1) | Reads::UpToTwo => Slot::Digits(self.take(Class::Short)?),
            Reads::DigitOrNumeral => match self.name(Roles::NUMERAL) {
                Some(token) => Slot::Name(token),
                None => Slot::Digits(self.take(Class::Short)?),
            },
            Reads::Digits(2) => {
                let token = self.take(Class::Short)?;
                self.reader.pairs |= 1 << token;
                Slot::Digits(token)
            }
            Reads::Digits(count) => Slot::Digits(self.take(Class::Digits(count))?),
            Reads::UpToThree => {
                let token = self
                    .take(Class::Digits(3))
                    .or_else(|| self.take(Class::Short));
                Slot::Digits(token?)
            }
            Reads::Year => Slot::Digits(self.year()?),
            Reads::Name(role) => Slot::Name(self.name(role)?),
            Reads::Token(Class::Fraction) => Slot::Digits(self.fraction()?),
            Reads::SignedYear => return self.signed_year(field),
            Reads::Token(class) => Slot::Name(self.take(class)?),
            Reads::Offset(style) => return self.offset(style),
        };
        self.reader.set(field, slot);
        Some(())
    }

    /// A field that is all of the cell, or all that is left of it.
    fn whole(&mut self, field: Field) -> Option<()> {
        match field {
            Field::Count(count) => return self.count(count),
            Field::Elapsed(elapsed) => {
                let (from, all) = (self.at, self.classes.len());
                // What is left behind it is for the literal that follows.
                let mut ends = (from + 1..=all).rev();
                self.at = ends.find(|end| elapsed.fits(&self.classes[from..*end]))?;
                self.reader.elapsed = Some((elapsed, (from as u8, self.at as u8)));
            }
            Field::Typed(kind) => {
                self.take(Class::Typed(kind))?;
                self.reader.is_typed = true;
            }
            other => unreachable!("{other:?} is spelled in letters"),
        }
        Some(())
    }

    /// Number fields written as one run of digits: `yyyyMMdd`. A first field
    /// of free width (`dMMyyyy`) has as many digits as are left.
    fn compact(&mut self, items: &[Item]) -> Option<()> {
        if let Some(()) = self.compact_clock(items) {
            return Some(());
        }
        let Class::Digits(mut left) = self.peek(0)? else {
            return None;
        };
        let token = self.take(Class::Digits(left))?;
        let fixed = |item: &Item| match item {
            Item::Field(field) => field.fixed_digits(),
            Item::Literal(_) | Item::Optional(_) => None,
        };
        let mut from = 0;
        for (index, item) in items.iter().enumerate() {
            let Item::Field(field) = item else {
                return None;
            };
            let rest: Option<u8> = items[index + 1..].iter().map(fixed).sum();
            let len = match field.fixed_digits() {
                Some(count) => count,
                None if index == 0 => left.checked_sub(rest?)?,
                None => return None,
            };
            if !(1..=9).contains(&len) || field.fixed_digits().is_none() && len > 2 {
                return None;
            }
            self.reader.set(*field, Slot::Part { token, from, len });
            from += len;
            left = left.checked_sub(len)?;
        }
        (left == 0).then_some(())
    }

    /// A time of day that was taken for a number, and lost the zeros before it: `Hmm`
    /// reads `42` and `7` as minutes, `Hmmss` reads `130` as a minute and a half.
    fn compact_clock(&mut self, items: &[Item]) -> Option<()> {
        let [Item::Field(Field::Hour(Digits::Free)), rest @ ..] = items else {
            return None;
        };
        let is_two =
            |item: &Item| matches!(item, Item::Field(field) if field.fixed_digits() == Some(2));
        let wide = 2 * rest.len() as u8;
        let token = self.at as u8;
        let len = match self.peek(0)? {
            // One digit or two.
            Class::Short => 2,
            Class::Digits(len) => len,
            _ => return None,
        };
        if len > wide || !rest.iter().all(is_two) {
            return None;
        }
        self.at += 1;
        let nothing = Slot::Part {
            token,
            from: 0,
            len: 0,
        };
        let mut end = len;
        for item in items.iter().rev() {
            let Item::Field(field) = item else {
                return None;
            };
            let from = end.saturating_sub(2);
            let slot = match end - from {
                0 => nothing,
                2 if len == 2 => Slot::Digits(token),
                len => Slot::Part { token, from, len },
            };
            self.reader.set(*field, slot);
            end = from;
        }
        Some(())
    }

    /// A number in all that is left, up to a sign that is no part of one:
    /// digits, signs and the spaces between.
    fn count(&mut self, count: Count) -> Option<()> {
        let is_part = |class: &Class| match class {
            Class::Short | Class::Digits(_) | Class::Fraction | Class::Space => true,
            Class::Symbol(sign) => matches!(sign, '.' | ',' | '-' | '+' | '\''),
            // The e of scientific notation; any other word makes no number.
            // Behind a digit it is taken for the ending of an ordinal.
            Class::Word | Class::Filler(_) | Class::Name(Roles::ORDINAL) => true,
            _ => false,
        };
        let all = &self.classes[self.at..];
        let mut len = all.iter().take_while(|class| is_part(class)).count();
        if self.has_offset {
            let sign = |class: &Class| matches!(class, Class::Symbol('+' | '-'));
            len = all[..len].iter().rposition(sign)?;
            len -= usize::from(len > 0 && all[len - 1] == Class::Space);
        }
        let rest = &all[..len];
        if rest.is_empty() {
            return None;
        }
        let sign = rest
            .iter()
            .rposition(|class| matches!(class, Class::Symbol('.' | ',')));
        let decimals = sign.is_some_and(|at| rest[at..].len() == 2);
        let from = self.at;
        self.at += len;
        let tokens = (from as u8, self.at as u8);
        let is_bare = from == 0 && len == self.classes.len();
        self.reader.count(count, decimals, tokens, is_bare);
        Some(())
    }

    fn offset(&mut self, style: OffsetStyle) -> Option<()> {
        if style == OffsetStyle::Named {
            self.peek(0).filter(|class| class.may_be(Roles::ZONE))?;
            self.reader.offset_base = Slot::Name(self.at as u8);
            self.at += 1;
        }
        let is_named_alone = style == OffsetStyle::Named && !self.is_at_a_sign();
        let is_behind_z = style != OffsetStyle::Named && self.take(Class::Z).is_some();
        // `Z00'00'` in PDF.
        let has_zeros = is_behind_z
            && style == OffsetStyle::Extended
            && self.peek(0) == Some(Class::Short)
            && self.peek(1) == Some(Class::Symbol('\''));
        if is_named_alone || is_behind_z && !has_zeros {
            self.reader.offset = Offset::Zero;
            return Some(());
        }
        let behind_bracket =
            self.at.checked_sub(1).map(|before| self.classes[before]) == Some(Class::Symbol('['));
        let minus = match self.peek(0)? {
            Class::Symbol('+') => false,
            Class::Symbol('-') => true,
            // `[0:GMT]`
            Class::Short if behind_bracket && style == OffsetStyle::Hours => false,
            // `Z00'00'`
            Class::Short if is_behind_z => false,
            _ => return None,
        };
        self.at += usize::from(matches!(self.peek(0), Some(Class::Symbol(_))));
        let (hours, minutes) = match style {
            OffsetStyle::Basic | OffsetStyle::Named if self.is_four_digits() => {
                let token = self.take(Class::Digits(4))?;
                (
                    Slot::Part {
                        token,
                        from: 0,
                        len: 2,
                    },
                    Slot::Part {
                        token,
                        from: 2,
                        len: 2,
                    },
                )
            }
            OffsetStyle::Basic => return None,
            OffsetStyle::Minutes => {
                let token = self.take(Class::Digits(3))?;
                (Slot::None, Slot::Digits(token))
            }
            OffsetStyle::Hours => (Slot::Digits(self.take(Class::Short)?), Slot::None),
            OffsetStyle::Named if !self.is_colon_behind() => {
                (Slot::Digits(self.take(Class::Short)?), Slot::None)
            }
            OffsetStyle::Extended | OffsetStyle::Seconds | OffsetStyle::Named => {
                let hours = self.take(Class::Short)?;
                // `+01'00'` in PDF (ISO 32000-1 §7.9.4).
                let minutes = match self.take(Class::Symbol('\'')) {
                    Some(_) => self.two_digits()?,
                    None => self.two_behind_a_colon()?,
                };
                (Slot::Digits(hours), minutes)
            }
        };
        let seconds = match style {
            OffsetStyle::Seconds | OffsetStyle::Named
                if self.peek(0) == Some(Class::Symbol(':')) =>
            {
                self.two_behind_a_colon()?
            }
            _ => Slot::None,
        };
        let parts = [hours, minutes, seconds];
        self.reader.offset = if minus {
            Offset::Minus(parts)
        } else {
            Offset::Plus(parts)
        };
        Some(())
    }

    fn is_at_a_sign(&self) -> bool {
        matches!(self.peek(0), Some(Class::Symbol('+' | '-')))
    }

    fn is_four_digits(&self) -> bool {
        self.peek(0) == Some(Class::Digits(4))
    }

    fn is_colon_behind(&self) -> bool {
        self.peek(1) == Some(Class::Symbol(':'))
    }

    /// A number of two digits behind a colon.
    fn two_behind_a_colon(&mut self) -> Option<Slot> {
        self.take(Class::Symbol(':'))?;
        self.two_digits()
    }

    fn two_digits(&mut self) -> Option<Slot> {
        let token = self.take(Class::Short)?;
        self.reader.pairs |= 1 << token;
        Some(Slot::Digits(token))
    }

    fn literal(&mut self, text: &str) -> Option<()> {
        let mut plain = String::new();
        let text = if plain_text(text, &mut plain) {
            &plain
        } else {
            text
        };
        let mut rest = text;
        while let Some(first) = rest.chars().next() {
            if let Some(len) = self.wrapping(rest) {
                rest = &rest[len..];
                continue;
            }
            let len = match first {
                _ if first.is_whitespace() => run(rest, char::is_whitespace),
                _ if first.is_ascii_digit() => self.digits_of_literal(rest)?,
                _ if is_word_letter(first) => self.word(rest)?,
                _ => {
                    self.take(Class::Symbol(first))?;
                    first.len_utf8()
                }
            };
            if first.is_whitespace() && !self.is_at_an_end(rest.len() == len) {
                self.take(Class::Space)?;
            }
            rest = &rest[len..];
        }
        Some(())
    }

    /// Takes the number that `text` begins with, which must stand there as it is; its
    /// length.
    fn digits_of_literal(&mut self, text: &str) -> Option<usize> {
        let len = run(text, |letter| letter.is_ascii_digit());
        let is_number = matches!(
            self.peek(0)?,
            Class::Short | Class::Digits(_) | Class::Fraction
        );
        is_number.then(|| {
            self.reader
                .words
                .push((self.at as u8, text[..len].to_owned()));
            self.at += 1;
            len
        })
    }

    /// Takes what a program puts around a value, where `text` begins with it: its
    /// length.
    fn wrapping(&mut self, text: &str) -> Option<usize> {
        let wrapping = |index: u8| WRAPPINGS[usize::from(index)];
        let wanted = match self.peek(0)? {
            Class::Opening(index) => wrapping(index).open,
            Class::Closing(index) => wrapping(index).close,
            _ => return None,
        };
        let len = prefix_len(text, wanted)?;
        self.at += 1;
        Some(len)
    }

    /// Whether white space stands here at an end of the form, where cells
    /// have none.
    fn is_at_an_end(&self, last: bool) -> bool {
        self.at == 0 || last && self.at == self.classes.len()
    }

    /// Takes the word that `text` starts with: its length.
    fn word(&mut self, text: &str) -> Option<usize> {
        let len = run(text, is_word_letter);
        // A script without spaces: words that the lexer cuts one by one.
        let len = match (self.peek(0)?, text.chars().next()) {
            (Class::Filler(number), Some(first)) if is_unspaced(first) => {
                let word = filler_text(number);
                return text.starts_with(word).then(|| {
                    self.at += 1;
                    word.len()
                });
            }
            _ => len,
        };
        let word = text[..len].to_lowercase();
        match self.peek(0)? {
            Class::T if word == "t" => {}
            Class::H if word == "h" => {}
            Class::W if word == "w" => {}
            Class::Q if word == "q" => {}
            Class::Z if word == "z" => {}
            Class::Filler(number) if word == filler_text(number) => {}
            // One suffix in the pattern stands for all of them.
            Class::Name(Roles::ORDINAL) if ["st", "nd", "rd", "th"].contains(&&*word) => {}
            Class::Word | Class::Name(_) => {
                self.reader.words.push((self.at as u8, word));
            }
            _ => return None,
        }
        self.at += 1;
        Some(len)
    }
}

/// How many bytes at the start of `text` are letters of this sort.
fn run(text: &str, sort: fn(char) -> bool) -> usize {
    text.find(|letter: char| !sort(letter))
        .unwrap_or(text.len())
}
