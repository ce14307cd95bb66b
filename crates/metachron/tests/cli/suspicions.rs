//! Cells that are converted, and may not be meant.

use crate::harness::{Folder, holds};
use jiff::ToSpan;
use jiff::civil::{Date, date};

/// Every `step` days from `first`, as `write` writes them, with `odd` in front.
fn days(first: Date, step: i64, count: i64, odd: &[&str]) -> String {
    let rows = (0..count).map(|number| (first + (step * number).days()).to_string());
    let odd = odd.iter().map(|&odd| odd.to_owned());
    format!("day\n{}\n", odd.chain(rows).collect::<Vec<_>>().join("\n"))
}

fn questions(folder: &Folder, more: &[&str]) -> Vec<serde_json::Value> {
    let args = [&["survey", "t.csv", "--json"][..], more].concat();
    let survey = folder.run(&args).json();
    let column = &survey["columns"][0];
    column["questions"].as_array().unwrap().clone()
}

/// A day that programs write where there is no date is asked about where more cells hold
/// it than chance puts there, or it lies far from the others.
#[test]
fn placeholders_are_asked_about_where_they_stand_out() {
    let last = "9999-12-31";
    for (table, cells) in [
        (days(date(2024, 3, 5), 1, 40, &[last]), Some(1)),
        (days(date(2015, 1, 1), 3, 400, &["1900-01-01"]), Some(1)),
        (days(date(1935, 1, 1), 67, 400, &["1970-01-01"; 4]), Some(4)),
        (days(date(2015, 1, 1), 3, 40, &["1970-01-01"; 30]), Some(30)),
        // One birth is no more than chance.
        (days(date(1935, 1, 1), 67, 400, &["1970-01-01"]), None),
        // Neither are a few among very many.
        (days(date(1969, 6, 1), 1, 400, &["1970-01-01"; 2]), None),
        // Years by their first day: one in each is no more than the others.
        (
            days(
                date(1960, 1, 1),
                0,
                0,
                &["1968-01-01", "1969-01-01", "1970-01-01"],
            ),
            None,
        ),
        // A chronicle has such years.
        (days(date(1100, 1, 3), 97, 900, &["1111-11-11"]), None),
    ] {
        let folder = Folder::with("t.csv", &table);
        let mut asked = questions(&folder, &[]);
        asked.retain(|question| question["topic"] == "placeholder");
        let head: String = table.chars().take(40).collect();
        match cells {
            Some(cells) => {
                assert_eq!(asked.len(), 1, "{head}");
                assert_eq!(asked[0]["cells"], cells, "{head}");
            }
            None => assert!(asked.is_empty(), "{head}: {asked:?}"),
        }
    }
}

/// The answers are remembered, by every command, and one takes cells back: it is no
/// answer among others.
#[test]
fn what_is_said_of_a_placeholder_holds() {
    let folder = Folder::with("t.csv", "day\n2024-03-05\n9999-12-31\n2024-04-05\n");
    let asked = questions(&folder, &[]);
    let keep = asked[0]["answers"][0]["declares"].as_str().unwrap();
    let blank = asked[0]["withdrawals"][0]["declares"].as_str().unwrap();
    assert_eq!(asked[0]["answers"].as_array().unwrap().len(), 1);
    assert_eq!(asked[0]["withdrawals"][0]["withdraws"], 1);
    // Nothing is lost before somebody says so.
    let clean = folder.run(&["convert", "t.csv"]).status(3).out;
    assert_eq!(clean, "day\n2024-03-05\n9999-12-31\n2024-04-05\n");
    for (set, last) in [(keep, "9999-12-31"), (blank, "\"\"")] {
        let clean = format!("day\n2024-03-05\n{last}\n2024-04-05\n");
        let run = folder.run(&["convert", "t.csv", "--set", set]).status(0);
        assert_eq!(run.out, clean);
        let args = ["settle", "t.csv", "--set", set, "-o", "r.toml"];
        folder.run(&args).status(0);
        for args in [
            &["survey", "t.csv", "-r", "r.toml"][..],
            &["settle", "t.csv", "-r", "r.toml"],
            &["survey", "t.csv", "--set", set],
        ] {
            folder.run(args).status(0);
        }
        let run = folder.run(&["convert", "t.csv", "-r", "r.toml"]).status(0);
        assert_eq!(run.out, clean);
    }
    // Of the column's other days nothing was said.
    folder.write("t.csv", "day\n2024-03-05\n9999-12-31\n2999-12-31\n");
    let asked = questions(&folder, &["--set", keep]);
    assert_eq!(asked[0]["example"]["text"], "2999-12-31");
    let run = folder
        .run(&[
            "survey",
            "t.csv",
            "--set",
            "day.read.placeholders.soon=keep",
        ])
        .status(2);
    holds(&run.err, &["`soon` is no day; write it as YYYY-MM-DD"]);
}

/// A placeholder is one however it is written.
#[test]
fn placeholders_are_blank_in_every_form() {
    for (cells, form) in [
        (["05.03.2024", "31.12.9999", "17.04.2024"], "dd.MM.yyyy"),
        (["45356", "2958465", "45399"], "workbook-1900"),
        (
            ["5 March 2024", "31 December 9999", "17 April 2024"],
            "d MMMM yyyy",
        ),
    ] {
        let folder = Folder::with("t.csv", format!("until\n{}\n", cells.join("\n")));
        let set = format!("until.read.forms=['{form}']");
        let args = [
            "convert",
            "t.csv",
            "--set",
            "until.kind=date",
            "--set",
            &set,
        ];
        let blank = ["--set", "until.read.placeholders.9999-12-31=blank"];
        let run = folder.run(&[&args[..], &blank].concat()).status(0);
        assert_eq!(run.out, "until\n2024-03-05\n\"\"\n2024-04-17\n", "{form}");
    }
}

