//! What the rest of the table says about columns that their own cells leave
//! open.

use super::Job;
use super::around::{Seated, file_name};
use super::pipeline::{self, Part};
use metachron_core::convert::{Converter, Look};
use metachron_core::outlook::{Beyond, Foreseen};
use metachron_core::relations::{self, Tally, Watched};
use metachron_core::rulings::{FILE, Rulings};
use metachron_table::Block;
use std::collections::HashMap;

impl Job<'_> {
    /// Puts what the rest of the table proves into the rulings on the columns
    /// `open`, by their names, and says what each rests on.
    pub(super) fn relate(
        &self,
        rulings: &mut Rulings,
        open: &[String],
    ) -> anyhow::Result<HashMap<String, Beyond>> {
        let mut found = HashMap::new();
        if open.is_empty() {
            return Ok(found);
        }
        let seated = self.seated(rulings)?;
        let mut columns: Vec<String> = self.table.columns().to_vec();
        columns.push(FILE.to_owned());
        let is_open = |seated: &Seated| open.contains(&columns[seated.place]);
        let mut watched = Watched {
            temporal: seated.iter().map(|seated| seated.place).collect(),
            open: (0..seated.len())
                .filter(|&place| is_open(&seated[place]))
                .collect(),
            pairs: Vec::new(),
            columns: columns.clone(),
        };
        let mut tally = self.tally(&seated, &watched)?;
        watched.pairs = relations::pairs_to_try(&tally);
        if !watched.pairs.is_empty() {
            tally = self.tally(&seated, &watched)?;
        }
        for column in &tally.columns {
            let name = &columns[column.place];
            if let Some(ruling) = rulings.column.get_mut(name) {
                let beyond = Beyond {
                    tried: relations::tried(column, &watched),
                    grounds: relations::settle(ruling, column, &watched),
                    foreseen: None,
                };
                found.insert(name.clone(), beyond);
            }
        }
        Ok(found)
    }

    fn tally(&self, seated: &[Seated], watched: &Watched) -> anyhow::Result<Tally> {
        let mut whole = Tally::new(watched);
        let width = self.table.columns().len();
        self.each_block(
            "relating",
            || {
                let mut seated = seated.to_vec();
                move |block, file| tally_block(block, file, watched, &mut seated, width)
            },
            |part: Part<Tally>| {
                whole.merge(part.value);
                whole.place();
                Ok(())
            },
        )?;
        whole.finish();
        Ok(whole)
    }

    /// What becomes of the cells of columns whose rulings look beyond them.
    pub(super) fn foresee(&self, rulings: &Rulings) -> anyhow::Result<HashMap<String, Foreseen>> {
        let looking: Vec<&String> = rulings
            .column
            .iter()
            .filter(|(_, ruling)| relations::looks_around(ruling))
            .map(|(name, _)| name)
            .collect();
        if looking.is_empty() {
            return Ok(HashMap::new());
        }
        let columns = self.table.columns();
        let mut seated = self.seated(rulings)?;
        seated.retain(|seated| looking.contains(&&columns[seated.place]));
        let seated = self.with_places(seated, rulings)?;
        let mut whole = vec![Foreseen::default(); seated.len()];
        let mut rows = 0;
        self.each_block(
            "foreseeing",
            || {
                let mut seated = seated.clone();
                move |block, file| foresee_block(block, file, &mut seated, columns.len())
            },
            |part: Part<Vec<Foreseen>>| {
                for (known, more) in whole.iter_mut().zip(part.value) {
                    known.merge(more, rows);
                }
                rows += part.rows;
                Ok(())
            },
        )?;
        let names = seated.iter().map(|seated| columns[seated.place].clone());
        Ok(names.zip(whole).collect())
    }
}

fn tally_block(
    block: &Block,
    file: &str,
    watched: &Watched,
    seated: &mut [Seated],
    width: usize,
) -> anyhow::Result<(u64, Tally)> {
    let mut tally = Tally::new(watched);
    let mut texts: Vec<String> = vec![String::new(); watched.columns.len()];
    file_name(file).clone_into(&mut texts[width]);
    let mut looks: Vec<Look> = Vec::with_capacity(seated.len());
    let mut scratch = String::new();
    let rows = pipeline::rows(block, width, |row, _| {
        for (place, text) in texts[..width].iter_mut().enumerate() {
            text.clear();
            text.push_str(row.cell(place, &mut scratch));
        }
        looks.clear();
        for column in seated.iter_mut() {
            looks.push(column.at(row, file, &mut scratch, Converter::look));
        }
        tally.row(watched, &looks, &texts);
    })?;
    Ok((rows, tally))
}

fn foresee_block(
    block: &Block,
    file: &str,
    seated: &mut [Seated],
    width: usize,
) -> anyhow::Result<(u64, Vec<Foreseen>)> {
    let mut foreseen = vec![Foreseen::default(); seated.len()];
    let mut scratch = String::new();
    for column in seated.iter_mut() {
        column.start(block.source(), block.line());
    }
    let rows = pipeline::rows(block, width, |row, number| {
        for (column, foreseen) in seated.iter_mut().zip(&mut foreseen) {
            column.at(row, file, &mut scratch, |converter, raw, around| {
                foreseen.add(converter, raw, around, number);
            });
        }
    })?;
    Ok((rows, foreseen))
}
