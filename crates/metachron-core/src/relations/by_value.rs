//! What rows have, by the value of every other column that has few.

use indexmap::IndexMap;
use std::collections::HashMap;

/// A column with more different values than this is no group of rows.
const MOST_VALUES: usize = 64;

/// What the rows of each value of another column have, for each such column.
#[derive(Debug)]
pub(super) struct ByValue<T> {
    /// By the column's index; none where there are too many values.
    columns: IndexMap<usize, Option<HashMap<String, T>>>,
}

impl<T: Default> ByValue<T> {
    /// Of the columns at these indexes.
    pub fn new(indexes: impl IntoIterator<Item = usize>) -> ByValue<T> {
        let indexes = indexes.into_iter();
        ByValue {
            columns: indexes.map(|index| (index, Some(HashMap::new()))).collect(),
        }
    }

    /// Adds a row to those of its values: `add` is handed what they have, and the
    /// value. Rows without a value are of no group.
    pub fn observe(&mut self, texts: &[String], mut add: impl FnMut(&mut T, &str)) {
        for (&index, column) in &mut self.columns {
            let Some(values) = column.as_mut() else {
                continue;
            };
            let text = texts[index].trim();
            if text.is_empty() {
                continue;
            }
            if !values.contains_key(text) {
                if values.len() == MOST_VALUES {
                    *column = None;
                    continue;
                }
                values.insert(text.to_owned(), T::default());
            }
            if let Some(known) = values.get_mut(text) {
                add(known, text);
            }
        }
    }

    /// Puts what later rows have behind this.
    pub fn merge(&mut self, later: ByValue<T>, mut merge: impl FnMut(&mut T, T)) {
        for (column, more) in self.columns.values_mut().zip(later.columns.into_values()) {
            let (Some(values), Some(more)) = (column.as_mut(), more) else {
                *column = None;
                continue;
            };
            for (value, of_later) in more {
                merge(values.entry(value).or_default(), of_later);
            }
            if values.len() > MOST_VALUES {
                *column = None;
            }
        }
    }

    /// One of no rows, of the columns that still have few values.
    pub fn start_again(&self) -> ByValue<T> {
        let columns = self.columns.iter();
        let again = columns.map(|(index, own)| (*index, own.is_some().then(HashMap::new)));
        ByValue {
            columns: again.collect(),
        }
    }

    /// Whether the text of this column still matters.
    pub fn wants_text(&self, index: usize) -> bool {
        self.columns.get(&index).is_some_and(Option::is_some)
    }

    /// Whether no column has few values.
    pub fn is_out(&self) -> bool {
        self.columns.values().all(Option::is_none)
    }

    /// How many columns there are, whatever their values.
    pub fn len(&self) -> usize {
        self.columns.len()
    }

    /// The columns with few values, by their index.
    pub fn columns(&self) -> impl Iterator<Item = (usize, &HashMap<String, T>)> {
        let columns = self.columns.iter();
        columns.filter_map(|(index, values)| Some((*index, values.as_ref()?)))
    }
}
