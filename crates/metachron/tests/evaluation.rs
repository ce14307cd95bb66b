//! A small run of the evaluation (docs/evidence.md): no cell of a made-up
//! table may come out as another day than the true one.

#[path = "evaluation/mod.rs"]
mod evaluation;

use evaluation::cases::Case;
use evaluation::count::Count;
use std::path::Path;

/// How many tables of each sort are tried.
const TABLES: u64 = 6;

#[test]
fn no_cell_is_wrong() {
    let program = Path::new(env!("CARGO_BIN_EXE_metachron"));
    let folder = tempfile::tempdir().expect("a folder");
    let mut right = 0;
    for case in Case::ALL {
        let count = Count::of(case, TABLES, program, folder.path());
        assert_eq!(count.tables, TABLES);
        assert_eq!(count.wrong, 0, "{}: {count:?}", case.words());
        assert_eq!(count.invented, 0, "{}: {count:?}", case.words());
        assert!(count.right + count.open + count.as_declared == count.cells);
        right += count.right;
    }
    assert!(right > 10_000, "{right} cells came out right");
}
