//! Arithmetic on the calendar: moving by months and days, the months between
//! two days, ages, and the edges of periods.

use super::number::{Number, Way};
use super::policy::{LeapBirthday, MonthEnd};
use super::refusal::{Evaluated, Refusal};
use super::unit::{Counting, Unit};
use super::value::mismatch;
use crate::calendar::day_number;
use crate::stamp::{Duration, Stamp};
use jiff::Span;
use jiff::civil::{Date, DateTime, ISOWeekDate, Time, Weekday};

/// An end of a period.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Edge {
    /// Its first day.
    First,
    /// Its last day.
    Last,
}

/// A period of the calendar that has a first and a last day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Period {
    /// Monday to Sunday (ISO 8601).
    Week,
    /// A month.
    Month,
    /// A quarter of a year.
    Quarter,
    /// A year.
    Year,
}

pub(super) const SECOND: i128 = 1_000_000_000;
pub(super) const DAY: i128 = 86_400 * SECOND;

/// `stamp` so much later, or earlier if `by` is negative: by its months first,
/// then by its exact time.
pub(super) fn moved(stamp: &Stamp, by: Duration, end: MonthEnd) -> Evaluated<Stamp> {
    let beyond_years = |_| Refusal::BeyondYears;
    let only_exact = || -> Evaluated<()> {
        match by.months() {
            0 => Ok(()),
            _ => Err(Refusal::NoFixedLength(by).into()),
        }
    };
    Ok(match *stamp {
        Stamp::Date(date) => {
            let days = by.whole_days().ok_or(Refusal::NotWholeDays(by))?;
            let date = plus_months(date, by.months(), end)?;
            Stamp::Date(plus_days(date, days)?)
        }
        Stamp::DateTime(at) => {
            let date = plus_months(at.date(), by.months(), end)?;
            let at = date.to_datetime(at.time());
            Stamp::DateTime(at.checked_add(by.exact()).map_err(beyond_years)?)
        }
        Stamp::Instant(at) => {
            only_exact()?;
            Stamp::Instant(at.checked_add(by.exact()).map_err(beyond_years)?)
        }
        Stamp::Time(time) => {
            only_exact()?;
            Stamp::Time(
                time_at(since_midnight(time) + by.nanoseconds()).ok_or(Refusal::PassesMidnight)?,
            )
        }
        other => mismatch("a point in time", &other),
    })
}

/// `date` so many days later.
pub(super) fn plus_days(date: Date, days: i64) -> Evaluated<Date> {
    if days == 0 {
        return Ok(date);
    }
    let days = i32::try_from(days).map_err(|_| Refusal::BeyondYears)?;
    let span = Span::new().try_days(days);
    span.and_then(|span| date.checked_add(span))
        .map_err(|_| Refusal::BeyondYears.into())
}

/// `date` so many months later.
pub(super) fn plus_months(date: Date, months: i64, end: MonthEnd) -> Evaluated<Date> {
    if months == 0 {
        return Ok(date);
    }
    let all = i64::from(date.year()) * 12 + i64::from(date.month()) - 1 + months;
    let year = i16::try_from(all.div_euclid(12)).map_err(|_| Refusal::BeyondYears)?;
    let month = (all.rem_euclid(12) + 1) as i8;
    let first = Date::new(year, month, 1).map_err(|_| Refusal::BeyondYears)?;
    let last = first.days_in_month();
    match (date.day() <= last, end) {
        (false, MonthEnd::Refuse) => Err(Refusal::MonthEnd {
            year,
            month,
            day: date.day(),
        }
        .into()),
        _ => Date::new(year, month, date.day().min(last)).map_err(|_| Refusal::BeyondYears.into()),
    }
}

/// The nanoseconds since midnight.
pub(super) fn since_midnight(time: Time) -> i128 {
    let seconds =
        i128::from(time.hour()) * 3600 + i128::from(time.minute()) * 60 + i128::from(time.second());
    seconds * SECOND + i128::from(time.subsec_nanosecond())
}

/// The time of day so many nanoseconds behind midnight, if it is of that day.
pub(super) fn time_at(nanoseconds: i128) -> Option<Time> {
    if !(0..DAY).contains(&nanoseconds) {
        return None;
    }
    let seconds = (nanoseconds / SECOND) as i32;
    Time::new(
        (seconds / 3600) as i8,
        (seconds / 60 % 60) as i8,
        (seconds % 60) as i8,
        (nanoseconds % SECOND) as i32,
    )
    .ok()
}

/// The nanoseconds from one stamp to another of its kind.
#[inline]
pub(super) fn exact_between(from: &Stamp, to: &Stamp) -> i128 {
    match (from, to) {
        (Stamp::Date(from), Stamp::Date(to)) => to.duration_since(*from).as_nanos(),
        (Stamp::DateTime(from), Stamp::DateTime(to)) => to.duration_since(*from).as_nanos(),
        (Stamp::Instant(from), Stamp::Instant(to)) => to.duration_since(*from).as_nanos(),
        (Stamp::Time(from), Stamp::Time(to)) => since_midnight(*to) - since_midnight(*from),
        other => mismatch("two stamps of one kind", &other),
    }
}

