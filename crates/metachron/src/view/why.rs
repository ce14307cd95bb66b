//! The whole reasoning for one column: what each level of evidence found, what
//! was decided, and what would change it.

use super::message::{FAINT, STRONG};
use super::{basis, wrap};
use crate::job::RowNames;
use crate::visible::one_line;
use crate::words::{cell, count, list, number};
use metachron_core::decide::Verdict;
use metachron_core::forecast::{ColumnForecast, FormForecast, OrderCount, Rest, Topic};
use metachron_core::relations::{Finding, Justification};
use metachron_core::settle::contradicting_until_open;

/// The reasoning for `column`, level by level.
pub fn why(column: &ColumnForecast, row_names: &RowNames, width: Option<u16>) -> String {
    let kind = column.kind.map_or("passed through", |kind| kind.name());
    let name = one_line(&column.name);
    let mut text = format!("{STRONG}{name}{STRONG:#}  {FAINT}{kind}: why{FAINT:#}\n");
    let mut level = |title: &str, lines: Vec<String>| {
        text.push_str(&wrap(title, 2, width));
        for line in lines {
            text.push_str(&wrap(&line, 6, width));
        }
    };
    level(
        "1  what is impossible is out",
        impossible(column, row_names),
    );
    level("2  what is declared holds", declared(column));
    level(
        "3  each form by itself",
        column
            .forms
            .iter()
            .flat_map(|form| own(form, column, row_names))
            .collect(),
    );
    let context = context(column);
    if !context.is_empty() {
        level("4, 5  the rest of the table", context);
    }
    level("6  what an import swapped", swapped(column));
    if !column.remarks.is_empty() {
        level("7  what else there is to know", column.remarks.clone());
    }
    level(
        "so",
        column
            .forms
            .iter()
            .map(|form| decided(form, column))
            .collect(),
    );
    level("what would change it", changes(column));
    text
}

fn impossible(column: &ColumnForecast, row_names: &RowNames) -> Vec<String> {
    let unreadable = column
        .waiting
        .iter()
        .filter(|waiting| waiting.verdict == Verdict::Unreadable);
    let lines: Vec<String> = unreadable
        .map(|waiting| {
            format!(
                "{}, such as {} ({}): {}",
                count(waiting.cells, "cell"),
                cell(&waiting.example.text),
                row_names.of(waiting.example.row),
                waiting.reason
            )
        })
        .collect();
    if lines.is_empty() {
        vec!["every cell that is not blank has a reading".to_owned()]
    } else {
        lines
    }
}

fn declared(column: &ColumnForecast) -> Vec<String> {
    let declared = column
        .forms
        .iter()
        .filter(|form| form.rests_on == Rest::Declared);
    let forms: Vec<String> = declared.map(basis::patterns).collect();
    let justifications = column.justifications.iter();
    let mut contradicted = justifications.filter(|justification| justification.found.level() == 2);
    let forms = if let Some(justification) = contradicted.next() {
        justification.sentence()
    } else if forms.is_empty() {
        "nothing is declared that chooses a reading".to_owned()
    } else {
        format!("declared: {}", list(&forms, "and"))
    };
    let zone = column.zone.as_ref().map(basis::zone);
    [forms].into_iter().chain(zone).collect()
}

/// What the cells of a form say by themselves.
fn own(form: &FormForecast, column: &ColumnForecast, row_names: &RowNames) -> Vec<String> {
    let speaking = |order: &&OrderCount| order.only > 0;
    let mut lines = vec![format!(
        "{}: {}",
        basis::patterns(form),
        basis::cells(form, row_names)
    )];
    let orders: Vec<&OrderCount> = form.orders.iter().filter(speaking).collect();
    let own = justification(form, column).filter(|own| own.found.level() == 3);
    for order in &orders {
        lines.push(format!("· {}", basis::only(order, row_names)));
    }
    let others = basis::others_only(form);
    match (form.ambiguous, form.orders.len()) {
        (0, 0 | 1) => lines.push("· no other way to read it".to_owned()),
        (0, _) => lines.push("· no cell that several orders read differently".to_owned()),
        (cells, _) => lines.push(format!(
            "· {} fit several readings; {}",
            number(cells),
            match orders.len() {
                0 if own.is_some() => "no cell by itself says which",
                0 if form.rests_on == Rest::Cells => &others,
                0 => "no cell of the form says which",
                1 if own.is_some() => "too few cells say which",
                1 if finding(form, column).is_some_and(|found| found.level() == 2) => {
                    "the cells above contradict what is declared"
                }
                1 if form.patterns.len() > 1 => {
                    "the cells above say which, and the rest of the table speaks against it"
                }
                1 => "the cells above say which",
                _ if form.rests_on == Rest::Cells => {
                    "the cells above say which, but for a few slips"
                }
                _ => "the cells above contradict each other",
            }
        )),
    }
    if let Some(justification) = own {
        lines.push(format!("· {}", justification.sentence()));
    }
    lines
}

