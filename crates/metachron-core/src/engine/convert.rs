//! A conversion: the passes that it needs, and the workers that convert rows.

use super::answers::Answers;
use super::convert_worker::ConvertWorker;
use super::derive::Deriver;
use super::neighbours::NeighbourPass;
use super::schema::{Extras, schema};
use super::sort::SortBy;
use super::track::TrackPass;
use super::{EngineError, Pass, PassOf, PassResult, PassResultOf, Request};
use crate::derive::Derivations;
use crate::phrase::RowScope;
use crate::row::Schema;
use crate::rulings::Rulings;
use std::sync::Arc;

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
        let deciders = request.deciders(rulings)?;
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
        let schema = schema(request, &deciders, extras, &derivations, rulings)?;
        let neighbours = NeighbourPass::new(&deciders, request, rulings)?;
        let mut conversion = Conversion {
            next: None,
            row_scope: derivations.row_scope(),
            worker: ConvertWorker::new(request, deciders, deriver, answers, extras),
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
                self.worker
                    .map_deciders(|deciders| pass.apply(result, deciders));
                self.plan_tracks();
            }
            (PassOf::Track(_), PassResultOf::Track(result)) => {
                self.worker.set_starts(result.into_starts());
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
