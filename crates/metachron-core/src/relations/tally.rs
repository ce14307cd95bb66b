//! Counting how open columns go with the others: a loop over the sources of
//! evidence.

use super::column_pairs::ColumnPairs;
use super::compared_columns::ComparedColumns;
use super::form_cells::FormCells;
use super::group::GroupCounts;
use super::observed::Observed;
use super::repeated_parts::RepeatedParts;
use super::source::EvidenceSource;
use super::time_order::RowOrder;
use crate::decide::OwnReading;

/// How the open columns of a table, or of a part of one, go with the others.
#[derive(Debug)]
pub struct Tally {
    /// The open columns, in the order of [`ComparedColumns::open`].
    pub columns: Vec<OpenColumn>,
}

/// How one open column goes with the others.
#[derive(Debug)]
pub struct OpenColumn {
    /// Its index among the columns.
    pub index: usize,
    pub(super) cells: FormCells,
    pub(super) sources: Vec<Box<dyn EvidenceSource>>,
}

impl Tally {
    /// A tally of no rows.
    pub fn new(compared: &ComparedColumns) -> Tally {
        let open = compared.open.iter();
        Tally {
            columns: open
                .map(|&open| OpenColumn::new(compared.temporal[open], compared))
                .collect(),
        }
    }

    /// Counts a row: `own_readings` are those of the temporal columns, `texts`
    /// the cells of all.
    pub fn row(
        &mut self,
        compared: &ComparedColumns,
        own_readings: &[OwnReading],
        texts: &[String],
    ) {
        for (column, &number) in self.columns.iter_mut().zip(&compared.open) {
            column.observe(&Observed {
                number,
                index: column.index,
                own_readings,
                texts,
            });
        }
    }

    /// Puts `later` behind this tally.
    pub fn merge(&mut self, later: Tally) {
        for (column, more) in self.columns.iter_mut().zip(later.columns) {
            column.merge(more);
        }
    }

    /// Arranges the rows counted so far, for what depends on their order. To be
    /// called on the tally of the table's first rows only, since what stands
    /// before them counts.
    pub fn arrange(&mut self) {
        let sources = self.columns.iter_mut().flat_map(|own| &mut own.sources);
        sources.for_each(|source| source.arrange());
    }

    /// Ends the tally: no row follows.
    pub fn finish(&mut self) {
        let sources = self.columns.iter_mut().flat_map(|own| &mut own.sources);
        sources.for_each(|source| source.finish());
    }
}

impl Tally {
    /// The pairs of columns that have to be counted by too, in another pass.
    pub fn pairs_to_compare(&self) -> Vec<(usize, usize)> {
        let mut pairs = Vec::new();
        for column in &self.columns {
            for source in &column.sources {
                for pair in source.pairs_to_compare(column.index, &column.cells) {
                    if !pairs.contains(&pair) {
                        pairs.push(pair);
                    }
                }
            }
        }
        pairs
    }
}

impl OpenColumn {
    fn new(index: usize, compared: &ComparedColumns) -> OpenColumn {
        OpenColumn {
            index,
            cells: FormCells::default(),
            sources: vec![
                Box::new(GroupCounts::new(compared)),
                Box::new(RowOrder::new()),
                Box::new(ColumnPairs::new(compared.temporal.len())),
                Box::new(RepeatedParts::new(compared.columns.len())),
            ],
        }
    }

    fn observe(&mut self, row: &Observed<'_>) {
        self.cells.observe(row);
        for source in &mut self.sources {
            source.observe(row);
        }
    }

    fn merge(&mut self, later: OpenColumn) {
        self.cells.merge(later.cells);
        for (source, more) in self.sources.iter_mut().zip(later.sources) {
            source.merge(more);
        }
    }
}
