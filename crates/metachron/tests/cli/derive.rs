//! Derived columns, rows kept, rows sorted: the built program on files.

use crate::harness::{Folder, holds};

const LOANS: &str = "\
item,out,back,weeks,site
Bell,2024-01-31,2024-03-01,3,Odrava
Lamp,2024-02-10,,one,Målby
Cellar,31/12/2024,2025-01-02,,Odrava
Ledger,not yet,2024-05-05,2,Fjordlund
";

/// `LOANS`, read with a ruling for each date.
fn loans(derive: &str) -> Folder {
    let folder = Folder::with("loans.csv", LOANS);
    folder.write(
        "loans.toml",
        format!(
            "metachron = 1\n\
             [column.out]\nkind = \"date\"\nread = {{ forms = [\"yyyy-MM-dd\", \"dd/MM/yyyy\"] }}\n\
             [column.back]\nkind = \"date\"\nread = {{ forms = [\"yyyy-MM-dd\"] }}\n{derive}"
        ),
    );
    folder
}

const CONVERT: &[&str] = &["convert", "loans.csv", "-r", "loans.toml", "-o", "out.csv"];

fn with<'a>(more: &[&'a str]) -> Vec<&'a str> {
    [CONVERT, more].concat()
}

#[test]
fn columns_of_a_rulings_file_stand_behind_and_use_each_other() {
    let folder = loans(
        "[[derive]]\nname = \"due\"\nvalue = \"out + weeks weeks\"\n\
         write = { pattern = \"d MMM yyyy, EEE\" }\n\
         [[derive]]\nname = \"late\"\nvalue = \"whole days from due to back\"\n\
         [[derive]]\nname = \"is late\"\nvalue = \"late > 0\"\n",
    );
    let run = folder.run(CONVERT).status(3);
    assert_eq!(
        folder.read("out.csv"),
        "item,out,back,weeks,site,due,late,is late\n\
         Bell,2024-01-31,2024-03-01,3,Odrava,\"21 Feb 2024, Wed\",9,true\n\
         Lamp,2024-02-10,,one,Målby,,,\n\
         Cellar,2024-12-31,2025-01-02,,Odrava,,,\n\
         Ledger,,2024-05-05,2,Fjordlund,,,\n"
    );
    holds(
        &run.err,
        &[
            "due      derived (date): 1 given, 1 blank, 1 empty until what they are made from is settled, 1 without a value",
            "late     derived (number): 1 given, 2 blank, 1 empty until",
            "2 cells wait for a person",
        ],
    );
    holds(
        &folder.read("out.review.csv"),
        &["loans.csv,2,3,due,\"out 2024-02-10, weeks one\",open,`one` is no number"],
    );
}

#[test]
fn a_reviewer_resolves_derived_cells_and_rows() {
    let folder = loans("");
    let due = "due = out + weeks weeks";
    let filter = "weeks as number > 1";
    let args = with(&["--derive", due, "--where", filter]);
    folder.run(&args).status(3);
    let list = folder.read("out.review.csv");
    holds(
        &list,
        &[
            ",due,\"out 2024-02-10, weeks one\",open,",
            ",--where,weeks one,open,`one` is no number",
        ],
    );
    let answered: String = list
        .lines()
        .map(|line| match line {
            _ if line.contains(",due,") => format!("{line}2024-02-17\n"),
            _ if line.contains("--where") => format!("{line}true\n"),
            _ => format!("{line}\n"),
        })
        .collect();
    folder.write("answers.csv", answered);
    let args = with(&[
        "--derive",
        due,
        "--where",
        filter,
        "--resolved",
        "answers.csv",
    ]);
    let run = folder.run(&args).status(3);
    holds(
        &run.err,
        &["2 cells resolved by a reviewer", "kept 3 of 4 rows"],
    );
    holds(
        &folder.read("out.csv"),
        &["Lamp,2024-02-10,,one,Målby,2024-02-17\n"],
    );
}

