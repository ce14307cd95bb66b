//! A cheap hash of short texts, for caches.

/// A hash of 32 bits: of the text's first and last eight bytes, which overlap in a
/// short one, and its length.
#[inline]
pub(crate) fn ends_hash(raw: &[u8]) -> u64 {
    let half = |bytes: &[u8]| match bytes.first_chunk::<8>() {
        Some(chunk) => u64::from_le_bytes(*chunk),
        None => bytes
            .iter()
            .fold(0, |value, byte| value << 8 | u64::from(*byte)),
    };
    let first = half(raw);
    let last = half(&raw[raw.len().saturating_sub(8)..]);
    let mixed =
        (first ^ last.rotate_left(29) ^ raw.len() as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15);
    mixed >> 32
}
