//! Decimal numbers.

use super::digits;
use crate::stamp::two;
use rust_decimal::{Decimal, RoundingStrategy};
use std::cmp::Ordering;
use std::io::Write as _;

/// A decimal number of up to 28 digits, computed with exactly as far as it
/// has an end.
///
/// It is written with at most 15 decimals, which are more than any
/// measurement has.
///
/// ```
/// use metachron_core::phrase::Number;
///
/// assert_eq!(Number::parse("-1.50").unwrap().to_string(), "-1.5");
/// assert_eq!(Number::ratio(20, 60).unwrap().to_string(), "0.333333333333333");
/// assert_eq!(Number::parse("1,5"), None, "thousands, or decimals?");
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Number(Decimal);

/// The decimals that are written at most.
const DECIMALS: u32 = 15;

/// The decimals of a ratio that has no end.
const RATIO: u32 = 18;

/// More characters than this are no number of 28 digits, whatever zeros it has.
const MOST_DIGITS: usize = 37;

/// Which way a number, a stamp or a length of time is rounded.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Way {
    /// To the one before it, or below it.
    Down,
    /// To the one behind it, or above it.
    Up,
    /// To the nearest; from halfway between two, up (away from zero, of
    /// numbers and lengths).
    Nearest,
}

impl Number {
    /// The number that `text` is, with a point before decimals.
    pub fn parse(text: &str) -> Option<Number> {
        if let Some(number) = Number::parse_short(text.as_bytes()) {
            return Some(number);
        }
        let text = text.trim();
        let (is_negative, digits) = match text.strip_prefix(['-', '\u{2212}']) {
            Some(digits) => (true, digits),
            None => (false, text.strip_prefix('+').unwrap_or(text)),
        };
        if digits.len() > MOST_DIGITS || digits.ends_with('.') {
            return None;
        }
        let (mut number, mut point): (i128, Option<usize>) = (0, None);
        for (index, byte) in digits.bytes().enumerate() {
            match byte {
                b'0'..=b'9' => number = number * 10 + i128::from(byte - b'0'),
                b'.' if index > 0 && point.is_none() => point = Some(index),
                _ => return None,
            }
        }
        let scale = point.map_or(0, |point| digits.len() - 1 - point);
        let number = if is_negative { -number } else { number };
        let number = Decimal::try_from_i128_with_scale(number, scale as u32);
        number.ok().map(Number).filter(|_| !digits.is_empty())
    }

    /// The number that a text is of a few digits and nothing else but a point
    /// between them, as most are.
    #[inline]
    fn parse_short(text: &[u8]) -> Option<Number> {
        const FEW: usize = 19;
        let (first, last) = (text.first()?, text.last()?);
        if text.len() > FEW || !first.is_ascii_digit() || !last.is_ascii_digit() {
            return None;
        }
        let (mut number, mut decimals, mut point) = (0_u64, 0, 0);
        for &byte in text {
            let digit = byte.wrapping_sub(b'0');
            if digit < 10 {
                number = number * 10 + u64::from(digit);
                decimals += point;
            } else if byte == b'.' && point == 0 {
                point = 1;
            } else {
                return None;
            }
        }
        Some(Number::of_parts(number, false, decimals))
    }

    #[inline]
    fn of_parts(digits: u64, is_negative: bool, scale: u32) -> Number {
        let (low, middle) = (digits as u32, (digits >> 32) as u32);
        Number(Decimal::from_parts(low, middle, 0, is_negative, scale))
    }

    /// `numerator` by `denominator`, which is not 0; `None` where it has too
    /// many digits.
    #[inline]
    pub fn ratio(numerator: i128, denominator: i128) -> Option<Number> {
        if let (Ok(numerator), Ok(denominator)) =
            (i64::try_from(numerator), i64::try_from(denominator))
            && let Some(number) = Number::small_ratio(numerator, denominator)
        {
            return Some(number);
        }
        Number::long_ratio(numerator, denominator)
    }

