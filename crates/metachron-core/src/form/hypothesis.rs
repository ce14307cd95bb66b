//! What a form may be read as, where more than its text has to say.

use super::{Count, Order};

/// One of the ways to read a form that is in question. What the rest of the
/// table says is a test of each.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Hypothesis {
    /// Day, month and year stand in this order.
    Order(Order),
    /// A number counts this.
    Count(Count),
    /// An import has swapped day and month.
    Swapped,
}

impl Hypothesis {
    /// Its name in rulings and in JSON: `dmy`, `days since 1904-01-01`, or `swapped`.
    pub fn name(self) -> String {
        match self {
            Hypothesis::Order(order) => order.name().to_owned(),
            Hypothesis::Count(count) => count.to_string(),
            Hypothesis::Swapped => "swapped".to_owned(),
        }
    }

    /// The order, where that is in question.
    pub fn order(self) -> Option<Order> {
        match self {
            Hypothesis::Order(order) => Some(order),
            Hypothesis::Count(_) | Hypothesis::Swapped => None,
        }
    }
}

impl std::fmt::Display for Hypothesis {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Hypothesis::Order(order) => f.write_str(order.words()),
            Hypothesis::Count(count) => count.fmt(f),
            Hypothesis::Swapped => f.write_str("dates with day and month swapped"),
        }
    }
}
