use super::*;
use crate::stamp::{Duration, Kind, Stamp};
use crate::zone::Zones;
use jiff::civil::{date, datetime, time};
use std::sync::Arc;

const SECOND: i128 = 1_000_000_000;

/// The columns that phrases are tried on.
fn columns() -> Vec<(&'static str, Type, Value)> {
    let stamp = |stamp: Stamp| (Type::Stamp(stamp.kind()), Value::Stamp(stamp));
    let cell = |text: &'static str| (Type::Cell, Value::Text(text.into()));
    let instant = |text: &str| Stamp::Instant(text.parse().unwrap());
    let of_kind = |kind, value| (Type::Stamp(kind), value);
    [
        ("due", stamp(Stamp::Date(date(2024, 1, 31)))),
        ("back", stamp(Stamp::Date(date(2024, 3, 1)))),
        ("born", stamp(Stamp::Date(date(2000, 2, 29)))),
        (
            "at",
            stamp(Stamp::DateTime(datetime(
                2024,
                3,
                5,
                23,
                35,
                12,
                500_000_000,
            ))),
        ),
        (
            "until",
            stamp(Stamp::DateTime(datetime(2024, 3, 7, 1, 5, 12, 500_000_000))),
        ),
        ("sent", stamp(instant("2024-07-01T14:30:00Z"))),
        ("come", stamp(instant("2024-07-03T02:00:00Z"))),
        ("clock", stamp(Stamp::Time(time(16, 20, 0, 0)))),
        (
            "took",
            stamp(Stamp::Duration(Duration::new(0, 5_400 * SECOND))),
        ),
        ("lasts", stamp(Stamp::Duration(Duration::new(14, 0)))),
        ("span", stamp(Stamp::Month(2024, 2))),
        ("week53", stamp(Stamp::Week(2020, 53))),
        ("gone", of_kind(Kind::Date, Value::Blank)),
        ("open", of_kind(Kind::Date, Value::Waits)),
        ("Handed over", stamp(Stamp::Date(date(2024, 2, 3)))),
        ("site", cell("Riga")),
        ("zone", cell("Riga depot")),
        ("y", cell("2024")),
        ("m", cell("March")),
        ("d", cell("5")),
        ("n", cell("3")),
        ("odd", cell("three")),
    ]
    .map(|(name, (of, value))| (name, of, value))
    .into()
}

fn value(text: &str) -> Result<(Type, Result<Value, Box<Refusal>>), PhraseError> {
    let columns = columns();
    let find = |name: &str| {
        let index = columns.iter().position(|(known, ..)| *known == name);
        match index {
            Some(index) => Ok((index, columns[index].1)),
            None => Err(crate::words::no_column(
                name,
                columns.iter().map(|(name, ..)| *name),
            )),
        }
    };
    let zones = Zones::from([("Riga depot".to_owned(), "Europe/Riga".parse().unwrap())]);
    let scope = Scope {
        column: &find,
        zones: Arc::new(zones),
        now: "2026-11-23T22:30:00Z".parse().unwrap(),
    };
    let mut tracked = Vec::new();
    let mut ready = text.parse::<Phrase>()?.check(&scope, &mut tracked)?;
    let slots: Vec<Value> = columns.iter().map(|(_, _, value)| value.clone()).collect();
    let tracks = vec![Track::default(); tracked.len()];
    let of = ready.of();
    let value = ready.run(Row {
        slots: &slots,
        tracks: &tracks,
    });
    Ok((of, value.cloned()))
}

/// What a phrase gives, in words.
fn said(text: &str) -> String {
    match value(text) {
        Err(error) => format!("error: {}", error.message),
        Ok((_, Err(refusal))) => format!("refused: {refusal}"),
        Ok((_, Ok(value))) => match value {
            Value::Blank => "blank".to_owned(),
            Value::Waits => "waits".to_owned(),
            Value::Number(number) => number.to_string(),
            Value::Text(text) => format!("\"{text}\""),
            Value::Truth(truth) => truth.to_string(),
            Value::Stamp(stamp) => stamp.to_string(),
        },
    }
}

