//! What other columns say of cells that several orders read, and of what an import did.

use crate::harness::{Folder, holds};
use jiff::ToSpan;
use jiff::civil::{Date, date};

fn days(first: Date, step: i64, count: i64) -> Vec<Date> {
    (0..count).map(|n| first + (n * step).days()).collect()
}

fn table(header: &str, days: &[Date], row: impl Fn(usize, Date) -> String) -> String {
    let rows = days
        .iter()
        .enumerate()
        .map(|(number, day)| row(number, *day) + "\n");
    format!("{header}\n{}", rows.collect::<String>())
}

/// What a month column says for day-month-year, it says for year-month-day too where both
/// read a cell alike: `09-01-09`.
#[test]
fn cells_that_orders_read_alike_speak_for_all_of_them() {
    let rows: Vec<Date> = days(date(2009, 1, 1), 1, 31).repeat(6);
    let with_month = table("sent on,month", &rows, |_, day| {
        format!("{},{}", day.strftime("%y-%m-%d"), day.strftime("%B"))
    });
    let folder = Folder::with("t.csv", with_month);
    let survey = folder.run(&["survey", "t.csv", "--json"]).status(3).json();
    assert_eq!(survey["columns"][0]["questions"][0]["topic"], "order");
    // Of a whole date there is no doubt.
    let with_date = table("sent on,logged", &rows, |_, day| {
        format!("{},{day}T08:30:00", day.strftime("%y-%m-%d"))
    });
    folder.write("t.csv", with_date);
    let clean = folder.run(&["convert", "t.csv"]).status(0).out;
    let truth = table("sent on,logged", &rows, |_, day| {
        format!("{day},{day}T08:30:00")
    });
    assert_eq!(clean, truth);
}

/// A form is not read by an order that some of its cells cannot have, even where those may
/// have two others.
#[test]
fn an_order_that_cells_cannot_have_settles_nothing() {
    let rows = days(date(2021, 1, 3), 7, 90);
    let written = |number: usize, day: Date| {
        let pattern = if number.is_multiple_of(3) {
            "%d/%m/%y"
        } else {
            "%m/%d/%y"
        };
        format!("{},Q{}", day.strftime(pattern), (day.month() + 2) / 3)
    };
    let folder = Folder::with("t.csv", table("at,quarter", &rows, written));
    let clean = folder.run(&["convert", "t.csv"]).out;
    for (line, day) in clean.lines().skip(1).zip(&rows) {
        let cell = line.split(',').next().unwrap();
        assert!(cell.is_empty() || cell == day.to_string(), "{line}: {day}");
    }
}

/// Rows with the same month are no group that one hand has written: the writer changed in
/// the middle of February.
#[test]
fn a_column_with_the_month_is_no_group() {
    let rows: Vec<Date> = days(date(2009, 1, 1), 1, 80)
        .into_iter()
        .flat_map(|day| [day; 4])
        .collect();
    let written = |_, day: Date| {
        let is_later = day >= date(2009, 2, 6);
        let pattern = if is_later { "%-m/%-d/%Y" } else { "%-d/%-m/%Y" };
        format!("{},{}", day.strftime(pattern), day.strftime("%B"))
    };
    let folder = Folder::with("t.csv", table("packed,month", &rows, written));
    let clean = folder.run(&["convert", "t.csv"]).out;
    for (line, day) in clean.lines().skip(1).zip(&rows) {
        let cell = line.split(',').next().unwrap();
        assert!(cell.is_empty() || cell == day.to_string(), "{line}: {day}");
    }
}

/// Serials with day and month swapped have the date of another column when they are
/// swapped back, and not as they are.
#[test]
fn another_date_shows_that_serials_were_swapped() {
    let serial = |day: Date| (day - date(1899, 12, 30)).get_days().to_string();
    let rows = days(date(2012, 3, 28), 1, 45).repeat(3);
    let written = |_, day: Date| {
        let swapped = Date::new(day.year(), day.day(), day.month());
        let cell = match swapped {
            Ok(swapped) => serial(swapped),
            Err(_) => day.strftime("%d/%m/%Y").to_string(),
        };
        format!("{cell},{}", day.strftime("%d %b %Y"))
    };
    let folder = Folder::with("t.csv", table("received,returned", &rows, written));
    let clean = folder.run(&["convert", "t.csv"]).status(0).out;
    let truth = table("received,returned", &rows, |_, day| format!("{day},{day}"));
    assert_eq!(clean, truth);
}

/// However few times there are, a column that says a.m. and p.m. may say it of them.
#[test]
fn few_times_next_to_a_column_of_halves_are_asked_about() {
    for [am, pm] in [["AM", "PM"], ["a. m.", "p. m."], ["a", "p"]] {
        let table = |times: [&str; 4]| {
            let halves = [pm, am, am, pm];
            let rows = times
                .iter()
                .zip(halves)
                .map(|(time, half)| format!("{time},{half}\n"));
            format!("time,am/pm\n{}", rows.collect::<String>())
        };
        let folder = Folder::with("t.csv", table(["10:10", "12:05", "7:45", "3:20"]));
        let run = folder.run(&["survey", "t.csv"]).status(3);
        holds(
            &run.out,
            &["time.read.half-of-day-from=am/pm", "converts 4"],
        );
        let set = "time.read.half-of-day-from=am/pm";
        let clean = folder
            .run(&["convert", "t.csv", "--set", set])
            .status(0)
            .out;
        assert_eq!(
            clean,
            table(["22:10:00", "00:05:00", "07:45:00", "15:20:00"])
        );
    }
}

/// Times with dots under the name of times are asked about, whatever else is in the table.
#[test]
fn times_with_dots_are_asked_about_next_to_dates() {
    let rows = days(date(2024, 1, 3), 5, 40);
    let written = |number: usize, day: Date| {
        let number = number * 37 % 1440;
        format!("{day},{}.{:02}", number / 60, number % 60)
    };
    let folder = Folder::with("t.csv", table("Datum,Uhrzeit", &rows, written));
    let run = folder.run(&["survey", "t.csv"]).status(3);
    holds(&run.out, &["-c Uhrzeit --read-form 'H.mm'", "converts 40"]);
    // Dates with dots are none, where the name leaves them one.
    let written = |_, day: Date| format!("{},{day}", day.strftime("%d.%m.%y"));
    folder.write("t.csv", table("start,logged", &rows, written));
    let clean = folder.run(&["convert", "t.csv"]).status(0).out;
    assert_eq!(
        clean,
        table("start,logged", &rows, |_, day| format!("{day},{day}"))
    );
}

/// Numbers of cases that are dates too stay, and are asked about.
#[test]
fn dates_under_names_of_codes_are_asked_about() {
    let rows = days(date(1978, 5, 3), 487, 30);
    let text = table("case no", &rows, |_, day| {
        day.strftime("%m-%d-%y").to_string()
    });
    let folder = Folder::with("t.csv", text.clone());
    assert_eq!(folder.run(&["convert", "t.csv"]).status(3).out, text);
    for pattern in ["%Y-%m-%d", "%d %b %Y", "%Y/%m/%d %H:%M"] {
        let text = table("case no", &rows, |_, day| {
            day.at(8, 31, 0, 0).strftime(pattern).to_string()
        });
        folder.write("t.csv", text);
        folder.run(&["convert", "t.csv"]).status(0);
    }
}
