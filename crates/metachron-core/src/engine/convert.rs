//! Converting: every row once, in order, its temporal cells typed.

use super::answers::{Answered, Answers, CellAt};
use super::column::RowDecider;
use super::derive::{DerivedCounts, Deriver};
use super::neighbours::NeighbourPass;
use super::rows::{BlockStart, Ragged, Row, Rows, each_row, is_row};
use super::sort::SortBy;
use super::track::TrackPass;
use super::{EngineError, Pass, PassOf, PassResult, PassResultOf, Request};
use crate::decide::RowContext;
use crate::decide::{Decision, Verdict};
use crate::derive::{Derivations, Kept};
use crate::forecast::Counts;
use crate::phrase::{RowScope, Track, Type, Value};
use crate::row::{Holds, Origin, OutCell, OutColumn, OutRow, Schema, push_text};
use crate::rulings::{ColumnRuling, Rulings};
use crate::stamp::Stamp;
use std::sync::Arc;

/// What all deciders of a thread may take to remember cells, in bytes.
const MEMORY: usize = 4 << 20;

/// Columns that are added behind each converted one.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Extras {
    /// The source text, as NAME_raw.
    pub raw: bool,
    /// The verdict, as NAME_verdict.
    pub verdict: bool,
}

/// What a conversion does besides following the rulings.
#[derive(Clone, Debug)]
pub struct ConvertOptions {
    /// What is derived, and which rows are kept.
    pub derivations: Derivations,
    /// What rows are sorted by.
    pub sort: Option<SortBy>,
    /// What is added behind columns.
    pub extras: Extras,
    /// What a reviewer answered.
    pub answers: Answers,
}

/// A conversion: the passes that it needs beforehand, then workers that
/// convert row by row.
///
/// ```
/// use metachron_core::engine::{BlockStart, Conversion, ConvertOptions, Page, Request, Rows, TextRows};
/// use metachron_core::row::OutCell;
/// use metachron_core::rulings::Rulings;
///
/// let rulings = Rulings::from_toml(
///     "metachron = 1\n[column.due]\nkind = \"date\"\nread = { forms = [\"d/M/yyyy\"] }",
/// )?;
/// let request = Request::new(["item", "due"], "2026-11-28T00:00:00Z".parse()?);
/// let conversion = Conversion::new(&request, &rulings, ConvertOptions::nothing())?;
/// let mut worker = conversion.worker();
/// worker.start(BlockStart { file: 0, line: 1 });
/// let rows = [vec!["vase", "31/12/2024"]];
/// let mut rows = TextRows::new(&rows);
/// let page = rows.next_page().expect("there is a row");
/// let row = page.rows().next().expect("there is a row");
/// let clean = worker.row(&row).expect("it is kept");
/// assert_eq!(clean.out.cells[0], OutCell::Source(0..1));
/// assert!(matches!(clean.out.cells[1], OutCell::Stamp(_)));
/// assert_eq!(worker.finish().counts[0].certain, 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug)]
pub struct Conversion {
    request: Request,
    worker: ConvertWorker,
    row_scope: RowScope,
    next: Option<Pass>,
    schema: Schema,
}

impl ConvertOptions {
    /// Nothing derived, added or answered.
    pub fn nothing() -> ConvertOptions {
        ConvertOptions {
            derivations: Derivations::none(),
            sort: None,
            extras: Extras::default(),
            answers: Answers::default(),
        }
    }
}

