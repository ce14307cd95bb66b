//! A column of the source: how it is read, what waits, what is asked.

use super::evidence::Justification;
use metachron_core::evidence;
use metachron_core::forecast::{self, ColumnForecast, Rest, Topic};
use metachron_core::form::Order;
use metachron_core::stamp::Kind;
use serde::Serialize;

/// A column.
#[derive(Serialize)]
pub struct Column<'c> {
    name: &'c str,
    kind: Option<Kind>,
    passed: Option<Skipped>,
    /// Clearer than `passed`.
    skipped: Option<Skipped>,
    cells: Counts,
    earliest: Option<&'c str>,
    latest: Option<&'c str>,
    forms: Vec<Form<'c>>,
    grounds: Vec<Justification<'c>>,
    /// Clearer than `grounds`.
    justifications: Vec<Justification<'c>>,
    tried: &'c [String],
    /// Clearer than `tried`.
    attempts: &'c [String],
    zone: Option<ZoneSource<'c>>,
    two_digit_years: Option<TwoDigitYears>,
    blanks: Vec<Blank<'c>>,
    waiting: Vec<Waiting<'c>>,
    questions: Vec<Question<'c>>,
    remarks: &'c [String],
    differences: Vec<Difference<'c>>,
}

/// Why a column is passed through.
#[derive(Clone, Copy, Serialize)]
#[serde(rename_all = "kebab-case", tag = "why")]
enum Skipped {
    Empty,
    NoDates,
    TooFew { readable: u64 },
    Doubtful { readable: u64 },
    NotAsked,
    Text,
}

/// How many cells get which verdict.
#[derive(Clone, Copy, Serialize)]
pub struct Counts {
    certain: u64,
    settled: u64,
    open: u64,
    unreadable: u64,
    blank: u64,
}

#[derive(Serialize)]
#[serde(rename_all = "kebab-case")]
enum ZoneSource<'c> {
    Zone(&'c str),
    FromColumn(&'c str),
}

#[derive(Serialize)]
struct TwoDigitYears {
    cells: u64,
    century: Option<i16>,
    first: Option<i16>,
    last: Option<i16>,
}

#[derive(Serialize)]
struct Blank<'c> {
    text: &'c str,
    cells: u64,
}

#[derive(Serialize)]
struct Example<'c> {
    row: u64,
    text: &'c str,
}

/// A written form.
#[derive(Serialize)]
struct Form<'c> {
    patterns: &'c [String],
    cells: u64,
    example: Example<'c>,
    rests_on: RestsOn,
    orders: Vec<OrderCount<'c>>,
    ambiguous: u64,
    ground: Option<usize>,
    /// Clearer than `ground`.
    justification: Option<usize>,
}

#[derive(Serialize)]
#[serde(rename_all = "kebab-case")]
enum RestsOn {
    OneWay,
    Cells,
    Numbers,
    Kind,
    Table,
    Declared,
    NothingSettles,
    Clash,
}

#[derive(Serialize)]
struct OrderCount<'c> {
    order: Order,
    pattern: &'c str,
    only: u64,
    witness: Option<Example<'c>>,
    second_witness: Option<Example<'c>>,
}

/// Cells that wait for one reason.
#[derive(Serialize)]
struct Waiting<'c> {
    verdict: &'static str,
    sort: &'static str,
    /// Clearer than `sort`.
    code: &'static str,
    reason: &'c str,
    cells: u64,
    example: Example<'c>,
    readings: Vec<String>,
}

#[derive(Serialize)]
struct Question<'c> {
    topic: &'static str,
    cells: u64,
    example: Example<'c>,
    samples: Vec<Example<'c>>,
    /// Those that take back no cell which is converted.
    answers: Vec<Answer<'c>>,
    /// Those that do.
    withdrawals: Vec<Answer<'c>>,
}

#[derive(Serialize)]
struct Answer<'c> {
    says: &'c str,
    set: &'c str,
    option: &'c str,
    declares: &'c str,
    reads_as: &'c str,
    samples_read_as: &'c [Option<String>],
    converts: u64,
    contradicted_by: u64,
    withdraws: u64,
}

