//! Evidence + rulings → what converting will do, and why.
//!
//! A [`ColumnOutlook`] holds the facts that surveys show, rulings files carry
//! as comments and scripts read as JSON: how many cells get which verdict,
//! which forms there are and what each rests on, what waits for a person and
//! what one would have to say.

mod differences;
mod doubtful;
mod either;
mod foreseen;
mod forms;
mod passed;
mod question;
mod remarks;
mod setting;
mod shifted;
mod waiting;

pub use differences::{Difference, Now, differences};
pub use foreseen::Foreseen;
pub use forms::{Form as FormOutlook, OrderCount, Rest};
pub use passed::PassedOutlook;
pub use question::{Answer, Question, Topic, in_words};
pub use waiting::Waiting;

use crate::evidence::{ColumnEvidence, Example, Span};
use crate::relations::Ground;
use crate::rulings::ColumnRuling;
use crate::settle::Passed;
use crate::stamp::{Kind, Stamp};
use crate::verdict::{Judgement, OpenReason, Plan, Verdict, to_kind};
use jiff::civil::Date;
use serde::Serialize;

/// What converting a column will do.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct ColumnOutlook {
    /// The column's name.
    pub name: String,
    /// Its kind; none where it is passed through as it came.
    pub kind: Option<Kind>,
    /// Why it is passed through, if it is.
    pub passed: Option<PassedOutlook>,
    /// How many cells get which verdict. For a column that is passed through,
    /// only blank cells are counted.
    pub cells: Counts,
    /// The earliest stamp of the clean column, marker dates left out.
    pub earliest: Option<String>,
    /// The latest.
    pub latest: Option<String>,
    /// The written forms, the commonest first.
    pub forms: Vec<FormOutlook>,
    /// What decisions rest on that the column's own cells do not settle.
    pub grounds: Vec<Ground>,
    /// What was looked for in the rest of the table, and what was found, where
    /// the column's own cells leave something open.
    pub tried: Vec<String>,
    /// The zone of its local times, if one is ruled: its name, or that of the
    /// column that says it.
    pub zone: Option<ZoneOutlook>,
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
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum ZoneOutlook {
    /// It is this one in every row.
    Zone(String),
    /// This column says it, row by row.
    FromColumn(String),
}

impl ZoneOutlook {
    fn of(ruling: &ColumnRuling) -> Option<ZoneOutlook> {
        let zone = ruling.read.zone.as_ref();
        let zone = zone.map(|zone| ZoneOutlook::Zone(zone.to_string()));
        let column = ruling.read.zone_from.clone();
        zone.or(column.map(ZoneOutlook::FromColumn))
    }
}

/// How many cells get which verdict.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
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
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
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
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
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

impl ColumnOutlook {
    /// Whether something in the column waits for a person.
    pub fn waits(&self) -> bool {
        self.cells.waiting() > 0 || !self.questions.is_empty()
    }
}

/// What the rest of the table adds to the evidence of a column.
#[derive(Clone, Debug, Default)]
pub struct Beyond {
    /// What decisions rest on that the column's own cells do not settle.
    pub grounds: Vec<Ground>,
    /// What was looked for in the rest of the table, and what was found.
    pub tried: Vec<String>,
    /// What becomes of its cells, where the ruling looks beyond them.
    pub foreseen: Option<Foreseen>,
}

