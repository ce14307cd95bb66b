//! What cells are by themselves whose digits say all about them: known from what the
//! candidates make of the digits, once one cell of which they make the same was read as
//! any other cell is.

use super::ShapePlan;
use super::own_reading::Meaning;
use crate::lex::{BySignature, Lexed};
use crate::reading::{DigitReadings, DigitsRead};
use crate::rulings::Blanks;
use crate::stamp::Stamp;

/// What is known of cells, by their signatures.
#[derive(Clone, Debug)]
pub(super) struct DigitCells {
    known: BySignature<SignatureCells>,
    most: usize,
}

/// The cells of one signature.
#[derive(Clone, Debug, Default)]
struct SignatureCells {
    /// Those of each choice of digits that belong to no field, as those of an offset.
    kinds: Vec<CellsOfKind>,
    /// That of the last cell.
    last: usize,
    /// How many choices were looked at, those of whose cells their digits do not say all
    /// included.
    tried: usize,
}

/// Cells that differ in the digits of their fields alone.
#[derive(Clone, Debug)]
struct CellsOfKind {
    readings: DigitReadings,
    /// The number of their plan.
    plan: usize,
    /// What the digits of the last cell say.
    read: DigitsRead,
    /// Cells of the signature that no candidate reads may be blanks.
    has_blanks: bool,
    /// What cells mean, by the code of what their digits say.
    meanings: Vec<(u32, Meaning)>,
    /// The last of them that was asked for.
    last: usize,
}

/// A cell whose meaning is known.
#[derive(Clone, Copy, Debug)]
pub(super) struct DigitCell<'k> {
    pub(super) meaning: &'k Meaning,
    /// The number of its plan.
    pub(super) plan: usize,
    readings: &'k DigitReadings,
    read: &'k DigitsRead,
}

/// At most so many signatures are remembered: the days of the week in twelve months, and
/// days of one digit and of two. Past that, all are forgotten.
const MOST_SIGNATURES: usize = 256;

/// At most so many choices of other digits are told apart: offsets from UTC.
const MOST_KINDS: usize = 8;

/// About so many bytes are taken by what is known of one.
const BYTES_OF_SIGNATURE: usize = 1024;

/// At most so many codes are told apart of a signature.
const MOST_CODES: usize = 128;

impl DigitCells {
    /// None yet; what is known of them may take so many bytes.
    pub(super) fn new(bytes: usize) -> DigitCells {
        DigitCells {
            known: BySignature::default(),
            most: (bytes / BYTES_OF_SIGNATURE).min(MOST_SIGNATURES),
        }
    }

    /// Forgets all of them: plans have other numbers now.
    pub(super) fn clear(&mut self) {
        self.known.clear();
    }

    /// What is known of a cell of this text.
    #[inline(always)]
    pub(super) fn find(&mut self, text: &str) -> Option<DigitCell<'_>> {
        let text = text.as_bytes();
        let cells = self.known.find(text)?.find(text)?;
        let read = &mut cells.read;
        if !cells.readings.read_into(text, read) {
            return None;
        }
        let is_known = |(code, _): &(u32, Meaning)| *code == read.code;
        if !cells.meanings.get(cells.last).is_some_and(is_known) {
            cells.last = cells.meanings.iter().position(is_known)?;
        }
        Some(DigitCell {
            meaning: &cells.meanings.get(cells.last)?.1,
            plan: cells.plan,
            readings: &cells.readings,
            read,
        })
    }

    /// Remembers what `cell` means, by the plan of this number.
    pub(super) fn learn(
        &mut self,
        cell: &Lexed<'_>,
        (number, plan): (usize, &ShapePlan),
        blanks: &Blanks,
        meaning: &Meaning,
    ) {
        // Where another of its signature may be cut otherwise, it has no layout.
        if cell.layout().is_none() || self.most == 0 {
            return;
        }
        let text = cell.text().as_bytes();
        if !self.known.seek(text) {
            if self.known.len() == self.most {
                self.known.clear();
            }
            self.known.put(text, SignatureCells::default());
        }
        let Some(cells) = self.known.find(text) else {
            return;
        };
        if cells.find(text).is_none() && cells.tried < MOST_KINDS {
            cells.tried += 1;
            let kind = CellsOfKind::of(cell, (number, plan), blanks);
            cells.kinds.extend(kind);
        }
        if let Some(cells) = cells.find(text) {
            cells.learn(text, meaning);
        }
    }
}

