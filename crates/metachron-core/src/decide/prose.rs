//! Reasons and alternatives in words: the one place where decisions are told.

use super::decision::{Alternative, Decision, GroupReason, Reason};
use crate::calendar::suggested_by;
use crate::form::{Form, Impossible};
use crate::locale::{Tag, month_name};
use crate::rulings::in_words;
use crate::stamp::Stamp;
use crate::words::list;

/// At most so many languages are named for one meaning.
const LANGUAGES_NAMED: usize = 4;

impl Decision {
    /// Why the cell waits, in a sentence without a full stop; nothing, where it
    /// does not.
    pub fn sentence(&self) -> String {
        let reason = reason(&self.reason);
        match &self.group {
            Some(group) => format!("{reason}; {}", self::group(group)),
            None => reason,
        }
    }

    /// What the cell could mean: a stamp and how it comes about, each in words.
    pub fn readings(&self) -> Vec<String> {
        self.alternatives
            .iter()
            .map(Alternative::in_words)
            .collect()
    }
}

fn reason(reason: &Reason) -> String {
    match reason {
        Reason::None => String::new(),
        Reason::Orders(orders) => {
            let orders: Vec<&str> = orders.iter().map(|order| order.words()).collect();
            format!("fits {}", list(&orders, "and"))
        }
        Reason::Forms(forms) => format!("fits {}", forms_in(forms, "and")),
        Reason::Split { other, readers } => {
            let other = other.as_ref();
            let waits = other.map(|(form, why)| format!("in {form} {why}"));
            let readers = forms_in(readers, "and");
            format!("{}; {readers} would read it", waits.unwrap_or_default())
        }
        Reason::Century => "the century of its two-digit year is not settled".to_owned(),
        Reason::FarYear(year) => match suggested_by(*year..=*year) {
            [] => format!("the year {year} is far from our time, and no year, perhaps"),
            calendars => {
                let names: Vec<&str> = calendars.iter().map(|own| own.name()).collect();
                format!(
                    "the year {year} is far from our time, and of the {} calendar, perhaps",
                    list(&names, "or")
                )
            }
        },
        Reason::FarCount(form) => {
            format!("counted as {form} it is far from our time, and counts nothing, perhaps")
        }
        Reason::Rule(why) => why.to_string(),
        Reason::NameDiffers { word, meant } => {
            let meant = meant.iter().map(|(month, tags)| {
                let tags = tags.iter().take(LANGUAGES_NAMED);
                let tags: Vec<String> = tags.map(Tag::to_string).collect();
                format!("{} in {}", month_name(*month as i8), tags.join(", "))
            });
            let meant: Vec<String> = meant.collect();
            format!(
                "`{word}` is {}; the locale has to be said",
                meant.join("; ")
            )
        }
        Reason::Kind(mismatch) => mismatch.to_string(),
        Reason::Unwritable(why) => why.to_string(),
        Reason::Formless => "no date or time can be read in it".to_owned(),
        Reason::Leftover(left) => format!("besides a date or time it holds `{left}`"),
        Reason::NoDate(why) => why.to_string(),
        Reason::NoForm => "no form of the ruling writes it".to_owned(),
        Reason::Impossible { why, form } => match why {
            Impossible::Weekday { .. } => why.to_string(),
            _ => format!("{why} in {form}"),
        },
        Reason::Contradicts { readers, ruled } => {
            let only = format!("only {} would read it", forms_in(readers, "or"));
            match ruled {
                None => format!("no form of the ruling writes it; {only}"),
                // That says nothing about the order.
                Some((form, Some(Impossible::Width))) => {
                    format!("more or fewer digits than {form} has")
                }
                Some((form, Some(why))) => format!("{why} in {form}; {only}"),
                Some((_, None)) => only,
            }
        }
        Reason::InGap(zone) => {
            format!("clocks in {zone} went forward over that time: it never was")
        }
        Reason::InFold(zone) => format!("clocks in {zone} went back over that time: it was twice"),
        Reason::ZoneEmpty(column) => {
            let column = in_words(column);
            format!("{column} is empty in its row, and would say the zone")
        }
        Reason::ZoneUnknown { column, why } => {
            let column = in_words(column);
            format!("{column}: {why}; [zones] can say which zone it is")
        }
        Reason::BeyondInstants => Impossible::BeyondInstants.to_string(),
        Reason::NoValue(refusal) => refusal.to_string(),
    }
}

fn forms_in(forms: &[Form], last: &str) -> String {
    let forms: Vec<String> = forms.iter().map(Form::to_string).collect();
    list(&forms, last)
}

fn group(group: &GroupReason) -> String {
    let names: Vec<&str> = group.columns.iter().map(|own| in_words(own)).collect();
    let columns = names.join(" and ");
    match &group.key {
        None => format!("{columns} is empty in its row"),
        Some((key, Some(order))) => format!("{columns} `{key}` writes {}", order.words()),
        Some((key, None)) => format!("the ruling has no order for {columns} `{key}`"),
    }
}

impl Alternative {
    /// What the cell could mean, and how that comes about.
    pub fn in_words(&self) -> String {
        match self {
            Alternative::AsForm(stamp, form) => format!("{stamp} as {form}"),
            Alternative::InWindow(stamp, form, first) => {
                format!("{stamp} as {form} in {first}–{}", first + 99)
            }
            Alternative::AsHypothesis(stamp, hypothesis) => format!("{stamp} as {hypothesis}"),
            Alternative::Stamp(stamp) => stamp.to_string(),
            Alternative::SecondBefore(stamp) => format!("{stamp}, the second before"),
            Alternative::SecondAfter(stamp) => format!("{stamp}, the second after"),
            Alternative::Earlier(at) => format!("{at}, the earlier"),
            Alternative::Later(at) => format!("{at}, the later"),
            Alternative::LastOfMonth(day) => {
                format!("{}, the last of the month", Stamp::Date(*day))
            }
        }
    }
}
