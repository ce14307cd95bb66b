//! Clock times ↔ instants: zones of the IANA time zone database, fixed offsets
//! from UTC, and the abbreviations that cells name them by.
//!
//! A local time in a zone is one instant; none, where clocks went forward over
//! it; or two, where they went back:
//!
//! ```
//! use jiff::civil::date;
//! use metachron_core::zone::{Local, Zone};
//!
//! let lisbon: Zone = "Europe/Lisbon".parse()?;
//! let Local::Unique(noon) = lisbon.local(date(2024, 7, 1).at(12, 0, 0, 0)) else { unreachable!() };
//! assert_eq!(noon.to_string(), "2024-07-01T11:00:00Z");
//! assert_eq!(lisbon.offset_at(noon).seconds(), 3600);
//!
//! let twice = lisbon.local(date(2024, 10, 27).at(1, 30, 0, 0));
//! assert!(matches!(twice, Local::Fold(_)));
//! let never = lisbon.local(date(2024, 3, 31).at(1, 30, 0, 0));
//! assert!(matches!(never, Local::Gap(_)));
//!
//! let odrava: Zone = "UTC-05:30".parse()?;
//! assert_eq!(odrava.to_string(), "-05:30");
//! # Ok::<(), metachron_core::zone::NoSuchZone>(())
//! ```

mod abbreviation;
mod database;
mod facts;
mod id;
mod local;
mod named;
mod said;
mod which;

pub(crate) use abbreviation::is_utc;
pub use abbreviation::{abbreviation, abbreviation_of_mail, zones_called};
pub use database::{ZoneData, use_zone_data, zone_data, zone_ids};
pub use facts::{ZoneChange, ZoneFacts};
pub(crate) use id::id_len;
pub use local::{Local, OffsetSpans};
pub(crate) use local::{local_in, offset_in};
pub use named::{NoSuchZone, Zone, Zones};
pub(crate) use named::{write_offset, written};
pub(crate) use said::SaidZones;
pub(crate) use said::named as zone_named;
pub use which::WhichInstant;
