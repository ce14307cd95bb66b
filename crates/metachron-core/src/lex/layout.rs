//! Recognising a cell that is cut as an earlier one was.
//!
//! Cells of one column mostly differ in their digits alone, and in the names
//! of twelve months. If a cell is as long as an earlier one, has digits where
//! that one has digits and the same bytes everywhere else, its tokens stand
//! in the same places and have the same classes. That is found out eight
//! bytes at a time, in a fraction of the time of cutting it anew
//! (docs/speed.md).

use super::{Class, Lexed, Marks, Token};

/// Texts of up to so many bytes are remembered.
const LONGEST: usize = 32;

/// At most so many layouts are remembered: twelve months, with days of one
/// and of two digits, and room to miss each other.
const MOST: usize = 128;

/// How a text looks, whatever its digits. Only ASCII has a look.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(super) struct Look {
    len: usize,
    /// The text, each digit replaced by a byte that ASCII does not have.
    chunks: [u64; LONGEST / 8],
}

/// Where the tokens stand in texts of one look.
#[derive(Clone, Debug, Default)]
struct Layout {
    look: Look,
    tokens: Vec<Token>,
    codes: Vec<u32>,
    hash: u64,
    marks: Marks,
}

/// The layouts that were met, each in the slot of its look's hash.
#[derive(Clone, Debug, Default)]
pub(super) struct Layouts {
    slots: Vec<Layout>,
    /// The slot of the last text.
    last: usize,
}

impl Layout {
    /// Whether this is a slot without a layout: every text that is
    /// remembered has tokens.
    fn is_empty(&self) -> bool {
        self.tokens.is_empty()
    }
}

const fn each(byte: u8) -> u64 {
    u64::from_le_bytes([byte; 8])
}

impl Look {
    /// The look of `text`, if it has one.
    #[inline]
    pub(super) fn of(text: &str) -> Option<Look> {
        let bytes = text.as_bytes();
        let mut look = Look {
            len: bytes.len(),
            ..Look::default()
        };
        if bytes.len() < 8 {
            let mut chunk = [0; 8];
            chunk[..bytes.len()].copy_from_slice(bytes);
            look.chunks[0] = without_digits(u64::from_le_bytes(chunk))?;
            return Some(look);
        }
        if bytes.len() > LONGEST {
            return None;
        }
        let (whole, rest) = bytes.as_chunks::<8>();
        for (chunk, bytes) in look.chunks.iter_mut().zip(whole) {
            *chunk = without_digits(u64::from_le_bytes(*bytes))?;
        }
        if !rest.is_empty() {
            // The last eight bytes, some of them for the second time.
            let last = bytes.last_chunk::<8>()?;
            look.chunks[whole.len()] = without_digits(u64::from_le_bytes(*last))?;
        }
        Some(look)
    }

    /// Whether a text of eight bytes or more looks so.
    #[inline]
    fn fits(&self, bytes: &[u8]) -> bool {
        if bytes.len() != self.len {
            return false;
        }
        let Some(last) = bytes.last_chunk::<8>() else {
            return false;
        };
        let (whole, rest) = bytes.as_chunks::<8>();
        let same = |(bytes, chunk): (&[u8; 8], &u64)| {
            without_digits(u64::from_le_bytes(*bytes)) == Some(*chunk)
        };
        whole.iter().zip(&self.chunks).all(same)
            && (rest.is_empty() || same((last, &self.chunks[whole.len()])))
    }

    #[inline]
    fn hash(&self) -> usize {
        // One multiplication: a longer chain would cost more than it finds.
        let [a, b, c, d] = self.chunks;
        let mixed = a ^ b.rotate_left(17) ^ c.rotate_left(31) ^ d.rotate_left(47);
        let mixed = (mixed ^ self.len as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        (mixed >> 48) as usize
    }
}

/// Eight bytes with 128 in place of each digit; `None` if one of them is not
/// ASCII.
#[inline]
fn without_digits(bytes: u64) -> Option<u64> {
    if bytes & each(0x80) != 0 {
        return None;
    }
    // Digits become 0–9; adding 118 carries all else into the byte's top bit.
    let above = (bytes ^ each(b'0')) + each(118);
    let digits = !above & each(0x80);
    Some(bytes & !((digits >> 7) * 0xff) | digits)
}

impl Layouts {
    /// The slot of the last text, if `text` looks as that one did: most do.
    #[inline]
    pub(super) fn same_as_last(&self, text: &str) -> Option<usize> {
        let last = self.slots.get(self.last)?;
        last.look.fits(text.as_bytes()).then_some(self.last)
    }

