use crate::harness::{Folder, holds};

/// Two forms in one column, each decided by its own cells.
const MIXED: &str = "item,out\na,31-12-2024\nb,05-06-2024\nc,12/31/2024\nd,05/06/2024\n";

#[test]
fn each_form_is_settled_on_its_own_evidence() {
    let folder = Folder::with("loans.csv", MIXED);
    let run = folder.run(&["survey", "loans.csv"]).status(0);
    holds(
        &run.out,
        &[
            "dd-MM-yyyy",
            "1 cell can only be day-month-year (row 1: 31-12-2024); 1 fit other orders too",
            "MM/dd/yyyy",
            "1 cell can only be month-day-year (row 3: 12/31/2024)",
            "Passed through, no dates or times: item",
        ],
    );
    folder
        .run(&["convert", "loans.csv", "-o", "clean.csv"])
        .status(0);
    assert_eq!(
        folder.read("clean.csv"),
        "item,out\na,2024-12-31\nb,2024-06-05\nc,2024-12-31\nd,2024-05-06\n"
    );
}

#[test]
fn a_clash_is_shown_with_the_two_rows() {
    let folder = Folder::with("x.csv", "d\n31/12/2024\n12/31/2024\n05/06/2024\n");
    let run = folder.run(&["survey", "x.csv"]).status(3);
    holds(
        &run.out,
        &[
            "cells contradict each other",
            "(row 1: 31/12/2024)",
            "(row 2: 12/31/2024)",
            "Questions",
            // The order of the cells that fit both, and of no other.
            "--set 'd.read.otherwise=dmy'  5 June 2024; converts 1",
            "--set 'd.read.otherwise=mdy'  6 May 2024; converts 1",
        ],
    );
}

/// Each answer, given, converts as many cells as it says, and leaves those
/// alone that were converted before.
#[test]
fn an_answer_changes_nothing_else() {
    let rows = [
        "31/12/2024",
        "12/31/2024",
        "05/06/2024",
        "07/08/2024",
        "24.12.2024",
        "03.04.2024",
        "2024-02-03",
    ];
    let folder = Folder::with("x.csv", format!("d\n{}\n", rows.join("\n")));
    folder
        .run(&["convert", "x.csv", "-o", "before.csv"])
        .status(3);
    let before = folder.read("before.csv");
    let settled = folder.run(&["settle", "x.csv", "--json"]).json();
    let questions = settled["columns"][0]["questions"].as_array().unwrap();
    let answers = questions[0]["answers"].as_array().unwrap();
    assert_eq!(answers.len(), 2, "{settled}");
    for answer in answers {
        let set = answer["declares"].as_str().unwrap();
        folder.run(&["convert", "x.csv", "-o", "after.csv", "--set", set]);
        let after = folder.read("after.csv");
        let mut gained = 0;
        for (was, is) in before.lines().zip(after.lines()) {
            let is_gained = was != is;
            assert!(!is_gained || was == "\"\"", "{was} became {is} by {set}");
            gained += u64::from(is_gained);
        }
        assert_eq!(answer["converts"].as_u64(), Some(gained), "{set}");
    }
}

#[test]
fn questions_name_the_example_both_ways() {
    let folder = Folder::with("x.csv", "id,due\n1,03/04/2025\n2,05/06/2025\n");
    let run = folder.run(&["survey", "x.csv"]).status(3);
    holds(
        &run.out,
        &[
            "due: 2 cells such as 03/04/2025 (row 1) fit several orders",
            "3 April 2025; converts 2",
            "4 March 2025; converts 2",
        ],
    );
}

#[test]
fn no_range_is_told_of_what_is_open() {
    let folder = Folder::with("x.csv", "due\n03/04/2025\n05/05/2025\n");
    let facts = folder.run(&["survey", "x.csv", "--json"]).status(3).json();
    assert_eq!(facts["columns"][0]["earliest"], serde_json::Value::Null);
    let args = ["survey", "x.csv", "--json", "--read-order", "mdy"];
    let facts = folder.run(&args).status(0).json();
    assert_eq!(facts["columns"][0]["earliest"], "2025-03-04");
}

#[test]
fn json_has_the_facts() {
    let folder = Folder::with(
        "x.csv",
        "id,due\n1,03/04/2025\n2,n/a\n3,25/06/2025\n4,soon\n",
    );
    let facts = folder.run(&["survey", "x.csv", "--json"]).status(3).json();
    let due = &facts["columns"][1];
    assert_eq!(facts["table"]["rows"], 4);
    assert_eq!(facts["table"]["header_line"], 1);
    assert_eq!(facts["columns"][0]["passed"]["why"], "no-dates");
    assert_eq!(due["kind"], "date");
    assert_eq!(due["cells"]["certain"], 1);
    assert_eq!(due["cells"]["settled"], 1);
    assert_eq!(due["cells"]["unreadable"], 1);
    assert_eq!(due["blanks"][0]["text"], "n/a");
    assert_eq!(due["forms"][0]["patterns"][0], "dd/MM/yyyy");
    assert_eq!(due["forms"][0]["rests_on"], "cells");
    assert_eq!(due["waiting"][0]["example"]["text"], "soon");
    assert_eq!(due["earliest"], "2025-04-03");
}

