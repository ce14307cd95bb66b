//! Workbooks in and out.

use crate::harness::{Folder, holds};
use jiff::civil::{Date, date};
use rust_xlsxwriter::{ExcelDateTime, Format, Formula, Workbook, Worksheet};
use std::io::{Cursor, Read, Write};

fn day(sheet: &mut Worksheet, row: u32, column: u16, day: Date) {
    let format = Format::new().set_num_format("dd/mm/yyyy");
    let serial = ExcelDateTime::from_ymd(day.year() as u16, day.month() as u8, day.day() as u8);
    sheet
        .write_datetime_with_format(row, column, serial.unwrap(), &format)
        .unwrap();
}

/// A register that writes day before month, opened by a program that reads
/// month before day: what it could read is dates now, with day and month
/// swapped.
fn half_converted(rows: u32) -> (Workbook, Vec<Date>) {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.set_name("Loans").unwrap();
    sheet.write_string(0, 0, "Loan register").unwrap();
    for (column, name) in ["Item", "Due", "Premium"].iter().enumerate() {
        sheet.write_string(2, column as u16, *name).unwrap();
    }
    let mut truth = Vec::new();
    for row in 0..rows {
        let due = date(2024, 1 + (row % 12) as i8, 1 + (row * 5 % 28) as i8);
        sheet.write_string(row + 3, 0, format!("K-{row}")).unwrap();
        match due.day() {
            13.. => {
                let text = due.strftime("%d/%m/%Y").to_string();
                sheet.write_string(row + 3, 1, text).unwrap();
            }
            _ => day(sheet, row + 3, 1, date(2024, due.day(), due.month())),
        }
        sheet
            .write_number(row + 3, 2, f64::from(row) * 1.5)
            .unwrap();
        truth.push(due);
    }
    (book, truth)
}

fn save(folder: &Folder, name: &str, mut book: Workbook) {
    book.save(folder.path(name)).unwrap();
}

#[test]
fn what_an_import_swapped_is_undone() {
    let folder = Folder::new();
    let (book, truth) = half_converted(120);
    save(&folder, "loans.xlsx", book);
    let seen = folder.run(&["survey", "loans.xlsx"]).status(0).out;
    holds(
        &seen,
        &[
            "XLSX sheet Loans, names on line 3",
            "swapped date cell",
            "day and month swapped",
        ],
    );
    folder
        .run(&["settle", "loans.xlsx", "-o", "r.toml"])
        .status(0);
    holds(
        &folder.read("r.toml"),
        &["sheet = \"Loans\"", "\"swapped date cell\""],
    );
    for args in [
        &["convert", "loans.xlsx", "-o", "clean.csv"][..],
        &["convert", "loans.xlsx", "-r", "r.toml", "-o", "clean.csv"],
    ] {
        folder.run(args).status(0);
        let clean = folder.read("clean.csv");
        let due: Vec<&str> = clean
            .lines()
            .skip(1)
            .map(|row| row.split(',').nth(1).unwrap())
            .collect();
        let truth: Vec<String> = truth.iter().map(Date::to_string).collect();
        assert_eq!(due, truth);
        assert!(
            clean.starts_with("Item,Due,Premium\nK-0,2024-01-01,0\nK-1,2024-02-06,1.5\n"),
            "{clean}"
        );
    }
}

/// One date past the 12th, or one text that is not, and nothing was swapped.
#[test]
fn one_cell_against_it_disproves_a_swap() {
    for (row, value) in [(3, "2024-03-14"), (4, "05/06/2024")] {
        let folder = Folder::new();
        let (mut book, _) = half_converted(120);
        let sheet = book.worksheet_from_index(0).unwrap();
        match value.parse::<Date>() {
            Ok(due) => day(sheet, row, 1, due),
            Err(_) => {
                sheet.write_string(row, 1, value).unwrap();
            }
        }
        save(&folder, "loans.xlsx", book);
        let seen = folder.run(&["survey", "loans.xlsx"]);
        assert!(!seen.out.contains("swapped"), "{}", seen.out);
    }
}

/// Whatever form an import has written the dates in, it is asked about, and the
/// answer converts them.
#[test]
fn a_swap_in_any_form() {
    for (form, rewritten) in [
        ("dd-MMM-yy", ["04-Feb-24", "11-Sep-24", "03-Apr-24"]),
        (
            "yyyy-MM-dd'T'HH:mm:ss",
            [
                "2024-02-04T00:00:00",
                "2024-09-11T00:00:00",
                "2024-04-03T00:00:00",
            ],
        ),
        ("yyyyMMdd", ["20240204", "20240911", "20240403"]),
        (
            "EEE dd MMM yyyy",
            ["Sun 04 Feb 2024", "Wed 11 Sep 2024", "Wed 03 Apr 2024"],
        ),
    ] {
        let [one, two, three] = rewritten;
        let table =
            format!("due date\n25/03/2024\n{one}\n17/05/2024\n{two}\n29/06/2024\n{three}\n");
        let folder = Folder::with("t.csv", table);
        let seen = folder.run(&["survey", "t.csv"]).status(3).out;
        let said = seen.split_whitespace().collect::<Vec<_>>().join(" ");
        let question = format!("in 3 cells such as {one} (row 2) an import may have swapped");
        holds(&said, &[&question, "4 February 2024", "2 April 2024"]);
        let swapped = format!("swapped {form}");
        let answer = ["--read-form", &swapped, "--read-form", "dd/MM/yyyy"];
        folder
            .run(&[&["convert", "t.csv", "-o", "clean.csv"], &answer[..]].concat())
            .status(0);
        let clean = folder.read("clean.csv").replace("T00:00:00", "");
        assert_eq!(
            clean.split_whitespace().collect::<Vec<_>>(),
            "due date 2024-03-25 2024-04-02 2024-05-17 2024-11-09 2024-06-29 2024-03-04"
                .split_whitespace()
                .collect::<Vec<_>>(),
            "{form}"
        );
    }
}

