//! What only a person can answer.

use super::setting::{forms_option, forms_setting, setting, shell_text, shell_word};
use super::{Judged, RowForecast};
use crate::calendar::Calendar;
use crate::decide::{Choice, Judgement, OpenReason, ShapePlan};
use crate::evidence::{ColumnEvidence, Example};
use crate::form::{Century, Conventions, Form, Order};
use crate::lex::{Lexer, Words};
use crate::rulings::{ColumnRuling, FormRuling};
use crate::settle::{possible_windows, short_years};
use crate::stamp::Stamp;
use jiff::civil::Date;

/// A question that a person can answer in a word.
#[derive(Clone, Debug, PartialEq)]
pub struct Question {
    /// What it is about.
    pub topic: Topic,
    /// How many cells wait for the answer.
    pub cells: u64,
    /// One of them.
    pub example: Example,
    /// A few of them, the example first.
    pub samples: Vec<Example>,
    /// The possible answers.
    pub answers: Vec<Answer>,
}

/// What a question is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Topic {
    /// Which calendar the years are those of.
    Calendar,
    /// Which of day, month and year comes first.
    Order,
    /// Whether an import has swapped day and month.
    Swapped,
    /// Which hundred years two-digit years stand for.
    Century,
    /// What times are that were twice in their zone.
    InOverlap,
    /// What times are that never were in their zone.
    InGap,
    /// What leap seconds are.
    LeapSecond,
    /// The year of dates without one.
    Year,
    /// The half of the day of hours whose row does not say it.
    HalfOfDay,
    /// In which language a name is written.
    Language,
    /// Which day a month, quarter, week or year is among dates.
    Period,
    /// The zone of local times among instants.
    Zone,
    /// What is to become of cells of another kind than their column's.
    Kind,
    /// Which zone an abbreviation stands for that several go by.
    ZoneName,
    /// What 24:00 is where no date is given.
    EndOfDay,
    /// What a single letter is that may be a unit of time.
    UnitLetters,
    /// Whether a year and two digits are a month, or the season of two years.
    IsMonth,
    /// Whether the few cells that are dates make the column one of dates.
    AreSome,
    /// What cells are that hold the same besides a date, in a column that is passed
    /// through.
    Leftover,
    /// What cells are that hold something besides a date, in a column that is read:
    /// they are on the review list.
    ListedLeftover,
    /// What cells are that no form reads, under a name that says dates or times.
    Unread,
    /// Whether digits, or numbers with signs between them, are dates at all.
    IsDate,
    /// Whether a day that programs count from is one, or stands before times of
    /// day.
    IsDay,
    /// Whether times that never pass 12:59 are those of a 24-hour clock.
    IsWholeDay,
    /// Whether clock-like cells are times of day or elapsed times.
    IsElapsed,
    /// Whether clock-like cells are times of day, or the time between two others.
    IsLength,
    /// Whether a day that programs write where there is no date is meant as one: its cells
    /// are converted.
    Placeholder,
    /// Whether times that are all midnights of another zone are meant so: they are
    /// converted.
    ShiftedMidnights,
}

/// A possible answer.
#[derive(Clone, Debug, PartialEq)]
pub struct Answer {
    /// The answer in a word: an order, a form, a year.
    pub says: String,
    /// The setting that gives it, as `--set` takes it.
    pub set: String,
    /// The option that gives it for all columns, or for those named with
    /// `-c`.
    pub option: String,
    /// The setting that gives it, for every answer.
    pub declares: String,
    /// What the example would then mean.
    pub reads_as: String,
    /// What each of the question's samples would then mean; none of those that
    /// it cannot read.
    pub samples_read_as: Vec<Option<String>>,
    /// How many more cells it converts.
    pub converts: u64,
    /// How many cells it leaves blank that are converted without it. An answer does that
    /// only where the question is whether they are meant.
    pub withdraws: u64,
    /// How many cells contradict it.
    pub contradicted_by: u64,
}

