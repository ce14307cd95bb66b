//! The columns that are compared with the open ones.

/// Which columns are compared.
#[derive(Clone, Debug, Default)]
pub struct ComparedColumns {
    /// The names of all columns, and what stands for the file.
    pub columns: Vec<String>,
    /// The indexes of the temporal columns among them.
    pub temporal: Vec<usize>,
    /// Which of the temporal columns are open.
    pub open: Vec<usize>,
    /// Pairs of columns that may part the orders together.
    pub pairs: Vec<(usize, usize)>,
}
