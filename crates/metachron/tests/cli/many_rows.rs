//! Tables of which the first rows of every block are looked at before all of them.

use crate::harness::Folder;
use serde_json::Value;
use std::fmt::Write;

const ROWS: usize = 40_000;

/// A table of dates with no day past the twelfth, and what stands next to them.
fn table(name: &str, next_to: impl Fn(usize, u32, u32) -> String) -> String {
    let mut table = format!("opened,{name}\n");
    for row in 0..ROWS {
        let (day, month) = (1 + (row * 7 % 12) as u32, 1 + (row * 5 / 3 % 12) as u32);
        let next = next_to(row, day, month);
        writeln!(table, "{day:02}/{month:02}/2024,{next}").unwrap();
    }
    table
}

/// What a survey says of the column `opened`.
fn opened(table: &str) -> Value {
    let folder = Folder::with("in.csv", table);
    let surveyed = folder.run(&["survey", "in.csv", "--json"]).json();
    let mut columns = surveyed["columns"].as_array().unwrap().iter();
    let opened = columns.find(|column| column["name"] == "opened");
    opened.unwrap().clone()
}

fn attempts(column: &Value) -> Vec<String> {
    let attempts = column["attempts"].as_array().unwrap().iter();
    attempts
        .map(|attempt| attempt.as_str().unwrap().to_owned())
        .collect()
}

#[test]
fn what_the_first_rows_say_is_counted_in_all() {
    let column = opened(&table("month", |_, _, month| month.to_string()));
    assert_eq!(column["cells"]["open"], 0);
    let said = attempts(&column).join("\n");
    assert!(
        said.contains("month repeats the month in 40,000 rows"),
        "{said}"
    );
}

/// The first rows of no block are among the last hundred.
#[test]
fn what_the_last_rows_contradict_does_not_hold() {
    let column = opened(&table("month", |row, day, month| {
        let is_late = row >= ROWS - 100;
        (if is_late { day % 12 + 1 } else { month }).to_string()
    }));
    assert_ne!(column["cells"]["open"], 0);
}

#[test]
fn where_the_first_rows_say_nothing_no_more_are_looked_at_and_that_is_said() {
    let column = opened(&table("amount", |row, _, _| (row * row % 9973).to_string()));
    assert_ne!(column["cells"]["open"], 0);
    let said = attempts(&column);
    let number: Vec<&str> = said[0].split(' ').collect();
    assert_eq!(
        [number[0], number[1], number[3], number[4], number[5]],
        ["looked", "at", "of", "40,000", "rows,"],
    );
    let looked_at: usize = number[2].replace(',', "").parse().unwrap();
    assert!((5_000..ROWS).contains(&looked_at), "{looked_at}");
}

/// One row in two hundred says in which order a site writes: more rows may be what
/// settles it.
#[test]
fn groups_are_counted_in_all_rows_while_they_may_part_the_orders() {
    let sites = table("site", |row, _, _| (row % 2).to_string());
    let mut lines = sites.lines();
    let mut table = format!("{}\n", lines.next().unwrap());
    for (row, line) in lines.enumerate() {
        match row % 400 {
            0 => table.push_str("25/03/2024,0\n"),
            1 => table.push_str("03/25/2024,1\n"),
            _ => writeln!(table, "{line}").unwrap(),
        }
    }
    let column = opened(&table);
    assert_eq!(column["cells"]["open"], 0);
    let said = attempts(&column);
    let all = |line: &&String| line.starts_with("looked at all rows");
    let behind = said.iter().skip_while(|line| !all(line)).nth(1);
    assert!(behind.unwrap().starts_with("groups:"), "{column}");
}
