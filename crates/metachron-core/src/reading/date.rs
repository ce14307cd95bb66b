//! Dates, as a shape may hold them.

use super::compact::compact;
use super::period::offset_spans;
use super::pieces::{Classes, Piece};
use crate::form::{Digits, Field, Item, Order, Width};
use crate::lex::Class;
use crate::locale::{Roles, Sign, filler_text};

/// The dates that start at `start`, with the era that may stand on either
/// side.
pub(super) fn dates(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let mut found = plain_dates(classes, start);
    found.extend(in_era(classes, start));
    let mut with_era: Vec<Piece> = Vec::new();
    for date in &found {
        let spaced = date.end + usize::from(classes.is(date.end, Class::Space));
        if classes.may_be(spaced, Roles::ERA) {
            let mut date = date.clone().literal(classes, spaced);
            for item in &mut date.items {
                if let Item::Field(field @ (Field::Year | Field::YearOfTwo)) = item {
                    *field = Field::YearFree;
                }
            }
            with_era.push(date.field(Field::Era(Width::Abbreviated)));
        }
    }
    found.extend(with_era);
    let with_word: Vec<Piece> = found
        .iter()
        .filter_map(|date| with_word_for_year(classes, date))
        .collect();
    found.extend(with_word);
    found
}

/// `3 мая 2024 г.`, `20. октобар 2002. године`, `2024. március 5.`, `2018 m.
/// rugsėjo 14 d.`: the word, or the dot, behind the last part of a date with a
/// month's name; and a word that nothing but a year stands before.
fn with_word_for_year(classes: Classes<'_>, date: &Piece) -> Option<Piece> {
    let has_name = date
        .items
        .iter()
        .any(|item| matches!(item, Item::Field(Field::MonthName(_))));
    let ends_with = |test: fn(&Field) -> bool| match date.items.last() {
        Some(Item::Field(field)) => test(field),
        _ => false,
    };
    // `05.03.2024 г.`; a Latin letter without a dot may be any code: `17/3/2024 R`.
    let has_word_for_year = || {
        let word = date.end + usize::from(classes.is(date.end, Class::Space));
        let is_letter =
            matches!(classes.at(word), Some(Class::Filler(word)) if filler_text(word).len() == 1);
        // `05.03.2024. godine`
        let dot = classes.is(date.end - 1, Class::Symbol('.'));
        classes.is(date.end - 1 - usize::from(dot), Class::Digits(4))
            && classes.is_sign(word, Sign::YearBefore)
            && (!is_letter || classes.is(word + 1, Class::Symbol('.')))
    };
    if !has_name && !has_word_for_year() {
        return None;
    }
    let dot = |index| classes.is(index, Class::Symbol('.'));
    let day = ends_with(|field| matches!(field, Field::Day(_)));
    let year =
        ends_with(|field| matches!(field, Field::Year | Field::YearOfTwo)) || has_word_for_year();
    let behind_dot = date.end + usize::from(dot(date.end));
    let word = behind_dot + usize::from(classes.is(behind_dot, Class::Space));
    if behind_dot > date.end && (day || year) && !classes.is_filler(word) {
        return Some(date.clone().literal(classes, behind_dot));
    }
    // Before a time the word is one that joins the two: `5 mai 2024 à 14h30`.
    let joins =
        classes.is(word + 1, Class::Space) && matches!(classes.at(word + 2), Some(Class::Short));
    ((year || day) && classes.is_filler(word) && !joins).then(|| {
        date.clone()
            .literal(classes, word + 1 + usize::from(dot(word + 1)))
    })
}

fn plain_dates(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let mut found = numbers(classes, start);
    found.extend(with_month_name(classes, start));
    found.extend(with_words(classes, start));
    found.extend(compact(classes, start));
    found.extend(offset_spans(classes, start));
    found
}

/// `令和6年3月5日`, `R6.3.5`: the era, and the year within it first.
fn in_era(classes: Classes<'_>, start: usize) -> Option<Piece> {
    if !classes.may_be(start, Roles::ERA) {
        return None;
    }
    let era = Piece::new(start).field(Field::Era(Width::Abbreviated));
    let year = era.end + usize::from(classes.is(era.end, Class::Space));
    let number = |index| matches!(classes.at(index), Some(Class::Short | Class::Digits(3 | 4)));
    let month = behind_sign(classes, year + 1, Sign::Year)?;
    let day = behind_sign(classes, month + 1, Sign::Month)?;
    if !number(year) || !classes.is(month, Class::Short) || !classes.is(day, Class::Short) {
        return None;
    }
    let date = era
        .literal(classes, year)
        .field(Field::YearFree)
        .literal(classes, month)
        .field(Field::Month(Digits::Free))
        .literal(classes, day)
        .field(Field::Day(Digits::Free));
    Some(with_word_behind(classes, date))
}

