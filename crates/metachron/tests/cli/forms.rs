//! Cells as they are written, and what comes out: each a table of its own
//! column, converted end to end.

use crate::harness::{Folder, holds};

/// Converts a column of `cells`, with `args`; the clean cells.
fn convert(cells: &[&str], args: &[&str]) -> Vec<String> {
    let mut writer = csv::Writer::from_writer(Vec::new());
    writer.write_record(["when", "item"]).unwrap();
    for cell in cells {
        writer.write_record([cell, "vase"]).unwrap();
    }
    let folder = Folder::with("x.csv", writer.into_inner().unwrap());
    let fixed = [
        "convert",
        "x.csv",
        "-q",
        "--now",
        "2026-11-23",
        "--header-line",
        "1",
    ];
    let run = folder.run(&[&fixed[..], args].concat());
    let mut reader = csv::Reader::from_reader(run.out.as_bytes());
    reader
        .records()
        .map(|row| row.unwrap()[0].to_owned())
        .collect()
}

#[test]
fn every_way_of_writing_a_day() {
    for (cells, clean) in [
        (
            &["31/12/2024", "01/02/2025"][..],
            &["2024-12-31", "2025-02-01"][..],
        ),
        (&["12/31/2024", "01/02/2025"], &["2024-12-31", "2025-01-02"]),
        (&["31-12-2024", "1-2-2025"], &["2024-12-31", "2025-02-01"]),
        (&["31.12.2024", "1.2.2025"], &["2024-12-31", "2025-02-01"]),
        (
            &["31. 12. 2024", "1. 2. 2025"],
            &["2024-12-31", "2025-02-01"],
        ),
        (&["31 12 2024", "01 02 2025"], &["2024-12-31", "2025-02-01"]),
        (&["31,12,2024", "01,02,2025"], &["2024-12-31", "2025-02-01"]),
        (&["2024-12-31", "2025-02-01"], &["2024-12-31", "2025-02-01"]),
        (&["2024/12/31", "2025/2/1"], &["2024-12-31", "2025-02-01"]),
        (&["2024.12.31", "2025.02.01"], &["2024-12-31", "2025-02-01"]),
        (&["20241231", "20250201"], &["2024-12-31", "2025-02-01"]),
        (&["31/12/99", "01/02/98"], &["1999-12-31", "1998-02-01"]),
        (&["99/12/31", "98/02/01"], &["1999-12-31", "1998-02-01"]),
        (
            &["31 December 2024", "1 February 2025"],
            &["2024-12-31", "2025-02-01"],
        ),
        (
            &["December 31, 2024", "February 1, 2025"],
            &["2024-12-31", "2025-02-01"],
        ),
        (
            &["Dec. 31, 2024", "Feb. 1, 2025"],
            &["2024-12-31", "2025-02-01"],
        ),
        (
            &["31st of December 2024", "1st of February 2025"],
            &["2024-12-31", "2025-02-01"],
        ),
        (&["31-Dec-24", "1-Feb-25"], &["2024-12-31", "2025-02-01"]),
        (&["31DEC2024", "01FEB2025"], &["2024-12-31", "2025-02-01"]),
        (&["2024 December 31"], &["2024-12-31"]),
        (
            &["Tue, 31 Dec 2024", "Sat, 1 Feb 2025"],
            &["2024-12-31", "2025-02-01"],
        ),
        (&["Tuesday 31/12/2024"], &["2024-12-31"]),
        (&["29/02/2024", "29/02/2023"], &["2024-02-29", ""]),
        (
            &["31/12/2024", "31/04/2024", "00/01/2024"],
            &["2024-12-31", "", ""],
        ),
        (
            &["Wed, 31 Dec 2024", "Sat, 1 Feb 2025"],
            &["", "2025-02-01"],
        ),
    ] {
        assert_eq!(convert(cells, &["-c", "when"]), clean, "{cells:?}");
    }
}

#[test]
fn every_way_of_writing_a_time() {
    for (cells, clean) in [
        (&["09:30", "23:59"][..], &["09:30:00", "23:59:00"][..]),
        (&["9:30", "23:59"], &["09:30:00", "23:59:00"]),
        (&["9:30:15", "23:59:59"], &["09:30:15", "23:59:59"]),
        (
            &["9:30:15.25", "23:59:59.000"],
            &["09:30:15.25", "23:59:59"],
        ),
        (&["9:30 am", "12:00 am"], &["09:30:00", "00:00:00"]),
        (&["9:30 PM", "12:00 PM"], &["21:30:00", "12:00:00"]),
        (&["9:30 p.m.", "9:30 a.m."], &["21:30:00", "09:30:00"]),
        (
            &["9:30pm", "9:30P", "9:30a"],
            &["21:30:00", "21:30:00", "09:30:00"],
        ),
        (&["9 pm", "10 am"], &["21:00:00", "10:00:00"]),
    ] {
        assert_eq!(convert(cells, &[]), clean, "{cells:?}");
    }
}

