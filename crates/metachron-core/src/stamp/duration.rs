//! Lengths of time.

use jiff::SignedDuration;

/// A length of time: calendar months, which have no fixed length, and exact
/// time, kept apart; signed as a whole.
///
/// ```
/// use metachron_core::stamp::Duration;
///
/// let hour = 3_600_000_000_000;
/// assert_eq!(Duration::new(0, 51 * hour).to_string(), "P2DT3H");
/// assert_eq!(Duration::new(14, 2 * hour).to_string(), "P1Y2MT2H");
/// assert_eq!(Duration::new(0, -hour / 4).to_string(), "-PT15M");
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Duration {
    // Not one i128: a stamp is written and compared for every cell, and that
    // would make all stamps twice as large.
    months: i32,
    seconds: i64,
    nanoseconds: i32,
}

const SECOND: i128 = 1_000_000_000;

impl Duration {
    /// So many months and nanoseconds, which have one sign. At most
    /// [`Duration::MOST_MONTHS`] and [`Duration::MOST_NANOSECONDS`]; what is
    /// more is cut down to them.
    pub const fn new(months: i64, nanoseconds: i128) -> Duration {
        let months = if months > Duration::MOST_MONTHS {
            Duration::MOST_MONTHS
        } else if months < -Duration::MOST_MONTHS {
            -Duration::MOST_MONTHS
        } else {
            months
        };
        let most = Duration::MOST_NANOSECONDS;
        let nanoseconds = if nanoseconds > most {
            most
        } else if nanoseconds < -most {
            -most
        } else {
            nanoseconds
        };
        let months = months as i32;
        // Three hundred years of them fit, which are divided far faster.
        let few = nanoseconds as i64;
        if few as i128 == nanoseconds {
            return Duration {
                months,
                seconds: few / SECOND as i64,
                nanoseconds: (few % SECOND as i64) as i32,
            };
        }
        Duration {
            months,
            seconds: (nanoseconds / SECOND) as i64,
            nanoseconds: (nanoseconds % SECOND) as i32,
        }
    }

    /// The longest calendar part.
    pub const MOST_MONTHS: i64 = i32::MAX as i64;

    /// The longest exact part: 292 thousand million years.
    pub const MOST_NANOSECONDS: i128 = i64::MAX as i128 * SECOND;

    /// The calendar part, in months.
    pub const fn months(self) -> i64 {
        self.months as i64
    }

    /// The exact part, in nanoseconds.
    pub const fn nanoseconds(self) -> i128 {
        self.seconds as i128 * SECOND + self.nanoseconds as i128
    }

    /// The exact part.
    pub fn exact(self) -> SignedDuration {
        SignedDuration::new(self.seconds, self.nanoseconds)
    }

    /// The exact part in days of 24 hours, if it is a whole number of them.
    pub const fn whole_days(self) -> Option<i64> {
        if self.nanoseconds == 0 && self.seconds % 86_400 == 0 {
            Some(self.seconds / 86_400)
        } else {
            None
        }
    }

    /// Appends the ISO 8601 text (ISO 8601-1:2019 §5.5.2), balanced to days
    /// of 24 hours and to years of twelve months.
    pub fn write_iso(self, out: &mut Vec<u8>) {
        if self.months < 0 || self.nanoseconds() < 0 {
            out.push(b'-');
        }
        out.push(b'P');
        let (months, exact) = (self.months.unsigned_abs(), self.nanoseconds().abs());
        let seconds = exact / SECOND;
        let fraction = exact % SECOND;
        let mut text = String::new();
        let mut add = |count: u128, sign: &str| {
            if count > 0 {
                text.push_str(&format!("{count}{sign}"));
            }
        };
        add((months / 12).into(), "Y");
        add((months % 12).into(), "M");
        let seconds = seconds.unsigned_abs();
        add(seconds / 86_400, "D");
        if !seconds.is_multiple_of(86_400) || fraction > 0 || exact == 0 && months == 0 {
            text.push('T');
            let mut add = |count: u128, sign: &str| {
                if count > 0 {
                    text.push_str(&format!("{count}{sign}"));
                }
            };
            add(seconds / 3600 % 24, "H");
            add(seconds / 60 % 60, "M");
            let rest = seconds % 60;
            if fraction > 0 {
                let decimals = format!("{fraction:09}");
                text.push_str(&format!("{rest}.{}S", decimals.trim_end_matches('0')));
            } else {
                add(rest, "S");
            }
            if exact == 0 && months == 0 {
                text.push_str("0S");
            }
        }
        out.extend_from_slice(text.as_bytes());
    }

