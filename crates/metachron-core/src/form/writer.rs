//! Writers: a form, at work on stamps.
//!
//! ```
//! use metachron_core::form::Form;
//! use metachron_core::stamp::{Kind, Stamp};
//!
//! let form: Form = "d. MMMM yyyy[, H:mm]".parse()?;
//! let writer = form.writer(Kind::Date, Some(&"de".parse()?))?;
//! let mut text = Vec::new();
//! writer.write(Stamp::Date(jiff::civil::date(2024, 3, 5)), &mut text)?;
//! assert_eq!(text, "5. März 2024".as_bytes());
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::field::Writes;
use super::shown::Shown;
use super::{DayMonth, Elapsed, Field, FieldType, Form, Item, optional};
use crate::locale::{Tag, Wording};
use crate::stamp::{Duration, Kind, Stamp};
use crate::zone::Zone;

/// Writes stamps of one kind as one form.
#[derive(Clone, Debug)]
pub struct Writer {
    pieces: Vec<Piece>,
    wording: Wording,
    /// Whether a day stands next to the month, which changes the month's name
    /// in many languages.
    has_day: bool,
    /// Whether years are counted in eras.
    has_era: bool,
    /// The zone that instants are shown in.
    zone: Zone,
}

/// What is written one after the other.
#[derive(Clone, Debug)]
enum Piece {
    Literal(String),
    Field(&'static Writes),
    Elapsed(Elapsed),
}

/// Why a form cannot write stamps of a kind.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum CannotWrite {
    /// It has a field that they have not.
    #[error(
        "`{form}` writes the {part}, which a {kind} does not have; leave `{symbol}` out, or put \
         it in brackets: [{symbol}]"
    )]
    Lacks {
        /// The form.
        form: String,
        /// What it wants.
        part: &'static str,
        /// The field that wants it.
        symbol: String,
        /// The kind.
        kind: Kind,
    },
    /// It is a form for reading alone.
    #[error("`{form}` is for reading, and cannot write a {kind}")]
    OnlyRead {
        /// The form.
        form: String,
        /// The kind.
        kind: Kind,
    },
    /// The locale asks for another calendar.
    #[error("results are written in the Gregorian calendar, and not in that of `{0}`")]
    OtherCalendar(String),
}

/// Why one stamp cannot be written.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum Unwritable {
    /// It is a length of time with months, which have no fixed length.
    #[error("{0} has months, which have no fixed length")]
    Months(Duration),
    /// The form would cut a part of it off.
    #[error("{0} has seconds, which the form does not write")]
    Seconds(Duration),
}

impl Form {
    /// The writer of this form for stamps of `kind`, in the words of `locale`
    /// or, without one, in English. Optional parts are written where stamps
    /// of that kind have them.
    ///
    /// # Errors
    ///
    /// Where the form has a field that such stamps do not have.
    ///
    /// ```
    /// use metachron_core::form::Form;
    /// use metachron_core::stamp::{Kind, Stamp};
    ///
    /// let form: Form = "'Q'Q yyyy".parse()?;
    /// let mut text = Vec::new();
    /// form.writer(Kind::Quarter, None)?.write(Stamp::Quarter(2024, 3), &mut text)?;
    /// assert_eq!(text, b"Q3 2024");
    /// assert!(form.writer(Kind::Time, None).is_err());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn writer(&self, kind: Kind, locale: Option<&Tag>) -> Result<Writer, CannotWrite> {
        if let Some(tag) = locale.filter(|tag| tag.asks_for_other_calendar()) {
            return Err(CannotWrite::OtherCalendar(tag.to_string()));
        }
        let mut lacking = None;
        if self.day_month == DayMonth::Swapped || self.is_only_read() {
            return Err(CannotWrite::OnlyRead {
                form: self.to_string(),
                kind,
            });
        }
        for items in optional::versions(&self.items) {
            match missing(&items, kind) {
                None => return Ok(Writer::of(&items, locale)),
                field => lacking = field,
            }
        }
        let form = self.to_string();
        Err(
            match lacking.and_then(|field| Some((field, field.spelling()?))) {
                Some((field, spelling)) => CannotWrite::Lacks {
                    form,
                    part: field.field_type().name(),
                    symbol: spelling.letters.to_owned(),
                    kind,
                },
                None => CannotWrite::OnlyRead { form, kind },
            },
        )
    }
}

