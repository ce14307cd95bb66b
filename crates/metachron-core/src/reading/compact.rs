//! Dates in one run of digits, as a shape may hold them.

use super::pieces::{Classes, Piece};
use crate::form::Digits::{Free, Two};
use crate::form::Field::{self, Day, DayOfYear, Hour, Minute, Month, Second, Year, YearOfTwo};
use crate::lex::Class;

/// The dates, and dates with times, in the run of digits at `start`.
pub(super) fn compact(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    let Some(Class::Digits(digits)) = classes.at(start) else {
        return Vec::new();
    };
    let utc = classes.is(start + 1, Class::Z);
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
        // GeneralizedTime may leave out minutes and seconds (ITU-T X.680 §46).
        10 if utc => (&[&[Year, Month(Two), Day(Two), Hour(Two)]], &[]),
        // UTCTime (§47) has two digits of the year: X.509's ends in Z.
        12 if utc => (
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
        14 => (
            &[&[
                Year,
                Month(Two),
                Day(Two),
                Hour(Two),
                Minute(Two),
                Second(Two),
            ]],
            &[],
        ),
        _ => return Vec::new(),
    };
    // ASN.1's GeneralizedTime has decimals (ITU-T X.680 §46).
    let piece = |fields: &&[Field]| {
        let run = Piece::new(start).run(fields);
        if digits == 14 && classes.is(start + 2, Class::Fraction) {
            run.literal(classes, start + 2).field(Field::Fraction(1))
        } else {
            run
        }
    };
    let usual = usual.iter().map(piece);
    usual
        .chain(unusual.iter().map(|fields| piece(fields).unusual()))
        .collect()
}
