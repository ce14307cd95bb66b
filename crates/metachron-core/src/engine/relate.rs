//! The pass that counts how columns that their own cells leave open go with
//! the rest of the table.

use super::EngineError;
use super::Request;
use super::column::RowDecider;
use super::rows::{Page, Row, Rows, is_row};
use super::settled::QuestionedColumn;
use crate::decide::OwnReading;
use crate::forecast::TableFindings;
use crate::relations::{self, ClockDoubt, ComparedColumns, InQuestion, SourcesLeft, Tally};
use crate::rulings::{FILE, Rulings};
use crate::words;
use std::collections::{HashMap, HashSet};
use std::ops::Range;

/// The columns that are compared with the rest of the table, some in each pass.
#[derive(Debug, Default)]
pub(super) struct Relations {
    /// The columns that the rest may settle, or contradict, in the order of the table …
    in_question: Vec<QuestionedColumn>,
    /// … of which so many were compared, or are now.
    compared: usize,
    /// How many rows the table has.
    rows: u64,
    /// What speaks against the times of day of columns, by their names.
    pub clock_doubts: HashMap<String, ClockDoubt>,
    /// The columns that may be numbers, and which the rest of the table shows to be
    /// dates.
    pub confirmed: HashSet<String>,
}

impl Relations {
    /// Of these columns of a table of so many rows.
    pub fn of(in_question: Vec<QuestionedColumn>, rows: u64) -> Relations {
        Relations {
            in_question,
            rows,
            ..Relations::default()
        }
    }

    /// The pass for the next of the columns; `None` where all were compared.
    pub fn next_pass(
        &mut self,
        request: &Request,
        rulings: &Rulings,
    ) -> Result<Option<RelatePass>, EngineError> {
        let (start, all) = (self.compared, self.in_question.len());
        if start == all {
            return Ok(None);
        }
        let counted = counted_in_a_pass(all, request.columns.len());
        self.compared = all.min(start + counted);
        let counted = start..self.compared;
        let pass = RelatePass::new(request, rulings, &self.in_question, counted, self.rows)?;
        Ok(Some(pass))
    }

    /// Takes what a pass has found, but for what settles columns.
    pub fn add(&mut self, pass: &RelatePass, tally: &Tally) {
        self.clock_doubts.extend(pass.clock_doubts(tally));
        self.confirmed.extend(pass.confirmed(tally));
    }
}

/// A pass over the table, for some of the columns that are in question.
#[derive(Debug)]
pub(super) struct RelatePass {
    deciders: Vec<RowDecider>,
    compared: ComparedColumns,
    /// The columns in question that are counted, in the order of the table.
    in_question: Vec<QuestionedColumn>,
    /// The indexes of those, and of the columns that they are compared with.
    near: Vec<usize>,
    width: usize,
    /// How many rows the table has.
    rows: u64,
    /// So many rows are looked at of each block, if not all of them.
    rows_of_block: Option<u64>,
    /// What those of a pass over a few rows left to look for, by the column in
    /// question.
    left: Vec<SourcesLeft>,
    /// How many rows that one looked at, if there was one.
    first_rows: Option<u64>,
}

impl RelatePass {
    /// The pass for those of the columns `in_question` that are `counted`.
    fn new(
        request: &Request,
        rulings: &Rulings,
        in_question: &[QuestionedColumn],
        counted: Range<usize>,
        rows: u64,
    ) -> Result<RelatePass, EngineError> {
        let reach = reach(in_question.len());
        let counted = &in_question[counted];
        let is_near = |index: usize| {
            let behind = counted.partition_point(|column| column.index + reach < index);
            let next = counted.get(behind);
            next.is_some_and(|column| column.index <= index + reach)
        };
        let near: Vec<usize> = (0..request.columns.len())
            .filter(|&index| is_near(index))
            .collect();
        let mut read_by = Rulings {
            zones: rulings.zones.clone(),
            ..Rulings::new(rulings.table.clone())
        };
        for &index in &near {
            let name = &request.columns[index];
            let reopened = (in_question.binary_search_by_key(&index, |column| column.index))
                .map(|number| &in_question[number].reopened.ruling);
            if let Some(ruling) = reopened.ok().or_else(|| rulings.column.get(name)) {
                read_by.column.insert(name.clone(), ruling.clone());
            }
        }
        let deciders = request.deciders(&read_by)?;
        let mut columns = request.columns.clone();
        let file = (request.files.len() > 1).then_some(columns.len());
        columns.extend(file.map(|_| FILE.to_owned()));
        let mut compared = ComparedColumns {
            columns,
            file,
            temporal: deciders.iter().map(|decider| decider.index).collect(),
            own_hypotheses: vec![Vec::new(); deciders.len()],
            reach: Some(reach),
            ..ComparedColumns::default()
        };
        for column in in_question {
            let Ok(number) = compared.temporal.binary_search(&column.index) else {
                continue;
            };
            compared.own_hypotheses[number] = column.reopened.own_hypotheses.clone();
            if column.is_tentative {
                compared.tentative.push(number);
            }
            if column.doubts.is_half_a_clock {
                compared.half_clocks.push(number);
            }
        }
        for column in counted {
            if let Ok(number) = compared.temporal.binary_search(&column.index) {
                compared.in_question.push(InQuestion {
                    number,
                    doubts: column.doubts,
                });
            }
        }
        Ok(RelatePass {
            rows_of_block: (rows > ROWS_LOOKED_AT).then(|| {
                let blocks = rows.div_ceil(USUAL_ROWS_OF_BLOCK);
                ROWS_LOOKED_AT.div_ceil(blocks).max(LEAST_ROWS_OF_BLOCK)
            }),
            rows,
            compared,
            width: request.columns.len(),
            left: Vec::new(),
            first_rows: None,
            in_question: counted.to_vec(),
            near,
            deciders,
        })
    }

