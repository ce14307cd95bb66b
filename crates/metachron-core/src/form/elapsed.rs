//! Lengths of time, as they are written.
//!
//! | form | reads |
//! |---|---|
//! | `elapsed units` | `2 days 20 hours`, `1h 30m`, `1h30`, `1.5 hours`, `-1 day, 4:55:17`, `@ 2 days 3 hours ago` |
//! | `elapsed unit=n` | `days=2, seconds=30` |
//! | `elapsed ISO 8601` | `P2DT3H`, `-PT15M`, `P0000-00-02T03:00:00` (ISO 8601-1:2019 §5.5.2) |
//! | `elapsed y-M d H:mm:ss` | `+1-2 +3 +4:05:06`, `+1-02` (ISO/IEC 9075-2 §5.3, with signs) |
//! | `elapsed d H:mm:ss` | `325 18:53:17`, `+00 15:10:43.5`, `1-10:44:59`, `30.22:11:29` |
//! | `elapsed H:mm:ss` | `100:15:00`, `1:02:03.5` |
//! | `elapsed H:mm` | `100:15`, a hundred hours and a quarter |
//! | `elapsed m:ss` | `100:15`, a hundred minutes and a quarter |
//! | `elapsed m'ss"` | `33'57"`, `1h 41' 54''` |

use super::decimal::{Decimal, decimal};
use super::{Impossible, Unwritable};
use crate::lex::{Class, Lexed, Token};
use crate::locale::{Roles, Sign, filler_text, is_sign, is_unspaced, unit_of};
use crate::stamp::Duration;
use std::ops::Range;

/// A way of writing lengths of time.
///
/// ```
/// use metachron_core::form::{Elapsed, Form};
///
/// let form: Form = "elapsed H:mm".parse()?;
/// assert_eq!(form.elapsed(), Some(Elapsed::HourMinute));
/// # Ok::<(), metachron_core::form::PatternError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Elapsed {
    /// Numbers with units, in any order.
    Units,
    /// Numbers behind the names of their units.
    NamedUnits,
    /// The durations of ISO 8601.
    Iso,
    /// The intervals of SQL: years and months, days, and a clock, each with a sign.
    Sql,
    /// Days, and behind a space, a hyphen or a dot hours, minutes and seconds.
    DayClock,
    /// Hours, minutes and seconds, parted by colons.
    HourMinuteSecond,
    /// Hours and minutes, parted by a colon.
    HourMinute,
    /// Minutes and seconds, parted by a colon.
    MinuteSecond,
    /// Minutes and seconds, with primes behind them.
    Primes,
}

const SECOND: i128 = 1_000_000_000;

/// Nanoseconds of the units that have a fixed length, by their numbers from
/// [`WEEK`] on.
const LENGTHS: [i128; 8] = [
    604_800 * SECOND,
    86_400 * SECOND,
    3600 * SECOND,
    60 * SECOND,
    SECOND,
    SECOND / 1000,
    SECOND / 1_000_000,
    1,
];

// The numbers of units, as the lexicon gives them.
const YEAR: u8 = 0;
const MONTH: u8 = 1;
const WEEK: u8 = 2;
const HOUR: u8 = 4;
const MINUTE: u8 = 5;
const SECONDS: u8 = 6;

impl Elapsed {
    const ALL: [(Elapsed, &'static str); 9] = [
        (Elapsed::Units, "elapsed units"),
        (Elapsed::NamedUnits, "elapsed unit=n"),
        (Elapsed::Iso, "elapsed ISO 8601"),
        (Elapsed::Sql, "elapsed y-M d H:mm:ss"),
        (Elapsed::DayClock, "elapsed d H:mm:ss"),
        (Elapsed::HourMinuteSecond, "elapsed H:mm:ss"),
        (Elapsed::HourMinute, "elapsed H:mm"),
        (Elapsed::MinuteSecond, "elapsed m:ss"),
        (Elapsed::Primes, "elapsed m'ss\""),
    ];

    /// Every way.
    pub(crate) fn all() -> impl Iterator<Item = Elapsed> {
        Elapsed::ALL.into_iter().map(|(elapsed, _)| elapsed)
    }

    /// The form's text.
    pub fn name(self) -> &'static str {
        Elapsed::ALL[self as usize].1
    }

