use crate::harness::{Folder, holds};
use proptest::prelude::*;

const OPEN: &str = "id,due\n1,03/04/2025\n2,05/06/2025\n3,n/a\n";

#[test]
fn an_ambiguous_column_stays_open_until_its_order_is_declared() {
    let folder = Folder::with("x.csv", OPEN);
    let run = folder
        .run(&["convert", "x.csv", "-o", "clean.csv"])
        .status(3);
    holds(
        &run.err,
        &[
            "2 open",
            "2 cells wait for a person: listed in clean.review.csv",
        ],
    );
    assert_eq!(folder.read("clean.csv"), "id,due\n1,\n2,\n3,\n");
    assert_eq!(
        folder.read("clean.review.csv"),
        "file,row,line,column,raw,verdict,reason,readings,resolved\n\
         x.csv,1,2,due,03/04/2025,open,fits day-month-year and month-day-year,2025-04-03 as dd/MM/yyyy; 2025-03-04 as MM/dd/yyyy,\n\
         x.csv,2,3,due,05/06/2025,open,fits day-month-year and month-day-year,2025-06-05 as dd/MM/yyyy; 2025-05-06 as MM/dd/yyyy,\n"
    );
    folder
        .run(&["convert", "x.csv", "--read-order", "dmy", "-o", "clean.csv"])
        .status(0);
    assert_eq!(
        folder.read("clean.csv"),
        "id,due\n1,2025-04-03\n2,2025-06-05\n3,\n"
    );
    // The review list of the earlier run is out of date, and gone.
    assert_eq!(folder.files(), ["clean.csv", "x.csv"]);
}

#[test]
fn a_review_list_that_is_not_ours_is_left_alone() {
    let folder = Folder::with("x.csv", "d\n2024-03-05\n");
    folder.write("clean.review.csv", "my own notes\n");
    folder
        .run(&["convert", "x.csv", "-o", "clean.csv"])
        .status(0);
    assert_eq!(folder.read("clean.review.csv"), "my own notes\n");
}

#[test]
fn a_table_without_dates_comes_out_byte_for_byte() {
    let text = "\u{feff}id;price;version;zip;score;\"no\"\"te\"\r\n\
                A-1;1.204,50;1.2.3;04115;3-2;\"two\r\nlines\"\r\n\
                A-2;  9 ;2.0.11;10115;1-0;\"\"\r\n\
                \r\n\
                A-3;short\r\n\
                A-4;1;2;3;4;5;long";
    let folder = Folder::with("x.csv", text);
    folder
        .run(&["convert", "x.csv", "-o", "clean.csv"])
        .status(0);
    assert_eq!(folder.read("clean.csv"), text);
    let run = folder.run(&["convert", "x.csv"]).status(0);
    assert_eq!(run.out, text);
}

#[test]
fn other_cells_are_unchanged_and_every_row_is_there_once() {
    let folder = Folder::with(
        "x.csv",
        "a,d,b\n \"x\" ,2024-03-05,\"1,5\"\n\"y\",\"2024-03-06\",\n",
    );
    let run = folder.run(&["convert", "x.csv"]).status(0);
    assert_eq!(
        run.out,
        "a,d,b\n \"x\" ,2024-03-05,\"1,5\"\n\"y\",2024-03-06,\n"
    );
}

#[test]
fn raw_texts_and_verdicts_are_columns() {
    let folder = Folder::with(
        "x.csv",
        "d,n\n\"5 March, 2024\",1\nsoon,2\n,3\n12 March 2024\n",
    );
    let run = folder
        .run(&["convert", "x.csv", "--keep-raw", "--verdicts"])
        .status(3);
    assert_eq!(
        run.out,
        "d,d_raw,d_verdict,n\n\
         2024-03-05,\"5 March, 2024\",certain,1\n\
         ,soon,unreadable,2\n\
         ,,blank,3\n\
         2024-03-12,12 March 2024,certain\n"
    );
}

#[test]
fn dates_among_datetimes_are_settled_as_midnight() {
    let folder = Folder::with("x.csv", "at\n2024-03-05 14:30\n2024-03-06\n");
    let run = folder.run(&["convert", "x.csv", "--verdicts"]).status(0);
    assert_eq!(
        run.out,
        "at,at_verdict\n2024-03-05T14:30:00,certain\n2024-03-06T00:00:00,settled\n"
    );
}

#[test]
fn local_times_among_instants_stay_open() {
    let folder = Folder::with(
        "x.csv",
        "at\n2024-03-05T14:30:00Z\n2024-03-05T14:30:00+01:00\n2024-03-06T10:00:00\n",
    );
    let run = folder
        .run(&["convert", "x.csv", "-o", "clean.csv"])
        .status(3);
    assert_eq!(run.out, "");
    assert_eq!(
        folder.read("clean.csv"),
        "at\n2024-03-05T14:30:00Z\n2024-03-05T13:30:00Z\n\"\"\n"
    );
    holds(
        &folder.read("clean.review.csv"),
        &["a clock time without a zone, in a column of instants"],
    );
}

#[test]
fn a_column_with_a_few_dates_is_pointed_out() {
    let folder = Folder::with(
        "x.csv",
        "note,n\n2024-02-30,1\n2023-02-29,2\n2024-02-29,3\n",
    );
    let run = folder.run(&["convert", "x.csv"]).status(3);
    holds(
        &run.err,
        &[
            "note: 1 cell such as 2024-02-29 (row 3) is a date among others that are none",
            "-c note --read-form 'yyyy-MM-dd'  29 February 2024; converts 1, contradicts 2",
        ],
    );
}

