//! Blocks of a table through threads, results in order.

use super::Job;
use super::around::file_name;
use super::progress::Progress;
use metachron_table::{Block, Row, TableReader};
use std::collections::BTreeMap;
use std::sync::{Mutex, mpsc};
use std::thread;

/// Blocks under way for each thread: enough that none waits, few enough that
/// memory stays small.
const AHEAD: usize = 2;

/// Puts every block of `reader` through a worker and hands the results to
/// `sink` in the order of the blocks, whatever the number of threads.
/// `worker` makes a worker, one for each thread.
pub fn run<T, W>(
    reader: &mut dyn TableReader,
    threads: usize,
    progress: &mut Progress,
    worker: impl Fn() -> W + Sync,
    mut sink: impl FnMut(T) -> anyhow::Result<()>,
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
            take(work(block)?, progress)?;
        }
        return Ok(());
    }
    let (to_workers, blocks) = mpsc::channel::<(usize, Block)>();
    let (from_workers, results) = mpsc::channel::<(usize, anyhow::Result<T>)>();
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
                    if from_workers.send((number, work(block))).is_err() {
                        break;
                    }
                }
            });
        }
        drop(from_workers);
        let mut done: BTreeMap<usize, T> = BTreeMap::new();
        let (mut sent, mut taken, mut ended) = (0, 0, false);
        while !ended || taken < sent {
            if !ended && sent - taken < threads * AHEAD {
                match reader.next_block()? {
                    Some(block) => {
                        to_workers.send((sent, block))?;
                        sent += 1;
                    }
                    None => ended = true,
                }
                continue;
            }
            let (number, result) = results.recv()?;
            done.insert(number, result?);
            while let Some(result) = done.remove(&taken) {
                taken += 1;
                take(result, progress)?;
            }
        }
        Ok(())
    })
}

/// What came out of one block.
pub struct Part<T> {
    /// What came out.
    pub value: T,
    /// Which file the block is from.
    pub source: usize,
    /// How many rows it has.
    pub rows: u64,
    bytes: u64,
}

impl<T> Counted for Part<T> {
    fn bytes(&self) -> u64 {
        self.bytes
    }

    fn rows(&self) -> u64 {
        self.rows
    }
}

impl Job<'_> {
    /// The names of the table's files, by their number.
    pub(super) fn file_names(&self) -> Vec<&str> {
        let sources = self.table.sources();
        sources.map(|source| file_name(source.name())).collect()
    }

    /// Puts every block of the table through a worker, which is given the name
    /// of its file too and hands back how many rows it has, and what came out.
    pub(super) fn each_block<T, W>(
        &self,
        doing: &'static str,
        worker: impl Fn() -> W + Sync,
        sink: impl FnMut(Part<T>) -> anyhow::Result<()>,
    ) -> anyhow::Result<()>
    where
        T: Send,
        W: FnMut(&Block, &str) -> anyhow::Result<(u64, T)>,
    {
        let files = self.file_names();
        let mut reader = self.table.read()?;
        let mut progress = Progress::new(doing, self.table.size(), self.talk);
        run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut work = worker();
                let files = &files;
                move |block: Block| {
                    let (rows, value) = work(&block, files[block.source()])?;
                    Ok(Part {
                        value,
                        rows,
                        source: block.source(),
                        bytes: block.len() as u64,
                    })
                }
            },
            sink,
        )
    }
}

/// Hands every row of `block` that is one to `act`, with its number from 0;
/// says how many there are. A line with nothing on it is a row only where rows
/// have one cell.
pub fn rows(
    block: &Block,
    width: usize,
    mut act: impl FnMut(&Row<'_>, u64),
) -> anyhow::Result<u64> {
    let mut rows = block.rows()?;
    let mut number = 0;
    while let Some(row) = rows.next_row() {
        if row.is_empty() && width > 1 {
            continue;
        }
        act(&row, number);
        number += 1;
    }
    Ok(number)
}

/// What progress is measured by.
pub trait Counted {
    /// Bytes read.
    fn bytes(&self) -> u64;
    /// Rows read.
    fn rows(&self) -> u64;
}
