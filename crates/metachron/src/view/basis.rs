//! What a decision rests on, in a sentence.

use crate::job::RowNames;
use crate::words::{cell, count, list, number};
use metachron_core::evidence::Example;
use metachron_core::forecast::{FormForecast, OrderCount, Rest, ZoneSource};
use metachron_core::relations::Justification;

/// What the decision on `form` rests on; `justifications` are its column's.
pub fn sentence(
    form: &FormForecast,
    justifications: &[Justification],
    row_names: &RowNames,
) -> String {
    let has_rules = rules(justifications).next().is_some();
    let speaking = || form.orders.iter().filter(|order| order.only > 0);
    match form.rests_on {
        Rest::OneWay => "one way to read it".to_owned(),
        Rest::Numbers => "numbers; the column's name, the written dates among them or the \
                          ruling say that they count time"
            .to_owned(),
        Rest::Kind => "several kinds of value could be written so; the column's name, its other \
                       cells or the ruling say which"
            .to_owned(),
        Rest::Table => form
            .justification
            .and_then(|index| justifications.get(index))
            .map_or(String::new(), Justification::sentence),
        Rest::Cells => {
            let (spoken, slips): (Vec<&OrderCount>, Vec<&OrderCount>) =
                speaking().partition(|order| form.patterns.contains(&order.pattern));
            let named = |orders: Vec<&OrderCount>| -> Vec<String> {
                let orders = orders.into_iter();
                orders.map(|order| only(order, row_names)).collect()
            };
            let (spoken, slips) = (named(spoken), named(slips));
            let silent: Vec<&str> = form
                .orders
                .iter()
                .filter(|order| order.only == 0)
                .map(|order| order.order.words())
                .filter(|words| speaking().all(|spoken| spoken.order.words() != *words))
                .collect();
            if spoken.is_empty() && slips.is_empty() {
                let fit = number(form.ambiguous);
                return format!("{fit} fit other orders too, {}", others_only(form));
            }
            let mut text = list(&spoken, "and");
            if form.ambiguous > 0 {
                text.push_str(&format!(
                    "; {} fit other orders too",
                    number(form.ambiguous)
                ));
            }
            if !slips.is_empty() {
                text.push_str(&format!(
                    "; {}: so few are slips, and listed",
                    list(&slips, "and")
                ));
                return text;
            }
            match silent[..] {
                [] => text.push_str("; none contradicts"),
                _ => text.push_str(&format!("; none only {}", list(&silent, "or"))),
            }
            text
        }
        Rest::Declared => {
            let against: Vec<String> = speaking()
                .filter(|order| !form.patterns.contains(&order.pattern))
                .map(|order| only(order, row_names))
                .collect();
            match against[..] {
                [] => "declared, and no cell contradicts".to_owned(),
                _ => format!("declared, but {}", list(&against, "and")),
            }
        }
        Rest::NothingSettles => {
            let orders: Vec<&str> = form
                .orders
                .iter()
                .map(|order| order.order.words())
                .collect();
            // Forms without a day and a month have no order to be named by, and
            // those that an import may have swapped have the same.
            let named = (0..orders.len()).all(|at| !orders[..at].contains(&orders[at]));
            let all = if orders.is_empty() || !named {
                format!("all of {}", list(&form.patterns, "and"))
            } else {
                list(&orders, "and")
            };
            match form.ambiguous {
                0 => format!("every cell fits {all}, and reads the same either way"),
                open if has_rules => format!("every cell fits {all}, {} differently", number(open)),
                open => format!("every cell fits {all}; {} stay open", number(open)),
            }
        }
        Rest::Clash => {
            let spoken: Vec<String> = speaking().map(|order| only(order, row_names)).collect();
            format!(
                "cells contradict each other: {}; {} fit several orders{}",
                list(&spoken, "and"),
                number(form.ambiguous),
                if has_rules { "" } else { " and stay open" }
            )
        }
    }
}

/// What the other cells of a form say, of which some fit several readings.
pub fn others_only(form: &FormForecast) -> String {
    format!("the others only {}", list(&form.patterns, "or"))
}

/// `12 cells can only be day-month-year (row 3: 25/12/2024)`
pub fn only(order: &OrderCount, row_names: &RowNames) -> String {
    let shown =
        |example: &Example| format!("{}: {}", row_names.of(example.row), cell(&example.text));
    let witnesses = order.witness.iter().chain(&order.second_witness).map(shown);
    let witnesses: Vec<String> = witnesses.collect();
    let witness = if witnesses.is_empty() {
        String::new()
    } else {
        format!(" ({})", witnesses.join("; "))
    };
    format!(
        "{} can only be {}{witness}",
        count(order.only, "cell"),
        order.order.words()
    )
}

/// What is found beyond single forms, a sentence each.
pub fn rules(justifications: &[Justification]) -> impl Iterator<Item = String> + '_ {
    let rules = justifications
        .iter()
        .filter(|justification| justification.form.is_none());
    rules.map(Justification::sentence)
}

/// The patterns of a form: `d/M/yyyy`, or `d/M/yyyy or M/d/yyyy`.
pub fn patterns(form: &FormForecast) -> String {
    list(&form.patterns, "or")
}

/// `412 cells, such as 25/12/2024 (row 3)`
pub fn cells(form: &FormForecast, row_names: &RowNames) -> String {
    format!(
        "{}, such as {} ({})",
        count(form.cells, "cell"),
        cell(&form.example.text),
        row_names.of(form.example.row)
    )
}

/// Whose clocks local times were read from.
pub fn zone(zone: &ZoneSource) -> String {
    match zone {
        ZoneSource::Zone(zone) => format!("local times are those of the clocks in {zone}"),
        ZoneSource::FromColumn(column) => {
            format!(
                "local times are those of the clocks in the zone that {column} says in each row"
            )
        }
    }
}
