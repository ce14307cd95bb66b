//! Level 4: a column whose values part the orders.

use super::justification::{Finding, Justification};
use super::tally::{Tally, Values};
use super::{ComparedColumns, OpenColumn};
use crate::form::{Form, Order};
use crate::rulings::{GroupRuling, in_words};
use crate::words;
use indexmap::IndexMap;
use std::collections::{BTreeMap, HashMap};

/// A group of rows has an order where at least so many of its cells can have
/// no other.
pub const LEAST_DECISIVE: u64 = 3;

/// Columns are believed to part the orders where fewer than one in so many
/// random splits would part them as well, all columns that were tried taken
/// together.
const CHANCE_ONE_IN: f64 = 1e6;

/// A column, or two, whose values part the orders.
struct Parting<'t> {
    by: Vec<usize>,
    groups: BTreeMap<&'t str, Group>,
    /// How unlikely it is, as a natural logarithm.
    chance: f64,
}

/// The cells of one value.
#[derive(Clone, Copy, Debug)]
struct Group {
    order: Option<Order>,
    decisive: u64,
    open: u64,
}

impl Group {
    /// The order that the group has, where enough cells say so.
    fn order(&self) -> Option<Order> {
        self.order.filter(|_| self.decisive >= LEAST_DECISIVE)
    }
}

/// The group ruling of `form`, which is one of `either`, where a column or two
/// part its orders.
pub(super) fn settle(
    form: usize,
    either: &[Form],
    open: &OpenColumn,
    compared: &ComparedColumns,
) -> Option<(GroupRuling, Justification)> {
    if open.decisive(form).count() < 2 {
        return None;
    }
    let attempts = (open.values.len() + open.pairs.len()) as f64;
    let limit = -(CHANCE_ONE_IN * attempts).ln();
    let singles = open.values.iter().enumerate();
    let mut parting: Vec<Parting> = singles
        .filter_map(|(index, values)| part(form, vec![index], values))
        .filter(|parting| parting.chance < limit)
        .collect();
    let pairs = || open.pairs.iter().zip(&compared.pairs);
    if parting.is_empty() {
        parting = pairs()
            .filter_map(|(values, &(one, other))| part(form, vec![one, other], values))
            .filter(|parting| parting.chance < limit)
            .collect();
    }
    // The finest tells the most, and claims the least.
    parting.sort_by_key(|parting| std::cmp::Reverse(parting.groups.len()));
    let mut parting = parting.into_iter();
    let mut chosen = parting.next()?;
    for other in parting {
        if let ([one], [two]) = (&chosen.by[..], &other.by[..])
            && disagree(form, &chosen, &other, pairs(), (*one, *two))
        {
            // Nothing says which of the two is the cause: only rows whose
            // both values are known together are settled.
            let (values, &(one, two)) = pairs().find(|(_, pair)| is_pair(pair, *one, *two))?;
            chosen = part(form, vec![one, two], values)?;
            break;
        }
    }
    let columns: Vec<String> = chosen
        .by
        .iter()
        .map(|&by| compared.columns[by].clone())
        .collect();
    let orders: IndexMap<String, Order> = chosen
        .groups
        .iter()
        .filter_map(|(value, group)| Some((value.to_string(), group.order()?)))
        .collect();
    let groups = chosen
        .groups
        .iter()
        .filter_map(|(value, group)| Some((value.to_string(), group.order()?, group.decisive)));
    let silent = chosen
        .groups
        .values()
        .filter(|group| group.open > 0 && group.order().is_none());
    let justification = Justification {
        form: Some(form),
        found: Finding::Group {
            columns: columns.clone(),
            groups: groups.collect(),
            silent: silent.count() as u64,
            chance: power(chosen.chance),
        },
    };
    let known: Vec<Order> = orders.values().copied().collect();
    let group = GroupRuling {
        either: either
            .iter()
            .filter(|form| form.order().is_some_and(|order| known.contains(&order)))
            .cloned()
            .collect(),
        by: columns,
        orders,
    };
    Some((group, justification))
}

/// At most so many columns are tried in pairs.
const MOST_IN_PAIRS: usize = 10;

/// The pairs of columns that have to be looked at together: any, where no
/// column alone parts the orders of a form, and those that both do.
pub fn pairs_to_try(tally: &Tally) -> Vec<(usize, usize)> {
    let mut pairs = Vec::new();
    for open in &tally.columns {
        let mut forms: Vec<usize> = open.cells.keys().map(|(form, _)| *form).collect();
        forms.dedup();
        for form in forms
            .into_iter()
            .filter(|&form| open.decisive(form).count() > 1)
        {
            let limit = -(CHANCE_ONE_IN * open.values.len() as f64).ln();
            let values = || open.values.iter().enumerate();
            let parting: Vec<usize> = values()
                .filter_map(|(index, values)| part(form, vec![index], values))
                .filter(|parting| parting.chance < limit)
                .map(|parting| parting.by[0])
                .collect();
            let attempts: Vec<usize> = match parting.len() {
                1 => continue,
                0 => values()
                    .filter(|(index, values)| {
                        let several = |known: &HashMap<_, _>| known.len() > 1;
                        *index != open.index && values.by_value.as_ref().is_some_and(several)
                    })
                    .map(|(index, _)| index)
                    .take(MOST_IN_PAIRS)
                    .collect(),
                _ => parting,
            };
            for (number, &one) in attempts.iter().enumerate() {
                for &other in &attempts[number + 1..] {
                    if !pairs.contains(&(one, other)) {
                        pairs.push((one, other));
                    }
                }
            }
        }
    }
    pairs
}

