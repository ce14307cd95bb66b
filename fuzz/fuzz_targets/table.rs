//! Any bytes as a text file, read as a table and as a review list: in any encoding, all of
//! its rows, whatever blocks they are read in.
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_core::rulings::HeaderLine;
use metachron_table::{ReadOptions, Source, Table};

fuzz_target!(|input: &[u8]| {
    let Ok(source) = Source::spool("odd", input) else {
        return;
    };
    let list = ReadOptions {
        delimiter: Some(b';'),
        header_line: Some(HeaderLine::Line(1)),
        ..ReadOptions::default()
    };
    for options in [ReadOptions::default(), list] {
        let opened = Table::open(vec![source.clone()], &options);
        let Ok(mut table) = opened else {
            continue;
        };
        if table.make_encodings_sure(&options).is_err() {
            continue;
        }
        let mut reader = table.read().expect("it was opened");
        let (mut scratch, mut last) = (String::new(), 0);
        while let Ok(Some(block)) = reader.next_block() {
            // Sure of its encoding, all of it is text.
            let mut rows = block.rows().expect("it is text");
            while let Some(row) = rows.next_row() {
                assert!(row.line() > last, "lines rise");
                last = row.line();
                for cell in 0..row.len() {
                    let _ = row.text(cell, &mut scratch);
                }
            }
        }
    }
});