impl Form {
    /// Whether it has a part that is not written so: text that is skipped, lengths of
    /// time that are written in a simpler way, decimals of an hour or a minute.
    fn is_only_read(&self) -> bool {
        let is_it = |field| match field {
            Field::Elapsed(elapsed) => elapsed.is_only_read(),
            Field::Fraction(_) => !self.has(FieldType::Second),
            field => field == Field::Skipped,
        };
        self.fields().any(is_it)
    }
}

/// The first field of `items` that stamps of `kind` do not have.
fn missing(items: &[Item], kind: Kind) -> Option<Field> {
    let mut missing = None;
    Item::visit(items, &mut |field| {
        missing = missing.or(Some(field).filter(|field| !has(kind, *field)));
    });
    missing
}

/// Whether stamps of `kind` have what `field` writes.
fn has(kind: Kind, field: Field) -> bool {
    field.descriptor().kinds.contains(&kind)
}

impl Writer {
    /// Of a plain form whose fields are all there.
    fn of(items: &[Item], locale: Option<&Tag>) -> Writer {
        let has = |field_type| {
            let is_of_type = |field: &Field| field.field_type() == field_type;
            let mut items = items.iter();
            items.any(|item| matches!(item, Item::Field(field) if is_of_type(field)))
        };
        let tag = locale.cloned().or_else(|| "en".parse().ok());
        let pieces = items.iter().filter_map(|item| match item {
            Item::Literal(text) => Some(Piece::Literal(text.clone())),
            Item::Field(Field::Elapsed(elapsed)) => Some(Piece::Elapsed(*elapsed)),
            Item::Field(field) => field.spelling().map(|it| Piece::Field(&it.writes)),
            // Chosen or left out already.
            Item::Optional(_) => None,
        });
        Writer {
            has_day: has(FieldType::Day),
            has_era: has(FieldType::Era),
            wording: tag.as_ref().map(Wording::of).unwrap_or_default(),
            pieces: pieces.collect(),
            zone: Zone::utc(),
        }
    }

    /// The same writer, showing instants as the clocks in `zone` do.
    pub fn in_zone(self, zone: Zone) -> Writer {
        Writer { zone, ..self }
    }

    /// Appends the text of `stamp`, which must be of the kind that the writer
    /// was made for, to `out`.
    ///
    /// Fractions of a second are cut, never rounded (UTS #35 part 4, §8);
    /// years outside 0–9999 are written with a sign, as in ISO 8601; instants
    /// are written in UTC.
    ///
    /// # Errors
    ///
    /// Where a length of time has parts that the form does not write; `out`
    /// is then as it was.
    pub fn write(&self, stamp: Stamp, out: &mut Vec<u8>) -> Result<(), Unwritable> {
        let at = Shown::of(stamp, &self.zone, self.has_day);
        for piece in &self.pieces {
            match piece {
                Piece::Literal(text) => out.extend_from_slice(text.as_bytes()),
                Piece::Elapsed(elapsed) => {
                    if let Stamp::Duration(length) = stamp {
                        elapsed.write(length, out)?;
                    }
                }
                Piece::Field(Writes::Number(value, width)) => {
                    self.wording.number(value(&at), *width, out);
                }
                Piece::Field(Writes::Year(year, width)) => self.year(year(&at), *width, out),
                Piece::Field(Writes::Word(word)) => {
                    out.extend_from_slice(word(&at, &self.wording).as_bytes());
                }
                Piece::Field(Writes::Text(text)) => out.extend_from_slice(text(&at).as_bytes()),
            }
        }
        Ok(())
    }

