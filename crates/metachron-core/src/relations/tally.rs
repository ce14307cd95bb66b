//! Counting how the columns in question go with the others: a loop over the sources of
//! evidence.

use super::column_pairs::ColumnPairs;
use super::compared_columns::{ComparedColumns, InQuestion};
use super::counted_spans::CountedSpans;
use super::day_runs::DayRuns;
use super::distances::Distances;
use super::form_cells::FormCells;
use super::group::GroupCounts;
use super::half_clocks::HalfClocks;
use super::number_order::NumberOrder;
use super::observed::Observed;
use super::repeated_parts::RepeatedParts;
use super::silent_groups::SilentGroups;
use super::source::{EvidenceSource, Question};
use super::sources_left::SourcesLeft;
use super::swap_rivals::SwapRivals;
use super::time_between::TimeBetween;
use super::time_order::RowOrder;
use crate::decide::OwnReading;
use crate::form::Form;

/// How the open columns of a table, or of a part of one, go with the others.
#[derive(Debug)]
pub struct Tally {
    /// How many rows were counted.
    pub rows: u64,
    /// The columns in question, in the order of [`ComparedColumns::in_question`].
    pub columns: Vec<OpenColumn>,
}

/// How one open column goes with the others.
#[derive(Debug)]
pub struct OpenColumn {
    /// Its index among the columns.
    pub index: usize,
    pub(super) in_question: InQuestion,
    pub(super) cells: FormCells,
    pub(super) sources: Vec<Box<dyn EvidenceSource>>,
}

impl Tally {
    /// A tally of no rows.
    pub fn new(compared: &ComparedColumns) -> Tally {
        let in_question = compared.in_question.iter();
        Tally {
            rows: 0,
            columns: in_question
                .map(|&column| OpenColumn::new(column, compared))
                .collect(),
        }
    }

    /// A tally of no rows, by the sources that are `left` of each column.
    pub(crate) fn by_sources(compared: &ComparedColumns, left: &[SourcesLeft]) -> Tally {
        let mut tally = Tally::new(compared);
        for (column, left) in tally.columns.iter_mut().zip(left) {
            let mut is_left = left.sources.iter();
            (column.sources).retain(|_| is_left.next().copied().unwrap_or(true));
        }
        tally
    }

    /// A tally without counts, for the rows of another block: what this one has
    /// ruled out, it need not look for.
    pub fn start_again(&self) -> Tally {
        let again = |column: &OpenColumn| OpenColumn {
            index: column.index,
            in_question: column.in_question,
            cells: FormCells::default(),
            sources: (column.sources.iter())
                .map(|source| source.start_again())
                .collect(),
        };
        Tally {
            rows: 0,
            columns: self.columns.iter().map(again).collect(),
        }
    }

    /// Whether the text of this column still matters.
    pub fn wants_text(&self, index: usize) -> bool {
        let mut sources = self.columns.iter().flat_map(|own| &own.sources);
        sources.any(|source| source.wants_text(index))
    }

    /// Whether the cells of this temporal column still matter.
    pub fn wants_reading(&self, number: usize) -> bool {
        let mut columns = self.columns.iter();
        columns.any(|column| {
            let mut sources = column.sources.iter();
            if column.in_question.number == number {
                return sources.next().is_some();
            }
            sources.any(|source| source.wants_reading(number))
        })
    }

    /// Whether everything is ruled out, whatever rows follow.
    pub fn is_out(&self) -> bool {
        let mut sources = self.columns.iter().flat_map(|own| &own.sources);
        sources.all(|source| source.is_out())
    }

    /// Counts a row: `own_readings` are those of the temporal columns, `texts`
    /// the cells of all, as far as they matter.
    pub fn row(
        &mut self,
        compared: &ComparedColumns,
        own_readings: &[OwnReading],
        texts: &[String],
    ) {
        self.rows += 1;
        for column in &mut self.columns {
            let number = column.in_question.number;
            column.observe(&Observed::new(compared, number, own_readings, texts));
        }
    }

    /// Puts `later` behind this tally.
    pub fn merge(&mut self, later: Tally) {
        self.rows += later.rows;
        for (column, more) in self.columns.iter_mut().zip(later.columns) {
            column.merge(more);
        }
    }

    /// Arranges the rows counted so far, for what depends on their order. To be
    /// called on the tally of the table's first rows only, since what stands
    /// before them counts.
    pub fn arrange(&mut self) {
        let sources = self.columns.iter_mut().flat_map(|own| &mut own.sources);
        sources.for_each(|source| source.arrange());
    }

    /// Ends the tally: no row follows.
    pub fn finish(&mut self) {
        let sources = self.columns.iter_mut().flat_map(|own| &mut own.sources);
        sources.for_each(|source| source.finish());
    }
}

impl Tally {
    /// The pairs of columns that have to be counted by too, in another pass.
    pub fn pairs_to_compare(&self) -> Vec<(usize, usize)> {
        let mut pairs = Vec::new();
        for column in &self.columns {
            for source in &column.sources {
                for pair in source.pairs_to_compare(column.index, &column.cells) {
                    if !pairs.contains(&pair) {
                        pairs.push(pair);
                    }
                }
            }
        }
        pairs
    }
}

impl OpenColumn {
    fn new(in_question: InQuestion, compared: &ComparedColumns) -> OpenColumn {
        let index = compared.temporal[in_question.number];
        let doubts = in_question.doubts;
        let mut sources: Vec<Box<dyn EvidenceSource>> = vec![
            Box::new(RepeatedParts::new(compared, index)),
            Box::new(Distances::new(compared.near_temporal(in_question.number))),
            Box::new(CountedSpans::new(compared, in_question.number)),
        ];
        let own_hypotheses = compared.own_hypotheses.get(in_question.number);
        if own_hypotheses.is_some_and(|hypotheses| hypotheses.iter().any(Option::is_some)) {
            sources.push(Box::new(SilentGroups::new(compared.near(index))));
            sources.push(Box::new(DayRuns::default()));
        }
        if doubts.is_swapped {
            sources.push(Box::new(SwapRivals::new(compared, index)));
        }
        if doubts.is_half_a_clock {
            let others = compared.near_half_clocks(in_question.number);
            sources.push(Box::new(HalfClocks::new(others)));
        }
        if doubts.may_be_lengths {
            sources.push(Box::new(TimeBetween::new(compared, in_question.number)));
        }
        sources.push(Box::new(RowOrder::new(index, doubts.is_open)));
        if doubts.is_open {
            sources.push(Box::new(NumberOrder::new(compared, index)));
        }
        if doubts.is_mixed {
            sources.push(Box::new(GroupCounts::new(compared, index)));
        }
        if doubts.is_open {
            let near = compared.near_temporal(in_question.number);
            sources.push(Box::new(ColumnPairs::new(near)));
        }
        OpenColumn {
            index,
            in_question,
            cells: FormCells::default(),
            sources,
        }
    }

    /// What is asked of its sources, where these forms are open.
    pub(super) fn question<'q>(
        &'q self,
        compared: &'q ComparedColumns,
        open_forms: &'q [(usize, Vec<Form>)],
    ) -> Question<'q> {
        Question {
            compared,
            number: self.in_question.number,
            cells: &self.cells,
            open_forms,
        }
    }

    fn observe(&mut self, row: &Observed<'_>) {
        self.cells.observe(row);
        for source in &mut self.sources {
            source.observe(row);
        }
    }

    fn merge(&mut self, later: OpenColumn) {
        self.cells.merge(later.cells);
        for (source, more) in self.sources.iter_mut().zip(later.sources) {
            source.merge(more);
        }
    }
}
