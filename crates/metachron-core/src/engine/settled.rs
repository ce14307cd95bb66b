//! From evidence to rulings, and what they will do.

use super::own_findings::OwnFindings;
use super::survey::Learned;
use super::{Request, Surveyed};
use crate::evidence::{ColumnEvidence, ShapeEvidence};
use crate::forecast::{ColumnForecast, SayingColumns, TableFindings, forecast_column, pass};
use crate::form::{Form, RowFactsReader};
use crate::relations::{self, ClockDoubt, Doubts};
use crate::rulings::{ColumnRuling, Rulings};
use crate::settle::{
    Leftover, Reopened, SkipReason, is_half_a_clock, of_others, offered_forms, other_origin,
    reopened, settle, tentative,
};
use crate::stamp::Kind;
use std::collections::{HashMap, HashSet};

/// How the columns of a table are read, and what that will do.
#[derive(Debug)]
pub struct Settled {
    /// How the table and its temporal columns are read.
    pub rulings: Rulings,
    /// What becomes of the columns that were asked for, in their order.
    pub columns: Vec<ColumnForecast>,
    /// What they rest on.
    pub surveyed: Surveyed,
}

impl Settled {
    /// Whether something waits for a person.
    pub fn waits(&self) -> bool {
        self.columns.iter().any(ColumnForecast::waits)
    }
}

/// A column that the rest of the table may settle, or contradict.
#[derive(Clone, Debug)]
pub(super) struct QuestionedColumn {
    /// Its index in the table.
    pub index: usize,
    pub name: String,
    /// What is in question.
    pub doubts: Doubts,
    /// Whether it may be numbers, and no dates.
    pub is_tentative: bool,
    /// The ruling that it is read by meanwhile.
    pub reopened: Reopened,
}

/// Rulings as far as they are settled.
#[derive(Debug)]
pub(super) struct Draft {
    pub rulings: Rulings,
    skipped: HashMap<String, SkipReason>,
    /// Columns that may be numbers, which are read as dates as long as the rest of
    /// the table is looked at; and why they are passed through if it says nothing.
    tentative: HashMap<String, SkipReason>,
    /// What the rest of the table says, by the columns' names.
    pub findings: HashMap<String, TableFindings>,
}

impl Default for Draft {
    fn default() -> Draft {
        Draft {
            rulings: Rulings::new(Default::default()),
            skipped: HashMap::new(),
            tentative: HashMap::new(),
            findings: HashMap::new(),
        }
    }
}

impl Draft {
    /// Decides how the columns are read: by the rulings that were given, else
    /// by evidence, and by what is declared in either case.
    pub fn new(request: &Request, surveyed: &Surveyed) -> Draft {
        let given = request.rulings.as_ref();
        let mut rulings = Rulings::new(given.map_or(&request.table, |given| &given.table).clone());
        rulings.zones = request.all_zones();
        rulings.derive = given.map(|given| given.derive.clone()).unwrap_or_default();
        let mut skipped = HashMap::new();
        for (&index, evidence) in request.asked.iter().zip(&surveyed.evidence.columns) {
            let name = &request.columns[index];
            let learned = surveyed.learned.get(&index);
            match rule_column(request, name, evidence, learned) {
                Ok(mut ruling) => {
                    if let Some(locale) = learned.and_then(|learned| learned.locale.clone()) {
                        ruling.read.locale = locale;
                    }
                    rulings.column.insert(name.clone(), ruling);
                }
                Err(reason) => {
                    skipped.insert(name.clone(), reason);
                }
            }
        }
        let mut draft = Draft {
            rulings,
            skipped,
            ..Draft::default()
        };
        draft.skip_half_clocks(request, surveyed);
        draft.try_doubtful(request, surveyed);
        draft
    }

    /// Passes times through that may be of a clock of 12 hours, where a column says the
    /// halves of the day: a person is asked whether it says theirs.
    fn skip_half_clocks(&mut self, request: &Request, surveyed: &Surveyed) {
        let says_halves = !(self.saying_columns(request, surveyed).halves_of_day).is_empty();
        if !says_halves || request.rulings.is_some() {
            return;
        }
        let half_clocks = self.half_clocks(request, surveyed).into_iter();
        let skipped = half_clocks.map(|(index, evidence)| {
            let reason = SkipReason::HalfDay {
                before: None,
                cells: evidence.readable(),
            };
            (request.columns[index].clone(), reason)
        });
        self.skip(skipped.collect());
    }

