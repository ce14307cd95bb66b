//! A review list, filled in and taken on the next run.

use crate::harness::{Folder, holds};

const LOANS: &str = "id,due\n1,03/04/2025\n2,05/06/2025\n3,soon\n4,2025-07-08\n";

/// Converts, and fills the column `resolved` of the review list.
fn reviewed(answers: &[&str]) -> Folder {
    let folder = Folder::with("x.csv", LOANS);
    folder
        .run(&["convert", "x.csv", "-o", "clean.csv"])
        .status(3);
    let list = folder.read("clean.review.csv");
    let mut lines = list.lines();
    let mut filled = format!("{}\n", lines.next().unwrap());
    for (line, answer) in lines.zip(answers) {
        filled.push_str(&format!("{line}{answer}\n"));
    }
    folder.write("answers.csv", filled);
    folder
}

#[test]
fn answers_are_taken() {
    let folder = reviewed(&["2025-04-03", "", "blank"]);
    let args = [
        "convert",
        "x.csv",
        "--resolved",
        "answers.csv",
        "-o",
        "clean.csv",
    ];
    let run = folder
        .run(&[&args[..], &["--summary", "s.json"]].concat())
        .status(3);
    holds(
        &run.err,
        &[
            "2 cells resolved by a reviewer",
            "1 cell waits for a person",
        ],
    );
    assert_eq!(
        folder.read("clean.csv"),
        "id,due\n1,2025-04-03\n2,\n3,\n4,2025-07-08\n"
    );
    let summary: serde_json::Value = serde_json::from_str(&folder.read("s.json")).unwrap();
    assert_eq!(summary["resolved"], 2);
    assert_eq!(summary["refused"], 0);
    assert_eq!(summary["cells"]["blank"], 1);
    // The same with a rulings file.
    folder.run(&["settle", "x.csv", "-o", "r.toml"]).status(3);
    let again = folder
        .run(&[&args[..], &["-r", "r.toml"]].concat())
        .status(3);
    holds(&again.err, &["2 cells resolved by a reviewer"]);
}

#[test]
fn answers_to_cells_that_have_changed_are_refused() {
    let folder = reviewed(&["2025-04-03", "2025-06-05", "blank"]);
    folder.write("x.csv", "id,due\n1,03/04/2026\n2,05/06/2025\n");
    let args = [
        "convert",
        "x.csv",
        "--resolved",
        "answers.csv",
        "-o",
        "clean.csv",
    ];
    let run = folder.run(&args).status(3);
    holds(
        &run.err,
        &[
            "1 cell resolved by a reviewer",
            "2 answers of the reviewer refused: 1 cell has other text now and 1 cell is not there any more",
        ],
    );
    assert_eq!(folder.read("clean.csv"), "id,due\n1,\n2,2025-06-05\n");
}

#[test]
fn answers_that_cannot_be_used() {
    for (answer, message) in [
        ("5 April", "is not written as ISO 8601"),
        (
            "2025-04-03T10:00:00",
            "is a datetime, and the column holds dates",
        ),
        ("2025-02-30", "is not written as ISO 8601"),
    ] {
        let folder = reviewed(&[answer, "", ""]);
        let args = [
            "convert",
            "x.csv",
            "--resolved",
            "answers.csv",
            "-o",
            "clean.csv",
        ];
        let run = folder.run(&args);
        assert!(run.err.contains(message), "{answer}: {}", run.err);
        holds(&run.err, &["answers.csv, line 2: column `due`"]);
        assert_eq!(run.status, 2);
    }
    let folder = Folder::with("x.csv", LOANS);
    folder.write("mine.csv", "a,b\n1,2\n");
    let run = folder
        .run(&["convert", "x.csv", "--resolved", "mine.csv"])
        .status(2);
    holds(&run.err, &["mine.csv has no column `file`"]);
}

/// What a reviewer wrote is never lost.
#[test]
fn a_list_with_answers_is_not_written_over() {
    let folder = reviewed(&["2025-04-03", "", ""]);
    folder.write("clean.review.csv", folder.read("answers.csv"));
    for args in [
        &["convert", "x.csv", "-o", "clean.csv"][..],
        &[
            "convert",
            "x.csv",
            "--resolved",
            "clean.review.csv",
            "-o",
            "clean.csv",
        ],
    ] {
        let run = folder.run(args).status(2);
        holds(&run.err, &["clean.review.csv", "--review"]);
        assert_eq!(folder.read("clean.review.csv"), folder.read("answers.csv"));
    }
}

