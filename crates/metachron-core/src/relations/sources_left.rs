//! What the first rows of a table leave to look for in all of them.

/// The sources of evidence on one column that all rows have to be counted for.
#[derive(Clone, Debug, Default)]
pub(crate) struct SourcesLeft {
    /// Which of its sources, in their order.
    pub(super) sources: Vec<bool>,
    /// What was found by the others, a sentence each.
    pub attempts: Vec<String>,
}

impl SourcesLeft {
    /// Whether there is any.
    pub fn is_any(&self) -> bool {
        self.sources.contains(&true)
    }
}
