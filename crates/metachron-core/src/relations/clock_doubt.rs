//! What the rest of the table says against times of day, without saying what they
//! are.

/// Why clock-like cells may be no times of day on a clock of 24 hours.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum ClockDoubt {
    /// They are before those of this column, which they should follow, and neither
    /// passes 12:59: the half of the day is missing.
    ShouldFollow(String),
    /// They are the time between these two columns in every row.
    IsBetween {
        /// Where it begins.
        start: String,
        /// Where it ends.
        end: String,
    },
}
