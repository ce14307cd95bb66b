//! What a conversion did, in words.

use super::done::{DerivedColumn, Done, KeptRows, SortedRows};
use super::targets::Targets;
use crate::cli::Verbosity;
use crate::job::Job;
use crate::view;
use crate::view::message::{STRONG, WAITS};
use crate::visible::one_line;
use crate::words::{count, counts, in_column, list, number};
use metachron_core::engine::DerivedCounts;
use metachron_core::rulings::Rulings;
use std::borrow::Cow;

/// How many columns the report names, unless more is asked for.
const COLUMNS_SHOWN: usize = 20;

impl Done {
    /// What was converted, settled and left, a line each.
    pub fn report(
        &self,
        targets: &Targets,
        job: &Job<'_>,
        rulings: &Rulings,
        verbosity: Verbosity,
    ) -> Vec<String> {
        let rows: u64 = self.rows_by_file.iter().sum();
        let out = targets.shown();
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
        lines.extend(self.remarks.iter().map(|remark| format!("  {remark}")));
        let encoding = job.table.encoding().name();
        if encoding != "UTF-8" {
            lines.push(format!("  read as {encoding}, written as UTF-8"));
        }
        let shown = match verbosity {
            Verbosity::More => self.columns.len(),
            _ => self.columns.len().min(COLUMNS_SHOWN),
        };
        let columns = &self.columns[..shown];
        let converted = columns
            .iter()
            .map(|(name, cells)| (one_line(name), counts(cells)));
        let derived = self
            .derived
            .iter()
            .map(|derived| (one_line(&derived.name), derived_words(derived)));
        let (names, words): (Vec<Cow<'_, str>>, Vec<String>) = converted.chain(derived).unzip();
        let names: Vec<&str> = names.iter().map(Cow::as_ref).collect();
        for (name, words) in in_column(&names).zip(words) {
            lines.push(format!("  {name}  {words}"));
        }
        if shown < self.columns.len() {
            let more = count((self.columns.len() - shown) as u64, "more column");
            lines.push(format!("  and {more}, which -v shows"));
        }
        if let Some(kept) = self.kept {
            lines.push(kept_line(kept, rows));
        }
        if let Some(sorted) = &self.sorted {
            lines.push(sorted_line(sorted, self.steps_back));
        }
        if self.answers > 0 {
            lines.push(format!(
                "  {} resolved by a reviewer",
                count(self.resolved, "cell")
            ));
        }
        if self.refused() > 0 {
            lines.push(refused_line(self.refused(), self.changed));
        }
        for (index, (name, _)) in self.columns.iter().enumerate() {
            for difference in self.differences(index, rulings) {
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
                count(waiting, "cell")
            ));
        }
        lines
    }
}

/// What became of the cells of a derived column.
fn derived_words(derived: &DerivedColumn) -> String {
    let DerivedCounts {
        given,
        blank,
        waiting,
        refused,
    } = derived.cells;
    let parts = [
        (given, "given"),
        (blank, "blank"),
        (waiting, "empty until what they are made from is settled"),
        (refused, "without a value"),
    ];
    let parts = parts.into_iter().filter(|(cells, _)| *cells > 0);
    let parts: Vec<String> = parts
        .map(|(cells, what)| format!("{} {what}", number(cells)))
        .collect();
    if parts.is_empty() {
        format!("derived ({}): no cells", derived.kind)
    } else {
        format!("derived ({}): {}", derived.kind, parts.join(", "))
    }
}

/// Which of so many rows were kept.
fn kept_line(kept: KeptRows, rows: u64) -> String {
    let reasons = [
        (kept.untold - kept.refused, "a cell is blank or waits"),
        (kept.refused, "the test has no result"),
    ];
    let reasons = reasons.into_iter().filter(|(rows, _)| *rows > 0);
    let mut parts: Vec<String> = reasons
        .map(|(rows, why)| format!("of {} it cannot be told ({why})", number(rows)))
        .collect();
    let fail = kept.dropped - kept.untold;
    if fail > 0 && !parts.is_empty() {
        let fail = match fail {
            1 => "1 does not pass".to_owned(),
            more => format!("{} do not pass", number(more)),
        };
        parts.insert(0, fail);
    }
    let parts = if parts.is_empty() {
        String::new()
    } else {
        format!(": {}", parts.join(", "))
    };
    format!(
        "  kept {} of {}, dropped {}{parts}",
        number(kept.kept),
        count(rows, "row"),
        number(kept.dropped)
    )
}

/// What rows were sorted by, of which so many stood before one that they
/// belong behind.
fn sorted_line(sorted: &SortedRows, steps_back: u64) -> String {
    let by = sorted.by.iter().map(|name| {
        if sorted.as_text.contains(name) {
            format!("{name} (as text)")
        } else {
            name.clone()
        }
    });
    let by = list(&by.collect::<Vec<_>>(), "and");
    let direction = if sorted.descending {
        ", descending"
    } else {
        ""
    };
    let before = match steps_back {
        0 => "the rows were in that order already".to_owned(),
        1 => "1 row stood behind one that it belongs before".to_owned(),
        more => format!(
            "{} rows stood behind one that they belong before",
            number(more)
        ),
    };
    format!("  sorted by {by}{direction}: {before}")
}

/// Answers of a reviewer that were not taken, so many of them because their
/// cells have changed.
fn refused_line(refused: u64, changed: u64) -> String {
    let cells = |cells, one: &str, several: &str| {
        let verb = if cells == 1 { one } else { several };
        format!("{} {verb}", count(cells, "cell"))
    };
    let gone = refused - changed;
    let mut why = Vec::new();
    if changed > 0 {
        why.push(format!("{} other text now", cells(changed, "has", "have")));
    }
    if gone > 0 {
        why.push(format!("{} not there any more", cells(gone, "is", "are")));
    }
    format!(
        "{WAITS}{} of the reviewer refused{WAITS:#}: {}",
        count(refused, "answer"),
        list(&why, "and")
    )
}
