//! The evaluation's tables, and the count of what became of their cells.

mod answering;
pub mod cases;
mod clocks;
pub mod count;
mod makers;
mod numbers;
mod placeholders;
pub mod program;
mod random;
mod tables;
mod witnesses;
