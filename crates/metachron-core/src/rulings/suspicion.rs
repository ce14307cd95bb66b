//! What a person says of cells that are converted, and look as if they were not meant.

use jiff::civil::Date;
use serde::de::Error as _;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use std::collections::BTreeMap;

/// What becomes of a day that programs write where there is no date.
///
/// ```
/// use metachron_core::rulings::{PlaceholderAs, Rulings};
///
/// let rulings = Rulings::from_toml(
///     "metachron = 1\n[column.until]\nkind = \"date\"\n\
///      read = { forms = [\"yyyy-MM-dd\"], placeholders = { 9999-12-31 = \"blank\" } }",
/// )?;
/// let placeholders = &rulings.column["until"].read.placeholders;
/// let day = jiff::civil::date(9999, 12, 31);
/// assert_eq!(placeholders.get(day), Some(PlaceholderAs::Blank));
/// # Ok::<(), metachron_core::rulings::RulingsError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PlaceholderAs {
    /// It is a day like others.
    Keep,
    /// It stands for no date: cells that read as it are blank.
    Blank,
}

/// Days of which a person said whether they are dates, or stand for none.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Placeholders(BTreeMap<Date, PlaceholderAs>);

impl Placeholders {
    /// What was said of `day`, if anything was.
    pub fn get(&self, day: Date) -> Option<PlaceholderAs> {
        self.0.get(&day).copied()
    }

    /// Whether `day` stands for no date.
    pub fn are_blank(&self, day: Date) -> bool {
        self.get(day) == Some(PlaceholderAs::Blank)
    }

    /// Whether some day stands for no date.
    pub fn have_blanks(&self) -> bool {
        self.0.values().any(|said| *said == PlaceholderAs::Blank)
    }

    /// Whether nothing was said of any day.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

// TOML has no keys but texts.
impl Serialize for Placeholders {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_map(self.0.iter().map(|(day, said)| (day.to_string(), said)))
    }
}

impl<'de> Deserialize<'de> for Placeholders {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Placeholders, D::Error> {
        let by_text = BTreeMap::<String, PlaceholderAs>::deserialize(deserializer)?;
        let days = by_text.into_iter().map(|(text, said)| match text.parse() {
            Ok(day) => Ok((day, said)),
            Err(_) => Err(D::Error::custom(format!(
                "`{text}` is no day; write it as YYYY-MM-DD, such as 9999-12-31"
            ))),
        });
        Ok(Placeholders(days.collect::<Result<_, _>>()?))
    }
}

/// What a person says of times that are all midnights of another zone.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum ShiftedMidnights {
    /// Nothing: they are converted, and asked about.
    #[default]
    Ask,
    /// They are meant as they are.
    Keep,
}

impl ShiftedMidnights {
    pub(crate) fn is_default(&self) -> bool {
        *self == ShiftedMidnights::Ask
    }
}
