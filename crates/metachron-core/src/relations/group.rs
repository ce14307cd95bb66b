//! Level 4: a column whose values part the orders.

use super::compared_columns::ComparedColumns;
use super::counts::{CountKey, Counts};
use super::form_cells::FormCells;
use super::justification::{Finding, Justification, LEAST_DECISIVE};
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, Question, same_type};
use crate::cache::Cache;
use crate::form::{Form, Hypothesis, Order};
use crate::lex::Key;
use crate::rulings::{GroupRuling, in_words};
use crate::words;
use indexmap::IndexMap;
use std::any::Any;
use std::collections::BTreeMap;

/// A column with more different values than this is no group of rows.
const MOST_VALUES: usize = 64;

/// The same for two columns together.
const MOST_JOINT_VALUES: usize = 256;

/// At most twice so many texts of a column are found by their keys.
const MOST_TEXTS: usize = 32;

/// A column's cells by the values of every other column, and of pairs of
/// these.
#[derive(Debug)]
pub(super) struct GroupCounts {
    /// By the other's index.
    values: IndexMap<usize, Values>,
    pairs: Vec<(usize, usize)>,
    by_pair: Vec<Values>,
}

/// Cells by the value of another column, or of two.
#[derive(Debug)]
struct Values {
    /// By value, form and order; none where there are too many values.
    by_value: Option<IndexMap<String, Counts>>,
    /// The indexes of the values of the last texts.
    last: Cache<Key, u32>,
    most: usize,
}

impl Values {
    fn new(most: usize) -> Values {
        Values {
            by_value: Some(IndexMap::new()),
            last: Cache::new(MOST_TEXTS, usize::MAX),
            most,
        }
    }

    /// Counts a cell by the text of a column.
    fn add(&mut self, text: &str, counted: CountKey) {
        let Some(values) = &mut self.by_value else {
            return;
        };
        let key = Key::of(text.as_bytes());
        if let Some(&index) = key.and_then(|key| self.last.get(&key)) {
            values[index as usize].add(counted, 1);
            return;
        }
        let index = self.add_value([text], counted);
        if let (Some(key), Some(index)) = (key, index) {
            self.last.put(key, index as u32);
        }
    }

    /// Counts a cell by what the texts of columns say together; says which value that
    /// is, by its index.
    fn add_value<const N: usize>(&mut self, texts: [&str; N], counted: CountKey) -> Option<usize> {
        let values = self.by_value.as_mut()?;
        let key = GroupRuling::key(texts).unwrap_or_default();
        let index = match values.get_index_of(&*key) {
            Some(index) => index,
            None => values.insert_full(key.into_owned(), Counts::default()).0,
        };
        values[index].add(counted, 1);
        self.check();
        Some(index)
    }

    fn merge(&mut self, other: Values) {
        match (&mut self.by_value, other.by_value) {
            (Some(values), Some(others)) => {
                for (value, cells) in others {
                    values.entry(value).or_default().merge(&cells);
                }
            }
            (known, _) => *known = None,
        }
        self.check();
    }

    /// Whether no value has cells of two orders of `form`.
    fn may_part(&self, form: usize) -> bool {
        let is_parted = |cells: &Counts| cells.by_hypothesis(form).count() < 2;
        let values = self.by_value.as_ref();
        values.is_some_and(|values| values.len() > 1 && values.values().all(is_parted))
    }

    fn check(&mut self) {
        let values = self.by_value.as_ref();
        if values.is_some_and(|values| values.len() > self.most) {
            self.by_value = None;
        }
    }
}

impl GroupCounts {
    /// Of the column at `index`.
    pub fn new(compared: &ComparedColumns, index: usize) -> GroupCounts {
        let near = compared.near(index).into_iter();
        let pairs = compared.pairs.iter();
        GroupCounts {
            values: near
                .map(|other| (other, Values::new(MOST_VALUES)))
                .collect(),
            by_pair: pairs.map(|_| Values::new(MOST_JOINT_VALUES)).collect(),
            pairs: compared.pairs.clone(),
        }
    }

    fn pairs(&self) -> impl Iterator<Item = (&Values, &(usize, usize))> {
        self.by_pair.iter().zip(&self.pairs)
    }
}

