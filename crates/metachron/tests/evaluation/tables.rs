//! Tables, and the truth about their dates.

use jiff::civil::Date;

/// A table, and the truth about one of its columns.
pub struct Table {
    pub header: Vec<&'static str>,
    /// The column that is looked at.
    pub column: &'static str,
    pub rows: Vec<Row>,
    /// What the user says about it, on the command line.
    pub declared: Vec<String>,
}

/// A row, and what its cell of the column that is looked at truly says.
pub struct Row {
    pub cells: Vec<String>,
    pub truth: Truth,
}

/// What a cell truly says.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Truth {
    /// This day.
    Day(Date),
    /// What a clean cell writes so: a length, a month, a time.
    Is(String),
    /// No date: it stays as it is.
    Text,
    /// Nothing: it is blank, or no date at all.
    Nothing,
    /// The source itself is false: the day was mistyped. Whatever comes out,
    /// nobody could know.
    False,
    /// This day, in an order that no cell of the table shows by itself: of a
    /// register that mixes two, the few cells of the second all have days up
    /// to the 12th.
    Unshown(Date),
}

#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Order {
    Dmy,
    Mdy,
}

pub const ORDERS: [Order; 2] = [Order::Dmy, Order::Mdy];

impl Order {
    pub fn other(self) -> Order {
        match self {
            Order::Dmy => Order::Mdy,
            Order::Mdy => Order::Dmy,
        }
    }

    pub fn write(self, day: Date, sign: char) -> String {
        match self {
            Order::Dmy => format!(
                "{:02}{sign}{:02}{sign}{}",
                day.day(),
                day.month(),
                day.year()
            ),
            Order::Mdy => format!(
                "{:02}{sign}{:02}{sign}{}",
                day.month(),
                day.day(),
                day.year()
            ),
        }
    }
}

impl Table {
    /// Marks the cells of orders that no cell of the table shows. `orders`
    /// are those of the rows.
    pub fn hide_unshown(mut self, orders: &[Order]) -> Table {
        let shows = |order: Order| {
            let mut rows = self.rows.iter().zip(orders);
            rows.any(|(row, own)| {
                matches!(row.truth, Truth::Day(day) if day.day() > 12) && *own == order
            })
        };
        let hidden: Vec<bool> = orders.iter().map(|&order| !shows(order)).collect();
        for (row, _) in self
            .rows
            .iter_mut()
            .zip(hidden)
            .filter(|(_, hidden)| *hidden)
        {
            if let Truth::Day(day) = row.truth {
                row.truth = Truth::Unshown(day);
            }
        }
        self
    }
}
