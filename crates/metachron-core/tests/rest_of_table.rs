//! What the rest of a table says for and against how a column is read.

use jiff::ToSpan;
use jiff::civil::{Date, date};
use metachron_core::engine::{
    BlockStart, Conversion, ConvertOptions, Engine, Page, Request, Rows, Settled, TextRows,
};
use proptest::prelude::*;

/// What a column has in a row, by its number and the true day.
type Write<'w> = dyn Fn(usize, Date) -> String + 'w;

/// A table, and the truth about its first column.
struct Case {
    columns: Vec<&'static str>,
    rows: Vec<Vec<String>>,
    truth: Vec<Date>,
}

const START: BlockStart = BlockStart { file: 0, line: 1 };

impl Case {
    /// `due` as `write` writes it, and other columns.
    fn new(
        days: impl IntoIterator<Item = Date>,
        write: impl Fn(usize, Date) -> String,
        others: &[(&'static str, &Write<'_>)],
    ) -> Case {
        let truth: Vec<Date> = days.into_iter().collect();
        let row = |(number, day): (usize, &Date)| {
            let others = others.iter().map(|(_, cell)| cell(number, *day));
            std::iter::once(write(number, *day)).chain(others).collect()
        };
        Case {
            columns: std::iter::once("due")
                .chain(others.iter().map(|(name, _)| *name))
                .collect(),
            rows: truth.iter().enumerate().map(row).collect(),
            truth,
        }
    }

    fn request(&self) -> Request {
        let now = "2026-11-28T00:00:00Z".parse().unwrap();
        Request::new(self.columns.iter().copied(), now)
    }

    fn settled(&self) -> Settled {
        let mut engine = Engine::new(self.request()).unwrap();
        while let Some(pass) = engine.next_pass() {
            let mut result = pass.start();
            // Blocks of any size give the same.
            let size = 37.min(self.rows.len());
            for (number, rows) in self.rows.chunks(size).enumerate() {
                let line = (number * size) as u64 + 1;
                let at = BlockStart { file: 0, line };
                result.add(pass.worker().block(at, TextRows::new(rows)));
            }
            engine.finish(pass, result).unwrap();
        }
        engine.into_settled()
    }

    /// How many cells of `due` are right, left open and wrong.
    fn score(&self) -> (usize, usize, usize) {
        let settled = self.settled();
        let options = ConvertOptions::nothing();
        let conversion = Conversion::new(&self.request(), &settled.rulings, options).unwrap();
        let mut worker = conversion.worker();
        worker.start(START);
        let (mut right, mut open, mut wrong) = (0, 0, 0);
        let mut truth = self.truth.iter();
        let mut rows = TextRows::new(&self.rows);
        while let Some(page) = rows.next_page() {
            for row in page.rows() {
                let row = worker.row(&row).unwrap();
                let text = row.out.cells[0].text(row.out.text);
                match truth.next().unwrap().to_string() {
                    true_text if text == true_text => right += 1,
                    _ if text.is_empty() => open += 1,
                    _ => wrong += 1,
                }
            }
        }
        (right, open, wrong)
    }

    fn why(&self) -> String {
        let settled = self.settled();
        let justifications = settled.columns[0].justifications.iter();
        let sentences: Vec<String> = justifications.map(|found| found.sentence()).collect();
        sentences.join("\n")
    }
}

fn day_first(_: usize, day: Date) -> String {
    day.strftime("%d/%m/%Y").to_string()
}

fn month_first(_: usize, day: Date) -> String {
    day.strftime("%m/%d/%Y").to_string()
}

fn month(_: usize, day: Date) -> String {
    day.month().to_string()
}

/// Days of 2024, in no order of time.
fn scattered(count: usize) -> impl Iterator<Item = Date> {
    (0..count).map(|number| date(2024, 1, 1) + ((number * 137 % 366) as i64).days())
}

/// The same, of days up to the twelfth that are not those of their month.
fn ambiguous(count: usize) -> impl Iterator<Item = Date> {
    scattered(count * 4)
        .filter(|day| day.day() <= 12 && day.day() != day.month())
        .take(count)
}

