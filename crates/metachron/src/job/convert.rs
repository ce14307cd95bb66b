//! Converting: every row once, in order, its temporal cells typed.

use super::Job;
use super::converted::{Conversion, Converted, Tracked};
use super::deriving::Starts;
use super::pipeline::{self, Counted};
use super::progress::Progress;
use super::resolved::KEEP;
use super::worker::Worker;
use metachron_core::phrase::{Asks, Track, Value};
use metachron_core::rulings::Rulings;
use metachron_table::Block;
use std::collections::HashMap;

impl Job<'_> {
    /// The name of the column at `place`: derived ones stand behind those of
    /// the table, and what tells whether a row is kept behind all.
    pub fn column_name<'n>(&'n self, place: usize, rulings: &'n Rulings) -> &'n str {
        let columns = self.table.columns();
        match columns.get(place) {
            Some(name) => name,
            None => match rulings.derive.get(place - columns.len()) {
                Some(derive) => &derive.name,
                None => KEEP,
            },
        }
    }

    /// Converts the table and hands block after block to `sink`.
    pub fn convert(
        &self,
        conversion: &Conversion<'_>,
        sink: impl FnMut(Converted) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let mut worker = Worker::new(self, conversion)?;
        match conversion.derivations.asks() {
            Asks::NoOthers => {}
            Asks::First => worker.set_starts(self.first(&worker)?),
            Asks::All => worker.set_starts(self.starts(&worker)?),
        }
        self.work("converting", &worker, Worker::convert, sink)
    }

    /// What the first rows say: these are the same at the start of every block,
    /// as rows before them have no value.
    fn first(&self, worker: &Worker<'_>) -> anyhow::Result<Starts> {
        let mut worker = worker.clone();
        let mut others: Vec<Track> = Vec::new();
        let files = self.file_names();
        let mut reader = self.table.read()?;
        while let Some(block) = reader.next_block()? {
            let tracked = worker.track(&block, files[block.source()])?;
            others.resize(tracked.tracks.len(), Track::default());
            for (track, more) in others.iter_mut().zip(&tracked.tracks) {
                track.append(more);
            }
            if others.iter().all(|track| track.first != Value::Blank) {
                break;
            }
        }
        Ok(Starts {
            others,
            ..Starts::default()
        })
    }

    /// What other rows say at the start of each block: found by going through
    /// all of them once before.
    fn starts(&self, worker: &Worker<'_>) -> anyhow::Result<Starts> {
        let mut blocks = HashMap::new();
        let mut so_far: Option<Vec<Track>> = None;
        let doing = "looking at all rows";
        self.work(doing, worker, Worker::track, |tracked: Tracked| {
            let so_far = so_far.get_or_insert_with(|| vec![Track::default(); tracked.tracks.len()]);
            blocks.insert((tracked.source, tracked.line), so_far.clone());
            for (track, more) in so_far.iter_mut().zip(&tracked.tracks) {
                track.append(more);
            }
            Ok(())
        })?;
        for tracks in blocks.values_mut() {
            for (track, all) in tracks.iter_mut().zip(so_far.iter().flatten()) {
                track.earliest = all.earliest.clone();
            }
        }
        Ok(Starts {
            blocks,
            ..Starts::default()
        })
    }

    /// Puts the blocks of the table through clones of `worker`.
    fn work<'w, T: Counted + Send>(
        &self,
        doing: &'static str,
        worker: &Worker<'w>,
        act: fn(&mut Worker<'w>, &Block, &str) -> anyhow::Result<T>,
        sink: impl FnMut(T) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let files = self.file_names();
        let mut reader = self.table.read()?;
        let mut progress = Progress::new(doing, self.table.size(), self.talk);
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut worker = worker.clone();
                let files = &files;
                move |block: Block| act(&mut worker, &block, files[block.source()])
            },
            sink,
        )
    }
}
