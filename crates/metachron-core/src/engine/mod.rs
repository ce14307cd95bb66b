//! From a table to rulings and forecasts: the passes over its rows, as data.
//!
//! An [`Engine`] knows what has to be known next. It hands out a [`Pass`],
//! whose [`Worker`]s are fed blocks of rows, on any number of threads; what
//! comes out of the blocks is added up in their order and handed back. The
//! engine opens no files and starts no threads: whoever uses it reads, feeds
//! and adds.
//!
//! The first page of the crate shows both at work.

mod answers;
mod column;
mod convert;
mod convert_page;
mod convert_worker;
mod converted;
mod derive;
mod forecast;
mod neighbour_choices;
mod neighbours;
mod own_findings;
mod relate;
mod request;
mod rows;
mod rows_by_key;
mod schema;
mod settled;
mod sort;
mod starts;
mod survey;
mod track;

pub use answers::{AnswerColumn, Answers, CellAt, WHERE, may_be_formula};
pub use convert::{Conversion, ConvertOptions};
pub use convert_worker::ConvertWorker;
pub use converted::{ConvertedRow, ConvertedRows, DerivedCounts, ReviewEntry};
pub use request::{EngineError, Request};
pub use rows::{BlockStart, Page, Ragged, RaggedRow, Row, Rows, TextPage, TextRow, TextRows};
pub use schema::Extras;
pub use settled::Settled;
pub use sort::{Direction, SortBy};
pub use survey::Surveyed;

use crate::forecast::RowForecast;
use crate::phrase::Track;
use crate::relations::{self, Tally};
use column::RowDecider;
use forecast::{ForecastPass, ForecastWhole, ForecastWorker};
use neighbours::{NeighbourMark, NeighbourPass, NeighbourWhole, NeighbourWorker};
use relate::{RelatePass, RelateWorker, Relations};
use settled::Draft;
use std::collections::HashMap;
use survey::{Learned, SurveyPart, SurveyPass, SurveyWorker, learn_locales};
use track::{TrackPass, TrackWhole};

/// Settles how the columns of a table are read.
#[derive(Debug)]
pub struct Engine {
    request: Request,
    /// What a first survey taught about columns, by their index.
    learned: HashMap<usize, Learned>,
    surveyed: Option<Surveyed>,
    draft: Draft,
    next: Option<Pass>,
    /// The columns that are compared with the rest of the table.
    relations: Relations,
    /// What the pass behind that over neighbours goes by.
    deciders: Vec<RowDecider>,
}

impl Engine {
    /// An engine for the table that `request` tells of.
    ///
    /// # Errors
    ///
    /// Where a setting names a column that the table does not have.
    pub fn new(request: Request) -> Result<Engine, EngineError> {
        let survey = SurveyPass::new(&request, &HashMap::new())?;
        Ok(Engine {
            next: Some(Pass::new(&request, PassOf::Survey(survey))),
            learned: HashMap::new(),
            surveyed: None,
            draft: Draft::default(),
            relations: Relations::default(),
            deciders: Vec::new(),
            request,
        })
    }

    /// An engine for a table that was surveyed before, to settle it again by
    /// what is declared now.
    ///
    /// # Errors
    ///
    /// As [`Engine::new`].
    pub fn with_survey(request: Request, surveyed: Surveyed) -> Result<Engine, EngineError> {
        let mut engine = Engine::new(request)?;
        engine.next = None;
        engine.learned = surveyed.learned.clone();
        let draft = Draft::new(&engine.request, &surveyed);
        engine.settle_columns(surveyed, draft)?;
        Ok(engine)
    }

    /// The next pass over the table; `None` when all is known.
    pub fn next_pass(&mut self) -> Option<Pass> {
        self.next.take()
    }

    /// Takes what came out of a pass.
    ///
    /// # Errors
    ///
    /// Where what it leads to contradicts what was declared.
    ///
    /// # Panics
    ///
    /// Where `result` is of another pass.
    pub fn finish(&mut self, pass: Pass, result: PassResult) -> Result<(), EngineError> {
        match (pass.of, result.0) {
            (PassOf::Survey(_), PassResultOf::Survey(surveyed)) => self.finish_survey(surveyed),
            (PassOf::Relate(mut pass), PassResultOf::Relate(mut tally)) => {
                tally.finish();
                if pass.add_pairs(&tally) || pass.look_closer(&tally, &self.draft.rulings) {
                    return self.plan(PassOf::Relate(pass));
                }
                self.relations.add(&pass, &tally);
                let found = pass.settle(tally, &mut self.draft.rulings);
                self.draft.findings.extend(found);
                self.relate_next()
            }
            (PassOf::Neighbours(pass), PassResultOf::Neighbours(result)) => {
                let deciders = pass.apply(result, std::mem::take(&mut self.deciders));
                let width = self.request.columns.len();
                self.plan(PassOf::Forecast(ForecastPass::new(deciders, width)))
            }
            (PassOf::Forecast(pass), PassResultOf::Forecast(result)) => {
                for (index, by_row) in pass.columns().zip(result.columns) {
                    let name = self.request.columns[index].clone();
                    self.draft.findings.entry(name).or_default().by_row = Some(by_row);
                }
                Ok(())
            }
            _ => panic!("what came out is of another pass"),
        }
    }

