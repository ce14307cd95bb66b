//! Converting: blocks of rows through threads, encoded for the writer.

use super::Job;
use super::declared::index_of;
use super::pipeline::{self, Counted};
use super::progress::Progress;
use crate::outcome::usage;
use metachron_core::derive::{Derivations, DeriveError, DeriveRequest, Shown};
use metachron_core::engine::{Conversion, ConvertedRows, WHERE};
use metachron_core::phrase::Phrase;
use metachron_core::rulings::Rulings;
use metachron_table::{Block, RowEncoder};
use std::ops::ControlFlow;

/// A block, converted and encoded.
pub struct EncodedBlock {
    /// What became of its rows.
    pub rows: ConvertedRows,
    /// The rows, as the writer takes them.
    pub bytes: Vec<u8>,
    /// Where each row ends, and what it is sorted by, if they are sorted.
    pub sorted: Vec<(Vec<u8>, usize)>,
    /// How many bytes were read.
    read: u64,
}

impl Counted for EncodedBlock {
    fn bytes(&self) -> u64 {
        self.read
    }

    fn rows(&self) -> u64 {
        self.rows.rows
    }
}

impl Job<'_> {
    /// The name of the column at `index`: derived ones stand behind those of
    /// the table, and what tells whether a row is kept behind all.
    pub fn column_name<'n>(&'n self, index: usize, rulings: &'n Rulings) -> &'n str {
        let columns = self.table.columns();
        match columns.get(index) {
            Some(name) => name,
            None => match rulings.derive.get(index - columns.len()) {
                Some(derive) => &derive.name,
                None => WHERE,
            },
        }
    }

    /// Converts the table and hands block after block to `sink`.
    pub fn convert(
        &self,
        conversion: &Conversion,
        encoder: &dyn RowEncoder,
        mut sink: impl FnMut(EncodedBlock) -> anyhow::Result<()>,
    ) -> anyhow::Result<()> {
        let mut reader = self.table.read()?;
        let mut progress = Progress::new("converting", self.table.size(), self.verbosity);
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut worker = conversion.worker();
                let mut encoder = encoder.fork();
                move |block: Block| {
                    worker.start(block.start());
                    let mut bytes = Vec::with_capacity(block.len() + block.len() / 8);
                    let mut sorted = Vec::new();
                    let mut rows = block.rows()?;
                    while let Some(page) = rows.next_page() {
                        if let Some(clean) = worker.page(&page) {
                            encoder.page(&page, &clean, &mut bytes);
                            continue;
                        }
                        for row in page.iter() {
                            let Some(clean) = worker.row(&row) else {
                                continue;
                            };
                            encoder.row(&row, &clean.out, &mut bytes);
                            if let Some(key) = clean.key {
                                sorted.push((key, bytes.len()));
                            }
                        }
                    }
                    Ok(EncodedBlock {
                        rows: worker.finish(),
                        bytes,
                        sorted,
                        read: block.len() as u64,
                    })
                }
            },
            |block| sink(block).map(|()| ControlFlow::Continue(())),
        )
    }

    /// What `rulings` derive, which rows are kept, and what they are sorted by,
    /// checked against the table.
    pub fn derivations(
        &self,
        rulings: &Rulings,
        keep: Option<&Phrase>,
        sort: &[String],
        shown: Shown,
    ) -> anyhow::Result<Derivations> {
        let columns = self.table.columns();
        let derived: Vec<String> = rulings.derive.iter().map(|d| d.name.clone()).collect();
        let all = [columns, &derived].concat();
        for name in sort {
            index_of(name, &all, "--sort")?;
        }
        let derivations = Derivations::new(&DeriveRequest {
            rulings,
            columns,
            keep,
            also: sort,
            now: self.request.now,
            shown,
        });
        derivations.map_err(|why| {
            let given = self.request.rulings.iter();
            let given = given.flat_map(|given| &given.derive);
            let from = self.args.rulings.as_ref().filter(|_| {
                let mut names = given.map(|derive| DeriveError::of_column(&derive.name));
                names.any(|what| what == why.what)
            });
            match from {
                Some(path) => anyhow::anyhow!("{}: {why}", path.display()),
                None => usage(why.to_string()),
            }
        })
    }
}
