//! Tables in formats whose columns have types: what becomes of each kind, what does not fit,
//! and that everything comes back.

use crate::harness::{Folder, holds};
use parquet::arrow::arrow_reader::ParquetRecordBatchReaderBuilder;
use proptest::prelude::*;
use std::collections::BTreeMap;
use std::fs::File;

/// The formats that are read, too.
const READ_BACK: [&str; 5] = ["parquet", "arrow", "arrows", "sqlite", "jsonl"];

/// A column of each kind, in an order of its own.
const KINDS: [(&str, &str); 9] = [
    ("date", "2024-02-29"),
    ("time", "14:30:00"),
    ("datetime", "2024-02-29T14:30:00"),
    ("instant", "2024-02-29T14:30:00Z"),
    ("duration", "PT1H30M"),
    ("year", "2024"),
    ("month", "2024-02"),
    ("quarter", "2024-Q1"),
    ("week", "2024-W09"),
];

const FORMS: [(&str, &[&str]); 9] = [
    ("date", &["yyyy-MM-dd"]),
    ("time", &["HH:mm:ss", "HH:mm:ss.S"]),
    (
        "datetime",
        &["yyyy-MM-dd'T'HH:mm:ss", "yyyy-MM-dd'T'HH:mm:ss.S"],
    ),
    (
        "instant",
        &["yyyy-MM-dd'T'HH:mm:ssXXX", "yyyy-MM-dd'T'HH:mm:ss.SXXX"],
    ),
    ("duration", &["elapsed ISO 8601"]),
    ("year", &["yyyy"]),
    ("month", &["yyyy-MM"]),
    ("quarter", &["yyyy-'Q'Q"]),
    ("week", &["YYYY-'W'ww"]),
];

/// Rulings for columns that are called as their kinds are.
fn rulings() -> String {
    let columns = FORMS.map(|(kind, forms)| {
        format!(
            "[column.{kind}]\nkind = \"{kind}\"\n\
             read = {{ forms = {forms:?}, calendar = \"gregory\" }}\n"
        )
    });
    format!("metachron = 1\n{}", columns.concat())
}

/// A folder with a table of all kinds and its rulings.
fn of_kinds(rows: &[Vec<String>]) -> Folder {
    let names = KINDS.map(|(kind, _)| kind).join(",");
    let rows: Vec<String> = rows.iter().map(|row| row.join(",")).collect();
    let folder = Folder::with("t.csv", format!("{names}\n{}\n", rows.join("\n")));
    folder.write("r.toml", rulings());
    folder
}

/// The names and the types of a Parquet file.
fn parquet_types(folder: &Folder, name: &str) -> BTreeMap<String, String> {
    let file = File::open(folder.path(name)).unwrap();
    let schema = ParquetRecordBatchReaderBuilder::try_new(file)
        .unwrap()
        .schema()
        .clone();
    let fields = schema.fields().iter();
    fields
        .map(|field| (field.name().clone(), field.data_type().to_string()))
        .collect()
}

/// What the metadata of a Parquet file say under a key.
fn parquet_metadata(folder: &Folder, name: &str, key: &str) -> String {
    let file = File::open(folder.path(name)).unwrap();
    let builder = ParquetRecordBatchReaderBuilder::try_new(file).unwrap();
    let metadata = builder.metadata().file_metadata().key_value_metadata();
    let mut pairs = metadata.unwrap().iter();
    let pair = pairs.find(|pair| pair.key == key).unwrap();
    pair.value.clone().unwrap()
}

/// The table of docs/formats.md, row by row.
fn documented() -> Vec<Vec<String>> {
    let page = include_str!("../../../../docs/formats.md");
    let section = page.split("## What a stamp becomes").nth(1).unwrap();
    let lines = section.lines().skip_while(|line| !line.starts_with("|---"));
    let rows = lines.skip(1).take_while(|line| line.starts_with('|'));
    rows.map(|row| {
        row.trim_matches('|')
            .split('|')
            .map(|cell| cell.trim().replace('`', ""))
            .collect()
    })
    .collect()
}