impl Answer {
    /// The answer that gives `key` the `value`, in the column: it converts all
    /// cells of the question, of which the example would mean `reads_as`.
    pub(super) fn by_setting(
        column: &str,
        key: &str,
        value: &str,
        reads_as: String,
        converts: u64,
    ) -> Answer {
        let set = setting(column, key, value);
        Answer {
            says: value.to_owned(),
            option: format!("--set {}", shell_text(&set)),
            declares: set.clone(),
            set,
            samples_read_as: vec![Some(reads_as.clone())],
            reads_as,
            converts,
            withdraws: 0,
            contradicted_by: 0,
        }
    }
}

impl Answer {
    /// The answer that a column is temporal and has this form: the example would
    /// mean `reads_as`, and so many cells are read.
    pub(super) fn by_form(column: &str, form: &Form, reads_as: String, converts: u64) -> Answer {
        let option = match form.bare_count() {
            Some(_) => "--read-count",
            None => "--read-form",
        };
        Answer {
            set: String::new(),
            option: format!(
                "-c {} {option} {}",
                shell_word(column),
                shell_text(&form.to_string())
            ),
            says: form.to_string(),
            declares: forms_setting(column, &[FormRuling::Settled(form.clone())]),
            samples_read_as: vec![Some(reads_as.clone())],
            reads_as,
            converts,
            withdraws: 0,
            contradicted_by: 0,
        }
    }
}

/// What an answer says that makes a column text.
const TEXT: &str = "text";

impl Answer {
    /// The answer that the cells are no dates or times, and stay as they are.
    fn by_text(column: &str, samples: &[Example]) -> Answer {
        let reads_as = "no dates or times: the column stays as it is".to_owned();
        let unchanged = samples.iter().map(|sample| Some(sample.text.clone()));
        Answer {
            samples_read_as: unchanged.collect(),
            ..Answer::by_setting(column, "kind", TEXT, reads_as, 0)
        }
    }

    /// Whether it says that the cells are no dates or times.
    pub fn is_text(&self) -> bool {
        self.says == TEXT
    }
}

impl Question {
    /// Adds the answer that the cells of the column are no dates or times.
    pub(super) fn offer_text(&mut self, column: &str) {
        let answer = Answer::by_text(column, &self.samples);
        self.answers.push(answer);
    }
}

/// What questions follow from.
pub(super) struct Facts<'f> {
    pub name: &'f str,
    pub evidence: &'f ColumnEvidence,
    pub ruling: &'f ColumnRuling,
    pub plans: &'f [ShapePlan],
    pub judged: &'f [Judged<'f>],
    /// What becomes of the cells, where that hangs on the rest of the table.
    pub by_row: Option<&'f RowForecast>,
    pub today: Date,
}

pub(super) fn questions(facts: &Facts<'_>) -> Vec<Question> {
    [
        facts.order_question(),
        facts.century_question(),
        facts.calendar_question(),
    ]
    .into_iter()
    .flatten()
    .collect()
}

