//! Instants as the clocks of a zone show them, and the way back.

use super::step::{Ran, both, known};
use super::{Put, Row, Step};
use crate::phrase::refusal::Refusal;
use crate::phrase::value::Value;
use crate::stamp::Stamp;
use crate::zone::{Local, OffsetSpans, SaidZones, WhichInstant, Zone, Zones, zone_named};
use std::sync::Arc;

/// Whose clocks.
#[derive(Clone, Debug)]
pub(crate) enum Clock {
    /// Those of one zone.
    Of(Zone, OffsetSpans),
    /// Those of the zone that the row says.
    Said(Box<Step>, SaidZones, Arc<Zones>),
}

impl Clock {
    /// The instant `at`, as a datetime.
    #[inline(never)]
    pub(super) fn shown(&mut self, at: Ran<'_>, row: Row<'_>, out: &mut Value) -> Put {
        self.with(at, row, out, |(zone, offset_spans), stamp, out| {
            match *stamp {
                Stamp::Instant(at) => {
                    let offset = offset_spans.offset_at(zone, at);
                    *out = Value::Stamp(Stamp::DateTime(offset.to_datetime(at)));
                }
                other => *out = Value::Stamp(other),
            }
            Ok(())
        })
    }

    /// The datetime `at`, as an instant.
    #[inline(never)]
    pub(super) fn put(
        &mut self,
        at: Ran<'_>,
        (in_gap, in_overlap): (WhichInstant, WhichInstant),
        row: Row<'_>,
        out: &mut Value,
    ) -> Put {
        self.with(at, row, out, |(zone, offset_spans), stamp, out| {
            let Stamp::DateTime(at) = *stamp else {
                *out = Value::Stamp(*stamp);
                return Ok(());
            };
            let name = || zone.to_string();
            let found = match offset_spans.local(zone, at) {
                Local::Unique(at) => Ok(at),
                Local::Gap(both) => in_gap.of(both).ok_or_else(|| Refusal::InGap {
                    at,
                    zone: name(),
                    both,
                }),
                Local::Fold(both) => in_overlap.of(both).ok_or_else(|| Refusal::InOverlap {
                    at,
                    zone: name(),
                    both,
                }),
                Local::OutOfRange => Err(Refusal::BeyondYears),
            };
            *out = Value::Stamp(Stamp::Instant(found?));
            Ok(())
        })
    }

    fn with(
        &mut self,
        at: Ran<'_>,
        row: Row<'_>,
        out: &mut Value,
        act: impl FnOnce((&Zone, &mut OffsetSpans), &Stamp, &mut Value) -> Put,
    ) -> Put {
        let (at, zone, offset_spans) = match self {
            Clock::Of(zone, offset_spans) => (known!(at, out), &*zone, offset_spans),
            Clock::Said(text, said, names) => {
                let (at, text) = both!(at, text.run(row), out);
                let Value::Text(text) = text else {
                    *out = Value::Blank;
                    return Ok(());
                };
                match said.zone(text) {
                    Some((zone, offset_spans)) => (at, &*zone, offset_spans),
                    None => {
                        zone_named(text, names).map_err(Refusal::from)?;
                        *out = Value::Blank;
                        return Ok(());
                    }
                }
            }
        };
        match at {
            Value::Stamp(stamp) => act((zone, offset_spans), stamp, out),
            other => {
                out.clone_from(other);
                Ok(())
            }
        }
    }
}