#[test]
fn each_kind_has_the_type_that_the_page_of_formats_says() {
    let folder = of_kinds(&[KINDS.map(|(_, cell)| cell.to_owned()).to_vec()]);
    for out in ["t.parquet", "t.sql", "t.sqlite"] {
        folder
            .run(&["convert", "t.csv", "-r", "r.toml", "-o", out])
            .status(0);
    }
    let in_parquet = parquet_types(&folder, "t.parquet");
    let script = folder.read("t.sql");
    let database = rusqlite::Connection::open(folder.path("t.sqlite")).unwrap();
    let rows = documented();
    assert_eq!(rows.len(), KINDS.len());
    for row in rows {
        let [kind, arrow, postgres, sqlite, _] = &row[..] else {
            panic!("{row:?}");
        };
        assert_eq!(in_parquet[kind], *arrow, "{kind}");
        holds(&script, &[&format!("  \"{kind}\" {postgres}")]);
        let query = format!("SELECT type FROM pragma_table_info('t') WHERE name = '{kind}'");
        let found: String = database.query_row(&query, [], |row| row.get(0)).unwrap();
        assert_eq!(found, *sqlite, "{kind}");
    }
}

#[test]
fn what_does_not_fit_widens_its_column_and_is_said() {
    for (kind, cells, expected, said) in [
        (
            "datetime",
            &["2024-01-01T00:00:00", "1582-10-15T00:00:00"][..],
            "Timestamp(µs)",
            "",
        ),
        (
            "datetime",
            &["2024-01-01T00:00:00", "2024-01-01T00:00:00.000000001"],
            "Timestamp(ns)",
            "",
        ),
        (
            "time",
            &["14:30:00", "00:00:00.123456789"],
            "Time64(ns)",
            "",
        ),
        (
            "datetime",
            &["9998-12-31T00:00:00", "2024-01-01T00:00:00.000000001"],
            "Utf8",
            "column `datetime` is text: a cell of it is beyond what",
        ),
        (
            "duration",
            &["PT1H", "P1M"],
            "Utf8",
            "column `duration` is text: a cell of it is beyond what",
        ),
        (
            "instant",
            &["2024-01-01T00:00:00Z", "1899-12-31T23:59:59.5Z"],
            "Timestamp(µs, \"UTC\")",
            "",
        ),
    ] {
        let rows = format!("{kind},n\n{}\n", cells.map_rows());
        let folder = Folder::with("t.csv", rows);
        folder.write("r.toml", rulings_of(kind));
        let run = folder
            .run(&["convert", "t.csv", "-r", "r.toml", "-o", "t.parquet"])
            .status(0);
        assert_eq!(
            parquet_types(&folder, "t.parquet")[kind],
            expected,
            "{cells:?}"
        );
        holds(&run.err, &[said]);
        folder.write("none.toml", "metachron = 1\n");
        folder.run(&["convert", "t.parquet", "-r", "none.toml", "-o", "back.csv"]);
        let back = folder.read("back.csv");
        holds(&back, &[cells[0], cells[1]]);
    }
}

trait Rows {
    fn map_rows(&self) -> String;
}

impl Rows for &[&str] {
    fn map_rows(&self) -> String {
        let rows: Vec<String> = self.iter().map(|cell| format!("{cell},1")).collect();
        rows.join("\n")
    }
}

fn rulings_of(kind: &str) -> String {
    let (_, forms) = FORMS.iter().find(|(known, _)| *known == kind).unwrap();
    format!(
        "metachron = 1\n[column.{kind}]\nkind = \"{kind}\"\n\
         read = {{ forms = {forms:?}, calendar = \"gregory\" }}\n"
    )
}

