//! A small run of the evaluation (docs/evidence.md): no cell of a made-up
//! table may come out as another day than the true one, and every answer to a
//! question does what it says.

#[path = "evaluation/mod.rs"]
mod evaluation;

use evaluation::cases::Case;
use evaluation::count::Count;
use evaluation::program::Program;
use std::path::PathBuf;

/// How many tables of each sort are tried.
const TABLES: u64 = 4;

/// The sorts are tried by so many threads, each in a folder of its own.
const THREADS: usize = 4;

#[test]
fn no_cell_is_wrong() {
    let right = std::thread::scope(|scope| {
        let parts = Case::ALL.chunks(Case::ALL.len().div_ceil(THREADS));
        let threads: Vec<_> = parts.map(|cases| scope.spawn(|| try_all(cases))).collect();
        let right = threads.into_iter().map(|thread| thread.join());
        right
            .map(|right| right.expect("no case fails"))
            .sum::<u64>()
    });
    assert!(right > 10_000, "{right} cells came out right");
}

/// Tries tables of each of these sorts; gives how many cells came out right.
fn try_all(cases: &[Case]) -> u64 {
    let folder = tempfile::tempdir().expect("a folder");
    let program = Program {
        path: PathBuf::from(env!("CARGO_BIN_EXE_metachron")),
        folder: folder.path().to_owned(),
    };
    let mut right = 0;
    for case in cases {
        let count = Count::of(*case, TABLES, &program);
        assert_eq!(count.tables, TABLES);
        assert_eq!(count.wrong, 0, "{}: {count:?}", case.words());
        assert_eq!(count.invented, 0, "{}: {count:?}", case.words());
        assert_eq!(count.harmful, 0, "{}: {count:?}", case.words());
        assert!(count.right + count.open + count.as_declared == count.cells);
        let is_needless = case.says_all() && count.asked > 0;
        assert!(!is_needless, "{}: {count:?}", case.words());
        right += count.right;
    }
    right
}
