//! Work on a table: opening, surveying, ruling, converting.

mod around;
mod beyond;
mod convert;
mod converted;
mod declared;
mod deriving;
pub mod explain;
mod facts;
mod open;
mod pipeline;
mod placed;
mod places;
mod progress;
mod resolved;
mod rule;
mod sort;
mod survey;
mod worker;

pub use converted::{Conversion, Converted, Extras, ReviewEntry};
pub use deriving::DerivedCounts;
pub use facts::TableFacts;
pub use open::Job;
pub use places::Places;
pub use resolved::Resolved;
pub use rule::Ruled;
pub use sort::{Direction, SortBy};
pub use survey::{Ragged, Surveyed};