    /// Makes it count by pairs of columns too, where the counts by one column
    /// say which pairs to try; says whether it has to be made again for that.
    pub fn add_pairs(&mut self, tally: &Tally) -> bool {
        if !self.compared.pairs.is_empty() {
            return false;
        }
        self.compared.pairs = tally.pairs_to_compare();
        !self.compared.pairs.is_empty()
    }

    /// Makes it look at every row, where the few that it looked at say something
    /// about a column; says whether it has to be made again for that.
    pub fn look_closer(&mut self, tally: &Tally, rulings: &Rulings) -> bool {
        if self.rows_of_block.is_none() {
            return false;
        }
        let columns = self.in_question.iter().zip(&tally.columns);
        let left = columns.map(|(column, tallied)| {
            let ruling = rulings.column.get(&column.name);
            relations::sources_left(ruling, &column.reopened.ruling, tallied, &self.compared)
        });
        let left: Vec<SourcesLeft> = left.collect();
        let is_any = left.iter().any(SourcesLeft::is_any);
        if is_any {
            self.rows_of_block = None;
            self.left = left;
            self.first_rows = Some(tally.rows);
        }
        is_any
    }

    pub fn start(&self) -> Tally {
        Tally::by_sources(&self.compared, &self.left)
    }

    pub fn worker(&self) -> RelateWorker<'_> {
        RelateWorker {
            pass: self,
            deciders: self.deciders.clone(),
            texts: vec![String::new(); self.compared.columns.len()],
            ruled_out: self.start(),
            own_readings: vec![OwnReading::default(); self.deciders.len()],
            wanted: Vec::new(),
            wanted_readings: Vec::new(),
            scratch: String::new(),
        }
    }

    /// What speaks against the times of day of columns, by their names.
    fn clock_doubts(&self, tally: &Tally) -> HashMap<String, ClockDoubt> {
        let columns = self.in_question.iter().zip(&tally.columns);
        let doubts = columns.filter_map(|(column, tallied)| {
            let doubt = relations::clock_doubt(tallied, &self.compared)?;
            Some((column.name.clone(), doubt))
        });
        doubts.collect()
    }

    /// The columns that may be numbers, and which the rest of the table shows to be
    /// dates.
    fn confirmed(&self, tally: &Tally) -> Vec<String> {
        let columns = self.in_question.iter().zip(&tally.columns);
        let confirmed = columns.filter(|(column, tallied)| {
            column.is_tentative && relations::are_dates(tallied, &self.compared)
        });
        confirmed.map(|(column, _)| column.name.clone()).collect()
    }

    /// Puts what the counts prove into the rulings; says what was found of each
    /// column.
    pub fn settle(&self, tally: Tally, rulings: &mut Rulings) -> HashMap<String, TableFindings> {
        let mut found = HashMap::new();
        for (number, column) in self.in_question.iter().enumerate() {
            let tallied = &tally.columns[number];
            let QuestionedColumn {
                name,
                doubts,
                is_tentative,
                reopened,
                ..
            } = column;
            let Some(ruling) = rulings.column.get_mut(name) else {
                continue;
            };
            let justifications =
                relations::settle(ruling, &reopened.ruling, tallied, &self.compared);
            // Nobody asked about a column that its own cells settle, unless they may be
            // numbers.
            if doubts.is_open || *is_tentative || !justifications.is_empty() {
                let findings = TableFindings {
                    attempts: self.attempts(number, &tally),
                    justifications,
                    ..TableFindings::default()
                };
                found.insert(name.clone(), findings);
            }
        }
        found
    }

    /// What was looked for in the rest of the table for the column in question with
    /// this number, and what was found, a sentence each.
    fn attempts(&self, number: usize, tally: &Tally) -> Vec<String> {
        let looked_at = |few: u64| {
            format!(
                "looked at {} of {}, the first of every block of the file: what does not \
                 hold for them does not hold for all",
                words::number(few),
                words::count(self.rows, "row")
            )
        };
        let mut attempts = Vec::new();
        if let Some((first, left)) = self.first_rows.zip(self.left.get(number)) {
            attempts.push(looked_at(first));
            attempts.extend(left.attempts.iter().cloned());
            attempts.push("looked at all rows for what may hold".to_owned());
        } else if tally.rows < self.rows {
            attempts.push(looked_at(tally.rows));
        }
        attempts.extend(relations::attempts(&tally.columns[number], &self.compared));
        attempts
    }
}

