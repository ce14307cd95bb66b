//! Months, quarters, weeks, years and days counted within them, as a shape
//! may hold them.

use super::pieces::{Classes, Piece};
use crate::form::{Digits, Field, Width};
use crate::lex::Class;
use crate::locale::{Roles, Sign};

/// The months, quarters, weeks and days of years that start at `start`.
pub(super) fn offset_spans(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let mut found = Vec::new();
    found.extend(month_of_year(classes, start));
    found.extend(quarter(classes, start));
    found.extend(quarter_by_numeral(classes, start));
    found.extend(quarter_and_year(classes, start));
    found.extend(quarter_by_word(classes, start));
    found.extend(week(classes, start));
    found.extend(day_of_year(classes, start));
    found.extend(month_and_day(classes, start));
    found
}

const LONG: Class = Class::Digits(4);

/// A year of four digits, or of two behind an apostrophe.
fn year(classes: Classes<'_>, piece: Piece) -> Option<Piece> {
    if classes.is(piece.end, LONG) {
        return Some(piece.field(Field::Year));
    }
    let digits = piece.end + 1;
    (classes.is(piece.end, Class::Symbol('\'')) && classes.is(digits, Class::Short))
        .then(|| piece.literal(classes, digits).field(Field::YearOfTwo))
}

/// The period with the word behind its year: `I kwartał 2024 r.`, `II квартал 2024 года`.
fn with_word_for_year(classes: Classes<'_>, period: Piece) -> Piece {
    let word = period.end + usize::from(classes.is(period.end, Class::Space));
    if !classes.is_sign(word, Sign::YearBefore) {
        return period;
    }
    let end = word + 1 + usize::from(classes.is(word + 1, Class::Symbol('.')));
    period.literal(classes, end)
}

/// Over what may stand between a month's name and a year.
fn behind_name(classes: Classes<'_>, mut index: usize) -> usize {
    if let Some(Class::Symbol('-' | '/' | ',' | '.')) = classes.at(index) {
        index += 1;
    }
    index += usize::from(classes.is(index, Class::Space));
    let is_joining = classes.is_filler(index) && !classes.is_sign(index, Sign::Quarter);
    if is_joining && classes.is(index + 1, Class::Space) {
        index += 2;
    }
    index
}

/// `Mar 2024`, `Jan21`, `Mar '24`, `03/2024`, `2024-03`, `2024年3月`
fn month_of_year(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let name = Field::MonthName(Width::Abbreviated);
    let mut found = Vec::new();
    if classes.may_be(start, Roles::MONTH) {
        let month = Piece::new(start).field(name);
        let next = behind_name(classes, month.end);
        found.extend(year(classes, month.clone().literal(classes, next)));
        if classes.is(next, Class::Short) {
            let short = month.literal(classes, next).field(Field::YearOfTwo);
            // With a space between, the number is the day.
            found.push(if classes.is(next - 1, Class::Space) {
                short.unusual()
            } else {
                short
            });
        }
        return found;
    }
    let next = start + 1;
    let slash = matches!(classes.at(next), Some(Class::Symbol('/' | '-')));
    let is_m = |index: usize| classes.is_filler(index) && classes.0[index].text() == "m";
    match (classes.at(start), classes.at(next + 1)) {
        (Some(Class::Short), Some(LONG)) if slash => found.push(
            Piece::new(start)
                .field(Field::Month(Digits::Free))
                .literal(classes, next + 1)
                .field(Field::Year),
        ),
        (Some(LONG), Some(Class::Short)) if slash => found.push(
            Piece::new(start)
                .field(Field::Year)
                .literal(classes, next + 1)
                .field(Field::Month(Digits::Free)),
        ),
        // `2024m3`, `2024-M03`
        (Some(LONG), Some(Class::Short)) if is_m(next) => {
            found.extend(by_month_sign(classes, start, next));
        }
        (Some(LONG), Some(Class::Filler(_)))
            if classes.is(next, Class::Symbol('-')) && is_m(next + 1) =>
        {
            found.extend(by_month_sign(classes, start, next + 1));
        }
        (Some(LONG), _) => {
            let year = Piece::new(start).field(Field::Year);
            let next = behind_name(classes, year.end);
            if classes.may_be(next, Roles::MONTH) {
                found.push(year.literal(classes, next).field(name));
            } else if classes.is_sign(year.end, Sign::Year) {
                let month = year.end + 1 + usize::from(classes.is(year.end + 1, Class::Space));
                if classes.is(month, Class::Short) && classes.is_sign(month + 1, Sign::Month) {
                    let month = year
                        .literal(classes, month)
                        .field(Field::Month(Digits::Free));
                    let end = month.end + 1;
                    found.push(month.literal(classes, end));
                }
            }
        }
        _ => {}
    }
    found
}

