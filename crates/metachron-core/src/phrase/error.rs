//! What is wrong with a phrase, and where.

use std::fmt::{self, Display, Formatter};
use std::ops::Range;

/// Where something stands in a phrase: a range of its bytes.
pub type Span = Range<usize>;

/// A phrase that cannot be used. Shown as the phrase, with the span
/// underlined and what is wrong with it:
///
/// ```
/// use metachron_core::phrase::Phrase;
///
/// let error = "whole dasy from out to back".parse::<Phrase>().unwrap_err();
/// assert_eq!(
///     error.to_string(),
///     "`dasy` is no unit; did you mean `days`?\n  \
///        whole dasy from out to back\n        \
///              ^^^^",
/// );
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PhraseError {
    /// What is wrong, and what would be right.
    pub message: String,
    /// Where.
    pub at: Span,
    excerpt: String,
}

/// What is wrong at a span of a phrase that is still being looked at.
#[derive(Clone, Debug)]
pub(crate) struct Wrong {
    pub(crate) message: String,
    pub(crate) at: Span,
}

impl Wrong {
    pub(crate) fn new(at: &Span, message: impl Into<String>) -> Wrong {
        Wrong {
            message: message.into(),
            at: at.clone(),
        }
    }

    /// The error, in the phrase `text`.
    pub(crate) fn of(self, text: &str) -> PhraseError {
        PhraseError {
            excerpt: excerpt(text, &self.at),
            message: self.message,
            at: self.at,
        }
    }
}

/// At most so many characters are shown before and behind the span, which
/// may be in a phrase of any length.
const AROUND: usize = 48;

/// The line of `text` that `at` starts in, or as much of it as fits on a
/// terminal, and a line that marks the place.
fn excerpt(text: &str, at: &Span) -> String {
    let (before, there) = (&text[..at.start], &text[at.start..]);
    let before = before.rsplit('\n').next().unwrap_or(before);
    let there = there.split('\n').next().unwrap_or(there);
    let marked = there.char_indices().filter(|(index, _)| *index < at.len());
    let marked = marked.count();
    let shown = |letter: char| if letter.is_control() { ' ' } else { letter };

    let skipped = before.chars().count().saturating_sub(AROUND);
    let mut line: String = before.chars().skip(skipped).map(shown).collect();
    if skipped > 0 {
        line.insert(0, '…');
    }
    let indent = line.chars().count();
    line.extend(there.chars().take(AROUND).map(shown));
    if there.chars().nth(AROUND).is_some() {
        line.push('…');
    }
    let mark = "^".repeat(marked.clamp(1, AROUND));
    format!("  {line}\n  {}{mark}", " ".repeat(indent))
}

impl Display for PhraseError {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "{}\n{}", self.message, self.excerpt)
    }
}

impl std::error::Error for PhraseError {}

/// What could be written instead, set off from the words around it.
pub(super) fn code(text: &str) -> String {
    if text.contains('`') {
        text.to_owned()
    } else {
        format!("`{text}`")
    }
}
