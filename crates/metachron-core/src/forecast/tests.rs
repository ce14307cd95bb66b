use super::*;
use crate::evidence::{ColumnOptions, Surveyor};
use crate::form::Order;
use crate::rulings::Rulings;
use crate::settle::{Declared, settle};
use jiff::civil::date;

const TODAY: Date = date(2026, 11, 23);

fn evidence_with(options: ColumnOptions, cells: &[&str]) -> ColumnEvidence {
    let column_options = [options];
    let mut surveyor = Surveyor::new(&column_options);
    for cell in cells {
        surveyor.cell(0, cell);
        surveyor.end_row();
    }
    surveyor.take().columns.remove(0)
}

fn evidence(cells: &[&str]) -> ColumnEvidence {
    evidence_with(ColumnOptions::default(), cells)
}

/// The forecast on a column called `due`, settled from its own cells.
fn forecast(cells: &[&str], declared: &Declared) -> ColumnForecast {
    let evidence = evidence(cells);
    match settle("due", &evidence, declared, TODAY) {
        Ok(ruling) => forecast_column("due", &evidence, &ruling, &Default::default(), TODAY),
        Err(reason) => pass("due", &evidence, &reason, &SayingColumns::default(), TODAY),
    }
}

fn own(cells: &[&str]) -> ColumnForecast {
    forecast(cells, &Declared::default())
}

#[test]
fn what_each_decision_rests_on() {
    let dmy = Declared {
        order: Some(Order::Dmy),
        ..Declared::default()
    };
    for (cells, declared, rest) in [
        (&["2024-03-05"][..], &Declared::default(), Rest::OneWay),
        (
            &["31/12/2024", "05/06/2024"],
            &Declared::default(),
            Rest::Cells,
        ),
        (&["05/06/2024"], &Declared::default(), Rest::NothingSettles),
        (
            &["31/12/2024", "12/31/2024"],
            &Declared::default(),
            Rest::Clash,
        ),
        (&["05/06/2024"], &dmy, Rest::Declared),
        (&["12/31/2024"], &dmy, Rest::Declared),
    ] {
        assert_eq!(
            forecast(cells, declared).forms[0].rests_on,
            rest,
            "{cells:?}"
        );
    }
}

#[test]
fn witnesses_are_the_first_decisive_cells() {
    let clash = own(&["05/06/2024", "31/12/2024", "12/30/2024", "12/31/2024"]);
    let orders: Vec<(Order, u64, Option<u64>)> = clash.forms[0]
        .orders
        .iter()
        .map(|order| {
            let row = order.witness.as_ref().map(|witness| witness.row);
            (order.order, order.only, row)
        })
        .collect();
    assert_eq!(orders, [(Order::Dmy, 1, Some(1)), (Order::Mdy, 2, Some(2))]);
    assert_eq!(clash.forms[0].ambiguous, 1);
}

#[test]
fn an_order_question_shows_every_answer() {
    let column = own(&["05/06/2024", "31/12/2024", "12/31/2024", "07/08/2024"]);
    let [question] = &column.questions[..] else {
        panic!("one question: {:?}", column.questions);
    };
    assert_eq!(question.topic, Topic::Order);
    assert_eq!(question.cells, 2);
    assert_eq!(question.example.row, 0);
    let [dmy, mdy] = &question.answers[..] else {
        panic!("two answers: {:?}", question.answers);
    };
    // One cell each can only have the other order: it keeps that.
    assert_eq!(dmy.set, "due.read.otherwise=dmy");
    assert_eq!(dmy.option, "--set 'due.read.otherwise=dmy'");
    assert_eq!(dmy.reads_as, "5 June 2024");
    assert_eq!((dmy.converts, dmy.contradicted_by), (2, 0));
    assert_eq!(mdy.reads_as, "6 May 2024");
    assert_eq!((mdy.converts, mdy.contradicted_by), (2, 0));
    // Without such a cell, the order of all is said.
    let column = own(&["05/06/2024", "07/08/2024"]);
    let dmy = &column.questions[0].answers[0];
    assert_eq!(dmy.set, "due.read.order=dmy");
    assert_eq!(dmy.option, "--read-order dmy");
}

#[test]
fn following_an_answer_converts_what_it_said() {
    let cells = ["05/06/2024", "07/08/2024", "soon"];
    let before = own(&cells);
    for answer in &before.questions[0].answers {
        let evidence = evidence(&cells);
        let ruling = settle("due", &evidence, &Declared::default(), TODAY).unwrap();
        let mut rulings = Rulings::new(Default::default());
        rulings.column.insert("due".to_owned(), ruling);
        let set = rulings
            .with_settings(&[answer.set.parse().unwrap()])
            .unwrap();
        if answer.is_text() {
            assert!(set.column.is_empty());
            assert_eq!(set.table.text_columns, ["due"]);
            continue;
        }
        let after = forecast_column(
            "due",
            &evidence,
            &set.column["due"],
            &Default::default(),
            TODAY,
        );
        assert!(after.questions.is_empty());
        assert_eq!(after.cells.open, 0);
        assert_eq!(
            after.cells.converted(),
            before.cells.converted() + answer.converts - answer.contradicted_by
        );
        assert_eq!(
            after.cells.unreadable,
            before.cells.unreadable + answer.contradicted_by
        );
    }
}

#[test]
fn settings_quote_names_that_need_it() {
    for (name, setting) in [
        ("due", "due.read.order=dmy"),
        ("due-2_x", "due-2_x.read.order=dmy"),
        ("Loaned out", "\"Loaned out\".read.order=dmy"),
        ("tx.date", "\"tx.date\".read.order=dmy"),
        ("Rückgabe", "\"Rückgabe\".read.order=dmy"),
    ] {
        let evidence = evidence(&["05/06/2024"]);
        let ruling = settle(name, &evidence, &Declared::default(), TODAY).unwrap();
        let column = forecast_column(name, &evidence, &ruling, &Default::default(), TODAY);
        assert_eq!(column.questions[0].answers[0].set, setting);
        let parsed: crate::rulings::Setting = setting.parse().unwrap();
        assert_eq!(parsed.column(), name);
    }
}