/// What is shown of it is in the language of the cells, and differs.
#[test]
fn a_swap_in_german() {
    let names = ["Jan", "Feb", "März", "Apr", "Mai", "Juni", "Juli", "Aug"];
    let rows = (0..160_i64).map(|number| {
        let due = date(2024, 1, 1) + jiff::Span::new().days(number * 3 % 240);
        match due.day() {
            day @ ..=8 => format!("{}. {} 2024\n", due.month(), names[day as usize - 1]),
            13.. => due.strftime("%d.%m.%Y\n").to_string(),
            _ => String::new(),
        }
    });
    let folder = Folder::with("t.csv", format!("fällig\n{}", rows.collect::<String>()));
    let seen = folder.run(&["survey", "t.csv"]).status(0).out;
    let said = seen.split_whitespace().collect::<Vec<_>>().join(" ");
    // 1. Jan is the same day either way.
    holds(
        &said,
        &["swapped d. MMM yyyy", "1. Apr 2024 was 2024-01-04"],
    );
    assert!(!said.contains("1. Jan 2024 was"), "{said}");
}

#[test]
fn too_few_cells_are_a_question() {
    let folder = Folder::new();
    let (book, _) = half_converted(5);
    save(&folder, "loans.xlsx", book);
    let seen = folder.run(&["survey", "loans.xlsx"]).status(3).out;
    holds(
        &seen,
        &[
            "an import may have swapped day and month",
            "date cell or swapped date cell",
        ],
    );
}

#[test]
fn sheets_by_name_and_number() {
    let folder = Folder::new();
    let mut book = Workbook::new();
    book.add_worksheet().set_name("Empty").unwrap();
    book.add_worksheet()
        .set_name("Secret")
        .unwrap()
        .set_hidden(true)
        .write_string(0, 0, "x")
        .unwrap();
    for name in ["First", "Second"] {
        let sheet = book.add_worksheet();
        sheet.set_name(name).unwrap();
        sheet.write_string(0, 0, "when").unwrap();
        sheet.write_string(0, 1, name).unwrap();
        day(sheet, 1, 0, date(2024, 3, 5));
    }
    save(&folder, "book.xlsx", book);
    let seen = folder.run(&["survey", "book.xlsx"]).status(0).out;
    holds(
        &seen,
        &["XLSX sheet First", "Empty, Secret (hidden), First, Second"],
    );
    for sheet in ["Second", "4"] {
        let seen = folder
            .run(&["survey", "book.xlsx", "--sheet", sheet])
            .status(0)
            .out;
        holds(&seen, &["XLSX sheet Second"]);
    }
    let none = folder
        .run(&["survey", "book.xlsx", "--sheet", "Third"])
        .status(1)
        .err;
    holds(&none, &["no sheet `Third`", "`First`, `Second`"]);
    folder.write("t.csv", "when\n2024-03-05\n");
    let text = folder
        .run(&["survey", "t.csv", "--sheet", "1"])
        .status(1)
        .err;
    holds(&text, &["is read as CSV and has no sheets"]);
}

#[test]
fn types_of_cells() {
    let folder = Folder::new();
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    let names = [
        "day", "moment", "clock", "length", "number", "truth", "words",
    ];
    for (column, name) in names.iter().enumerate() {
        sheet.write_string(0, column as u16, *name).unwrap();
    }
    for row in 1..5 {
        day(sheet, row, 0, date(2024, 3, row as i8));
        let formats = ["yyyy-mm-dd hh:mm", "hh:mm", "[h]:mm"];
        for (column, (format, serial)) in formats.iter().zip([45_356.25, 0.5, 1.5]).enumerate() {
            let format = Format::new().set_num_format(*format);
            let serial = serial + f64::from(row) / 1440.0;
            sheet
                .write_number_with_format(row, column as u16 + 1, serial, &format)
                .unwrap();
        }
        sheet.write_number(row, 4, 10 + row).unwrap();
        sheet.write_boolean(row, 5, row % 2 == 0).unwrap();
        sheet.write_string(row, 6, "a \"b\",\nc").unwrap();
    }
    save(&folder, "t.xlsx", book);
    folder.run(&["convert", "t.xlsx", "-o", "t.csv"]).status(0);
    assert_eq!(
        folder.read("t.csv").split("c\"\n").nth(1).unwrap(),
        "2024-03-02,2024-03-05T06:02:00,12:02:00,P1DT12H2M,12,TRUE,\"a \"\"b\"\",\n"
    );
    // And back into a workbook, out of it and in again.
    folder
        .run(&["convert", "t.xlsx", "-o", "again.xlsx"])
        .status(0);
    folder
        .run(&["convert", "again.xlsx", "-o", "again.csv"])
        .status(0);
    assert_eq!(folder.read("again.csv"), folder.read("t.csv"));
}

