//! Tables in which other columns, or the rows themselves, say what no cell of
//! the column `date` says; each with decoys that say nothing.

use super::random::Random;
use super::tables::{ORDERS, Order, Row, Table, Truth};
use jiff::ToSpan;
use jiff::civil::{Date, date};

/// A day that several orders read differently.
fn ambiguous(random: &mut Random) -> Date {
    let month = 1 + random.below(12) as i8;
    let day = 1 + random.below(11) as i8;
    let day = if day >= month { day + 1 } else { day };
    date(2019 + random.below(6) as i16, month, day)
}

/// Columns that have nothing to do with the dates.
const DECOYS: [&str; 4] = ["floor", "by", "seen", "no"];

fn decoys(random: &mut Random, number: u64) -> Vec<String> {
    vec![
        (1 + random.below(12)).to_string(),
        random.pick(&["Pell", "Orme", "Vance", "Quill"]).to_owned(),
        random.day().to_string(),
        (5000 + number).to_string(),
    ]
}

/// How many numbers of a column are not what its name says.
#[derive(Clone, Copy, Debug)]
pub enum Errors {
    None,
    OneIn20,
    All,
}

/// A column that repeats a part of the date, or stands at a steady distance.
type Witness = (&'static str, fn(Date, u64) -> String);

const WITNESSES: [Witness; 9] = [
    ("month", |day, _| day.strftime("%B").to_string()),
    ("month", |day, _| day.month().to_string()),
    ("period", |day, _| day.strftime("%Y-%m").to_string()),
    ("week", |day, _| day.iso_week_date().week().to_string()),
    ("weekday", |day, _| day.strftime("%a").to_string()),
    ("quarter", |day, _| format!("Q{}", (day.month() + 2) / 3)),
    ("scan", |day, number| {
        format!("{}_{number}.tif", day.strftime("%Y%m%d"))
    }),
    ("entered", |day, number| {
        (day + (number as i64 % 4).days()).to_string()
    }),
    ("loaned", |day, _| (day - 30.days()).to_string()),
];

/// The rows of a table with a witness and decoys.
fn witnessed(
    random: &mut Random,
    rows: u64,
    (name, witness): Witness,
    mut cell: impl FnMut(&mut Random, u64) -> (Date, String),
) -> Table {
    let rows = (0..rows).map(|number| {
        let (day, text) = cell(random, number);
        let mut cells = vec![text, witness(day, number)];
        cells.extend(decoys(random, number));
        Row {
            cells,
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: [&["date", name][..], &DECOYS].concat(),
        declared: Vec::new(),
        column: "date",
    }
}

/// No cell says its order, and another column does.
pub fn nothing_decisive(random: &mut Random) -> Table {
    let (rows, order) = (60 + random.below(300), random.pick(&ORDERS));
    let witness = random.pick(&WITNESSES);
    witnessed(random, rows, witness, |random, _| {
        let day = ambiguous(random);
        (day, order.write(day, '/'))
    })
}

/// A few rows of a second writer, who has no day past the 12th; another column
/// repeats the month.
pub fn hidden_writer(random: &mut Random) -> Table {
    let (rows, order) = (80 + random.below(400), random.pick(&ORDERS));
    let share = 3 + random.below(20);
    let witness = random.pick(&WITNESSES[..3]);
    witnessed(random, rows, witness, |random, _| {
        if random.below(100) < share {
            let day = ambiguous(random);
            (day, order.other().write(day, '/'))
        } else {
            let day = random.day();
            (day, order.write(day, '/'))
        }
    })
}

/// One site of three writes the other order, and has no day past the 12th.
pub fn hidden_site(random: &mut Random) -> Table {
    let (rows, order) = (120 + random.below(300), random.pick(&ORDERS));
    let site: Witness = ("site", |_, number| {
        ["Odrava", "Kestrelby", "Salten"][number as usize % 3].to_owned()
    });
    witnessed(random, rows, site, |random, number| {
        let (day, order) = match number % 3 {
            0 => (ambiguous(random), order.other()),
            _ => (random.day(), order),
        };
        (day, order.write(day, '/'))
    })
}

/// Decisive cells, and columns that say nothing.
pub fn decoys_alone(random: &mut Random) -> Table {
    let (rows, order) = (60 + random.below(400), random.pick(&ORDERS));
    let witness: Witness = ("shelf", |_, number| (number % 7).to_string());
    witnessed(random, rows, witness, |random, _| {
        let day = random.day();
        (day, order.write(day, '/'))
    })
}

/// A column that repeats the month, but for one row in twenty.
pub fn noisy_witness(random: &mut Random) -> Table {
    let order = random.pick(&ORDERS);
    let mut table = witnessed(random, 200, WITNESSES[1], |random, _| {
        let day = random.day();
        (day, order.write(day, '/'))
    });
    for row in &mut table.rows {
        if random.below(20) == 0 {
            row.cells[1] = (1 + random.below(12)).to_string();
        }
    }
    table
}

/// Rows in time order, or against it, without a day past the 12th.
pub fn sorted(random: &mut Random) -> Table {
    let (count, order) = (60 + random.below(200) as usize, random.pick(&ORDERS));
    let mut days: Vec<Date> = (0..count).map(|_| ambiguous(random)).collect();
    days.sort();
    if random.below(2) == 0 {
        days.reverse();
    }
    one_column(days, |day| order.write(day, '/'))
}

/// The same, but each year sorted as text: nothing says which order it is.
pub fn sorted_as_text(random: &mut Random) -> Table {
    let (count, order) = (60 + random.below(200) as usize, random.pick(&ORDERS));
    let years = 1 + random.below(4);
    let day = |random: &mut Random| {
        let day = ambiguous(random);
        date(2020 + random.below(years) as i16, day.month(), day.day())
    };
    let mut days: Vec<Date> = (0..count).map(|_| day(random)).collect();
    days.sort_by_key(|day| (day.year(), order.write(*day, '/')));
    one_column(days, |day| order.write(day, '/'))
}

/// Two-digit years of a few years, in front or behind.
pub fn short_years(random: &mut Random) -> Table {
    let count = 30 + random.below(400) as usize;
    let years = 1 + random.below(7) as i64;
    let start = date(2025 - years as i16, 1, 1);
    let pattern = random.pick(&["%d/%m/%y", "%y/%m/%d", "%d-%b-%y", "%y-%b-%d"]);
    let days: Vec<Date> = (0..count)
        .map(|_| start + (random.below(365 * years as u64) as i64).days())
        .collect();
    one_column(days, |day| day.strftime(pattern).to_string())
}

/// Days of a workbook that counts from 1900 or 1904, with a date in the same
/// row or without one.
pub fn workbook_days(random: &mut Random) -> Table {
    let rows = 30 + random.below(300);
    let origin = random.pick(&[date(1899, 12, 30), date(1904, 1, 1)]);
    let is_told = random.below(2) == 0;
    let rows = (0..rows).map(|number| {
        let day = date(2014, 1, 1) + (random.below(2900) as i64).days();
        let other = if is_told { day } else { random.day() };
        Row {
            cells: vec![
                (day - origin).get_days().to_string(),
                other.to_string(),
                number.to_string(),
            ],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["date", "entered", "no"],
        declared: Vec::new(),
        column: "date",
    }
}

fn one_column(days: Vec<Date>, write: impl Fn(Date) -> String) -> Table {
    let rows = days.into_iter().enumerate().map(|(number, day)| Row {
        cells: vec![write(day), format!("K-{}", number * 7919 % 1009)],
        truth: Truth::Day(day),
    });
    Table {
        rows: rows.collect(),
        header: vec!["date", "item"],
        declared: Vec::new(),
        column: "date",
    }
}

/// An order for each of the two halves of a file: the first rows are the first
/// days of a December.
pub fn other_head(random: &mut Random) -> Table {
    let order = random.pick(&ORDERS);
    let head = (1..12).map(|day| (date(2023, 12, day), order.other()));
    let rest = 100 + random.below(300);
    let days = (0..rest).map(|number| (date(2024, 1, 1) + (number as i64).days(), order));
    let rows = head.chain(days).map(|(day, order): (Date, Order)| Row {
        cells: vec![order.write(day, '/'), random.below(9).to_string()],
        truth: Truth::Day(day),
    });
    Table {
        rows: rows.collect(),
        header: vec!["date", "value"],
        declared: Vec::new(),
        column: "date",
    }
}

/// The whole years from one day to a later one.
fn years(from: Date, to: Date) -> i16 {
    let is_before = (to.month(), to.day()) < (from.month(), from.day());
    to.year() - from.year() - i16::from(is_before)
}

/// Births without a day past the 12th, with ages: on one day, or on that of an
/// admission; of some tables, a few are wrong, or all are anybody's.
pub fn ages(random: &mut Random, errors: Errors) -> Table {
    let few = matches!(errors, Errors::OneIn20) && random.below(2) == 0;
    let most = if few { 20 } else { 300 };
    let (rows, order) = (20 + random.below(most), random.pick(&ORDERS));
    // On the last day of a year, ages say the year of birth and no more.
    let one_day = match errors {
        Errors::None => date(2023, 4 + random.below(6) as i8, 14),
        Errors::OneIn20 | Errors::All => random.day(),
    };
    let has_one_day = random.below(2) == 0;
    let rows = (0..rows).map(|number| {
        let day = ambiguous(random);
        let day = day - (20 * 365 + random.below(60 * 365) as i64).days();
        let day = match (day.day(), day.month()) {
            (1..=12, _) => day,
            (_, month) => date(day.year(), month, 1 + (number % 12) as i8),
        };
        let admitted = random.day();
        let age = years(day, if has_one_day { one_day } else { admitted });
        let age = match errors {
            Errors::None => age,
            Errors::OneIn20 if random.below(20) > 0 => age,
            Errors::OneIn20 => age + 1 + random.below(3) as i16,
            Errors::All => 20 + random.below(60) as i16,
        };
        Row {
            cells: vec![
                format!("P{number}"),
                order.write(day, '/'),
                admitted.to_string(),
                age.to_string(),
            ],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["patient", "born", "admitted", "age"],
        declared: Vec::new(),
        column: "born",
    }
}
