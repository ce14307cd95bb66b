//! Years: those of other calendars and eras, those far from ours, those that may be something
//! else, and those that stand in another column.

use crate::harness::{Folder, converted, holds, with_odd};

#[test]
fn years_of_another_calendar_among_others_wait() {
    let folder = with_odd("seen", "15/03/2560", |number| {
        format!("{:02}/03/2017", number % 28 + 1)
    });
    let survey = folder.run(&["survey", "in.csv"]).status(3);
    holds(
        &survey.out,
        &[
            "1 cell such as 15/03/2560 (row 7) with years far from ours. Are they meant?",
            "--set 'seen.read.calendar=gregory'  15 March 2560; converts 1",
            "2017-03-01 to 2017-03-28",
        ],
    );
    folder
        .run(&["convert", "in.csv", "-o", "out.csv"])
        .status(3);
    holds(
        &folder.read("out.review.csv"),
        &["the year 2560 is far from our time, and of the buddhist calendar, perhaps"],
    );
    // What is said holds: the calendar, or the form.
    for said in [
        ["--set", "seen.read.calendar=gregory"],
        ["--read-form", "dd/MM/yyyy"],
    ] {
        folder
            .run(&[&["convert", "in.csv", "-o", "said.csv"][..], &said].concat())
            .status(0);
        holds(&folder.read("said.csv"), &["2560-03-15"]);
    }
}

/// Years, months and quarters of Thailand's calendar are those of ours, 543 less.
#[test]
fn months_and_years_of_another_calendar_are_asked_about() {
    for (name, cell, ours) in [
        ("year", "2567", "2024"),
        ("month", "2567-03", "2024-03"),
        ("quarter", "2567-Q3", "2024-Q3"),
    ] {
        let folder = Folder::with("in.csv", format!("{name},n\n{cell},1\n{cell},2\n"));
        let set = format!("{name}.read.calendar=buddhist");
        let survey = folder.run(&["survey", "in.csv"]).status(3).out;
        holds(&survey, &["Whose calendar is it?", &set, "converts 2"]);
        let clean = folder.run(&["convert", "in.csv", "--set", &set]).status(0);
        assert_eq!(clean.out, format!("{name},n\n{ours},1\n{ours},2\n"));
    }
    // One among others waits, whatever form it has.
    for column in [
        "month\n202403\n256704\n202012\n",
        "year\n2024\n2566\n2021\n",
    ] {
        let folder = Folder::with("in.csv", column);
        let survey = folder.run(&["survey", "in.csv"]).status(3).out;
        holds(&survey, &["Are they meant?", "converts 1"]);
        let clean = folder.run(&["convert", "in.csv"]).status(3).out;
        assert_eq!(clean.lines().nth(2), Some("\"\""));
    }
}

/// The era says which year it is of months, quarters and years as well.
#[test]
fn periods_of_an_era_are_those_of_its_calendar() {
    for (form, cell, ours) in [
        ("y G", "44 BC", "-000043"),
        ("MMM y G", "Mar 44 BC", "-000043-03"),
        ("G y", "พ.ศ. 2567", "2024"),
        ("Gy'年'M'月'", "令和6年3月", "2024-03"),
        // It begins or ends within the year.
        ("Gy'年'", "令和1年", "2019"),
        ("Gy'年'", "平成31年", "2019"),
    ] {
        let folder = Folder::with("in.csv", format!("when\n{cell}\n"));
        let args = ["convert", "in.csv", "-c", "when", "--read-form", form];
        let clean = folder.run(&args).status(0).out;
        assert_eq!(clean, format!("when\n{ours}\n"), "{form}");
    }
}

/// An era says whose year it is.
#[test]
fn years_with_an_era_are_certain() {
    let folder = with_odd("found", "44 BC", |number| format!("{} BC", 300 + number));
    let survey = folder
        .run(&["survey", "in.csv", "--json", "-c", "found"])
        .json();
    assert_eq!(survey["columns"][0]["cells"]["open"], 0, "{survey}");
}

