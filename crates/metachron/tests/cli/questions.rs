//! Every open cell belongs to a question, and every answer does what it says.

use crate::harness::{Folder, holds};
use serde_json::Value;
use std::collections::BTreeMap;

/// The clean cells of `column` that were converted, by their row.
fn converted(clean: &str, column: &str) -> BTreeMap<usize, String> {
    let mut lines = clean
        .lines()
        .map(|line| line.split(',').collect::<Vec<_>>());
    let head = lines.next().unwrap();
    let index_of = |name: &str| head.iter().position(|known| *known == name);
    let Some(verdict) = index_of(&format!("{column}_verdict")) else {
        return BTreeMap::new();
    };
    let own = index_of(column).unwrap();
    let rows = lines.enumerate();
    rows.filter(|(_, row)| ["certain", "settled"].contains(&row[verdict]))
        .map(|(number, row)| (number, row[own].to_owned()))
        .collect()
}

/// Gives every answer to every question of a table, as an option and as a setting,
/// and holds it to what it says. Returns the questions' topics with the answers.
fn give_every_answer(table: &str) -> Vec<(String, Vec<String>)> {
    let folder = Folder::with("in.csv", table);
    let convert = |more: &[&str]| {
        let args = [&["convert", "in.csv", "--verdicts"], more].concat();
        let run = folder.run(&args);
        assert!([0, 3].contains(&run.status), "{more:?}: {}", run.err);
        run.out
    };
    let settled = folder.run(&["settle", "in.csv", "--json"]).json();
    let mut topics = Vec::new();
    for column in settled["columns"].as_array().unwrap() {
        let name = column["name"].as_str().unwrap();
        let before = converted(&convert(&[]), name);
        let questions = column["questions"].as_array().unwrap();
        let is_open = column["cells"]["open"].as_u64() > Some(0);
        assert!(!is_open || !questions.is_empty(), "{name}: no question");
        for question in questions {
            let answers = question["answers"].as_array().unwrap();
            let word = |value: &Value| value.as_str().unwrap().to_owned();
            let says = answers.iter().map(|answer| word(&answer["says"]));
            topics.push((word(&question["topic"]), says.collect()));
            for answer in answers {
                let option = shell_words::split(answer["option"].as_str().unwrap()).unwrap();
                let option: Vec<&str> = option.iter().map(String::as_str).collect();
                let set = ["--set", answer["declares"].as_str().unwrap()];
                for args in [&option[..], &set[..]] {
                    let after = converted(&convert(args), name);
                    for (row, stamp) in &before {
                        assert_eq!(after.get(row), Some(stamp), "{args:?}: row {row}");
                    }
                    let gained = (after.len() - before.len()) as u64;
                    assert_eq!(Some(gained), answer["converts"].as_u64(), "{args:?}");
                }
            }
        }
    }
    topics
}

/// Times of a clock that goes from 1 to 12, and the half of the day next to them.
fn half_clocks() -> String {
    let rows = (0..24).map(|hour| {
        let half = if hour < 12 { "a.m." } else { "PM" };
        format!("{:02}:{:02},{half}\n", (hour + 11) % 12 + 1, hour * 2)
    });
    format!("at,half\n{}", rows.collect::<String>())
}

#[test]
fn the_half_of_the_day_stands_in_another_column() {
    let folder = Folder::with("x.csv", half_clocks());
    let set = "at.read.half-of-day-from=half";
    let run = folder.run(&["settle", "x.csv", "--set", set, "-o", "x.toml"]);
    run.status(0);
    holds(&folder.read("x.toml"), &["half-of-day-from = \"half\""]);
    folder.write(
        "y.csv",
        "at,half\n12:05,AM\n12:05,p.m.\n5:07 PM,am\n15:00,PM\n15:00,AM\n3:00,?\n",
    );
    let convert = folder.run(&[
        "convert",
        "y.csv",
        "-r",
        "x.toml",
        "--read-form",
        "HH:mm",
        "--read-form",
        "h:mm a",
    ]);
    let convert = convert.status(3);
    assert_eq!(
        convert.out,
        "at,half\n00:05:00,AM\n12:05:00,p.m.\n17:07:00,am\n15:00:00,PM\n,AM\n,?\n"
    );
}

