//! What the neighbours of open cells leave of their readings.

use super::rows::BlockStart;
use std::collections::HashMap;

/// Which readings of the open cells of a column their neighbours leave, in
/// the order of the rows: a byte each, so that a table of any length has
/// room.
#[derive(Debug, Default)]
pub(super) struct NeighbourChoices {
    choices: Vec<u8>,
    /// The first choice of each block.
    starts: HashMap<BlockStart, usize>,
}

/// No reading, or none alone, fits.
const NONE: u8 = u8::MAX;

impl NeighbourChoices {
    /// The number of the first choice of a block.
    pub fn start(&self, at: BlockStart) -> usize {
        self.starts.get(&at).copied().unwrap_or(0)
    }

    pub fn set_start(&mut self, at: BlockStart, number: usize) {
        self.starts.insert(at, number);
    }

    /// The reading that is left for open cell `number`.
    pub fn choice(&self, number: usize) -> Option<u8> {
        let choice = self.choices.get(number).copied()?;
        (choice != NONE).then_some(choice)
    }

    pub fn push(&mut self, choice: Option<usize>) {
        self.choices.push(packed(choice));
    }

    /// Puts in what is left for open cell `number`, which was pushed before.
    pub fn set(&mut self, number: usize, choice: Option<usize>) {
        self.choices[number] = packed(choice);
    }
}

fn packed(choice: Option<usize>) -> u8 {
    let choice = choice.and_then(|choice| u8::try_from(choice).ok());
    choice.unwrap_or(NONE)
}
