//! What a conversion did, counted.

use super::targets::Targets;
use crate::job::Job;
use crate::json;
use metachron_core::derive::Derivations;
use metachron_core::engine::{
    ConvertedRows, DerivedCounts, Direction, Ragged, ReviewEntry, SortBy,
};
use metachron_core::evidence::Example;
use metachron_core::forecast::{Counts, Difference, Now, Waiting, differences};
use metachron_core::form::RowFacts;
use metachron_core::phrase::Type;
use metachron_core::rulings::{FormRuling, Rulings};
use metachron_core::stamp::Stamp;
use metachron_core::zone::zone_data;
use metachron_table::{ColumnProvenance, Provenance};
use std::path::PathBuf;

/// This program, as clean tables name it.
pub const TOOL: &str = concat!("metachron ", env!("CARGO_PKG_VERSION"));

/// What a conversion did.
pub struct Done {
    /// Verdicts by converted column.
    pub columns: Vec<(String, Counts)>,
    /// The earliest and the latest stamp of each.
    pub spans: Vec<Option<(Stamp, Stamp)>>,
    /// Cells that wait, by reason, of each.
    pub waiting_by_code: Vec<Vec<Waiting>>,
    /// How many rows each file has.
    pub rows_by_file: Vec<u64>,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
    /// Stamps that a workbook can only hold as text.
    pub as_text: u64,
    /// What is not in the clean table as one would expect it, in words.
    pub remarks: Vec<String>,
    /// Cells that a reviewer wrote an answer for.
    pub answers: u64,
    /// Of these, those that were taken.
    pub resolved: u64,
    /// Of these, those that say something else now.
    pub changed: u64,
    /// What became of the cells of derived columns, with the type of each.
    pub derived: Vec<DerivedColumn>,
    /// Which rows were kept, if a test was given.
    pub kept: Option<KeptRows>,
    /// What the rows were sorted by, if they were.
    pub sorted: Option<SortedRows>,
    /// How many rows stood before one that they belong behind.
    pub steps_back: u64,
}

/// What became of a derived column.
#[derive(Clone, Debug)]
pub struct DerivedColumn {
    pub name: String,
    pub kind: &'static str,
    pub cells: DerivedCounts,
}

/// Which rows were kept.
#[derive(Clone, Copy, Debug, Default)]
pub struct KeptRows {
    pub kept: u64,
    pub dropped: u64,
    /// Of those dropped, such as nobody could tell of.
    pub untold: u64,
    /// Of these, such as are on the review list.
    pub refused: u64,
}

/// What rows were sorted by.
#[derive(Clone, Debug)]
pub struct SortedRows {
    pub by: Vec<String>,
    /// By their characters, and not as dates, times or numbers.
    pub as_text: Vec<String>,
    pub descending: bool,
}

/// Counts a cell that waits among those that wait for the same reason.
fn add_waiting(waiting: &mut Vec<Waiting>, entry: &ReviewEntry, rows_before: u64) {
    let code = entry.decision.code();
    match waiting.iter_mut().find(|known| known.code == code) {
        Some(known) => known.cells += 1,
        None => {
            let row = rows_before + entry.row;
            let example = Example::new(row, &entry.raw, RowFacts::default());
            waiting.push(Waiting::new(entry.decision.clone(), 1, example));
        }
    }
}

impl Done {
    /// Nothing yet.
    pub fn new(
        job: &Job<'_>,
        rulings: &Rulings,
        derivations: &Derivations,
        sort: Option<&SortBy>,
    ) -> Done {
        let asked = job.request.asked.iter();
        let converted = asked.map(|&index| &job.table.columns()[index]);
        let ruled = &rulings.column;
        let converted = converted.filter(|name| ruled.contains_key(*name));
        let columns: Vec<(String, Counts)> = converted
            .map(|name| (name.clone(), Counts::default()))
            .collect();
        let derived = derivations.columns();
        let derived = derived.map(|(name, of)| DerivedColumn {
            name: name.to_owned(),
            kind: of.name(),
            cells: DerivedCounts::default(),
        });
        let sorted = sort.map(|sort| {
            let of = sort.names.iter().zip(&sort.types);
            let as_text = of.filter(|(_, of)| matches!(of, Type::Cell | Type::Text));
            SortedRows {
                as_text: as_text.map(|(name, _)| name.clone()).collect(),
                by: sort.names.clone(),
                descending: sort.direction() == Direction::Descending,
            }
        });
        Done {
            spans: vec![None; columns.len()],
            waiting_by_code: vec![Vec::new(); columns.len()],
            columns,
            rows_by_file: vec![0; job.table.sources().count()],
            ragged: Ragged::default(),
            as_text: 0,
            remarks: Vec::new(),
            answers: 0,
            resolved: 0,
            changed: 0,
            derived: derived.collect(),
            kept: derivations.keeps_some().then(KeptRows::default),
            sorted,
            steps_back: 0,
        }
    }

