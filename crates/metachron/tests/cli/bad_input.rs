use crate::harness::{Folder, holds};

/// One clear message, the right status, nothing under the target's name.
#[track_caller]
fn fails(folder: &Folder, args: &[&str], status: i32, message: &str) {
    let before = folder.files();
    let run = folder.run(args).status(status);
    holds(&run.err, &[message]);
    assert_eq!(run.out, "");
    assert!(!run.err.contains("panicked"), "{}", run.err);
    assert_eq!(folder.files(), before, "something was left behind");
}

#[test]
fn inputs_that_cannot_be_read() {
    let folder = Folder::new();
    std::fs::create_dir(folder.path("folder")).unwrap();
    for (name, bytes) in [
        ("empty.csv", &b""[..]),
        ("binary.csv", b"\x7fELF\x02\x01\0\0\0"),
        ("nul.csv", b"d,n\n2024-03-05,a\0b\n"),
        (
            "quote.csv",
            b"d,n\n2024-03-05,1\n2024-03-06,\"2\n2024-03-07,3\n",
        ),
    ] {
        folder.write(name, bytes);
    }
    for (name, message) in [
        ("missing.csv", "missing.csv: No such file"),
        ("folder", "folder is a folder"),
        ("empty.csv", "empty.csv is empty"),
        ("binary.csv", "neither text nor of another format"),
        ("nul.csv", "name its encoding with --encoding"),
        (
            "quote.csv",
            "line 3: the quote that opens here is never closed",
        ),
    ] {
        for command in ["survey", "settle"] {
            fails(&folder, &[command, name], 1, message);
        }
        fails(&folder, &["convert", name, "-o", "out.csv"], 1, message);
    }
    // Each message says what to do, and doing it helps.
    folder
        .run(&["survey", "nul.csv", "--encoding", "utf-8"])
        .status(0);
    folder
        .run(&["survey", "quote.csv", "--quote", "none"])
        .status(0);
}

#[test]
fn wrong_usage() {
    let folder = Folder::with("x.csv", "due,n\n2024-03-05,1\n");
    for (args, message) in [
        (&["survey", "x.csv", "-c", "deu"][..], "did you mean `due`?"),
        (
            &["survey", "x.csv", "--set", "deu.kind=date"],
            "did you mean `due`?",
        ),
        (
            &["survey", "x.csv", "--set", "due.kinds=date"],
            "did you mean `kind`?",
        ),
        (&["survey", "x.csv", "--set", "due"], "COLUMN.KEY=VALUE"),
        (&["survey", "x.csv", "--read-order", "dym2"], "use dmy, mdy"),
        (
            &["survey", "x.csv", "--read-form", "dd/mm/yyyy"],
            "months are M and MM",
        ),
        (
            &[
                "survey",
                "x.csv",
                "--read-form",
                "d/M/yyyy",
                "--read-order",
                "mdy",
            ],
            "contradicts",
        ),
        (
            &["survey", "x.csv", "--from", "tsv", "--delimiter", ";"],
            "contradicts",
        ),
        (
            &["survey", "x.csv", "--encoding", "latin-99"],
            "no encoding is called",
        ),
        (
            &["survey", "x.csv", "--century", "99999"],
            "first year of a hundred",
        ),
        (
            &["survey", "x.csv", "--now", "yesterday"],
            "give an instant",
        ),
        (&["survey", "x.csv", "x.csv"], "given twice"),
        (&["survey"], "required"),
        (
            &["convert", "x.csv", "-o", "x.csv"],
            "would be written over",
        ),
        (
            &["convert", "x.csv", "-o", "out.csv", "--review", "out.csv"],
            "two outputs",
        ),
        (
            &["convert", "x.csv", "-o", "out.docx"],
            "cannot write .docx",
        ),
        (&["convert", "x.csv", "--json"], "--output"),
        (&["settle", "x.csv", "-o", "x.csv"], "would be written over"),
    ] {
        fails(&folder, args, 2, message);
    }
}

#[test]
fn outputs_that_cannot_be_written() {
    let folder = Folder::with("x.csv", "d\n2024-03-05\n");
    fails(
        &folder,
        &["convert", "x.csv", "-o", "no/folder/out.csv"],
        1,
        "there is no folder",
    );
    std::fs::create_dir(folder.path("r.toml")).unwrap();
    fails(
        &folder,
        &["settle", "x.csv", "-o", "r.toml"],
        1,
        "is a folder",
    );
}

#[test]
#[cfg(target_os = "linux")]
fn a_full_disk_is_told() {
    let folder = Folder::with("x.csv", "d\n2024-03-05\n");
    fails(
        &folder,
        &["convert", "x.csv", "-o", "/dev/full", "--review", "r.csv"],
        1,
        "No space left",
    );
    fails(
        &folder,
        &["convert", "x.csv", "-o", "c.csv", "--summary", "/dev/full"],
        1,
        "No space left",
    );
}

