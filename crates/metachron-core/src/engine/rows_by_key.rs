//! Rows that stand in time order once they are sorted by another column.

use super::neighbour_choices::NeighbourChoices;
use crate::decide::{CellInTime, NeighbourResolver, RowKey};
use crate::rulings::TimeOrder;
use std::collections::VecDeque;

/// At most so many rows are sorted, which are held in memory: of a longer table, the
/// cells that they would decide stay open.
const MOST_ROWS: usize = 1 << 22;

/// The cells of a column with what their rows are sorted by.
#[derive(Debug, Default)]
pub(super) struct RowsByKey {
    rows: Vec<KeyedRow>,
    were_more: bool,
}

#[derive(Debug)]
struct KeyedRow {
    key: RowKey,
    cell: CellInTime,
    /// The cell's number among the open ones, if it is one of them.
    number: usize,
}

impl RowsByKey {
    /// Takes a cell in; `number` is that of the next open cell.
    pub fn add(&mut self, key: Option<RowKey>, cell: CellInTime, number: usize) {
        let Some(key) = key.filter(|_| !self.were_more) else {
            return;
        };
        if self.rows.len() == MOST_ROWS {
            self.were_more = true;
            self.rows = Vec::new();
        } else {
            self.rows.push(KeyedRow { key, cell, number });
        }
    }

    /// Puts what the neighbours of the open cells leave of them into `choices`.
    pub fn choose(mut self, order: TimeOrder, choices: &mut NeighbourChoices) {
        self.rows.sort_by(|one, other| one.key.cmp(&other.key));
        let mut resolver = NeighbourResolver::new(order);
        let mut waiting = VecDeque::new();
        let mut put = |waiting: &mut VecDeque<usize>, choice: Option<usize>| {
            if let Some(number) = waiting.pop_front() {
                choices.set(number, choice);
            }
        };
        let mut rows = self.rows.into_iter().peekable();
        let mut last = None;
        while let Some(KeyedRow { key, cell, number }) = rows.next() {
            // Nobody knows which of two rows with one number is the first.
            let is_twice =
                last.as_ref() == Some(&key) || rows.peek().is_some_and(|next| next.key == key);
            last = Some(key);
            if matches!(cell, CellInTime::Several(_)) {
                if is_twice {
                    continue;
                }
                waiting.push_back(number);
            }
            resolver.take(cell, |_, choice| put(&mut waiting, choice));
        }
        resolver.finish(|_, choice| put(&mut waiting, choice));
    }
}