/// How many of `unit` lie between two stamps of one kind.
#[inline]
pub(super) fn between(
    from: &Stamp,
    to: &Stamp,
    counting: Counting,
    unit: Unit,
) -> Evaluated<Number> {
    if let (Unit::Day, Stamp::Date(from), Stamp::Date(to)) = (unit, from, to) {
        let days = day_number(*to) - day_number(*from);
        return Ok(i64::from(days).into());
    }
    match unit.nanoseconds() {
        Some(unit) => counted(exact_between(from, to), unit, counting),
        None => {
            let local = |stamp: &Stamp| match *stamp {
                Stamp::Date(date) => date.to_datetime(Time::midnight()),
                Stamp::DateTime(at) => at,
                other => mismatch("a day", &other),
            };
            let Some(months) = unit.months() else {
                mismatch("a unit of months", &unit)
            };
            months_between(local(from), local(to), counting, months)
        }
    }
}

/// How many `unit`s an exact length is.
#[inline]
pub(super) fn counted(length: i128, unit: i128, counting: Counting) -> Evaluated<Number> {
    let number = match counting {
        Counting::Whole => Number::ratio(length / unit, 1),
        _ => Number::ratio(length, unit),
    };
    let number = number.ok_or(Refusal::TooLarge)?;
    Ok(match counting {
        Counting::Nearest => number.rounded(Way::Nearest, 0),
        _ => number,
    })
}

/// How many steps of so many months can be made from `from` without passing
/// `to`, and which part of the next one is left.
fn months_between(
    from: DateTime,
    to: DateTime,
    counting: Counting,
    step: i64,
) -> Evaluated<Number> {
    let forward = to >= from;
    let sign = if forward { 1 } else { -1 };
    let stepped = |steps: i64| -> Evaluated<DateTime> {
        let date = plus_months(from.date(), sign * steps * step, MonthEnd::Clamp)?;
        Ok(date.to_datetime(from.time()))
    };
    let of_month = |at: DateTime| i64::from(at.year()) * 12 + i64::from(at.month());
    let mut steps = sign * (of_month(to) - of_month(from)) / step;
    // From the 31st to the 30th no month has passed, from the 31st of January
    // to the 28th of February one has, which has no 31st.
    let passes = |at: DateTime| if forward { at > to } else { at < to };
    if passes(stepped(steps)?) {
        steps -= 1;
    }
    let whole = Number::from(sign * steps);
    if counting == Counting::Whole {
        return Ok(whole);
    }
    let (here, next) = (stepped(steps)?, stepped(steps + 1));
    let rest = to.duration_since(here).as_nanos();
    let number = match (rest, next) {
        (0, _) => whole,
        (_, Err(why)) => return Err(why),
        (_, Ok(next)) => {
            let length = next.duration_since(here).as_nanos().abs();
            let part = Number::ratio(rest, length).ok_or(Refusal::TooLarge)?;
            whole.plus(part).ok_or(Refusal::TooLarge)?
        }
    };
    Ok(match counting {
        Counting::Nearest => number.rounded(Way::Nearest, 0),
        _ => number,
    })
}

/// The years that somebody has completed on a day; `None` before the birth.
pub(super) fn age(born: Date, on: Date, leap: LeapBirthday) -> Option<i64> {
    if on < born {
        return None;
    }
    let leapling = (born.month(), born.day()) == (2, 29) && !on.in_leap_year();
    let birthday = match (leapling, leap) {
        (true, LeapBirthday::March) => (3, 1),
        (true, LeapBirthday::February) => (2, 28),
        (false, _) => (born.month(), born.day()),
    };
    let years = i64::from(on.year()) - i64::from(born.year());
    Some(years - i64::from((on.month(), on.day()) < birthday))
}

/// The first or last day of the period that `date` is in.
pub(super) fn edge(date: Date, edge: Edge, period: Period) -> Evaluated<Date> {
    let first = first_day(date, period)?;
    let of_month = |after: i64| plus_months(first, after, MonthEnd::Clamp);
    match (edge, period) {
        (Edge::First, _) => Ok(first),
        (Edge::Last, Period::Week) => plus_days(first, 6),
        (Edge::Last, Period::Month) => Ok(first.last_of_month()),
        (Edge::Last, Period::Quarter) => Ok(of_month(2)?.last_of_month()),
        (Edge::Last, Period::Year) => Ok(first.last_of_year()),
    }
}

fn first_day(date: Date, period: Period) -> Evaluated<Date> {
    let first = match period {
        Period::Week => {
            let before = date.weekday().since(Weekday::Monday);
            return plus_days(date, -i64::from(before));
        }
        Period::Month => Date::new(date.year(), date.month(), 1),
        Period::Quarter => Date::new(date.year(), (date.month() - 1) / 3 * 3 + 1, 1),
        Period::Year => Date::new(date.year(), 1, 1),
    };
    first.map_err(|_| Refusal::BeyondYears.into())
}

/// The first or last day of a span of days; `None` of what is none.
pub(super) fn edge_of(stamp: &Stamp, edge: Edge) -> Option<Evaluated<Date>> {
    let beyond_years = |_| Refusal::BeyondYears.into();
    let (first, period) = match *stamp {
        Stamp::Month(year, month) => (Date::new(year, month as i8, 1), Period::Month),
        Stamp::Quarter(year, quarter) => {
            (Date::new(year, quarter as i8 * 3 - 2, 1), Period::Quarter)
        }
        Stamp::Week(year, week) => {
            let monday = ISOWeekDate::new(year, week as i8, Weekday::Monday);
            (monday.map(|monday| monday.date()), Period::Week)
        }
        Stamp::Year(year) => (Date::new(year, 1, 1), Period::Year),
        _ => return None,
    };
    Some(
        first
            .map_err(beyond_years)
            .and_then(|first| self::edge(first, edge, period)),
    )
}