fn context(column: &ColumnForecast) -> Vec<String> {
    let found = |justification: &&Justification| matches!(justification.found.level(), 4 | 5);
    let justifications = column.justifications.iter().filter(found);
    let found = justifications.map(|justification| format!("found: {}", justification.sentence()));
    column.attempts.iter().cloned().chain(found).collect()
}

fn swapped(column: &ColumnForecast) -> Vec<String> {
    let mut swapped = column
        .justifications
        .iter()
        .filter(|justification| justification.found.level() == 6);
    let asked = column
        .questions
        .iter()
        .any(|question| question.topic == Topic::Swapped);
    vec![match swapped.next() {
        Some(justification) => justification.sentence(),
        None if asked => "every cell agrees with swapped days and months, and so few do that \
                          it may be chance; a person has to say"
            .to_owned(),
        None => "no sign of it: it takes dates of two forms, the one with no day past 12, the \
                 other with no day up to 12"
            .to_owned(),
    }]
}

fn decided(form: &FormForecast, column: &ColumnForecast) -> String {
    let why = match form.rests_on {
        Rest::OneWay => "there is one way to read it",
        Rest::Cells if form.orders.iter().filter(|order| order.only > 0).count() > 1 => {
            "its own cells leave one order, but for a few slips"
        }
        Rest::Cells => "its own cells leave one order",
        Rest::Numbers => "they are numbers that are said to count time",
        Rest::Kind => "the column holds one kind of value",
        Rest::Table => finding(form, column).map_or("", Finding::in_short),
        Rest::Declared => "it is declared",
        Rest::NothingSettles | Rest::Clash
            if column.justifications.iter().any(|g| g.form.is_none()) =>
        {
            "cell by cell, as the rest of the table says; else open"
        }
        Rest::NothingSettles => "open: nothing says which",
        Rest::Clash => "open: its cells contradict each other",
    };
    format!("{}: {why}", basis::patterns(form))
}

fn justification<'c>(form: &FormForecast, column: &'c ColumnForecast) -> Option<&'c Justification> {
    column.justifications.get(form.justification?)
}

fn finding<'c>(form: &FormForecast, column: &'c ColumnForecast) -> Option<&'c Finding> {
    justification(form, column).map(|justification| &justification.found)
}

fn changes(column: &ColumnForecast) -> Vec<String> {
    let mut lines = Vec::new();
    for form in &column.forms {
        let patterns = basis::patterns(form);
        lines.extend(match form.rests_on {
            Rest::Cells if form.ambiguous > 0 => {
                let is_own = |order: &&OrderCount| form.patterns.contains(&order.pattern);
                let only = |order: &OrderCount| order.only;
                let own = form.orders.iter().filter(is_own).map(only).sum();
                let slips = form.orders.iter().map(only).sum::<u64>() - own;
                let more = match contradicting_until_open(own, slips) {
                    1 => "one cell".to_owned(),
                    more => count(more, "cell"),
                };
                let more = if slips > 0 {
                    more.replacen(' ', " more ", 1)
                } else {
                    more
                };
                Some(format!(
                    "{more} of {patterns} that can only have another order would leave {} open",
                    number(form.ambiguous)
                ))
            }
            Rest::Table => finding(form, column).map(|found| found.what_changes_it(&patterns)),
            Rest::NothingSettles | Rest::Clash if column.questions.is_empty() => Some(format!(
                "{patterns}: one row in which the rest of the table leaves no reading"
            )),
            Rest::NothingSettles | Rest::Clash => {
                let name = one_line(&column.name);
                Some(format!(
                    "{patterns}: an answer to its question below, given for {name}"
                ))
            }
            _ => None,
        });
    }
    if lines.is_empty() {
        lines.push("a declaration (--read-form, --set), and nothing in the cells".to_owned());
    }
    lines
}
