//! The pass that finds what derived columns ask of other rows: the first
//! value of a column, its earliest, the one before.

use super::convert_worker::ConvertWorker;
use super::rows::BlockStart;
use super::starts::Starts;
use crate::phrase::{RowScope, Track, Value};
use std::collections::HashMap;
use std::sync::Arc;

/// The pass over the columns that derived ones ask of other rows.
#[derive(Debug)]
pub(super) struct TrackPass {
    pub worker: Box<ConvertWorker>,
    pub row_scope: RowScope,
}

/// What the rows so far say.
#[derive(Debug)]
pub(super) struct TrackWhole {
    row_scope: RowScope,
    so_far: Vec<Track>,
    blocks: HashMap<BlockStart, Vec<Track>>,
}

impl TrackPass {
    pub fn start(&self) -> TrackWhole {
        TrackWhole {
            row_scope: self.row_scope,
            so_far: Vec::new(),
            blocks: HashMap::new(),
        }
    }

    pub fn worker(&self) -> Box<ConvertWorker> {
        self.worker.clone()
    }
}

impl TrackWhole {
    pub fn add(&mut self, at: BlockStart, tracks: Vec<Track>) {
        self.so_far.resize(tracks.len(), Track::default());
        if self.row_scope == RowScope::All {
            self.blocks.insert(at, self.so_far.clone());
        }
        for (track, more) in self.so_far.iter_mut().zip(&tracks) {
            track.append(more);
        }
    }

    /// Whether the first value of each column is known, and no more is asked
    /// for.
    pub fn is_complete(&self) -> bool {
        let is_known = |track: &Track| track.first != Value::Blank;
        self.row_scope == RowScope::First
            && !self.so_far.is_empty()
            && self.so_far.iter().all(is_known)
    }

    /// What other rows say at the start of each block. The first rows say the
    /// same at the start of every block, as rows before them have no value.
    pub fn into_starts(mut self) -> Arc<Starts> {
        for tracks in self.blocks.values_mut() {
            for (track, all) in tracks.iter_mut().zip(&self.so_far) {
                track.earliest.clone_from(&all.earliest);
            }
        }
        let others = if self.row_scope == RowScope::First {
            self.so_far
        } else {
            Vec::new()
        };
        Arc::new(Starts::new(self.blocks, others))
    }
}
