//! Level 6, against a swap of day and month: a column that parts the two forms as
//! well.
//!
//! Dates that never have a day past the twelfth next to texts that always have one
//! are what an import leaves. Where a column parts the two, they may as well be of two
//! sources, one of which bills early in the month: nothing is proven.

use super::compared_columns::ComparedColumns;
use super::group::ln_factorial;
use super::justification::{Finding, Justification};
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::decide::OwnReading;
use crate::stamp::Stamp;
use std::any::Any;
use std::collections::{BTreeMap, HashMap};

/// A column with more different values than this names no sources.
const MOST_VALUES: usize = 64;

/// The last of the days that may be months too.
const LAST_MONTH: i8 = 12;

/// A column is a rival where fewer than one in so many random splits would part the
/// forms as well, all columns that were tried taken together. It is a suspicion that
/// asks, and proves nothing.
const CHANCE_ONE_IN: f64 = 1e4;

/// The cells of a column by the values of every other column.
#[derive(Debug)]
pub(super) struct SwapRivals {
    /// By the other's index; none where there are too many values, or it tells the
    /// day itself.
    columns: BTreeMap<usize, Option<Values>>,
}

/// Cells by value.
#[derive(Debug, Default)]
struct Values {
    by_value: HashMap<String, Halves>,
    /// How many cells have their day in the other column: early days are no source.
    days: u64,
}

/// The cells of the two forms.
#[derive(Clone, Copy, Debug, Default)]
struct Halves {
    /// Dates that may have been rewritten.
    rewritten: u64,
    /// Texts with a day past the twelfth.
    left: u64,
}

impl Halves {
    fn merge(&mut self, more: Halves) {
        self.rewritten += more.rewritten;
        self.left += more.left;
    }

    fn all(self) -> u64 {
        self.rewritten + self.left
    }
}

impl SwapRivals {
    /// Of the column at `index`.
    pub fn new(compared: &ComparedColumns, index: usize) -> SwapRivals {
        let near = compared.near(index).into_iter();
        SwapRivals {
            columns: near.map(|other| (other, Some(Values::default()))).collect(),
        }
    }

    /// The column that parts the two forms, with the cells of both.
    fn rival(&self) -> Option<(usize, Halves)> {
        let limit = -(CHANCE_ONE_IN * self.columns.len().max(1) as f64).ln();
        self.columns.iter().find_map(|(index, values)| {
            let (all, chance) = values.as_ref()?.parting()?;
            (chance < limit).then_some((*index, all))
        })
    }
}

impl Values {
    /// All cells, where each value has those of one form, and how likely a random
    /// split has the same, as a natural logarithm: of all the ways to spread the
    /// cells, those that leave every value one form.
    fn parting(&self) -> Option<(Halves, f64)> {
        let mut all = Halves::default();
        for halves in self.by_value.values() {
            if halves.rewritten > 0 && halves.left > 0 {
                return None;
            }
            all.merge(*halves);
        }
        let is_day = self.days == all.all();
        if all.rewritten == 0 || all.left == 0 || is_day {
            return None;
        }
        let ways = self.by_value.len() as f64 * 2_f64.ln();
        let spreads =
            ln_factorial(all.all()) - ln_factorial(all.rewritten) - ln_factorial(all.left);
        Some((all, (ways - spreads).min(0.0)))
    }
}

/// Which half a cell is of, and its day.
fn half(row: &Observed<'_>) -> Option<(Halves, i8)> {
    let day = |stamp: &Stamp| stamp.date().map(|date| date.day());
    match row.own() {
        OwnReading::Several(several) => {
            let rewritten = Halves {
                rewritten: 1,
                left: 0,
            };
            let settled = row.cell().settled.or(several.stamps.first().copied())?;
            Some((rewritten, day(&settled)?))
        }
        // The day and the month of 3 March are swapped in vain.
        OwnReading::One { stamp, .. } => {
            let left = Halves {
                rewritten: 0,
                left: 1,
            };
            let day = day(stamp).filter(|day| *day > LAST_MONTH)?;
            Some((left, day))
        }
        OwnReading::Nothing(_) => None,
    }
}

impl EvidenceSource for SwapRivals {
    fn observe(&mut self, row: &Observed<'_>) {
        let Some((half, day)) = half(row) else {
            return;
        };
        for (&index, column) in &mut self.columns {
            let Some(values) = column.as_mut() else {
                continue;
            };
            let text = row.texts[index].trim();
            values.days += u64::from(text.parse() == Ok(day));
            let is_full = values.by_value.len() == MOST_VALUES;
            match values.by_value.get_mut(text) {
                Some(known) => known.merge(half),
                None if is_full => *column = None,
                None => {
                    values.by_value.insert(text.to_owned(), half);
                }
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<SwapRivals>(later).columns;
        for (column, more) in self.columns.values_mut().zip(later.into_values()) {
            let (Some(values), Some(more)) = (column.as_mut(), more) else {
                *column = None;
                continue;
            };
            values.days += more.days;
            for (value, halves) in more.by_value {
                values.by_value.entry(value).or_default().merge(halves);
            }
            if values.by_value.len() > MOST_VALUES {
                *column = None;
            }
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let columns = self.columns.iter();
        let again = columns.map(|(index, own)| (*index, own.is_some().then(Values::default)));
        Box::new(SwapRivals {
            columns: again.collect(),
        })
    }

    fn wants_text(&self, index: usize) -> bool {
        self.columns.get(&index).is_some_and(Option::is_some)
    }

    fn is_out(&self) -> bool {
        self.columns.values().all(Option::is_none)
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let Some((index, all)) = self.rival() else {
            return Vec::new();
        };
        let forms = question.open_forms.iter();
        let swapped = forms.filter(|(_, either)| either.iter().any(|form| form.is_swapped()));
        let doubt = |form: usize| Conclusion::Doubt {
            form,
            justification: Justification {
                form: Some(form),
                found: Finding::SwapRival {
                    column: question.compared.columns[index].clone(),
                    rewritten: all.rewritten,
                    left: all.left,
                },
            },
        };
        swapped.map(|(form, _)| doubt(*form)).collect()
    }

    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        Vec::new()
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}
