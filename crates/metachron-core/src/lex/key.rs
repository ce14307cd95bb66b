//! Short texts as numbers, for caches: compared without a loop.

use crate::cache::CacheKey;
use crate::cell::Cell;
use std::num::NonZeroU8;

/// Up to seven bytes, with zeros behind them.
#[inline]
pub(super) fn short_word(text: &[u8]) -> u64 {
    let half = |bytes: &[u8; 4]| u64::from(u32::from_le_bytes(*bytes));
    match (text.first_chunk(), text.last_chunk()) {
        // Where they overlap they are the same.
        (Some(first), Some(last)) => half(first) | half(last) << (8 * (text.len() - 4)),
        _ => {
            let bytes = text.iter().rev();
            bytes.fold(0, |all, byte| all << 8 | u64::from(*byte))
        }
    }
}

/// A text of up to [`Key::LONGEST`] bytes: equal keys are equal texts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Key {
    /// The first and the last eight bytes, then those between; they overlap
    /// where there are fewer. All of a shorter text is in the first.
    words: [u64; 4],
    len: NonZeroU8,
}

impl Key {
    /// Longer texts have no key.
    pub(crate) const LONGEST: usize = 32;

    /// The key of `text`; `None` where it is empty or too long.
    #[inline]
    pub(crate) fn of(text: &[u8]) -> Option<Key> {
        let len = text.len();
        if len == 0 || len > Key::LONGEST {
            return None;
        }
        let word = |from: usize| {
            let bytes = text.get(from..).and_then(|rest| rest.first_chunk());
            bytes.map_or(0, |bytes| u64::from_le_bytes(*bytes))
        };
        let words = match len {
            ..8 => [short_word(text), 0, 0, 0],
            8..=16 => [word(0), word(len - 8), 0, 0],
            _ => [word(0), word(len - 8), word(8), word(len - 16)],
        };
        Some(Key {
            words,
            len: NonZeroU8::new(len as u8)?,
        })
    }
}

impl Key {
    /// The key of a cell whose text says all about it.
    #[inline]
    pub(crate) fn of_cell(cell: Cell<'_>) -> Option<Key> {
        match cell {
            Cell::Text(text) | Cell::Number(text) => Key::of(text.as_bytes()),
            Cell::Boolean(_) | Cell::Stamp(_) | Cell::Error(_) => None,
        }
    }
}

impl CacheKey for Key {
    #[inline]
    fn hash(&self) -> u32 {
        let [a, b, c, d] = self.words;
        let mixed = a ^ b.rotate_left(29) ^ c.rotate_left(13) ^ d.rotate_left(47);
        let mixed = (mixed ^ u64::from(self.len.get())).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        (mixed >> 32) as u32
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Keys are equal where the texts are, whatever differs and wherever.
        #[test]
        fn equal_keys_are_equal_texts(text in "[0-9a-c é]{1,16}", at in 0..32_usize, to in "[0-9a-c]") {
            let mut other = text.clone();
            let letters: Vec<char> = text.chars().collect();
            if at < letters.len() {
                other = letters[..at].iter().collect::<String>()
                    + &to
                    + &letters[at + 1..].iter().collect::<String>();
            }
            let [one, two] = [&text, &other].map(|text| Key::of(text.as_bytes()));
            prop_assert_eq!(one == two, text == other);
            prop_assert!(one.is_some());
            if one == two {
                prop_assert_eq!(one.unwrap().slot(100), two.unwrap().slot(100));
            }
            prop_assert!(one.unwrap().slot(7) < 7);
        }
    }

    #[test]
    fn words_of_short_texts() {
        for len in 0..8 {
            let text = &b"abcdefg"[..len.min(7)];
            let mut bytes = [0; 8];
            bytes[..text.len()].copy_from_slice(text);
            assert_eq!(short_word(text), u64::from_le_bytes(bytes));
        }
    }

    #[test]
    fn only_short_texts_have_a_key() {
        assert_eq!(Key::of(b""), None);
        assert!(Key::of(&[b'x'; Key::LONGEST]).is_some());
        assert_eq!(Key::of(&[b'x'; Key::LONGEST + 1]), None);
        // A shorter text is not one with zeros behind it.
        assert_ne!(Key::of(b"a\0"), Key::of(b"a"));
    }
}
