//! `metachron convert`: the clean table, the review list, the summary.

use super::settle::counts_in_words;
use super::survey::TableFacts;
use crate::cli::{ConvertArgs, Talk, TextFormat};
use crate::job::{Converted, Extras, Job, Ragged};
use crate::output::Output;
use crate::run::{Outcome, usage};
use crate::view;
use crate::view::message::{STRONG, WAITS, say};
use crate::view::words::{count, number};
use anyhow::Context;
use metachron_core::outlook::{ColumnOutlook, Counts};
use metachron_core::rulings::Rulings;
use metachron_table::{Dialect, csv::RowWriter};
use serde::Serialize;
use std::path::{Path, PathBuf};

/// The columns of a review list.
const REVIEW_HEADER: [&str; 8] = [
    "file", "row", "line", "column", "raw", "verdict", "reason", "readings",
];

/// How many columns the report names, unless more is asked for.
const COLUMNS_SHOWN: usize = 20;

/// Runs the command.
pub fn run(args: &ConvertArgs, talk: Talk) -> anyhow::Result<Outcome> {
    let targets = Targets::new(args)?;
    let mut job = Job::open(&args.table, &args.read, talk)?;
    let (rulings, outlooks) = match job.given_rulings()? {
        Some(rulings) => {
            job.make_encodings_sure()?;
            (rulings, None)
        }
        None => {
            let surveyed = job.survey()?;
            let ruled = job.rule(&surveyed)?;
            let places = super::survey::places(&job, &surveyed);
            (ruled.rulings, Some((ruled.columns, places)))
        }
    };
    let done = write(args, &targets, &job, &rulings)?;
    let questions = outlooks
        .as_ref()
        .map(|(columns, places)| view::survey::questions(columns, places, view::width()));
    if talk != Talk::Quiet {
        say(&done.report(&targets, &job, talk).join("\n"));
        let questions = questions.unwrap_or_default();
        if !questions.is_empty() {
            say(questions.trim_matches('\n'));
        }
    }
    if args.json {
        let mut out = Output::stdout();
        out.put(serde_json::to_string_pretty(&done.summary(&targets, &job, &rulings))?.as_bytes())?;
        out.put(b"\n")?;
        out.finish()?;
    }
    let asks = |columns: &[ColumnOutlook]| columns.iter().any(ColumnOutlook::waits);
    let waits = done.waiting() > 0 || outlooks.is_some_and(|(columns, _)| asks(&columns));
    Ok(match waits {
        true => Outcome::Waits,
        false => Outcome::Done,
    })
}

/// Where everything goes.
struct Targets {
    out: Option<PathBuf>,
    review: Option<PathBuf>,
    summary: Option<PathBuf>,
    format: Option<TextFormat>,
}

impl Targets {
    fn new(args: &ConvertArgs) -> anyhow::Result<Targets> {
        let out = args.output.clone().filter(|path| path != Path::new("-"));
        if args.json && out.is_none() {
            return Err(usage(
                "--json and the table cannot both go to standard output; name a file with -o",
            ));
        }
        let default_review = out.as_ref().map(|out| out.with_extension("review.csv"));
        let targets = Targets {
            format: match (args.to, &out) {
                (Some(format), _) => Some(format),
                (None, Some(out)) => format_of(out)?,
                (None, None) => None,
            },
            review: args.review.clone().or(default_review),
            summary: args.summary.clone(),
            out,
        };
        let written = [&targets.out, &targets.review, &targets.summary];
        let written: Vec<&PathBuf> = written.into_iter().flatten().collect();
        for (place, path) in written.iter().enumerate() {
            refuse_same(path, args.table.inputs.iter().chain(&args.read.rulings))?;
            if written[..place].iter().any(|other| same_file(path, other)) {
                return Err(usage(format!(
                    "{} is named for two outputs; give each a name of its own",
                    path.display()
                )));
            }
        }
        Ok(targets)
    }
}

/// The format that the extension of `out` asks for; `None` for the source's
/// own.
fn format_of(out: &Path) -> anyhow::Result<Option<TextFormat>> {
    let extension = out
        .extension()
        .map(|end| end.to_string_lossy().to_lowercase());
    match extension.as_deref() {
        Some("tsv" | "tab") => Ok(Some(TextFormat::Tsv)),
        Some("csv" | "txt") | None => Ok(None),
        Some(other) => match std::fs::metadata(out) {
            Ok(meta) if !meta.is_file() => Ok(None),
            _ => Err(usage(format!(
                "cannot write .{other} files; name OUT .csv or .tsv, or give --to csv"
            ))),
        },
    }
}

