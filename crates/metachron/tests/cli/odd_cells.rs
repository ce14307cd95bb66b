//! Cells that are no dates among thousands that are: they are listed, and hide
//! nothing. Survey and conversion say the same of them.

use crate::harness::{Folder, holds, with_odd};

#[test]
fn numbers_that_count_to_another_age_are_listed() {
    let serial = |number: i64| (45_000 + number * 7).to_string();
    let unix = |number: i64| (1_704_067_200 + number * 86_413).to_string();
    let tables = [
        (with_odd("date", "454567", serial), "date"),
        (with_odd("date", "7", serial), "date"),
        (with_odd("date", "99999", serial), "date"),
        (with_odd("timestamp", "0", unix), "timestamp"),
        (with_odd("timestamp", "17", unix), "timestamp"),
        (with_odd("timestamp", "-1", unix), "timestamp"),
        (with_odd("timestamp", "9999999999", unix), "timestamp"),
    ];
    for (folder, name) in tables {
        let survey = folder.run(&["survey", "in.csv", "--json"]).status(3).json();
        let cells = &survey["columns"][0]["cells"];
        assert_eq!(cells["settled"], 119, "{name}: {survey}");
        assert_eq!(cells["unreadable"], 1, "{name}: {survey}");
        let run = folder
            .run(&["convert", "in.csv", "-o", "out.csv"])
            .status(3);
        holds(&run.err, &["119 settled, 1 unreadable"]);
        let list = folder.read("out.review.csv");
        assert_eq!(list.lines().count(), 2, "{list}");
    }
}

/// A workbook's last day stands for one without an end.
#[test]
fn the_last_day_of_all_is_one() {
    let serial = |number: i64| (45_000 + number * 7).to_string();
    let folder = with_odd("date", "2958465", serial);
    let run = folder
        .run(&["convert", "in.csv", "-o", "out.csv"])
        .status(3);
    holds(&run.err, &["120 settled", "1 cell such as 2958465"]);
    holds(&folder.read("out.csv"), &["9999-12-31"]);
}

/// `2020-13-01` is a slip, and no 13 January.
#[test]
fn a_month_13_among_iso_dates_is_a_slip() {
    let folder = with_odd("date", "2020-13-01", |number| {
        format!("2020-{:02}-{:02}", number % 12 + 1, number % 28 + 1)
    });
    let run = folder
        .run(&["convert", "in.csv", "-o", "out.csv"])
        .status(3);
    holds(&run.err, &["119 certain, 1 unreadable"]);
}

/// What is named is meant: nothing of it passes through without a word.
#[test]
fn a_named_column_that_no_form_reads_is_listed() {
    let folder = Folder::with("in.csv", "when,n\nsoon,1\nlater,2\n");
    let run = folder
        .run(&["convert", "in.csv", "-o", "out.csv"])
        .status(0);
    holds(&run.err, &["0 of 2 columns converted"]);
    for named in [&["-c", "when"][..], &["-c", "when", "--read-form", "HH:mm"]] {
        let convert = ["convert", "in.csv", "-o", "named.csv"];
        let run = folder.run(&[&convert[..], named].concat()).status(3);
        holds(&run.err, &["when  2 unreadable"]);
        assert_eq!(folder.read("named.review.csv").lines().count(), 3);
    }
}

#[test]
fn dates_with_something_besides_are_asked_about() {
    let cell = |number: i64| format!("2024-05-{:02} ~ {:02}:30", number % 28 + 1, number % 24);
    let folder = with_odd("noted", "2024-05-07 ~ 06:30", cell);
    let run = folder.run(&["survey", "in.csv"]).status(3);
    let answer = "-c noted --read-form 'yyyy-M-d ~ H:mm'";
    holds(
        &run.out,
        &[
            "120 cells such as 2024-05-01 ~ 00:30 (row 1) hold a date or time and something besides",
            &format!("{answer}  1 May 2024, 00:30:00; converts 120"),
        ],
    );
    let args = ["convert", "in.csv", "-o", "out.csv", "-c", "noted"];
    let form = ["--read-form", "yyyy-M-d ~ H:mm"];
    folder.run(&[&args[..], &form].concat()).status(0);
    holds(&folder.read("out.csv"), &["2024-05-01T00:30:00"]);
    // Free text holds something else in every cell.
    let folder = with_odd("remark", "2024-05-07 lent", |number| {
        format!(
            "2024-05-{:02} {}",
            number % 28 + 1,
            "abcdefgh".repeat(1 + number as usize % 5)
        )
    });
    folder.run(&["survey", "in.csv"]).status(0);
}

