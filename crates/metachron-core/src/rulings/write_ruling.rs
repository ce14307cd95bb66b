//! How a clean column is written.
//!
//! ```toml
//! write = { name = "due_on", pattern = "d MMMM yyyy", locale = "de" }
//! write = { unit = "h" }
//! ```

use crate::form::{CannotWrite, Form, Unwritable, Writer};
use crate::locale::{Tag, usual_pattern};
use crate::row::{Holds, OutCell};
use crate::stamp::{Kind, LengthUnit, MOST_DECIMALS, Stamp};
use crate::zone::{Local, OffsetSpans, Zone, write_offset};
use jiff::Timestamp;
use jiff::tz::Offset;
use serde::{Deserialize, Serialize};

/// How a clean column is written: as ISO 8601 text under its own name, unless
/// something else is ruled.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct WriteRuling {
    /// A new name for the column.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// The form that stamps are written in, instead of ISO 8601.
    #[serde(
        default,
        skip_serializing_if = "Option::is_none",
        with = "super::form::one"
    )]
    pub pattern: Option<Form>,
    /// The locale whose names and digits the result has. Without a pattern,
    /// dates and times are written as is usual there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub locale: Option<Tag>,
    /// The zone that instants are shown in, instead of UTC.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zone: Option<Zone>,
    /// How that zone is told.
    #[serde(default, skip_serializing_if = "ZoneAs::is_default")]
    pub zone_as: ZoneAs,
    /// The unit that lengths of time are counted in, as decimal numbers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unit: Option<LengthUnit>,
    /// How many decimals such a number is rounded to, where it has no end; 6 by
    /// default.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub decimals: Option<u8>,
}

/// The decimals that a number of units is rounded to, unless others are ruled.
const DECIMALS: u8 = 6;

/// How the zone of an instant is told.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum ZoneAs {
    /// By its offset then: `2025-03-04T14:30:00+01:00`, `Z` in UTC (ISO 8601,
    /// RFC 3339). Any program can read it back.
    #[default]
    Offset,
    /// By its offset and its name: `2025-03-04T14:30:00+01:00[Europe/Riga]`
    /// (RFC 9557). For programs that go on computing in that zone.
    Name,
    /// In a column of its own, next to the local time: `2025-03-04T14:30:00`.
    /// For spreadsheets, which know no offsets.
    Column,
    /// By the type of the column: instants stay stamps. For formats whose types have a
    /// zone.
    #[serde(skip)]
    Type,
}

impl ZoneAs {
    fn is_default(&self) -> bool {
        *self == ZoneAs::Offset
    }
}

/// A ruling on the result that cannot be followed.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum WriteError {
    /// The form cannot write the column's kind.
    #[error("write.pattern: {0}")]
    Form(#[from] CannotWrite),
    /// A unit for what is no length of time.
    #[error("write.unit counts lengths of time, and the column's kind is {0}")]
    NoLength(Kind),
    /// Decimals without a unit, or too many.
    #[error("write.decimals is 0 to {MOST_DECIMALS}, and rounds numbers of a write.unit")]
    Decimals,
    /// A zone for what is no instant.
    #[error(
        "write.zone shows instants, and the column's kind is {0}; read.zone makes instants of local times"
    )]
    NoInstant(Kind),
    /// A zone that is told in a column, and a pattern.
    #[error(
        "write.zone-as and write.pattern contradict each other: the pattern tells the zone, or not"
    )]
    ZoneAsAndPattern,
    /// A unit and a pattern.
    #[error("write.unit and write.pattern contradict each other; give one of them")]
    UnitAndPattern,
}

/// How stamps of one kind are written: a [`WriteRuling`] made ready.
#[derive(Clone, Debug, Default)]
pub enum StampRenderer {
    /// As ISO 8601 text.
    #[default]
    Iso,
    /// As ISO 8601 text with the clocks of a zone.
    InZone(Zone, ZoneAs, OffsetSpans),
    /// As a form writes them.
    Form(Box<Writer>),
    /// As a decimal number of units, so many nanoseconds each, rounded to so many
    /// decimals where it has no end.
    Units(i128, u8),
}

impl WriteRuling {
    /// Whether the column is written as ISO 8601.
    pub fn is_iso(&self) -> bool {
        *self
            == WriteRuling {
                name: self.name.clone(),
                ..WriteRuling::default()
            }
    }

    /// Whether instants are written as they are by default.
    fn tells_utc(&self) -> bool {
        let is_utc = self.zone.as_ref().is_none_or(|zone| *zone == Zone::utc());
        is_utc && self.zone_as == ZoneAs::Offset
    }

