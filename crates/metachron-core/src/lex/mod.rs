//! Bytes → tokens → shape.
//!
//! The [`Lexer`] cuts a cell into [`Token`]s and classes them. The sequence
//! of classes is the cell's [`Shape`]: its text once digits
//! and letters are classed. `31/12/2024` and `5/1/2025` have one shape, so
//! whatever has to be worked out about a way of writing is worked out once
//! per shape, not once per cell.
//!
//! ```
//! use metachron_core::lex::Lexer;
//!
//! let mut lexer = Lexer::default();
//! let one = lexer.lex("31/12/2024").unwrap().shape();
//! let other = lexer.lex("5/1/2025").unwrap().shape();
//! assert_eq!(one, other);
//! assert_ne!(one, lexer.lex("5-1-2025").unwrap().shape());
//! ```

mod by_signature;
mod cut;
mod key;
mod layouts;
mod lexer;
mod shape;
mod signature;
mod token;
mod wrapping;

pub(crate) use by_signature::BySignature;
pub(crate) use key::Key;
pub use lexer::{Lexed, Lexer, Marks, NoDate, Words};
pub use shape::Shape;
pub(crate) use signature::Signature;
pub use token::{Class, Token};
pub(crate) use wrapping::prefix_len;
pub use wrapping::{Holds, WRAPPINGS, Wrapping};

/// A cell longer than this many bytes is no date: it is not lexed.
pub const MAX_CELL_BYTES: usize = 4096;

/// A cell of more tokens than this is no date: as many as there are bits for marks. Khmer
/// writes 28, with a word for each part of a date and a time.
pub const MAX_TOKENS: usize = 32;

#[cfg(test)]
mod tests;
