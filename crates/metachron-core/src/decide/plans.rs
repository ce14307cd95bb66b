//! The plans of the shapes that a column's cells have, each made once, and what cells were
//! found to be by them.

use super::digit_cells::{DigitCell, DigitCells};
use super::own_reading::Meaning;
use super::{OwnReading, ShapePlan, Verdict};
use crate::form::{Form, RowFacts};
use crate::lex::Lexed;
use crate::reading::{Readings, Stamps};
use crate::rulings::{Blanks, ColumnRuling};
use crate::stamp::Stamp;
use crate::zone::Zones;
use std::num::NonZeroU64;
use std::sync::Arc;

/// The plans made so far, one for each shape that was met.
#[derive(Clone, Debug)]
pub(super) struct Plans {
    plans: Vec<ShapePlan>,
    last: usize,
    /// The layout of the last cell: cells of a kind follow each other.
    layout: Option<NonZeroU64>,
    forms: Option<Vec<Form>>,
    pub(super) zones: Arc<Zones>,
    digit_cells: DigitCells,
}

/// Free text has no end of shapes; past this many, plans are made again.
const MOST_PLANS: usize = 256;

impl Plans {
    /// None yet, where names in cells stand for these zones. What is known of cells by
    /// their digits may take so many bytes.
    pub(super) fn new(zones: &Arc<Zones>, memory: usize) -> Plans {
        Plans {
            plans: Vec::new(),
            last: 0,
            layout: None,
            forms: None,
            zones: zones.clone(),
            digit_cells: DigitCells::new(memory),
        }
    }

    /// The plan of the cell's shape.
    pub(super) fn of(&mut self, ruling: &ColumnRuling, cell: &Lexed<'_>) -> &ShapePlan {
        if self.layout.is_none() || cell.layout() != self.layout {
            self.last = match self.number_of(cell) {
                Some(number) => number,
                None => self.make(ruling, cell),
            };
            self.layout = cell.layout();
        }
        &self.plans[self.last]
    }

    fn number_of(&self, cell: &Lexed<'_>) -> Option<usize> {
        let fits = |plan: &ShapePlan| plan.readings().shape().fits(cell);
        if self.plans.get(self.last).is_some_and(fits) {
            return Some(self.last);
        }
        self.plans.iter().position(fits)
    }

    #[cold]
    fn make(&mut self, ruling: &ColumnRuling, cell: &Lexed<'_>) -> usize {
        if self.plans.len() == MOST_PLANS {
            self.plans.clear();
            self.digit_cells.clear();
        }
        let forms = self.forms.get_or_insert_with(|| ruling.read.all_forms());
        let readings = Readings::new(cell.shape(), forms).with_zones(&self.zones);
        self.plans.push(ShapePlan::of(ruling, readings));
        self.plans.len() - 1
    }

    /// Says in `own` what a cell of this text is in no zone, where its digits say all about
    /// it and such a cell was met; says whether that is so.
    #[inline]
    pub(super) fn read_by_digits(&mut self, text: &str, own: &mut OwnReading) -> bool {
        let plans = &self.plans;
        self.digit_cells.find(text).is_some_and(|cell| {
            let plan = plans.get(cell.plan);
            plan.is_some_and(|plan| (cell.meaning).put_into(own, plan, |index| cell.stamp(index)))
        })
    }

    /// The verdict on such a cell, and its stamp in no zone.
    // Always inline: handed up through memory, verdict and stamp cost as much as reading.
    #[inline(always)]
    pub(super) fn convert_by_digits(&mut self, text: &str) -> Option<(Verdict, Option<Stamp>)> {
        let cell: DigitCell<'_> = self.digit_cells.find(text)?;
        match cell.meaning {
            Meaning::Nothing(verdict) => Some((*verdict, None)),
            Meaning::One { index, verdict, .. } => {
                let plan = self.plans.get(cell.plan)?;
                Some(match plan.stamp_of_column(cell.stamp(*index)?) {
                    Some(stamp) => (*verdict, Some(stamp)),
                    None => (Verdict::Blank, None),
                })
            }
            Meaning::Several { .. } => Some((Verdict::Open, None)),
        }
    }

    /// Says in `own` what `cell` is in no zone.
    pub(super) fn read_own(
        &mut self,
        ruling: &ColumnRuling,
        cell: &Lexed<'_>,
        row_facts: RowFacts,
        blanks: &Blanks,
        stamps: &mut Stamps,
    ) -> OwnReading {
        self.of(ruling, cell);
        let plan = &self.plans[self.last];
        let meaning = Meaning::of(plan, cell, row_facts, stamps);
        // What a cell means in its row is not what another with its digits does.
        if row_facts == RowFacts::default() {
            let plan = (self.last, plan);
            self.digit_cells.learn(cell, plan, blanks, &meaning);
        }
        let mut own = OwnReading::default();
        if !meaning.put_into(&mut own, plan, |index| stamps[index].ok()) {
            own = OwnReading::Nothing(Verdict::Unreadable);
        }
        own
    }
}