impl EvidenceSource for GroupCounts {
    fn observe(&mut self, row: &Observed<'_>) {
        let Some(counted) = row.counted else {
            return;
        };
        let texts = row.texts;
        for (&index, values) in &mut self.values {
            values.add(&texts[index], counted);
        }
        for (values, &(one, other)) in self.by_pair.iter_mut().zip(&self.pairs) {
            values.add_value([texts[one].as_str(), texts[other].as_str()], counted);
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<GroupCounts>(later);
        let own = self.values.values_mut().chain(&mut self.by_pair);
        for (values, more) in own.zip(later.values.into_values().chain(later.by_pair)) {
            values.merge(more);
        }
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        let again = |values: &Values| Values {
            by_value: values.by_value.is_some().then(IndexMap::new),
            ..Values::new(values.most)
        };
        Box::new(GroupCounts {
            values: (self.values.iter())
                .map(|(index, values)| (*index, again(values)))
                .collect(),
            pairs: self.pairs.clone(),
            by_pair: self.by_pair.iter().map(again).collect(),
        })
    }

    fn wants_text(&self, index: usize) -> bool {
        let mut pairs = self.pairs();
        let known = |values: &Values| values.by_value.is_some();
        self.values.get(&index).is_some_and(known)
            || pairs.any(|(values, &(one, other))| {
                values.by_value.is_some() && (one == index || other == index)
            })
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let forms = question.open_forms.iter();
        forms
            .filter_map(|(form, either)| self.conclude_on(*form, either, question))
            .collect()
    }

    /// A column that does not part the orders of some rows does not part those of
    /// all. Any other may, once there are enough of them.
    fn may_follow(&self, question: &Question<'_>) -> bool {
        let values = || self.values.values().chain(&self.by_pair);
        let forms = question.open_forms.iter();
        forms
            .into_iter()
            .any(|(form, _)| values().any(|values| values.may_part(*form)))
    }

    /// How many columns were tried, and what became of each.
    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let forms = question.cells.forms().into_iter();
        let several = forms.filter(|&form| question.cells.decisive(form).count() > 1);
        several.map(|form| self.attempt(form, question)).collect()
    }

    /// Any pairs, where no column alone parts the orders of a form, and those
    /// that both do.
    fn pairs_to_compare(&self, index: usize, cells: &FormCells) -> Vec<(usize, usize)> {
        let mut pairs = Vec::new();
        let forms = cells.forms().into_iter();
        for form in forms.filter(|&form| cells.decisive(form).count() > 1) {
            let limit = -(CHANCE_ONE_IN * self.values.len() as f64).ln();
            let values = || self.values.iter().map(|(index, values)| (*index, values));
            let parting: Vec<usize> = values()
                .filter_map(|(index, values)| part(form, vec![index], values))
                .filter(|parting| parting.chance < limit)
                .map(|parting| parting.by[0])
                .collect();
            let tried: Vec<usize> = match parting.len() {
                1 => continue,
                0 => values()
                    .filter(|(other, values)| {
                        let several = |known: &IndexMap<_, _>| known.len() > 1;
                        *other != index && values.by_value.as_ref().is_some_and(several)
                    })
                    .map(|(other, _)| other)
                    .take(MOST_IN_PAIRS)
                    .collect(),
                _ => parting,
            };
            for (number, &one) in tried.iter().enumerate() {
                pairs.extend(tried[number + 1..].iter().map(|&other| (one, other)));
            }
        }
        pairs
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}

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

/// At most so many columns are tried in pairs.
const MOST_IN_PAIRS: usize = 10;

impl GroupCounts {
    /// The group ruling of `form`, which is one of `either`, where a column or
    /// two part its orders.
    fn conclude_on(
        &self,
        form: usize,
        either: &[Form],
        question: &Question<'_>,
    ) -> Option<Conclusion<'_>> {
        if question.cells.decisive(form).count() < 2 {
            return None;
        }
        let tried = (self.values.len() + self.pairs.len()) as f64;
        let limit = -(CHANCE_ONE_IN * tried).ln();
        let singles = self.values.iter().map(|(index, values)| (*index, values));
        let mut parting: Vec<Parting> = singles
            .filter_map(|(index, values)| part(form, vec![index], values))
            .filter(|parting| parting.chance < limit)
            .collect();
        let pairs = || self.pairs();
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
            .map(|&by| question.compared.columns[by].clone())
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
        Some(Conclusion::Group {
            form,
            group,
            justification,
        })
    }

    /// What became of each column as a group for the orders of `form`.
    fn attempt(&self, form: usize, question: &Question<'_>) -> String {
        let (mut many, mut mixed, mut weak) = (0, 0, Vec::new());
        for (&index, values) in &self.values {
            match (&values.by_value, part(form, vec![index], values)) {
                (None, _) => many += 1,
                (Some(_), None) => mixed += 1,
                (Some(_), Some(parting)) => {
                    let power = power(parting.chance);
                    weak.push(format!(
                        "{} parts them as 1 in 10^{power} random splits would",
                        in_words(&question.compared.columns[index])
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
                MOST_VALUES
            ));
        }
        told.extend(weak);
        format!(
            "groups: of the other columns{}, {}",
            if question.compared.file.is_some() {
                " and the file"
            } else {
                ""
            },
            words::list(&told, "and")
        )
    }
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
        let open = cells.of((form, None)) > 0;
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
        for ((known, hypothesis), count) in cells.iter() {
            match hypothesis.and_then(Hypothesis::order) {
                _ if known != form => {}
                None => group.open += count,
                Some(order) => {
                    if group.order.replace(order).is_some() {
                        return None;
                    }
                    group.decisive += count;
                    *all.entry(order).or_default() += count;
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
pub(super) fn ln_factorial(n: u64) -> f64 {
    match n {
        0..=20 => (1..=n).map(|factor| (factor as f64).ln()).sum(),
        _ => {
            let n = n as f64;
            n * n.ln() - n + 0.5 * (2.0 * std::f64::consts::PI * n).ln() + 1.0 / (12.0 * n)
        }
    }
}
