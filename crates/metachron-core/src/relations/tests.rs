use super::*;
use crate::decide::{Decider, OwnReading, RowContext, Verdict};
use crate::form::Order;
use crate::rulings::{Rulings, TimeOrder};
use jiff::civil::{Date, date};
use jiff::{Span, ToSpan};
use proptest::prelude::*;

/// A table of `due`, `out` and `site`, whose column `due` is open.
struct Register {
    rows: Vec<[String; 3]>,
}

const RULINGS: &str = "metachron = 1
[column.due]
kind = \"date\"
read.forms = [[\"dd/MM/yyyy\", \"MM/dd/yyyy\"]]
[column.out]
kind = \"date\"
read.forms = [\"yyyy-MM-dd\"]";

fn compared(pairs: &[(usize, usize)]) -> ComparedColumns {
    ComparedColumns {
        columns: ["due", "out", "site"].map(str::to_owned).to_vec(),
        temporal: vec![0, 1],
        in_question: vec![InQuestion {
            number: 0,
            doubts: Doubts {
                is_open: true,
                is_mixed: true,
                ..Doubts::default()
            },
        }],
        pairs: pairs.to_vec(),
        ..ComparedColumns::default()
    }
}

fn written(day: Date, order: Order) -> String {
    let pattern = match order {
        Order::Dmy => "%d/%m/%Y",
        _ => "%m/%d/%Y",
    };
    day.strftime(pattern).to_string()
}

impl Register {
    /// `due` written by `order`, from the row's number, its day and its site.
    fn new(
        rows: usize,
        due: impl Fn(usize) -> Date,
        out: impl Fn(usize) -> Date,
        order: impl Fn(usize) -> Order,
    ) -> Register {
        let sites = ["Odrava", "Kestrelby", "Fjordlund"];
        let row = |number| {
            let due = written(due(number), order(number));
            [due, out(number).to_string(), sites[number % 3].to_owned()]
        };
        Register {
            rows: (0..rows).map(row).collect(),
        }
    }

    fn tally(
        &self,
        rows: std::ops::Range<usize>,
        compared: &ComparedColumns,
        left: &[SourcesLeft],
    ) -> Tally {
        let rulings = Rulings::from_toml(RULINGS).unwrap();
        let decider = |name| Decider::new(&rulings, name).unwrap().unwrap();
        let mut deciders = [decider("due"), decider("out")];
        let mut tally = Tally::by_sources(compared, left);
        // Without sources that are left, none is spared.
        let is_wanted = [0, 1].map(|number| left.is_empty() || tally.wants_reading(number));
        for row in &self.rows[rows] {
            let mut own_reading = |number: usize| {
                if !is_wanted[number] {
                    return OwnReading::Nothing(Verdict::Blank);
                }
                deciders[number].own_reading(&row[number], &RowContext::default())
            };
            tally.row(compared, &[own_reading(0), own_reading(1)], row);
        }
        tally
    }

    /// The tallies of the rows up to each of `splits`, merged.
    fn whole(&self, splits: &[usize], compared: &ComparedColumns, left: &[SourcesLeft]) -> Tally {
        let mut whole = Tally::by_sources(compared, left);
        let mut from = 0;
        for &to in splits.iter().chain([&self.rows.len()]) {
            whole.merge(self.tally(from..to, compared, left));
            whole.arrange();
            from = to;
        }
        whole.finish();
        whole
    }

    /// The ruling on `due`, and what it rests on, by the sources that are `left`.
    fn settled_by(
        &self,
        splits: &[usize],
        left: &[SourcesLeft],
    ) -> (ColumnRuling, Vec<Justification>) {
        let compared = compared(&[(1, 2)]);
        let whole = self.whole(splits, &compared, left);
        let reopened = due_ruling();
        let mut ruling = reopened.clone();
        let justifications = settle(&mut ruling, &reopened, &whole.columns[0], &compared);
        (ruling, justifications)
    }

    /// The same by all of them.
    fn settled(&self, splits: &[usize]) -> (ColumnRuling, Vec<Justification>) {
        self.settled_by(splits, &[])
    }

    /// The sources that the rows leave, where they are those of a larger table.
    fn sources_left(&self) -> SourcesLeft {
        let compared = compared(&[(1, 2)]);
        let whole = self.whole(&[], &compared, &[]);
        let ruling = due_ruling();
        sources_left(Some(&ruling), &ruling, &whole.columns[0], &compared)
    }
}

fn due_ruling() -> ColumnRuling {
    Rulings::from_toml(RULINGS).unwrap().column["due"].clone()
}

fn day(number: usize) -> Date {
    date(2024, 1, 2) + Span::new().days(number as i64)
}

fn scattered(number: usize) -> Date {
    day(number * 37 % 350)
}

#[test]
fn a_site_that_parts_the_orders_settles_them() {
    let order = |number: usize| [Order::Dmy, Order::Mdy, Order::Dmy][number % 3];
    let register = Register::new(150, scattered, scattered, order);
    let (ruling, justifications) = register.settled(&[]);
    let [FormRuling::ByGroup(group)] = &ruling.read.forms[..] else {
        panic!("{:?}", ruling.read.forms)
    };
    assert_eq!(group.by, ["site"]);
    assert_eq!(group.orders["Kestrelby"], Order::Mdy);
    assert_eq!(group.orders["Odrava"], Order::Dmy);
    assert!(matches!(
        justifications[0].found,
        Finding::Group { silent: 0, .. }
    ));
}

/// One cell against it, and the site tells nothing.
#[test]
fn a_site_with_cells_of_both_orders_settles_nothing() {
    let order = |number: usize| match number {
        99 => Order::Mdy,
        _ => [Order::Dmy, Order::Mdy, Order::Dmy][number % 3],
    };
    let due = |number| match number {
        99 => date(2024, 5, 25),
        _ => scattered(number),
    };
    let register = Register::new(150, due, |_| date(2023, 1, 1), order);
    let (ruling, _) = register.settled(&[]);
    assert!(matches!(ruling.read.forms[0], FormRuling::Open(_)));
}

#[test]
fn few_cells_part_by_chance() {
    let order = |number: usize| [Order::Dmy, Order::Mdy, Order::Dmy][number % 3];
    let register = Register::new(15, scattered, scattered, order);
    let (ruling, _) = register.settled(&[]);
    assert!(matches!(ruling.read.forms[0], FormRuling::Open(_)));
}

#[test]
fn rows_in_time_order_are_a_rule() {
    let order = |number: usize| if number < 80 { Order::Dmy } else { Order::Mdy };
    for (direction, number) in [(TimeOrder::Ascending, 1), (TimeOrder::Descending, -1)] {
        let due = |row: usize| date(2025, 1, 2).saturating_add((number * row as i64).days());
        let register = Register::new(160, due, |_| date(2023, 1, 1), order);
        let (ruling, justifications) = register.settled(&[]);
        assert_eq!(
            ruling.read.in_time_order,
            Some(direction),
            "{justifications:?}"
        );
    }
}

/// All days up to the 12th: no cell speaks, but none is before it went out.
#[test]
fn a_column_that_is_never_later_settles_a_silent_form() {
    let due = |number: usize| date(2024, 1 + (number % 12) as i8, 1 + (number * 5 % 12) as i8);
    let out = |number: usize| due(number).saturating_sub((number as i64 * 53 % 160).days());
    let mut register = Register::new(60, due, out, |_| Order::Dmy);
    // Some are known: their day is their month.
    for (number, row) in register.rows.iter_mut().enumerate().take(30) {
        let day = 1 + (number % 12) as i8;
        let both = date(2024, day, day);
        row[0] = written(both, Order::Dmy);
        row[1] = both.saturating_sub(2.days()).to_string();
    }
    let (ruling, justifications) = register.settled(&[]);
    assert!(
        matches!(&ruling.read.forms[0], FormRuling::Settled(form) if form.order() == Some(Order::Dmy)),
        "{:?} {justifications:?}",
        ruling.read
    );
    let Finding::Votes {
        hypothesis,
        premise,
        ..
    } = &justifications[0].found
    else {
        panic!("{justifications:?}")
    };
    assert_eq!(hypothesis.order(), Some(Order::Dmy));
    assert!(
        premise.sentence().contains("never before out"),
        "{}",
        premise.sentence()
    );
}

proptest! {
    /// A table in any number of parts is the table.
    #[test]
    fn parts_merged_are_the_whole(
        rows in 1..120_usize,
        mixed in prop::collection::vec(any::<bool>(), 120),
        ordered in any::<bool>(),
        mut splits in prop::collection::vec(0..120_usize, 0..5),
    ) {
        let order = |number: usize| if mixed[number] && !number.is_multiple_of(3) { Order::Mdy } else { Order::Dmy };
        let due = |number: usize| if ordered { day(number) } else { scattered(number) };
        let register = Register::new(rows, due, |number| due(number).saturating_sub(9.days()), order);
        splits.retain(|split| *split <= rows);
        splits.sort_unstable();
        prop_assert_eq!(register.settled(&splits), register.settled(&[]));
        // What is left to look for finds what all sources would.
        let left = [register.sources_left()];
        prop_assert_eq!(register.settled_by(&splits, &left), register.settled(&[]));
    }
}
