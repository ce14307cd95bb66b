//! Building items while walking over the classes of a shape.

use crate::form::{Field, Item};
use crate::lex::Class;
use crate::locale::{Roles, Sign, filler_text, is_sign};

/// Part of a form, and the index in the shape behind what it covers.
#[derive(Clone, Debug)]
pub(super) struct Piece {
    pub items: Vec<Item>,
    pub end: usize,
    /// Whether anybody is known to write this way.
    pub usual: bool,
}

/// The classes of a shape.
#[derive(Clone, Copy)]
pub(super) struct Classes<'s>(pub &'s [Class]);

impl Classes<'_> {
    pub(super) fn at(self, index: usize) -> Option<Class> {
        self.0.get(index).copied()
    }

    pub(super) fn is(self, index: usize, class: Class) -> bool {
        self.at(index) == Some(class)
    }

    pub(super) fn may_be(self, index: usize, role: Roles) -> bool {
        self.at(index).is_some_and(|class| class.may_be(role))
    }

    pub(super) fn is_filler(self, index: usize) -> bool {
        matches!(self.at(index), Some(Class::Filler(_)))
    }

    /// Whether it is a word of one or two letters within dates.
    pub(super) fn is_short_filler(self, index: usize) -> bool {
        matches!(self.at(index), Some(Class::Filler(word)) if filler_text(word).chars().nth(2).is_none())
    }

    pub(super) fn is_sign(self, index: usize, sign: Sign) -> bool {
        matches!(self.at(index), Some(Class::Filler(word)) if is_sign(word, sign))
    }

    /// The literal that stands from `start` to before `end`.
    pub(super) fn literal(self, start: usize, end: usize) -> Option<Item> {
        let text: String = self.0[start..end]
            .iter()
            .copied()
            .map(Class::text)
            .collect();
        (!text.is_empty()).then_some(Item::Literal(text))
    }
}

impl Piece {
    pub(super) fn new(start: usize) -> Piece {
        Piece {
            items: Vec::new(),
            end: start,
            usual: true,
        }
    }

    pub(super) fn field(mut self, field: Field) -> Piece {
        self.items.push(Item::Field(field));
        self.end += 1;
        self
    }

    /// `fields` written as one run of digits.
    pub(super) fn run(mut self, fields: &[Field]) -> Piece {
        self.items.extend(fields.iter().copied().map(Item::Field));
        self.end += 1;
        self
    }

    /// The same, of an unusual sort.
    pub(super) fn unusual(self) -> Piece {
        Piece {
            usual: false,
            ..self
        }
    }

    /// Takes the classes up to `end` as a literal.
    pub(super) fn literal(mut self, classes: Classes<'_>, end: usize) -> Piece {
        if let Some(item) = classes.literal(self.end, end) {
            self.push(item);
        }
        self.end = end;
        self
    }

    /// Puts `next`, which starts where this piece ends, behind it.
    pub(super) fn then(mut self, next: Piece) -> Piece {
        for item in next.items {
            self.push(item);
        }
        self.end = next.end;
        self.usual &= next.usual;
        self
    }

    fn push(&mut self, item: Item) {
        match (self.items.last_mut(), item) {
            (Some(Item::Literal(last)), Item::Literal(text)) => last.push_str(&text),
            (_, item) => self.items.push(item),
        }
    }
}
