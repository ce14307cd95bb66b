//! ISO 8601 text, written byte by byte into a buffer that the caller reuses.

use jiff::civil::{Date, DateTime, Time};

/// `2025-03-04`; years outside 0000–9999 as `±YYYYYY-MM-DD`.
pub(super) fn date(date: Date, out: &mut Vec<u8>) {
    match usual(date) {
        Some(text) => out.extend_from_slice(&text),
        None => {
            month(date.year(), date.month().unsigned_abs(), out);
            out.push(b'-');
            out.extend_from_slice(&two(date.day().unsigned_abs()));
        }
    }
}

/// A day of a year of four digits, put together at once: bytes that go into a
/// buffer one after the other ask for room one after the other.
#[inline]
fn usual(date: Date) -> Option<[u8; 10]> {
    let year = u16::try_from(date.year())
        .ok()
        .filter(|year| *year <= 9999)?;
    let [a, b] = two((year / 100) as u8);
    let [c, d] = two((year % 100) as u8);
    let [e, f] = two(date.month().unsigned_abs());
    let [g, h] = two(date.day().unsigned_abs());
    Some([a, b, c, d, b'-', e, f, b'-', g, h])
}

/// `2025-03`.
pub(super) fn month(year: i16, month: u8, out: &mut Vec<u8>) {
    self::year(year, out);
    out.push(b'-');
    out.extend_from_slice(&two(month));
}

/// `2025-Q1`, `2025-W10`: a year, a sign and digits.
pub(super) fn part(year: i16, sign: &[u8], digits: &[u8], out: &mut Vec<u8>) {
    self::year(year, out);
    out.extend_from_slice(sign);
    out.extend_from_slice(digits);
}

/// `2025`.
pub(super) fn year(year: i16, out: &mut Vec<u8>) {
    if let Ok(year @ 0..=9999) = u16::try_from(year) {
        out.extend_from_slice(&two((year / 100) as u8));
        out.extend_from_slice(&two((year % 100) as u8));
    } else {
        out.push(if year < 0 { b'-' } else { b'+' });
        let year = year.unsigned_abs();
        for part in [year / 10_000, year / 100 % 100, year % 100] {
            out.extend_from_slice(&two(part as u8));
        }
    }
}

/// `14:30:00`, with as many decimals as are not zero.
pub(super) fn time(time: Time, out: &mut Vec<u8>) {
    out.extend_from_slice(&clock(time));
    decimals(time, out);
}

#[inline]
fn clock(time: Time) -> [u8; 8] {
    let [a, b] = two(time.hour().unsigned_abs());
    let [c, d] = two(time.minute().unsigned_abs());
    let [e, f] = two(time.second().unsigned_abs());
    [a, b, b':', c, d, b':', e, f]
}

#[inline]
fn decimals(time: Time, out: &mut Vec<u8>) {
    let nanoseconds = time.subsec_nanosecond();
    if nanoseconds != 0 {
        let digits = format!("{nanoseconds:09}");
        out.push(b'.');
        out.extend_from_slice(digits.trim_end_matches('0').as_bytes());
    }
}

/// `2025-03-04T14:30:00`.
pub(super) fn datetime(at: DateTime, out: &mut Vec<u8>) {
    let Some(day) = usual(at.date()) else {
        date(at.date(), out);
        out.push(b'T');
        return time(at.time(), out);
    };
    let mut text = [b'T'; 19];
    text[..10].copy_from_slice(&day);
    text[11..].copy_from_slice(&clock(at.time()));
    out.extend_from_slice(&text);
    decimals(at.time(), out);
}

/// `00` to `99`, and again, so that every byte has a pair: none has to be
/// looked at before.
static PAIRS: [[u8; 2]; 256] = {
    let mut pairs = [[0; 2]; 256];
    let mut value = 0;
    while value < 256 {
        pairs[value] = [b'0' + (value % 100 / 10) as u8, b'0' + (value % 10) as u8];
        value += 1;
    }
    pairs
};

/// A number below 100 in two digits.
#[inline]
pub(crate) fn two(value: u8) -> [u8; 2] {
    PAIRS[usize::from(value)]
}

#[cfg(test)]
mod tests {
    use crate::stamp::Stamp;
    use jiff::civil::{date, datetime, time};

    #[test]
    fn text_of_every_kind() {
        let instant = "2025-03-04T14:30:00+01:00".parse().unwrap();
        for (stamp, text) in [
            (Stamp::Date(date(2025, 3, 4)), "2025-03-04"),
            (Stamp::Date(date(0, 1, 1)), "0000-01-01"),
            (Stamp::Date(date(-44, 3, 15)), "-000044-03-15"),
            (Stamp::Time(time(14, 30, 0, 0)), "14:30:00"),
            (Stamp::Time(time(0, 0, 1, 500_000_000)), "00:00:01.5"),
            (Stamp::Time(time(0, 0, 0, 1)), "00:00:00.000000001"),
            (
                Stamp::DateTime(datetime(2025, 3, 4, 14, 30, 0, 0)),
                "2025-03-04T14:30:00",
            ),
            (Stamp::Instant(instant), "2025-03-04T13:30:00Z"),
        ] {
            assert_eq!(stamp.to_string(), text);
        }
    }
}
