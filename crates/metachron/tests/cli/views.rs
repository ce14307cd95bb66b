//! What people and scripts are shown, kept by snapshots. After a change that is
//! meant: `cargo insta review`, or `INSTA_UPDATE=always cargo test`.

use crate::harness::Folder;
use std::path::Path;

const NOW: [&str; 2] = ["--now", "2026-11-28T12:00:00Z"];

/// A folder with these files of the demo.
fn demo(files: &[&str]) -> Folder {
    let folder = Folder::new();
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    for file in files {
        folder.write(file, std::fs::read(demo.join(file)).unwrap());
    }
    folder
}

#[test]
fn help() {
    let commands = [
        "survey",
        "settle",
        "convert",
        "explain",
        "locales",
        "zones",
        "demo",
        "completions",
    ];
    for command in commands {
        let run = Folder::new().run(&[command, "--help"]).status(0);
        insta::assert_snapshot!(format!("help-{command}"), run.out);
    }
}

#[test]
fn surveys() {
    let folder = demo(&["loans.csv", "returns.csv"]);
    let run = folder.run(&[&["survey", "loans.csv"], &NOW[..]].concat());
    insta::assert_snapshot!("survey-loans", run.status(3).out);
    let run = folder.run(&[&["survey", "returns.csv", "--why"], &NOW[..]].concat());
    insta::assert_snapshot!("why-returns", run.out);
}

#[test]
fn json() {
    let folder = demo(&["loans.csv"]);
    let run = folder.run(&[&["survey", "loans.csv", "--json"], &NOW[..]].concat());
    insta::assert_snapshot!("survey-loans-json", run.status(3).out);
    let convert = ["convert", "loans.csv", "-o", "out.csv", "--json"];
    let run = folder.run(&[&convert, &NOW[..]].concat());
    insta::assert_snapshot!("convert-loans-json", run.status(3).out);
    let run = folder.run(&[&["explain", "03/04/05", "--json"], &NOW[..]].concat());
    insta::assert_snapshot!("explain-json", run.status(3).out);
}

#[test]
fn rulings() {
    let folder = demo(&["loans.csv"]);
    let run = folder.run(&[&["settle", "loans.csv"], &NOW[..]].concat());
    insta::assert_snapshot!("rulings-loans", run.status(3).out);
}
