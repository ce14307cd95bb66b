//! What holds of phrases whatever the values, and week numbers against a table
//! that was made by something else.

use jiff::ToSpan;
use jiff::civil::{Date, DateTime, date};
use metachron_core::phrase::{Phrase, Row, Scope, Type, Value};
use metachron_core::stamp::Stamp;
use proptest::prelude::*;

/// What `phrase` gives for the columns `a`, `b` and `n`.
fn run(phrase: &str, values: &[(&str, Value)]) -> Result<Value, String> {
    let of = |value: &Value| match value {
        Value::Stamp(stamp) => Type::Stamp(stamp.kind()),
        Value::Number(_) => Type::Number,
        _ => Type::Cell,
    };
    let find = |name: &str| {
        let index = values.iter().position(|(known, _)| *known == name);
        let index = index.ok_or_else(|| format!("no column is called `{name}`"))?;
        Ok((index, of(&values[index].1)))
    };
    let scope = Scope {
        column: &find,
        zones: Default::default(),
        now: "2026-11-23T12:00:00Z".parse().unwrap(),
    };
    let slots: Vec<Value> = values.iter().map(|(_, value)| value.clone()).collect();
    let phrase: Phrase = phrase.parse().map_err(|why| format!("{why}"))?;
    let mut ready = phrase
        .check(&scope, &mut Vec::new())
        .map_err(|why| why.to_string())?;
    let row = Row {
        slots: &slots,
        tracks: &[],
    };
    let value = ready.run(row).map_err(|why| why.to_string())?;
    Ok(value.clone())
}

fn day(day: Date) -> Value {
    Value::Stamp(Stamp::Date(day))
}

fn at(at: DateTime) -> Value {
    Value::Stamp(Stamp::DateTime(at))
}

fn number(number: i64) -> Value {
    Value::Number(number.into())
}

fn whole(value: Result<Value, String>) -> i64 {
    match value {
        Ok(Value::Number(number)) => number.whole().expect("a whole number"),
        other => panic!("{other:?}"),
    }
}

fn days() -> impl Strategy<Value = Date> {
    (-700_000..2_900_000).prop_map(|days: i32| date(1970, 1, 1).saturating_add(days.days()))
}

fn moments() -> impl Strategy<Value = DateTime> {
    (days(), 0..86_400_000_i64)
        .prop_map(|(day, milliseconds)| day.at(0, 0, 0, 0) + milliseconds.milliseconds())
}

/// The day so many months later: the last of its month where it has none such.
fn months_later(day: Date, months: i32) -> Option<Date> {
    day.checked_add(months.months()).ok()
}

