//! What the rest of the table says about a cell.

use super::anchor::Anchor;
use crate::form::{Beside, Order};
use crate::rulings::{ColumnRuling, GroupRuling, Part, in_words};
use crate::stamp::Stamp;
use crate::zone::Zones;
use jiff::ToSpan;
use jiff::civil::DateTime;
use std::collections::HashMap;

/// What a ruling needs to know of a row beside the cell itself.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Needs {
    /// The columns whose texts it needs.
    pub texts: Vec<String>,
    /// The column whose stamp is never later.
    pub not_before: Option<String>,
    /// The column whose stamp is never earlier.
    pub not_after: Option<String>,
    /// Whether it needs the place of the row among the others.
    pub placed: bool,
}

impl Needs {
    /// Whether the cell alone will do.
    pub fn is_nothing(&self) -> bool {
        *self == Needs::default()
    }
}

/// What the rest of the table says about a cell.
#[derive(Clone, Copy, Debug, Default)]
pub struct Around<'r> {
    /// The row's cells of the columns that [`Needs::texts`] names.
    pub texts: &'r [String],
    /// The row's stamp in the column that is never later, if its cell has one
    /// by itself.
    pub not_before: Option<Stamp>,
    /// The same in the column that is never earlier.
    pub not_after: Option<Stamp>,
    /// Which of the cell's different readings its place among the rows leaves,
    /// where it leaves one.
    pub placed: Option<u8>,
}

/// The rules of a ruling that look beyond the cell.
#[derive(Clone, Debug, Default)]
pub(super) struct Rules {
    needs: Needs,
    /// The place of the column of years among the texts.
    year: Option<usize>,
    groups: Vec<Group>,
    same: Vec<(Part, usize)>,
    otherwise: Option<Order>,
}

/// A form whose order the row tells.
#[derive(Clone, Debug)]
struct Group {
    columns: Vec<String>,
    texts: Vec<usize>,
    orders: HashMap<String, Order>,
}

impl Group {
    fn key(&self, around: &Around<'_>) -> Option<String> {
        let text = |&place: &usize| around.texts.get(place).map_or("", String::as_str);
        GroupRuling::key(self.texts.iter().map(text))
    }
}

impl Rules {
    /// Those of a ruling, and what puts its local times onto the world's time
    /// line.
    pub(super) fn of(ruling: &ColumnRuling, zones: &Zones) -> (Rules, Option<Anchor>) {
        let mut texts: Vec<String> = Vec::new();
        let mut place = |column: &str| {
            let known = texts.iter().position(|text| text == column);
            known.unwrap_or_else(|| {
                texts.push(column.to_owned());
                texts.len() - 1
            })
        };
        let read = &ruling.read;
        let year = read.year_from.as_deref().map(&mut place);
        let mut groups = Vec::new();
        for GroupRuling { by, orders, .. } in ruling.groups() {
            groups.push(Group {
                columns: by.clone(),
                texts: by.iter().map(|column| place(column)).collect(),
                orders: orders
                    .iter()
                    .map(|(key, order)| (key.clone(), *order))
                    .collect(),
            });
        }
        let same = read
            .same
            .iter()
            .map(|(part, column)| (*part, place(column)));
        let same = same.collect();
        let anchor = Anchor::of(read, zones, &mut place);
        let rules = Rules {
            needs: Needs {
                texts,
                not_before: read.not_before.clone(),
                not_after: read.not_after.clone(),
                placed: read.in_time_order.is_some(),
            },
            year,
            groups,
            same,
            otherwise: read.otherwise,
        };
        (rules, anchor)
    }

    pub(super) fn needs(&self) -> &Needs {
        &self.needs
    }

    /// Whether there are rules that choose among readings.
    pub(super) fn choose(&self) -> bool {
        let needs = &self.needs;
        needs.placed
            || needs.not_before.is_some()
            || needs.not_after.is_some()
            || !self.same.is_empty()
            || self.otherwise.is_some()
    }

    /// Which of the readings, whose orders these are, is left where nothing
    /// else chooses: none where the order has two, because it was twice.
    pub(super) fn otherwise(&self, orders: &[Option<Order>]) -> Option<usize> {
        let ruled = self.otherwise?;
        let mut left = (0..orders.len()).filter(|&place| orders[place] == Some(ruled));
        left.next().filter(|_| left.next().is_none())
    }

    pub(super) fn has_groups(&self) -> bool {
        !self.groups.is_empty()
    }

    pub(super) fn beside(&self, around: &Around<'_>) -> Beside {
        let text = self.year.and_then(|place| around.texts.get(place));
        text.map(|text| Beside::year_cell(text)).unwrap_or_default()
    }

    /// The order in which each form of a group is written in this row.
    pub(super) fn orders(&self, around: &Around<'_>, orders: &mut Vec<Option<Order>>) {
        orders.clear();
        let order = |group: &Group| group.orders.get(&group.key(around)?).copied();
        orders.extend(self.groups.iter().map(order));
    }

    /// Of which groups the row is, in words.
    pub(super) fn in_words(&self, around: &Around<'_>) -> Option<String> {
        let group = self.groups.first()?;
        let names: Vec<&str> = group
            .columns
            .iter()
            .map(|column| in_words(column))
            .collect();
        let columns = names.join(" and ");
        Some(match group.key(around) {
            None => format!("{columns} is empty in its row"),
            Some(key) => match group.orders.get(&key) {
                Some(order) => format!("{columns} `{key}` writes {}", order.words()),
                None => format!("the ruling has no order for {columns} `{key}`"),
            },
        })
    }

    /// Which of the different readings of a cell the row leaves, where it
    /// leaves one.
    pub(super) fn chosen(&self, readings: &[Stamp], around: &Around<'_>) -> Option<usize> {
        let fits = |(_, stamp): &(usize, &Stamp)| {
            let early = around
                .not_before
                .is_some_and(|other| is_before(**stamp, other));
            let late = around
                .not_after
                .is_some_and(|other| is_before(other, **stamp));
            !early && !late && self.repeats(**stamp, around)
        };
        let mut left = readings
            .iter()
            .enumerate()
            .filter(fits)
            .map(|(place, _)| place);
        let placed = around.placed.map(usize::from);
        match (placed, left.next(), left.next()) {
            (_, None, _) | (None, _, Some(_)) => None,
            (None, Some(only), None) => Some(only).filter(|_| self.is_said(around)),
            (Some(placed), Some(first), second) => {
                // What the place says and what the row says must agree.
                let rest = second.into_iter().chain(left);
                let agrees = std::iter::once(first)
                    .chain(rest)
                    .any(|left| left == placed);
                agrees.then_some(placed)
            }
        }
    }

    /// Whether the row says anything that could choose.
    fn is_said(&self, around: &Around<'_>) -> bool {
        around.not_before.is_some() || around.not_after.is_some() || !self.same.is_empty()
    }

    /// Whether `stamp` has the parts that other columns repeat.
    fn repeats(&self, stamp: Stamp, around: &Around<'_>) -> bool {
        self.same.iter().all(|&(part, place)| {
            let text = around.texts.get(place).map_or("", String::as_str);
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
