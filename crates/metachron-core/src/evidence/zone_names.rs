//! Abbreviations of zones that several offsets go by.

use super::Example;
use crate::form::Conventions;
use crate::lex::Lexed;
use crate::reading::Readings;
use crate::zone::zones_called;
use std::collections::BTreeMap;

/// At most so many different abbreviations are kept; there are a few dozen.
const MOST: usize = 64;

/// The abbreviations of a column that nobody said the zone of, as they are written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ZoneNameTally(BTreeMap<String, CellsOfZone>);

/// The cells with such an abbreviation.
#[derive(Clone, Debug, PartialEq)]
pub struct CellsOfZone {
    /// How many there are.
    pub count: u64,
    /// The first of them.
    pub first: Example,
    /// How many would be instants in each of the zones that may be meant, in the
    /// order of [`zones_called`]: in summer, no clock shows the abbreviation of
    /// winter.
    pub read_in: Vec<u64>,
}

impl ZoneNameTally {
    /// The abbreviations, and the cells with each.
    pub fn iter(&self) -> impl Iterator<Item = (&str, &CellsOfZone)> {
        self.0.iter().map(|(name, cells)| (name.as_str(), cells))
    }

    /// Takes a cell in, whose zone is not known.
    pub(super) fn add(
        &mut self,
        cell: &Lexed<'_>,
        readings: &Readings,
        conventions: Conventions,
        first: impl FnOnce() -> Example,
    ) {
        let mut readers = readings
            .candidates()
            .iter()
            .map(|candidate| &candidate.reader);
        let Some((reader, name)) =
            readers.find_map(|reader| Some((reader, reader.zone_name(cell)?)))
        else {
            return;
        };
        let reads = zones_called(name).iter().map(|zone| {
            let stamp = reader.read_in_zone(cell, conventions, zone);
            u64::from(stamp.is_ok())
        });
        if self.0.len() == MOST && !self.0.contains_key(name) {
            return;
        }
        self.put(
            name,
            CellsOfZone {
                count: 1,
                read_in: reads.collect(),
                first: first(),
            },
        );
    }

    fn put(&mut self, name: &str, more: CellsOfZone) {
        match self.0.get_mut(name) {
            Some(cells) => {
                cells.count += more.count;
                for (known, more) in cells.read_in.iter_mut().zip(more.read_in) {
                    *known += more;
                }
            }
            None => {
                self.0.insert(name.to_owned(), more);
            }
        }
    }

    pub(super) fn merge(&mut self, later: ZoneNameTally, by: u64) {
        for (name, more) in later.0 {
            let first = more.first.clone().moved(by);
            self.put(&name, CellsOfZone { first, ..more });
        }
    }
}