/// The day is the one that is written, whatever the zone makes of it, and in the century
/// that is ruled.
#[test]
fn placeholders_are_days_as_the_column_has_them() {
    let rows = (1..=20).map(|day| format!("2024-03-{day:02} 09:31\n"));
    let rows = format!(
        "at\n{}{}",
        "1970-01-01 00:00\n".repeat(5),
        rows.collect::<String>()
    );
    for zone in ["Asia/Kolkata", "America/New_York"] {
        let folder = Folder::with("t.csv", &rows);
        let asked = questions(&folder, &["--read-zone", zone]);
        let blank = &asked[0]["withdrawals"][0];
        assert_eq!(blank["withdraws"], 5, "{zone}");
        let set = blank["declares"].as_str().unwrap();
        let args = [
            "convert",
            "t.csv",
            "--read-zone",
            zone,
            "--set",
            set,
            "-o",
            "o.csv",
        ];
        let run = folder.run(&args).status(0);
        holds(&run.err, &["20 certain, 5 blank"]);
    }
    let born = (0..60_i64).map(|number| date(1985, 1, 5) + (83 * number).days());
    let born = born.map(|day| day.strftime("%d/%m/%y").to_string());
    let born: Vec<String> = vec!["31/12/99".to_owned(); 6]
        .into_iter()
        .chain(born)
        .collect();
    let folder = Folder::with("t.csv", format!("born\n{}\n", born.join("\n")));
    assert!(questions(&folder, &["--now", "2025-06-01"]).is_empty());
}

/// Days that went through a zone are converted as the times that they became, and asked
/// about until somebody says that they are meant.
#[test]
fn shifted_midnights_are_asked_about() {
    let at = |month: i8| {
        let is_summer = (4..=10).contains(&month);
        format!(
            "2024-{month:02}-05 {}:00\n",
            if is_summer { 22 } else { 23 }
        )
    };
    let table = format!("at\n{}", (1..=12).map(at).collect::<String>());
    let folder = Folder::with("t.csv", table);
    let asked = questions(&folder, &[]);
    assert_eq!(asked[0]["topic"], "shifted-midnights");
    let run = folder.run(&["convert", "t.csv"]).status(3);
    holds(&run.out, &["2024-01-05T23:00:00"]);
    holds(&run.err, &["all midnight at another offset from UTC"]);
    let keep = asked[0]["answers"][0]["declares"].as_str().unwrap();
    assert!(questions(&folder, &["--set", keep]).is_empty());
    for (time, is_asked) in [("23:00", true), ("09:00", false), ("23:07", false)] {
        let day = |day: i8| format!("2024-03-{day:02} {time}\n");
        folder.write(
            "daily.csv",
            format!("at\n{}", (1..=30).map(day).collect::<String>()),
        );
        let run = folder.run(&["survey", "daily.csv"]);
        assert_eq!(
            run.status,
            if is_asked { 3 } else { 0 },
            "{time}: {}",
            run.out
        );
    }
    folder.run(&["convert", "t.csv", "--set", keep]).status(0);
}

/// `0305` under `date` may be 5 March of a year that is not written: that is asked next.
#[test]
fn days_without_a_year_in_digits_are_offered() {
    let folder = Folder::with("t.csv", "date\n0305\n1231\n0712\n0224\n");
    let offered = |more: &[&str]| -> Vec<(String, u64)> {
        let asked = questions(&folder, more);
        let answers = asked[0]["answers"].as_array().unwrap().iter();
        let answer = |answer: &serde_json::Value| {
            let option = answer["option"].as_str().unwrap().to_owned();
            (option, answer["converts"].as_u64().unwrap())
        };
        answers.map(answer).collect()
    };
    let forms = offered(&[]);
    assert!(forms.contains(&("-c date --read-form 'MMdd'".to_owned(), 0)));
    // Nobody writes the year 305 so.
    assert!(
        !forms.iter().any(|(option, _)| option.contains("yyyy")),
        "{forms:?}"
    );
    let declared = ["-c", "date", "--read-form", "MMdd"];
    assert_eq!(offered(&declared)[0].1, 4);
}

/// Ten digits are seconds since 1970 and a time to the minute, seven a day of a year and a
/// day without its zero: neither is taken without a word.
#[test]
fn digits_with_two_meanings_are_asked_about() {
    let days = (0..40_i64).map(|number| date(2022, 1, 3) + (3 * number).days());
    for (pattern, form) in [("%y%m%d1157", "yyMMddHHmm"), ("%Y%j", "yyyyDDD")] {
        let cells: Vec<String> = days
            .clone()
            .map(|day| day.strftime(pattern).to_string())
            .collect();
        let text = format!("date,no\n{},1\n", cells.join(",1\n"));
        let folder = Folder::with("t.csv", &text);
        let run = folder.run(&["convert", "t.csv"]).status(3);
        assert_eq!(run.out, text);
        holds(
            &run.err,
            &[&format!("-c date --read-form '{form}'"), "converts 40"],
        );
    }
    // Seconds that are no such times are no question.
    let cells: Vec<String> = (0..40)
        .map(|number| (1_650_000_000 + 86_399 * number).to_string())
        .collect();
    let folder = Folder::with("t.csv", format!("date\n{}\n", cells.join("\n")));
    folder.run(&["convert", "t.csv"]).status(0);
}
