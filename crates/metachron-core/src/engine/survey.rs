//! The pass that looks at every cell of the columns that are asked for.

use super::rows::{BlockStart, Page, Ragged, Row, Rows, is_row};
use super::{EngineError, Request};
use crate::calendar::Calendar;
use crate::evidence::{ColumnOptions, Evidence, Surveyor};
use crate::form::{Form, RowYear};
use crate::rulings::{Blanks, Locales, ReadRuling, Rulings, Setting};
use crate::settle::{SkipReason, agreed_locale, has_gregorian_years};
use std::collections::HashMap;

/// What a survey found.
#[derive(Clone, Debug, Default)]
pub struct Surveyed {
    /// The evidence on the columns that were asked for, in their order.
    pub evidence: Evidence,
    /// How many rows each file has.
    pub rows_by_file: Vec<u64>,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
    /// Locales that the names of a column settled, by its index.
    pub(super) learned: HashMap<usize, Learned>,
}

/// What a first survey taught about a column, for which it is surveyed again.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Learned {
    /// The locale that its names settled.
    pub locale: Option<Locales>,
    /// Forms that its cells may have, though some do not look like it.
    pub forms: Vec<Form>,
    /// Why it is passed through all the same, unless something is declared: a
    /// person is asked about these forms.
    pub skip: Option<SkipReason>,
}

/// The survey of one block.
#[derive(Debug)]
pub(super) struct SurveyPart {
    pub evidence: Evidence,
    pub ragged: Ragged,
}

/// The survey of the columns that are asked for.
#[derive(Debug)]
pub(super) struct SurveyPass {
    column_options: Vec<ColumnOptions>,
    columns: Vec<SurveyColumn>,
    width: usize,
    files: usize,
}

/// A column that is surveyed.
#[derive(Clone, Copy, Debug)]
struct SurveyColumn {
    index: usize,
    /// The column that says its years.
    year: Option<usize>,
}

impl SurveyPass {
    /// The survey that `request` asks for, with what is known of columns, by
    /// their index.
    pub fn new(
        request: &Request,
        learned: &HashMap<usize, Learned>,
    ) -> Result<SurveyPass, EngineError> {
        let asked = request.asked.iter();
        let columns = asked.clone().map(|&index| {
            let year = request.year_column(index)?;
            Ok(SurveyColumn { index, year })
        });
        Ok(SurveyPass {
            columns: columns.collect::<Result<_, EngineError>>()?,
            column_options: asked
                .map(|&index| request.options(index, learned.get(&index)))
                .collect(),
            width: request.columns.len(),
            files: request.files.len(),
        })
    }

    pub fn start(&self) -> Surveyed {
        Surveyed {
            evidence: Surveyor::new(&self.column_options).take(),
            rows_by_file: vec![0; self.files],
            ragged: Ragged::default(),
            learned: HashMap::new(),
        }
    }

    pub fn worker(&self) -> SurveyWorker<'_> {
        SurveyWorker {
            surveyor: Surveyor::new(&self.column_options),
            stands_alone: self.columns.iter().all(|column| column.year.is_none()),
            pass: self,
            scratch: String::new(),
        }
    }
}

impl Surveyed {
    pub(super) fn add(&mut self, at: BlockStart, part: SurveyPart) {
        self.rows_by_file[at.file] += part.evidence.rows;
        self.evidence.merge(part.evidence);
        self.ragged.merge(part.ragged);
    }
}

/// Surveys blocks of rows; each thread has its own, which learns what the
/// cells of its columns look like.
#[derive(Debug)]
pub(super) struct SurveyWorker<'p> {
    pass: &'p SurveyPass,
    surveyor: Surveyor<'p>,
    /// No column needs another one: cells are taken column by column.
    stands_alone: bool,
    scratch: String,
}

