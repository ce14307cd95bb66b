//! The whole reasoning for one column: what each level of evidence found, what
//! was decided, and what would change it.

use super::message::{FAINT, STRONG};
use super::{basis, wrap};
use crate::job::Places;
use crate::words::{cell, count, list, number};
use metachron_core::outlook::{ColumnOutlook, FormOutlook, OrderCount, Rest, Topic};
use metachron_core::relations::{Found, Ground};
use metachron_core::rulings::FILE;
use metachron_core::verdict::Verdict;

/// The reasoning for `column`, level by level.
pub fn why(column: &ColumnOutlook, places: &Places, width: Option<u16>) -> String {
    let kind = column.kind.map_or("passed through", |kind| kind.name());
    let name = &column.name;
    let mut text = format!("{STRONG}{name}{STRONG:#}  {FAINT}{kind}: why{FAINT:#}\n");
    let mut level = |title: &str, lines: Vec<String>| {
        text.push_str(&wrap(title, 2, width));
        for line in lines {
            text.push_str(&wrap(&line, 6, width));
        }
    };
    level("1  what is impossible is out", impossible(column, places));
    level("2  what is declared holds", declared(column));
    level(
        "3  each form by itself",
        column
            .forms
            .iter()
            .flat_map(|form| own(form, places))
            .collect(),
    );
    let around = around(column);
    if !around.is_empty() {
        level("4, 5  the rest of the table", around);
    }
    level("6  what an import exchanged", exchanged(column));
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

fn impossible(column: &ColumnOutlook, places: &Places) -> Vec<String> {
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
                places.of(waiting.example.row),
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

fn declared(column: &ColumnOutlook) -> Vec<String> {
    let declared = column
        .forms
        .iter()
        .filter(|form| form.rests_on == Rest::Declared);
    let forms: Vec<String> = declared.map(basis::patterns).collect();
    let forms = if forms.is_empty() {
        "nothing is declared that chooses a reading".to_owned()
    } else {
        format!("declared: {}", list(&forms, "and"))
    };
    let zone = column.zone.as_ref().map(basis::zone);
    [forms].into_iter().chain(zone).collect()
}

/// What the cells of a form say by themselves.
fn own(form: &FormOutlook, places: &Places) -> Vec<String> {
    let speaking = |order: &&OrderCount| order.only > 0;
    let mut lines = vec![format!(
        "{}: {}",
        basis::patterns(form),
        basis::cells(form, places)
    )];
    let orders: Vec<&OrderCount> = form.orders.iter().filter(speaking).collect();
    for order in &orders {
        lines.push(format!("· {}", basis::only(order, places)));
    }
    match (form.ambiguous, form.orders.len()) {
        (0, 0 | 1) => lines.push("· no other way to read it".to_owned()),
        (0, _) => lines.push("· no cell that several orders read differently".to_owned()),
        (cells, _) => lines.push(format!(
            "· {} fit several readings; {}",
            number(cells),
            match orders.len() {
                0 => "no cell of the form says which",
                1 => "the cells above say which",
                _ => "the cells above contradict each other",
            }
        )),
    }
    lines
}

fn around(column: &ColumnOutlook) -> Vec<String> {
    let found = |ground: &&Ground| !matches!(ground.found, Found::Exchanged { .. });
    let grounds = column.grounds.iter().filter(found);
    let found = grounds.map(|ground| format!("found: {}", ground.sentence()));
    column.tried.iter().cloned().chain(found).collect()
}

fn exchanged(column: &ColumnOutlook) -> Vec<String> {
    let mut exchanged = column
        .grounds
        .iter()
        .filter(|ground| matches!(ground.found, Found::Exchanged { .. }));
    let asked = column
        .questions
        .iter()
        .any(|question| question.topic == Topic::Exchanged);
    vec![match exchanged.next() {
        Some(ground) => ground.sentence(),
        None if asked => "every cell agrees with an exchange of day and month, and so few do that \
                          it may be chance; a person has to say"
            .to_owned(),
        None => "no sign of it: it takes dates of two forms, the one with no day past 12, the \
                 other with no day up to 12"
            .to_owned(),
    }]
}

fn decided(form: &FormOutlook, column: &ColumnOutlook) -> String {
    let why = match form.rests_on {
        Rest::OneWay => "there is one way to read it",
        Rest::Cells => "its own cells leave one order",
        Rest::Numbers => "they are numbers that are said to count time",
        Rest::Kind => "the column holds one kind of value",
        Rest::Table if is_exchanged(form, column) => "an import had exchanged day and month",
        Rest::Table => "the rest of the table says so",
        Rest::Declared => "it is declared",
        Rest::NothingSettles | Rest::Clash if column.grounds.iter().any(|g| g.form.is_none()) => {
            "cell by cell, as the rest of the table says; else open"
        }
        Rest::NothingSettles => "open: nothing says which",
        Rest::Clash => "open: its cells contradict each other",
    };
    format!("{}: {why}", basis::patterns(form))
}

fn is_exchanged(form: &FormOutlook, column: &ColumnOutlook) -> bool {
    let ground = form.ground.and_then(|place| column.grounds.get(place));
    ground.is_some_and(|ground| matches!(ground.found, Found::Exchanged { .. }))
}

fn changes(column: &ColumnOutlook) -> Vec<String> {
    let mut lines = Vec::new();
    for form in &column.forms {
        let patterns = basis::patterns(form);
        lines.extend(match form.rests_on {
            Rest::Cells if form.ambiguous > 0 => Some(format!(
                "one cell of {patterns} that can only have another order would leave {} open",
                number(form.ambiguous)
            )),
            Rest::Table => form
                .ground
                .and_then(|place| column.grounds.get(place))
                .map(|ground| match &ground.found {
                    Found::Group { columns, .. } => format!(
                        "one value of {} with cells of both orders; a value that is new stays open",
                        list(columns, "and").replace(FILE, "the file")
                    ),
                    Found::Exchanged { .. } => {
                        "one date with a day past 12, or one text with a day up to 12".to_owned()
                    }
                    _ => "one cell that the premise leaves another order".to_owned(),
                }),
            Rest::NothingSettles | Rest::Clash => {
                let (name, number) = (&column.name, "its question below");
                Some(format!(
                    "{patterns}: an answer to {number}, given for {name}"
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
