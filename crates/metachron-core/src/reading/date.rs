//! Dates, as a shape may hold them.

use super::pieces::{Classes, Piece};
use crate::form::{Digits, Field, Order, Width};
use crate::lex::Class;
use crate::locale::Roles;

/// The dates that start at `start`.
pub(super) fn dates(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let mut found = numbers(classes, start);
    found.extend(with_month_name(classes, start));
    if classes.is(start, Class::Digits(8)) {
        let mut date = Piece::new(start)
            .field(Field::Year)
            .field(Field::Month(Digits::Two))
            .field(Field::Day(Digits::Two));
        date.end = start + 1;
        found.push(date);
    }
    found
}

/// `31/12/2024`, `31. 12. 24`, `2024 12 31`: three numbers, the same sign
/// between each two.
fn numbers(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let Some(second) = separated(classes, start) else {
        return Vec::new();
    };
    let Some(third) = separated(classes, second) else {
        return Vec::new();
    };
    if classes.0[start + 1..second] != classes.0[second + 1..third] {
        return Vec::new();
    }
    let places = [start, second, third];
    let long = |place| classes.is(place, Class::Digits(4));
    let year = match places.map(long) {
        [false, false, false] => None,
        [true, false, false] => Some('y'),
        [false, true, false] => Some('m'),
        [false, false, true] => Some('d'),
        _ => return Vec::new(),
    };
    let mut found = Vec::new();
    for order in Order::ALL {
        let letters = order.name().as_bytes();
        let year_at = letters.iter().position(|&letter| letter == b'y');
        let wanted = match year {
            None => year_at,
            Some('y') => Some(0),
            Some('m') => Some(1),
            Some(_) => Some(2),
        };
        if year_at != wanted {
            continue;
        }
        let mut date = Piece::new(start);
        for (&letter, place) in letters.iter().zip(places) {
            date = date.literal(classes, place).field(match letter {
                b'd' => Field::Day(Digits::Free),
                b'm' => Field::Month(Digits::Free),
                _ if year.is_some() => Field::Year,
                _ => Field::YearOfTwo,
            });
        }
        // `31. 12. 2024.`, as some countries write it.
        if classes.is(date.end, Class::Symbol('.')) && classes.is(start + 1, Class::Symbol('.')) {
            let end = date.end + 1;
            date = date.literal(classes, end);
        }
        date.usual = order.is_usual();
        found.push(date);
    }
    found
}

/// The place of the number behind the number at `start` and its separator.
fn separated(classes: Classes<'_>, start: usize) -> Option<usize> {
    let is_number = |place| matches!(classes.at(place), Some(Class::Short | Class::Digits(4)));
    if !is_number(start) {
        return None;
    }
    let mut place = start + 1;
    let spaced = classes.is(place, Class::Space);
    place += usize::from(spaced);
    match classes.at(place) {
        Some(Class::Symbol('/' | '-' | '.' | ',')) => {
            place += 1;
            place += usize::from(classes.is(place, Class::Space));
        }
        _ if !spaced => return None,
        _ => {}
    }
    is_number(place).then_some(place)
}

/// What a part of a date with a month's name is.
#[derive(Clone, Copy, PartialEq)]
enum Part {
    Number,
    Ordinal,
    LongYear,
    Name,
}

/// `5 March 2024`, `Mar 5th, 24`, `2024-Mar-05`, `05MAR2024`: a name, a day
/// and a year, in any order, with anything usual between them.
fn with_month_name(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let mut parts = Vec::with_capacity(3);
    let mut place = start;
    for nth in 0..3 {
        if nth > 0 {
            place = behind_separator(classes, place);
        }
        let Some((part, end)) = part_at(classes, place) else {
            return Vec::new();
        };
        parts.push((part, place));
        place = end;
    }
    let count = |wanted| parts.iter().filter(|(part, _)| *part == wanted).count();
    if count(Part::Name) != 1 || count(Part::LongYear) > 1 || count(Part::Ordinal) > 1 {
        return Vec::new();
    }
    let numbers: Vec<Part> = parts
        .iter()
        .map(|(part, _)| *part)
        .filter(|part| *part != Part::Name)
        .collect();
    // Whether the day comes before the year. Of two short numbers either may
    // be the year: `24-Mar-05` is written both ways.
    let ways: &[bool] = match numbers[..] {
        [Part::LongYear, _] | [Part::Number, Part::Ordinal] => &[false],
        [_, Part::LongYear] | [Part::Ordinal, Part::Number] => &[true],
        _ => &[true, false],
    };
    ways.iter()
        .map(|&day_first| {
            let mut date = Piece::new(start);
            let mut day_next = day_first;
            for &(part, place) in &parts {
                date = date.literal(classes, place).field(match part {
                    Part::Name => Field::MonthName(Width::Abbreviated),
                    Part::LongYear => Field::Year,
                    _ if day_next => Field::Day(Digits::Free),
                    _ => Field::YearOfTwo,
                });
                if part != Part::Name {
                    day_next = !day_next;
                }
                if part == Part::Ordinal {
                    let end = date.end + 1;
                    date = date.literal(classes, end);
                }
            }
            date
        })
        .collect()
}

fn part_at(classes: Classes<'_>, place: usize) -> Option<(Part, usize)> {
    match classes.at(place)? {
        class if class.may_be(Roles::MONTH) => Some((Part::Name, place + 1)),
        Class::Digits(4) => Some((Part::LongYear, place + 1)),
        Class::Short if classes.may_be(place + 1, Roles::ORDINAL) => {
            Some((Part::Ordinal, place + 2))
        }
        Class::Short => Some((Part::Number, place + 1)),
        _ => None,
    }
}

/// Over a separator, which may be nothing at all: `-`, `. `, `, `, ` of `.
fn behind_separator(classes: Classes<'_>, mut place: usize) -> usize {
    if let Some(Class::Symbol('.')) = classes.at(place) {
        place += 1;
    }
    if let Some(Class::Symbol('/' | '-' | ',')) = classes.at(place) {
        place += 1;
    }
    place += usize::from(classes.is(place, Class::Space));
    if classes.is_filler(place) && classes.is(place + 1, Class::Space) {
        place += 2;
    }
    place
}
