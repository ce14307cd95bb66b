//! Tables and workbooks that ask for much: they are read within bounds, or a message says
//! why not.

use crate::harness::{Folder, holds};
use std::process::Command;

fn row(cell: impl Fn(usize) -> String, columns: usize) -> String {
    let cells: Vec<String> = (0..columns).map(cell).collect();
    cells.join(",") + "\n"
}

/// A table of columns that their own cells leave open.
fn open_columns(columns: usize, rows: usize) -> String {
    let cell = |row: usize, column: usize| {
        let seed = row * 7919 + column * 104_729;
        format!("{:02}/{:02}/2024", seed % 12 + 1, seed / 12 % 12 + 1)
    };
    let header = row(|column| format!("c{column}"), columns);
    let rows = (0..rows).map(|number| row(|column| cell(number, column), columns));
    header + &rows.collect::<String>()
}

/// Runs the program with so many MiB of memory to address.
#[cfg(target_os = "linux")]
fn within(folder: &Folder, mebibytes: u32, command: &str) -> std::process::Output {
    let program = env!("CARGO_BIN_EXE_metachron");
    let script = format!("ulimit -v {}; exec {program} {command}", mebibytes << 10);
    Command::new("bash")
        .args(["-c", &script])
        .current_dir(folder.path(""))
        .output()
        .unwrap()
}

#[cfg(target_os = "linux")]
#[test]
fn open_columns_take_memory_by_their_number_and_not_by_its_square() {
    let folder = Folder::with("wide.csv", open_columns(1500, 8));
    let run = within(&folder, 200, "survey wide.csv --threads 1");
    let err = String::from_utf8_lossy(&run.stderr);
    assert_eq!(run.status.code(), Some(3), "{err}");
    assert!(String::from_utf8_lossy(&run.stdout).contains("8 rows, 1,500 columns"));
}

/// Each pass compares some of them: the answer is that of one pass.
#[test]
fn a_column_in_question_is_settled_whatever_its_place() {
    let mut table = row(
        |column| {
            if column == 899 {
                "iso".to_owned()
            } else {
                format!("c{column}")
            }
        },
        900,
    );
    for number in 0..12 {
        let (day, month) = (number % 9 + 1, number % 7 + 3);
        table += &row(
            |column| match column {
                898 => format!("{day:02}/{month:02}/2024"),
                899 => format!("2024-{month:02}-{day:02}"),
                _ => format!(
                    "{:02}/{:02}/2024",
                    (number + column) % 11 + 1,
                    (number * column) % 12 + 1
                ),
            },
            900,
        );
    }
    let folder = Folder::with("wide.csv", table);
    let survey = folder
        .run(&["survey", "wide.csv", "--json"])
        .status(3)
        .json();
    let column = survey["columns"].as_array().unwrap().iter();
    let column = column
        .clone()
        .find(|column| column["name"] == "c898")
        .unwrap();
    assert_eq!(column["cells"]["open"], 0, "{column}");
}

#[test]
fn a_table_of_too_many_columns_is_refused() {
    let folder = Folder::with(
        "wide.csv",
        row(|column| format!("c{column}"), 70_000) + "1\n",
    );
    let err = folder.run(&["survey", "wide.csv"]).status(1).err;
    holds(
        &err,
        &[
            "line 1: 70,000 cells",
            "at most 65,536 columns",
            "--delimiter",
        ],
    );
}

#[test]
fn names_longer_than_a_megabyte_are_names() {
    let name = |column: usize| format!("{:0>300}_{column}", "name");
    let day = |_| "2024-03-05".to_owned();
    let folder = Folder::with("long.csv", row(name, 4000) + &row(day, 4000));
    let survey = folder
        .run(&["survey", "long.csv", "--json"])
        .status(0)
        .json();
    assert_eq!(survey["table"]["rows"], 1);
    let columns = survey["columns"].as_array().unwrap();
    assert_eq!(columns.len(), 4000);
    assert_eq!(columns[3999]["name"], name(3999));
}

#[test]
fn columns_of_one_name_are_told_apart_and_remarked_upon_in_few_words() {
    let table = row(|_| "day".to_owned(), 3000) + &row(|_| "2024-03-05".to_owned(), 3000);
    let folder = Folder::with("same.csv", table);
    let out = folder.run(&["survey", "same.csv"]).status(0).out;
    holds(
        &out,
        &[
            "here it is called `day_2`",
            "and 2,994 more columns",
            "day_3000  date",
        ],
    );
    assert!(!out.contains("called `day_7`"));
}

/// A workbook with these cells of text.
fn workbook(folder: &Folder, cells: &[(u32, u16, &str)]) {
    let mut book = rust_xlsxwriter::Workbook::new();
    let sheet = book.add_worksheet();
    for &(row, column, text) in cells {
        sheet.write(row, column, text).unwrap();
    }
    book.save(folder.path("book.xlsx")).unwrap();
}

