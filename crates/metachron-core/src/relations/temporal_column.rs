//! What the cells of a temporal column are, as the sources of evidence ask for it:
//! worked out once for each text that the column repeats.

use super::compared_columns::ComparedColumns;
use crate::cache::Memo;
use crate::decide::{OwnReading, day_of};
use crate::lex::Key;
use crate::stamp::Stamp;

/// At most twice so many texts are remembered of a column: the days of twenty years,
/// in two orders.
const MOST_SLOTS: usize = 8192;

/// What all columns of a table may take to remember texts, in bytes.
const MEMORY: usize = 4 << 20;

/// A temporal column, at the cell of one row.
#[derive(Debug)]
pub struct TemporalColumn {
    number: usize,
    cells: Memo<Key, TemporalCell>,
    /// Which of them the row has.
    current: usize,
}

/// A temporal cell.
#[derive(Debug)]
pub(super) struct TemporalCell {
    /// What it is by itself.
    pub own: OwnReading,
    /// Its stamp, where it has one by itself or its column's own cells settled which.
    pub settled: Option<Stamp>,
    /// The day of that.
    pub settled_day: Option<i32>,
    /// The days of its readings, where it has several.
    pub days: Vec<Option<i32>>,
}

impl TemporalColumn {
    /// The temporal columns among those compared.
    pub fn all(compared: &ComparedColumns) -> Vec<TemporalColumn> {
        let count = compared.temporal.len();
        let column = |number| TemporalColumn {
            number,
            cells: Memo::new(MOST_SLOTS, MEMORY / count.max(1)),
            current: 0,
        };
        (0..count).map(column).collect()
    }

    /// Goes to a cell of the text `key`, if that says all about it.
    pub(crate) fn go_to(
        &mut self,
        compared: &ComparedColumns,
        key: Option<Key>,
        read: impl FnOnce() -> OwnReading,
    ) {
        let known = key.and_then(|key| self.cells.find(&key));
        self.current = known.unwrap_or_else(|| {
            let cell = TemporalCell::new(read(), self.number, compared);
            self.cells.put(key, cell)
        });
    }

    /// Goes to a cell that is `own` by itself.
    pub fn go_to_cell(&mut self, compared: &ComparedColumns, own: OwnReading) {
        self.go_to(compared, None, || own);
    }

    pub(super) fn cell(&self) -> &TemporalCell {
        self.cells.at(self.current)
    }
}

impl TemporalCell {
    fn new(own: OwnReading, number: usize, compared: &ComparedColumns) -> TemporalCell {
        let settled = match &own {
            OwnReading::Nothing(_) => None,
            OwnReading::One { stamp, .. } => Some(*stamp),
            OwnReading::Several(several) => (several.form)
                .and_then(|form| compared.own_hypothesis(number, form))
                .and_then(|hypothesis| several.by(hypothesis)),
        };
        let days = match &own {
            OwnReading::Several(several) => several.stamps.iter().copied().map(day_of).collect(),
            OwnReading::Nothing(_) | OwnReading::One { .. } => Vec::new(),
        };
        TemporalCell {
            settled_day: settled.and_then(day_of),
            own,
            settled,
            days,
        }
    }
}
