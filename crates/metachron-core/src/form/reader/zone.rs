//! The zone of a cell, and the instant that it makes of a local time.

use super::Reader;
use super::slot::Slot;
use crate::form::{Conventions, FieldType, Impossible};
use crate::lex::Lexed;
use crate::locale::ZoneName;
use crate::stamp::Stamp;
use crate::zone::{self, Local, Zone, ZoneFacts};
use jiff::Timestamp;
use jiff::civil::DateTime;

/// The offset from UTC.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::form) enum Offset {
    None,
    Zero,
    /// Hours, minutes and seconds ahead of UTC.
    Plus([Slot; 3]),
    /// The same behind it.
    Minus([Slot; 3]),
}

/// No zone has ever been so many minutes from UTC.
const MOST_MINUTES: i32 = 18 * 60;

impl Reader {
    /// The instant that the local time `local` is.
    pub(super) fn instant(
        &self,
        cell: &Lexed<'_>,
        local: DateTime,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let named = self.named_offset(cell)?;
        let Some(offset) = self.written_offset(cell)?.or(named.flatten()) else {
            if named.is_some() {
                return Err(Impossible::WhichZone);
            }
            return self.in_zone(cell, local, conventions);
        };
        if named.flatten().is_some_and(|named| named != offset) {
            return Err(Impossible::ZoneDisagrees);
        }
        let at = jiff::tz::Offset::from_seconds(offset)
            .and_then(|offset| offset.to_timestamp(local))
            .map_err(|_| Impossible::BeyondInstants)?;
        // A name of winter in summer may be meant for the whole year.
        if let Some(zone) = self.long_name(cell).and_then(ZoneName::changing_zone)
            && zone::offset_in(zone, at) != Some(offset)
        {
            return Err(Impossible::WhichZone);
        }
        // `Z` says nothing of the zone's own offset (RFC 9557 §2.2).
        if let Some(id) = self.slots[FieldType::ZoneId].token()
            && self.offset != Offset::Zero
        {
            let there = zone::offset_in(cell.token_text(id.into()), at);
            if there.ok_or(Impossible::NoSuchZone)? != offset {
                return Err(Impossible::ZoneDisagrees);
            }
        }
        Ok(Stamp::Instant(at))
    }

    /// The offset from UTC that is written as a number or `Z`, in seconds.
    pub(super) fn written_offset(&self, cell: &Lexed<'_>) -> Result<Option<i32>, Impossible> {
        // `CET+1` may be an hour more than CET, or CET itself.
        if let Some(token) = self.offset_base.token()
            && !zone::is_utc(cell.token_text(token.into()))
        {
            return Err(Impossible::Offset);
        }
        let (sign, parts) = match self.offset {
            Offset::None => return Ok(None),
            Offset::Zero => return Ok(Some(0)),
            Offset::Plus(parts) => (1, parts),
            Offset::Minus(parts) => (-1, parts),
        };
        let [hours, minutes, seconds] = parts;
        // Minutes alone: `+060`.
        if hours == Slot::None {
            let minutes = i32::try_from(minutes.value(cell)).unwrap_or(i32::MAX);
            return match minutes {
                0..MOST_MINUTES => Ok(Some(sign * minutes * 60)),
                _ => Err(Impossible::Offset),
            };
        }
        let [hours, minutes, seconds] =
            [hours, minutes, seconds].map(|part| i32::from(part.small(cell)));
        if minutes > 59 || seconds > 59 || hours * 60 >= MOST_MINUTES {
            return Err(Impossible::Offset);
        }
        Ok(Some(sign * ((hours * 60 + minutes) * 60 + seconds)))
    }

