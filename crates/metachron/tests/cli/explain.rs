use crate::harness::{Folder, holds};

#[test]
fn every_reading_of_one_value() {
    let run = Folder::new()
        .run(&["explain", "03/04/05", "--now", "2026-11-23"])
        .status(3);
    holds(
        &run.out,
        &[
            "3 ways to read it",
            "2005-04-03",
            "2005-03-04",
            "2003-04-05",
            "rare: counts only where no usual way fits",
            "--read-order dmy, --read-order mdy or --read-order ymd",
            "1947–2046",
        ],
    );
}

#[test]
fn what_a_value_is() {
    for (value, status, words) in [
        ("31/12/2024", 0, "certain"),
        ("2024-03-05T14:30:00+01:00", 0, "2024-03-05T13:30:00Z"),
        ("n/a", 0, "blank"),
        (
            "Fri 5 March 2024",
            3,
            "2024-03-05 is a Tuesday, not a Friday",
        ),
        ("30 February 2024", 3, "February 2024 has no day 30"),
        ("lately", 3, "no date or time can be read in it"),
    ] {
        let run = Folder::new().run(&["explain", "--", value]).status(status);
        holds(&run.out, &[words]);
    }
}

/// What a column waits for, a value by itself waits for too.
#[test]
fn years_far_from_ours_are_not_certain() {
    let folder = Folder::new();
    for (value, more, standing) in [
        (
            "3024-05-06",
            &[][..],
            "open: one way to read it, if its year is meant",
        ),
        ("2024-05-06", &[], "certain"),
        ("9999-12-31", &[], "certain"),
        ("3024-05-06", &["--read-calendar", "gregory"], "certain"),
        ("3024-05-06", &["--read-form", "yyyy-MM-dd"], "certain"),
    ] {
        let run = folder.run(&[&["explain", value][..], more].concat());
        holds(&run.out, &[&format!("{value}  {standing}")]);
    }
}

#[test]
fn values_from_standard_input_as_json() {
    let run = Folder::new().run_with(&["explain", "-", "--json"], "2024-03-05\n1/2/2024\n");
    let facts = run.status(3).json();
    assert_eq!(facts[0]["standing"], "certain");
    assert_eq!(facts[0]["readings"][0]["stamp"], "2024-03-05");
    assert_eq!(facts[1]["standing"], "open");
    assert_eq!(facts[1]["readings"][1]["in_words"], "2 January 2024");
    assert_eq!(facts[1]["tokens"][0]["what"], "number");
}

#[test]
fn a_form_that_is_given_is_tried() {
    let run = Folder::new()
        .run(&["explain", "05032024", "--read-form", "ddMMyyyy"])
        .status(0);
    holds(&run.out, &["2024-03-05"]);
}

#[test]
fn completions_and_manual_pages() {
    let folder = Folder::new();
    for shell in ["bash", "zsh", "fish", "elvish", "powershell"] {
        holds(
            &folder.run(&["completions", shell]).status(0).out,
            &["metachron"],
        );
    }
    holds(
        &folder.run(&["completions", "man"]).status(0).out,
        &[".TH metachron 1"],
    );
    folder
        .run(&["completions", "man", "--dir", "man1"])
        .status(0);
    assert!(folder.path("man1/metachron-convert.1").exists());
}

#[test]
fn every_help_has_an_example() {
    let folder = Folder::new();
    for command in [
        "survey",
        "settle",
        "convert",
        "explain",
        "demo",
        "completions",
    ] {
        let help = folder.run(&[command, "--help"]).status(0).out;
        holds(&help, &["Example", &format!("metachron {command}")]);
    }
}

/// A cell that only its language reads names it.
#[test]
fn the_language_that_reads_a_cell_is_named() {
    let folder = Folder::new();
    let run = folder.run(&["explain", "2004年3月23日星期二"]);
    holds(
        &run.out,
        &["its language: --read-locale zh reads it as 2004-03-23"],
    );
}
