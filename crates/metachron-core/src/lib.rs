//! Reads the dates and times people write, settles which reading is right,
//! and says why.
//!
//! This crate is the heart of Metachron. It opens no files, asks no clock and
//! starts no threads: cells go in; evidence, rulings, verdicts and stamps
//! come out. The way from a column of text to typed stamps:
//!
//! ```
//! use jiff::civil::date;
//! use metachron_core::decide::Decider;
//! use metachron_core::evidence::{Surveyor, ColumnOptions};
//! use metachron_core::rulings::{Rulings, TableRuling};
//! use metachron_core::settle::{Declared, settle};
//! use metachron_core::decide::Verdict;
//!
//! let column = ["31/12/2024", "05/06/2024", "n/a"];
//!
//! // OwnReading at every cell.
//! let watches = [ColumnOptions::default()];
//! let mut surveyor = Surveyor::new(&watches);
//! for cell in column {
//!     surveyor.cell(0, cell);
//!     surveyor.end_row();
//! }
//! let evidence = surveyor.take();
//!
//! // Decide how the column is read.
//! let today = date(2026, 11, 23);
//! let ruling = settle("due", &evidence.columns[0], &Declared::default(), today)
//!     .expect("its cells say that the column is temporal");
//! assert_eq!(ruling.read.forms[0].alternatives()[0].to_string(), "dd/MM/yyyy");
//!
//! // Convert cell by cell.
//! let mut rulings = Rulings::new(TableRuling::default());
//! rulings.column.insert("due".to_owned(), ruling);
//! let mut converter = Decider::new(&rulings, "due")?.expect("there is a ruling");
//! let mut clean = Vec::new();
//! assert_eq!(converter.convert("05/06/2024", &mut clean), Verdict::Settled);
//! assert_eq!(clean, b"2024-06-05");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! The modules stand on each other in this order; none uses one below it in
//! the list:
//!
//! | module | what it is |
//! |---|---|
//! | [`words`] | numbers and lists in words |
//! | [`stamp`] | typed values, kinds, ISO 8601 text |
//! | [`cell`] | one cell: text, or a typed value of its source |
//! | [`calendar`] | calendars and eras |
//! | [`locale`] | the names that dates are written with |
//! | [`zone`] | clock times ↔ instants |
//! | [`lex`] | bytes → tokens → shape |
//! | [`form`] | patterns, and the readers compiled from them |
//! | [`reading`] | all readings of one cell |
//! | [`phrase`] | the language of derived columns |
//! | [`rulings`] | the model of the rulings file |
//! | [`evidence`] | the tally of a column, which can be merged |
//! | [`verdict`] | a ruling at work on one cell |
//! | [`convert`] | cell + ruling → verdict and stamp |
//! | [`derive`](mod@derive) | a row's values → derived columns, which rows are kept |
//! | [`settle`] | evidence → rulings |
//! | [`relations`] | the rest of the table → rulings on what is still open |
//! | [`forecast`] | evidence + rulings → what converting will do, and why |

pub mod calendar;
pub mod cell;
pub mod decide;
pub mod derive;
pub mod engine;
pub mod evidence;
pub mod forecast;
pub mod form;
pub mod lex;
pub mod locale;
pub mod phrase;
pub mod reading;
pub mod relations;
pub mod row;
pub mod rulings;
pub mod settle;
pub mod stamp;
pub mod words;
pub mod zone;
