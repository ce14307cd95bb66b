//! Folders and patterns of files as inputs, folders as outputs, and rulings of many sources.

use crate::harness::{Folder, holds};

fn exports() -> Folder {
    let folder = Folder::new();
    for name in ["in", "rulings"] {
        std::fs::create_dir(folder.path(name)).unwrap();
    }
    for day in 1..=3 {
        let table = format!("item,due\nvase,31/12/2024\nlamp,0{day}/02/2025\n");
        folder.write(&format!("in/part{day}.csv"), table);
    }
    folder.write("in/us.csv", "item,when\nvase,12/31/2024\nlamp,02/28/2025\n");
    for (source, rulings) in [("part1", "parts"), ("us", "us")] {
        let (source, out) = (
            format!("in/{source}.csv"),
            format!("rulings/{rulings}.toml"),
        );
        folder.run(&["settle", &source, "-q", "-o", &out]).status(0);
    }
    folder
}

#[test]
fn each_input_goes_into_a_folder_by_the_rulings_that_fit_it() {
    let folder = exports();
    folder.write("in/notes.bin", b"\0\0\0\x01");
    folder.write("in/soon.csv", "item,due\nvase,31/12/2024\nlamp,soon\n");
    let run = folder.run(&[
        "convert",
        "in",
        "-r",
        "rulings",
        "-o",
        "clean/",
        "--summary",
        "run.json",
    ]);
    let run = run.status(1);
    holds(
        &run.err,
        &[
            "in/notes.bin: none of 2 rulings files in rulings is for its columns",
            "clean/us.csv: 2 rows",
            "other than in/part1.csv: it lacks `due` and has `when`",
            "6 files into clean/: 4 done, 1 waits for a person, 1 failed",
            "1 of 6 files could not be converted",
        ],
    );
    assert_eq!(
        folder.read("clean/part2.csv"),
        "item,due\nvase,2024-12-31\nlamp,2025-02-02\n"
    );
    assert_eq!(
        folder.read("clean/us.csv"),
        "item,when\nvase,2024-12-31\nlamp,2025-02-28\n"
    );
    holds(&folder.read("clean/soon.review.csv"), &["soon,unreadable"]);
    let summary: serde_json::Value = serde_json::from_str(&folder.read("run.json")).unwrap();
    let files = summary["files"].as_array().unwrap();
    assert_eq!(files.len(), 6);
    assert!(files[0]["error"].as_str().unwrap().contains("notes.bin"));
    assert_eq!(files[1]["counts"]["cells"]["settled"], 1);
    // The rest of a run is done where nothing fails.
    std::fs::remove_file(folder.path("in/notes.bin")).unwrap();
    let run = folder.run(&[
        "convert", "in", "-r", "rulings", "-o", "clean", "--to", "parquet", "-q",
    ]);
    run.status(3);
    assert!(folder.path("clean/part3.parquet").exists());
}

#[test]
fn nothing_is_guessed_where_no_rulings_fit_or_several_do() {
    let folder = exports();
    folder.write("x.csv", "item,back\nvase,31/12/2024\n");
    let run = folder.run(&["convert", "x.csv", "-r", "rulings"]).status(1);
    holds(
        &run.err,
        &["x.csv: none of 2 rulings files in rulings is for its columns"],
    );
    folder.write("x.csv", "item,due,when\nvase,31/12/2024,12/31/2024\n");
    let run = folder.run(&["convert", "x.csv", "-r", "rulings"]).status(1);
    holds(
        &run.err,
        &["parts.toml and rulings/us.toml are all for columns that it has"],
    );
    let run = folder
        .run(&["convert", "in/part1.csv", "-r", "rulings"])
        .status(0);
    holds(&run.out, &["lamp,2025-02-01"]);
}

#[test]
fn a_folder_or_a_pattern_stands_for_its_files() {
    let folder = exports();
    let run = folder.run(&[
        "convert",
        "in/part*.csv",
        "-r",
        "rulings/parts.toml",
        "-o",
        "-",
    ]);
    let run = run.status(0);
    assert_eq!(run.out.lines().count(), 7);
    std::fs::remove_file(folder.path("in/us.csv")).unwrap();
    let run = folder.run(&["survey", "in", "--json"]).status(0);
    assert_eq!(run.json()["table"]["files"].as_array().unwrap().len(), 3);
    for (inputs, status, said) in [
        ("none*.csv", 1, "no file matches none*.csv"),
        ("rulings", 1, "is a folder without tables"),
        ("in/[", 2, "in/["),
    ] {
        let run = folder.run(&["survey", inputs]).status(status);
        holds(&run.err, &[said]);
    }
    // A file that is called so is no pattern.
    folder.write("a[1].csv", "due\n31/12/2024\n");
    folder.run(&["survey", "a[1].csv"]).status(0);
}

#[test]
fn no_two_inputs_are_written_to_one_file() {
    let folder = exports();
    std::fs::create_dir(folder.path("more")).unwrap();
    folder.write("more/part1.csv", "item,due\nvase,31/12/2024\n");
    let run = folder
        .run(&["convert", "in/part1.csv", "more/part1.csv", "-o", "clean/"])
        .status(2);
    holds(&run.err, &["would both be written to clean/part1.csv"]);
    let run = folder
        .run(&["convert", "in/part1.csv", "-o", "in/"])
        .status(1);
    holds(&run.err, &["would be written over"]);
    let run = folder
        .run(&["convert", "in", "-o", "clean/", "--review", "r.csv"])
        .status(2);
    holds(&run.err, &["--review is for one table"]);
    let run = folder
        .run_with(&["convert", "-", "-o", "clean/"], "due\n1/2/2024\n")
        .status(2);
    holds(&run.err, &["standard input has no name"]);
}