#[test]
fn other_columns_are_text_unless_they_are_to_be_typed() {
    let table = "due,code,count,price,paid,note\n\
                 31/12/2024,007,12,1.5,true,x\n\
                 05/01/2025,12,-3,20,FALSE,\n\
                 06/01/2025,1,9007199254740993,0.25,,\"a, b\"\n";
    let folder = Folder::with("t.csv", table);
    folder
        .run(&["convert", "t.csv", "-o", "plain.parquet"])
        .status(0);
    let plain = parquet_types(&folder, "plain.parquet");
    for name in ["code", "count", "price", "paid", "note"] {
        assert_eq!(plain[name], "Utf8", "{name}");
    }
    folder
        .run(&["convert", "t.csv", "--type-others", "-o", "typed.parquet"])
        .status(0);
    let typed = parquet_types(&folder, "typed.parquet");
    for (name, of) in [
        ("due", "Date32"),
        ("code", "Utf8"),
        ("count", "Int64"),
        ("price", "Decimal128(38, 2)"),
        ("paid", "Boolean"),
        ("note", "Utf8"),
    ] {
        assert_eq!(typed[name], of, "{name}");
    }
    folder
        .run(&["convert", "t.csv", "--type-others", "-o", "t.sql"])
        .status(0);
    let script = folder.read("t.sql");
    holds(
        &script,
        &[
            "\"count\" bigint",
            "\"price\" numeric",
            "\"paid\" boolean",
            "\"code\" text",
        ],
    );
    holds(
        &script,
        &["2025-01-06\t1\t9007199254740993\t0.25\t\\N\ta, b\n"],
    );
    // Cells that are decimals, and too long for one type, are text and none is lost.
    let long = "9".repeat(38);
    folder.write(
        "d.csv",
        format!("due,n\n31/12/2024,1.50\n05/01/2025,{long}\n"),
    );
    folder
        .run(&["convert", "d.csv", "--type-others", "-o", "d.parquet"])
        .status(0);
    assert_eq!(parquet_types(&folder, "d.parquet")["n"], "Utf8");
    folder.write("none.toml", "metachron = 1\n");
    let back = folder.run(&["convert", "d.parquet", "-r", "none.toml"]).out;
    assert_eq!(back, format!("due,n\n2024-12-31,1.50\n2025-01-05,{long}\n"));
    // What has types keeps them.
    folder
        .run(&["convert", "typed.parquet", "-o", "again.arrow"])
        .status(0);
    folder
        .run(&["convert", "again.arrow", "-o", "again.parquet"])
        .status(0);
    assert_eq!(parquet_types(&folder, "again.parquet"), typed);
}

/// Rows that are longer or shorter than the header, sorted, kept, derived.
#[test]
fn every_cell_has_a_place() {
    let table = "due,n\n31/12/2024,7,more,\n05/01/2025\n01/02/2024,8\n";
    let folder = Folder::with("t.csv", table);
    for format in READ_BACK {
        let out = format!("t.{format}");
        let run = folder
            .run(&[
                "convert",
                "t.csv",
                "-o",
                &out,
                "--sort",
                "due",
                "--derive",
                "late = due > 2025-01-01",
                "--derive",
                "half = (n as number) * 0.5",
            ])
            .status(0);
        if format != "jsonl" {
            holds(
                &run.err,
                &["column `column_5` holds what rows have beyond the header"],
            );
        }
        folder.run(&["convert", &out, "-q", "-o", "back.csv"]);
        let back = folder
            .read("back.csv")
            .to_lowercase()
            .replace("true", "1")
            .replace("false", "0");
        let lines: Vec<&str> = back.lines().collect();
        // Objects have keys of their own for the rest of a long row.
        let rest = if format == "jsonl" { ",," } else { "," };
        assert_eq!(lines[1], format!("2024-02-01,8,0,4{rest}"), "{format}");
        assert_eq!(lines[3], format!("2025-01-05,,1,{rest}"), "{format}");
        holds(lines[2], &["2024-12-31,7,", "more"]);
    }
}

#[test]
fn a_stream_says_that_it_cannot_begin_again() {
    let rows: String = (0..40_000)
        .map(|row| format!("2024-01-01T00:00:{:02},{row}\n", row % 60))
        .collect();
    let table = format!("datetime,n\n{rows}2024-01-01T00:00:00.000000001,1\n");
    let folder = Folder::with("t.csv", table);
    folder.write("r.toml", rulings_of("datetime"));
    let command = |out| {
        [
            "convert", "t.csv", "-r", "r.toml", "--to", "arrow", "-o", out,
        ]
    };
    folder.run(&command("t.arrow")).status(0);
    let output = assert_cmd::Command::cargo_bin("metachron")
        .unwrap()
        .args(command("-"))
        .current_dir(folder.path("."))
        .output()
        .unwrap();
    assert_eq!(output.status.code(), Some(1));
    let said = String::from_utf8_lossy(&output.stderr);
    holds(
        &said,
        &[
            "column `datetime` needs another type",
            "name a file with -o",
        ],
    );
}

