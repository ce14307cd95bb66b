//! The survey, for people.

use super::message::{FAINT, STRONG, WAITS};
use super::question::{self, Style};
use super::{basis, why, wrap};
use crate::cli::Verbosity;
use crate::job::{Job, RowNames};
use crate::visible::one_line;
use crate::words::{cell, count, in_column, list, number};
use comfy_table::{CellAlignment, ContentArrangement, Table};
use metachron_core::decide::{ReasonCode, Verdict};
use metachron_core::engine::{Ragged, Settled, Surveyed};
use metachron_core::forecast::{ColumnForecast, Skipped, Waiting};
use metachron_table::SourceFormat;
use std::borrow::Cow;
use std::fmt::Write as _;

/// How much is said about each column.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Detail {
    /// Its forms, what each rests on, and what waits.
    Forms,
    /// The whole reasoning, level by level.
    Why,
}

/// The survey as text, styled.
pub fn survey(job: &Job<'_>, settled: &Settled, detail: Detail, verbosity: Verbosity) -> String {
    let surveyed = &settled.surveyed;
    let width = super::width();
    let row_names = RowNames::of_table(job, surveyed);
    let mut text = table_facts(job, surveyed, width);
    let (temporal, skipped): (Vec<_>, Vec<_>) = settled
        .columns
        .iter()
        .partition(|column| column.kind.is_some());
    if !temporal.is_empty() {
        text.push('\n');
        text.push_str(&overview(&temporal, width));
    }
    for column in &temporal {
        text.push('\n');
        text.push_str(&match detail {
            Detail::Forms => one_column(column, &row_names, width),
            Detail::Why => why::why(column, &row_names, width),
        });
    }
    text.push_str(&passed_through(&skipped, verbosity, width));
    text.push_str(&questions(&settled.columns, &row_names, width));
    text
}

/// How the file was read.
fn table_facts(job: &Job<'_>, surveyed: &Surveyed, width: Option<u16>) -> String {
    let table = &job.table;
    let names: Vec<&str> = table.sources().map(|source| source.name()).collect();
    let header = match table.header().line {
        Some(line) => format!("names on line {line}"),
        None if table.header().in_schema => "names and types of its own".to_owned(),
        None => "no line of names".to_owned(),
    };
    let mut text = format!(
        "{STRONG}{}{STRONG:#}: {}, {}; {}, {header}\n",
        list(&names, "and"),
        count(surveyed.evidence.rows, "row"),
        count(table.columns().len() as u64, "column"),
        match (table.sheet(), table.format()) {
            (Some(sheet), format) => format!(
                "{} {} {}",
                format.name(),
                format.part().unwrap_or("sheet"),
                cell(sheet.name)
            ),
            (None, SourceFormat::Text) => format!(
                "{}, cells between {}",
                table.encoding().name(),
                table.dialect().delimiter_name()
            ),
            (None, format) => format.name().to_owned(),
        },
    );
    if let Some(sheet) = table.sheet().filter(|sheet| sheet.all.len() > 1) {
        let sheets: Vec<String> = sheet
            .all
            .iter()
            .map(|one| {
                if one.is_hidden {
                    format!("{} (hidden)", cell(&one.name))
                } else {
                    cell(&one.name)
                }
            })
            .collect();
        let part = table.format().part().unwrap_or("sheet");
        let line = format!("its {part}s: {}; --sheet reads another", sheets.join(", "));
        text.push_str(&wrap(&line, 2, width));
    }
    for line in remarks(job, &surveyed.ragged) {
        text.push_str(&wrap(&line, 2, width));
    }
    text
}

