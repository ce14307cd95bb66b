//! Times of day, as a shape may hold them.

use super::pieces::{Classes, Piece};
use crate::form::{Digits, Field, Item, OffsetStyle};
use crate::lex::Class;
use crate::locale::{Roles, Sign, filler_text};

/// What stands before a time of day, as far as it says that one follows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Before {
    /// Nothing: the cell starts.
    Nothing,
    /// A date and a space, so that `14.30` is no number.
    Date,
    /// A date and an underscore, so that `14-30-00` is no date.
    Underscore,
    /// The `T` of ISO 8601, so that bare digits are a time.
    T,
    /// A date in one run of digits, behind which bare digits are a time.
    Run,
}

impl Before {
    /// Whether four or six digits are a time behind it.
    fn announces_digits(self) -> bool {
        matches!(self, Before::T | Before::Run)
    }
}

/// The times of day that start at `start`.
pub(super) fn clocks(classes: Classes<'_>, start: usize, before: Before) -> Vec<Piece> {
    if before == Before::Date && classes.may_be(start, Roles::ZONE) {
        return behind_zone(classes, start);
    }
    let mut found = Vec::new();
    let colon = |index| classes.is(index, Class::Symbol(':'));
    let dot = |index| classes.is(index, Class::Symbol('.'));
    let clock = match classes.at(start) {
        Some(Class::Short) if colon(start + 1) => hours_and_minutes(classes, start, ':')
            .map(|clock| word_behind(classes, clock))
            .map(|clock| {
                if before == Before::T {
                    fraction(classes, clock)
                } else {
                    clock
                }
            }),
        // `T14.5`, the decimals of an hour, which is no `14.5`.
        Some(Class::Short)
            if dot(start + 1)
                && !(before == Before::T && classes.is(start + 2, Class::Fraction)) =>
        {
            hours_and_minutes(classes, start, '.')
                .and_then(|clock| with_word(classes, clock, before))
        }
        Some(Class::Short)
            if before == Before::Underscore && classes.is(start + 1, Class::Symbol('-')) =>
        {
            hours_and_minutes(classes, start, '-')
        }
        Some(Class::Short) => by_sign(classes, start)
            .or_else(|| hour_alone(classes, start))
            .or_else(|| (before == Before::Date).then(|| announced_hour(classes, start))?)
            .or_else(|| (before == Before::T).then(|| fraction(classes, only_hour(start)))),
        Some(Class::Digits(digits @ (4 | 6))) => {
            let clock = basic(classes, start, digits);
            let end = clock.end;
            // `1430 hrs`; `1990ч` is a year in Tuvan.
            let word = end + usize::from(classes.is(end, Class::Space));
            let clock = if classes.is_sign(word, Sign::Hour) {
                clock
            } else {
                word_behind(classes, clock)
            };
            (before.announces_digits() || clock.end > end).then_some(clock)
        }
        Some(Class::Name(_)) => behind_period(classes, start),
        Some(Class::Filler(_)) => behind_words(classes, start, before),
        Some(Class::H) => behind_words(classes, start, before),
        _ => None,
    };
    if let Some(clock) = clock {
        found.extend(with_zone(classes, &clock));
        found.push(clock);
    }
    found
}

/// `UTC 14:30:00`, `GMT+8 14:30:00`: the zone between the date and the time, as Chinese
/// has it.
fn behind_zone(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let zone = with_offset(classes, &Piece::new(start));
    let Some(zone) = zone.filter(|zone| classes.is(zone.end, Class::Space)) else {
        return Vec::new();
    };
    let clock = zone.end + 1;
    if classes.may_be(clock, Roles::ZONE) {
        return Vec::new();
    }
    let zone = zone.literal(classes, clock);
    let is_zone = |item: &Item| {
        matches!(
            item,
            Item::Field(Field::ZoneName | Field::ZoneId | Field::Offset(_))
        )
    };
    let clocks = clocks(classes, clock, Before::Date).into_iter();
    clocks
        .filter(|clock| !clock.items.iter().any(is_zone))
        .map(|clock| zone.clone().then(clock))
        .collect()
}

