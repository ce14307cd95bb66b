//! The rulings file: how each column of a table is read.
//!
//! ```
//! use metachron_core::rulings::Rulings;
//!
//! let rulings = Rulings::from_toml(
//!     r#"
//!     metachron = 1
//!
//!     [column."Loaned out"]
//!     kind = "date"
//!     read = { forms = ["d/M/yyyy", "d MMM yyyy"] }
//!     "#,
//! )?;
//! assert_eq!(rulings.column["Loaned out"].read.forms.len(), 2);
//! # Ok::<(), metachron_core::rulings::RulingsError>(())
//! ```
//!
//! [`Rulings::to_toml`] writes one, with its evidence as comments.

mod baseline;
mod blanks;
mod checksum;
mod context;
mod date_part;
mod derive;
mod error;
mod form;
mod group;
mod locales;
mod period_as;
mod set;
mod suspicion;
mod to_toml;
mod write_ruling;

pub use baseline::Baseline;
pub use blanks::{Blanks, USUAL_BLANKS};
pub use checksum::{checksum_holds, with_checksum};
pub use context::TimeOrder;
pub use date_part::DatePart;
pub use derive::DeriveRuling;
pub use error::{ColumnError, RulingsError};
pub use form::FormRuling;
pub(crate) use group::in_words;
pub use group::{FILE, GroupRuling};
pub use locales::Locales;
pub use period_as::PeriodAs;
pub use set::Setting;
pub use suspicion::{PlaceholderAs, Placeholders, ShiftedMidnights};
pub use to_toml::Comments;
pub(crate) use write_ruling::StampRenderer;
pub use write_ruling::{WriteError, WriteRuling, ZoneAs};

use crate::calendar::Calendar;
use crate::form::{
    Century, Conventions, EndOfDay, Form, HalfOfDay, LeapSecond, Order, UnitLetters,
};
use crate::locale::Names;
use crate::reading::MOST_FORMS;
use crate::stamp::Kind;
use crate::zone::{WhichInstant, Zone, Zones};
use indexmap::IndexMap;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The version of the file's layout that this program reads and writes.
pub const VERSION: u32 = 1;

/// A whole rulings file.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Rulings {
    /// The version of the layout: [`VERSION`].
    pub metachron: u32,
    /// How the table itself is read.
    #[serde(default, skip_serializing_if = "TableRuling::is_empty")]
    pub table: TableRuling,
    /// Zones by names that cells have for them: of sites, or abbreviations
    /// that several zones go by.
    #[serde(default, skip_serializing_if = "Zones::is_empty")]
    pub zones: Zones,
    /// The temporal columns, by name, in the order of the table.
    #[serde(default)]
    pub column: IndexMap<String, ColumnRuling>,
    /// Columns that are made from others, in the order they stand behind them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub derive: Vec<DeriveRuling>,
}

/// How the table itself is read. What is not given is auto-detected.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct TableRuling {
    /// The name of the character encoding (WHATWG's labels).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub encoding: Option<String>,
    /// The character between cells.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub delimiter: Option<char>,
    /// The character around cells, or `"none"`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub quote: Option<String>,
    /// The sheet of a workbook.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sheet: Option<String>,
    /// The line of the column names, counted from 1, or `"none"`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub header_line: Option<HeaderLine>,
    /// Columns that are text, and hold no dates or times: a person said so, and
    /// is not asked again.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub text_columns: Vec<String>,
    /// What stands for an empty cell, whatever its case. An empty cell and
    /// white space always do.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub blanks: Option<Vec<String>>,
}

/// Where the column names stand.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum HeaderLine {
    /// On this line, counted from 1.
    Line(u32),
    /// Nowhere: the columns are called `column_1`, `column_2`, …
    None(NoHeader),
}

/// The word `none`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum NoHeader {
    /// There is no header.
    None,
}

/// How one column is read and written.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct ColumnRuling {
    /// The kind of the clean column.
    pub kind: Kind,
    /// How its cells are read.
    #[serde(default)]
    pub read: ReadRuling,
    /// How the clean column is written.
    #[serde(default, skip_serializing_if = "WriteRuling::is_empty")]
    pub write: WriteRuling,
    /// What it held when it was settled.
    #[serde(default, skip_serializing_if = "Option::is_none", alias = "seen")]
    pub baseline: Option<Baseline>,
}

