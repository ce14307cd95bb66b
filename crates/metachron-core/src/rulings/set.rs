//! `--set 'COLUMN.KEY=VALUE'`: a key of a ruling, from the command line.

use super::error::with_nearest;
use super::{ReadRuling, Rulings, RulingsError};
use crate::stamp::Kind;
use toml_edit::{DocumentMut, Item, Table, Value};

/// A key below `[column]` and its value.
///
/// The key is a TOML dotted key, written as the rulings file writes it; the
/// value is TOML, and a bare word is a string.
///
/// ```
/// use metachron_core::rulings::Setting;
///
/// let setting: Setting = "'date in'.read.order=dmy".parse()?;
/// assert_eq!(setting.column(), "date in");
/// assert!(setting.sets_read("order"));
/// # Ok::<(), metachron_core::rulings::RulingsError>(())
/// ```
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
    for (index, letter) in text.char_indices() {
        match (quote, letter) {
            (None, '=') => return Some((&text[..index], &text[index + 1..])),
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

    /// The kind that it says the column has.
    pub fn kind(&self) -> Option<Kind> {
        let is_kind = matches!(&self.keys[..], [key] if key == "kind");
        let kind = self.value.as_str().filter(|_| is_kind)?;
        Kind::ALL.into_iter().find(|known| known.name() == kind)
    }

    /// Whether it says that the column is text, and holds no dates or times:
    /// `symbol.kind=text`.
    pub fn is_text(&self) -> bool {
        self.keys == ["kind"] && self.value.as_str() == Some("text")
    }

    /// What it says about how the column is read: its own key, and no other.
    /// `None` where it says nothing of that, or nothing that makes sense, which
    /// [`Rulings::with_settings`] refuses.
    pub fn read(&self) -> Option<ReadRuling> {
        let (part, keys) = self.keys.split_first()?;
        let (key, below) = keys.split_first()?;
        let within = |value, key: &String| Value::from_iter([(key.as_str(), value)]);
        let value = below.iter().rev().fold(self.value.clone(), within);
        let mut document = DocumentMut::new();
        document.insert(key, Item::Value(value));
        let read = toml_edit::de::from_document(document);
        read.ok().filter(|_| part == "read")
    }

    /// Whether a survey that was made without it still holds: it chooses among the
    /// readings of cells, and changes none of them.
    pub fn leaves_survey(&self) -> bool {
        self.keys == ["kind"] || self.sets_read("order") || self.sets_read("century")
    }

    /// Whether it says how the column is read by this key.
    pub fn sets_read(&self, key: &str) -> bool {
        self.keys == ["read", key]
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
        for (number, setting) in settings.iter().enumerate() {
            // What is said last of whether a column is text holds.
            let is_same = |later: &Setting| later.column == setting.column;
            if setting.is_text() && settings[number + 1..].iter().any(is_same) {
                continue;
            }
            let text_columns = &mut rulings.table.text_columns;
            text_columns.retain(|column| column != setting.column());
            if setting.is_text() {
                text_columns.push(setting.column().to_owned());
                rulings.column.shift_remove(setting.column());
                continue;
            }
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
        rulings.take_forms_as_meant();
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
