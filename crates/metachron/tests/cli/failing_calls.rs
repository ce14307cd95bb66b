//! Every call of the system fails once, in whole conversions: the files are those of the
//! run before, or those of this one, never some of each.
#![cfg(all(target_os = "linux", target_env = "gnu"))]

use crate::harness::Folder;
use std::collections::BTreeMap;
use std::io::{Cursor, Read};
use std::path::{Path, PathBuf};
use std::process::{Command, Output, Stdio};
use std::sync::LazyLock;

/// `failing_calls.c`, built by the compiler that links Rust programs here, if there is one.
static LIBRARY: LazyLock<Option<PathBuf>> = LazyLock::new(|| {
    let source = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/cli/failing_calls.c");
    let library = Path::new(env!("CARGO_TARGET_TMPDIR")).join("failing_calls.so");
    let built = Command::new("cc")
        .args(["-shared", "-fPIC", "-O1", "-o"])
        .args([&library, &source])
        .status();
    match built {
        Ok(status) => {
            assert!(status.success(), "failing_calls.c does not compile");
            Some(library)
        }
        Err(error) => {
            eprintln!("no call is made to fail: cc cannot be run: {error}");
            None
        }
    }
});

/// A command, the files that it finds, and what stands on its standard input.
struct Run {
    args: &'static str,
    files: Vec<(&'static str, Vec<u8>)>,
    /// The file that is its standard input.
    input: Option<&'static str>,
}

/// What stands in a folder.
type Files = BTreeMap<String, Vec<u8>>;

fn files_of(folder: &Folder) -> Files {
    let names = folder.files().into_iter();
    names
        .map(|name| (name.clone(), folder.bytes(&name)))
        .collect()
}

/// What stands in a folder, workbooks by their parts: how these are compressed depends on
/// how much the compressor is given at once.
fn parts_of(folder: &Folder) -> Files {
    let mut parts = Files::new();
    for (name, content) in files_of(folder) {
        let Ok(mut book) = zip::ZipArchive::new(Cursor::new(&content)) else {
            parts.insert(name, content);
            continue;
        };
        for index in 0..book.len() {
            let mut part = book.by_index(index).unwrap();
            let mut text = Vec::new();
            part.read_to_end(&mut text).unwrap();
            let part = part.name().unwrap().into_owned();
            parts.insert(format!("{name}/{part}"), text);
        }
    }
    parts
}

impl Run {
    fn folder(&self) -> Folder {
        let folder = Folder::new();
        for (name, content) in &self.files {
            folder.write(name, content);
        }
        folder
    }

    fn run(&self, folder: &Folder, library: &Path, settings: &[(&str, &str)]) -> Output {
        let input = self.input.map_or(Stdio::null(), |name| {
            Stdio::from(std::fs::File::open(folder.path(name)).unwrap())
        });
        Command::new(env!("CARGO_BIN_EXE_metachron"))
            .args(self.args.split(' '))
            .current_dir(folder.path(""))
            .env("TMPDIR", folder.path(""))
            .env("LD_PRELOAD", library)
            .envs(settings.iter().copied())
            .stdin(input)
            .output()
            .unwrap()
    }