impl SurveyWorker<'_> {
    pub fn block(&mut self, at: BlockStart, mut rows: impl Rows) -> SurveyPart {
        let mut ragged = Ragged::default();
        let width = self.pass.width;
        while let Some(page) = rows.next_page() {
            if self.stands_alone && page.is_text_of_width(width) {
                for (number, column) in self.pass.columns.iter().enumerate() {
                    let mut cells = self.surveyor.column(number);
                    page.texts(column.index, &mut self.scratch, |text| cells.text(text));
                }
                self.surveyor.end_rows(page.count() as u64);
                continue;
            }
            for row in page.rows() {
                if is_row(&row, width) {
                    ragged.check(&row, width, at.file);
                    self.row(&row);
                }
            }
        }
        SurveyPart {
            evidence: self.surveyor.take(),
            ragged,
        }
    }

    fn row(&mut self, row: &impl Row) {
        let mut inner = String::new();
        for (number, column) in self.pass.columns.iter().enumerate() {
            let row_year = match column.year {
                Some(year) => {
                    let cell = row.cell(year, &mut self.scratch);
                    RowYear::of_cell(cell.text(&mut inner))
                }
                None => RowYear::default(),
            };
            let cell = row.cell(column.index, &mut self.scratch);
            self.surveyor.cell_with_year(number, cell, row_year);
        }
        self.surveyor.end_row();
    }
}

/// The locales of columns that have to be surveyed again, by their index:
/// their names mean different things in different languages, or are those of
/// a language with a calendar of its own.
pub(super) fn learn_locales(request: &Request, surveyed: &Surveyed) -> HashMap<usize, Learned> {
    let columns = request.asked.iter().zip(&surveyed.evidence.columns);
    columns
        .filter(|(_, evidence)| evidence.names.needs_language())
        .filter_map(|(&index, evidence)| {
            let locale = Locales(vec![agreed_locale(&evidence.names)?]);
            let other_calendar =
                locale.calendar() != Calendar::Gregory && !has_gregorian_years(evidence);
            let learned = Learned {
                locale: Some(locale),
                ..Learned::default()
            };
            (evidence.names.differ > 0 || other_calendar).then_some((index, learned))
        })
        .collect()
}

impl Request {
    /// The column that says the years of the column at `index`.
    fn year_column(&self, index: usize) -> Result<Option<usize>, EngineError> {
        let name = &self.columns[index];
        let ruling = self
            .rulings
            .iter()
            .find_map(|rulings| rulings.column.get(name));
        let ruled = ruling.and_then(|ruling| ruling.read.year_from.clone());
        let column = self.declared_for(name).year_from.or(ruled);
        let key = format!("read.year-from of `{name}`");
        column
            .map(|column| self.index_of(&column, &key))
            .transpose()
    }

    /// What is known of the column at `index` before it is surveyed.
    fn options(&self, index: usize, learned: Option<&Learned>) -> ColumnOptions {
        let name = &self.columns[index];
        let declared = self.declared_for(name);
        let rulings = self.rulings.as_ref();
        let ruling = rulings.and_then(|rulings| rulings.column.get(name));
        let ruled_forms = ruling.map(|ruling| ruling.read.all_forms());
        let mut read = ruling.map(|ruling| ruling.read.clone()).unwrap_or_default();
        read.century = declared.century.or(read.century);
        read.calendar = declared.calendar.or(read.calendar);
        read.year = declared.year.or(read.year);
        read.in_gap = declared.in_gap.unwrap_or(read.in_gap);
        read.in_overlap = declared.in_overlap.unwrap_or(read.in_overlap);
        read.leap_second = declared.leap_second.unwrap_or(read.leap_second);
        if !declared.locale.is_empty() {
            read.locale = declared.locale;
        } else if let Some(locale) = learned.and_then(|learned| learned.locale.clone()) {
            read.locale = locale;
        }
        let conventions = read.conventions();
        let settings = self.settings.iter().filter(|set| set.column() == name);
        let set: Vec<ReadRuling> = settings.filter_map(Setting::read).collect();
        let mut forms = if declared.forms.is_empty() {
            ruled_forms.unwrap_or_default()
        } else {
            declared.forms
        };
        forms.extend(learned.iter().flat_map(|learned| learned.forms.clone()));
        forms.extend(set.iter().flat_map(ReadRuling::all_forms));
        let set_blanks = set.iter().find_map(|read| read.blanks.as_ref());
        let empty = Rulings::new(Default::default());
        ColumnOptions {
            forms,
            locale_forms: match ruling {
                None => read.locale.forms(conventions.calendar),
                Some(_) => Vec::new(),
            },
            names: read.names(),
            conventions,
            blanks: match set_blanks {
                Some(list) => Blanks::new(list),
                None => rulings.unwrap_or(&empty).blanks(ruling),
            },
            zones: self.all_zones().into(),
        }
    }
}