#[test]
fn every_way_of_writing_both() {
    for (cells, clean) in [
        (&["31/12/2024 09:30"][..], &["2024-12-31T09:30:00"][..]),
        (&["31/12/2024, 9:30 pm"], &["2024-12-31T21:30:00"]),
        (&["31/12/2024 - 21:30"], &["2024-12-31T21:30:00"]),
        (&["21:30 31/12/2024"], &["2024-12-31T21:30:00"]),
        (&["2024-12-31T21:30"], &["2024-12-31T21:30:00"]),
        (
            &["2024-12-31 21:30:15.123456"],
            &["2024-12-31T21:30:15.123456"],
        ),
        (&["2024-12-31 21:30:15,5"], &["2024-12-31T21:30:15.5"]),
        (&["20241231T213015"], &["2024-12-31T21:30:15"]),
        (&["2024-12-31 24:00"], &["2025-01-01T00:00:00"]),
        (&["2024-12-31T21:30:15Z"], &["2024-12-31T21:30:15Z"]),
        (&["20241231T213015Z"], &["2024-12-31T21:30:15Z"]),
        (&["2024-12-31T21:30:15+01:00"], &["2024-12-31T20:30:15Z"]),
        (&["2024-12-31 21:30:15 -0530"], &["2025-01-01T03:00:15Z"]),
        (&["2024-12-31 21:30:15+02"], &["2024-12-31T19:30:15Z"]),
        (
            &["2024-12-31T21:30:15\u{2212}05:00"],
            &["2025-01-01T02:30:15Z"],
        ),
        (&["2024-12-31 21:30 GMT"], &["2024-12-31T21:30:00Z"]),
        (&["Tue 31 Dec 2024 9:30 am"], &["2024-12-31T09:30:00"]),
        (
            &["2016-12-31T23:59:60Z", "2016-12-31T23:59:59Z"],
            &["", "2016-12-31T23:59:59Z"],
        ),
    ] {
        assert_eq!(convert(cells, &[]), clean, "{cells:?}");
    }
}

#[test]
fn nasty_cells_are_left_to_a_person() {
    for (cells, clean) in [
        // Either number may be the year.
        (&["24-Mar-05", "31-Mar-04"][..], &["", ""][..]),
        (&["25/12/24", "31/01/25"], &["", ""]),
        (&["10.11.12 13:14", "11.11.12 01:00"], &["", ""]),
        // One column, two writers.
        (
            &["31/12/2024", "12/31/2024", "05/06/2024"],
            &["2024-12-31", "2024-12-31", ""],
        ),
        (
            &["24-Mar-40", "40-Mar-24", "12-Apr-05"],
            &["2040-03-24", "2040-03-24", ""],
        ),
        // The time says nothing about the date of another form.
        (
            &["05/06/2024 10:00", "25/06/2024"],
            &["", "2024-06-25T00:00:00"],
        ),
        // Two clocks at once, midnight in two ways, a digit missing.
        (
            &["2024-03-05 14:30", "2024-03-05 14:30 pm"],
            &["2024-03-05T14:30:00", ""],
        ),
        (&["12:00 am", "00:30 am"], &["00:00:00", "00:30:00"]),
        (
            &["2024-03-05 01:02", "2024-03-05 1:2"],
            &["2024-03-05T01:02:00", ""],
        ),
        (&["29/02/2024", "29/02/1900"], &["2024-02-29", ""]),
    ] {
        assert_eq!(convert(cells, &[]), clean, "{cells:?}");
    }
}

#[test]
fn what_is_never_seen_is_never_in_the_way() {
    for cell in [
        " 31/12/2024 ",
        "\u{a0}31/12/2024",
        "\u{200e}31/12/2024\u{200f}",
        "31/12/2024\t",
        "31\u{2011}12\u{2011}2024",
        "31\u{202f}12\u{a0}2024",
    ] {
        assert_eq!(
            convert(&[cell], &["-c", "when"]),
            ["2024-12-31"],
            "{cell:?}"
        );
    }
}

