use crate::harness::{Folder, holds};

const LOANS: &str = "item,out,due\na,31/12/2024,03/04/2025\nb,05/06/2024,05/06/2025\nc,-,soon\n";

#[test]
fn a_replay_gives_the_same_bytes() {
    let folder = Folder::with("x.csv", LOANS);
    folder.run(&["settle", "x.csv", "-o", "x.toml"]).status(3);
    folder
        .run(&["convert", "x.csv", "-o", "direct.csv"])
        .status(3);
    for (threads, out) in [("1", "one.csv"), ("2", "two.csv")] {
        folder
            .run(&[
                "convert",
                "x.csv",
                "-r",
                "x.toml",
                "--threads",
                threads,
                "-o",
                out,
            ])
            .status(3);
        assert_eq!(folder.read(out), folder.read("direct.csv"));
    }
    assert_eq!(
        folder.read("one.review.csv"),
        folder.read("direct.review.csv")
    );
}

#[test]
fn the_file_carries_its_evidence() {
    let folder = Folder::with("x.csv", LOANS);
    folder.run(&["settle", "x.csv", "-o", "x.toml"]).status(3);
    holds(
        &folder.read("x.toml"),
        &[
            "metachron = 1",
            "encoding = \"utf-8\"",
            "header-line = 1",
            "# dd/MM/yyyy: 2 cells, such as 31/12/2024 (row 1); 1 cell can only be day-month-year",
            "[column.out]\nkind = \"date\"\nread = { forms = [\"dd/MM/yyyy\"] }",
            "# ? due: 2 cells such as 03/04/2025 (row 1) fit several orders. Which is right?",
            "read = { forms = [[\"dd/MM/yyyy\", \"MM/dd/yyyy\"]] }",
        ],
    );
}

#[test]
fn an_edited_ruling_is_followed() {
    let folder = Folder::with("x.csv", LOANS);
    folder
        .run(&["settle", "x.csv", "-o", "x.toml", "-q"])
        .status(3);
    let edited = folder
        .read("x.toml")
        .replace("[[\"dd/MM/yyyy\", \"MM/dd/yyyy\"]]", "[\"MM/dd/yyyy\"]")
        .replace(
            "[column.out]\nkind = \"date\"",
            "[column.out]\nkind = \"date\"\nwrite.name = \"loaned_out\"",
        );
    folder.write("x.toml", edited);
    folder
        .run(&["convert", "x.csv", "-r", "x.toml", "-o", "clean.csv"])
        .status(3);
    assert_eq!(
        folder.read("clean.csv"),
        "item,loaned_out,due\na,2024-12-31,2025-03-04\nb,2024-06-05,2025-05-06\nc,,\n"
    );
    // A declaration besides the rulings decides what they leave open.
    folder
        .run(&["settle", "x.csv", "-o", "y.toml", "-q"])
        .status(3);
    let run = folder
        .run(&["convert", "x.csv", "-r", "y.toml", "--read-order", "dmy"])
        .status(3);
    holds(&run.out, &["a,2024-12-31,2025-04-03"]);
}

#[test]
fn an_edited_file_is_not_written_over() {
    let folder = Folder::with("x.csv", LOANS);
    folder
        .run(&["settle", "x.csv", "-o", "x.toml", "-q"])
        .status(3);
    folder
        .run(&[
            "settle",
            "x.csv",
            "--read-order",
            "dmy",
            "-o",
            "x.toml",
            "-q",
        ])
        .status(3);
    let mine = folder
        .read("x.toml")
        .replace("kind", "# checked by the registrar\nkind");
    folder.write("x.toml", &mine);
    let run = folder.run(&["settle", "x.csv", "-o", "x.toml"]).status(2);
    holds(&run.err, &["was edited since it was written", "--replace"]);
    assert_eq!(folder.read("x.toml"), mine);
    folder
        .run(&["settle", "x.csv", "-o", "x.toml", "--replace", "-q"])
        .status(3);
    assert_ne!(folder.read("x.toml"), mine);
}

#[test]
fn mistakes_are_named_with_line_and_nearest_name() {
    let folder = Folder::with("x.csv", LOANS);
    for (text, message) in [
        (
            "metachron = 1\n[column.out]\nkind = \"date\"\nreed = { }\n",
            "r.toml: line 4, column 1: unknown field `reed`, expected one of `kind`, `read`, `write`, `baseline`, `seen`; did you mean `read`?",
        ),
        (
            "metachron = 1\n\n[column.uot]\nkind = \"date\"\n",
            "r.toml, line 3: no column is called `uot`; did you mean `out`?",
        ),
        (
            "metachron = 1\n[column.out]\nkind = \"date\"\nread = { forms = [\"dd/mm/yyyy\"] }\n",
            "r.toml: line 4, column 19: pattern `dd/mm/yyyy`: m and mm are minutes; months are M and MM",
        ),
        (
            "metachron = 1\n[column.out]\nkind = \"day\"\n",
            "unknown variant `day`, expected one of `date`, `time`, `datetime`, `instant`, `month`, `quarter`, `week`, `year`, `duration`; did you mean `date`?",
        ),
        ("metachron = 2\n", "this file is of version 2"),
        ("metachron = 1\n[column.out\n", "r.toml: line 2"),
    ] {
        folder.write("r.toml", text);
        let run = folder
            .run(&["convert", "x.csv", "-r", "r.toml", "-o", "c.csv"])
            .status(1);
        holds(&run.err, &[message]);
        assert!(!folder.files().contains(&"c.csv".to_owned()));
    }
}

