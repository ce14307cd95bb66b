//! The cells of a sheet of XLSX, and the lists of a workbook.

use super::budget::{Excess, Held, TEXT};
use super::xml_scan::{Sink, local_name, number_of};

/// What a formula takes that several cells share.
const SHARED_FORMULA: u64 = 96;

/// The cells of a sheet of XLSX, which are held one at a time, and any other part: of
/// what is no cell, each piece is.
pub struct Cells<'l> {
    held: Held<'l>,
    /// Whether it is a sheet, or says what a sheet is related to: its links, say.
    is_of_sheet: bool,
    is_in_cell: bool,
    formulas: u64,
}

impl Cells<'_> {
    pub fn new(left: &mut u64, is_of_sheet: bool) -> Cells<'_> {
        Cells {
            held: Held::of(left),
            is_of_sheet,
            is_in_cell: false,
            formulas: 0,
        }
    }
}

impl Sink for Cells<'_> {
    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
        match local_name(tag) {
            (b"c", opens) => {
                self.is_in_cell = opens && !tag.ends_with(b"/");
                self.held.start_piece();
            }
            (b"f", true) => {
                // Room is made for all formulas before the one with this number.
                let number = number_of(tag, "si").map_or(0, |number| number.saturating_add(1));
                let more = number.saturating_sub(self.formulas);
                self.held.take(more.saturating_mul(SHARED_FORMULA))?;
                self.formulas = self.formulas.max(number);
            }
            // What a workbook, its styles and its relations list is held.
            (b"sheet" | b"xf" | b"numFmt" | b"Relationship" | b"definedName", true)
                if !self.is_of_sheet =>
            {
                self.held.take(2 * tag.len() as u64 + TEXT)?;
            }
            _ if !self.is_in_cell => self.held.start_piece(),
            _ => {}
        }
        Ok(())
    }

    fn text(&mut self, bytes: usize) -> Result<(), Excess> {
        self.held.lengthen_piece(bytes as u64)
    }
}