#[test]
fn blanks_are_empty_and_not_1899() {
    for blank in [
        "",
        " ",
        "-",
        "n/a",
        "N/A",
        "#N/A",
        "NULL",
        "None",
        "nan",
        "0000-00-00",
        "00/00/0000",
        "\\N",
    ] {
        let clean = convert(&["31/12/2024", blank, "30/12/2024"], &["--verdicts"]);
        assert_eq!(clean, ["2024-12-31", "", "2024-12-30"], "{blank:?}");
    }
}

#[test]
fn columns_that_are_no_dates_stay_as_they_are() {
    for cells in [
        &["A-100", "A-101"][..],
        &["12.50", "9.99"],
        &["1,204.50", "980.00"],
        &["1.2.3", "1.10.0"],
        &["v2.0.1", "v2.0.2"],
        &["04115", "10234"],
        &["12345-6789", "10234-0001"],
        &["3-2", "1-0"],
        &["10 x 12", "9 x 9"],
        &["2023", "2024"],
        &["2023-2024", "2024-2025"],
        &["192.168.10.12", "10.0.0.1"],
        &["May", "June"],
        &["Sat", "Sun"],
        &["0555 0134-12", "0555 0177-03"],
        &["50.1109", "8.6821"],
        &["1/2", "3/4"],
        &["12%", "15%"],
        &["978-3-16-148410-0", "978-0-00-000000-2"],
    ] {
        assert_eq!(convert(cells, &[]), cells, "{cells:?}");
    }
}

/// Words that stand within dates do not make one of two numbers.
#[test]
fn parts_weights_and_scales_stay_as_they_are() {
    let rows = "part,page,weight,volume,scale,room,decade,invoice\n\
        3 of 12,2 de 30,1.50 g,3.12 l,of 1:25,10a,1890s,2024/001\n\
        5 of 24,5 de 20,2.30 g,0.30 l,of 1:50,9a,1900s,2024/002\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv"]);
    assert_eq!(run.out, rows);
    holds(
        &run.err,
        &["invoice: 2 cells such as 2024/001 (row 1) may be dates or times, or numbers"],
    );
}

/// `Set` shortens September in some language, and names a set in another.
#[test]
fn labels_with_numbers_are_no_months() {
    let rows = "a,b,c,d\nSet 5,Out-12,set 2024,5 set 2024\nSet 12,Out-13,ott 2024,7 set 2024\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(
        run.out,
        "a,b,c,d\nSet 5,Out-12,2024-09,2024-09-05\nSet 12,Out-13,2024-10,2024-09-07\n"
    );
    holds(
        &run.err,
        &["b: 2 cells such as Out-12 (row 1) may be dates"],
    );
}

/// Codes of currencies are no hours, in whatever language.
#[test]
fn money_is_no_length_of_time() {
    let rows = "fee,kronor,took\n1.50 EUR,5 SEK,5 sek\n12 EUR,7 SEK,7 sek\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv"]);
    assert_eq!(
        run.out,
        "fee,kronor,took\n1.50 EUR,5 SEK,PT5S\n12 EUR,7 SEK,PT7S\n"
    );
}

/// `14.30 h` is half past two, or fourteen hours and a third.
#[test]
fn dotted_hours_are_times_or_decimals() {
    let rows = "either,decimal,opens\n14.30 h,1.50 h,14.30 h\n9.15 h,0.75 h,9 h 15\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(
        run.out,
        "either,decimal,opens\n,PT1H30M,14:30:00\n,PT45M,09:15:00\n"
    );
}

/// `5 h` is a time of day or a length of time: the column's other cells say
/// which, or its name does; alone it is asked about.
#[test]
fn hours_with_a_sign_are_times_or_lengths() {
    let rows = "alone,opens,takes,lasted,over\n\
        5 H,14h30,5h,1h30,27h15\n\
        6 H,9h,90 min,2 h,3h05\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(
        run.out,
        "alone,opens,takes,lasted,over\n\
         ,14:30:00,PT5H,PT1H30M,27h15\n\
         ,09:00:00,PT1H30M,PT2H,3h05\n"
    );
    holds(
        &run.err,
        &[
            "alone: 2 cells such as 5 H (row 1) fit several forms",
            r"-c alone --read-form 'H '\''h'\'''",
            "over: 1 cell such as 27h15 (row 1) pass 24:00",
        ],
    );
    let survey = folder.run(&["survey", "x.csv", "-c", "takes"]).status(0);
    let basis = "several kinds of value could be written so; the column's name, its other cells";
    holds(&survey.out, &[basis]);
}

/// Names that are shortened in several ways are still those of one language.
#[test]
fn names_of_four_letters_choose_the_language_too() {
    let folder = Folder::with("x.csv", "when\n1 Sept 2024\n2 mar 2024\n3 set 2024\n");
    let run = folder.run(&["convert", "x.csv"]).status(0);
    assert_eq!(run.out, "when\n2024-09-01\n2024-03-02\n2024-09-03\n");
}

