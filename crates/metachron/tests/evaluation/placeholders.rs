//! Tables of days that programs write where there is no date.

use super::random::Random;
use super::tables::{Row, Table, Truth};
use jiff::ToSpan;
use jiff::civil::{Date, date};

fn table(name: &'static str, days: Vec<Date>, pattern: &str) -> Table {
    let row = |day: Date| Row {
        cells: vec![day.strftime(pattern).to_string()],
        truth: Truth::Day(day),
    };
    Table {
        header: vec![name],
        column: name,
        rows: days.into_iter().map(row).collect(),
        declared: Vec::new(),
    }
}

/// Births over seventy years, a few of which are on such a day by chance, and firsts of
/// months or years.
pub fn by_chance(random: &mut Random) -> Table {
    let count = 40 + random.below(400);
    let step = random.below(3);
    let mut days: Vec<Date> = (0..count)
        .map(|_| {
            let day = date(1935, 1, 1) + (random.below(27_000) as i64).days();
            match step {
                0 => day,
                1 => day.first_of_month(),
                _ => day.first_of_year(),
            }
        })
        .collect();
    if step == 0 && random.below(2) == 0 {
        days[0] = date(1970, 1, 1);
    }
    table("born", days, "%Y-%m-%d")
}

/// Ends of the last ten years, some of which are no dates.
pub fn placeholders(random: &mut Random) -> Table {
    let (day, pattern) = random.pick(&[
        (date(9999, 12, 31), "%Y-%m-%d"),
        (date(1900, 1, 1), "%Y-%m-%d"),
        (date(1970, 1, 1), "%-d %B %Y"),
        (date(2099, 12, 31), "%Y%m%d"),
    ]);
    let share = 2 + random.below(40);
    let days = (0..60 + random.below(300)).map(|row| {
        if row == 0 || random.below(share) == 0 {
            day
        } else {
            date(2015, 1, 1) + (random.below(3_600) as i64).days()
        }
    });
    let days = days.collect();
    table("end date", days, pattern)
}