/// A year and a month, with an m at `sign`.
fn by_month_sign(classes: Classes<'_>, start: usize, sign: usize) -> Option<Piece> {
    classes.is(sign + 1, Class::Short).then(|| {
        let year = Piece::new(start).field(Field::Year);
        let month = year.literal(classes, sign + 1);
        month.field(Field::Month(Digits::Free))
    })
}

/// `Q1 2024`, `2024-Q1`, `1Q2024`, `1T2024`
fn quarter(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let over = |index: usize| match classes.at(index) {
        Some(Class::Space | Class::Symbol('-' | '/' | '.')) => index + 1,
        _ => index,
    };
    if classes.is(start, Class::Q) && classes.is(start + 1, Class::Short) {
        let quarter = Piece::new(start)
            .literal(classes, start + 1)
            .field(Field::Quarter);
        let next = over(quarter.end);
        let quarter = quarter.literal(classes, next);
        return match classes.at(next) {
            Some(Class::Short) if next > start + 2 => Some(quarter.field(Field::YearOfTwo)),
            _ => year(classes, quarter),
        };
    }
    if classes.is(start, LONG) {
        let quarter = over(start + 1);
        let is_quarter = classes.is(quarter, Class::Q) && classes.is(quarter + 1, Class::Short);
        return is_quarter.then(|| {
            Piece::new(start)
                .field(Field::Year)
                .literal(classes, quarter + 1)
                .field(Field::Quarter)
        });
    }
    // `2 Q 2024`, of statistics programs.
    let is_spaced = classes.is(start + 1, Class::Space)
        && classes.is(start + 2, Class::Q)
        && classes.is(start + 3, Class::Space);
    if classes.is(start, Class::Short) && is_spaced {
        let quarter = Piece::new(start).field(Field::Quarter);
        return year(classes, quarter.literal(classes, start + 4));
    }
    // Romance languages write T, for trimestre.
    let sign = matches!(classes.at(start + 1), Some(Class::Q | Class::T));
    if !classes.is(start, Class::Short) || !sign {
        return None;
    }
    let quarter = Piece::new(start).field(Field::Quarter);
    let next = over(start + 2);
    let quarter = quarter.literal(classes, next);
    if classes.is(next, Class::Short) {
        Some(quarter.field(Field::YearOfTwo))
    } else {
        year(classes, quarter)
    }
}

/// `III 2024`, `IV/2024`, `2024-III`: as a month, a numeral stands behind the
/// year or a day.
fn quarter_by_numeral(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let is_sign = |index: usize| {
        let sign = classes.at(index);
        matches!(sign, Some(Class::Space | Class::Symbol('-' | '/' | '.')))
    };
    let second = start + 2;
    if !is_sign(start + 1) {
        return None;
    }
    let (first, last) = match (
        classes.may_be(start, Roles::NUMERAL),
        classes.is(start, LONG),
    ) {
        (true, _) if classes.is(second, LONG) => (Field::Quarter, Field::Year),
        (_, true) if classes.may_be(second, Roles::NUMERAL) => (Field::Year, Field::Quarter),
        _ => return None,
    };
    let piece = Piece::new(start).field(first);
    Some(piece.literal(classes, second).field(last))
}

