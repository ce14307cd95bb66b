//! Questions about cells of which two instants are near: those that were twice
//! in their zone, or never, and leap seconds.

use super::Waiting;
use super::question::{Answer, Question, Topic};
use crate::decide::ReasonCode;

/// The sorts of such cells, the key that answers for them, and its values for
/// the first and for the second reading.
const SORTS: [(ReasonCode, Topic, &str, [&str; 2]); 3] = [
    (
        ReasonCode::InOverlap,
        Topic::InOverlap,
        "read.in-overlap",
        ["earlier", "later"],
    ),
    (
        ReasonCode::InGap,
        Topic::InGap,
        "read.in-gap",
        ["earlier", "later"],
    ),
    (
        ReasonCode::LeapSecond,
        Topic::LeapSecond,
        "read.leap-second",
        ["last", "next"],
    ),
];

/// The questions about the cells of the column `name` that wait so.
pub(super) fn questions(name: &str, waiting: &[Waiting]) -> Vec<Question> {
    let question = |(sort, topic, key, values): (ReasonCode, Topic, &str, [&str; 2])| {
        let of_sort = || waiting.iter().filter(|waiting| waiting.sort == sort);
        let first = of_sort().min_by_key(|waiting| waiting.example.row)?;
        let cells = of_sort().map(|waiting| waiting.cells).sum();
        let answers = values.iter().zip(&first.readings).map(|(value, reading)| {
            let reads_as = reading.split(',').next().unwrap_or(reading).to_owned();
            Answer::by_setting(name, key, value, reads_as, cells)
        });
        Some(Question {
            topic,
            cells,
            example: first.example.clone(),
            samples: vec![first.example.clone()],
            answers: answers.collect(),
        })
    };
    SORTS.into_iter().filter_map(question).collect()
}