/// How a column differs from what its ruling was settled on.
#[derive(Serialize)]
#[serde(rename_all = "kebab-case", tag = "differs")]
pub enum Difference<'c> {
    NewForm {
        cells: u64,
        example: &'c str,
    },
    Contradicts {
        cells: u64,
        example: &'c str,
        reason: &'c str,
    },
    Open {
        cells: u64,
        example: &'c str,
        reason: &'c str,
    },
    Blanks {
        then: f64,
        now: f64,
    },
    Earlier {
        then: &'c str,
        now: &'c str,
    },
    Later {
        then: &'c str,
        now: &'c str,
    },
}

impl<'c> From<&'c ColumnForecast> for Column<'c> {
    fn from(column: &'c ColumnForecast) -> Column<'c> {
        let skipped = column.skipped.as_ref().map(Skipped::from);
        let justifications = || column.justifications.iter().map(Justification::from);
        Column {
            name: &column.name,
            kind: column.kind,
            passed: skipped,
            skipped,
            cells: column.cells.into(),
            earliest: column.earliest.as_deref(),
            latest: column.latest.as_deref(),
            forms: column.forms.iter().map(Form::from).collect(),
            grounds: justifications().collect(),
            justifications: justifications().collect(),
            tried: &column.attempts,
            attempts: &column.attempts,
            zone: column.zone.as_ref().map(|zone| match zone {
                forecast::ZoneSource::Zone(zone) => ZoneSource::Zone(zone),
                forecast::ZoneSource::FromColumn(column) => ZoneSource::FromColumn(column),
            }),
            two_digit_years: column.two_digit_years.map(|years| TwoDigitYears {
                cells: years.cells,
                century: years.century,
                first: years.first,
                last: years.last,
            }),
            blanks: column
                .blanks
                .iter()
                .map(|blank| Blank {
                    text: &blank.text,
                    cells: blank.cells,
                })
                .collect(),
            waiting: column.waiting.iter().map(Waiting::from).collect(),
            questions: column.questions.iter().map(Question::from).collect(),
            remarks: &column.remarks,
            differences: column.differences.iter().map(Difference::from).collect(),
        }
    }
}

impl From<&forecast::Skipped> for Skipped {
    fn from(skipped: &forecast::Skipped) -> Skipped {
        match *skipped {
            forecast::Skipped::Empty => Skipped::Empty,
            forecast::Skipped::NoDates => Skipped::NoDates,
            forecast::Skipped::TooFew { readable } => Skipped::TooFew { readable },
            forecast::Skipped::Doubtful { readable } => Skipped::Doubtful { readable },
            forecast::Skipped::NotAsked => Skipped::NotAsked,
            forecast::Skipped::Text => Skipped::Text,
        }
    }
}

impl From<forecast::Counts> for Counts {
    fn from(counts: forecast::Counts) -> Counts {
        Counts {
            certain: counts.certain,
            settled: counts.settled,
            open: counts.open,
            unreadable: counts.unreadable,
            blank: counts.blank,
        }
    }
}

impl<'c> From<&'c evidence::Example> for Example<'c> {
    fn from(example: &'c evidence::Example) -> Example<'c> {
        Example {
            row: example.row,
            text: &example.text,
        }
    }
}

impl<'c> From<&'c forecast::FormForecast> for Form<'c> {
    fn from(form: &'c forecast::FormForecast) -> Form<'c> {
        Form {
            patterns: &form.patterns,
            cells: form.cells,
            example: (&form.example).into(),
            rests_on: match form.rests_on {
                Rest::OneWay => RestsOn::OneWay,
                Rest::Cells => RestsOn::Cells,
                Rest::Numbers => RestsOn::Numbers,
                Rest::Kind => RestsOn::Kind,
                Rest::Table => RestsOn::Table,
                Rest::Declared => RestsOn::Declared,
                Rest::NothingSettles => RestsOn::NothingSettles,
                Rest::Clash => RestsOn::Clash,
            },
            orders: form.orders.iter().map(OrderCount::from).collect(),
            ambiguous: form.ambiguous,
            ground: form.justification,
            justification: form.justification,
        }
    }
}