    /// The ratio of small numbers, to 18 decimals: half the time that most cells
    /// of such a column take went into decimals that nobody writes.
    #[inline]
    fn small_ratio(numerator: i64, denominator: i64) -> Option<Number> {
        let is_negative = numerator != 0 && (numerator < 0) != (denominator < 0);
        let (mut numerator, mut denominator) =
            (numerator.unsigned_abs(), denominator.unsigned_abs());
        // Lengths of time are whole seconds as a rule, in units of some.
        if numerator.is_multiple_of(STEP) && denominator.is_multiple_of(STEP) {
            (numerator, denominator) = (numerator / STEP, denominator / STEP);
        }
        let (whole, decimals) = match denominator {
            1 => (numerator, 0),
            60 => divided_by::<60>(numerator),
            3_600 => divided_by::<3_600>(numerator),
            86_400 => divided_by::<86_400>(numerator),
            _ => divided(numerator, denominator),
        };
        if decimals == 0 && numerator == whole * denominator {
            return Some(Number::of_parts(whole, is_negative, 0));
        }
        if whole >= STEP {
            return None;
        }
        let digits = u128::from(whole) * u128::from(STEP * STEP) + u128::from(decimals);
        Some(Number(Decimal::from_parts(
            digits as u32,
            (digits >> 32) as u32,
            (digits >> 64) as u32,
            is_negative,
            RATIO,
        )))
    }

    /// The ratio of others, to as many digits as there are.
    #[inline(never)]
    fn long_ratio(numerator: i128, denominator: i128) -> Option<Number> {
        // Apart, so that what is exact stays so, however long.
        let whole = Decimal::try_from_i128_with_scale(numerator / denominator, 0).ok()?;
        let rest = match numerator % denominator {
            0 => Decimal::ZERO,
            rest => Decimal::try_from_i128_with_scale(rest, 0)
                .ok()?
                .checked_div(Decimal::try_from_i128_with_scale(denominator, 0).ok()?)?,
        };
        whole.checked_add(rest).map(Number)
    }

    /// The whole number that it is.
    #[inline]
    pub fn whole(self) -> Option<i64> {
        if self.0.scale() == 0 {
            return i64::try_from(self.0.mantissa()).ok();
        }
        if self.0.is_integer() {
            i64::try_from(self.0).ok()
        } else {
            None
        }
    }

    /// So many times `unit`, to the nearest whole number.
    pub fn times(self, unit: i128) -> Option<i128> {
        let whole = self.0.trunc();
        let rest =
            (self.0 - whole).checked_mul(Decimal::try_from_i128_with_scale(unit, 0).ok()?)?;
        let rest = rest.round_dp_with_strategy(0, RoundingStrategy::MidpointAwayFromZero);
        let whole = whole.mantissa() / 10_i128.pow(whole.scale());
        whole
            .checked_mul(unit)?
            .checked_add(rest.mantissa() / 10_i128.pow(rest.scale()))
    }

    /// How it stands to another, both as they are written: a third of an hour
    /// is the same whether it comes of 20 minutes or of a division, whose
    /// digits end elsewhere.
    ///
    /// ```
    /// use metachron_core::phrase::Number;
    ///
    /// let [minutes, third] = [(1200, 3600), (1, 3)].map(|(n, d)| Number::ratio(n, d).unwrap());
    /// let divided = Number::from(1).over(3.into()).unwrap();
    /// assert!(minutes.compare(divided).is_eq() && third.compare(divided).is_eq());
    /// assert!(divided.by(3.into()).unwrap().compare(1.into()).is_eq());
    /// ```
    #[inline]
    pub fn compare(self, other: Number) -> Ordering {
        match self.short().zip(other.short()) {
            Some(((one, scale), (two, same))) if scale == same && scale <= DECIMALS => {
                one.cmp(&two)
            }
            _ => self.as_written().cmp(&other.as_written()),
        }
    }

    /// Rounded to the decimals that are written.
    fn as_written(self) -> Decimal {
        let way = RoundingStrategy::MidpointAwayFromZero;
        self.0.round_dp_with_strategy(DECIMALS, way)
    }