#[test]
fn what_no_form_reads_under_a_name_that_says_times_is_asked_about() {
    let folder = with_odd("start time", "0.25", |number| {
        format!("0.{:04}", 2000 + number * 7)
    });
    let run = folder.run(&["survey", "in.csv"]).status(3);
    holds(&run.out, &["may be dates or times, by the column's name"]);
    let folder = with_odd("share", "0.25", |number| {
        format!("0.{:04}", 2000 + number * 7)
    });
    folder.run(&["survey", "in.csv"]).status(0);
}

/// Without a.m. and p.m., a 12-hour clock says half of it.
#[test]
fn times_that_never_pass_noon_are_asked_about() {
    let twelve = |number: i64| format!("{:02}:{:02}", number * 7 % 12 + 1, number * 13 % 60);
    let folder = with_odd("at", "11:30", twelve);
    let run = folder.run(&["survey", "in.csv"]).status(3);
    holds(
        &run.out,
        &[
            "a.m. and p.m. may be missing",
            "-c at --read-form 'HH:mm'  01:00:00; converts 120",
        ],
    );
    // Mornings, and one time past noon.
    for (odd, hours, from) in [("11:30", 5, 7), ("13:30", 12, 1)] {
        let cell = |number: i64| format!("{:02}:{:02}", number % hours + from, number % 60);
        let folder = with_odd("at", odd, cell);
        folder.run(&["survey", "in.csv"]).status(0);
    }
}

/// A program that found an empty cell in a column of whole numbers wrote all of them with
/// decimals.
#[test]
fn digits_that_were_numbers_are_read_as_digits() {
    let table = |name: &str, cells: &[&str]| {
        Folder::with("in.csv", format!("id,{name}\n{}\n", cells.join("\n")))
    };
    let days = ["1,20240305.0", "2,", "3,20231231.0", "4,20240230.0"];
    let run = table("date", &days).run(&["convert", "in.csv", "--review", "r.csv"]);
    assert_eq!(run.status, 3);
    assert_eq!(run.out, "id,date\n1,2024-03-05\n2,\n3,2023-12-31\n4,\n");
    let years = ["1,2019.0", "2,", "3,2021.0"];
    let run = table("year built", &years)
        .run(&["convert", "in.csv"])
        .status(0);
    assert_eq!(run.out, "id,year built\n1,2019\n2,\n3,2021\n");
    // Half a year is none, and an amount is no year.
    for (name, cells) in [
        ("year", ["1,2019.0", "2,2019.5", "3,2021.5"]),
        ("price", ["1,2019.0", "2,", "3,2021.0"]),
    ] {
        let folder = table(name, &cells);
        let run = folder.run(&["convert", "in.csv", "--review", "r.csv"]);
        assert!(run.out.contains("2021."), "{name}: {}", run.out);
    }
    // A person may declare such a form: its digits stand for themselves.
    let run = table("amount", &["1,20240305.0", "2,20240306.5"]).run(&[
        "convert",
        "in.csv",
        "-c",
        "amount",
        "--read-form",
        "yyyyMMdd.0",
        "--review",
        "r.csv",
    ]);
    assert_eq!(
        (run.status, &*run.out),
        (3, "id,amount\n1,2024-03-05\n2,\n")
    );
}