    /// The slot of texts that look so, if one was met.
    #[inline]
    pub(super) fn find(&mut self, look: &Look) -> Option<usize> {
        let slot = look.hash() & self.slots.len().checked_sub(1)?;
        if self.slots[slot].look != *look {
            return None;
        }
        self.last = slot;
        Some(slot)
    }

    /// The cell `text`, cut as those in `slot` are.
    #[inline]
    pub(super) fn cut<'a>(&'a self, slot: usize, text: &'a str) -> Lexed<'a> {
        let layout = &self.slots[slot];
        Lexed {
            text,
            tokens: &layout.tokens,
            codes: &layout.codes,
            hash: layout.hash,
            marks: layout.marks,
        }
    }

    /// Remembers how a text of this look is cut.
    pub(super) fn put(&mut self, look: Look, cell: Lexed<'_>) {
        // A name with a digit in it (`M02`, `tháng 3`) is another one with
        // another digit.
        let named_by_digit = |token: &Token| {
            matches!(token.class, Class::Name(_))
                && cell.text[token.start as usize..token.end as usize]
                    .bytes()
                    .any(|byte| byte.is_ascii_digit())
        };
        if cell.tokens.is_empty() || cell.tokens.iter().any(named_by_digit) {
            return;
        }
        let slot = look.hash() & self.slots.len().wrapping_sub(1);
        let free = self.slots.get(slot).is_some_and(Layout::is_empty);
        if !free && self.slots.len() < MOST {
            self.grow();
        }
        let slot = look.hash() & (self.slots.len() - 1);
        self.last = slot;
        let layout = &mut self.slots[slot];
        layout.look = look;
        layout.tokens.clear();
        layout.tokens.extend_from_slice(cell.tokens);
        layout.codes.clear();
        layout.codes.extend_from_slice(cell.codes);
        layout.hash = cell.hash;
        layout.marks = cell.marks;
    }

    /// Twice as many slots, so that looks that met in one have each its own.
    fn grow(&mut self) {
        let count = (2 * self.slots.len()).max(2);
        let old = std::mem::take(&mut self.slots);
        self.slots.resize_with(count, Layout::default);
        for layout in old.into_iter().filter(|layout| !layout.is_empty()) {
            let slot = layout.look.hash() & (count - 1);
            self.slots[slot] = layout;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_digits_may_differ() {
        for (one, other, same) in [
            ("31/12/2024", "05/01/2025", true),
            ("31/12/2024", "5/01/2025", false),
            ("31/12/2024", "05-01-2025", false),
            ("31/12/2024", "0a/01/2025", false),
            ("31/12/2024", "05/01/202:", false),
            ("31/12/2024", "05/01/202/", false),
            ("2024-03-05 14:30:00", "2025-12-31 00:00:59", true),
            ("2024-03-05 14:30:00", "2025-12-31T00:00:59", false),
            ("5 Mar 2024", "9 Mar 2025", true),
            ("5 Mar 2024", "5 Apr 2024", false),
            ("5/1/24", "6/1/24", true),
            ("5/1/24", "6/1/24\0", false),
            ("", "", true),
        ] {
            assert_eq!(Look::of(one) == Look::of(other), same, "{one} {other}");
        }
    }

    #[test]
    fn only_short_ascii_has_a_look() {
        assert_eq!(Look::of("5/1/2025é"), None);
        assert_eq!(Look::of(&"1".repeat(LONGEST + 1)), None);
        assert!(Look::of(&"1".repeat(LONGEST)).is_some());
    }
}