    /// The form that is written so.
    pub(super) fn named(text: &str) -> Option<Elapsed> {
        let known = Elapsed::ALL.iter().find(|(_, name)| *name == text);
        known.map(|(elapsed, _)| *elapsed)
    }

    /// Every form's text.
    pub(super) fn names() -> impl Iterator<Item = &'static str> {
        Elapsed::ALL.into_iter().map(|(_, name)| name)
    }

    /// Whether lengths of time are only read in this way, and never written.
    pub(super) fn is_only_read(self) -> bool {
        matches!(
            self,
            Elapsed::Units | Elapsed::NamedUnits | Elapsed::Sql | Elapsed::Primes
        )
    }

    /// Whether a cell of these classes may be written so.
    pub(crate) fn fits(self, classes: &[Class]) -> bool {
        let unsigned = match classes {
            [Class::Symbol('-' | '+'), rest @ ..] => rest,
            all => all,
        };
        let colon = Class::Symbol(':');
        let number = |class: &Class| matches!(class, Class::Short | Class::Digits(_));
        match self {
            Elapsed::Iso => unsigned == [Class::Period],
            Elapsed::DayClock => match unsigned {
                [days, Class::Space | Class::Symbol('-' | '.'), clock @ ..] => {
                    number(days) && is_clock(clock)
                }
                _ => false,
            },
            Elapsed::HourMinuteSecond => is_clock(unsigned),
            Elapsed::HourMinute => match unsigned {
                [hours, a, Class::Short] => number(hours) && *a == colon,
                _ => false,
            },
            Elapsed::MinuteSecond => match unsigned {
                [minutes, a, Class::Short, rest @ ..] => {
                    number(minutes) && *a == colon && are_decimals(rest)
                }
                _ => false,
            },
            Elapsed::Units => numbers_with_units(unsigned),
            Elapsed::NamedUnits => units_with_numbers(classes),
            Elapsed::Sql => is_sql_interval(classes),
            Elapsed::Primes => has_primes(unsigned),
        }
    }

    /// What these tokens of `cell`, which fit, stand for.
    pub(super) fn read(
        self,
        cell: &Lexed<'_>,
        range: Range<usize>,
    ) -> Result<Duration, Impossible> {
        let tokens = &cell.tokens()[range.clone()];
        let first = tokens.first().map(|token| token.class);
        let is_negative = first == Some(Class::Symbol('-'));
        let signed = usize::from(matches!(first, Some(Class::Symbol('-' | '+'))));
        let start = tokens.get(signed).map_or(0, |token| token.start as usize);
        let end = tokens.last().map_or(start, |token| token.end as usize);
        let text = &cell.text()[start..end];
        let (months, nanoseconds) = match self {
            Elapsed::Iso => iso(text)?,
            // The sign may be that of its first part alone.
            Elapsed::Units => return signed_units(cell, range),
            Elapsed::NamedUnits => return named_units(cell, range),
            Elapsed::Sql => return sql_interval(&cell.text()[tokens[0].start as usize..end]),
            Elapsed::Primes => (0, primes(cell, range)?),
            Elapsed::DayClock => {
                let end = text
                    .find(|letter: char| !letter.is_ascii_digit())
                    .unwrap_or(text.len());
                let days = decimal(&text[..end]).map_err(|_| Impossible::NoNumber)?;
                let clock = Elapsed::HourMinuteSecond.clock(text[end + 1..].trim())?;
                (0, nanoseconds(days, LENGTHS[1])? + clock)
            }
            _ => (0, self.clock(text)?),
        };
        if months > Duration::MOST_MONTHS || nanoseconds > Duration::MOST_NANOSECONDS {
            return Err(Impossible::OutOfRange);
        }
        let sign = if is_negative { -1 } else { 1 };
        Ok(Duration::new(sign * months, i128::from(sign) * nanoseconds))
    }

    /// Appends the text of `length` to `out`.
    pub(super) fn write(self, length: Duration, out: &mut Vec<u8>) -> Result<(), Unwritable> {
        if self == Elapsed::Iso {
            length.write_iso(out);
            return Ok(());
        }
        if length.months() != 0 {
            return Err(Unwritable::Months(length));
        }
        let exact = length.nanoseconds();
        let sign = if exact < 0 { "-" } else { "" };
        let (seconds, fraction) = (exact.abs() / SECOND, exact.abs() % SECOND);
        let (minutes, second) = (seconds / 60, seconds % 60);
        if self == Elapsed::HourMinute && (second, fraction) != (0, 0) {
            return Err(Unwritable::Seconds(length));
        }
        let mut text = match self {
            Elapsed::HourMinute => format!("{sign}{}:{:02}", minutes / 60, minutes % 60),
            Elapsed::MinuteSecond => format!("{sign}{minutes}:{second:02}"),
            Elapsed::DayClock => {
                let (days, minutes) = (minutes / 1440, minutes % 1440);
                format!(
                    "{sign}{days} {:02}:{:02}:{second:02}",
                    minutes / 60,
                    minutes % 60
                )
            }
            _ => format!("{sign}{}:{:02}:{second:02}", minutes / 60, minutes % 60),
        };
        if fraction != 0 {
            let decimals = format!(".{fraction:09}");
            text.push_str(decimals.trim_end_matches('0'));
        }
        out.extend_from_slice(text.as_bytes());
        Ok(())
    }

    fn clock(self, text: &str) -> Result<i128, Impossible> {
        let mut parts = text.split(':');
        let mut whole = || -> Result<&str, Impossible> { parts.next().ok_or(Impossible::NoNumber) };
        let (hours, minutes, seconds) = match self {
            Elapsed::HourMinute => (whole()?, whole()?, "0"),
            Elapsed::MinuteSecond => ("0", whole()?, whole()?),
            _ => (whole()?, whole()?, whole()?),
        };
        let number = |text: &str| text.parse::<i128>().map_err(|_| Impossible::NoNumber);
        let (hours, minutes) = (number(hours)?, number(minutes)?);
        // A comma before three digits parts no thousands here.
        let seconds = decimal(&seconds.replace(',', ".")).map_err(|_| Impossible::NoNumber)?;
        let seconds = nanoseconds(seconds, SECOND)?;
        if self != Elapsed::MinuteSecond && minutes > 59 {
            return Err(Impossible::Minute(minutes as u8));
        }
        if seconds >= 60 * SECOND {
            return Err(Impossible::Second((seconds / SECOND) as u8));
        }
        Ok((hours * 3600 + minutes * 60) * SECOND + seconds)
    }
}

