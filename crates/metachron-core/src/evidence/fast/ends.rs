//! The first and the last of the cells that were tallied by their digits.

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

/// What cells are compared by: a day and the seconds of it, and nanoseconds.
pub(super) type Key = (u64, u32);

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

const NONE: u8 = u8::MAX;

impl Ends {
    /// Takes a cell of a group below `count` in; says whether there was room for it.
    #[inline]
    pub(super) fn add(&mut self, group: usize, count: usize, key: Key, text: &str) -> bool {
        let end = self.groups.get(group).copied().unwrap_or(NONE);
        let Some(end) = self.ends.get_mut(usize::from(end)) else {
            return self.add_first(group, count, key, text);
        };
        // Most cells lie well between the ends.
        let is_between = end.first.0.0 < key.0 && key.0 < end.last.0.0;
        if !is_between && (key < end.first.0 || key > end.last.0) {
            let Some(text) = ShortText::of(text) else {
                return false;
            };
            let outer = if key < end.first.0 {
                &mut end.first
            } else {
                &mut end.last
            };
            *outer = (key, text);
            end.is_new = true;
        }
        true
    }

    #[cold]
    fn add_first(&mut self, group: usize, count: usize, key: Key, text: &str) -> bool {
        let Some(text) = ShortText::of(text).filter(|_| self.ends.len() < usize::from(NONE)) else {
            return false;
        };
        if self.groups.is_empty() {
            self.groups = vec![NONE; count];
        }
        self.groups[group] = self.ends.len() as u8;
        self.ends.push(End {
            first: (key, text),
            last: (key, text),
            is_new: true,
        });
        true
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
