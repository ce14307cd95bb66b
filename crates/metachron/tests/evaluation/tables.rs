//! Made-up tables whose truth is known: the registers that the evaluation
//! tries Metachron on.
//!
//! Each [`Case`] is one sort of trouble, or of decoy. A table of it has a
//! column `date` to be read, what it truly says, and columns that help,
//! mislead or do nothing.

use jiff::ToSpan;
use jiff::civil::{Date, date};

/// A table, and the truth about its column `date`.
pub struct Table {
    pub header: Vec<&'static str>,
    pub rows: Vec<Row>,
    /// What the user says about it, on the command line.
    pub declared: Vec<String>,
}

/// A row, and what its cell of the column `date` truly says.
pub struct Row {
    pub cells: Vec<String>,
    pub truth: Truth,
}

/// What a cell truly says.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Truth {
    /// This day.
    Day(Date),
    /// Nothing: it is blank, or no date at all.
    Nothing,
    /// The source itself is false: the day was mistyped. Whatever comes out,
    /// nobody could know.
    False,
    /// This day, in an order that no cell of the table shows by itself: of a
    /// register that mixes two, the few cells of the second all have days up
    /// to the 12th.
    Unshown(Date),
}

/// A sort of table.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Case {
    OneOrder,
    FewRows,
    ByForm,
    TwoDigitYears,
    BySite,
    BySiteWithDecoys,
    ByTwoColumns,
    ByChance,
    Shuffled,
    InTimeOrder,
    AgainstTime,
    AlmostInOrder,
    OutBeforeBack,
    OutBeforeBackSilent,
    MostlyBefore,
    MostlyBeforeSilent,
    MonthBeside,
    WeekdayBeside,
    HalfConverted,
    HalfConvertedFew,
    TwoSources,
    FirstsOfMonth,
    Mistyped,
    Noise,
    WronglyDeclared,
}

impl Case {
    pub const ALL: [Case; 25] = [
        Case::OneOrder,
        Case::FewRows,
        Case::ByForm,
        Case::TwoDigitYears,
        Case::BySite,
        Case::BySiteWithDecoys,
        Case::ByTwoColumns,
        Case::ByChance,
        Case::Shuffled,
        Case::InTimeOrder,
        Case::AgainstTime,
        Case::AlmostInOrder,
        Case::OutBeforeBack,
        Case::OutBeforeBackSilent,
        Case::MostlyBefore,
        Case::MostlyBeforeSilent,
        Case::MonthBeside,
        Case::WeekdayBeside,
        Case::HalfConverted,
        Case::HalfConvertedFew,
        Case::TwoSources,
        Case::FirstsOfMonth,
        Case::Mistyped,
        Case::Noise,
        Case::WronglyDeclared,
    ];

