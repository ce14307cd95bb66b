//! What a conversion did, as JSON and in words.

use super::targets::Targets;
use crate::cli::Talk;
use crate::job::{Converted, Job, Ragged, ReviewEntry, TableFacts};
use crate::view;
use crate::view::message::{STRONG, WAITS};
use crate::words::{count, counts, in_column, list, number};
use metachron_core::evidence::Example;
use metachron_core::form::Beside;
use metachron_core::outlook::{Counts, Difference, Now, Waiting, differences};
use metachron_core::rulings::Rulings;
use metachron_core::stamp::Stamp;
use metachron_core::zone::zone_data;
use serde::Serialize;
use std::path::PathBuf;

/// How many columns the report names, unless more is asked for.
const COLUMNS_SHOWN: usize = 20;

/// What a conversion did.
pub struct Done {
    /// Verdicts by converted column.
    pub columns: Vec<(String, Counts)>,
    /// The earliest and the latest stamp of each.
    pub spans: Vec<Option<(Stamp, Stamp)>>,
    /// Cells that wait, by reason, of each.
    pub waiting_by_sort: Vec<Vec<Waiting>>,
    /// How many rows each file has.
    pub rows_by_file: Vec<u64>,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
    /// Stamps that a workbook can only hold as text.
    pub as_text: u64,
    /// Cells that a reviewer wrote an answer for.
    pub answers: u64,
    /// Of these, those that were taken.
    pub resolved: u64,
    /// Of these, those that say something else now.
    pub changed: u64,
}

/// Counts, as `--summary` and `--json` write them. See docs/json.md.
#[derive(Serialize)]
pub struct Summary<'d> {
    metachron: u32,
    /// Which time zone database zones were looked up in.
    zone_data: String,
    table: TableFacts,
    output: Option<String>,
    review: Option<String>,
    cells: Counts,
    /// Cells that a reviewer resolved, and answers that were not taken.
    resolved: u64,
    refused: u64,
    columns: Vec<ColumnSummary<'d>>,
}

#[derive(Serialize)]
pub struct ColumnSummary<'d> {
    name: &'d str,
    kind: &'static str,
    cells: Counts,
    differences: Vec<Difference>,
}

/// Counts a cell that waits among those that wait for the same reason.
fn add_waiting(waiting: &mut Vec<Waiting>, entry: &ReviewEntry, rows_before: u64) {
    let sort = entry.note.sort;
    match waiting.iter_mut().find(|known| known.sort == sort) {
        Some(known) => known.cells += 1,
        None => waiting.push(Waiting {
            verdict: entry.note.verdict,
            sort,
            reason: entry.note.reason.clone(),
            cells: 1,
            example: Example::new(rows_before + entry.row, &entry.raw, Beside::default()),
            readings: entry.note.readings.clone(),
        }),
    }
}

impl Done {
    /// Counts one more block.
    pub fn add(&mut self, block: Converted, job: &Job<'_>) {
        let before = self.rows_by_file.iter().sum();
        for (known, more) in self.spans.iter_mut().zip(&block.spans) {
            *known = match (*known, *more) {
                (Some((first, last)), Some((earlier, later))) => {
                    Some((first.min(earlier), last.max(later)))
                }
                (one, other) => one.or(other),
            };
        }
        for entry in &block.review {
            let name = &job.table.columns()[entry.column];
            if let Some(place) = self.columns.iter().position(|(known, _)| known == name) {
                add_waiting(&mut self.waiting_by_sort[place], entry, before);
            }
        }
        self.rows_by_file[block.source] += block.rows;
        self.ragged.merge(block.ragged);
        self.resolved += block.resolved;
        self.changed += block.changed;
        for ((_, counts), more) in self.columns.iter_mut().zip(block.counts) {
            counts.merge(more);
        }
    }

    fn cells(&self) -> Counts {
        let mut all = Counts::default();
        for (_, counts) in &self.columns {
            all.merge(*counts);
        }
        all
    }

    /// How many cells wait for a person.
    pub fn waiting(&self) -> u64 {
        self.cells().waiting()
    }

    /// Answers of a reviewer that were not taken.
    pub fn refused(&self) -> u64 {
        self.answers - self.resolved
    }

