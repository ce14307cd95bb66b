//! Zones that the cells of a column say, row by row.

use super::{NoSuchZone, OffsetSpans, Zone, Zones};
use std::sync::Arc;

/// The zones that texts name, each looked up once.
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_of_ones_own_come_first() {
        let lisbon = "Europe/Lisbon".parse().unwrap();
        let names = Zones::from([("Lisbon office".to_owned(), lisbon)]);
        let mut said = SaidZones::new(Arc::new(names));
        let mut name = |text: &str| said.zone(text).map(|(zone, _)| zone.name().to_owned());
        assert_eq!(name(" Lisbon office ").as_deref(), Some("Europe/Lisbon"));
        assert_eq!(name("+0200").as_deref(), Some("+02:00"));
        assert_eq!(name("Odrava"), None);
    }
}
