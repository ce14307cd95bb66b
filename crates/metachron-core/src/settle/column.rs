//! A column while it is being settled: what is known of the form of each shape.

use super::Declared;
use super::order::rivals;
use crate::evidence::{ColumnEvidence, ShapeEvidence};
use crate::form::{Digits, Field, Form, Width};
use crate::rulings::FormRuling;
use jiff::civil::Date;

/// A column that is being settled.
pub(super) struct Column<'c> {
    pub name: &'c str,
    pub evidence: &'c ColumnEvidence,
    pub declared: &'c Declared,
    /// The reference for what is of our time.
    pub today: Date,
    pub shapes: Vec<Shape<'c>>,
}

/// The cells of one shape of the column.
pub(super) struct Shape<'c> {
    pub evidence: &'c ShapeEvidence,
    pub state: State,
}

/// What is known of the form of a shape's cells.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum State {
    /// Nothing yet.
    Undecided,
    /// They are read so.
    Ruled(FormRuling),
    /// None of the forms that they could have is one of the column's.
    NotOfColumn,
}

impl<'c> Column<'c> {
    pub(super) fn new(
        name: &'c str,
        evidence: &'c ColumnEvidence,
        declared: &'c Declared,
        today: Date,
    ) -> Column<'c> {
        let shapes = evidence.shapes.iter().map(|evidence| Shape {
            evidence,
            state: State::Undecided,
        });
        Column {
            name,
            evidence,
            declared,
            today,
            shapes: shapes.collect(),
        }
    }

    /// Puts what `source` says into the shapes that are undecided; where it is
    /// silent, they stay so.
    pub(super) fn decide(&mut self, source: impl Fn(&ShapeEvidence) -> Option<State>) {
        for shape in &mut self.shapes {
            if shape.state == State::Undecided
                && let Some(state) = source(shape.evidence)
            {
                shape.state = state;
            }
        }
    }

    /// Opens settled forms again where `test` holds of the candidate that they are, by its
    /// index; none where something is declared that says the order.
    pub(super) fn open_again_where(&mut self, test: impl Fn(&ShapeEvidence, usize) -> bool) {
        if self.declared.is_order_said() || !self.declared.locale.is_empty() {
            return;
        }
        for (shape, ruling) in self.ruled_mut() {
            if let FormRuling::Settled(form) = ruling
                && let Some(index) = shape.readings.index_of(form)
                && test(shape, index)
            {
                *ruling = open_again(form, shape);
            }
        }
    }

    /// The shapes that have a ruling, and it.
    pub(super) fn ruled(&self) -> impl Iterator<Item = (&'c ShapeEvidence, &FormRuling)> {
        self.shapes.iter().filter_map(|shape| match &shape.state {
            State::Ruled(ruling) => Some((shape.evidence, ruling)),
            State::Undecided | State::NotOfColumn => None,
        })
    }

    /// The same, to be changed.
    pub(super) fn ruled_mut(
        &mut self,
    ) -> impl Iterator<Item = (&'c ShapeEvidence, &mut FormRuling)> {
        let shapes = self.shapes.iter_mut();
        shapes.filter_map(|shape| match &mut shape.state {
            State::Ruled(ruling) => Some((shape.evidence, ruling)),
            State::Undecided | State::NotOfColumn => None,
        })
    }
}

impl State {
    /// Settled as the one of these candidates, open between several, and of no
    /// form of the column without any.
    pub(super) fn among(shape: &ShapeEvidence, indexes: &[usize]) -> State {
        let written = |index: &usize| {
            let candidate = &shape.readings.candidates()[*index];
            as_written(&candidate.form, shape, *index)
        };
        match indexes {
            [] => State::NotOfColumn,
            [index] => State::Ruled(FormRuling::Settled(written(index))),
            several => State::Ruled(FormRuling::Open(several.iter().map(written).collect())),
        }
    }
}

/// A form that was settled, open again between it and the other orders that can
/// read some of the cells of `shape`; settled still where there are none.
pub(super) fn open_again(form: &Form, shape: &ShapeEvidence) -> FormRuling {
    let rivals = rivals(form.order(), shape);
    let others = rivals.into_iter().map(|index| {
        let form = &shape.readings.candidates()[index].form;
        as_written(form, shape, index)
    });
    let all: Vec<Form> = std::iter::once(form.clone()).chain(others).collect();
    match all.len() {
        1 => FormRuling::Settled(form.clone()),
        _ => FormRuling::Open(all),
    }
}

/// The form as the cells write it: with two digits where every cell has two,
/// with names in full where some cell has them in full.
pub(crate) fn as_written(form: &Form, shape: &ShapeEvidence, index: usize) -> Form {
    let reader = &shape.readings.candidates()[index].reader;
    let (date, hour) = reader.free_numbers();
    let (month, weekday) = reader.names();
    let always = |tokens: u32| tokens != 0 && tokens & !shape.writing.always_pairs == 0;
    let wide = |tokens: u32| tokens & shape.writing.ever_wide != 0;
    form.map_fields(|field| match field {
        Field::Day(Digits::Free) | Field::Month(Digits::Free) if always(date) => {
            field.in_two_digits()
        }
        Field::Hour(Digits::Free) | Field::Hour12(Digits::Free) if always(hour) => {
            field.in_two_digits()
        }
        Field::MonthName(_) if wide(month) => Field::MonthName(Width::Wide),
        Field::Weekday(_) if wide(weekday) => Field::Weekday(Width::Wide),
        other => other,
    })
}