proptest! {
    /// Days that are added and taken away again leave nothing behind, and are
    /// as many as lie between.
    #[test]
    fn days_that_are_added_can_be_taken_away(a in days(), n in -9999..9999_i64) {
        let values = [("a", day(a)), ("n", number(n)), ("w", number(n / 10))];
        prop_assert_eq!(run("a + n days - n days", &values), Ok(day(a)));
        prop_assert_eq!(run("a - w weeks + w weeks", &values), Ok(day(a)));
        prop_assert_eq!(whole(run("whole days from a to a + n days", &values)), n);
        prop_assert_eq!(whole(run("(a + n days) - a in days", &values)), n);
    }

    /// The same of exact units and datetimes.
    #[test]
    fn hours_that_are_added_can_be_taken_away(a in moments(), n in -99_999..99_999_i64) {
        let values = [("a", at(a)), ("n", number(n))];
        prop_assert_eq!(run("a + n hours - n hours", &values), Ok(at(a)));
        prop_assert_eq!(whole(run("seconds from a to a + n seconds", &values)), n);
        prop_assert_eq!(run("a + (a + n minutes - a)", &values), run("a + n minutes", &values));
    }

    /// What was split and is put together again is what it was.
    #[test]
    fn splits_are_undone(a in moments()) {
        let values = [("a", at(a))];
        let phrase = "datetime from date of a, time of a";
        prop_assert_eq!(run(phrase, &values), Ok(at(a)));
        let phrase = "date from year of a, month of a, day of a";
        prop_assert_eq!(run(phrase, &values), run("a as date", &values));
        let phrase = "time from hour of a, minute of a, second of a + fraction of a";
        prop_assert_eq!(run(phrase, &values), run("a as time", &values));
        let phrase = "date from year of a, month name of a in locale \"pl\", day of a in locale \"pl\"";
        prop_assert_eq!(run(phrase, &values), run("a as date", &values));
    }

    /// An age is the number of birthdays that have come.
    #[test]
    fn ages_count_birthdays(born in days(), years in 0..120_i32, more in 0..366_i32) {
        let on = born.saturating_add(years.years()).saturating_add(more.days());
        for (policy, leap) in [("", (3, 1)), (", leap-birthday february", (2, 28))] {
            let birthday = |year: i16| {
                let own = Date::new(year, born.month(), born.day());
                own.unwrap_or_else(|_| date(year, leap.0, leap.1))
            };
            let come = (born.year() + 1..=on.year()).filter(|year| birthday(*year) <= on);
            let phrase = format!("age of born on seen{policy}");
            let age = run(&phrase, &[("born", day(born)), ("seen", day(on))]);
            prop_assert_eq!(whole(age), come.count() as i64);
        }
    }

    /// Whole months are as many as can be added without passing the end.
    #[test]
    fn whole_months_are_those_that_can_be_added(a in days(), span in 0..9000_i32) {
        let b = a.saturating_add(span.days());
        let values = [("a", day(a)), ("b", day(b))];
        let months = whole(run("whole months from a to b", &values)) as i32;
        prop_assert!(months_later(a, months).is_some_and(|later| later <= b));
        prop_assert!(months_later(a, months + 1).is_none_or(|later| later > b));
        prop_assert_eq!(whole(run("whole years from a to b", &values)) as i32, months / 12);
        // With its fraction it lies between this one and the next.
        let floor = run("months from a to b rounded down to 0 decimals", &values);
        prop_assert_eq!(whole(floor) as i32, months);
    }

    /// The edges of a period stand around its days, and are of it.
    #[test]
    fn edges_stand_around(a in days()) {
        let values = [("a", day(a))];
        for period in ["week", "month", "quarter", "year"] {
            let between = format!("a between first day of {period} of a and last day of {period} of a");
            prop_assert_eq!(run(&between, &values), Ok(Value::Truth(true)));
            let next = format!("first day of {period} of (last day of {period} of a + 1 day)");
            let behind = format!("last day of {period} of a + 1 day");
            prop_assert_eq!(run(&next, &values), run(&behind, &values));
        }
        prop_assert_eq!(whole(run("weekday of first day of week of a", &values)), 1);
    }

    /// Rounded down and up stand around a moment, a step apart.
    #[test]
    fn rounding_stands_around(a in moments(), step in prop::sample::select(vec![
        "1 second", "15 minutes", "6 hours", "1 day", "1 week", "1 month", "1 quarter", "10 years",
    ])) {
        let values = [("a", at(a))];
        let context = format!("a between a rounded down to {step} and a rounded up to {step}");
        prop_assert_eq!(run(&context, &values), Ok(Value::Truth(true)));
        let apart = format!(
            "a rounded up to {step} in (a rounded down to {step}, (a rounded down to {step}) + {step})"
        );
        prop_assert_eq!(run(&apart, &values), Ok(Value::Truth(true)));
        let nearest = format!(
            "a rounded to {step} in (a rounded down to {step}, a rounded up to {step})"
        );
        prop_assert_eq!(run(&nearest, &values), Ok(Value::Truth(true)));
    }

    /// An instant shown in a zone and put back is itself, but for hours that
    /// were twice.
    #[test]
    fn zones_are_undone(seconds in -9_000_000_000..9_000_000_000_i64) {
        let instant = jiff::Timestamp::from_second(seconds).unwrap();
        let values = [("a", Value::Stamp(Stamp::Instant(instant)))];
        let back = |overlap: &str| {
            let phrase = format!(
                "a in zone \"Europe/Riga\" as instant in zone \"Europe/Riga\", in-overlap {overlap}"
            );
            run(&phrase, &values)
        };
        let (earlier, later) = (back("earlier"), back("later"));
        prop_assert!([earlier, later].contains(&Ok(values[0].1.clone())));
    }

    /// No text makes the parser panic, and what it takes, it keeps.
    #[test]
    fn any_text_is_parsed_or_refused(text in "\\PC{0,60}") {
        if let Ok(phrase) = text.parse::<Phrase>() {
            prop_assert_eq!(phrase.text(), text);
        }
    }

    /// Nor do its own words in any order, nor running what comes of them.
    #[test]
    fn any_words_are_run_or_refused(words in prop::collection::vec(prop::sample::select(vec![
        "a", "b", "n", "1", "2.5", "9999999999999999999", "2024-02-29", "16:00", "\"x\"", "(", ")",
        "+", "-", "*", "/", "<", "=", ",", "year", "of", "day", "days", "months", "whole",
        "nearest", "from", "to", "in", "zone", "\"UTC\"", "as", "text", "date", "instant",
        "rounded", "down", "not", "and", "or", "if", "then", "else", "otherwise", "is", "blank",
        "between", "now", "age", "on", "first", "week", "hours", "count", "\"unix-s\"", "number",
    ]), 1..12)) {
        let values = [
            ("a", at(date(9999, 12, 31).at(23, 59, 59, 999_999_999))),
            ("b", day(date(-9999, 1, 1))),
            ("n", number(i64::MAX)),
        ];
        drop(run(&words.join(" "), &values));
    }
}

