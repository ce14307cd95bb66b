//! What was decided on a cell, small enough to be remembered.

use super::Verdict;
use crate::row::{OutCell, push_text};
use crate::rulings::StampRenderer;
use crate::stamp::Stamp;

/// Texts of up to this many bytes are remembered.
const LONGEST: usize = 30;

/// What was decided on a cell.
#[derive(Clone, Copy, Debug)]
pub(super) struct Known {
    pub(super) verdict: Verdict,
    pub(super) stamp: Option<Stamp>,
    /// The text of a clean cell that is no stamp.
    text: [u8; LONGEST],
    len: u8,
}

impl Known {
    pub(super) fn of(verdict: Verdict, stamp: Option<Stamp>, text: &[u8]) -> Option<Known> {
        let mut known = Known {
            verdict,
            stamp,
            text: [0; LONGEST],
            len: text.len() as u8,
        };
        known.text.get_mut(..text.len())?.copy_from_slice(text);
        Some(known)
    }

    /// The clean cell; a text is appended to `text`.
    pub(super) fn cell(&self, renderer: &mut StampRenderer, text: &mut Vec<u8>) -> OutCell {
        match self.stamp {
            None => OutCell::Blank,
            // It was written before, so that it can be.
            Some(stamp) if self.len == 0 => renderer.cell(&stamp, text).unwrap_or(OutCell::Blank),
            Some(_) => {
                let own = &self.text[..usize::from(self.len)];
                renderer.text_cell(push_text(text, |out| out.extend_from_slice(own)))
            }
        }
    }
}
