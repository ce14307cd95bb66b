//! What the user declares about a column.

use crate::calendar::Calendar;
use crate::form::{Form, Order};
use crate::rulings::Locales;

/// What the user declares about a column. Cells that contradict it go on the
/// review list; it is never dropped quietly.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Declared {
    /// The column is temporal, whatever share of its cells can be read.
    pub temporal: bool,
    /// The order of day, month and year, wherever a form leaves it open.
    pub order: Option<Order>,
    /// The forms, in the order they are tried, and no others.
    pub forms: Vec<Form>,
    /// The first of the hundred years that two-digit years stand for.
    pub century: Option<i16>,
    /// The forms that read the user's examples, any of which may be right.
    pub by_example: Vec<Form>,
    /// The locale whose names the cells hold.
    pub locale: Locales,
    /// The calendar of the dates.
    pub calendar: Option<Calendar>,
    /// The year of dates without one.
    pub year: Option<i16>,
    /// The column that holds the year of dates without one.
    pub year_from: Option<String>,
}
