//! Converting rows column by column: many cells of one column after the other cost less
//! than as many rows.

use super::convert_worker::ConvertWorker;
use super::rows::Page;
use crate::row::OutPage;

impl ConvertWorker {
    /// Converts the rows of a page, where each of them has the cells of the header and comes
    /// out with no others; `None` elsewhere: there, each has to be
    /// [converted by itself](ConvertWorker::row).
    pub fn page(&mut self, page: &impl Page) -> Option<OutPage<'_>> {
        let is_usual = !self.adds && self.deriver.is_none();
        if !is_usual || !page.is_text_of_width(self.width) {
            return None;
        }
        self.text.clear();
        let first = self.done.rows;
        let listed = self.done.review.len();
        for column in 0..self.deciders.len() {
            self.clean_columns[column].cells.clear();
            if self.deciders[column].needs_no_context() && self.answers.is_empty() {
                self.convert_texts(page, column, first);
            } else {
                self.convert_in_rows(page, column, first);
            }
        }
        self.done.rows = first + page.count() as u64;
        // As rows stand, and columns in them.
        self.done.review[listed..].sort_by_key(|entry| entry.row);
        Some(OutPage {
            columns: &self.clean_columns,
            text: &self.text,
        })
    }

    /// Converts cells whose own text says all about them.
    fn convert_texts(&mut self, page: &impl Page, column: usize, first: u64) {
        let decider = &mut self.deciders[column];
        let (counts, text) = (&mut self.done.counts[column], &mut self.text);
        let (own, cells) = (&mut decider.decider, &mut self.clean_columns[column].cells);
        let mut waiting = Vec::new();
        page.texts(decider.index, &mut self.scratch, |raw| {
            let (verdict, cell) = own.convert(raw, text);
            counts.add(verdict, 1);
            if verdict.needs_review() {
                waiting.push(cells.len());
            }
            cells.push(cell);
        });
        let mut rows = page.rows().enumerate();
        for number in waiting {
            if let Some((_, row)) = rows.find(|(at, _)| *at == number) {
                self.done.rows = first + number as u64;
                self.list(&row, column);
            }
        }
    }

    /// Converts cells that other cells of their rows, or answers, say something about.
    fn convert_in_rows(&mut self, page: &impl Page, column: usize, first: u64) {
        for (number, row) in (first..).zip(page.rows()) {
            self.done.rows = number;
            let (verdict, cell) = self.decide(&row, column);
            self.done.counts[column].add(verdict, 1);
            self.clean_columns[column].cells.push(cell);
        }
    }
}