impl Facts<'_> {
    fn order_question(&self) -> Option<Question> {
        let is_open = |cell: &&Judged<'_>| cell.judgement == Judgement::Open(OpenReason::Order);
        let waiting = || self.judged.iter().filter(is_open);
        let first = waiting().min_by_key(|cell| cell.first.row)?;
        let topic = if self.is_swap(first) {
            Topic::Swapped
        } else {
            Topic::Order
        };
        let few = samples(first, waiting());
        let Some(by_row) = self.by_row else {
            return Some(Question {
                topic,
                cells: waiting().map(|cell| cell.count).sum(),
                example: first.first.clone(),
                answers: self.order_answers(first, &few),
                samples: few,
            });
        };
        let example = by_row.first_open.as_ref()?;
        let mut lexer = Lexer::new(self.ruling.read.names(), Words::Keep);
        let text = lexer.lex_cell(example.cell()).ok()?;
        let shapes = waiting().map(|cell| cell.shape);
        let of_shape = |shape: &usize| self.plans[*shape].readings().shape().fits(&text);
        let shape = shapes.into_iter().find(of_shape).unwrap_or(first.shape);
        let samples = vec![example.clone()];
        let example_cell = Judged {
            shape,
            first: example,
            ..*first
        };
        let answers = self.order_answers(&example_cell, &samples);
        Some(Question {
            topic,
            cells: by_row.open,
            example: example.clone(),
            samples,
            answers,
        })
    }

    /// Whether the cell is open because an import may have swapped day and
    /// month.
    fn is_swap(&self, cell: &Judged<'_>) -> bool {
        let plan = &self.plans[cell.shape];
        let open = plan.choices().iter().find_map(|choice| match choice {
            Choice::Open { indexes, .. } => Some(indexes),
            Choice::Settled { .. } => None,
        });
        let mut open = open.into_iter().flatten();
        open.any(|&index| plan.readings().candidates()[index].form.is_swapped())
    }

    fn order_answers(&self, example: &Judged<'_>, samples: &[Example]) -> Vec<Answer> {
        let by_order = Order::ALL
            .into_iter()
            .filter_map(|order| self.order_answer(order, example, samples));
        let answers: Vec<Answer> = by_order.collect();
        if answers.is_empty() || self.is_swap(example) {
            self.form_answers(example, samples)
        } else {
            answers
        }
    }

    /// The forms that the example may have, where no order tells them apart.
    fn form_answers(&self, example: &Judged<'_>, samples: &[Example]) -> Vec<Answer> {
        let plan = &self.plans[example.shape];
        let open = plan
            .choices()
            .iter()
            .filter(|choice| matches!(choice, Choice::Open { .. }));
        let mut indexes: Vec<usize> = open.flat_map(|choice| choice.indexes()).copied().collect();
        indexes.sort_unstable();
        indexes.dedup();
        let answer = |index| self.form_answer(index, example, samples);
        indexes.into_iter().filter_map(answer).collect()
    }

    fn form_answer(
        &self,
        index: usize,
        example: &Judged<'_>,
        samples: &[Example],
    ) -> Option<Answer> {
        let form = &self.plans[example.shape].readings().candidates()[index].form;
        let century = self.ruling.read.conventions().century;
        let forms = with_chosen(self.ruling.read.forms.clone(), form);
        let waits = |cell: &&Judged<'_>| cell.judgement == Judgement::Open(OpenReason::Order);
        let reads = |cell: &&Judged<'_>| {
            let candidates = self.plans[cell.shape].readings().candidates().iter();
            let mut candidates = candidates.enumerate();
            candidates.any(|(index, own)| {
                let settled = |form: &FormRuling| *form == FormRuling::Settled(own.form.clone());
                cell.outcome.reads(index) && forms.iter().any(settled)
            })
        };
        let converts = self.judged.iter().filter(waits).filter(reads);
        let declares = forms_setting(self.name, &forms);
        let settled = || {
            forms.iter().filter_map(|ruling| match ruling {
                FormRuling::Settled(form) => Some(form),
                FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
            })
        };
        Some(Answer {
            says: form.to_string(),
            option: if settled().count() == forms.len() {
                forms_option(self.name, settled())
            } else {
                format!("--set {}", shell_text(&declares))
            },
            set: String::new(),
            declares,
            samples_read_as: self.read_samples(samples, example.shape, index, century),
            reads_as: self.read_example(example, index, century)?,
            converts: converts.map(|cell| cell.count).sum(),
            withdraws: 0,
            contradicted_by: 0,
        })
    }

    /// The answer that `order` is, if some open form can have it.
    fn order_answer(
        &self,
        order: Order,
        example: &Judged<'_>,
        samples: &[Example],
    ) -> Option<Answer> {
        let place_in = |shape: usize| {
            let plan = &self.plans[shape];
            let open = plan
                .choices()
                .iter()
                .filter(|choice| matches!(choice, Choice::Open { .. }));
            open.flat_map(|choice| choice.indexes())
                .copied()
                .find(|&index| plan.readings().candidates()[index].order() == Some(order))
        };
        let index = place_in(example.shape)?;
        let mut converts = 0;
        let mut contradicted_by = 0;
        for cell in self.judged {
            match cell.judgement {
                Judgement::Open(OpenReason::Order) => {
                    let reads = |index| cell.outcome.reads(index);
                    if place_in(cell.shape).is_some_and(reads) {
                        converts += cell.count;
                    }
                }
                // The order would be that of the column's other forms too.
                Judgement::Certain(own) | Judgement::Settled(own) => {
                    let candidates = self.plans[cell.shape].readings().candidates();
                    let by_order = candidates.iter().position(|own| own.order() == Some(order));
                    let changes = |index: usize| {
                        !cell.outcome.reads(index) || cell.outcome.differs_among(&[own, index])
                    };
                    if by_order.is_some_and(changes) {
                        contradicted_by += cell.count;
                    }
                }
                Judgement::Open(_) | Judgement::Unreadable(_) => {}
            }
        }
        if let Some(by_row) = self.by_row {
            converts = by_row.converts.get(&order).copied().unwrap_or(0);
        }
        let century = self.ruling.read.conventions().century;
        // Where the rest of the table settles some cells, or some can only have
        // another order, the answer is for the others.
        let is_for_others = self.by_row.is_some() || contradicted_by > 0;
        let key = if is_for_others {
            "read.otherwise"
        } else {
            "read.order"
        };
        let set = setting(self.name, key, order.name());
        if is_for_others {
            contradicted_by = 0;
        }
        Some(Answer {
            option: if is_for_others {
                format!("--set {}", shell_text(&set))
            } else {
                format!("--read-order {order}")
            },
            says: order.to_string(),
            declares: set.clone(),
            set,
            samples_read_as: self.read_samples(samples, example.shape, index, century),
            reads_as: self.read_example(example, index, self.ruling.read.conventions().century)?,
            converts,
            withdraws: 0,
            contradicted_by,
        })
    }

    fn century_question(&self) -> Option<Question> {
        let is_open = |cell: &&Judged<'_>| cell.judgement == Judgement::Open(OpenReason::Century);
        let waiting = || self.judged.iter().filter(is_open);
        let first = waiting().min_by_key(|cell| cell.first.row)?;
        let cells = waiting().map(|cell| cell.count).sum();
        let years = short_years(&self.ruling.read.forms, self.evidence);
        let windows = possible_windows(self.name, self.today, years);
        let plan = &self.plans[first.shape];
        let index = plan
            .choices()
            .iter()
            .flat_map(|choice| choice.indexes())
            .copied()
            .find(|&index| first.outcome.reads(index))?;
        let few = samples(first, waiting());
        let answers = windows
            .into_iter()
            .filter_map(|window| {
                let set = setting(self.name, "read.century", &window.to_string());
                let century = Century::Window(window);
                Some(Answer {
                    says: window.to_string(),
                    declares: set.clone(),
                    set,
                    option: format!("--century {window}"),
                    samples_read_as: self.read_samples(&few, first.shape, index, century),
                    reads_as: format!(
                        "{}, all between {} and {}",
                        self.read_example(first, index, Century::Window(window))?,
                        bound(window, years, Iterator::min)?,
                        bound(window, years, Iterator::max)?,
                    ),
                    converts: cells,
                    withdraws: 0,
                    contradicted_by: 0,
                })
            })
            .collect();
        Some(Question {
            topic: Topic::Century,
            cells,
            example: first.first.clone(),
            samples: few,
            answers,
        })
    }

    /// Years far from our time among others: they are meant, or none.
    fn calendar_question(&self) -> Option<Question> {
        let far = |cell: &&Judged<'_>| match cell.judgement {
            Judgement::Open(OpenReason::FarYear(index)) => Some(index),
            _ => None,
        };
        let waiting = || self.judged.iter().filter(|cell| far(cell).is_some());
        let first = waiting().min_by_key(|cell| cell.first.row)?;
        let index = far(&first)?;
        let century = self.ruling.read.conventions().century;
        let few = samples(first, waiting());
        let cells = waiting().map(|cell| cell.count).sum();
        let calendar = Calendar::Gregory.name();
        let reads_as = self.read_example(first, index, century)?;
        Some(Question {
            topic: Topic::Calendar,
            cells,
            example: first.first.clone(),
            answers: vec![Answer {
                samples_read_as: self.read_samples(&few, first.shape, index, century),
                ..Answer::by_setting(self.name, "read.calendar", calendar, reads_as, cells)
            }],
            samples: few,
        })
    }

    fn read_example(&self, cell: &Judged<'_>, index: usize, century: Century) -> Option<String> {
        self.read_sample(cell.first, cell.shape, index, century)
    }

    fn read_samples(
        &self,
        samples: &[Example],
        shape: usize,
        index: usize,
        century: Century,
    ) -> Vec<Option<String>> {
        let read = |sample| self.read_sample(sample, shape, index, century);
        samples.iter().map(read).collect()
    }

    fn read_sample(
        &self,
        sample: &Example,
        shape: usize,
        index: usize,
        century: Century,
    ) -> Option<String> {
        let candidate = &self.plans[shape].readings().candidates()[index];
        let mut lexer = Lexer::new(self.ruling.read.names(), Words::Keep);
        let text = lexer.lex_cell(sample.cell()).ok()?;
        let conventions = Conventions::with_century(century).in_row(sample.row_facts);
        let stamp = candidate.reader.read(&text, conventions).ok()?;
        Some(in_words(stamp))
    }
}

