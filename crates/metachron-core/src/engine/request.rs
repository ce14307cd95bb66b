//! What is known of a table before its rows are read, and what the user
//! declares about it.

use crate::rulings::{ColumnRuling, Rulings, RulingsError, Setting, TableRuling, WriteError};
use crate::settle::Declared;
use crate::words::no_column;
use crate::zone::Zones;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::Offset;

/// What is known of a table before its rows are read, and what the user
/// declares about it.
#[derive(Clone, Debug)]
pub struct Request {
    /// The names of the columns.
    pub columns: Vec<String>,
    /// What stands for the columns' names in the header, where that differs:
    /// names that are missing or doubled.
    pub headers: Vec<String>,
    /// The names of the table's files, without their folders: rows may be
    /// grouped by them.
    pub files: Vec<String>,
    /// The columns that are asked for, by their index, in order.
    pub asked: Vec<usize>,
    /// The columns that are named: these are temporal, whatever their cells
    /// say.
    pub named: Vec<String>,
    /// How the table itself is read, for the rulings.
    pub table: TableRuling,
    /// The rulings to go by, if there are some already.
    pub rulings: Option<Rulings>,
    /// What is declared for every column that is asked for.
    pub declared: Declared,
    /// Keys of rulings that are set, in order.
    pub settings: Vec<Setting>,
    /// Zones by the names that they go by in the cells.
    pub zones: Zones,
    /// What counts as now.
    pub now: Timestamp,
}

/// What is asked of a table that cannot be done.
#[derive(Debug, thiserror::Error)]
pub enum EngineError {
    /// A column is named that the table does not have.
    #[error("{key}: {}", no_column(name, columns.iter().map(String::as_str)))]
    NoColumn {
        /// What names it: an option, or a key of the rulings.
        key: String,
        /// The name.
        name: String,
        /// The columns there are.
        columns: Vec<String>,
    },
    /// A derived column has a name that the clean table has already.
    #[error(
        "derived column `{0}`: the clean table has a column `{0}` already; give it another name"
    )]
    NameTaken(String),
    /// A column is written under the name of another one.
    #[error(
        "column `{column}`: write.name is `{name}`, and the clean table has another column of that name"
    )]
    WrittenAsAnother {
        /// The column.
        column: String,
        /// The name.
        name: String,
    },
    /// A setting does not fit the rulings.
    #[error(transparent)]
    Rulings(#[from] RulingsError),
    /// A column cannot be written as it is ruled.
    #[error(transparent)]
    Write(#[from] WriteError),
}

impl Request {
    /// Everything about a table of these columns in one file, with nothing
    /// declared.
    pub fn new<S: Into<String>>(columns: impl IntoIterator<Item = S>, now: Timestamp) -> Request {
        let columns: Vec<String> = columns.into_iter().map(Into::into).collect();
        Request {
            asked: (0..columns.len()).collect(),
            columns,
            headers: Vec::new(),
            files: vec![String::new()],
            named: Vec::new(),
            table: TableRuling::default(),
            rulings: None,
            declared: Declared::default(),
            settings: Vec::new(),
            zones: Zones::default(),
            now,
        }
    }

    /// The day that now is, in UTC.
    pub(super) fn today(&self) -> Date {
        Offset::UTC.to_datetime(self.now).date()
    }

    /// The index of the column `name`, which `key` names.
    pub(super) fn index_of(&self, name: &str, key: &str) -> Result<usize, EngineError> {
        let index = self.columns.iter().position(|column| column == name);
        index.ok_or_else(|| EngineError::NoColumn {
            key: key.to_owned(),
            name: name.to_owned(),
            columns: self.columns.clone(),
        })
    }

    /// What is declared for the column `name`.
    pub(super) fn declared_for(&self, name: &str) -> Declared {
        let declared = Declared {
            temporal: self.named.iter().any(|named| named == name),
            ..self.declared.clone()
        };
        declared.with_settings(name, &self.settings)
    }

    /// The zones by the names that the rulings and the options give them.
    pub(super) fn all_zones(&self) -> Zones {
        let given = self.rulings.iter().flat_map(|given| given.zones.clone());
        given.chain(self.zones.clone()).collect()
    }

    /// The rulings that were given, with what is declared; `None` where there
    /// are none, and the table has to be surveyed.
    ///
    /// # Errors
    ///
    /// Where a setting does not fit them.
    pub fn given_rulings(&self) -> Result<Option<Rulings>, EngineError> {
        let Some(given) = &self.rulings else {
            return Ok(None);
        };
        let mut rulings = given.clone();
        rulings.zones = self.all_zones();
        let is_asked = |name: &str| self.asked.iter().any(|&index| self.columns[index] == *name);
        rulings.column.retain(|name, _| is_asked(name));
        for (name, ruling) in &mut rulings.column {
            self.declare_on(name, ruling);
        }
        Ok(Some(rulings.with_settings(&self.settings)?))
    }

    /// Puts what is declared on top of a ruling that was given.
    pub(super) fn declare_on(&self, name: &str, ruling: &mut ColumnRuling) {
        self.declared_for(name).put_on(ruling);
    }
}