/// Counts the rows of blocks; each thread has its own.
#[derive(Debug)]
pub(super) struct RelateWorker<'p> {
    pass: &'p RelatePass,
    deciders: Vec<RowDecider>,
    /// The row's texts, and the name of its file behind them, if there are several.
    texts: Vec<String>,
    /// The tally of the last block, for what it ruled out.
    ruled_out: Tally,
    own_readings: Vec<OwnReading>,
    /// The columns whose texts matter.
    wanted: Vec<usize>,
    /// Which of the temporal columns matter.
    wanted_readings: Vec<bool>,
    scratch: String,
}

impl RelateWorker<'_> {
    pub fn block(&mut self, file: &str, mut rows: impl Rows) -> (u64, Tally) {
        let width = self.pass.width;
        let most = self.pass.rows_of_block.unwrap_or(u64::MAX);
        let mut tally = self.ruled_out.start_again();
        if let Some(index) = self.pass.compared.file {
            file.clone_into(&mut self.texts[index]);
        }
        let mut looked_at = 0_u64;
        while looked_at < most
            && let Some(page) = rows.next_page()
        {
            let rows = page.rows().filter(|row| is_row(row, width));
            for row in rows.take((most - looked_at) as usize) {
                if looked_at.is_multiple_of(ROWS_BEFORE_ASKING) {
                    let near = self.pass.near.iter().copied();
                    self.wanted.clear();
                    self.wanted
                        .extend(near.filter(|&index| tally.wants_text(index)));
                    self.wanted_readings.clear();
                    self.wanted_readings
                        .extend((0..self.deciders.len()).map(|number| tally.wants_reading(number)));
                }
                looked_at += 1;
                self.row(&row, file, &mut tally);
            }
        }
        self.ruled_out = tally.start_again();
        (looked_at, tally)
    }

    fn row(&mut self, row: &impl Row, file: &str, tally: &mut Tally) {
        let mut inner = String::new();
        for &index in &self.wanted {
            let text = &mut self.texts[index];
            text.clear();
            text.push_str(row.cell(index, &mut self.scratch).text(&mut inner));
        }
        let wanted = self.own_readings.iter_mut().zip(&self.wanted_readings);
        for (decider, (own_reading, is_wanted)) in self.deciders.iter_mut().zip(wanted) {
            if *is_wanted {
                decider.read_own(row, file, &mut self.scratch, own_reading);
            } else {
                *own_reading = OwnReading::default();
            }
        }
        tally.row(&self.pass.compared, &self.own_readings, &self.texts);
    }
}

/// About so many pairs of columns are compared at most, whatever the width of the
/// table. Of a wide table, each column in question is compared with those next to it,
/// which belong to it more often than those far away …
const MOST_PAIRS: usize = 8192;

/// … and with no fewer than so many on either side.
const LEAST_REACH: usize = 8;

/// So many pairs are compared in one pass over the table, or those of one column:
/// what is counted of them must fit into memory.
const PAIRS_OF_PASS: usize = 4096;

/// How near a column has to stand to be compared with one of so many in question.
fn reach(in_question: usize) -> usize {
    (MOST_PAIRS / in_question.max(1) / 2).clamp(LEAST_REACH, PAIRS_OF_PASS / 2)
}

/// How many of so many columns in question are counted in one pass.
fn counted_in_a_pass(in_question: usize, width: usize) -> usize {
    let pairs = (2 * reach(in_question)).min(width).max(1);
    (PAIRS_OF_PASS / pairs).max(1)
}

/// About so many rows are looked at first, the first ones of every block. What holds
/// for all rows holds for them, and what contradicts the cells of a column in more
/// than a few rows is among them: then all rows are looked at.
const ROWS_LOOKED_AT: u64 = 20_000;

/// As many rows make a block of a usual table: they are not counted before.
const USUAL_ROWS_OF_BLOCK: u64 = 16_384;

/// Of however large a table, so many rows of each block are looked at.
const LEAST_ROWS_OF_BLOCK: u64 = 20;

/// After so many rows, it is asked which texts still matter.
const ROWS_BEFORE_ASKING: u64 = 64;
