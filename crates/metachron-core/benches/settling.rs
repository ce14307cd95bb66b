//! Settling a table of 50 columns that was surveyed: 20 of dates whose order
//! the site parts, 20 of dates in one order, 10 of other things. It must not
//! hang on the number of rows.

use criterion::{Criterion, criterion_group, criterion_main};
use jiff::civil::{Date, date};
use metachron_core::decide::{Decider, OwnReading, RowContext};
use metachron_core::evidence::{ColumnOptions, Evidence, Surveyor};
use metachron_core::relations::{self, ComparedColumns, Doubts, InQuestion, Tally};
use metachron_core::rulings::{ColumnRuling, Rulings};
use metachron_core::settle::{Declared, settle};
use std::hint::black_box;

const PARTED: usize = 20;
const COLUMNS: usize = 50;
const TODAY: Date = date(2026, 3, 2);

fn name(column: usize) -> String {
    match column {
        0..40 => format!("handed over {column}"),
        _ => format!("site {column}"),
    }
}

fn row(number: usize) -> Vec<String> {
    let cell = |column: usize| {
        let (day, month) = (
            (number * 7 + column) % 28 + 1,
            (number * 5 + column) % 12 + 1,
        );
        let year = 2019 + (number + column) % 6;
        match column {
            0..PARTED if number.is_multiple_of(3) => format!("{month:02}/{day:02}/{year}"),
            0..40 => format!("{day:02}/{month:02}/{year}"),
            _ => ["Odrava", "Kestrelby", "Fjordlund"][(number / (column - 39)) % 3].to_owned(),
        }
    };
    (0..COLUMNS).map(cell).collect()
}

fn surveyed(rows: &[Vec<String>]) -> Evidence {
    let column_options = vec![ColumnOptions::default(); COLUMNS];
    let mut surveyor = Surveyor::new(&column_options);
    for row in rows {
        for (column, cell) in row.iter().enumerate() {
            surveyor.cell(column, cell);
        }
        surveyor.end_row();
    }
    surveyor.take()
}

fn settled(evidence: &Evidence) -> Vec<(String, ColumnRuling)> {
    let columns = evidence.columns.iter().enumerate();
    let ruled = columns.filter_map(|(column, evidence)| {
        let name = name(column);
        let ruling = settle(&name, evidence, &Declared::default(), TODAY).ok()?;
        Some((name, ruling))
    });
    ruled.collect()
}

fn tallied(rows: &[Vec<String>], ruled: &[(String, ColumnRuling)]) -> (ComparedColumns, Tally) {
    let mut rulings = Rulings::new(Default::default());
    rulings.column.extend(ruled.iter().cloned());
    let compared = ComparedColumns {
        columns: (0..COLUMNS).map(name).collect(),
        temporal: (0..ruled.len()).collect(),
        in_question: (0..PARTED)
            .map(|number| InQuestion {
                number,
                doubts: Doubts {
                    is_open: true,
                    is_mixed: true,
                    ..Doubts::default()
                },
            })
            .collect(),
        ..ComparedColumns::default()
    };
    let decider = |(name, _): &(String, ColumnRuling)| Decider::new(&rulings, name);
    let deciders = ruled.iter().map(decider);
    let mut deciders: Vec<Decider> = deciders
        .map(|decider| decider.expect("the rulings hold").expect("it is ruled"))
        .collect();
    let mut tally = Tally::new(&compared);
    for row in rows {
        let own_readings = deciders.iter_mut().zip(row);
        let own_readings: Vec<OwnReading> = own_readings
            .map(|(decider, cell)| decider.own_reading(cell, &RowContext::default()))
            .collect();
        tally.row(&compared, &own_readings, row);
    }
    tally.arrange();
    tally.finish();
    (compared, tally)
}

fn settling(c: &mut Criterion) {
    for count in [500, 20_000] {
        let rows: Vec<Vec<String>> = (0..count).map(row).collect();
        let evidence = surveyed(&rows);
        let ruled = settled(&evidence);
        assert_eq!(ruled.len(), 40, "all columns of dates are ruled");
        let (compared, tally) = tallied(&rows, &ruled);
        c.bench_function(&format!("50 columns of {count} rows"), |b| {
            b.iter(|| {
                let mut ruled = settled(black_box(&evidence));
                let open = ruled.iter_mut().zip(&tally.columns);
                let justifications = open.map(|((_, ruling), open)| {
                    let reopened = ruling.clone();
                    relations::settle(ruling, &reopened, open, black_box(&compared)).len()
                });
                justifications.sum::<usize>()
            });
        });
    }
}

criterion_group!(benches, settling);
criterion_main!(benches);