#[test]
fn the_last_cell_of_a_sheet_costs_no_more_than_itself() {
    let folder = Folder::new();
    let cells = [
        (0, 0, "day"),
        (1, 0, "2024-03-05"),
        (1_048_575, 16_383, "x"),
    ];
    workbook(&folder, &cells);
    let run = folder
        .run(&["convert", "book.xlsx", "-o", "out.csv"])
        .status(0);
    holds(&run.err, &["2 rows, 1 of 16,384 columns"]);
    let out = folder.read("out.csv");
    // Rows with nothing in them stay lines with nothing on them.
    assert_eq!(out.lines().count(), 1_048_576);
    let rows = out.lines().filter(|line| !line.is_empty());
    let widths: Vec<usize> = rows.map(|line| line.split(',').count()).collect();
    assert!(widths == [16_384; 3], "{}", widths.len());
    assert!(
        out.ends_with(",x\n") && out.contains("\n2024-03-05,,"),
        "{}",
        out.len()
    );
    #[cfg(target_os = "linux")]
    assert!(within(&folder, 300, "survey book.xlsx").status.success());
}

/// Of a sheet, cells stand where they stand: a note to the right of the rows moves no name.
#[test]
fn a_cell_behind_the_names_moves_none() {
    let folder = Folder::new();
    let cells = [
        (0, 0, "day"),
        (0, 1, "site "),
        (1, 0, "2024-03-05"),
        (1, 1, "north"),
        (1, 2, "late"),
        (2, 0, "2024-03-06"),
    ];
    workbook(&folder, &cells);
    folder
        .run(&["convert", "book.xlsx", "-o", "out.csv"])
        .status(0);
    let expected = "day,site ,\n2024-03-05,north,late\n2024-03-06,,\n";
    assert_eq!(folder.read("out.csv"), expected);
}

#[test]
fn a_workbook_that_states_too_much_is_refused_at_once() {
    use std::io::{Read, Write};
    let folder = Folder::new();
    workbook(&folder, &[(0, 0, "day"), (1, 0, "2024-03-05")]);
    let bytes = folder.bytes("book.xlsx");
    let mut book = zip::ZipArchive::new(std::io::Cursor::new(bytes)).unwrap();
    let mut odd = zip::ZipWriter::new(std::fs::File::create(folder.path("odd.xlsx")).unwrap());
    for index in 0..book.len() {
        let mut part = book.by_index(index).unwrap();
        let name = part.name().unwrap().into_owned();
        let mut text = String::new();
        part.read_to_string(&mut text).unwrap();
        let text = text.replace("uniqueCount=\"2\"", "uniqueCount=\"4294967295\"");
        odd.start_file(name, zip::write::SimpleFileOptions::default())
            .unwrap();
        odd.write_all(text.as_bytes()).unwrap();
    }
    odd.finish().unwrap();
    let err = folder.run(&["survey", "odd.xlsx"]).status(1).err;
    holds(
        &err,
        &[
            "odd.xlsx is not opened",
            "xl/sharedStrings.xml",
            "224 MiB",
            "as CSV",
        ],
    );
}

/// A zone's file of the second version (RFC 8536) with one change in 1970, and an empty
/// footer: nothing says what follows.
fn zone_without_rules() -> Vec<u8> {
    let counts = [0_u32, 0, 0, 1, 1, 4].map(u32::to_be_bytes).concat();
    let head = [b"TZif2".as_slice(), &[0; 15], &counts].concat();
    let type_of_time = [&3600_i32.to_be_bytes()[..], &[0, 0], b"CET\0"].concat();
    let first = [&head[..], &0_i32.to_be_bytes(), &[0], &type_of_time].concat();
    let second = [&head[..], &0_i64.to_be_bytes(), &[0], &type_of_time].concat();
    [first, second, b"\n\n".to_vec()].concat()
}

#[test]
fn a_zone_whose_rules_end_has_no_next_change() {
    let folder = Folder::with("days.csv", "day\n2024-07-01 10:00\n");
    std::fs::create_dir_all(folder.path("zones/Europe")).unwrap();
    folder.write("zones/Europe/Ending", zone_without_rules());
    let out = folder.run(&["zones", "--zone-data", "zones"]).status(0).out;
    holds(&out, &["Europe/Ending", "+01:00", "none is known"]);
    let options = ["--zone-data", "zones", "--read-zone", "Europe/Ending"];
    let args = [&["convert", "days.csv"][..], &options].concat();
    let out = folder.run(&args).status(0).out;
    assert_eq!(out, "day\n2024-07-01T09:00:00Z\n");
}

#[cfg(unix)]
#[test]
fn a_folder_that_is_no_database_is_refused() {
    let folder = Folder::new();
    std::fs::create_dir(folder.path("odd")).unwrap();
    let made = Command::new("mkfifo")
        .arg(folder.path("odd/pipe"))
        .status()
        .unwrap();
    assert!(made.success());
    let err = folder.run(&["zones", "--zone-data", "odd"]).status(2).err;
    holds(
        &err,
        &["--zone-data odd: it is no time zone database: odd/pipe is no file"],
    );
}

#[test]
fn what_a_message_quotes_is_short() {
    let folder = Folder::with("days.csv", "day\n2024-07-01\n");
    let kind = "x".repeat(4000);
    folder.write(
        "odd.toml",
        format!("metachron = 1\n[column.day]\nkind = \"{kind}\"\n"),
    );
    let err = folder
        .run(&["convert", "days.csv", "-r", "odd.toml"])
        .status(1)
        .err;
    assert!(err.len() < 400 && err.contains("xxx…`"), "{err}");
}
