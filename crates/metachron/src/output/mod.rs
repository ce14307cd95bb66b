//! Files that are written whole or not at all.

mod atomic;

pub use atomic::Output;
