//! Locales by their tags.

use super::cldr;
use crate::calendar::Calendar;
use crate::words::nearest;
use icu_locale::Locale;
use icu_locale::extensions::unicode::key;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;
use std::sync::OnceLock;

/// Every locale of CLDR, a tag a line.
const LOCALES: &str = include_str!("../../data/locales.txt");

/// A locale that dates are read in: a BCP 47 tag of a language that CLDR
/// knows, with Unicode's extensions (`th-TH-u-ca-gregory`).
///
/// ```
/// use metachron_core::locale::Tag;
///
/// let tag: Tag = "fr-CH".parse()?;
/// assert_eq!(tag.to_string(), "fr-CH");
/// let error = "frr-xx-zz-yyyyyyyyyyy".parse::<Tag>().unwrap_err().to_string();
/// assert!(error.contains("no locale"));
/// # Ok::<(), metachron_core::locale::ParseTagError>(())
/// ```
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub struct Tag(Locale);

/// The text is the tag of no locale that is known.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("no locale has the tag `{tag}`{hint}")]
pub struct ParseTagError {
    tag: String,
    hint: String,
}

/// Every locale that CLDR has data of its own for.
pub fn locales() -> impl Iterator<Item = &'static str> {
    LOCALES.lines().filter(|line| !line.starts_with('#'))
}

/// The languages of these locales. To look through the list for each tag took 5 ms of a
/// survey that met a name.
fn languages() -> &'static HashSet<&'static str> {
    static LANGUAGES: OnceLock<HashSet<&str>> = OnceLock::new();
    let language = |tag: &'static str| tag.split('-').next();
    LANGUAGES.get_or_init(|| locales().filter_map(language).collect())
}

impl Tag {
    /// The calendar that the locale writes dates in.
    pub fn calendar(&self) -> Calendar {
        cldr::calendar(&self.0)
    }

    /// Whether the tag itself asks for another calendar than the Gregorian
    /// one, in its extension `ca`.
    pub fn asks_for_other_calendar(&self) -> bool {
        let asked = self.0.extensions.unicode.keywords.get(&key!("ca"));
        asked.is_some() && self.calendar() != Calendar::Gregory
    }

    /// How the locale writes the fifth of March 2024, half past two in the
    /// afternoon: in short, and in full with the weekday.
    ///
    /// ```
    /// use metachron_core::locale::Tag;
    ///
    /// let tag: Tag = "de".parse()?;
    /// let [short, full] = tag.samples();
    /// assert_eq!(short, "05.03.24, 14:30");
    /// assert_eq!(full, "Dienstag, 5. März 2024 um 14:30");
    /// # Ok::<(), metachron_core::locale::ParseTagError>(())
    /// ```
    pub fn samples(&self) -> [String; 2] {
        cldr::samples(&self.0).unwrap_or_default()
    }

    /// The language alone.
    pub(super) fn language(&self) -> &str {
        self.0.id.language.as_str()
    }

    /// The language, and its script if the tag names one.
    pub(crate) fn language_and_script(&self) -> String {
        match self.0.id.script {
            Some(script) => format!("{}-{script}", self.0.id.language),
            None => self.language().to_owned(),
        }
    }

    /// The region, if the tag names one.
    pub(super) fn region(&self) -> Option<&str> {
        self.0.id.region.as_ref().map(|region| region.as_str())
    }

    pub(super) fn locale(&self) -> &Locale {
        &self.0
    }
}

impl std::fmt::Display for Tag {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

impl std::str::FromStr for Tag {
    type Err = ParseTagError;

    fn from_str(text: &str) -> Result<Tag, ParseTagError> {
        let wrong = || ParseTagError {
            tag: text.to_owned(),
            hint: match nearest(text, locales()).filter(|_| text.contains('-') || text.len() <= 3) {
                Some(near) => format!("; did you mean `{near}`?"),
                None => "; `metachron locales` lists them".to_owned(),
            },
        };
        let tag: Locale = text.replace('_', "-").parse().map_err(|_| wrong())?;
        let language = tag.id.language.to_string();
        if languages().contains(&*language) {
            Ok(Tag(tag))
        } else {
            Err(wrong())
        }
    }
}

impl TryFrom<String> for Tag {
    type Error = ParseTagError;

    fn try_from(text: String) -> Result<Tag, ParseTagError> {
        text.parse()
    }
}

impl From<Tag> for String {
    fn from(tag: Tag) -> String {
        tag.to_string()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tags_and_their_calendars() {
        for (tag, calendar) in [
            ("en-PK", Calendar::Gregory),
            ("th-TH", Calendar::Buddhist),
            ("th-TH-u-ca-gregory", Calendar::Gregory),
            ("fa_IR", Calendar::Persian),
            ("ja-JP-u-ca-japanese", Calendar::Japanese),
            ("zh-Hant-TW-u-ca-roc", Calendar::Roc),
        ] {
            assert_eq!(tag.parse::<Tag>().unwrap().calendar(), calendar, "{tag}");
        }
    }

    #[test]
    fn unknown_tags_get_the_nearest() {
        for (tag, hint) in [
            ("de-", "did you mean `de`"),
            ("english", "`metachron locales`"),
            ("qq", ""),
        ] {
            let error = tag.parse::<Tag>().unwrap_err().to_string();
            assert!(error.contains(hint), "{error}");
        }
    }
}
