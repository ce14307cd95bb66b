//! Files that are written whole or not at all, and rows in another order.

mod atomic;
mod permissions;
mod same;
mod sorter;

pub use atomic::{Complete, Output, put_in_place};
pub use permissions::Allowed;
pub use same::{real_path, refuse_same, same_file};
pub use sorter::Sorter;