/// What converting the column `name` by `ruling` will do. `today` is the
/// reference for the questions about two-digit years.
pub fn foretell(
    name: &str,
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    beyond: &Beyond,
    today: Date,
) -> ColumnOutlook {
    let plans: Vec<Plan> = evidence
        .shapes
        .iter()
        .map(|shape| Plan::of(ruling, (*shape.readings).clone()))
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
    let questions = question::questions(&question::Facts {
        name,
        evidence,
        ruling,
        plans: &plans,
        judged: &judged,
        foreseen: beyond.foreseen.as_ref(),
        today,
    });
    let mut outlook = ColumnOutlook {
        name: name.to_owned(),
        kind: Some(ruling.kind),
        passed: None,
        cells,
        earliest: text_of(earliest),
        latest: text_of(latest),
        forms: forms::forms(evidence, ruling, &plans, &beyond.grounds),
        grounds: beyond.grounds.clone(),
        tried: beyond.tried.clone(),
        zone: ZoneOutlook::of(ruling),
        two_digit_years,
        blanks: blanks(evidence),
        waiting: waiting::waiting(evidence, &plans, &judged, ruling.read.names()),
        questions,
        remarks: remarks::remarks(evidence, ruling, &plans, &judged),
        differences: Vec::new(),
    };
    if let Some(foreseen) = &beyond.foreseen {
        outlook.cells = foreseen.cells;
        outlook.waiting = foreseen.waiting.clone();
        let stamps = [
            (&mut outlook.earliest, foreseen.earliest),
            (&mut outlook.latest, foreseen.latest),
        ];
        for (text, stamp) in stamps {
            *text = stamp.map(|stamp| stamp.to_string());
        }
    }
    let either = either::questions(name, &outlook.waiting);
    outlook.questions.extend(either);
    if let Some(seen) = &ruling.seen {
        let now = Now {
            cells: outlook.cells,
            earliest: outlook.earliest.as_deref(),
            latest: outlook.latest.as_deref(),
            waiting: &outlook.waiting,
        };
        outlook.differences = differences(seen, &now);
    }
    outlook
}

/// What happens to the column `name` that is passed through because of
/// `reason`.
pub fn pass(name: &str, evidence: &ColumnEvidence, reason: &Passed) -> ColumnOutlook {
    ColumnOutlook {
        name: name.to_owned(),
        kind: None,
        passed: Some(PassedOutlook::new(reason)),
        cells: Counts {
            blank: evidence.blank(),
            ..Counts::default()
        },
        earliest: None,
        latest: None,
        forms: Vec::new(),
        grounds: Vec::new(),
        tried: Vec::new(),
        zone: None,
        two_digit_years: None,
        blanks: blanks(evidence),
        waiting: Vec::new(),
        questions: doubtful::is_it_temporal(name, evidence, reason),
        remarks: passed::remarks(evidence, reason),
        differences: Vec::new(),
    }
}

/// Cells of one shape and one outcome, and what becomes of them.
struct Judged<'e> {
    /// The place of the shape in the evidence.
    shape: usize,
    judgement: Judgement,
    count: u64,
    first: &'e Example,
    /// The first with another text.
    second: Option<&'e Example>,
    outcome: &'e crate::reading::Outcome,
}

fn judge<'e>(evidence: &'e ColumnEvidence, plans: &[Plan]) -> Vec<Judged<'e>> {
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
        if let Judgement::Certain(place) | Judgement::Settled(place) = cell.judgement
            && !taken.contains(&(cell.shape, place))
            && !open.contains(&cell.shape)
        {
            taken.push((cell.shape, place));
            span.merge(&evidence.shapes[cell.shape].spans[place]);
        }
    }
    span
}

fn two_digit_years(
    evidence: &ColumnEvidence,
    ruling: &ColumnRuling,
    plans: &[Plan],
    judged: &[Judged<'_>],
) -> Option<TwoDigitYears> {
    let short = |shape: usize| {
        let candidates = plans[shape].readings().candidates();
        let mut places = plans[shape]
            .choices()
            .iter()
            .flat_map(|choice| choice.places());
        places.any(|&place| candidates[place].reader.has_two_digit_year())
    };
    let readable = judged
        .iter()
        .filter(|cell| short(cell.shape) && !matches!(cell.judgement, Judgement::Unreadable(_)));
    let cells: u64 = readable.map(|cell| cell.count).sum();
    let years = crate::settle::short_years(&ruling.read.forms, evidence);
    let window = ruling.read.century;
    let placed = || {
        (0..100_u8)
            .filter(move |year| years >> year & 1 == 1)
            .filter_map(move |year| Some(crate::form::Century::Window(window?).year(year)))
    };
    (cells > 0).then(|| TwoDigitYears {
        cells,
        century: window,
        first: placed().min(),
        last: placed().max(),
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
