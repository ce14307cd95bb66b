//! One cell of a table, as its source holds it.

use crate::stamp::Stamp;

/// One cell of a table: text, or a typed value of its source.
///
/// A text file has nothing but text, which is read by its column's forms
/// whatever characters it holds. A workbook, a Parquet file or a database
/// says of some values what they are; those are taken as they are, and never
/// written as text first.
///
/// ```
/// use metachron_core::cell::Cell;
/// use metachron_core::stamp::Stamp;
///
/// let day = Stamp::Date(jiff::civil::date(2024, 3, 5));
/// let mut scratch = String::new();
/// assert_eq!(Cell::Stamp(day).text(&mut scratch), "2024-03-05");
/// assert_eq!(Cell::from("2024-03-05").text(&mut scratch), "2024-03-05");
/// assert_ne!(Cell::Stamp(day), Cell::from("2024-03-05"));
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Cell<'c> {
    /// Text. An empty cell is the empty text.
    Text(&'c str),
    /// A number, in decimal notation: exact, whatever its width in the source.
    Number(&'c str),
    /// A boolean.
    Boolean(bool),
    /// A date, a time of day, a datetime, an instant or a duration.
    Stamp(Stamp),
    /// An error value of a formula, by the text that the program shows:
    /// `#REF!`.
    Error(&'c str),
}

impl<'c> Cell<'c> {
    /// The text that stands for the cell in a text file: the text itself, or
    /// a value in the notation of ISO 8601 and of decimal numbers. `scratch`
    /// is used where that has to be written first.
    #[inline]
    pub fn text<'s>(&self, scratch: &'s mut String) -> &'s str
    where
        'c: 's,
    {
        match *self {
            Cell::Text(text) | Cell::Number(text) | Cell::Error(text) => text,
            Cell::Boolean(true) => "TRUE",
            Cell::Boolean(false) => "FALSE",
            Cell::Stamp(stamp) => {
                scratch.clear();
                stamp.push_iso(scratch);
                scratch
            }
        }
    }

    /// The stamp, where the source itself says that the cell is one.
    pub fn stamp(&self) -> Option<Stamp> {
        match self {
            Cell::Stamp(stamp) => Some(*stamp),
            _ => None,
        }
    }
}

impl<'c, S: AsRef<str> + ?Sized> From<&'c S> for Cell<'c> {
    #[inline]
    fn from(text: &'c S) -> Cell<'c> {
        Cell::Text(text.as_ref())
    }
}
