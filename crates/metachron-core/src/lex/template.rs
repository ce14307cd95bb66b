//! Recognising a cell that is cut as the one before it.
//!
//! Cells of one column mostly differ in their digits alone. If a cell is as
//! long as the last one, has digits where that one has digits and the same
//! bytes everywhere else, its tokens stand in the same places and have the
//! same classes: only the numbers differ. That is checked eight bytes at a
//! time, which takes a fifth of the time of cutting it anew (docs/speed.md).

/// Texts of eight to so many bytes are recognised.
const LONGEST: usize = 32;

/// What the last cell looked like, digits aside.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Template {
    len: usize,
    chunks: [Chunk; LONGEST / 8],
    used: usize,
}

/// Eight bytes of a template.
#[derive(Clone, Copy, Debug, Default)]
struct Chunk {
    offset: usize,
    /// The bytes that must be the same; 0 where digits stand.
    bytes: u64,
    /// All bits of the bytes that are digits.
    digits: u64,
}

const fn each(byte: u8) -> u64 {
    u64::from_le_bytes([byte; 8])
}

impl Template {
    /// The template of a cell.
    pub(super) fn of(text: &str) -> Template {
        let bytes = text.as_bytes();
        if !(8..=LONGEST).contains(&bytes.len()) || !text.is_ascii() {
            return Template::default();
        }
        let mut template = Template {
            len: bytes.len(),
            ..Template::default()
        };
        let last = bytes.len() - 8;
        // The last chunk may overlap the one before it.
        for offset in (0..last).step_by(8).chain([last]) {
            let Some(bytes) = bytes[offset..].first_chunk::<8>() else {
                break;
            };
            template.chunks[template.used] = Chunk::of(offset, u64::from_le_bytes(*bytes));
            template.used += 1;
        }
        template
    }

    /// Whether `text` is cut as the template's cell is.
    #[inline]
    pub(super) fn fits(&self, text: &str) -> bool {
        if text.len() != self.len || self.used == 0 {
            return false;
        }
        self.chunks[..self.used].iter().all(|chunk| {
            let bytes = &text.as_bytes()[chunk.offset..];
            let Some(bytes) = bytes.first_chunk::<8>() else {
                return false;
            };
            let bytes = u64::from_le_bytes(*bytes);
            let others = bytes & !chunk.digits;
            // Zeros where no digits are wanted, so that they pass the test.
            let digits = bytes & chunk.digits | each(b'0') & !chunk.digits;
            let high = each(0xf0);
            others == chunk.bytes
                && digits & high == each(b'0')
                && digits.wrapping_add(each(6)) & high == each(b'0')
        })
    }
}

impl Chunk {
    /// The chunk of eight bytes of ASCII.
    fn of(offset: usize, bytes: u64) -> Chunk {
        // The digits become 0–9; adding 118 carries anything above 9 into the
        // top bit of its byte.
        let above = (bytes ^ each(b'0')) + each(118);
        let digits = (!above & each(0x80)) >> 7;
        let digits = digits * 0xff;
        Chunk {
            offset,
            bytes: bytes & !digits,
            digits,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_digits_may_differ() {
        for (one, other, fits) in [
            ("31/12/2024", "05/01/2025", true),
            ("31/12/2024", "5/01/2025", false),
            ("31/12/2024", "05-01-2025", false),
            ("31/12/2024", "0a/01/2025", false),
            ("31/12/2024", "05/01/202:", false),
            ("31/12/2024", "05/01/202/", false),
            ("2024-03-05 14:30:00", "2025-12-31 00:00:59", true),
            ("2024-03-05 14:30:00", "2025-12-31T00:00:59", false),
            ("5/1/24", "6/1/24", false),
            ("5/1/2024é", "5/1/2025é", false),
        ] {
            assert_eq!(Template::of(one).fits(other), fits, "{one} {other}");
        }
    }
}
