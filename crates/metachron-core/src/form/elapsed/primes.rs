//! Minutes and seconds with primes behind them: `33'57"`.

use super::{HOUR, MINUTE, SECONDS, times};
use crate::form::Impossible;
use crate::form::decimal::decimal;
use crate::lex::{Class, Lexed};
use std::ops::Range;

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
pub(super) fn has_primes(classes: &[Class]) -> bool {
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
pub(super) fn primes(cell: &Lexed<'_>, range: Range<usize>) -> Result<i128, Impossible> {
    let tokens = &cell.tokens()[range.clone()];
    let has_hours = tokens.iter().any(|token| token.class == Class::H);
    let is_number = |index: &usize| {
        let class = cell.tokens()[*index].class;
        matches!(class, Class::Short | Class::Digits(_))
    };
    let units = if has_hours {
        HOUR..=SECONDS
    } else {
        MINUTE..=SECONDS
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
