//! What a reviewer wrote into a review list, on the next run.

use super::Job;
use super::declared::no_such_column;
use super::open::file_name;
use crate::input_file;
use crate::outcome::usage;
use anyhow::Context;
use metachron_core::derive::Derivations;
use metachron_core::engine::{AnswerColumn, Answers, CellAt, may_be_formula};
use metachron_core::rulings::Rulings;
use metachron_table::Table;
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
        let list = input_file::open(path)?.records();
        let mut list = list.with_context(|| name.clone())?;
        let header = list.headers().with_context(|| name.clone())?.clone();
        let index_of = |column: &str| {
            header.iter().position(|known| known == column).ok_or_else(|| {
                usage(format!(
                    "{name} has no column `{column}`; it must be a review list, as convert writes \
                     it, with its column `resolved` filled in"
                ))
            })
        };
        let wanted = ["file", "line", "column", "raw", "resolved"];
        let indexes: Vec<usize> = wanted.into_iter().map(index_of).collect::<Result<_, _>>()?;
        let mut answers = Answers::default();
        for record in list.records() {
            let record = record.with_context(|| name.clone())?;
            let at = record.position().map_or(0, csv::Position::line);
            let cell = |number: usize| record.get(indexes[number]).unwrap_or("");
            // Of names, an apostrophe of --escape-formulas is taken off again.
            let name_in = |number: usize| {
                let plain = cell(number).strip_prefix('\'');
                plain
                    .filter(|name| may_be_formula(name))
                    .unwrap_or(cell(number))
            };
            let text = cell(4).trim();
            if text.is_empty() {
                continue;
            }
            let wrong = |why: String| usage(format!("{name}, line {at}: {why}"));
            let file = file_of(name_in(0), &self.table).ok_or_else(|| {
                wrong(format!(
                    "file `{}` is not among those that are converted",
                    cell(0)
                ))
            })?;
            let line: u64 = cell(1)
                .parse()
                .map_err(|_| wrong(format!("line `{}` is no number", cell(1))))?;
            let column = AnswerColumn::find(name_in(2), self.table.columns(), rulings, derivations)
                .map_err(|why| wrong(why.to_string()))?
                .ok_or_else(|| wrong(self.not_converted(name_in(2))))?;
            let value = column
                .value(text)
                .map_err(|why| wrong(format!("column `{}`: {why}", cell(2))))?;
            let at = CellAt {
                file,
                line,
                column: column.index,
            };
            if !answers.add(at, cell(3), value) {
                return Err(wrong("this cell is resolved twice".to_owned()));
            }
        }
        Ok(answers)
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