fn check(cases: &[(&str, &str)]) {
    for (phrase, wanted) in cases {
        assert_eq!(said(phrase), *wanted, "{phrase}");
    }
}

#[test]
fn parts() {
    check(&[
        ("year of due", "2024"),
        ("quarter of at", "1"),
        ("month of due", "1"),
        ("week of due", "5"),
        ("week year of week53", "2020"),
        ("week year of due", "2024"),
        ("day of due", "31"),
        ("day of year of back", "61"),
        ("weekday of due", "3"),
        ("hour of at", "23"),
        ("minute of clock", "20"),
        ("second of at", "12"),
        ("fraction of at", "0.5"),
        ("date of at", "2024-03-05"),
        ("time of at", "23:35:12.5"),
        ("month name of due", "\"January\""),
        ("month name of back in locale \"fr\"", "\"mars\""),
        ("weekday name of due in locale \"de\"", "\"Mittwoch\""),
        ("year of span + month of span", "2026"),
        ("month of `Handed over`", "2"),
        ("hour of sent in zone \"Europe/Lisbon\"", "15"),
        ("hour of sent in zone zone", "17"),
    ]);
}

#[test]
fn putting_together() {
    check(&[
        ("date from y, m, d", "2024-03-05"),
        ("date from y, 2, 29", "2024-02-29"),
        (
            "date from 2023, 2, 29",
            "refused: there is no day 29 in month 2 of 2023",
        ),
        ("date from 2024, \"März\", 5 in locale \"de\"", "2024-03-05"),
        (
            "date from 2024, site, 5",
            "refused: `Riga` is no month's number, and no month's name in the phrase's locale",
        ),
        ("date from year of at, month of at, day of at", "2024-03-05"),
        (
            "datetime from date of at, time of at",
            "2024-03-05T23:35:12.5",
        ),
        ("datetime from due, clock", "2024-01-31T16:20:00"),
        ("time from 16, 20", "16:20:00"),
        ("time from 16, 20, 30.25", "16:20:30.25"),
        (
            "time from 24, 0",
            "refused: there is no time of day 24:00:0",
        ),
        ("date from y, m, n * 0.5", "refused: 1.5 is no whole number"),
    ]);
}

#[test]
fn moving() {
    check(&[
        ("due + 1 month", "2024-02-29"),
        (
            "due + 1 month, month-end refuse",
            "refused: 2024-02 has no day 31, and `month-end refuse` takes no other",
        ),
        ("due - 1 day", "2024-01-30"),
        ("at - 1 day - 2 hours", "2024-03-04T21:35:12.5"),
        ("due + 65 years", "2089-01-31"),
        ("born + 1 year", "2001-02-28"),
        ("due + n days", "2024-02-03"),
        ("due + n weeks", "2024-02-21"),
        (
            "due + odd days",
            "refused: `three` is no number; write numbers as 1.5",
        ),
        ("due + (n * 2) quarters", "2025-07-31"),
        (
            "due + 1.5 months",
            "refused: 1.5 months are no whole number of them, and have no fixed length",
        ),
        (
            "due + took",
            "refused: PT1H30M is no whole number of days, and a date has no time of day",
        ),
        ("due + lasts", "2025-03-31"),
        ("sent + 36 hours", "2024-07-03T02:30:00Z"),
        ("sent + 1 day", "2024-07-02T14:30:00Z"),
        ("clock + 7 hours", "23:20:00"),
        (
            "clock + 8 hours",
            "refused: the result passes midnight, and a time of day has no day",
        ),
        (
            "due + 8000 years",
            "refused: the result lies beyond the years -9999 to 9999",
        ),
        ("2 days + due", "2024-02-02"),
        ("due + -3 days", "2024-01-28"),
        ("gone + 1 day", "blank"),
        ("open + 1 day", "waits"),
    ]);
}