#[test]
fn two_digit_years_are_counted_and_their_range_is_said() {
    let folder = Folder::with("x.csv", "d\n12-Mar-98\n5-Jan-07\n");
    let run = folder
        .run(&["survey", "x.csv", "--now", "2026-11-23"])
        .status(0);
    holds(
        &run.out,
        &["2 two-digit years: read as 1998–2007, in the window 1947–2046"],
    );

    // From 29 to 71: the window's edge would cut through them.
    let days: String = (29..72).map(|year| format!("31/12/{year}\n")).collect();
    folder.write("days.csv", format!("seen\n{days}"));
    let run = folder
        .run(&["survey", "days.csv", "--now", "2026-11-23"])
        .status(3);
    holds(
        &run.out,
        &[
            "the century is not settled",
            "--century 1947",
            "all between 1947 and 2046",
            "all between 1929 and 1971",
        ],
    );
    let run = folder
        .run(&[
            "convert",
            "days.csv",
            "--century",
            "1900",
            "--now",
            "2026-11-23",
        ])
        .status(0);
    holds(&run.out, &["1929-12-31", "1971-12-31"]);

    // Nobody is born after now.
    folder.write("births.csv", format!("born\n{days}"));
    let run = folder
        .run(&["survey", "births.csv", "--now", "2026-11-23"])
        .status(0);
    holds(&run.out, &["read as 1929–1971, in the window 1927–2026"]);
}

#[test]
fn midnights_are_remarked_on() {
    let folder = Folder::with("x.csv", "at\n2024-03-05 00:00\n2024-04-05 00:00\n");
    let run = folder.run(&["survey", "x.csv"]).status(0);
    holds(&run.out, &["every time of day is midnight"]);
    let run = folder
        .run(&["convert", "x.csv", "--set", "at.kind=date"])
        .status(0);
    assert_eq!(run.out, "at\n2024-03-05\n2024-04-05\n");
}

#[test]
fn only_the_columns_that_are_asked_for() {
    let folder = Folder::with("x.csv", "a,b\n2024-03-05,2024-03-06\n");
    let facts = folder
        .run(&["survey", "x.csv", "-c", "b", "--json"])
        .status(0)
        .json();
    assert_eq!(facts["columns"].as_array().unwrap().len(), 1);
    let run = folder.run(&["convert", "x.csv", "-c", "b", "--read-form", "yyyy-dd-MM"]);
    assert_eq!(run.status(0).out, "a,b\n2024-03-05,2024-06-03\n");
}

#[test]
fn digits_are_asked_about_not_converted() {
    let folder = Folder::with(
        "x.csv",
        "invoice,loan date\n20240305,20240305\n20240306,20240306\n",
    );
    let run = folder.run(&["survey", "x.csv"]).status(3);
    holds(
        &run.out,
        &["invoice: 2 cells such as 20240305 (row 1) may be dates or times, or numbers"],
    );
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(
        run.out,
        "invoice,loan date\n20240305,2024-03-05\n20240306,2024-03-06\n"
    );
}

#[test]
fn colour_only_where_it_is_wanted() {
    let folder = Folder::with("x.csv", MIXED);
    let plain = folder.run(&["survey", "x.csv"]).status(0).out;
    assert!(!plain.contains('\u{1b}'));
    let coloured = folder
        .run(&["survey", "x.csv", "--color", "always"])
        .status(0)
        .out;
    assert!(coloured.contains('\u{1b}'));
    let quiet = folder.run(&["convert", "x.csv", "-q"]).status(0);
    assert_eq!(quiet.err, "");
}

/// What a file of answers declares, a survey goes by, as by `--set`.
#[test]
fn answers_of_a_file_are_surveyed_by() {
    let folder = Folder::with("a.csv", "code\n20240305\nNULLO\n20250307\n");
    folder.write(
        "answers",
        "code.read.blanks=[\"NULLO\"]\ncode.read.forms=[\"yyyyMMdd\"]\n",
    );
    let run = folder.run(&["survey", "a.csv", "--answers", "answers", "--json"]);
    holds(&run.status(0).out, &["\"blank\": 1", "\"certain\": 2"]);
}
