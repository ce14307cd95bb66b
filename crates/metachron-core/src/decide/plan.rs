//! A ruling, made ready for one shape.

use super::kinds::ReadZone;
use super::to_kind;
use crate::calendar::Calendar;
use crate::form::{Century, Conventions};
use crate::reading::Readings;
use crate::rulings::{ColumnRuling, FormRuling, PeriodAs, Placeholders};
use crate::stamp::{Kind, Stamp};

/// A ruling, made ready for one shape.
#[derive(Clone, Debug)]
pub struct ShapePlan {
    readings: Readings,
    choices: Vec<Choice>,
    kind: Kind,
    zone: ReadZone,
    /// No calendar is said, so that years far from our time may be those of
    /// another one.
    doubts_far_years: bool,
    conventions: Conventions,
    period_as: PeriodAs,
    placeholders: Placeholders,
    /// Whether those may choose one of two instants.
    may_choose: bool,
}

/// An entry of the ruling's forms, as candidates of the shape.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Choice {
    /// The form that decides.
    Settled {
        /// Its index among the candidates.
        index: usize,
        /// What it rests on.
        basis: Basis,
        /// The entry's number in the ruling, from 0.
        form: usize,
    },
    /// The forms that are still possible.
    Open {
        /// Their indexes among the candidates.
        indexes: Vec<usize>,
        /// The entry's number in the ruling, from 0.
        form: usize,
    },
}

/// What a choice rests on, as far as the ruling itself tells.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Basis {
    /// The ruling names one form.
    OneForm,
    /// The ruling names several and an order that chooses among them.
    OrderOfSeveral,
}

impl Choice {
    /// The candidates that it names.
    pub fn indexes(&self) -> &[usize] {
        match self {
            Choice::Settled { index, .. } => std::slice::from_ref(index),
            Choice::Open { indexes, .. } => indexes,
        }
    }
}

impl ShapePlan {
    /// The plan of `ruling` for the shape of `readings`, which may know less
    /// strict forms than the ruling: those of a survey made before it.
    pub fn of(ruling: &ColumnRuling, mut readings: Readings) -> ShapePlan {
        let entries = ruling.read.forms.iter().enumerate();
        let mut choices: Vec<(Choice, bool)> = entries
            .filter_map(|(form, entry)| {
                let choice = choice(entry, form, ruling, &mut readings)?;
                let whole = match &choice {
                    Choice::Settled { .. } => true,
                    Choice::Open { indexes, .. } => indexes.len() == entry.alternatives().len(),
                };
                Some((choice, whole))
            })
            .collect();
        // Of an open entry that one form fits by chance, as `elapsed units`
        // fits many shapes, the shape's own entry tells more.
        choices.sort_by_key(|(_, whole)| !whole);
        let choices = choices.into_iter().map(|(choice, _)| choice).collect();
        let conventions = ruling.read.conventions();
        ShapePlan {
            choices,
            kind: ruling.kind,
            zone: if ruling.read.has_zone() {
                ReadZone::Ruled
            } else {
                ReadZone::Unknown
            },
            doubts_far_years: ruling.read.calendar.is_none()
                && conventions.calendar == Calendar::Gregory,
            conventions,
            period_as: ruling.read.period_as,
            placeholders: ruling.read.placeholders.clone(),
            may_choose: readings.leave_choice(conventions),
            readings,
        }
    }

    /// The candidates of the shape.
    pub fn readings(&self) -> &Readings {
        &self.readings
    }

    /// The entries of the ruling that fit the shape, in order.
    pub fn choices(&self) -> &[Choice] {
        &self.choices
    }

    /// The kind of the column.
    pub fn kind(&self) -> Kind {
        self.kind
    }

    /// Whether local times of the column have a zone.
    pub(super) fn zone(&self) -> ReadZone {
        self.zone
    }

    /// Which day a period is among dates.
    pub(super) fn period_as(&self) -> PeriodAs {
        self.period_as
    }

    /// `stamp` as the column holds it, which it belongs into.
    #[inline]
    pub(super) fn in_column(&self, stamp: Stamp) -> Stamp {
        if stamp.kind() == self.kind {
            return stamp;
        }
        let day = match self.kind {
            Kind::Date | Kind::DateTime => self.period_as.day_of(stamp),
            _ => None,
        };
        to_kind(day.map_or(stamp, Stamp::Date), self.kind)
    }

    /// Whether a cell that reads as `stamp`, before any zone, is ruled to stand for no date.
    #[inline]
    pub(super) fn is_placeholder(&self, stamp: Stamp) -> bool {
        let day = || stamp.date();
        !self.placeholders.is_empty() && day().is_some_and(|day| self.placeholders.are_blank(day))
    }

    /// What a cell of the column is that reads as `stamp`; `None` where that is ruled to
    /// stand for no date.
    #[inline(always)]
    pub(super) fn stamp_of_column(&self, stamp: Stamp) -> Option<Stamp> {
        let stamp = self.in_column(stamp);
        (!self.is_placeholder(stamp)).then_some(stamp)
    }

    /// Whether years far from our time wait for a person.
    pub(super) fn doubts_far_years(&self) -> bool {
        self.doubts_far_years
    }

    /// What the cells leave unsaid.
    pub fn conventions(&self) -> Conventions {
        self.conventions
    }

    /// Whether the conventions may choose what a cell is.
    pub(super) fn may_choose(&self) -> bool {
        self.may_choose
    }

    pub(super) fn century_is_open(&self) -> bool {
        self.conventions.century == Century::Open
    }
}

fn choice(
    entry: &FormRuling,
    number: usize,
    ruling: &ColumnRuling,
    readings: &mut Readings,
) -> Option<Choice> {
    match entry {
        FormRuling::Settled(form) => Some(Choice::Settled {
            index: readings.name(form)?,
            basis: Basis::OneForm,
            form: number,
        }),
        FormRuling::Open(_) | FormRuling::ByGroup(_) => {
            let forms = entry.alternatives();
            let indexes: Vec<usize> = forms
                .iter()
                .filter_map(|form| readings.name(form))
                .collect();
            let ruled = |index: &&usize| {
                ruling.read.order.is_some()
                    && readings.candidates()[**index].order() == ruling.read.order
            };
            if let Some(&index) = indexes.iter().find(ruled) {
                return Some(Choice::Settled {
                    index,
                    basis: Basis::OrderOfSeveral,
                    form: number,
                });
            }
            (!indexes.is_empty()).then_some(Choice::Open {
                indexes,
                form: number,
            })
        }
    }
}