impl SignatureCells {
    /// Those that `text`, which has the signature, is one of.
    #[inline(always)]
    fn find(&mut self, text: &[u8]) -> Option<&mut CellsOfKind> {
        let has_it = |kind: &CellsOfKind| kind.readings.has_fixed_digits(text);
        if !self.kinds.get(self.last).is_some_and(has_it) {
            self.last = self.kinds.iter().position(has_it)?;
        }
        self.kinds.get_mut(self.last)
    }
}

impl DigitCell<'_> {
    /// What the candidate at `index` reads the cell as.
    #[inline(always)]
    pub(super) fn stamp(&self, index: usize) -> Option<Stamp> {
        self.readings.stamp(index, self.read)
    }
}

impl CellsOfKind {
    fn of(
        cell: &Lexed<'_>,
        (number, plan): (usize, &ShapePlan),
        blanks: &Blanks,
    ) -> Option<CellsOfKind> {
        if blanks.have_day_alike(cell.text()) {
            return None;
        }
        Some(CellsOfKind {
            readings: DigitReadings::of(plan.readings(), cell, plan.conventions())?,
            plan: number,
            read: DigitsRead::default(),
            has_blanks: blanks.alike(cell.text()).next().is_some(),
            meanings: Vec::new(),
            last: 0,
        })
    }

