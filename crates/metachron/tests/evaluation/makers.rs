//! Registers, made up with their troubles.

use super::random::Random;
use super::tables::{ORDERS, Order, Row, Table, Truth};
use jiff::ToSpan;
use jiff::civil::{Date, date};

pub fn plain(
    random: &mut Random,
    rows: u64,
    mut cell: impl FnMut(&mut Random, Date) -> String,
) -> Table {
    let rows = (0..rows).map(|number| {
        let day = random.day();
        Row {
            cells: vec![format!("K-{number}"), cell(random, day)],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["item", "date"],
        declared: Vec::new(),
        column: "date",
    }
}

pub fn one_order(random: &mut Random, rows: u64) -> Table {
    let (order, sign) = (random.pick(&ORDERS), random.pick(&['/', '-', '.']));
    plain(random, rows, |_, day| order.write(day, sign))
}

pub fn by_form(random: &mut Random) -> Table {
    let rows = 30 + random.below(300);
    let orders = [
        random.pick(&ORDERS),
        random.pick(&ORDERS),
        random.pick(&ORDERS),
    ];
    plain(random, rows, |random, day| {
        let form = random.below(3) as usize;
        orders[form].write(day, ['/', '-', '.'][form])
    })
}

pub fn two_digit_years(random: &mut Random) -> Table {
    let rows = 30 + random.below(300);
    let order = random.pick(&ORDERS);
    plain(random, rows, |_, day| {
        let text = order.write(day, '/');
        format!("{}{}", &text[..6], &text[8..])
    })
}

#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Decoys {
    None,
    Several,
}

const SITES: [&str; 6] = [
    "Odrava",
    "Veldhaven",
    "Kestrelby",
    "Fjordlund",
    "Brinehold",
    "Salten",
];

pub fn by_site(random: &mut Random, decoys: Decoys) -> Table {
    let rows = 40 + random.below(400);
    let count = 2 + random.below(5) as usize;
    let mut orders: Vec<Order> = (0..count).map(|_| random.pick(&ORDERS)).collect();
    orders[0] = Order::Dmy;
    orders[1] = Order::Mdy;
    let rows = (0..rows).map(|number| {
        // Some sites are rare.
        let site = (random
            .below(count as u64)
            .min(random.below(2 * count as u64))) as usize;
        let day = random.day();
        let mut cells = vec![
            format!("K-{number}"),
            SITES[site].to_owned(),
            orders[site].write(day, '/'),
        ];
        if decoys == Decoys::Several {
            cells.push(random.pick(&["air", "sea", "road"]).to_owned());
            // A country holds several sites, and is nobody's order.
            cells.push(["North", "South"][site % 2].to_owned());
            cells.push(format!("{}", random.below(9)));
            // One clerk a site, and one who is everywhere.
            cells.push(match random.below(5) {
                0 => "Pell".to_owned(),
                _ => format!("clerk of {}", SITES[site]),
            });
        }
        Row {
            cells,
            truth: Truth::Day(day),
        }
    });
    let mut header = vec!["item", "site", "date"];
    let rows = rows.collect();
    if decoys == Decoys::Several {
        header.extend(["by", "country", "shelf", "clerk"]);
    }
    Table {
        header,
        rows,
        declared: Vec::new(),
        column: "date",
    }
}

pub fn by_two_columns(random: &mut Random) -> Table {
    let rows = 100 + random.below(400);
    let rows = (0..rows).map(|number| {
        let (site, desk) = (random.below(2), random.below(2));
        let order = ORDERS[(site ^ desk) as usize];
        let day = random.day();
        Row {
            cells: vec![
                format!("K-{number}"),
                SITES[site as usize].to_owned(),
                ["front", "back"][desk as usize].to_owned(),
                order.write(day, '/'),
            ],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["item", "site", "desk", "date"],
        declared: Vec::new(),
        column: "date",
    }
}

const SHELVES: [&str; 12] = [
    "date", "a", "b", "c", "d", "e", "f", "g", "h", "i", "j", "k",
];

/// Every row has an order of its own, and no column knows it.
pub fn shuffled(random: &mut Random, rows: u64, columns: usize) -> Table {
    let mut orders = Vec::new();
    let rows = (0..rows).map(|_| {
        let day = random.day();
        let order = random.pick(&ORDERS);
        orders.push(order);
        let mut cells = vec![order.write(day, '/')];
        for column in 1..columns {
            cells.push(random.below(1 + column as u64).to_string());
        }
        Row {
            cells,
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: SHELVES[..columns].to_vec(),
        declared: Vec::new(),
        column: "date",
    }
    .hide_unshown(&orders)
}

#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Steps {
    Forwards,
    Backwards,
    WithSlips,
}

pub fn in_time(random: &mut Random, steps: Steps) -> Table {
    let count = 60 + random.below(400);
    let pace = 1 + random.below(6);
    let turn = random.below(count);
    let mut day = date(2021, 1, 1);
    let (mut rows, mut orders) = (Vec::new(), Vec::new());
    for number in 0..count {
        day += (random.below(pace + 1) as i64).days();
        let mut own = day;
        if steps == Steps::WithSlips && random.below(12) == 0 {
            own -= (random.below(90) as i64).days();
        }
        let order = match steps {
            Steps::Forwards if number < turn => Order::Dmy,
            Steps::Forwards => Order::Mdy,
            _ => random.pick(&ORDERS),
        };
        orders.push(order);
        rows.push(Row {
            cells: vec![order.write(own, '/'), random.below(30).to_string()],
            truth: Truth::Day(own),
        });
    }
    if steps == Steps::Backwards {
        rows.reverse();
        orders.reverse();
    }
    Table {
        header: vec!["date", "value"],
        rows,
        declared: Vec::new(),
        column: "date",
    }
    .hide_unshown(&orders)
}

/// Rows in no order, orders mixed, and a number that rises with time: but for slips, or
/// for nobody.
pub fn numbered(random: &mut Random, steps: Steps) -> Table {
    let before = random.pick(&["", "T-", "2024/"]);
    let mut table = in_time(random, steps);
    table.header = vec!["date", "ticket"];
    for (number, row) in table.rows.iter_mut().enumerate() {
        row.cells[1] = format!("{before}{}", 980 + 3 * number);
    }
    // In a random order, each row is as likely at each place.
    for row in (1..table.rows.len()).rev() {
        table.rows.swap(row, random.below(row as u64 + 1) as usize);
    }
    table
}

#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Mix {
    /// Each row has an order of its own.
    ByRow,
    /// One order, and no day past the 12th in it; other dates name the month.
    Early,
}

/// `early` of a hundred rows have a date before the other column's.
pub fn before(random: &mut Random, rows: u64, early: u64, mix: Mix) -> Table {
    let mut orders = Vec::new();
    let one = random.pick(&ORDERS);
    let rows = (0..rows).map(|_| {
        let out = random.day();
        let away = random.below(60) as i64;
        let back = if random.below(100) < early {
            out - away.days()
        } else {
            out + away.days()
        };
        let (order, text) = match mix {
            Mix::ByRow => {
                let order = random.pick(&ORDERS);
                (order, order.write(back, '/'))
            }
            Mix::Early if back.day() > 12 => (one, back.strftime("%d %B %Y").to_string()),
            Mix::Early => (one, one.write(back, '/')),
        };
        orders.push(order);
        Row {
            cells: vec![out.to_string(), text],
            truth: Truth::Day(back),
        }
    });
    let table = Table {
        rows: rows.collect(),
        header: vec!["out", "date"],
        declared: Vec::new(),
        column: "date",
    };
    match mix {
        Mix::ByRow => table.hide_unshown(&orders),
        Mix::Early => table,
    }
}

pub fn repeated_part(random: &mut Random, part: impl Fn(Date) -> String) -> Table {
    let rows = 30 + random.below(400);
    let mut orders = Vec::new();
    let rows = (0..rows).map(|_| {
        let day = random.day();
        let order = random.pick(&ORDERS);
        orders.push(order);
        Row {
            cells: vec![part(day), order.write(day, '/')],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["part", "date"],
        declared: Vec::new(),
        column: "date",
    }
    .hide_unshown(&orders)
}

/// How programs write dates again.
const BY_PROGRAMS: [&str; 7] = [
    "%Y-%m-%d",
    "%Y-%m-%d",
    "%Y-%m-%dT00:00:00",
    "%d %b %Y",
    "%d-%b-%y",
    "%B %-d, %Y",
    "%Y%m%d",
];

/// What a program that reads the other order leaves of a column: dates that
/// it can read are rewritten with day and month swapped, the others stay.
pub fn half_converted(random: &mut Random, rows: u64) -> Table {
    let (order, sign) = (random.pick(&ORDERS), random.pick(&['/', '-', '.']));
    let rewritten = random.pick(&BY_PROGRAMS);
    let table = plain(random, rows, |_, day| match day.day() {
        13.. => order.write(day, sign),
        _ => {
            let swapped = date(day.year(), day.day(), day.month());
            swapped.strftime(rewritten).to_string()
        }
    });
    // What the import left shows its order; where it left nothing, nothing
    // does.
    let orders = vec![order; table.rows.len()];
    table.hide_unshown(&orders)
}

/// Two registers in one: nothing is swapped.
pub fn two_sources(random: &mut Random) -> Table {
    let rows = 4 + random.below(200);
    let (order, other) = (random.pick(&ORDERS), random.pick(&BY_PROGRAMS));
    plain(random, rows, |random, day| match random.below(2) {
        0 => order.write(day, '/'),
        _ => day.strftime(other).to_string(),
    })
}

/// What looks like an import's damage by chance: payments on the first days of
/// months, among dates that all are past the 12th.
pub fn firsts_of_month(random: &mut Random) -> Table {
    let count = 10 + random.below(80);
    let first_days = 1 + random.below(3) as i8;
    let form = random.pick(&BY_PROGRAMS);
    let rows = (0..count).map(|number| {
        let day = random.day();
        let (text, truth) = match random.below(2) {
            0 => {
                let first = date(day.year(), day.month(), 1 + (day.day() % first_days));
                (first.strftime(form).to_string(), first)
            }
            _ => {
                let late = date(day.year(), day.month(), 13 + day.day() % 15);
                (Order::Dmy.write(late, '/'), late)
            }
        };
        Row {
            cells: vec![format!("K-{number}"), text],
            truth: Truth::Day(truth),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["item", "date"],
        declared: Vec::new(),
        column: "date",
    }
}

/// One cell in fifty has two digits the wrong way round, or the wrong order.
pub fn mistyped(random: &mut Random) -> Table {
    let mut table = one_order(random, 200);
    for row in &mut table.rows {
        if random.below(50) == 0 {
            let text = &row.cells[1];
            let turned: String = match random.below(2) {
                0 => format!("{}{}{}", &text[1..2], &text[0..1], &text[2..]),
                _ => format!(
                    "{}{}{}{}",
                    &text[3..5],
                    &text[2..3],
                    &text[0..2],
                    &text[5..]
                ),
            };
            if turned != *text {
                row.truth = Truth::False;
            }
            row.cells[1] = turned;
        }
    }
    table
}

pub fn noise(random: &mut Random) -> Table {
    let mut table = one_order(random, 150);
    for row in &mut table.rows {
        if random.below(8) == 0 {
            let junk = [
                "n/a",
                "",
                "-",
                "soon",
                "31/02/2024",
                "see K-12",
                "45",
                "0",
                "??",
            ];
            row.cells[1] = random.pick(&junk).to_owned();
            row.truth = Truth::Nothing;
        }
    }
    table
}

pub fn wrongly_declared(random: &mut Random) -> Table {
    let rows = 40 + random.below(200);
    let order = random.pick(&ORDERS);
    let mut table = plain(random, rows, |_, day| order.write(day, '/'));
    let said = match order.other() {
        Order::Dmy => "dmy",
        Order::Mdy => "mdy",
    };
    table.declared = vec!["--read-order".to_owned(), said.to_owned()];
    table
}

/// No day past the 12th, but in a row of another hand.
pub fn late_days(random: &mut Random) -> Table {
    let (rows, order) = (150 + random.below(350), random.pick(&ORDERS));
    let at = random.below(rows);
    let rows = (0..rows).map(|number| {
        let day = random.day();
        let (order, day) = if number == at {
            (
                order.other(),
                date(day.year(), day.month(), 13 + day.day() % 12),
            )
        } else {
            (order, date(day.year(), day.month(), 1 + day.day() % 12))
        };
        Row {
            cells: vec![format!("K-{number}"), order.write(day, '/')],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["item", "date"],
        declared: Vec::new(),
        column: "date",
    }
}

/// Two providers with a form each, of which one bills early in the month and one
/// late: what an import leaves looks the same.
pub fn by_provider(random: &mut Random) -> Table {
    let rows = 20 + random.below(200);
    let rows = (0..rows).map(|number| {
        let day = random.day();
        let (provider, day, text) = match random.below(2) {
            0 => {
                let day = date(day.year(), day.month(), 1 + day.day() % 12);
                ("Odrava", day, day.to_string())
            }
            _ => {
                let day = date(day.year(), day.month(), 13 + day.day() % 14);
                ("Salten", day, Order::Dmy.write(day, '/'))
            }
        };
        Row {
            cells: vec![format!("K-{number}"), provider.to_owned(), text],
            truth: Truth::Day(day),
        }
    });
    Table {
        rows: rows.collect(),
        header: vec!["item", "provider", "date"],
        declared: Vec::new(),
        column: "date",
    }
}
