use crate::evidence::{ColumnOptions, Evidence, Surveyor};
use proptest::prelude::*;

/// The evidence of a column of these cells.
fn survey<S: AsRef<str>>(cells: &[S]) -> Evidence {
    let options = [ColumnOptions::default()];
    let mut surveyor = Surveyor::new(&options);
    for cell in cells {
        surveyor.cell(0, cell.as_ref());
        surveyor.end_row();
    }
    surveyor.take()
}

/// The same, each cell by a surveyor of its own, which has no fast way yet.
fn survey_one_by_one<S: AsRef<str>>(cells: &[S]) -> Evidence {
    let mut evidence = survey::<&str>(&[]);
    for cell in cells {
        evidence.merge(survey(std::slice::from_ref(cell)));
    }
    evidence
}

/// Columns as tables have them: a few ways of writing, with any digits.
fn columns() -> impl Strategy<Value = Vec<String>> {
    let day = || (1..=31_u8, 1..=12_u8, 1995..=2030_u16);
    let time = || (0..=24_u8, 0..=60_u8);
    let cell = prop_oneof![
        4 => day().prop_map(|(d, m, y)| format!("{d:02}/{m:02}/{y}")),
        4 => day().prop_map(|(d, m, y)| format!("{m}/{d}/{y}")),
        2 => day().prop_map(|(d, m, y)| format!("{y}-{m:02}-{d:02}")),
        4 => (day(), time()).prop_map(|((d, m, y), (h, min))| {
            format!("{d:02}/{m:02}/{y} {h:02}:{min:02}")
        }),
        1 => (day(), time()).prop_map(|((d, m, y), (h, min))| {
            format!("{y}-{m:02}-{d:02}T{h:02}:{min:02}:00Z")
        }),
        1 => day().prop_map(|(d, m, y)| format!("{d:02}.{m:02}.{:02}", y % 100)),
        1 => "[0-9]{2}/[0-9]{2}/[0-9]{4}",
        1 => "[0-9]{3,6}|K[0-9]{4}-[AB]|[0-9]{1,2},[0-9]{2}",
        1 => prop_oneof![Just(""), Just("n/a"), Just("00/00/0000"), Just("29/02/2023"),
            Just("01/01/1900"), Just("31/12/9999"), Just("-999")].prop_map(str::to_owned),
    ];
    prop::collection::vec(cell, 0..60)
}

proptest! {
    #[test]
    fn the_fast_way_is_the_slow_way(cells in columns()) {
        prop_assert_eq!(survey(&cells), survey_one_by_one(&cells));
    }
}
