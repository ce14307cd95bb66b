//! Evidence + rulings → what converting will do, and why.
//!
//! A [`ColumnForecast`] holds the facts that surveys show, rulings files carry
//! as comments and scripts read as JSON: how many cells get which verdict,
//! which forms there are and what each rests on, what waits for a person and
//! what one would have to say.

mod by_row;
mod differences;
mod doubtful;
mod either;
mod forms;
mod question;
mod remarks;
mod setting;
mod shifted;
mod skipped;
mod suspicions;
mod unsaid;
mod waiting;

pub(crate) use by_row::RowForecast;
pub use differences::{Difference, Now, differences};
pub use forms::{FormForecast, OrderCount, Rest};
pub use question::{Answer, Question, Topic, in_words};
pub use skipped::Skipped;
pub use waiting::Waiting;

use crate::decide::{Judgement, OpenReason, ShapePlan, Verdict, to_kind};
use crate::evidence::{ColumnEvidence, Example, Span};
use crate::relations::Justification;
use crate::rulings::ColumnRuling;
use crate::settle::{Leftover, SkipReason};
use crate::stamp::{Kind, Stamp};
use jiff::civil::Date;

/// What converting a column will do.
#[derive(Clone, Debug, PartialEq)]
pub struct ColumnForecast {
    /// The column's name.
    pub name: String,
    /// Its kind; none where it is passed through as it came.
    pub kind: Option<Kind>,
    /// Why it is passed through, if it is.
    pub skipped: Option<Skipped>,
    /// How many cells get which verdict. For a column that is passed through,
    /// only blank cells are counted.
    pub cells: Counts,
    /// The earliest stamp of the clean column, marker dates left out.
    pub earliest: Option<String>,
    /// The latest.
    pub latest: Option<String>,
    /// The written forms, the commonest first.
    pub forms: Vec<FormForecast>,
    /// What decisions rest on that the column's own cells do not settle.
    pub justifications: Vec<Justification>,
    /// What was looked for in the rest of the table, and what was found, where
    /// the column's own cells leave something open.
    pub attempts: Vec<String>,
    /// The zone of its local times, if one is ruled: its name, or that of the
    /// column that says it.
    pub zone: Option<ZoneSource>,
    /// Two-digit years, if there are any.
    pub two_digit_years: Option<TwoDigitYears>,
    /// What stands for an empty cell, and how often; `""` is the empty cell.
    pub blanks: Vec<Blank>,
    /// Cells that wait for a person, by reason.
    pub waiting: Vec<Waiting>,
    /// What only a person can answer.
    pub questions: Vec<Question>,
    /// What a person should know.
    pub remarks: Vec<String>,
    /// How the column differs from what its ruling was settled on.
    pub differences: Vec<Difference>,
}

/// Where the zone of a column's local times is said.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum ZoneSource {
    /// It is this one in every row.
    Zone(String),
    /// This column says it, row by row.
    FromColumn(String),
}

impl ZoneSource {
    fn of(ruling: &ColumnRuling) -> Option<ZoneSource> {
        let zone = ruling.read.zone.as_ref();
        let zone = zone.map(|zone| ZoneSource::Zone(zone.to_string()));
        let column = ruling.read.zone_from.clone();
        zone.or(column.map(ZoneSource::FromColumn))
    }
}

/// How many cells get which verdict.
///
/// ```
/// use metachron_core::decide::Verdict;
/// use metachron_core::forecast::Counts;
///
/// let mut counts = Counts::default();
/// counts.add(Verdict::Certain, 40);
/// counts.add(Verdict::Open, 2);
/// assert_eq!((counts.converted(), counts.waiting(), counts.all()), (40, 2, 42));
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Counts {
    /// One reading is possible.
    pub certain: u64,
    /// Several are; the ruling chose.
    pub settled: u64,
    /// Several are; nothing settles which.
    pub open: u64,
    /// None is.
    pub unreadable: u64,
    /// The cell stands for nothing.
    pub blank: u64,
}

/// The two-digit years of a column.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TwoDigitYears {
    /// How many cells have one.
    pub cells: u64,
    /// The first year of the window they stand in, if one is ruled.
    pub century: Option<i16>,
    /// The earliest of the years under that window.
    pub first: Option<i16>,
    /// The latest.
    pub last: Option<i16>,
}

/// A marker that stands for an empty cell.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Blank {
    /// The marker, in lower case; `""` is the empty cell.
    pub text: String,
    /// How many cells.
    pub cells: u64,
}

impl Counts {
    /// Counts `cells` more cells of `verdict`.
    pub fn add(&mut self, verdict: Verdict, cells: u64) {
        *match verdict {
            Verdict::Certain => &mut self.certain,
            Verdict::Settled => &mut self.settled,
            Verdict::Open => &mut self.open,
            Verdict::Unreadable => &mut self.unreadable,
            Verdict::Blank => &mut self.blank,
        } += cells;
    }

