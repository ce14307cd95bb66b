//! The columns that are compared with those in question.

use crate::form::Order;

/// Which columns are compared.
#[derive(Clone, Debug, Default)]
pub struct ComparedColumns {
    /// The names of all columns, and what stands for the file.
    pub columns: Vec<String>,
    /// The indexes of the temporal columns among them.
    pub temporal: Vec<usize>,
    /// Which of the temporal columns are in question.
    pub in_question: Vec<InQuestion>,
    /// By the temporal column and the number of its form: the order that its own
    /// cells settled, where the form is read as open all the same. Columns and
    /// forms that are not named have none.
    pub own_orders: Vec<Vec<Option<Order>>>,
    /// Pairs of columns that may part the orders together.
    pub pairs: Vec<(usize, usize)>,
}

/// A temporal column that the rest of the table may settle, or contradict.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct InQuestion {
    /// Its number among the temporal columns.
    pub number: usize,
    /// Whether it is open. If not, its own cells settled it.
    pub is_open: bool,
}

impl ComparedColumns {
    /// The order that the own cells of `form` of a temporal column settled.
    pub(super) fn own_order(&self, number: usize, form: usize) -> Option<Order> {
        *self.own_orders.get(number)?.get(form)?
    }
}
