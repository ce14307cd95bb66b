//! Tables of clock times, and of lengths that are written as such.

use super::random::Random;
use super::tables::{Row, Table, Truth};
use jiff::ToSpan;
use jiff::civil::Date;

/// Minutes of a day as a clock: `07:05` or `7:05`.
fn clock(minutes: u64, is_padded: bool) -> String {
    let (hours, minutes) = (minutes / 60, minutes % 60);
    if is_padded {
        format!("{hours:02}:{minutes:02}")
    } else {
        format!("{hours}:{minutes:02}")
    }
}

fn length(minutes: u64) -> Truth {
    Truth::Is(match (minutes / 60, minutes % 60) {
        (0, 0) => "PT0S".to_owned(),
        (0, minutes) => format!("PT{minutes}M"),
        (hours, 0) => format!("PT{hours}H"),
        (hours, minutes) => format!("PT{hours}H{minutes}M"),
    })
}

/// A start, an end, and the time between them, under names that say so, or that
/// do not.
pub fn time_between(random: &mut Random) -> Table {
    let names = random.pick(&[
        ["in", "out", "net"],
        ["start", "end", "total"],
        ["a", "b", "c"],
    ]);
    let is_padded = random.below(2) == 0;
    let rows = (0..30 + random.below(200)).map(|_| {
        let start = 300 + random.below(400);
        let between = 60 + random.below(600);
        Row {
            cells: vec![
                clock(start, true),
                clock(start + between, true),
                clock(between, is_padded),
            ],
            truth: length(between),
        }
    });
    Table {
        header: names.to_vec(),
        column: names[2],
        rows: rows.collect(),
        declared: Vec::new(),
    }
}

/// Three times of day, of which none is what lies between the others.
pub fn three_times(random: &mut Random) -> Table {
    let names = random.pick(&[["opens", "closes", "seen"], ["a", "b", "c"]]);
    let rows = (0..30 + random.below(200)).map(|_| {
        let start = 300 + random.below(300);
        let end = start + 300 + random.below(300);
        let third = 60 + random.below(1300);
        Row {
            cells: vec![clock(start, true), clock(end, true), clock(third, true)],
            truth: Truth::Is(format!("{}:00", clock(third, true))),
        }
    });
    Table {
        header: names.to_vec(),
        column: names[2],
        rows: rows.collect(),
        declared: Vec::new(),
    }
}

/// Times of a clock that goes from 1 to 12, with or without a day, and the half of
/// the day in another column.
pub fn half_clocks(random: &mut Random) -> Table {
    let halves = random.pick(&[["AM", "PM"], ["a.m.", "p.m."], ["A", "P"]]);
    let has_day = random.below(2) == 0;
    let rows = (0..60 + random.below(200)).map(|_| {
        let minutes = random.below(24 * 60);
        let day = Date::constant(2023, 1, 1).checked_add((random.below(700) as i64).days());
        let day = day.map_or_else(|_| String::new(), |day| day.to_string());
        let (hour, minute) = (minutes / 60, minutes % 60);
        let shown = clock(((hour + 11) % 12 + 1) * 60 + minute, true);
        let truth = format!("{}:00", clock(minutes, true));
        let (shown, truth) = if has_day {
            (format!("{day} {shown}"), format!("{day}T{truth}"))
        } else {
            (shown, truth)
        };
        Row {
            cells: vec![
                random.below(900).to_string(),
                shown,
                halves[usize::from(hour >= 12)].to_owned(),
            ],
            truth: Truth::Is(truth),
        }
    });
    Table {
        header: vec!["ticket", "seen", "half"],
        column: "seen",
        rows: rows.collect(),
        declared: Vec::new(),
    }
}