#[test]
fn what_cannot_be_derived_is_said_before_anything_is_written() {
    let folder = loans("");
    let nested = format!("x = {}1{}", "(".repeat(10_000), ")".repeat(10_000));
    for (option, value, says) in [
        ("--derive", "a = b + 1 day", "no column is called `b`"),
        ("--derive", "out = 1", "a column is called so already"),
        ("--derive", " = 1", "write it as NAME = PHRASE"),
        (
            "--derive",
            "x = out +",
            "derived column `x`: the phrase ends where a value is wanted\n  out +\n       ^",
        ),
        (
            "--derive",
            "x = month of item",
            "item is text: no ruling reads the column",
        ),
        ("--derive", &nested, "nested more than 100 deep"),
        ("--where", "out", "rows are kept by a test"),
        ("--where", "out <", "--where: the phrase ends"),
        ("--sort", "ouut", "did you mean `out`?"),
    ] {
        let run = folder.run(&with(&[option, value])).status(2);
        holds(&run.err, &[says]);
        assert!(run.err.len() < 600, "{} bytes for {option}", run.err.len());
        assert!(!folder.path("out.csv").exists(), "{option} {value}");
    }
    let circle = with(&[
        "--derive",
        "a = b + 1",
        "--derive",
        "b = c + 1",
        "--derive",
        "c = a + 1",
    ]);
    holds(
        &folder.run(&circle).status(2).err,
        &["in a circle: a → b → c → a"],
    );
    let early = with(&["--derive", "a = b + 1", "--derive", "b = 1"]);
    holds(
        &folder.run(&early).status(2).err,
        &["`b` is derived further down"],
    );
}

#[test]
fn a_phrase_of_a_rulings_file_is_wrong_with_its_line() {
    let folder = loans("[[derive]]\nname = \"due\"\nvalue = \"out + 1 mnth\"\n");
    let run = folder.run(CONVERT).status(1);
    holds(
        &run.err,
        &[
            "loans.toml: line 10",
            "`mnth` is no unit; did you mean `months`?",
            "^^^^",
        ],
    );
    let folder = loans("[[derive]]\nname = \"due\"\nvalue = \"outt + 1 month\"\n");
    let run = folder.run(CONVERT).status(1);
    holds(
        &run.err,
        &["loans.toml: derived column `due`: no column is called `outt`"],
    );
    let long = format!(
        "[[derive]]\nname = \"due\"\nvalue = \"{}1\"\n",
        "1 + ".repeat(300_000)
    );
    let folder = loans(&long);
    let run = folder.run(CONVERT).status(1);
    holds(&run.err, &["the phrase has 1200001 bytes"]);
    assert!(run.err.len() < 600);
}

#[test]
fn settle_keeps_what_is_derived() {
    let folder = loans("[[derive]]\nname = \"due\"\nvalue = \"out + 1 month, month-end refuse\"\n");
    folder
        .run(&["settle", "loans.csv", "-r", "loans.toml", "-o", "new.toml"])
        .status(3);
    holds(
        &folder.read("new.toml"),
        &["[[derive]]\nname = \"due\"\nvalue = \"out + 1 month, month-end refuse\"\n"],
    );
}

/// Readings of a logger in no order, over more than one block of a file.
fn readings(rows: u32) -> String {
    let mut text = "at;warmth\n".to_owned();
    for row in 0..rows {
        let minute = (row.wrapping_mul(7919) + 5) % rows;
        let (day, hour) = (1 + minute / 1440 % 28, minute / 60 % 24);
        let month = 1 + minute / 1440 / 28;
        let blank = row % 1000 == 999;
        if blank {
            text += ";\n"
        } else {
            text += &format!(
                "2024-{month:02}-{day:02} {hour:02}:{:02};{row}\n",
                minute % 60
            )
        }
    }
    text
}

/// What becomes of `log.csv` on so many threads.
fn convert_log(folder: &Folder, threads: &str, more: &[&str]) -> String {
    let out = format!("{threads}.csv");
    let args = ["convert", "log.csv", "--threads", threads, "-o", &out];
    folder.run(&[&args, more].concat()).status(0);
    folder.read(&out)
}