#[test]
fn new_data_that_the_rulings_cannot_read_is_listed() {
    let folder = Folder::with("x.csv", "d\n31/12/2024\n");
    folder
        .run(&["settle", "x.csv", "-o", "x.toml", "-q"])
        .status(0);
    folder.write("y.csv", "d\n01/12/2025\n2025-12-02\n12/13/2025\n");
    folder
        .run(&["convert", "y.csv", "-r", "x.toml", "-o", "y.clean.csv"])
        .status(3);
    assert_eq!(folder.read("y.clean.csv"), "d\n2025-12-01\n\"\"\n\"\"\n");
    holds(
        &folder.read("y.clean.review.csv"),
        &[
            "2025-12-02,unreadable,no form of the ruling writes it",
            "month 13 does not exist in dd/MM/yyyy",
        ],
    );
    let run = folder.run(&["survey", "y.csv", "-r", "x.toml"]).status(3);
    holds(&run.out, &["2025-12-02"]);
}

#[test]
fn settings_take_quoted_names_and_any_value() {
    let folder = Folder::with("x.csv", "Loaned out,n\n03/04/25,1\n");
    let run = folder
        .run(&[
            "convert",
            "x.csv",
            "--set",
            "\"Loaned out\".read.order=mdy",
            "--set",
            "\"Loaned out\".read.century=2000",
            "--set",
            "\"Loaned out\".write.name=out",
        ])
        .status(0);
    assert_eq!(run.out, "out,n\n2025-03-04,1\n");
}

#[test]
fn settle_prints_to_standard_output_and_as_json() {
    let folder = Folder::with("x.csv", LOANS);
    let run = folder.run(&["settle", "x.csv"]).status(3);
    holds(&run.out, &["metachron = 1", "[column.due]"]);
    holds(&run.err, &["Questions", "due: 2 cells"]);
    let facts = folder.run(&["settle", "x.csv", "--json"]).status(3).json();
    assert_eq!(
        facts["rulings"]["column"]["out"]["read"]["forms"][0],
        "dd/MM/yyyy"
    );
    assert_eq!(facts["columns"][2]["questions"][0]["topic"], "order");
    assert_eq!(
        facts["columns"][2]["questions"][0]["answers"][0]["converts"],
        2
    );
}

/// Names of earlier versions are still read.
#[test]
fn files_of_earlier_versions_are_read() {
    let folder = Folder::with("x.csv", "d\n03 Apr 2024\n05 Jun 2024\n");
    folder.write(
        "old.toml",
        "metachron = 1\n[column.d]\nkind = \"date\"\n\
         read = { forms = [\"exchanged dd MMM yyyy\"] }\n\
         seen = { cells = 400, blank = 200, latest = \"2023-01-01\" }\n",
    );
    let run = folder
        .run(&["convert", "x.csv", "-r", "old.toml"])
        .status(0);
    assert_eq!(run.out, "d\n2024-03-04\n2024-05-06\n");
    holds(&run.err, &["the latest is 2024-05-06; it was 2023-01-01"]);
}

/// Rulings that would break the table are refused, and say what is wrong with them.
#[test]
fn rulings_that_break_a_table_are_refused() {
    let folder = Folder::with("x.csv", "d,n\n03/05/2024,1\n");
    let column = "[column.d]\nkind = \"date\"\nread.forms = [\"MM/dd/yyyy\"]\n";
    for (ruling, message) in [
        (
            "[table]\ndelimiter = \"\\n\"\n".to_owned(),
            "table.delimiter: give one character",
        ),
        (
            "[table]\ndelimiter = \"a\"\n".to_owned(),
            "table.delimiter: give one character",
        ),
        (
            "[table]\ndelimiter = \";\"\nquote = \";\"\n".to_owned(),
            "`;` cannot be both the delimiter and the quote",
        ),
        (
            format!("{column}write.name = \"n\"\n"),
            "the clean table has another column of that name",
        ),
    ] {
        folder.write("r.toml", format!("metachron = 1\n{ruling}"));
        let run = folder.run(&["convert", "x.csv", "-r", "r.toml", "-o", "c.csv"]);
        assert!(matches!(run.status, 1 | 2), "{ruling}: {}", run.err);
        assert!(run.err.contains(message), "{ruling}: {}", run.err);
        assert!(!folder.path("c.csv").exists());
    }
}
