use crate::harness::{Folder, holds};

#[test]
fn standard_input_works_for_every_command_on_tables() {
    let folder = Folder::new();
    let text = "d,n\n31/12/2024,1\n01/02/2025,2\n";
    for command in ["survey", "settle", "convert"] {
        let run = folder.run_with(&[command, "-"], text).status(0);
        assert!(!run.out.is_empty());
    }
    let run = folder.run_with(&["convert", "-"], text).status(0);
    assert_eq!(run.out, "d,n\n2024-12-31,1\n2025-02-01,2\n");
}

#[test]
fn several_files_are_one_table() {
    let folder = Folder::with("a.csv", "d,n\n03/04/2025,1\nlater,2");
    folder.write("b.csv", "d;n\r\n31/12/2024;\"x;y\"\r\nnever;z\r\n");
    let run = folder
        .run(&["convert", "a.csv", "b.csv", "-o", "c.csv"])
        .status(3);
    // The 31st in the second file settles the first.
    assert_eq!(
        folder.read("c.csv"),
        "d,n\n2025-04-03,1\n,2\n2024-12-31,x;y\n,z\n"
    );
    holds(&run.err, &["c.csv: 4 rows"]);
    holds(
        &folder.read("c.review.csv"),
        &[
            "a.csv,2,3,d,later,unreadable",
            "b.csv,2,3,d,never,unreadable",
        ],
    );
    let run = folder.run(&["survey", "a.csv", "b.csv"]).status(3);
    holds(&run.out, &["(b.csv row 1: 31/12/2024)"]);
    // Rulings on files that are written differently leave that open.
    folder
        .run(&["settle", "a.csv", "b.csv", "-o", "r.toml"])
        .status(3);
    folder
        .run(&[
            "convert",
            "a.csv",
            "b.csv",
            "-r",
            "r.toml",
            "-o",
            "again.csv",
        ])
        .status(3);
    assert_eq!(folder.read("again.csv"), folder.read("c.csv"));
}

#[test]
fn what_is_found_out_is_said_and_can_be_overridden() {
    let (text, ..) = encoding_rs::WINDOWS_1252
        .encode("Verliehen;Gegenstand\n31.12.2024;Bröselige Gefäße für Öl\n");
    let folder = Folder::with("x.csv", &text);
    let run = folder.run(&["survey", "x.csv"]).status(0);
    holds(
        &run.out,
        &["1 row, 2 columns; windows-1252, cells between `;`, names on line 1"],
    );
    let run = folder.run(&["convert", "x.csv"]).status(0);
    holds(&run.out, &["2024-12-31;Bröselige Gefäße für Öl"]);
    holds(&run.err, &["read as windows-1252, written as UTF-8"]);
    let run = folder.run(&[
        "survey",
        "x.csv",
        "--delimiter",
        ",",
        "--header-line",
        "none",
        "--encoding",
        "iso-8859-2",
    ]);
    holds(
        &run.status(0).out,
        &["2 rows, 1 column; ISO-8859-2, cells between `,`, no line of names"],
    );
    let run = folder
        .run(&["convert", "x.csv", "--encoding", "utf-8", "-o", "c.csv"])
        .status(1);
    holds(&run.err, &["x.csv, line 2: bytes that UTF-8 does not have"]);
}

#[test]
fn ragged_rows_and_odd_names_are_kept_and_said() {
    let folder = Folder::with(
        "x.csv",
        "notes here\n\nd,d,\n2024-03-05,x,y\n2024-03-06,x\n2024-03-07,x,y,z\n",
    );
    let run = folder.run(&["survey", "x.csv"]).status(0);
    holds(
        &run.out,
        &[
            "names on line 3",
            "1 line above the names (notes here) is not part of the table",
            "column 2 is also called `d`; here it is called `d_2`",
            "without a name: column_3",
            "2 rows have fewer or more than 3 cells: line 5 has 2, line 6 has 4",
        ],
    );
    let run = folder.run(&["convert", "x.csv", "--keep-raw"]).status(0);
    assert_eq!(
        run.out,
        "d,d_raw,d,\n2024-03-05,2024-03-05,x,y\n2024-03-06,2024-03-06,x\n2024-03-07,2024-03-07,x,y,z\n"
    );
}

#[test]
fn a_table_without_rows_is_a_table() {
    for text in ["a,b\n", "a,b"] {
        let folder = Folder::with("x.csv", text);
        let run = folder.run(&["convert", "x.csv"]).status(0);
        assert_eq!(run.out, text);
        holds(&run.err, &["0 rows"]);
    }
}
