//! Questions about cells of which two instants are near: those that were twice
//! in their zone, or never, and leap seconds.

use super::Waiting;
use super::question::{Answer, Question, Topic};
use crate::decide::ReasonCode;

/// The reasons why such cells wait, the key that answers for them, and its values for
/// the first and for the second reading.
const REASONS: [(ReasonCode, Topic, &str, [&str; 2]); 3] = [
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
    let asked = |(code, topic, key, values): (ReasonCode, Topic, &str, [&str; 2])| {
        let is_asked = |waiting: &Waiting| waiting.code == code;
        question(topic, waiting, is_asked, |first, cells| {
            let meanings = values.iter().zip(&first.alternatives);
            let answers = meanings.map(|(value, alternative)| {
                let reads_as = alternative.stamp().to_string();
                Answer::by_setting(name, key, value, reads_as, cells)
            });
            answers.collect()
        })
    };
    REASONS.into_iter().filter_map(asked).collect()
}

/// The question about those of the cells that are asked about, with the answers
/// that follow from the first of them and their number.
pub(super) fn question(
    topic: Topic,
    waiting: &[Waiting],
    is_asked: impl Fn(&Waiting) -> bool,
    answers: impl Fn(&Waiting, u64) -> Vec<Answer>,
) -> Option<Question> {
    let such = || waiting.iter().filter(|waiting| is_asked(waiting));
    let first = such().min_by_key(|waiting| waiting.example.row)?;
    let cells = such().map(|waiting| waiting.cells).sum();
    Some(Question {
        topic,
        cells,
        example: first.example.clone(),
        samples: vec![first.example.clone()],
        answers: answers(first, cells),
    })
}
