//! New data against what a ruling was settled on.

use super::{Counts, Waiting};
use crate::decide::ReasonCode;
use crate::rulings::Baseline;
use crate::words::{count, number};

/// What is known of new data, after a survey or a conversion.
#[derive(Clone, Debug, Default)]
pub struct Now<'n> {
    /// How many cells got which verdict.
    pub cells: Counts,
    /// The earliest stamp.
    pub earliest: Option<&'n str>,
    /// The latest stamp.
    pub latest: Option<&'n str>,
    /// Cells that wait, by reason.
    pub waiting: &'n [Waiting],
}

/// A difference between new data and those that a ruling was settled on.
#[derive(Clone, Debug, PartialEq)]
pub enum Difference {
    /// Cells are written in a way that the ruling does not know.
    NewForm {
        /// How many.
        cells: u64,
        /// One of them.
        example: String,
    },
    /// Cells contradict the order that the ruling settled.
    Contradicts {
        /// How many.
        cells: u64,
        /// One of them.
        example: String,
        /// Why it does, in words.
        reason: String,
    },
    /// Cells are open that the rest of their rows should settle.
    Open {
        /// How many.
        cells: u64,
        /// One of them.
        example: String,
        /// Why, in words.
        reason: String,
    },
    /// Another share of the cells stands for nothing.
    Blanks {
        /// The share then, in per cent.
        then: f64,
        /// The share now.
        now: f64,
    },
    /// Stamps are earlier than any then.
    Earlier {
        /// The earliest then.
        then: String,
        /// The earliest now.
        now: String,
    },
    /// Stamps are later than any then.
    Later {
        /// The latest then.
        then: String,
        /// The latest now.
        now: String,
    },
}

/// The share of blanks is another where it differs by this many hundredths …
const BLANKS_DIFFER_BY: f64 = 0.05;

/// … and by more than so many standard errors, so that a short file says
/// nothing by chance.
const STANDARD_ERRORS: f64 = 4.0;

/// Fewer cells than this have no share.
const LEAST_CELLS: f64 = 20.0;

/// How new data differ from those that the ruling was settled on.
pub fn differences(baseline: &Baseline, now: &Now<'_>) -> Vec<Difference> {
    let mut found = Vec::new();
    let with_code = |code: ReasonCode| {
        now.waiting
            .iter()
            .filter(move |waiting| waiting.code == code)
    };
    let waited_before = baseline.waiting as f64 / baseline.cells.max(1) as f64;
    let more_than_before =
        |cells: u64| cells as f64 > waited_before * now.cells.all().max(1) as f64;
    let all = |code: ReasonCode| with_code(code).map(|waiting| waiting.cells).sum::<u64>();
    if let Some(first) = with_code(ReasonCode::NoForm).next()
        && more_than_before(all(ReasonCode::NoForm))
    {
        found.push(Difference::NewForm {
            cells: all(ReasonCode::NoForm),
            example: first.example.text.clone(),
        });
    }
    if let Some(first) = with_code(ReasonCode::Contradicts).next()
        && more_than_before(all(ReasonCode::Contradicts))
    {
        found.push(Difference::Contradicts {
            cells: all(ReasonCode::Contradicts),
            example: first.example.text.clone(),
            reason: first.reason.clone(),
        });
    }
    if let Some(first) = with_code(ReasonCode::Order).next()
        && more_than_before(all(ReasonCode::Order))
    {
        found.push(Difference::Open {
            cells: all(ReasonCode::Order),
            example: first.example.text.clone(),
            reason: first.reason.clone(),
        });
    }
    found.extend(blanks(baseline, now));
    // Of lengths of time, the text does not tell which is longer.
    let is_length = |text: &str| text.trim_start_matches('-').starts_with('P');
    if let (Some(then), Some(now)) = (&baseline.earliest, now.earliest)
        && !is_length(now)
        && now < then.as_str()
    {
        found.push(Difference::Earlier {
            then: then.clone(),
            now: now.to_owned(),
        });
    }
    if let (Some(then), Some(now)) = (&baseline.latest, now.latest)
        && !is_length(now)
        && now > then.as_str()
    {
        found.push(Difference::Later {
            then: then.clone(),
            now: now.to_owned(),
        });
    }
    found
}

fn blanks(baseline: &Baseline, now: &Now<'_>) -> Option<Difference> {
    let (before, after) = (baseline.cells as f64, now.cells.all() as f64);
    if before.min(after) < LEAST_CELLS {
        return None;
    }
    let (then, is) = (
        baseline.blank as f64 / before,
        now.cells.blank as f64 / after,
    );
    let together = (baseline.blank + now.cells.blank) as f64 / (before + after);
    let error = (together * (1.0 - together) * (1.0 / before + 1.0 / after)).sqrt();
    let differs = (then - is).abs();
    (differs >= BLANKS_DIFFER_BY && differs > STANDARD_ERRORS * error).then_some(
        Difference::Blanks {
            then: 100.0 * then,
            now: 100.0 * is,
        },
    )
}

impl Difference {
    /// The difference in a sentence.
    pub fn sentence(&self) -> String {
        let are = |cells: u64| if cells == 1 { "is" } else { "are" };
        match self {
            Difference::NewForm { cells, example } => format!(
                "{} {} written in a way that the rulings do not know, such as {example}",
                count(*cells, "cell"),
                are(*cells)
            ),
            Difference::Contradicts {
                cells,
                example,
                reason,
            } => format!(
                "{} the rulings, such as {example}: {reason}",
                match cells {
                    1 => "1 cell contradicts".to_owned(),
                    more => format!("{} cells contradict", number(*more)),
                },
            ),
            Difference::Open {
                cells,
                example,
                reason,
            } => format!(
                "{} {} open that the rulings do not settle, such as {example}: {reason}",
                count(*cells, "cell"),
                are(*cells)
            ),
            Difference::Blanks { then, now } => {
                format!("{now:.0} % of the cells are blank; it was {then:.0} %")
            }
            Difference::Earlier { then, now } => {
                format!("the earliest is {now}; it was {then}")
            }
            Difference::Later { then, now } => format!("the latest is {now}; it was {then}"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_share_of_blanks() {
        let baseline = |cells, blank| Baseline {
            cells,
            blank,
            ..Baseline::default()
        };
        let now = |cells, blank| Now {
            cells: Counts {
                certain: cells - blank,
                blank,
                ..Counts::default()
            },
            ..Now::default()
        };
        for (then, is, differs) in [
            ((1000, 10), (1000, 200), true),
            ((1000, 10), (1000, 20), false),
            // Too few to say.
            ((1000, 10), (4, 2), false),
            ((10, 0), (10, 2), false),
            ((0, 0), (10, 2), false),
        ] {
            let found = differences(&baseline(then.0, then.1), &now(is.0, is.1));
            assert_eq!(!found.is_empty(), differs, "{then:?} {is:?}");
        }
    }
}