    /// The whole number below it, and the 15 decimals behind that: they compare
    /// one after the other as numbers do.
    pub fn parts(self) -> (i128, u64) {
        let written = self.as_written();
        let floor = written.floor();
        let whole = floor.mantissa() / 10_i128.pow(floor.scale());
        let decimals = Number(written - floor).times(1_000_000_000_000_000);
        (whole, decimals.unwrap_or(0) as u64)
    }

    /// Appends its text to `out`.
    #[inline]
    pub fn write(self, out: &mut Vec<u8>) {
        // Most of what phrases give: weekdays, quarters, hours, amounts.
        match self.short() {
            Some((digits @ 0..10, 0)) => out.push(b'0' + digits as u8),
            Some((digits @ 10..100, 0)) => out.extend_from_slice(&two(digits as u8)),
            Some((digits @ -99_999_999..100_000_000, scale @ ..8)) => {
                let positive = digits.unsigned_abs() as u32;
                digits::write_few(digits < 0, positive, scale, out);
            }
            _ => self.write_long(out),
        }
    }

    #[inline(never)]
    fn write_long(self, out: &mut Vec<u8>) {
        if let Some((digits, scale @ ..=DECIMALS)) = self.short() {
            let (positive, is_negative) = (digits.unsigned_abs(), digits < 0);
            let (whole, decimals) = match 10_u64.pow(scale) {
                1 => (positive, 0),
                ten => (
                    positive / ten,
                    positive % ten * 10_u64.pow(DECIMALS - scale),
                ),
            };
            return digits::write_split(is_negative, whole, decimals, out);
        }
        let (digits, scale) = (self.0.mantissa().unsigned_abs(), self.0.scale());
        let is_negative = self.0.is_sign_negative();
        if let (RATIO, Ok(upper)) = (scale, u64::try_from(digits >> RATIO)) {
            // 10¹⁸ is 2¹⁸ by 5¹⁸: a division of 64 bits will do.
            let mut whole = upper / 5_u64.pow(RATIO);
            let rest = (digits - u128::from(whole) * 10_u128.pow(RATIO)) as u64;
            // From halfway, away from zero.
            let mut decimals = (rest + 500) / 1000;
            if decimals == 10_u64.pow(DECIMALS) {
                (whole, decimals) = (whole + 1, 0);
            }
            let is_negative = is_negative && (whole, decimals) != (0, 0);
            return digits::write_split(is_negative, whole, decimals, out);
        }
        let rounded = self.as_written().normalize();
        if rounded.is_zero() {
            out.push(b'0');
        } else {
            // Nothing can fail in memory.
            drop(write!(out, "{rounded}"));
        }
    }

    /// Rounded to so many decimals.
    pub fn rounded(self, way: Way, decimals: u32) -> Number {
        let strategy = match way {
            Way::Down => RoundingStrategy::ToNegativeInfinity,
            Way::Up => RoundingStrategy::ToPositiveInfinity,
            Way::Nearest => RoundingStrategy::MidpointAwayFromZero,
        };
        Number(self.0.round_dp_with_strategy(decimals, strategy))
    }

    /// The sum; `None` where it has too many digits.
    pub fn plus(self, other: Number) -> Option<Number> {
        let (one, two) = (self.short(), other.short());
        match one.zip(two) {
            Some(((one, scale), (two, same))) if scale == same => {
                Some(Number::of_short(one + two, scale))
            }
            _ => self.0.checked_add(other.0).map(Number),
        }
    }

    /// The difference.
    pub fn minus(self, other: Number) -> Option<Number> {
        self.plus(-other)
    }

    /// The product.
    #[inline]
    pub fn by(self, other: Number) -> Option<Number> {
        if let Some(((one, scale), (two, more))) = self.short().zip(other.short())
            && let Some(product) = one.checked_mul(two)
            && scale + more <= DECIMALS
        {
            return Some(Number::of_short(product, scale + more));
        }
        self.0.checked_mul(other.0).map(Number)
    }

