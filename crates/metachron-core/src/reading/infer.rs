//! From a shape to the forms that could have written it.

use super::clock::clocks;
use super::date::dates;
use super::pieces::{Classes, Piece};
use crate::form::{Field, Form, Width};
use crate::lex::Class;
use crate::locale::Roles;

/// Every form that could have written a cell of these classes, and whether
/// it is usual.
pub(super) fn infer(classes: &[Class]) -> Vec<(Form, bool)> {
    if classes.len() < 3
        && !classes.iter().any(|class| class.may_be(Roles::DAY_PERIOD))
        && classes != [Class::Digits(8)]
    {
        return Vec::new();
    }
    let classes = Classes(classes);
    let mut whole = clocks(classes, 0, false);
    for date in days(classes, 0) {
        let time = behind_date(classes, date.end);
        if let Some((time, is_t)) = time {
            let date = date.clone().literal(classes, time);
            for clock in clocks(classes, time, is_t) {
                let moment = date.clone().then(clock);
                whole.extend(with_weekday_behind(classes, &moment));
                whole.push(moment);
            }
        }
        whole.push(date);
    }
    for clock in clocks(classes, 0, false) {
        if let Some((day, false)) = behind_date(classes, clock.end) {
            let clock = clock.literal(classes, day);
            whole.extend(
                days(classes, day)
                    .into_iter()
                    .map(|date| clock.clone().then(date)),
            );
        }
    }
    whole
        .into_iter()
        .filter(|piece| piece.end == classes.0.len())
        .filter_map(|piece| Some((Form::new(piece.items).ok()?, piece.usual)))
        .collect()
}

/// The dates that start at `start`, with the weekday that may stand on
/// either side.
fn days(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    if classes.may_be(start, Roles::WEEKDAY) {
        let weekday = Piece::new(start).field(Field::Weekday(Width::Abbreviated));
        let date = behind_weekday(classes, weekday.end);
        let weekday = weekday.literal(classes, date);
        return dates(classes, date)
            .into_iter()
            .map(|date| weekday.clone().then(date))
            .collect();
    }
    let mut found = dates(classes, start);
    let with_weekday: Vec<Piece> = found
        .iter()
        .filter_map(|date| with_weekday_behind(classes, date))
        .collect();
    found.extend(with_weekday);
    found
}

/// `5 March 2024, Tuesday`, `5/3/2024 (Tue)`
fn with_weekday_behind(classes: Classes<'_>, date: &Piece) -> Option<Piece> {
    let mut place = behind_weekday(classes, date.end);
    let bracket = classes.is(place, Class::Symbol('('));
    place += usize::from(bracket);
    if place == date.end || !classes.may_be(place, Roles::WEEKDAY) {
        return None;
    }
    let day = date
        .clone()
        .literal(classes, place)
        .field(Field::Weekday(Width::Abbreviated));
    match (bracket, classes.is(day.end, Class::Symbol(')'))) {
        (false, _) => Some(day),
        (true, true) => {
            let end = day.end + 1;
            Some(day.literal(classes, end))
        }
        (true, false) => None,
    }
}

/// Over what may stand between a weekday and its date: `, `, `. `, ` `, `-`.
fn behind_weekday(classes: Classes<'_>, mut place: usize) -> usize {
    if let Some(Class::Symbol('.')) = classes.at(place) {
        place += 1;
    }
    if let Some(Class::Symbol(',' | '-')) = classes.at(place) {
        place += 1;
    }
    place + usize::from(classes.is(place, Class::Space))
}

/// Over what may stand between a date and a time: ` `, `, `, ` - `, or the
/// `T` of ISO 8601, which is told.
fn behind_date(classes: Classes<'_>, mut place: usize) -> Option<(usize, bool)> {
    if classes.is(place, Class::T) {
        return Some((place + 1, true));
    }
    if classes.is(place, Class::Symbol(',')) {
        place += 1;
    }
    if !classes.is(place, Class::Space) {
        return None;
    }
    place += 1;
    if classes.is(place, Class::Symbol('-')) && classes.is(place + 1, Class::Space) {
        place += 2;
    }
    Some((place, false))
}