/// Shifts by a clock of twelve hours end before they start.
#[test]
fn ends_before_their_starts_are_asked_about() {
    let table = |names: &str, start: &dyn Fn(usize) -> usize, end: &dyn Fn(usize) -> usize| {
        let rows = (0..40).map(|row| format!("{}:30,{}:00", start(row), end(row)));
        let rows: Vec<String> = rows.collect();
        Folder::with("in.csv", format!("{names}\n{}\n", rows.join("\n")))
    };
    let morning = |row: usize| 7 + row % 4;
    let afternoon = |row: usize| 1 + row % 5;
    let folder = table("start,end", &morning, &afternoon);
    let survey = folder.run(&["survey", "in.csv"]).status(3);
    holds(
        &survey.out,
        &["end: it is before start", "-c end --read-form 'H:mm'"],
    );
    folder
        .run(&["convert", "in.csv", "-o", "out.csv"])
        .status(3);
    holds(&folder.read("out.csv"), &["07:30:00,1:00"]);
    // The answer is kept by the rulings, and not asked again.
    let answered = ["-c", "start", "-c", "end", "--read-form", "H:mm"];
    let settle = [&["settle", "in.csv", "-o", "r.toml"][..], &answered].concat();
    folder.run(&settle).status(0);
    folder
        .run(&["convert", "in.csv", "-r", "r.toml", "-o", "out.csv"])
        .status(0);
    holds(&folder.read("out.csv"), &["07:30:00,01:00:00"]);

    // A night shift, mornings alone, and columns the other way round.
    let night = table("start,end", &|row| 20 + row % 4, &|row| 1 + row % 5);
    night.run(&["survey", "in.csv"]).status(0);
    let mornings = table("start,end", &|row| 7 + row % 2, &|row| 9 + row % 4);
    mornings.run(&["survey", "in.csv"]).status(0);
    let turned = table("end,start", &|row| 10 + row % 3, &|row| 7 + row % 3);
    turned.run(&["survey", "in.csv"]).status(0);
}

/// What a spreadsheet that reads the month first left of dates with the day
/// first: text past the 12th, and numbers of other days.
#[test]
fn numbers_of_days_that_were_swapped_are_swapped_back() {
    let days = (0..150).map(|number| {
        let (day, month) = (number * 11 % 28 + 1, number * 5 % 12 + 1);
        match day {
            // The serial number of the day `day` as a month.
            1..=12 => {
                let swapped = jiff::civil::date(2024, day as i8, month as i8);
                let origin = jiff::civil::date(1899, 12, 30);
                let serial = swapped.since(origin).unwrap().get_days();
                (serial.to_string(), format!("2024-{month:02}-{day:02}"))
            }
            _ => (
                format!("{day:02}/{month:02}/2024"),
                format!("2024-{month:02}-{day:02}"),
            ),
        }
    });
    let (cells, truth): (Vec<String>, Vec<String>) = days.unzip();
    let folder = Folder::with("in.csv", format!("date\n{}\n", cells.join("\n")));
    folder
        .run(&["convert", "in.csv", "-o", "out.csv"])
        .status(0);
    assert_eq!(
        folder.read("out.csv"),
        format!("date\n{}\n", truth.join("\n"))
    );
}

/// Columns are not compared all with all: a thousand open ones took minutes and
/// gigabytes.
#[test]
fn a_thousand_open_columns_are_settled_one_by_one() {
    let row = |cell: &dyn Fn(usize) -> String| {
        let cells: Vec<String> = (0..1000).map(cell).collect();
        format!("{}\n", cells.join(","))
    };
    let mut table = row(&|column| format!("c{column}"));
    for number in 0..20 {
        // The month of the column before it stands in every second column.
        table.push_str(&row(&|column| {
            let (day, month) = ((number + column / 2) % 12 + 1, number * 5 % 12 + 1);
            match column % 2 {
                0 => format!("{day:02}/{month:02}/2024"),
                _ => format!("2024-{month:02}-{day:02}"),
            }
        }));
    }
    let folder = Folder::with("wide.csv", table);
    let survey = folder.run(&["survey", "wide.csv", "--json"]).json();
    let open = |column: &serde_json::Value| column["cells"]["open"].as_u64() == Some(0);
    assert!(survey["columns"].as_array().unwrap().iter().all(open));
}