    /// The counts, as JSON has them.
    pub fn summary<'d>(
        &'d self,
        targets: &Targets,
        job: &Job<'_>,
        rulings: &'d Rulings,
    ) -> Summary<'d> {
        let shown = |path: &Option<PathBuf>| path.as_ref().map(|path| path.display().to_string());
        Summary {
            metachron: metachron_core::rulings::VERSION,
            zone_data: zone_data().to_string(),
            table: TableFacts::new(job, &self.rows_by_file, self.ragged.clone()),
            output: shown(&targets.out),
            review: shown(&targets.review).filter(|_| self.waiting() > 0),
            cells: self.cells(),
            resolved: self.resolved,
            refused: self.refused(),
            columns: self
                .columns
                .iter()
                .enumerate()
                .map(|(place, (name, cells))| ColumnSummary {
                    name,
                    kind: rulings.column[name].kind.name(),
                    cells: *cells,
                    differences: self.differences(place, rulings),
                })
                .collect(),
        }
    }

    /// How a converted column differs from what its ruling was settled on.
    fn differences(&self, place: usize, rulings: &Rulings) -> Vec<Difference> {
        let (name, cells) = &self.columns[place];
        let seen = rulings
            .column
            .get(name)
            .and_then(|ruling| ruling.seen.as_ref());
        let Some(seen) = seen else {
            return Vec::new();
        };
        let span = self.spans[place];
        let (earliest, latest) = match span {
            Some((earliest, latest)) => (earliest.to_string(), latest.to_string()),
            None => Default::default(),
        };
        differences(
            seen,
            &Now {
                cells: *cells,
                earliest: span.map(|_| earliest.as_str()),
                latest: span.map(|_| latest.as_str()),
                waiting: &self.waiting_by_sort[place],
            },
        )
    }

    /// What was converted, settled and left, a line each.
    pub fn report(
        &self,
        targets: &Targets,
        job: &Job<'_>,
        rulings: &Rulings,
        talk: Talk,
    ) -> Vec<String> {
        let rows: u64 = self.rows_by_file.iter().sum();
        let out = match &targets.out {
            Some(out) => out.display().to_string(),
            None => "standard output".to_owned(),
        };
        let mut lines = vec![format!(
            "{STRONG}{out}{STRONG:#}: {}, {} of {} converted",
            count(rows, "row"),
            self.columns.len(),
            count(job.table.columns().len() as u64, "column")
        )];
        let remarks = view::survey::remarks(job, &self.ragged);
        lines.extend(remarks.into_iter().map(|remark| format!("  {remark}")));
        if self.as_text > 0 {
            lines.push(format!(
                "  {} no workbook holds exactly: before 1900-03-01, below a millisecond, or \
                 negative; written as text",
                count(self.as_text, "value")
            ));
        }
        let encoding = job.table.encoding().name();
        if encoding != "UTF-8" {
            lines.push(format!("  read as {encoding}, written as UTF-8"));
        }
        let shown = match talk {
            Talk::More => self.columns.len(),
            _ => self.columns.len().min(COLUMNS_SHOWN),
        };
        let columns = &self.columns[..shown];
        let names: Vec<&str> = columns.iter().map(|(name, _)| name.as_str()).collect();
        for (name, (_, cells)) in in_column(&names).zip(columns) {
            lines.push(format!("  {name}  {}", counts(cells)));
        }
        if shown < self.columns.len() {
            let more = count((self.columns.len() - shown) as u64, "more column");
            lines.push(format!("  and {more}, which -v shows"));
        }
        if self.answers > 0 {
            lines.push(format!(
                "  {} resolved by a reviewer",
                count(self.resolved, "cell")
            ));
        }
        if self.refused() > 0 {
            let gone = self.refused() - self.changed;
            let mut why = Vec::new();
            if self.changed > 0 {
                why.push(format!(
                    "{} other text now",
                    match self.changed {
                        1 => "1 cell has".to_owned(),
                        more => format!("{} cells have", number(more)),
                    }
                ));
            }
            if gone > 0 {
                why.push(format!(
                    "{} not there any more",
                    match gone {
                        1 => "1 cell is".to_owned(),
                        more => format!("{} cells are", number(more)),
                    }
                ));
            }
            lines.push(format!(
                "{WAITS}{} of the reviewer refused{WAITS:#}: {}",
                count(self.refused(), "answer"),
                list(&why, "and")
            ));
        }
        for (place, (name, _)) in self.columns.iter().enumerate() {
            for difference in self.differences(place, rulings) {
                lines.push(format!(
                    "  {name}, since it was settled: {}",
                    difference.sentence()
                ));
            }
        }
        let waiting = self.waiting();
        if waiting > 0 {
            let wait = if waiting == 1 { "waits" } else { "wait" };
            let list = match &targets.review {
                Some(path) => format!("listed in {}", path.display()),
                None => "name a file with --review to have them listed".to_owned(),
            };
            lines.push(format!(
                "{WAITS}{} {wait} for a person{WAITS:#}: {list}",
                match waiting {
                    1 => "1 cell".to_owned(),
                    _ => format!("{} cells", number(waiting)),
                }
            ));
        }
        lines
    }
}