#[test]
fn elapsed_time_is_the_same_with_any_number_of_threads() {
    let folder = Folder::with("log.csv", readings(150_000));
    let derive = [
        "--derive",
        "first = minutes since first at",
        "--derive",
        "earliest = minutes since earliest at",
        "--derive",
        "previous = whole hours since previous at",
    ];
    let one = convert_log(&folder, "1", &derive);
    assert_eq!(one, convert_log(&folder, "4", &derive));
    let mut before: Option<i64> = None;
    let mut first = None;
    for (line, source) in one.lines().zip(readings(150_000).lines()).skip(1) {
        let cells: Vec<&str> = line.split(';').collect();
        if source == ";" {
            assert_eq!(line, ";;;;");
            continue;
        }
        // Every month of the file has 28 days, and the calendar has more.
        let at: jiff::civil::DateTime = cells[0].parse().unwrap();
        let start: jiff::civil::DateTime = "2024-01-01T00:00".parse().unwrap();
        let minute = at.duration_since(start).as_mins();
        let first = *first.get_or_insert(minute);
        assert_eq!(cells[2], (minute - first).to_string(), "{line}");
        assert_eq!(cells[3], minute.to_string(), "{line}");
        let passed = before.map(|before| ((minute - before) / 60).to_string());
        assert_eq!(cells[4], passed.unwrap_or_default(), "{line}");
        before = Some(minute);
    }
}

/// Only as many rows are looked at beforehand as it takes to find it, and it
/// holds for all.
#[test]
fn the_first_row_is_found_wherever_it_stands() {
    let blank = "not said, but long enough that there are blocks of these;\n".repeat(40_000);
    let said = "said;2024-01-31T22:00\nsaid;\nsaid;2024-02-01T00:30\n".repeat(20_000);
    let folder = Folder::with("log.csv", format!("note;at\n{blank}{said}"));
    for threads in ["1", "4"] {
        let derive = ["--derive", "h = hours since first at"];
        let keep = ["--where", "note = \"said\""];
        let out = convert_log(&folder, threads, &[derive, keep].concat());
        let expected =
            "said;2024-01-31T22:00:00;0\nsaid;;\nsaid;2024-02-01T00:30:00;2.5\n".repeat(20_000);
        assert!(out == format!("note;at;h\n{expected}"), "{threads} threads");
    }
}

/// What only stands in the result is remembered by its day; what other columns
/// are made from is not.
#[test]
fn a_column_is_the_same_whether_others_are_made_from_it_or_not() {
    let phrases = [
        "weekday of day",
        "weekday name of day",
        "day + 1 month",
        "day as text \"d MMMM yyyy\"",
        "if day of day = 1 then blank else if day of day = 2 then \"\" else \"later\"",
        "day is weekend",
        "days from 2024-01-01 to day",
        "(days from 2024-01-01 to day) / 7",
    ];
    let days =
        (0..4000).map(|n| format!("{}-{:02}-{:02}\n", 2000 + n % 25, 1 + n % 12, 1 + n % 28));
    let folder = Folder::with("days.csv", format!("day\n{}", days.collect::<String>()));
    for phrase in phrases {
        let run = |keep: &str, out: &str| {
            let derive = format!("made = {phrase}");
            let run = folder
                .run(&[
                    "convert", "days.csv", "--derive", &derive, "--where", keep, "-o", out,
                ])
                .status(0);
            let said = run
                .err
                .lines()
                .find(|line| line.trim_start().starts_with("made"));
            (folder.read(out), said.map(str::to_owned))
        };
        let number = phrase.len();
        let alone = run("true", &format!("{number}-alone.csv"));
        let wanted = run(
            "made is blank or not (made is blank)",
            &format!("{number}-wanted.csv"),
        );
        assert_eq!(alone.1, wanted.1, "{phrase}");
        assert!(alone.0 == wanted.0, "{phrase}");
        assert!(alone.1.is_some(), "{phrase} is counted");
    }
}

