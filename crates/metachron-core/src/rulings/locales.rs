//! The locales that a column is read in.

use crate::calendar::Calendar;
use crate::form::{Form, Order};
use crate::locale::{Names, Tag, patterns, short_dates, usual_patterns};
use serde::{Deserialize, Serialize};

/// The locales that a column is read in: none in particular, one, or several
/// where its cells are in several languages.
///
/// ```toml
/// read = { locale = "de" }
/// read = { locale = ["de", "en"] }
/// ```
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(from = "OneOrMore", into = "OneOrMore")]
pub struct Locales(pub Vec<Tag>);

#[derive(Serialize, Deserialize)]
#[serde(untagged, expecting = "a locale such as \"fr-CH\", or a list of them")]
enum OneOrMore {
    One(Tag),
    More(Vec<Tag>),
}

impl From<OneOrMore> for Locales {
    fn from(tags: OneOrMore) -> Locales {
        match tags {
            OneOrMore::One(tag) => Locales(vec![tag]),
            OneOrMore::More(tags) => Locales(tags),
        }
    }
}

impl From<Locales> for OneOrMore {
    fn from(locales: Locales) -> OneOrMore {
        match <[Tag; 1]>::try_from(locales.0) {
            Ok([tag]) => OneOrMore::One(tag),
            Err(tags) => OneOrMore::More(tags),
        }
    }
}

impl Locales {
    /// Whether no locale is named.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// The calendar of the first.
    pub fn calendar(&self) -> Calendar {
        self.0.first().map_or(Calendar::Gregory, Tag::calendar)
    }

    /// The names of all of them, with months and eras of `calendar`; those of
    /// every language where no locale is named.
    pub fn names(&self, calendar: Calendar) -> Names {
        match self.0[..] {
            [] => Names::Anywhere,
            _ => Names::of(&self.0, calendar),
        }
    }

    /// The forms in which they write dates and times, in `calendar`.
    pub fn forms(&self, calendar: Calendar) -> Vec<Form> {
        let patterns = self.0.iter().flat_map(|tag| patterns(tag, calendar));
        let mut forms: Vec<Form> = Vec::new();
        for form in patterns.filter_map(|pattern| pattern.parse().ok()) {
            if !forms.contains(&form) {
                forms.push(form);
            }
        }
        forms
    }

    /// The forms in which CLDR's editions write dates of the first in short, with two
    /// digits of the year or four, each with those editions, where they do not agree
    /// about the order of day, month and year.
    pub fn short_forms(&self) -> Vec<(Form, &'static str)> {
        let first = self
            .0
            .first()
            .filter(|tag| tag.calendar() == Calendar::Gregory);
        let patterns = first.into_iter().flat_map(short_dates);
        let forms = patterns.flat_map(|(pattern, editions)| {
            let start = pattern.find('y').unwrap_or(pattern.len());
            let end = pattern.rfind('y').map_or(pattern.len(), |last| last + 1);
            let with = |year: &str| format!("{}{year}{}", &pattern[..start], &pattern[end..]);
            ["yy", "yyyy"].map(|year| (with(year), editions))
        });
        let forms = forms.filter_map(|(pattern, editions)| Some((pattern.parse().ok()?, editions)));
        forms.collect()
    }

    /// The order in which the first writes dates in numbers.
    pub fn order(&self) -> Option<Order> {
        let numbers = |form: &Form| !form.has_month_name();
        let patterns = usual_patterns(self.0.first()?, self.calendar()).into_iter();
        let mut forms = patterns.filter_map(|pattern| pattern.parse().ok());
        forms.find(numbers)?.order()
    }
}