/// Over a word or a sign behind a number: `年`, `년 `, `.`, `/`.
fn behind_sign(classes: Classes<'_>, mut index: usize, word: Sign) -> Option<usize> {
    index += usize::from(classes.is(index, Class::Space));
    let sign = matches!(classes.at(index)?, Class::Symbol('.' | '/' | '-'));
    (sign || classes.is_sign(index, word))
        .then(|| index + 1 + usize::from(classes.is(index + 1, Class::Space)))
}

/// The date with the word that is written behind its last number: `日`.
fn with_word_behind(classes: Classes<'_>, date: Piece) -> Piece {
    if classes.is_sign(date.end, Sign::Day) {
        let end = date.end + 1;
        date.literal(classes, end)
    } else {
        date
    }
}

/// `2024年3月5日`, `2024년 3월 5일`: a year first, and words between numbers.
fn with_words(classes: Classes<'_>, start: usize) -> Option<Piece> {
    if !classes.is(start, Class::Digits(4)) {
        return None;
    }
    let word_behind = |index: usize, sign: Sign| {
        let word = index + usize::from(classes.is(index, Class::Space));
        classes
            .is_sign(word, sign)
            .then(|| word + 1 + usize::from(classes.is(word + 1, Class::Space)))
    };
    let month = word_behind(start + 1, Sign::Year)?;
    let day = word_behind(month + 1, Sign::Month)?;
    if !classes.is(month, Class::Short) || !classes.is(day, Class::Short) {
        return None;
    }
    let date = Piece::new(start)
        .field(Field::Year)
        .literal(classes, month)
        .field(Field::Month(Digits::Free))
        .literal(classes, day)
        .field(Field::Day(Digits::Free));
    Some(with_word_behind(classes, date))
}

/// `5/3`, `5-3`, `5.3.`: a day and a month behind a weekday, without which they may be any two
/// numbers.
pub(super) fn days_of_no_year(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let sign = match classes.at(start + 1) {
        Some(Class::Symbol(sign @ ('/' | '.' | '-'))) => sign,
        _ => return Vec::new(),
    };
    if !classes.is(start, Class::Short) || !classes.is(start + 2, Class::Short) {
        return Vec::new();
    }
    // `Tue 9.30` is a time.
    let dot = sign == '.' && classes.is(start + 3, Class::Symbol('.'));
    if sign == '.' && !dot {
        return Vec::new();
    }
    let end = start + 3 + usize::from(dot);
    let (day, month) = (Field::Day(Digits::Free), Field::Month(Digits::Free));
    let date = |(first, other)| {
        let date = Piece::new(start).field(first).literal(classes, start + 2);
        date.field(other).literal(classes, end)
    };
    [(day, month), (month, day)].map(date).into()
}