/// How the cells of a column are read.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct ReadRuling {
    /// The forms, in the order they are tried.
    #[serde(default)]
    pub forms: Vec<FormRuling>,
    /// The order that decides where a form is still open.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub order: Option<Order>,
    /// The locale whose names the cells hold, or several.
    #[serde(default, skip_serializing_if = "Locales::is_empty")]
    pub locale: Locales,
    /// The calendar of the dates; by default that of the locale.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub calendar: Option<Calendar>,
    /// The year of dates without one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub year: Option<i16>,
    /// The column that holds the year of dates without one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub year_from: Option<String>,
    /// The column that holds the half of the day of hours from 1 to 12 that have none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub half_of_day_from: Option<String>,
    /// The first of the hundred years that two-digit years stand for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub century: Option<i16>,
    /// The zone whose clocks the local times were read from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zone: Option<Zone>,
    /// The column that holds that zone, row by row: an identifier, an offset,
    /// or a name that `[zones]` maps.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zone_from: Option<String>,
    /// The zones that names in the cells stand for, such as abbreviations that
    /// several zones go by; they come before those of `[zones]`.
    #[serde(default, skip_serializing_if = "Zones::is_empty")]
    pub zone_names: Zones,
    /// What a local time is that clocks in its zone skipped.
    #[serde(default, skip_serializing_if = "WhichInstant::is_default")]
    pub in_gap: WhichInstant,
    /// What a local time is that was twice in its zone.
    #[serde(default, skip_serializing_if = "WhichInstant::is_default")]
    pub in_overlap: WhichInstant,
    /// What a second of 60 is.
    #[serde(default, skip_serializing_if = "LeapSecond::is_default")]
    pub leap_second: LeapSecond,
    /// What 24:00 is where no date is given.
    #[serde(default, skip_serializing_if = "EndOfDay::is_default")]
    pub end_of_day: EndOfDay,
    /// What a single letter is that may be a unit of time.
    #[serde(default, skip_serializing_if = "UnitLetters::is_default")]
    pub unit_letters: UnitLetters,
    /// Which day a month, quarter, week or year is among dates.
    #[serde(
        default,
        skip_serializing_if = "PeriodAs::is_default",
        alias = "month-as"
    )]
    pub period_as: PeriodAs,
    /// Which days that programs write where there is no date are dates here, and which
    /// stand for none.
    #[serde(default, skip_serializing_if = "Placeholders::is_empty")]
    pub placeholders: Placeholders,
    /// Whether times that are all midnights of another zone are meant so.
    #[serde(default, skip_serializing_if = "ShiftedMidnights::is_default")]
    pub shifted_midnights: ShiftedMidnights,
    /// The order of cells that neither their forms nor the rest of the table
    /// settle. It contradicts nothing that is settled.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub otherwise: Option<Order>,
    /// The rows stand in time order: a cell that its forms leave open has the
    /// one reading that fits between the cells before and behind it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub in_time_order: Option<TimeOrder>,
    /// The column that the rows are to be sorted by, to stand in time order: by the
    /// number at the end of its texts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sorted_by: Option<String>,
    /// The column whose cell in the same row is never later than this one's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub not_before: Option<String>,
    /// The column whose cell in the same row is never earlier than this one's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub not_after: Option<String>,
    /// The fewest and the most days that this column's dates are behind those of
    /// others; below zero where they are earlier.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub days_after: BTreeMap<String, [i32; 2]>,
    /// Columns that repeat a part of this one's dates.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub same: BTreeMap<DatePart, String>,
    /// What stands for an empty cell in this column, instead of the table's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub blanks: Option<Vec<String>>,
}

impl TableRuling {
    fn is_empty(&self) -> bool {
        *self == TableRuling::default()
    }
}

impl ColumnRuling {
    fn check(&self) -> Result<(), ColumnError> {
        let forms = self.read.all_forms().len();
        if forms > MOST_FORMS {
            return Err(ColumnError::TooManyForms(forms));
        }
        if self.read.year.is_some() && self.read.year_from.is_some() {
            return Err(ColumnError::TwoYears);
        }
        if self.read.sorted_by.is_some() && self.read.in_time_order.is_none() {
            return Err(ColumnError::SortedForNothing);
        }
        if self.read.zone.is_some() && self.read.zone_from.is_some() {
            return Err(ColumnError::TwoZones);
        }
        if self.read.has_zone() && self.kind != Kind::Instant {
            return Err(ColumnError::ZoneOf(self.kind));
        }
        self.write.renderer(self.kind)?;
        Ok(())
    }
}

impl ReadRuling {
    /// Every pattern that the ruling names, settled or open.
    pub fn all_forms(&self) -> Vec<Form> {
        self.forms
            .iter()
            .flat_map(|form| form.alternatives().iter().cloned())
            .collect()
    }