#[test]
fn a_century_question_shows_every_window() {
    let births: Vec<String> = (29..72).map(|year| format!("31/12/{year}")).collect();
    let births: Vec<&str> = births.iter().map(String::as_str).collect();
    let column = own(&births);
    assert_eq!(column.cells.open, 43);
    let question = &column.questions[0];
    assert_eq!(question.topic, Topic::Century);
    let reads: Vec<&str> = question
        .answers
        .iter()
        .map(|answer| answer.reads_as.as_str())
        .collect();
    assert_eq!(
        reads,
        [
            "31 December 2029, all between 1947 and 2046",
            "31 December 1929, all between 1929 and 1971",
            "31 December 2029, all between 2029 and 2071",
            "no dates or times: the column stays as it is"
        ]
    );
}

#[test]
fn two_digit_years_have_a_span_in_their_window() {
    let column = own(&["12-Mar-98", "5-Jan-07", "1-Feb-98"]);
    assert_eq!(column.earliest.as_deref(), Some("1998-02-01"));
    assert_eq!(column.latest.as_deref(), Some("2007-01-05"));
    let years = column.two_digit_years.unwrap();
    assert_eq!(
        (years.cells, years.first, years.last),
        (3, Some(1998), Some(2007))
    );
    assert_eq!(years.century, Some(1947));
    assert_eq!(column.cells.settled, 3, "never certain");
}

#[test]
fn cells_wait_by_reason() {
    let column = own(&[
        "2024-03-05T10:00:00Z",
        "2024-03-05T10:00:00Z",
        "2024-03-05T10:00:00",
        "2024-03-05T25:00:00Z",
        "2016-12-31T23:59:60Z",
        "later",
    ]);
    let waiting: Vec<(Verdict, &str, u64)> = column
        .waiting
        .iter()
        .map(|waiting| (waiting.verdict, waiting.reason.as_str(), waiting.cells))
        .collect();
    assert_eq!(
        waiting,
        [
            (Verdict::Open, "second 60 is a leap second", 1),
            (
                Verdict::Open,
                "a clock time without a zone, in a column of instants",
                1
            ),
            (
                Verdict::Unreadable,
                "hour 25 does not exist in yyyy-MM-dd'T'HH:mm:ssXXX",
                1
            ),
            (Verdict::Unreadable, "no date or time can be read in it", 1),
        ]
    );
    assert_eq!(column.cells.certain, 2);
}

#[test]
fn remarks_say_what_a_person_should_know() {
    for (cells, remark) in [
        (
            &["2024-03-05 10:00", "2024-03-06"][..],
            "1 cell has a date and no time; it gets midnight",
        ),
        (
            &["2024-03-05 10:00", "2024-03-06", "2024-03-07"],
            "2 cells have a date and no time; they get midnight",
        ),
        (&["2024-03-05 00:00"], "every time of day is midnight"),
    ] {
        let remarks = own(cells).remarks;
        assert!(
            remarks.iter().any(|text| text.contains(remark)),
            "{cells:?}: {remarks:?}"
        );
    }
    assert!(own(&["2024-03-05 10:00"]).remarks.is_empty());
}

#[test]
fn doubtful_columns_ask_what_they_are() {
    for (cells, topic, option) in [
        (
            &["20240305", "20240306"][..],
            Topic::IsDate,
            Some("-c due --read-form 'yyyyMMdd'"),
        ),
        (
            &["1.10.12", "2.3.20"],
            Topic::IsDate,
            Some("-c due --read-form 'd.M.yy'"),
        ),
        (
            &["12:30", "30:15"],
            Topic::IsElapsed,
            Some("-c due --read-form 'elapsed H:mm'"),
        ),
    ] {
        let column = own(cells);
        assert_eq!(column.kind, None);
        assert!(column.waits());
        assert_eq!(column.questions[0].topic, topic, "{cells:?}");
        let options = &column.questions[0].answers;
        assert_eq!(options.first().map(|answer| answer.option.as_str()), option);
    }
}

#[test]
fn rulings_that_fit_new_cells_in_part() {
    let text = "metachron = 1\n[column.due]\nkind = \"date\"\nread = { forms = [\"dd/MM/yyyy\"] }";
    let rulings = Rulings::from_toml(text).unwrap();
    let ruling = &rulings.column["due"];
    let options = ColumnOptions {
        forms: ruling.read.all_forms(),
        ..ColumnOptions::default()
    };
    let evidence = evidence_with(options, &["31/12/2024", "5/1/2025", "2025-01-05"]);
    let column = forecast_column("due", &evidence, ruling, &Default::default(), TODAY);
    assert_eq!(column.cells.certain, 1);
    assert_eq!(column.cells.unreadable, 2);
    // A cell with too few digits does not speak for another order.
    let mdy = column.forms[0]
        .orders
        .iter()
        .find(|order| order.order == Order::Mdy);
    assert_eq!(mdy.map(|order| order.only), Some(0));
}

#[test]
fn counts_add_up() {
    let column = own(&["31/12/2024", "05/06/2024", "soon", "", "n/a", "12/31/2024"]);
    assert_eq!(column.cells.all(), 6);
    assert_eq!(column.cells.blank, 2);
    let mut twice = column.cells;
    twice.merge(column.cells);
    assert_eq!(twice.all(), 12);
    assert_eq!(twice.waiting(), 2 * column.cells.waiting());
}