    /// Whether a column next to this one tells the zone.
    pub fn has_zone_column(&self) -> bool {
        self.zone_as == ZoneAs::Column
    }

    /// What that column says of an instant: the zone, and where its clocks show the local time
    /// twice, the offset too, which tells the two apart: `+03:00[Europe/Riga]` (RFC 9557).
    pub(crate) fn zone_cell(&self, at: Timestamp) -> String {
        let zone = self.zone.clone().unwrap_or_else(Zone::utc);
        let offset = zone.offset_at(at);
        let mut text = Vec::new();
        if let Local::Fold(_) = zone.local(offset.to_datetime(at)) {
            write_offset(offset, &mut text);
            text.extend_from_slice(format!("[{}]", zone.name()).as_bytes());
        } else {
            text.extend_from_slice(zone.name().as_bytes());
        }
        String::from_utf8_lossy(&text).into_owned()
    }

    pub(super) fn is_empty(&self) -> bool {
        *self == WriteRuling::default()
    }

    /// The ruling, made ready for stamps of `kind`.
    ///
    /// # Errors
    ///
    /// Where such stamps cannot be written so.
    pub fn renderer(&self, kind: Kind) -> Result<StampRenderer, WriteError> {
        if self.zone.is_some() && kind != Kind::Instant {
            return Err(WriteError::NoInstant(kind));
        }
        if self.pattern.is_some() && !matches!(self.zone_as, ZoneAs::Offset | ZoneAs::Type) {
            return Err(WriteError::ZoneAsAndPattern);
        }
        let are_many = |decimals| decimals > MOST_DECIMALS || self.unit.is_none();
        if self.decimals.is_some_and(are_many) {
            return Err(WriteError::Decimals);
        }
        let zone = self.zone.clone().unwrap_or_else(Zone::utc);
        if let Some(unit) = self.unit {
            return match (kind, &self.pattern) {
                (_, Some(_)) => Err(WriteError::UnitAndPattern),
                (Kind::Duration, _) => {
                    let decimals = self.decimals.unwrap_or(DECIMALS);
                    Ok(StampRenderer::Units(unit.nanoseconds(), decimals))
                }
                (other, _) => Err(WriteError::NoLength(other)),
            };
        }
        let usual = || {
            let pattern = usual_pattern(self.locale.as_ref()?, kind)?;
            pattern.parse::<Form>().ok()
        };
        match self.pattern.clone().or_else(usual) {
            Some(form) => {
                let writer = form.writer(kind, self.locale.as_ref())?;
                Ok(StampRenderer::Form(Box::new(writer.in_zone(zone))))
            }
            None if self.zone_as == ZoneAs::Type => Ok(StampRenderer::Iso),
            None if kind == Kind::Instant && !self.tells_utc() => Ok(StampRenderer::InZone(
                zone,
                self.zone_as,
                OffsetSpans::default(),
            )),
            None => Ok(StampRenderer::Iso),
        }
    }
}

impl StampRenderer {
    /// What the cells of a column of `kind` hold.
    pub fn holds(&self, kind: Kind) -> Holds {
        match self {
            StampRenderer::Iso => Holds::Stamps(kind),
            StampRenderer::InZone(_, ZoneAs::Column, _) => Holds::Stamps(Kind::DateTime),
            StampRenderer::Units(..) => Holds::Numbers,
            StampRenderer::InZone(..) | StampRenderer::Form(_) => Holds::Text,
        }
    }

    /// The cell that `stamp` is. The text of one that is no stamp is appended
    /// to `text`.
    ///
    /// # Errors
    ///
    /// Where that would lose a part of it; `text` is then as it was.
    #[inline]
    pub fn cell(&mut self, stamp: &Stamp, text: &mut Vec<u8>) -> Result<OutCell, Unwritable> {
        match self {
            StampRenderer::Iso => Ok(OutCell::Stamp(*stamp)),
            _ => self.other_cell(stamp, text),
        }
    }

    fn other_cell(&mut self, stamp: &Stamp, text: &mut Vec<u8>) -> Result<OutCell, Unwritable> {
        if let (StampRenderer::InZone(zone, ZoneAs::Column, spans), Stamp::Instant(at)) =
            (&mut *self, stamp)
        {
            let offset = spans.offset_at(zone, *at);
            return Ok(OutCell::Stamp(Stamp::DateTime(offset.to_datetime(*at))));
        }
        let start = text.len() as u32;
        self.write(stamp, text)?;
        Ok(self.text_cell(start..text.len() as u32))
    }