/// What a workbook cannot hold is text, and said.
#[test]
fn what_no_workbook_holds() {
    let folder = Folder::with("t.csv", "born,took\n1850-03-04,-PT2H\n1987-06-05,PT26H\n");
    let run = folder.run(&["convert", "t.csv", "-o", "t.xlsx"]).status(0);
    holds(&run.err, &["2 values no workbook holds exactly"]);
    folder
        .run(&["convert", "t.xlsx", "-o", "back.csv"])
        .status(0);
    assert_eq!(
        folder.read("back.csv"),
        "born,took\n1850-03-04,-PT2H\n1987-06-05,P1DT2H\n"
    );
    assert_eq!(folder.bytes("t.xlsx"), {
        folder.run(&["convert", "t.csv", "-o", "t.xlsx"]).status(0);
        folder.bytes("t.xlsx")
    });
}

/// A cell beyond the end of any sheet, which would fill the disk.
#[test]
fn cells_beyond_a_sheet_are_damage() {
    let folder = Folder::new();
    let (book, _) = half_converted(30);
    save(&folder, "t.xlsx", book);
    instead(&folder, "t.xlsx", "r=\"C33\"", "r=\"C4000000000\"");
    let run = folder.run(&["survey", "t.xlsx"]).status(1);
    holds(&run.err, &["t.xlsx cannot be read as XLSX"]);
}

/// Puts one text in the index of another in every part of a workbook.
fn instead(folder: &Folder, name: &str, text: &str, other: &str) {
    let mut from = zip::ZipArchive::new(Cursor::new(folder.bytes(name))).unwrap();
    let mut into = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for index in 0..from.len() {
        let mut part = from.by_index(index).unwrap();
        let name = part.name().unwrap().into_owned();
        let mut content = String::new();
        part.read_to_string(&mut content).unwrap();
        let options = zip::write::SimpleFileOptions::default();
        into.start_file(name.as_str(), options).unwrap();
        into.write_all(content.replace(text, other).as_bytes())
            .unwrap();
    }
    folder.write(name, into.finish().unwrap().into_inner());
}

#[test]
fn formulas_without_values_are_said() {
    let folder = Folder::new();
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write_string(0, 0, "when").unwrap();
    sheet.write_string(0, 1, "due").unwrap();
    for row in 1..4 {
        day(sheet, row, 0, date(2024, 3, row as i8));
        sheet
            .write_formula(row, 1, Formula::new("=A2+30").set_result("gone"))
            .unwrap();
    }
    save(&folder, "t.xlsx", book);
    instead(&folder, "t.xlsx", "<v>gone</v>", "");
    let seen = folder.run(&["survey", "t.xlsx"]).out;
    holds(
        &seen,
        &["3 formulas have no value in the file, the first at row 2, column 2"],
    );
}

/// Formats alone are no cells, however many.
#[test]
fn empty_formatted_rows_are_no_rows() {
    let folder = Folder::new();
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write_string(0, 0, "when").unwrap();
    day(sheet, 1, 0, date(2024, 3, 5));
    for row in 2..60_000 {
        sheet
            .write_blank(row, 3, &Format::new().set_bold())
            .unwrap();
    }
    save(&folder, "t.xlsx", book);
    let seen = folder.run(&["survey", "t.xlsx"]).status(0).out;
    holds(&seen, &["1 row, 1 column"]);
}

#[test]
fn workbooks_that_cannot_be_read() {
    let folder = Folder::new();
    let (book, _) = half_converted(40);
    save(&folder, "whole.xlsx", book);
    let whole = folder.bytes("whole.xlsx");
    folder.write("cut.xlsx", &whole[..whole.len() / 2]);
    let cut = folder.run(&["survey", "cut.xlsx"]).status(1).err;
    holds(
        &cut,
        &["cut.xlsx cannot be read as XLSX, it may be damaged or cut off"],
    );
    let mut holed = whole.clone();
    for byte in &mut holed[600..900] {
        *byte ^= 0x55;
    }
    folder.write("holed.xlsx", holed);
    let holed = folder.run(&["survey", "holed.xlsx"]);
    assert!(matches!(holed.status, 0 | 1 | 3), "{holed:?}");
    // A compound file that is no workbook.
    folder.write(
        "old.xls",
        [b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1".as_slice(), &[0; 600]].concat(),
    );
    let old = folder.run(&["survey", "old.xls"]).status(1).err;
    holds(&old, &["old.xls cannot be read as XLS"]);
}
