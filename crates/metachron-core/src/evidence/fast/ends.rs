//! The first and the last of the cells that were tallied by their digits.

use crate::evidence::moment::Moment;

/// A text that is short enough to have a signature.
#[derive(Clone, Copy, Debug)]
pub(super) struct ShortText {
    bytes: [u8; ShortText::LONGEST],
    len: u8,
}

impl ShortText {
    const LONGEST: usize = crate::lex::Signature::LONGEST;

    #[inline]
    pub(super) fn of(text: &str) -> Option<ShortText> {
        let mut bytes = [0; ShortText::LONGEST];
        bytes
            .get_mut(..text.len())?
            .copy_from_slice(text.as_bytes());
        Some(ShortText {
            bytes,
            len: text.len() as u8,
        })
    }

    pub(super) fn as_str(&self) -> &str {
        let text = self.bytes.get(..usize::from(self.len));
        text.and_then(|text| std::str::from_utf8(text).ok())
            .unwrap_or_default()
    }
}

/// What cells are compared by: a moment, and the nanoseconds in it, of which that has
/// not all.
pub(super) type Key = (Moment, u32);

/// The first and the last cell of each of some groups.
///
/// Their texts are kept, and not what they say: to put that into the evidence is up to
/// the slow way.
#[derive(Debug, Default)]
pub(super) struct Ends {
    /// The index among the ends, by group.
    groups: Vec<u8>,
    ends: Vec<End>,
}

#[derive(Debug)]
struct End {
    first: (Key, ShortText),
    last: (Key, ShortText),
    /// It was not handed over yet.
    is_new: bool,
}

impl End {
    #[inline(never)]
    fn widen(&mut self, key: Key, text: &str) -> Option<()> {
        let end = if key < self.first.0 {
            &mut self.first
        } else if key > self.last.0 {
            &mut self.last
        } else {
            return Some(());
        };
        *end = (key, ShortText::of(text)?);
        self.is_new = true;
        Some(())
    }
}

const NONE: u8 = u8::MAX;

impl Ends {
    /// Takes a cell of a group below `count` in; `None` where there is no
    /// room for it.
    #[inline(always)]
    pub(super) fn add(&mut self, group: usize, count: usize, key: Key, text: &str) -> Option<()> {
        let end = self.groups.get(group).copied().unwrap_or(NONE);
        let Some(end) = self.ends.get_mut(usize::from(end)) else {
            return self.add_first(group, count, key, text);
        };
        // Most cells lie well between the ends.
        if end.first.0.0 < key.0 && key.0 < end.last.0.0 {
            return Some(());
        }
        end.widen(key, text)
    }

    #[cold]
    fn add_first(&mut self, group: usize, count: usize, key: Key, text: &str) -> Option<()> {
        let has_room = self.ends.len() < usize::from(NONE);
        let text = ShortText::of(text).filter(|_| has_room)?;
        if self.groups.is_empty() {
            self.groups = vec![NONE; count];
        }
        self.groups[group] = self.ends.len() as u8;
        self.ends.push(End {
            first: (key, text),
            last: (key, text),
            is_new: true,
        });
        Some(())
    }

    /// Hands out the cells that are new since this was called last.
    pub(super) fn take(&mut self, mut each: impl FnMut(&str)) {
        for end in self.ends.iter_mut().filter(|end| end.is_new) {
            end.is_new = false;
            each(end.first.1.as_str());
            each(end.last.1.as_str());
        }
    }
}
