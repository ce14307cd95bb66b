//! How a column's own words say which language it is in, and when they say that it is in
//! none that is known.

use crate::harness::{Folder, converted, holds};

/// `Gun` is June in some language, and September in Shona, whose short names are known
/// only where the language is: its other names say so.
#[test]
fn short_names_of_a_language_that_the_others_name() {
    let cells = [
        "1997 Gun 29",
        "2003 Kuk 5",
        "2011 Zvi 1",
        "2012 Chv 17",
        "2013 Mbu 3",
    ];
    assert_eq!(
        converted(&cells, &[]),
        [
            "1997-09-29",
            "2003-02-05",
            "2011-12-01",
            "2012-05-17",
            "2013-11-03"
        ]
    );
}

/// Words of no language stand where `Otu` is the name of a month in some: what is a name
/// elsewhere is none here, and the column is asked about.
#[test]
fn names_among_words_of_no_language_are_none() {
    let cells = [
        "Otu 29, 1990",
        "Qxa 2, 1990",
        "Vvi 12, 1991",
        "Otu 12, 1992",
        "Zqo 3, 1992",
    ];
    let folder = Folder::with(
        "x.tsv",
        format!("when\tother\n{}\tx\n", cells.join("\tx\n")),
    );
    let named = folder.run(&["convert", "x.tsv", "-c", "when", "--review", "r.csv"]);
    assert_eq!(named.status, 3);
    assert_eq!(folder.read("r.csv").lines().count(), 6);
    let asked = folder.run(&["survey", "x.tsv"]);
    assert_eq!(asked.status, 3);
    holds(
        &asked.out,
        &["5 cells such as Otu 29, 1990 (row 1) may be dates"],
    );
    // A slip or two change nothing.
    let cells = [
        "Mar 29, 1990",
        "Apr 2, 1990",
        "Mqr 12, 1991",
        "Mar 12, 1992",
        "Jzn 3, 1992",
    ];
    assert_eq!(
        converted(&cells, &["-c", "when"]),
        ["1990-03-29", "1990-04-02", "", "1992-03-12", ""]
    );
}

/// A column says `SN` and `LB` where Somali has `SN` for the morning: whatever language it
/// is, `SN` may be the afternoon in it.
#[test]
fn a_part_of_the_day_beside_one_of_no_language_is_none() {
    let cells = ["3:25:50 SN", "6:50:58 LB", "3:57:03 SN", "7:00:34 LB"];
    let folder = Folder::with("x.tsv", format!("when\n{}\n", cells.join("\n")));
    let named = folder.run(&["convert", "x.tsv", "-c", "when", "--review", "r.csv"]);
    assert_eq!(named.status, 3);
    assert_eq!(folder.read("r.csv").lines().count(), 5);
    let somali = ["3:25:50 SN", "6:50:58 GD", "3:57:03 SN", "7:00:34 GD"];
    assert_eq!(
        converted(&somali, &["-c", "when"]),
        ["03:25:50", "18:50:58", "03:57:03", "19:00:34"]
    );
}

/// The second of two words of no language stands behind more cells than are kept to be
/// shown.
#[test]
fn unknown_words_count_wherever_they_stand() {
    let names = ["ott", "apr", "nuv", "fer"];
    let known = (1..=4).flat_map(|day| names.map(|name| format!("{day} {name}. 2013")));
    let unknown = (1..=6).map(|day| format!("{day} xquj. 2008"));
    let cells: Vec<String> = known
        .chain(unknown)
        .chain(["9 voz. 2020".to_owned()])
        .collect();
    let folder = Folder::with("x.tsv", format!("when\n{}\n", cells.join("\n")));
    let asked = folder.run(&["survey", "x.tsv"]);
    assert_eq!(asked.status, 3);
    holds(
        &asked.out,
        &["23 cells such as 1 apr. 2013 (row 2) may be dates"],
    );
}

/// Names that a language shares with English are names of it: Gusii has `Feb` and `Apr`
/// next to `Can` and `Cul`, Luganda `Feb` next to `Agu`.
#[test]
fn names_that_are_english_too() {
    let gusii = ["5 Feb 2020", "6 Apr 2020", "7 Can 2020", "8 Cul 2020"];
    let days = ["2020-02-05", "2020-04-06", "2020-01-07", "2020-07-08"];
    assert_eq!(converted(&gusii, &["--read-locale", "guz"]), days);
    assert_eq!(converted(&gusii, &[]), days);
    let luganda = ["5 Feb 2020", "7 Agu 2020"];
    assert_eq!(
        converted(&luganda, &["--read-locale", "lg"]),
        ["2020-02-05", "2020-08-07"]
    );
}

/// Makhuwa's `Nan` is August, and no `N` with the ending of a case.
#[test]
fn a_letter_has_no_ending() {
    let cells = ["12 Rar 2006", "16 Moj 1998", "26 Nan 2007", "10 Una 1992"];
    assert_eq!(
        converted(&cells, &[]),
        ["2006-03-12", "1998-11-16", "2007-08-26", "1992-02-10"]
    );
}

/// `Di` and `Do` stand inside dates of other languages; next to `Mi` and `Fr` they are
/// weekdays, and all cells have one form.
#[test]
fn weekdays_that_are_words_elsewhere() {
    let cells = [
        "Di 05.03.2024",
        "Mi 17.05.2023",
        "Do 04.04.2024",
        "Fr 03.05.2024",
        "Mi 23.11.2022",
    ];
    assert_eq!(
        converted(&cells, &[]),
        [
            "2024-03-05",
            "2023-05-17",
            "2024-04-04",
            "2024-05-03",
            "2022-11-23"
        ]
    );
}

/// Texts with a time of one and of two digits hold the same besides a date.
#[test]
fn what_is_left_over_may_have_longer_numbers() {
    let cells = [
        "5 March 2024 ~ tide 9:05",
        "17 May 2023 ~ tide 14:30",
        "23 November 2022 ~ tide 20:45",
    ];
    let folder = Folder::with("x.csv", format!("note\n{}\n", cells.join("\n")));
    let asked = folder.run(&["survey", "x.csv"]);
    assert_eq!(asked.status, 3);
    holds(&asked.out, &["3 cells such as 5 March 2024 ~ tide 9:05"]);
}
