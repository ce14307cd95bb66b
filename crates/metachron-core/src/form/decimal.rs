//! Decimal numbers, read exactly from their text.

use super::Impossible;

/// A decimal number: `digits` × 10^-`scale`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Decimal {
    pub digits: i128,
    pub scale: u32,
}

impl Decimal {
    /// The number times `unit`, as a fraction: its numerator, and its
    /// denominator, a power of ten.
    pub(super) fn times(self, unit: i128) -> Result<(i128, i128), Impossible> {
        let scale = 10_i128.checked_pow(self.scale);
        let product = self.digits.checked_mul(unit);
        Ok((
            product.ok_or(Impossible::OutOfRange)?,
            scale.ok_or(Impossible::NoNumber)?,
        ))
    }
}

/// Why a text is no number.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum NoNumber {
    /// It is written as no number is.
    Malformed,
    /// `1,234`: thousands or decimals.
    WhichSign,
}

/// More digits than any count of time has.
const MOST_DIGITS: usize = 30;

/// Reads `45000`, `-45,000.25`, `1 234,5`, `4.5e4`. Thousands are parted in
/// groups of three by commas, dots, spaces or apostrophes.
pub(super) fn decimal(text: &str) -> Result<Decimal, NoNumber> {
    let (mantissa, exponent) = match text.find(['e', 'E']) {
        Some(at) => (
            &text[..at],
            text[at + 1..]
                .parse::<i32>()
                .map_err(|_| NoNumber::Malformed)?,
        ),
        None => (text, 0),
    };
    let (negative, number) = match mantissa.strip_prefix('-') {
        Some(number) => (true, number),
        None => (false, mantissa.strip_prefix('+').unwrap_or(mantissa)),
    };
    let (whole, fraction) = parts(number)?;
    let mut digits: i128 = 0;
    let all = whole
        .chars()
        .filter(char::is_ascii_digit)
        .chain(fraction.chars());
    let mut count = 0;
    for digit in all {
        count += 1;
        let value = digit.to_digit(10).ok_or(NoNumber::Malformed)?;
        digits = digits * 10 + i128::from(value);
        if count > MOST_DIGITS {
            return Err(NoNumber::Malformed);
        }
    }
    if count == 0 {
        return Err(NoNumber::Malformed);
    }
    let mut scale = fraction.len() as i32 - exponent;
    if scale < 0 {
        let factor = 10_i128.checked_pow(scale.unsigned_abs());
        digits = factor
            .and_then(|f| digits.checked_mul(f))
            .ok_or(NoNumber::Malformed)?;
        scale = 0;
    }
    Ok(Decimal {
        digits: if negative { -digits } else { digits },
        scale: scale.unsigned_abs(),
    })
}

/// The part before and the part behind the decimal sign.
fn parts(number: &str) -> Result<(&str, &str), NoNumber> {
    let is_sign = |letter: char| matches!(letter, '.' | ',');
    let Some(last) = number.rfind(is_sign) else {
        return grouped(number).map(|whole| (whole, ""));
    };
    let sign = &number[last..=last];
    let (whole, fraction) = (&number[..last], &number[last + 1..]);
    if !fraction.bytes().all(|byte| byte.is_ascii_digit()) || fraction.is_empty() {
        return Err(NoNumber::Malformed);
    }
    // The same sign twice parts thousands.
    if whole.contains(sign) {
        return grouped(number).map(|whole| (whole, ""));
    }
    // A comma before three digits may be either; a dot may where it is the
    // only sign and the number is short enough for a thousand.
    if sign == "," && fraction.len() == 3 && (1..=3).contains(&whole.len()) && whole != "0" {
        return Err(NoNumber::WhichSign);
    }
    grouped(whole).map(|whole| (whole, fraction))
}

/// A whole number, its thousands parted or not.
fn grouped(whole: &str) -> Result<&str, NoNumber> {
    let is_digits = |part: &str| part.bytes().all(|byte| byte.is_ascii_digit());
    if is_digits(whole) {
        return Ok(whole);
    }
    let mut groups = whole.split([',', '.', ' ', '\'']);
    let first = groups.next().unwrap_or_default();
    let fits = (1..=3).contains(&first.len()) && is_digits(first);
    if fits && groups.all(|group| group.len() == 3 && is_digits(group)) {
        Ok(whole)
    } else {
        Err(NoNumber::Malformed)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_as_people_write_them() {
        for (text, digits, scale) in [
            ("45000", 45000, 0),
            ("-1", -1, 0),
            ("41646.57708", 4_164_657_708, 5),
            ("41646,57708", 4_164_657_708, 5),
            ("1,234,567", 1_234_567, 0),
            ("1.234.567,5", 12_345_675, 1),
            ("45,000.25", 4_500_025, 2),
            ("1 700 000 000", 1_700_000_000, 0),
            ("1.7e9", 1_700_000_000, 0),
            ("1.5E-1", 15, 2),
            (".5", 5, 1),
            ("0,125", 125, 3),
        ] {
            assert_eq!(decimal(text), Ok(Decimal { digits, scale }), "{text}");
        }
        for text in ["", "-", "1.", "1,23,4", "12 34", "1e", "1.2.3", "4e99"] {
            assert_eq!(decimal(text), Err(NoNumber::Malformed), "{text}");
        }
        assert_eq!(decimal("45,123"), Err(NoNumber::WhichSign));
    }

    proptest::proptest! {
        #[test]
        fn any_number_comes_back(digits in -10_i128.pow(15)..10_i128.pow(15), scale in 0_u32..12) {
            let sign = if digits < 0 { "-" } else { "" };
            let text = format!("{:0>width$}", digits.abs(), width = scale as usize + 1);
            let (whole, fraction) = text.split_at(text.len() - scale as usize);
            let text = match fraction {
                "" => format!("{sign}{whole}"),
                _ => format!("{sign}{whole}.{fraction}"),
            };
            proptest::prop_assert_eq!(decimal(&text), Ok(Decimal { digits, scale }));
        }
    }
}
