//! Files that are written whole or not at all.

mod atomic;
mod same;

pub use atomic::Output;
pub use same::{refuse_same, same_file};
