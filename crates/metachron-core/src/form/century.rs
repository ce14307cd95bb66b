//! Two-digit years and the hundred years they stand for.

/// Which hundred years two-digit years stand for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Century {
    /// The hundred years from this one on: under `Window(1947)`, `46` is 2046
    /// and `47` is 1947.
    Window(i16),
    /// Not decided. Years are read as 20yy so that the rest of the cell can
    /// be checked; the stamps are not to be believed.
    #[default]
    Open,
}

impl Century {
    /// The year that the two digits `short` stand for.
    ///
    /// ```
    /// use metachron_core::form::Century;
    ///
    /// assert_eq!(Century::Window(1947).year(46), 2046);
    /// assert_eq!(Century::Window(1947).year(47), 1947);
    /// ```
    pub fn year(self, short: u8) -> i16 {
        match self {
            Century::Window(first) => first + (i16::from(short) - first).rem_euclid(100),
            Century::Open => 2000 + i16::from(short),
        }
    }
}