/// What an answer says that it converts is what it converts, whatever the cells
/// behind the first ones are.
#[test]
fn the_counts_of_answers_are_those_of_all_cells() {
    // The first cells fit both orders, and half of the others one alone.
    let dates = (0..100).map(|number| {
        let day = if number < 8 {
            number + 1
        } else {
            number % 28 + 1
        };
        format!("{day:02}/{:02}/2024 ~ 14:{number:02}", number % 12 + 1)
    });
    // Some were born before the numbers have five digits.
    let births = (0..100).map(|number| (2_500 + number * 170).to_string());
    for (name, cells) in [
        ("data", dates.collect::<Vec<String>>()),
        ("birth date", births.collect()),
    ] {
        let folder = Folder::with("in.csv", format!("{name}\n{}\n", cells.join("\n")));
        let settled = folder.run(&["settle", "in.csv", "--json"]).status(3).json();
        let answers = &settled["columns"][0]["questions"][0]["answers"];
        for answer in answers.as_array().unwrap() {
            let set = answer["declares"].as_str().unwrap();
            let survey = ["survey", "in.csv", "--json", "--set", set];
            let cells = &folder.run(&survey).json()["columns"][0]["cells"];
            let converted = cells["certain"].as_u64().unwrap() + cells["settled"].as_u64().unwrap();
            assert_eq!(answer["converts"].as_u64(), Some(converted), "{set}");
        }
        assert!(!answers.as_array().unwrap().is_empty(), "{settled}");
    }
}

/// That a column is named says neither what its clock leaves out nor whose years
/// it has; a window and an example do.
#[test]
fn what_is_said_of_far_years_and_clocks_holds() {
    let twelve = |number: i64| format!("{:02}:{:02}", number * 7 % 12 + 1, number * 13 % 60);
    let folder = with_odd("at", "11:30", twelve);
    let survey = ["survey", "in.csv", "-c", "at"];
    folder.run(&survey).status(3);
    folder
        .run(&[&survey[..], &["--read-form", "HH:mm"]].concat())
        .status(0);
    let folder = with_odd("d", "05/03/51", |number| {
        format!("{:02}/04/50", number % 28 + 1)
    });
    let century = ["convert", "in.csv", "-o", "out.csv", "--century", "1350"];
    folder.run(&century).status(0);
    holds(&folder.read("out.csv"), &["1351-03-05"]);
    let folder = with_odd("d", "25/03/1402", |number| {
        format!("{:02}/04/2024", number % 28 + 1)
    });
    folder.run(&["survey", "in.csv"]).status(3);
    let example = ["survey", "in.csv", "--example", "25/03/1402=1402-03-25"];
    folder.run(&example).status(0);
}

/// A name that says months or quarters says what numbers are, where all of them
/// can be.
#[test]
fn names_of_months_and_quarters_say_what_numbers_are() {
    let table = |name: &str, cell: &dyn Fn(i64) -> String| {
        let rows: Vec<String> = (0..40).map(cell).collect();
        Folder::with("in.csv", format!("{name}\n{}\n", rows.join("\n")))
    };
    let slash = |number: i64| format!("{}/{}", number % 4 + 1, 2020 + number % 5);
    let past_4 = |number: i64| format!("{}/{}", number % 5 + 1, 2020 + number % 5);
    let short = |number: i64| format!("Q{}-{}", number % 4 + 1, 20 + number % 5);
    let digits = |number: i64| format!("{}{:02}", 2020 + number % 5, number % 12 + 1);
    for (name, cell, kind, first) in [
        (
            "Quartal",
            &slash as &dyn Fn(i64) -> String,
            "quarter",
            "2020-Q1",
        ),
        ("quarter", &short, "quarter", "2020-Q1"),
        ("Buchungsmonat", &digits, "month", "2020-01"),
        ("report month", &digits, "month", "2020-01"),
    ] {
        let folder = table(name, cell);
        let survey = folder.run(&["survey", "in.csv", "--json"]).status(0).json();
        assert_eq!(survey["columns"][0]["kind"], kind, "{name}: {survey}");
        let clean = folder.run(&["convert", "in.csv"]).status(0).out;
        holds(&clean, &[first]);
    }
    for (name, cell) in [
        ("quarter", &past_4 as &dyn Fn(i64) -> String),
        ("house", &slash),
        ("sales per quarter", &digits),
    ] {
        let survey = table(name, cell).run(&["survey", "in.csv", "--json"]);
        let kind = &survey.json()["columns"][0]["kind"];
        assert!(kind.is_null(), "{name}: {kind}");
    }
}