    /// The exact part in units of `unit` nanoseconds, as a decimal number: exact where
    /// that has an end, else rounded to so many decimals, halves away from zero. `None`
    /// where there are months.
    ///
    /// ```
    /// use metachron_core::stamp::Duration;
    ///
    /// const MINUTE: i128 = 60_000_000_000;
    /// let hours = |minutes: i128| Duration::new(0, minutes * MINUTE).in_units(60 * MINUTE, 6);
    /// assert_eq!(hours(90).unwrap(), "1.5");
    /// assert_eq!(hours(20).unwrap(), "0.333333");
    /// assert_eq!(hours(-40).unwrap(), "-0.666667");
    /// ```
    pub fn in_units(self, unit: i128, decimals: u8) -> Option<String> {
        if self.months != 0 {
            return None;
        }
        let exact = self.nanoseconds().abs();
        let sign = if self.nanoseconds() < 0 { "-" } else { "" };
        let (whole, rest) = (exact / unit, exact % unit);
        if let Some(fraction) = with_end(rest, unit) {
            return Some(format!("{sign}{whole}{fraction}"));
        }
        let scale = 10_i128.pow(decimals.min(MOST_DECIMALS).into());
        let rounded = (rest * scale * 2 + unit) / (unit * 2);
        let (whole, fraction) = (whole + rounded / scale, rounded % scale);
        let width = usize::from(decimals.min(MOST_DECIMALS));
        let sign = if whole == 0 && fraction == 0 {
            ""
        } else {
            sign
        };
        Some(match width {
            0 => format!("{sign}{whole}"),
            _ => format!("{sign}{whole}.{fraction:0width$}"),
        })
    }
}

/// More decimals than a number with a meaning has.
pub(crate) const MOST_DECIMALS: u8 = 18;

/// The decimals of `rest` / `unit`, behind their sign, where they have an end.
fn with_end(mut rest: i128, unit: i128) -> Option<String> {
    let mut text = String::new();
    if rest > 0 {
        text.push('.');
    }
    for _ in 0..MOST_DECIMALS {
        if rest == 0 {
            break;
        }
        rest *= 10;
        text.push(char::from(b'0' + (rest / unit) as u8));
        rest %= unit;
    }
    (rest == 0).then_some(text)
}

impl std::ops::Neg for Duration {
    type Output = Duration;

    fn neg(self) -> Duration {
        Duration {
            months: -self.months,
            seconds: -self.seconds,
            nanoseconds: -self.nanoseconds,
        }
    }
}

impl std::fmt::Display for Duration {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let mut text = Vec::new();
        self.write_iso(&mut text);
        f.write_str(&String::from_utf8_lossy(&text))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn text_of_durations() {
        for (months, nanoseconds, text) in [
            (0, 0, "PT0S"),
            (0, 5 * SECOND, "PT5S"),
            (0, 86_400 * SECOND, "P1D"),
            (0, 90_061 * SECOND, "P1DT1H1M1S"),
            (0, SECOND / 2, "PT0.5S"),
            (25, 0, "P2Y1M"),
            (-1, -60 * SECOND, "-P1MT1M"),
        ] {
            assert_eq!(Duration::new(months, nanoseconds).to_string(), text);
        }
    }

    #[test]
    fn stamps_stay_small() {
        assert!(size_of::<crate::stamp::Stamp>() <= 24);
    }

    #[test]
    fn decimal_units_are_exact_or_rounded() {
        let hours = |seconds: i128, decimals| {
            Duration::new(0, seconds * SECOND).in_units(3600 * SECOND, decimals)
        };
        for (seconds, decimals, text) in [
            (5400, 6, "1.5"),
            (-5400, 0, "-1.5"),
            (1200, 6, "0.333333"),
            (2400, 2, "0.67"),
            (-2400, 2, "-0.67"),
            (3599, 2, "1.00"),
            (-1, 2, "0.00"),
            (1, 0, "0"),
            (0, 6, "0"),
        ] {
            assert_eq!(hours(seconds, decimals).as_deref(), Some(text), "{seconds}");
        }
        assert_eq!(Duration::new(1, 0).in_units(SECOND, 6), None);
    }
}
