//! What the rest of the table says about a cell.

use super::decision::GroupReason;
use super::instants::InstantResolver;
use super::own_reading::{SeveralReadings, only};
use crate::cache::Cache;
use crate::calendar::day_number;
use crate::form::{Hypothesis, Order, RowFacts, RowFactsReader};
use crate::lex::Key;
use crate::rulings::{ColumnRuling, DatePart, GroupRuling};
use crate::stamp::Stamp;
use crate::zone::Zones;
use jiff::ToSpan;
use jiff::civil::DateTime;
use std::borrow::Cow;
use std::collections::HashMap;

/// What a ruling needs to know of a row besides the cell itself.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Needs {
    /// The columns whose texts it needs.
    pub texts: Vec<String>,
    /// The column whose stamp is never later.
    pub not_before: Option<String>,
    /// The column whose stamp is never earlier.
    pub not_after: Option<String>,
    /// The columns whose stamps are always so many days away.
    pub days_after: Vec<String>,
    /// Whether it needs what the rows around it leave.
    pub by_neighbours: bool,
}

impl Needs {
    /// Whether the cell alone will do.
    pub fn is_nothing(&self) -> bool {
        *self == Needs::default()
    }
}

/// What the rest of the table says about a cell.
#[derive(Clone, Copy, Debug, Default)]
pub struct RowContext<'r> {
    /// The row's cells of the columns that `Needs::texts` names.
    pub texts: &'r [String],
    /// The row's stamp in the column that is never later, if its cell has one
    /// by itself.
    pub not_before: Option<Stamp>,
    /// The same in the column that is never earlier.
    pub not_after: Option<Stamp>,
    /// The row's stamps in the columns that `Needs::days_after` names.
    pub days_after: &'r [Option<Stamp>],
    /// Which of the cell's different readings its neighbours leave,
    /// where it leaves one.
    pub by_neighbours: Option<u8>,
}

/// The rules of a ruling that look beyond the cell.
#[derive(Clone, Debug, Default)]
pub(super) struct Rules {
    needs: Needs,
    /// The index of the column of years among the texts.
    year: Option<usize>,
    /// That of the column of the halves of the day.
    half_of_day: Option<usize>,
    /// Reads those columns, where there are any.
    facts: Option<RowFactsReader>,
    groups: Vec<Group>,
    same: Vec<(DatePart, usize)>,
    /// The fewest and the most days behind each of `Needs::days_after`.
    days_after: Vec<[i32; 2]>,
    otherwise: Option<Order>,
    /// Whether there are rules that choose among readings: asked for every cell.
    choose: bool,
}

/// A form whose order the row tells.
#[derive(Clone, Debug)]
struct Group {
    columns: Vec<String>,
    texts: Vec<usize>,
    orders: HashMap<String, Order>,
    /// The orders that the last texts of a single column say.
    last: Cache<Key, Option<Order>>,
}

/// At most twice so many texts of a column of groups are remembered.
const MOST_TEXTS: usize = 32;

impl Group {
    fn key<'r>(&self, context: &RowContext<'r>) -> Option<Cow<'r, str>> {
        let texts = context.texts;
        let text = |&index: &usize| texts.get(index).map_or("", String::as_str);
        GroupRuling::key(self.texts.iter().map(text))
    }

    /// The order in this row.
    fn order(&mut self, context: &RowContext<'_>) -> Option<Order> {
        let key = match self.texts[..] {
            [index] => (context.texts.get(index)).and_then(|text| Key::of(text.as_bytes())),
            _ => None,
        };
        if let Some(known) = key.and_then(|key| self.last.get(&key)) {
            return *known;
        }
        let order = self.order_of(&self.key(context)?);
        if let Some(key) = key {
            self.last.put(key, order);
        }
        order
    }

    fn order_of(&self, key: &str) -> Option<Order> {
        self.orders.get(key).copied()
    }
}

