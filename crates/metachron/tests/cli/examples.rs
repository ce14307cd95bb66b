//! The examples in `examples/` do what they say.

use crate::harness::{Folder, holds};
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

/// An example, run in `folder` with the built program on the path.
fn example(folder: &Folder, interpreter: &str, name: &str, words: &[&str]) -> Output {
    let path = Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../../examples")
        .join(name);
    let built = Path::new(env!("CARGO_BIN_EXE_metachron")).parent().unwrap();
    let known = std::env::var_os("PATH").unwrap_or_default();
    let mut folders: Vec<PathBuf> = vec![built.to_owned()];
    folders.extend(std::env::split_paths(&known));
    Command::new(interpreter)
        .arg(path)
        .args(words)
        .env("PATH", std::env::join_paths(folders).unwrap())
        .current_dir(folder.path("."))
        .output()
        .unwrap()
}

#[test]
#[cfg(unix)]
fn a_stage_among_standard_programs() {
    let folder = Folder::new();
    let mut gzip = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
    let table = b"object,packed\nSalt cellar,14/03/2025\nMiner's lamp,02/04/2025\nBell,soon\n";
    std::io::Write::write_all(&mut gzip, table).unwrap();
    folder.write("export.csv.gz", gzip.finish().unwrap());
    for _ in 0..2 {
        let output = example(
            &folder,
            "sh",
            "stage.sh",
            &["export.csv.gz", "rulings.toml"],
        );
        assert_eq!(
            output.status.code(),
            Some(3),
            "{}",
            String::from_utf8_lossy(&output.stderr)
        );
        let rows = String::from_utf8(output.stdout).unwrap();
        assert_eq!(rows.lines().count(), 3);
        holds(
            &rows,
            &["{\"object\":\"Miner's lamp\",\"packed\":\"2025-04-02\"}"],
        );
        holds(&folder.read("waiting.csv"), &["soon,unreadable"]);
    }
}

#[test]
fn from_python() {
    let has_arrow = Command::new("python3")
        .args(["-c", "import pyarrow"])
        .output();
    if !has_arrow.is_ok_and(|output| output.status.success()) {
        eprintln!("examples: pyarrow is not installed, so from_python.py is not run");
        return;
    }
    let output = example(&Folder::new(), "python3", "from_python.py", &[]);
    let said = String::from_utf8_lossy(&output.stderr);
    assert!(output.status.success(), "{said}");
    holds(
        &String::from_utf8_lossy(&output.stdout),
        &["packed: date32[day]"],
    );
}
