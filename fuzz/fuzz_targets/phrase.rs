#![no_main]
//! No phrase panics: parsed, checked against columns of every kind, and run.

use libfuzzer_sys::fuzz_target;
use metachron_core::phrase::{Phrase, Row, Scope, Track, Type, Value};
use metachron_core::stamp::{Duration, Stamp};

fn columns() -> Vec<(&'static str, Value)> {
    let instant = "9999-12-30T21:59:59Z".parse().expect("an instant");
    let day = jiff::civil::date(2024, 2, 29);
    vec![
        ("a", Value::Stamp(Stamp::Date(day))),
        ("b", Value::Stamp(Stamp::DateTime(day.at(23, 59, 59, 999_999_999)))),
        ("c", Value::Stamp(Stamp::Instant(instant))),
        ("d", Value::Stamp(Stamp::Time(jiff::civil::time(0, 0, 0, 1)))),
        ("e", Value::Stamp(Stamp::Duration(Duration::new(i64::from(i32::MAX), 1)))),
        ("f", Value::Stamp(Stamp::Month(-9999, 1))),
        ("g", Value::Text("31".into())),
        ("h", Value::Blank),
        ("n", Value::Number(i64::MAX.into())),
    ]
}

fuzz_target!(|text: &str| {
    let Ok(phrase) = text.parse::<Phrase>() else {
        return;
    };
    let columns = columns();
    let find = |name: &str| {
        let index = columns.iter().position(|(known, _)| *known == name);
        let index = index.ok_or("no such column")?;
        let of = match &columns[index].1 {
            Value::Stamp(stamp) => Type::Stamp(stamp.kind()),
            Value::Number(_) => Type::Number,
            _ => Type::Cell,
        };
        Ok((index, of))
    };
    let scope = Scope {
        column: &find,
        zones: Default::default(),
        now: "2026-11-24T12:00:00Z".parse().expect("an instant"),
    };
    let mut tracked = Vec::new();
    let Ok(mut ready) = phrase.check(&scope, &mut tracked) else {
        return;
    };
    let slots: Vec<Value> = columns.iter().map(|(_, value)| value.clone()).collect();
    let tracks = vec![Track::default(); tracked.len()];
    let _ = ready.run(Row {
        slots: &slots,
        tracks: &tracks,
    });
});
