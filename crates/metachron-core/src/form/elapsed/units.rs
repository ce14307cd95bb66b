//! Numbers with units, and units with numbers: `2 days 20 hours`, `days=2`.

use super::{
    DAY, Elapsed, HOUR, LENGTHS, MINUTE, MONTH, SECOND, SECONDS, duration, is_clock, times,
};
use crate::form::decimal::decimal;
use crate::form::{Impossible, UnitLetters};
use crate::lex::{Class, Lexed, Token};
use crate::locale::{Roles, Sign, filler_text, is_sign, is_unspaced, unit_of};
use crate::stamp::Duration;
use smallvec::SmallVec;
use std::ops::Range;

/// `2 days 20 hours`, `1h30m`, `1.5 hours, 3 min and 2 s`: each number with a
/// unit behind it; and `1 day, 4:55:17`, or `@ 2 days -3 hours ago` as databases
/// write it.
pub(super) fn numbers_with_units(classes: &[Class]) -> bool {
    let (mut rest, verbose) = match classes {
        [Class::Symbol('@'), Class::Space, rest @ ..] => (rest, true),
        _ => (classes, false),
    };
    // `ago`, which is August in other languages.
    if let [before @ .., Class::Space, last] = rest
        && verbose
        && (last.may_be(Roles::MONTH) || *last == Class::Word)
    {
        rest = before;
    }
    if !verbose && with_hours(rest).is_some() {
        return true;
    }
    // `@ 0`, of no length.
    if verbose && matches!(rest, [Class::Short]) {
        return true;
    }
    let mut found = 0;
    let joins = |class: &Class| match class {
        Class::Filler(word) => is_sign(*word, Sign::Joins),
        other => matches!(other, Class::Space | Class::Symbol(',' | '.')),
    };
    let skip = |rest: &mut &[Class], test: fn(&Class) -> bool| {
        while let [first, after @ ..] = *rest
            && test(first)
        {
            *rest = after;
        }
    };
    loop {
        let has_comma = rest.first() == Some(&Class::Symbol(','));
        skip(&mut rest, joins);
        let unsigned = match rest {
            [Class::Symbol('-' | '+'), unsigned @ ..] => unsigned,
            all => all,
        };
        // `3 days, 17:12`, as the time since a start is shown.
        let is_short_clock = || found == 1 && has_comma && Elapsed::HourMinute.fits(unsigned);
        if found > 0 && (is_clock(unsigned) || is_short_clock()) {
            return true;
        }
        if verbose {
            rest = unsigned;
        }
        match rest {
            [] => return found > 0,
            [
                Class::Short | Class::Digits(_),
                Class::Symbol('.' | ','),
                Class::Short | Class::Digits(_) | Class::Fraction,
                after @ ..,
            ]
            | [Class::Short | Class::Digits(_), after @ ..] => rest = after,
            _ => return false,
        }
        skip(&mut rest, |class| *class == Class::Space);
        match rest {
            // `1h30`: what ends a cell behind its hours are minutes.
            [Class::H, Class::Short] | [Class::H, Class::Space, Class::Short] => return true,
            [unit, after @ ..] if is_unit(*unit) || found > 0 && part_of_hour(*unit).is_some() => {
                rest = after;
            }
            _ => return false,
        }
        found += 1;
    }
}

/// How many classes the clock has that these are, with the word for hours behind it:
/// `1:30 h`, `12:39:05 hours`.
pub(crate) fn with_hours(classes: &[Class]) -> Option<usize> {
    let [clock @ .., word] = classes else {
        return None;
    };
    let clock = clock.strip_suffix(&[Class::Space]).unwrap_or(clock);
    let fits = is_clock(clock) || Elapsed::HourMinute.fits(clock);
    let is_hours = hour_sign(*word) == Some(HOUR) || *word == Class::Name(Roles::UNIT);
    (fits && is_hours).then_some(clock.len())
}