/// Running numbers behind a date are no times, and no offsets; references are no
/// years.
#[test]
fn numbers_behind_dates_are_no_times() {
    let day = |number: i64| format!("2024{:02}{:02}", number % 12 + 1, number % 28 + 1);
    let hour = |number: i64| format!("{:02}{:02}", number * 7 % 24, number * 13 % 60);
    type Cell<'c> = (&'c dyn Fn(i64) -> String, u8);
    let cells: [Cell<'_>; 6] = [
        (&|number| format!("{}_{number:04}", day(number)), 3),
        (&|number| format!("2024-03-05 {number:04}"), 3),
        (&|number| format!("{}_{number:04}", day(number * 3)), 3),
        (
            &|number| format!("{}{}-{number:04}", day(number), hour(number)),
            3,
        ),
        (&|number| format!("[{}]", 1950 + number), 0),
        (&|number| format!("{number} م"), 0),
    ];
    for (cell, status) in cells {
        for rows in [20, 59, 150] {
            let rows: Vec<String> = (1..rows).map(cell).collect();
            let table = format!("batch\n{}\n", rows.join("\n"));
            let folder = Folder::with("in.csv", table.clone());
            let run = folder.run(&["convert", "in.csv"]).status(status.into());
            assert_eq!(run.out, table);
        }
    }
    let times: Vec<String> = (1..60)
        .map(|number| format!("{}_{}", day(number), hour(number)))
        .collect();
    let folder = Folder::with("in.csv", format!("batch\n{}\n", times.join("\n")));
    let clean = folder.run(&["convert", "in.csv"]).status(0).out;
    holds(&clean, &["\n2024-02-02T07:13:00\n"]);
}

