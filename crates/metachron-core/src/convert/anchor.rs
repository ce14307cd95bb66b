//! Local times of a column, put onto the world's time line.

use super::{Around, Look};
use crate::form::Impossible;
use crate::rulings::{ReadRuling, in_words};
use crate::stamp::Stamp;
use crate::verdict::{Note, Sort, Verdict};
use crate::zone::{self, Local, SaidZones, Stretches, WhichInstant, Zone, Zones};
use jiff::Timestamp;
use jiff::civil::DateTime;
use std::sync::Arc;

/// Where the zone of a column's local times is said, and what is made of those
/// that are no single instant.
#[derive(Clone, Debug)]
pub(super) struct Anchor {
    from: From,
    in_gap: WhichInstant,
    in_overlap: WhichInstant,
}

#[derive(Clone, Debug)]
enum From {
    /// One for all rows.
    Column(Zone, Stretches),
    /// Row by row, from the text at this place, which is of that column.
    Row(usize, String, SaidZones),
}

/// What a local time is on the world's time line.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum Anchored {
    /// This instant.
    At(Timestamp),
    /// This one, which the ruling chose from two.
    Chosen(Timestamp),
    /// One of two, because clocks went back.
    Twice([Timestamp; 2]),
    /// None, because clocks went forward: these are near.
    Never([Timestamp; 2]),
    /// Beyond those that can be reckoned with.
    OutOfRange,
    /// The row does not say its zone.
    NoZone,
}

impl Anchor {
    /// That of a column, if its ruling has a zone. The zone of each row is
    /// among the texts at `place`, where the ruling says so.
    pub(super) fn of(
        read: &ReadRuling,
        zones: &Zones,
        place: impl FnOnce(&str) -> usize,
    ) -> Option<Anchor> {
        let from = match (&read.zone, &read.zone_from) {
            (Some(zone), _) => From::Column(zone.clone(), Stretches::default()),
            (None, Some(column)) => From::Row(
                place(column),
                column.clone(),
                SaidZones::new(Arc::new(zones.clone())),
            ),
            (None, None) => return None,
        };
        Some(Anchor {
            from,
            in_gap: read.in_gap,
            in_overlap: read.in_overlap,
        })
    }

    /// Whether the zone hangs on the row.
    pub(super) fn is_by_row(&self) -> bool {
        matches!(self.from, From::Row(..))
    }

    /// What the local time `at` of a row is.
    #[inline]
    pub(super) fn anchor(&mut self, at: DateTime, around: &Around<'_>) -> Anchored {
        let found = match &mut self.from {
            From::Column(zone, stretch) => stretch.local(zone, at),
            From::Row(place, _, said) => {
                let text = around.texts.get(*place).map_or("", String::as_str);
                match said.zone(text) {
                    Some((zone, stretch)) => stretch.local(zone, at),
                    None => return Anchored::NoZone,
                }
            }
        };
        let chosen = |which: WhichInstant, both| which.of(both).map(Anchored::Chosen);
        match found {
            Local::Once(at) => Anchored::At(at),
            Local::Twice(both) => chosen(self.in_overlap, both).unwrap_or(Anchored::Twice(both)),
            Local::Never(both) => chosen(self.in_gap, both).unwrap_or(Anchored::Never(both)),
            Local::OutOfRange => Anchored::OutOfRange,
        }
    }

    /// The verdict on a cell that was read as `stamp`, and its instant.
    #[inline]
    pub(super) fn put(
        &mut self,
        verdict: Verdict,
        stamp: Stamp,
        around: &Around<'_>,
    ) -> (Verdict, Option<Stamp>) {
        let Stamp::DateTime(at) = stamp else {
            return (verdict, Some(stamp));
        };
        // Most times are in a stretch where others were.
        if let From::Column(_, stretches) = &mut self.from
            && let Some(at) = stretches.known(at)
        {
            return (verdict, Some(Stamp::Instant(at)));
        }
        match self.anchor(at, around) {
            Anchored::At(at) => (verdict, Some(Stamp::Instant(at))),
            Anchored::Chosen(at) => (Verdict::Settled, Some(Stamp::Instant(at))),
            _ => (Verdict::Open, None),
        }
    }

    /// The same of a look. A time that was twice has two readings, of which
    /// the rest of the table may leave one.
    pub(super) fn look(&mut self, look: Look, around: &Around<'_>) -> Look {
        match look {
            Look::One {
                verdict,
                stamp: Stamp::DateTime(at),
                decisive,
            } => match self.anchor(at, around) {
                Anchored::At(at) => Look::One {
                    verdict,
                    stamp: Stamp::Instant(at),
                    decisive,
                },
                Anchored::Chosen(at) => Look::One {
                    verdict: Verdict::Settled,
                    stamp: Stamp::Instant(at),
                    decisive,
                },
                Anchored::Twice(both) => Look::Several {
                    form: None,
                    stamps: both.map(Stamp::Instant).to_vec(),
                    orders: vec![None; 2],
                },
                _ => Look::Nothing(Verdict::Open),
            },
            Look::Several {
                form,
                stamps,
                orders,
            } => {
                let (mut instants, mut of_orders) = (Vec::new(), Vec::new());
                for (stamp, order) in stamps.into_iter().zip(orders) {
                    let Stamp::DateTime(at) = stamp else {
                        instants.push(stamp);
                        of_orders.push(order);
                        continue;
                    };
                    let found = match self.anchor(at, around) {
                        Anchored::At(at) | Anchored::Chosen(at) => vec![at],
                        Anchored::Twice(both) => both.to_vec(),
                        // Which reading is right hangs on more than its place.
                        _ => return Look::Nothing(Verdict::Open),
                    };
                    of_orders.extend(found.iter().map(|_| order));
                    instants.extend(found.into_iter().map(Stamp::Instant));
                }
                Look::Several {
                    form,
                    stamps: instants,
                    orders: of_orders,
                }
            }
            other => other,
        }
    }

    /// Why a local time of a row has no instant, and what it could be.
    pub(super) fn note(&mut self, at: DateTime, around: &Around<'_>) -> Note {
        let found = self.anchor(at, around);
        let name = match &self.from {
            From::Column(zone, _) => zone.to_string(),
            From::Row(place, ..) => around.texts.get(*place).cloned().unwrap_or_default(),
        };
        let (sort, reason, readings) = match found {
            Anchored::Twice(instants) => (
                Sort::InOverlap,
                format!("clocks in {name} went back over that time: it was twice"),
                zone::in_words(instants),
            ),
            Anchored::Never(instants) => (
                Sort::InGap,
                format!("clocks in {name} went forward over that time: it never was"),
                zone::in_words(instants),
            ),
            Anchored::NoZone => (Sort::NoZone, self.no_zone(around), vec![at.to_string()]),
            Anchored::OutOfRange | Anchored::At(_) | Anchored::Chosen(_) => {
                let reason = Impossible::OutOfRange.to_string();
                (Sort::Impossible, reason, vec![at.to_string()])
            }
        };
        Note {
            verdict: Verdict::Open,
            sort,
            reason,
            readings,
        }
    }

    fn no_zone(&self, around: &Around<'_>) -> String {
        let From::Row(place, column, _) = &self.from else {
            return String::new();
        };
        let column = in_words(column);
        let text = around.texts.get(*place).map_or("", String::as_str).trim();
        if text.is_empty() {
            return format!("{column} is empty in its row, and would say the zone");
        }
        match text.parse::<Zone>() {
            Ok(_) => String::new(),
            Err(why) => format!("{column}: {why}; [zones] can say which zone it is"),
        }
    }
}
