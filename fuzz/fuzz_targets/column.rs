//! Any lines as a table of one or two columns: settled and converted, each cell has one
//! verdict, and the forecast says how many have which.
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_core::engine::{
    BlockStart, Conversion, ConvertOptions, Engine, Page, Request, Rows, TextRows,
};

fuzz_target!(|text: &str| {
    let cells = |line: &str| line.splitn(2, '\t').map(str::to_owned).collect::<Vec<_>>();
    let mut table: Vec<Vec<String>> = text.lines().take(64).map(cells).collect();
    table.retain(|row| row.iter().any(|cell| !cell.is_empty()));
    let start = BlockStart { file: 0, line: 1 };
    let now = "2026-11-28T00:00:00Z".parse().expect("an instant");
    let request = Request::new(["due", "out"], now);
    let mut engine = Engine::new(request.clone()).expect("nothing is declared");
    while let Some(pass) = engine.next_pass() {
        let mut result = pass.start();
        result.add(pass.worker().block(start, TextRows::new(&table)));
        engine.finish(pass, result).expect("nothing is declared");
    }
    let settled = engine.into_settled();
    for column in settled.columns.iter().filter(|column| column.kind.is_some()) {
        let counts = &column.cells;
        let all = counts.certain + counts.settled + counts.open + counts.unreadable + counts.blank;
        assert_eq!(all, table.len() as u64, "{}", column.name);
    }
    let mut conversion = Conversion::new(&request, &settled.rulings, ConvertOptions::nothing())
        .expect("its own rulings hold");
    while let Some(pass) = conversion.next_pass() {
        let mut result = pass.start();
        result.add(pass.worker().block(start, TextRows::new(&table)));
        conversion.finish(pass, result);
    }
    let mut worker = conversion.worker();
    worker.start(start);
    let mut rows = TextRows::new(&table);
    while let Some(page) = rows.next_page() {
        for row in page.rows() {
            let _ = worker.row(&row);
        }
    }
});