/// Cells that may be numbers are dates where another column has the same dates, or
/// dates at a steady distance, in every row.
#[test]
fn another_column_says_that_doubtful_cells_are_dates() {
    use jiff::civil::{Date, date};
    let days = |count: i64| {
        (0..count).map(|number| date(2019, 1, 1) + jiff::Span::new().days(number * 7919 % 1900))
    };
    let steady = |number: usize| if number.is_multiple_of(3) { 2 } else { 0 };
    let once_not = |number: usize| if number == 40 { 700 } else { 0 };
    let never = |number: usize| number as i64 * 373 % 1500;
    type Distance<'d> = &'d dyn Fn(usize) -> i64;
    for (name, pattern, distance, is_date) in [
        ("signed", "%d.%m.%y", &steady as Distance<'_>, true),
        ("signed", "%d%m%y", &steady, true),
        ("signed", "%y.%m.%d", &|_| 30, true),
        ("version", "%y.%m.%d", &|_| 0, false),
        ("signed", "%d.%m.%y", &once_not, false),
        ("signed", "%d.%m.%y", &never, false),
    ] {
        let row = |(number, day): (usize, Date)| {
            let other = day + jiff::Span::new().days(distance(number));
            format!("{},{other}", day.strftime(pattern))
        };
        let rows: Vec<String> = days(80).enumerate().map(row).collect();
        let table = format!("{name},entered\n{}\n", rows.join("\n"));
        let folder = Folder::with("in.csv", table.clone());
        let run = folder.run(&["convert", "in.csv"]);
        if is_date {
            let own = run
                .out
                .lines()
                .skip(1)
                .map(|line| line.split_once(',').unwrap().0);
            let own: Vec<String> = own.map(str::to_owned).collect();
            let truth: Vec<String> = days(80).map(|day| day.to_string()).collect();
            assert_eq!((run.status, own), (0, truth), "{name}: {pattern}");
            let why = folder.run(&["survey", "in.csv", "--why"]).out;
            holds(&why, &["before entered in 80 rows; so it holds"]);
        } else {
            assert_eq!((run.status, run.out), (3, table), "{name}: {pattern}");
        }
    }
}

/// Cells that may be numbers say nothing about the dates of other columns.
#[test]
fn doubtful_cells_are_no_witness() {
    use jiff::civil::{Date, date};
    let days = |count: i64| {
        (0..count).map(|number| date(2024, 1, 1) + jiff::Span::new().days(number * 7919 % 366))
    };
    let early = days(3000).filter(|day: &Date| day.day() <= 12).take(600);
    let early: Vec<(usize, Date)> = early.enumerate().collect();
    // Lots with numbers that would be dates up to 300 days before the others.
    let settled = |pattern: &str| {
        let row = |(number, day): &(usize, Date)| {
            let lot = *day - jiff::Span::new().days(*number as i64 * 37 % 300);
            format!("{},{}", day.strftime("%d/%m/%Y"), lot.strftime(pattern))
        };
        let rows: Vec<String> = early.iter().map(row).collect();
        let folder = Folder::with("in.csv", format!("due,lot\n{}\n", rows.join("\n")));
        let survey = folder.run(&["survey", "in.csv", "--json"]).json();
        survey["columns"][0]["cells"]["settled"].as_u64().unwrap()
    };
    assert_eq!(settled("%y.%m.%d"), 0);
    // Dates are witnesses.
    assert!(settled("%Y-%m-%d") > 100);
}

/// Cells that are written as dates and can be none are never passed over without a word.
#[test]
fn a_column_of_impossible_dates_is_asked_about() {
    for (header, cell) in [
        ("when", "31/02/2024"),
        ("when", "/Date(1709649000000+9900)/"),
        ("note", "Wed 2024-03-05"),
        ("note", "2024-02-30 14:30"),
        ("seen", "2024-03-05 14:30:00 +0200 (Mon, 04 Mar 2024)"),
    ] {
        let table = format!("{header},x\n{}", format!("\"{cell}\",a\n").repeat(4));
        let folder = Folder::with("x.csv", table);
        let run = folder.run(&["survey", "x.csv"]).status(3);
        holds(&run.out, &["4 cells such as", "and no form reads them"]);
        folder.run(&["convert", "x.csv"]).status(3);
    }
    // Codes under a name that says nothing of dates.
    let codes = format!("part\n{}", "2024-13-45\n".repeat(4));
    let run = Folder::with("x.csv", codes).run(&["survey", "x.csv"]);
    run.status(0);
}

/// A fraction of the hour 24 is past the end of its day, and no midnight.
#[test]
fn decimals_of_the_last_part_are_never_dropped() {
    let folder = Folder::with(
        "x.csv",
        "when\n2024-03-05T24:00.5\n2024-03-05T24.5\n2024-03-05T24:00.0\n2024-03-05T14.5\n\"2024-03-05T14:30,25\"\n",
    );
    let run = folder.run(&["convert", "x.csv", "-c", "when"]).status(3);
    let clean: Vec<&str> = run.out.lines().skip(1).collect();
    assert_eq!(
        clean,
        [
            "\"\"",
            "\"\"",
            "2024-03-06T00:00:00",
            "2024-03-05T14:30:00",
            "2024-03-05T14:30:15"
        ]
    );
}

/// A time of day has no zone without a date, and is not passed over for having one.
#[test]
fn times_with_something_besides_are_asked_about() {
    for besides in ["IST", "ist", "UTC", "(local)"] {
        let cells = format!("start\n10:00 {besides}\n11:30 {besides}\n09:15 {besides}\n");
        let folder = Folder::with("x.csv", &cells);
        let run = folder.run(&["convert", "x.csv"]).status(3);
        assert_eq!(run.out, cells);
        holds(
            &run.err,
            &[
                "(row 1) hold a date or time and something besides",
                "converts 3",
            ],
        );
    }
}

/// Times of day with points, named as dates: the few that are dates in some order are so by
/// chance, and none is converted. As times, all are.
#[test]
fn cells_that_are_dates_by_chance_are_listed() {
    let cells = [
        "4.36.54", "2.16.07", "15.48.28", "20.45.38", "6.06.31", "7.37.06", "23.01.33", "16.29.27",
        "18.34.54", "0.56.45", "20.29.22", "13.24.19",
    ];
    let rows: Vec<String> = cells.iter().map(|cell| format!("{cell}\n")).collect();
    let folder = Folder::with("x.csv", format!("when\n{}", rows.concat()));
    let run = folder.run(&["convert", "x.csv", "-c", "when", "--review", "r.csv"]);
    assert_eq!(run.status, 3);
    holds(&run.err, &["12 unreadable"]);
    let set = ["convert", "x.csv", "-c", "when", "--set", "when.kind=time"];
    let times = folder.run(&set).status(0);
    holds(&times.out, &["04:36:54", "23:01:33"]);
    // Three writers of dates, with a slip: nothing by chance.
    let dates = "31.12.24\n12.31.24\n24.12.31\n30.11.23\n11.30.23\n41.41.41\n";
    let folder = Folder::with("y.csv", format!("when\n{dates}"));
    let run = folder.run(&["convert", "y.csv", "-c", "when", "--review", "r.csv"]);
    holds(&run.err, &["1 unreadable"]);
}
