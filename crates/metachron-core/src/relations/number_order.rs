//! Level 5: numbers that rise with time, such as those of tickets and bills.
//!
//! Rows in any order stand in time order once they are sorted by such a number: then
//! it is as if they stood so from the first.

use super::compared_columns::ComparedColumns;
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use super::time_order::RowOrder;
use crate::decide::{OwnReading, RowKey, is_before};
use crate::stamp::Stamp;
use indexmap::IndexMap;
use std::any::Any;

/// So many rows are sorted at most: the first ones, which show whether a number rises
/// with time as well as all.
const MOST_ROWS: usize = 1 << 16;

/// A number no longer comes into question once so many known rows, one behind the
/// other, differ in what is later …
const MOST_DIFFERING: u64 = 10;

/// … which are more than one in so many of those that agree.
const DIFFERING_ONE_IN: u64 = 10;

/// A column's cells, sorted by the numbers of others.
#[derive(Debug)]
pub(super) struct NumberOrder {
    /// The index of the column.
    index: usize,
    /// By the index of the column of numbers.
    columns: IndexMap<usize, Numbers>,
    /// Those that put the rows in time order, once no row follows.
    sorted: Vec<RowOrder>,
}

/// The rows with the numbers of a column.
#[derive(Debug, Default)]
struct Numbers {
    rows: Vec<NumberedRow>,
    last_known: Option<(RowKey, Stamp)>,
    agree: u64,
    differ: u64,
}

#[derive(Debug)]
struct NumberedRow {
    key: RowKey,
    own: OwnReading,
    text: String,
}

impl NumberOrder {
    /// Of the column at `index`.
    pub fn new(compared: &ComparedColumns, index: usize) -> NumberOrder {
        NumberOrder::with(index, compared.near(index).into_iter())
    }

    fn with(index: usize, others: impl Iterator<Item = usize>) -> NumberOrder {
        NumberOrder {
            index,
            columns: others.map(|other| (other, Numbers::default())).collect(),
            sorted: Vec::new(),
        }
    }
}

impl Numbers {
    fn add(&mut self, key: RowKey, own: &OwnReading, text: &str) {
        if let OwnReading::One { stamp, .. } = own
            && let Some((last, known)) = self.last_known.replace((key.clone(), *stamp))
        {
            let is_later = is_before(known, *stamp);
            if is_later || is_before(*stamp, known) {
                *if is_later == (last < key) {
                    &mut self.agree
                } else {
                    &mut self.differ
                } += 1;
            }
        }
        if self.rows.len() < MOST_ROWS {
            self.rows.push(NumberedRow {
                key,
                own: own.clone(),
                text: text.to_owned(),
            });
        }
    }

    /// Whether the number neither rises nor falls with time.
    fn is_out(&self) -> bool {
        let fewer = self.agree.min(self.differ);
        fewer > MOST_DIFFERING && fewer * DIFFERING_ONE_IN > self.agree.max(self.differ)
    }
}

/// The rows, sorted; none where two have one number, or they stand sorted already.
fn sorted(mut rows: Vec<NumberedRow>) -> Option<Vec<NumberedRow>> {
    let rises = |rows: &[NumberedRow]| rows.windows(2).all(|pair| pair[0].key < pair[1].key);
    let falls = rows.windows(2).all(|pair| pair[0].key > pair[1].key);
    if rises(&rows) || falls {
        return None;
    }
    rows.sort_by(|one, other| one.key.cmp(&other.key));
    rises(&rows).then_some(rows)
}

impl EvidenceSource for NumberOrder {
    fn observe(&mut self, row: &Observed<'_>) {
        let own = row.own();
        if matches!(own, OwnReading::Nothing(_)) {
            return;
        }
        self.columns.retain(|&other, numbers| {
            let text = &row.texts[other];
            if text.trim().is_empty() {
                return true;
            }
            let Some(key) = RowKey::of_cell(text) else {
                return false;
            };
            numbers.add(key, own, &row.texts[self.index]);
            !numbers.is_out()
        });
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let mut later = same_type::<NumberOrder>(later).columns;
        self.columns.retain(|other, numbers| {
            let Some(more) = later.swap_remove(other) else {
                return false;
            };
            let room = MOST_ROWS.saturating_sub(numbers.rows.len());
            numbers.rows.extend(more.rows.into_iter().take(room));
            numbers.agree += more.agree;
            numbers.differ += more.differ;
            !numbers.is_out()
        });
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(NumberOrder::with(self.index, self.columns.keys().copied()))
    }

    fn wants_text(&self, index: usize) -> bool {
        index == self.index && !self.columns.is_empty() || self.columns.contains_key(&index)
    }

    fn is_out(&self) -> bool {
        self.columns.is_empty()
    }

    fn finish(&mut self) {
        for (other, numbers) in std::mem::take(&mut self.columns) {
            if let Some(rows) = sorted(numbers.rows) {
                let mut order = RowOrder::sorted_by(self.index, other);
                for row in rows {
                    order.add(&row.own, &row.text);
                }
                order.finish();
                self.sorted.push(order);
            }
        }
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let sorted = self.sorted.iter();
        sorted.flat_map(|order| order.conclude(question)).collect()
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        // Any number is none that rises with time: that is not worth a line each.
        let holds = |order: &&RowOrder| !order.conclude(question).is_empty();
        let sorted = self.sorted.iter().filter(holds);
        sorted.flat_map(|order| order.attempts(question)).collect()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
