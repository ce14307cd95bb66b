//! What other rows say of tracked columns at the start of each block.

use super::rows::BlockStart;
use crate::phrase::Track;
use std::collections::HashMap;

/// What other rows say at the start of each block.
#[derive(Debug, Default)]
pub(super) struct Starts {
    blocks: HashMap<BlockStart, Vec<Track>>,
    /// What they say at the start of all others.
    others: Vec<Track>,
}

impl Starts {
    pub fn new(blocks: HashMap<BlockStart, Vec<Track>>, others: Vec<Track>) -> Starts {
        Starts { blocks, others }
    }

    pub fn at(&self, start: BlockStart) -> Option<&[Track]> {
        let tracks = self.blocks.get(&start).unwrap_or(&self.others);
        (!tracks.is_empty()).then_some(tracks)
    }
}