impl Conversion {
    /// The conversion of the table that `request` tells of, by `rulings`.
    ///
    /// # Errors
    ///
    /// Where the rulings name a column that is not there, or a column cannot
    /// be written as it is ruled.
    pub fn new(
        request: &Request,
        rulings: &Rulings,
        options: ConvertOptions,
    ) -> Result<Conversion, EngineError> {
        let ConvertOptions {
            derivations,
            sort,
            extras,
            answers,
        } = options;
        let ruled = rulings.column.len().max(1);
        let mut deciders = request.deciders(rulings)?;
        for decider in &mut deciders {
            decider.decider = decider.decider.clone().with_memory(MEMORY / ruled);
        }
        let answers = Arc::new(answers);
        let deriver = (!derivations.is_nothing()).then(|| {
            Deriver::new(
                &derivations,
                &request.columns,
                &deciders,
                rulings.blanks(None),
                sort,
                answers.clone(),
            )
        });
        let zones = deciders.iter().map(|decider| {
            let write = &decider.decider.ruling().write;
            write.zone_column()
        });
        let zones: Vec<Option<String>> = zones.collect();
        let derived = derivations.columns().len();
        let adds = extras.raw || extras.verdict || zones.iter().any(Option::is_some) || derived > 0;
        let schema = schema(request, &deciders, &zones, extras, &derivations, rulings)?;
        let order_of = |index: usize| {
            let ruling = rulings.column.get(&request.columns[index])?;
            ruling.read.in_time_order
        };
        let neighbours = NeighbourPass::new(&deciders, request.columns.len(), order_of);
        let mut conversion = Conversion {
            next: None,
            row_scope: derivations.row_scope(),
            worker: ConvertWorker {
                zones,
                deriver,
                answers,
                extras,
                adds,
                width: request.columns.len(),
                files: request.files.clone().into(),
                cells: Vec::new(),
                text: Vec::new(),
                scratch: String::new(),
                done: ConvertedRows::new(BlockStart { file: 0, line: 1 }, deciders.len(), derived),
                deciders,
            },
            schema,
            request: request.clone(),
        };
        match neighbours {
            Some(pass) => conversion.plan(PassOf::Neighbours(pass)),
            None => conversion.plan_tracks(),
        }
        Ok(conversion)
    }

    fn plan(&mut self, of: PassOf) {
        self.next = Some(Pass::new(&self.request, of));
    }

    fn plan_tracks(&mut self) {
        if self.row_scope > RowScope::NoOthers {
            let worker = Box::new(self.worker.clone());
            self.plan(PassOf::Track(TrackPass {
                worker,
                row_scope: self.row_scope,
            }));
        }
    }

    /// The next pass that has to be made before rows are converted; `None`
    /// where there is none.
    pub fn next_pass(&mut self) -> Option<Pass> {
        self.next.take()
    }

    /// Takes what came out of a pass.
    ///
    /// # Panics
    ///
    /// Where `result` is of another pass.
    pub fn finish(&mut self, pass: Pass, result: PassResult) {
        match (pass.of, result.0) {
            (PassOf::Neighbours(pass), PassResultOf::Neighbours(result)) => {
                let deciders = std::mem::take(&mut self.worker.deciders);
                self.worker.deciders = pass.apply(result, deciders);
                self.plan_tracks();
            }
            (PassOf::Track(_), PassResultOf::Track(result)) => {
                if let Some(deriver) = &mut self.worker.deriver {
                    deriver.set_starts(result.into_starts());
                }
            }
            _ => panic!("what came out is of another pass"),
        }
    }

    /// One that converts rows: each thread has its own.
    pub fn worker(&self) -> ConvertWorker {
        self.worker.clone()
    }

    /// The columns of the clean table.
    pub fn schema(&self) -> &Schema {
        &self.schema
    }
}

