//! A form whose order another column tells.
//!
//! ```toml
//! [column."Handed over".read]
//! forms = [{ either = ["dd/MM/yyyy", "MM/dd/yyyy"], by = "Site", orders = { Odrava = "dmy", Kestrelby = "mdy" } }]
//! ```

use super::ColumnRuling;
use super::FormRuling;
use crate::form::{Form, Order};
use indexmap::IndexMap;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use std::borrow::Cow;

/// What stands for the name of a row's file where a column's name is asked
/// for: the file is what several registers in one table differ by.
pub const FILE: &str = "<file>";

/// A column's name in a sentence: that of the file is no column's.
pub(crate) fn in_words(column: &str) -> &str {
    match column {
        FILE => "the file",
        name => name,
    }
}

/// What stands between the values of two columns that tell the order
/// together.
const JOINT: &str = " / ";

/// A form whose order another column tells, value by value.
///
/// Cells of rows whose value is not named stay open.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct GroupRuling {
    /// The patterns, one for each order.
    #[serde(with = "super::form::several")]
    pub either: Vec<Form>,
    /// The column that tells, or the two columns that do together. [`FILE`]
    /// is the name of the row's file.
    #[serde(
        serialize_with = "one_or_several",
        deserialize_with = "from_one_or_several"
    )]
    pub by: Vec<String>,
    /// The order for each value of that column; of two columns, the values
    /// with ` / ` between them.
    pub orders: IndexMap<String, Order>,
}

impl GroupRuling {
    /// What the cells of the columns that tell say together; `None` where one
    /// of them is empty.
    pub fn key<'t>(texts: impl IntoIterator<Item = &'t str>) -> Option<Cow<'t, str>> {
        let mut key = Cow::Borrowed("");
        for text in texts {
            let text = text.trim();
            if text.is_empty() {
                return None;
            }
            if key.is_empty() {
                key = Cow::Borrowed(text);
            } else {
                let key = key.to_mut();
                key.push_str(JOINT);
                key.push_str(text);
            }
        }
        Some(key)
    }

    /// The form for rows of this order; every form where none is known.
    fn for_order(&self, order: Option<Order>) -> FormRuling {
        let form = self.either.iter().find(|form| form.order() == order);
        match form.filter(|_| order.is_some()) {
            Some(form) => FormRuling::Settled(form.clone()),
            None => FormRuling::Open(self.either.clone()),
        }
    }
}

impl ColumnRuling {
    /// The forms whose order another column tells, in order.
    pub fn groups(&self) -> impl Iterator<Item = &GroupRuling> {
        self.read.forms.iter().filter_map(|form| match form {
            FormRuling::ByGroup(group) => Some(group),
            FormRuling::Settled(_) | FormRuling::Open(_) => None,
        })
    }

    /// The ruling for rows of one group: each of [`ColumnRuling::groups`] is
    /// settled by the order it has there, or open.
    pub fn within(&self, orders: &[Option<Order>]) -> ColumnRuling {
        let mut ruling = self.clone();
        let mut orders = orders.iter().copied();
        for form in &mut ruling.read.forms {
            if let FormRuling::ByGroup(group) = form {
                *form = group.for_order(orders.next().flatten());
            }
        }
        ruling
    }
}

fn one_or_several<S: Serializer>(names: &[String], serializer: S) -> Result<S::Ok, S::Error> {
    match names {
        [name] => serializer.serialize_str(name),
        names => serializer.collect_seq(names),
    }
}

fn from_one_or_several<'de, D: Deserializer<'de>>(
    deserializer: D,
) -> Result<Vec<String>, D::Error> {
    #[derive(Deserialize)]
    #[serde(untagged)]
    enum Names {
        One(String),
        Several(Vec<String>),
    }
    Ok(match Names::deserialize(deserializer)? {
        Names::One(name) => vec![name],
        Names::Several(names) => names,
    })
}