/// Values at the ends of what there is, moved beyond them.
#[test]
fn what_overflows_is_refused() {
    let values = [
        ("a", at(date(9999, 12, 31).at(23, 59, 59, 0))),
        ("b", day(date(-9999, 1, 1))),
        ("n", number(i64::MAX)),
        ("i", Value::Stamp(Stamp::Instant(jiff::Timestamp::MAX))),
    ];
    for phrase in [
        "a + 1 second",
        "a + n days",
        "a + n years",
        "b - 1 day",
        "b - n weeks",
        "b - 1 quarter",
        "i + n hours",
        "i + 1 nanosecond",
        "n * n",
        "n hours * n",
        "n years + n years",
        "a rounded up to year",
        "b - 1 month + 1 month",
        "first day of week of b - 2 weeks",
    ] {
        let refused = run(phrase, &values);
        assert!(refused.is_err(), "{phrase}: {refused:?}");
    }
}

#[test]
fn weeks_are_those_of_the_table() {
    let table = include_str!("weeks/table.txt");
    let mut rows = 0;
    for line in table.lines() {
        let cells: Vec<&str> = line.split(' ').collect();
        let (year, weeks): (i64, i64) = (cells[0].parse().unwrap(), cells[2].parse().unwrap());
        let monday: Date = cells[1].parse().unwrap();
        for (later, week_year, week) in [
            (0, year, 1),
            (6, year, 1),
            (7, year, 2),
            (7 * weeks as i32 - 1, year, weeks),
            (7 * weeks as i32, year + 1, 1),
        ] {
            let values = [("a", day(monday.saturating_add(later.days())))];
            assert_eq!(whole(run("week of a", &values)), week, "{line} {later}");
            assert_eq!(
                whole(run("week year of a", &values)),
                week_year,
                "{line} {later}"
            );
        }
        rows += 1;
    }
    assert_eq!(rows, 101);
}
