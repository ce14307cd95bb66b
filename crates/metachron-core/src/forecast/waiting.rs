//! Cells that wait for a person, by reason.

use super::Judged;
use crate::decide::{Judgement, Note, ReasonCode, ShapePlan, Verdict};
use crate::evidence::{ColumnEvidence, Example};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use serde::Serialize;

/// Cells that go on the review list for one reason.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Waiting {
    /// Open or unreadable.
    pub verdict: Verdict,
    /// Why they wait, in a word.
    pub sort: ReasonCode,
    /// Why the example waits.
    pub reason: String,
    /// How many cells wait for a reason of this sort.
    pub cells: u64,
    /// The first of them.
    pub example: Example,
    /// What the example could mean.
    pub readings: Vec<String>,
}

pub(super) fn waiting(
    evidence: &ColumnEvidence,
    plans: &[ShapePlan],
    judged: &[Judged<'_>],
    names: Names,
) -> Vec<Waiting> {
    let mut lexer = Lexer::new(names, Words::Keep);
    // A survey cuts cells by the names of every language, which may make
    // another shape of one than those of the locale that was settled.
    let mut surveyed = Lexer::new(Names::Anywhere, Words::Keep);
    let mut waiting: Vec<(Option<(usize, Judgement)>, Waiting)> = Vec::new();
    for cell in judged {
        let verdict = cell.judgement.verdict();
        if !verdict.needs_review() {
            continue;
        }
        let key = Some((cell.shape, cell.judgement));
        match waiting.iter_mut().find(|(known, _)| *known == key) {
            Some((_, known)) => known.cells += cell.count,
            None => {
                let plan = &plans[cell.shape];
                let note = |lexer: &mut Lexer| {
                    let text = lexer.lex_cell(cell.first.cell()).ok();
                    let text = text.filter(|text| plan.readings().shape().fits(text));
                    text.map(|text| plan.note(&text, cell.first.row_year))
                };
                let note = note(&mut lexer).or_else(|| note(&mut surveyed));
                let note = note.unwrap_or_else(Note::formless);
                waiting.push((key, from_note(note, cell.count, cell.first)));
            }
        }
    }
    if let Some(first) = evidence.others.first.first() {
        let note = match lexer.lex_cell(first.cell()) {
            Ok(text) => Note::on_formless(&text),
            Err(_) => Note::formless(),
        };
        let others = from_note(note, evidence.others.count, first);
        waiting.push((None, others));
    }
    let mut waiting: Vec<Waiting> = waiting.into_iter().map(|(_, waiting)| waiting).collect();
    waiting.sort_by_key(|waiting| (waiting.verdict, std::cmp::Reverse(waiting.cells)));
    waiting
}

fn from_note(note: Note, cells: u64, example: &Example) -> Waiting {
    Waiting {
        verdict: note.verdict,
        sort: note.sort,
        reason: note.reason,
        cells,
        example: example.clone(),
        readings: note.readings,
    }
}
