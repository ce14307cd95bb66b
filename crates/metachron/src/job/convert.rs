//! Converting: every row once, in order, its temporal cells typed.

use super::Job;
use super::around::file_name;
use super::converted::{Conversion, Converted, Tracked};
use super::deriving::Starts;
use super::pipeline::{self, Counted};
use super::progress::Progress;
use super::resolved::KEEP;
use super::worker::Worker;
use metachron_core::phrase::Track;
use metachron_core::rulings::Rulings;
use metachron_table::Block;

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
        if conversion.derivations.tracks() > 0 {
            worker.set_starts(self.starts(&worker)?);
        }
        self.work("converting", &worker, Worker::convert, sink)
    }

    /// What other rows say at the start of each block: found by going through
    /// all of them once before.
    fn starts(&self, worker: &Worker<'_>) -> anyhow::Result<Starts> {
        let mut starts = Starts::new();
        let mut so_far: Option<Vec<Track>> = None;
        let doing = "looking at all rows";
        self.work(doing, worker, Worker::track, |tracked: Tracked| {
            let so_far = so_far.get_or_insert_with(|| vec![Track::default(); tracked.tracks.len()]);
            starts.insert((tracked.source, tracked.line), so_far.clone());
            for (track, more) in so_far.iter_mut().zip(&tracked.tracks) {
                track.append(more);
            }
            Ok(())
        })?;
        for tracks in starts.values_mut() {
            for (track, all) in tracks.iter_mut().zip(so_far.iter().flatten()) {
                track.earliest = all.earliest.clone();
            }
        }
        Ok(starts)
    }

    /// Puts the blocks of the table through clones of `worker`.
    fn work<'w, T: Counted + Send>(
        &self,
        doing: &'static str,
        worker: &Worker<'w>,
        act: fn(&mut Worker<'w>, &Block, &str) -> anyhow::Result<T>,
        sink: impl FnMut(T) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let files: Vec<&str> = self
            .table
            .sources()
            .map(|source| file_name(source.name()))
            .collect();
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
