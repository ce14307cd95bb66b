//! Numbers that count the time between a date and another.

use crate::harness::{Folder, holds};
use jiff::ToSpan;
use jiff::civil::{Date, date};

/// Births without a day past the 12th, none of which has its month's number.
fn births() -> impl Iterator<Item = Date> {
    (0..60_i16).map(|number| {
        let month = 1 + (number * 5 % 12) as i8;
        let day = 1 + (number * 7 % 11) as i8;
        let day = if day >= month { day + 1 } else { day };
        date(1940 + number * 13 % 60, month, day)
    })
}

fn years(from: Date, to: Date) -> i16 {
    let is_before = (to.month(), to.day()) < (from.month(), from.day());
    to.year() - from.year() - i16::from(is_before)
}

/// A table of births, admissions and a number.
fn table(form: &str, number: &dyn Fn(usize, Date, Date) -> i16) -> Folder {
    let rows = births().enumerate().map(|(row, born)| {
        let admitted = date(2023, 1, 1) + (row as i64 * 11).days();
        let number = number(row, born, admitted);
        format!("{},{admitted},{number}\n", born.strftime(form))
    });
    let rows: String = rows.collect();
    Folder::with("t.csv", format!("born,admitted,age\n{rows}"))
}

#[test]
fn ages_tell_the_order_of_births() {
    let day = date(2024, 6, 14);
    for (form, order) in [
        ("%d/%m/%Y", "day-month-year"),
        ("%m/%d/%Y", "month-day-year"),
    ] {
        let on_a_day = table(form, &|_, born, _| years(born, day));
        let why = on_a_day.run(&["survey", "t.csv"]).status(0).out;
        holds(
            &why,
            &["age counts the years between it and one day from 2024-06-"],
        );
        holds(&why, &[order]);
        let admitted = table(form, &|_, born, admitted| years(born, admitted));
        let why = admitted.run(&["survey", "t.csv"]).status(0).out;
        holds(
            &why,
            &[
                "age counts the years between it and admitted (60 rows",
                order,
            ],
        );
        let clean = admitted.run(&["convert", "t.csv"]).status(0).out;
        for born in births() {
            assert!(clean.contains(&format!("\n{born},")), "{born}");
        }
    }
}

/// Numbers that fit both orders, or none, leave the question open.
#[test]
fn other_numbers_say_nothing() {
    let day = date(2024, 6, 14);
    let numbers: [&dyn Fn(usize, Date, Date) -> i16; 3] = [
        &|_, _, _| 41,
        &|row, _, _| 20 + (row * 17 % 61) as i16,
        &|row, born, _| years(born, day) + i16::from(row % 20 == 19) * 2,
    ];
    for number in numbers {
        let folder = table("%d/%m/%Y", number);
        let survey = folder.run(&["survey", "t.csv"]).status(3).out;
        holds(&survey, &["--read-order dmy", "--read-order mdy"]);
    }
}

/// A second writer shows by the ages, though no cell of its own does.
#[test]
fn ages_speak_against_what_cells_settle() {
    let rows = (0..120_i16).map(|row| {
        let born = date(
            1950 + row % 40,
            1 + (row % 12) as i8,
            1 + (row * 7 % 28) as i8,
        );
        let admitted = date(2023, 1, 1) + (i64::from(row) * 5).days();
        let is_second = row % 6 == 5 && born.day() <= 12;
        let text = born.strftime(if is_second { "%m/%d/%Y" } else { "%d/%m/%Y" });
        format!("{text},{admitted},{}\n", years(born, admitted))
    });
    let rows: String = rows.collect();
    let folder = Folder::with("t.csv", format!("born,admitted,age\n{rows}"));
    let survey = folder.run(&["survey", "t.csv"]).status(3).out;
    holds(&survey, &["born: ", "fit several orders"]);
}
