//! The digits of decimal numbers, eight at once.
//!
//! How many there are differs from cell to cell, which no processor foresees:
//! they are put down without asking, and as many are kept as belong to it.

use std::io::Write as _;

/// One more than eight digits can say.
const EIGHT: u64 = 100_000_000;

/// Appends the digits of a number below 100 millions, of which `scale`, at most
/// seven, are decimals; without zeros at their end.
#[inline]
pub(super) fn write_few(is_negative: bool, digits: u32, scale: u32, out: &mut Vec<u8>) {
    const USUAL: usize = 16;
    let (each, scale) = (each(digits), scale as usize & 7);
    // Zeros before the last digit of the whole number, and behind the decimals.
    let first = (each.trailing_zeros() as usize / 8).min(7 - scale);
    let decimals = scale.saturating_sub(each.leading_zeros() as usize / 8);
    let text = each | ZEROS;
    // The decimals once more, behind their point.
    let (mut room, point) = ([0; 8 + USUAL], 8 - scale);
    room[..8].copy_from_slice(&text.to_le_bytes());
    let behind = text.wrapping_shr(8 * point as u32).to_le_bytes();
    room[point] = b'.';
    room[point + 1..point + 9].copy_from_slice(&behind);
    if is_negative {
        out.push(b'-');
    }
    let len = point - first + decimals + usize::from(decimals > 0);
    if let Some(usual) = room[first..].first_chunk::<USUAL>() {
        append(usual, len, out);
    }
}

/// Appends the digits of a whole number and of 15 decimals behind it; without
/// zeros at their end.
pub(super) fn write_split(is_negative: bool, whole: u64, decimals: u64, out: &mut Vec<u8>) {
    const USUAL: usize = 24;
    if is_negative {
        out.push(b'-');
    }
    let lower = each((whole % EIGHT) as u32);
    let first = match whole / EIGHT {
        0 => (lower.trailing_zeros() as usize / 8).min(7),
        upper @ ..EIGHT => {
            write_few(false, upper as u32, 0, out);
            0
        }
        upper => {
            // Nothing can fail in memory.
            let _ = write!(out, "{upper}");
            0
        }
    };
    let (near, far) = (
        each((decimals / EIGHT) as u32),
        each((decimals % EIGHT) as u32),
    );
    let zeros = match far {
        0 => 8 + near.leading_zeros() / 8,
        far => far.leading_zeros() / 8,
    };
    let mut room = [0; 8 + USUAL];
    for (index, eight) in [lower, near, far].into_iter().enumerate() {
        room[8 * index..8 * index + 8].copy_from_slice(&(eight | ZEROS).to_le_bytes());
    }
    // Of 16 decimals the first would be a zero.
    room[8] = b'.';
    if let Some(usual) = room[first..].first_chunk::<USUAL>() {
        append(usual, USUAL - zeros as usize - first, out);
    }
}

/// Appends the first `len` of `bytes`: to copy always so many is faster than to
/// copy as many as there are.
#[inline]
pub(crate) fn append<const N: usize>(bytes: &[u8; N], len: usize, out: &mut Vec<u8>) {
    let end = out.len() + len;
    out.extend_from_slice(bytes);
    out.truncate(end);
}

const ZEROS: u64 = u64::from_ne_bytes([b'0'; 8]);

/// The eight digits of a number below 100 millions, the first in the lowest
/// byte.
#[inline]
fn each(digits: u32) -> u64 {
    // All halves at once, then all quarters, then all digits. Quotients of a
    // few digits are products by a near fraction.
    let halves = u64::from(digits / 10_000) | (u64::from(digits % 10_000) << 32);
    let hundreds = ((halves * 10_486) >> 20) & 0x7f_0000_007f;
    let quarters = hundreds | ((halves - hundreds * 100) << 16);
    let tens = ((quarters * 103) >> 10) & 0x000f_000f_000f_000f;
    tens | ((quarters - tens * 10) << 8)
}