/// Whether these are the decimals of a second, or nothing.
fn are_decimals(classes: &[Class]) -> bool {
    let are_digits =
        |class: &Class| matches!(class, Class::Fraction | Class::Short | Class::Digits(_));
    match classes {
        [] => true,
        [Class::Symbol('.' | ','), digits] => are_digits(digits),
        _ => false,
    }
}

/// Whether these are hours, minutes and seconds, parted by colons.
fn is_clock(classes: &[Class]) -> bool {
    let colon = Class::Symbol(':');
    match classes {
        [
            Class::Short | Class::Digits(_),
            a,
            Class::Short,
            b,
            Class::Short,
            rest @ ..,
        ] => *a == colon && *b == colon && are_decimals(rest),
        _ => false,
    }
}

/// `2 days 20 hours`, `1h30m`, `1.5 hours, 3 min and 2 s`: each number with a
/// unit behind it; and `1 day, 4:55:17`, or `@ 2 days -3 hours ago` as databases
/// write it.
fn numbers_with_units(classes: &[Class]) -> bool {
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
        skip(&mut rest, joins);
        let unsigned = match rest {
            [Class::Symbol('-' | '+'), unsigned @ ..] => unsigned,
            all => all,
        };
        if found > 0 && is_clock(unsigned) {
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
            [unit, after @ ..] if is_unit(*unit) => rest = after,
            _ => return false,
        }
        found += 1;
    }
}

/// Whether a number before it is so many units.
fn is_unit(class: Class) -> bool {
    // `1 mon 3 days`: what else is a Monday.
    class.may_be(Roles::UNIT) || class.may_be(Roles::WEEKDAY) || hour_sign(class).is_some()
}

