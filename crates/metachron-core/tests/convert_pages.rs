//! What is converted column by column is what is converted row by row.

use metachron_core::engine::{
    BlockStart, Conversion, ConvertOptions, ConvertedRows, Page, Request, Rows, TextRows,
};
use metachron_core::rulings::Rulings;
use proptest::prelude::*;

/// Columns of all ways to decide: by themselves, in a zone, by the row, as text.
const RULINGS: &str = r#"
metachron = 1
[column.a]
kind = "date"
read.forms = [["dd/MM/yyyy", "MM/dd/yyyy"], "yyyy-MM-dd"]
[column.b]
kind = "instant"
read.forms = ["yyyy-MM-dd HH:mm", "workbook-1900", "unix-s"]
read.zone = "Europe/Riga"
[column.c]
kind = "date"
read.forms = [["dd/MM/yyyy", "MM/dd/yyyy"]]
read.not-before = "a"
[column.d]
kind = "date"
read.forms = ["d MMM yyyy", "d MMM yy"]
read.century = 1950
read.blanks = ["1 May 05"]
write.pattern = "EEEE, d MMMM yyyy"
"#;

fn cell() -> impl Strategy<Value = String> {
    let number = || prop::sample::select(vec![1, 3, 5, 12, 13, 28, 31]);
    (number(), number(), 1990..2030, 0..25, 0..10).prop_map(|(one, other, year, hour, form)| {
        match form {
            0 | 1 => format!("{one:02}/{other:02}/{year}"),
            2 => format!("{year}-{one:02}-{other:02}"),
            3 => format!("{year}-{other:02}-{one:02} {hour:02}:30"),
            4 => format!("{}.{hour}", 30_000 + year),
            5 => format!("{}", 1_000_000_000 + i64::from(year) * one * 3600),
            6 => format!("{one} Mar {year}"),
            7 => format!("{one} May {:02}", year % 100),
            8 => ["", "n/a", "soon"][one as usize % 3].to_owned(),
            _ => format!(" {one:02}/{other:02}/{year}"),
        }
    })
}

/// The texts of all cells, and what became of the rows.
fn converted(rows: &[Vec<String>], by_page: bool) -> (Vec<String>, ConvertedRows) {
    let rulings = Rulings::from_toml(RULINGS).unwrap();
    let request = Request::new(
        ["a", "b", "x", "c", "d"],
        "2026-11-28T00:00:00Z".parse().unwrap(),
    );
    let conversion = Conversion::new(&request, &rulings, ConvertOptions::nothing()).unwrap();
    let mut worker = conversion.worker();
    worker.start(BlockStart { file: 0, line: 1 });
    let mut texts = Vec::new();
    let mut cells = Vec::new();
    // Pages of any size give the same.
    for rows in rows.chunks(if by_page { 7 } else { 1 }) {
        let mut rows = TextRows::new(rows);
        let page = rows.next_page().unwrap();
        if by_page {
            let clean = worker.page(&page).expect("it is of text");
            for (number, _) in page.rows().enumerate() {
                clean.put_row(number, 5, &mut cells);
                texts.extend(
                    cells
                        .iter()
                        .map(|cell| format!("{cell:?} {}", cell.text(clean.text))),
                );
            }
        } else {
            for row in page.rows() {
                let row = worker.row(&row).expect("it is kept").out;
                texts.extend(
                    row.cells
                        .iter()
                        .map(|cell| format!("{cell:?} {}", cell.text(row.text))),
                );
            }
        }
    }
    (texts, worker.finish())
}

proptest! {
    #[test]
    fn pages_are_converted_as_rows_are(
        rows in prop::collection::vec(prop::collection::vec(cell(), 5), 1..60),
    ) {
        let (by_page, mut page_done) = converted(&rows, true);
        let (by_row, mut row_done) = converted(&rows, false);
        // A text stands elsewhere on a page than in a row.
        let said = |text: &String| text.split_once(") ").map_or(text.clone(), |(_, said)| said.to_owned());
        prop_assert_eq!(
            by_page.iter().map(said).collect::<Vec<_>>(),
            by_row.iter().map(said).collect::<Vec<_>>()
        );
        // Each row was a block of its own there: its lines count from 1.
        for done in [&mut page_done, &mut row_done] {
            done.review.iter_mut().for_each(|entry| entry.line = 0);
        }
        prop_assert_eq!(format!("{page_done:?}"), format!("{row_done:?}"));
    }
}