/// The columns of the clean table.
fn schema(
    request: &Request,
    deciders: &[RowDecider],
    zones: &[Option<String>],
    extras: Extras,
    derivations: &Derivations,
    rulings: &Rulings,
) -> Result<Schema, EngineError> {
    let column = |name: String, holds: Holds, origin: Origin| OutColumn {
        header: name.clone(),
        name,
        holds,
        unit: None,
        zone: None,
        origin,
    };
    let mut columns = Vec::with_capacity(request.columns.len());
    let mut ruled = deciders.iter().zip(zones).peekable();
    for (index, name) in request.columns.iter().enumerate() {
        let Some((decider, zone)) = ruled.next_if(|(decider, _)| decider.index == index) else {
            let mut skipped = column(name.clone(), Holds::SourceCells, Origin::Source(index));
            if let Some(header) = request.headers.get(index) {
                skipped.header.clone_from(header);
            }
            columns.push(skipped);
            continue;
        };
        let ColumnRuling { kind, write, .. } = decider.decider.ruling();
        let clean = write.name.as_ref().unwrap_or(name);
        columns.push(OutColumn {
            unit: write.unit,
            zone: write.zone.as_ref().map(|zone| zone.name().to_owned()),
            ..column(
                clean.clone(),
                decider.decider.clean().holds(*kind),
                Origin::Converted(index),
            )
        });
        let mut add = |is_added: bool, end: &str, origin: Origin| {
            if is_added {
                columns.push(column(format!("{clean}_{end}"), Holds::Text, origin));
            }
        };
        add(zone.is_some(), "zone", Origin::ZoneOf(index));
        add(extras.raw, "raw", Origin::RawOf(index));
        add(extras.verdict, "verdict", Origin::VerdictOf(index));
    }
    for (number, (name, of)) in derivations.columns().enumerate() {
        if columns.iter().any(|column| column.name == name) {
            return Err(EngineError::NameTaken(name.to_owned()));
        }
        let holds = match of {
            Type::Stamp(kind) => derivations.clean(number).holds(kind),
            Type::Number => Holds::Numbers,
            Type::Truth => Holds::Booleans,
            Type::Text | Type::Cell | Type::Blank => Holds::Text,
        };
        let unit = rulings
            .derive
            .get(number)
            .and_then(|derive| derive.write.unit);
        columns.push(OutColumn {
            unit,
            ..column(name.to_owned(), holds, Origin::Derived(number))
        });
    }
    Ok(Schema { columns })
}

/// A converted row.
#[derive(Debug)]
pub struct ConvertedRow<'w> {
    /// Its cells.
    pub out: OutRow<'w>,
    /// What it is sorted by, if rows are: keys compare as the rows are to
    /// stand.
    pub key: Option<Vec<u8>>,
}

/// What became of the rows of a block.
#[derive(Clone, Debug)]
pub struct ConvertedRows {
    /// The block.
    pub at: BlockStart,
    /// How many rows.
    pub rows: u64,
    /// Verdicts by converted column.
    pub counts: Vec<Counts>,
    /// Cells that wait for a person; rows count from 0 in the block.
    pub review: Vec<ReviewEntry>,
    /// The earliest and the latest stamp of each converted column, in the rows
    /// that the worker has converted so far.
    pub spans: Vec<Option<(Stamp, Stamp)>>,
    /// Cells that a reviewer answered for.
    pub resolved: u64,
    /// Cells that a reviewer answered for and that say something else now.
    pub changed: u64,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
    /// What became of the cells of derived columns.
    pub derived: Vec<DerivedCounts>,
    /// Rows that are left out.
    pub dropped: u64,
    /// Of these, those of which it could not be told.
    pub untold: u64,
    /// Of these, those whose test has no result, which are listed.
    pub unkept: u64,
}

impl ConvertedRows {
    fn new(at: BlockStart, columns: usize, derived: usize) -> ConvertedRows {
        ConvertedRows {
            at,
            rows: 0,
            counts: vec![Counts::default(); columns],
            review: Vec::new(),
            spans: Vec::new(),
            resolved: 0,
            changed: 0,
            ragged: Ragged::default(),
            derived: vec![DerivedCounts::default(); derived],
            dropped: 0,
            untold: 0,
            unkept: 0,
        }
    }
}

/// A cell that waits for a person.
#[derive(Clone, Debug)]
pub struct ReviewEntry {
    /// The row, from 0 in its block.
    pub row: u64,
    /// The line it starts on.
    pub line: u64,
    /// Its column; see [`CellAt::column`].
    pub column: usize,
    /// What it says.
    pub raw: String,
    /// Why it waits.
    pub decision: Decision,
}

/// Converts rows, block after block. Each thread has its own.
#[derive(Clone, Debug)]
pub struct ConvertWorker {
    deciders: Vec<RowDecider>,
    /// The zone that stands in a column of its own behind each decider's.
    zones: Vec<Option<String>>,
    deriver: Option<Deriver>,
    answers: Arc<Answers>,
    extras: Extras,
    /// Whether columns are added.
    adds: bool,
    /// How many columns the table has.
    width: usize,
    files: Arc<[String]>,
    /// The cells of the row.
    cells: Vec<OutCell>,
    /// Their texts.
    text: Vec<u8>,
    scratch: String,
    done: ConvertedRows,
}

