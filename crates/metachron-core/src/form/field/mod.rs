//! The fields of a form, each a date field symbol of UTS #35 (part 4, §8).

mod field_type;
mod spelling;

pub use field_type::FieldType;
pub(super) use spelling::{Reads, Writes};

use super::{Count, Elapsed};
use crate::stamp::Kind;
use field_type::TypeDescriptor;
pub(super) use field_type::spellings;
use spelling::Spelling;

/// One piece of a form.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub enum Item {
    /// A part of the date or time.
    Field(Field),
    /// Text that stands for itself.
    Literal(String),
    /// A part that may be missing.
    Optional(Vec<Item>),
}

impl Item {
    /// Puts text behind `items`: as a part of a literal that stands last.
    pub(super) fn push_literal(items: &mut Vec<Item>, text: &str) {
        match items.last_mut() {
            Some(Item::Literal(last)) => last.push_str(text),
            _ => items.push(Item::Literal(text.to_owned())),
        }
    }

    /// Calls `each` with every field of `items`, in the order they are
    /// written.
    pub(super) fn visit(items: &[Item], each: &mut impl FnMut(Field)) {
        for item in items {
            match item {
                Item::Field(field) => each(*field),
                Item::Literal(_) => {}
                Item::Optional(part) => Item::visit(part, each),
            }
        }
    }
}

/// A part of a date or time.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Field {
    /// `yyyy`: four digits.
    Year,
    /// `y`: as many digits as the year has. Reads three or four of them; one
    /// or two only where the form names the era.
    YearFree,
    /// `G`, `GGGG`: the era.
    Era(Width),
    /// `yy`: two digits, placed in a window of a hundred years.
    YearOfTwo,
    /// `yyyyyy`: a sign and four to six digits.
    YearExpanded,
    /// `CCC`: the years since 1900, in three digits.
    YearsSince1900,
    /// `YYYY`: the year that an ISO 8601 week belongs to.
    WeekYear,
    /// `YY`: two digits of it, placed in a window of a hundred years.
    WeekYearOfTwo,
    /// `Q`: the quarter, 1–4.
    Quarter,
    /// `w`, `ww`: the week of ISO 8601's calendar.
    Week(Digits),
    /// `e`: the day of the week, 1 (Monday) – 7.
    WeekdayNumber,
    /// `D`, `DDD`: the day of the year; three digits if written three times.
    DayOfYear(Digits),
    /// `M`, `MM`: the month's number.
    Month(Digits),
    /// `MMM`, `MMMM`: the month's name.
    MonthName(Width),
    /// `d`, `dd`: the day of the month.
    Day(Digits),
    /// `EEE`, `EEEE`: the weekday's name, checked against the date.
    Weekday(Width),
    /// `H`, `HH`: the hour, 0–23 (24 only as the end of a day).
    Hour(Digits),
    /// `h`, `hh`: the hour, 1–12; it needs `a`.
    Hour12(Digits),
    /// `m`, `mm`: the minute.
    Minute(Digits),
    /// `s`, `ss`: the second.
    Second(Digits),
    /// `S`: the decimals of a second; reads one to nine of them, whatever the
    /// count of letters.
    Fraction(u8),
    /// `a`: before or after noon.
    DayPeriod,
    /// `B`: the part of the day, in the words of the locale. It reads what `a`
    /// reads; the difference is for writing.
    FlexiblePeriod,
    /// `X`, `XX`, `XXX`, `XXXXX`: the offset from UTC, or `Z`; `O`: behind its
    /// name.
    Offset(OffsetStyle),
    /// A number that counts units since an origin. It stands alone.
    Count(Count),
    /// A length of time. It stands alone.
    Elapsed(Elapsed),
    /// `z`: the zone's abbreviation: `UTC`, `CET`.
    ZoneName,
    /// `VV`: the identifier of the zone: `Europe/Lisbon`.
    ZoneId,
    /// A whole cell that its source types as this kind. It stands alone.
    Typed(Kind),
    /// `…`: text that is skipped.
    Skipped,
}

/// How many digits a number has.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Digits {
    /// As many as it needs: reads one or two.
    Free,
    /// Exactly two, the first perhaps a zero.
    Two,
}

/// How much of a name is written. Either reads both; the difference is for
/// writing, and for the eye.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Width {
    /// `Mar`
    Abbreviated,
    /// `March`
    Wide,
}

/// How an offset from UTC is written (UTS #35, "Time Zone Format"). Each but
/// the last also reads `Z`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum OffsetStyle {
    /// `X`: `+01`
    Hours,
    /// `XX`: `+0100`
    Basic,
    /// `XXX`: `+01:00`
    Extended,
    /// `XXXXX`: `+00:09:21`, the seconds only where there are some.
    Seconds,
    /// `O`: `GMT+1`, `UTC-05:30`.
    Named,
    /// `XXXXXX`: `+060`, minutes (DMTF DSP0004 §5.2.4).
    Minutes,
}

