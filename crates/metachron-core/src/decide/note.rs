//! What a reviewer needs to know of one cell.

use super::{Choice, Judgement, OpenReason, ShapePlan, UnreadableReason, Verdict, to_kind};
use crate::evidence::Hint;
use crate::form::{Century, Conventions, Impossible, RowYear, second_after};
use crate::lex::{Lexed, Token};
use crate::locale::{Meaning, Roles, Tag, month_of, months_meant};
use crate::reading::Stamps;
use crate::reading::leftover;
use crate::stamp::Stamp;
use crate::words::list;
use serde::Serialize;

/// Why a cell waits for a person, and what it could mean.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Note {
    /// What became of the cell.
    pub verdict: Verdict,
    /// Why, in a word.
    pub sort: ReasonCode,
    /// Why, in words.
    pub reason: String,
    /// What it could mean: a stamp and how it comes about, in words.
    pub readings: Vec<String>,
}

/// Why a cell waits, in a word.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum ReasonCode {
    /// It does not wait.
    #[default]
    None,
    /// Several orders read it differently.
    Order,
    /// The century of its two-digit year is not settled.
    Century,
    /// It means something that needs a rule of its own.
    Rule,
    /// Clocks in its zone went forward over it.
    InGap,
    /// It was twice in its zone.
    InOverlap,
    /// Its second is a leap second.
    LeapSecond,
    /// Its row does not say its zone.
    NoZone,
    /// It is of another kind than its column, or cannot be written as that is
    /// ruled.
    Kind,
    /// It is written in a way that the ruling does not know.
    NoForm,
    /// A form of the ruling writes such cells, but this one is impossible.
    Impossible,
    /// Only an order that the ruling excludes reads it.
    Contradicts,
    /// It is derived, and its phrase gives no value.
    NoValue,
}

impl Note {
    /// The note on a cell that no form of any kind could have written.
    pub fn formless() -> Note {
        Note {
            verdict: Verdict::Unreadable,
            sort: ReasonCode::NoForm,
            reason: "no date or time can be read in it".to_owned(),
            readings: Vec::new(),
        }
    }

    /// The note on `cell`, which no form could have written: what it holds
    /// besides a date, if it holds one.
    pub fn on_formless(cell: &Lexed<'_>) -> Note {
        match leftover(cell) {
            Some(left) => Note {
                reason: format!("besides a date or time it holds `{left}`"),
                ..Note::formless()
            },
            None => Note::formless(),
        }
    }
}

/// At most so many languages are named for one meaning.
const LANGUAGES_NAMED: usize = 4;

/// Which languages mean which month by the name in `cell` that they do not
/// agree about.
fn who_means_what(cell: &Lexed<'_>) -> Option<String> {
    let differs = |token: &Token| {
        token.class.may_be(Roles::MONTH) && month_of(token.value) == Meaning::DIFFERS
    };
    let index = cell.tokens().iter().position(differs)?;
    let word = cell.token_text(index).trim_end_matches('.').to_lowercase();
    let meant = months_meant(&word).into_iter().map(|(month, tags)| {
        let tags: Vec<String> = tags
            .iter()
            .take(LANGUAGES_NAMED)
            .map(Tag::to_string)
            .collect();
        let month = crate::locale::month_name(month as i8);
        format!("{month} in {}", tags.join(", "))
    });
    let meant: Vec<String> = meant.collect();
    Some(format!(
        "`{word}` is {}; the locale has to be said",
        meant.join("; ")
    ))
}

impl ShapePlan {
    /// The note on `cell`, which must be of this plan's shape.
    pub fn note(&self, cell: &Lexed<'_>, row_year: RowYear) -> Note {
        let conventions = self.conventions().row_year(row_year);
        let (outcome, stamps) = self.readings().of(cell, conventions);
        let judgement = self.judge(&outcome, self.hint(cell, conventions, &stamps));
        let (reason, readings) = match judgement {
            Judgement::Certain(index) | Judgement::Settled(index) => (
                String::new(),
                self.reading(index, &stamps).into_iter().collect(),
            ),
            Judgement::Open(reason) => self.open_note(reason, cell, &stamps),
            Judgement::Unreadable(reason) => self.unreadable_note(reason, &stamps),
        };
        Note {
            verdict: judgement.verdict(),
            sort: match judgement {
                Judgement::Certain(_) | Judgement::Settled(_) => ReasonCode::None,
                Judgement::Open(OpenReason::Order) => ReasonCode::Order,
                Judgement::Open(OpenReason::Century) => ReasonCode::Century,
                Judgement::Open(OpenReason::Rule(index)) => match stamps[index] {
                    Err(Impossible::LeapSecond) => ReasonCode::LeapSecond,
                    Err(Impossible::NeverThere) => ReasonCode::InGap,
                    Err(Impossible::TwiceThere) => ReasonCode::InOverlap,
                    _ => ReasonCode::Rule,
                },
                Judgement::Open(OpenReason::Kind(_)) => ReasonCode::Kind,
                Judgement::Unreadable(UnreadableReason::NoForm) => ReasonCode::NoForm,
                Judgement::Unreadable(UnreadableReason::Impossible(_)) => ReasonCode::Impossible,
                // A form of another look that the ruling does not name.
                Judgement::Unreadable(UnreadableReason::Contradicts(_))
                    if self.choices().is_empty() =>
                {
                    ReasonCode::NoForm
                }
                Judgement::Unreadable(UnreadableReason::Contradicts(_)) => ReasonCode::Contradicts,
            },
            reason,
            readings,
        }
    }

