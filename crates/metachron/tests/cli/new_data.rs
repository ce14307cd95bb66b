//! New data under old rulings.

use crate::harness::{Folder, holds};

fn register(rows: impl IntoIterator<Item = (String, &'static str)>) -> String {
    let rows = rows
        .into_iter()
        .map(|(day, site)| format!("{day},{site}\n"));
    format!("due,site\n{}", rows.collect::<String>())
}

/// A register settled by site, and its rulings.
fn settled() -> Folder {
    let rows = (0..80).map(|number| {
        let (day, month) = (1 + number % 28, 1 + number % 12);
        match number % 2 {
            0 => (format!("{day:02}/{month:02}/2024"), "Odrava"),
            _ => (format!("{month:02}/{day:02}/2024"), "Kestrelby"),
        }
    });
    let folder = Folder::with("old.csv", register(rows));
    folder.run(&["settle", "old.csv", "-o", "r.toml"]).status(0);
    holds(
        &folder.read("r.toml"),
        &["by = \"site\"", "orders = { ", "baseline = { cells = 80"],
    );
    folder
}

#[test]
fn what_is_new_is_said() {
    let folder = settled();
    let new = [
        ("03/04/2024", "Odrava"),
        ("03/04/2024", "Kestrelby"),
        // A site that is new, and one that writes otherwise now.
        ("05/06/2024", "Fjordlund"),
        ("04/25/2024", "Odrava"),
        // A form that is new.
        ("5 March 2024", "Odrava"),
        ("31/12/2025", "Odrava"),
    ];
    let new = new.map(|(day, site)| (day.to_owned(), site));
    folder.write("new.csv", register(new));
    for command in [&["survey"][..], &["convert", "-o", "clean.csv"]] {
        let run = folder
            .run(&[command, &["new.csv", "-r", "r.toml"]].concat())
            .status(3);
        let said = format!("{}{}", run.out, run.err);
        holds(
            &said.split_whitespace().collect::<Vec<_>>().join(" "),
            &[
                "since it was settled: 1 cell is written in a way that the rulings do not know, such as 5 March 2024",
                "1 cell contradicts the rulings, such as 04/25/2024",
                "site `Odrava` writes day-month-year",
                "1 cell is open that the rulings do not settle, such as 05/06/2024",
                "the ruling has no order for site `Fjordlund`",
                "the latest is 2025-12-31; it was 2024-",
            ],
        );
    }
    assert_eq!(
        folder.read("clean.csv"),
        "due,site\n2024-04-03,Odrava\n2024-03-04,Kestrelby\n,Fjordlund\n,Odrava\n,Odrava\n2025-12-31,Odrava\n"
    );
    let survey = folder
        .run(&["survey", "new.csv", "-r", "r.toml", "--json"])
        .json();
    let differs = survey["columns"][0]["differences"].as_array().unwrap();
    let names: Vec<&str> = differs
        .iter()
        .map(|one| one["differs"].as_str().unwrap())
        .collect();
    assert_eq!(names, ["new-form", "contradicts", "open", "later"]);
}

#[test]
fn the_same_data_have_no_differences() {
    let folder = settled();
    for args in [
        &["survey", "old.csv", "-r", "r.toml"][..],
        &["convert", "old.csv", "-r", "r.toml", "-o", "clean.csv"],
    ] {
        let run = folder.run(args).status(0);
        assert!(!format!("{}{}", run.out, run.err).contains("since it was settled"));
    }
    // In any number of threads, the same bytes.
    for threads in ["1", "3"] {
        let args = ["convert", "old.csv", "-r", "r.toml", "--threads", threads];
        assert_eq!(folder.run(&args).out, folder.read("clean.csv"));
    }
}

/// A day that marks an empty cell is no new end of the range, and lengths have
/// none.
#[test]
fn markers_and_lengths_have_no_range() {
    let rows = (1..=25).map(|day| format!("2024-03-{day:02},PT{day}H\n"));
    let table = format!("until,took\n{}9999-12-31,P2D\n", rows.collect::<String>());
    let folder = Folder::with("t.csv", table);
    let keep = "until.read.placeholders.9999-12-31=keep";
    folder.run(&["settle", "t.csv", "-o", "r.toml", "--set", keep]);
    for args in [
        &["survey", "t.csv", "-r", "r.toml"][..],
        &["convert", "t.csv", "-r", "r.toml", "-o", "clean.csv"],
    ] {
        let run = folder.run(args).status(0);
        let said = format!("{}{}", run.out, run.err);
        assert!(!said.contains("since it was settled"), "{said}");
        assert!(!said.contains("no date"), "{said}");
    }
}

#[test]
fn rows_in_time_order_are_placed_the_same_way_on_every_run() {
    let days = (0..380).map(|number| {
        let at = jiff::civil::date(2024, 1, 3) + jiff::Span::new().days(number);
        if number < 220 {
            at.strftime("%d/%m/%Y").to_string()
        } else {
            at.strftime("%m/%d/%Y").to_string()
        }
    });
    let truth = (0..380).map(|number| {
        let at = jiff::civil::date(2024, 1, 3) + jiff::Span::new().days(number);
        at.to_string()
    });
    let (days, truth): (Vec<String>, Vec<String>) = (days.collect(), truth.collect());
    let folder = Folder::with("t.csv", format!("read\n{}\n", days.join("\n")));
    folder.run(&["settle", "t.csv", "-o", "r.toml"]).status(0);
    holds(&folder.read("r.toml"), &["in-time-order = \"ascending\""]);
    for threads in ["1", "2", "7"] {
        let args = ["convert", "t.csv", "-r", "r.toml", "--threads", threads];
        let clean = folder.run(&args).status(0).out;
        assert_eq!(clean, format!("read\n{}\n", truth.join("\n")));
    }
    let why = folder.run(&["survey", "t.csv", "--why"]).out;
    holds(&why, &["the rows stand in time order", "so it holds"]);
}

/// Rows that stand anyhow are sorted by the number of their tickets; where two have
/// one number, nobody knows which was first.
#[test]
fn rows_are_sorted_by_a_number_that_rises_with_time() {
    let day = |number: i64| jiff::civil::date(2024, 1, 3) + jiff::Span::new().days(number);
    let row = |place: i64| {
        let number = place * 211 % 380;
        let form = if number % 3 == 0 {
            "%m/%d/%Y"
        } else {
            "%d/%m/%Y"
        };
        (
            format!("T-{},{}\n", 700 + number, day(number).strftime(form)),
            number,
        )
    };
    let rows: Vec<(String, i64)> = (0..380).map(row).collect();
    let table: String = rows.iter().map(|(row, _)| row.as_str()).collect();
    let folder = Folder::with("t.csv", format!("ticket,read\n{table}"));
    folder.run(&["settle", "t.csv", "-o", "r.toml"]).status(0);
    let ruled = "in-time-order = \"ascending\", sorted-by = \"ticket\"";
    holds(&folder.read("r.toml"), &[ruled]);
    let truth = rows
        .iter()
        .map(|(_, number)| format!("T-{},{}\n", 700 + number, day(*number)));
    let truth: String = truth.collect();
    for threads in ["1", "3"] {
        let args = ["convert", "t.csv", "-r", "r.toml", "--threads", threads];
        let clean = folder.run(&args).status(0).out;
        assert_eq!(clean, format!("ticket,read\n{truth}"));
    }
    let why = folder.run(&["survey", "t.csv", "--why"]).out;
    holds(
        &why,
        &["stand in time order when they are sorted by ticket, ascending"],
    );
    let twice = "ticket,read\nT-1,13/01/2024\nT-2,02/03/2024\nT-2,04/02/2024\nT-4,27/03/2024\n";
    folder.write("twice.csv", twice);
    let run = folder
        .run(&["convert", "twice.csv", "-r", "r.toml"])
        .status(3);
    assert_eq!(
        run.out,
        "ticket,read\nT-1,2024-01-13\nT-2,\nT-2,\nT-4,2024-03-27\n"
    );
    let wrong = folder.run(&[
        "survey",
        "t.csv",
        "-r",
        "r.toml",
        "--set",
        "read.read.sorted-by=no",
    ]);
    holds(
        &wrong.status(2).err,
        &["read.sorted-by of `read`: no column is called `no`"],
    );
}

#[test]
fn a_declaration_that_looks_like_the_results() {
    let days = (1..=28).map(|day| format!("{:02}/{day:02}/2024\n", 1 + day % 12));
    let folder = Folder::with("t.csv", format!("due\n{}", days.collect::<String>()));
    let run = folder
        .run(&["survey", "t.csv", "--read-locale", "de"])
        .status(3);
    let said = run.out.split_whitespace().collect::<Vec<_>>().join(" ");
    holds(
        &said,
        &[
            "--read-locale de says day-month-year, but all 28 cells",
            "fit month-day-year, and 16 cannot be day-month-year",
            "Options that begin with --read- say how the source is written",
        ],
    );
    // A locale's order is a presumption: what fits both is not read by it.
    let clean = folder
        .run(&["convert", "t.csv", "--read-locale", "de"])
        .status(3)
        .out;
    assert!(
        clean.contains("\n2024-02-13\n")
            && !clean.contains("2024-01-02")
            && !clean.contains("2024-13"),
        "{clean}"
    );
}

/// An answer for the cells that the rest of the table leaves open contradicts
/// nothing that it settles.
#[test]
fn the_rest_has_an_order_of_its_own() {
    let folder = settled();
    let old = folder.read("old.csv");
    folder.write("more.csv", format!("{old}05/06/2024,Fjordlund\n"));
    let seen = folder.run(&["survey", "more.csv"]).status(3).out;
    holds(
        &seen,
        &["--set 'due.read.otherwise=dmy'  5 June 2024; converts 1\n"],
    );
    let args = [
        "convert",
        "more.csv",
        "--set",
        "due.read.otherwise=dmy",
        "-q",
    ];
    let clean = folder.run(&args).status(0).out;
    assert!(clean.ends_with("2024-06-05,Fjordlund\n"), "{clean}");
    let before = folder.run(&["convert", "old.csv", "-q"]).status(0).out;
    assert!(clean.starts_with(&before));
}

/// Two registers in one table, each with an order of its own; wherever the
/// files lie, the rulings hold.
#[test]
fn files_that_write_in_different_orders() {
    let folder = Folder::new();
    let days = |pattern: &str| -> (String, String) {
        let days = (0..40).map(|number: i32| {
            let (month, day) = (1 + number % 12, 1 + number * 11 % 28);
            jiff::civil::date(2024, month as i8, day as i8)
        });
        let days: Vec<jiff::civil::Date> = days.collect();
        let shown = days
            .iter()
            .map(|day| format!("{}\n", day.strftime(pattern)));
        let truth = days.iter().map(|day| format!("{day}\n"));
        (shown.collect(), truth.collect())
    };
    let (north, truth) = days("%d/%m/%Y");
    let (south, _) = days("%m/%d/%Y");
    std::fs::create_dir(folder.path("in")).unwrap();
    for index in ["", "in/"] {
        folder.write(&format!("{index}north.csv"), format!("due\n{north}"));
        folder.write(&format!("{index}south.csv"), format!("due\n{south}"));
    }
    let seen = folder
        .run(&["survey", "north.csv", "south.csv"])
        .status(0)
        .out;
    holds(&seen, &["by the file: north.csv writes day-month-year"]);
    folder
        .run(&["settle", "north.csv", "south.csv", "-o", "r.toml"])
        .status(0);
    let args = ["convert", "in/south.csv", "in/north.csv", "-r", "r.toml"];
    assert_eq!(
        folder.run(&args).status(0).out,
        format!("due\n{truth}{truth}")
    );
}
