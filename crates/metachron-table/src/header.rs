//! The names of the columns.

use crate::csv::{Dialect, RowWriter};
use metachron_core::words;
use std::collections::{HashMap, HashSet};

/// So many names are remarked upon, and the others counted.
const MOST_REMARKS: usize = 5;

/// The columns of a table.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Header {
    /// The names, each of them once.
    pub names: Vec<String>,
    /// The line they stand on, from 1; `None` where they stand on none.
    pub line: Option<u64>,
    /// Whether they stand in the schema of a file whose columns have names without a line
    /// of them.
    pub in_schema: bool,
    /// The line itself, as it came, with its line end.
    pub raw: String,
    /// The names as they stand in the file.
    pub written: Vec<String>,
    /// The lines above it.
    pub notes: Vec<String>,
    /// What is odd about the names, in words.
    pub remarks: Vec<String>,
}

impl Header {
    pub(crate) fn nameless(width: usize) -> Header {
        Header {
            names: (0..width).map(nameless_column).collect(),
            ..Header::default()
        }
    }

    /// The header of a file whose schema has these names.
    pub(crate) fn of_schema(names: &[String]) -> Header {
        let mut raw = Vec::new();
        let writer = RowWriter::new(Dialect::default());
        for (index, name) in names.iter().enumerate() {
            writer.cell(index, name, &mut raw);
        }
        writer.end(&mut raw);
        let raw = String::from_utf8_lossy(&raw).into_owned();
        Header {
            line: None,
            in_schema: true,
            ..Header::new(names, names.len(), 0, raw, Vec::new())
        }
    }

    /// Whether the columns have names of their own.
    pub fn has_names(&self) -> bool {
        self.line.is_some() || self.in_schema
    }

    /// The header of a row of cells, for a table of `width` columns.
    pub(crate) fn new(
        cells: &[String],
        width: usize,
        line: u64,
        raw: String,
        mut notes: Vec<String>,
    ) -> Header {
        let mut names: Vec<String> = Vec::with_capacity(width);
        let mut remarks = Vec::new();
        let mut nameless = Vec::new();
        let mut renamed = 0_u64;
        let mut known = HashSet::new();
        let mut tried: HashMap<&str, u64> = HashMap::new();
        for index in 0..width {
            let name = cells.get(index).map_or("", |cell| cell.trim());
            let (wanted, stem) = match name {
                "" => (nameless_column(index), "column"),
                _ => (name.to_owned(), name),
            };
            // Of thousands of columns with one name, each would try all numbers before.
            let count = tried.entry(stem).or_insert(1);
            let unique = first_unique(wanted, stem, count, |name| known.contains(name));
            if name.is_empty() {
                nameless.push(unique.clone());
            } else if unique != name {
                renamed += 1;
                if renamed <= MOST_REMARKS as u64 {
                    remarks.push(format!(
                        "column {} is also called `{name}`; here it is called `{unique}`",
                        index + 1
                    ));
                }
            }
            known.insert(unique.clone());
            names.push(unique);
        }
        if renamed > MOST_REMARKS as u64 {
            remarks.push(format!(
                "and {} more columns are called as another is",
                words::number(renamed - MOST_REMARKS as u64)
            ));
        }
        if !nameless.is_empty() {
            let shown = nameless.len().min(MOST_REMARKS);
            let more = match nameless.len() - shown {
                0 => String::new(),
                more => format!(" and {} more", words::number(more as u64)),
            };
            remarks.push(format!(
                "without a name: {}{more}",
                nameless[..shown].join(", ")
            ));
        }
        notes.retain(|note| !note.trim().is_empty());
        Header {
            names,
            line: Some(line),
            in_schema: false,
            raw,
            written: cells.to_vec(),
            notes,
            remarks,
        }
    }
}

/// What the column of this index, from 0, is called that has no name.
pub(crate) fn nameless_column(index: usize) -> String {
    format!("column_{}", index + 1)
}

/// The name `wanted`, or where that is taken, `stem` and the first number from
/// 2 that makes one that is not.
pub(crate) fn unique(wanted: String, stem: &str, is_taken: impl Fn(&str) -> bool) -> String {
    first_unique(wanted, stem, &mut 1, is_taken)
}

/// The same, by the first number behind `count` which makes one, and which it is then.
fn first_unique(
    wanted: String,
    stem: &str,
    count: &mut u64,
    is_taken: impl Fn(&str) -> bool,
) -> String {
    let mut unique = wanted;
    while is_taken(&unique) {
        *count += 1;
        unique = format!("{stem}_{count}");
    }
    unique
}