/// The length that a clock says which the word for hours follows.
fn hours_of_clock(
    cell: &Lexed<'_>,
    range: Range<usize>,
    clock: usize,
) -> Result<Duration, Impossible> {
    if unit(cell, range.end - 1, true)? != HOUR {
        return Err(Impossible::NameDiffers);
    }
    let clock = &cell.tokens()[range][..clock];
    let first = usize::from(matches!(clock[0].class, Class::Symbol('-' | '+')));
    let (from, to) = (
        clock[first].start as usize,
        clock[clock.len() - 1].end as usize,
    );
    let length = match clock.len() - first {
        3 => Elapsed::HourMinute,
        _ => Elapsed::HourMinuteSecond,
    }
    .clock(&cell.text()[from..to])?;
    let is_negative = clock[0].class == Class::Symbol('-');
    duration(0, if is_negative { -length } else { length })
}

/// Whether a number before it is so many units.
fn is_unit(class: Class) -> bool {
    // `1 mon 3 days`: what else is a Monday.
    class.may_be(Roles::UNIT) || class.may_be(Roles::WEEKDAY) || hour_sign(class).is_some()
}

/// The minutes and seconds that a sign of East Asia stands for behind hours: `2時間5分`.
fn part_of_hour(class: Class) -> Option<u8> {
    let Class::Filler(word) = class else {
        return None;
    };
    let signs = [(Sign::Minute, MINUTE), (Sign::Second, SECONDS)];
    let mut signs = signs.into_iter();
    signs.find_map(|(sign, unit)| is_sign(word, sign).then_some(unit))
}

/// The words behind a time of day that are units as well.
const HOURS: [&str; 14] = [
    "hod",
    "hodin",
    "hora",
    "horas",
    "hours",
    "hrs",
    "sata",
    "sati",
    "uur",
    "óra",
    "години",
    "час",
    "часа",
    "часов",
];

/// The unit that a sign of the clock stands for: `14 ч 30 мин` may be a time
/// of day as well. The signs of East Asia never are units (`2時` is two
/// o'clock, `2時間` two hours).
fn hour_sign(class: Class) -> Option<u8> {
    let word = match class {
        Class::H => return Some(HOUR),
        Class::Filler(word) if !filler_text(word).starts_with(is_unspaced) => word,
        _ => return None,
    };
    // `1430 hrs` may be half past two.
    if is_sign(word, Sign::Clock) && HOURS.contains(&filler_text(word)) {
        return Some(HOUR);
    }
    let signs = [Sign::Hour, Sign::Minute, Sign::Second].into_iter();
    let mut units = (HOUR..).zip(signs);
    units.find_map(|(unit, sign)| is_sign(word, sign).then_some(unit))
}

/// The length that numbers with units make. A sign is that of all of them; where
/// a clock or a sign of another part follows, of its own part only: `-1 day,
/// 4:55:17` is less than a day.
pub(super) fn signed_units(
    cell: &Lexed<'_>,
    range: Range<usize>,
    unit_letters: UnitLetters,
) -> Result<Duration, Impossible> {
    let tokens = &cell.tokens()[..range.end];
    let classes: SmallVec<[Class; 16]> =
        tokens[range.clone()].iter().map(|own| own.class).collect();
    if let Some(clock) = with_hours(&classes) {
        return hours_of_clock(cell, range, clock);
    }
    let is_sole = tokens[range.clone()]
        .iter()
        .filter(|token| is_unit(token.class))
        .count()
        == 1;
    if is_sole && may_be_no_unit(cell, range.clone(), unit_letters) {
        return Err(Impossible::WhichUnit);
    }
    let is_sign = |token: &Token| matches!(token.class, Class::Symbol('-' | '+'));
    let sign_at = |at: usize| match tokens.get(at).map(|token| token.class) {
        Some(Class::Symbol('-')) => -1,
        _ => 1,
    };
    let is_verbose = tokens[range.start].class == Class::Symbol('@');
    let colon = tokens
        .iter()
        .position(|token| token.class == Class::Symbol(':'));
    let clock = colon.map(|colon| colon - 1);
    let end = clock.unwrap_or(tokens.len());
    // The parts, each from its sign on.
    let signs = (range.start + 1..end).filter(|&at| is_sign(&tokens[at]));
    let starts: Vec<usize> = [range.start].into_iter().chain(signs).collect();
    let (mut months, mut exact) = (0_i64, 0_i128);
    for (number, &start) in starts.iter().enumerate() {
        let until = starts.get(number + 1).copied().unwrap_or(end);
        let (part, length) = units(cell, start..until, is_sole)?;
        months += sign_at(start) * part;
        exact += i128::from(sign_at(start)) * length;
    }
    if let Some(clock) = clock {
        let end = tokens[tokens.len() - 1].end as usize;
        let text = &cell.text()[tokens[clock].start as usize..end];
        let colons = text.bytes().filter(|byte| *byte == b':').count();
        let length = match colons {
            1 if !has_day(cell, range.start..clock) => return Err(Impossible::NoNumber),
            1 => Elapsed::HourMinute,
            _ => Elapsed::HourMinuteSecond,
        };
        let length = length.clock(text)?;
        // `4 days, 33:24` may be minutes and seconds.
        if colons == 1 && length >= LENGTHS[1] {
            return Err(Impossible::NoNumber);
        }
        exact += i128::from(sign_at(clock - 1)) * length;
    }
    if is_verbose {
        let last = tokens.len() - 1;
        match cell.token_text(last) {
            "0" if range.len() == 3 => {}
            "ago" => (months, exact) = (-months, -exact),
            _ if tokens[last].class.may_be(Roles::UNIT) => {}
            _ => return Err(Impossible::NoNumber),
        }
    }
    duration(months, exact)
}

