//! A folder that holds the rulings of many sources.

use super::open::{declare, read_rulings};
use crate::cli::TableArgs;
use crate::words::{count, list};
use anyhow::Context;
use metachron_table::{Source, Table};
use std::path::{Path, PathBuf};

/// The rulings file in `folder` all of whose columns `input` has. Where none fits, or several
/// do, nothing is guessed.
pub fn choose(folder: &Path, input: &Path, table: &TableArgs) -> anyhow::Result<PathBuf> {
    let (shown, name) = (folder.display(), input.display());
    let all = rulings_in(folder)?;
    let sources = vec![Source::file(input)?];
    let mut fitting = Vec::new();
    let (mut is_read, mut unread) = (false, None);
    for path in &all {
        let rulings = read_rulings(path)?;
        let declared = declare(table, Some(&rulings), Some(path), &sources)?;
        // Written otherwise than the rulings say, it may be no table.
        let opened = match Table::open(sources.clone(), &declared) {
            Ok(opened) => opened,
            Err(why) => {
                unread = unread.or(Some(why));
                continue;
            }
        };
        is_read = true;
        let columns = opened.columns();
        let mut ruled = rulings.column.keys();
        if !rulings.column.is_empty() && ruled.all(|ruled| columns.contains(ruled)) {
            fitting.push(path);
        }
    }
    if let Some(why) = unread.filter(|_| !is_read) {
        return Err(why.into());
    }
    match &fitting[..] {
        [path] => Ok((*path).clone()),
        [] => anyhow::bail!(
            "{name}: none of {} in {shown} is for its columns; settle it, or name its rulings \
             with -r",
            count(all.len() as u64, "rulings file")
        ),
        several => {
            let names = several.iter().map(|path| path.display().to_string());
            let names = list(&names.collect::<Vec<_>>(), "and");
            anyhow::bail!("{name}: {names} are all for columns that it has; name one with -r")
        }
    }
}

fn rulings_in(folder: &Path) -> anyhow::Result<Vec<PathBuf>> {
    let name = folder.display().to_string();
    let mut files = Vec::new();
    for entry in std::fs::read_dir(folder).context(name.clone())? {
        let path = entry.context(name.clone())?.path();
        if path.is_file() && path.extension().is_some_and(|end| end == "toml") {
            files.push(path);
        }
    }
    files.sort();
    if files.is_empty() {
        anyhow::bail!("{name} holds no rulings files (.toml)");
    }
    Ok(files)
}