#[test]
fn every_open_cell_belongs_to_a_question() {
    for (table, topic, answers) in [
        (
            "when,year\n24 Aug,2023\n29 Feb,2024\n3 Jan,2024\n",
            "year",
            &["year", "2026", "text"][..],
        ),
        (
            "when\n14. listopad 2024\n3. listopad 2023\n",
            "language",
            &["pl", "hr", "text"],
        ),
        (
            "clock\nöö 1:30\nöö 11:30\n",
            "language",
            &["tr", "et", "text"],
        ),
        (
            "died\n2024-03-05\n2023\n2023-11\n2024-04-06\n2024-05-07\n",
            "period",
            &["first", "last"],
        ),
        ("until\n08:00\n16:00\n24:00\n", "end-of-day", &["midnight"]),
        ("duration\n42m\n1h2m\n", "unit-letters", &["time"]),
        (
            "at\n2024-03-05T14:30:00Z\n2024-03-06T14:30:00Z\n2024-03-06 15:00:00\n",
            "zone",
            &["UTC"],
        ),
        (
            "seen\n2024-03-05 14:30 MST\n2024-07-05 14:30 MST\n2024-07-05 14:30 UTC\n",
            "zone-name",
            &["America/Denver", "America/Phoenix"],
        ),
        // Its order, too, says on which day a cell is; else that stays to be said.
        (
            "seen\n03/25/2024 10:00 MST\n03/26/2024 10:00 MST\n03/02/2024 10:00 MST\n",
            "zone-name",
            &["America/Denver", "America/Phoenix", "text"],
        ),
        (
            "seen\n07/08/2024 10:00 MST\n08/07/2024 10:00 MST\n05/05/2024 10:00 MST\n",
            "zone-name",
            &["America/Phoenix", "text"],
        ),
        (
            "at\n2024-03-05\n2024-03-06\n2024-03-07T14:30:00Z\n",
            "kind",
            &[],
        ),
        (
            "due\n04/03/2024\n05/06/2024\n",
            "order",
            &["dmy", "mdy", "text"],
        ),
        (&half_clocks(), "is-whole-day", &["half", "HH:mm", "text"]),
        (
            "code\n1.10.12\n2.10.12\n3.2.12\n",
            "is-date",
            &["d.M.yy", "M.d.yy", "y.M.d", "text"],
        ),
    ] {
        let given = give_every_answer(table);
        let (_, says) = given
            .iter()
            .find(|(known, _)| known == topic)
            .unwrap_or_else(|| panic!("{topic}: {given:?}"));
        if topic != "is-date" {
            assert_eq!(says, answers, "{topic}");
        }
        assert_eq!(
            says.contains(&"text".to_owned()),
            answers.contains(&"text"),
            "{topic}"
        );
    }
}

/// That a column is text is said once: it stands in the rulings.
#[test]
fn a_column_that_is_text_is_not_asked_about_again() {
    let table = "symbol,due\nSEP9,2024-03-05\nOCT4,2024-03-06\n";
    let folder = Folder::with("genes.csv", table);
    let survey = folder.run(&["survey", "genes.csv"]).status(3);
    holds(
        &survey.out,
        &["--set 'symbol.kind=text'       no dates or times"],
    );
    let set = ["--set", "symbol.kind=text"];
    let survey = folder
        .run(&["survey", "genes.csv", set[0], set[1]])
        .status(0);
    holds(&survey.out, &["Passed through, text, as was said: symbol"]);
    let settle = ["settle", "genes.csv", set[0], set[1], "-o", "genes.toml"];
    folder.run(&settle).status(0);
    holds(&folder.read("genes.toml"), &["text-columns = [\"symbol\"]"]);
    for command in ["survey", "convert"] {
        folder
            .run(&[command, "genes.csv", "-r", "genes.toml"])
            .status(0);
    }
    let clean = folder.run(&["convert", "genes.csv", "-r", "genes.toml"]);
    assert_eq!(clean.out, table);
    // What is said last holds.
    let both = [
        "--set",
        "symbol.kind=text",
        "--set",
        "symbol.read.year=2024",
    ];
    let clean = folder.run(&[&["convert", "genes.csv"], &both[..]].concat());
    holds(&clean.out, &["2024-09-09,2024-03-05"]);
}

