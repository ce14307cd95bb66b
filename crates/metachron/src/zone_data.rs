//! The time zone database of `--zone-data`.

use anyhow::bail;
use jiff::tz::TimeZoneDatabase;
use metachron_core::zone::{ZoneData, use_zone_data};
use std::fs;
use std::path::{Path, PathBuf};

/// More files than any database has, with those of its older forms: 5,500.
const MOST_FILES: usize = 20_000;

/// Uses the database in a folder from now on.
pub fn use_folder(folder: &Path) -> anyhow::Result<()> {
    check(folder)?;
    let zones = TimeZoneDatabase::from_dir(folder)?;
    // The first line of `tzdata.zi` names the release, as the database's makers
    // hand it out.
    let text = fs::read_to_string(folder.join("tzdata.zi")).unwrap_or_default();
    let first = text.lines().next().unwrap_or_default();
    let release = first.strip_prefix("# version ").map(str::to_owned);
    use_zone_data(zones, ZoneData::Folder(folder.to_owned(), release))?;
    Ok(())
}

/// Refuses a folder that is no database: each of its files is opened, wherever it stands
/// below, and a pipe has no end to wait for.
fn check(folder: &Path) -> anyhow::Result<()> {
    let no_database = "it is no time zone database";
    let mut folders = vec![PathBuf::from(folder)];
    let mut files = 0;
    while let Some(folder) = folders.pop() {
        // What cannot be read is the library's to say.
        for entry in fs::read_dir(&folder).into_iter().flatten().flatten() {
            files += 1;
            if files > MOST_FILES {
                bail!("{no_database}: it has more than 20,000 files");
            }
            // A link to a folder is not followed, and one to a file is.
            if entry.file_type().is_ok_and(|kind| kind.is_dir()) {
                folders.push(entry.path());
                continue;
            }
            let meta = fs::metadata(entry.path());
            if meta.is_ok_and(|meta| !meta.is_file() && !meta.is_dir()) {
                bail!("{no_database}: {} is no file", entry.path().display());
            }
        }
    }
    Ok(())
}
