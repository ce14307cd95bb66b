//! Names and abbreviations of zones that several offsets go by.

use super::Example;
use super::shape::{Hint, far_year};
use crate::form::Conventions;
use crate::lex::Lexed;
use crate::locale::zones_meant;
use crate::reading::{Outcome, Readings, Stamps};
use crate::zone::Zones;
use std::collections::BTreeMap;

/// At most so many different abbreviations are kept; there are a few dozen.
const MOST: usize = 64;

/// The abbreviations in the cells of a shape that nobody said the zone of, as they are
/// written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ZoneNameTally(BTreeMap<String, CellsOfZone>);

/// The cells with such an abbreviation.
#[derive(Clone, Debug, PartialEq)]
pub struct CellsOfZone {
    /// How many there are.
    pub count: u64,
    /// The first of them.
    pub first: Example,
    /// What they would be in each of the zones that may be meant, in the order of
    /// [`zones_meant`]: in summer, no clock shows the abbreviation of winter.
    pub in_zones: Vec<WouldBe>,
}

/// What cells would be if their zone were known, and how many of them.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct WouldBe(Vec<(Outcome, Hint, u64)>);

impl WouldBe {
    /// What they would be, and how many of them.
    pub fn iter(&self) -> impl Iterator<Item = &(Outcome, Hint, u64)> {
        self.0.iter()
    }

    fn add(&mut self, outcome: Outcome, hint: Hint, cells: u64) {
        let known =
            |(own, own_hint, _): &&mut (Outcome, Hint, u64)| *own == outcome && *own_hint == hint;
        match self.0.iter_mut().find(known) {
            Some((_, _, count)) => *count += cells,
            None => self.0.push((outcome, hint, cells)),
        }
    }
}

impl ZoneNameTally {
    /// The abbreviations, and the cells with each.
    pub fn iter(&self) -> impl Iterator<Item = (&str, &CellsOfZone)> {
        self.0.iter().map(|(name, cells)| (name.as_str(), cells))
    }

    /// Takes in a cell of the shape of `readings`, whose zone is not known.
    pub(super) fn add(
        &mut self,
        cell: &Lexed<'_>,
        readings: &Readings,
        conventions: Conventions,
        first: impl FnOnce() -> Example,
    ) {
        let candidates = readings.candidates().iter();
        let mut names = candidates.filter_map(|candidate| candidate.reader.zone_name(cell));
        let Some(name) = names.next() else { return };
        if !self.0.contains_key(name) {
            if self.0.len() == MOST {
                return;
            }
            let cells = CellsOfZone {
                count: 0,
                first: first(),
                in_zones: vec![WouldBe::default(); zones_meant(name).len()],
            };
            self.0.insert(name.to_owned(), cells);
        }
        let Some(cells) = self.0.get_mut(name) else {
            return;
        };
        cells.count += 1;
        let mut stamps = Stamps::new();
        for (zone, would_be) in zones_meant(name).iter().zip(&mut cells.in_zones) {
            let zones = Zones::from([(name.to_owned(), zone.clone())]);
            let outcome = readings.read_in(Some(&zones), cell, conventions, &mut stamps);
            let hint = far_year(readings, &stamps).unwrap_or(Hint::Plain);
            would_be.add(outcome, hint, 1);
        }
    }

    pub(super) fn merge(&mut self, later: ZoneNameTally, by: u64) {
        for (name, more) in later.0 {
            match self.0.get_mut(&name) {
                Some(cells) => {
                    cells.count += more.count;
                    for (would_be, more) in cells.in_zones.iter_mut().zip(more.in_zones) {
                        for (outcome, hint, count) in more.0 {
                            would_be.add(outcome, hint, count);
                        }
                    }
                }
                None => {
                    let first = more.first.moved(by);
                    self.0.insert(name, CellsOfZone { first, ..more });
                }
            }
        }
    }
}