/// Refuses to write over what is read.
pub fn refuse_same<'p>(
    path: &Path,
    inputs: impl IntoIterator<Item = &'p PathBuf>,
) -> anyhow::Result<()> {
    for input in inputs {
        if same_file(path, input) {
            return Err(usage(format!(
                "{} is read, and would be written over; give another name",
                path.display()
            )));
        }
    }
    Ok(())
}

fn same_file(one: &Path, other: &Path) -> bool {
    match (one.canonicalize(), other.canonicalize()) {
        (Ok(one), Ok(other)) => one == other,
        _ => one == other,
    }
}

/// What a conversion did.
struct Done {
    columns: Vec<(String, Counts)>,
    rows_by_file: Vec<u64>,
    ragged: Ragged,
}

fn write(
    args: &ConvertArgs,
    targets: &Targets,
    job: &Job<'_>,
    rulings: &Rulings,
) -> anyhow::Result<Done> {
    let dialect = out_dialect(targets, job);
    let extras = Extras {
        raw: args.keep_raw,
        verdict: args.verdicts,
    };
    let mut out = match &targets.out {
        Some(path) => Output::file(path)?,
        None => Output::stdout(),
    };
    out.put(&header(job, rulings, dialect, extras))?;
    let converted = job.asked.iter().map(|&place| &job.table.columns()[place]);
    let converted = converted.filter(|name| rulings.column.contains_key(*name));
    let mut done = Done {
        columns: converted
            .map(|name| (name.clone(), Counts::default()))
            .collect(),
        rows_by_file: vec![0; job.table.sources().count()],
        ragged: Ragged::default(),
    };
    let mut review = Review::new(targets.review.clone());
    let mut tail = Tail::default();
    job.convert(rulings, dialect, extras, |block| {
        tail.before(&block, dialect, &mut out)?;
        out.put(&block.bytes)?;
        review.add(&block, job, done.rows_by_file[block.source])?;
        done.add(block);
        Ok(())
    })?;
    let summary = match &targets.summary {
        Some(path) => {
            let mut summary = Output::file(path)?;
            let text = serde_json::to_string_pretty(&done.summary(targets, job, rulings))?;
            summary.put(text.as_bytes())?;
            summary.put(b"\n")?;
            Some(summary)
        }
        None => None,
    };
    review.finish()?;
    if let Some(summary) = summary {
        summary.finish()?;
    }
    out.finish()?;
    Ok(done)
}

/// The dialect of the clean table: the source's own, unless a format is asked
/// for that it is not.
fn out_dialect(targets: &Targets, job: &Job<'_>) -> Dialect {
    let own = job.table.dialect();
    match targets.format {
        Some(TextFormat::Tsv) if own.delimiter != b'\t' => Dialect {
            delimiter: b'\t',
            quote: Some(b'"'),
            ..own
        },
        Some(TextFormat::Csv) if own.delimiter == b'\t' => Dialect {
            delimiter: b',',
            quote: Some(b'"'),
            ..own
        },
        _ => own,
    }
}

/// The line of the column names, as it came unless something is added.
fn header(job: &Job<'_>, rulings: &Rulings, dialect: Dialect, extras: Extras) -> Vec<u8> {
    let mut out = Vec::new();
    if job.table.has_utf8_mark() {
        out.extend_from_slice("\u{feff}".as_bytes());
    }
    let names = job.table.header();
    if names.line.is_none() {
        return out;
    }
    let renamed = rulings
        .column
        .values()
        .any(|ruling| ruling.write.name.is_some());
    let added = (extras.raw || extras.verdict) && !rulings.column.is_empty();
    if !renamed && !added && dialect.reads_alike(&job.table.dialect()) {
        out.extend_from_slice(names.raw.as_bytes());
        return out;
    }
    let writer = RowWriter::new(dialect);
    let mut place = 0;
    let mut put = |name: &str| {
        writer.cell(place, name, &mut out);
        place += 1;
    };
    for (column, name) in names.names.iter().enumerate() {
        let ruling = rulings
            .column
            .get(name)
            .filter(|_| job.asked.contains(&column));
        let Some(ruling) = ruling else {
            put(names.written.get(column).map_or("", String::as_str));
            continue;
        };
        let clean = ruling.write.name.as_ref().unwrap_or(name);
        put(clean);
        if extras.raw {
            put(&format!("{clean}_raw"));
        }
        if extras.verdict {
            put(&format!("{clean}_verdict"));
        }
    }
    writer.end(&mut out);
    out
}

/// Sees to it that the last row of a file that ends without a line end, and
/// the first of the next, stay two.
#[derive(Default)]
struct Tail {
    source: usize,
    last: Option<u8>,
}

impl Tail {
    fn before(
        &mut self,
        block: &Converted,
        dialect: Dialect,
        out: &mut Output,
    ) -> anyhow::Result<()> {
        let is_new = std::mem::replace(&mut self.source, block.source) != block.source;
        if is_new && self.last.is_some_and(|last| last != dialect.newline) {
            out.put(dialect.line_end())?;
        }
        self.last = block.bytes.last().copied().or(self.last);
        Ok(())
    }
}

