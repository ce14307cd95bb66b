//! Counting how open columns go with the others.

use super::Votes;
use crate::decide::{NeighbourResolver, OwnReading, is_before};
use crate::form::Order;
use crate::rulings::{GroupRuling, Part, TimeOrder};
use crate::stamp::Stamp;
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// A column with more different values than this is no group of rows.
pub(super) const MOST_VALUES: usize = 64;

/// The same for two columns together.
const MOST_PAIRS: usize = 256;

/// So many different values of a part are kept.
const PARTS_KEPT: usize = 4;

/// Which columns are looked at.
#[derive(Clone, Debug, Default)]
pub struct ComparedColumns {
    /// The names of all columns, and what stands for the file.
    pub columns: Vec<String>,
    /// The indexes of the temporal columns among them.
    pub temporal: Vec<usize>,
    /// Which of the temporal columns are open.
    pub open: Vec<usize>,
    /// Pairs of columns that may part the orders together.
    pub pairs: Vec<(usize, usize)>,
}

/// How the open columns of a table, or of a part of one, go with the others.
#[derive(Debug)]
pub struct Tally {
    /// The open columns, in the order of [`ComparedColumns::open`].
    pub columns: Vec<OpenColumn>,
}

/// How one open column goes with the others.
#[derive(Debug)]
pub struct OpenColumn {
    /// Its index among the columns.
    pub index: usize,
    /// Its cells by form and order; none for a cell that several orders read.
    pub(super) cells: Cells,
    /// By the values of every column.
    pub(super) values: Vec<Values>,
    /// By the values of every pair.
    pub(super) pairs: Vec<Values>,
    /// Against every temporal column.
    pub(super) against: Vec<Against>,
    /// Against every part that every column may repeat.
    pub(super) repeats: Vec<[Repeat; Part::ALL.len()]>,
    /// What the rows hold, in order, as far as it is not placed yet.
    marks: Vec<Mark>,
    /// The rows in time order.
    pub(super) ascending: OrderOfRows,
    /// The rows against time.
    pub(super) descending: OrderOfRows,
}

/// How many cells each form has, by the one order that can read them; none
/// for those that several can.
pub(super) type Cells = BTreeMap<(usize, Option<Order>), u64>;

/// Cells by the value of another column, or of two.
#[derive(Debug)]
pub(super) struct Values {
    /// By value, form and order; none where there are too many values.
    pub by_value: Option<HashMap<String, Cells>>,
    most: usize,
}

/// A column's stamps against those of another.
#[derive(Debug, Default)]
pub(super) struct Against {
    pub before: u64,
    pub same: u64,
    pub after: u64,
    /// What open cells are left if they are never before.
    pub if_not_before: Votes,
    /// What they are left if they are never after.
    pub if_not_after: Votes,
}

/// A column's dates against a part that another may repeat.
#[derive(Debug, Default)]
pub(super) struct Repeat {
    pub agree: u64,
    pub disagree: u64,
    /// A few different values that agree.
    pub values: BTreeSet<i16>,
    pub votes: Votes,
}

/// A column's cells in the order of the rows.
#[derive(Debug)]
pub(super) struct OrderOfRows {
    pub steps: u64,
    pub exceptions: u64,
    pub votes: Votes,
    /// Open cells that have one reading between their neighbours.
    last: Option<Stamp>,
    resolver: NeighbourResolver<(usize, Vec<Option<Order>>)>,
}

/// The number of the form of cells whose form is settled, and which were twice
/// in their zone.
const TWICE: usize = usize::MAX;

/// What stands in a row.
#[derive(Debug)]
enum Mark {
    Known(Stamp),
    Several(usize, Vec<Stamp>, Vec<Option<Order>>),
}

impl Tally {
    /// A tally of no rows.
    pub fn new(compared: &ComparedColumns) -> Tally {
        let columns = compared.open.iter().map(|&open| OpenColumn {
            index: compared.temporal[open],
            cells: BTreeMap::new(),
            values: compared
                .columns
                .iter()
                .map(|_| Values::new(MOST_VALUES))
                .collect(),
            pairs: compared
                .pairs
                .iter()
                .map(|_| Values::new(MOST_PAIRS))
                .collect(),
            against: compared
                .temporal
                .iter()
                .map(|_| Against::default())
                .collect(),
            repeats: compared
                .columns
                .iter()
                .map(|_| Default::default())
                .collect(),
            marks: Vec::new(),
            ascending: OrderOfRows::new(TimeOrder::Ascending),
            descending: OrderOfRows::new(TimeOrder::Descending),
        });
        Tally {
            columns: columns.collect(),
        }
    }