/// `2008-09` may be September, or the season of two years: only a cell that
/// is no such pair, the column's name or a declaration says which.
#[test]
fn seasons_of_two_years_are_asked_about() {
    let rows = "season,month,seen\n2008-09,2008-09,2008-09\n2012-13,2011-12,2011-11\n";
    let folder = Folder::with("x.csv", rows);
    let run = folder.run(&["convert", "x.csv", "--verdicts"]);
    assert_eq!(run.status, 3);
    assert_eq!(
        run.out,
        "season,month,month_verdict,seen,seen_verdict\n\
         2008-09,2008-09,certain,2008-09,certain\n\
         2012-13,2011-12,certain,2011-11,certain\n"
    );
    let asked = "season: 2 cells such as 2008-09 (row 1) may be months, or the seasons";
    assert!(run.err.contains(asked), "{}", run.err);
    let answer = "-c season --read-form 'yyyy-MM'  September 2008; converts 1, contradicts 1";
    assert!(run.err.contains(answer), "{}", run.err);
    // Naming the column does not say that it holds months.
    let named = folder.run(&["convert", "x.csv", "-c", "season"]).status(3);
    assert!(named.out.contains("\n2008-09,2008-09,"), "{}", named.out);
    let args = ["convert", "x.csv", "-c", "season", "--read-form", "yyyy-MM"];
    let run = folder.run(&args);
    assert!(run.out.contains("\n,2011-12,2011-11\n"), "{}", run.out);
}

/// Of several declared forms, the cells say which kind they are.
#[test]
fn declared_forms_give_the_kind_that_cells_have() {
    let folder = Folder::with("x.csv", "t\n23/45/10\n08/15/00\n17/59/59\n");
    let forms = ["--read-form", "dd/MM/yy", "--read-form", "HH/mm/ss"];
    let run = folder.run(&[&["convert", "x.csv"], &forms[..]].concat());
    assert_eq!(run.status(0).out, "t\n23:45:10\n08:15:00\n17:59:59\n");
}

/// However many forms are declared, the last one counts.
#[test]
fn declared_forms_are_not_cut_off() {
    let folder = Folder::with("x.csv", "t\n23-45/59\n08-59/45\n");
    let names = ["d", "dd", "M", "MM"];
    let mut words: Vec<String> = vec!["convert".into(), "x.csv".into()];
    for day in &names[..2] {
        for month in &names[2..] {
            let orders = [
                [*day, *month, "yy"],
                [*month, *day, "yy"],
                ["yy", *month, *day],
            ];
            let more = [
                ["yy", *day, *month],
                [*day, "yy", *month],
                [*month, "yy", *day],
            ];
            for [one, two, three] in orders.into_iter().chain(more) {
                words.extend(["--read-form".to_owned(), format!("{one}-{two}/{three}")]);
            }
        }
    }
    assert_eq!(words.len(), 2 + 2 * 24);
    words.extend(["--read-form".to_owned(), "HH-mm/ss".to_owned()]);
    let words: Vec<&str> = words.iter().map(String::as_str).collect();
    let run = folder.run(&words);
    assert_eq!(run.out, "t\n23:45:59\n08:59:45\n", "{}", run.err);
}

#[test]
fn more_forms_than_can_be_tried_are_refused() {
    let forms: Vec<String> = (0..4200)
        .map(|number| format!("\"yyyy-MM-dd'{number}'\""))
        .collect();
    let rulings = format!(
        "metachron = 1\n[column.t]\nkind = \"date\"\nread = {{ forms = [{}] }}\n",
        forms.join(", ")
    );
    let folder = Folder::with("x.csv", "t\n2024-03-05\n");
    folder.write("r.toml", rulings);
    let run = folder.run(&["convert", "x.csv", "-r", "r.toml"]).status(1);
    assert!(run.err.contains("4096 are the most"), "{}", run.err);
}

