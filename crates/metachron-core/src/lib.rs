//! Reads the dates and times people write, settles which reading is right,
//! and says why.
//!
//! This crate is the heart of Metachron. It opens no files, asks no clock and
//! starts no threads: blocks of cells go in; evidence, rulings, decisions and
//! typed rows come out. The whole way, on a table of two columns where one
//! settles the other:
//!
//! ```
//! use metachron_core::engine::{BlockStart, Conversion, ConvertOptions, Engine};
//! use metachron_core::engine::{Page, Request, Rows, TextRows};
//!
//! // Some clerks wrote the day first, others the month. Nothing in the last
//! // date says which, but the column next to it repeats the month.
//! let mut table: Vec<[String; 2]> = Vec::new();
//! for month in 1..=12 {
//!     table.push([format!("{}/{month}/2024", month + 12), month.to_string()]);
//!     table.push([format!("{month}/{}/2024", month + 12), month.to_string()]);
//! }
//! table.push(["5/6/2024".to_owned(), "6".to_owned()]);
//! let table: Vec<Vec<String>> = table.into_iter().map(Vec::from).collect();
//! let start = BlockStart { file: 0, line: 1 };
//!
//! // Settle: feed the rows to every pass that the engine asks for.
//! let request = Request::new(["due", "month"], "2026-11-28T00:00:00Z".parse()?);
//! let mut engine = Engine::new(request.clone())?;
//! while let Some(pass) = engine.next_pass() {
//!     let mut result = pass.start();
//!     result.add(pass.worker().block(start, TextRows::new(&table)));
//!     engine.finish(pass, result)?;
//! }
//! let settled = engine.into_settled();
//! let due = &settled.columns[0];
//! assert_eq!((due.cells.certain, due.cells.settled, due.cells.open), (24, 1, 0));
//! let why = due.justifications[0].sentence();
//! assert!(why.starts_with("month repeats its month (25 rows"), "{why}");
//!
//! // Convert: row by row, by the rulings that were settled.
//! let conversion = Conversion::new(&request, &settled.rulings, ConvertOptions::nothing())?;
//! let mut worker = conversion.worker();
//! worker.start(start);
//! let mut clean = Vec::new();
//! let mut rows = TextRows::new(&table);
//! while let Some(page) = rows.next_page() {
//!     for row in page.rows() {
//!         let row = worker.row(&row).expect("no row is left out");
//!         clean.push(row.out.cells[0].text(row.out.text));
//!     }
//! }
//! assert_eq!(clean[0], "2024-01-13");
//! assert_eq!(clean[24], "2024-06-05");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! Blocks may go to workers on any number of threads; their results are added
//! in the order of the blocks. A conversion may need passes of its own first:
//! see [`Conversion::next_pass`](engine::Conversion::next_pass).
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
//! | [`row`] | typed rows out |
//! | [`phrase`] | the language of derived columns |
//! | [`rulings`] | the model of the rulings file |
//! | [`evidence`] | the tally of a column, which can be merged |
//! | [`decide`] | cell + row context + ruling → verdict and stamp |
//! | [`derive`](mod@derive) | a row's values → derived columns, which rows are kept |
//! | [`settle`] | evidence → rulings |
//! | [`relations`] | the rest of the table → rulings on what is still open |
//! | [`forecast`] | evidence + rulings → what converting will do, and why |
//! | [`engine`] | the passes over a table, as data |

mod cache;
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
