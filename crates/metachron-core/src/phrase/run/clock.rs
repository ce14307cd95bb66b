//! Instants as the clocks of a zone show them, and the way back.

use super::step::{Ran, both, known};
use super::{Put, Row, Step};
use crate::phrase::refusal::Refusal;
use crate::phrase::value::Value;
use crate::stamp::Stamp;
use crate::zone::{Local, SaidZones, Stretches, WhichInstant, Zone, Zones, zone_named};
use std::sync::Arc;

/// Whose clocks.
#[derive(Clone, Debug)]
pub(crate) enum Clock {
    /// Those of one zone.
    Of(Zone, Stretches),
    /// Those of the zone that the row says.
    Said(Box<Step>, SaidZones, Arc<Zones>),
}

impl Clock {
    /// The instant `at`, as a datetime.
    #[inline(never)]
    pub(super) fn shown(&mut self, at: Ran<'_>, row: Row<'_>, out: &mut Value) -> Put {
        self.with(at, row, out, |(zone, stretches), stamp, out| {
            match *stamp {
                Stamp::Instant(at) => {
                    let offset = stretches.offset_at(zone, at);
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
        self.with(at, row, out, |(zone, stretches), stamp, out| {
            let Stamp::DateTime(at) = *stamp else {
                *out = Value::Stamp(*stamp);
                return Ok(());
            };
            let name = || zone.to_string();
            let found = match stretches.local(zone, at) {
                Local::Once(at) => Ok(at),
                Local::Never(both) => in_gap.of(both).ok_or_else(|| Refusal::InGap {
                    at,
                    zone: name(),
                    both,
                }),
                Local::Twice(both) => in_overlap.of(both).ok_or_else(|| Refusal::InOverlap {
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
        act: impl FnOnce((&Zone, &mut Stretches), &Stamp, &mut Value) -> Put,
    ) -> Put {
        let (at, zone, stretches) = match self {
            Clock::Of(zone, stretches) => (known!(at, out), &*zone, stretches),
            Clock::Said(text, said, names) => {
                let (at, text) = both!(at, text.run(row), out);
                let Value::Text(text) = text else {
                    *out = Value::Blank;
                    return Ok(());
                };
                match said.zone(text) {
                    Some((zone, stretches)) => (at, &*zone, stretches),
                    None => {
                        zone_named(text, names).map_err(Refusal::from)?;
                        *out = Value::Blank;
                        return Ok(());
                    }
                }
            }
        };
        match at {
            Value::Stamp(stamp) => act((zone, stretches), stamp, out),
            other => {
                out.clone_from(other);
                Ok(())
            }
        }
    }
}
