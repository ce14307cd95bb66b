//! The look of a text: its bytes, whatever its digits.
//!
//! Cells of one column mostly differ in their digits alone, and in the names
//! of twelve months. If a cell is as long as an earlier one, has digits where
//! that one has digits and the same bytes everywhere else, its tokens stand
//! at the same bytes and have the same classes. That is found out eight
//! bytes at a time, in a fraction of the time of cutting it again
//! (docs/speed.md).

use super::key::short_word;
/// The bytes of a text, whatever its digits.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Signature {
    len: usize,
    /// The text, each digit replaced by a byte that UTF-8 does not have. The
    /// last chunk is the text's last eight bytes, some of them for the second
    /// time.
    chunks: [u64; Signature::LONGEST / 8],
}

const fn each(byte: u8) -> u64 {
    u64::from_le_bytes([byte; 8])
}

impl PartialEq for Signature {
    // Derived, it would call a function to compare the chunks.
    #[inline]
    fn eq(&self, other: &Signature) -> bool {
        let chunks = self.chunks.iter().zip(&other.chunks);
        let differ = chunks.fold(0, |differ, (own, other)| differ | (own ^ other));
        differ == 0 && self.len == other.len
    }
}

impl Eq for Signature {}

impl Signature {
    /// Longer texts have none.
    pub(crate) const LONGEST: usize = 32;

    /// The signature of `text`, if it is short enough to have one. Each length has its own
    /// few loads, without a loop, as in [`Signature::fits`].
    #[inline]
    pub(crate) fn of(text: &[u8]) -> Option<Signature> {
        let len = text.len();
        let word = |from: usize| {
            let bytes = text.get(from..).and_then(|rest| rest.first_chunk());
            bytes.map_or(0, |bytes| without_digits(u64::from_le_bytes(*bytes)))
        };
        let chunks = match len {
            ..8 => [without_digits(short_word(text)), 0, 0, 0],
            8 => [word(0), 0, 0, 0],
            9..=16 => [word(0), word(len - 8), 0, 0],
            17..=24 => [word(0), word(8), word(len - 8), 0],
            25..=Signature::LONGEST => [word(0), word(8), word(16), word(len - 8)],
            _ => return None,
        };
        Some(Signature { len, chunks })
    }

    /// Whether a text has this signature.
    #[inline]
    pub(crate) fn fits(&self, text: &[u8]) -> bool {
        if text.len() != self.len {
            return false;
        }
        let [a, b, c, d] = self.chunks;
        let (Some(first), Some(last)) = (text.first_chunk(), text.last_chunk()) else {
            return without_digits(short_word(text)) == a;
        };
        let [first, last] = [first, last].map(|bytes| u64::from_le_bytes(*bytes));
        let same = |from: usize, chunk: u64| {
            let bytes = text.get(from..).and_then(|rest| rest.first_chunk());
            bytes.is_some_and(|bytes| without_digits(u64::from_le_bytes(*bytes)) == chunk)
        };
        without_digits(first) == a
            && match self.len {
                ..=8 => true,
                9..=16 => without_digits(last) == b,
                17..=24 => same(8, b) && without_digits(last) == c,
                _ => same(8, b) && same(16, c) && without_digits(last) == d,
            }
    }

    /// A number below 65,536 that is the same for equal signatures.
    #[inline]
    pub(crate) fn hash(&self) -> usize {
        // One multiplication: a longer chain would cost more than it finds.
        let [a, b, c, d] = self.chunks;
        let mixed = a ^ b.rotate_left(17) ^ c.rotate_left(31) ^ d.rotate_left(47);
        let mixed = (mixed ^ self.len as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        (mixed >> 48) as usize
    }
}

/// Eight bytes with 255 in place of each digit.
#[inline]
fn without_digits(bytes: u64) -> u64 {
    // Of ASCII, digits become 0–9; adding 118 carries all else into the top
    // bit, which bytes beyond ASCII have already.
    let above = ((bytes & each(0x7f)) ^ each(b'0')) + each(118);
    let digits = !(above | bytes) & each(0x80);
    bytes | ((digits >> 7) * 0xff)
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
            (
                "2024-03-05 14:30:00.12345",
                "2025-12-31 00:00:59.98765",
                true,
            ),
            (
                "2024-03-05 14:30:00.12345+01",
                "2025-12-31 00:00:59.98765-01",
                false,
            ),
            ("5 Mar 2024", "9 Mar 2025", true),
            ("5 Mar 2024", "5 Apr 2024", false),
            ("5. März 2024", "9. März 1999", true),
            ("2024年3月5日", "1999年8月1日", true),
            ("2024年3月5日", "1999年8日1日", false),
            ("٢٠٢٤-٠٣-٠٥", "٢٠٢٤-٠٣-٠٦", false),
            ("5/1/24", "6/1/24", true),
            ("5/1/24", "6/1/24\0", false),
            ("", "", true),
        ] {
            let [a, b] = [one, other].map(|text| Signature::of(text.as_bytes()).unwrap());
            assert_eq!(a == b, same, "{one} {other}");
            assert_eq!(a.fits(other.as_bytes()), same, "{one} {other}");
        }
    }

    #[test]
    fn only_short_texts_have_a_signature() {
        assert_eq!(
            Signature::of("1".repeat(Signature::LONGEST + 1).as_bytes()),
            None
        );
        assert!(Signature::of("1".repeat(Signature::LONGEST).as_bytes()).is_some());
    }

    proptest::proptest! {
        /// As a loop over the bytes would say it.
        #[test]
        fn signatures_are_those_of_the_bytes(one in ".{0,20}", other in ".{0,20}") {
            let plain = |text: &str| -> Vec<u8> {
                let digit = |byte: u8| if byte.is_ascii_digit() { 0xff } else { byte };
                text.bytes().map(digit).collect()
            };
            for (one, other) in [(&one, &other), (&one, &one.replace('1', "7"))] {
                let both = (Signature::of(one.as_bytes()), Signature::of(other.as_bytes()));
                if let (Some(a), Some(b)) = both {
                    proptest::prop_assert_eq!(a == b, plain(one) == plain(other));
                }
            }
        }
    }
}