    /// What a cell that was read as `stamps` shows besides, as far as its verdict
    /// hangs on it.
    pub(crate) fn hint(&self, cell: &Lexed<'_>, conventions: Conventions, stamps: &Stamps) -> Hint {
        if self.may_choose() && self.readings().is_by_choice(cell, conventions, stamps) {
            return Hint::ByChoice;
        }
        if self.is_midnight(stamps) {
            Hint::Midnight
        } else {
            Hint::Plain
        }
    }

    /// Whether what the usual readings give is a day's midnight.
    fn is_midnight(&self, stamps: &Stamps) -> bool {
        let candidates = self.readings().candidates().iter().zip(stamps);
        let first = candidates
            .filter(|(candidate, _)| candidate.usual)
            .find_map(|(_, stamp)| stamp.ok());
        matches!(first, Some(Stamp::DateTime(at)) if at.time() == jiff::civil::Time::midnight())
    }

    fn open_note(
        &self,
        reason: OpenReason,
        cell: &Lexed<'_>,
        stamps: &Stamps,
    ) -> (String, Vec<String>) {
        let candidates = self.readings().candidates();
        match reason {
            OpenReason::Order => {
                let indexes = self.open_places(stamps);
                if indexes.is_empty() {
                    return self.split_note(stamps);
                }
                let orders: Vec<&str> = indexes
                    .iter()
                    .filter_map(|&index| Some(candidates[index].order()?.words()))
                    .collect();
                // Forms without a day and a month have no order to be named by.
                let forms = || {
                    indexes
                        .iter()
                        .map(|&index| candidates[index].form.to_string())
                };
                let fits = match orders[..] {
                    [] => list(&forms().collect::<Vec<_>>(), "and"),
                    _ => list(&orders, "and"),
                };
                (
                    format!("fits {fits}"),
                    self.different_readings(&indexes, stamps),
                )
            }
            OpenReason::Century => (
                "the century of its two-digit year is not settled".to_owned(),
                self.both_centuries(cell),
            ),
            OpenReason::Rule(index) => {
                let why = stamps[index].err().unwrap_or(Impossible::LeapSecond);
                let names = match why {
                    Impossible::NameDiffers => who_means_what(cell),
                    _ => None,
                };
                let reason = names.unwrap_or_else(|| why.to_string());
                (reason, self.context(index, cell, why))
            }
            OpenReason::Kind(mismatch) => {
                let reading = self
                    .settled_places()
                    .find_map(|index| self.reading(index, stamps));
                (mismatch.to_string(), reading.into_iter().collect())
            }
        }
    }

    /// The note on a cell that one form reads, and that another may still have
    /// written.
    fn split_note(&self, stamps: &Stamps) -> (String, Vec<String>) {
        let form = |index: usize| &self.readings().candidates()[index].form;
        let open = self
            .choices()
            .iter()
            .map(Choice::indexes)
            .find(|indexes| indexes.len() > 1);
        let open = open.unwrap_or_default();
        let may_still = |why: Impossible| why.awaits_rule() || why.is_slip();
        let waits = open.iter().find_map(|&index| {
            let why = stamps[index].err().filter(|why| may_still(*why))?;
            Some(format!("in {} {why}", form(index)))
        });
        let reads: Vec<usize> = open
            .iter()
            .copied()
            .filter(|&index| stamps[index].is_ok())
            .collect();
        let others: Vec<String> = reads.iter().map(|&index| form(index).to_string()).collect();
        (
            format!(
                "{}; {} would read it",
                waits.unwrap_or_default(),
                list(&others, "and")
            ),
            self.different_readings(&reads, stamps),
        )
    }