/// `forms` with `chosen` instead of what it is one of. Where an import has
/// swapped day and month in one form, it has in the others.
fn with_chosen(mut forms: Vec<FormRuling>, chosen: &Form) -> Vec<FormRuling> {
    let is_swap = |either: &[Form]| either.iter().any(Form::is_swapped);
    let chooses_exchange = |either: &[Form]| either.contains(chosen) && is_swap(either);
    let about_exchange = forms
        .iter()
        .any(|ruling| chooses_exchange(ruling.alternatives()));
    for ruling in &mut forms {
        let FormRuling::Open(either) = ruling else {
            continue;
        };
        let mut either = either.iter();
        let own = either.clone().find(|form| *form == chosen).or_else(|| {
            let asks_the_same = about_exchange && either.clone().any(Form::is_swapped);
            let answers = |form: &&Form| form.is_swapped() == chosen.is_swapped();
            either.find(answers).filter(|_| asks_the_same)
        });
        if let Some(form) = own.cloned() {
            *ruling = FormRuling::Settled(form);
        }
    }
    forms
}

/// The earliest or latest of `years` under the window from `first`.
fn bound(
    first: i16,
    years: u128,
    end: impl Fn(std::vec::IntoIter<i16>) -> Option<i16>,
) -> Option<i16> {
    let by_neighbours: Vec<i16> = (0..100_u8)
        .filter(|year| years >> year & 1 == 1)
        .map(|year| Century::Window(first).year(year))
        .collect();
    end(by_neighbours.into_iter())
}

