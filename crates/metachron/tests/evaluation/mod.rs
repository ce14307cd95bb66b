//! The evaluation's tables, and the count of what became of their cells.

pub mod cases;
pub mod count;
mod makers;
mod random;
mod tables;
mod witnesses;