/// The unit that a sign of the clock stands for: `14 ч 30 мин` may be a time
/// of day as well. The signs of East Asia never are units (`2時` is two
/// o'clock, `2時間` two hours).
fn hour_sign(class: Class) -> Option<u8> {
    let word = match class {
        Class::H => return Some(HOUR),
        Class::Filler(word) if !filler_text(word).starts_with(is_unspaced) => word,
        _ => return None,
    };
    let signs = [Sign::Hour, Sign::Minute, Sign::Second].into_iter();
    let mut units = (HOUR..).zip(signs);
    units.find_map(|(unit, sign)| is_sign(word, sign).then_some(unit))
}

/// The length that numbers with units make. A sign is that of all of them; where
/// a clock or a sign of another part follows, of its own part only: `-1 day,
/// 4:55:17` is less than a day.
fn signed_units(cell: &Lexed<'_>, range: Range<usize>) -> Result<Duration, Impossible> {
    let tokens = &cell.tokens()[..range.end];
    let is_sole = tokens[range.clone()]
        .iter()
        .filter(|token| is_unit(token.class))
        .count()
        == 1;
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
        let length = Elapsed::HourMinuteSecond.clock(text)?;
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

fn duration(months: i64, exact: i128) -> Result<Duration, Impossible> {
    if months.abs() > Duration::MOST_MONTHS || exact.abs() > Duration::MOST_NANOSECONDS {
        return Err(Impossible::OutOfRange);
    }
    Ok(Duration::new(months, exact))
}

/// The months and nanoseconds of these tokens; `is_sole` where the cell has one
/// unit alone.
fn units(cell: &Lexed<'_>, tokens: Range<usize>, is_sole: bool) -> Result<(i64, i128), Impossible> {
    let is_unit = |token: &Token| is_unit(token.class);
    let mut written = cell.tokens()[..tokens.end]
        .iter()
        .enumerate()
        .filter(|(_, token)| is_unit(token));
    // `5 m` may be metres, `60 W` watts, `1890s` ten years, `12 NS` a street and
    // `5 SEK` money;
    // next to another unit it is plain.
    if let Some((index, token)) = written.next()
        && is_sole
        && token.class != Class::H
        && (matches!(cell.token_text(index).as_bytes(), [b'm' | b'A'..=b'Z'])
            || is_decade(cell, index)
            || is_abbreviation(cell, index)
            || may_be_money(cell, index))
    {
        return Err(Impossible::WhichUnit);
    }
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

/// The unit that the token at `index` stands for. `mon` is a Monday, but next to
/// another unit.
fn unit(cell: &Lexed<'_>, index: usize, is_sole: bool) -> Result<u8, Impossible> {
    let token = cell.tokens()[index];
    if let Some(unit) = hour_sign(token.class) {
        return Ok(unit);
    }
    if token.class.may_be(Roles::UNIT) {
        return Ok(unit_of(token.value));
    }
    let is_month = !is_sole && cell.token_text(index) == "mon";
    is_month.then_some(MONTH).ok_or(Impossible::NameDiffers)
}

/// So many of a unit: its months, or its nanoseconds.
fn times(value: Decimal, unit: u8) -> Result<(i64, i128), Impossible> {
    match unit {
        YEAR => Ok((whole(value, 12)?, 0)),
        MONTH => Ok((whole(value, 1)?, 0)),
        _ => {
            let length = LENGTHS.get(usize::from(unit.wrapping_sub(WEEK)));
            let length = *length.ok_or(Impossible::NameDiffers)?;
            Ok((0, nanoseconds(value, length)?))
        }
    }
}

/// Whether these are `days=2, seconds=30`.
fn units_with_numbers(classes: &[Class]) -> bool {
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
                unit.may_be(Roles::UNIT) && matches!(number, [Class::Short | Class::Digits(_)])
            }
            _ => false,
        }
    })
}