    fn unreadable_note(&self, reason: UnreadableReason, stamps: &Stamps) -> (String, Vec<String>) {
        let candidates = self.readings().candidates();
        match reason {
            UnreadableReason::NoForm => ("no form of the ruling writes it".to_owned(), Vec::new()),
            UnreadableReason::Impossible(index) => {
                let form = &candidates[index].form;
                let why = stamps[index].err().unwrap_or(Impossible::OutOfRange);
                let text = match why {
                    Impossible::Weekday { .. } => why.to_string(),
                    _ => format!("{why} in {form}"),
                };
                (text, Vec::new())
            }
            UnreadableReason::Contradicts(index) => {
                let usual = |index: &usize| candidates[*index].usual && stamps[*index].is_ok();
                let mut indexes: Vec<usize> = (0..candidates.len()).filter(usual).collect();
                if indexes.is_empty() {
                    indexes.push(index);
                }
                let forms: Vec<String> = indexes
                    .iter()
                    .map(|&index| candidates[index].form.to_string())
                    .collect();
                let forms: Vec<&str> = forms.iter().map(String::as_str).collect();
                let mut reason = format!("only {} would read it", list(&forms, "or"));
                if let Some(ruled) = self.settled_places().next() {
                    let form = &candidates[ruled].form;
                    match stamps[ruled] {
                        // That says nothing about the order.
                        Err(Impossible::Width) => {
                            reason = format!("more or fewer digits than {form} has");
                        }
                        Err(why) => reason = format!("{why} in {form}; {reason}"),
                        Ok(_) => {}
                    }
                } else {
                    reason = format!("no form of the ruling writes it; {reason}");
                }
                (reason, self.different_readings(&indexes, stamps))
            }
        }
    }

    /// The candidates of the first entry that is still open for the cell.
    fn open_places(&self, stamps: &Stamps) -> Vec<usize> {
        self.choices()
            .iter()
            .map(|choice| {
                let indexes = choice.indexes().iter().copied();
                indexes.filter(|&index| stamps[index].is_ok()).collect()
            })
            .find(|indexes: &Vec<usize>| indexes.len() > 1)
            .unwrap_or_default()
    }

    fn settled_places(&self) -> impl Iterator<Item = usize> + '_ {
        self.choices()
            .iter()
            .flat_map(|choice| choice.indexes().iter().copied())
    }

    fn reading(&self, index: usize, stamps: &Stamps) -> Option<String> {
        let stamp = to_kind(stamps[index].ok()?, self.kind());
        Some(format!(
            "{stamp} as {}",
            self.readings().candidates()[index].form
        ))
    }

    /// The readings of `places`, those with equal stamps once.
    fn different_readings(&self, indexes: &[usize], stamps: &Stamps) -> Vec<String> {
        let mut known: Vec<Stamp> = Vec::new();
        let mut readings = Vec::new();
        for &index in indexes {
            if let Ok(stamp) = stamps[index]
                && !known.contains(&stamp)
            {
                known.push(stamp);
                readings.extend(self.reading(index, stamps));
            }
        }
        readings
    }

    /// What the cell means in either century.
    fn both_centuries(&self, cell: &Lexed<'_>) -> Vec<String> {
        let candidates = self.readings().candidates();
        let indexes = self.settled_places();
        let reader = indexes
            .map(|index| &candidates[index])
            .find(|candidate| candidate.reader.read(cell, Century::Open.into()).is_ok());
        let Some(candidate) = reader else {
            return Vec::new();
        };
        [1900, 2000]
            .into_iter()
            .filter_map(|first| {
                let stamp = candidate
                    .reader
                    .read(cell, Century::Window(first).into())
                    .ok()?;
                Some(format!(
                    "{stamp} as {} in {first}–{}",
                    candidate.form,
                    first + 99
                ))
            })
            .collect()
    }

    /// The seconds on either side of a leap second.
    fn context(&self, index: usize, cell: &Lexed<'_>, why: Impossible) -> Vec<String> {
        if why != Impossible::LeapSecond {
            return Vec::new();
        }
        let reader = &self.readings().candidates()[index].reader;
        let Ok(before) = reader.read_second_before_leap(cell, self.conventions()) else {
            return Vec::new();
        };
        let after = second_after(before);
        let last = format!("{before}, the second before");
        let next = after.map(|after| format!("{after}, the second after"));
        [Some(last), next].into_iter().flatten().collect()
    }
}
