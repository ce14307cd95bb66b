//! `--set 'COLUMN.KEY=VALUE'`: a key of a ruling, from the command line.

use super::error::with_nearest;
use super::{Locales, Rulings, RulingsError};
use crate::calendar::Calendar;
use crate::form::{Form, LeapSecond, Order};
use crate::locale::Tag;
use crate::zone::{WhichInstant, Zone};
use serde::de::value::StrDeserializer;
use toml_edit::{DocumentMut, Item, Table, Value};

/// A key below `[column]` and its value.
///
/// The key is a TOML dotted key, written as the rulings file writes it; the
/// value is TOML, and a bare word is a string.
#[derive(Clone, Debug)]
pub struct Setting {
    text: String,
    column: String,
    keys: Vec<String>,
    value: Value,
}

impl std::fmt::Display for Setting {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.pad(&self.text)
    }
}

impl std::str::FromStr for Setting {
    type Err = RulingsError;

    fn from_str(text: &str) -> Result<Setting, RulingsError> {
        let error = |message: &str| RulingsError::Setting {
            setting: text.to_owned(),
            message: message.to_owned(),
        };
        let (key, value) = split(text)
            .ok_or_else(|| error("write it as COLUMN.KEY=VALUE, such as 'due.read.order=dmy'"))?;
        let path = toml_edit::Key::parse(key.trim()).map_err(|_| {
            error("the part before = is no TOML key; put a name with spaces or dots in quotes, such as '\"Loaned out\".read.order=dmy'")
        })?;
        let mut names = path.into_iter().map(|key| key.get().to_owned());
        let column = names.next().unwrap_or_default();
        let keys: Vec<String> = names.collect();
        if keys.is_empty() {
            return Err(error(
                "the key is missing: COLUMN.KEY=VALUE, such as 'due.kind=date'",
            ));
        }
        let value = value.trim();
        let value = value.parse().unwrap_or_else(|_| Value::from(value));
        Ok(Setting {
            text: text.to_owned(),
            column,
            keys,
            value,
        })
    }
}

/// Splits at the first `=` that is not in quotes.
fn split(text: &str) -> Option<(&str, &str)> {
    let mut quote = None;
    for (place, letter) in text.char_indices() {
        match (quote, letter) {
            (None, '=') => return Some((&text[..place], &text[place + 1..])),
            (None, '"' | '\'') => quote = Some(letter),
            (Some(open), _) if open == letter => quote = None,
            _ => {}
        }
    }
    None
}

impl Setting {
    /// The column that it is about.
    pub fn column(&self) -> &str {
        &self.column
    }

    /// The order it declares, if it does.
    pub fn order(&self) -> Option<Order> {
        self.value_of("order")?.as_str()?.parse().ok()
    }

    /// The window of two-digit years it declares, if it does.
    pub fn century(&self) -> Option<i16> {
        self.value_of("century")?.as_integer()?.try_into().ok()
    }

    /// The calendar it declares, if it does.
    pub fn calendar(&self) -> Option<Calendar> {
        self.value_of("calendar")?.as_str()?.parse().ok()
    }

    /// The year of dates without one that it declares, if it does.
    pub fn year(&self) -> Option<i16> {
        self.value_of("year")?.as_integer()?.try_into().ok()
    }

    /// The column of years it declares, if it does.
    pub fn year_from(&self) -> Option<&str> {
        self.value_of("year-from")?.as_str()
    }

    /// The zone it declares, if it does.
    pub fn zone(&self) -> Option<Zone> {
        self.value_of("zone")?.as_str()?.parse().ok()
    }

    /// What it declares of local times that clocks skipped, if it does.
    pub fn in_gap(&self) -> Option<WhichInstant> {
        self.word_of("in-gap")
    }

    /// What it declares of local times that were twice, if it does.
    pub fn in_overlap(&self) -> Option<WhichInstant> {
        self.word_of("in-overlap")
    }

    /// What it declares of leap seconds, if it does.
    pub fn leap_second(&self) -> Option<LeapSecond> {
        self.word_of("leap-second")
    }

    /// The column of zones it declares, if it does.
    pub fn zone_from(&self) -> Option<&str> {
        self.value_of("zone-from")?.as_str()
    }

    /// The locales it declares, if it does.
    pub fn locale(&self) -> Option<Locales> {
        let tags = match self.value_of("locale")?.as_str() {
            Some(tag) => vec![tag.to_owned()],
            None => self.list_of("locale")?,
        };
        let tags: Option<Vec<Tag>> = tags.iter().map(|tag| tag.parse().ok()).collect();
        tags.map(Locales)
    }

    /// The forms it declares, if it does.
    pub fn forms(&self) -> Vec<Form> {
        self.list_of("forms")
            .unwrap_or_default()
            .iter()
            .filter_map(|pattern| pattern.parse().ok())
            .collect()
    }

    /// The blanks it declares, if it does.
    pub fn blanks(&self) -> Option<Vec<String>> {
        self.list_of("blanks")
    }

    fn value_of(&self, key: &str) -> Option<&Value> {
        (self.keys == ["read", key]).then_some(&self.value)
    }

    /// One of a few words.
    fn word_of<W: serde::de::DeserializeOwned>(&self, key: &str) -> Option<W> {
        let word = self.value_of(key)?.as_str()?;
        W::deserialize(StrDeserializer::<serde::de::value::Error>::new(word)).ok()
    }

    fn list_of(&self, key: &str) -> Option<Vec<String>> {
        let list = self.value_of(key)?.as_array()?;
        Some(
            list.iter()
                .filter_map(Value::as_str)
                .map(str::to_owned)
                .collect(),
        )
    }
}

impl Rulings {
    /// The rulings with `settings` put into them, in order.
    ///
    /// # Errors
    ///
    /// Where a setting names a key that does not exist, or a value that it
    /// cannot have.
    pub fn with_settings(&self, settings: &[Setting]) -> Result<Rulings, RulingsError> {
        let mut rulings = self.clone();
        for setting in settings {
            let error = |message: String| RulingsError::Setting {
                setting: setting.text.clone(),
                message,
            };
            let mut document =
                toml_edit::ser::to_document(&rulings).map_err(|cause| error(cause.to_string()))?;
            put(&mut document, setting).map_err(&error)?;
            rulings = toml_edit::de::from_document(document)
                .map_err(|cause| error(with_nearest(cause.message())))?;
        }
        // All of them together may make sense where the first alone does not.
        if let (Err((column, cause)), Some(last)) = (rulings.check(), settings.last()) {
            return Err(RulingsError::Setting {
                setting: last.text.clone(),
                message: format!("column `{column}`: {cause}"),
            });
        }
        Ok(rulings)
    }
}

fn put(document: &mut DocumentMut, setting: &Setting) -> Result<(), String> {
    let columns = document
        .entry("column")
        .or_insert_with(|| Item::Table(Table::new()));
    let mut at = columns
        .as_table_like_mut()
        .ok_or("`column` is no table")?
        .entry(&setting.column)
        .or_insert_with(|| Item::Table(Table::new()));
    for key in &setting.keys {
        at = at
            .as_table_like_mut()
            .ok_or_else(|| format!("`{key}` stands below a key that has a value of its own"))?
            .entry(key)
            .or_insert(Item::None);
        if at.is_none() && Some(key) != setting.keys.last() {
            *at = Item::Value(Value::InlineTable(toml_edit::InlineTable::new()));
        }
    }
    *at = Item::Value(setting.value.clone());
    Ok(())
}