/// The length of `days=-1, seconds=30`: each number has its own sign.
fn named_units(cell: &Lexed<'_>, range: Range<usize>) -> Result<Duration, Impossible> {
    let (mut months, mut exact) = (0, 0);
    for index in range {
        let token = cell.tokens()[index];
        if !token.class.may_be(Roles::UNIT) {
            continue;
        }
        let is_negative = cell.tokens()[index + 2].class == Class::Symbol('-');
        let number = cell.token_text(index + 2 + usize::from(is_negative));
        let number = decimal(number).map_err(|_| Impossible::NoNumber)?;
        let (part, length) = times(number, unit_of(token.value))?;
        let sign = if is_negative { -1 } else { 1 };
        months += sign * part;
        exact += i128::from(sign) * length;
    }
    duration(months, exact)
}

/// Whether these are years and months with a sign, and perhaps days and a clock.
/// Without a sign they are as much like a date and a time.
fn is_sql_interval(classes: &[Class]) -> bool {
    let is_sign = |class: &Class| matches!(class, Class::Symbol('+' | '-'));
    let is_number = |class: &Class| matches!(class, Class::Short | Class::Digits(_));
    match classes {
        [sign, years, Class::Symbol('-'), Class::Short, rest @ ..]
            if is_sign(sign) && is_number(years) =>
        {
            match rest {
                [] => true,
                [
                    Class::Space,
                    sign,
                    days,
                    Class::Space,
                    clock_sign,
                    clock @ ..,
                ] => is_sign(sign) && is_number(days) && is_sign(clock_sign) && is_clock(clock),
                _ => false,
            }
        }
        _ => false,
    }
}

/// The length of `+1-2 +3 +4:05:06`.
fn sql_interval(text: &str) -> Result<Duration, Impossible> {
    let (mut months, mut exact) = (0, 0);
    for part in text.split_whitespace() {
        let sign = if part.starts_with('-') { -1 } else { 1 };
        let part = &part[1..];
        let number = |text: &str| decimal(text).map_err(|_| Impossible::NoNumber);
        if part.contains(':') {
            exact += i128::from(sign) * Elapsed::HourMinuteSecond.clock(part)?;
        } else if let Some((years, rest)) = part.split_once('-') {
            let rest = whole(number(rest)?, 1)?;
            if rest > 11 {
                return Err(Impossible::Month(rest as u8));
            }
            months += sign * (whole(number(years)?, 12)? + rest);
        } else {
            exact += i128::from(sign) * nanoseconds(number(part)?, LENGTHS[1])?;
        }
    }
    duration(months, exact)
}

/// The prime behind minutes and the double prime behind seconds, or the quotes that
/// stand for them, at the start of `classes`: its tokens.
fn prime(classes: &[Class], is_double: bool) -> Option<usize> {
    let is = |index: usize, signs: &[char]| matches!(classes.get(index), Some(Class::Symbol(sign)) if signs.contains(sign));
    let single = ['\'', '′', '’'];
    if !is_double {
        return is(0, &single).then_some(1);
    }
    if is(0, &['"', '″', '”']) {
        return Some(1);
    }
    (is(0, &single) && is(1, &single)).then_some(2)
}

/// Whether these are minutes and seconds with primes behind them, and perhaps hours
/// with an h.
fn has_primes(classes: &[Class]) -> bool {
    let behind_space = |classes: &mut &[Class]| {
        if let [Class::Space, rest @ ..] = *classes {
            *classes = rest;
        }
    };
    let mut rest = classes;
    if let [Class::Short | Class::Digits(_), Class::H, minutes @ ..] = rest {
        rest = minutes;
        behind_space(&mut rest);
    }
    for is_double in [false, true] {
        let [Class::Short | Class::Digits(_), behind @ ..] = rest else {
            return false;
        };
        let Some(len) = prime(behind, is_double) else {
            return false;
        };
        rest = &behind[len..];
        behind_space(&mut rest);
    }
    rest.is_empty()
}

