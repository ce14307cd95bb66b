//! What CLDR's formats write in a locale is read back with that locale.
//!
//! ICU4X writes; whatever it writes in its short, medium, long and full
//! formats, with and without a time, must come back as the same day and time.

use icu_calendar::{Date, Iso};
use icu_datetime::DateTimeFormatter;
use icu_datetime::fieldsets::{T, YMD, YMDE};
use icu_datetime::input::{DateTime, Time};
use icu_locale::Locale;
use metachron_core::form::{Form, Item};
use metachron_core::locale::{Tag, filler, locales, usual_patterns};
use proptest::prelude::*;
use reading::read;

#[path = "locale/reading.rs"]
mod reading;

type Moment = DateTime<Iso>;

/// What `tag`'s formats write, and what must come back, format by format.
fn written(tag: &Locale, moments: &[Moment]) -> Vec<Vec<(String, String)>> {
    let mut columns = Vec::new();
    macro_rules! write {
        ($($fields:expr => $expected:expr),* $(,)?) => {$(
            let formatter = DateTimeFormatter::try_new(tag.into(), $fields).expect("CLDR data");
            let expected: fn(&Moment) -> String = $expected;
            let cell = |moment: &Moment| (formatter.format(moment).to_string(), expected(moment));
            columns.push(moments.iter().map(cell).collect());
        )*};
    }
    fn date(moment: &Moment) -> String {
        let date = moment.date;
        format!(
            "{:04}-{:02}-{:02}",
            date.year().extended_year(),
            date.month().ordinal,
            date.day_of_month().0
        )
    }
    fn minutes(moment: &Moment) -> String {
        let time = moment.time;
        format!("{:02}:{:02}:00", time.hour.number(), time.minute.number())
    }
    fn seconds(moment: &Moment) -> String {
        let time = moment.time;
        let [hour, minute, second] = [
            time.hour.number(),
            time.minute.number(),
            time.second.number(),
        ];
        format!("{hour:02}:{minute:02}:{second:02}")
    }
    write!(
        YMD::short() => date,
        YMD::medium() => date,
        YMD::long() => date,
        YMDE::long() => date,
        YMD::short().with_time_hm() => |moment| format!("{}T{}", date(moment), minutes(moment)),
        YMD::medium().with_time_hms() => |moment| format!("{}T{}", date(moment), seconds(moment)),
        YMD::long().with_time_hm() => |moment| format!("{}T{}", date(moment), minutes(moment)),
        YMDE::long().with_time_hms() => |moment| format!("{}T{}", date(moment), seconds(moment)),
        T::hm() => minutes,
        T::hms() => seconds,
    );
    columns
}

/// What does not come back.
fn lost(tag: &str, moments: &[Moment]) -> Vec<String> {
    let columns = written(&tag.parse().expect("a tag"), moments);
    // CLDR's Kikuyu patterns hold the letters YYYY as text: no year is written.
    let has_a_year = |column: &&Vec<(String, String)>| !column[0].0.contains("YYYY");
    let tag: Tag = tag.parse().expect("a tag");
    let lost = |column: Vec<(String, String)>| {
        let (cells, expected): (Vec<String>, Vec<String>) = column.into_iter().unzip();
        let found = read(&tag, &cells);
        let wrong = cells
            .into_iter()
            .zip(found)
            .zip(expected)
            .find(|((_, found), expected)| found != expected);
        wrong.map(|((cell, found), expected)| format!("{tag}: {cell:?} is {expected}, not {found}"))
    };
    columns
        .iter()
        .filter(has_a_year)
        .cloned()
        .filter_map(lost)
        .collect()
}

fn moment(year: i32, month: u8, day: u8, hour: u8, minute: u8, second: u8) -> Moment {
    DateTime {
        date: Date::try_new_iso(year, month, day).expect("a day"),
        time: Time::try_new(hour, minute, second, 0).expect("a time"),
    }
}

/// Every month, every weekday, days before and after the twelfth, every part
/// of the day.
fn year_of_moments() -> Vec<Moment> {
    (0..36)
        .map(|n: u8| {
            let month = n % 12 + 1;
            let day = (n * 7) % 28 + 1;
            moment(
                1990 + i32::from(n),
                month,
                day,
                (n * 5) % 24,
                n % 60,
                (n * 3) % 60,
            )
        })
        .collect()
}

#[test]
fn every_locale_reads_its_own_formats() {
    let moments = year_of_moments();
    let lost: Vec<String> = locales().flat_map(|tag| lost(tag, &moments)).collect();
    assert!(
        lost.is_empty(),
        "{} formats are lost:\n{}",
        lost.len(),
        lost.join("\n")
    );
}

/// The words that stand inside the usual dates of CLDR are known one by one, so that a
/// shape can tell them apart.
#[test]
fn every_word_in_a_pattern_is_known() {
    let mut unknown: Vec<String> = Vec::new();
    for name in locales().filter(|name| *name != "ki") {
        let tag: Tag = name.parse().expect("a tag");
        for pattern in usual_patterns(&tag, tag.calendar()) {
            let Ok(form) = pattern.parse::<Form>() else {
                continue;
            };
            for item in form.items() {
                let Item::Literal(text) = item else {
                    continue;
                };
                let words =
                    text.split(|letter: char| letter.is_ascii() && !letter.is_ascii_alphabetic());
                let words = words
                    .map(str::to_lowercase)
                    .filter(|word| !word.is_empty() && word.chars().all(char::is_alphabetic));
                unknown.extend(
                    words
                        .filter(|word| filler(word).is_none())
                        .map(|word| format!("{name}: {word}")),
                );
            }
        }
    }
    unknown.dedup();
    assert!(unknown.is_empty(), "{unknown:?}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn any_moment_comes_back(
        tag in prop::sample::select(locales().collect::<Vec<_>>()),
        moments in prop::collection::vec(
            (1950..2050_i32, 1..13_u8, 1..29_u8, 0..24_u8, 0..60_u8, 0..60_u8)
                .prop_map(|(y, mo, d, h, m, s)| moment(y, mo, d, h, m, s)),
            24..40,
        ),
    ) {
        prop_assert_eq!(lost(tag, &moments), Vec::<String>::new());
    }
}