    /// The case in words.
    pub fn words(self) -> &'static str {
        match self {
            Case::OneOrder => "one order throughout",
            Case::FewRows => "one order, 3 to 12 rows",
            Case::ByForm => "an order for each separator",
            Case::TwoDigitYears => "one order, two-digit years",
            Case::BySite => "an order for each site",
            Case::BySiteWithDecoys => "the same, among columns that part by chance",
            Case::ByTwoColumns => "an order for each site and desk together",
            Case::ByChance => "orders mixed at random, few rows, many columns",
            Case::Shuffled => "orders mixed at random",
            Case::InTimeOrder => "rows in time order, the order changes",
            Case::AgainstTime => "rows against time, orders mixed",
            Case::AlmostInOrder => "rows mostly in time order, orders mixed",
            Case::OutBeforeBack => "orders mixed, never before another column",
            Case::OutBeforeBackSilent => "no day past 12, never before another column",
            Case::MostlyBefore => "orders mixed, mostly not before another column",
            Case::MostlyBeforeSilent => "no day past 12, mostly not before another",
            Case::MonthBeside => "orders mixed, the month in another column",
            Case::WeekdayBeside => "orders mixed, the weekday in another column",
            Case::HalfConverted => "half-converted by an import",
            Case::HalfConvertedFew => "the same, 4 to 16 rows",
            Case::TwoSources => "ISO dates beside another form, nothing converted",
            Case::FirstsOfMonth => "ISO firsts of months beside days past 12",
            Case::Mistyped => "one order, one cell in 50 mistyped",
            Case::Noise => "one order, junk and blanks between",
            Case::WronglyDeclared => "the wrong order declared",
        }
    }

    /// A table of this sort.
    pub fn table(self, random: &mut Random) -> Table {
        match self {
            Case::OneOrder => {
                let rows = 20 + random.below(400);
                one_order(random, rows)
            }
            Case::FewRows => {
                let rows = 3 + random.below(10);
                one_order(random, rows)
            }
            Case::ByForm => by_form(random),
            Case::TwoDigitYears => two_digit_years(random),
            Case::BySite => by_site(random, Decoys::None),
            Case::BySiteWithDecoys => by_site(random, Decoys::Several),
            Case::ByTwoColumns => by_two_columns(random),
            Case::ByChance => {
                let rows = 8 + random.below(40);
                shuffled(random, rows, 12)
            }
            Case::Shuffled => {
                let rows = 100 + random.below(600);
                shuffled(random, rows, 4)
            }
            Case::InTimeOrder => in_time(random, Steps::Forwards),
            Case::AgainstTime => in_time(random, Steps::Backwards),
            Case::AlmostInOrder => in_time(random, Steps::WithSlips),
            Case::OutBeforeBack => {
                let rows = 60 + random.below(500);
                before(random, rows, 0, Mix::ByRow)
            }
            Case::OutBeforeBackSilent => {
                let rows = 40 + random.below(100);
                before(random, rows, 0, Mix::Early)
            }
            Case::MostlyBefore => {
                let (rows, early) = (60 + random.below(2000), 1 + random.below(3));
                before(random, rows, early, Mix::ByRow)
            }
            Case::MostlyBeforeSilent => {
                let (rows, early) = (40 + random.below(200), 1 + random.below(5));
                before(random, rows, early, Mix::Early)
            }
            Case::MonthBeside => beside(random, |day| day.strftime("%B").to_string()),
            Case::WeekdayBeside => beside(random, |day| day.strftime("%a").to_string()),
            Case::HalfConverted => {
                let rows = 30 + random.below(400);
                half_converted(random, rows)
            }
            Case::HalfConvertedFew => {
                let rows = 4 + random.below(13);
                half_converted(random, rows)
            }
            Case::TwoSources => two_sources(random),
            Case::FirstsOfMonth => firsts_of_month(random),
            Case::Mistyped => mistyped(random),
            Case::Noise => noise(random),
            Case::WronglyDeclared => wrongly_declared(random),
        }
    }
}

/// Numbers that look random and are the same in every run.
pub struct Random(u64);

impl Random {
    pub fn new(seed: u64) -> Random {
        Random(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1)
    }

    pub fn below(&mut self, end: u64) -> u64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % end
    }

    fn pick<T: Copy>(&mut self, from: &[T]) -> T {
        from[self.below(from.len() as u64) as usize]
    }

    fn day(&mut self) -> Date {
        let years = 1 + self.below(4) as i64;
        self.day_within(years * 365)
    }

    fn day_within(&mut self, days: i64) -> Date {
        date(2021, 1, 1) + (self.below(days as u64) as i64).days()
    }
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Order {
    Dmy,
    Mdy,
}

const ORDERS: [Order; 2] = [Order::Dmy, Order::Mdy];

impl Order {
    fn other(self) -> Order {
        match self {
            Order::Dmy => Order::Mdy,
            Order::Mdy => Order::Dmy,
        }
    }

    fn write(self, day: Date, sign: char) -> String {
        match self {
            Order::Dmy => format!(
                "{:02}{sign}{:02}{sign}{}",
                day.day(),
                day.month(),
                day.year()
            ),
            Order::Mdy => format!(
                "{:02}{sign}{:02}{sign}{}",
                day.month(),
                day.day(),
                day.year()
            ),
        }
    }
}

impl Table {
    /// Marks the cells of orders that no cell of the table shows. `orders`
    /// are those of the rows.
    fn hide_unshown(mut self, orders: &[Order]) -> Table {
        let shows = |order: Order| {
            let mut rows = self.rows.iter().zip(orders);
            rows.any(|(row, own)| {
                matches!(row.truth, Truth::Day(day) if day.day() > 12) && *own == order
            })
        };
        let hidden: Vec<bool> = orders.iter().map(|&order| !shows(order)).collect();
        for (row, _) in self
            .rows
            .iter_mut()
            .zip(hidden)
            .filter(|(_, hidden)| *hidden)
        {
            if let Truth::Day(day) = row.truth {
                row.truth = Truth::Unshown(day);
            }
        }
        self
    }
}