/// How many columns were tried, and what became of each.
pub(super) fn attempts(open: &OpenColumn, compared: &ComparedColumns) -> Vec<String> {
    let mut lines = Vec::new();
    let mut forms: Vec<usize> = open.cells.keys().map(|(form, _)| *form).collect();
    forms.dedup();
    for form in forms {
        let speaking = open.decisive(form).count();
        if speaking < 2 {
            continue;
        }
        let (mut many, mut mixed, mut weak) = (0, 0, Vec::new());
        for (index, values) in open
            .values
            .iter()
            .enumerate()
            .filter(|(p, _)| *p != open.index)
        {
            match (&values.by_value, part(form, vec![index], values)) {
                (None, _) => many += 1,
                (Some(_), None) => mixed += 1,
                (Some(_), Some(parting)) => {
                    let power = power(parting.chance);
                    weak.push(format!(
                        "{} parts them as 1 in 10^{power} random splits would",
                        in_words(&compared.columns[index])
                    ));
                }
            }
        }
        let mut told = vec![format!(
            "{} not part the orders",
            match mixed {
                1 => "1 does".to_owned(),
                more => format!("{more} do"),
            }
        )];
        if many > 0 {
            told.push(format!(
                "{} more than {} values",
                match many {
                    1 => "1 has".to_owned(),
                    more => format!("{more} have"),
                },
                super::tally::MOST_VALUES
            ));
        }
        told.extend(weak);
        lines.push(format!(
            "groups: of the other columns and the file, {}",
            words::list(&told, "and")
        ));
    }
    lines
}

fn is_pair(pair: &(usize, usize), one: usize, other: usize) -> bool {
    *pair == (one, other) || *pair == (other, one)
}

/// Whether two columns that both part the orders would read some open cells
/// differently.
fn disagree<'t>(
    form: usize,
    first: &Parting<'t>,
    second: &Parting<'t>,
    mut pairs: impl Iterator<Item = (&'t Values, &'t (usize, usize))>,
    (one, other): (usize, usize),
) -> bool {
    let Some((values, &(left, _))) = pairs.find(|(_, pair)| is_pair(pair, one, other)) else {
        // Not looked at together: nobody knows.
        return true;
    };
    let Some(by_value) = &values.by_value else {
        return true;
    };
    by_value.iter().any(|(key, cells)| {
        let open = cells.contains_key(&(form, None));
        let order_in = |parting: &Parting<'_>, text: &str| parting.groups.get(text)?.order();
        let mut orders = first.groups.keys().flat_map(|mine| {
            second.groups.keys().filter_map(move |theirs| {
                let joint = if left == one {
                    GroupRuling::key([*mine, *theirs])
                } else {
                    GroupRuling::key([*theirs, *mine])
                };
                (joint.as_deref() == Some(key.as_str())).then_some((*mine, *theirs))
            })
        });
        open && orders.any(|(mine, theirs)| {
            match (order_in(first, mine), order_in(second, theirs)) {
                (Some(one), Some(other)) => one != other,
                // What one of them leaves open, the other must not settle:
                // it may be the cause.
                _ => false,
            }
        })
    })
}

/// The groups of `form` by these values, where they part the orders.
fn part<'t>(form: usize, by: Vec<usize>, values: &'t Values) -> Option<Parting<'t>> {
    let mut groups = BTreeMap::new();
    let mut all: BTreeMap<Order, u64> = BTreeMap::new();
    for (value, cells) in values.by_value.as_ref()? {
        let mut group = Group {
            order: None,
            decisive: 0,
            open: 0,
        };
        for ((known, order), &count) in cells {
            match order {
                _ if *known != form => {}
                None => group.open += count,
                Some(order) => {
                    if group.order.replace(*order).is_some() {
                        return None;
                    }
                    group.decisive += count;
                    *all.entry(*order).or_default() += count;
                }
            }
        }
        if group.decisive + group.open > 0 && !value.is_empty() {
            groups.insert(value.as_str(), group);
        } else if group.decisive > 0 {
            // Rows without a value that are known all the same.
            groups.insert("", group);
        }
    }
    let sizes: Vec<(Order, u64)> = groups
        .values()
        .filter_map(|group: &Group| Some((group.order?, group.decisive)))
        .collect();
    let with_order: Vec<Order> = groups.values().filter_map(Group::order).collect();
    let differ = with_order
        .iter()
        .any(|order| *order != *with_order.first().unwrap_or(order));
    groups.remove("");
    differ.then(|| Parting {
        by,
        chance: chance(&sizes, &all),
        groups,
    })
}

/// How likely a random split into groups of these sizes parts the orders as
/// well, as a natural logarithm: of all the ways to spread the cells of each
/// order over the groups, those that leave every group one order.
fn chance(sizes: &[(Order, u64)], all: &BTreeMap<Order, u64>) -> f64 {
    // At most every group could have had every order.
    let ways = sizes.len() as f64 * (all.len() as f64).ln();
    let cells: u64 = all.values().sum();
    let spreads = ln_factorial(cells) - all.values().map(|&count| ln_factorial(count)).sum::<f64>();
    (ways - spreads).min(0.0)
}

/// The power of ten that one in so many is told by; past the thirtieth, nobody
/// cares.
fn power(chance: f64) -> u32 {
    (-chance / std::f64::consts::LN_10).min(30.0) as u32
}

/// The logarithm of n!, by Stirling's series; exact enough from 0 on.
fn ln_factorial(n: u64) -> f64 {
    match n {
        0..=20 => (1..=n).map(|factor| (factor as f64).ln()).sum(),
        _ => {
            let n = n as f64;
            n * n.ln() - n + 0.5 * (2.0 * std::f64::consts::PI * n).ln() + 1.0 / (12.0 * n)
        }
    }
}