    /// Passes columns through for these reasons, whatever ruling they had.
    fn skip(&mut self, columns: HashMap<String, SkipReason>) {
        let is_skipped = |name: &String| columns.contains_key(name);
        self.rulings.column.retain(|name, _| !is_skipped(name));
        self.findings.retain(|name, _| !is_skipped(name));
        self.skipped.extend(columns);
    }

    /// Reads columns of dates that may be numbers as dates for now, where the table
    /// has others that could say what they are.
    fn try_doubtful(&mut self, request: &Request, surveyed: &Surveyed) {
        if self.rulings.column.is_empty() || request.rulings.is_some() {
            return;
        }
        let columns = request.asked.iter().zip(&surveyed.evidence.columns);
        for (&index, evidence) in columns {
            let name = &request.columns[index];
            let Some(reason) = self.skipped.get(name) else {
                continue;
            };
            if let Some(ruling) = tentative(name, evidence, reason, request.today()) {
                self.tentative.insert(name.clone(), reason.clone());
                self.rulings.column.insert(name.clone(), ruling);
            }
        }
    }

    /// Passes through what was read as dates for now, but for the columns that are
    /// `confirmed`.
    pub fn drop_tentative(&mut self, confirmed: &HashSet<String>) {
        let (dates, numbers): (HashMap<_, _>, HashMap<_, _>) = std::mem::take(&mut self.tentative)
            .into_iter()
            .partition(|(name, _)| confirmed.contains(name));
        self.skipped.retain(|name, _| !dates.contains_key(name));
        self.skip(numbers);
    }

    /// Puts into `learned` what columns have to be surveyed with again, by their
    /// index: what becomes of every cell is not known yet.
    pub fn learn(
        &self,
        request: &Request,
        surveyed: &Surveyed,
        learned: &mut HashMap<usize, Learned>,
    ) {
        if request.rulings.is_some() {
            return;
        }
        let columns = request.asked.iter().zip(&surveyed.evidence.columns);
        for (&index, evidence) in columns {
            let name = &request.columns[index];
            let mut forms = self.forms_to_try(request, name, evidence);
            let leftover = self.leftover(request, name, evidence);
            forms.extend(leftover.iter().flat_map(|left| left.forms.clone()));
            // What a language of its own reads holds nothing besides.
            if !forms.is_empty() && !learned.contains_key(&index) {
                let own = learned.entry(index).or_default();
                own.forms = forms;
                own.skip = self.skipped.get(name).cloned();
                own.leftover = leftover;
            }
            // Converting reads by the names of the ruled locale alone, which may be cut
            // off: they read other cells than those of all languages together.
            if let Some(ruling) = self.rulings.column.get(name)
                && !ruling.read.locale.is_empty()
                && request.declared_for(name).locale.is_empty()
                && evidence.readable() < evidence.filled()
            {
                let locale = ruling.read.locale.clone();
                let own = learned.entry(index).or_default();
                own.locale.get_or_insert(locale);
                // Other names may be read then, and others left over.
                if own.leftover.take().is_some() {
                    own.forms.clear();
                }
            }
        }
    }

    /// The forms that a column has to be surveyed with again: the counts of a column
    /// some of whose numbers did not look like such counts, as 0 among workbook days;
    /// and the forms with what stands besides the dates of a column that a person is
    /// asked about.
    fn forms_to_try(&self, request: &Request, name: &str, evidence: &ColumnEvidence) -> Vec<Form> {
        match (self.rulings.column.get(name), self.skipped.get(name)) {
            (Some(ruling), _) => {
                let declared = request.declared_for(name);
                let is_declared = !declared.forms.is_empty() || !declared.by_example.is_empty();
                let other = other_origin(evidence, ruling, request.today());
                let forms = ruling.read.all_forms();
                match other.filter(|_| !is_declared) {
                    Some(other) => [forms, vec![other]].concat(),
                    None => unknown_counts(evidence, forms),
                }
            }
            (None, Some(SkipReason::Leftover(left))) => left.forms.clone(),
            (None, Some(SkipReason::BareDigits { .. })) => {
                let offered = offered_forms(name, evidence);
                let counts = if offered.is_empty() {
                    unknown_counts(evidence, evidence.counts())
                } else {
                    evidence.counts()
                };
                [offered, counts].concat()
            }
            (None, Some(SkipReason::Unread { .. })) => offered_forms(name, evidence),
            _ => Vec::new(),
        }
    }

