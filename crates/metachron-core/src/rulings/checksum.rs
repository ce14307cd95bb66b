//! Telling a rulings file that somebody edited from one that nobody did.

const MARK: &str = "# as written by metachron settle: ";

/// `text` with a last line that says what the lines above it were, so that an
/// edited file is not mistaken for one that can be rewritten.
///
/// ```
/// use metachron_core::rulings::{checksum_holds, with_checksum};
///
/// let file = with_checksum("metachron = 1\n");
/// assert!(checksum_holds(&file));
/// assert!(!checksum_holds(&file.replace("1\n", "1 # checked\n")));
/// assert!(!checksum_holds("metachron = 1\n"));
/// ```
pub fn with_checksum(text: &str) -> String {
    format!("{text}\n{MARK}{:016x}\n", digest(text))
}

/// Whether `file` is as [`with_checksum`] left it.
pub fn checksum_holds(file: &str) -> bool {
    file.rsplit_once(MARK).is_some_and(|(text, mark)| {
        let text = text.strip_suffix('\n').unwrap_or(text);
        mark.trim_end() == format!("{:016x}", digest(text))
    })
}

/// FNV-1a: it guards against forgetting, not against malice.
fn digest(text: &str) -> u64 {
    text.bytes().fold(0xcbf2_9ce4_8422_2325, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
    })
}