    /// Lets the first call fail, then the second, and so on until a run has fewer.
    fn fails_at_every_call(&self) {
        let Some(library) = &*LIBRARY else {
            return;
        };
        let old = files_of(&self.folder());
        let folder = self.folder();
        let whole = self.run(&folder, library, &[]);
        let new = files_of(&folder);
        let err = String::from_utf8_lossy(&whole.stderr);
        assert!(matches!(whole.status.code(), Some(0 | 3)), "{err}");

        let notes = Folder::new();
        let said = notes.path("said");
        let (mut failed, mut tolerated) = (0, 0);
        for number in 1.. {
            let folder = self.folder();
            let number = number.to_string();
            let settings = [("FAIL_AT", &*number), ("FAIL_SAYS", said.to_str().unwrap())];
            let run = self.run(&folder, library, &settings);
            let Ok(call) = std::fs::read_to_string(&said) else {
                break;
            };
            std::fs::remove_file(&said).unwrap();
            let err = String::from_utf8_lossy(&run.stderr);
            let at = format!("{}: call {number}, {call}: {err}", self.args);
            if run.status.code() == whole.status.code() {
                assert!(run.stdout == whole.stdout, "{at}");
                let now = without_leftovers(&folder);
                assert!(now == new, "{at}, {}", told(&now, &old, &new));
                tolerated += 1;
                continue;
            }
            assert_eq!(run.status.code(), Some(1), "{at}");
            // What could not be said, as the call that says it has failed, is no fault.
            assert!(err.starts_with("metachron: ") || call == "write", "{at}");
            let now = without_leftovers(&folder);
            assert!(now == old || now == new, "{at}, {}", told(&now, &old, &new));
            failed += 1;
        }
        assert!(
            failed > 10 && tolerated > 0,
            "{failed} failed, {tolerated} tolerated"
        );
    }
}

/// Which files are of which run.
fn told(now: &Files, old: &Files, new: &Files) -> String {
    let of = |name, file, run: &Files| run.get(name) == Some(file);
    let told = now.iter().map(|(name, file)| {
        let (old, new) = (of(name, file, old), of(name, file, new));
        format!("{name}: old {old}, new {new}")
    });
    told.collect::<Vec<_>>().join("; ")
}

/// The files after another run has written to the folder, which does what a run could not do.
fn without_leftovers(folder: &Folder) -> Files {
    let is_leftover = |name: &String| name.starts_with(".metachron-");
    if folder.files().iter().any(is_leftover) {
        folder.write("other", "d\n2024-03-05\n");
        let settle = ["settle", "other", "-o", "other.toml"];
        folder.run(&settle).status(0);
        for name in ["other", "other.toml"] {
            std::fs::remove_file(folder.path(name)).unwrap();
        }
    }
    files_of(folder)
}

const REGISTER: &str = "id,due\n1,2024-03-05\n2,soon\n3,2024-03-07\n";

#[test]
fn of_a_table_with_its_list_and_summary() {
    let old = ["out.csv", "out.review.csv", "sum.json"].map(|name| (name, b"old\n".to_vec()));
    let mut files = old.to_vec();
    files.push(("x.csv", REGISTER.into()));
    let run = Run {
        args: "convert x.csv -o out.csv --summary sum.json",
        files,
        input: None,
    };
    run.fails_at_every_call();
}

#[test]
fn where_a_list_is_out_of_date() {
    let folder = Folder::with("x.csv", REGISTER);
    folder.run(&["convert", "x.csv", "-o", "out.csv"]).status(3);
    let run = Run {
        args: "convert x.csv -o out.csv --sort due",
        files: vec![
            ("out.csv", folder.bytes("out.csv")),
            ("out.review.csv", folder.bytes("out.review.csv")),
            ("x.csv", REGISTER.replace("soon", "2024-03-06").into()),
        ],
        input: None,
    };
    run.fails_at_every_call();
}

#[test]
fn from_standard_input_to_a_workbook() {
    let run = Run {
        args: "convert - -o out.xlsx",
        files: vec![("in", REGISTER.into()), ("out.xlsx", b"old".to_vec())],
        input: Some("in"),
    };
    run.fails_at_every_call();
}

#[test]
fn from_a_workbook_with_rulings_and_answers() {
    let folder = Folder::with("x.csv", REGISTER);
    folder.run(&["convert", "x.csv", "-o", "x.xlsx"]).status(3);
    folder.run(&["settle", "x.xlsx", "-o", "r.toml"]).status(0);
    let list = "file,row,line,column,raw,verdict,reason,readings,resolved\n\
                x.xlsx,2,3,due,soon,unreadable,,,2024-03-06\n";
    let run = Run {
        args: "convert x.xlsx -r r.toml --resolved a.csv -o out.jsonl",
        files: vec![
            ("a.csv", list.into()),
            ("r.toml", folder.bytes("r.toml")),
            ("x.xlsx", folder.bytes("x.xlsx")),
        ],
        input: None,
    };
    run.fails_at_every_call();
}

#[test]
fn of_rulings_and_of_what_is_printed() {
    let files = || vec![("x.csv", REGISTER.into()), ("r.toml", b"# old\n".to_vec())];
    for args in [
        "settle x.csv -o r.toml --replace",
        "convert x.csv",
        "survey x.csv --json",
    ] {
        let run = Run {
            args,
            files: files(),
            input: None,
        };
        run.fails_at_every_call();
    }
}

/// Reads and writes of a few bytes at a time, of files too.
#[test]
fn short_reads_and_writes_change_nothing() {
    let Some(library) = &*LIBRARY else {
        return;
    };
    let folder = Folder::with("x.csv", REGISTER);
    folder.run(&["convert", "x.csv", "-o", "x.xlsx"]).status(3);
    let workbook = folder.bytes("x.xlsx");
    for args in [
        "convert x.csv -o out.csv",
        "convert x.xlsx -o out.xlsx",
        "settle x.csv -o r.toml",
    ] {
        let run = Run {
            args,
            files: vec![("x.csv", REGISTER.into()), ("x.xlsx", workbook.clone())],
            input: None,
        };
        let whole = run.folder();
        let status = run.run(&whole, library, &[]).status;
        for bytes in ["1", "7", "100"] {
            let folder = run.folder();
            let short = run.run(&folder, library, &[("FAIL_SHORT", bytes)]);
            let err = String::from_utf8_lossy(&short.stderr);
            assert_eq!(short.status, status, "{args}, {bytes}: {err}");
            assert!(parts_of(&folder) == parts_of(&whole), "{args}, {bytes}");
        }
    }
}
