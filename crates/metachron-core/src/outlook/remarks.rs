//! What a person should know about a column.

use super::Judged;
use crate::evidence::{ClockLook, ColumnEvidence};
use crate::rulings::ColumnRuling;
use crate::stamp::Kind;
use crate::verdict::{Judgement, Plan};
use crate::words::{self, count};
use jiff::civil::Date;

/// A marker date is pointed out if at least so many cells hold it …
const MARKER_CELLS: u64 = 3;

/// … and always if it is beyond what tables are about.
fn is_absurd(day: Date) -> bool {
    day.year() < 1700 || day.year() > 2200
}

pub(super) fn remarks(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    plans: &[Plan],
    judged: &[Judged<'_>],
) -> Vec<String> {
    let mut remarks = Vec::new();
    for &(day, cells) in &evidence.markers {
        if is_absurd(day) || cells >= MARKER_CELLS {
            remarks.push(format!(
                "{day} stands in {}: it may mark an empty cell; \
                 if so, add it to read.blanks as it is written",
                count(cells, "cell")
            ));
        }
    }
    let kind_of = |cell: &Judged<'_>| match cell.judgement {
        Judgement::Certain(place) | Judgement::Settled(place) => Some(
            plans[cell.shape].readings().candidates()[place]
                .reader
                .kind(),
        ),
        _ => None,
    };
    let cells_that = |test: &dyn Fn(&Judged<'_>) -> bool| -> u64 {
        let counted = judged.iter().filter(|cell| test(cell));
        counted.map(|cell| cell.count).sum()
    };
    if ruling.kind == Kind::DateTime {
        let dates = cells_that(&|cell| kind_of(cell) == Some(Kind::Date));
        if dates > 0 {
            remarks.push(format!(
                "{} a date and no time; {} midnight",
                match dates {
                    1 => "1 cell has".to_owned(),
                    _ => format!("{} cells have", words::number(dates)),
                },
                match dates {
                    1 => "it gets",
                    _ => "they get",
                }
            ));
        }
        if dates == 0 && all_midnights(evidence) {
            remarks.push(
                "every time of day is midnight; if these are dates, set kind = \"date\"".to_owned(),
            );
        }
    }
    remarks
}

fn all_midnights(evidence: &ColumnEvidence) -> bool {
    let tallies = || evidence.shapes.iter().flat_map(|shape| &shape.tallies);
    let mut readable = tallies().filter(|tally| !tally.outcome.is_unreadable());
    tallies().any(|tally| tally.clock == ClockLook::Midnight)
        && readable.all(|tally| tally.clock == ClockLook::Midnight)
}
