//! Reads and writes that go wrong at any place: a run is whole, or the files of the one
//! before stand as they were.
#![cfg(unix)]

use crate::harness::Folder;
use std::io::{Read, Write};
use std::process::{Command, Stdio};

fn program(folder: &Folder, args: &[&str]) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_metachron"));
    command.args(args).current_dir(folder.path(""));
    command.env("TMPDIR", folder.path(""));
    command
}

/// Some kilobytes, of which some cells wait for a person.
fn table() -> String {
    let day = |number: usize| match number % 50 {
        7 => "soon".to_owned(),
        _ => format!("2024-{:02}-{:02}", number % 12 + 1, number % 28 + 1),
    };
    let rows = (0..700).map(|number| format!("{number},{}\n", day(number)));
    "id,due\n".to_owned() + &rows.collect::<String>()
}

/// A disk that is full after so many KiB of any file (`ulimit -f`).
#[test]
fn a_disk_that_fills_at_any_place_leaves_the_files_as_they_were() {
    let names = ["out.csv", "out.review.csv", "sum.json"];
    let convert = "convert x.csv -o out.csv --summary sum.json";
    let args: Vec<&str> = convert.split(' ').collect();
    let folder = Folder::with("x.csv", table());
    assert_eq!(
        program(&folder, &args).output().unwrap().status.code(),
        Some(3)
    );
    let whole = names.map(|name| folder.read(name));
    let largest = names.map(|name| folder.bytes(name).len()).into_iter().max();
    let (mut full, mut done) = (0, 0);
    for kibibytes in 0..=largest.unwrap().div_ceil(1024) {
        let folder = Folder::with("x.csv", table());
        names.iter().for_each(|name| folder.write(name, "old\n"));
        let exe = env!("CARGO_BIN_EXE_metachron");
        let script = format!("trap '' XFSZ; ulimit -f {kibibytes}; exec {exe} {convert}");
        let run = Command::new("bash")
            .args(["-c", &script])
            .current_dir(folder.path(""))
            .output()
            .unwrap();
        let now = names.map(|name| folder.read(name));
        let err = String::from_utf8_lossy(&run.stderr);
        match run.status.code() {
            Some(3) => {
                assert_eq!(now, whole);
                done += 1;
            }
            code => {
                assert_eq!(code, Some(1), "{err}");
                assert!(err.contains("cannot write"), "{err}");
                assert_eq!(now, names.map(|_| "old\n".to_owned()), "at {kibibytes} KiB");
                assert_eq!(folder.files().len(), 4, "{:?}", folder.files());
                full += 1;
            }
        }
    }
    assert!(full > 5 && done == 1, "{full} full, {done} done");
}

/// A pipe that hands out a few bytes at a time.
#[test]
fn short_reads_change_nothing() {
    let folder = Folder::with("x.csv", table());
    let expected = program(&folder, &["convert", "x.csv"])
        .output()
        .unwrap()
        .stdout;
    for step in [1, 3, 64, 1000] {
        let mut child = program(&folder, &["convert", "-"])
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        let mut input = child.stdin.take().unwrap();
        std::thread::spawn(move || {
            for bytes in table().as_bytes().chunks(step) {
                input.write_all(bytes).unwrap();
            }
        });
        let mut out = Vec::new();
        child.stdout.take().unwrap().read_to_end(&mut out).unwrap();
        assert_eq!(child.wait().unwrap().code(), Some(3));
        assert!(out == expected, "{step}");
    }
}

/// A reader that goes away after so many bytes is no error, whatever it has read.
#[test]
fn a_pipe_that_closes_at_any_place_is_no_error() {
    let folder = Folder::with("x.csv", table().repeat(20));
    for read in [0, 1, 100, 5_000, 70_000, 100_000] {
        for args in [&["convert", "x.csv"][..], &["survey", "x.csv", "--json"]] {
            let mut child = program(&folder, args)
                .stdout(Stdio::piped())
                .stderr(Stdio::piped())
                .spawn()
                .unwrap();
            let mut start = vec![0; read];
            let mut out = child.stdout.take().unwrap();
            let _ = out.read_exact(&mut start);
            drop(out);
            let run = child.wait_with_output().unwrap();
            let code = run.status.code();
            let err = String::from_utf8_lossy(&run.stderr);
            assert!(matches!(code, Some(0 | 3)), "{read}: {code:?} {err}");
            assert!(!err.contains("pipe"), "{err}");
        }
    }
    assert_eq!(folder.files(), ["x.csv"]);
}

/// A file that shrinks or goes away between two passes.
#[test]
fn a_file_that_is_gone_is_a_message() {
    let folder = Folder::with("x.csv", "d\n2024-03-05\n");
    folder.write("out.csv", "old\n");
    std::fs::remove_file(folder.path("x.csv")).unwrap();
    let run = folder.run(&["convert", "x.csv", "-o", "out.csv"]).status(1);
    assert!(run.err.contains("x.csv: No such file"), "{}", run.err);
    assert_eq!(folder.read("out.csv"), "old\n");
}