    fn year(&self, year: i16, width: usize, out: &mut Vec<u8>) {
        if self.has_era {
            // 1 BC is the year 0.
            let of_era = if year > 0 { year } else { 1 - year };
            return self
                .wording
                .number(of_era.unsigned_abs().into(), width, out);
        }
        let width = match year {
            0..=9999 => width,
            _ => {
                out.push(if year < 0 { b'-' } else { b'+' });
                6
            }
        };
        self.wording.number(year.unsigned_abs().into(), width, out);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::{date, datetime, time};

    fn write(pattern: &str, locale: &str, stamp: Stamp) -> String {
        let form: Form = pattern.parse().unwrap();
        let tag = locale.parse().ok();
        let writer = match form.writer(stamp.kind(), tag.as_ref()) {
            Ok(writer) => writer,
            Err(why) => return why.to_string(),
        };
        let mut out = Vec::new();
        match writer.write(stamp, &mut out) {
            Ok(()) => String::from_utf8(out).unwrap(),
            Err(why) => why.to_string(),
        }
    }

    #[test]
    fn stamps_as_patterns_write_them() {
        let at = Stamp::DateTime(datetime(2024, 3, 5, 14, 30, 15, 250_999_999));
        let day = Stamp::Date(date(2024, 3, 5));
        for (pattern, locale, stamp, text) in [
            ("dd/MM/yyyy HH:mm:ss.SSS", "", at, "05/03/2024 14:30:15.250"),
            (
                "EEEE, d MMMM yyyy h:mm a",
                "",
                at,
                "Tuesday, 5 March 2024 2:30 PM",
            ),
            ("d. MMMM yyyy", "cs", day, "5. března 2024"),
            ("MMMM yyyy", "cs", Stamp::Month(2024, 3), "březen 2024"),
            ("yyyy年M月d日", "ja", day, "2024年3月5日"),
            ("d/M/yyyy", "ar-EG", day, "٥/٣/٢٠٢٤"),
            ("d MMM yy", "fr", day, "5 mars 24"),
            ("YYYY-'W'ww-e", "", day, "2024-W10-2"),
            ("YYYY-'W'ww", "", Stamp::Week(2020, 53), "2020-W53"),
            ("'Q'Q yyyy", "", Stamp::Quarter(2024, 4), "Q4 2024"),
            ("yyyy-DDD", "", day, "2024-065"),
            ("y G", "", Stamp::Year(-43), "44 BC"),
            ("yyyy", "", Stamp::Year(-43), "-000043"),
            (
                "h:mm B",
                "",
                Stamp::Time(time(0, 5, 0, 0)),
                "12:05 in the morning",
            ),
            ("yyyy-MM-dd[ HH:mm]", "", day, "2024-03-05"),
            ("yyyy-MM-dd[ HH:mm]", "", at, "2024-03-05 14:30"),
            (
                "yyyy-MM-dd HH:mm",
                "",
                day,
                "`yyyy-MM-dd HH:mm` writes the hour, which a date does not have; leave `HH` out, or put it in brackets: [HH]",
            ),
            (
                "unix-s",
                "",
                day,
                "`seconds since 1970-01-01` is for reading, and cannot write a date",
            ),
            (
                "d.M.yyyy",
                "th-u-ca-buddhist",
                day,
                "results are written in the Gregorian calendar, and not in that of `th-u-ca-buddhist`",
            ),
            ("d.M.yyyy", "th", day, "5.3.2024"),
        ] {
            assert_eq!(write(pattern, locale, stamp), text, "{pattern}");
        }
    }

    #[test]
    fn lengths_of_time_are_never_cut() {
        let of =
            |months, seconds: i128| Stamp::Duration(Duration::new(months, seconds * 1_000_000_000));
        for (pattern, stamp, text) in [
            ("elapsed H:mm:ss", of(0, 360_915), "100:15:15"),
            ("elapsed H:mm", of(0, -900), "-0:15"),
            ("elapsed m:ss", of(0, 6015), "100:15"),
            ("elapsed d H:mm:ss", of(0, -360_915), "-4 04:15:15"),
            ("elapsed ISO 8601", of(14, 7200), "P1Y2MT2H"),
            (
                "elapsed H:mm",
                of(0, 15),
                "PT15S has seconds, which the form does not write",
            ),
            (
                "elapsed H:mm:ss",
                of(1, 0),
                "P1M has months, which have no fixed length",
            ),
            (
                "elapsed units",
                of(0, 15),
                "`elapsed units` is for reading, and cannot write a duration",
            ),
        ] {
            assert_eq!(write(pattern, "", stamp), text, "{pattern}");
        }
    }
}