#[test]
fn names_that_a_format_takes_for_one_are_told_apart() {
    let long = "n".repeat(70);
    let table = format!("due,Due,{long}a,{long}b,\"a \"\"b\"\" c\"\n31/12/2024,1,2,3,4\n");
    let folder = Folder::with("t.csv", table);
    let run = folder
        .run(&["convert", "t.csv", "-c", "due", "-o", "t.sqlite"])
        .status(0);
    holds(&run.err, &["column `Due` is called `Due_2` here"]);
    let run = folder
        .run(&[
            "convert",
            "t.csv",
            "-c",
            "due",
            "-o",
            "t.sql",
            "--table-name",
            "my \"own\"; DROP",
        ])
        .status(0);
    holds(&run.err, &["is called `nnnn"]);
    let script = folder.read("t.sql");
    holds(
        &script,
        &[
            "CREATE TABLE \"my \"\"own\"\"; DROP\" (",
            "\"a \"\"b\"\" c\" text",
            "_2\" text",
        ],
    );
    let nul = Folder::with("t.csv", "due,note\n31/12/2024,a\0b\n");
    let run = nul
        .run(&["convert", "t.csv", "--encoding", "utf-8", "-o", "t.sql"])
        .status(1);
    holds(&run.err, &["column `note` has a NUL character"]);
    assert!(!nul.path("t.sql").exists());
}

#[test]
fn instants_keep_their_type_and_tell_the_zone_that_they_are_shown_in() {
    let table = "at,n\n2024-10-27T03:30:00+02:00,1\n2024-10-27T03:30:00+03:00,2\n";
    let folder = Folder::with("t.csv", table);
    for out in ["t.parquet", "t.sql", "t.sqlite", "t.xlsx"] {
        folder
            .run(&["convert", "t.csv", "--write-zone", "Europe/Riga", "-o", out])
            .status(0);
    }
    assert_eq!(
        parquet_types(&folder, "t.parquet")["at"],
        "Timestamp(µs, \"Europe/Riga\")"
    );
    // The rulings that it says it was made by can be used.
    folder.write(
        "again.toml",
        parquet_metadata(&folder, "t.parquet", "metachron.rulings"),
    );
    holds(&folder.read("again.toml"), &["zone = \"Europe/Riga\""]);
    folder
        .run(&[
            "convert",
            "t.csv",
            "-r",
            "again.toml",
            "-q",
            "-o",
            "again.parquet",
        ])
        .status(0);
    assert_eq!(folder.bytes("again.parquet"), folder.bytes("t.parquet"));
    holds(
        &folder.read("t.sql"),
        &["2024-10-27T01:30:00Z\t1", "2024-10-27T00:30:00Z\t2"],
    );
    folder.write("none.toml", "metachron = 1\n");
    folder.run(&[
        "convert",
        "t.sqlite",
        "--sheet",
        "t",
        "-r",
        "none.toml",
        "-q",
        "-o",
        "t2.csv",
    ]);
    holds(&folder.read("t2.csv"), &["2024-10-27T03:30:00+02:00,1"]);
    let run = folder.run(&["survey", "t.xlsx", "--json"]).status(0);
    holds(&run.out, &["\"at_zone\"", "\"kind\": \"datetime\""]);
    // Of an hour that is there twice, the zone says which it is.
    folder
        .run(&["convert", "t.xlsx", "-r", "none.toml", "-q", "-o", "t3.csv"])
        .status(0);
    assert_eq!(
        folder.read("t3.csv"),
        "at,at_zone,n\n2024-10-27T03:30:00,+02:00[Europe/Riga],1\n\
         2024-10-27T03:30:00,+03:00[Europe/Riga],2\n"
    );
}

#[test]
fn a_file_says_how_it_was_made() {
    let folder = Folder::with("t.csv", "due,n\n31/12/2024,1\n05/01/2025,2\nsoon,3\n");
    for out in ["t.parquet", "t.sqlite", "t.sql", "t.xlsx"] {
        folder.run(&["convert", "t.csv", "-o", out]).status(3);
    }
    let of = |key: &str| parquet_metadata(&folder, "t.parquet", key);
    let provenance: serde_json::Value = serde_json::from_str(&of("metachron.provenance")).unwrap();
    let column = &provenance["columns"][0];
    assert_eq!(column["forms"][0], "dd/MM/yyyy");
    assert_eq!(
        (
            &column["certain"],
            &column["settled"],
            &column["unreadable"]
        ),
        (&1.into(), &1.into(), &1.into())
    );
    // The rulings can be used as they are.
    folder.write("again.toml", of("metachron.rulings"));
    folder
        .run(&["convert", "t.csv", "-r", "again.toml", "-o", "again.csv"])
        .status(3);
    let database = rusqlite::Connection::open(folder.path("t.sqlite")).unwrap();
    let forms: String = database
        .query_row("SELECT forms FROM metachron_columns", [], |row| row.get(0))
        .unwrap();
    assert_eq!(forms, "dd/MM/yyyy");
    holds(
        &folder.read("t.sql"),
        &["COMMENT ON COLUMN \"t\".\"due\" IS 'source: due, kind: date"],
    );
}

