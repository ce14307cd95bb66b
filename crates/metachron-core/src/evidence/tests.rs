use super::*;
use crate::rulings::Blanks;
use proptest::prelude::*;

fn survey(cells: &[String]) -> Evidence {
    let column_options = [ColumnOptions::default()];
    let mut surveyor = Surveyor::new(&column_options);
    for cell in cells {
        surveyor.cell(0, cell);
        surveyor.end_row();
    }
    surveyor.take()
}

fn cell() -> impl Strategy<Value = String> {
    prop_oneof![
        "[0-3]?[0-9]/[01]?[0-9]/(19|20)[0-9]{2}",
        "[0-3][0-9]-[01][0-9]-[0-9]{2}( [0-2]?[0-9]:[0-5][0-9])?",
        "20[0-9]{2}-[01][0-9]-[0-3][0-9]",
        "20[0-9]{2}-0[1-3]-0[1-4][T ]([0-2]?[0-9]:[0-5][0-9]|00:00|24:00)(:[0-6][0-9])?",
        "0[1-4]/0[1-3]/202[0-2] [0-2]?[0-9]:[0-5][0-9]",
        Just("9999-12-31".to_owned()),
        Just("n/a".to_owned()),
        Just(String::new()),
        "[a-c]{1,2}",
    ]
}

proptest! {
    /// Evidence of parts merged is the evidence of the whole, however the
    /// rows are cut and in whatever groups the parts are merged.
    #[test]
    fn merging_parts_gives_the_whole(
        cells in prop::collection::vec(cell(), 0..60),
        cuts in prop::collection::vec(0.0..1.0, 2),
    ) {
        let mut cuts: Vec<usize> = cuts.iter().map(|cut| (cut * cells.len() as f64) as usize).collect();
        cuts.sort();
        let [a, b, c] = [&cells[..cuts[0]], &cells[cuts[0]..cuts[1]], &cells[cuts[1]..]];

        let mut left = survey(a);
        left.merge(survey(b));
        left.merge(survey(c));

        let mut right = survey(b);
        right.merge(survey(c));
        let mut first = survey(a);
        first.merge(right);

        let whole = survey(&cells);
        prop_assert_eq!(&left, &whole);
        prop_assert_eq!(&first, &whole);
    }

    /// One surveyor for several parts, in any order, finds what one for each
    /// finds.
    #[test]
    fn what_a_surveyor_has_learned_changes_nothing(
        cells in prop::collection::vec(cell(), 0..200),
        cut in 0.0..1.0,
    ) {
        let (a, b) = cells.split_at((cut * cells.len() as f64) as usize);
        let column_options = [ColumnOptions::default()];
        let mut surveyor = Surveyor::new(&column_options);
        for part in [b, a, b, &cells] {
            for cell in part {
                surveyor.cell(0, cell);
                surveyor.end_row();
            }
            let taken = surveyor.take();
            // Spans, days and writing are those of all that it has met, and letters those
            // that it has not met.
            let counted = |evidence: &Evidence| {
                let shapes = evidence.columns[0].shapes.iter();
                let shapes: Vec<_> = shapes.map(|shape| shape.tallies.clone()).collect();
                let column = &evidence.columns[0];
                let others = (column.others.count, column.others.first.clone());
                (shapes, others, column.blanks.clone(), column.in_time)
            };
            prop_assert_eq!(counted(&taken), counted(&survey(part)));
        }
        let mut surveyor = Surveyor::new(&column_options);
        let mut whole = surveyor.take();
        for part in [a, b] {
            for cell in part {
                surveyor.cell(0, cell);
                surveyor.end_row();
            }
            whole.merge(surveyor.take());
        }
        prop_assert_eq!(whole, survey(&cells));
    }

    /// A cell that is tallied as an earlier one was is tallied as if it were
    /// the first.
    #[test]
    fn shortcuts_change_nothing(
        cells in prop::collection::vec(cell(), 0..200),
        blank in "0[1-4]/0[1-3]/202[0-2] 1[0-2]:[0-5][0-9]|[0-3]/1/2020|00/00/0000|[0-9]",
    ) {
        let blanks = Blanks::new(["n/a", &blank]);
        let column_options = [ColumnOptions { blanks, ..ColumnOptions::default() }];
        let mut surveyor = Surveyor::new(&column_options);
        let mut one_by_one = surveyor.take();
        for cell in &cells {
            surveyor.cell(0, cell);
            surveyor.end_row();
            let mut fresh = Surveyor::new(&column_options);
            fresh.cell(0, cell);
            fresh.end_row();
            one_by_one.merge(fresh.take());
        }
        prop_assert_eq!(surveyor.take(), one_by_one);
    }

    /// Every cell is counted once.
    #[test]
    fn every_cell_is_counted(cells in prop::collection::vec(cell(), 0..40)) {
        let evidence = survey(&cells);
        let column = &evidence.columns[0];
        prop_assert_eq!(column.blank() + column.filled(), cells.len() as u64);
        prop_assert_eq!(evidence.rows, cells.len() as u64);
    }
}

#[test]
fn examples_are_the_first_different_cells() {
    let cells = ["x", "x", "yes", "x", "no"].map(str::to_owned);
    let evidence = survey(&cells);
    let others = &evidence.columns[0].others;
    assert_eq!(others.count, 5);
    let rows: Vec<u64> = others.first.iter().map(|example| example.row).collect();
    assert_eq!(rows, [0, 2, 4]);
}

#[test]
fn marker_dates_are_counted_and_kept_out_of_the_span() {
    let cells = ["2024-01-01", "9999-12-31", "9999-12-31"].map(str::to_owned);
    let evidence = survey(&cells);
    let column = &evidence.columns[0];
    let [marker] = &column.markers[..] else {
        panic!("{:?}", column.markers)
    };
    assert_eq!(marker.day, jiff::civil::date(9999, 12, 31));
    assert_eq!((marker.count, marker.first.row), (2, 1));
    let span = &column.shapes[0].spans[0];
    assert_eq!(span.latest.unwrap().to_string(), "2024-01-01");
}

/// What was learned of a pair of day and month in one year does not hold in
/// every other.
#[test]
fn days_that_not_every_year_has() {
    let cells = [
        "2024-02-29 10:00",
        "2020-02-29 11:00",
        "2023-02-29 12:00",
        "2024-01-01 10:00",
        "2023-01-01 10:01",
        "1900-01-01 10:02",
    ];
    let evidence = survey(&cells.map(str::to_owned));
    let column = &evidence.columns[0];
    let [marker] = &column.markers[..] else {
        panic!("{:?}", column.markers)
    };
    assert_eq!(marker.day, jiff::civil::date(1900, 1, 1));
    assert_eq!((marker.count, marker.first.row), (1, 5));
    let shape = &column.shapes[0];
    assert_eq!(shape.count(|tally| tally.outcome.is_unreadable()), 1);
    let earliest = shape.spans[0].earliest.unwrap().to_string();
    assert_eq!(earliest, "2020-02-29T11:00:00");
}

/// A wide table has no room to remember kinds of cells, and is tallied the same.
#[test]
fn wide_tables_are_tallied_alike() {
    let cells: Vec<String> = (0..300)
        .map(|row| format!("{:02}/{:02}/20{:02}", 1 + row % 28, 1 + row % 12, row % 30))
        .collect();
    let column_options = vec![ColumnOptions::default(); 10_000];
    let mut surveyor = Surveyor::new(&column_options);
    for cell in &cells {
        surveyor.cell(0, cell);
        surveyor.end_row();
    }
    assert_eq!(surveyor.take().columns[0], survey(&cells).columns[0]);
}
