//! What a phrase says, before it is known what its columns hold.

use super::error::Span;
use super::number::{Number, Way};
use crate::stamp::{Kind, Stamp};
use crate::zone::WhichInstant;

/// A part of a phrase, and its place.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Expr {
    pub say: Say,
    pub at: Span,
    /// How deep it is nested: 1 for what has no parts.
    pub depth: usize,
}

/// What it says.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Say {
    Number(Number),
    Text(String),
    Stamp(Stamp),
    Truth(bool),
    Blank,
    Column(String),
    /// `now`
    Now,
    /// `today in zone ZONE`
    Today(Box<Expr>),
    /// `year of X`
    Part(Part, Box<Expr>),
    /// `month name of X in locale "fr"`
    Name(Named, Box<Expr>, Option<Quoted>),
    /// `first day of month of X`
    Edge(Edge, Option<Period>, Box<Expr>),
    /// `date from Y, M, D`
    Made(Made, Vec<Expr>, Option<Quoted>),
    /// `3 days`
    Amount(Box<Expr>, Unit),
    /// `whole days from A to B`
    Between(Counting, Unit, Box<Expr>, Box<Expr>),
    /// `age of BORN on DAY`
    Age(Box<Expr>, Box<Expr>),
    /// `hours since first COLUMN`
    Since(Counting, Unit, Since, Box<Expr>),
    /// `X in whole hours`
    InUnit(Box<Expr>, Counting, Unit),
    /// `X in zone ZONE`
    InZone(Box<Expr>, Box<Expr>),
    /// `X as instant in zone ZONE`
    AsInstant(Box<Expr>, Box<Expr>),
    /// `X as month`
    AsKind(Box<Expr>, Kind),
    /// `X as number`
    AsNumber(Box<Expr>),
    /// `X as text "d MMMM yyyy" in locale "fr" in zone ZONE`
    AsText(Box<Expr>, Option<Quoted>, Option<Quoted>, Option<Quoted>),
    /// `X as count "days since 1899-12-30"`
    AsCount(Box<Expr>, Quoted),
    /// `X rounded down to 15 minutes`
    Rounded(Box<Expr>, Way, u32, Grain),
    Negated(Box<Expr>),
    Sum(Sign, Box<Expr>, Box<Expr>),
    Product(Scaling, Box<Expr>, Box<Expr>),
    Compared(Comparison, Box<Expr>, Box<Expr>),
    /// `X between A and B`
    Within(Box<Expr>, Box<Expr>, Box<Expr>),
    /// `X in (A, B)`
    OneOf(Box<Expr>, Vec<Expr>),
    /// `X is blank`
    Is(Box<Expr>, Test),
    Not(Box<Expr>),
    And(Vec<Expr>),
    Or(Vec<Expr>),
    /// `if A then B else if C then D else E`
    If(Vec<(Expr, Expr)>, Box<Expr>),
    /// `A otherwise B`
    Otherwise(Vec<Expr>),
}

/// A text in the phrase that has to be a locale, a pattern or the like.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Quoted {
    pub text: String,
    pub at: Span,
}

/// A part of a stamp, as a number unless it says otherwise.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Part {
    /// The year (ISO 8601: 0 is the year before 1).
    Year,
    /// The quarter, 1–4.
    Quarter,
    /// The month, 1–12.
    Month,
    /// The week of ISO 8601's calendar, 1–53.
    Week,
    /// The year that this week belongs to.
    WeekYear,
    /// The day of the month, 1–31.
    Day,
    /// The day of the year, 1–366.
    DayOfYear,
    /// The day of the week, 1 (Monday) – 7 (ISO 8601).
    Weekday,
    /// The hour, 0–23.
    Hour,
    /// The minute, 0–59.
    Minute,
    /// The second, 0–59, without its fraction.
    Second,
    /// The fraction of the second, 0–0.999999999.
    Fraction,
    /// The day, as a date.
    Date,
    /// The time of day.
    Time,
}

/// A part that has a name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Named {
    /// The month.
    Month,
    /// The day of the week.
    Weekday,
}

/// An end of a period.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Edge {
    /// Its first day.
    First,
    /// Its last day.
    Last,
}

