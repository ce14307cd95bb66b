//! English names and their usual abbreviations.

use super::{DayPeriod, Meaning, NameWidth};

pub(super) const MONTHS: [&str; 12] = [
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
];

pub(super) const WEEKDAYS: [&str; 7] = [
    "Monday",
    "Tuesday",
    "Wednesday",
    "Thursday",
    "Friday",
    "Saturday",
    "Sunday",
];

/// The longest word in the table, in bytes: `september`, `wednesday`.
const LONGEST: usize = 9;

/// A word as one number, so that it is compared in one step.
const fn key(word: &[u8]) -> u128 {
    let mut key = 0;
    let mut place = 0;
    while place < word.len() {
        key = key << 8 | word[place].to_ascii_lowercase() as u128;
        place += 1;
    }
    key
}

macro_rules! keys {
    ($($name:ident $word:literal)*) => { $(const $name: u128 = key($word);)* };
}

keys! {
    JANUARY b"january"
    JAN b"jan"
    FEBRUARY b"february"
    FEB b"feb"
    MARCH b"march"
    MAR b"mar"
    APRIL b"april"
    APR b"apr"
    MAY b"may"
    JUNE b"june"
    JUN b"jun"
    JULY b"july"
    JUL b"jul"
    AUGUST b"august"
    AUG b"aug"
    SEPTEMBER b"september"
    SEP b"sep"
    SEPT b"sept"
    OCTOBER b"october"
    OCT b"oct"
    NOVEMBER b"november"
    NOV b"nov"
    DECEMBER b"december"
    DEC b"dec"
    MONDAY b"monday"
    MON b"mon"
    TUESDAY b"tuesday"
    TUE b"tue"
    TUES b"tues"
    WEDNESDAY b"wednesday"
    WED b"wed"
    WEDS b"weds"
    THURSDAY b"thursday"
    THU b"thu"
    THUR b"thur"
    THURS b"thurs"
    FRIDAY b"friday"
    FRI b"fri"
    SATURDAY b"saturday"
    SAT b"sat"
    SUNDAY b"sunday"
    SUN b"sun"
    AM b"am"
    PM b"pm"
    ST b"st"
    ND b"nd"
    RD b"rd"
    TH b"th"
    UTC b"utc"
    GMT b"gmt"
    OF b"of"
}

pub(super) fn meaning(word: &str) -> Option<Meaning> {
    use Meaning::{Month, Weekday};
    use NameWidth::{Abbreviated, Either, Wide};

    if word.len() > LONGEST {
        return None;
    }
    Some(match key(word.as_bytes()) {
        JANUARY => Month(1, Wide),
        JAN => Month(1, Abbreviated),
        FEBRUARY => Month(2, Wide),
        FEB => Month(2, Abbreviated),
        MARCH => Month(3, Wide),
        MAR => Month(3, Abbreviated),
        APRIL => Month(4, Wide),
        APR => Month(4, Abbreviated),
        MAY => Month(5, Either),
        JUNE => Month(6, Wide),
        JUN => Month(6, Abbreviated),
        JULY => Month(7, Wide),
        JUL => Month(7, Abbreviated),
        AUGUST => Month(8, Wide),
        AUG => Month(8, Abbreviated),
        SEPTEMBER => Month(9, Wide),
        SEP | SEPT => Month(9, Abbreviated),
        OCTOBER => Month(10, Wide),
        OCT => Month(10, Abbreviated),
        NOVEMBER => Month(11, Wide),
        NOV => Month(11, Abbreviated),
        DECEMBER => Month(12, Wide),
        DEC => Month(12, Abbreviated),
        MONDAY => Weekday(1, Wide),
        MON => Weekday(1, Abbreviated),
        TUESDAY => Weekday(2, Wide),
        TUE | TUES => Weekday(2, Abbreviated),
        WEDNESDAY => Weekday(3, Wide),
        WED | WEDS => Weekday(3, Abbreviated),
        THURSDAY => Weekday(4, Wide),
        THU | THUR | THURS => Weekday(4, Abbreviated),
        FRIDAY => Weekday(5, Wide),
        FRI => Weekday(5, Abbreviated),
        SATURDAY => Weekday(6, Wide),
        SAT => Weekday(6, Abbreviated),
        SUNDAY => Weekday(7, Wide),
        SUN => Weekday(7, Abbreviated),
        AM => Meaning::DayPeriod(DayPeriod::Am),
        PM => Meaning::DayPeriod(DayPeriod::Pm),
        ST | ND | RD | TH => Meaning::Ordinal,
        UTC | GMT => Meaning::Utc,
        OF => Meaning::Of,
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_name_and_its_first_three_letters_mean_the_same() {
        for (number, name) in (1..).zip(MONTHS) {
            for word in [name, &name[..3], &name.to_uppercase()] {
                assert!(
                    matches!(meaning(word), Some(Meaning::Month(n, _)) if n == number),
                    "{word}"
                );
            }
        }
        for (number, name) in (1..).zip(WEEKDAYS) {
            for word in [name, &name[..3]] {
                assert!(
                    matches!(meaning(word), Some(Meaning::Weekday(n, _)) if n == number),
                    "{word}"
                );
            }
        }
    }

    #[test]
    fn other_words_mean_nothing() {
        for word in ["", "Marc", "Januaryy", "Augustus", "t", "décembre"] {
            assert_eq!(meaning(word), None, "{word}");
        }
    }
}