    /// What the cells leave unsaid.
    pub fn conventions(&self) -> Conventions {
        Conventions {
            century: self.century.map_or(Century::Open, Century::Window),
            calendar: self.calendar.unwrap_or_else(|| self.locale.calendar()),
            year: self.year,
            in_gap: self.in_gap,
            in_overlap: self.in_overlap,
            leap_second: self.leap_second,
            end_of_day: self.end_of_day,
            unit_letters: self.unit_letters,
            half_of_day: HalfOfDay::AsWritten,
        }
    }

    /// The zones that names in the cells stand for, where those of the table are
    /// `zones`.
    pub fn all_zones(&self, zones: &Zones) -> Zones {
        let mut all = zones.clone();
        all.extend(self.zone_names.clone());
        all
    }

    /// Whether the zone of local times is said.
    pub fn has_zone(&self) -> bool {
        self.zone.is_some() || self.zone_from.is_some()
    }

    /// The names that the cells may hold.
    pub fn names(&self) -> Names {
        self.locale.names(self.conventions().calendar)
    }
}

impl Rulings {
    /// Rulings on nothing.
    pub fn new(table: TableRuling) -> Rulings {
        Rulings {
            metachron: VERSION,
            table,
            zones: Zones::new(),
            column: IndexMap::new(),
            derive: Vec::new(),
        }
    }

    /// Reads a rulings file.
    ///
    /// # Errors
    ///
    /// With line and column where it is no TOML, where a key is unknown (with
    /// the nearest one that is known) or where a pattern cannot be compiled.
    ///
    /// ```
    /// use metachron_core::rulings::Rulings;
    ///
    /// let text = "metachron = 1\n[column.due]\nkind = \"date\"\nread = { forms = [\"dd/MM/yyyy\"] }";
    /// let rulings = Rulings::from_toml(text)?;
    /// assert_eq!(rulings.column["due"].kind.name(), "date");
    /// let wrong = Rulings::from_toml("metachron = 1\n[column.due]\nkindd = \"date\"");
    /// assert!(wrong.unwrap_err().to_string().contains("kindd"));
    /// # Ok::<(), metachron_core::rulings::RulingsError>(())
    /// ```
    pub fn from_toml(text: &str) -> Result<Rulings, RulingsError> {
        let mut rulings: Rulings =
            toml::from_str(text).map_err(|cause| RulingsError::from_toml(text, &cause))?;
        rulings.take_forms_as_meant();
        match rulings.metachron {
            VERSION => {}
            other => return Err(RulingsError::Version(other)),
        }
        rulings
            .check()
            .map_err(|(column, cause)| RulingsError::Invalid {
                line: Rulings::line_of_column(text, &column).unwrap_or(1),
                column: 1,
                message: format!("column `{column}`: {cause}"),
            })?;
        Ok(rulings)
    }

    /// Takes the forms of each column as its kind has them meant.
    fn take_forms_as_meant(&mut self) {
        for ruling in self.column.values_mut() {
            for form in &mut ruling.read.forms {
                if let FormRuling::Settled(form) = form {
                    *form = form.of_kind(ruling.kind);
                }
            }
        }
    }

    /// Whether the keys of every column make sense together.
    ///
    /// # Errors
    ///
    /// The first column whose keys do not, and why.
    pub fn check(&self) -> Result<(), (String, ColumnError)> {
        for (name, ruling) in &self.column {
            ruling.check().map_err(|cause| (name.clone(), cause))?;
        }
        Ok(())
    }

    /// The line, from 1, on which the rulings file `text` names `column`.
    pub fn line_of_column(text: &str, column: &str) -> Option<usize> {
        let document = toml_edit::Document::parse(text).ok()?;
        let columns = document.get("column")?.as_table_like()?;
        let span = columns.key(column)?.span()?;
        Some(error::index(text, span.start).0)
    }

    /// Writes a rulings file, with `comments` above what they explain.
    pub fn to_toml(&self, comments: &Comments) -> String {
        to_toml::to_toml(self, comments)
    }

    /// The blanks of a column: its own list, else the table's, else the usual
    /// ones.
    pub fn blanks(&self, column: Option<&ColumnRuling>) -> Blanks {
        let own = column.and_then(|column| column.read.blanks.as_ref());
        match own.or(self.table.blanks.as_ref()) {
            Some(list) => Blanks::new(list),
            None => Blanks::default(),
        }
    }
}

#[cfg(test)]
mod tests;