/// `1/2024`, which is a month unless something says otherwise.
fn quarter_and_year(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let sign = matches!(classes.at(start + 1), Some(Class::Symbol('/' | '-')));
    let fits = classes.is(start, Class::Short) && sign && classes.is(start + 2, LONG);
    fits.then(|| {
        let quarter = Piece::new(start).field(Field::Quarter);
        let year = quarter.literal(classes, start + 2).field(Field::Year);
        year.unusual()
    })
}

/// `1. Quartal 2024`, `Quartal 1/2024`, `2º trimestre de 2024`, `III kwartał 2024`, `2024年第1季度`
fn quarter_by_word(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let over_space = |index: usize| index + usize::from(classes.is(index, Class::Space));
    // The dot of an abbreviation: `III kw. 2024`.
    let behind_word =
        |index: usize| index + 1 + usize::from(classes.is(index + 1, Class::Symbol('.')));
    let is_word = |index| classes.is_sign(index, Sign::Quarter);
    let is_number =
        |index| classes.is(index, Class::Short) || classes.may_be(index, Roles::NUMERAL);
    if classes.is(start, LONG) {
        let year = Piece::new(start).field(Field::Year);
        // Words between, such as the signs for year and for ordinals.
        let mut number = over_space(year.end);
        while classes.is_filler(number) && !is_word(number) {
            number = over_space(number + 1);
        }
        let word = over_space(number + 1);
        let fits = number > year.end && is_number(number) && is_word(word);
        return fits.then(|| {
            let quarter = year.literal(classes, number).field(Field::Quarter);
            quarter.literal(classes, behind_word(word))
        });
    }
    // `Quartal 1 2024`; `KW 3/2024` is a week to Germans, and a quarter to Poles.
    if is_word(start) && !classes.is_short_filler(start) {
        let number = over_space(behind_word(start));
        let quarter = Piece::new(start).literal(classes, number);
        let next = number + 1 + usize::from(classes.is(number + 1, Class::Symbol('/')));
        let next = over_space(next);
        let fits = is_number(number) && next > number + 1;
        let quarter = quarter.field(Field::Quarter).literal(classes, next);
        let whole = fits.then(|| year(classes, quarter)).flatten();
        return whole.map(|quarter| with_word_for_year(classes, quarter));
    }
    let quarter = Piece::new(start).field(Field::Quarter);
    let mut word = quarter.end;
    // `1.`, `1er`, `1e`
    let ordinal = classes.is(word, Class::Symbol('.'))
        || classes.may_be(word, Roles::ORDINAL)
        || classes.is_filler(word) && !is_word(word);
    word = over_space(word + usize::from(ordinal));
    if !is_number(start) || !is_word(word) {
        return None;
    }
    let mut next = over_space(behind_word(word));
    if classes.is_filler(next) {
        next = over_space(next + 1);
    }
    let quarter = year(classes, quarter.literal(classes, next))?;
    Some(with_word_for_year(classes, quarter))
}

