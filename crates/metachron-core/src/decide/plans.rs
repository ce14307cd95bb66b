//! The plans of the shapes that a column's cells have, each made once.

use super::digit_cells::DigitCells;
use super::own_reading::Meaning;
use super::{OwnReading, ShapePlan, Verdict};
use crate::form::{Form, RowFacts};
use crate::lex::Lexed;
use crate::reading::{Readings, Stamps};
use crate::rulings::{Blanks, ColumnRuling};
use crate::zone::Zones;
use std::num::NonZeroU64;
use std::sync::Arc;

/// The plans made so far, one for each shape that was met.
#[derive(Clone, Debug, Default)]
pub(super) struct Plans {
    plans: Vec<Planned>,
    last: usize,
    /// The layout of the last cell: cells of a kind follow each other.
    layout: Option<NonZeroU64>,
    forms: Option<Vec<Form>>,
    pub(super) zones: Arc<Zones>,
    /// What is known of cells by their digits may take so many bytes.
    memory: usize,
}

/// The plan of a shape, and what is known of its cells.
#[derive(Clone, Debug)]
pub(super) struct Planned {
    pub(super) plan: ShapePlan,
    pub(super) digit_cells: Option<DigitCells>,
}

/// Free text has no end of shapes; past this many, plans are made again.
const MOST_PLANS: usize = 256;

impl Plans {
    /// None yet, where names in cells stand for these zones. What is known of cells
    /// may take so many bytes.
    pub(super) fn new(zones: &Arc<Zones>, memory: usize) -> Plans {
        Plans {
            zones: zones.clone(),
            memory,
            ..Plans::default()
        }
    }

    #[inline]
    pub(super) fn of(&mut self, ruling: &ColumnRuling, cell: &Lexed<'_>) -> &mut Planned {
        if self.find(cell).is_none() {
            self.make(ruling, cell);
        }
        &mut self.plans[self.last]
    }

    /// The plan of the cell's shape, which becomes the last.
    #[inline]
    pub(super) fn find(&mut self, cell: &Lexed<'_>) -> Option<&mut Planned> {
        if self.layout.is_none() || cell.layout() != self.layout {
            let fits = |planned: &Planned| planned.plan.readings().shape().fits(cell);
            if !self.plans.get(self.last).is_some_and(fits) {
                self.last = self.plans.iter().position(fits)?;
            }
            self.layout = cell.layout();
        }
        self.plans.get_mut(self.last)
    }

    #[cold]
    fn make(&mut self, ruling: &ColumnRuling, cell: &Lexed<'_>) {
        if self.plans.len() == MOST_PLANS {
            self.plans.clear();
        }
        let forms = self.forms.get_or_insert_with(|| ruling.read.all_forms());
        let readings = Readings::new(cell.shape(), forms).with_zones(&self.zones);
        let plan = ShapePlan::of(ruling, readings);
        let digit_cells = DigitCells::new(self.memory);
        self.plans.push(Planned { plan, digit_cells });
        self.last = self.plans.len() - 1;
        self.layout = cell.layout();
    }
}

impl Planned {
    /// Says in `own` what `cell` is in no zone.
    pub(super) fn read_own(
        &mut self,
        cell: &Lexed<'_>,
        row_facts: RowFacts,
        blanks: &Blanks,
        stamps: &mut Stamps,
        own: &mut OwnReading,
    ) {
        let Planned { plan, digit_cells } = self;
        let mut digit_cells = digit_cells
            .as_mut()
            .filter(|_| row_facts == RowFacts::default());
        if let Some(digit_cells) = &mut digit_cells
            && digit_cells.read(cell, plan, own)
        {
            return;
        }
        let meaning = Meaning::of(plan, cell, row_facts, stamps);
        if let Some(digit_cells) = digit_cells {
            digit_cells.learn(cell, plan, blanks, &meaning);
        }
        if !meaning.put_into(own, plan, |index| stamps[index].ok()) {
            *own = OwnReading::Nothing(Verdict::Unreadable);
        }
    }
}
