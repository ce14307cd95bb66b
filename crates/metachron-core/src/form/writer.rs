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

use super::{DayMonth, Digits, Elapsed, Field, Form, Item, OffsetStyle, Width, optional};
use crate::locale::{Tag, Wording};
use crate::stamp::{Duration, Kind, Stamp};
use crate::zone::{self, Zone};
use jiff::Timestamp;
use jiff::civil::{Date, ISOWeekDate, Time, Weekday};
use jiff::tz::Offset;

/// Writes stamps of one kind as one form.
#[derive(Clone, Debug)]
pub struct Writer {
    items: Vec<Item>,
    wording: Wording,
    /// Whether a day stands next to the month, which changes the month's name
    /// in many languages.
    has_day: bool,
    /// Whether years are counted in eras.
    has_era: bool,
    /// The zone that instants are shown in.
    zone: Zone,
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
    /// It is no whole or decimal number of units.
    #[error("{0} is no exact decimal number of units")]
    NoEnd(Duration),
}

impl Form {
    /// The writer of this form for stamps of `kind`, in the words of `locale`
    /// or, without one, in English. Optional parts are written where stamps
    /// of that kind have them.
    ///
    /// # Errors
    ///
    /// Where the form has a field that such stamps do not have.
    pub fn writer(&self, kind: Kind, locale: Option<&Tag>) -> Result<Writer, CannotWrite> {
        if let Some(tag) = locale.filter(|tag| tag.asks_for_other_calendar()) {
            return Err(CannotWrite::OtherCalendar(tag.to_string()));
        }
        let mut lacking = None;
        if self.day_month == DayMonth::Swapped {
            return Err(CannotWrite::OnlyRead {
                form: self.to_string(),
                kind,
            });
        }
        for items in optional::versions(&self.items) {
            match missing(&items, kind) {
                None => return Ok(Writer::of(items, locale)),
                field => lacking = field,
            }
        }
        let form = self.to_string();
        Err(match lacking {
            Some(field)
                if !matches!(field, Field::Elapsed(_) | Field::Count(_) | Field::Typed(_)) =>
            {
                let (symbol, count) = field.symbol();
                CannotWrite::Lacks {
                    form,
                    part: field.part(),
                    symbol: symbol.to_string().repeat(count),
                    kind,
                }
            }
            _ => CannotWrite::OnlyRead { form, kind },
        })
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
    let date = matches!(kind, Kind::Date | Kind::DateTime | Kind::Instant);
    let time = matches!(kind, Kind::Time | Kind::DateTime | Kind::Instant);
    match field {
        Field::Year | Field::YearFree | Field::YearOfTwo | Field::Era(_) => {
            date || matches!(kind, Kind::Month | Kind::Quarter | Kind::Year)
        }
        Field::WeekYear | Field::Week(_) => date || kind == Kind::Week,
        Field::Quarter => date || matches!(kind, Kind::Month | Kind::Quarter),
        Field::Month(_) | Field::MonthName(_) => date || kind == Kind::Month,
        Field::Day(_) | Field::DayOfYear(_) | Field::Weekday(_) | Field::WeekdayNumber => date,
        Field::Hour(_)
        | Field::Hour12(_)
        | Field::Minute(_)
        | Field::Second(_)
        | Field::Fraction(_)
        | Field::DayPeriod
        | Field::FlexiblePeriod => time,
        Field::Offset(_) | Field::ZoneName | Field::ZoneId => kind == Kind::Instant,
        Field::Elapsed(elapsed) => kind == Kind::Duration && elapsed != Elapsed::Units,
        Field::Count(_) | Field::Typed(_) => false,
    }
}

impl Writer {
    /// Of a plain form whose fields are all there.
    fn of(items: Vec<Item>, locale: Option<&Tag>) -> Writer {
        let has = |test: fn(&Field) -> bool| {
            let mut items = items.iter();
            items.any(|item| matches!(item, Item::Field(field) if test(field)))
        };
        let tag = locale.cloned().or_else(|| "en".parse().ok());
        Writer {
            has_day: has(|field| matches!(field, Field::Day(_))),
            has_era: has(|field| matches!(field, Field::Era(_))),
            wording: tag.as_ref().map(Wording::of).unwrap_or_default(),
            items,
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
        let at = Shown::of(stamp, &self.zone);
        for item in &self.items {
            match item {
                Item::Field(Field::Elapsed(elapsed)) => {
                    if let Stamp::Duration(length) = stamp {
                        elapsed.write(length, out)?;
                    }
                }
                Item::Field(field) => self.field(*field, &at, out),
                Item::Literal(text) => out.extend_from_slice(text.as_bytes()),
                // Chosen or left out when the writer was made.
                Item::Optional(_) => {}
            }
        }
        Ok(())
    }

    fn field(&self, field: Field, at: &Shown, out: &mut Vec<u8>) {
        let Shown { date, time, .. } = *at;
        let words = &self.wording;
        let week = || date.iso_week_date();
        let weekday = date.weekday().to_monday_one_offset().unsigned_abs();
        let hour = time.hour().unsigned_abs();
        let mut number = |value: i32, digits| {
            let width = match digits {
                Digits::Free => 1,
                Digits::Two => 2,
            };
            words.number(value.unsigned_abs(), width, out);
        };
        match field {
            Field::Year => self.year(date.year(), 4, out),
            Field::YearFree => self.year(date.year(), 1, out),
            Field::WeekYear => self.year(week().year(), 4, out),
            Field::YearOfTwo => {
                words.number(date.year().rem_euclid(100).unsigned_abs().into(), 2, out)
            }
            Field::Quarter => number(i32::from(date.month() + 2) / 3, Digits::Free),
            Field::Week(digits) => number(week().week().into(), digits),
            Field::WeekdayNumber => number(weekday.into(), Digits::Free),
            Field::DayOfYear(Digits::Free) => number(date.day_of_year().into(), Digits::Free),
            Field::DayOfYear(Digits::Two) => {
                words.number(date.day_of_year().unsigned_abs().into(), 3, out);
            }
            Field::Month(digits) => number(date.month().into(), digits),
            Field::Day(digits) => number(date.day().into(), digits),
            Field::Hour(digits) => number(time.hour().into(), digits),
            Field::Hour12(digits) => number(i32::from((hour + 11) % 12 + 1), digits),
            Field::Minute(digits) => number(time.minute().into(), digits),
            Field::Second(digits) => number(time.second().into(), digits),
            Field::Fraction(count) => {
                let cut = 10_u32.pow(9 - u32::from(count.min(9)));
                let fraction = time.subsec_nanosecond().unsigned_abs() / cut;
                words.number(fraction, count.into(), out);
            }
            Field::MonthName(width) => {
                let symbol = match (self.has_day, width) {
                    (true, Width::Wide) => "MMMM",
                    (true, Width::Abbreviated) => "MMM",
                    (false, Width::Wide) => "LLLL",
                    (false, Width::Abbreviated) => "LLL",
                };
                let month = date.month().unsigned_abs();
                out.extend_from_slice(words.month(month, symbol).as_bytes());
            }
            Field::Weekday(width) => {
                let symbol = match width {
                    Width::Wide => "EEEE",
                    Width::Abbreviated => "EEE",
                };
                out.extend_from_slice(words.weekday(weekday, symbol).as_bytes());
            }
            Field::Era(width) => {
                let symbol = match width {
                    Width::Wide => "GGGG",
                    Width::Abbreviated => "G",
                };
                out.extend_from_slice(words.era(date.year(), symbol).as_bytes());
            }
            Field::DayPeriod => out.extend_from_slice(words.half_day(hour).as_bytes()),
            Field::FlexiblePeriod => out.extend_from_slice(words.part_of_day(hour).as_bytes()),
            Field::Offset(style) => write_offset(at.offset, style, out),
            Field::ZoneName => {
                let instant = at.instant.unwrap_or_default();
                let info = self.zone.rules().to_offset_info(instant);
                out.extend_from_slice(info.abbreviation().as_bytes());
            }
            Field::ZoneId => out.extend_from_slice(self.zone.name().as_bytes()),
            Field::Count(_) | Field::Elapsed(_) | Field::Typed(_) => {}
        }
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

/// An offset in one of the styles of UTS #35: `Z` where it is none.
fn write_offset(offset: Offset, style: OffsetStyle, out: &mut Vec<u8>) {
    let extended = zone::written(offset);
    let text = match style {
        OffsetStyle::Named if offset == Offset::UTC => "GMT".to_owned(),
        // The hours stand without a leading zero, and alone where they can.
        OffsetStyle::Named => {
            let whole = extended
                .strip_suffix(":00")
                .filter(|hours| hours.len() == 3);
            let short = whole.unwrap_or(&extended);
            format!("GMT{}", short.replacen("+0", "+", 1).replacen("-0", "-", 1))
        }
        _ if offset == Offset::UTC => "Z".to_owned(),
        OffsetStyle::Extended | OffsetStyle::Seconds => extended,
        OffsetStyle::Basic => extended.replace(':', ""),
        OffsetStyle::Hours => match extended.strip_suffix(":00") {
            Some(hours) if hours.len() == 3 => hours.to_owned(),
            _ => extended.replace(':', ""),
        },
    };
    out.extend_from_slice(text.as_bytes());
}

/// What the fields of a stamp are taken from.
struct Shown {
    /// The day: the first of a longer span.
    date: Date,
    time: Time,
    offset: Offset,
    instant: Option<Timestamp>,
}

impl Shown {
    fn of(stamp: Stamp, zone: &Zone) -> Shown {
        let (instant, offset) = match stamp {
            Stamp::Instant(at) => (Some(at), zone.offset_at(at)),
            _ => (None, Offset::UTC),
        };
        let (date, time) = match instant {
            Some(at) => {
                let local = offset.to_datetime(at);
                (local.date(), local.time())
            }
            None => parts(stamp),
        };
        Shown {
            date,
            time,
            offset,
            instant,
        }
    }
}

/// The day and the time of day of a stamp in no zone: the first of a longer
/// span.
fn parts(stamp: Stamp) -> (Date, Time) {
    let day = |year, month: u8| Date::new(year, month as i8, 1).unwrap_or(Date::ZERO);
    let midnight = |date| (date, Time::midnight());
    match stamp {
        Stamp::Date(date) => midnight(date),
        Stamp::Time(time) => (Date::ZERO, time),
        Stamp::DateTime(at) => (at.date(), at.time()),
        Stamp::Instant(at) => {
            let at = Offset::UTC.to_datetime(at);
            (at.date(), at.time())
        }
        Stamp::Month(year, month) => midnight(day(year, month)),
        Stamp::Quarter(year, quarter) => midnight(day(year, 3 * quarter - 2)),
        Stamp::Week(year, week) => {
            let first = ISOWeekDate::new(year, week as i8, Weekday::Monday);
            midnight(first.map_or(Date::ZERO, ISOWeekDate::date))
        }
        Stamp::Year(year) => midnight(day(year, 1)),
        Stamp::Duration(_) => midnight(Date::ZERO),
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