#[test]
fn rows_are_kept_and_sorted_and_said() {
    let folder = loans("");
    let run = folder
        .run(&with(&[
            "--where",
            "out >= 2024-02-01",
            "--sort",
            "out",
            "--descending",
        ]))
        .status(3);
    assert_eq!(
        folder.read("out.csv"),
        "item,out,back,weeks,site\n\
         Cellar,2024-12-31,2025-01-02,,Odrava\n\
         Lamp,2024-02-10,,one,Målby\n"
    );
    holds(
        &run.err,
        &[
            "kept 2 of 4 rows, dropped 2: 1 does not pass, of 1 it cannot be told (a cell is blank or waits)",
            "sorted by out, descending: 1 row stood behind one that it belongs before",
        ],
    );
    // Blank cells come last either way; equal ones keep their order.
    for (direction, order) in [
        (&[][..], "Bell Ledger Cellar Lamp"),
        (&["--descending"][..], "Cellar Ledger Bell Lamp"),
    ] {
        let args = [&["--sort", "back", "--summary", "s.json"][..], direction].concat();
        folder.run(&with(&args)).status(3);
        let items: Vec<String> = folder
            .read("out.csv")
            .lines()
            .skip(1)
            .map(|line| line.split(',').next().unwrap().to_owned())
            .collect();
        assert_eq!(items.join(" "), order);
    }
    let text = folder
        .run(&with(&["--sort", "site", "--sort", "item"]))
        .status(3);
    holds(&text.err, &["sorted by site (as text) and item (as text)"]);
    let sorted = Folder::with("in.csv", "at\n2024-01-01\n2024-01-02\n");
    let run = sorted.run(&["convert", "in.csv", "--sort", "at"]).status(0);
    holds(&run.err, &["the rows were in that order already"]);
    assert_eq!(run.out, "at\n2024-01-01\n2024-01-02\n");
}

#[test]
fn the_summary_counts_derived_columns_and_rows() {
    let folder = loans("");
    let args = with(&[
        "--derive",
        "due = out + weeks weeks",
        "--where",
        "site is \"Odrava\"",
        "--sort",
        "due",
        "--summary",
        "s.json",
    ]);
    folder.run(&args).status(3);
    let summary: serde_json::Value = serde_json::from_str(&folder.read("s.json")).unwrap();
    let due = &summary["derived"][0];
    assert_eq!(
        (&due["name"], &due["kind"]),
        (&"due".into(), &"date".into())
    );
    assert_eq!(due["cells"]["given"], 1);
    assert_eq!(due["cells"]["refused"], 1);
    assert_eq!(summary["rows"]["kept"], 2);
    assert_eq!(summary["rows"]["dropped"], 2);
    assert_eq!(summary["sorted"]["by"][0], "due");
    assert_eq!(summary["sorted"]["steps_back"], 0);
}

#[test]
fn a_workbook_has_derived_cells_of_their_own_types() {
    use calamine::{Data, Reader};
    let folder = loans("");
    let args = [
        "convert",
        "loans.csv",
        "-r",
        "loans.toml",
        "-o",
        "out.xlsx",
        "--derive",
        "due = out + 14 days",
        "--derive",
        "days = whole days from out to back",
        "--derive",
        "odd = days > 10",
        "--derive",
        "day = weekday name of out",
        "--sort",
        "back",
    ];
    folder.run(&args).status(3);
    let mut book: calamine::Xlsx<_> = calamine::open_workbook(folder.path("out.xlsx")).unwrap();
    let sheet = book.worksheet_range_at(0).unwrap().unwrap();
    let row: Vec<Data> = sheet.rows().nth(1).unwrap().to_vec();
    assert_eq!(row[0], Data::String("Bell".to_owned()));
    assert!(matches!(row[5], Data::DateTime(_)), "{:?}", row[5]);
    assert_eq!(row[6], Data::Float(30.0));
    assert_eq!(row[7], Data::Bool(true));
    assert_eq!(row[8], Data::String("Wednesday".to_owned()));
}