impl OffsetStyle {
    fn example(self) -> &'static str {
        match self {
            OffsetStyle::Hours => "+01",
            OffsetStyle::Basic => "+0100",
            OffsetStyle::Extended => "+01:00",
            OffsetStyle::Seconds => "+00:09:21",
            OffsetStyle::Named => "GMT+1",
            OffsetStyle::Minutes => "+060",
        }
    }
}

/// A field symbol, as the documentation shows it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SymbolDoc {
    /// The letters of a pattern: `MM`.
    pub letters: &'static str,
    /// Other letters that mean the same: `LL`.
    pub also: &'static [&'static str],
    /// What it is a part of a date or time for.
    pub field_type: FieldType,
    /// What it reads, in words.
    pub reads: String,
}

/// The field symbols that patterns can have (UTS #35 part 4, §8):
///
/// ```
/// use metachron_core::form::symbols;
///
/// let month = symbols().find(|symbol| symbol.letters == "MM").unwrap();
/// assert_eq!(month.reads, "2 digits, 1 to 12");
/// ```
pub fn symbols() -> impl Iterator<Item = SymbolDoc> {
    spellings().map(|spelling| SymbolDoc {
        letters: spelling.letters,
        also: spelling.also,
        field_type: spelling.field.field_type(),
        reads: spelling.to_string(),
    })
}

impl Field {
    /// The type of the field.
    pub fn field_type(self) -> FieldType {
        match self {
            Field::Year
            | Field::YearFree
            | Field::YearExpanded
            | Field::YearOfTwo
            | Field::YearsSince1900 => FieldType::Year,
            Field::WeekYear | Field::WeekYearOfTwo => FieldType::WeekYear,
            Field::Era(_) => FieldType::Era,
            Field::Quarter => FieldType::Quarter,
            Field::Month(_) | Field::MonthName(_) => FieldType::Month,
            Field::Week(_) => FieldType::Week,
            Field::Day(_) => FieldType::Day,
            Field::DayOfYear(_) => FieldType::DayOfYear,
            Field::Weekday(_) | Field::WeekdayNumber => FieldType::Weekday,
            Field::Hour(_) | Field::Hour12(_) => FieldType::Hour,
            Field::Minute(_) => FieldType::Minute,
            Field::Second(_) => FieldType::Second,
            Field::Fraction(_) => FieldType::Fraction,
            Field::DayPeriod | Field::FlexiblePeriod => FieldType::DayPeriod,
            Field::Offset(_) => FieldType::Offset,
            Field::ZoneName => FieldType::ZoneName,
            Field::ZoneId => FieldType::ZoneId,
            Field::Count(_) => FieldType::Count,
            Field::Elapsed(_) => FieldType::Elapsed,
            Field::Typed(_) => FieldType::Typed,
            Field::Skipped => FieldType::Skipped,
        }
    }

    pub(super) fn descriptor(self) -> &'static TypeDescriptor {
        self.field_type().descriptor()
    }

    /// How patterns spell it; `None` of fields that they name by something else
    /// than letters.
    pub(super) fn spelling(self) -> Option<&'static Spelling> {
        let mut spellings = self.descriptor().spellings.iter();
        spellings.find(|spelling| spelling.field == self)
    }

    /// The field that these letters of a pattern stand for.
    pub(super) fn spelled(letters: &str) -> Option<Field> {
        let mut spellings = spellings();
        let spelling = spellings.find(|spelling| spelling.is(letters))?;
        Some(spelling.field)
    }

    /// Whether it is a typed value with a day and a month.
    pub(super) fn has_day_and_month(&self) -> bool {
        matches!(self, Field::Typed(Kind::Date | Kind::DateTime))
    }

    /// How many digits the field always has, where that is certain.
    pub(super) fn fixed_digits(self) -> Option<u8> {
        match (self, self.spelling()?.reads) {
            (_, Reads::Digits(count)) | (Field::Fraction(count), _) => Some(count),
            _ => None,
        }
    }

    /// Whether the field is written in digits alone, up to a known number.
    pub(super) fn is_number(self) -> bool {
        let reads = self.spelling().map(|spelling| spelling.reads);
        matches!(
            reads,
            Some(Reads::Digits(_) | Reads::UpToTwo | Reads::UpToThree)
        ) || matches!(self, Field::Fraction(_))
    }

    /// The same field with as many digits as it needs, if it may have one.
    pub(crate) fn in_free_digits(self) -> Field {
        match self {
            Field::Month(_) => Field::Month(Digits::Free),
            Field::Day(_) => Field::Day(Digits::Free),
            Field::Hour(_) => Field::Hour(Digits::Free),
            Field::Hour12(_) => Field::Hour12(Digits::Free),
            other => other,
        }
    }

    /// The same field with exactly two digits, if it can have them.
    pub(crate) fn in_two_digits(self) -> Field {
        match self {
            Field::Month(_) => Field::Month(Digits::Two),
            Field::Day(_) => Field::Day(Digits::Two),
            Field::Hour(_) => Field::Hour(Digits::Two),
            Field::Hour12(_) => Field::Hour12(Digits::Two),
            other => other,
        }
    }
}