/// A stamp with its month in words, so that nobody can mix up day and month.
pub fn in_words(stamp: Stamp) -> String {
    if let Stamp::Month(year, month) = stamp {
        return format!("{} {year}", crate::locale::month_name(month as i8));
    }
    let Some(date) = stamp.date() else {
        return stamp.to_string();
    };
    let month = crate::locale::month_name(date.month());
    let day = format!("{} {month} {}", date.day(), date.year());
    match stamp {
        Stamp::Instant(at) => {
            let time = jiff::tz::Offset::UTC.to_datetime(at).time();
            format!("{day}, {} UTC", Stamp::Time(time))
        }
        Stamp::DateTime(at) => format!("{day}, {}", Stamp::Time(at.time())),
        _ => day,
    }
}

/// At most so many samples are shown.
const SAMPLES: usize = 4;

/// A few cells of the shape of `first`, that one first.
fn samples<'f>(first: &Judged<'f>, waiting: impl Iterator<Item = &'f Judged<'f>>) -> Vec<Example> {
    let of_shape = waiting.filter(|cell| cell.shape == first.shape);
    let cells = of_shape.flat_map(|cell| std::iter::once(cell.first).chain(cell.second));
    let mut samples: Vec<Example> = Vec::new();
    for cell in std::iter::once(first.first).chain(cells) {
        if samples.len() < SAMPLES && !samples.iter().any(|known| known.text == cell.text) {
            samples.push(cell.clone());
        }
    }
    samples
}
