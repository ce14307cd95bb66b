//! A review list that a person has filled in: a table like any other, whatever saved it.

use metachron_core::rulings::HeaderLine;
use metachron_table::{ReadOptions, Source, Table, TableError};
use std::fs::{self, File};
use std::io::{self, Read};
use std::ops::ControlFlow;
use std::path::Path;

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

/// Whether there is a file at `path`: a device may be read without end, and a pipe holds
/// nothing yet.
fn is_file(path: &Path) -> io::Result<bool> {
    match fs::metadata(path) {
        Err(error) if error.kind() != io::ErrorKind::NotFound => Err(error),
        meta => Ok(meta.is_ok_and(|meta| meta.is_file())),
    }
}

/// Whether the file at `path` is a review list that somebody wrote into. One that the
/// system cannot read may be, and is an error.
pub fn has_answers(path: &Path) -> anyhow::Result<bool> {
    match is_file(path)?.then(|| find_answer(path)) {
        None => Ok(false),
        // Another run has put nothing in its place meanwhile.
        Some(Err(TableError::Io { cause, .. })) if cause.kind() == io::ErrorKind::NotFound => {
            Ok(false)
        }
        Some(found) => Ok(found?),
    }
}

fn find_answer(path: &Path) -> Result<bool, TableError> {
    let list = match ReviewList::open(Source::file(path)?) {
        Ok(list) if list.table.columns() == REVIEW_COLUMNS => list,
        Err(NoReviewList::Table(error @ TableError::Io { .. })) => return Err(error),
        Ok(_) | Err(_) => return Ok(false),
    };
    match list.for_each_answer(|_| ControlFlow::Break(())) {
        Err(error @ TableError::Io { .. }) => Err(error),
        // What cannot be read may be an answer.
        found => Ok(found.map_or(true, |found| found.is_break())),
    }
}

/// Whether the file at `path` is a review list.
pub fn is_review_list(path: &Path) -> io::Result<bool> {
    if !is_file(path)? {
        return Ok(false);
    }
    let header = REVIEW_COLUMNS.join(",");
    let mut start = Vec::new();
    let read = File::open(path).and_then(|file| {
        let start = file.take(header.len() as u64).read_to_end(&mut start);
        start.map(|_| ())
    });
    match read {
        // Another run has put nothing in its place meanwhile.
        Err(error) if error.kind() == io::ErrorKind::NotFound => Ok(false),
        read => read.map(|()| start == header.as_bytes()),
    }
}
