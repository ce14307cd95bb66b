//! The durations of ISO 8601-1:2019 §5.5.2.

use super::{Elapsed, LENGTHS, nanoseconds, whole};
use crate::form::Impossible;
use crate::form::decimal::decimal;

/// ISO 8601-1:2019 §5.5.2, and §5.5.2.3's weeks; decimals in the last part.
pub(super) fn iso(text: &str) -> Result<(i64, i128), Impossible> {
    let body = text
        .trim_end()
        .strip_prefix(['P', 'p'])
        .ok_or(Impossible::NoNumber)?;
    if let Some(length) = iso_alternative(body) {
        return length;
    }
    let (mut months, mut exact) = (0_i64, 0_i128);
    let (mut number, mut in_time) = (String::new(), false);
    // How many designators may not follow any more.
    let mut passed = 0;
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
        let designator = (letter.to_ascii_uppercase(), in_time);
        let place = DESIGNATORS.iter().position(|own| *own == designator);
        let place = place.ok_or(Impossible::NoNumber)?;
        if place < passed {
            return Err(Impossible::DurationParts);
        }
        passed = place + 1;
        match place {
            0 => months += whole(value, 12)?,
            1 => months += whole(value, 1)?,
            _ => exact += nanoseconds(value, LENGTHS[place - 2])?,
        }
    }
    let has_time = passed > FIRST_OF_TIME;
    match (passed, in_time && !has_time) {
        (1.., false) if number.is_empty() => Ok((months, exact)),
        (1.., true) if number.is_empty() => Err(Impossible::DurationParts),
        _ => Err(Impossible::NoNumber),
    }
}

/// The designators in their order, each with whether it stands behind the `T`: years and
/// months, then those of [`LENGTHS`].
const DESIGNATORS: [(char, bool); 7] = [
    ('Y', false),
    ('M', false),
    ('W', false),
    ('D', false),
    ('H', true),
    ('M', true),
    ('S', true),
];

/// The place of the first of them behind the `T`.
const FIRST_OF_TIME: usize = 4;

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