#[test]
fn local_times_beside_a_zone_are_real_cells_of_a_workbook() {
    use calamine::{Data, Reader};
    let folder = Folder::with("in.csv", "at,took\n2024-07-01T11:00:00Z,1 h 45 min\n");
    folder
        .run(&[
            "convert",
            "in.csv",
            "-o",
            "out.xlsx",
            "--set",
            "at.write.zone=Europe/Riga",
            "--set",
            "at.write.zone-as=column",
            "--set",
            "took.write.unit=h",
        ])
        .status(0);
    let mut book: calamine::Xlsx<_> = calamine::open_workbook(folder.path("out.xlsx")).unwrap();
    let sheet = book.worksheet_range_at(0).unwrap().unwrap();
    let row: Vec<Data> = sheet.rows().nth(1).unwrap().to_vec();
    assert!(
        matches!(&row[0], Data::DateTime(at) if at.to_string().starts_with("45474.58333")),
        "{row:?}"
    );
    assert_eq!(row[1], Data::String("Europe/Riga".to_owned()));
    assert_eq!(row[2], Data::Float(1.75));
}

#[test]
fn patterns_with_commas_are_quoted() {
    let folder = Folder::with("in.csv", "at\n2024-07-01\n");
    let run = folder
        .run(&[
            "convert",
            "in.csv",
            "--write-pattern",
            "d \"MMM\", yyyy",
            "--derive",
            "t = at as text \"d, MMM\"",
        ])
        .status(0);
    assert_eq!(run.out, "at,t\n\"1 \"\"Jul\"\", 2024\",\"1, Jul\"\n");
}

/// Cells of which only the number is wanted are never texts, unless they are no
/// number: that must not be seen.
#[test]
fn cells_are_the_same_numbers_whatever_else_is_wanted_of_them() {
    let cells = [
        "007",
        " 12 ",
        "",
        "1e3",
        "\u{2212}3",
        "+4",
        "-0",
        "\"1,5\"",
        "n/a",
        "0.50",
        "1.",
        "99999999999999999999999999999",
        "00000000000000000000000000000001",
        "\"\"\"3\"\"\"",
    ];
    let rows: String = cells.map(|cell| format!("{cell},x\n")).concat();
    let folder = Folder::with("n.csv", format!("n,note\n{rows}"));
    let run = |number: &[&str], out: &str| {
        let derive = [
            "m = n * 2",
            "k = 10 - n",
            "big = if n > 5 then \"big\" else \"small\"",
        ];
        let derive = derive.iter().flat_map(|derive| ["--derive", derive]);
        let args: Vec<&str> = ["convert", "n.csv", "-o", out]
            .into_iter()
            .chain(derive)
            .chain(number.iter().copied())
            .collect();
        folder.run(&args).status(3);
        let review = folder.read(&out.replace(".csv", ".review.csv"));
        let lines = folder.read(out);
        let cut = |line: &str| line.rsplit_once(',').map(|(own, _)| own.to_owned());
        let lines = lines.lines().map(|line| match number {
            [] => line.to_owned(),
            _ => cut(line).unwrap_or_default(),
        });
        (lines.collect::<Vec<_>>(), review)
    };
    let alone = run(&[], "alone.csv");
    let together = run(&["--derive", "t = n is blank"], "together.csv");
    assert_eq!(alone, together);
    holds(
        &alone.0.join("\n"),
        &["007,x,14,3,big", " 12 ,x,24,-2,big", "n/a,x,,,"],
    );
    holds(&alone.1, &[",m,n 1e3,open,", ",big,\"n 1,5\",open,"]);
}

/// A number may stand for nothing, and a reviewer is shown how it stands there.
#[test]
fn numbers_that_are_blank_and_numbers_that_are_listed() {
    let folder = Folder::with("days.csv", "month,day\n02,029\n02,-999\n02,030\n");
    folder.write(
        "days.toml",
        "metachron = 1\n[table]\nblanks = [\"-999\"]\n\
         [[derive]]\nname = \"on\"\nvalue = \"date from 2024, month, day\"\n",
    );
    folder
        .run(&["convert", "days.csv", "-r", "days.toml", "-o", "out.csv"])
        .status(3);
    assert_eq!(
        folder.read("out.csv"),
        "month,day,on\n02,029,2024-02-29\n02,-999,\n02,030,\n"
    );
    holds(
        &folder.read("out.review.csv"),
        &[",on,\"month 02, day 030\",open,there is no day 30 in month 2 of 2024"],
    );
}