impl ConvertWorker {
    /// Makes it ready for the rows of a block.
    pub fn start(&mut self, at: BlockStart) {
        for decider in &mut self.deciders {
            decider.start(at);
        }
        if let Some(deriver) = &mut self.deriver {
            deriver.start(at);
        }
        let derived = self.deriver.as_ref().map_or(0, Deriver::columns);
        self.done = ConvertedRows::new(at, self.deciders.len(), derived);
    }

    /// Converts the next row of the block; `None` where it is left out. A line
    /// with nothing on it comes back without cells.
    pub fn row(&mut self, row: &(impl Row + ?Sized)) -> Option<ConvertedRow<'_>> {
        self.cells.clear();
        self.text.clear();
        let mut key = None;
        if is_row(row, self.width) {
            self.done.ragged.check(row, self.width, self.done.at.file);
            let kept = self.convert(row);
            self.done.rows += 1;
            if kept != Kept::Yes {
                self.done.dropped += 1;
                self.done.untold += u64::from(kept == Kept::Untold);
                return None;
            }
            key = self.deriver.as_ref().and_then(Deriver::key);
        }
        Some(ConvertedRow {
            out: OutRow {
                cells: &self.cells,
                text: &self.text,
            },
            key,
        })
    }

    /// What became of the rows since the start of the block.
    pub fn finish(&mut self) -> ConvertedRows {
        let empty = ConvertedRows::new(self.done.at, 0, 0);
        let mut done = std::mem::replace(&mut self.done, empty);
        let spans = self.deciders.iter().map(|decider| decider.decider.span());
        done.spans = spans.collect();
        done
    }

    /// What the rows of a block say to later ones. No more of them is read
    /// than that hangs on.
    pub(super) fn track(&mut self, at: BlockStart, rows: impl Rows) -> (u64, Vec<Track>) {
        self.start(at);
        let mut is_known = false;
        let rows = each_row(rows, self.width, |row, _| {
            if !is_known {
                self.track_row(row);
                is_known = self.deriver.as_ref().is_some_and(Deriver::knows_firsts);
            }
        });
        let tracks = self.deriver.as_ref().map(Deriver::tracks);
        (rows, tracks.unwrap_or_default().to_vec())
    }

    fn track_row(&mut self, row: &(impl Row + ?Sized)) {
        for column in 0..self.deciders.len() {
            let deriver = self.deriver.as_ref();
            if deriver.is_some_and(|deriver| deriver.tracks_by(column)) {
                self.decide(row, column);
            }
        }
        if let Some(deriver) = &mut self.deriver {
            deriver.track(row, &mut self.text, &mut self.done);
        }
        self.done.review.clear();
        self.text.clear();
    }

    fn convert(&mut self, row: &(impl Row + ?Sized)) -> Kept {
        let width = row.width();
        let mut from = 0;
        for column in 0..self.deciders.len() {
            let index = self.deciders[column].index;
            self.pass_through(from, index.min(width));
            if self.adds {
                // A short row is filled up, so that what is added stands
                // below its name.
                self.fill_up(width.max(from), index);
            }
            let (verdict, cell) = self.decide(row, column);
            self.done.counts[column].add(verdict, 1);
            if self.adds {
                let is_blank = cell == OutCell::Blank;
                self.cells.push(cell);
                self.add_extras(row, column, verdict, is_blank);
            } else if index < width {
                self.cells.push(cell);
            }
            from = index + 1;
        }
        let own = width.min(self.width).max(from);
        self.pass_through(from, own.min(width));
        let mut kept = Kept::Yes;
        if let Some(deriver) = &mut self.deriver {
            if deriver.columns() > 0 {
                for _ in own..self.width {
                    self.cells.push(OutCell::Blank);
                }
            }
            let out = (&mut self.cells, &mut self.text);
            kept = deriver.row(row, out, &mut self.done);
        }
        // What a row has too many of stands behind all columns.
        self.pass_through(own, width);
        kept
    }

    /// Passes cells of the source through.
    #[inline]
    fn pass_through(&mut self, from: usize, to: usize) {
        if from < to {
            self.cells.push(OutCell::Source(from..to));
        }
    }

    fn fill_up(&mut self, from: usize, to: usize) {
        for _ in from..to {
            self.cells.push(OutCell::Blank);
        }
    }

    /// Decides on a cell, and tells those who derive from it.
    fn decide(&mut self, row: &(impl Row + ?Sized), column: usize) -> (Verdict, OutCell) {
        if !self.answers.is_empty()
            && let Some(answered) = self.answered(row, column)
        {
            return answered;
        }
        let decider = &mut self.deciders[column];
        let index = decider.index;
        let (done, text) = (&mut self.done, &mut self.text);
        let mut listed = |raw: &str, decision: Decision| {
            done.review.push(ReviewEntry {
                row: done.rows,
                line: row.line(),
                column: index,
                decision,
                raw: raw.to_owned(),
            });
        };
        let decided = if decider.needs_no_context() {
            let cell = row.cell(index, &mut self.scratch);
            let decided = decider.decider.convert(cell, text);
            if decided.0.needs_review() {
                let decision = decider.decider.decide(cell, &RowContext::default());
                listed(cell.text(&mut String::new()), decision);
            }
            decided
        } else {
            let file = &self.files[done.at.file];
            decider.with_context(row, file, &mut self.scratch, |own, cell, context| {
                let decided = own.convert_in_context(cell, context, text);
                if decided.0.needs_review() {
                    listed(cell.text(&mut String::new()), own.decide(cell, context));
                }
                decided
            })
        };
        if let Some(deriver) = &mut self.deriver {
            deriver.take(column, decided.0, decider.decider.stamp());
        }
        decided
    }

    /// What a reviewer answered of a cell, if there is an answer.
    fn answered(&mut self, row: &(impl Row + ?Sized), column: usize) -> Option<(Verdict, OutCell)> {
        let decider = &mut self.deciders[column];
        let at = CellAt {
            file: self.done.at.file,
            line: row.line(),
            column: decider.index,
        };
        let mut inner = String::new();
        let cell = row.cell(decider.index, &mut self.scratch);
        let value = match self.answers.find(at, cell.text(&mut inner))? {
            Answered::Value(value) => value,
            Answered::Changed => {
                self.done.changed += 1;
                return None;
            }
        };
        self.done.resolved += 1;
        let (verdict, stamp) = match value {
            Value::Stamp(stamp) => (Verdict::Settled, Some(*stamp)),
            _ => (Verdict::Blank, None),
        };
        if let Some(deriver) = &mut self.deriver {
            deriver.take(column, verdict, stamp);
        }
        // An answer that cannot be written is refused when it is read.
        let mut clean = decider.decider.clean().clone();
        let cell = stamp.and_then(|stamp| clean.cell(&stamp, &mut self.text).ok());
        Some((verdict, cell.unwrap_or(OutCell::Blank)))
    }

    fn add_extras(
        &mut self,
        row: &(impl Row + ?Sized),
        column: usize,
        verdict: Verdict,
        is_blank: bool,
    ) {
        if let Some(zone) = &self.zones[column] {
            let zone = if is_blank { "" } else { zone };
            let zone = push_text(&mut self.text, |out| out.extend_from_slice(zone.as_bytes()));
            self.cells.push(OutCell::Text(zone));
        }
        if self.extras.raw {
            let mut inner = String::new();
            let cell = row.cell(self.deciders[column].index, &mut self.scratch);
            let raw = cell.text(&mut inner).as_bytes();
            let raw = push_text(&mut self.text, |out| out.extend_from_slice(raw));
            self.cells.push(OutCell::Text(raw));
        }
        if self.extras.verdict {
            let name = verdict.name().as_bytes();
            let name = push_text(&mut self.text, |out| out.extend_from_slice(name));
            self.cells.push(OutCell::Text(name));
        }
    }
}
