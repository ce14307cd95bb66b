//! What a workbook may take, and what is left of it.

use metachron_core::words;

/// What may be held of a small workbook, in bytes: with what the program takes itself,
/// 256 MiB.
const MEMORY: u64 = 224 << 20;

/// What all parts of a small workbook may unpack to, in bytes: as much takes some
/// seconds.
const UNPACKED: u64 = 1 << 30;

/// A workbook of no more bytes is small.
const SMALL: u64 = 10_000_000;

/// So many times what a file has beyond that may be held as well: a cell of OpenDocument
/// takes five bytes of the file and 120 of memory.
const MEMORY_TIMES: u64 = 40;

/// So many times its size, a file may unpack to: sheets of numbers that repeat themselves
/// make 20 of one.
const UNPACKED_TIMES: u64 = 50;

/// The longest text of a cell, and the longest piece of any part, in bytes. A cell
/// holds 32,767 characters (ECMA-376 part 1 §18.4.8 has no limit; programs have).
pub(super) const LONGEST_PIECE: u64 = 16 << 20;

/// What an element of a list takes, besides its text: three words and the bookkeeping
/// of the memory that they lead to.
pub(super) const TEXT: u64 = 40;

/// What a cell of a sheet that is held takes: its value, and its formula.
pub(super) const CELL: u64 = 56;

/// What a workbook may take.
#[derive(Clone, Copy, Debug)]
pub struct Budget {
    /// To be held in memory, in bytes.
    pub memory: u64,
    /// To be unpacked, in bytes.
    pub unpacked: u64,
}

impl Budget {
    /// For a file of so many bytes.
    pub fn of(size: u64) -> Budget {
        Budget {
            memory: MEMORY.saturating_add(size.saturating_sub(SMALL).saturating_mul(MEMORY_TIMES)),
            unpacked: UNPACKED.max(size.saturating_mul(UNPACKED_TIMES)),
        }
    }
}

/// What is too much about a part.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Excess {
    /// What it states takes more memory.
    Memory,
    /// It unpacks to more.
    Unpacked,
    /// A cell, or a tag, is longer.
    Piece,
}

impl Excess {
    /// That it is, in words.
    pub fn sentence(self, budget: &Budget) -> String {
        let mebibytes = |bytes: u64| words::number(bytes >> 20);
        match self {
            Excess::Memory => format!(
                "what it states would take more than the {} MiB that may be held of a workbook \
                 of this size",
                mebibytes(budget.memory)
            ),
            Excess::Unpacked => format!(
                "with the parts before it, it unpacks to more than {} MiB",
                mebibytes(budget.unpacked)
            ),
            Excess::Piece => format!(
                "it has a cell or a tag of more than {} MiB",
                mebibytes(LONGEST_PIECE)
            ),
        }
    }
}

/// What is held of a part: of all of it, and of the piece that streams by now.
pub struct Held<'l> {
    left: &'l mut u64,
    piece: u64,
}

impl Held<'_> {
    /// Nothing yet, of what is `left` for all parts.
    pub fn of(left: &mut u64) -> Held<'_> {
        Held { left, piece: 0 }
    }

    /// Holds so many bytes more.
    pub fn take(&mut self, bytes: u64) -> Result<(), Excess> {
        *self.left = self.left.checked_sub(bytes).ok_or(Excess::Memory)?;
        Ok(())
    }

    /// Another piece starts.
    pub fn start_piece(&mut self) {
        self.piece = 0;
    }

    /// The piece goes on for so many bytes.
    pub fn lengthen_piece(&mut self, bytes: u64) -> Result<(), Excess> {
        self.piece = self.piece.saturating_add(bytes);
        if self.piece > LONGEST_PIECE {
            Err(Excess::Piece)
        } else {
            Ok(())
        }
    }
}
