//! What is done where the calendar leaves a choice.

use crate::zone::WhichInstant;

/// What is done where the calendar leaves a choice: said behind the phrase,
/// after a comma.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Policies {
    pub month_end: MonthEnd,
    pub leap_birthday: LeapBirthday,
    pub in_gap: WhichInstant,
    pub in_overlap: WhichInstant,
}

/// What a month before or after a day is where that month has no such day.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum MonthEnd {
    /// The last day of that month: 31 January and a month is 28 February.
    /// What contracts and registers mean.
    #[default]
    Clamp,
    /// The cell is left for a person.
    Refuse,
}

/// When those who were born on 29 February complete a year that has none.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum LeapBirthday {
    /// On 1 March.
    #[default]
    March,
    /// On 28 February.
    February,
}
