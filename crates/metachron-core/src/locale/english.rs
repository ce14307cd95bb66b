//! English names and their usual abbreviations.

use super::fillers::filler;
use super::lexicon::LexiconEntry;
use super::meaning::{HourSpan, Meaning, NameWidth, Roles};

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

/// The longest word in the table, in bytes: `milliseconds`.
const LONGEST: usize = 12;

/// A word as one number, so that it is compared in one step.
const fn key(word: &[u8]) -> u128 {
    let mut key = 0;
    let mut index = 0;
    while index < word.len() {
        key = key << 8 | word[index].to_ascii_lowercase() as u128;
        index += 1;
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
    NOON b"noon"
    MIDNIGHT b"midnight"
    AD b"ad"
    CE b"ce"
    BC b"bc"
    BCE b"bce"
    U_YEAR b"year"
    U_YEARS b"years"
    U_YR b"yr"
    U_YRS b"yrs"
    U_Y b"y"
    U_MONTH b"month"
    U_MONTHS b"months"
    U_MTH b"mth"
    U_MTHS b"mths"
    U_WEEK b"week"
    U_WEEKS b"weeks"
    U_WK b"wk"
    U_WKS b"wks"
    U_W b"w"
    U_DAY b"day"
    U_DAYS b"days"
    U_D b"d"
    U_HOUR b"hour"
    U_HOURS b"hours"
    U_HR b"hr"
    U_HRS b"hrs"
    U_MINUTE b"minute"
    U_MINUTES b"minutes"
    U_MIN b"min"
    U_MINS b"mins"
    U_M b"m"
    U_SECOND b"second"
    U_SECONDS b"seconds"
    U_SEC b"sec"
    U_SECS b"secs"
    U_S b"s"
    U_MILLISECOND b"millisecond"
    U_MILLISECONDS b"milliseconds"
    U_MS b"ms"
    U_MICROSECOND b"microsecond"
    U_MICROSECONDS b"microseconds"
    U_MICRO_SIGN_S b"\xc2\xb5s"
    U_MU_S b"\xce\xbcs"
    U_NANOSECOND b"nanosecond"
    U_NANOSECONDS b"nanoseconds"
    U_NS b"ns"
    U_MONS b"mons"
    UTC b"utc"
    GMT b"gmt"
}

/// The words of English dates, and of programs, that are no names.
const FILLERS: [&str; 7] = ["of", "at", "on", "the", "and", "quarter", "tz"];

/// What the English `word` is, whatever its case.
pub(super) fn found(word: &str) -> Option<LexiconEntry> {
    match meaning(word) {
        Some(meaning) => Some(LexiconEntry::Name(meaning)),
        None => FILLERS
            .into_iter()
            .find(|known| word.eq_ignore_ascii_case(known))
            .and_then(filler)
            .map(LexiconEntry::Filler),
    }
}

pub(super) fn meaning(word: &str) -> Option<Meaning> {
    use NameWidth::{Abbreviated, Either, Wide};

    if word.len() > LONGEST {
        return None;
    }
    Some(match key(word.as_bytes()) {
        JANUARY => Meaning::month(1, Wide),
        JAN => Meaning::month(1, Abbreviated),
        FEBRUARY => Meaning::month(2, Wide),
        FEB => Meaning::month(2, Abbreviated),
        MARCH => Meaning::month(3, Wide),
        MAR => Meaning::month(3, Abbreviated),
        APRIL => Meaning::month(4, Wide),
        APR => Meaning::month(4, Abbreviated),
        MAY => Meaning::month(5, Either),
        JUNE => Meaning::month(6, Wide),
        JUN => Meaning::month(6, Abbreviated),
        JULY => Meaning::month(7, Wide),
        JUL => Meaning::month(7, Abbreviated),
        AUGUST => Meaning::month(8, Wide),
        AUG => Meaning::month(8, Abbreviated),
        SEPTEMBER => Meaning::month(9, Wide),
        SEP | SEPT => Meaning::month(9, Abbreviated),
        OCTOBER => Meaning::month(10, Wide),
        OCT => Meaning::month(10, Abbreviated),
        NOVEMBER => Meaning::month(11, Wide),
        NOV => Meaning::month(11, Abbreviated),
        DECEMBER => Meaning::month(12, Wide),
        DEC => Meaning::month(12, Abbreviated),
        MONDAY => Meaning::weekday(1, Wide),
        MON => Meaning::weekday(1, Abbreviated),
        TUESDAY => Meaning::weekday(2, Wide),
        TUE | TUES => Meaning::weekday(2, Abbreviated),
        WEDNESDAY => Meaning::weekday(3, Wide),
        WED | WEDS => Meaning::weekday(3, Abbreviated),
        THURSDAY => Meaning::weekday(4, Wide),
        THU | THUR | THURS => Meaning::weekday(4, Abbreviated),
        FRIDAY => Meaning::weekday(5, Wide),
        FRI => Meaning::weekday(5, Abbreviated),
        SATURDAY => Meaning::weekday(6, Wide),
        SAT => Meaning::weekday(6, Abbreviated),
        SUNDAY => Meaning::weekday(7, Wide),
        SUN => Meaning::weekday(7, Abbreviated),
        AM => Meaning::day_period(HourSpan::AM),
        PM => Meaning::day_period(HourSpan::PM),
        NOON => Meaning::day_period(HourSpan {
            from: 12,
            before: 12,
        }),
        MIDNIGHT => Meaning::day_period(HourSpan { from: 0, before: 0 }),
        AD | CE => Meaning::era(1),
        BC | BCE => Meaning::era(2),
        ST | ND | RD | TH => Meaning::plain(Roles::ORDINAL),
        UTC | GMT => Meaning::plain(Roles::ZONE),
        U_YEAR | U_YEARS | U_YR | U_YRS | U_Y => Meaning::unit(0),
        U_MONTH | U_MONTHS | U_MTH | U_MTHS | U_MONS => Meaning::unit(1),
        U_WEEK | U_WEEKS | U_WK | U_WKS | U_W => Meaning::unit(2),
        U_DAY | U_DAYS | U_D => Meaning::unit(3),
        U_HOUR | U_HOURS | U_HR | U_HRS => Meaning::unit(4),
        U_MINUTE | U_MINUTES | U_MIN | U_MINS | U_M => Meaning::unit(5),
        U_SECOND | U_SECONDS | U_SEC | U_SECS | U_S => Meaning::unit(6),
        U_MILLISECOND | U_MILLISECONDS | U_MS => Meaning::unit(7),
        U_MICROSECOND | U_MICROSECONDS | U_MICRO_SIGN_S | U_MU_S => Meaning::unit(8),
        U_NANOSECOND | U_NANOSECONDS | U_NS => Meaning::unit(9),
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::locale::{month_of, weekday_of};

    #[test]
    fn every_name_and_its_first_three_letters_mean_the_same() {
        for (number, name) in (1..).zip(MONTHS) {
            for word in [name, &name[..3], &name.to_uppercase()] {
                assert!(
                    meaning(word).is_some_and(|found| month_of(found.value()) == number),
                    "{word}"
                );
            }
        }
        for (number, name) in (1..).zip(WEEKDAYS) {
            for word in [name, &name[..3]] {
                assert!(
                    meaning(word).is_some_and(|found| weekday_of(found.value()) == number),
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
