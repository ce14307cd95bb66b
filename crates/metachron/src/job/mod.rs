//! Work on a table: opening, surveying, ruling, converting.

mod convert;
mod declared;
mod open;
mod pipeline;
mod progress;
mod rule;
mod survey;

pub use convert::{Converted, Extras};
pub use open::Job;
pub use rule::Ruled;
pub use survey::{Ragged, Surveyed};