#[test]
fn the_same_bytes_with_any_number_of_threads() {
    let rows: String = (0..60_000)
        .map(|row| {
            format!(
                "{:02}/{:02}/2024,{row},text {}\n",
                row % 28 + 1,
                row % 12 + 1,
                row % 100
            )
        })
        .collect();
    let folder = Folder::with("t.csv", format!("due,n,note\n{rows}"));
    for format in ["parquet", "arrow", "arrows", "sqlite", "sql"] {
        let mut files = Vec::new();
        for threads in ["1", "3"] {
            let out = format!("{threads}.{format}");
            let command = [
                "convert",
                "t.csv",
                "--table-name",
                "t",
                "--threads",
                threads,
                "-q",
                "-o",
                &out,
            ];
            folder.run(&command).status(0);
            files.push(folder.bytes(&out));
        }
        assert!(files[0] == files[1], "{format}");
    }
}

fn cell_of(kind: &'static str) -> BoxedStrategy<String> {
    let fraction = prop_oneof![
        4 => Just(String::new()),
        1 => (1..10_u32).prop_map(|digit| format!(".{digit}")),
        1 => (1..1_000_000_u32).prop_map(|digits| format!(".{digits:06}").trim_end_matches('0').to_owned()),
    ];
    let day = (1..=9998_u32, 1..=12_u32, 1..=28_u32)
        .prop_map(|(year, month, day)| format!("{year:04}-{month:02}-{day:02}"));
    let clock =
        (0..24_u32, 0..60_u32, 0..60_u32, fraction).prop_map(|(hour, minute, second, rest)| {
            format!("{hour:02}:{minute:02}:{second:02}{rest}")
        });
    match kind {
        "date" => day.boxed(),
        "time" => clock.boxed(),
        "datetime" => (day, clock)
            .prop_map(|(day, clock)| format!("{day}T{clock}"))
            .boxed(),
        "instant" => (day, clock)
            .prop_map(|(day, clock)| format!("{day}T{clock}Z"))
            .boxed(),
        "duration" => (1..10_000_u32, 1..60_u32, any::<bool>())
            .prop_map(|(hours, minutes, is_negative)| {
                let sign = if is_negative { "-" } else { "" };
                format!("{sign}PT{hours}H{minutes}M")
            })
            .boxed(),
        "year" => (1000..9999_u32).prop_map(|year| year.to_string()).boxed(),
        "month" => day.prop_map(|day| day[..7].to_owned()).boxed(),
        "quarter" => (1000..9999_u32, 1..=4_u32)
            .prop_map(|(year, part)| format!("{year}-Q{part}"))
            .boxed(),
        _ => (1000..9999_u32, 1..=52_u32)
            .prop_map(|(year, week)| format!("{year}-W{week:02}"))
            .boxed(),
    }
}

fn row() -> impl Strategy<Value = Vec<String>> {
    KINDS
        .map(|(kind, _)| prop_oneof![9 => cell_of(kind), 1 => Just(String::new())])
        .to_vec()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    /// What goes into a format comes out of it, stamp by stamp.
    #[test]
    fn tables_come_back(rows in prop::collection::vec(row(), 1..40)) {
        let folder = of_kinds(&rows);
        folder.run(&["convert", "t.csv", "-r", "r.toml", "-q", "-o", "clean.csv"]).status(0);
        let clean = folder.read("clean.csv");
        for format in READ_BACK {
            let out = format!("t.{format}");
            folder.run(&["convert", "t.csv", "-r", "r.toml", "-q", "-o", &out]).status(0);
            // No column is read: each cell comes out by its own type.
            let command = ["convert", &out, "-r", "none.toml", "-q", "-o", "back.csv"];
            folder.write("none.toml", "metachron = 1\n");
            folder.run(&command).status(0);
            prop_assert_eq!(folder.read("back.csv"), clean.clone(), "{}", format);
        }
    }
}