    fn learn(&mut self, text: &[u8], meaning: &Meaning) {
        let Some(read) = self.readings.read(text) else {
            return;
        };
        let is_nothing = matches!(meaning, Meaning::Nothing(_));
        let has_stamps = meaning
            .candidates()
            .all(|index| self.readings.stamp(index, &read).is_some());
        let is_known = self.meanings.iter().any(|(code, _)| *code == read.code);
        let has_room = self.meanings.len() < MOST_CODES;
        if has_room && has_stamps && !is_known && !(self.has_blanks && is_nothing) {
            self.meanings.push((read.code, meaning.clone()));
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::decide::{Decider, RowContext};
    use crate::rulings::Rulings;
    use proptest::prelude::*;

    const RULINGS: [&str; 18] = [
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"], "yyyy-MM-dd"]"#,
        r#"kind = "datetime"
        read.forms = [["dd/MM/yyyy HH:mm", "MM/dd/yyyy HH:mm"], ["dd/MM/yyyy", "MM/dd/yyyy"]]"#,
        r#"kind = "date"
        read.forms = ["d/M/yyyy", "M/d/yyyy"]"#,
        r#"kind = "date"
        read.forms = ["dd/MM/yyyy HH:mm", ["yyyy-MM-dd", "yyyy-dd-MM"]]"#,
        r#"kind = "instant"
        read.forms = [["dd/MM/yyyy HH:mm", "MM/dd/yyyy HH:mm"]]
        read.zone = "Europe/Lisbon""#,
        r#"kind = "date"
        read.forms = ["d/M/yyyy"]
        read.blanks = ["01/02/2024", "9/9/2024"]"#,
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"]]
        read.order = "mdy""#,
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"]]
        read.calendar = "buddhist""#,
        r#"kind = "date"
        read.forms = [["d/M/yyyy", "M/d/yyyy"]]
        read.otherwise = "dmy""#,
        r#"kind = "instant"
        read.forms = ["yyyy-MM-dd'T'HH:mm:ssXXX", "dd/MM/yyyy HH:mm"]
        read.zone = "Asia/Kolkata""#,
        r#"kind = "date"
        read.forms = ["workbook-1900", "yyyyMMdd", ["d MMM yyyy", "swapped d MMM yyyy"]]"#,
        r#"kind = "datetime"
        read.forms = ["workbook-1904", "d MMM yyyy", "d/M/yyyy"]"#,
        r#"kind = "instant"
        read.forms = ["unix-s", "unix-ms", "yyyy-MM-dd'T'HH:mm:ssXXX"]"#,
        r#"kind = "time"
        read.forms = ["H:mm", "h:mm a"]"#,
        r#"kind = "duration"
        read.forms = ["elapsed H:mm", "elapsed m:ss"]"#,
        r#"kind = "date"
        read.forms = [["dd.MM.yy", "MM.dd.yy", "yy.MM.dd"]]
        read.century = 1950"#,
        r#"kind = "date"
        read.forms = [["dd.MM.yy", "MM.dd.yy"]]
        read.blanks = ["99.99.99", "20240101"]"#,
        r#"kind = "month"
        read.forms = ["yyyyMM", "yyyy-MM"]"#,
    ];

    fn decider(ruling: usize) -> Decider {
        let text = format!("metachron = 1\n[column.x]\n{}", RULINGS[ruling]);
        let rulings = Rulings::from_toml(&text).unwrap();
        Decider::new(&rulings, "x").unwrap().unwrap()
    }

    /// Cells of few pairs of day and month, so that most have been met.
    fn cells() -> impl Strategy<Value = Vec<String>> {
        let years = [327, 1399, 1900, 2023, 2024, 2567, 9999];
        let year = prop_oneof![3 => Just(2024), 1 => prop::sample::select(years.to_vec())];
        let number = prop::sample::select(vec![0, 1, 2, 5, 9, 12, 13, 29, 30, 31]);
        let time = (
            prop::sample::select(vec![0, 1, 23, 24]),
            prop::sample::select(vec![0, 30, 60]),
        );
        let cell = (year, number.clone(), number, time, 0..14);
        let cell = cell.prop_map(|(year, one, other, (hour, minute), form)| match form {
            0 => format!("{one:02}/{other:02}/{year:04}"),
            1 => format!("{one}/{other}/{year}"),
            2 => format!("{one:02}/{other:02}/{year:04} {hour:02}:{minute:02}"),
            3 => format!("{year:04}-{one:02}-{other:02}T{hour:02}:{minute:02}:00Z"),
            4 => format!(
                "{year:04}-{one:02}-{other:02}T{hour:02}:{minute:02}:00+0{}:00",
                one % 3
            ),
            5 => format!("{}", year * 20 + one * 31 + other),
            6 => format!("{}.{hour:02}{minute:02}", year * 20 + one * 31 + other),
            7 => format!(
                "{}",
                i64::from(year) * 800_000 + i64::from(one * 86_400 + other * 3600)
            ),
            8 => format!("{year:04}{one:02}{other:02}"),
            9 => format!(
                "{one} {} {year:04}",
                ["Jan", "March", "May"][other as usize % 3]
            ),
            10 => format!("{hour}:{minute:02}"),
            11 => format!("{hour}:{minute:02} PM"),
            12 => format!("{one:02}.{other:02}.{:02}", year % 100),
            _ => format!("{year:04}-{one:02}-{other:02}"),
        });
        prop::collection::vec(cell, 1..80)
    }

    proptest! {
        /// What is known of a cell by its digits is what is found of it alone.
        #[test]
        fn cells_that_were_met_are_what_they_are_alone(
            ruling in 0..RULINGS.len(),
            cells in cells(),
        ) {
            let context = RowContext::default();
            let mut used = decider(ruling);
            for cell in &cells {
                let cell = cell.as_str();
                let own_reading = decider(ruling).own_reading(cell, &context);
                prop_assert_eq!(used.own_reading(cell, &context), own_reading, "{}", cell);
                let decision = decider(ruling).decide(cell, &context);
                prop_assert_eq!(used.decide(cell, &context), decision, "{}", cell);
            }
        }
    }
}