    /// The digits of a number of at most 62 bits, which take no package to
    /// compute with, and how many of them are decimals.
    #[inline]
    fn short(self) -> Option<(i64, u32)> {
        let parts = self.0.unpack();
        let digits = (i64::from(parts.mid) << 32) | i64::from(parts.lo);
        let signed = if parts.negative { -digits } else { digits };
        (parts.hi == 0 && parts.mid < 1 << 30).then_some((signed, parts.scale))
    }

    #[inline]
    fn of_short(digits: i64, scale: u32) -> Number {
        Number::of_parts(digits.unsigned_abs(), digits < 0, scale)
    }

    /// The quotient; `None` also where `other` is 0.
    pub fn over(self, other: Number) -> Option<Number> {
        self.0.checked_div(other.0).map(Number)
    }

    /// Whether it is 0.
    pub fn is_zero(self) -> bool {
        self.0.is_zero()
    }
}

/// Nine decimals.
const STEP: u64 = 1_000_000_000;

/// A quotient: the whole number below it, and 18 decimals.
#[inline(always)]
fn divided(number: u64, by: u64) -> (u64, u64) {
    let (whole, rest) = (number / by, number % by);
    if by > u64::MAX / STEP {
        let rest = u128::from(rest) * u128::from(STEP * STEP);
        return (whole, (rest / u128::from(by)) as u64);
    }
    let (decimals, rest) = (rest * STEP / by, rest * STEP % by);
    (whole, decimals * STEP + rest * STEP / by)
}

/// The same by what is known beforehand, which takes a tenth of the time. Apart,
/// since compilers find that it is the same, and divide by whatever it is.
#[inline(never)]
fn divided_by<const BY: u64>(number: u64) -> (u64, u64) {
    divided(number, BY)
}

impl From<i64> for Number {
    fn from(number: i64) -> Number {
        Number(number.into())
    }
}

impl std::ops::Neg for Number {
    type Output = Number;

    fn neg(self) -> Number {
        Number(-self.0)
    }
}

impl std::fmt::Display for Number {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let mut text = Vec::with_capacity(40);
        self.write(&mut text);
        f.write_str(&String::from_utf8_lossy(&text))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// What is written is the number, as its maker writes it.
        #[test]
        fn numbers_are_written_as_they_are(
            low in any::<u64>(),
            high in prop_oneof![Just(0), any::<u32>()],
            bits in 0_u32..64,
            zeros in 0_u32..9,
            is_negative in any::<bool>(),
            scale in 0_u32..29,
        ) {
            let low = (low >> bits) / 10_u64.pow(zeros) * 10_u64.pow(zeros);
            let parts = (low as u32, (low >> 32) as u32, high);
            let decimal = Decimal::from_parts(parts.0, parts.1, parts.2, is_negative, scale);
            let rounded = decimal
                .round_dp_with_strategy(DECIMALS, RoundingStrategy::MidpointAwayFromZero)
                .normalize();
            let expected = if rounded.is_zero() { "0".to_owned() } else { rounded.to_string() };
            prop_assert_eq!(Number(decimal).to_string(), expected);
            let text = decimal.to_string();
            prop_assert_eq!(Number::parse(&text), Some(Number(decimal)), "{}", text);
        }

        /// A ratio is the quotient to all decimals that are written, and itself
        /// where it has an end.
        #[test]
        fn ratios_are_quotients(
            numerator in any::<i64>(),
            cut in 0_u32..62,
            unit in prop::sample::select(vec![
                1, 7, 60, 3_600, 86_400, 31 * 86_400, 1_000_000_000, 3_600_000_000_000,
                86_400_000_000_000, 604_800_000_000_000,
            ]),
            is_whole_seconds in any::<bool>(),
        ) {
            let numerator = numerator >> cut;
            let numerator = if is_whole_seconds { i128::from(numerator % 9_000_000_000) * 1_000_000_000 } else { i128::from(numerator) };
            // The last decimal of longer ones is rounded twice: at 28 digits in
            // all, and when it is written.
            let numerator = numerator % (1_000_000_000 * unit as i128);
            // By long division, 15 digits behind the point and half a digit more.
            let scaled = numerator.unsigned_abs() * 10_u128.pow(DECIMALS);
            let digits = (2 * scaled + unit) / (2 * unit);
            let sign = if numerator < 0 && digits > 0 { "-" } else { "" };
            let (whole, decimals) = (digits / 10_u128.pow(DECIMALS), digits % 10_u128.pow(DECIMALS));
            let expected = format!("{sign}{whole}.{decimals:015}");
            let expected = expected.trim_end_matches('0').trim_end_matches('.');
            let ratio = Number::ratio(numerator, unit as i128).unwrap();
            prop_assert_eq!(ratio.to_string(), expected, "{} / {}", numerator, unit);
        }

