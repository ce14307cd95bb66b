//! A review list that a person has filled in: a table like any other, whatever saved it.

use metachron_core::rulings::HeaderLine;
use metachron_table::{ReadOptions, Source, Table, TableError};
use std::ops::ControlFlow;

/// The columns of a review list.
pub const REVIEW_COLUMNS: [&str; 9] = [
    "file", "row", "line", "column", "raw", "verdict", "reason", "readings", "resolved",
];

/// Those of them that say which cell is answered, and how.
const ANSWER_COLUMNS: [&str; 5] = ["file", "line", "column", "raw", "resolved"];

/// A list, opened.
pub struct ReviewList {
    table: Table,
    /// Where the columns of an answer stand.
    indexes: [usize; ANSWER_COLUMNS.len()],
}

/// A line of a list whose column `resolved` is filled in.
pub struct Answer<'r> {
    /// The line of the list.
    pub at: u64,
    pub file: &'r str,
    pub line: &'r str,
    pub column: &'r str,
    pub raw: &'r str,
    pub resolved: &'r str,
}

/// Why a file is no review list.
#[derive(Debug, thiserror::Error)]
pub enum NoReviewList {
    #[error(transparent)]
    Table(#[from] TableError),
    #[error(
        "{file} has no column `{column}`; it must be a review list, as convert writes it, with its \
         column `resolved` filled in"
    )]
    NoColumn { file: String, column: &'static str },
}

impl ReviewList {
    /// The list in `source`: a text with whichever of the usual delimiters, or a workbook.
    pub fn open(source: Source) -> Result<ReviewList, NoReviewList> {
        let file = source.name().to_owned();
        let mut first = None;
        // What is in cells may look like a delimiter; that of the header is right.
        for delimiter in [None, Some(b','), Some(b';'), Some(b'\t')] {
            let options = ReadOptions {
                delimiter,
                header_line: Some(HeaderLine::Line(1)),
                ..ReadOptions::default()
            };
            let opened = open_as(source.clone(), &options);
            match opened {
                Ok(list) => return Ok(list),
                Err(error) => first = first.or(Some(error)),
            }
        }
        Err(first.unwrap_or(NoReviewList::NoColumn {
            file,
            column: ANSWER_COLUMNS[0],
        }))
    }

    /// Whether its columns are those that `convert` writes.
    pub fn is_as_written(&self) -> bool {
        self.table.columns() == REVIEW_COLUMNS
    }

    /// Calls `act` with each answer, until it says to stop.
    pub fn for_each_answer<B>(
        &self,
        mut act: impl FnMut(Answer<'_>) -> ControlFlow<B>,
    ) -> Result<ControlFlow<B>, TableError> {
        let mut reader = self.table.read()?;
        let mut texts: [String; ANSWER_COLUMNS.len()] = Default::default();
        while let Some(block) = reader.next_block()? {
            let mut rows = block.rows()?;
            while let Some(row) = rows.next_row() {
                let at = row.line();
                let mut cells = texts.iter_mut().zip(self.indexes);
                let [file, line, column, raw, resolved] = std::array::from_fn(|_| {
                    let (scratch, index) = cells.next()?;
                    (index < row.len()).then(|| row.text(index, scratch))
                })
                .map(|text: Option<&str>| text.unwrap_or(""));
                let resolved = resolved.trim();
                let answer = Answer {
                    at,
                    file,
                    line,
                    column,
                    raw,
                    resolved,
                };
                if !resolved.is_empty()
                    && let ControlFlow::Break(stop) = act(answer)
                {
                    return Ok(ControlFlow::Break(stop));
                }
            }
        }
        Ok(ControlFlow::Continue(()))
    }
}

fn open_as(source: Source, options: &ReadOptions) -> Result<ReviewList, NoReviewList> {
    let file = source.name().to_owned();
    let mut table = Table::open(vec![source], options)?;
    table.make_encodings_sure(options)?;
    let mut indexes = [0; ANSWER_COLUMNS.len()];
    for (index, column) in indexes.iter_mut().zip(ANSWER_COLUMNS) {
        let found = table.columns().iter().position(|known| known == column);
        *index = found.ok_or_else(|| NoReviewList::NoColumn {
            file: file.clone(),
            column,
        })?;
    }
    Ok(ReviewList { table, indexes })
}
