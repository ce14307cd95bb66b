//! Cell + ruling → verdict.
//!
//! A [`Converter`] is a ruling made ready for a column. It needs no other
//! row, so that rows can be converted in any order, on any thread.
//!
//! ```
//! use metachron_core::convert::Converter;
//! use metachron_core::form::Beside;
//! use metachron_core::rulings::Rulings;
//! use metachron_core::verdict::Verdict;
//!
//! let rulings = Rulings::from_toml(
//!     "metachron = 1\n[column.due]\nkind = \"date\"\nread = { forms = [\"d/M/yyyy\"] }",
//! )?;
//! let mut converter = Converter::new(&rulings, "due")?.expect("there is a ruling on `due`");
//! let mut clean = Vec::new();
//! assert_eq!(converter.convert("31/12/2024", &mut clean), Verdict::Certain);
//! assert_eq!(clean, b"2024-12-31");
//! assert_eq!(converter.convert("12/31/2024", &mut clean), Verdict::Unreadable);
//! assert_eq!(
//!     converter.note("12/31/2024", Beside::default()).reason,
//!     "month 31 does not exist in d/M/yyyy; only M/d/yyyy would read it",
//! );
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod cache;

use crate::form::{Beside, Form};
use crate::lex::{Lexed, Lexer, Words};
use crate::reading::{Readings, Stamps};
use crate::rulings::{Blanks, Clean, ColumnRuling, Rulings, WriteError};
use crate::stamp::Stamp;
use crate::verdict::{Judgement, Note, Plan, Verdict, to_kind};
use cache::Cache;

/// Converts the cells of one column.
#[derive(Clone, Debug)]
pub struct Converter {
    ruling: ColumnRuling,
    clean: Clean,
    blanks: Blanks,
    lexer: Lexer,
    plans: Plans,
    stamps: Stamps,
    cache: Cache,
}

impl Converter {
    /// The converter of `column`; `None` where the rulings have none on it.
    ///
    /// # Errors
    ///
    /// Where the column cannot be written as it is ruled.
    pub fn new(rulings: &Rulings, column: &str) -> Result<Option<Converter>, WriteError> {
        let Some(ruling) = rulings.column.get(column) else {
            return Ok(None);
        };
        Ok(Some(Converter {
            clean: ruling.write.clean(ruling.kind)?,
            blanks: rulings.blanks(Some(ruling)),
            ruling: ruling.clone(),
            lexer: Lexer::new(ruling.read.names(), Words::Keep),
            plans: Plans::default(),
            stamps: Stamps::new(),
            cache: Cache::default(),
        }))
    }

    /// The same converter, remembering no more cells than fit into `bytes`
    /// bytes: for tables of very many columns.
    pub fn with_memory(self, bytes: usize) -> Converter {
        Converter {
            cache: Cache::new(bytes),
            ..self
        }
    }

    /// Decides on the cell `raw` and appends its clean text, in ISO 8601
    /// unless something else is ruled, to `clean`: nothing, unless the verdict
    /// is certain or settled.
    #[inline]
    pub fn convert(&mut self, raw: &str, clean: &mut Vec<u8>) -> Verdict {
        if let Some((verdict, text)) = self.cache.get(raw) {
            clean.extend_from_slice(text);
            return verdict;
        }
        let start = clean.len();
        let verdict = self.convert_beside(raw, Beside::default(), clean);
        self.cache.put(raw, verdict, &clean[start..]);
        verdict
    }

    /// The column whose cells say the year of this one's dates.
    pub fn year_from(&self) -> Option<&str> {
        self.ruling.read.year_from.as_deref()
    }

    /// The same as [`Converter::convert`], given what other cells of the row
    /// say about this one.
    pub fn convert_beside(&mut self, raw: &str, beside: Beside, clean: &mut Vec<u8>) -> Verdict {
        let (verdict, stamp) = self.read(raw, beside);
        match stamp.map(|stamp| self.clean.write(stamp, clean)) {
            Some(Err(_)) => Verdict::Open,
            Some(Ok(())) | None => verdict,
        }
    }

    /// Decides on the cell `raw`: its verdict and, if that is certain or
    /// settled, its stamp.
    pub fn read(&mut self, raw: &str, beside: Beside) -> (Verdict, Option<Stamp>) {
        if self.blanks.find(raw).is_some() {
            return (Verdict::Blank, None);
        }
        let Ok(cell) = self.lexer.lex(raw) else {
            return (Verdict::Unreadable, None);
        };
        let plan = self.plans.of(&self.ruling, &cell);
        let stamps = &mut self.stamps;
        let conventions = plan.conventions().beside(beside);
        let outcome = plan.readings().read(&cell, conventions, stamps);
        let judgement = plan.judge(outcome, plan.is_midnight(stamps));
        let stamp = match judgement {
            Judgement::Certain(place) | Judgement::Settled(place) => stamps[place].ok(),
            Judgement::Open(_) | Judgement::Unreadable(_) => None,
        };
        let stamp = stamp.map(|stamp| to_kind(stamp, plan.kind()));
        (judgement.verdict(), stamp)
    }

    /// What a reviewer needs to know of the cell `raw`.
    pub fn note(&mut self, raw: &str, beside: Beside) -> Note {
        if !matches!(self.clean, Clean::Iso)
            && let (_, Some(stamp)) = self.read(raw, beside)
            && let Err(why) = self.clean.write(stamp, &mut Vec::new())
        {
            return Note {
                verdict: Verdict::Open,
                reason: why.to_string(),
                readings: vec![stamp.to_string()],
            };
        }
        match self.lexer.lex(raw) {
            Ok(cell) => {
                let plan = self.plans.of(&self.ruling, &cell);
                match plan.readings().is_empty() {
                    true => Note::on_formless(&cell),
                    false => plan.note(&cell, beside),
                }
            }
            Err(why) => Note {
                reason: why.to_string(),
                ..Note::formless()
            },
        }
    }
}

/// The plans made so far, one for each shape that was met.
#[derive(Clone, Debug, Default)]
struct Plans {
    plans: Vec<Plan>,
    last: usize,
    forms: Option<Vec<Form>>,
}

/// Free text has no end of shapes; past this many, plans are made anew.
const MOST_PLANS: usize = 256;

impl Plans {
    #[inline]
    fn of(&mut self, ruling: &ColumnRuling, cell: &Lexed<'_>) -> &Plan {
        let fits = |plan: &Plan| plan.readings().shape().fits(cell);
        if !self.plans.get(self.last).is_some_and(fits) {
            self.last = match self.plans.iter().position(fits) {
                Some(place) => place,
                None => self.make(ruling, cell),
            };
        }
        &self.plans[self.last]
    }

    #[cold]
    fn make(&mut self, ruling: &ColumnRuling, cell: &Lexed<'_>) -> usize {
        if self.plans.len() == MOST_PLANS {
            self.plans.clear();
        }
        let forms = self.forms.get_or_insert_with(|| ruling.read.all_forms());
        let readings = Readings::new(cell.shape(), forms);
        self.plans.push(Plan::of(ruling, readings));
        self.plans.len() - 1
    }
}

#[cfg(test)]
mod tests;