impl<'c> From<&'c forecast::OrderCount> for OrderCount<'c> {
    fn from(count: &'c forecast::OrderCount) -> OrderCount<'c> {
        OrderCount {
            order: count.order,
            pattern: &count.pattern,
            only: count.only,
            witness: count.witness.as_ref().map(Example::from),
            second_witness: count.second_witness.as_ref().map(Example::from),
        }
    }
}

impl<'c> From<&'c forecast::Waiting> for Waiting<'c> {
    fn from(waiting: &'c forecast::Waiting) -> Waiting<'c> {
        let code = waiting.code.name();
        Waiting {
            verdict: waiting.verdict.name(),
            sort: code,
            code,
            reason: &waiting.reason,
            cells: waiting.cells,
            example: (&waiting.example).into(),
            readings: waiting.readings(),
        }
    }
}

impl<'c> From<&'c forecast::Question> for Question<'c> {
    fn from(question: &'c forecast::Question) -> Question<'c> {
        let answers = |are_wanted: fn(&&forecast::Answer) -> bool| {
            let wanted = question.answers.iter().filter(are_wanted);
            wanted.map(Answer::from).collect()
        };
        Question {
            topic: topic(question.topic),
            cells: question.cells,
            example: (&question.example).into(),
            samples: question.samples.iter().map(Example::from).collect(),
            answers: answers(|answer| answer.withdraws == 0),
            withdrawals: answers(|answer| answer.withdraws > 0),
        }
    }
}

fn topic(topic: Topic) -> &'static str {
    match topic {
        Topic::Calendar => "calendar",
        Topic::Order => "order",
        Topic::Swapped => "exchanged",
        Topic::Century => "century",
        Topic::InOverlap => "in-overlap",
        Topic::InGap => "in-gap",
        Topic::LeapSecond => "leap-second",
        Topic::Year => "year",
        Topic::HalfOfDay => "half-of-day",
        Topic::Language => "language",
        Topic::Period => "period",
        Topic::Zone => "zone",
        Topic::Kind => "kind",
        Topic::ZoneName => "zone-name",
        Topic::EndOfDay => "end-of-day",
        Topic::UnitLetters => "unit-letters",
        Topic::IsMonth => "is-month",
        Topic::IsDate => "is-date",
        Topic::IsDay => "is-day",
        Topic::IsWholeDay => "is-whole-day",
        Topic::AreSome => "are-some",
        Topic::Leftover | Topic::ListedLeftover => "leftover",
        Topic::Unread => "unread",
        Topic::IsElapsed => "is-elapsed",
        Topic::IsLength => "is-length",
        Topic::Placeholder => "placeholder",
        Topic::ShiftedMidnights => "shifted-midnights",
    }
}

impl<'c> From<&'c forecast::Answer> for Answer<'c> {
    fn from(answer: &'c forecast::Answer) -> Answer<'c> {
        Answer {
            says: &answer.says,
            set: &answer.set,
            option: &answer.option,
            declares: &answer.declares,
            reads_as: &answer.reads_as,
            samples_read_as: &answer.samples_read_as,
            converts: answer.converts,
            contradicted_by: answer.contradicted_by,
            withdraws: answer.withdraws,
        }
    }
}

impl<'c> From<&'c forecast::Difference> for Difference<'c> {
    fn from(difference: &'c forecast::Difference) -> Difference<'c> {
        match difference {
            forecast::Difference::NewForm { cells, example } => Difference::NewForm {
                cells: *cells,
                example,
            },
            forecast::Difference::Contradicts {
                cells,
                example,
                reason,
            } => Difference::Contradicts {
                cells: *cells,
                example,
                reason,
            },
            forecast::Difference::Open {
                cells,
                example,
                reason,
            } => Difference::Open {
                cells: *cells,
                example,
                reason,
            },
            forecast::Difference::Blanks { then, now } => Difference::Blanks {
                then: *then,
                now: *now,
            },
            forecast::Difference::Earlier { then, now } => Difference::Earlier { then, now },
            forecast::Difference::Later { then, now } => Difference::Later { then, now },
        }
    }
}
