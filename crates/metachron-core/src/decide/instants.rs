//! Local times of a column, put onto the world's time line.

use super::Verdict;
use super::decision::{Alternative, Decision, Reason};
use super::{OwnReading, RowContext, SeveralReadings};
use crate::rulings::ReadRuling;
use crate::stamp::Stamp;
use crate::zone::{Local, OffsetSpans, SaidZones, WhichInstant, Zone, Zones};
use jiff::Timestamp;
use jiff::civil::DateTime;
use smallvec::SmallVec;
use std::sync::Arc;

/// Where the zone of a column's local times is said, and what is made of those
/// that are no single instant.
#[derive(Clone, Debug)]
pub(super) struct InstantResolver {
    from: From,
    in_gap: WhichInstant,
    in_overlap: WhichInstant,
}

#[derive(Clone, Debug)]
enum From {
    /// One for all rows.
    Column(Zone, OffsetSpans),
    /// Row by row, from the text at this index, which is of that column.
    Row(usize, String, SaidZones),
}

/// What a local time is on the world's time line.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum ResolvedInstant {
    /// This instant.
    At(Timestamp),
    /// This one, which the ruling chose from two.
    Chosen(Timestamp),
    /// One of two, because clocks went back.
    Fold([Timestamp; 2]),
    /// None, because clocks went forward: these are near.
    Gap([Timestamp; 2]),
    /// Beyond those that can be computed with.
    OutOfRange,
    /// The row does not say its zone.
    NoZone,
}

impl InstantResolver {
    /// That of a column, if its ruling has a zone. The zone of each row is
    /// among the texts at this index, where the ruling says so.
    pub(super) fn of(
        read: &ReadRuling,
        zones: &Zones,
        index: impl FnOnce(&str) -> usize,
    ) -> Option<InstantResolver> {
        let from = match (&read.zone, &read.zone_from) {
            (Some(zone), _) => From::Column(zone.clone(), OffsetSpans::default()),
            (None, Some(column)) => From::Row(
                index(column),
                column.clone(),
                SaidZones::new(Arc::new(zones.clone())),
            ),
            (None, None) => return None,
        };
        Some(InstantResolver {
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
    pub(super) fn instants(&mut self, at: DateTime, context: &RowContext<'_>) -> ResolvedInstant {
        let found = match &mut self.from {
            From::Column(zone, spans) => spans.local(zone, at),
            From::Row(index, _, said) => {
                let text = context.texts.get(*index).map_or("", String::as_str);
                match said.zone(text) {
                    Some((zone, spans)) => spans.local(zone, at),
                    None => return ResolvedInstant::NoZone,
                }
            }
        };
        let chosen = |which: WhichInstant, both| which.of(both).map(ResolvedInstant::Chosen);
        match found {
            Local::Unique(at) => ResolvedInstant::At(at),
            Local::Fold(both) => {
                chosen(self.in_overlap, both).unwrap_or(ResolvedInstant::Fold(both))
            }
            Local::Gap(both) => chosen(self.in_gap, both).unwrap_or(ResolvedInstant::Gap(both)),
            Local::OutOfRange => ResolvedInstant::OutOfRange,
        }
    }

    /// The verdict on a cell that was read as `stamp`, and its instant.
    #[inline]
    pub(super) fn put(
        &mut self,
        verdict: Verdict,
        stamp: Stamp,
        context: &RowContext<'_>,
    ) -> (Verdict, Option<Stamp>) {
        let Stamp::DateTime(at) = stamp else {
            return (verdict, Some(stamp));
        };
        // Most times are in a span where others were.
        if let From::Column(_, offset_spans) = &mut self.from
            && let Some(at) = offset_spans.known(at)
        {
            return (verdict, Some(Stamp::Instant(at)));
        }
        match self.instants(at, context) {
            ResolvedInstant::At(at) => (verdict, Some(Stamp::Instant(at))),
            ResolvedInstant::Chosen(at) => (Verdict::Settled, Some(Stamp::Instant(at))),
            _ => (Verdict::Open, None),
        }
    }

    /// The same of a look. A time that was twice has two readings, of which
    /// the rest of the table may leave one.
    pub(super) fn own_reading(
        &mut self,
        own_reading: OwnReading,
        context: &RowContext<'_>,
    ) -> OwnReading {
        match own_reading {
            OwnReading::One {
                verdict,
                stamp: Stamp::DateTime(at),
                decisive,
            } => match self.instants(at, context) {
                ResolvedInstant::At(at) => OwnReading::One {
                    verdict,
                    stamp: Stamp::Instant(at),
                    decisive,
                },
                ResolvedInstant::Chosen(at) => OwnReading::One {
                    verdict: Verdict::Settled,
                    stamp: Stamp::Instant(at),
                    decisive,
                },
                ResolvedInstant::Fold(both) => OwnReading::Several(SeveralReadings {
                    form: None,
                    stamps: both.map(Stamp::Instant).into(),
                    hypotheses: [None; 2].into(),
                }),
                _ => OwnReading::Nothing(Verdict::Open),
            },
            OwnReading::Several(several) => {
                let (mut instants, mut of_each) = (SmallVec::new(), SmallVec::new());
                for (stamp, hypothesis) in several.iter() {
                    let Stamp::DateTime(at) = stamp else {
                        instants.push(stamp);
                        of_each.push(hypothesis);
                        continue;
                    };
                    let found = match self.instants(at, context) {
                        ResolvedInstant::At(at) | ResolvedInstant::Chosen(at) => vec![at],
                        ResolvedInstant::Fold(both) => both.to_vec(),
                        // Which reading is right hangs on more than its place.
                        _ => return OwnReading::Nothing(Verdict::Open),
                    };
                    of_each.extend(found.iter().map(|_| hypothesis));
                    instants.extend(found.into_iter().map(Stamp::Instant));
                }
                OwnReading::Several(SeveralReadings {
                    form: several.form,
                    stamps: instants,
                    hypotheses: of_each,
                })
            }
            other => other,
        }
    }

    /// Why a local time of a row has no instant, and what it could be.
    pub(super) fn decide(&mut self, at: DateTime, context: &RowContext<'_>) -> Decision {
        let found = self.instants(at, context);
        let name = match &self.from {
            From::Column(zone, _) => zone.to_string(),
            From::Row(index, ..) => context.texts.get(*index).cloned().unwrap_or_default(),
        };
        let local = || vec![Alternative::Stamp(Stamp::DateTime(at))];
        let (reason, alternatives) = match found {
            ResolvedInstant::Fold(both) => (Reason::InFold(name), Alternative::both(both)),
            ResolvedInstant::Gap(both) => (Reason::InGap(name), Alternative::both(both)),
            ResolvedInstant::NoZone => (self.no_zone(context), local()),
            ResolvedInstant::OutOfRange | ResolvedInstant::At(_) | ResolvedInstant::Chosen(_) => {
                (Reason::BeyondInstants, local())
            }
        };
        Decision::open(reason, alternatives)
    }

    fn no_zone(&self, context: &RowContext<'_>) -> Reason {
        let From::Row(index, column, _) = &self.from else {
            unreachable!("the zone of a whole column is known")
        };
        let text = context.texts.get(*index).map_or("", String::as_str).trim();
        if text.is_empty() {
            return Reason::ZoneEmpty(column.clone());
        }
        match text.parse::<Zone>() {
            Ok(_) => unreachable!("a zone that has a name is found by it"),
            Err(why) => Reason::ZoneUnknown {
                column: column.clone(),
                why: why.to_string(),
            },
        }
    }
}
