//! The commands, one file each.

pub mod completions;
pub mod convert;
pub mod demo;
pub mod explain;
pub mod locales;
pub mod settle;
pub mod survey;
pub mod zones;