    /// Counts the cells of `other` too.
    pub fn merge(&mut self, other: Counts) {
        self.certain += other.certain;
        self.settled += other.settled;
        self.open += other.open;
        self.unreadable += other.unreadable;
        self.blank += other.blank;
    }

    /// Cells that are converted.
    pub fn converted(&self) -> u64 {
        self.certain + self.settled
    }

    /// Cells that go on the review list.
    pub fn waiting(&self) -> u64 {
        self.open + self.unreadable
    }

    /// All cells.
    pub fn all(&self) -> u64 {
        self.converted() + self.waiting() + self.blank
    }
}

impl ColumnForecast {
    /// Whether something in the column waits for a person.
    pub fn waits(&self) -> bool {
        self.cells.waiting() > 0 || !self.questions.is_empty()
    }
}

/// What the rest of the table adds to the evidence of a column.
#[derive(Clone, Debug, Default)]
pub struct TableFindings {
    /// What decisions rest on that the column's own cells do not settle.
    pub justifications: Vec<Justification>,
    /// What was looked for in the rest of the table, and what was found.
    pub attempts: Vec<String>,
    /// What becomes of its cells, where the ruling looks beyond them.
    pub by_row: Option<RowForecast>,
    /// The columns that say something about others.
    pub said_by: SayingColumns,
    /// What some of its cells hold besides a date.
    pub leftover: Option<Leftover>,
}

/// The columns that say what the cells of others leave out, in every row.
#[derive(Clone, Debug, Default)]
pub struct SayingColumns {
    /// Those with a year.
    pub years: Vec<String>,
    /// Those with a half of the day: a.m. or p.m.
    pub halves_of_day: Vec<String>,
}

/// What converting the column `name` by `ruling` will do. `today` is the
/// reference for the questions about years of two digits, or none.
pub fn forecast_column(
    name: &str,
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    findings: &TableFindings,
    today: Date,
) -> ColumnForecast {
    let plans: Vec<ShapePlan> = evidence
        .shapes
        .iter()
        .map(|shape| ShapePlan::of(ruling, (*shape.readings).clone()))
        .collect();
    let judged = judge(evidence, &plans);
    let mut cells = Counts::default();
    for cell in &judged {
        cells.add(cell.judgement.verdict(), cell.count);
    }
    cells.unreadable += evidence.others.count;
    cells.blank = evidence.blank();
    let (earliest, latest) = span_of(evidence, &judged).bounds(ruling.read.conventions().century);
    let text_of = |stamp: Option<Stamp>| Some(to_kind(stamp?, ruling.kind).to_string());
    let two_digit_years = two_digit_years(evidence, ruling, &plans, &judged);
    let facts = question::Facts {
        name,
        evidence,
        ruling,
        plans: &plans,
        judged: &judged,
        by_row: findings.by_row.as_ref(),
        today,
    };
    let mut forecast = ColumnForecast {
        name: name.to_owned(),
        kind: Some(ruling.kind),
        skipped: None,
        cells,
        earliest: text_of(earliest),
        latest: text_of(latest),
        forms: forms::forms(evidence, ruling, &plans, &findings.justifications),
        justifications: findings.justifications.clone(),
        attempts: findings.attempts.clone(),
        zone: ZoneSource::of(ruling),
        two_digit_years,
        blanks: blanks(evidence),
        waiting: waiting::waiting(evidence, &plans, &judged, ruling.read.names()),
        questions: question::questions(&facts),
        remarks: remarks::remarks(evidence, ruling, &plans, &judged),
        differences: Vec::new(),
    };
    if let Some(by_row) = &findings.by_row {
        forecast.cells = by_row.cells;
        forecast.waiting = by_row.waiting.clone();
        let stamps = [
            (&mut forecast.earliest, by_row.earliest),
            (&mut forecast.latest, by_row.latest),
        ];
        for (text, stamp) in stamps {
            *text = stamp.map(|stamp| stamp.to_string());
        }
    }
    let either = either::questions(name, &forecast.waiting);
    forecast.questions.extend(either);
    let unsaid = unsaid::questions(&facts, &forecast.waiting, &findings.said_by.years);
    forecast.questions.extend(unsaid);
    if let Some(left) = &findings.leftover {
        let has_answers = |question: &Question| !question.answers.is_empty();
        let left = doubtful::what_is_left_in(&facts, left);
        forecast.questions.extend(left.filter(has_answers));
    }
    forecast.questions.extend(suspicions::questions(&facts));
    // An answer takes nothing back that was converted.
    if forecast.cells.converted() == 0 {
        for question in &mut forecast.questions {
            question.offer_text(name);
        }
    }
    if let Some(baseline) = &ruling.baseline {
        let now = Now {
            cells: forecast.cells,
            earliest: forecast.earliest.as_deref(),
            latest: forecast.latest.as_deref(),
            waiting: &forecast.waiting,
        };
        forecast.differences = differences(baseline, &now);
    }
    forecast
}