/// What is odd about the file, a sentence each.
pub fn remarks(job: &Job<'_>, ragged: &Ragged) -> Vec<String> {
    let many = job.table.sources().count() > 1;
    let mut remarks = Vec::new();
    for (source, header) in job.table.headers() {
        let of = if many {
            format!("{}: ", source.name())
        } else {
            String::new()
        };
        if let Some(first) = header.notes.first() {
            remarks.push(format!(
                "{of}{} above the names ({}) {} not part of the table",
                count(header.notes.len() as u64, "line"),
                cell(&shorten(first, 40)),
                if header.notes.len() == 1 { "is" } else { "are" }
            ));
        }
        remarks.extend(header.remarks.iter().map(|remark| format!("{of}{remark}")));
    }
    for (source, remark) in job.table.sheet_remarks() {
        remarks.push(if many {
            format!("{}: {remark}", source.name())
        } else {
            remark
        });
    }
    if ragged.rows > 0 {
        let names: Vec<&str> = job.table.sources().map(|source| source.name()).collect();
        let first: Vec<String> = ragged
            .first
            .iter()
            .map(|row| {
                let of = if many {
                    format!("{} ", names[row.file])
                } else {
                    String::new()
                };
                format!("{of}line {} has {}", row.line, row.cells)
            })
            .collect();
        let more = if ragged.rows > first.len() as u64 {
            ", …"
        } else {
            ""
        };
        remarks.push(format!(
            "{} fewer or more than {} cells: {}{more}; kept as they came",
            match ragged.rows {
                1 => "1 row has".to_owned(),
                rows => format!("{} rows have", number(rows)),
            },
            job.table.columns().len(),
            first.join(", ")
        ));
    }
    remarks
}

/// A line for each temporal column.
fn overview(columns: &[&ColumnForecast], width: Option<u16>) -> String {
    let mut table = Table::new();
    table.load_preset(comfy_table::presets::NOTHING);
    if let Some(width) = width {
        table.set_content_arrangement(ContentArrangement::Dynamic);
        table.set_width(width);
    }
    let head = [
        "column",
        "kind",
        "certain",
        "settled",
        "open",
        "unreadable",
        "blank",
    ];
    table.set_header(
        head.map(|name| comfy_table::Cell::new(name).add_attribute(comfy_table::Attribute::Dim)),
    );
    table.enforce_styling();
    for column in columns {
        let waiting = |cells: u64| {
            let cell = comfy_table::Cell::new(number(cells));
            match cells {
                0 => cell,
                _ => cell.fg(comfy_table::Color::DarkYellow),
            }
        };
        table.add_row(vec![
            comfy_table::Cell::new(one_line(&column.name))
                .add_attribute(comfy_table::Attribute::Bold),
            comfy_table::Cell::new(column.kind.map_or("", |kind| kind.name())),
            comfy_table::Cell::new(number(column.cells.certain)),
            comfy_table::Cell::new(number(column.cells.settled)),
            waiting(column.cells.open),
            waiting(column.cells.unreadable),
            comfy_table::Cell::new(number(column.cells.blank)),
        ]);
    }
    for index in 2..7 {
        if let Some(numbers) = table.column_mut(index) {
            numbers.set_cell_alignment(CellAlignment::Right);
        }
    }
    let lines = table.to_string();
    lines
        .lines()
        .map(|line| format!(" {}\n", line.trim_end()))
        .collect()
}

/// The forms of a column, what each rests on, and what waits.
fn one_column(column: &ColumnForecast, row_names: &RowNames, width: Option<u16>) -> String {
    let kind = column.kind.map_or("", |kind| kind.name());
    let span = match (&column.earliest, &column.latest) {
        (Some(earliest), Some(latest)) => format!(", {earliest} to {latest}"),
        _ => String::new(),
    };
    let name = one_line(&column.name);
    let mut text = format!("{STRONG}{name}{STRONG:#}  {FAINT}{kind}{span}{FAINT:#}\n");
    for form in &column.forms {
        let _ = writeln!(text, "  {}", basis::patterns(form));
        let (cells, why) = (
            basis::cells(form, row_names),
            basis::sentence(form, &column.justifications, row_names),
        );
        text.push_str(&wrap(&format!("{cells}; {why}"), 6, width));
    }
    for rule in basis::rules(&column.justifications) {
        text.push_str(&wrap(&rule, 2, width));
    }
    if let Some(zone) = &column.zone {
        text.push_str(&wrap(&basis::zone(zone), 2, width));
    }
    if let Some(years) = &column.two_digit_years {
        let cells = count(years.cells, "two-digit year");
        let line = match (years.century, years.first, years.last) {
            (Some(century), Some(first), Some(last)) => format!(
                "{cells}: read as {}, in the window {century}–{}",
                crate::words::range(first, last),
                century + 99
            ),
            _ => format!("{cells}: the century is not settled"),
        };
        text.push_str(&wrap(&line, 2, width));
    }
    let markers: Vec<String> = column
        .blanks
        .iter()
        .filter(|blank| !blank.text.is_empty())
        .map(|blank| format!("{} ({})", cell(&blank.text), number(blank.cells)))
        .collect();
    if !markers.is_empty() {
        text.push_str(&wrap(
            &format!("read as blank: {}", list(&markers, "and")),
            2,
            width,
        ));
    }
    for remark in &column.remarks {
        text.push_str(&wrap(remark, 2, width));
    }
    for difference in &column.differences {
        let line = format!("since it was settled: {}", difference.sentence());
        text.push_str(&wrap(&line, 2, width));
    }
    // What a question asks about is said there.
    let asked = |waiting: &&Waiting| {
        // One question is asked for all cells that wait so, whatever their
        // zones.
        if matches!(
            waiting.code,
            ReasonCode::InGap | ReasonCode::InOverlap | ReasonCode::LeapSecond
        ) {
            return true;
        }
        let rows = column.questions.iter().map(|question| question.example.row);
        waiting.verdict == Verdict::Open && rows.into_iter().any(|row| row == waiting.example.row)
    };
    for waiting in column.waiting.iter().filter(|waiting| !asked(waiting)) {
        text.push_str(&waits(waiting, row_names, width));
    }
    text
}

