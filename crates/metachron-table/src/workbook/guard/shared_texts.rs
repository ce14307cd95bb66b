//! The texts that cells of XLSX share.

use super::budget::{Excess, Held, TEXT};
use super::xml_scan::{Sink, local_name, number_of};

/// The texts that cells of XLSX share, which are all held.
pub struct SharedTexts<'l> {
    held: Held<'l>,
    declared: u64,
    texts: u64,
}

impl SharedTexts<'_> {
    pub fn new(left: &mut u64) -> SharedTexts<'_> {
        SharedTexts {
            held: Held::of(left),
            declared: 0,
            texts: 0,
        }
    }
}

impl Sink for SharedTexts<'_> {
    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
        match local_name(tag) {
            (b"si", true) => {
                self.held.start_piece();
                self.texts += 1;
                if self.texts > self.declared {
                    self.held.take(TEXT)?;
                }
            }
            (b"sst", true) => {
                let declared = number_of(tag, "uniqueCount").unwrap_or(0);
                self.held.take(declared.saturating_mul(TEXT))?;
                self.declared = declared;
            }
            _ => {}
        }
        Ok(())
    }

    fn text(&mut self, bytes: usize) -> Result<(), Excess> {
        self.held.lengthen_piece(bytes as u64)?;
        self.held.take(bytes as u64)
    }
}