/// One file under two names is one, whether it is there yet or not, and `-` is no file.
#[test]
#[cfg(unix)]
fn outputs_that_are_one_file() {
    let folder = Folder::with("x.csv", "d\n03/05/2024\n");
    std::os::unix::fs::symlink("c.csv", folder.path("link.csv")).unwrap();
    let absolute = folder.path("c.csv");
    let absolute = absolute.to_str().unwrap();
    for review in ["c.csv", "./c.csv", absolute, "link.csv"] {
        let args = ["convert", "x.csv", "-o", "c.csv", "--review", review];
        fails(&folder, &args, 2, "is named for two outputs");
    }
    for option in ["--review", "--summary"] {
        let args = ["convert", "x.csv", "-o", "c.csv", option, "-"];
        fails(&folder, &args, 2, "standard output is for the table");
    }
    // What a link to nothing points to is made.
    folder
        .run(&["convert", "x.csv", "-o", "link.csv"])
        .status(3);
    assert!(folder.path("link.csv").is_symlink());
    assert_eq!(folder.read("c.csv"), "d\n\"\"\n");
}

/// Nobody may read in a list what may not be read in the table; what is written over keeps
/// its mode.
#[test]
#[cfg(unix)]
fn lists_allow_no_more_than_the_table() {
    use std::fs::{Permissions, metadata, set_permissions};
    use std::os::unix::fs::PermissionsExt;
    let folder = Folder::with("x.csv", "d\nlost\n2024-03-05\n");
    let set = |name: &str, mode| {
        set_permissions(folder.path(name), Permissions::from_mode(mode)).unwrap();
    };
    let mode = |name: &str| metadata(folder.path(name)).unwrap().permissions().mode() & 0o777;
    let convert = [
        "convert",
        "x.csv",
        "-c",
        "d",
        "-o",
        "c.csv",
        "--summary",
        "s.json",
    ];
    set("x.csv", 0o600);
    folder.run(&convert).status(3);
    folder.run(&["settle", "x.csv", "-o", "r.toml"]);
    for name in ["c.csv", "c.review.csv", "s.json", "r.toml"] {
        assert_eq!(mode(name), 0o600, "{name}");
    }
    // The table may be read by others now, if its owner says so; what waits may not.
    set("c.csv", 0o664);
    set("c.review.csv", 0o644);
    folder.run(&convert).status(3);
    assert_eq!(mode("c.csv"), 0o664);
    assert_eq!(mode("c.review.csv"), 0o600);
    set("x.csv", 0o640);
    folder.run(&convert).status(3);
    assert_eq!(mode("c.review.csv") & 0o007, 0);
}

/// What a file holds moves no cursor and rings no bell, in names, cells and messages.
#[test]
fn control_characters_of_files_are_shown() {
    let name = "due\u{1b}[31m\u{7}";
    let cells = "03/05/2024\u{1b}[2J\n13/05/2024\nlost\u{1b}]0;x\u{7}\n15/05/2024\n";
    let folder = Folder::with("x.csv", format!("{name}\n{cells}"));
    let runs = [
        folder.run(&["survey", "x.csv", "--why"]),
        folder.run(&["survey", "x.csv", "--color", "always"]),
        folder.run(&["convert", "x.csv", "-o", "c.csv"]),
        folder.run(&["convert", "x.csv", "-c", "d\u{1b}[2J"]),
        folder.run(&["explain", "03/05/2024\u{1b}[2J"]),
        folder.run(&["survey", "lost\u{1b}[2J.csv"]),
    ];
    for (number, run) in runs.iter().enumerate() {
        for text in [&run.out, &run.err] {
            for sequence in ["\u{7}", "\u{1b}[2J", "\u{1b}]", "\u{1b}[31m"] {
                // The colour of what went wrong.
                let is_own = sequence == "\u{1b}[31m" && text.contains("metachron:");
                assert!(is_own || !text.contains(sequence), "{number}: {text:?}");
            }
        }
    }
    holds(&runs[0].out, &["due␛[31m␇", "03/05/2024␛[2J"]);
    holds(&runs[3].err, &["d␛[2J"]);
    holds(&runs[5].err, &["lost␛[2J.csv"]);
}

/// What is read besides the table has an end.
#[test]
#[cfg(target_os = "linux")]
fn devices_are_no_rulings_and_no_answers() {
    let folder = Folder::with("x.csv", "d\n03/05/2024\n");
    for args in [
        &["convert", "x.csv", "-r", "/dev/zero"][..],
        &["convert", "x.csv", "--resolved", "/dev/zero"],
        &["settle", "x.csv", "--answers", "/dev/zero"],
    ] {
        fails(&folder, args, 1, "is a device");
    }
}

