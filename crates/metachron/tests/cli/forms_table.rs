//! The table of cells in docs/forms.md is true.

use crate::harness::Folder;
use serde_json::Value;

const DOC: &str = include_str!("../../../../docs/forms.md");

/// A row of the table: the cell, the options, and what must be said of it.
struct Row<'d> {
    cell: &'d str,
    options: &'d str,
    verdict: &'d str,
    forms: &'d str,
    stamp: &'d str,
    kind: &'d str,
}

fn rows() -> Vec<Row<'static>> {
    DOC.lines()
        .filter(|line| line.starts_with("| `` "))
        .map(|line| {
            let mut parts = line.trim_matches('|').split(" | ").map(str::trim);
            let mut next = || parts.next().unwrap_or_default();
            Row {
                cell: next().trim_matches('`').trim_matches(' '),
                options: next().trim_matches('`'),
                verdict: next(),
                forms: next(),
                stamp: next(),
                kind: next().trim_matches('|').trim(),
            }
        })
        .collect()
}

/// Splits options as a shell does, as far as the table needs it.
fn words(options: &str) -> Vec<String> {
    let mut words = Vec::new();
    for (index, part) in options.split('"').enumerate() {
        match index % 2 {
            0 => words.extend(part.split_whitespace().map(str::to_owned)),
            _ => words.push(part.to_owned()),
        }
    }
    words
}

fn joined(values: Vec<String>) -> String {
    let mut once: Vec<String> = Vec::new();
    for value in values {
        if !once.contains(&value) {
            once.push(value);
        }
    }
    once.join(" or ")
}

#[test]
fn every_cell_of_the_table_is_read_as_it_says() {
    let folder = Folder::new();
    let rows = rows();
    assert!(rows.len() >= 40, "the table has {} rows", rows.len());
    for row in rows {
        let options = words(row.options);
        let mut args = vec!["explain", "--json", "--now", "2026-11-23T00:00:00Z"];
        args.extend(options.iter().map(String::as_str));
        args.extend(["--", row.cell]);
        let run = folder.run(&args);
        let explained: Value = serde_json::from_str(&run.out).expect("JSON");
        let one = &explained[0];
        assert_eq!(one["standing"], row.verdict, "{}", row.cell);
        let all = one["readings"].as_array().expect("a list");
        let usual: Vec<&Value> = all
            .iter()
            .filter(|reading| reading["usual"] == true)
            .collect();
        let counted = if usual.is_empty() {
            all.iter().collect()
        } else {
            usual
        };
        let text = |key: &str| -> Vec<String> {
            let values = counted.iter().filter_map(|reading| reading[key].as_str());
            values.map(str::to_owned).collect()
        };
        if counted.is_empty() {
            let reason = one["rejected"][0]["reason"].as_str();
            let leftover = one["leftover"].as_str();
            let left = leftover.map(|left| format!("left over: `{left}`"));
            let found = reason.map(str::to_owned).or(left).unwrap_or_default();
            assert_eq!(found, row.stamp, "{}", row.cell);
        } else {
            let forms: Vec<String> = text("form")
                .iter()
                .map(|form| format!("`{form}`"))
                .collect();
            assert_eq!(joined(forms), row.forms, "{}", row.cell);
            assert_eq!(joined(text("stamp")), row.stamp, "{}", row.cell);
            assert_eq!(joined(text("kind")), row.kind, "{}", row.cell);
        }
    }
}