fn plain(
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
    }
}

fn one_order(random: &mut Random, rows: u64) -> Table {
    let (order, sign) = (random.pick(&ORDERS), random.pick(&['/', '-', '.']));
    plain(random, rows, |_, day| order.write(day, sign))
}

fn by_form(random: &mut Random) -> Table {
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

fn two_digit_years(random: &mut Random) -> Table {
    let rows = 30 + random.below(300);
    let order = random.pick(&ORDERS);
    plain(random, rows, |_, day| {
        let text = order.write(day, '/');
        format!("{}{}", &text[..6], &text[8..])
    })
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Decoys {
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

fn by_site(random: &mut Random, decoys: Decoys) -> Table {
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
    }
}

fn by_two_columns(random: &mut Random) -> Table {
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
    }
}

const SHELVES: [&str; 12] = [
    "date", "a", "b", "c", "d", "e", "f", "g", "h", "i", "j", "k",
];

/// Every row has an order of its own, and no column knows it.
fn shuffled(random: &mut Random, rows: u64, columns: usize) -> Table {
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
    }
    .hide_unshown(&orders)
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Steps {
    Forwards,
    Backwards,
    WithSlips,
}

fn in_time(random: &mut Random, steps: Steps) -> Table {
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
    }
    .hide_unshown(&orders)
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Mix {
    /// Each row has an order of its own.
    ByRow,
    /// One order, and no day past the 12th in it; other dates name the month.
    Early,
}

/// `early` of a hundred rows have a date before the other column's.
fn before(random: &mut Random, rows: u64, early: u64, mix: Mix) -> Table {
    let mut orders = Vec::new();
    let one = random.pick(&ORDERS);
    let rows = (0..rows).map(|_| {
        let out = random.day();
        let away = random.below(60) as i64;
        let back = match random.below(100) < early {
            true => out - away.days(),
            false => out + away.days(),
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
    };
    match mix {
        Mix::ByRow => table.hide_unshown(&orders),
        Mix::Early => table,
    }
}

fn beside(random: &mut Random, part: impl Fn(Date) -> String) -> Table {
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
    }
    .hide_unshown(&orders)
}

/// What a program that reads the other order leaves of a column: dates that
/// it can read are written anew with day and month exchanged, the others stay.
fn half_converted(random: &mut Random, rows: u64) -> Table {
    let (order, sign) = (random.pick(&ORDERS), random.pick(&['/', '-', '.']));
    let table = plain(random, rows, |_, day| match day.day() {
        13.. => order.write(day, sign),
        _ => format!("{}-{:02}-{:02}", day.year(), day.day(), day.month()),
    });
    // What the import left shows its order; where it left nothing, nothing
    // does.
    let orders = vec![order; table.rows.len()];
    table.hide_unshown(&orders)
}

/// Two registers in one: nothing is exchanged.
fn two_sources(random: &mut Random) -> Table {
    let rows = 4 + random.below(200);
    let order = random.pick(&ORDERS);
    plain(random, rows, |random, day| match random.below(2) {
        0 => order.write(day, '/'),
        _ => day.to_string(),
    })
}

/// What looks like an import's damage by chance: payments on the first days of
/// months, beside dates that all are past the 12th.
fn firsts_of_month(random: &mut Random) -> Table {
    let count = 10 + random.below(80);
    let first_days = 1 + random.below(3) as i8;
    let rows = (0..count).map(|number| {
        let day = random.day();
        let (text, truth) = match random.below(2) {
            0 => {
                let first = date(day.year(), day.month(), 1 + (day.day() % first_days));
                (first.to_string(), first)
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
    }
}

/// One cell in fifty has two digits the wrong way round, or the wrong order.
fn mistyped(random: &mut Random) -> Table {
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

fn noise(random: &mut Random) -> Table {
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

fn wrongly_declared(random: &mut Random) -> Table {
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
