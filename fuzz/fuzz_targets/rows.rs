//! Any text as rows: all of it is of one row or another, wherever a block ends, and cells
//! say what the `csv` crate makes of them.
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_table::{Dialect, Rows};

fuzz_target!(|text: &str| {
    let dialect = Dialect {
        quote: None,
        ..Dialect::default()
    };
    for dialect in [dialect, Dialect::default()] {
        let mut rows = Rows::new(text, dialect, 1);
        let (mut scratch, mut count, mut ends) = (String::new(), 0, vec![0]);
        while let Some(row) = rows.next_row() {
            for cell in 0..row.len() {
                let _ = row.text(cell, &mut scratch);
            }
            count += 1;
            ends.push(rows.offset());
        }
        assert_eq!(rows.offset(), text.len());
        // From the end of each row on, the others are the same.
        for (behind, &end) in ends.iter().enumerate().take(8) {
            let mut rest = Rows::new(&text[end..], dialect, 1);
            let mut left = 0;
            while rest.next_row().is_some() {
                left += 1;
            }
            assert_eq!(behind + left, count);
        }
    }
});
