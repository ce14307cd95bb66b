//! End-to-end runs of the program: a fresh folder, a command, what it
//! printed, what it wrote.

mod agreement;
mod bad_input;
mod clock_cells;
mod convert;
mod counted_spans;
mod databases;
mod demo;
mod derive;
mod dialects;
mod examples;
mod explain;
mod failing_calls;
mod faults;
mod formats;
mod forms;
mod forms_table;
mod harness;
mod language_of_column;
mod languages;
mod limits;
mod many_files;
mod many_rows;
mod new_data;
mod odd_cells;
mod offered;
mod other_workbooks;
mod phrases_table;
mod questions;
mod resolved;
mod rows_kept;
mod rulings;
#[cfg(target_os = "linux")]
mod signals;
mod survey;
mod suspicions;
mod swapped;
mod tables;
mod time_between;
mod typed_formats;
mod views;
mod witnesses;
mod workbooks;
mod writing;
mod years;
mod zones;