/// Whether the last unit of these tokens is a day: then hours follow.
fn has_day(cell: &Lexed<'_>, tokens: Range<usize>) -> bool {
    let mut units = cell.tokens()[tokens].iter().rev();
    let last = units.find(|token| is_unit(token.class));
    last.is_some_and(|token| token.class.may_be(Roles::UNIT) && unit_of(token.value) == DAY)
}

/// Whether the only unit of these tokens may be none of time: `5 m` may be metres, `60 W`
/// watts, `1890s` ten years, `12 NS` a street and `5 SEK` money; next to another unit it
/// is plain.
fn may_be_no_unit(cell: &Lexed<'_>, range: Range<usize>, unit_letters: UnitLetters) -> bool {
    let is_letter = |index: usize| match cell.token_text(index).as_bytes() {
        [b'M'] => true,
        [b'm' | b'A'..=b'Z'] => unit_letters == UnitLetters::Reject,
        _ => false,
    };
    let mut units = range.filter(|&index| is_unit(cell.tokens()[index].class));
    units.next().is_some_and(|index| {
        cell.tokens()[index].class != Class::H
            && (is_letter(index)
                || is_decade(cell, index)
                || is_abbreviation(cell, index)
                || may_be_money(cell, index))
    })
}

/// The months and nanoseconds of these tokens; `is_sole` where the cell has one
/// unit alone.
fn units(cell: &Lexed<'_>, tokens: Range<usize>, is_sole: bool) -> Result<(i64, i128), Impossible> {
    let has_unit = cell.tokens()[..tokens.end]
        .iter()
        .any(|token| is_unit(token.class));
    let is_unit =
        |token: &Token| is_unit(token.class) || has_unit && part_of_hour(token.class).is_some();
    let (mut months, mut exact) = (0_i64, 0_i128);
    let mut number = String::new();
    let parts = cell.tokens().iter().enumerate().take(tokens.end);
    for (index, token) in parts.skip(tokens.start) {
        if !is_unit(token) {
            let in_number = matches!(
                token.class,
                Class::Short | Class::Digits(_) | Class::Fraction
            ) || matches!(token.class, Class::Symbol('.' | ','))
                && !number.is_empty();
            if in_number {
                number.push_str(cell.token_text(index));
            }
            continue;
        }
        let unit = unit(cell, index, is_sole)?;
        let value = std::mem::take(&mut number);
        let value =
            decimal(value.trim_end_matches([',', '.'])).map_err(|_| Impossible::DecimalSign)?;
        let (part, length) = times(value, unit)?;
        months += part;
        exact += length;
    }
    let number = number.trim_end_matches([',', '.']);
    if !number.is_empty() {
        let minutes: u8 = number.parse().map_err(|_| Impossible::NoNumber)?;
        if minutes > 59 {
            return Err(Impossible::Minute(minutes));
        }
        exact += i128::from(minutes) * 60 * SECOND;
    }
    Ok((months, exact))
}