/// The nanoseconds of `33'57"`.
fn primes(cell: &Lexed<'_>, range: Range<usize>) -> Result<i128, Impossible> {
    let tokens = &cell.tokens()[range.clone()];
    let has_hours = tokens.iter().any(|token| token.class == Class::H);
    let is_number = |index: &usize| {
        let class = cell.tokens()[*index].class;
        matches!(class, Class::Short | Class::Digits(_))
    };
    let units = if has_hours {
        HOUR..=MINUTE + 1
    } else {
        MINUTE..=MINUTE + 1
    };
    let mut exact = 0;
    for (unit, index) in units.zip(range.filter(is_number)) {
        let number = decimal(cell.token_text(index)).map_err(|_| Impossible::NoNumber)?;
        if number.digits > 59 && (unit > MINUTE || has_hours && unit == MINUTE) {
            return Err(Impossible::Second(number.digits.min(99) as u8));
        }
        exact += times(number, unit)?.1;
    }
    Ok(exact)
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

/// ISO 8601-1:2019 §5.5.2, and §5.5.2.3's weeks; decimals in the last part.
fn iso(text: &str) -> Result<(i64, i128), Impossible> {
    let body = text
        .trim_end()
        .strip_prefix(['P', 'p'])
        .ok_or(Impossible::NoNumber)?;
    if let Some(length) = iso_alternative(body) {
        return length;
    }
    let (mut months, mut exact) = (0_i64, 0_i128);
    let (mut number, mut in_time, mut parts) = (String::new(), false, 0);
    for letter in body.chars() {
        // Each part may have a sign of its own (ISO 8601-2:2019 §4.4.1.9).
        if matches!(letter, '-' | '+') && number.is_empty() {
            number.push(letter);
            continue;
        }
        if letter.is_ascii_digit() || matches!(letter, '.' | ',') {
            number.push(if letter == ',' { '.' } else { letter });
            continue;
        }
        if letter.eq_ignore_ascii_case(&'T') && number.is_empty() && !in_time {
            in_time = true;
            continue;
        }
        let value = decimal(&std::mem::take(&mut number)).map_err(|_| Impossible::NoNumber)?;
        parts += 1;
        match (letter.to_ascii_uppercase(), in_time) {
            ('Y', false) => months += whole(value, 12)?,
            ('M', false) => months += whole(value, 1)?,
            ('W', false) => exact += nanoseconds(value, LENGTHS[0])?,
            ('D', false) => exact += nanoseconds(value, LENGTHS[1])?,
            ('H', true) => exact += nanoseconds(value, LENGTHS[2])?,
            ('M', true) => exact += nanoseconds(value, LENGTHS[3])?,
            ('S', true) => exact += nanoseconds(value, LENGTHS[4])?,
            _ => return Err(Impossible::NoNumber),
        }
    }
    if parts > 0 && number.is_empty() {
        Ok((months, exact))
    } else {
        Err(Impossible::NoNumber)
    }
}

/// `0001-02-03T04:05:06`, behind the P: the alternative format of ISO 8601-1:2019
/// §5.5.2.4; `None` where it is not in that format.
fn iso_alternative(body: &str) -> Option<Result<(i64, i128), Impossible>> {
    let (date, clock) = body.split_once(['T', 't'])?;
    let mut parts = date.split('-');
    let [years, months, days] = [parts.next()?, parts.next()?, parts.next()?];
    let are_digits = [years, months, days]
        .iter()
        .zip([4, 2, 2])
        .all(|(part, len)| part.len() == len && part.bytes().all(|byte| byte.is_ascii_digit()));
    if !are_digits || parts.next().is_some() || !clock.contains(':') {
        return None;
    }
    let number = |text: &str| text.parse::<i64>().map_err(|_| Impossible::NoNumber);
    let read = || {
        let (months, days) = (number(months)?, number(days)?);
        if months > 12 {
            return Err(Impossible::Month(months as u8));
        }
        let clock = Elapsed::HourMinuteSecond.clock(clock)?;
        let exact = i128::from(days) * LENGTHS[1] + clock;
        Ok((number(years)? * 12 + months, exact))
    };
    Some(read())
}

/// So many months; half a month has no length.
fn whole(value: Decimal, each: i128) -> Result<i64, Impossible> {
    let (months, scale) = value.times(each)?;
    match months % scale {
        0 => i64::try_from(months / scale).map_err(|_| Impossible::OutOfRange),
        _ => Err(Impossible::PartOfMonth),
    }
}

/// So many nanoseconds; what is finer is cut.
fn nanoseconds(value: Decimal, unit: i128) -> Result<i128, Impossible> {
    let (product, scale) = value.times(unit)?;
    Ok(product / scale)
}
