//! Any bytes as a cell: no reading of them may panic or hang.
//!
//! `cargo +nightly fuzz run cell`
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_core::form::Conventions;
use metachron_core::lex::{Lexer, Words};
use metachron_core::locale::Names;
use metachron_core::reading::{Readings, leftover};

fuzz_target!(|bytes: &[u8]| {
    let text = String::from_utf8_lossy(bytes);
    for names in [Names::English, Names::Anywhere] {
        let mut lexer = Lexer::new(names, Words::Keep);
        if let Ok(cell) = lexer.lex(&text) {
            let readings = Readings::new(cell.shape(), &[]);
            let _ = readings.of(&cell, Conventions::default());
            let _ = leftover(&cell);
        }
    }
});