#[test]
fn formulas_of_a_list_are_escaped_and_taken_back() {
    let folder = Folder::with(
        "x.csv",
        "id,@due\n1,=1+2\n2,-soon\n3,2025-07-08\n4,2025-07-09\n",
    );
    let args = ["convert", "x.csv", "-o", "clean.csv"];
    let declared = [
        "--set",
        "'@due'.kind=date",
        "--set",
        "'@due'.read.forms=[\"yyyy-MM-dd\"]",
    ];
    let convert = |more: &[&str]| folder.run(&[&args[..], &declared, more].concat());
    convert(&[]).status(3);
    holds(
        &folder.read("clean.review.csv"),
        &["1,2,@due,=1+2,", "2,3,@due,-soon,"],
    );
    convert(&["--escape-formulas"]).status(3);
    let list = folder.read("clean.review.csv");
    holds(
        &list,
        &["x.csv,1,2,'@due,'=1+2,", "x.csv,2,3,'@due,'-soon,"],
    );
    let mut lines = list.lines();
    let header = lines.next().unwrap();
    let filled: String = lines.map(|line| format!("{line}2025-01-05\n")).collect();
    folder.write("answers.csv", format!("{header}\n{filled}"));
    let run = convert(&["--resolved", "answers.csv"]).status(3);
    holds(&run.err, &["2 cells resolved by a reviewer"]);
    holds(&folder.read("clean.csv"), &["1,2025-01-05\n2,2025-01-05\n"]);
}

/// A line without an end, in a list or in what is no list at all.
#[test]
fn lists_that_cannot_be_read() {
    let folder = reviewed(&["2025-04-03", "", ""]);
    let endless = "x".repeat(33 << 20);
    let list = folder.read("answers.csv").replace("2025-04-03", "");
    folder.write("clean.review.csv", format!("{list}{endless}"));
    let convert = ["convert", "x.csv", "-o", "clean.csv"];
    let run = folder.run(&convert).status(2);
    let wanted = ["clean.review.csv holds answers", "or what cannot be read"];
    holds(&run.err, &wanted);
    folder.write("answers.csv", endless);
    let run = folder
        .run(&["convert", "x.csv", "--resolved", "answers.csv"])
        .status(1);
    holds(
        &run.err,
        &["answers.csv, line 1: a row of more than 32 MiB"],
    );
}

/// Spreadsheets save a list with the delimiter, the line ends and the encoding of their
/// own locale.
#[test]
fn a_list_that_a_spreadsheet_saved_is_taken() {
    let folder = reviewed(&["2025-04-03", "", "blank"]);
    folder.write("x.csv", LOANS.replace("due", "fällig"));
    let list = folder.read("answers.csv").replace(",due,", ",fällig,");
    let semicolons = list.replace(',', ";").replace("; ", ", ");
    let lines = semicolons.replace('\n', "\r\n");
    let (windows, _, _) = encoding_rs::WINDOWS_1252.encode(&lines);
    let utf16: Vec<u8> = format!("\u{feff}{}", list.replace(',', "\t"))
        .encode_utf16()
        .flat_map(u16::to_le_bytes)
        .collect();
    for bytes in [
        format!("\u{feff}{lines}").into_bytes(),
        windows.into_owned(),
        utf16,
    ] {
        folder.write("clean.review.csv", bytes);
        let args = ["convert", "x.csv", "-o", "clean.csv"];
        let run = folder.run(&args).status(2);
        holds(&run.err, &["clean.review.csv holds answers"]);
        let answers = ["--resolved", "clean.review.csv", "--review", "list.csv"];
        let run = folder.run(&[&args[..], &answers].concat()).status(3);
        holds(&run.err, &["2 cells resolved by a reviewer"]);
    }
}

/// A list that was saved as a workbook, with a date that is one.
#[test]
fn a_list_in_a_workbook_is_taken() {
    let folder = reviewed(&["2025-04-03", "", "blank"]);
    let mut list = rust_xlsxwriter::Workbook::new();
    let sheet = list.add_worksheet();
    let answers = folder.read("answers.csv");
    for (row, line) in (0..).zip(answers.lines()) {
        let cells = line.split(", ").collect::<Vec<_>>().join("; ");
        for (column, cell) in (0..).zip(cells.split(',')) {
            match cell.parse::<f64>() {
                Ok(number) => sheet.write(row, column, number).unwrap(),
                Err(_) => sheet.write(row, column, cell).unwrap(),
            };
        }
    }
    let date = rust_xlsxwriter::ExcelDateTime::from_ymd(2025, 4, 3).unwrap();
    let format = rust_xlsxwriter::Format::new().set_num_format("yyyy-mm-dd");
    sheet.write_with_format(1, 8, &date, &format).unwrap();
    list.save(folder.path("answers.xlsx")).unwrap();
    let args = [
        "convert",
        "x.csv",
        "--resolved",
        "answers.xlsx",
        "-o",
        "clean.csv",
    ];
    let run = folder.run(&args).status(3);
    holds(&run.err, &["2 cells resolved by a reviewer"]);
    holds(&folder.read("clean.csv"), &["1,2025-04-03\n"]);
}