/// What happens to the column `name` that is passed through because of
/// `reason`.
pub fn pass(
    name: &str,
    evidence: &ColumnEvidence,
    reason: &SkipReason,
    said_by: &SayingColumns,
    today: Date,
) -> ColumnForecast {
    let mut questions = doubtful::is_it_temporal(name, evidence, reason, said_by, today);
    for question in &mut questions {
        question.offer_text(name);
    }
    ColumnForecast {
        name: name.to_owned(),
        kind: None,
        skipped: Some(Skipped::new(reason)),
        cells: Counts {
            blank: evidence.blank(),
            ..Counts::default()
        },
        earliest: None,
        latest: None,
        forms: Vec::new(),
        justifications: Vec::new(),
        attempts: Vec::new(),
        zone: None,
        two_digit_years: None,
        blanks: blanks(evidence),
        waiting: Vec::new(),
        questions,
        remarks: skipped::remarks(evidence, reason),
        differences: Vec::new(),
    }
}

/// Cells of one shape and one outcome, and what becomes of them.
struct Judged<'e> {
    /// The index of the shape in the evidence.
    shape: usize,
    judgement: Judgement,
    count: u64,
    first: &'e Example,
    /// The first with another text.
    second: Option<&'e Example>,
    outcome: &'e crate::reading::Outcome,
}

fn judge<'e>(evidence: &'e ColumnEvidence, plans: &[ShapePlan]) -> Vec<Judged<'e>> {
    let shapes = evidence.shapes.iter().zip(plans).enumerate();
    shapes
        .flat_map(|(shape, (tallied, plan))| {
            tallied.tallies.iter().map(move |tally| Judged {
                shape,
                judgement: plan.judge(&tally.outcome, tally.hint),
                count: tally.count,
                first: &tally.first,
                second: tally.second.as_ref(),
                outcome: &tally.outcome,
            })
        })
        .collect()
}

/// The span of the readings that are taken, whole shapes at a time. A shape
/// whose order is open has none that could be told.
fn span_of(evidence: &ColumnEvidence, judged: &[Judged<'_>]) -> Span {
    let mut span = Span::default();
    let mut taken: Vec<(usize, usize)> = Vec::new();
    let open = |cell: &&Judged<'_>| cell.judgement == Judgement::Open(OpenReason::Order);
    let open: Vec<usize> = judged.iter().filter(open).map(|cell| cell.shape).collect();
    for cell in judged {
        if let Judgement::Certain(index) | Judgement::Settled(index) = cell.judgement
            && !taken.contains(&(cell.shape, index))
            && !open.contains(&cell.shape)
        {
            taken.push((cell.shape, index));
            span.merge(&evidence.shapes[cell.shape].spans[index]);
        }
    }
    span
}

fn two_digit_years(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    plans: &[ShapePlan],
    judged: &[Judged<'_>],
) -> Option<TwoDigitYears> {
    let short = |shape: usize| {
        let candidates = plans[shape].readings().candidates();
        let mut indexes = plans[shape]
            .choices()
            .iter()
            .flat_map(|choice| choice.indexes());
        indexes.any(|&index| candidates[index].reader.has_two_digit_year())
    };
    let readable = judged
        .iter()
        .filter(|cell| short(cell.shape) && !matches!(cell.judgement, Judgement::Unreadable(_)));
    let cells: u64 = readable.map(|cell| cell.count).sum();
    let years = crate::settle::short_years(&ruling.read.forms, evidence);
    let window = ruling.read.century;
    let by_neighbours = || {
        (0..100_u8)
            .filter(move |year| years >> year & 1 == 1)
            .filter_map(move |year| Some(crate::form::Century::Window(window?).year(year)))
    };
    (cells > 0).then(|| TwoDigitYears {
        cells,
        century: window,
        first: by_neighbours().min(),
        last: by_neighbours().max(),
    })
}

fn blanks(evidence: &ColumnEvidence) -> Vec<Blank> {
    let empty = (evidence.empty > 0).then(|| Blank {
        text: String::new(),
        cells: evidence.empty,
    });
    let markers = evidence.blanks.iter().map(|(text, cells)| Blank {
        text: text.clone(),
        cells: *cells,
    });
    empty.into_iter().chain(markers).collect()
}

#[cfg(test)]
mod tests;