/// What a full disk ends is no half of a new run: the table, the review list and the
/// summary of the last one stand together.
#[test]
#[cfg(target_os = "linux")]
fn a_full_disk_leaves_the_files_of_one_run() {
    let folder = Folder::with("x.csv", "d\n2024-03-05\nlost\n");
    let options = ["convert", "x.csv", "-c", "d", "-o", "c.csv"];
    let with = |more: &[&'static str]| [&options[..], more].concat();
    folder.run(&with(&["--summary", "s.json"])).status(3);
    let files = ["c.csv", "c.review.csv", "s.json"];
    let before = files.map(|name| folder.read(name));
    for table in ["d\n2025-03-05\nmislaid\n", "d\n2025-03-05\n2025-03-06\n"] {
        folder.write("x.csv", table);
        for more in [["--summary", "/dev/full"], ["--review", "/dev/full"]] {
            let run = folder.run(&with(&more));
            // A list with nothing on it is not written.
            let is_empty = more[0] == "--review" && table.ends_with("06\n");
            if is_empty {
                continue;
            }
            run.status(1);
            assert_eq!(files.map(|name| folder.read(name)), before, "{more:?}");
        }
    }
}

/// A fault in the program, here one of a package that cannot write its temporary files,
/// ends in a message that asks for a report, and leaves what was there.
#[test]
#[cfg(target_os = "linux")]
fn a_fault_of_the_program_is_told() {
    use std::process::Command;
    let rows: String = (0..60_000).map(|n| format!("{n},2024-03-05\n")).collect();
    let folder = Folder::with("x.csv", format!("n,d\n{rows}"));
    folder.write("out.xlsx", "an earlier run");
    // Files of more than 64 blocks are refused.
    let script = "trap '' XFSZ; ulimit -f 64; exec \"$0\" convert x.csv -o out.xlsx";
    let run = Command::new("sh")
        .args(["-c", script, env!("CARGO_BIN_EXE_metachron")])
        .current_dir(folder.path(""))
        .env_remove("RUST_BACKTRACE")
        .output()
        .unwrap();
    let said = String::from_utf8(run.stderr).unwrap();
    assert_eq!(run.status.code(), Some(1), "{said}");
    assert_eq!(said.matches("metachron:").count(), 1, "{said}");
    holds(
        &said,
        &["a fault of the program", "Please report", "File too large"],
    );
    assert_eq!(folder.read("out.xlsx"), "an earlier run");
    let left = std::fs::read_dir(folder.path("")).unwrap();
    assert_eq!(left.count(), 2, "nothing else is left");
}

#[test]
#[cfg(unix)]
fn a_closed_pipe_is_no_error() {
    use std::io::Read;
    use std::process::{Command, Stdio};
    let rows: String = (0..100_000).map(|n| format!("{n},2024-03-05\n")).collect();
    let folder = Folder::with("x.csv", format!("n,d\n{rows}"));
    let mut child = Command::new(env!("CARGO_BIN_EXE_metachron"))
        .args(["convert", "x.csv", "-q"])
        .current_dir(folder.path(""))
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    let mut first = [0; 10];
    child.stdout.take().unwrap().read_exact(&mut first).unwrap();
    let output = child.wait_with_output().unwrap();
    assert_eq!(String::from_utf8(output.stderr).unwrap(), "");
    assert_eq!(output.status.code(), Some(0));
}

#[test]
fn a_crash_leaves_the_old_file() {
    let folder = Folder::with("x.csv", "d,n\n2024-03-05,1\n2024-03-06,\"2\n");
    folder.write("out.csv", "as it was\n");
    folder.write("out.review.csv", "as it was\n");
    folder.run(&["convert", "x.csv", "-o", "out.csv"]).status(1);
    assert_eq!(folder.read("out.csv"), "as it was\n");
    assert_eq!(folder.read("out.review.csv"), "as it was\n");
    assert_eq!(folder.files(), ["out.csv", "out.review.csv", "x.csv"]);
}

#[test]
fn huge_cells_and_wide_tables_are_tables() {
    let huge = "x".repeat(10 << 20);
    let folder = Folder::with(
        "huge.csv",
        format!("d,n\n2024-03-05,{huge}\n{huge},2\n2024-03-06,3\n"),
    );
    folder
        .run(&["convert", "huge.csv", "-o", "out.csv"])
        .status(3);
    let clean = folder.read("out.csv");
    assert!(clean.starts_with("d,n\n2024-03-05,xxx") && clean.ends_with("\n,2\n2024-03-06,3\n"));

    let names: Vec<String> = (0..10_000).map(|n| format!("c{n}")).collect();
    let cells = vec!["2024-03-05"; 10_000].join(",");
    folder.write(
        "wide.csv",
        format!("{}\n{cells}\n{cells}\n", names.join(",")),
    );
    let run = folder.run(&["convert", "wide.csv"]).status(0);
    assert_eq!(run.out, folder.read("wide.csv"));
}
