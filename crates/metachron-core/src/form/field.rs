//! The fields of a form, each a date field symbol of UTS #35 (part 4, §8).

use super::{Count, Elapsed};
use crate::stamp::Kind;

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
    /// `YYYY`: the year that an ISO 8601 week belongs to.
    WeekYear,
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
}

impl Field {
    /// The symbol and how many times it is written.
    pub(super) fn symbol(self) -> (char, usize) {
        let digits = |digits| match digits {
            Digits::Free => 1,
            Digits::Two => 2,
        };
        let width = |width| match width {
            Width::Abbreviated => 3,
            Width::Wide => 4,
        };
        match self {
            Field::Year => ('y', 4),
            Field::WeekYear => ('Y', 4),
            Field::Quarter => ('Q', 1),
            Field::Week(count) => ('w', digits(count)),
            Field::WeekdayNumber => ('e', 1),
            Field::DayOfYear(Digits::Free) => ('D', 1),
            Field::DayOfYear(Digits::Two) => ('D', 3),
            Field::YearFree => ('y', 1),
            Field::Era(Width::Abbreviated) => ('G', 1),
            Field::Era(Width::Wide) => ('G', 4),
            Field::YearOfTwo => ('y', 2),
            Field::Month(count) => ('M', digits(count)),
            Field::MonthName(name) => ('M', width(name)),
            Field::Day(count) => ('d', digits(count)),
            Field::Weekday(name) => ('E', width(name)),
            Field::Hour(count) => ('H', digits(count)),
            Field::Hour12(count) => ('h', digits(count)),
            Field::Minute(count) => ('m', digits(count)),
            Field::Second(count) => ('s', digits(count)),
            Field::Fraction(count) => ('S', count.into()),
            Field::DayPeriod => ('a', 1),
            Field::FlexiblePeriod => ('B', 1),
            Field::Offset(OffsetStyle::Hours) => ('X', 1),
            Field::Offset(OffsetStyle::Basic) => ('X', 2),
            Field::Offset(OffsetStyle::Extended) => ('X', 3),
            Field::Offset(OffsetStyle::Seconds) => ('X', 5),
            Field::Offset(OffsetStyle::Named) => ('O', 1),
            Field::ZoneName => ('z', 1),
            Field::ZoneId => ('V', 2),
            // Written as a whole, by its own name.
            Field::Count(_) | Field::Elapsed(_) | Field::Typed(_) => ('#', 1),
        }
    }

    /// Which part of a date or time this is, in words; two fields of one part
    /// cannot stand in one form.
    pub(super) fn part(self) -> &'static str {
        match self {
            Field::Year | Field::YearFree | Field::YearOfTwo => "year",
            Field::WeekYear => "week-year",
            Field::Quarter => "quarter",
            Field::Week(_) => "week",
            Field::WeekdayNumber => "weekday",
            Field::DayOfYear(_) => "day of the year",
            Field::Era(_) => "era",
            Field::Month(_) | Field::MonthName(_) => "month",
            Field::Day(_) => "day",
            Field::Weekday(_) => "weekday",
            Field::Hour(_) | Field::Hour12(_) => "hour",
            Field::Minute(_) => "minute",
            Field::Second(_) => "second",
            Field::Fraction(_) => "fraction",
            Field::DayPeriod | Field::FlexiblePeriod => "am/pm",
            Field::Offset(_) => "offset",
            Field::ZoneName => "zone's name",
            Field::ZoneId => "zone",
            Field::Count(_) => "count",
            Field::Elapsed(_) => "length of time",
            Field::Typed(_) => "typed value",
        }
    }

    /// Whether it is a typed value with a day and a month.
    pub(super) fn has_day_and_month(&self) -> bool {
        matches!(self, Field::Typed(Kind::Date | Kind::DateTime))
    }

    /// How many digits the field always has, where that is certain.
    pub(super) fn fixed_digits(self) -> Option<u8> {
        match self {
            Field::Year | Field::WeekYear => Some(4),
            Field::DayOfYear(Digits::Two) => Some(3),
            Field::Quarter | Field::WeekdayNumber => Some(1),
            Field::YearOfTwo
            | Field::Month(Digits::Two)
            | Field::Week(Digits::Two)
            | Field::Day(Digits::Two)
            | Field::Hour(Digits::Two)
            | Field::Hour12(Digits::Two)
            | Field::Minute(Digits::Two)
            | Field::Second(Digits::Two) => Some(2),
            _ => None,
        }
    }

    /// Whether the field is written in digits alone.
    pub(super) fn is_number(self) -> bool {
        self.fixed_digits().is_some()
            || matches!(
                self,
                Field::Month(Digits::Free)
                    | Field::Week(Digits::Free)
                    | Field::DayOfYear(Digits::Free)
                    | Field::Day(Digits::Free)
                    | Field::Hour(Digits::Free)
                    | Field::Hour12(Digits::Free)
                    | Field::Minute(Digits::Free)
                    | Field::Second(Digits::Free)
            )
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
