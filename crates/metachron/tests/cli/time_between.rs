//! Clock-like cells that are the time between two others of the row.

use crate::harness::{Folder, holds};

fn clock(minutes: i64) -> String {
    format!("{:02}:{:02}", minutes / 60 % 24, minutes % 60)
}

/// Shifts: the start, the end, the break, and the time between them without it.
fn shifts(rows: i64) -> impl Iterator<Item = [i64; 4]> {
    (0..rows).map(|number| {
        let (start, pause) = (400 + number * 37 % 400, 30 + number % 3 * 15);
        let length = 300 + number * 53 % 200;
        [start, start + length + pause, pause, length]
    })
}

#[test]
fn the_time_between_start_and_end_is_a_length() {
    let row = |[start, end, pause, length]: [i64; 4]| {
        let cells = [start, end, pause, length].map(clock);
        format!("{}\n", cells.join(","))
    };
    let rows: String = shifts(40).map(row).collect();
    let folder = Folder::with("t.csv", format!("in,out,off,net\n{rows}"));
    let why = folder.run(&["survey", "t.csv", "--why"]).out;
    holds(&why, &["it is the time from in to out less off in 40 rows"]);
    let clean = folder.run(&["convert", "t.csv"]).status(0).out;
    assert!(
        clean.contains("\n06:40:00,12:10:00,PT30M,PT5H\n"),
        "{clean}"
    );
}

/// A table of three clock-like columns, made from the shifts.
fn table(header: &str, cells: &dyn Fn(usize, [i64; 4]) -> [i64; 3]) -> Folder {
    let rows = shifts(40).enumerate().map(|(number, shift)| {
        let cells = cells(number, shift).map(clock);
        format!("{}\n", cells.join(","))
    });
    Folder::with("t.csv", format!("{header}\n{}", rows.collect::<String>()))
}

/// Where no name says what is the start, the end and the time between, those that
/// may be lengths are asked about.
#[test]
fn three_times_without_such_names_are_asked_about() {
    let folder = table("a,b,c", &|_, [start, end, _, _]| [start, end, end - start]);
    let survey = folder.run(&["survey", "t.csv"]).status(3).out;
    holds(
        &survey,
        &[
            "c: it is the time between a and b in every row",
            "a: it is the time between c and b in every row",
            "-c c --read-form 'elapsed H:mm'",
            "-c c --read-form 'HH:mm'",
        ],
    );
    // One answer is enough.
    let set = [
        "--set",
        "c.read.forms=[\"elapsed H:mm\"]",
        "--set",
        "c.kind=duration",
    ];
    let run = folder
        .run(&[&["convert", "t.csv"], &set[..]].concat())
        .status(0);
    holds(&run.out, &["\n06:40:00,12:10:00,PT5H30M\n"]);
}

/// One row that does not agree leaves them times of day; so do lessons that all last
/// as long.
#[test]
fn nothing_else_makes_a_length_of_a_time() {
    let tables = [
        table("in,out,net", &|number, [start, end, _, _]| {
            [start, end, end - start + i64::from(number == 31)]
        }),
        table("a,b,c", &|number, [start, end, _, _]| {
            [start, end, end - start + i64::from(number == 31)]
        }),
        table("in,out,seen", &|_, [start, _, _, _]| {
            [start, start + 45, 45]
        }),
    ];
    for folder in tables {
        let survey = folder.run(&["survey", "t.csv", "--json"]).json();
        for column in 0..3 {
            assert_eq!(survey["columns"][column]["kind"], "time", "{survey}");
        }
    }
}
