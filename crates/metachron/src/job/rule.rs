//! From a survey to rulings and what they will do.

use super::{Job, Surveyed, declared};
use crate::outcome::usage;
use indexmap::IndexMap;
use metachron_core::evidence::ColumnEvidence;
use metachron_core::outlook::{Beyond, ColumnOutlook, foretell, pass};
use metachron_core::relations::{self, Found, Ground};
use metachron_core::rulings::{
    ColumnRuling, FormRuling, HeaderLine, NoHeader, Rulings, TableRuling, USUAL_BLANKS,
};
use metachron_core::settle::{Passed, Proof, exchange, settle};
use metachron_core::zone::Zones;

/// Rulings, and what they will do.
pub struct Ruled {
    /// How the table and its temporal columns are read.
    pub rulings: Rulings,
    /// What becomes of the columns that were asked for, in their order.
    pub columns: Vec<ColumnOutlook>,
}

impl Ruled {
    /// Whether something waits for a person.
    pub fn waits(&self) -> bool {
        self.columns.iter().any(ColumnOutlook::waits)
    }
}

impl Job<'_> {
    /// Decides how the columns are read: by the rulings file, else by
    /// evidence, and by what is declared in either case.
    pub fn rule(&self, surveyed: &Surveyed) -> anyhow::Result<Ruled> {
        let mut rulings = Rulings::new(self.table_ruling());
        rulings.zones = self.zones();
        if let Some(given) = &self.rulings {
            rulings.derive = given.derive.clone();
        }
        let mut passed: IndexMap<&str, Passed> = IndexMap::new();
        for (&place, evidence) in self.asked.iter().zip(&surveyed.evidence.columns) {
            let name = &self.table.columns()[place];
            match self.rule_column(name, evidence) {
                Ok(mut ruling) => {
                    if let Some(locale) = self.locales.get(&place) {
                        ruling.read.locale = locale.clone();
                    }
                    rulings.column.insert(name.clone(), ruling);
                }
                Err(reason) => {
                    passed.insert(name, reason);
                }
            }
        }
        let open: Vec<String> = match self.rulings {
            Some(_) => Vec::new(),
            None => self.open_columns(&rulings, surveyed),
        };
        let mut beyond = self.relate(&mut rulings, &open)?;
        let rulings = self.with_settings(&rulings)?;
        for (name, foreseen) in self.foresee(&rulings)? {
            beyond.entry(name).or_default().foreseen = Some(foreseen);
        }
        for (&place, evidence) in self.asked.iter().zip(&surveyed.evidence.columns) {
            let name = &self.table.columns()[place];
            if let Some(ruling) = rulings.column.get(name) {
                let ground = exchanged(evidence, ruling);
                let grounds = &mut beyond.entry(name.clone()).or_default().grounds;
                grounds.extend(ground);
            }
        }
        let silent = Beyond::default();
        let columns = self.asked.iter().zip(&surveyed.evidence.columns);
        let columns = columns.map(|(&place, evidence)| {
            let name = &self.table.columns()[place];
            match (rulings.column.get(name), passed.get(name.as_str())) {
                (Some(ruling), _) => {
                    let beyond = beyond.get(name).unwrap_or(&silent);
                    foretell(name, evidence, ruling, beyond, self.today)
                }
                (None, reason) => pass(name, evidence, reason.unwrap_or(&Passed::NotAsked)),
            }
        });
        Ok(Ruled {
            columns: columns.collect(),
            rulings,
        })
    }

    /// The zones by the names that the rulings and the options give them.
    pub(super) fn zones(&self) -> Zones {
        let given = self.rulings.iter().flat_map(|given| given.zones.clone());
        let named = self
            .args
            .zone_name
            .iter()
            .map(|named| (named.name.clone(), named.zone.clone()));
        given.chain(named).collect()
    }

    /// The columns that their own cells leave open between orders.
    fn open_columns(&self, rulings: &Rulings, surveyed: &Surveyed) -> Vec<String> {
        let columns = self.asked.iter().zip(&surveyed.evidence.columns);
        columns
            .filter_map(|(&place, evidence)| {
                let name = &self.table.columns()[place];
                let ruling = rulings.column.get(name)?;
                relations::is_open(evidence, ruling).then(|| name.clone())
            })
            .collect()
    }

    /// The rulings of the file that was given, with what is declared beside
    /// it.
    pub fn given_rulings(&self) -> anyhow::Result<Option<Rulings>> {
        let Some(given) = &self.rulings else {
            return Ok(None);
        };
        let mut rulings = given.clone();
        rulings.zones = self.zones();
        for &place in &self.asked {
            let name = &self.table.columns()[place];
            if let Some(ruling) = rulings.column.get_mut(name) {
                self.declare_on(name, ruling);
            }
        }
        rulings.column.retain(|name, _| {
            self.asked
                .iter()
                .any(|&place| self.table.columns()[place] == *name)
        });
        Ok(Some(self.with_settings(&rulings)?))
    }

    fn with_settings(&self, rulings: &Rulings) -> anyhow::Result<Rulings> {
        let set = rulings.with_settings(&self.settings);
        set.map_err(|error| usage(error.to_string()))
    }

    fn rule_column(&self, name: &str, evidence: &ColumnEvidence) -> Result<ColumnRuling, Passed> {
        match &self.rulings {
            Some(given) => {
                let mut ruling = given.column.get(name).cloned().ok_or(Passed::NotAsked)?;
                self.declare_on(name, &mut ruling);
                Ok(ruling)
            }
            None => {
                let declared = declared::declared(self.args, &self.settings, name);
                settle(name, evidence, &declared, self.today)
            }
        }
    }

    /// Puts what is declared on top of a ruling from a file.
    fn declare_on(&self, name: &str, ruling: &mut ColumnRuling) {
        let declared = declared::declared(self.args, &self.settings, name);
        declared.put_zone(ruling);
        if !declared.forms.is_empty() {
            ruling.read.forms = declared
                .forms
                .into_iter()
                .map(FormRuling::Settled)
                .collect();
        }
        ruling.read.order = declared.order.or(ruling.read.order);
        ruling.read.century = declared.century.or(ruling.read.century);
        ruling.read.calendar = declared.calendar.or(ruling.read.calendar);
        ruling.read.year = declared.year.or(ruling.read.year);
        ruling.read.year_from = declared.year_from.or(ruling.read.year_from.take());
        if !declared.locale.is_empty() {
            ruling.read.locale = declared.locale;
        }
    }

    /// How the table is read, as far as one ruling fits all its files.
    fn table_ruling(&self) -> TableRuling {
        if let Some(given) = &self.rulings {
            return given.table.clone();
        }
        let blanks = Some(USUAL_BLANKS.map(str::to_owned).to_vec());
        if !self.table.is_uniform() {
            return TableRuling {
                blanks,
                ..TableRuling::default()
            };
        }
        if let Some(sheet) = self.table.sheet() {
            return TableRuling {
                sheet: Some(sheet.name.to_owned()),
                header_line: Some(self.ruled_header_line()),
                blanks,
                ..TableRuling::default()
            };
        }
        let dialect = self.table.dialect();
        TableRuling {
            encoding: Some(self.table.encoding().name().to_lowercase()),
            delimiter: Some(char::from(dialect.delimiter)),
            quote: match dialect.quote {
                Some(b'"') => None,
                Some(quote) => Some(char::from(quote).to_string()),
                None => Some("none".to_owned()),
            },
            header_line: Some(self.ruled_header_line()),
            blanks,
            ..TableRuling::default()
        }
    }

    fn ruled_header_line(&self) -> HeaderLine {
        match self.table.header().line {
            Some(line) => HeaderLine::Line(line as u32),
            None => HeaderLine::None(NoHeader::None),
        }
    }
}

/// What a ruling rests on that reads dates with day and month exchanged.
fn exchanged(evidence: &ColumnEvidence, ruling: &ColumnRuling) -> Option<Ground> {
    let exchange = exchange(evidence).filter(|exchange| exchange.proof == Proof::Proven)?;
    let is_exchanged = |form: &FormRuling| match form {
        FormRuling::Settled(form) => form.is_exchanged(),
        FormRuling::Open(_) | FormRuling::ByGroup(_) => false,
    };
    Some(Ground {
        form: Some(ruling.read.forms.iter().position(is_exchanged)?),
        found: Found::Exchanged {
            cells: exchange.cells,
            witnesses: exchange.witnesses,
            days: exchange.days,
            samples: exchange.samples,
        },
    })
}
