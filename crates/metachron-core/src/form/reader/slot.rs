//! Where the fields of a form stand in a cell.

use crate::form::FieldType;
use crate::lex::Lexed;
use std::ops::{Index, IndexMut};

/// Where the fields of each type stand.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Slots([Slot; FieldType::COUNT]);

impl Slots {
    pub(super) const NONE: Slots = Slots([Slot::None; FieldType::COUNT]);

    /// Whether the form has a field of any other type than these.
    pub(super) fn has_other_than(&self, types: &[FieldType]) -> bool {
        let is_one = |index: usize| types.iter().any(|known| *known as usize == index);
        let mut slots = self.0.iter().enumerate();
        slots.any(|(index, slot)| *slot != Slot::None && !is_one(index))
    }
}

impl Index<FieldType> for Slots {
    type Output = Slot;

    #[inline]
    fn index(&self, field_type: FieldType) -> &Slot {
        &self.0[field_type as usize]
    }
}

impl IndexMut<FieldType> for Slots {
    fn index_mut(&mut self, field_type: FieldType) -> &mut Slot {
        &mut self.0[field_type as usize]
    }
}

/// Where a field's number stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::form) enum Slot {
    /// Nowhere: the form has no such field.
    None,
    /// In this token, which is a name.
    Name(u8),
    /// In this token, which is one or more digits.
    Digits(u8),
    /// In some digits of a token.
    Part { token: u8, from: u8, len: u8 },
}

impl Slot {
    /// The number in this slot; 0 where there is none.
    #[inline]
    pub(in crate::form) fn value(self, cell: &Lexed<'_>) -> u32 {
        number(self.digits(cell))
    }

    /// The digits in this slot; nothing where there are none.
    #[inline]
    pub(in crate::form) fn digits<'c>(self, cell: &Lexed<'c>) -> &'c [u8] {
        let (token, from, len) = match self {
            Slot::None | Slot::Name(_) => return &[],
            Slot::Digits(token) => (token, 0, None),
            Slot::Part { token, from, len } => (token, usize::from(from), Some(usize::from(len))),
        };
        let token = &cell.tokens()[usize::from(token)];
        let start = token.start as usize + from;
        let end = len.map_or(token.end as usize, |len| start + len);
        &cell.text().as_bytes()[start..end]
    }

    /// [`Slot::value`] of a slot that holds at most two digits.
    #[inline]
    pub(in crate::form) fn small(self, cell: &Lexed<'_>) -> u8 {
        match self {
            Slot::None => 0,
            Slot::Digits(token) => {
                let token = &cell.tokens()[usize::from(token)];
                let digits = &cell.text().as_bytes()[token.start as usize..token.end as usize];
                match *digits {
                    [a, b] => 10 * a.wrapping_sub(b'0') + b.wrapping_sub(b'0'),
                    [a] => a.wrapping_sub(b'0'),
                    _ => 0,
                }
            }
            _ => self.value(cell) as u8,
        }
    }

    /// The token, if the slot has a whole one.
    pub(in crate::form) fn token(self) -> Option<u8> {
        match self {
            Slot::Name(token) | Slot::Digits(token) => Some(token),
            Slot::None | Slot::Part { .. } => None,
        }
    }
}

/// The number that up to nine digits make.
#[inline]
fn number(digits: &[u8]) -> u32 {
    let digit = |byte: u8| u32::from(byte.wrapping_sub(b'0'));
    match *digits {
        [a] => digit(a),
        [a, b] => 10 * digit(a) + digit(b),
        [a, b, c, d] => 1000 * digit(a) + 100 * digit(b) + 10 * digit(c) + digit(d),
        _ => digits.iter().fold(0, |value: u32, &byte| {
            value.wrapping_mul(10).wrapping_add(digit(byte))
        }),
    }
}