fn waits(waiting: &Waiting, row_names: &RowNames, width: Option<u16>) -> String {
    let line = format!(
        "{} {}, such as {} ({}): {}",
        number(waiting.cells),
        waiting.verdict.name(),
        cell(&waiting.example.text),
        row_names.of(waiting.example.row),
        waiting.reason
    );
    let lines = wrap(&line, 2, width);
    format!("{WAITS}{}{WAITS:#}\n", lines.trim_end_matches('\n'))
}

fn passed_through(skipped: &[&ColumnForecast], verbosity: Verbosity, width: Option<u16>) -> String {
    let mut text = String::new();
    let with = |test: fn(&Skipped) -> bool| -> Vec<Cow<'_, str>> {
        let fitting = skipped
            .iter()
            .filter(|c| c.skipped.as_ref().is_some_and(test));
        fitting.map(|column| one_line(&column.name)).collect()
    };
    for (what, names) in [
        (
            "no dates or times",
            with(|why| matches!(why, Skipped::NoDates)),
        ),
        (
            "text, as was said",
            with(|why| matches!(why, Skipped::Text)),
        ),
        ("no cells", with(|why| matches!(why, Skipped::Empty))),
        (
            "without a ruling",
            with(|why| matches!(why, Skipped::NotAsked)),
        ),
    ] {
        if names.is_empty() {
            continue;
        }
        let shown = match verbosity {
            Verbosity::More => names.len(),
            _ => names.len().min(12),
        };
        let more = match names.len() - shown {
            0 => String::new(),
            more => format!(" and {} more", number(more as u64)),
        };
        let line = format!(
            "Passed through, {what}: {}{more}",
            names[..shown].join(", ")
        );
        text.push('\n');
        text.push_str(&wrap(&line, 0, width));
    }
    for column in skipped {
        for remark in &column.remarks {
            text.push_str(&wrap(
                &format!("{}: {remark}", one_line(&column.name)),
                0,
                width,
            ));
        }
    }
    text
}

/// The open questions of all columns.
pub fn questions(columns: &[ColumnForecast], row_names: &RowNames, width: Option<u16>) -> String {
    let style = Style::for_columns(columns);
    let mut text = String::new();
    for column in columns {
        for asked in &column.questions {
            if text.is_empty() {
                let _ = writeln!(text, "\n{STRONG}Questions{STRONG:#}");
            }
            text.push_str(&wrap(
                &question::sentence(&one_line(&column.name), asked, row_names),
                2,
                width,
            ));
            let answers = question::answers(asked, style);
            let typed: Vec<&str> = answers.iter().map(|(typed, _)| typed.as_str()).collect();
            for (typed, (_, consequence)) in in_column(&typed).zip(&answers) {
                let _ = writeln!(text, "    {STRONG}{typed}{STRONG:#}  {consequence}");
            }
        }
    }
    text
}

fn shorten(text: &str, most: usize) -> String {
    match text.char_indices().nth(most) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.to_owned(),
    }
}
