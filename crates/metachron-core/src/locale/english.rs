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

pub(super) fn meaning(word: &str) -> Option<Meaning> {
    use Meaning::{Month, Weekday};
    use NameWidth::{Abbreviated, Either, Wide};

    let mut lower = [0; LONGEST];
    let lower = lower.get_mut(..word.len())?;
    lower.copy_from_slice(word.as_bytes());
    lower.make_ascii_lowercase();
    Some(match &*lower {
        b"january" => Month(1, Wide),
        b"jan" => Month(1, Abbreviated),
        b"february" => Month(2, Wide),
        b"feb" => Month(2, Abbreviated),
        b"march" => Month(3, Wide),
        b"mar" => Month(3, Abbreviated),
        b"april" => Month(4, Wide),
        b"apr" => Month(4, Abbreviated),
        b"may" => Month(5, Either),
        b"june" => Month(6, Wide),
        b"jun" => Month(6, Abbreviated),
        b"july" => Month(7, Wide),
        b"jul" => Month(7, Abbreviated),
        b"august" => Month(8, Wide),
        b"aug" => Month(8, Abbreviated),
        b"september" => Month(9, Wide),
        b"sep" | b"sept" => Month(9, Abbreviated),
        b"october" => Month(10, Wide),
        b"oct" => Month(10, Abbreviated),
        b"november" => Month(11, Wide),
        b"nov" => Month(11, Abbreviated),
        b"december" => Month(12, Wide),
        b"dec" => Month(12, Abbreviated),
        b"monday" => Weekday(1, Wide),
        b"mon" => Weekday(1, Abbreviated),
        b"tuesday" => Weekday(2, Wide),
        b"tue" | b"tues" => Weekday(2, Abbreviated),
        b"wednesday" => Weekday(3, Wide),
        b"wed" | b"weds" => Weekday(3, Abbreviated),
        b"thursday" => Weekday(4, Wide),
        b"thu" | b"thur" | b"thurs" => Weekday(4, Abbreviated),
        b"friday" => Weekday(5, Wide),
        b"fri" => Weekday(5, Abbreviated),
        b"saturday" => Weekday(6, Wide),
        b"sat" => Weekday(6, Abbreviated),
        b"sunday" => Weekday(7, Wide),
        b"sun" => Weekday(7, Abbreviated),
        b"am" => Meaning::DayPeriod(DayPeriod::Am),
        b"pm" => Meaning::DayPeriod(DayPeriod::Pm),
        b"st" | b"nd" | b"rd" | b"th" => Meaning::Ordinal,
        b"utc" | b"gmt" => Meaning::Utc,
        b"of" => Meaning::Of,
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
