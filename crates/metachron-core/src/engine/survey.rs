//! The pass that looks at every cell of the columns that are asked for.

use super::rows::{BlockStart, Page, Ragged, Row, Rows, is_row};
use super::{EngineError, Request};
use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, ColumnOptions, Evidence, Surveyor};
use crate::form::{Form, RowFacts, RowFactsReader};
use crate::locale::Tag;
use crate::rulings::{Blanks, Locales, ReadRuling, Rulings, Setting};
use crate::settle::{
    Leftover, NamesAlike, SkipReason, agreed_locale, has_gregorian_years, locale_of_unread,
    names_alike,
};
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
    /// What some of its cells hold besides a date: a person is asked about the forms
    /// that read them.
    pub leftover: Option<Leftover>,
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
    /// The column that says the half of the day.
    half_of_day: Option<usize>,
}

impl SurveyColumn {
    fn stands_alone(self) -> bool {
        self.year.is_none() && self.half_of_day.is_none()
    }
}

impl SurveyPass {
    /// The survey that `request` asks for, with what is known of columns, by
    /// their index.
    pub fn new(
        request: &Request,
        learned: &HashMap<usize, Learned>,
    ) -> Result<SurveyPass, EngineError> {
        let asked = request.asked.iter();
        let columns = asked.clone().map(|&index| request.survey_column(index));
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
            stands_alone: self.columns.iter().all(|column| column.stands_alone()),
            facts: RowFactsReader::default(),
            ended_before: vec![0; self.columns.len() + 1],
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
    /// Reads the columns that say something about others.
    facts: RowFactsReader,
    /// How many rows of the block end before the column of this place: their cells are
    /// empty from there on, and counted together.
    ended_before: Vec<u64>,
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
        let mut empty = 0;
        for (number, ended) in self.ended_before.iter_mut().enumerate() {
            empty += std::mem::take(ended);
            if number < self.pass.columns.len() {
                self.surveyor.empty_cells(number, empty);
            }
        }
        SurveyPart {
            evidence: self.surveyor.take(),
            ragged,
        }
    }

    fn row(&mut self, row: &impl Row) {
        let columns = &self.pass.columns;
        let filled = row.filled();
        let there = match columns.last() {
            Some(last) if last.index >= filled => {
                columns.partition_point(|column| column.index < filled)
            }
            _ => columns.len(),
        };
        self.ended_before[there] += 1;
        for (number, column) in columns[..there].iter().enumerate() {
            let row_facts = if column.stands_alone() {
                RowFacts::default()
            } else {
                let mut text = |index: Option<usize>| {
                    let cell = row.cell(index?, &mut self.scratch);
                    Some(cell.text(&mut String::new()).to_owned())
                };
                let (year, half_of_day) = (text(column.year), text(column.half_of_day));
                (self.facts).read(year.as_deref(), half_of_day.as_deref())
            };
            let cell = row.cell(column.index, &mut self.scratch);
            self.surveyor.cell_in_row(number, cell, row_facts);
        }
        self.surveyor.end_row();
    }
}

/// The locales of columns that have to be surveyed again, by their index:
/// their names mean different things in different languages, are those of
/// a language with a calendar of its own, or stand in cells that were not read.
pub(super) fn learn_locales(request: &Request, surveyed: &Surveyed) -> HashMap<usize, Learned> {
    let columns = request.asked.iter().zip(&surveyed.evidence.columns);
    let learned = columns.filter_map(|(&index, evidence)| {
        // Rulings that were given are not changed by what new data hold.
        let is_free =
            request.rulings.is_none() && request.read_of(&request.columns[index]).locale.is_empty();
        let learned = is_free.then(|| learned_from_words(evidence)).flatten();
        let of_names = || locale_of_names(evidence).map(|tag| Learned::of_locale(tag, evidence));
        Some((index, learned.or_else(of_names)?))
    });
    learned.collect()
}

/// What the words of a column teach that are known in no language, or not in all.
fn learned_from_words(evidence: &ColumnEvidence) -> Option<Learned> {
    match names_alike(evidence) {
        Some(NamesAlike::Of(tag)) => Some(Learned::of_locale(tag, evidence)),
        Some(NamesAlike::Unknown) => Some(Learned {
            skip: Some(SkipReason::Unread {
                cells: evidence.filled(),
            }),
            // Names of other languages are no names here.
            ..Learned::of_locale("en".parse().ok()?, evidence)
        }),
        None => locale_of_unread(evidence).map(|tag| Learned::of_locale(tag, evidence)),
    }
}

impl Learned {
    /// That the names of a column are those of `tag`, in the Gregorian calendar where its
    /// years are of that: Uzbek of Afghanistan counts those of Persia, but not always.
    fn of_locale(tag: Tag, evidence: &ColumnEvidence) -> Learned {
        let is_gregorian = tag.calendar() != Calendar::Gregory && has_gregorian_years(evidence);
        let tag = match format!("{tag}-u-ca-gregory").parse() {
            Ok(gregorian) if is_gregorian => gregorian,
            _ => tag,
        };
        Learned {
            locale: Some(Locales(vec![tag])),
            ..Learned::default()
        }
    }
}

/// The locale of names that mean different things in different languages, or are
/// those of a language with a calendar of its own.
fn locale_of_names(evidence: &ColumnEvidence) -> Option<Tag> {
    let names = &evidence.names;
    if !names.needs_language() {
        return None;
    }
    let tag = agreed_locale(names)?;
    let other_calendar = tag.calendar() != Calendar::Gregory && !has_gregorian_years(evidence);
    (names.differ > 0 || other_calendar).then_some(tag)
}

impl Request {
    /// How the cells of the column `name` are read, as far as that is given or
    /// declared.
    fn read_of(&self, name: &str) -> ReadRuling {
        let rulings = self.rulings.as_ref();
        let ruling = rulings.and_then(|rulings| rulings.column.get(name));
        let mut read = ruling.map_or_else(ReadRuling::default, |ruling| ruling.read.clone());
        self.declared_for(name).put_on_read(&mut read);
        read
    }

    /// The column at `index`, with those that say something about its cells.
    fn survey_column(&self, index: usize) -> Result<SurveyColumn, EngineError> {
        let name = &self.columns[index];
        let read = self.read_of(name);
        let index_of = |column: Option<String>, key: &str| {
            let key = format!("read.{key} of `{name}`");
            let index = column.map(|column| self.index_of(&column, &key));
            index.transpose()
        };
        Ok(SurveyColumn {
            index,
            year: index_of(read.year_from, "year-from")?,
            half_of_day: index_of(read.half_of_day_from, "half-of-day-from")?,
        })
    }

    /// What is known of the column at `index` before it is surveyed.
    fn options(&self, index: usize, learned: Option<&Learned>) -> ColumnOptions {
        let name = &self.columns[index];
        let declared = self.declared_for(name);
        let rulings = self.rulings.as_ref();
        let ruling = rulings.and_then(|rulings| rulings.column.get(name));
        let ruled_forms = ruling.map(|ruling| ruling.read.all_forms());
        let mut read = self.read_of(name);
        if declared.locale.is_empty()
            && let Some(locale) = learned.and_then(|learned| learned.locale.clone())
        {
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
            kind: declared.kind,
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
            zones: read.all_zones(&self.all_zones()).into(),
        }
    }
}
