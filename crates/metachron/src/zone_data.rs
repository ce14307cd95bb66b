//! The time zone database of `--zone-data`.

use jiff::tz::TimeZoneDatabase;
use metachron_core::zone::{ZoneData, use_zone_data};
use std::path::Path;

/// Uses the database in a folder from now on.
pub fn use_folder(folder: &Path) -> anyhow::Result<()> {
    let zones = TimeZoneDatabase::from_dir(folder)?;
    // The first line of `tzdata.zi` names the release, as the database's makers
    // hand it out.
    let text = std::fs::read_to_string(folder.join("tzdata.zi")).unwrap_or_default();
    let first = text.lines().next().unwrap_or_default();
    let release = first.strip_prefix("# version ").map(str::to_owned);
    use_zone_data(zones, ZoneData::Folder(folder.to_owned(), release))?;
    Ok(())
}