#[test]
fn edges_and_rounding() {
    check(&[
        ("first day of week of due", "2024-01-29"),
        ("last day of week of due", "2024-02-04"),
        ("last day of month of back", "2024-03-31"),
        ("first day of quarter of back", "2024-01-01"),
        ("last day of quarter of back", "2024-03-31"),
        ("last day of year of at", "2024-12-31"),
        ("first day of span", "2024-02-01"),
        ("last day of span", "2024-02-29"),
        ("first day of week53", "2020-12-28"),
        ("at rounded down to hour", "2024-03-05T23:00:00"),
        ("at rounded up to hour", "2024-03-06T00:00:00"),
        ("at rounded to nearest 15 minutes", "2024-03-05T23:30:00"),
        ("at rounded to month", "2024-03-01T00:00:00"),
        ("at rounded up to week", "2024-03-11T00:00:00"),
        ("due rounded up to month", "2024-02-01"),
        ("back rounded up to month", "2024-03-01"),
        ("due rounded down to 10 years", "2020-01-01"),
        ("due rounded down to 6 months", "2024-01-01"),
        ("clock rounded down to 30 minutes", "16:00:00"),
        ("took rounded up to hour", "PT2H"),
        ("-took rounded to hour", "-PT2H"),
        ("took / 4 rounded to minutes", "PT23M"),
        ("(took in hours) * 3.33333 rounded to 2 decimals", "5"),
    ]);
}

#[test]
fn between() {
    check(&[
        ("whole days from due to back", "30"),
        ("months from due to back", "1.032258064516129"),
        ("whole months from due to back", "1"),
        ("whole months from back to due", "-1"),
        ("nearest years from born to due", "24"),
        ("hours from at to until", "25.5"),
        ("whole hours from at to until", "25"),
        ("nearest hours from at to until", "26"),
        ("hours from sent to come", "35.5"),
        ("back - due", "P30D"),
        ("until - at", "P1DT1H30M"),
        ("(until - at) in hours", "25.5"),
        ("until - at in whole hours", "25"),
        ("took in hours", "1.5"),
        ("took + took in hours", "3"),
        ("took in minutes", "90"),
        ("lasts in years", "1.166666666666667"),
        (
            "lasts in days",
            "refused: P1Y2M has months, which have no fixed length",
        ),
        ("lasts + took", "P1Y2MT1H30M"),
        (
            "lasts - took",
            "refused: months one way and exact time the other way are no one duration",
        ),
        ("age of born on due", "23"),
        ("age of born on 2024-02-29", "24"),
        ("age of born on 2001-02-28", "0"),
        ("age of born on 2001-03-01", "1"),
        ("age of born on 2001-02-28, leap-birthday february", "1"),
        (
            "age of due on born",
            "refused: 2000-02-29 is before the birth on 2024-01-31",
        ),
        ("days from open to gone", "blank"),
    ]);
}

#[test]
fn zones_kinds_and_text() {
    check(&[
        ("sent in zone \"Europe/Lisbon\"", "2024-07-01T15:30:00"),
        (
            "at as instant in zone \"Europe/Riga\"",
            "2024-03-05T21:35:12.5Z",
        ),
        (
            "2024-10-27T03:30 as instant in zone \"Europe/Riga\"",
            "refused: clocks in Europe/Riga went back over 2024-10-27T03:30:00: it was twice",
        ),
        (
            "2024-10-27T03:30 as instant in zone zone, in-overlap later",
            "2024-10-27T01:30:00Z",
        ),
        (
            "2024-03-31T03:30 as instant in zone \"Europe/Riga\"",
            "refused: clocks in Europe/Riga went forward over 2024-03-31T03:30:00: it never was",
        ),
        (
            "2024-03-31T03:30 as instant in zone zone, in-gap earlier",
            "2024-03-31T00:30:00Z",
        ),
        ("sent in zone site", "refused: no zone is called `Riga`"),
        ("now", "2026-11-23T22:30:00Z"),
        ("today in zone \"UTC\"", "2026-11-23"),
        ("today in zone zone", "2026-11-24"),
        ("due as month", "2024-01"),
        ("at as quarter", "2024-Q1"),
        ("due as week", "2024-W05"),
        ("due as year", "2024"),
        ("due as datetime", "2024-01-31T00:00:00"),
        ("span as quarter", "2024-Q1"),
        ("at as date", "2024-03-05"),
        ("due as text \"d MMMM yyyy\"", "\"31 January 2024\""),
        (
            "due as text \"d MMMM yyyy\" in locale \"fr\"",
            "\"31 janvier 2024\"",
        ),
        (
            "sent as text \"HH:mm XXX\" in zone \"Asia/Kolkata\"",
            "\"20:00 +05:30\"",
        ),
        ("took as text", "\"PT1H30M\""),
        ("due as count \"workbook-1900\"", "45322"),
        (
            "at as count \"days since 1899-12-30\"",
            "45356.982783564814815",
        ),
        ("sent as count \"unix-ms\"", "1719844200000"),
        ("clock as count \"minutes since midnight\"", "980"),
        ("1900-01-01 as count \"workbook-1900\"", "1"),
        ("1900-03-01 as count \"workbook-1900\"", "61"),
        (
            "1899-12-31 as count \"workbook-1900\"",
            "refused: outside the years -9999 to 9999",
        ),
    ]);
}