/// The unit that the token at `index` stands for. `mon` and `mo` are Mondays, but next to
/// another unit.
fn unit(cell: &Lexed<'_>, index: usize, is_sole: bool) -> Result<u8, Impossible> {
    let token = cell.tokens()[index];
    if let Some(unit) = hour_sign(token.class).or_else(|| part_of_hour(token.class)) {
        return Ok(unit);
    }
    if token.class.may_be(Roles::UNIT) {
        return Ok(unit_of(token.value));
    }
    let is_month = !is_sole && matches!(cell.token_text(index), "mon" | "mo");
    is_month.then_some(MONTH).ok_or(Impossible::NameDiffers)
}

/// Whether the unit at `place` is an s that stands right behind four digits.
fn is_decade(cell: &Lexed<'_>, index: usize) -> bool {
    let before = index
        .checked_sub(1)
        .map(|before| cell.tokens()[before].class);
    before == Some(Class::Digits(4)) && cell.token_text(index) == "s"
}

/// Whether the unit at `index` is a part of a second in capitals, which are more often
/// something else: `MS`, `NS`.
fn is_abbreviation(cell: &Lexed<'_>, index: usize) -> bool {
    let token = cell.tokens()[index];
    let capitals = cell
        .token_text(index)
        .bytes()
        .all(|byte| byte.is_ascii_uppercase());
    capitals && token.class.may_be(Roles::UNIT) && unit_of(token.value) > SECONDS
}

/// Whether the unit at `place` is three capitals, as codes of currencies are
/// (ISO 4217), and no English unit.
fn may_be_money(cell: &Lexed<'_>, index: usize) -> bool {
    let capitals = cell
        .token_text(index)
        .bytes()
        .all(|byte| byte.is_ascii_uppercase());
    let foreign = cell.marks().foreign & (1 << (index & 31)) != 0;
    capitals && foreign && cell.token_text(index).len() == 3
}

/// Whether these are `days=2, seconds=30`.
pub(super) fn units_with_numbers(classes: &[Class]) -> bool {
    let mut parts = classes.split(|class| *class == Class::Symbol(','));
    parts.all(|part| {
        let part = match part {
            [Class::Space, part @ ..] => part,
            part => part,
        };
        match part {
            [unit, Class::Symbol('='), number @ ..] => {
                let number = match number {
                    [Class::Symbol('-'), number @ ..] => number,
                    number => number,
                };
                unit.may_be(Roles::UNIT)
                    && matches!(
                        number,
                        [Class::Short | Class::Digits(_)]
                            | [
                                Class::Short | Class::Digits(_),
                                Class::Symbol('.'),
                                Class::Short | Class::Digits(_) | Class::Fraction
                            ]
                    )
            }
            _ => false,
        }
    })
}

/// The length of `days=-1, seconds=30`: each number has its own sign.
pub(super) fn named_units(cell: &Lexed<'_>, range: Range<usize>) -> Result<Duration, Impossible> {
    let (mut months, mut exact) = (0, 0);
    for index in range {
        let token = cell.tokens()[index];
        if !token.class.may_be(Roles::UNIT) {
            continue;
        }
        let is_negative = cell.tokens()[index + 2].class == Class::Symbol('-');
        let first = index + 2 + usize::from(is_negative);
        let behind = &cell.tokens()[first..];
        let is_part = |token: &&Token| {
            !matches!(
                token.class,
                Class::Symbol(',' | ')') | Class::Space | Class::Closing(_)
            )
        };
        let parts = behind.iter().take_while(is_part).count();
        let (from, to) = (behind[0].start as usize, behind[parts - 1].end as usize);
        let number = decimal(&cell.text()[from..to]).map_err(|_| Impossible::NoNumber)?;
        let (part, length) = times(number, unit_of(token.value))?;
        let sign = if is_negative { -1 } else { 1 };
        months += sign * part;
        exact += i128::from(sign) * length;
    }
    duration(months, exact)
}
