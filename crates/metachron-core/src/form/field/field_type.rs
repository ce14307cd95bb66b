//! The types of fields (UTS #35 part 4, §8), and what holds of each.

use super::spelling::{self, Spelling};
use crate::stamp::Kind;

/// What a field is a part of a date or time for. Two fields of one type cannot
/// stand in one form.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[expect(missing_docs, reason = "each is described in `TYPES`")]
pub enum FieldType {
    Year,
    WeekYear,
    Era,
    Quarter,
    Month,
    Week,
    Day,
    DayOfYear,
    Weekday,
    Hour,
    Minute,
    Second,
    Fraction,
    DayPeriod,
    Offset,
    ZoneName,
    ZoneId,
    Count,
    Elapsed,
    Typed,
    Skipped,
}

/// What holds of all fields of a type.
pub(in crate::form) struct TypeDescriptor {
    field_type: FieldType,
    /// What it is called in messages.
    pub name: &'static str,
    /// Its letter in the name of an order, such as `dmy`.
    pub order: Option<char>,
    /// The kinds of stamps that have it, and can be written with it.
    pub kinds: &'static [Kind],
    /// The ways of writing it, as patterns name them; those that patterns name
    /// by something else than letters have none.
    pub spellings: &'static [Spelling],
}

const OF_YEAR: &[Kind] = &[
    Kind::Date,
    Kind::DateTime,
    Kind::Instant,
    Kind::Month,
    Kind::Quarter,
    Kind::Year,
];
const OF_QUARTER: &[Kind] = &[
    Kind::Date,
    Kind::DateTime,
    Kind::Instant,
    Kind::Month,
    Kind::Quarter,
];
const OF_MONTH: &[Kind] = &[Kind::Date, Kind::DateTime, Kind::Instant, Kind::Month];
const OF_WEEK: &[Kind] = &[Kind::Date, Kind::DateTime, Kind::Instant, Kind::Week];
const DAYS: &[Kind] = &[Kind::Date, Kind::DateTime, Kind::Instant];
const CLOCKS: &[Kind] = &[Kind::Time, Kind::DateTime, Kind::Instant];
const INSTANTS: &[Kind] = &[Kind::Instant];

static TYPES: [TypeDescriptor; FieldType::COUNT] = [
    described(FieldType::Year, "year", OF_YEAR, &spelling::YEAR).ordered('y'),
    described(
        FieldType::WeekYear,
        "week-year",
        OF_WEEK,
        &spelling::WEEK_YEAR,
    ),
    described(FieldType::Era, "era", OF_YEAR, &spelling::ERA),
    described(
        FieldType::Quarter,
        "quarter",
        OF_QUARTER,
        &spelling::QUARTER,
    ),
    described(FieldType::Month, "month", OF_MONTH, &spelling::MONTH).ordered('m'),
    described(FieldType::Week, "week", OF_WEEK, &spelling::WEEK),
    described(FieldType::Day, "day", DAYS, &spelling::DAY).ordered('d'),
    described(
        FieldType::DayOfYear,
        "day of the year",
        DAYS,
        &spelling::DAY_OF_YEAR,
    ),
    described(FieldType::Weekday, "weekday", DAYS, &spelling::WEEKDAY),
    described(FieldType::Hour, "hour", CLOCKS, &spelling::HOUR),
    described(FieldType::Minute, "minute", CLOCKS, &spelling::MINUTE),
    described(FieldType::Second, "second", CLOCKS, &spelling::SECOND),
    described(FieldType::Fraction, "fraction", CLOCKS, &spelling::FRACTION),
    described(FieldType::DayPeriod, "am/pm", CLOCKS, &spelling::DAY_PERIOD),
    described(FieldType::Offset, "offset", INSTANTS, &spelling::OFFSET),
    described(
        FieldType::ZoneName,
        "zone's name",
        INSTANTS,
        &spelling::ZONE_NAME,
    ),
    described(FieldType::ZoneId, "zone", INSTANTS, &spelling::ZONE_ID),
    described(FieldType::Count, "count", &[], &[]),
    described(FieldType::Elapsed, "length of time", &[Kind::Duration], &[]),
    described(FieldType::Typed, "typed value", &[], &[]),
    described(FieldType::Skipped, "skipped text", &[], &spelling::SKIPPED),
];

const fn described(
    field_type: FieldType,
    name: &'static str,
    kinds: &'static [Kind],
    spellings: &'static [Spelling],
) -> TypeDescriptor {
    TypeDescriptor {
        field_type,
        name,
        order: None,
        kinds,
        spellings,
    }
}

impl TypeDescriptor {
    const fn ordered(mut self, letter: char) -> TypeDescriptor {
        self.order = Some(letter);
        self
    }
}

impl FieldType {
    /// How many there are.
    pub(in crate::form) const COUNT: usize = FieldType::Skipped as usize + 1;

    pub(in crate::form) fn descriptor(self) -> &'static TypeDescriptor {
        let descriptor = &TYPES[self as usize];
        debug_assert_eq!(
            descriptor.field_type, self,
            "TYPES is in the order of FieldType"
        );
        descriptor
    }

    /// What it is called in messages.
    pub fn name(self) -> &'static str {
        self.descriptor().name
    }
}

/// All spellings, those of one type next to each other.
pub(in crate::form) fn spellings() -> impl Iterator<Item = &'static Spelling> {
    TYPES.iter().flat_map(|descriptor| descriptor.spellings)
}