    /// What cells of a column that is read as dates or times hold besides one.
    fn leftover(
        &self,
        request: &Request,
        name: &str,
        evidence: &ColumnEvidence,
    ) -> Option<Leftover> {
        let ruling = self.rulings.column.get(name)?;
        let declared = request.declared_for(name);
        let is_declared = !declared.forms.is_empty() || !declared.by_example.is_empty();
        let is_read = evidence.readable() > 0;
        let left = (!is_declared).then(|| of_others(evidence, is_read.then_some(ruling.kind)));
        left.flatten()
    }

    /// The columns that the rest of the table may settle, because their own
    /// cells leave them open, or contradict, because nothing else settles them.
    /// Rulings that were given are not changed.
    pub fn in_question(&self, request: &Request, surveyed: &Surveyed) -> Vec<QuestionedColumn> {
        if request.rulings.is_some() {
            return Vec::new();
        }
        let half_clocks = self.half_clocks(request, surveyed);
        let rulings = || self.rulings.column.values();
        let has_time = |kind| matches!(kind, Kind::Time | Kind::DateTime | Kind::Instant);
        // A start, an end, and what is between them.
        let times = rulings().filter(|ruling| has_time(ruling.kind)).count();
        let lengths = rulings().filter(|ruling| ruling.kind == Kind::Duration);
        let are_three = times >= 3 || times == 2 && lengths.count() > 0;
        let columns = request.asked.iter().zip(&surveyed.evidence.columns);
        columns
            .filter_map(|(&index, evidence)| {
                let name = &request.columns[index];
                let ruling = self.rulings.column.get(name)?;
                let is_half_a_clock = half_clocks.len() > 1 && half_clocks.contains_key(&index);
                let is_open = relations::is_open(evidence, ruling);
                let reopened = if request.declared_for(name).is_order_said() {
                    Reopened::none(ruling)
                } else {
                    reopened(evidence, ruling)
                };
                let is_open = is_open || reopened.has_slips;
                let doubts = Doubts {
                    is_open,
                    is_mixed: is_open && relations::is_mixed(evidence, &reopened.ruling),
                    is_swapped: reopened.is_swapped(),
                    is_half_a_clock,
                    may_be_lengths: are_three
                        && ruling.kind == Kind::Time
                        && !request.declared_for(name).is_order_said(),
                };
                let is_tentative = self.tentative.contains_key(name);
                let is_in_question =
                    doubts != Doubts::default() || reopened.is_any() || is_tentative;
                is_in_question.then(|| QuestionedColumn {
                    index,
                    name: name.clone(),
                    doubts,
                    is_tentative,
                    reopened,
                })
            })
            .collect()
    }

    /// The columns whose times never pass 12:59, by their index, unless a form of theirs
    /// is declared.
    fn half_clocks<'s>(
        &self,
        request: &Request,
        surveyed: &'s Surveyed,
    ) -> HashMap<usize, &'s ColumnEvidence> {
        let columns = request.asked.iter().zip(&surveyed.evidence.columns);
        let half = columns.filter(|(index, evidence)| {
            let name = &request.columns[**index];
            let ruling = self.rulings.column.get(name);
            ruling.is_some_and(|ruling| ruling.kind == Kind::Time)
                && is_half_a_clock(evidence)
                && ruling.is_some_and(|ruling| ruling.read.half_of_day_from.is_none())
                && request.declared_for(name).forms.is_empty()
        });
        half.map(|(&index, evidence)| (index, evidence)).collect()
    }

    /// Passes columns through whose times of day something speaks against, so that a
    /// person is asked.
    pub fn skip_clocks(
        &mut self,
        request: &Request,
        surveyed: &Surveyed,
        mut doubts: HashMap<String, ClockDoubt>,
    ) {
        let columns = request.asked.iter().zip(&surveyed.evidence.columns);
        let skipped = columns.filter_map(|(&index, evidence)| {
            let name = &request.columns[index];
            let doubt = doubts.remove(name)?;
            if self.rulings.column.get(name)?.kind != Kind::Time {
                return None;
            }
            let cells = evidence.readable();
            let reason = match doubt {
                ClockDoubt::ShouldFollow(before) => SkipReason::HalfDay {
                    before: Some(before),
                    cells,
                },
                ClockDoubt::IsBetween { start, end } => SkipReason::Between { start, end, cells },
            };
            Some((name.clone(), reason))
        });
        let skipped = skipped.collect();
        self.skip(skipped);
    }

    pub fn into_settled(mut self, request: &Request, surveyed: Surveyed) -> Settled {
        let said_by = self.saying_columns(request, &surveyed);
        let columns = request.asked.iter().zip(&surveyed.evidence.columns);
        let columns = columns.map(|(&index, evidence)| {
            let name = &request.columns[index];
            match self.rulings.column.get(name) {
                Some(ruling) => {
                    let mut findings = self.findings.remove(name).unwrap_or_default();
                    let own = OwnFindings {
                        name,
                        evidence,
                        ruling,
                        declared: &request.declared_for(name),
                        today: request.today(),
                    };
                    findings.justifications.extend(own.justifications());
                    findings.said_by.clone_from(&said_by);
                    let learned = surveyed.learned.get(&index);
                    findings.leftover = learned.and_then(|learned| learned.leftover.clone());
                    forecast_column(name, evidence, ruling, &findings, request.today())
                }
                None => {
                    let reason = self.skipped.get(name).unwrap_or(&SkipReason::NotAsked);
                    pass(name, evidence, reason, &said_by, request.today())
                }
            }
        });
        Settled {
            columns: columns.collect(),
            rulings: self.rulings,
            surveyed,
        }
    }
}

