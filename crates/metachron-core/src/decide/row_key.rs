//! What rows are sorted by.

/// What rows are sorted by: the number at the end of a text, behind what stands before
/// it. `INV-2024-0007` comes before `INV-2024-0012`, and `9` before `10`.
///
/// ```
/// use metachron_core::decide::RowKey;
///
/// let key = |text: &str| RowKey::of_cell(text);
/// assert!(key("9") < key(" 10 "));
/// assert!(key("T-2023-0412") < key("T-2024-0007"));
/// assert_eq!(key("n/a"), None);
/// ```
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct RowKey {
    before: Box<str>,
    number: u64,
}

impl RowKey {
    /// The key that a cell holds.
    pub fn of_cell(text: &str) -> Option<RowKey> {
        let text = text.trim();
        let before = text.trim_end_matches(|letter: char| letter.is_ascii_digit());
        Some(RowKey {
            number: text[before.len()..].parse().ok()?,
            before: before.into(),
        })
    }
}
