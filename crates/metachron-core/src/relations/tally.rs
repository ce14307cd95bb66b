//! Counting how open columns go with the others.

use super::Votes;
use crate::convert::{Look, Placing, is_before};
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
pub struct Watched {
    /// The names of all columns, and what stands for the file.
    pub columns: Vec<String>,
    /// The places of the temporal columns among them.
    pub temporal: Vec<usize>,
    /// Which of the temporal columns are open.
    pub open: Vec<usize>,
    /// Pairs of columns that may part the orders together.
    pub pairs: Vec<(usize, usize)>,
}

/// How the open columns of a table, or of a part of one, go with the others.
#[derive(Debug)]
pub struct Tally {
    /// The open columns, in the order of [`Watched::open`].
    pub columns: Vec<OpenColumn>,
}

/// How one open column goes with the others.
#[derive(Debug)]
pub struct OpenColumn {
    /// Its place among the columns.
    pub place: usize,
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
    pub(super) ascending: InTime,
    /// The rows against time.
    pub(super) descending: InTime,
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
pub(super) struct InTime {
    pub steps: u64,
    pub exceptions: u64,
    pub votes: Votes,
    /// Open cells that have one reading between their neighbours.
    last: Option<Stamp>,
    placing: Placing<(usize, Vec<Option<Order>>)>,
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
    pub fn new(watched: &Watched) -> Tally {
        let columns = watched.open.iter().map(|&open| OpenColumn {
            place: watched.temporal[open],
            cells: BTreeMap::new(),
            values: watched
                .columns
                .iter()
                .map(|_| Values::new(MOST_VALUES))
                .collect(),
            pairs: watched
                .pairs
                .iter()
                .map(|_| Values::new(MOST_PAIRS))
                .collect(),
            against: watched
                .temporal
                .iter()
                .map(|_| Against::default())
                .collect(),
            repeats: watched.columns.iter().map(|_| Default::default()).collect(),
            marks: Vec::new(),
            ascending: InTime::new(TimeOrder::Ascending),
            descending: InTime::new(TimeOrder::Descending),
        });
        Tally {
            columns: columns.collect(),
        }
    }

    /// Counts a row: `looks` are those of the temporal columns, `texts` the
    /// cells of all.
    pub fn row(&mut self, watched: &Watched, looks: &[Look], texts: &[String]) {
        for (column, &open) in self.columns.iter_mut().zip(&watched.open) {
            column.row(watched, open, looks, texts);
        }
    }

    /// Puts `later` behind this tally.
    pub fn merge(&mut self, later: Tally) {
        for (column, more) in self.columns.iter_mut().zip(later.columns) {
            column.merge(more);
        }
    }

    /// Places the cells of the rows counted so far among their neighbours.
    /// To be called on the tally of the table's first rows only, since what
    /// stands before them counts.
    pub fn place(&mut self) {
        for column in &mut self.columns {
            column.place();
        }
    }

    /// Places the cells behind the last known one: no row follows.
    pub fn finish(&mut self) {
        for column in &mut self.columns {
            column.place();
            column.ascending.finish();
            column.descending.finish();
        }
    }
}

impl OpenColumn {
    fn row(&mut self, watched: &Watched, open: usize, looks: &[Look], texts: &[String]) {
        match &looks[open] {
            Look::Nothing(_) => {}
            Look::One {
                stamp, decisive, ..
            } => {
                self.known(*stamp, open, looks, texts);
                if let Some((form, order)) = decisive {
                    self.count(watched, *form, Some(*order), texts);
                }
            }
            Look::Several {
                form,
                stamps,
                orders,
            } => {
                if let Some(form) = form {
                    self.count(watched, *form, None, texts);
                }
                self.open_cell(form.unwrap_or(TWICE), stamps, orders, (open, looks), texts);
            }
        }
    }

    fn count(&mut self, watched: &Watched, form: usize, order: Option<Order>, texts: &[String]) {
        *self.cells.entry((form, order)).or_default() += 1;
        for (place, values) in self.values.iter_mut().enumerate() {
            if place != self.place {
                values.add([texts[place].as_str()], form, order);
            }
        }
        for (values, &(one, other)) in self.pairs.iter_mut().zip(&watched.pairs) {
            values.add([texts[one].as_str(), texts[other].as_str()], form, order);
        }
    }

    fn known(&mut self, stamp: Stamp, open: usize, looks: &[Look], texts: &[String]) {
        self.marks.push(Mark::Known(stamp));
        for (place, against) in self.against.iter_mut().enumerate() {
            let Look::One { stamp: other, .. } = looks[place] else {
                continue;
            };
            if place == open {
                continue;
            }
            match (is_before(stamp, other), is_before(other, stamp)) {
                (true, _) => against.before += 1,
                (_, true) => against.after += 1,
                _ => against.same += 1,
            }
        }
        let Some(date) = stamp.date() else { return };
        for (place, repeats) in self.repeats.iter_mut().enumerate() {
            if place == self.place {
                continue;
            }
            for (repeat, part) in repeats.iter_mut().zip(Part::ALL) {
                // What disagrees once is no repeat; one counter-example will do.
                if repeat.disagree > 0 || texts[place].trim().is_empty() {
                    continue;
                }
                if part.read(&texts[place]) == Some(part.of(date)) {
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
        (open, looks): (usize, &[Look]),
        texts: &[String],
    ) {
        for (place, against) in self.against.iter_mut().enumerate() {
            if let Look::One { stamp: other, .. } = looks[place]
                && place != open
            {
                let early = |place: usize| is_before(stamps[place], other);
                let late = |place: usize| is_before(other, stamps[place]);
                against
                    .if_not_before
                    .add(form, orders, |place| !early(place));
                against.if_not_after.add(form, orders, |place| !late(place));
            }
        }
        for (place, repeats) in self.repeats.iter_mut().enumerate() {
            if place == self.place {
                continue;
            }
            for (repeat, part) in repeats.iter_mut().zip(Part::ALL) {
                if repeat.disagree == 0
                    && let Some(said) = part.read(&texts[place])
                {
                    let has = |stamp: Stamp| stamp.date().map(|date| part.of(date)) == Some(said);
                    repeat.votes.add(form, orders, |place| has(stamps[place]));
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

    fn place(&mut self) {
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

impl InTime {
    fn new(order: TimeOrder) -> InTime {
        InTime {
            steps: 0,
            exceptions: 0,
            votes: Votes::default(),
            last: None,
            placing: Placing::new(order),
        }
    }

    /// The order of the rows.
    pub fn order(&self) -> TimeOrder {
        self.placing.order()
    }

    fn finish(&mut self) {
        let next = Placing::new(self.order());
        let placing = std::mem::replace(&mut self.placing, next);
        placing.finish(count_placed(&mut self.votes));
    }

    fn add(&mut self, mark: &Mark) {
        let placed = count_placed(&mut self.votes);
        match mark {
            Mark::Known(stamp) => {
                if let Some(last) = self.last.replace(*stamp) {
                    let (up, down) = (is_before(last, *stamp), is_before(*stamp, last));
                    let (keeps, breaks) = match self.placing.order() {
                        TimeOrder::Ascending => (up, down),
                        TimeOrder::Descending => (down, up),
                    };
                    self.steps += u64::from(keeps);
                    self.exceptions += u64::from(breaks);
                }
                self.placing.known(*stamp, placed);
            }
            Mark::Several(form, stamps, orders) => {
                self.placing
                    .several(stamps.clone(), (*form, orders.clone()));
                self.placing.shed(placed);
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
