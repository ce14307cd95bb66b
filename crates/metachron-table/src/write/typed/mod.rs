//! Tables whose columns have one type each, whatever the format.
//!
//! A column starts with the narrowest type that its schema allows. Where a cell turns up
//! that does not fit, the rest of the table is only looked at, and the writer ends with
//! [`WriteError::OtherTypes`]: the table is written again with the types that it needs. So
//! tables that fit, nearly all, are converted once and never held.

mod chunk;
mod column_type;
mod encoder;

#[cfg(feature = "arrow")]
pub(super) use chunk::is_text;
pub(super) use chunk::{CellView, ColumnView, read_chunk};
pub use column_type::{ColumnType, Others, Precision};
pub(super) use column_type::{DecimalsAs, StampsAs, TypeRules};
pub(super) use encoder::TypedEncoder;

use super::{SourceStyle, WriteError, start_of};
use crate::header::{nameless_column, unique};
use metachron_core::row::{Holds, Origin, OutColumn, Schema};
use std::collections::HashSet;
use std::sync::{Arc, Mutex, PoisonError};

/// The types that the columns of a table need, found out by writing it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ColumnTypes {
    types: Vec<ColumnType>,
    /// How many cells the longest row has beyond the header.
    more: usize,
}

/// The columns of a table that is written.
#[derive(Clone, Debug)]
pub(super) struct TypedColumns {
    columns: Vec<TypedColumn>,
    rules: TypeRules,
    /// What the columns need, as far as that is more than what they are.
    needed: Needed,
}

/// A column of a table that is written.
#[derive(Clone, Debug)]
pub(super) struct TypedColumn {
    /// The name that it would have in a text file.
    wanted: String,
    pub name: String,
    pub of: ColumnType,
    /// The type that it has if all cells fit.
    first: ColumnType,
    /// What the schema says of it; nothing of one that is added for long rows.
    pub origin: Option<OutColumn>,
}

impl TypedColumn {
    /// Whether it is text only because another type could not hold all of its cells.
    fn is_fallback(&self) -> bool {
        self.of == ColumnType::Text && !matches!(self.first, ColumnType::Text | ColumnType::Unknown)
    }
}

/// Which names a format has for columns.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct NameRules {
    /// The most bytes of one, if there is a limit.
    pub most: Option<usize>,
    /// Whether `due` and `Due` are one name.
    pub ignore_case: bool,
}

/// Room for what tells one name of two from the other, in bytes.
const NUMBER: usize = 8;

impl NameRules {
    /// The start of `name` that leaves so much room.
    fn cut(self, name: &str, room: usize) -> String {
        let most = self.most.map_or(name.len(), |most| most - room);
        start_of(name, most).to_owned()
    }

    /// What names that are the same have in common.
    fn key(self, name: &str) -> String {
        if self.ignore_case {
            name.to_ascii_lowercase()
        } else {
            name.to_owned()
        }
    }
}

/// The types that columns need, put together by all threads.
#[derive(Clone, Debug, Default)]
struct Needed(Arc<Mutex<ColumnTypes>>);

impl Needed {
    fn with<T>(&self, act: impl FnOnce(&mut ColumnTypes) -> T) -> T {
        // Types are joined whole or not at all.
        act(&mut self.0.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

impl TypedColumns {
    /// The columns of `schema`, of the types that are known to be needed, or that the source
    /// has. Names that are the same in the format are told apart.
    pub fn new(
        schema: &Schema,
        rules: TypeRules,
        source: &SourceStyle,
        names: NameRules,
    ) -> TypedColumns {
        let known = source.types.as_ref();
        let types = known.map_or(&[][..], |known| &known.types);
        let in_source = |column: &OutColumn| match (column.holds, column.origin) {
            (Holds::SourceCells, Origin::Source(index)) => {
                let of = source.source_types.get(index)?;
                Some(rules.in_format(*of))
            }
            _ => None,
        };
        let own = schema.columns.iter().enumerate().map(|(index, column)| {
            let first = in_source(column).unwrap_or_else(|| rules.first(column.holds));
            let of = types.get(index).copied().unwrap_or(first);
            (column.name.clone(), (first, of), Some(column.clone()))
        });
        // What a long row has too many of must not be lost.
        let more = (0..known.map_or(0, |known| known.more)).map(|index| {
            let name = nameless_column(schema.columns.len() + index);
            (name, (ColumnType::Text, ColumnType::Text), None)
        });
        let mut taken = HashSet::new();
        let columns = own.chain(more).map(|(wanted, (first, of), origin)| {
            let name = names.cut(&wanted, 0);
            let stem = names.cut(&wanted, NUMBER);
            let name = unique(name, &stem, |name| taken.contains(&names.key(name)));
            taken.insert(names.key(&name));
            TypedColumn {
                wanted,
                name,
                of,
                first,
                origin,
            }
        });
        let columns: Vec<TypedColumn> = columns.collect();
        let needed = ColumnTypes {
            types: columns.iter().map(|column| column.of).collect(),
            more: 0,
        };
        TypedColumns {
            columns,
            rules,
            needed: Needed(Arc::new(Mutex::new(needed))),
        }
    }

    /// The columns.
    pub fn all(&self) -> &[TypedColumn] {
        &self.columns
    }

    /// Their types.
    pub fn types(&self) -> Vec<ColumnType> {
        self.columns.iter().map(|column| column.of).collect()
    }

    /// Whether all cells so far fit.
    pub fn fit(&self) -> bool {
        let types = self.types();
        self.needed
            .with(|needed| needed.more == 0 && needed.types == types)
    }

    /// An encoder of rows.
    pub fn encoder(&self) -> TypedEncoder {
        TypedEncoder::new(self)
    }

    /// An error where a cell did not fit.
    pub fn check(&self) -> Result<(), WriteError> {
        if self.fit() {
            return Ok(());
        }
        let added = self.columns.iter().filter(|column| column.origin.is_none());
        let added = added.count();
        let needed = self.needed.with(|needed| {
            let schema = self.columns.len() - added;
            ColumnTypes {
                types: needed.types[..schema].to_vec(),
                more: added + needed.more,
            }
        });
        let mut first = self.columns.iter().zip(&needed.types);
        let first = first.find(|(column, of)| column.of != **of);
        Err(WriteError::OtherTypes {
            column: first.map(|(column, _)| column.name.clone()),
            needed: Box::new(needed),
        })
    }

    /// What is not in the table as one would expect it, in words.
    pub fn remarks(&self) -> Vec<String> {
        let mut remarks = Vec::new();
        for column in &self.columns {
            let name = &column.name;
            if column.origin.is_none() {
                remarks.push(format!(
                    "column `{name}` holds what rows have beyond the header"
                ));
            } else if *name != column.wanted {
                let wanted = &column.wanted;
                remarks.push(format!("column `{wanted}` is called `{name}` here"));
            }
            if column.is_fallback() {
                remarks.push(format!(
                    "column `{name}` is text: a cell of it is beyond what the format's type holds"
                ));
            }
        }
        remarks
    }
}
