//! Cells that are a time of day, a length of time, or a number.

use crate::harness::{Folder, holds};

/// `1430 hrs` is half past two, or fourteen hundred hours: a person says, or the name or
/// a cell that is no clock.
#[test]
fn clocks_before_the_word_for_hours_are_asked_about() {
    let folder = |name: &str, cell: &dyn Fn(i64) -> String, odd: &str| {
        let cells: Vec<String> = (0..40).map(|number| cell(number * 37 % 1440)).collect();
        Folder::with("in.csv", format!("{name}\n{}\n{odd}\n", cells.join("\n")))
    };
    for sign in ["", ".", ":"] {
        for word in ["hrs", "hours"] {
            let cell = |n: i64| format!("{:02}{sign}{:02} {word}", n / 60, n % 60);
            let asked = folder("at", &cell, "");
            let run = asked.run(&["survey", "in.csv"]).status(3);
            holds(&run.out, &[&format!("HH{sign}mm"), "elapsed units"]);
            let said = folder("duration", &cell, "");
            let run = said.run(&["convert", "in.csv"]).status(0);
            assert!(
                run.out
                    .lines()
                    .skip(1)
                    .all(|line| line.starts_with('P') || line.is_empty()),
                "{}",
                run.out
            );
        }
    }
    // With a colon, other languages write times so.
    for (sign, word, status) in [
        (":", "uur", 0),
        (":", "ч", 3),
        ("", "uur", 3),
        (".", "uur", 3),
        ("", "часов", 3),
    ] {
        let cell = |n: i64| format!("{:02}{sign}{:02} {word}", n / 60, n % 60);
        folder("at", &cell, "")
            .run(&["survey", "in.csv"])
            .status(status);
    }
    let cell = |n: i64| format!("{}.{:02} hrs", n / 60, n % 60);
    let run = folder("used", &cell, "7.75 hrs").run(&["survey", "in.csv"]);
    holds(&run.out, &["used  duration"]);
}

/// `1 год` is a year in Russian, and an hour in Ukrainian.
#[test]
fn lengths_in_an_unsaid_language_are_asked_about() {
    let cells: Vec<String> = (1..20)
        .map(|n| format!("{} год {} хв", n % 7 + 1, n * 3))
        .collect();
    let folder = Folder::with("in.csv", format!("тривалість\n{}\n", cells.join("\n")));
    let run = folder.run(&["survey", "in.csv"]).status(3);
    holds(&run.out, &["Which language is it?"]);
    let run = folder
        .run(&["convert", "in.csv", "--read-locale", "uk"])
        .status(0);
    holds(&run.out, &["PT2H3M"]);
}

/// `94216` is 9:42:16 whose zero a spreadsheet has dropped.
#[test]
fn times_in_digits_are_asked_about() {
    let rows = (0..40).map(|row| format!("{}", (row * 7 % 24) * 10_000 + 1_530 + row % 30));
    let rows: Vec<String> = rows.filter(|text| text.len() > 4).collect();
    let table = |name: &str| Folder::with("in.csv", format!("{name}\n{}\n", rows.join("\n")));
    let folder = table("time");
    let survey = folder.run(&["survey", "in.csv"]).status(3);
    holds(&survey.out, &["-c time --read-form 'Hmmss'", "converts 38"]);
    folder
        .run(&[
            "convert",
            "in.csv",
            "-c",
            "time",
            "--read-form",
            "Hmmss",
            "-o",
            "out.csv",
        ])
        .status(0);
    holds(&folder.read("out.csv"), &["07:15:31"]);
    table("parcel").run(&["survey", "in.csv"]).status(0);
}
