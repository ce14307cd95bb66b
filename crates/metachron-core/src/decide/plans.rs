//! The plans of the shapes that a column's cells have, each made once.

use super::plain_cells::PlainCells;
use super::{OwnReading, ShapePlan, own_reading};
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
    /// Whether there is room for what is known of cells of plain numbers.
    has_room: bool,
}

/// The plan of a shape, and what is known of its cells.
#[derive(Clone, Debug)]
pub(super) struct Planned {
    pub(super) plan: ShapePlan,
    pub(super) plain: Option<PlainCells>,
}

/// Free text has no end of shapes; past this many, plans are made again.
const MOST_PLANS: usize = 256;

impl Plans {
    /// None yet, where names in cells stand for these zones. What is known of cells
    /// may take so many bytes.
    pub(super) fn new(zones: &Arc<Zones>, memory: usize) -> Plans {
        Plans {
            zones: zones.clone(),
            has_room: PlainCells::BYTES <= memory,
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
        let plain = PlainCells::of(&plan).filter(|_| self.has_room);
        self.plans.push(Planned { plan, plain });
        self.last = self.plans.len() - 1;
        self.layout = cell.layout();
    }
}

impl Planned {
    pub(super) fn own_reading(
        &mut self,
        cell: &Lexed<'_>,
        row_facts: RowFacts,
        blanks: &Blanks,
        stamps: &mut Stamps,
    ) -> OwnReading {
        let Planned { plan, plain } = self;
        let plain = plain.as_mut().filter(|_| row_facts == RowFacts::default());
        let Some((plain, parts)) = plain.and_then(|plain| {
            let parts = plain.parts(cell, blanks)?;
            Some((plain, parts))
        }) else {
            return own_reading::own_reading(plan, cell, row_facts, stamps);
        };
        match plain.get(parts, plan) {
            Some(known) => known.own_reading(),
            None => {
                let own_reading = own_reading::own_reading(plan, cell, row_facts, stamps);
                plain.learn(parts, &own_reading, plan);
                own_reading
            }
        }
    }
}
