//! A folder of its own for each test, and the program run in it.

use assert_cmd::Command;
use std::fs;
use std::path::PathBuf;
use tempfile::TempDir;

/// A fresh folder.
pub struct Folder {
    dir: TempDir,
}

/// What a run left behind.
#[derive(Debug)]
pub struct Run {
    pub status: i32,
    pub out: String,
    pub err: String,
}

impl Folder {
    pub fn new() -> Folder {
        Folder {
            dir: TempDir::new().unwrap(),
        }
    }

    /// A folder with one file.
    pub fn with(name: &str, content: impl AsRef<[u8]>) -> Folder {
        let folder = Folder::new();
        folder.write(name, content);
        folder
    }

    pub fn path(&self, name: &str) -> PathBuf {
        self.dir.path().join(name)
    }

    pub fn write(&self, name: &str, content: impl AsRef<[u8]>) {
        fs::write(self.path(name), content).unwrap();
    }

    pub fn read(&self, name: &str) -> String {
        String::from_utf8(self.bytes(name)).unwrap()
    }

    pub fn bytes(&self, name: &str) -> Vec<u8> {
        fs::read(self.path(name)).unwrap_or_else(|error| panic!("{name}: {error}"))
    }

    /// The names of all files, in order.
    pub fn files(&self) -> Vec<String> {
        let entries = fs::read_dir(self.dir.path()).unwrap();
        let mut names: Vec<String> = entries
            .map(|entry| entry.unwrap().file_name().into_string().unwrap())
            .collect();
        names.sort();
        names
    }

    /// Runs `metachron` with these words.
    pub fn run(&self, args: &[&str]) -> Run {
        self.run_with(args, "")
    }

    /// The same, with text on standard input.
    pub fn run_with(&self, args: &[&str], input: impl Into<Vec<u8>>) -> Run {
        let output = Command::cargo_bin("metachron")
            .unwrap()
            .args(args)
            .current_dir(self.dir.path())
            .write_stdin(input)
            .output()
            .unwrap();
        Run {
            status: output.status.code().expect("not ended by a signal"),
            out: String::from_utf8(output.stdout).unwrap(),
            err: String::from_utf8(output.stderr).unwrap(),
        }
    }
}

impl Run {
    /// The run, which must have ended so.
    #[track_caller]
    pub fn status(self, wanted: i32) -> Run {
        assert_eq!(self.status, wanted, "{}\n{}", self.out, self.err);
        self
    }

    /// What was printed, as JSON.
    pub fn json(&self) -> serde_json::Value {
        serde_json::from_str(&self.out).unwrap()
    }
}

/// Whether all of `wanted` stand in `text`.
#[track_caller]
pub fn holds(text: &str, wanted: &[&str]) {
    for piece in wanted {
        assert!(text.contains(piece), "no {piece:?} in:\n{text}");
    }
}

/// Converts a one-column table with `options`; what stands below the header.
pub fn converted(cells: &[&str], options: &[&str]) -> Vec<String> {
    converted_as("when", cells, options)
}

/// The same of a column of this name.
pub fn converted_as(name: &str, cells: &[&str], options: &[&str]) -> Vec<String> {
    let folder = Folder::with(
        "x.tsv",
        format!("{name}\tother\n{}\tx\n", cells.join("\tx\n")),
    );
    let mut args = vec!["convert", "x.tsv", "--to", "tsv"];
    args.extend(options);
    let run = folder.run(&args);
    let lines = run.out.lines().skip(1);
    lines
        .map(|line| line.split('\t').next().unwrap_or_default().to_owned())
        .collect()
}

/// A table of one column `name`, with `odd` on its seventh row.
pub fn with_odd(name: &str, odd: &str, cell: impl Fn(i64) -> String) -> Folder {
    let rows = (0..120).map(|number| match number {
        6 => odd.to_owned(),
        _ => cell(number),
    });
    let rows: Vec<String> = rows.collect();
    Folder::with("in.csv", format!("{name}\n{}\n", rows.join("\n")))
}