impl Draft {
    /// The columns that say in every row what others leave out.
    fn saying_columns(&self, request: &Request, surveyed: &Surveyed) -> SayingColumns {
        let mut reader = RowFactsReader::default();
        let mut saying = SayingColumns::default();
        for (&index, evidence) in request.asked.iter().zip(&surveyed.evidence.columns) {
            let name = &request.columns[index];
            let ruling = self.rulings.column.get(name);
            let is_year = ruling.is_some_and(|ruling| ruling.kind == Kind::Year);
            let filled = evidence.filled();
            if evidence.blank() > 0 || filled == 0 {
                continue;
            }
            if is_year && evidence.readable() == filled {
                saying.years.push(name.clone());
            } else if evidence.readable() == 0
                && let Some(others) = evidence.others.all_texts()
                && let mut texts =
                    others.chain(evidence.shapes.iter().flat_map(ShapeEvidence::texts))
                && texts.all(|text| reader.half_of(text).is_some())
            {
                saying.halves_of_day.push(name.clone());
            }
        }
        saying
    }
}

/// The counts among `forms`, where some cell may be a number that no shape of the
/// survey takes for such a count.
fn unknown_counts(evidence: &ColumnEvidence, forms: Vec<Form>) -> Vec<Form> {
    let mut counts = forms;
    counts.retain(|form| form.bare_count().is_some());
    let knows = |shape: &ShapeEvidence| {
        let mut counts = counts.iter();
        counts.any(|count| shape.readings.index_of(count).is_some())
    };
    if evidence.others.count == 0 && evidence.shapes.iter().all(knows) {
        counts.clear();
    }
    counts
}

/// Whether digits that were surveyed as times of day are none: more than one cell in ten
/// has minutes past 59, or the like.
fn are_no_clocks(learned: &Learned, evidence: &ColumnEvidence) -> bool {
    let are_clocks = learned.forms.iter().all(|form| form.kind() == Kind::Time);
    let reads_most = |form: &Form| evidence.read_by(form) * 10 >= evidence.filled() * 9;
    are_clocks && !learned.forms.is_empty() && !learned.forms.iter().any(reads_most)
}

fn rule_column(
    request: &Request,
    name: &str,
    evidence: &ColumnEvidence,
    learned: Option<&Learned>,
) -> Result<ColumnRuling, SkipReason> {
    match &request.rulings {
        Some(given) if given.table.text_columns.iter().any(|text| text == name) => {
            Err(SkipReason::Text)
        }
        Some(given) => {
            let mut ruling = given
                .column
                .get(name)
                .cloned()
                .ok_or(SkipReason::NotAsked)?;
            request.declare_on(name, &mut ruling);
            Ok(ruling)
        }
        None => {
            let declared = request.declared_for(name);
            let is_named = declared.temporal || !declared.forms.is_empty();
            match learned.and_then(|learned| learned.skip.clone()) {
                Some(SkipReason::BareDigits { .. })
                    if !is_named && learned.is_some_and(|own| are_no_clocks(own, evidence)) =>
                {
                    Err(SkipReason::NoDates)
                }
                Some(reason) if !is_named && !declared.text => Err(reason),
                _ => settle(name, evidence, &declared, request.today()),
            }
        }
    }
}
