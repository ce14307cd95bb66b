//! What INPUT… stands for: files, folders of them, and patterns of their names.

use crate::outcome::usage;
use anyhow::Context;
use metachron_table::DatabaseAddress;
use std::path::{Path, PathBuf};

/// The files that `inputs` stand for: a folder for the tables in it, a pattern (`exports/*.csv`)
/// that is no file for those that match it, each time in the order of their names.
pub fn files(inputs: &[PathBuf]) -> anyhow::Result<Vec<PathBuf>> {
    let mut files = Vec::with_capacity(inputs.len());
    for input in inputs {
        if is_address(input) {
            files.push(input.clone());
        } else if input.is_dir() {
            files.extend(in_folder(input)?);
        } else if is_pattern(input) && !input.exists() {
            files.extend(matching(input)?);
        } else {
            files.push(input.clone());
        }
    }
    Ok(files)
}

/// The tables in a folder, not those in folders within: neither hidden files, nor rulings,
/// nor review lists.
fn in_folder(folder: &Path) -> anyhow::Result<Vec<PathBuf>> {
    let name = folder.display().to_string();
    let mut files = Vec::new();
    for entry in std::fs::read_dir(folder).context(name.clone())? {
        let path = entry.context(name.clone())?.path();
        let file = path.file_name().unwrap_or_default().to_string_lossy();
        let is_ours = file.ends_with(".toml") || file.ends_with(".review.csv");
        if path.is_file() && !is_ours && !file.starts_with('.') {
            files.push(path);
        }
    }
    if files.is_empty() {
        anyhow::bail!("{name} is a folder without tables");
    }
    files.sort();
    Ok(files)
}

/// Whether `input` is the address of a database, and no path.
pub fn is_address(input: &Path) -> bool {
    input
        .to_str()
        .is_some_and(|text| DatabaseAddress::parse(text).is_some())
}

fn is_pattern(path: &Path) -> bool {
    let text = path.to_string_lossy();
    text.contains(['*', '?', '['])
}

fn matching(pattern: &Path) -> anyhow::Result<Vec<PathBuf>> {
    let text = pattern.to_string_lossy();
    let found = glob::glob(&text).map_err(|why| usage(format!("{text}: {why}")))?;
    let mut files = Vec::new();
    for path in found {
        let path = path.with_context(|| text.clone().into_owned())?;
        if path.is_file() {
            files.push(path);
        }
    }
    if files.is_empty() {
        anyhow::bail!("no file matches {text}");
    }
    Ok(files)
}