impl Rules {
    /// Those of a ruling, and what puts its local times onto the world's time
    /// line.
    pub(super) fn of(ruling: &ColumnRuling, zones: &Zones) -> (Rules, Option<InstantResolver>) {
        let mut texts: Vec<String> = Vec::new();
        let mut index = |column: &str| {
            let known = texts.iter().position(|text| text == column);
            known.unwrap_or_else(|| {
                texts.push(column.to_owned());
                texts.len() - 1
            })
        };
        let read = &ruling.read;
        let year = read.year_from.as_deref().map(&mut index);
        let half_of_day = read.half_of_day_from.as_deref().map(&mut index);
        let mut groups = Vec::new();
        for GroupRuling { by, orders, .. } in ruling.groups() {
            groups.push(Group {
                columns: by.clone(),
                texts: by.iter().map(|column| index(column)).collect(),
                orders: orders
                    .iter()
                    .map(|(key, order)| (key.clone(), *order))
                    .collect(),
                last: Cache::new(MOST_TEXTS, usize::MAX),
            });
        }
        let same = read
            .same
            .iter()
            .map(|(part, column)| (*part, index(column)));
        let same = same.collect();
        let instants = InstantResolver::of(read, zones, &mut index);
        let mut rules = Rules {
            choose: false,
            needs: Needs {
                texts,
                not_before: read.not_before.clone(),
                not_after: read.not_after.clone(),
                days_after: read.days_after.keys().cloned().collect(),
                by_neighbours: read.in_time_order.is_some(),
            },
            year,
            half_of_day,
            facts: (year.is_some() || half_of_day.is_some()).then(RowFactsReader::default),
            groups,
            same,
            days_after: read.days_after.values().copied().collect(),
            otherwise: read.otherwise,
        };
        let needs = &rules.needs;
        rules.choose = needs.by_neighbours
            || needs.not_before.is_some()
            || needs.not_after.is_some()
            || !rules.same.is_empty()
            || !rules.days_after.is_empty()
            || rules.otherwise.is_some();
        (rules, instants)
    }

    pub(super) fn needs(&self) -> &Needs {
        &self.needs
    }

    /// Whether there are rules that choose among readings.
    #[inline]
    pub(super) fn choose(&self) -> bool {
        self.choose
    }

    /// Which of the readings is left where nothing else chooses: none where the
    /// order has two, because it was twice.
    fn otherwise(&self, several: &SeveralReadings) -> Option<usize> {
        let ruled = Some(Hypothesis::Order(self.otherwise?));
        let hypotheses = several.hypotheses.iter().enumerate();
        let mut left = hypotheses.filter_map(|(index, own)| (*own == ruled).then_some(index));
        let first = left.next()?;
        left.all(|index| several.stamps[index] == several.stamps[first])
            .then_some(first)
    }

    pub(super) fn has_groups(&self) -> bool {
        !self.groups.is_empty()
    }

    /// What the row says about the cell.
    pub(super) fn row_facts(&mut self, context: &RowContext<'_>) -> RowFacts {
        let text = |index: Option<usize>| {
            index.map(|index| context.texts.get(index).map_or("", String::as_str))
        };
        match &mut self.facts {
            Some(reader) => reader.read(text(self.year), text(self.half_of_day)),
            None => RowFacts::default(),
        }
    }

    /// The order in which each form of a group is written in this row.
    pub(super) fn orders(&mut self, context: &RowContext<'_>, orders: &mut Vec<Option<Order>>) {
        orders.clear();
        orders.extend(self.groups.iter_mut().map(|group| group.order(context)));
    }

    /// Of which group the row is.
    pub(super) fn group(&self, context: &RowContext<'_>) -> Option<GroupReason> {
        let group = self.groups.first()?;
        Some(GroupReason {
            columns: group.columns.clone(),
            key: group.key(context).map(|key| {
                let order = group.order_of(&key);
                (key.into_owned(), order)
            }),
        })
    }