/// `31/12/2024`, `31. 12. 24`, `2024 12 31`: three numbers, the same sign
/// between each two.
fn numbers(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    // Cameras write colons (Exif 2.32 §4.6.5).
    let colon = |index| classes.is(index, Class::Symbol(':'));
    let number = |index| classes.is(index, Class::Short);
    if classes.is(start, Class::Digits(4)) && colon(start + 1) && colon(start + 3) {
        let both = number(start + 2) && number(start + 4);
        let date = both.then(|| {
            Piece::new(start)
                .field(Field::Year)
                .literal(classes, start + 2)
                .field(Field::Month(Digits::Two))
                .literal(classes, start + 4)
                .field(Field::Day(Digits::Two))
        });
        return date.into_iter().collect();
    }
    if let Some(date) = expanded(classes, start) {
        return vec![date];
    }
    let Some(second) = separated(classes, start) else {
        return Vec::new();
    };
    let by_apostrophe = with_apostrophe(classes, start, second);
    if !by_apostrophe.is_empty() {
        return by_apostrophe;
    }
    let Some(third) = separated(classes, second) else {
        return Vec::new();
    };
    if classes.0[start + 1..second] != classes.0[second + 1..third] {
        return Vec::new();
    }
    let is_rare = |sign| matches!(sign, Some(Class::Symbol(sign)) if RARE_SIGNS.contains(&sign));
    let ends = [start, third].into_iter();
    let has_long_year = || ends.clone().any(|end| classes.is(end, Class::Digits(4)));
    if is_rare(classes.at(start + 1)) && !has_long_year() {
        return Vec::new();
    }
    // A year of three digits, of the Minguo calendar or of early times.
    if classes.is(start, Class::Digits(3)) {
        let both = number(second) && number(third);
        let date = both.then(|| {
            Piece::new(start)
                .field(Field::YearFree)
                .literal(classes, second)
                .field(Field::Month(Digits::Free))
                .literal(classes, third)
                .field(Field::Day(Digits::Free))
        });
        return date.into_iter().collect();
    }
    let indexes = [start, second, third];
    let long = |index| classes.is(index, Class::Digits(4));
    let year = match indexes.map(long) {
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
        for (&letter, index) in letters.iter().zip(indexes) {
            date = date.literal(classes, index).field(match letter {
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

/// `+002024-03-05`, `-000043-03-15`: a year with a sign and more than four digits
/// (ISO 8601-1:2019 §5.2.2.3). With four, the sign may be a dash before the date.
fn expanded(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let is_sign = matches!(classes.at(start), Some(Class::Symbol('+' | '-')));
    let is_long = matches!(classes.at(start + 1), Some(Class::Digits(5 | 6)));
    let hyphen = |index| classes.is(index, Class::Symbol('-'));
    let number = |index| classes.is(index, Class::Short);
    let (month, day) = (start + 3, start + 5);
    let are_parted = hyphen(month - 1) && number(month) && hyphen(day - 1) && number(day);
    (is_sign && is_long && are_parted).then(|| {
        let mut date = Piece::new(start).field(Field::YearExpanded);
        date.end = start + 2;
        date.literal(classes, month)
            .field(Field::Month(Digits::Two))
            .literal(classes, day)
            .field(Field::Day(Digits::Two))
    })
}

/// `6/23'20`, `8/ 9'21`, as programs for households keep dates: a slash, and an
/// apostrophe before the year.
fn with_apostrophe(classes: Classes<'_>, start: usize, second: usize) -> Vec<Piece> {
    let apostrophe = second + 1;
    let year = apostrophe + 1 + usize::from(classes.is(apostrophe + 1, Class::Space));
    let numbers = [start, second, year];
    let is_it = classes.is(start + 1, Class::Symbol('/'))
        && classes.is(apostrophe, Class::Symbol('\''))
        && numbers.iter().all(|index| classes.is(*index, Class::Short));
    if !is_it {
        return Vec::new();
    }
    let (day, month) = (Field::Day(Digits::Free), Field::Month(Digits::Free));
    let orders = [(day, month), (month, day)].into_iter();
    let date = |(first, other)| {
        let date = Piece::new(start).field(first).literal(classes, second);
        let date = date.field(other).literal(classes, year);
        date.field(Field::YearOfTwo)
    };
    orders.map(date).collect()
}

/// Signs between the numbers of a date that has a year of four digits: those of file
/// names, and of exports that put a dash for a hyphen.
const RARE_SIGNS: [char; 5] = ['_', '|', '\\', '–', '—'];

/// The index of the number behind the number at `start` and its separator.
fn separated(classes: Classes<'_>, start: usize) -> Option<usize> {
    let is_number = |index| matches!(classes.at(index), Some(Class::Short | Class::Digits(4)));
    if !is_number(start) && !classes.is(start, Class::Digits(3)) {
        return None;
    }
    let mut index = start + 1;
    let spaced = classes.is(index, Class::Space);
    index += usize::from(spaced);
    match classes.at(index) {
        Some(Class::Symbol('/' | '-' | '.' | ',')) => {
            index += 1;
            index += usize::from(classes.is(index, Class::Space));
        }
        Some(Class::Symbol(sign)) if !spaced && RARE_SIGNS.contains(&sign) => index += 1,
        _ if !spaced => return None,
        _ => {}
    }
    is_number(index).then_some(index)
}

/// What a part of a date with a month's name is.
#[derive(Clone, Copy, PartialEq)]
enum DateToken {
    Number,
    Ordinal,
    LongYear,
    /// `'24`
    Apostrophe,
    Name,
}

/// `5 March 2024`, `Mar 5th, 24`, `2024-Mar-05`, `05MAR2024`: a name, a day
/// and a year, in any order, with anything usual between them.
fn with_month_name(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let mut parts = Vec::with_capacity(3);
    let mut index = start;
    // `2 กันยายน พ.ศ. 2515`: the era of the year, before it.
    let mut era = None;
    for nth in 0..3 {
        if nth > 0 {
            index = behind_separator(classes, index);
        }
        if nth > 0 && era.is_none() && classes.may_be(index, Roles::ERA) {
            era = Some((nth, index));
            index += 1 + usize::from(classes.is(index + 1, Class::Space));
        }
        let Some((part, end)) = part_at(classes, index) else {
            return Vec::new();
        };
        parts.push((part, index));
        index = end;
    }
    let count = |wanted| parts.iter().filter(|(part, _)| *part == wanted).count();
    let years = count(DateToken::LongYear) + count(DateToken::Apostrophe);
    if count(DateToken::Name) != 1 || years > 1 || count(DateToken::Ordinal) > 1 {
        return Vec::new();
    }
    let numbers: Vec<DateToken> = parts
        .iter()
        .map(|(part, _)| *part)
        .filter(|part| *part != DateToken::Name)
        .collect();
    let of_era = era.map(|(nth, _)| nth);
    if of_era.is_some_and(|nth| parts[nth].0 != DateToken::LongYear) {
        return Vec::new();
    }
    // Whether the day comes before the year. Of two short numbers either may
    // be the year: `24-Mar-05` is written both ways.
    let ways: &[bool] = match numbers[..] {
        [DateToken::LongYear | DateToken::Apostrophe, _]
        | [DateToken::Number, DateToken::Ordinal] => &[false],
        [_, DateToken::LongYear | DateToken::Apostrophe]
        | [DateToken::Ordinal, DateToken::Number] => &[true],
        _ => &[true, false],
    };
    ways.iter()
        .map(|&day_first| {
            let mut date = Piece::new(start);
            let mut day_next = day_first;
            for (nth, &(part, index)) in parts.iter().enumerate() {
                let index = index + usize::from(part == DateToken::Apostrophe);
                if let Some((_, at)) = era.filter(|(of, _)| *of == nth) {
                    let before = date.literal(classes, at);
                    date = before.field(Field::Era(Width::Abbreviated));
                }
                date = date.literal(classes, index).field(match part {
                    DateToken::Name => Field::MonthName(Width::Abbreviated),
                    DateToken::LongYear if of_era == Some(nth) => Field::YearFree,
                    DateToken::LongYear => Field::Year,
                    DateToken::Apostrophe => Field::YearOfTwo,
                    _ if day_next => Field::Day(Digits::Free),
                    _ => Field::YearOfTwo,
                });
                if part != DateToken::Name {
                    day_next = !day_next;
                }
                if part == DateToken::Ordinal {
                    let end = date.end + 1;
                    date = date.literal(classes, end);
                }
            }
            date
        })
        .collect()
}

fn part_at(classes: Classes<'_>, index: usize) -> Option<(DateToken, usize)> {
    match classes.at(index)? {
        class if class.may_be(Roles::MONTH) => Some((DateToken::Name, index + 1)),
        Class::Digits(4) => Some((DateToken::LongYear, index + 1)),
        Class::Symbol('\'') if classes.is(index + 1, Class::Short) => {
            Some((DateToken::Apostrophe, index + 2))
        }
        Class::Short if classes.may_be(index + 1, Roles::ORDINAL) => {
            Some((DateToken::Ordinal, index + 2))
        }
        Class::Short => Some((DateToken::Number, index + 1)),
        _ => None,
    }
}

/// Over a separator, which may be nothing at all: `-`, `. `, `, `, ` of `.
fn behind_separator(classes: Classes<'_>, mut index: usize) -> usize {
    if let Some(Class::Symbol('.')) = classes.at(index) {
        index += 1;
    }
    // A name that is padded to one width: `01-May  -2024`.
    let is_padded = classes.is(index, Class::Space)
        && classes.is(index + 1, Class::Symbol('-'))
        && classes.is(index + 2, Class::Digits(4));
    index += usize::from(is_padded);
    if let Some(Class::Symbol('/' | '-' | ',')) = classes.at(index) {
        index += 1;
    }
    index += usize::from(classes.is(index, Class::Space));
    // Breton writes `24 a viz Here`.
    for _ in 0..MOST_WORDS {
        if !classes.is_filler(index) {
            break;
        }
        // `2018 m. rugsėjo 14 d.`
        let dotted = usize::from(classes.is(index + 1, Class::Symbol('.')));
        if classes.is(index + 1 + dotted, Class::Space) {
            index += 2 + dotted;
        } else if classes.may_be(index + 1, Roles::MONTH) {
            // Hebrew writes `5 במרץ`, with the word as part of the name.
            index += 1;
        }
    }
    index
}

/// At most so many words stand between two parts of a date.
const MOST_WORDS: usize = 2;
