//! Zones that the cells of a column say, row by row.

use super::{NoSuchZone, OffsetSpans, Zone, Zones};
use std::sync::Arc;

/// The zones that texts name, each looked up once.
///
/// ```
/// use metachron_core::zone::{SaidZones, Zones};
/// use std::sync::Arc;
///
/// let names = Zones::from([("Lisbon office".to_owned(), "Europe/Lisbon".parse()?)]);
/// let mut said = SaidZones::new(Arc::new(names));
/// assert_eq!(said.zone(" Lisbon office ").unwrap().0.name(), "Europe/Lisbon");
/// assert_eq!(said.zone("+0200").unwrap().0.name(), "+02:00");
/// assert!(said.zone("Odrava").is_none());
/// # Ok::<(), metachron_core::zone::NoSuchZone>(())
/// ```
#[derive(Clone, Debug)]
pub struct SaidZones {
    names: Arc<Zones>,
    known: Vec<(String, Option<(Zone, OffsetSpans)>)>,
    last: usize,
}

/// More different texts than this are not remembered: they are no zones.
const MOST_TEXTS: usize = 1024;

impl SaidZones {
    /// Zones by `names` of one's own, and by those that all the world has.
    pub fn new(names: Arc<Zones>) -> SaidZones {
        SaidZones {
            names,
            known: Vec::new(),
            last: 0,
        }
    }

    /// The zone that a text says.
    #[inline]
    pub fn zone(&mut self, text: &str) -> Option<&mut (Zone, OffsetSpans)> {
        if self
            .known
            .get(self.last)
            .is_none_or(|(known, _)| known != text)
        {
            self.last = self.index(text);
        }
        self.known[self.last].1.as_mut()
    }

    #[cold]
    fn index(&mut self, text: &str) -> usize {
        if let Some(index) = self.known.iter().position(|(known, _)| known == text) {
            return index;
        }
        if self.known.len() == MOST_TEXTS {
            self.known.clear();
        }
        let zone = named(text, &self.names).ok();
        let zone = zone.map(|zone| (zone, OffsetSpans::default()));
        self.known.push((text.to_owned(), zone));
        self.known.len() - 1
    }
}

/// The zone that `text` says: by a name of one's own, else by one that all the
/// world has.
pub(crate) fn named(text: &str, names: &Zones) -> Result<Zone, NoSuchZone> {
    let text = text.trim();
    match names.get(text) {
        Some(zone) => Ok(zone.clone()),
        None => text.parse(),
    }
}