    /// The offset that a zone's name or abbreviation stands for; `Some(None)` where that is
    /// not said.
    fn named_offset(&self, cell: &Lexed<'_>) -> Result<Option<Option<i32>>, Impossible> {
        let Some(token) = self.slots[FieldType::ZoneName].token() else {
            return Ok(None);
        };
        if let Some(name) = self.long_name(cell) {
            return Ok(Some(Some(name.offset())));
        }
        let name = cell.token_text(token.into()).trim_end_matches('.');
        let name = name.to_uppercase();
        if let Some(offset) = zone::abbreviation_of_mail(&name).filter(|_| self.is_of_mail) {
            return Ok(Some(Some(offset)));
        }
        let offset = zone::abbreviation(&name);
        offset.ok_or(Impossible::NoSuchZone).map(Some)
    }

    /// The long name of the zone.
    fn long_name(&self, cell: &Lexed<'_>) -> Option<ZoneName> {
        let token = self.slots[FieldType::ZoneName].token()?;
        ZoneName::of_value(cell.tokens().get(usize::from(token))?.value)
    }

    /// Whether the form holds a name that a zone goes by.
    pub(crate) fn has_zone_name(&self) -> bool {
        self.slots[FieldType::ZoneName].token().is_some()
    }

    /// What the cell calls its zone.
    pub(crate) fn zone_name<'c>(&self, cell: &Lexed<'c>) -> Option<&'c str> {
        let token = self.slots[FieldType::ZoneName].token()?;
        Some(cell.token_text(token.into()).trim_end_matches('.'))
    }

    /// The instant that `local` is in the zone that the cell's name for it
    /// stands for. A name that is an abbreviation the zone goes by for a part of
    /// the year tells the runs of an hour that was twice apart, and does not fit
    /// the rest of the year.
    pub(super) fn by_zone_name(
        &self,
        cell: &Lexed<'_>,
        local: DateTime,
        zone: &Zone,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let name = self.zone_name(cell).unwrap_or_default();
        let near = match zone.local(local) {
            Local::Unique(at) => [at; 2],
            Local::Fold(both) | Local::Gap(both) => both,
            Local::OutOfRange => return Err(Impossible::OutOfRange),
        };
        let goes_by_it = |at: &Timestamp| zone.rules().to_offset_info(*at).abbreviation() == name;
        let is_own = ZoneFacts::of(zone, near[0])
            .abbreviations_in_a_year
            .iter()
            .any(|own| own == name);
        let mut fitting = near.into_iter().filter(goes_by_it);
        match (zone.local(local), fitting.next(), fitting.next()) {
            (Local::Unique(_), None, _) if is_own => Err(Impossible::ZoneDisagrees),
            (Local::Unique(at), ..) => Ok(Stamp::Instant(at)),
            (Local::Fold(_), Some(at), None) => Ok(Stamp::Instant(at)),
            (Local::Fold(both), ..) => conventions
                .in_overlap
                .of(both)
                .map(Stamp::Instant)
                .ok_or(Impossible::TwiceThere),
            (Local::Gap(both), ..) => conventions
                .in_gap
                .of(both)
                .map(Stamp::Instant)
                .ok_or(Impossible::NeverThere),
            (Local::OutOfRange, ..) => Err(Impossible::OutOfRange),
        }
    }

    /// The instant that `local` is in the zone of the cell.
    fn in_zone(
        &self,
        cell: &Lexed<'_>,
        local: DateTime,
        conventions: Conventions,
    ) -> Result<Stamp, Impossible> {
        let Conventions {
            in_gap, in_overlap, ..
        } = conventions;
        let token = self.slots[FieldType::ZoneId]
            .token()
            .ok_or(Impossible::NoSuchZone)?;
        match zone::local_in(cell.token_text(token.into()), local) {
            Some(Local::Unique(at)) => Ok(Stamp::Instant(at)),
            Some(Local::Gap(both)) => {
                let at = in_gap.of(both).ok_or(Impossible::NeverThere);
                at.map(Stamp::Instant)
            }
            Some(Local::Fold(both)) => {
                let at = in_overlap.of(both).ok_or(Impossible::TwiceThere);
                at.map(Stamp::Instant)
            }
            Some(Local::OutOfRange) => Err(Impossible::OutOfRange),
            None => Err(Impossible::NoSuchZone),
        }
    }
}