    fn plan(&mut self, of: PassOf) -> Result<(), EngineError> {
        self.next = Some(Pass::new(&self.request, of));
        Ok(())
    }

    fn finish_survey(&mut self, mut surveyed: Surveyed) -> Result<(), EngineError> {
        if let Some(first) = self.surveyed.take() {
            self.count_leftovers(&first, &mut surveyed);
            self.surveyed = Some(first);
        }
        let surveyed = Surveyed {
            learned: self.learned.clone(),
            ..surveyed
        };
        let draft = Draft::new(&self.request, &surveyed);
        if self.surveyed.is_none() {
            self.learned = learn_locales(&self.request, &surveyed);
            draft.learn(&self.request, &surveyed, &mut self.learned);
            if !self.learned.is_empty() {
                self.surveyed = Some(surveyed);
                let again = SurveyPass::new(&self.request, &self.learned)?;
                return self.plan(PassOf::Survey(again));
            }
        }
        self.settle_columns(surveyed, draft)
    }

    /// Counts what the forms read that are offered for cells with something besides a
    /// date. Nothing else of the columns that were surveyed with them counts: what is
    /// only offered settles nothing.
    fn count_leftovers(&mut self, first: &Surveyed, again: &mut Surveyed) {
        let columns = self.request.asked.iter().zip(&first.evidence.columns);
        for ((index, first), again) in columns.zip(&mut again.evidence.columns) {
            let learned = self.learned.get_mut(index);
            if let Some(left) = learned.and_then(|learned| learned.leftover.as_mut()) {
                left.count(again);
                again.clone_from(first);
            }
        }
    }

    fn settle_columns(&mut self, surveyed: Surveyed, draft: Draft) -> Result<(), EngineError> {
        self.draft = draft;
        let in_question = self.draft.in_question(&self.request, &surveyed);
        self.relations = Relations::of(in_question, surveyed.evidence.rows);
        self.surveyed = Some(surveyed);
        self.relate_next()
    }

    /// Plans the pass over the next of the columns in question, or what follows the
    /// last.
    fn relate_next(&mut self) -> Result<(), EngineError> {
        match self
            .relations
            .next_pass(&self.request, &self.draft.rulings)?
        {
            Some(pass) => self.plan(PassOf::Relate(Box::new(pass))),
            None => self.finish_relations(),
        }
    }

    /// What the rest of the table says is in the rulings.
    fn finish_relations(&mut self) -> Result<(), EngineError> {
        let Relations {
            clock_doubts,
            confirmed,
            ..
        } = std::mem::take(&mut self.relations);
        self.draft.drop_tentative(&confirmed);
        if let Some(surveyed) = &self.surveyed {
            let (draft, request) = (&mut self.draft, &self.request);
            draft.skip_clocks(request, surveyed, clock_doubts);
        }
        let Draft { rulings, .. } = &mut self.draft;
        *rulings = rulings.with_settings(&self.request.settings)?;
        let looks_around = |index: usize| {
            let ruling = rulings.column.get(&self.request.columns[index]);
            ruling.is_some_and(relations::looks_around)
        };
        let deciders = self.request.deciders_of(rulings, looks_around)?;
        if deciders.is_empty() {
            return Ok(());
        }
        let width = self.request.columns.len();
        match NeighbourPass::new(&deciders, &self.request, rulings)? {
            Some(pass) => {
                self.deciders = deciders;
                self.plan(PassOf::Neighbours(pass))
            }
            None => self.plan(PassOf::Forecast(ForecastPass::new(deciders, width))),
        }
    }

    /// What was settled.
    ///
    /// # Panics
    ///
    /// Where the passes were not made.
    pub fn into_settled(self) -> Settled {
        let surveyed = self.surveyed.expect("the table was surveyed");
        self.draft.into_settled(&self.request, surveyed)
    }
}

/// A pass over all rows of a table.
#[derive(Debug)]
pub struct Pass {
    of: PassOf,
    files: Vec<String>,
}

#[derive(Debug)]
enum PassOf {
    Survey(SurveyPass),
    Relate(Box<RelatePass>),
    Neighbours(NeighbourPass),
    Forecast(ForecastPass),
    Track(TrackPass),
}

/// Takes blocks of rows for one pass; each thread has its own.
#[derive(Debug)]
pub struct Worker<'p> {
    of: WorkerOf<'p>,
    files: &'p [String],
}