/// A period of the calendar that has a first and a last day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Period {
    /// Monday to Sunday (ISO 8601).
    Week,
    /// A month.
    Month,
    /// A quarter of a year.
    Quarter,
    /// A year.
    Year,
}

/// What is put together.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Made {
    /// A date, from year, month and day.
    Date,
    /// A time of day, from hour, minute and perhaps second.
    Time,
    /// A datetime, from a date and a time of day.
    DateTime,
}

/// A unit of time.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Unit {
    /// Thousand-millionths of a second.
    Nanosecond,
    /// Millionths of a second.
    Microsecond,
    /// Thousandths of a second.
    Millisecond,
    /// Seconds.
    Second,
    /// Minutes.
    Minute,
    /// Hours.
    Hour,
    /// Days of 24 hours.
    Day,
    /// Weeks of seven days.
    Week,
    /// Months of the calendar.
    Month,
    /// Three months of the calendar.
    Quarter,
    /// Years of the calendar.
    Year,
}

/// How units are counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Counting {
    /// With what is left over as a fraction.
    Exact,
    /// Those that have passed in full.
    Whole,
    /// The nearest whole number.
    Nearest,
}

/// The row that elapsed time is counted from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Since {
    /// The first that is not blank.
    First,
    /// The earliest of all.
    Earliest,
    /// The last before this one that is not blank.
    Previous,
}

/// Which other rows a phrase asks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum RowScope {
    /// None.
    NoOthers,
    /// The first in which a column is not blank.
    First,
    /// Whichever there are.
    All,
}

/// What is rounded to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Grain {
    Unit(Unit),
    Decimals,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Sign {
    Plus,
    Minus,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Scaling {
    By,
    Over,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Comparison {
    Equal,
    Unequal,
    Before,
    BeforeOrEqual,
    After,
    AfterOrEqual,
}

/// What a value is tested for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Test {
    /// It has no value.
    Blank,
    /// Its year has 29 February.
    LeapYear,
    /// Monday to Friday.
    Weekday,
    /// Saturday or Sunday.
    Weekend,
}

/// What is done where the calendar leaves a choice: said behind the phrase,
/// after a comma.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Policies {
    pub month_end: MonthEnd,
    pub leap_birthday: LeapBirthday,
    pub in_gap: WhichInstant,
    pub in_overlap: WhichInstant,
}

/// What a month before or after a day is where that month has no such day.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum MonthEnd {
    /// The last day of that month: 31 January and a month is 28 February.
    /// What contracts and registers mean.
    #[default]
    Clamp,
    /// The cell is left for a person.
    Refuse,
}

/// When those who were born on 29 February complete a year that has none.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum LeapBirthday {
    /// On 1 March.
    #[default]
    March,
    /// On 28 February.
    February,
}

impl Part {
    pub(crate) const ALL: [(Part, &'static str); 14] = [
        (Part::Year, "year"),
        (Part::Quarter, "quarter"),
        (Part::Month, "month"),
        (Part::Week, "week"),
        (Part::WeekYear, "week year"),
        (Part::Day, "day"),
        (Part::DayOfYear, "day of year"),
        (Part::Weekday, "weekday"),
        (Part::Hour, "hour"),
        (Part::Minute, "minute"),
        (Part::Second, "second"),
        (Part::Fraction, "fraction"),
        (Part::Date, "date"),
        (Part::Time, "time"),
    ];

    /// What it is called in phrases.
    pub fn name(self) -> &'static str {
        Part::ALL[self as usize].1
    }
}

impl Unit {
    pub(crate) const ALL: [(Unit, &'static str, &'static str); 11] = [
        (Unit::Nanosecond, "nanosecond", "nanoseconds"),
        (Unit::Microsecond, "microsecond", "microseconds"),
        (Unit::Millisecond, "millisecond", "milliseconds"),
        (Unit::Second, "second", "seconds"),
        (Unit::Minute, "minute", "minutes"),
        (Unit::Hour, "hour", "hours"),
        (Unit::Day, "day", "days"),
        (Unit::Week, "week", "weeks"),
        (Unit::Month, "month", "months"),
        (Unit::Quarter, "quarter", "quarters"),
        (Unit::Year, "year", "years"),
    ];

