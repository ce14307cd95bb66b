//! Open cells in rows that stand in time order, placed among their neighbours
//! before the rows are converted.

use super::Job;
use super::around::Seated;
use super::pipeline::Part;
use metachron_core::convert::{Around, Look, Placing};
use metachron_core::rulings::Rulings;
use metachron_core::stamp::Stamp;
use std::collections::HashMap;
use std::sync::Arc;

/// The readings that open cells of a column have by their place, in the order
/// of the rows: a byte each, so that a table of any length has room.
#[derive(Debug, Default)]
pub struct Placed {
    choices: Vec<u8>,
    /// The first choice of each block, by file and line.
    starts: HashMap<(usize, u64), usize>,
}

/// No reading, or none alone, fits.
const NONE: u8 = u8::MAX;

impl Placed {
    pub(super) fn start(&self, source: usize, line: u64) -> usize {
        self.starts.get(&(source, line)).copied().unwrap_or(0)
    }

    pub(super) fn choice(&self, number: usize) -> Option<u8> {
        let choice = self.choices.get(number).copied()?;
        (choice != NONE).then_some(choice)
    }

    fn put(&mut self, choice: Option<usize>) {
        let choice = choice.and_then(|place| u8::try_from(place).ok());
        self.choices.push(choice.unwrap_or(NONE));
    }
}

/// What stands in a row of the column.
enum Mark {
    Known(Stamp),
    Several(Vec<Stamp>),
}

/// The line that a block starts on, and what its rows hold, by column.
type Marks = (u64, Vec<Vec<Mark>>);

impl Job<'_> {
    /// The same converters, those of columns in time order with the places of
    /// their open cells.
    pub(super) fn with_places(
        &self,
        seated: Vec<Seated>,
        rulings: &Rulings,
    ) -> anyhow::Result<Vec<Seated>> {
        let columns = self.table.columns();
        let order_of = |seated: &Seated| {
            let ruling = rulings.column.get(&columns[seated.place])?;
            ruling.read.in_time_order
        };
        let in_order: Vec<Seated> = seated
            .iter()
            .filter(|s| order_of(s).is_some())
            .cloned()
            .collect();
        if in_order.is_empty() {
            return Ok(seated);
        }
        let mut placings: Vec<(Placing<()>, Placed)> = in_order
            .iter()
            .filter_map(|seated| Some((Placing::new(order_of(seated)?), Placed::default())))
            .collect();
        // How many open cells were met, placed or still waiting for it.
        let mut met = vec![0; in_order.len()];
        self.each_block(
            "placing",
            || {
                let mut in_order = in_order.clone();
                move |block, file| marks(&mut in_order, block, file, columns.len())
            },
            |part: Part<Marks>| {
                let (line, columns) = part.value;
                for (place, marks) in columns.into_iter().enumerate() {
                    let (placing, placed) = &mut placings[place];
                    placed.starts.insert((part.source, line), met[place]);
                    for mark in marks {
                        match mark {
                            Mark::Known(stamp) => {
                                placing.known(stamp, |(), choice| placed.put(choice))
                            }
                            Mark::Several(stamps) => {
                                met[place] += 1;
                                placing.several(stamps, ());
                                placing.shed(|(), choice| placed.put(choice));
                            }
                        }
                    }
                }
                Ok(())
            },
        )?;
        let places = in_order.iter().map(|seated| seated.place);
        let mut placed: HashMap<usize, Arc<Placed>> = places
            .zip(placings)
            .map(|(place, (placing, mut placed))| {
                placing.finish(|(), choice| placed.put(choice));
                (place, Arc::new(placed))
            })
            .collect();
        let seated = seated.into_iter();
        Ok(seated
            .map(|seated| match placed.remove(&seated.place) {
                Some(placed) => seated.placed(placed),
                None => seated,
            })
            .collect())
    }
}

fn marks(
    columns: &mut [Seated],
    block: &metachron_table::Block,
    file: &str,
    width: usize,
) -> anyhow::Result<(u64, Marks)> {
    let mut marks: Vec<Vec<Mark>> = columns.iter().map(|_| Vec::new()).collect();
    let mut scratch = String::new();
    let line = block.line();
    let rows = super::pipeline::rows(block, width, |row, _| {
        for (column, marks) in columns.iter_mut().zip(&mut marks) {
            let look = column.at(
                row,
                file,
                &mut scratch,
                |converter, raw, around: &Around<'_>| converter.look(raw, around),
            );
            match look {
                Look::One { stamp, .. } => marks.push(Mark::Known(stamp)),
                Look::Several { stamps, .. } => marks.push(Mark::Several(stamps)),
                Look::Nothing(_) => {}
            }
        }
    })?;
    Ok((rows, (line, marks)))
}
