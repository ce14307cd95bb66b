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

/// Columns of one or two ways of writing, most of their cells usual ones: so that most go
/// the fast way.
fn usual_columns() -> impl Strategy<Value = Vec<String>> {
    let ways = prop::collection::vec(0..WAYS.len(), 1..3);
    let parts = (
        1..=31_u8,
        1..=12_u8,
        2020..=2022_u16,
        0..=23_u8,
        0..=3_u8,
        0..1000_u16,
    );
    let parts = prop_oneof![
        9 => parts,
        1 => (0..=40_u8, 0..=15_u8, 0..=9999_u16, 0..=25_u8, 0..=70_u8, 0..1000_u16),
        1 => prop::sample::select(vec![
            (1, 1, 1900, 0, 0, 0), (31, 12, 9999, 23, 59, 0), (29, 2, 2024, 0, 0, 0),
            (29, 2, 2023, 0, 0, 1), (11, 11, 1111, 11, 11, 0), (1, 1, 1970, 0, 0, 0),
            (31, 12, 2021, 23, 30, 5), (1, 1, 2022, 0, 30, 5), (5, 3, 327, 1, 1, 1),
        ]),
    ];
    (
        ways,
        prop::collection::vec((parts, any::<prop::sample::Index>()), 0..120),
    )
        .prop_map(|(ways, cells)| {
            let write = |(parts, way): &(_, prop::sample::Index)| WAYS[*way.get(&ways)](*parts);
            cells.iter().map(write).collect()
        })
}

type Parts = (u8, u8, u16, u8, u8, u16);

const MONTHS: [&str; 12] = [
    "Jan", "February", "März", "avril", "May", "Jun", "Jul", "Aug", "set", "Oct", "Nov", "Dec",
];

const WAYS: [fn(Parts) -> String; 24] = [
    |(d, m, y, ..)| format!("{d:02}/{m:02}/{y:04}"),
    |(d, m, y, ..)| format!("{d}.{m}.{:02}", y % 100),
    |(d, m, y, ..)| format!("{y:04}{m:02}{d:02}"),
    |(d, m, y, ..)| format!("{:02}{m:02}{d:02}", y % 100),
    |(d, m, y, h, n, _)| format!("{y:04}{m:02}{d:02}{h:02}{n:02}{n:02}"),
    |(d, m, y, h, n, _)| format!("{y:04}-{m:02}-{d:02} {h:02}:{n:02}:{n:02}"),
    |(d, m, y, h, n, _)| format!("{y:04}-{m:02}-{d:02}T{h:02}:{n:02}:{n:02}Z"),
    |(d, m, y, h, n, s)| format!("{y:04}-{m:02}-{d:02}T{h:02}:{n:02}:00.{s:03}+0{}:00", s % 3),
    |(d, m, y, h, n, _)| format!("{y:04}-{m:02}-{d:02}T{h:02}:{n:02}:00-05:30"),
    |(d, m, y, h, n, _)| {
        format!(
            "{m}/{d}/{y:04} {}:{n:02} {}",
            h % 12,
            if h < 12 { "AM" } else { "PM" }
        )
    },
    |(d, m, y, ..)| format!("{d} {} {y:04}", MONTHS[usize::from(m) % 12]),
    |(d, m, y, ..)| format!("{d}-{}-{:02}", MONTHS[usize::from(m) % 12], y % 100),
    |(d, m, y, h, n, _)| {
        format!(
            "Tue, {d:02} {} {y:04} {h:02}:{n:02}:00 +0100",
            MONTHS[usize::from(m) % 12]
        )
    },
    |(d, m, y, ..)| {
        format!(
            "{} {d}/{m}/{:02}",
            ["Mon", "Sat", "sam."][usize::from(m) % 3],
            y % 100
        )
    },
    |(_, _, _, h, n, _)| format!("{h}:{n:02}"),
    |(_, _, _, h, n, s)| format!("{h:02}:{n:02}:{n:02}.{s}"),
    |(_, _, _, h, n, _)| format!("{h:02}:{n:02}:{n:02}"),
    |(d, _, y, _, _, s)| format!("{y:04}-{:03}", u16::from(d) * 10 + s % 90),
    |(d, m, y, ..)| format!("{}", u64::from(y) * 20 + u64::from(m) * 31 + u64::from(d)),
    |(d, m, y, h, n, s)| {
        format!(
            "{}.{h:02}{n:02}{s}",
            u64::from(y) * 20 + u64::from(m) * 31 + u64::from(d)
        )
    },
    |(d, _, y, h, n, _)| {
        format!(
            "{}",
            u64::from(y) * 800_000 + u64::from(d) * 86_400 + u64::from(h) * 3600 + u64::from(n)
        )
    },
    |(d, _, y, h, _, s)| {
        format!(
            "{}",
            u64::from(y) * 800_000_000
                + u64::from(d) * 86_400_000
                + u64::from(h) * 3_600_000
                + u64::from(s)
        )
    },
    |(_, m, y, ..)| format!("{y:04}-{m:02}"),
    |(d, m, y, ..)| format!("{y:04}{m:02}{}", d % 10),
];

proptest! {
    #[test]
    fn the_fast_way_is_the_slow_way(cells in columns()) {
        prop_assert_eq!(survey(&cells), survey_one_by_one(&cells));
    }

    #[test]
    fn the_fast_way_is_the_slow_way_for_usual_cells(cells in usual_columns()) {
        prop_assert_eq!(survey(&cells), survey_one_by_one(&cells));
    }

    /// In blocks as on one go: what was learned of earlier blocks is kept.
    #[test]
    fn blocks_that_are_merged_are_the_whole(cells in usual_columns(), rows in 1..40_usize) {
        let options = [ColumnOptions::default()];
        let mut surveyor = Surveyor::new(&options);
        let mut merged = surveyor.take();
        for block in cells.chunks(rows) {
            for cell in block {
                surveyor.cell(0, cell.as_str());
                surveyor.end_row();
            }
            merged.merge(surveyor.take());
        }
        prop_assert_eq!(merged, survey_one_by_one(&cells));
    }
}