    /// The unit that `word` names, one or several of it.
    pub(crate) fn named(word: &str) -> Option<Unit> {
        let mut all = Unit::ALL.into_iter();
        all.find(|(_, one, several)| word == *one || word == *several)
            .map(|(unit, ..)| unit)
    }

    /// Several of it, in words.
    pub fn name(self) -> &'static str {
        Unit::ALL[self as usize].2
    }

    /// Its length in nanoseconds; `None` of units of the calendar.
    pub fn nanoseconds(self) -> Option<i128> {
        const SECOND: i128 = 1_000_000_000;
        Some(match self {
            Unit::Nanosecond => 1,
            Unit::Microsecond => 1_000,
            Unit::Millisecond => 1_000_000,
            Unit::Second => SECOND,
            Unit::Minute => 60 * SECOND,
            Unit::Hour => 3_600 * SECOND,
            Unit::Day => 86_400 * SECOND,
            Unit::Week => 7 * 86_400 * SECOND,
            Unit::Month | Unit::Quarter | Unit::Year => return None,
        })
    }

    /// Its length in months; `None` of exact units.
    pub fn months(self) -> Option<i64> {
        match self {
            Unit::Month => Some(1),
            Unit::Quarter => Some(3),
            Unit::Year => Some(12),
            _ => None,
        }
    }
}

impl Expr {
    /// The columns that it names, each with its place.
    pub(crate) fn columns<'e>(&'e self, found: &mut Vec<(&'e str, &'e Span)>) {
        if let Say::Column(name) = &self.say {
            found.push((name, &self.at));
        }
        self.say.each(&mut |part| part.columns(found));
    }
}

impl Expr {
    /// Whether it names no column.
    pub(crate) fn is_constant(&self) -> bool {
        let mut is_constant = !matches!(self.say, Say::Column(_));
        self.say
            .each(&mut |part| is_constant = is_constant && part.is_constant());
        is_constant
    }

    /// Which other rows it asks.
    pub(crate) fn row_scope(&self) -> RowScope {
        let mut row_scope = match self.say {
            Say::Since(_, _, Since::First, _) => RowScope::First,
            Say::Since(..) => RowScope::All,
            _ => RowScope::NoOthers,
        };
        self.say
            .each(&mut |part| row_scope = row_scope.max(part.row_scope()));
        row_scope
    }
}

impl Say {
    /// Hands over the parts that it is made of.
    pub(crate) fn each<'e>(&'e self, act: &mut dyn FnMut(&'e Expr)) {
        match self {
            Say::Number(_)
            | Say::Text(_)
            | Say::Stamp(_)
            | Say::Truth(_)
            | Say::Blank
            | Say::Column(_)
            | Say::Now => {}
            Say::Today(one)
            | Say::Part(_, one)
            | Say::Name(_, one, _)
            | Say::Edge(_, _, one)
            | Say::Amount(one, _)
            | Say::Since(_, _, _, one)
            | Say::InUnit(one, ..)
            | Say::AsKind(one, _)
            | Say::AsNumber(one)
            | Say::AsText(one, ..)
            | Say::AsCount(one, _)
            | Say::Rounded(one, ..)
            | Say::Negated(one)
            | Say::Is(one, _)
            | Say::Not(one) => act(one),
            Say::Between(_, _, one, other)
            | Say::Age(one, other)
            | Say::InZone(one, other)
            | Say::AsInstant(one, other)
            | Say::Sum(_, one, other)
            | Say::Product(_, one, other)
            | Say::Compared(_, one, other) => {
                act(one);
                act(other);
            }
            Say::Within(one, low, high) => {
                act(one);
                act(low);
                act(high);
            }
            Say::Made(_, all, _) | Say::And(all) | Say::Or(all) | Say::Otherwise(all) => {
                all.iter().for_each(act);
            }
            Say::OneOf(one, all) => {
                act(one);
                all.iter().for_each(act);
            }
            Say::If(cases, last) => {
                for (test, then) in cases {
                    act(test);
                    act(then);
                }
                act(last);
            }
        }
    }
}
