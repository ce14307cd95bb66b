//! A converter among the cells of its row.

use super::Job;
use super::declared::place_of;
use super::placed::Placed;
use metachron_core::convert::{Around, Converter, Look};
use metachron_core::rulings::{FILE, Rulings};
use metachron_core::stamp::Stamp;
use metachron_table::Row;
use std::path::Path;
use std::sync::Arc;

/// A column's converter, and where the cells stand that it asks beside its
/// own.
#[derive(Clone)]
pub struct Seated {
    /// The place of the column.
    pub place: usize,
    pub converter: Converter,
    texts: Vec<TextAt>,
    not_before: Option<Other>,
    not_after: Option<Other>,
    placed: Option<Arc<Placed>>,
    /// Which of the placed cells is the next.
    next: usize,
    said: Vec<String>,
}

/// Where a text stands that a row is grouped by.
#[derive(Clone, Copy)]
enum TextAt {
    Cell(usize),
    File,
}

/// Another column, converted by itself.
#[derive(Clone)]
struct Other {
    place: usize,
    converter: Converter,
}

impl Job<'_> {
    /// The converters of the columns that `rulings` rule and that are asked
    /// for, in order.
    pub(super) fn seated(&self, rulings: &Rulings) -> anyhow::Result<Vec<Seated>> {
        let columns = self.table.columns();
        let mut seated = Vec::with_capacity(rulings.column.len());
        for &place in &self.asked {
            if let Some(converter) = Converter::new(rulings, &columns[place])? {
                seated.push(self.seat(place, converter, rulings)?);
            }
        }
        Ok(seated)
    }

    fn seat(
        &self,
        place: usize,
        converter: Converter,
        rulings: &Rulings,
    ) -> anyhow::Result<Seated> {
        let columns = self.table.columns();
        let name = &columns[place];
        let place_named =
            |column: &str, key: &str| place_of(column, columns, &format!("read.{key} of `{name}`"));
        let needs = converter.needs();
        let mut texts = Vec::with_capacity(needs.texts.len());
        for column in &needs.texts {
            texts.push(match column == FILE && !columns.contains(column) {
                true => TextAt::File,
                false => TextAt::Cell(place_named(column, "year-from, zone-from, forms or same")?),
            });
        }
        let other = |column: &Option<String>, key: &str| -> anyhow::Result<Option<Other>> {
            let Some(column) = column else {
                return Ok(None);
            };
            let place = place_named(column, key)?;
            // The other column may be ruled without being asked for.
            let given = self.rulings.as_ref().unwrap_or(rulings);
            let ruled = match rulings.column.contains_key(column) {
                true => rulings,
                false => given,
            };
            let converter = Converter::new(ruled, column)?;
            Ok(converter.map(|converter| Other { place, converter }))
        };
        Ok(Seated {
            place,
            texts,
            not_before: other(&needs.not_before, "not-before")?,
            not_after: other(&needs.not_after, "not-after")?,
            placed: None,
            next: 0,
            said: Vec::new(),
            converter,
        })
    }
}

impl Seated {
    /// Whether the cell alone will do.
    pub fn sits_alone(&self) -> bool {
        self.converter.needs().is_nothing()
    }

    /// The same, with the places of its cells among the rows.
    pub fn placed(self, placed: Arc<Placed>) -> Seated {
        Seated {
            placed: Some(placed),
            ..self
        }
    }

    /// Makes it ready for the rows of a file from `line` on.
    pub fn start(&mut self, source: usize, line: u64) {
        if let Some(placed) = &self.placed {
            self.next = placed.start(source, line);
        }
    }

    /// Hands the cell of `row`, with what is around it, to `act`.
    pub fn at<R>(
        &mut self,
        row: &Row<'_>,
        file: &str,
        scratch: &mut String,
        act: impl FnOnce(&mut Converter, &str, &Around<'_>) -> R,
    ) -> R {
        self.said.resize(self.texts.len(), String::new());
        for (said, at) in self.said.iter_mut().zip(&self.texts) {
            said.clear();
            said.push_str(match at {
                TextAt::Cell(place) => row.cell(*place, scratch),
                TextAt::File => file,
            });
        }
        let mut stamp = |other: &mut Option<Other>| -> Option<Stamp> {
            let other = other.as_mut()?;
            let raw = row.value(other.place, scratch);
            other.converter.read(raw, &Around::default()).1
        };
        let mut around = Around {
            not_before: stamp(&mut self.not_before),
            not_after: stamp(&mut self.not_after),
            texts: &self.said,
            placed: None,
        };
        let raw = row.value(self.place, scratch);
        if let Some(placed) = &self.placed
            && let Look::Several { .. } = self.converter.look(raw, &around)
        {
            around.placed = placed.choice(self.next);
            self.next += 1;
        }
        act(&mut self.converter, raw, &around)
    }
}

/// The name of a file, as rows are grouped by it: without its folder, so that
/// a ruling holds wherever the files lie.
pub fn file_name(name: &str) -> &str {
    let name_alone = Path::new(name).file_name().and_then(|name| name.to_str());
    name_alone.unwrap_or(name)
}