    /// The cell of a text that [`StampRenderer::cell`] has written before.
    pub(crate) fn text_cell(&self, range: std::ops::Range<u32>) -> OutCell {
        match self {
            StampRenderer::Units(..) => OutCell::Number(range),
            _ => OutCell::Text(range),
        }
    }

    /// Appends the text of `stamp` to `out`.
    ///
    /// # Errors
    ///
    /// Where that would lose a part of it; `out` is then as it was.
    #[inline]
    pub fn write(&mut self, stamp: &Stamp, out: &mut Vec<u8>) -> Result<(), Unwritable> {
        match self {
            StampRenderer::Iso => {
                stamp.write_iso(out);
                Ok(())
            }
            _ => self.write_otherwise(stamp, out),
        }
    }

    fn write_otherwise(&mut self, stamp: &Stamp, out: &mut Vec<u8>) -> Result<(), Unwritable> {
        match (self, *stamp) {
            (StampRenderer::Form(writer), stamp) => writer.write(stamp, out),
            (StampRenderer::InZone(zone, zone_as, offset_spans), Stamp::Instant(at)) => {
                let offset = offset_spans.offset_at(zone, at);
                in_zone(at, (zone, offset), *zone_as, out);
                Ok(())
            }
            (StampRenderer::Units(unit, decimals), Stamp::Duration(length)) => {
                let number = length.in_units(*unit, *decimals);
                let number = number.ok_or(Unwritable::Months(length))?;
                out.extend_from_slice(number.as_bytes());
                Ok(())
            }
            _ => {
                stamp.write_iso(out);
                Ok(())
            }
        }
    }
}

/// Appends an instant as the clocks of a zone show it.
fn in_zone(at: Timestamp, (zone, offset): (&Zone, Offset), zone_as: ZoneAs, out: &mut Vec<u8>) {
    Stamp::DateTime(offset.to_datetime(at)).write_iso(out);
    if zone_as == ZoneAs::Column {
        return;
    }
    if *zone == Zone::utc() {
        out.push(b'Z')
    } else {
        write_offset(offset, out)
    }
    if zone_as == ZoneAs::Name {
        out.push(b'[');
        out.extend_from_slice(zone.name().as_bytes());
        out.push(b']');
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::stamp::Duration;
    use jiff::civil::{date, datetime};

    #[test]
    fn results_as_they_are_ruled() {
        let hours = |quarters: i128| Stamp::Duration(Duration::new(0, quarters * 900_000_000_000));
        let day = Stamp::Date(date(2024, 3, 5));
        let at = Stamp::DateTime(datetime(2024, 3, 5, 14, 30, 0, 0));
        for (ruling, stamp, text) in [
            ("", day, "2024-03-05"),
            ("pattern = \"dd/MM/yyyy\"", day, "05/03/2024"),
            ("locale = \"de\"", day, "05.03.2024"),
            ("locale = \"de\"", at, "05.03.2024, 14:30:00"),
            ("locale = \"en-GB\"", Stamp::Month(2024, 3), "2024-03"),
            (
                "pattern = \"MMMM yyyy\"\nlocale = \"fr\"",
                Stamp::Month(2024, 3),
                "mars 2024",
            ),
            ("unit = \"h\"", hours(7), "1.75"),
            ("unit = \"min\"", hours(-1), "-15"),
            ("unit = \"d\"", hours(1), "0.010417"),
            ("unit = \"d\"\ndecimals = 2", hours(1), "0.01"),
            (
                "decimals = 2",
                hours(1),
                "write.decimals is 0 to 18, and rounds numbers of a write.unit",
            ),
            (
                "unit = \"h\"",
                Stamp::Duration(Duration::new(1, 0)),
                "P1M has months, which have no fixed length",
            ),
            (
                "unit = \"h\"",
                day,
                "write.unit counts lengths of time, and the column's kind is date",
            ),
            (
                "unit = \"h\"\npattern = \"elapsed H:mm\"",
                hours(1),
                "write.unit and write.pattern contradict each other; give one of them",
            ),
        ] {
            let ruling: WriteRuling = toml::from_str(ruling).unwrap();
            let mut out = Vec::new();
            let written = match ruling.renderer(stamp.kind()) {
                Ok(mut clean) => clean.write(&stamp, &mut out).map_err(|why| why.to_string()),
                Err(why) => Err(why.to_string()),
            };
            let written = written.map(|()| String::from_utf8(out).unwrap());
            assert_eq!(written.unwrap_or_else(|why| why), text, "{ruling:?}");
        }
    }
}