/// `14h30`, `14 h 30`, `14h`, `14時30分15秒`: signs or words behind the
/// numbers.
fn by_sign(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let sign_behind = |index: usize, wanted: Sign| {
        let sign = index + usize::from(classes.is(index, Class::Space));
        // `14h`, `14 Uhr`
        let is_hour = wanted == Sign::Hour
            && (classes.is(sign, Class::H) || classes.is_sign(sign, Sign::Clock));
        (is_hour || classes.is_sign(sign, wanted)).then(|| over_dot(classes, sign + 1))
    };
    let after_hour = sign_behind(start + 1, Sign::Hour)?;
    let mut clock = Piece::new(start)
        .field(Field::Hour(Digits::Free))
        .literal(classes, after_hour);
    type OfDigits = fn(Digits) -> Field;
    let fields: [(OfDigits, Sign); 2] =
        [(Field::Minute, Sign::Minute), (Field::Second, Sign::Second)];
    for (field, sign) in fields {
        let number = clock.end + usize::from(classes.is(clock.end, Class::Space));
        if !classes.is(number, Class::Short)
            || number + 1 < classes.0.len()
                && clock.end == number
                && classes.is(number + 1, Class::Symbol('/'))
        {
            break;
        }
        clock = clock.literal(classes, number);
        // `9時5分`: with a word behind it, no zero is needed before a number.
        let Some(end) = sign_behind(number + 1, sign) else {
            clock = clock.field(field(Digits::Two));
            break;
        };
        clock = clock.field(field(Digits::Free)).literal(classes, end);
    }
    Some(clock)
}

/// The clock with the word behind it, where there is one: `14:57 hs`, `14.59 hod.`
fn word_behind(classes: Classes<'_>, clock: Piece) -> Piece {
    let word = clock.end + usize::from(classes.is(clock.end, Class::Space));
    let is_word = [Sign::Clock, Sign::Hour]
        .into_iter()
        .any(|sign| classes.is_sign(word, sign));
    if !is_word && !classes.is(word, Class::H) {
        return clock;
    }
    let end = over_dot(classes, word + 1);
    clock.literal(classes, end)
}

/// Over the dot of an abbreviation that ends the cell or stands before a space.
fn over_dot(classes: Classes<'_>, index: usize) -> usize {
    let ends = matches!(classes.at(index + 1), None | Some(Class::Space));
    index + usize::from(ends && classes.is(index, Class::Symbol('.')))
}

/// `14.30 Uhr`, `14.30 h`; without the word only behind a date.
fn with_word(classes: Classes<'_>, clock: Piece, before: Before) -> Option<Piece> {
    let end = clock.end;
    let clock = word_behind(classes, clock);
    if clock.end > end {
        return Some(clock);
    }
    let has_period = clock
        .items
        .iter()
        .any(|item| matches!(item, Item::Field(Field::DayPeriod)));
    (matches!(before, Before::Date | Before::Underscore) || has_period).then_some(clock)
}

/// `klo 14`: an hour and no more, where the word before it announces a time.
fn announced_hour(classes: Classes<'_>, start: usize) -> Option<Piece> {
    let word = start.checked_sub(2)?;
    let is_announced = classes.is_sign(word, Sign::ClockComes) && start + 1 == classes.0.len();
    is_announced.then(|| Piece::new(start).field(Field::Hour(Digits::Free)))
}

/// `klo 14.30`, `kl. 14:30`, `saat: 14:30`, `a las 14:30`, `o godz. 14.30`: words that
/// announce the time.
fn behind_words(classes: Classes<'_>, start: usize, before: Before) -> Option<Piece> {
    let (mut number, mut comes, mut may_come) = (start, false, false);
    while classes.is_filler(number) || classes.is(number, Class::H) {
        comes |= classes.is_sign(number, Sign::ClockComes) || classes.is(number, Class::H);
        may_come |= classes.is_sign(number, Sign::ClockMayCome);
        number += 1;
        number += usize::from(matches!(classes.at(number), Some(Class::Symbol('.' | ':'))));
        number += usize::from(classes.is(number, Class::Space));
    }
    if !classes.is(number, Class::Short) {
        return None;
    }
    let sign = classes.at(number + 1);
    let (clock, is_announced) = match sign {
        Some(Class::Symbol(sign @ (':' | '.'))) => {
            let clock = hours_and_minutes(classes, number, sign)?;
            let end = clock.end;
            let clock = word_behind(classes, clock);
            let has_word = clock.end > end;
            (clock, comes || has_word || sign == ':' && may_come)
        }
        // `klo 14`
        None if before == Before::Date => {
            let hour = Piece::new(number).field(Field::Hour(Digits::Free));
            (hour, comes)
        }
        _ => (by_sign(classes, number)?, comes || may_come),
    };
    let words = Piece::new(start).literal(classes, number);
    is_announced.then(|| words.then(clock))
}

