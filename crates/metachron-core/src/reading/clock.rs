//! Times of day, as a shape may hold them.

use super::pieces::{Classes, Piece};
use crate::form::{Digits, Field, OffsetStyle};
use crate::lex::Class;
use crate::locale::Roles;

/// The times of day that start at `start`. `behind_t`: the `T` of ISO 8601
/// stands before, so that bare digits are a time.
pub(super) fn clocks(classes: Classes<'_>, start: usize, behind_t: bool) -> Vec<Piece> {
    let mut found = Vec::new();
    let clock = match classes.at(start) {
        Some(Class::Short) => match classes.is(start + 1, Class::Symbol(':')) {
            true => hours_and_minutes(classes, start),
            false => hour_alone(classes, start),
        },
        Some(Class::Digits(digits @ (4 | 6))) if behind_t => Some(basic(classes, start, digits)),
        _ => None,
    };
    if let Some(clock) = clock {
        found.extend(with_zone(classes, &clock));
        found.push(clock);
    }
    found
}

/// `14:30`, `2:30 pm`, `14:30:00.25`
fn hours_and_minutes(classes: Classes<'_>, start: usize) -> Option<Piece> {
    if !classes.is(start + 2, Class::Short) {
        return None;
    }
    let mut rest = Piece::new(start + 1)
        .literal(classes, start + 2)
        .field(Field::Minute(Digits::Two));
    if classes.is(rest.end, Class::Symbol(':')) && classes.is(rest.end + 1, Class::Short) {
        let second = rest.end + 1;
        rest = rest
            .literal(classes, second)
            .field(Field::Second(Digits::Two));
        rest = fraction(classes, rest);
    }
    Some(with_day_period(classes, start, rest))
}

/// `2 pm`
fn hour_alone(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let clock = with_day_period(classes, start, Piece::new(start + 1));
    (clock.end > start + 1).then_some(clock)
}

/// `143000.25`, `1430`
fn basic(classes: Classes<'_>, start: usize, digits: u8) -> Piece {
    let mut clock = Piece::new(start)
        .field(Field::Hour(Digits::Two))
        .field(Field::Minute(Digits::Two));
    if digits == 6 {
        clock = clock.field(Field::Second(Digits::Two));
    }
    clock.end = start + 1;
    match digits {
        6 => fraction(classes, clock),
        _ => clock,
    }
}

fn fraction(classes: Classes<'_>, clock: Piece) -> Piece {
    match classes.is(clock.end + 1, Class::Fraction) {
        true => {
            let digits = clock.end + 1;
            clock.literal(classes, digits).field(Field::Fraction(1))
        }
        false => clock,
    }
}

/// Puts the hour before `rest`: on the 12-hour clock if am or pm follows.
fn with_day_period(classes: Classes<'_>, start: usize, rest: Piece) -> Piece {
    let spaced = usize::from(classes.is(rest.end, Class::Space));
    let hour = |field| Piece::new(start).field(field);
    match classes.may_be(rest.end + spaced, Roles::DAY_PERIOD) {
        true => {
            let place = rest.end + spaced;
            hour(Field::Hour12(Digits::Free))
                .then(rest)
                .literal(classes, place)
                .field(Field::DayPeriod)
        }
        false => hour(Field::Hour(Digits::Free)).then(rest),
    }
}

/// The clock with the offset from UTC that follows it, if one does.
fn with_zone(classes: Classes<'_>, clock: &Piece) -> Option<Piece> {
    let spaced = usize::from(classes.is(clock.end, Class::Space));
    let place = clock.end + spaced;
    let zone = |field, len| {
        let mut zone = clock.clone().literal(classes, place).field(field);
        zone.end = place + len;
        Some(zone)
    };
    match classes.at(place)? {
        Class::Z => zone(Field::Offset(OffsetStyle::Extended), 1),
        class if class.may_be(Roles::UTC) => zone(Field::Utc, 1),
        Class::Symbol('+' | '-') => match classes.at(place + 1)? {
            Class::Digits(4) => zone(Field::Offset(OffsetStyle::Basic), 2),
            Class::Short if classes.is(place + 2, Class::Symbol(':')) => {
                match classes.is(place + 3, Class::Short) {
                    true => zone(Field::Offset(OffsetStyle::Extended), 4),
                    false => None,
                }
            }
            Class::Short => zone(Field::Offset(OffsetStyle::Hours), 2),
            _ => None,
        },
        _ => None,
    }
}
