//! The digits of decimal numbers, put down from the last to the first.

use crate::stamp::two;

/// Appends the digits of a number, of which `scale` are decimals; without zeros
/// at their end. `whole` is what stands before the point, unless that is among
/// the digits.
pub(super) fn write(
    is_negative: bool,
    whole: Option<u64>,
    digits: u64,
    scale: u32,
    out: &mut Vec<u8>,
) {
    const ROOM: usize = 40;
    const USUAL: usize = 24;
    // From the last digit to the first.
    let (mut text, mut first, mut end) = ([b'0'; ROOM + USUAL], ROOM, ROOM);
    let mut rest = digits;
    if scale > 0 {
        let point = ROOM - 1 - scale as usize;
        // What stands before the point is put over the zeros in front.
        let reach = if whole.is_some() { point } else { point + 8 };
        while first > reach {
            first -= 8;
            text[first..first + 8].copy_from_slice(&eight((rest % 100_000_000) as u32));
            rest /= 100_000_000;
        }
        while first > point + 2 {
            first -= 2;
            text[first..first + 2].copy_from_slice(&two((rest % 100) as u8));
            rest /= 100;
        }
        if first > point + 1 {
            first -= 1;
            text[first] = b'0' + (rest % 10) as u8;
            rest /= 10;
        }
        first = point;
        text[point] = b'.';
        while text[end - 1] == b'0' {
            end -= 1;
        }
        if end == point + 1 {
            end = point;
        }
    }
    rest = whole.unwrap_or(rest);
    while rest >= 100 {
        first -= 2;
        text[first..first + 2].copy_from_slice(&two((rest % 100) as u8));
        rest /= 100;
    }
    first -= 2;
    text[first..first + 2].copy_from_slice(&two(rest as u8));
    first += usize::from(rest < 10);
    if is_negative {
        first -= 1;
        text[first] = b'-';
    }
    match text[first..].first_chunk::<USUAL>() {
        Some(usual) if end - first <= USUAL => append(usual, end - first, out),
        _ => out.extend_from_slice(&text[first..end]),
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

/// Appends the digits of a number below 100 millions, of which `scale`, at most
/// seven, are decimals: all at once, whatever their number, which differs from
/// cell to cell and is not foreseen by any processor.
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

/// A number below 100 millions in eight digits.
#[inline]
fn eight(digits: u32) -> [u8; 8] {
    (each(digits) | ZEROS).to_le_bytes()
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
