//! Tables of numbers that are dates, look like dates, or hold one.

use super::random::Random;
use super::tables::{Row, Table, Truth};
use jiff::ToSpan;
use jiff::civil::Date;

fn table(header: Vec<&'static str>, rows: impl Iterator<Item = Row>) -> Table {
    Table {
        column: header[0],
        header,
        rows: rows.collect(),
        declared: Vec::new(),
    }
}

/// Dates with a running number behind them, in the order of the rows.
pub fn running_numbers(random: &mut Random) -> Table {
    let mut day = random.day();
    let sign = random.pick(&['_', '-']);
    let rows = (1..40 + random.below(300)).map(|number| {
        day += (random.below(4) as i64).days();
        Row {
            cells: vec![
                format!("{}{sign}{number:04}", day.strftime("%Y%m%d")),
                random.below(90).to_string(),
            ],
            truth: Truth::Day(day),
        }
    });
    table(vec!["batch", "value"], rows)
}

/// The same, but with the minute of the day.
pub fn compact_times(random: &mut Random) -> Table {
    let sign = random.pick(&['_', '-']);
    let rows = (0..40 + random.below(300)).map(|_| {
        let (day, hour, minute) = (random.day(), random.below(24), random.below(60));
        Row {
            cells: vec![
                format!("{}{sign}{hour:02}{minute:02}", day.strftime("%Y%m%d")),
                random.below(90).to_string(),
            ],
            truth: Truth::Is(format!("{day}T{hour:02}:{minute:02}:00")),
        }
    });
    table(vec!["logged at", "value"], rows)
}

/// Months as `MMyy`, under a name that says that something ends.
pub fn expiries(random: &mut Random) -> Table {
    let name = random.pick(&["expiry", "valid until", "expires"]);
    let rows = (0..30 + random.below(200)).map(|_| {
        let (month, year) = (1 + random.below(12), 2024 + random.below(8));
        Row {
            cells: vec![
                format!("{month:02}{:02}", year % 100),
                random.below(90).to_string(),
            ],
            truth: Truth::Is(format!("{year}-{month:02}")),
        }
    });
    table(vec![name, "value"], rows)
}

/// Codes of four digits.
pub fn codes(random: &mut Random) -> Table {
    let name = random.pick(&["code", "room", "batch no", "extension", "plot"]);
    let rows = (0..30 + random.below(200)).map(|_| Row {
        cells: vec![
            format!("{:04}", random.below(10_000)),
            random.day().to_string(),
        ],
        truth: Truth::Text,
    });
    table(vec![name, "seen"], rows)
}

/// Short dates with dots, next to the same dates in ISO 8601.
pub fn dotted_dates(random: &mut Random) -> Table {
    let name = random.pick(&["d", "stand", "geprüft"]);
    let rows = (0..30 + random.below(200)).map(|_| {
        let day = random.day();
        Row {
            cells: vec![day.strftime("%d.%m.%y").to_string(), day.to_string()],
            truth: Truth::Day(day),
        }
    });
    table(vec![name, "entered"], rows)
}

/// Versions with dots, next to dates that have nothing to do with them.
pub fn versions(random: &mut Random) -> Table {
    let name = random.pick(&["version", "release", "v", "firmware"]);
    let mut day = random.day();
    let rows = (0..30 + random.below(200)).map(|number| {
        day += (random.below(20) as i64).days();
        Row {
            cells: vec![
                format!("{}.{}.{}", 1 + number / 40, number / 8 % 10, number % 8),
                day.to_string(),
            ],
            truth: Truth::Text,
        }
    });
    table(vec![name, "published"], rows)
}

/// Numbers under a name that has a word for a time in it.
pub fn measures(random: &mut Random) -> Table {
    let name = random.pick(&[
        "salary per month",
        "visitors per day",
        "kWh / year",
        "mileage this year",
        "birth weight",
        "live born",
        "daysOpen",
    ]);
    let most = random.pick(&[40, 3000, 60_000]);
    let rows = (0..30 + random.below(200)).map(|_| Row {
        cells: vec![
            (1 + random.below(most)).to_string(),
            random.day().to_string(),
        ],
        truth: Truth::Text,
    });
    table(vec![name, "seen"], rows)
}

/// Names of genes, of which a spreadsheet has made days: what is no day stays as it
/// is.
pub fn symbols(random: &mut Random) -> Table {
    let name = random.pick(&["gene", "symbol", "marker"]);
    let form = random.pick(&["%-d-%b", "%d-%b", "%Y-%m-%d"]);
    let share = 5 + random.below(85);
    let rows = (0..40 + random.below(300)).map(|_| {
        let letter = || char::from(b'A' + random.below(26) as u8);
        let letters: String = std::iter::repeat_with(letter).take(4).collect();
        let number = random.below(90);
        let (cell, truth) = if random.below(100) < share {
            // It was `SEP9`, and nobody can tell any more.
            (random.day().strftime(form).to_string(), Truth::Nothing)
        } else {
            (format!("{letters}{number}"), Truth::Text)
        };
        Row {
            cells: vec![cell, random.below(1000).to_string()],
            truth,
        }
    });
    table(vec![name, "reads"], rows)
}

/// Days as eight digits, but for a cell or two.
pub fn eight_digits(random: &mut Random) -> Table {
    let odd = random.pick(&["unknown", "0", "20240231", "99999999", "2024O3O5", "n/a"]);
    let rows = 40 + random.below(300);
    let at = random.below(rows);
    let rows = (0..rows).map(|number| {
        let day = random.day();
        let (cell, truth) = if number == at {
            (odd.to_owned(), Truth::Nothing)
        } else {
            (day.strftime("%Y%m%d").to_string(), Truth::Day(day))
        };
        Row {
            cells: vec![cell, random.below(90).to_string()],
            truth,
        }
    });
    table(vec!["entered on", "value"], rows)
}

/// Two-digit years of births, or of dates long ahead.
pub fn centuries(random: &mut Random) -> Table {
    let is_birth = random.below(2) == 0;
    let first = if is_birth { 1935 } else { 2027 };
    let rows = (0..40 + random.below(200)).map(|_| {
        let start = Date::new(first, 1, 1).expect("a day");
        let day = start + (random.below(365 * 45) as i64).days();
        Row {
            cells: vec![
                day.strftime("%d/%m/%y").to_string(),
                random.below(90).to_string(),
            ],
            truth: Truth::Day(day),
        }
    });
    table(
        vec![if is_birth { "born" } else { "maturity" }, "value"],
        rows,
    )
}

/// Years of another calendar, with the same dates of ours next to them or
/// without.
pub fn other_years(random: &mut Random) -> Table {
    let is_told = random.below(2) == 0;
    let rows = (0..30 + random.below(200)).map(|_| {
        let day = random.day();
        let other = if is_told { day } else { random.day() };
        Row {
            cells: vec![
                format!("{:02}/{:02}/{}", day.day(), day.month(), day.year() + 543),
                other.to_string(),
            ],
            truth: Truth::Day(day),
        }
    });
    table(vec!["filed", "entered"], rows)
}
