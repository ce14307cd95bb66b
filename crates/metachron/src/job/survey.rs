//! Surveying: every cell of every column that is asked for.

use super::pipeline::{self, Counted};
use super::progress::Progress;
use super::{Job, declared};
use metachron_core::calendar::Calendar;
use metachron_core::evidence::{Evidence, Surveyor, Watch};
use metachron_core::form::Beside;
use metachron_core::rulings::{Locales, ReadRuling, Rulings, Setting};
use metachron_core::settle::{agreed_locale, has_gregorian_years};
use metachron_table::Block;
use serde::Serialize;
use std::collections::HashMap;

/// What a survey found.
pub struct Surveyed {
    /// The evidence on the columns that were asked for, in their order.
    pub evidence: Evidence,
    /// How many rows each file has.
    pub rows_by_file: Vec<u64>,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
}

/// Rows that are shorter or longer than the header.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct Ragged {
    /// How many there are.
    pub rows: u64,
    /// The first few.
    pub first: Vec<RaggedRow>,
}

/// A row that is shorter or longer than the header.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub struct RaggedRow {
    /// Which file, from 0.
    pub file: usize,
    /// The line it starts on.
    pub line: u64,
    /// How many cells it has.
    pub cells: usize,
}

impl Ragged {
    const KEPT: usize = 5;

    pub(super) fn add(&mut self, row: RaggedRow) {
        self.rows += 1;
        if self.first.len() < Ragged::KEPT {
            self.first.push(row);
        }
    }

    pub fn merge(&mut self, later: Ragged) {
        self.rows += later.rows;
        let room = Ragged::KEPT - self.first.len();
        self.first.extend(later.first.into_iter().take(room));
    }
}

/// The survey of one block.
struct Part {
    evidence: Evidence,
    ragged: Ragged,
    source: usize,
    bytes: u64,
}

impl Counted for Part {
    fn bytes(&self) -> u64 {
        self.bytes
    }

    fn rows(&self) -> u64 {
        self.evidence.rows
    }
}

