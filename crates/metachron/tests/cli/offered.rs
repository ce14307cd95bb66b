//! Cells that are probably dates, times or lengths, and which a person is asked about: what
//! is offered, and what is not passed over.

use crate::harness::{Folder, holds};

/// Weeks among words are counted in several ways: they are offered under a name of weeks.
#[test]
fn weeks_among_words_are_offered() {
    for (name, cells, pattern, first) in [
        (
            "woche",
            ["KW 3/2024", "KW 12/2023"],
            "'KW' w/YYYY",
            "2024-W03",
        ),
        (
            "week",
            ["Week 50, 2022", "Week 1, 2023"],
            "'Week' w, YYYY",
            "2022-W50",
        ),
        (
            "vecka",
            ["v. 50 2022", "v. 1 2023"],
            "'v'. w YYYY",
            "2022-W50",
        ),
    ] {
        let folder = Folder::with("x.tsv", format!("{name}\n{}\n", cells.join("\n")));
        let asked = folder.run(&["survey", "x.tsv", "--json"]);
        assert_eq!(asked.status, 3, "{name}");
        let run = folder.run(&["convert", "x.tsv", "-c", name, "--read-form", pattern]);
        assert!(run.out.contains(first), "{name}: {}", run.out);
        let none = folder.run(&["survey", "x.tsv", "--set", &format!("{name}.kind=text")]);
        assert_eq!(none.status, 0, "{name}");
    }
}

/// `T0905` is a time of ISO 8601 in its basic format, and may begin any code: the name
/// decides whether a person is asked.
#[test]
fn times_behind_a_t_in_digits_alone_are_offered() {
    let folder = Folder::with("x.csv", "start time\nT0905\nT1430\nT2359\n");
    let asked = folder.run(&["survey", "x.csv"]);
    assert_eq!(asked.status, 3);
    holds(&asked.out, &["'T'", "09:05:00; converts 3"]);
    let folder = Folder::with("x.csv", "crate\nT0905\nT1430\nT2359\n");
    assert_eq!(folder.run(&["survey", "x.csv"]).status, 0);
}

/// A single m may be metres, but not in a column that is said to be of lengths of time.
/// `3M` may be months or minutes all the same.
#[test]
fn single_letters_are_units_of_time_where_the_kind_says_so() {
    let folder = Folder::with("x.csv", "took\n42m\n60 W\n3M\n1h2m\n");
    let run = folder.run(&[
        "convert",
        "x.csv",
        "--set",
        "took.kind=duration",
        "--review",
        "r.csv",
    ]);
    assert_eq!(run.out, "took\nPT42M\nP420D\n\"\"\nPT1H2M\n");
    assert_eq!(run.status, 3);
    let folder = Folder::with("x.csv", "duration\n42m\n1h2m\n");
    let asked = folder.run(&["survey", "x.csv"]);
    holds(
        &asked.out,
        &["--set 'duration.read.unit-letters=time'  PT42M; converts 1"],
    );
}

/// Seven dates among 193 cells without one are said and asked about, where the name says
/// that something happened then; under another name they are strays.
#[test]
fn few_dates_under_a_name_of_dates_are_asked_about() {
    let dates = (11..18).map(|day| format!("2023-05-{day}"));
    let cells: Vec<String> = dates.chain((0..193).map(|_| "afloat".to_owned())).collect();
    for (name, status) in [("date of loss", 3), ("died", 3), ("remarks", 0)] {
        let text = format!("{name}\n{}\n", cells.join("\n"));
        let folder = Folder::with("x.csv", text.clone());
        assert_eq!(folder.run(&["survey", "x.csv"]).status, status, "{name}");
        let converted = folder.run(&["convert", "x.csv"]);
        assert_eq!((converted.status, converted.out), (status, text), "{name}");
    }
}

/// Two dates in every cell are one too many for any form, and are not passed over.
#[test]
fn spans_of_two_dates_are_asked_about() {
    for join in ["{} - {}", "{} to {}", "from {} to {}", "{} bis {}"] {
        let cell = |number: u8| {
            let [first, last] = [number, number + 3].map(|day| format!("{day} March 2024"));
            join.replacen("{}", &first, 1).replacen("{}", &last, 1)
        };
        let cells: Vec<String> = (1..28).map(cell).collect();
        let folder = Folder::with("x.csv", format!("x\n{}\n", cells.join("\n")));
        let asked = folder.run(&["survey", "x.csv"]);
        assert_eq!(asked.status, 3, "{join}");
        holds(&asked.out, &["hold a date or time and something besides"]);
    }
}

/// What looks like a time or a date to a hasty reader, and is none: heights, and codes whose
/// zeros a formula keeps.
#[test]
fn heights_and_codes_in_formulas_stay() {
    for cells in ["h 14.30\nh 9.15", "\"=\"\"00123\"\"\"\n\"=\"\"04521\"\"\""] {
        let text = format!("size\n{cells}\n");
        let folder = Folder::with("x.csv", text.clone());
        let run = folder.run(&["convert", "x.csv"]);
        assert_eq!((run.status, run.out), (0, text));
    }
}
