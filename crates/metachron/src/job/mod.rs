//! Work on a table: opening it, feeding its rows to the engine's passes,
//! converting it.

mod answers;
mod convert;
mod declared;
pub mod explain;
pub mod inputs;
pub mod interrupted;
mod open;
mod passes;
mod pipeline;
mod progress;
pub mod review_list;
mod row_names;
pub mod rulings_folder;

pub use open::Job;
pub use row_names::RowNames;
