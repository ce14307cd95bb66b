//! The phrases in docs/phrases.md give what it says.

use crate::harness::{Folder, Run, holds};

const DOC: &str = include_str!("../../../../docs/phrases.md");

/// The row that all phrases of the page are on.
const TABLE: &str = "\
out,back,born,due back,handed,taken,sent,come,closes,took,packing,shown,site,y,m,d,n,lost
2024-01-31,2024-03-01,2000-02-29,2024-02-03,2024-03-05 23:35:12.5,2024-03-07 01:05:12.5,\
2024-07-01T14:30:00Z,2024-07-03T02:00:00Z,16:20,1 h 30 min,45 min,2024-02,Odrava,2024,March,5,3,
";

const RULINGS: &str = r#"
metachron = 1
zones = { Odrava = "Europe/Prague" }

[column]
out = { kind = "date", read = { forms = ["yyyy-MM-dd"] } }
back = { kind = "date", read = { forms = ["yyyy-MM-dd"] } }
born = { kind = "date", read = { forms = ["yyyy-MM-dd"] } }
"due back" = { kind = "date", read = { forms = ["yyyy-MM-dd"] } }
handed = { kind = "datetime", read = { forms = ["yyyy-MM-dd HH:mm:ss.S"] } }
taken = { kind = "datetime", read = { forms = ["yyyy-MM-dd HH:mm:ss.S"] } }
sent = { kind = "instant", read = { forms = ["yyyy-MM-dd'T'HH:mm:ssXXX"] } }
come = { kind = "instant", read = { forms = ["yyyy-MM-dd'T'HH:mm:ssXXX"] } }
closes = { kind = "time", read = { forms = ["HH:mm"] } }
took = { kind = "duration", read = { forms = ["elapsed units"] } }
packing = { kind = "duration", read = { forms = ["elapsed units"] } }
shown = { kind = "month", read = { forms = ["yyyy-MM"] } }
lost = { kind = "date", read = { forms = ["yyyy-MM-dd"] } }
"#;

/// The first two cells of the rows of tables that begin with this line.
fn rows(head: &str) -> Vec<(&'static str, &'static str)> {
    let mut found = Vec::new();
    for table in DOC.split(head).skip(1) {
        let lines = table.lines().skip(1);
        for line in lines.take_while(|line| line.starts_with('|')) {
            let mut cells = line[1..].split(" | ").map(plain);
            let mut next = || cells.next().unwrap_or_default();
            found.push((next(), next()));
        }
    }
    found
}

/// A cell without the signs around code.
fn plain(cell: &'static str) -> &'static str {
    let cell = cell.trim_end_matches('|').trim();
    let bare = cell
        .strip_prefix("`` ")
        .and_then(|cell| cell.strip_suffix(" ``"));
    bare.or_else(|| cell.strip_prefix('`')?.strip_suffix('`'))
        .unwrap_or(cell)
}

fn folder() -> Folder {
    let folder = Folder::with("row.csv", TABLE);
    folder.write("row.toml", RULINGS);
    folder
}

fn derive(folder: &Folder, phrases: &[&str]) -> Run {
    let named: Vec<String> = phrases
        .iter()
        .enumerate()
        .map(|(index, phrase)| format!("p{index} = {phrase}"))
        .collect();
    let mut args = vec!["convert", "row.csv", "-r", "row.toml", "-o", "out.csv"];
    args.extend(["--now", "2026-11-23T22:30:00Z"]);
    for phrase in &named {
        args.extend(["--derive", phrase]);
    }
    folder.run(&args)
}

#[test]
fn every_phrase_of_the_page_gives_what_it_says() {
    let folder = folder();
    let rows = rows("| phrase | gives | |\n");
    assert!(rows.len() >= 80, "the page has {} phrases", rows.len());
    let phrases: Vec<&str> = rows.iter().map(|(phrase, _)| *phrase).collect();
    derive(&folder, &phrases).status(0);
    let clean = csv::Reader::from_path(folder.path("out.csv"))
        .unwrap()
        .records()
        .next();
    let clean = clean.unwrap().unwrap();
    let first = TABLE.lines().next().unwrap().split(',').count();
    for (index, (phrase, gives)) in rows.iter().enumerate() {
        let gives = if *gives == "blank" { "" } else { gives };
        assert_eq!(&clean[first + index], gives, "{phrase}");
    }
}

#[test]
fn what_has_no_value_is_listed_as_the_page_says() {
    let folder = folder();
    let rows = rows("| phrase | the review list says |\n");
    assert!(rows.len() >= 8);
    let phrases: Vec<&str> = rows.iter().map(|(phrase, _)| *phrase).collect();
    derive(&folder, &phrases).status(3);
    let mut list = csv::Reader::from_path(folder.path("out.review.csv")).unwrap();
    let listed: Vec<_> = list.records().map(Result::unwrap).collect();
    assert_eq!(listed.len(), rows.len());
    for ((phrase, says), entry) in rows.iter().zip(listed) {
        assert_eq!(&entry[6], *says, "{phrase}");
    }
}

#[test]
fn what_is_refused_is_refused_as_the_page_says() {
    let folder = folder();
    let rows = rows("| phrase | because |\n");
    assert!(rows.len() >= 8);
    for (phrase, because) in rows {
        let run = derive(&folder, &[phrase]).status(2);
        holds(&run.err, &[because, "^"]);
    }
}