/// `2024-W10`, `2024-W10-2`, `2024W102`, `W10 2024` (ISO 8601-1:2019 §5.2.4)
fn week(classes: Classes<'_>, start: usize) -> Option<Piece> {
    if classes.is(start, Class::W) && classes.is(start + 1, Class::Short) {
        let week = Piece::new(start)
            .literal(classes, start + 1)
            .field(Field::Week(Digits::Free));
        let year = match classes.at(week.end) {
            Some(Class::Space | Class::Symbol('/' | '-')) => week.end + 1,
            _ => return None,
        };
        return classes
            .is(year, LONG)
            .then(|| week.literal(classes, year).field(Field::WeekYear));
    }
    if !classes.is(start, LONG) {
        return None;
    }
    let year = Piece::new(start).field(Field::WeekYear);
    let sign = year.end
        + usize::from(matches!(
            classes.at(year.end),
            Some(Class::Symbol('-') | Class::Space)
        ));
    if !classes.is(sign, Class::W) {
        return None;
    }
    let week = year.literal(classes, sign + 1);
    match classes.at(sign + 1)? {
        Class::Digits(3) => Some(week.run(&[Field::Week(Digits::Two), Field::WeekdayNumber])),
        Class::Short => {
            let week = week.field(Field::Week(Digits::Two));
            let day = week.end + 1;
            if classes.is(week.end, Class::Symbol('-')) && classes.is(day, Class::Short) {
                Some(week.literal(classes, day).field(Field::WeekdayNumber))
            } else {
                Some(week)
            }
        }
        _ => None,
    }
}

/// `2024-065` (ISO 8601-1:2019 §5.2.3), and `065` before the clock of a
/// logger: `065:13:45:20.5`
fn day_of_year(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let day = Field::DayOfYear(Digits::Two);
    match classes.at(start)? {
        Class::Digits(3) if classes.is(start + 1, Class::Symbol(':')) => {
            Some(Piece::new(start).field(day))
        }
        LONG => {
            let sign = matches!(
                classes.at(start + 1),
                Some(Class::Symbol('-' | '.' | '/' | ':') | Class::Space)
            );
            (sign && classes.is(start + 2, Class::Digits(3))).then(|| {
                Piece::new(start)
                    .field(Field::Year)
                    .literal(classes, start + 2)
                    .field(day)
            })
        }
        _ => None,
    }
}

/// `24 Dec`, `Dec 24`, `--12-24` (ISO 8601:2000 §5.2.1.3): a day of a year
/// that is not said.
fn month_and_day(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let name = Field::MonthName(Width::Abbreviated);
    let day = Field::Day(Digits::Free);
    let mut found = Vec::new();
    let hyphen = |index| classes.is(index, Class::Symbol('-'));
    if hyphen(start) && hyphen(start + 1) && hyphen(start + 3) {
        let both = classes.is(start + 2, Class::Short) && classes.is(start + 4, Class::Short);
        found.extend(both.then(|| {
            Piece::new(start)
                .literal(classes, start + 2)
                .field(Field::Month(Digits::Two))
                .literal(classes, start + 4)
                .field(Field::Day(Digits::Two))
        }));
    } else if classes.may_be(start, Roles::MONTH) {
        let month = Piece::new(start).field(name);
        let next = behind_name(classes, month.end);
        if classes.is(next, Class::Short) {
            found.push(ordinal(classes, month.literal(classes, next).field(day)));
        }
    } else if classes.is(start, Class::Short) && classes.is_sign(start + 1, Sign::Month) {
        // `3月5日`, `3월 5일`
        let index = start + 2 + usize::from(classes.is(start + 2, Class::Space));
        let both = classes.is(index, Class::Short) && classes.is_sign(index + 1, Sign::Day);
        found.extend(both.then(|| {
            let month = Piece::new(start).field(Field::Month(Digits::Free));
            let day = month.literal(classes, index).field(day);
            day.literal(classes, index + 2)
        }));
    } else if classes.is(start, Class::Short) {
        let piece = ordinal(classes, Piece::new(start).field(day));
        let next = behind_name(classes, piece.end);
        if classes.may_be(next, Roles::MONTH) {
            found.push(piece.literal(classes, next).field(name));
        }
    }
    found
}

/// The piece and the ordinal suffix behind it, if there is one.
fn ordinal(classes: Classes<'_>, piece: Piece) -> Piece {
    if classes.may_be(piece.end, Roles::ORDINAL) {
        let end = piece.end + 1;
        piece.literal(classes, end)
    } else {
        piece
    }
}
