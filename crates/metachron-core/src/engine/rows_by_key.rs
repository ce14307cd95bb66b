//! Rows that stand in time order once they are sorted by another column.

use super::neighbour_choices::NeighbourChoices;
use super::neighbours::NeighbourCell;
use crate::decide::{NeighbourResolver, RowKey};
use crate::rulings::TimeOrder;
use std::collections::VecDeque;

/// At most so many rows are sorted, which are held in memory: of a longer table, the
/// cells that they would decide stay open.
const MOST_ROWS: usize = 1 << 22;

/// The cells of a column with what their rows are sorted by.
#[derive(Debug, Default)]
pub(super) struct RowsByKey {
    rows: Vec<(RowKey, KeyedCell)>,
    were_more: bool,
}

/// A cell, and its number among the open ones if it is one of them.
#[derive(Debug)]
struct KeyedCell {
    cell: NeighbourCell,
    number: usize,
}

impl RowsByKey {
    /// Takes a cell in; `number` is that of the next open cell.
    pub fn add(&mut self, key: Option<RowKey>, cell: NeighbourCell, number: usize) {
        let Some(key) = key.filter(|_| !self.were_more) else {
            return;
        };
        if self.rows.len() == MOST_ROWS {
            self.were_more = true;
            self.rows = Vec::new();
        } else {
            self.rows.push((key, KeyedCell { cell, number }));
        }
    }

    /// Puts what the neighbours of the open cells leave of them into `choices`.
    pub fn choose(mut self, order: TimeOrder, choices: &mut NeighbourChoices) {
        self.rows.sort_by(|(one, _), (other, _)| one.cmp(other));
        let is_same = |one: usize, other: Option<usize>| {
            let other = other.and_then(|other| self.rows.get(other));
            other.is_some_and(|(key, _)| *key == self.rows[one].0)
        };
        // Nobody knows which of two rows with one number is the first.
        let rows = 0..self.rows.len();
        let alone =
            rows.map(|row| !is_same(row, row.checked_sub(1)) && !is_same(row, Some(row + 1)));
        let alone: Vec<bool> = alone.collect();
        let mut resolver = NeighbourResolver::new(order);
        let mut waiting = VecDeque::new();
        let mut put = |waiting: &mut VecDeque<usize>, choice: Option<usize>| {
            if let Some(number) = waiting.pop_front() {
                choices.set(number, choice);
            }
        };
        for ((_, KeyedCell { cell, number }), is_alone) in self.rows.into_iter().zip(alone) {
            match cell {
                NeighbourCell::Known(stamp) => {
                    resolver.known(stamp, |_, choice| put(&mut waiting, choice));
                }
                NeighbourCell::Several(several) if is_alone => {
                    waiting.push_back(number);
                    resolver.several(several);
                    resolver.shed(|_, choice| put(&mut waiting, choice));
                }
                NeighbourCell::Several(_) => {}
            }
        }
        resolver.finish(|_, choice| put(&mut waiting, choice));
    }
}
