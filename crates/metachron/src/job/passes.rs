//! Feeding the rows of the table to the passes of the engine.

use super::Job;
use super::pipeline::{self, Counted};
use super::progress::Progress;
use crate::outcome::from_engine;
use metachron_core::engine::{
    BlockResult, Conversion, Engine, Pass, PassResult, Settled, Surveyed,
};
use metachron_table::{Block, TableError};
use std::ops::ControlFlow;

/// What a pass made of a block, and how much it was.
struct Done {
    result: BlockResult,
    bytes: u64,
}

impl Counted for Done {
    fn bytes(&self) -> u64 {
        self.bytes
    }

    fn rows(&self) -> u64 {
        self.result.rows()
    }
}

impl Job<'_> {
    /// Surveys the table and settles how its columns are read.
    pub fn settle(&mut self) -> anyhow::Result<Settled> {
        let engine = Engine::new(self.request.clone()).map_err(from_engine)?;
        self.drive(engine)
    }

    /// Settles again, by what is declared now, without another survey.
    pub fn settle_again(&mut self, surveyed: Surveyed) -> anyhow::Result<Settled> {
        let engine = Engine::with_survey(self.request.clone(), surveyed).map_err(from_engine)?;
        self.drive(engine)
    }

    fn drive(&mut self, mut engine: Engine) -> anyhow::Result<Settled> {
        while let Some(pass) = engine.next_pass() {
            let result = self.pass_in_right_encoding(&pass)?;
            engine.finish(pass, result).map_err(from_engine)?;
        }
        Ok(engine.into_settled())
    }

    /// Makes the passes that a conversion needs beforehand.
    pub fn prepare(&self, conversion: &mut Conversion) -> anyhow::Result<()> {
        while let Some(pass) = conversion.next_pass() {
            let result = self.pass(&pass)?;
            conversion.finish(pass, result);
        }
        Ok(())
    }

    fn pass_in_right_encoding(&mut self, pass: &Pass) -> anyhow::Result<PassResult> {
        match self.pass(pass) {
            // What looked like UTF-8 in its first result is not.
            Err(error) if is_wrong_encoding(&error) && self.declared.encoding.is_none() => {
                self.table.make_encodings_sure(&self.declared)?;
                self.pass(pass)
            }
            result => result,
        }
    }

    fn pass(&self, pass: &Pass) -> anyhow::Result<PassResult> {
        let mut reader = self.table.read()?;
        let mut progress = Progress::new(pass.name(), self.table.size(), self.verbosity);
        let mut result = pass.start();
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut worker = pass.worker();
                move |block: Block| {
                    let result = worker.block(block.start(), block.rows()?);
                    let bytes = block.len() as u64;
                    Ok(Done { result, bytes })
                }
            },
            |done: Done| {
                result.add(done.result);
                Ok(if result.is_complete() {
                    ControlFlow::Break(())
                } else {
                    ControlFlow::Continue(())
                })
            },
        )?;
        Ok(result)
    }
}

fn is_wrong_encoding(error: &anyhow::Error) -> bool {
    let table = error.downcast_ref::<TableError>();
    matches!(table, Some(TableError::Encoding { .. }))
}
