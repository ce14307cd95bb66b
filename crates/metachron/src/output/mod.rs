//! Files that are written whole or not at all, and rows in another order.

mod atomic;
mod same;
mod sorter;

pub use atomic::{Complete, Output};
pub use same::{refuse_same, same_file};
pub use sorter::Sorter;