    /// Which of the different readings of a cell is left, by its row and its
    /// neighbours, or where those say nothing, by the ruling's last resort.
    pub(super) fn chosen(
        &self,
        several: &SeveralReadings,
        context: &RowContext<'_>,
    ) -> Option<usize> {
        let fits = |&stamp: &Stamp| {
            let early = context
                .not_before
                .is_some_and(|other| is_before(stamp, other));
            let late = context
                .not_after
                .is_some_and(|other| is_before(other, stamp));
            !early && !late && self.repeats(stamp, context) && self.is_near(stamp, context)
        };
        if let Some(by_neighbours) = context.by_neighbours.map(usize::from) {
            // What the place says and what the row says must agree.
            return several
                .stamps
                .get(by_neighbours)
                .is_some_and(fits)
                .then_some(by_neighbours);
        }
        // The row contradicts every reading: nothing else may choose one.
        if !several.stamps.iter().any(fits) {
            return None;
        }
        let left = only(&several.stamps, fits).filter(|_| self.is_said(context));
        left.or_else(|| self.otherwise(several))
    }

    /// Whether the row says anything that could choose.
    fn is_said(&self, context: &RowContext<'_>) -> bool {
        context.not_before.is_some()
            || context.not_after.is_some()
            || !self.same.is_empty()
            || context.days_after.iter().any(Option::is_some)
    }

    /// Whether `stamp` is as far behind other columns as it always is.
    fn is_near(&self, stamp: Stamp, context: &RowContext<'_>) -> bool {
        let mut others = self.days_after.iter().zip(context.days_after);
        others.all(
            |([least, most], other)| match (day_of(stamp), other.and_then(day_of)) {
                (Some(own), Some(other)) => (*least..=*most).contains(&(own - other)),
                _ => true,
            },
        )
    }

    /// Whether `stamp` has the parts that other columns repeat.
    fn repeats(&self, stamp: Stamp, context: &RowContext<'_>) -> bool {
        self.same.iter().all(|&(part, index)| {
            let text = context.texts.get(index).map_or("", String::as_str);
            match (part.read(text), stamp.date()) {
                (Some(said), Some(date)) => part.of(date) == said,
                _ => true,
            }
        })
    }
}

/// The moment that `stamp` is, as a local one, and whether it is a whole day.
pub fn moment(stamp: Stamp) -> Option<(DateTime, Whole)> {
    match stamp {
        Stamp::Date(date) => Some((date.into(), Whole::Day)),
        Stamp::DateTime(at) => Some((at, Whole::Second)),
        Stamp::Instant(at) => Some((jiff::tz::Offset::UTC.to_datetime(at), Whole::Second)),
        _ => None,
    }
}

/// The number of the day that `stamp` is on.
pub fn day_of(stamp: Stamp) -> Option<i32> {
    Some(day_number(stamp.date()?))
}

/// How much time a stamp stands for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Whole {
    /// A day.
    Day,
    /// A moment.
    Second,
}

/// Whether `one` is before `other`: by days, where one of them is a day.
///
/// Between an instant and a local time, whose zone is not known, there may be
/// 18 hours; so much must be between them.
pub fn is_before(one: Stamp, other: Stamp) -> bool {
    // Nearly all are of one kind, and compared for every row.
    match (one, other) {
        (Stamp::Date(one), Stamp::Date(other)) => return one < other,
        (Stamp::DateTime(one), Stamp::DateTime(other)) => return one < other,
        (Stamp::Instant(one), Stamp::Instant(other)) => return one < other,
        _ => {}
    }
    let is_instant = |stamp| matches!(stamp, Stamp::Instant(_));
    let is_local = |stamp| matches!(stamp, Stamp::DateTime(_));
    if is_instant(one) && is_local(other) || is_local(one) && is_instant(other) {
        let (Some((one, _)), Some((other, _))) = (moment(one), moment(other)) else {
            return false;
        };
        return one.checked_add(18.hours()).is_ok_and(|one| one < other);
    }
    match (moment(one), moment(other)) {
        (Some((one, Whole::Second)), Some((other, Whole::Second))) => one < other,
        (Some((one, _)), Some((other, _))) => one.date() < other.date(),
        _ => false,
    }
}