#[test]
fn tests_and_choices() {
    check(&[
        ("due < back", "true"),
        ("due >= 2024-01-31", "true"),
        ("time of at between 16:00 and 18:00", "false"),
        ("clock between 16:00 and 18:00", "true"),
        ("clock not between 16:00 and 18:00", "false"),
        ("site in (\"Oslo\", \"Riga\")", "true"),
        ("site not in (\"Oslo\")", "true"),
        ("site is \"Riga\"", "true"),
        ("site is not \"Riga\"", "false"),
        ("n < 10", "true"),
        ("n = 3.0", "true"),
        ("gone is blank", "true"),
        ("due is not blank", "true"),
        ("open is blank", "waits"),
        ("due is leap year", "true"),
        ("due is weekday", "true"),
        ("2024-02-03 is weekend", "true"),
        ("due < back and n > 1 or false", "true"),
        ("not due < back", "false"),
        ("gone < due or due < back", "true"),
        ("gone < due or back < due", "blank"),
        ("open < due and back < due", "false"),
        ("if gone is blank then \"out\" else \"back\"", "\"out\""),
        ("if open is blank then \"out\" else \"back\"", "waits"),
        (
            "if hour of at < 12 then \"morning\" else if hour of at < 18 then \"afternoon\" else \"evening\"",
            "\"evening\"",
        ),
        ("if gone < due then 1 else 2", "blank"),
        ("gone otherwise due", "2024-01-31"),
        ("gone otherwise open otherwise due", "waits"),
        ("gone otherwise blank", "blank"),
        ("took > 1 hour", "true"),
        ("lasts > lasts - 1 month", "true"),
        (
            "lasts > 430 days",
            "refused: P1Y2M has months, which have no fixed length",
        ),
        ("site", "\"Riga\""),
        ("n + 1", "4"),
        ("1 / 0", "refused: nothing can be divided by 0"),
        ("(1 + 2) * -3", "-9"),
        ("days since first due", "0"),
        ("hours since previous at", "blank"),
    ]);
}

