//! Cell + ruling → verdict.
//!
//! A [`Decider`] is a ruling made ready for a column. It needs no other
//! row, so that rows can be converted in any order, on any thread.
//!
//! ```
//! use metachron_core::decide::{RowContext, Decider};
//! use metachron_core::row::OutCell;
//! use metachron_core::rulings::Rulings;
//! use metachron_core::stamp::Stamp;
//! use metachron_core::decide::Verdict;
//!
//! let rulings = Rulings::from_toml(
//!     "metachron = 1\n[column.due]\nkind = \"date\"\nread = { forms = [\"d/M/yyyy\"] }",
//! )?;
//! let mut converter = Decider::new(&rulings, "due")?.expect("there is a ruling on `due`");
//! let day = OutCell::Stamp(Stamp::Date(jiff::civil::date(2024, 12, 31)));
//! let mut text = Vec::new();
//! assert_eq!(converter.convert("31/12/2024", &mut text), (Verdict::Certain, day));
//! assert_eq!(converter.convert("12/31/2024", &mut text), (Verdict::Unreadable, OutCell::Blank));
//! assert_eq!(
//!     converter.decide("12/31/2024", &RowContext::default()).sentence(),
//!     "month 31 does not exist in d/M/yyyy; only M/d/yyyy would read it",
//! );
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod context;
mod decision;
mod digit_cells;
mod instants;
mod judgement;
mod kinds;
mod known;
mod neighbours;
mod own_reading;
mod plan;
mod plans;
mod prose;
mod reason;
mod row_key;

pub use context::RowContext;
pub(crate) use context::{Needs, day_of, is_before};
pub use decision::{Alternative, Decision, GroupReason, Reason, ReasonCode};
pub use judgement::Verdict;
pub(crate) use judgement::{Judgement, OpenReason, UnreadableReason};
pub(crate) use kinds::{KindMismatch, to_kind};
pub(crate) use neighbours::{CellInTime, NeighbourResolver, SharedReadings};
pub use own_reading::{OwnReading, SeveralReadings};
pub(crate) use plan::{Basis, Choice, ShapePlan};
pub use row_key::RowKey;

use crate::cache::{Cache, Memo};
use crate::cell::Cell;
use crate::evidence::is_marker;
use crate::form::{Order, RowFacts};
use crate::lex::{Key, Lexer, Words};
use crate::reading::Stamps;
use crate::row::OutCell;
use crate::rulings::{Blanks, ColumnRuling, Rulings, StampRenderer, WriteError};
use crate::stamp::Stamp;
use crate::zone::Zones;
use context::Rules;
use instants::InstantResolver;
use jiff::civil::DateTime;
use known::Known;
use plans::Plans;
use std::sync::Arc;

/// Converts the cells of one column.
#[derive(Clone, Debug)]
pub struct Decider {
    ruling: Arc<ColumnRuling>,
    renderer: StampRenderer,
    blanks: Blanks,
    lexer: Lexer,
    rules: Rules,
    instants: Option<InstantResolver>,
    /// The ruling by the orders that its forms have in one group of rows. The
    /// first is the one of no group.
    groups: Vec<Group>,
    orders: Vec<Option<Order>>,
    stamps: Stamps,
    memory: usize,
    /// The earliest and the latest stamp so far.
    span: Option<(Stamp, Stamp)>,
    /// The stamp of the last cell.
    stamp: Option<Stamp>,
    scratch: String,
}

/// At most twice so many cells are remembered of a column: the days of a year
/// and a half.
const MOST_SLOTS: usize = 256;

/// The same of what cells are by themselves, where the rest of the table is asked
/// too: the days of twenty years, in two orders.
const MOST_READINGS: usize = 8192;

/// The ruling for one group of rows, at work.
#[derive(Clone, Debug)]
struct Group {
    orders: Vec<Option<Order>>,
    ruling: Arc<ColumnRuling>,
    plans: Plans,
    cache: Cache<Key, Known>,
    /// What cells are by themselves.
    readings: Memo<Key, OwnReading>,
}

