//! Rounding to units of time.

use crate::phrase::calendar::{DAY, plus_days, plus_months, since_midnight, time_at};
use crate::phrase::number::Way;
use crate::phrase::policy::MonthEnd;
use crate::phrase::refusal::{Evaluated, Refusal};
use crate::phrase::unit::Unit;
use crate::stamp::{Duration, Stamp};
use jiff::civil::{Date, Time, Weekday};

/// `stamp` rounded to so many of `unit`, counted from midnight, from Monday,
/// or from the start of its year or of year 0.
pub(super) fn rounded(stamp: &Stamp, way: Way, amount: u32, unit: Unit) -> Evaluated<Stamp> {
    let step = unit.nanoseconds().map(|unit| unit * i128::from(amount));
    Ok(match (*stamp, step) {
        (Stamp::Time(time), Some(step)) => {
            let rounded = to_step(since_midnight(time), step, way);
            Stamp::Time(time_at(rounded).ok_or(Refusal::PassesMidnight)?)
        }
        (Stamp::Duration(length), Some(step)) => {
            if length.months() != 0 {
                return Err(Refusal::NoFixedLength(length).into());
            }
            let (length, sign) = match (length.nanoseconds(), way) {
                // Halves of lengths go away from zero.
                (back @ ..0, Way::Nearest) => (-back, -1),
                (length, _) => (length, 1),
            };
            Stamp::Duration(Duration::new(0, sign * to_step(length, step, way)))
        }
        (Stamp::DateTime(at), Some(step)) if step <= DAY => {
            let rounded = to_step(since_midnight(at.time()), step, way);
            let date = plus_days(at.date(), rounded.div_euclid(DAY) as i64)?;
            let time = time_at(rounded.rem_euclid(DAY)).unwrap_or(Time::midnight());
            Stamp::DateTime(date.to_datetime(time))
        }
        (Stamp::DateTime(at), _) => {
            let down = start(at.date(), amount, unit)?;
            let here = down.to_datetime(Time::midnight());
            let date = match way {
                Way::Down => down,
                _ if here == at => down,
                Way::Up => next(down, amount, unit)?,
                Way::Nearest => {
                    let up = next(down, amount, unit)?;
                    let behind = up.to_datetime(Time::midnight());
                    if at.duration_since(here) < behind.duration_since(at) {
                        down
                    } else {
                        up
                    }
                }
            };
            Stamp::DateTime(date.to_datetime(Time::midnight()))
        }
        (Stamp::Date(date), _) => {
            let at = Stamp::DateTime(date.to_datetime(Time::midnight()));
            match rounded(&at, way, amount, unit)? {
                Stamp::DateTime(at) => Stamp::Date(at.date()),
                other => other,
            }
        }
        (other, _) => other,
    })
}

fn to_step(value: i128, step: i128, way: Way) -> i128 {
    let down = value.div_euclid(step) * step;
    match way {
        Way::Down => down,
        _ if down == value => down,
        Way::Up => down + step,
        Way::Nearest if 2 * (value - down) < step => down,
        Way::Nearest => down + step,
    }
}

/// The start of the span of so many units that `date` is in.
fn start(date: Date, amount: u32, unit: Unit) -> Evaluated<Date> {
    let Some(months) = unit.months() else {
        // Weeks; days are rounded by their length.
        let before = date.weekday().since(Weekday::Monday);
        return plus_days(date, -i64::from(before));
    };
    let step = months * i64::from(amount);
    let all = i64::from(date.year()) * 12 + i64::from(date.month()) - 1;
    let all = all.div_euclid(step) * step;
    let year = i16::try_from(all.div_euclid(12)).map_err(|_| Refusal::BeyondYears)?;
    Date::new(year, (all.rem_euclid(12) + 1) as i8, 1).map_err(|_| Refusal::BeyondYears.into())
}

fn next(start: Date, amount: u32, unit: Unit) -> Evaluated<Date> {
    match unit.months() {
        Some(months) => plus_months(start, months * i64::from(amount), MonthEnd::Clamp),
        None => plus_days(start, 7),
    }
}
