//! What holds for all cells that are known.

use crate::form::Hypothesis;
use crate::rulings::{DatePart, TimeOrder};
use crate::words::{count, in_days};
use jiff::civil::Date;

/// What holds for all cells that are known, and decides on others.
#[derive(Clone, Debug, PartialEq)]
pub enum Premise {
    /// The rows stand in time order.
    InTimeOrder {
        /// The column that they have to be sorted by, unless they stand so.
        sorted_by: Option<String>,
        /// All cells are, read by this order, and by no other; if none, those
        /// that have one reading are.
        read_by: Option<Hypothesis>,
        /// The direction.
        order: TimeOrder,
        /// How many steps between known cells keep it.
        steps: u64,
        /// How many do not.
        exceptions: u64,
    },
    /// Another column is never later.
    NotBefore {
        /// The column.
        column: String,
        /// In how many rows that is known.
        rows: u64,
    },
    /// Another column is never earlier.
    NotAfter {
        /// The column.
        column: String,
        /// In how many rows that is known.
        rows: u64,
    },
    /// The days between it and another column are always these.
    DaysAfter {
        /// The column.
        column: String,
        /// The fewest; below zero where it is earlier.
        least: i32,
        /// The most.
        most: i32,
        /// In how many rows that is known.
        rows: u64,
    },
    /// Another column counts the time between it and another date.
    Counts {
        /// The column.
        column: String,
        /// What it counts.
        unit: SpanUnit,
        /// The other end.
        to: SpanEnd,
        /// In how many rows that is known.
        rows: u64,
    },
    /// Another column repeats a part of the date.
    Same {
        /// The part.
        part: DatePart,
        /// The column.
        column: String,
        /// In how many rows that is known.
        rows: u64,
    },
}

/// What a number counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SpanUnit {
    /// Years, as those of an age.
    Years,
    /// Days.
    Days,
}

/// Where the time ends that a number counts from a date, or where it begins.
#[derive(Clone, Debug, PartialEq)]
pub enum SpanEnd {
    /// At the date of another column.
    Column(String),
    /// On one day for all rows, between these.
    OneDay([Date; 2]),
}

impl SpanUnit {
    /// The unit in a word.
    pub fn words(self) -> &'static str {
        match self {
            SpanUnit::Years => "years",
            SpanUnit::Days => "days",
        }
    }
}

impl Premise {
    /// The premise in a sentence.
    pub fn sentence(&self) -> String {
        match self {
            Premise::InTimeOrder {
                sorted_by,
                read_by,
                order,
                steps,
                exceptions,
            } => format!(
                "{}the rows stand in time order{}, {} ({} keep it, {})",
                read_by.map_or(String::new(), |read_by| {
                    format!("read as {read_by}, and in no other order, ")
                }),
                sorted_by.as_ref().map_or(String::new(), |column| {
                    format!(" when they are sorted by {column}")
                }),
                order.name(),
                count(*steps, "step"),
                match exceptions {
                    0 => "none breaks it".to_owned(),
                    1 => "1 breaks it".to_owned(),
                    more => format!("{more} break it"),
                }
            ),
            Premise::NotBefore { column, rows } => format!(
                "it is never before {column} ({} where both are known, none contradicts)",
                count(*rows, "row")
            ),
            Premise::NotAfter { column, rows } => format!(
                "it is never after {column} ({} where both are known, none contradicts)",
                count(*rows, "row")
            ),
            Premise::DaysAfter {
                column,
                least,
                most,
                rows,
            } => format!(
                "it is always {} {column} ({} where both are known, none contradicts)",
                in_days(*least, *most),
                count(*rows, "row")
            ),
            Premise::Counts {
                column,
                unit,
                to,
                rows,
            } => {
                let unit = unit.words();
                let span = match to {
                    SpanEnd::Column(to) => format!("between it and {to}"),
                    SpanEnd::OneDay([first, last]) if first == last => {
                        format!("between it and {first}")
                    }
                    SpanEnd::OneDay([first, last]) => {
                        format!("between it and one day from {first} to {last}")
                    }
                };
                format!(
                    "{column} counts the {unit} {span} ({} where both are known, none contradicts)",
                    count(*rows, "row")
                )
            }
            Premise::Same { part, column, rows } => format!(
                "{column} repeats its {} ({} where it is known, none contradicts)",
                part.words(),
                count(*rows, "row")
            ),
        }
    }
}