/// `month-as` is the same as `period-as`.
#[test]
fn months_among_dates_are_a_day_of_theirs() {
    let table = "d\n2024-02-05\n2024-02\n2024-W10\n2023\n2024-Q1\n2024-03-01\n2024-03-02\n";
    let folder = Folder::with("in.csv", format!("{table}2024-03-03\n2024-03-04\n"));
    for (set, days) in [
        (
            "d.read.period-as=first",
            ["2024-02-01", "2024-03-04", "2023-01-01", "2024-01-01"],
        ),
        (
            "d.read.month-as=last",
            ["2024-02-29", "2024-03-10", "2023-12-31", "2024-03-31"],
        ),
    ] {
        let run = folder
            .run(&["convert", "in.csv", "-c", "d", "--set", set])
            .status(0);
        let clean: Vec<&str> = run.out.lines().skip(2).take(4).collect();
        assert_eq!(clean, days, "{set}");
    }
}

/// Forms that only a column's name makes likely are offered, and never taken.
#[test]
fn forms_that_the_name_makes_likely_are_offered() {
    let months = |sign: &str| -> Vec<String> {
        let month = |number: i64| format!("{:02}{sign}{}", number % 12 + 1, 25 + number % 5);
        (0..40).map(month).collect()
    };
    let part = |number: i64| format!("{:.10}", (number * 37 % 96) as f64 / 96.0);
    let clock = |number: i64| format!("{}{:02}{:02}", number * 7 % 24, number * 13 % 60, 30);
    let minutes = |number: i64| format!("{:02}{:02}", number / 60, number % 60);
    for (name, cells, offered) in [
        ("expiry date", months(""), "MMyy"),
        ("Expiry Date", months("/"), "MM/yy"),
        (
            "start time",
            (1..60).map(part).collect(),
            "days since midnight",
        ),
        ("time", (1..60).map(clock).collect(), "Hmmss"),
        (
            "start time",
            (1..60).map(|n| minutes(n * 37 % 1440)).collect(),
            "HHmm",
        ),
        (
            "Abfahrt",
            (1..60)
                .map(|n| minutes(n * 37 % 1440))
                .map(|text| format!("{}.{}", &text[..2], &text[2..]))
                .collect(),
            "HH.mm",
        ),
        (
            "order date",
            (1..60)
                .map(|n| format!("{}0{}{:02}", 120 + n % 5, 1 + n % 9, 1 + n % 28))
                .collect(),
            "CCCMMdd",
        ),
        (
            "julian",
            (1..60)
                .map(|n| format!("{}{:03}", 2020 + n % 5, 30 + n * 5))
                .collect(),
            "yyyyDDD",
        ),
    ] {
        let table = format!("{name}\n{}\n", cells.join("\n"));
        let folder = Folder::with("in.csv", table.clone());
        let run = folder.run(&["convert", "in.csv"]).status(3);
        assert_eq!(run.out, table);
        let topics = give_every_answer(&table);
        let says = &topics[0].1;
        assert!(says.iter().any(|says| says == offered), "{name}: {says:?}");
    }
    // Without such a name they are numbers.
    for (name, cells) in [
        ("room", months("")),
        ("share", (1..60).map(part).collect()),
        ("premium", (1..60).map(|n| minutes(n * 37 % 1440)).collect()),
        // Races of a hundred metres.
        (
            "time",
            (0..60)
                .map(|n| format!("{}.{:02}", 9 + n % 3, n * 17 % 100))
                .collect(),
        ),
        // Numbers that have minutes past 59, if they have any.
        (
            "time",
            (1..60)
                .map(|n| format!("{}", 1000 + n * 41 % 900))
                .collect(),
        ),
    ] {
        let table = format!("{name}\n{}\n", cells.join("\n"));
        let folder = Folder::with("in.csv", table.clone());
        assert_eq!(folder.run(&["convert", "in.csv"]).status(0).out, table);
    }
}

