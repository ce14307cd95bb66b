//! Dates whose day and month an import may have swapped, and what else would leave
//! such a column.

use crate::harness::Folder;
use jiff::ToSpan;
use jiff::civil::{Date, date};
use serde_json::Value;

/// Days of three years, none of which comes twice.
fn days() -> impl Iterator<Item = Date> {
    let first = date(2021, 1, 1);
    (0..140).map(move |number: i64| first + (number * 397 % 1091).days())
}

/// What a survey says of the column `date`.
fn surveyed(header: &str, rows: impl Iterator<Item = String>) -> Value {
    let rows: Vec<String> = rows.collect();
    let folder = Folder::with("in.csv", format!("{header}\n{}\n", rows.join("\n")));
    let survey = folder.run(&["survey", "in.csv", "--json"]).json();
    let mut columns = survey["columns"].as_array().unwrap().iter();
    let column = columns.find(|column| column["name"] == "date");
    column.unwrap().clone()
}

/// What an import leaves of `day` that reads month first: text, or the day swapped.
fn damaged(day: Date) -> String {
    match day.day() {
        13.. => day.strftime("%d/%m/%Y").to_string(),
        _ => date(day.year(), day.day(), day.month()).to_string(),
    }
}

fn reasons(column: &Value) -> Vec<&str> {
    let justifications = column["justifications"].as_array().unwrap().iter();
    justifications
        .filter_map(|found| found["by"].as_str())
        .collect()
}

#[test]
fn a_swap_is_proven_among_columns_that_say_nothing() {
    let sites = ["Odrava", "Salten", "Kestrelby"];
    let rows = days().zip(sites.iter().cycle());
    let column = surveyed(
        "date,site",
        rows.map(|(day, site)| format!("{},{site}", damaged(day))),
    );
    assert_eq!(column["cells"]["open"], 0, "{column}");
    assert_eq!(reasons(&column), ["exchanged"]);
}

/// Early days are no source of their own.
#[test]
fn the_day_itself_parts_the_two_forms_and_says_nothing() {
    let column = surveyed(
        "date,dom",
        days().map(|day| format!("{},{}", damaged(day), day.day())),
    );
    assert_eq!(column["cells"]["open"], 0, "{column}");
}

#[test]
fn a_column_that_parts_the_two_forms_leaves_it_to_a_person() {
    let row = |day: Date| match day.day() {
        13.. => format!("{},Salten", day.strftime("%d/%m/%Y")),
        _ => format!("{day},Odrava"),
    };
    let column = surveyed("date,provider", days().map(row));
    assert_ne!(column["cells"]["open"], 0, "{column}");
    assert_eq!(reasons(&column), ["swap-rival"]);
    assert_eq!(column["questions"][0]["topic"], "exchanged");
}

/// What the rest of the table repeats says which of the two it was.
#[test]
fn a_column_with_the_month_dispels_the_doubt() {
    let half = |day: Date| ["late", "early"][usize::from(day.day() < 13)];
    let column = surveyed(
        "date,batch,month",
        days().map(|day| format!("{},{},{}", damaged(day), half(day), day.strftime("%B"))),
    );
    assert_eq!(column["cells"]["open"], 0, "{column}");
}

/// Each row is read as the other column has it: nothing was swapped.
#[test]
fn the_same_dates_elsewhere_speak_against_a_swap() {
    let as_written = |day: Date| match day.day() {
        13.. => day.strftime("%d/%m/%Y").to_string(),
        _ => day.to_string(),
    };
    let rows = days().map(|day| format!("{},{day}\n", as_written(day)));
    let folder = Folder::with(
        "in.csv",
        format!("date,entered\n{}", rows.collect::<String>()),
    );
    let clean = folder.run(&["convert", "in.csv"]).out;
    let expected = days().map(|day| format!("{day},{day}\n"));
    assert_eq!(
        clean,
        format!("date,entered\n{}", expected.collect::<String>())
    );
}
