//! Numbers that may count time, as a shape may hold them.

use crate::form::{Count, CountUnit};
use crate::lex::{Class, Holds};

/// The counts that a number of these classes is in common use: workbook days
/// of our century and the one before have five digits, seconds since 1970 nine until 2001
/// and ten since. Milliseconds of twelve digits would be times such as `202403051430`.
///
/// Numbers look like any others, so these are proposals: what a column of
/// numbers is has to be declared, or said by its name and its range together.
pub(super) fn counts(classes: &[Class]) -> Option<Count> {
    let (digits, decimals) = match *classes {
        [Class::Digits(digits)] => (digits, false),
        [
            Class::Digits(digits),
            Class::Symbol('.' | ','),
            Class::Short | Class::Digits(_),
        ] => (digits, true),
        _ => return None,
    };
    match digits {
        5 => Some(Count::WORKBOOK),
        9 | 10 => Some(Count::unix(CountUnit::Seconds)),
        13 => Some(Count::unix(CountUnit::Milliseconds)),
        16 if !decimals => Some(Count::unix(CountUnit::Microseconds)),
        19 if !decimals => Some(Count::unix(CountUnit::Nanoseconds)),
        _ => None,
    }
}

/// The count that a program's wrapping says its number is.
pub(super) fn wrapped(holds: Holds) -> Option<Count> {
    match holds {
        Holds::Seconds => Some(Count::unix(CountUnit::Seconds)),
        Holds::Milliseconds => Some(Count::unix(CountUnit::Milliseconds)),
        Holds::Any | Holds::Written | Holds::Parts | Holds::DayParts | Holds::NamedUnits => None,
    }
}
