//! The intervals of SQL, each part with its sign: `+1-2 +3 +4:05:06` (ISO/IEC 9075-2
//! §5.3).

use super::{Elapsed, LENGTHS, duration, is_clock, nanoseconds, whole};
use crate::form::Impossible;
use crate::form::decimal::decimal;
use crate::lex::Class;
use crate::stamp::Duration;

/// Whether these are years and months with a sign, and perhaps days and a clock.
/// Without a sign they are as much like a date and a time.
pub(super) fn is_sql_interval(classes: &[Class]) -> bool {
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
pub(super) fn sql_interval(text: &str) -> Result<Duration, Impossible> {
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