#[test]
fn what_is_wrong_with_phrases() {
    check(&[
        ("", "error: the phrase ends where a value is wanted"),
        (
            "year of duo",
            "error: no column is called `duo`; did you mean `due`?",
        ),
        (
            "yaer of due",
            "error: no part is called `yaer`; did you mean `year of`?",
        ),
        (
            "hours of took",
            "error: a value has one hour: write `hour of`; a length of time is counted with `X in hours`",
        ),
        (
            "year(due)",
            "error: `year` is a column here, and nothing can follow it so; for a part of a value, write `year of (`",
        ),
        (
            "due + 3 dyas",
            "error: `dyas` is no unit; did you mean `days`?",
        ),
        (
            "due + n",
            "error: a date is moved by an amount of time, and this is a cell's text; write its unit behind it, such as `n days`",
        ),
        (
            "due - clock",
            "error: a date and a time of day are put together by `datetime from DATE, TIME`; neither can be added to or taken from the other",
        ),
        (
            "sent + 1 month",
            "error: months have no fixed length on the world's time line; say in which zone the calendar is meant: `sent in zone \"…\"`",
        ),
        (
            "due + 2 hours",
            "error: a date has no time of day to be moved by hours; `due as datetime` is its midnight",
        ),
        (
            "hour of sent",
            "error: an instant has no hour until it is said whose clocks are meant: `sent in zone \"Europe/Riga\"`, or \"UTC\"",
        ),
        (
            "sent in zone \"Europe/Rigga\"",
            "error: no zone is called `Europe/Rigga`; did you mean `Europe/Riga`?",
        ),
        (
            "sent in zone \"CET\"",
            "error: `CET` is an abbreviation, which says nothing of summer time; name the zone of a place, such as Europe/Lisbon, or an offset",
        ),
        (
            "due < at",
            "error: a date and a datetime do not go together; take the `date of` the datetime",
        ),
        (
            "due < sent",
            "error: a date and an instant do not go together; show the instant `in zone \"…\"`, or put the other on the time line `as instant in zone \"…\"`",
        ),
        (
            "due = blank",
            "error: whether a value is blank is tested by `is blank`",
        ),
        (
            "n < d",
            "error: are these cells compared as numbers or as texts? write `as number` or `as text` behind one of them",
        ),
        (
            "took + 1",
            "error: a duration is moved by an amount of time, and this is a number; write its unit behind it, such as `1 days`",
        ),
        (
            "month of site",
            "error: site is text: no ruling reads the column as dates or times; -c takes columns into an undecided run, and a rulings file can have one on it",
        ),
        (
            "today",
            "error: the phrase ends where `in zone` and whose day is meant is wanted",
        ),
        (
            "sent in zone \"UTC\" + 1 hour",
            "error: nothing can be computed with what is shown otherwise; put what stands before this between ( and )",
        ),
        (
            "due as instnat",
            "error: `instnat` is no kind; did you mean `instant`?",
        ),
        (
            "if due < back then 1",
            "error: the phrase ends where `else` is wanted, with what holds otherwise, or `else blank`",
        ),
        (
            "1 < 2 < 3",
            "error: two comparisons cannot follow each other; write `X between A and B`, or `and` between them",
        ),
        (
            "due as text \"dd.QX\"",
            "error: `dd.QX` writes the offset, which a date does not have; leave `X` out, or put it in brackets: [X]",
        ),
        (
            "`Handed over` + n",
            "error: a date is moved by an amount of time, and this is a cell's text; write its unit behind it, such as `n days`",
        ),
        (
            "first day of `Handed over`",
            "error: of which week, month, quarter or year? write first day of month of `Handed over`",
        ),
        (
            "'due'",
            "error: `'` has no meaning here; texts stand between double quotes, columns between backticks",
        ),
        ("`due", "error: this column has no end; put ` behind it"),
        (
            "hours since first year of due",
            "error: other rows are asked for by a column's name alone; derive this as a column first",
        ),
        (
            "at rounded to 7 minutes",
            "error: steps of 7 minutes do not fill a day evenly",
        ),
        (
            "due, month-ends reject",
            "error: behind the phrase, `month-end`, `leap-birthday`, `in-gap` or `in-overlap` can be said, as in `, month-end refuse`",
        ),
        (
            "Handed over",
            "error: `over` cannot follow here; a column's name of several words stands between backticks, as in `Handed over`; did you mean `or`?",
        ),
        (
            "if gone is blank then due else 3",
            "error: a date and a number do not go together",
        ),
        (
            "due as count \"unix-ms\"",
            "error: `milliseconds since 1970-01-01` does not count dates; its origin is an instant: put this on the time line `as instant in zone \"…\"`",
        ),
    ]);
}

/// The table of functions in docs/phrases.md has a row for each of them, and no
/// other.
#[test]
fn the_page_has_all_functions() {
    let page = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/phrases.md");
    let page = std::fs::read_to_string(page).unwrap();
    let rows: String = functions()
        .map(|function| {
            let FunctionDoc { usage, gives, doc } = function;
            format!("| `{usage}` | {gives} | {doc} |\n")
        })
        .collect();
    let table = format!("| function | gives | |\n|---|---|---|\n{rows}\n");
    assert!(
        page.contains(&table),
        "docs/phrases.md wants this table:\n{table}"
    );
}
