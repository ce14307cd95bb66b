//! Makes the trees of all languages' names, and of the names of zones: to make them when
//! they are first needed took 80 ms a process.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;
use std::path::Path;

/// The names of every language: language, number of the meaning, words.
const NAMES: &str = "data/names.tsv";

/// The long names of zones: minutes from UTC, a zone whose clocks change or none, names.
const ZONE_NAMES: &str = "data/zone-names.tsv";

/// What stands for all languages at once, and for halves of the day in one or two
/// letters.
const ALL: &str = "*";
const SHORT_HALVES: &str = "*half";

type Made = Result<(), Box<dyn std::error::Error>>;

fn main() -> Made {
    for file in [NAMES, ZONE_NAMES, "build.rs"] {
        println!("cargo::rerun-if-changed={file}");
    }
    let out = std::env::var("OUT_DIR")?;
    names(Path::new(&out))?;
    zone_names(Path::new(&out))
}

/// A name's number is that of its line, from 1; the lines are kept without the names.
fn zone_names(out: &Path) -> Made {
    let text = std::fs::read_to_string(ZONE_NAMES)?;
    let mut names: BTreeMap<&str, u64> = BTreeMap::new();
    let mut offsets: Vec<(i32, &str)> = Vec::new();
    for line in text.lines().filter(|line| !line.starts_with('#')) {
        let parts: Vec<&str> = line.split('\t').collect();
        let [minutes, zone, own] = parts[..] else {
            return Err(format!("{ZONE_NAMES}: `{line}` has no three parts").into());
        };
        offsets.push((minutes.parse()?, zone));
        let number = offsets.len() as u64;
        names.extend(own.split('|').map(|name| (name, number)));
    }
    let tree = fst::Map::from_iter(names)?;
    std::fs::write(out.join("zone-names.fst"), tree.as_fst().as_bytes())?;
    let source = format!("const OFFSETS: &[(i32, &str)] = &{offsets:?};\n");
    std::fs::write(out.join("zone_offsets.rs"), source)?;
    Ok(())
}

fn names(out: &Path) -> Made {
    let text = std::fs::read_to_string(NAMES)?;
    let mut languages: BTreeMap<&str, BTreeMap<&str, u64>> = BTreeMap::new();
    for line in text.lines().filter(|line| !line.starts_with('#')) {
        let parts: Vec<&str> = line.split('\t').collect();
        let [language, code, words] = parts[..] else {
            return Err(format!("{NAMES}: `{line}` has no three parts").into());
        };
        let code: u64 = code.parse()?;
        let own = languages.entry(language).or_default();
        own.extend(words.split('|').map(|word| (word, code)));
    }
    let short_halves = languages.remove(SHORT_HALVES).unwrap_or_default();
    let before_digits: BTreeSet<&str> = languages[ALL]
        .keys()
        .filter_map(|name| Some(&name[..name.find(|letter: char| letter.is_ascii_digit())?]))
        .collect();
    let mut trees: Vec<u8> = Vec::new();
    let mut spans: BTreeMap<&str, std::ops::Range<usize>> = BTreeMap::new();
    for (language, names) in languages {
        let tree = fst::Map::from_iter(names)?;
        let start = trees.len();
        trees.extend(tree.as_fst().as_bytes());
        spans.insert(language, start..trees.len());
    }
    let all = spans.remove(ALL).ok_or("no names of all languages")?;
    let mut source = String::new();
    writeln!(source, "const ALL: std::ops::Range<usize> = {all:?};")?;
    writeln!(
        source,
        "const SHORT_HALVES: &[(&str, u64)] = &{:?};",
        Vec::from_iter(short_halves)
    )?;
    writeln!(
        source,
        "const BEFORE_DIGITS: &[&str] = &{:?};",
        Vec::from_iter(before_digits)
    )?;
    writeln!(
        source,
        "const LANGUAGES: &[(&str, std::ops::Range<usize>)] = &{:?};",
        Vec::from_iter(spans)
    )?;
    std::fs::write(out.join("name-trees.fst"), trees)?;
    std::fs::write(out.join("name_trees.rs"), source)?;
    Ok(())
}
