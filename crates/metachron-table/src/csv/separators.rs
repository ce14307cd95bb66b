//! Which delimiters and line ends separate cells: those outside of quotes.
//!
//! 64 bytes are looked at together. Whether a byte stands within quotes is the parity of
//! the quotes before it, and so is found for all 64 at once. That holds as long as quotes
//! stand where they may: around whole cells, or doubled within. Where one stands in a cell
//! that does not start with one, it is a character like any other, and only reading byte
//! after byte tells what is what.

use super::Dialect;
use wide::u8x64;

/// How many bytes are looked at together.
pub(super) const WINDOW: usize = 64;

/// Goes over a text from the start of a row on, window after window.
#[derive(Clone, Copy, Debug)]
pub(super) struct Separators {
    dialect: Dialect,
    /// All bits, if the next byte is within quotes.
    inside: u64,
    /// The lowest bit, if a cell starts with the next byte.
    cell_starts: u64,
    /// The lowest bit, if the last byte is a quote that closes.
    has_closed: u64,
    /// In how many of the next bytes there is no quote, as far as that was looked for.
    without_quotes: usize,
}

/// So far is looked for the next quote.
const LOOK_AHEAD: usize = 1 << 14;

/// Some of the next 64 bytes, a bit each; the lowest is the first.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Window {
    /// Delimiters and line ends that separate cells.
    pub separators: u64,
    /// Line ends within quotes.
    pub breaks: u64,
}

impl Separators {
    pub(super) fn new(dialect: Dialect) -> Separators {
        Separators {
            dialect,
            inside: 0,
            cell_starts: 1,
            has_closed: 0,
            without_quotes: 0,
        }
    }

    /// The window that `text` starts with; `None` where quotes stand in it in other ways.
    #[inline]
    pub(super) fn next(&mut self, text: &[u8]) -> Option<Window> {
        let Dialect {
            delimiter,
            newline,
            quote,
            ..
        } = self.dialect;
        let window = match text.first_chunk::<WINDOW>() {
            Some(window) => *window,
            None => {
                // A byte that none of the three is: dialects are of ASCII.
                let mut window = [0xff; WINDOW];
                window[..text.len()].copy_from_slice(text);
                window
            }
        };
        let window = u8x64::from(window);
        let of = |byte: u8| window.simd_eq(u8x64::splat(byte));
        let separators = (of(delimiter) | of(newline)).to_bitmask();
        let quotes = match quote {
            Some(quote) if self.without_quotes < WINDOW => of(quote).to_bitmask(),
            _ => 0,
        };
        if quotes | self.inside == 0 {
            self.cell_starts = separators >> (WINDOW - 1);
            self.has_closed = 0;
            self.without_quotes = match self.without_quotes.checked_sub(WINDOW) {
                Some(left) => left,
                None => quote.map_or(usize::MAX, |quote| without(quote, text)),
            };
            return Some(Window {
                separators,
                breaks: 0,
            });
        }
        // From the quote that opens on, to before the one that closes.
        let inside = parity(quotes) ^ self.inside;
        let (opening, closing) = (quotes & inside, quotes & !inside);
        let found = Window {
            separators: separators & !inside,
            breaks: of(newline).to_bitmask() & inside,
        };
        let may_open = found.separators << 1 | self.cell_starts | closing << 1 | self.has_closed;
        if opening & !may_open != 0 {
            return None;
        }
        self.inside = ((inside as i64) >> (WINDOW - 1)) as u64;
        self.cell_starts = found.separators >> (WINDOW - 1);
        self.has_closed = closing >> (WINDOW - 1);
        Some(found)
    }

    /// Whether the next byte is within quotes.
    pub(super) fn is_inside(&self) -> bool {
        self.inside != 0
    }
}

/// In how many bytes behind the window that `text` starts with there is no quote.
#[inline(never)]
fn without(quote: u8, text: &[u8]) -> usize {
    let ahead = text.get(WINDOW..).unwrap_or_default();
    let ahead = &ahead[..ahead.len().min(LOOK_AHEAD)];
    memchr::memchr(quote, ahead).unwrap_or(ahead.len())
}

/// Of each bit, whether the number of bits up to it is odd.
#[inline]
fn parity(mut bits: u64) -> u64 {
    for shift in [1, 2, 4, 8, 16, 32] {
        bits ^= bits << shift;
    }
    bits
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Byte after byte; `None` where a quote stands in a cell that does not start with one.
    fn expected(text: &[u8]) -> Option<Vec<(usize, u8)>> {
        let (mut found, mut at, mut start) = (Vec::new(), 0, 0);
        while at < text.len() {
            match text[at] {
                b'"' if at == start => loop {
                    at += 1;
                    match (text.get(at), text.get(at + 1)) {
                        (Some(b'"'), Some(b'"')) => at += 1,
                        (Some(b'"') | None, _) => break,
                        (Some(b'\n'), _) => found.push((at, b'b')),
                        _ => {}
                    }
                },
                b'"' => return None,
                byte @ (b',' | b'\n') => {
                    found.push((at, byte));
                    start = at + 1;
                }
                _ => {}
            }
            at += 1;
        }
        Some(found)
    }

    proptest! {
        #[test]
        fn separators_are_those_that_are_found_byte_after_byte(
            text in "[a,\"\n]{0,20}|([a,\n]{0,9}|\"([a,\n]|\"\"){0,50}\"[,\n]){0,30}",
        ) {
            let text = text.as_bytes();
            let mut separators = Separators::new(Dialect::default());
            let mut found = Vec::new();
            let mut is_usual = true;
            for (number, bytes) in text.chunks(WINDOW).enumerate() {
                let from = number * WINDOW;
                let Some(window) = separators.next(&text[from..]) else {
                    is_usual = false;
                    break;
                };
                for (bit, byte) in bytes.iter().enumerate() {
                    let is = |bits: u64| bits >> bit & 1 == 1;
                    if is(window.separators) {
                        found.push((from + bit, *byte));
                    }
                    if is(window.breaks) {
                        found.push((from + bit, b'b'));
                    }
                }
            }
            let expected = expected(text);
            prop_assert_eq!(is_usual.then_some(found), expected);
        }
    }
}