#[test]
fn the_summary_counts() {
    let folder = Folder::with("x.csv", OPEN);
    folder
        .run(&[
            "convert",
            "x.csv",
            "-o",
            "clean.csv",
            "--summary",
            "sum.json",
            "--review",
            "look.csv",
        ])
        .status(3);
    let summary: serde_json::Value = serde_json::from_str(&folder.read("sum.json")).unwrap();
    assert_eq!(summary["cells"]["open"], 2);
    assert_eq!(summary["cells"]["blank"], 1);
    assert_eq!(summary["columns"][0]["name"], "due");
    assert_eq!(summary["review"], "look.csv");
    assert_eq!(summary["table"]["rows"], 3);
    let printed = folder
        .run(&["convert", "x.csv", "-o", "clean.csv", "--json", "-q"])
        .status(3)
        .json();
    assert_eq!(printed["cells"], summary["cells"]);
}

#[test]
fn another_delimiter_on_the_way_out() {
    let folder = Folder::with("x.csv", "a;d\n\"x;y\";31/12/2024\n\"t\tt\";1/1/2025\n");
    folder
        .run(&["convert", "x.csv", "-o", "clean.tsv"])
        .status(0);
    assert_eq!(
        folder.read("clean.tsv"),
        "a\td\nx;y\t2024-12-31\n\"t\tt\"\t2025-01-01\n"
    );
}

#[test]
fn declared_forms_are_tried_in_order() {
    let folder = Folder::with("x.csv", "d\n01022024\n2024-02-03\ndue: 4/5/2024\n");
    let run = folder
        .run(&[
            "convert",
            "x.csv",
            "-c",
            "d",
            "--read-form",
            "ddMMyyyy",
            "--read-form",
            "yyyy-MM-dd",
            "--read-form",
            "'due:' d/M/yyyy",
        ])
        .status(0);
    assert_eq!(run.out, "d\n2024-02-01\n2024-02-03\n2024-05-04\n");
}

#[test]
fn a_contradicted_declaration_goes_on_as_declared() {
    let folder = Folder::with("x.csv", "d\n12/31/2024\n05/06/2024\n");
    let run = folder
        .run(&["convert", "x.csv", "--read-order", "dmy", "-o", "c.csv"])
        .status(3);
    holds(&run.err, &["1 settled, 1 unreadable"]);
    assert_eq!(folder.read("c.csv"), "d\n\"\"\n2024-06-05\n");
    holds(
        &folder.read("c.review.csv"),
        &["month 31 does not exist in dd/MM/yyyy; only M/d/yyyy would read it,2024-12-31"],
    );
    let run = folder
        .run(&["survey", "x.csv", "--read-order", "dmy"])
        .status(3);
    holds(
        &run.out,
        &["declared, but 1 cell can only be month-day-year (row 1: 12/31/2024)"],
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Whatever the table: as many rows out as in, other cells as they came,
    /// the same bytes with any number of threads.
    #[test]
    fn rows_in_are_rows_out(rows in prop::collection::vec(
        ("[a-z\" ;]{0,6}", "[0-3][0-9]/[01][0-9]/20[0-9]{2}|[a-z]{0,5}|20[0-9]{2}-[01][0-9]-[0-3][0-9]"),
        1..40,
    )) {
        let mut writer = csv::Writer::from_writer(Vec::new());
        writer.write_record(["note", "day"]).unwrap();
        for (note, day) in &rows {
            writer.write_record([note, day]).unwrap();
        }
        let folder = Folder::with("x.csv", writer.into_inner().unwrap());
        let args = ["convert", "x.csv", "--header-line", "1", "--delimiter", ",", "--now", "2026-11-23"];
        let one = folder.run(&[&args[..], &["--threads", "1"]].concat());
        let many = folder.run(&[&args[..], &["--threads", "7"]].concat());
        prop_assert_eq!(&one.out, &many.out);
        let mut reader = csv::ReaderBuilder::new().flexible(true).from_reader(one.out.as_bytes());
        let notes: Vec<String> = reader.records().map(|row| row.unwrap()[0].to_owned()).collect();
        let wanted: Vec<String> = rows.iter().map(|(note, _)| note.clone()).collect();
        prop_assert_eq!(notes, wanted);
    }
}

#[test]
fn many_blocks_on_many_threads_stay_in_order() {
    let mut text = String::from("n,d\n");
    for n in 0..300_000 {
        text.push_str(&format!("{n},{:02}/{:02}/2024\n", n % 28 + 1, n % 12 + 1));
    }
    text.push_str("x,soon\n");
    let folder = Folder::with("x.csv", text);
    for threads in ["1", "3"] {
        let out = format!("clean{threads}.csv");
        folder
            .run(&["convert", "x.csv", "--threads", threads, "-o", &out, "-q"])
            .status(3);
        holds(
            &folder.read(&format!("clean{threads}.review.csv")),
            &["x.csv,300001,300002,d,soon,unreadable"],
        );
    }
    assert!(folder.bytes("clean1.csv") == folder.bytes("clean3.csv"));
    let clean = folder.read("clean1.csv");
    for (n, line) in clean.lines().skip(1).take(300_000).enumerate() {
        assert_eq!(
            line,
            format!("{n},2024-{:02}-{:02}", n % 12 + 1, n % 28 + 1)
        );
    }
}
