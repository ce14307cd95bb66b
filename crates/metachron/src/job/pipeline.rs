//! Blocks of a table through threads, results in order.

use super::progress::Progress;
use metachron_table::{Block, TableReader};
use std::collections::{BTreeMap, VecDeque};
use std::ops::ControlFlow;
use std::panic::{AssertUnwindSafe, catch_unwind, resume_unwind};
use std::sync::{Mutex, mpsc};
use std::thread;

/// Blocks under way for each thread: enough that none waits, few enough that
/// memory stays small.
const AHEAD: usize = 2;

/// So many bytes of blocks are under way at a time, or one block: those of rows of many
/// megabytes take turns.
const BYTES_UNDER_WAY: usize = 32 << 20;

/// Puts every block of `reader` through a worker and hands the results to
/// `sink` in the order of the blocks, whatever the number of threads, until
/// that has enough. `worker` makes a worker, one for each thread.
pub fn run<T, W>(
    reader: &mut dyn TableReader,
    threads: usize,
    progress: &mut Progress,
    worker: impl Fn() -> W + Sync,
    mut sink: impl FnMut(T) -> anyhow::Result<ControlFlow<()>>,
) -> anyhow::Result<()>
where
    T: Send + Counted,
    W: FnMut(Block) -> anyhow::Result<T>,
{
    let mut take = |result: T, progress: &mut Progress| {
        progress.advance(result.bytes(), result.rows());
        sink(result)
    };
    if threads == 1 {
        let mut work = worker();
        while let Some(block) = reader.next_block()? {
            if take(work(block)?, progress)?.is_break() {
                break;
            }
        }
        return Ok(());
    }
    let (to_workers, blocks) = mpsc::channel::<(usize, Block)>();
    let (from_workers, results) = mpsc::channel::<(usize, thread::Result<anyhow::Result<T>>)>();
    let blocks = Mutex::new(blocks);
    thread::scope(|scope| {
        // Dropped on every way out of this scope, which ends the workers.
        let to_workers = to_workers;
        for _ in 0..threads {
            let from_workers = from_workers.clone();
            let (blocks, worker) = (&blocks, &worker);
            scope.spawn(move || {
                let mut work = worker();
                loop {
                    let next = match blocks.lock() {
                        Ok(blocks) => blocks.recv(),
                        Err(_) => break,
                    };
                    let Ok((number, block)) = next else { break };
                    // A panic is handed on: its block would be waited for without end.
                    let result = catch_unwind(AssertUnwindSafe(|| work(block)));
                    if from_workers.send((number, result)).is_err() {
                        break;
                    }
                }
            });
        }
        drop(from_workers);
        let mut done: BTreeMap<usize, T> = BTreeMap::new();
        let (mut sent, mut taken, mut ended) = (0, 0, false);
        // Of the blocks that were sent and not taken.
        let mut sizes = VecDeque::new();
        while !ended || taken < sent {
            let has_room =
                sent - taken < threads * AHEAD && sizes.iter().sum::<usize>() < BYTES_UNDER_WAY;
            if !ended && has_room {
                match reader.next_block()? {
                    Some(block) => {
                        sizes.push_back(block.len());
                        to_workers.send((sent, block))?;
                        sent += 1;
                    }
                    None => ended = true,
                }
                continue;
            }
            let (number, result) = results.recv()?;
            let result = result.unwrap_or_else(|panic| resume_unwind(panic));
            done.insert(number, result?);
            while let Some(result) = done.remove(&taken) {
                taken += 1;
                sizes.pop_front();
                if take(result, progress)?.is_break() {
                    return Ok(());
                }
            }
        }
        Ok(())
    })
}

/// What progress is measured by.
pub trait Counted {
    /// Bytes read.
    fn bytes(&self) -> u64;
    /// Rows read.
    fn rows(&self) -> u64;
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cli::Verbosity;
    use metachron_table::{ReadOptions, Source, Table};

    impl Counted for () {
        fn bytes(&self) -> u64 {
            0
        }

        fn rows(&self) -> u64 {
            0
        }
    }

    /// A fault in one worker ends the run: the others do not wait for ever.
    #[test]
    #[should_panic(expected = "a fault")]
    fn a_panic_of_a_worker_ends_the_run() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("t.csv");
        std::fs::write(&path, "day\n2024-03-05\n").unwrap();
        let table = Table::open(vec![Source::file(&path).unwrap()], &ReadOptions::default());
        let table = table.unwrap();
        let mut reader = table.read().unwrap();
        let mut progress = Progress::new("testing", 1, Verbosity::Quiet);
        let worker = || |_: Block| -> anyhow::Result<()> { panic!("a fault") };
        let sink = |()| Ok(ControlFlow::Continue(()));
        let _ = run(&mut *reader, 3, &mut progress, worker, sink);
    }
}