#[derive(Debug)]
enum WorkerOf<'p> {
    Survey(Box<SurveyWorker<'p>>),
    Relate(RelateWorker<'p>),
    Neighbours(NeighbourWorker),
    Forecast(ForecastWorker),
    Track(Box<ConvertWorker>),
}

/// What came out of one block.
#[derive(Debug)]
pub struct BlockResult {
    at: BlockStart,
    rows: u64,
    of: BlockResultOf,
}

#[derive(Debug)]
enum BlockResultOf {
    Survey(SurveyPart),
    Relate(Tally),
    Neighbours(Vec<Vec<NeighbourMark>>),
    Forecast(Vec<RowForecast>),
    Track(Vec<Track>),
}

/// What came out of the blocks so far.
#[derive(Debug)]
pub struct PassResult(PassResultOf);

#[derive(Debug)]
enum PassResultOf {
    Survey(Surveyed),
    Relate(Tally),
    Neighbours(NeighbourWhole),
    Forecast(ForecastWhole),
    Track(TrackWhole),
}

impl Pass {
    fn new(request: &Request, of: PassOf) -> Pass {
        let files = request.files.clone();
        Pass { of, files }
    }

    /// What it does, in words: `surveying`.
    pub fn name(&self) -> &'static str {
        match &self.of {
            PassOf::Survey(_) => "surveying",
            PassOf::Relate(_) => "comparing columns",
            PassOf::Neighbours(_) => "comparing rows",
            PassOf::Forecast(_) => "forecasting",
            PassOf::Track(_) => "looking at all rows",
        }
    }

    /// What comes out of no blocks.
    pub fn start(&self) -> PassResult {
        PassResult(match &self.of {
            PassOf::Survey(pass) => PassResultOf::Survey(pass.start()),
            PassOf::Relate(pass) => PassResultOf::Relate(pass.start()),
            PassOf::Neighbours(pass) => PassResultOf::Neighbours(pass.start()),
            PassOf::Forecast(pass) => PassResultOf::Forecast(pass.start()),
            PassOf::Track(pass) => PassResultOf::Track(pass.start()),
        })
    }

    /// One that takes blocks.
    pub fn worker(&self) -> Worker<'_> {
        Worker {
            of: match &self.of {
                PassOf::Survey(pass) => WorkerOf::Survey(Box::new(pass.worker())),
                PassOf::Relate(pass) => WorkerOf::Relate(pass.worker()),
                PassOf::Neighbours(pass) => WorkerOf::Neighbours(pass.worker()),
                PassOf::Forecast(pass) => WorkerOf::Forecast(pass.worker()),
                PassOf::Track(pass) => WorkerOf::Track(pass.worker()),
            },
            files: &self.files,
        }
    }
}

impl Worker<'_> {
    /// Takes the rows of a block.
    ///
    /// # Panics
    ///
    /// Where the table has no such file.
    pub fn block(&mut self, at: BlockStart, rows: impl Rows) -> BlockResult {
        let file = &self.files[at.file];
        let (rows, of) = match &mut self.of {
            WorkerOf::Survey(worker) => {
                let part = worker.block(at, rows);
                (part.evidence.rows, BlockResultOf::Survey(part))
            }
            WorkerOf::Relate(worker) => {
                let (rows, tally) = worker.block(file, rows);
                (rows, BlockResultOf::Relate(tally))
            }
            WorkerOf::Neighbours(worker) => {
                let (rows, marks) = worker.block(file, rows);
                (rows, BlockResultOf::Neighbours(marks))
            }
            WorkerOf::Forecast(worker) => {
                let (rows, columns) = worker.block(at, file, rows);
                (rows, BlockResultOf::Forecast(columns))
            }
            WorkerOf::Track(worker) => {
                let (rows, tracks) = worker.track(at, rows);
                (rows, BlockResultOf::Track(tracks))
            }
        };
        BlockResult { at, rows, of }
    }
}

impl BlockResult {
    /// How many rows the block has.
    pub fn rows(&self) -> u64 {
        self.rows
    }
}

impl PassResult {
    /// Puts the next block behind those so far.
    ///
    /// # Panics
    ///
    /// Where the block is of another pass.
    pub fn add(&mut self, part: BlockResult) {
        match (&mut self.0, part.of) {
            (PassResultOf::Survey(result), BlockResultOf::Survey(part_of)) => {
                result.add(part.at, part_of)
            }
            (PassResultOf::Relate(result), BlockResultOf::Relate(tally)) => {
                result.merge(tally);
                result.arrange();
            }
            (PassResultOf::Neighbours(result), BlockResultOf::Neighbours(marks)) => {
                result.add(part.at, marks)
            }
            (PassResultOf::Forecast(result), BlockResultOf::Forecast(columns)) => {
                result.add(part.rows, columns);
            }
            (PassResultOf::Track(result), BlockResultOf::Track(tracks)) => {
                result.add(part.at, tracks)
            }
            _ => panic!("the block is of another pass"),
        }
    }

    /// Whether no further block can add anything.
    pub fn is_complete(&self) -> bool {
        match &self.0 {
            PassResultOf::Track(result) => result.is_complete(),
            PassResultOf::Relate(tally) => tally.is_out(),
            _ => false,
        }
    }
}
