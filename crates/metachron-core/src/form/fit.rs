//! Fitting a form to a shape: which token each field is read from.

use super::reader::{Offset, Reader, Slot};
use super::{Field, Form, Item, OffsetStyle};
use crate::lex::{Class, Shape};

/// The reader of `form` for cells of `shape`, or `None` where they differ.
pub(super) fn fit(form: &Form, shape: &Shape) -> Option<Reader> {
    let mut fitting = Fitting {
        classes: shape.classes(),
        at: 0,
        reader: Reader::for_form(form),
    };
    let mut items = form.items();
    while let Some(item) = items.first() {
        let used = match item {
            Item::Literal(text) => {
                fitting.literal(text)?;
                1
            }
            Item::Field(_) => {
                let run = number_run(items);
                if run > 1 {
                    fitting.compact(&items[..run])?;
                } else if let Item::Field(field) = item {
                    fitting.field(*field)?;
                }
                run.max(1)
            }
        };
        items = &items[used..];
    }
    (fitting.at == fitting.classes.len()).then_some(fitting.reader)
}

/// How many number fields stand at the start with nothing between them.
fn number_run(items: &[Item]) -> usize {
    items
        .iter()
        .take_while(|item| matches!(item, Item::Field(field) if field.is_number()))
        .count()
}

struct Fitting<'s> {
    classes: &'s [Class],
    at: usize,
    reader: Reader,
}

impl Fitting<'_> {
    fn peek(&self, ahead: usize) -> Option<Class> {
        self.classes.get(self.at + ahead).copied()
    }

    fn take(&mut self, class: Class) -> Option<u8> {
        (self.peek(0)? == class).then(|| {
            self.at += 1;
            (self.at - 1) as u8
        })
    }

    fn field(&mut self, field: Field) -> Option<()> {
        let slot = match field {
            Field::Year => Slot::Digits(self.take(Class::Digits(4))?),
            Field::MonthName(_) => Slot::Name(self.take(Class::Month)?),
            Field::Weekday(_) => Slot::Name(self.take(Class::Weekday)?),
            Field::Fraction(_) => Slot::Digits(self.take(Class::Fraction)?),
            Field::DayPeriod => Slot::Name(self.take(Class::DayPeriod)?),
            Field::Offset(style) => return self.offset(style),
            Field::Utc => {
                self.take(Class::Utc)?;
                self.reader.offset = Offset::Zero;
                return Some(());
            }
            _ => {
                let token = self.take(Class::Short)?;
                if field.fixed_digits().is_some() {
                    self.reader.pairs |= 1 << token;
                }
                Slot::Digits(token)
            }
        };
        self.reader.set(field, slot);
        Some(())
    }

    /// Number fields written as one run of digits: `yyyyMMdd`.
    fn compact(&mut self, items: &[Item]) -> Option<()> {
        let mut fields = Vec::with_capacity(items.len());
        let mut digits = 0;
        for item in items {
            let Item::Field(field) = item else {
                return None;
            };
            let count = field.fixed_digits()?;
            fields.push((*field, digits, count));
            digits += count;
        }
        let token = self.take(Class::Digits(digits))?;
        for (field, from, count) in fields {
            self.reader.set(
                field,
                Slot::Part {
                    token,
                    from,
                    len: count,
                },
            );
        }
        Some(())
    }

    fn offset(&mut self, style: OffsetStyle) -> Option<()> {
        if self.take(Class::Z).is_some() {
            self.reader.offset = Offset::Zero;
            return Some(());
        }
        let minus = match self.peek(0)? {
            Class::Symbol('+') => false,
            Class::Symbol('-') => true,
            _ => return None,
        };
        self.at += 1;
        let (hours, minutes) = match style {
            OffsetStyle::Basic => {
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
            OffsetStyle::Hours => (Slot::Digits(self.take(Class::Short)?), Slot::None),
            OffsetStyle::Extended => {
                let hours = self.take(Class::Short)?;
                self.take(Class::Symbol(':'))?;
                let minutes = self.take(Class::Short)?;
                self.reader.pairs |= 1 << minutes;
                (Slot::Digits(hours), Slot::Digits(minutes))
            }
        };
        self.reader.offset = if minus {
            Offset::Minus(hours, minutes)
        } else {
            Offset::Plus(hours, minutes)
        };
        Some(())
    }

    fn literal(&mut self, text: &str) -> Option<()> {
        let mut rest = text;
        while let Some(first) = rest.chars().next() {
            let same_sort = |letter: char| {
                letter.is_whitespace() == first.is_whitespace()
                    && letter.is_alphabetic() == first.is_alphabetic()
            };
            let is_run = first.is_whitespace() || first.is_alphabetic();
            let len = match is_run {
                true => rest.find(|l: char| !same_sort(l)).unwrap_or(rest.len()),
                false => first.len_utf8(),
            };
            let (piece, after) = rest.split_at(len);
            self.literal_piece(piece, first)?;
            rest = after;
        }
        Some(())
    }

    fn literal_piece(&mut self, piece: &str, first: char) -> Option<()> {
        if first.is_whitespace() {
            self.take(Class::Space)?;
        } else if !first.is_alphabetic() {
            self.take(Class::Symbol(first))?;
        } else {
            let class = self.peek(0)?;
            match class {
                Class::T if piece.eq_ignore_ascii_case("t") => {}
                Class::Of if piece.eq_ignore_ascii_case("of") => {}
                // One suffix in the pattern stands for all four.
                Class::Ordinal if ["st", "nd", "rd", "th"].contains(&piece) => {}
                Class::Word | Class::Month | Class::Weekday | Class::Utc => {
                    let token = self.at as u8;
                    self.reader.words.push((token, piece.to_lowercase()));
                }
                _ => return None,
            }
            self.at += 1;
        }
        Some(())
    }
}
