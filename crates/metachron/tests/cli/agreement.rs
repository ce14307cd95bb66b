//! What a survey forecasts is what a conversion does: both decide on cells by
//! one function.

use crate::harness::Folder;
use proptest::prelude::*;
use serde_json::Value;

/// Cells of a few ways of writing, with slips, blanks and words among them.
fn cell() -> impl Strategy<Value = String> {
    let number = |most: u32| 1..=most;
    prop_oneof![
        6 => (number(31), number(12), 2019..2026_u32)
            .prop_map(|(day, month, year)| format!("{day:02}/{month:02}/{year}")),
        3 => (number(12), number(31), 2019..2026_u32)
            .prop_map(|(month, day, year)| format!("{month}-{day}-{year}")),
        2 => (number(28), number(12), 0..60_u32)
            .prop_map(|(day, month, minute)| format!("2024-{month:02}-{day:02} 14:{minute:02}")),
        2 => (number(31), number(12), 0..100_u32)
            .prop_map(|(day, month, year)| format!("{day}.{month}.{year:02}")),
        1 => "(n/a|soon|-|||5 Mar 2024|Tue 5 March 2024|2024-02-31|2016-12-31 23:59:60|24:00)",
        1 => (40_000..47_000_u32).prop_map(|serial| serial.to_string()),
    ]
}

fn counts(cells: &Value) -> [u64; 5] {
    ["certain", "settled", "open", "unreadable", "blank"].map(|name| cells[name].as_u64().unwrap())
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn survey_and_conversion_decide_alike(
        cells in prop::collection::vec((cell(), cell()), 1..60),
        declared in prop::sample::select(vec![
            &[][..],
            &["-c", "due"],
            &["--read-order", "mdy"],
            &["--read-form", "dd/MM/yyyy", "--read-form", "d.M.yy", "--century", "1950"],
            &["-c", "due", "--read-zone", "Europe/Lisbon"],
        ]),
    ) {
        let quoted = |(due, out): &(String, String)| format!("\"{due}\",\"{out}\"\n");
        let rows: String = cells.iter().map(quoted).collect();
        let folder = Folder::with("t.csv", format!("due,out\n{rows}"));
        let now = ["--now", "2026-11-28T12:00:00Z"];
        let survey = [&["survey", "t.csv", "--json"], &now[..], declared].concat();
        let survey = folder.run(&survey);
        let convert = ["convert", "t.csv", "-o", "out.csv", "--json", "--verdicts"];
        let converted = folder.run(&[&convert, &now[..], declared].concat());
        prop_assert_eq!(survey.status, converted.status, "{}\n{}", &survey.out, &converted.err);
        let (survey, summary) = (survey.json(), converted.json());
        let mut waiting = 0;
        for column in survey["columns"].as_array().unwrap() {
            if column["kind"].is_null() {
                continue;
            }
            let mut converted = summary["columns"].as_array().unwrap().iter();
            let same = converted.find(|other| other["name"] == column["name"]).unwrap();
            prop_assert_eq!(counts(&column["cells"]), counts(&same["cells"]), "{:#}", column);
            let [_, _, open, unreadable, _] = counts(&column["cells"]);
            waiting += open + unreadable;
            let by_reason = column["waiting"].as_array().unwrap().iter();
            let by_reason: u64 = by_reason.map(|one| one["cells"].as_u64().unwrap()).sum();
            prop_assert_eq!(by_reason, open + unreadable);
        }
        // The list has each cell that waits, and the column of verdicts says the same.
        let listed = if waiting == 0 {
            0
        } else {
            let mut list = csv::Reader::from_path(folder.path("out.review.csv")).unwrap();
            list.records().count() as u64
        };
        prop_assert_eq!(listed, waiting);
    }
}