/// What is declared of a column reaches every form: digits without signs, lost zeros,
/// lengths of time as clocks show them, counts as dates or instants.
#[test]
fn declared_forms_and_kinds_go_together() {
    for (cells, options, clean) in [
        (
            "130038.250\n000737.5",
            "--read-form HHmmss.SSS",
            "13:00:38.25\n00:07:37.5",
        ),
        (
            "13003825\n00073750",
            "--read-form HHmmssSS",
            "13:00:38.25\n00:07:37.5",
        ),
        (
            "1\n42\n930\n1430",
            "--read-form Hmm",
            "00:01:00\n00:42:00\n09:30:00\n14:30:00",
        ),
        (
            "7\n130\n14300",
            "--read-form Hmmss",
            "00:00:07\n00:01:30\n01:43:00",
        ),
        ("1:30\n99:00", "--read-form mm:ss", "PT1M30S\nPT1H39M"),
        (
            "1:30.5\n59:59",
            "--read-form m:ss[.S]",
            "PT1M30.5S\nPT59M59S",
        ),
        (
            "1:30\n42:59",
            "--read-form H:mm --set v.kind=duration",
            "PT1H30M\nP1DT18H59M",
        ),
        (
            "10:44:59,250\n01:02:03,004",
            "--set v.kind=duration",
            "PT10H44M59.25S\nPT1H2M3.004S",
        ),
        (
            "19787\n19788",
            "--read-count unix-days --set v.kind=date",
            "2024-03-05\n2024-03-06",
        ),
        (
            "3850000000\n3850000001",
            "--read-count seconds-1900 --set v.kind=instant",
            "2022-01-01T04:26:40Z\n2022-01-01T04:26:41Z",
        ),
        (
            "1.5e+05\n3e+05",
            "--read-count seconds-2024",
            "2024-01-02T17:40:00\n2024-01-04T11:20:00",
        ),
        (
            "01.05.43\n23.59.59",
            "--set v.kind=time",
            "01:05:43\n23:59:59",
        ),
    ] {
        let rows: String = cells.lines().map(|cell| format!("\"{cell}\"\n")).collect();
        let folder = Folder::with("x.csv", format!("v\n{rows}"));
        let counts = |word: &str| {
            let count = match word {
                "unix-days" => "days since 1970-01-01",
                "seconds-1900" => "seconds since 1900-01-01",
                "seconds-2024" => "seconds since 2024-01-01",
                other => other,
            };
            count.to_owned()
        };
        let options: Vec<String> = options.split_whitespace().map(counts).collect();
        let mut args = vec!["convert", "x.csv", "-c", "v"];
        args.extend(options.iter().map(String::as_str));
        let run = folder.run(&args).status(0);
        assert_eq!(run.out, format!("v\n{clean}\n"), "{args:?}");
        // The rulings that are written say the same.
        args[0] = "settle";
        args.extend(["-o", "r.toml"]);
        folder.run(&args).status(0);
        let run = folder.run(&["convert", "x.csv", "-r", "r.toml"]).status(0);
        assert_eq!(run.out, format!("v\n{clean}\n"), "{args:?}, replayed");
    }
}

/// What looks like a form of a program and is as likely a part, a person, a height or a
/// telephone is never converted on its own; what is asked about is converted by the
/// answer.
#[test]
fn codes_that_look_like_forms_of_programs_stay_as_they_are() {
    let cells = |cell: fn(u32) -> String| (1..=20).map(cell).collect::<Vec<String>>();
    for (header, cells, is_asked) in [
        (
            "part",
            cells(|i| format!("{}M{}", 1200 + 100 * i, i % 12 + 1)),
            true,
        ),
        (
            "person",
            cells(|i| format!("@{}", 639_858_100 + 7_919 * i)),
            true,
        ),
        ("height", cells(|i| format!("5'{:02}\"", i % 12)), false),
        (
            "phone",
            cells(|i| format!("{} -{:04}", 5_551_234_000_u64 + u64::from(i), 1_100 + i)),
            false,
        ),
        (
            "prefix",
            cells(|i| format!("+{}-{:02}", 30 + i, i % 11 + 1)),
            false,
        ),
        ("street", cells(|i| format!("{i} NS")), false),
        (
            "sizes",
            cells(|i| format!("(1200, {}, {})", i % 12 + 1, i)),
            true,
        ),
    ] {
        let mut writer = csv::Writer::from_writer(Vec::new());
        writer.write_record([header]).unwrap();
        for cell in &cells {
            writer.write_record([cell]).unwrap();
        }
        let text = String::from_utf8(writer.into_inner().unwrap()).unwrap();
        let folder = Folder::with("x.csv", &*text);
        let run = folder.run(&["convert", "x.csv"]);
        assert_eq!(run.out, text, "{header}");
        run.status(if is_asked { 3 } else { 0 });
    }
    let folder = Folder::with("x.csv", "seen\n@1709649000\n@1709649060\n");
    let run = folder.run(&["convert", "x.csv", "-c", "seen"]).status(0);
    assert_eq!(
        run.out,
        "seen\n2024-03-05T14:30:00Z\n2024-03-05T14:31:00Z\n"
    );
}
