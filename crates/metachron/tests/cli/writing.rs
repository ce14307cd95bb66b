//! Results in another form than ISO 8601, and patterns with optional parts.

use crate::harness::{Folder, holds};

const LOANS: &str = "crate,out,back,took\n\
    C-1,2024-03-05,2024-03-06 14:30,1 h 45 min\n\
    C-2,2024-12-31,2024-12-31 09:00,20 min\n";

#[test]
fn patterns_and_locales_of_the_result() {
    let folder = Folder::with("x.csv", LOANS);
    for (options, rows) in [
        (
            &[
                "-c",
                "out",
                "-c",
                "back",
                "--write-pattern",
                "dd/MM/yyyy[ HH:mm]",
            ][..],
            [
                "C-1,05/03/2024,06/03/2024 14:30,",
                "C-2,31/12/2024,31/12/2024 09:00,",
            ],
        ),
        (
            &[
                "-c",
                "out",
                "--write-pattern",
                "EEEE d MMMM yyyy",
                "--write-locale",
                "fr",
            ],
            ["C-1,mardi 5 mars 2024,", "C-2,mardi 31 décembre 2024,"],
        ),
        (
            &["-c", "out", "--write-locale", "de"],
            ["C-1,05.03.2024,", "C-2,31.12.2024,"],
        ),
        (
            &[
                "-c",
                "out",
                "--write-locale",
                "ar-EG",
                "--write-pattern",
                "yyyy-MM-dd",
            ],
            ["C-1,٢٠٢٤-٠٣-٠٥,", "C-2,٢٠٢٤-١٢-٣١,"],
        ),
    ] {
        let args = [&["convert", "x.csv"], options].concat();
        holds(&folder.run(&args).status(0).out, &rows);
    }
}

/// Where the form of the result would lose a part of a value, the value waits
/// for a person instead.
#[test]
fn what_cannot_be_written_exactly_is_left_open() {
    let folder = Folder::with("x.csv", "crate,took\nC-1,1 h 45 min\nC-2,2 months\n");
    let unit = [
        "convert",
        "x.csv",
        "--set",
        "took.write.unit=h",
        "-o",
        "y.csv",
        "-q",
    ];
    folder.run(&unit).status(3);
    holds(&folder.read("y.csv"), &["C-1,1.75\n", "C-2,\n"]);
    let review = folder.read("y.review.csv");
    holds(
        &review,
        &["2 months", "P2M has months, which have no fixed length"],
    );
}

/// A number of units is exact where it has an end, and rounded where not.
#[test]
fn numbers_of_units_are_rounded_to_so_many_decimals() {
    let folder = Folder::with("x.csv", LOANS);
    let hours = |more: &[&str]| {
        let args = ["convert", "x.csv", "--set", "took.write.unit=h"];
        folder.run(&[&args, more].concat())
    };
    holds(&hours(&[]).status(0).out, &[",1.75\n", ",0.333333\n"]);
    let two = ["--set", "took.write.decimals=2"];
    holds(&hours(&two).status(0).out, &[",1.75\n", ",0.33\n"]);
    let many = ["--set", "took.write.decimals=99"];
    holds(&hours(&many).status(2).err, &["write.decimals is 0 to 18"]);
    let minutes = ["convert", "x.csv", "--set", "took.write.unit=min"];
    holds(&folder.run(&minutes).status(0).out, &["105\n", ",20\n"]);
}

#[test]
fn a_result_that_a_column_does_not_have_is_refused() {
    let folder = Folder::with("x.csv", LOANS);
    let hours = [
        "convert",
        "x.csv",
        "-c",
        "out",
        "--write-pattern",
        "yyyy-MM-dd HH:mm",
    ];
    let error = "column `out`: write.pattern: `yyyy-MM-dd HH:mm` writes the hour, which a date \
                 does not have";
    holds(&folder.run(&hours).status(2).err, &[error]);

    let unit = ["convert", "x.csv", "--set", "out.write.unit=h"];
    holds(
        &folder.run(&unit).status(2).err,
        &["write.unit counts lengths of time"],
    );

    folder.write(
        "r.toml",
        "metachron = 1\n\n[column.out]\nkind = \"date\"\nread.forms = [\"yyyy-MM-dd\"]\nwrite.unit = \"week\"\n",
    );
    let run = folder.run(&["convert", "x.csv", "-r", "r.toml"]).status(1);
    holds(&run.err, &["r.toml", "line 6", "unknown variant `week`"]);
}

/// A ruling of the result is replayed, from a file as from the command line.
#[test]
fn rulings_on_the_result_are_replayed() {
    let folder = Folder::with("x.csv", LOANS);
    let set = "back.write.pattern=d MMM yyyy H:mm";
    let settle = ["settle", "x.csv", "--set", set, "-o", "r.toml"];
    folder.run(&settle).status(0);
    holds(
        &folder.read("r.toml"),
        &["write = { pattern = \"d MMM yyyy H:mm\" }"],
    );
    let run = folder.run(&["convert", "x.csv", "-r", "r.toml"]).status(0);
    holds(&run.out, &["C-1,2024-03-05,6 Mar 2024 14:30,PT1H45M\n"]);
}

#[test]
fn parts_of_a_form_that_may_be_missing() {
    let cells = "when\n05/03/2024 14:30:15\n06/03/2024 14:30\n07/03/2024\n08/03\n";
    let folder = Folder::with("x.csv", cells);
    let pattern = "dd/MM/yyyy[ HH:mm[:ss]]";
    let args = ["convert", "x.csv", "--read-form", pattern, "--verdicts"];
    let run = folder.run(&args).status(3);
    assert_eq!(
        run.out,
        "when,when_verdict\n\
         2024-03-05T14:30:15,settled\n\
         2024-03-06T14:30:00,settled\n\
         2024-03-07T00:00:00,settled\n\
         ,unreadable\n"
    );
    for (pattern, error) in [
        ("dd/MM/yyyy[ HH:mm", "the `[` at character 11 stands alone"),
        ("[dd/]MM", "without its optional parts it is `MM`"),
    ] {
        let run = folder.run(&["convert", "x.csv", "--read-form", pattern]);
        holds(&run.status(2).err, &[error]);
    }
}