/// Goods are stamped with the year and the week that they were made in.
#[test]
fn weeks_in_four_digits_are_offered() {
    for name in ["week", "prod. week", "date code"] {
        let folder = Folder::with("in.csv", format!("{name},n\n2401,1\n2352,2\n2433,3\n"));
        let survey = folder.run(&["survey", "in.csv"]).status(3).out;
        holds(&survey, &["--read-form 'YYww'  2024-W01; converts 3"]);
        let form = ["-c", name, "--read-form", "YYww", "--century", "1970"];
        let convert = folder.run(&[&["convert", "in.csv"][..], &form].concat());
        let clean = convert.status(0).out;
        assert_eq!(
            clean,
            format!("{name},n\n2024-W01,1\n2023-W52,2\n2024-W33,3\n")
        );
    }
}

/// A year of four digits never begins with a zero.
#[test]
fn years_that_begin_with_a_zero_wait() {
    let years: Vec<String> = (1950..2000).map(|year| year.to_string()).collect();
    let table = format!("year\n{}\n0327\n1066\n", years.join("\n"));
    let folder = Folder::with("in.csv", table);
    let run = folder.run(&["convert", "in.csv"]).status(3);
    let clean: Vec<&str> = run.out.lines().skip(51).collect();
    assert_eq!(clean, ["\"\"", "1066"]);
}

/// What cells hold besides a date is asked about once, with a form that reads them all.
#[test]
fn what_stands_besides_a_date_is_offered_and_not_read() {
    let rows = |cells: &[&str]| {
        let rows: String = (1..=12)
            .map(|day| {
                format!(
                    "\"{}\"\n",
                    cells[day % cells.len()].replace("DD", &format!("{:02}", day + 12))
                )
            })
            .collect();
        Folder::with("x.csv", format!("v\n{rows}"))
    };
    // Named, in every cell alike; in every cell something else; in some cells alone.
    for (cells, option) in [
        (
            &["due: DD/03/2024"][..],
            "-c v --read-form ''\\''due'\\'': d/M/yyyy'",
        ),
        (
            &["DD/03/2024 by checked", "DD/03/2024, vault 2"],
            "-c v --read-form 'd/M/yyyy…'",
        ),
        (
            &["DD/03/2024 (checked)", "DD/03/2024 (vault 2)"],
            "-c v --read-form 'd/M/yyyy …'",
        ),
        (
            &["DD/03/2024 - 31/12/2024", "DD/03/2024 - 30/11/2024"],
            "-c v --read-form 'd/M/yyyy …'",
        ),
    ] {
        let folder = rows(cells);
        let run = folder.run(&["convert", "x.csv", "-c", "v"]).status(3);
        assert!(!run.out.contains("2024-03-13"), "{}", run.out);
        let run = folder.run(&["survey", "x.csv", "-c", "v"]).status(3);
        holds(&run.out, &[option, "converts 12"]);
    }
    let folder = rows(&["2024-03-DD", "approx 2024-03-DD", "unknown"]);
    let run = folder.run(&["survey", "x.csv", "-c", "v"]).status(3);
    let set = "v.read.forms=[\"yyyy-MM-dd\", \"'approx' yyyy-M-d\"]";
    holds(
        &run.out,
        &["4 cells such as approx 2024-03-13", "converts 4"],
    );
    let run = folder
        .run(&["convert", "x.csv", "-c", "v", "--set", set])
        .status(3);
    assert_eq!(run.out.matches("2024-03-").count(), 8, "{}", run.out);
    // Both sides, by a person who knows that they say nothing.
    let folder = rows(&["due: DD/03/2024 (est.)", "paid: DD/03/2024, late"]);
    let skip = [
        "convert",
        "x.csv",
        "-c",
        "v",
        "--read-form",
        "… dd/MM/yyyy…",
    ];
    holds(
        &folder.run(&skip).status(0).out,
        &["2024-03-13\n", "2024-03-24\n"],
    );
}