/// `1105` is 5 November as likely as a year of the Middle Ages, under a name that says no
/// years.
#[test]
fn years_that_may_be_month_and_day_are_asked_about() {
    let cells = "1105\n1015\n1231\n1130\n1002\n";
    let folder = Folder::with("x.csv", format!("sale day\n{cells}"));
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(run.out, format!("sale day\n{cells}"));
    holds(&run.err, &["sale day: 5 cells such as 1105 (row 1) may be"]);
    let folder = Folder::with("x.csv", format!("year built\n{cells}"));
    let run = folder.run(&["convert", "x.csv"]).status(0);
    holds(&run.err, &["5 certain"]);
}

#[test]
fn years_of_another_calendar_are_remarked_on() {
    let folder = Folder::with("x.csv", "when\n17/3/2567\n18/4/2566\n");
    let run = folder.run(&["survey", "x.csv"]).status(3);
    holds(
        &run.out,
        &[
            "Whose calendar",
            "when.read.calendar=buddhist",
            "17 March 2024",
        ],
    );
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(run.out, "when\n17/3/2567\n18/4/2566\n");
    folder.write("y.csv", "when\n17/3/1402\n18/4/1501\n");
    let run = folder.run(&["survey", "y.csv"]);
    holds(&run.out, &["1582-10-15", "julian"]);
}

/// Years of three digits are those of the Minguo calendar, or no years at
/// all: nothing is read before somebody says so.
#[test]
fn years_of_three_digits_are_asked_about() {
    let rows = "a,b,c\n113/03/05,2024/01/05,745-03-05\n112/12/31,113/03/05,100-03-05\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(
        run.out,
        "a,b,c\n113/03/05,2024-01-05,745-03-05\n112/12/31,,100-03-05\n"
    );
    holds(
        &run.err,
        &[
            "a: 2 cells such as 113/03/05 (row 1) with years far from ours",
            "a.read.calendar=roc",
        ],
    );
    let roc = folder.run(&[
        "convert",
        "x.csv",
        "-c",
        "a",
        "--set",
        "a.read.calendar=roc",
    ]);
    holds(&roc.out, &["2024-03-05,2024/01/05", "2023-12-31,113/03/05"]);
    // Naming the column does not say whose years it counts.
    let named = folder.run(&["convert", "x.csv", "-c", "a"]).status(3);
    holds(&named.out, &["113/03/05,2024/01/05"]);
    let explained = folder.run(&["explain", "113/03/05", "17/3/2567"]);
    holds(
        &explained.out,
        &["--read-calendar roc", "--read-calendar buddhist", "open"],
    );
}

#[test]
fn dates_without_a_year_wait_for_one() {
    let cells = ["24 Dec", "Jan 5"];
    assert_eq!(converted(&cells, &["-c", "when"]), ["", ""]);
    assert_eq!(
        converted(&cells, &["-c", "when", "--set", "when.read.year=2024"]),
        ["2024-12-24", "2024-01-05"]
    );
}

/// The year of each row stands in another column; the survey knows it too.
#[test]
fn years_from_another_column() {
    let rows = "season,when\n2023,24 Dec\n2024,29 Feb\n2023,29 Feb\n,5 Mar\n2024,24 Dec\n";
    let folder = Folder::with("x.csv", rows);
    let set = "when.read.year-from=season";
    let settle = ["settle", "x.csv", "--set", set, "-o", "r.toml"];
    folder.run(&settle).status(3);
    holds(
        &folder.read("r.toml"),
        &["year-from = \"season\"", "3 certain, 1 open, 1 unreadable"],
    );
    let convert = ["convert", "x.csv", "-r", "r.toml", "-o", "y.csv"];
    folder.run(&convert).status(3);
    assert_eq!(
        folder.read("y.csv"),
        "season,when\n2023,2023-12-24\n2024,2024-02-29\n2023,\n,\n2024,2024-12-24\n"
    );
    holds(
        &folder.read("y.review.csv"),
        &[
            "February 2023 has no day 29",
            "it has no year; read.year or read.year-from has to say it",
        ],
    );
    let wrong = folder.run(&["survey", "x.csv", "--set", "when.read.year-from=seson"]);
    holds(
        &wrong.status(2).err,
        &["no column is called `seson`; did you mean `season`?"],
    );
    let twice = [
        "convert",
        "x.csv",
        "--set",
        set,
        "--set",
        "when.read.year=2024",
    ];
    holds(
        &folder.run(&twice).status(2).err,
        &["read.year and read.year-from contradict"],
    );
}