    /// Counts a row: `looks` are those of the temporal columns, `texts` the
    /// cells of all.
    pub fn row(
        &mut self,
        compared: &ComparedColumns,
        own_readings: &[OwnReading],
        texts: &[String],
    ) {
        for (column, &open) in self.columns.iter_mut().zip(&compared.open) {
            column.row(compared, open, own_readings, texts);
        }
    }

    /// Puts `later` behind this tally.
    pub fn merge(&mut self, later: Tally) {
        for (column, more) in self.columns.iter_mut().zip(later.columns) {
            column.merge(more);
        }
    }

    /// NumberPositions the cells of the rows counted so far among their neighbours.
    /// To be called on the tally of the table's first rows only, since what
    /// stands before them counts.
    pub fn index(&mut self) {
        for column in &mut self.columns {
            column.index();
        }
    }

    /// NumberPositions the cells behind the last known one: no row follows.
    pub fn finish(&mut self) {
        for column in &mut self.columns {
            column.index();
            column.ascending.finish();
            column.descending.finish();
        }
    }
}

impl OpenColumn {
    fn row(
        &mut self,
        compared: &ComparedColumns,
        open: usize,
        own_readings: &[OwnReading],
        texts: &[String],
    ) {
        match &own_readings[open] {
            OwnReading::Nothing(_) => {}
            OwnReading::One {
                stamp, decisive, ..
            } => {
                self.known(*stamp, open, own_readings, texts);
                if let Some((form, order)) = decisive {
                    self.count(compared, *form, Some(*order), texts);
                }
            }
            OwnReading::Several {
                form,
                stamps,
                orders,
            } => {
                if let Some(form) = form {
                    self.count(compared, *form, None, texts);
                }
                self.open_cell(
                    form.unwrap_or(TWICE),
                    stamps,
                    orders,
                    (open, own_readings),
                    texts,
                );
            }
        }
    }

    fn count(
        &mut self,
        compared: &ComparedColumns,
        form: usize,
        order: Option<Order>,
        texts: &[String],
    ) {
        *self.cells.entry((form, order)).or_default() += 1;
        for (index, values) in self.values.iter_mut().enumerate() {
            if index != self.index {
                values.add([texts[index].as_str()], form, order);
            }
        }
        for (values, &(one, other)) in self.pairs.iter_mut().zip(&compared.pairs) {
            values.add([texts[one].as_str(), texts[other].as_str()], form, order);
        }
    }

    fn known(&mut self, stamp: Stamp, open: usize, own_readings: &[OwnReading], texts: &[String]) {
        self.marks.push(Mark::Known(stamp));
        for (index, against) in self.against.iter_mut().enumerate() {
            let OwnReading::One { stamp: other, .. } = own_readings[index] else {
                continue;
            };
            if index == open {
                continue;
            }
            match (is_before(stamp, other), is_before(other, stamp)) {
                (true, _) => against.before += 1,
                (_, true) => against.after += 1,
                _ => against.same += 1,
            }
        }
        let Some(date) = stamp.date() else { return };
        for (index, repeats) in self.repeats.iter_mut().enumerate() {
            if index == self.index {
                continue;
            }
            for (repeat, part) in repeats.iter_mut().zip(Part::ALL) {
                // What disagrees once is no repeat; one counter-example will do.
                if repeat.disagree > 0 || texts[index].trim().is_empty() {
                    continue;
                }
                if part.read(&texts[index]) == Some(part.of(date)) {
                    repeat.agree += 1;
                    if repeat.values.len() < PARTS_KEPT {
                        repeat.values.insert(part.of(date));
                    }
                } else {
                    repeat.disagree += 1
                }
            }
        }
    }

    fn open_cell(
        &mut self,
        form: usize,
        stamps: &[Stamp],
        orders: &[Option<Order>],
        (open, own_readings): (usize, &[OwnReading]),
        texts: &[String],
    ) {
        for (index, against) in self.against.iter_mut().enumerate() {
            if let OwnReading::One { stamp: other, .. } = own_readings[index]
                && index != open
            {
                let early = |index: usize| is_before(stamps[index], other);
                let late = |index: usize| is_before(other, stamps[index]);
                against
                    .if_not_before
                    .add(form, orders, |index| !early(index));
                against.if_not_after.add(form, orders, |index| !late(index));
            }
        }
        for (index, repeats) in self.repeats.iter_mut().enumerate() {
            if index == self.index {
                continue;
            }
            for (repeat, part) in repeats.iter_mut().zip(Part::ALL) {
                if repeat.disagree == 0
                    && let Some(said) = part.read(&texts[index])
                {
                    let has = |stamp: Stamp| stamp.date().map(|date| part.of(date)) == Some(said);
                    repeat.votes.add(form, orders, |index| has(stamps[index]));
                }
            }
        }
        self.marks
            .push(Mark::Several(form, stamps.to_vec(), orders.to_vec()));
    }

