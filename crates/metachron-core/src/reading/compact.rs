//! Dates in one run of digits, as a shape may hold them.

use super::pieces::{Classes, Piece};
use crate::form::Digits::{Free, Two};
use crate::form::Field::{
    self, Day, DayOfYear, Fraction, Hour, Minute, Month, Second, Year, YearOfTwo,
};
use crate::form::Item;
use crate::lex::Class;

/// A date and a time down to its seconds.
const TO_SECONDS: [Field; 6] = [
    Year,
    Month(Two),
    Day(Two),
    Hour(Two),
    Minute(Two),
    Second(Two),
];

/// The dates, and dates with times, in the run of digits at `start`.
pub(super) fn compact(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let Some(Class::Digits(digits)) = classes.at(start) else {
        return Vec::new();
    };
    let is_offset = || {
        let sign = classes.at(start + 1);
        matches!(sign, Some(Class::Symbol('+' | '-'))) && classes.is(start + 2, Class::Digits(4))
    };
    // Of an instant: `Z` or an offset follows.
    let zoned = classes.is(start + 1, Class::Z) || is_offset();
    let (usual, unusual): (&[&[Field]], &[&[Field]]) = match digits {
        4 => (&[&[Year]], &[]),
        6 => (
            &[
                &[YearOfTwo, Month(Two), Day(Two)],
                &[Day(Two), Month(Two), YearOfTwo],
                &[Month(Two), Day(Two), YearOfTwo],
            ],
            &[&[Year, Month(Two)]],
        ),
        // ISO 8601's day of a year, before its time.
        7 if classes.is(start + 1, Class::T) => (&[&[Year, DayOfYear(Two)]], &[]),
        // A leading zero was dropped, or it is a day of a year.
        7 => (
            &[
                &[Day(Free), Month(Two), Year],
                &[Month(Free), Day(Two), Year],
            ],
            &[&[Year, DayOfYear(Two)]],
        ),
        8 => (
            &[&[Year, Month(Two), Day(Two)]],
            &[&[Day(Two), Month(Two), Year], &[Month(Two), Day(Two), Year]],
        ),
        // GeneralizedTime may leave out minutes and seconds, UTCTime has two digits
        // of the year and may leave out seconds (ITU-T X.680 §46, §47).
        10 if zoned => (
            &[
                &[Year, Month(Two), Day(Two), Hour(Two)],
                &[YearOfTwo, Month(Two), Day(Two), Hour(Two), Minute(Two)],
            ],
            &[],
        ),
        12 if zoned => (
            &[
                &[
                    YearOfTwo,
                    Month(Two),
                    Day(Two),
                    Hour(Two),
                    Minute(Two),
                    Second(Two),
                ],
                &[Year, Month(Two), Day(Two), Hour(Two), Minute(Two)],
            ],
            &[],
        ),
        12 => (
            &[&[Year, Month(Two), Day(Two), Hour(Two), Minute(Two)]],
            &[],
        ),
        14 | 17 | 20 => (&[&TO_SECONDS], &[]),
        _ => return Vec::new(),
    };
    let piece = |fields: &&[Field]| {
        let mut run = Piece::new(start).run(fields);
        match digits {
            // ASN.1's GeneralizedTime has decimals (ITU-T X.680 §46).
            14 if classes.is(start + 2, Class::Fraction) => {
                run.literal(classes, start + 2).field(Fraction(1))
            }
            // Milliseconds or microseconds, with nothing before them.
            17 | 20 => {
                run.items.push(Item::Field(Fraction(digits - 14)));
                run
            }
            _ => run,
        }
    };
    let usual = usual.iter().map(piece);
    usual
        .chain(unusual.iter().map(|fields| piece(fields).unusual()))
        .collect()
}