        /// Short numbers are computed with as long ones are.
        #[test]
        fn short_numbers_are_computed_as_long_ones(
            one in any::<i64>(),
            two in any::<i64>(),
            cuts in (0_u32..62, 0_u32..62),
            scales in (0_u32..12, 0_u32..12),
        ) {
            let (one, two) = (
                Decimal::new(one >> cuts.0, scales.0),
                Decimal::new(two >> cuts.1, scales.1),
            );
            let (left, right) = (Number(one), Number(two));
            prop_assert_eq!(left.plus(right), one.checked_add(two).map(Number));
            prop_assert_eq!(left.minus(right), one.checked_sub(two).map(Number));
            prop_assert_eq!(left.by(right), one.checked_mul(two).map(Number));
            prop_assert_eq!(left.compare(right), one.cmp(&two));
        }

        /// What is written alike is the same, and nothing else is.
        #[test]
        fn numbers_compare_as_they_are_written(
            one in any::<i32>(),
            by in 1..40_i64,
            times in 1..40_i64,
        ) {
            let (one, by) = (Number::from(i64::from(one)), Number::from(by));
            let left = one.over(by).unwrap().by(times.into()).unwrap();
            let right = one.by(times.into()).unwrap().over(by).unwrap();
            for (left, right) in [(left, right), (left, one), (right, by)] {
                let is_same = left.to_string() == right.to_string();
                prop_assert_eq!(left.compare(right).is_eq(), is_same, "{} {}", left, right);
                prop_assert_eq!(left.compare(right), left.parts().cmp(&right.parts()));
            }
        }
    }

    #[test]
    fn numbers_are_exact() {
        let number = |text| Number::parse(text).unwrap();
        assert_eq!(
            number("1.5").times(3_600_000_000_000),
            Some(5_400_000_000_000)
        );
        assert_eq!(
            number("-0.5").times(3),
            Some(-2),
            "halves go away from zero"
        );
        let nanoseconds = Number::ratio(1_700_000_000_123_456_789, 1).unwrap();
        assert_eq!(nanoseconds.to_string(), "1700000000123456789");
        let third = Number::ratio(1, 3).unwrap();
        assert_eq!(third.by(3.into()).unwrap().to_string(), "1");
        for (text, written) in [
            ("-0", "0"),
            ("0.5", "0.5"),
            ("-12.050", "-12.05"),
            ("100", "100"),
            ("0.0000000000000004", "0"),
            ("-0.0000000000000005", "-0.000000000000001"),
            ("9.9999999999999999", "10"),
            (
                "79228162514264337593543950335",
                "79228162514264337593543950335",
            ),
            (
                "7922816251426433759354395.0335",
                "7922816251426433759354395.0335",
            ),
        ] {
            assert_eq!(number(text).to_string(), written);
        }
        assert_eq!(Number::parse("79228162514264337593543950336"), None);
        for text in ["", "-", "1.", ".5", "1e3", "1,5", "1 000", "٣", "0x1"] {
            assert_eq!(Number::parse(text), None, "{text}");
        }
        for (way, text) in [(Way::Down, "-2"), (Way::Up, "-1"), (Way::Nearest, "-2")] {
            assert_eq!(number("-1.5").rounded(way, 0).to_string(), text);
        }
    }
}