    /// Counts one more block.
    pub fn add(&mut self, block: ConvertedRows, job: &Job<'_>) {
        let before = self.rows_by_file.iter().sum();
        for (known, more) in self.spans.iter_mut().zip(&block.spans) {
            *known = match (*known, *more) {
                (Some((first, last)), Some((earlier, later))) => {
                    Some((first.min(earlier), last.max(later)))
                }
                (one, other) => one.or(other),
            };
        }
        for (derived, more) in self.derived.iter_mut().zip(&block.derived) {
            derived.cells.merge(*more);
        }
        if let Some(kept) = &mut self.kept {
            kept.kept += block.rows - block.dropped;
            kept.dropped += block.dropped;
            kept.untold += block.untold;
            kept.refused += block.unkept;
        }
        for entry in &block.review {
            // Derived columns are not among them, and neither are rows.
            let Some(name) = job.table.columns().get(entry.column) else {
                continue;
            };
            if let Some(index) = self.columns.iter().position(|(known, _)| known == name) {
                add_waiting(&mut self.waiting_by_code[index], entry, before);
            }
        }
        self.rows_by_file[block.at.file] += block.rows;
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
        let derived = self.derived.iter().map(|derived| derived.cells.refused);
        let rows = self.kept.map_or(0, |kept| kept.refused);
        self.cells().waiting() + derived.sum::<u64>() + rows
    }

    /// Answers of a reviewer that were not taken.
    pub fn refused(&self) -> u64 {
        self.answers - self.resolved
    }

    /// How each converted column differs from what its ruling was settled on.
    pub fn all_differences(&self, rulings: &Rulings) -> Vec<Vec<Difference>> {
        let columns = 0..self.columns.len();
        columns
            .map(|index| self.differences(index, rulings))
            .collect()
    }

    /// What a clean table says of where it comes from.
    pub fn provenance(&self, rulings: &Rulings) -> Provenance {
        let columns = self.columns.iter().map(|(name, counts)| {
            let ruling = &rulings.column[name];
            let alternatives = |ruled: &FormRuling| {
                let forms: Vec<String> = ruled
                    .alternatives()
                    .iter()
                    .map(ToString::to_string)
                    .collect();
                forms.join(" or ")
            };
            ColumnProvenance {
                source: name.clone(),
                kind: ruling.kind.name(),
                forms: ruling.read.forms.iter().map(alternatives).collect(),
                certain: counts.certain,
                settled: counts.settled,
                open: counts.open,
                unreadable: counts.unreadable,
                blank: counts.blank,
            }
        });
        Provenance {
            tool: TOOL.to_owned(),
            columns: columns.collect(),
        }
    }

    /// The counts, as JSON has them; `differences` are those of the columns.
    pub fn to_json<'d>(
        &'d self,
        targets: &Targets,
        job: &Job<'_>,
        rulings: &Rulings,
        differences: &'d [Vec<Difference>],
    ) -> json::Conversion<'d> {
        let shown = |path: &Option<PathBuf>| path.as_ref().map(|path| path.display().to_string());
        let columns = self.columns.iter().zip(differences);
        json::Conversion {
            metachron: metachron_core::rulings::VERSION,
            zone_data: zone_data().to_string(),
            table: json::Table::new(job, &self.rows_by_file, &self.ragged),
            output: match &targets.database {
                Some(database) => Some(database.shown().to_owned()),
                None => shown(&targets.out),
            },
            review: shown(&targets.review).filter(|_| self.waiting() > 0),
            cells: self.cells().into(),
            resolved: self.resolved,
            refused: self.refused(),
            columns: columns
                .map(|((name, cells), differences)| json::ConvertedColumn {
                    name,
                    kind: rulings.column[name].kind.name(),
                    cells: (*cells).into(),
                    differences: differences.iter().map(json::Difference::from).collect(),
                })
                .collect(),
            derived: self
                .derived
                .iter()
                .map(|derived| json::DerivedColumn::new(&derived.name, derived.kind, derived.cells))
                .collect(),
            rows: self.kept.map(|rows| json::KeptRows {
                kept: rows.kept,
                dropped: rows.dropped,
                untold: rows.untold,
                refused: rows.refused,
            }),
            sorted: self.sorted.as_ref().map(|sorted| json::SortedRows {
                by: &sorted.by,
                as_text: &sorted.as_text,
                descending: sorted.descending,
                steps_back: self.steps_back,
            }),
        }
    }

    /// How a converted column differs from what its ruling was settled on.
    pub fn differences(&self, index: usize, rulings: &Rulings) -> Vec<Difference> {
        let (name, cells) = &self.columns[index];
        let baseline = rulings
            .column
            .get(name)
            .and_then(|ruling| ruling.baseline.as_ref());
        let Some(baseline) = baseline else {
            return Vec::new();
        };
        let span = self.spans[index];
        let (earliest, latest) = match span {
            Some((earliest, latest)) => (earliest.to_string(), latest.to_string()),
            None => Default::default(),
        };
        differences(
            baseline,
            &Now {
                cells: *cells,
                earliest: span.map(|_| earliest.as_str()),
                latest: span.map(|_| latest.as_str()),
                waiting: &self.waiting_by_code[index],
            },
        )
    }
}