impl Job<'_> {
    /// Looks at every cell of the columns that are asked for.
    pub fn survey(&mut self) -> anyhow::Result<Surveyed> {
        let mut surveyed = self.survey_in_the_right_encoding()?;
        self.locales = self.locales_to_be_told_apart(&surveyed);
        if !self.locales.is_empty() {
            surveyed = self.survey_once()?;
        }
        Ok(surveyed)
    }

    /// The locales of columns that have to be read again: their names mean
    /// different things in different languages, or are those of a language
    /// with a calendar of its own.
    fn locales_to_be_told_apart(&self, surveyed: &Surveyed) -> HashMap<usize, Locales> {
        let columns = self.asked.iter().zip(&surveyed.evidence.columns);
        columns
            .filter(|(_, evidence)| evidence.names.has_foreign())
            .filter_map(|(&place, evidence)| {
                let locale = Locales(vec![agreed_locale(&evidence.names)?]);
                let other_calendar =
                    locale.calendar() != Calendar::Gregory && !has_gregorian_years(evidence);
                (evidence.names.differ > 0 || other_calendar).then_some((place, locale))
            })
            .collect()
    }

    fn survey_in_the_right_encoding(&mut self) -> anyhow::Result<Surveyed> {
        match self.survey_once() {
            // What looked like UTF-8 in its first part is not.
            Err(error) if is_wrong_encoding(&error) && self.declared.encoding.is_none() => {
                self.table.make_encodings_sure(&self.declared)?;
                self.survey_once()
            }
            result => result,
        }
    }

    fn survey_once(&self) -> anyhow::Result<Surveyed> {
        let watches: Vec<Watch> = self.asked.iter().map(|&place| self.watch(place)).collect();
        let columns = self.columns_with_years()?;
        let mut reader = self.table.read()?;
        let mut progress = Progress::new("surveying", self.table.size(), self.talk);
        let mut whole = Surveyed {
            evidence: Surveyor::new(&watches).take(),
            rows_by_file: vec![0; self.table.sources().count()],
            ragged: Ragged::default(),
        };
        let width = self.table.columns().len();
        pipeline::run(
            &mut *reader,
            self.threads,
            &mut progress,
            || {
                let mut surveyor = Surveyor::new(&watches);
                let columns = &columns;
                move |block: Block| survey_block(&block, &mut surveyor, columns, width)
            },
            |part: Part| {
                whole.rows_by_file[part.source] += part.evidence.rows;
                whole.evidence.merge(part.evidence);
                whole.ragged.merge(part.ragged);
                Ok(())
            },
        )?;
        Ok(whole)
    }

    /// The places of the columns that are asked for, each with that of the
    /// column which says its years.
    fn columns_with_years(&self) -> anyhow::Result<Vec<(usize, Option<usize>)>> {
        let columns = self.asked.iter().map(|&place| {
            let name = &self.table.columns()[place];
            let ruled = self
                .rulings
                .as_ref()
                .and_then(|given| given.column.get(name));
            let declared = declared::declared(self.args, &self.settings, name).year_from;
            let year_from = declared.or_else(|| ruled?.read.year_from.clone());
            Ok((place, self.year_column(name, year_from.as_deref())?))
        });
        columns.collect()
    }

    /// The place of the column that says the years of the column `name`.
    pub(super) fn year_column(
        &self,
        name: &str,
        year_from: Option<&str>,
    ) -> anyhow::Result<Option<usize>> {
        let Some(year_from) = year_from else {
            return Ok(None);
        };
        let option = format!("read.year-from of `{name}`");
        declared::place_of(year_from, self.table.columns(), &option).map(Some)
    }

    /// What is known of a column before it is surveyed.
    fn watch(&self, place: usize) -> Watch {
        let name = &self.table.columns()[place];
        let declared = declared::declared(self.args, &self.settings, name);
        let ruling = self
            .rulings
            .as_ref()
            .and_then(|rulings| rulings.column.get(name));
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
        } else if let Some(locale) = self.locales.get(&place) {
            read.locale = locale.clone();
        }
        let conventions = read.conventions();
        let set: Vec<ReadRuling> = self
            .settings
            .iter()
            .filter(|set| set.column() == name)
            .filter_map(Setting::read)
            .collect();
        let mut forms = match declared.forms.is_empty() {
            true => ruled_forms.unwrap_or_default(),
            false => declared.forms,
        };
        forms.extend(set.iter().flat_map(ReadRuling::all_forms));
        let set_blanks = set.iter().find_map(|read| read.blanks.as_ref());
        let empty = Rulings::new(Default::default());
        Watch {
            forms,
            locale_forms: match ruling {
                None => read.locale.forms(conventions.calendar),
                Some(_) => Vec::new(),
            },
            names: read.names(),
            conventions,
            blanks: match set_blanks {
                Some(list) => metachron_core::rulings::Blanks::new(list),
                None => self.rulings.as_ref().unwrap_or(&empty).blanks(ruling),
            },
            zones: self.zones().into(),
        }
    }
}

fn survey_block(
    block: &Block,
    surveyor: &mut Surveyor<'_>,
    columns: &[(usize, Option<usize>)],
    width: usize,
) -> anyhow::Result<Part> {
    let mut ragged = Ragged::default();
    let mut scratch = String::new();
    let alone = columns.iter().all(|(_, year)| year.is_none());
    let mut rows = block.rows()?;
    while let Some(page) = rows.next_page() {
        if alone && page.are_of_width(width) {
            for (column, &(place, _)) in columns.iter().enumerate() {
                let mut cells = surveyor.column(column);
                page.values(place, &mut scratch, |text| cells.cell(text));
            }
            surveyor.end_rows(page.len() as u64);
            continue;
        }
        for row in page.iter() {
            // A line with nothing on it is a row only where rows have one cell.
            if row.is_empty() && width > 1 {
                continue;
            }
            if row.len() != width && !row.is_empty() {
                ragged.add(RaggedRow {
                    file: block.source(),
                    line: row.line(),
                    cells: row.len(),
                });
            }
            for (column, &(place, year)) in columns.iter().enumerate() {
                let beside = match year {
                    Some(year) => Beside::year_cell(row.cell(year, &mut scratch)),
                    None => Beside::default(),
                };
                surveyor.cell_beside(column, row.value(place, &mut scratch), beside);
            }
            surveyor.end_row();
        }
    }
    Ok(Part {
        evidence: surveyor.take(),
        ragged,
        source: block.source(),
        bytes: block.len() as u64,
    })
}

fn is_wrong_encoding(error: &anyhow::Error) -> bool {
    let table = error.downcast_ref::<metachron_table::TableError>();
    matches!(table, Some(metachron_table::TableError::Encoding { .. }))
}