    fn merge(&mut self, later: OpenColumn) {
        add_all(&mut self.cells, later.cells);
        for (values, more) in self.values.iter_mut().zip(later.values) {
            values.merge(more);
        }
        for (values, more) in self.pairs.iter_mut().zip(later.pairs) {
            values.merge(more);
        }
        for (against, more) in self.against.iter_mut().zip(later.against) {
            against.before += more.before;
            against.same += more.same;
            against.after += more.after;
            against.if_not_before.merge(&more.if_not_before);
            against.if_not_after.merge(&more.if_not_after);
        }
        let repeats = self.repeats.iter_mut().flatten();
        for (repeat, more) in repeats.zip(later.repeats.into_iter().flatten()) {
            repeat.agree += more.agree;
            repeat.disagree += more.disagree;
            repeat.votes.merge(&more.votes);
            for value in more.values {
                if repeat.values.len() < PARTS_KEPT {
                    repeat.values.insert(value);
                }
            }
        }
        self.marks.extend(later.marks);
    }

    fn index(&mut self) {
        for mark in self.marks.drain(..) {
            self.ascending.add(&mark);
            self.descending.add(&mark);
        }
    }

    /// The orders that some cell of `form` can only have, with their cells.
    pub fn decisive(&self, form: usize) -> impl Iterator<Item = (Order, u64)> + '_ {
        let own = self
            .cells
            .iter()
            .filter(move |((known, _), _)| *known == form);
        own.filter_map(|((_, order), cells)| Some(((*order)?, *cells)))
    }
}

impl Values {
    fn new(most: usize) -> Values {
        Values {
            by_value: Some(HashMap::new()),
            most,
        }
    }

    fn add<const N: usize>(&mut self, texts: [&str; N], form: usize, order: Option<Order>) {
        let Some(values) = &mut self.by_value else {
            return;
        };
        let joint;
        let key = match texts.as_slice() {
            [one] => one.trim(),
            _ => {
                joint = GroupRuling::key(texts).unwrap_or_default();
                &joint
            }
        };
        match values.get_mut(key) {
            Some(cells) => *cells.entry((form, order)).or_default() += 1,
            None => {
                let cells = BTreeMap::from([((form, order), 1)]);
                values.insert(key.to_owned(), cells);
            }
        }
        self.check();
    }

    fn merge(&mut self, other: Values) {
        match (&mut self.by_value, other.by_value) {
            (Some(values), Some(others)) => {
                for (value, cells) in others {
                    add_all(values.entry(value).or_default(), cells);
                }
            }
            (known, _) => *known = None,
        }
        self.check();
    }

    fn check(&mut self) {
        if self
            .by_value
            .as_ref()
            .is_some_and(|values| values.len() > self.most)
        {
            self.by_value = None;
        }
    }
}

impl OrderOfRows {
    fn new(order: TimeOrder) -> OrderOfRows {
        OrderOfRows {
            steps: 0,
            exceptions: 0,
            votes: Votes::default(),
            last: None,
            resolver: NeighbourResolver::new(order),
        }
    }

    /// The order of the rows.
    pub fn order(&self) -> TimeOrder {
        self.resolver.order()
    }

    fn finish(&mut self) {
        let next = NeighbourResolver::new(self.order());
        let resolver = std::mem::replace(&mut self.resolver, next);
        resolver.finish(count_placed(&mut self.votes));
    }

    fn add(&mut self, mark: &Mark) {
        let by_neighbours = count_placed(&mut self.votes);
        match mark {
            Mark::Known(stamp) => {
                if let Some(last) = self.last.replace(*stamp) {
                    let (up, down) = (is_before(last, *stamp), is_before(*stamp, last));
                    let (keeps, breaks) = match self.resolver.order() {
                        TimeOrder::Ascending => (up, down),
                        TimeOrder::Descending => (down, up),
                    };
                    self.steps += u64::from(keeps);
                    self.exceptions += u64::from(breaks);
                }
                self.resolver.known(*stamp, by_neighbours);
            }
            Mark::Several(form, stamps, orders) => {
                self.resolver
                    .several(stamps.clone(), (*form, orders.clone()));
                self.resolver.shed(by_neighbours);
            }
        }
    }
}

/// Counts the order of each open cell that has a place.
fn count_placed(votes: &mut Votes) -> impl FnMut((usize, Vec<Option<Order>>), Option<usize>) {
    |(form, orders), choice| {
        if let Some(choice) = choice {
            votes.vote(form, orders[choice]);
        }
    }
}

fn add_all<K: Ord>(counts: &mut BTreeMap<K, u64>, more: BTreeMap<K, u64>) {
    for (key, count) in more {
        *counts.entry(key).or_default() += count;
    }
}
