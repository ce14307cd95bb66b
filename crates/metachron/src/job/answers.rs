//! What a reviewer wrote into a review list, on the next run.

use super::Job;
use super::declared::no_such_column;
use super::open::file_name;
use super::review_list::{Answer, NoReviewList, ReviewList};
use crate::input_file;
use crate::outcome::usage;
use metachron_core::derive::Derivations;
use metachron_core::engine::{AnswerColumn, Answers, CellAt, may_be_formula};
use metachron_core::rulings::Rulings;
use metachron_table::Table;
use std::ops::ControlFlow;
use std::path::Path;

impl Job<'_> {
    /// Reads the review list at `path`, filled in by a reviewer.
    ///
    /// What is filled in must be ISO 8601 of the column's kind, or `blank`.
    pub fn answers(
        &self,
        path: &Path,
        rulings: &Rulings,
        derivations: &Derivations,
    ) -> anyhow::Result<Answers> {
        let name = path.display().to_string();
        let list = match ReviewList::open(input_file::source(path)?) {
            Err(error @ NoReviewList::NoColumn { .. }) => return Err(usage(error.to_string())),
            opened => opened?,
        };
        let mut answers = Answers::default();
        let stopped = list.for_each_answer(|answer| {
            let added = self.add_answer(&answer, &mut answers, rulings, derivations);
            added.map_or_else(
                |why| ControlFlow::Break(usage(format!("{name}, line {}: {why}", answer.at))),
                ControlFlow::Continue,
            )
        })?;
        match stopped {
            ControlFlow::Break(error) => Err(error),
            ControlFlow::Continue(()) => Ok(answers),
        }
    }

    /// Adds an answer, or says why it cannot be used.
    fn add_answer(
        &self,
        answer: &Answer<'_>,
        answers: &mut Answers,
        rulings: &Rulings,
        derivations: &Derivations,
    ) -> Result<(), String> {
        let name = unescaped(answer.file);
        let file = file_of(name, &self.table)
            .ok_or_else(|| format!("file `{name}` is not among those that are converted"))?;
        let line: u64 =
            (answer.line.parse()).map_err(|_| format!("line `{}` is no number", answer.line))?;
        let name = unescaped(answer.column);
        let column = AnswerColumn::find(name, self.table.columns(), rulings, derivations)
            .map_err(|why| why.to_string())?
            .ok_or_else(|| self.not_converted(name))?;
        let value = column
            .value(answer.resolved)
            .map_err(|why| format!("column `{}`: {why}", answer.column))?;
        let at = CellAt {
            file,
            line,
            column: column.index,
        };
        if !answers.add(at, answer.raw, value) {
            return Err("this cell is resolved twice".to_owned());
        }
        Ok(())
    }

    fn not_converted(&self, name: &str) -> String {
        let columns = self.table.columns();
        if columns.iter().any(|column| column == name) {
            format!("column `{name}` is not converted")
        } else {
            no_such_column(name, columns)
        }
    }
}

/// A name without the apostrophe that `--escape-formulas` has put before it.
fn unescaped(name: &str) -> &str {
    let plain = name.strip_prefix('\'');
    plain.filter(|name| may_be_formula(name)).unwrap_or(name)
}

/// The number of the table's file that a review list calls so: by its whole
/// name, else by its name without the folder, where one file alone has it.
fn file_of(name: &str, table: &Table) -> Option<usize> {
    let exact = table.sources().position(|source| source.name() == name);
    exact.or_else(|| {
        let has_name = |source: &str| file_name(source) == file_name(name);
        let sources = table.sources().enumerate();
        let mut named = sources.filter(|(_, source)| has_name(source.name()));
        match (named.next(), named.next()) {
            (Some((number, _)), None) => Some(number),
            _ => None,
        }
    })
}