impl Group {
    /// One for rows with these orders, which remembers no more cells than fit into so
    /// many bytes.
    fn new(
        ruling: Arc<ColumnRuling>,
        orders: Vec<Option<Order>>,
        zones: &Arc<Zones>,
        memory: usize,
    ) -> Group {
        Group {
            orders,
            ruling,
            plans: Plans::new(zones, memory),
            cache: Cache::new(MOST_SLOTS, memory),
            readings: Memo::new(MOST_READINGS, memory),
        }
    }
}

impl Decider {
    /// The decider of `column`; `None` where the rulings have none on it.
    ///
    /// # Errors
    ///
    /// Where the column cannot be written as it is ruled.
    ///
    /// ```
    /// use metachron_core::decide::{Decider, RowContext, Verdict};
    /// use metachron_core::rulings::Rulings;
    ///
    /// let rulings = Rulings::from_toml(
    ///     "metachron = 1\n[column.due]\nkind = \"date\"\nread = { forms = [\"dd/MM/yyyy\"] }",
    /// )?;
    /// let mut decider = Decider::new(&rulings, "due")?.expect("there is a ruling on it");
    /// let decision = decider.decide("04/03/2024", &RowContext::default());
    /// assert_eq!(decision.verdict, Verdict::Settled);
    /// assert_eq!(decision.stamp.unwrap().to_string(), "2024-03-04");
    /// let decision = decider.decide("31/02/2024", &RowContext::default());
    /// assert_eq!(decision.verdict, Verdict::Unreadable);
    /// assert_eq!(decision.sentence(), "February 2024 has no day 31 in dd/MM/yyyy");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn new(rulings: &Rulings, column: &str) -> Result<Option<Decider>, WriteError> {
        let Some(ruling) = rulings.column.get(column) else {
            return Ok(None);
        };
        let (rules, instants) = Rules::of(ruling, &rulings.zones);
        let orders = vec![None; ruling.groups().count()];
        // Threads share it: of thousands of columns, a copy each adds up.
        let shared = Arc::new(ruling.clone());
        let zones = Arc::new(ruling.read.all_zones(&rulings.zones));
        Ok(Some(Decider {
            renderer: ruling.write.renderer(ruling.kind)?,
            blanks: rulings.blanks(Some(ruling)),
            lexer: Lexer::new(ruling.read.names(), Words::Keep),
            groups: vec![Group::new(
                if orders.is_empty() {
                    shared.clone()
                } else {
                    Arc::new(ruling.within(&orders))
                },
                orders.clone(),
                &zones,
                usize::MAX,
            )],
            ruling: shared,
            rules,
            instants,
            orders,
            stamps: Stamps::new(),
            memory: usize::MAX,
            span: None,
            stamp: None,
            scratch: String::new(),
        }))
    }

    /// The same converter, remembering no more cells than fit into `bytes`
    /// bytes: for tables of very many columns.
    pub fn with_memory(mut self, bytes: usize) -> Decider {
        self.memory = bytes;
        let group = &mut self.groups[0];
        group.plans = Plans::new(&group.plans.zones, bytes);
        group.cache = Cache::new(MOST_SLOTS, bytes);
        group.readings = Memo::new(MOST_READINGS, bytes);
        self
    }

    /// What the ruling needs to know of a row besides the cell.
    pub fn needs(&self) -> &Needs {
        self.rules.needs()
    }

    /// Decides on a cell, whatever its row says: the verdict, and the cell of
    /// the clean table, which is blank unless the verdict is certain or
    /// settled. The text of one that is no stamp is appended to `text`.
    #[inline]
    pub fn convert<'c>(
        &mut self,
        raw: impl Into<Cell<'c>>,
        text: &mut Vec<u8>,
    ) -> (Verdict, OutCell) {
        let raw = raw.into();
        if self.rules.choose() {
            self.convert_in_context(raw, &RowContext::default(), text)
        } else {
            self.convert_cached(0, raw, text)
        }
    }

    /// Whether the rest of the table may choose among the readings of a cell.
    pub(crate) fn chooses(&self) -> bool {
        self.rules.choose()
    }

    /// The same as [`Decider::convert`] for a cell that is `own_reading` by itself,
    /// given what the rest of the table says about it.
    pub(crate) fn convert_reading(
        &mut self,
        own_reading: &OwnReading,
        context: &RowContext<'_>,
        text: &mut Vec<u8>,
    ) -> (Verdict, OutCell) {
        let (verdict, stamp) = self.choose(own_reading, context);
        self.write(verdict, stamp, text)
    }

    /// The same as [`Decider::convert`], given what the rest of the table
    /// says about the cell.
    pub fn convert_in_context(
        &mut self,
        raw: Cell<'_>,
        context: &RowContext<'_>,
        text: &mut Vec<u8>,
    ) -> (Verdict, OutCell) {
        let row_facts = self.rules.row_facts(context);
        let by_row = self
            .instants
            .as_ref()
            .is_some_and(InstantResolver::is_by_row);
        if row_facts == RowFacts::default() && !self.rules.choose() && !by_row {
            let group = self.group(context);
            return self.convert_cached(group, raw, text);
        }
        let (verdict, stamp) = self.read(raw, context);
        self.write(verdict, stamp, text)
    }

    #[inline(always)]
    fn convert_cached(
        &mut self,
        group: usize,
        raw: Cell<'_>,
        text: &mut Vec<u8>,
    ) -> (Verdict, OutCell) {
        let cache = &mut self.groups[group].cache;
        let key = if cache.is_in_use() {
            Key::of_cell(raw)
        } else {
            None
        };
        if let Some(key) = &key
            && let Some(known) = cache.get(key)
        {
            self.stamp = known.stamp;
            return (known.verdict, known.cell(&mut self.renderer, text));
        }
        let start = text.len();
        let (verdict, stamp) = self.by_itself(group, raw, &RowContext::default());
        let (verdict, cell) = self.write(verdict, stamp, text);
        if let Some(key) = key
            && let Some(known) = Known::of(verdict, self.stamp, &text[start..])
        {
            self.groups[group].cache.put(key, known);
        }
        (verdict, cell)
    }

    /// The stamp of the cell that was converted last, if its verdict is
    /// certain or settled.
    #[inline]
    pub fn stamp(&self) -> Option<Stamp> {
        self.stamp
    }

    /// The earliest and the latest stamp that was converted so far.
    pub fn span(&self) -> Option<(Stamp, Stamp)> {
        self.span
    }

    #[inline(always)]
    fn write(
        &mut self,
        verdict: Verdict,
        stamp: Option<Stamp>,
        text: &mut Vec<u8>,
    ) -> (Verdict, OutCell) {
        self.stamp = stamp;
        let Some(stamp) = stamp else {
            return (verdict, OutCell::Blank);
        };
        let is_within = |(earliest, latest)| earliest <= stamp && stamp <= latest;
        if !self.span.is_some_and(is_within) {
            self.widen_span(stamp);
        }
        match self.renderer.cell(&stamp, text) {
            Ok(cell) => (verdict, cell),
            Err(_) => {
                self.stamp = None;
                (Verdict::Open, OutCell::Blank)
            }
        }
    }

    /// As a survey tells the span: days that mark an empty cell left out.
    #[cold]
    fn widen_span(&mut self, stamp: Stamp) {
        if !stamp.date().is_some_and(is_marker) {
            let (earliest, latest) = self.span.unwrap_or((stamp, stamp));
            self.span = Some((earliest.min(stamp), latest.max(stamp)));
        }
    }

    /// How stamps are written.
    pub fn renderer(&self) -> &StampRenderer {
        &self.renderer
    }

    /// The ruling that it goes by.
    pub fn ruling(&self) -> &ColumnRuling {
        &self.ruling
    }

    /// Decides on the cell `raw`: its verdict and, if that is certain or
    /// settled, its stamp.
    pub fn read<'c>(
        &mut self,
        raw: impl Into<Cell<'c>>,
        context: &RowContext<'_>,
    ) -> (Verdict, Option<Stamp>) {
        let own_reading = self.own_reading(raw, context);
        self.choose(&own_reading, context)
    }

    /// The same of a cell that is `own_reading` by itself.
    pub fn choose(
        &self,
        own_reading: &OwnReading,
        context: &RowContext<'_>,
    ) -> (Verdict, Option<Stamp>) {
        match own_reading {
            OwnReading::Several(_) if !self.rules.choose() => (Verdict::Open, None),
            OwnReading::Several(several) => match self.rules.chosen(several, context) {
                Some(chosen) => (Verdict::Settled, Some(several.stamps[chosen])),
                None => (Verdict::Open, None),
            },
            OwnReading::One { verdict, stamp, .. } => (*verdict, Some(*stamp)),
            OwnReading::Nothing(verdict) => (*verdict, None),
        }
    }

    /// What the cell `raw` is by its own text and its group, whatever its
    /// place and the rest of its row say.
    #[inline]
    pub fn own_reading<'c>(
        &mut self,
        raw: impl Into<Cell<'c>>,
        context: &RowContext<'_>,
    ) -> OwnReading {
        let mut own = OwnReading::default();
        self.read_own(raw.into(), context, &mut own);
        own
    }

    /// The same, into what the caller uses again.
    #[inline]
    pub(crate) fn read_own(
        &mut self,
        raw: Cell<'_>,
        context: &RowContext<'_>,
        own: &mut OwnReading,
    ) {
        let group = self.group(context);
        let row_facts = self.rules.row_facts(context);
        if row_facts != RowFacts::default() || !self.read_by_digits(group, raw, own) {
            *own = self.remembered_reading(group, raw, row_facts, context);
        } else if self.instants.is_some() {
            *own = self.at_instants(std::mem::take(own), context);
        }
    }

    /// What a cell is of which more than its digits counts, or the first of its kind.
    #[inline(never)]
    fn remembered_reading(
        &mut self,
        group: usize,
        raw: Cell<'_>,
        row_facts: RowFacts,
        context: &RowContext<'_>,
    ) -> OwnReading {
        let is_by_row = (self.instants.as_ref()).is_some_and(InstantResolver::is_by_row);
        let key = Key::of_cell(raw).filter(|_| row_facts == RowFacts::default() && !is_by_row);
        let readings = &mut self.groups[group].readings;
        if let Some(known) = key.and_then(|key| readings.get(&key)) {
            return known.clone();
        }
        let local = self.local_reading(group, raw, row_facts);
        let own_reading = self.at_instants(local, context);
        if let Some(key) = key {
            let readings = &mut self.groups[group].readings;
            readings.put(key, own_reading.clone());
        }
        own_reading
    }

    /// What a cell that is `local` in no zone is on the world's time line, where the
    /// column has a zone.
    fn at_instants(&mut self, local: OwnReading, context: &RowContext<'_>) -> OwnReading {
        match &mut self.instants {
            Some(instants) => instants.own_reading(local, context),
            None => local,
        }
    }

    /// Says in `own` what a cell is in no zone, where its digits say all about it; says
    /// whether they do.
    #[inline]
    fn read_by_digits(&mut self, group: usize, raw: Cell<'_>, own: &mut OwnReading) -> bool {
        let (Cell::Text(text) | Cell::Number(text)) = raw else {
            return false;
        };
        self.groups[group].plans.read_by_digits(text, own)
    }

    /// What a cell is in no zone.
    #[inline(never)]
    fn local_reading(&mut self, group: usize, raw: Cell<'_>, row_facts: RowFacts) -> OwnReading {
        if self.blanks.find(raw.text(&mut self.scratch)).is_some() {
            return OwnReading::Nothing(Verdict::Blank);
        }
        let Ok(cell) = self.lexer.lex_cell(raw) else {
            return OwnReading::Nothing(Verdict::Unreadable);
        };
        let Group { plans, ruling, .. } = &mut self.groups[group];
        plans.read_own(ruling, &cell, row_facts, &self.blanks, &mut self.stamps)
    }

    /// The group of a row, by its index among those that were met.
    #[inline]
    fn group(&mut self, context: &RowContext<'_>) -> usize {
        if self.rules.has_groups() {
            self.group_of_row(context)
        } else {
            0
        }
    }

    fn group_of_row(&mut self, context: &RowContext<'_>) -> usize {
        self.rules.orders(context, &mut self.orders);
        let known = self
            .groups
            .iter()
            .position(|known| known.orders == self.orders);
        known.unwrap_or_else(|| {
            self.groups.push(Group::new(
                Arc::new(self.ruling.within(&self.orders)),
                self.orders.clone(),
                &self.groups[0].plans.zones,
                self.memory,
            ));
            self.groups.len() - 1
        })
    }

    /// The verdict on a cell by its own text and its group, and its stamp.
    #[inline(always)]
    fn by_itself(
        &mut self,
        group: usize,
        raw: Cell<'_>,
        context: &RowContext<'_>,
    ) -> (Verdict, Option<Stamp>) {
        let row_facts = self.rules.row_facts(context);
        let known = match raw {
            Cell::Text(text) | Cell::Number(text) if row_facts == RowFacts::default() => {
                self.groups[group].plans.convert_by_digits(text)
            }
            _ => None,
        };
        let (verdict, stamp) = match known {
            Some(known) => known,
            None => match self.local_reading(group, raw, row_facts) {
                OwnReading::One { verdict, stamp, .. } => (verdict, Some(stamp)),
                OwnReading::Several(_) => (Verdict::Open, None),
                OwnReading::Nothing(verdict) => (verdict, None),
            },
        };
        match (&mut self.instants, stamp) {
            (Some(instants), Some(stamp)) => instants.put(verdict, stamp, context),
            _ => (verdict, stamp),
        }
    }

    /// The local time that the cell `raw` is, which its zone does not make an
    /// instant.
    fn local(&mut self, raw: Cell<'_>, context: &RowContext<'_>) -> Option<DateTime> {
        if self.read(raw, context).1.is_some() {
            return None;
        }
        let instants = self.instants.take()?;
        let group = self.group(context);
        let (_, stamp) = self.by_itself(group, raw, context);
        self.instants = Some(instants);
        match stamp {
            Some(Stamp::DateTime(at)) => Some(at),
            _ => None,
        }
    }

    /// The decision on the cell `raw`: what becomes of it, why, and what it
    /// could mean.
    pub fn decide<'c>(&mut self, raw: impl Into<Cell<'c>>, context: &RowContext<'_>) -> Decision {
        let raw = raw.into();
        let (verdict, stamp) = self.read(raw, context);
        if !verdict.needs_review() {
            // It may be known, and not be written as that is ruled.
            return match stamp.map(|stamp| (stamp, self.renderer.cell(&stamp, &mut Vec::new()))) {
                Some((stamp, Err(why))) => {
                    Decision::open(Reason::Unwritable(why), vec![Alternative::Stamp(stamp)])
                }
                _ => Decision::on_known(verdict, stamp),
            };
        }
        let mut decision = self.decide_by_plan(raw, context);
        // A reviewer has to write instants, and so is shown them.
        if decision.code() == ReasonCode::Order
            && self.instants.is_some()
            && let OwnReading::Several(several) = self.own_reading(raw, context)
        {
            let instants = several.iter();
            decision.alternatives = instants
                .map(|(stamp, order)| match order {
                    Some(hypothesis) => Alternative::AsHypothesis(stamp, hypothesis),
                    None => Alternative::Stamp(stamp),
                })
                .collect();
        }
        if !decision.verdict.needs_review()
            && let Some(at) = self.local(raw, context)
            && let Some(instants) = &mut self.instants
        {
            decision = instants.decide(at, context);
        }
        if decision.verdict.needs_review() {
            decision.group = self.rules.group(context);
        }
        decision
    }

    /// The decision on a cell that waits, by its own text and its group.
    fn decide_by_plan(&mut self, raw: Cell<'_>, context: &RowContext<'_>) -> Decision {
        let group = self.group(context);
        let row_facts = self.rules.row_facts(context);
        let cell = match self.lexer.lex_cell(raw) {
            Ok(cell) => cell,
            Err(why) => return Decision::unreadable(Reason::NoDate(why), Vec::new()),
        };
        let Group { plans, ruling, .. } = &mut self.groups[group];
        let plan = plans.of(ruling, &cell);
        if plan.readings().is_empty() {
            Decision::on_formless(&cell)
        } else {
            plan.decide(&cell, row_facts)
        }
    }
}

#[cfg(test)]
mod tests;