/// `下午2:30`, `noon`: the part of the day first, or alone.
fn behind_period(classes: Classes<'_>, start: usize) -> Option<Piece> {
    if !classes.may_be(start, Roles::DAY_PERIOD) {
        return None;
    }
    let period = Piece::new(start).field(Field::FlexiblePeriod);
    let hour = period.end + usize::from(classes.is(period.end, Class::Space));
    if !classes.is(hour, Class::Short) {
        return Some(period);
    }
    let colon = classes.is(hour + 1, Class::Symbol(':'));
    let clock = (if colon {
        hours_and_minutes(classes, hour, ':')
    } else {
        by_sign(classes, hour)
    })?;
    let mut clock = period.literal(classes, hour).then(clock);
    for item in &mut clock.items {
        if let Item::Field(Field::Hour(digits)) = item {
            *item = Item::Field(Field::Hour12(*digits));
        }
    }
    Some(clock)
}

/// `14:30`, `2:30 pm`, `14:30:00.25`
fn hours_and_minutes(classes: Classes<'_>, start: usize, sign: char) -> Option<Piece> {
    if !classes.is(start + 2, Class::Short) {
        return None;
    }
    let mut rest = Piece::new(start + 1)
        .literal(classes, start + 2)
        .field(Field::Minute(Digits::Two));
    if classes.is(rest.end, Class::Symbol(sign)) && classes.is(rest.end + 1, Class::Short) {
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

/// `2024-03-05T14`, `2024-03-05T14+01:00`: an hour and no more
/// (ISO 8601-1:2019 §5.3.1.3).
fn only_hour(start: usize) -> Piece {
    Piece::new(start).field(Field::Hour(Digits::Two))
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
    if classes.is(clock.end + 1, Class::Fraction) {
        let digits = clock.end + 1;
        clock.literal(classes, digits).field(Field::Fraction(1))
    } else {
        clock
    }
}

/// Puts the hour before `rest`: on the 12-hour clock if am or pm follows.
fn with_day_period(classes: Classes<'_>, start: usize, rest: Piece) -> Piece {
    let spaced = usize::from(classes.is(rest.end, Class::Space));
    let hour = |field| Piece::new(start).field(field);
    if classes.may_be(rest.end + spaced, Roles::DAY_PERIOD) {
        let index = rest.end + spaced;
        hour(Field::Hour12(Digits::Free))
            .then(rest)
            .literal(classes, index)
            .field(Field::DayPeriod)
    } else {
        hour(Field::Hour(Digits::Free)).then(rest)
    }
}

/// The clock with the offset from UTC or the zone that follows it, if one
/// does, and what is said of the zone in brackets.
pub(super) fn with_zone(classes: Classes<'_>, clock: &Piece) -> Option<Piece> {
    let zoned = with_offset(classes, clock);
    let named = zoned
        .as_ref()
        .and_then(|zoned| with_name_behind_offset(classes, zoned));
    let zoned = with_zone_in_brackets(classes, zoned.as_ref().unwrap_or(clock))
        .or_else(|| with_offset_in_brackets(classes, clock))
        .or_else(|| with_zone_as_argument(classes, zoned.as_ref().unwrap_or(clock)))
        .or(named)
        .or(zoned)?;
    Some(with_skipped(classes, &zoned).unwrap_or(zoned))
}

/// `+0000 UTC`, `+0200 CEST`, `-05:00 America/New_York`: an offset, and the zone besides.
fn with_name_behind_offset(classes: Classes<'_>, zoned: &Piece) -> Option<Piece> {
    let has_offset = matches!(
        zoned.items.last(),
        Some(Item::Field(Field::Offset(
            OffsetStyle::Basic | OffsetStyle::Extended
        )))
    );
    let name = zoned.end + 1;
    let field = match classes.at(name)? {
        Class::ZoneId => Field::ZoneId,
        class if class.may_be(Roles::ZONE) => Field::ZoneName,
        _ => return None,
    };
    (has_offset && classes.is(zoned.end, Class::Space))
        .then(|| zoned.clone().literal(classes, name).field(field))
}

/// `+01:00[Europe/Lisbon]` (RFC 9557 §4.1), `+0000 (UTC)` (a comment of
/// RFC 5322 §3.2.2).
pub(super) fn with_zone_in_brackets(classes: Classes<'_>, clock: &Piece) -> Option<Piece> {
    let mut open = clock.end + usize::from(classes.is(clock.end, Class::Space));
    let close = match classes.at(open)? {
        Class::Symbol('[') => ']',
        Class::Symbol('(') => ')',
        _ => return None,
    };
    // A critical one, `[!Europe/Lisbon]`, is read as any other.
    open += usize::from(classes.is(open + 1, Class::Symbol('!')));
    let field = match classes.at(open + 1)? {
        Class::ZoneId if close == ']' => Field::ZoneId,
        class if class.may_be(Roles::ZONE) => Field::ZoneName,
        _ => return None,
    };
    classes.is(open + 2, Class::Symbol(close)).then(|| {
        let zone = clock.clone().literal(classes, open + 1).field(field);
        zone.literal(classes, open + 3)
    })
}

/// `[-5:EST]`, `[0:GMT]`, `[-5]`: the hours of the offset in brackets, and perhaps the
/// name of the zone (OFX 2.3 §3.2.8.2).
fn with_offset_in_brackets(classes: Classes<'_>, clock: &Piece) -> Option<Piece> {
    let sign = clock.end + 1;
    if !classes.is(clock.end, Class::Symbol('[')) {
        return None;
    }
    let is_signed = matches!(classes.at(sign), Some(Class::Symbol('+' | '-')));
    let hours = sign + usize::from(is_signed);
    if !classes.is(hours, Class::Short) {
        return None;
    }
    let mut zoned = clock
        .clone()
        .literal(classes, sign)
        .field(Field::Offset(OffsetStyle::Hours));
    zoned.end = hours + 1;
    let name = hours + 2;
    if classes.is(hours + 1, Class::Symbol(':')) && classes.may_be(name, Roles::ZONE) {
        zoned = zoned.literal(classes, name).field(Field::ZoneName);
    }
    let end = zoned.end + 1;
    classes
        .is(zoned.end, Class::Symbol(']'))
        .then(|| zoned.literal(classes, end))
}

/// `', tz='Europe/Lisbon`: the zone as an argument of its own.
fn with_zone_as_argument(classes: Classes<'_>, clock: &Piece) -> Option<Piece> {
    const BEFORE: [Class; 3] = [Class::Symbol('\''), Class::Symbol(','), Class::Space];
    const BEHIND: [Class; 2] = [Class::Symbol('='), Class::Symbol('\'')];
    let rest = classes.0[clock.end..].strip_prefix(&BEFORE)?;
    let [Class::Filler(word), rest @ ..] = rest else {
        return None;
    };
    let [zone] = rest.strip_prefix(&BEHIND)? else {
        return None;
    };
    let field = match zone {
        Class::ZoneId => Field::ZoneId,
        zone if zone.may_be(Roles::ZONE) => Field::ZoneName,
        _ => return None,
    };
    let index = classes.0.len() - 1;
    (filler_text(*word) == "tz").then(|| clock.clone().literal(classes, index).field(field))
}

/// The text that is skipped behind a zone: `[u-ca=gregory]`, `(Central European Time)`.
pub(super) fn with_skipped(classes: Classes<'_>, zoned: &Piece) -> Option<Piece> {
    let open = zoned.end + usize::from(classes.is(zoned.end, Class::Space));
    // ` m=+0.000012345`
    if classes.is(open, Class::Skipped) {
        return Some(zoned.clone().literal(classes, open).field(Field::Skipped));
    }
    let is_opened = matches!(classes.at(open), Some(Class::Symbol('[' | '(')));
    let is_closed = matches!(classes.at(open + 2), Some(Class::Symbol(']' | ')')));
    (is_opened && classes.is(open + 1, Class::Skipped) && is_closed).then(|| {
        let skipped = zoned
            .clone()
            .literal(classes, open + 1)
            .field(Field::Skipped);
        skipped.literal(classes, open + 3)
    })
}

/// The style of the offset that begins with a sign at this index, and how many
/// tokens it has.
fn signed(classes: Classes<'_>, index: usize) -> Option<(OffsetStyle, usize)> {
    let behind_colon = |at| classes.is(at, Class::Symbol(':')) && classes.is(at + 1, Class::Short);
    let behind_apostrophe =
        |at| classes.is(at, Class::Symbol('\'')) && classes.is(at + 1, Class::Short);
    let is_run = |class| matches!(class, Class::Fraction | Class::Digits(14));
    match (classes.at(index)?, classes.at(index + 1)?) {
        // `20240305143000.000000+060`, minutes.
        (Class::Symbol('+' | '-'), Class::Digits(3))
            if index > 0 && classes.at(index - 1).is_some_and(is_run) =>
        {
            Some((OffsetStyle::Minutes, 2))
        }
        (Class::Symbol('+' | '-'), Class::Digits(4)) => Some((OffsetStyle::Basic, 2)),
        (Class::Symbol('+' | '-'), Class::Short) => {
            match (behind_colon(index + 2), behind_colon(index + 4)) {
                (true, true) => Some((OffsetStyle::Seconds, 6)),
                (true, false) => Some((OffsetStyle::Extended, 4)),
                (false, _) if classes.is(index + 2, Class::Symbol(':')) => None,
                (false, _) if behind_apostrophe(index + 2) => Some((OffsetStyle::Extended, 4)),
                (false, _) => Some((OffsetStyle::Hours, 2)),
            }
        }
        _ => None,
    }
}

fn with_offset(classes: Classes<'_>, clock: &Piece) -> Option<Piece> {
    let comma = clock.end + usize::from(classes.is(clock.end, Class::Symbol(',')));
    let spaced = usize::from(classes.is(comma, Class::Space));
    // `14:30:00, UTC`
    let is_name = || classes.may_be(comma + spaced, Roles::ZONE);
    if comma > clock.end && !is_name() {
        return None;
    }
    let index = comma + spaced;
    let zone = |field, len| {
        let mut zone = clock.clone().literal(classes, index).field(field);
        zone.end = index + len;
        Some(zone)
    };
    match classes.at(index)? {
        // `Z00'00'`, as some PDF files have it.
        Class::Z
            if classes.is(index + 1, Class::Short)
                && classes.is(index + 2, Class::Symbol('\''))
                && classes.is(index + 3, Class::Short) =>
        {
            let zoned = zone(Field::Offset(OffsetStyle::Extended), 4)?;
            let is_closed = classes.is(zoned.end, Class::Symbol('\''));
            let end = zoned.end + usize::from(is_closed);
            Some(zoned.literal(classes, end))
        }
        Class::Z => zone(Field::Offset(OffsetStyle::Extended), 1),
        class if class.may_be(Roles::ZONE) => match signed(classes, index + 1) {
            Some((_, len)) => zone(Field::Offset(OffsetStyle::Named), 1 + len),
            None => zone(Field::ZoneName, 1),
        },
        Class::ZoneId => zone(Field::ZoneId, 1),
        _ => {
            let (style, len) = signed(classes, index)?;
            let zoned = zone(Field::Offset(style), len)?;
            // The apostrophe that ends it too, of most programs.
            let is_closed = style == OffsetStyle::Extended
                && classes.is(index + 2, Class::Symbol('\''))
                && classes.is(zoned.end, Class::Symbol('\''));
            let end = zoned.end + usize::from(is_closed);
            Some(zoned.literal(classes, end))
        }
    }
}