/// The review list, opened when there is something to put in it.
struct Review {
    path: Option<PathBuf>,
    list: Option<csv::Writer<Output>>,
}

impl Review {
    fn new(path: Option<PathBuf>) -> Review {
        Review { path, list: None }
    }

    /// Lists the cells of `block`, before which its file had `rows` rows.
    fn add(&mut self, block: &Converted, job: &Job<'_>, rows: u64) -> anyhow::Result<()> {
        let (Some(path), false) = (&self.path, block.review.is_empty()) else {
            return Ok(());
        };
        let list = match &mut self.list {
            Some(list) => list,
            None => {
                let mut list = csv::Writer::from_writer(Output::file(path)?);
                list.write_record(REVIEW_HEADER)?;
                self.list.insert(list)
            }
        };
        let file = job
            .table
            .sources()
            .nth(block.source)
            .map_or("", |s| s.name());
        for entry in &block.review {
            list.write_record([
                file,
                &(rows + entry.row + 1).to_string(),
                &entry.line.to_string(),
                &job.table.columns()[entry.column],
                &entry.raw,
                entry.note.verdict.name(),
                &entry.note.reason,
                &entry.note.readings.join("; "),
            ])
            .with_context(|| format!("cannot write {}", path.display()))?;
        }
        Ok(())
    }

    /// Puts the list in its place, or removes the one of an earlier run.
    fn finish(self) -> anyhow::Result<()> {
        match (self.list, &self.path) {
            (Some(list), Some(path)) => {
                let output = list
                    .into_inner()
                    .map_err(|error| error.into_error())
                    .with_context(|| format!("cannot write {}", path.display()))?;
                output.finish()
            }
            (None, Some(path)) if is_review_list(path) => std::fs::remove_file(path)
                .with_context(|| format!("cannot remove {}, which is out of date", path.display())),
            _ => Ok(()),
        }
    }
}

fn is_review_list(path: &Path) -> bool {
    let header = REVIEW_HEADER.join(",");
    std::fs::read(path).is_ok_and(|bytes| bytes.starts_with(header.as_bytes()))
}

/// Counts, as `--summary` and `--json` write them. See docs/json.md.
#[derive(Serialize)]
struct Summary<'d> {
    metachron: u32,
    table: TableFacts,
    output: Option<String>,
    review: Option<String>,
    cells: Counts,
    columns: Vec<ColumnSummary<'d>>,
}

#[derive(Serialize)]
struct ColumnSummary<'d> {
    name: &'d str,
    kind: &'static str,
    cells: Counts,
}

impl Done {
    fn add(&mut self, block: Converted) {
        self.rows_by_file[block.source] += block.rows;
        self.ragged.merge(block.ragged);
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

    fn waiting(&self) -> u64 {
        self.cells().waiting()
    }

    fn summary<'d>(
        &'d self,
        targets: &Targets,
        job: &Job<'_>,
        rulings: &'d Rulings,
    ) -> Summary<'d> {
        let shown = |path: &Option<PathBuf>| path.as_ref().map(|path| path.display().to_string());
        Summary {
            metachron: metachron_core::rulings::VERSION,
            table: TableFacts::new(job, &self.rows_by_file, self.ragged.clone()),
            output: shown(&targets.out),
            review: shown(&targets.review).filter(|_| self.waiting() > 0),
            cells: self.cells(),
            columns: self
                .columns
                .iter()
                .map(|(name, cells)| ColumnSummary {
                    name,
                    kind: rulings.column[name].kind.name(),
                    cells: *cells,
                })
                .collect(),
        }
    }

    /// What was converted, settled and left, a line each.
    fn report(&self, targets: &Targets, job: &Job<'_>, talk: Talk) -> Vec<String> {
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
        let encoding = job.table.encoding().name();
        if encoding != "UTF-8" {
            lines.push(format!("  read as {encoding}, written as UTF-8"));
        }
        let shown = match talk {
            Talk::More => self.columns.len(),
            _ => self.columns.len().min(COLUMNS_SHOWN),
        };
        let columns = &self.columns[..shown];
        let width = columns.iter().map(|(name, _)| name.chars().count()).max();
        for (name, cells) in columns {
            let pad = width.unwrap_or(0) - name.chars().count();
            lines.push(format!(
                "  {name}{}  {}",
                " ".repeat(pad),
                counts_in_words(cells)
            ));
        }
        if shown < self.columns.len() {
            let more = count((self.columns.len() - shown) as u64, "more column");
            lines.push(format!("  and {more}, which -v shows"));
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