#[test]
fn a_part_of_the_date_settles_a_column_without_a_decisive_cell() {
    let parts: [(&str, &Write<'_>); 8] = [
        ("month", &month),
        ("Monat", &|_, day| {
            let names = ["Jan", "Feb", "März", "Apr", "Mai", "Juni", "Juli"];
            let names = [&names[..], &["Aug", "Sept", "Okt", "Nov", "Dez"]].concat();
            names[day.month() as usize - 1].to_owned()
        }),
        ("quarter", &|_, day| format!("Q{}", (day.month() + 2) / 3)),
        ("period", &|_, day| day.strftime("%Y-%m").to_string()),
        ("week", &|_, day| day.iso_week_date().week().to_string()),
        ("weekday", &|_, day| day.strftime("%A").to_string()),
        ("day no", &|_, day| day.day_of_year().to_string()),
        ("scan", &|number, day| {
            format!("scan_{}_{number}.tif", day.strftime("%Y%m%d"))
        }),
    ];
    for (name, part) in parts {
        for write in [day_first, month_first] {
            let case = Case::new(ambiguous(60), write, &[(name, part)]);
            assert_eq!(case.score(), (60, 0, 0), "{name}\n{}", case.why());
        }
    }
}

#[test]
fn rows_in_time_order_settle_a_column_without_a_decisive_cell() {
    let days = || (0..360).map(|number| date(2023, 1, 1) + (number * 2).days());
    let few = || days().filter(|day: &Date| day.day() <= 12);
    let month_first_without_zeros = |_: usize, day: Date| day.strftime("%-m/%-d/%Y").to_string();
    let ways: [fn(usize, Date) -> String; 2] = [day_first, month_first_without_zeros];
    for write in ways {
        let case = Case::new(few(), write, &[]);
        let rows = case.rows.len();
        assert_eq!(case.score(), (rows, 0, 0), "{}", case.why());
        let backwards: Vec<Date> = few().collect();
        let case = Case::new(backwards.into_iter().rev(), write, &[]);
        assert_eq!(case.score(), (rows, 0, 0), "{}", case.why());
    }
    let short = |_: usize, day: Date| day.strftime("%d/%m/%y").to_string();
    let case = Case::new(days(), short, &[]);
    assert_eq!(case.score(), (360, 0, 0), "{}", case.why());
}

/// Sorted as text, days stand first, and so does what would be the month: in one
/// year, and in years sorted so and set one after the other.
#[test]
fn rows_that_were_sorted_as_text_settle_nothing() {
    for years in 1..=4 {
        let in_year = |(number, day): (usize, Date)| {
            date(2020 + (number % years) as i16, day.month(), day.day())
        };
        let mut days: Vec<Date> = ambiguous(120).enumerate().map(in_year).collect();
        days.sort_by_key(|day| (day.year(), day.day(), day.month()));
        let case = Case::new(days, day_first, &[]);
        assert_eq!(case.score(), (0, 120, 0), "{years}\n{}", case.why());
    }
}

#[test]
fn one_slip_among_thousands_is_listed_and_hides_nothing() {
    let write = |number: usize, day: Date| match number {
        11 => "07/29/2024".to_owned(),
        _ => day_first(number, day),
    };
    let days = |rows: usize| {
        let days = scattered(rows).enumerate();
        days.map(|(number, day)| match number {
            11 => date(2024, 7, 29),
            _ => day,
        })
    };
    // The slip waits with the reason, and is not read in another order.
    assert_eq!(Case::new(days(3000), write, &[]).score(), (2999, 1, 0));
    let (right, open, wrong) = Case::new(days(300), write, &[]).score();
    assert_eq!((right < 200, open > 100, wrong), (true, true, 0));
}

/// The first days of a December by month, at the head of a file that writes the
/// day first; or the twelfth of each month.
#[test]
fn rows_on_the_same_day_of_each_month_are_asked_about() {
    let head = || (1..12).map(|day| date(2023, 12, day));
    let rest = || (0..200).map(|number| date(2024, 1, 1) + (number * 2).days());
    let write = |number: usize, day: Date| match number < 11 {
        true => month_first(number, day),
        false => day_first(number, day),
    };
    let case = Case::new(head().chain(rest()), write, &[]);
    assert_eq!(case.score().2, 0, "{}", case.why());
    // By their place in time, all are settled but the head.
    assert_eq!(case.settled().columns[0].cells.open, 11);
    assert!(
        case.why().contains("on day 12, of 11 months"),
        "{}",
        case.why()
    );
    // Bills of the first of each month, and a column of one day.
    let firsts = (1..12).map(|month| date(2023, month, 1));
    let case = Case::new(firsts.chain(rest()), day_first, &[]);
    assert_eq!(case.score(), (211, 0, 0), "{}", case.why());
    let tenths = (0..20).flat_map(|year| (1..12).map(move |month| date(2003 + year, month, 10)));
    let case = Case::new(tenths.chain(rest()), day_first, &[]);
    let rows = case.rows.len();
    assert_eq!(case.score().2, 0, "{rows} rows: {}", case.why());
}

/// Days of a workbook that counts from 1900, or from 1904.
fn workbook_day(origin: Date) -> impl Fn(usize, Date) -> String {
    move |_, day| (day - origin).get_days().to_string()
}

#[test]
fn a_date_or_a_year_says_what_workbook_days_count_from() {
    let iso = |_: usize, day: Date| day.to_string();
    let year = |_: usize, day: Date| day.year().to_string();
    let later = |number: usize, day: Date| (day + ((number % 4) as i64).days()).to_string();
    let others: [(&str, &Write<'_>); 3] = [("out", &iso), ("year", &year), ("back", &later)];
    let days = || (0..90).map(|number| date(2019, 1, 1) + (number * 37 % 1400).days());
    for origin in [date(1899, 12, 30), date(1904, 1, 1)] {
        for other in others {
            let mut case = Case::new(days(), workbook_day(origin), &[other]);
            case.columns[0] = "due date";
            assert_eq!(
                case.score(),
                (90, 0, 0),
                "{origin}, {}: {}",
                other.0,
                case.why()
            );
        }
        // Without them, the name alone does not.
        let mut case = Case::new(days(), workbook_day(origin), &[]);
        case.columns[0] = "due date";
        assert_eq!(case.score(), (0, 90, 0), "{origin}");
    }
    // Four years later would lie ahead.
    let days = (0..90).map(|number| date(2023, 1, 1) + (number * 37 % 1400).days());
    let mut case = Case::new(days, workbook_day(date(1899, 12, 30)), &[]);
    case.columns[0] = "due date";
    assert_eq!(case.score(), (90, 0, 0));
}

/// Three cells of one site that only another order can read are no slips: the
/// site's other cells go by them.
#[test]
fn slips_of_one_site_are_its_order() {
    let theirs = [(1, 20), (3, 25), (5, 17), (3, 4), (9, 7)];
    let their_day = |number: usize| {
        let (month, day) = theirs[number / 900];
        date(2024, month, day)
    };
    let is_theirs = |number: usize| number % 900 == 7;
    let days = scattered(4000).enumerate();
    let days = days.map(|(number, day)| match is_theirs(number) {
        true => their_day(number),
        false => day,
    });
    let write = |number: usize, day: Date| match is_theirs(number) {
        true => month_first(number, day),
        false => day_first(number, day),
    };
    let site = |number: usize, _: Date| match is_theirs(number) {
        true => "Kestrelby".to_owned(),
        false => ["Odrava", "Salten"][number % 2].to_owned(),
    };
    let case = Case::new(days, write, &[("site", &site)]);
    assert_eq!(case.score(), (4000, 0, 0), "{}", case.why());
}

/// The numbers are the months of one order and the days of the other.
#[test]
fn numbers_that_may_be_months_or_days_settle_nothing() {
    let case = Case::new(ambiguous(60), month_first, &[("no", &month)]);
    assert_eq!(case.score(), (0, 60, 0), "{}", case.why());
    let day = |_: usize, day: Date| day.day().to_string();
    let case = Case::new(ambiguous(60), month_first, &[("day", &day)]);
    assert_eq!(case.score(), (60, 0, 0), "{}", case.why());
}

#[test]
fn a_month_column_speaks_against_what_decisive_cells_settled() {
    // Every tenth row was written by somebody else, and none of theirs has a
    // day past the twelfth.
    let write = |number: usize, day: Date| match number % 10 {
        3 if day.day() <= 12 => month_first(number, day),
        _ => day_first(number, day),
    };
    let name = |_: usize, day: Date| day.strftime("%B").to_string();
    let case = Case::new(scattered(200), write, &[("month", &name)]);
    assert_eq!(case.score(), (200, 0, 0), "{}", case.why());
    assert!(case.why().starts_with("month repeats its month (200 rows"));
}

#[test]
fn cells_that_no_witness_speaks_of_keep_the_order_of_the_rest_where_few_differ() {
    let write = |number: usize, day: Date| match number {
        700 => "05/03/2024".to_owned(),
        _ => day_first(number, day),
    };
    let days = scattered(1200)
        .enumerate()
        .map(|(number, day)| match number {
            700 => date(2024, 5, 3),
            _ => day,
        });
    let month = |number: usize, day: Date| match number % 2 {
        0 => month(number, day),
        _ => String::new(),
    };
    let case = Case::new(days, write, &[("month", &month)]);
    assert_eq!(case.score(), (1200, 0, 0), "{}", case.why());
}

#[test]
fn witnesses_that_contradict_each_other_settle_nothing() {
    let swapped = |_: usize, day: Date| day.day().to_string();
    let others: [(&str, &Write<'_>); 2] = [("month", &month), ("report month", &swapped)];
    let case = Case::new(ambiguous(60), day_first, &others);
    assert_eq!(case.score(), (0, 60, 0), "{}", case.why());
}

#[test]
fn a_witness_with_noise_settles_nothing() {
    let noisy = |number: usize, day: Date| match number % 20 {
        7 => (day.month() % 12 + 1).to_string(),
        _ => month(number, day),
    };
    let case = Case::new(ambiguous(80), day_first, &[("month", &noisy)]);
    assert_eq!(case.score(), (0, 80, 0), "{}", case.why());
}

/// A third of the rows is of another hand, and one in twenty of the months is
/// wrong: no cell is proven, and what decisive cells settled is not certain.
#[test]
fn a_witness_with_noise_opens_what_it_speaks_against() {
    let is_other = |number: usize, day: Date| number.is_multiple_of(3) && day.day() <= 12;
    let two_hands = move |number: usize, day: Date| match is_other(number, day) {
        true => month_first(number, day),
        false => day_first(number, day),
    };
    let noisy = |number: usize, day: Date| match number % 20 {
        7 => (day.month() % 12 + 1).to_string(),
        _ => month(number, day),
    };
    let days: Vec<Date> = scattered(300).collect();
    let case = Case::new(days.clone(), two_hands, &[("month", &noisy)]);
    let (_, open, wrong) = case.score();
    assert_eq!((open > 80, wrong), (true, 0), "{}", case.why());
    // The same noise where one hand wrote all of them opens nothing.
    let case = Case::new(days, day_first, &[("month", &noisy)]);
    assert_eq!(case.score(), (300, 0, 0), "{}", case.why());
}

/// One cell with a day past the twelfth among 400 that have none; a file of the
/// first days of a month; and rows on few days of each month.
#[test]
fn too_few_late_days_settle_nothing() {
    let slip = |number: usize, day: Date| match number {
        77 => "05/23/2023".to_owned(),
        _ => day_first(number, day),
    };
    let days = ambiguous(400).enumerate();
    let days = days.map(|(number, day)| match number {
        77 => date(2023, 5, 23),
        _ => day,
    });
    let case = Case::new(days, slip, &[]);
    let (_, open, wrong) = case.score();
    assert_eq!((open > 300, wrong), (true, 0), "{}", case.why());

    let first_half = (0..400).map(|number| date(2024, 3, 1 + (number * 5 % 14) as i8));
    let case = Case::new(first_half, month_first, &[]);
    assert_eq!(case.score(), (400, 0, 0), "{}", case.why());

    let pay_days = (0..400).map(|number| {
        let day = if number % 97 == 5 { 28 } else { 1 };
        date(
            2023 + (number / 200) as i16,
            1 + (number * 5 % 12) as i8,
            day,
        )
    });
    let case = Case::new(pay_days, day_first, &[]);
    assert_eq!(case.score(), (400, 0, 0), "{}", case.why());
}

#[test]
fn a_steady_distance_settles_orders() {
    let due_in = |days: i64| move |_: usize, day: Date| (day - days.days()).to_string();
    let (same, month) = (due_in(0), due_in(30));
    for (case, name) in [
        (
            Case::new(ambiguous(60), day_first, &[("iso", &same)]),
            "the same",
        ),
        (
            Case::new(ambiguous(60), month_first, &[("out", &month)]),
            "30 days",
        ),
    ] {
        assert_eq!(case.score(), (60, 0, 0), "{name}\n{}", case.why());
    }
    let both = |number: usize, day: Date| match number % 2 {
        0 => day_first(number, day),
        _ => month_first(number, day),
    };
    let case = Case::new(scattered(120), both, &[("out", &month)]);
    assert_eq!(case.score(), (120, 0, 0), "{}", case.why());
    assert!(
        case.why().contains("it is always 30 days after out"),
        "{}",
        case.why()
    );
    let some = |number: usize, day: Date| (day - ((number % 5) as i64).days()).to_string();
    let case = Case::new(ambiguous(60), day_first, &[("out", &some)]);
    assert_eq!(case.score(), (60, 0, 0), "{}", case.why());
}

/// A late return is no proof of another order.
#[test]
fn a_few_rows_beyond_the_usual_distance_do_not_reopen_a_column() {
    let out = |number: usize, day: Date| {
        let days = if number % 50 == 9 {
            150
        } else {
            (number % 28) as i64
        };
        (day - days.days()).to_string()
    };
    let case = Case::new(scattered(600), day_first, &[("out", &out)]);
    assert_eq!(case.score(), (600, 0, 0), "{}", case.why());
}

#[test]
fn a_site_that_never_has_a_late_day_is_asked_about() {
    let site = |number: usize, _: Date| ["Odrava", "Kestrelby", "Fjordlund"][number % 3].to_owned();
    let write = |number: usize, day: Date| match number % 3 {
        1 => month_first(number, day),
        _ => day_first(number, day),
    };
    // Kestrelby's days are up to the twelfth, of every month.
    let days = || {
        let ambiguous: Vec<Date> = ambiguous(50).collect();
        let days = scattered(150).enumerate();
        days.map(move |(number, day)| match number % 3 {
            1 => ambiguous[number / 3],
            _ => day,
        })
    };
    let case = Case::new(days(), write, &[("site", &site)]);
    let (_, open, wrong) = case.score();
    assert_eq!((open, wrong), (50, 0), "{}", case.why());
    assert!(
        case.why().starts_with("by site: Kestrelby (50 cells)"),
        "{}",
        case.why()
    );
}

/// Bills of the first days of months, and the batches of a week.
#[test]
fn groups_that_something_explains_are_not_asked_about() {
    let firsts = |number: usize| date(2024, (number % 12) as i8 + 1, (number % 2) as i8 + 1);
    let site = |number: usize, _: Date| ["Odrava", "Kestrelby"][number % 2].to_owned();
    let days = scattered(150)
        .enumerate()
        .map(|(number, day)| match number % 2 {
            1 => firsts(number / 2),
            _ => day,
        });
    let case = Case::new(days, day_first, &[("site", &site)]);
    assert_eq!(case.score(), (150, 0, 0), "{}", case.why());

    let batch = |number: usize, _: Date| format!("batch {}", number / 20);
    let days = (0..400).map(|number| date(2024, 1, 1) + (number as i64 * 9 / 10).days());
    let case = Case::new(days, day_first, &[("batch", &batch)]);
    assert_eq!(case.score(), (400, 0, 0), "{}", case.why());
}

/// One value of the group column in every row.
#[test]
fn a_group_of_one_row_is_none() {
    let id = |number: usize, _: Date| number.to_string();
    let case = Case::new(scattered(100), day_first, &[("id", &id)]);
    assert_eq!(case.score(), (100, 0, 0), "{}", case.why());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    /// Columns that have nothing to do with the dates settle nothing, and
    /// speak against nothing.
    #[test]
    fn decoys_say_nothing(
        seeds in proptest::collection::vec((0..366i64, 1..13u8, 0..4usize, 0..800i64), 20..200),
        is_late in any::<bool>(),
    ) {
        let days: Vec<Date> = seeds
            .iter()
            .map(|(day, ..)| date(2024, 1, 1) + day.days())
            .filter(|day| is_late || day.day() <= 12)
            .collect();
        let number = |number: usize, _: Date| seeds[number].1.to_string();
        let site = |number: usize, _: Date| ["a", "b", "c", "d"][seeds[number].2].to_owned();
        let other = |number: usize, _: Date| (date(2024, 1, 1) + seeds[number].3.days()).to_string();
        let others: [(&str, &Write<'_>); 3] =
            [("month", &number), ("site", &site), ("other", &other)];
        let case = Case::new(days, day_first, &others);
        let (right, open, wrong) = case.score();
        prop_assert_eq!(wrong, 0, "{}", case.why());
        let settles = case.truth.iter().any(|day| day.day() > 12);
        // One random site in ten thousand tables is doubted by chance.
        let is_doubted = case.why().starts_with("by site");
        prop_assert!(!settles || open == 0 || is_doubted, "{right} right, {}", case.why());
    }

    /// Whoever wrote a row, a month column of so many rows leaves no cell wrong.
    #[test]
    fn a_month_column_leaves_no_cell_wrong(
        seeds in proptest::collection::vec((0..366i64, any::<bool>()), 60..200),
    ) {
        let write = |number: usize, day: Date| match seeds[number].1 {
            true => day_first(number, day),
            false => month_first(number, day),
        };
        let days = seeds.iter().map(|(day, _)| date(2024, 1, 1) + day.days());
        let case = Case::new(days, write, &[("month", &month)]);
        prop_assert_eq!(case.score().2, 0, "{}", case.why());
    }
}
