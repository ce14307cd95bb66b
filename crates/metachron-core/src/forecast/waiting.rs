//! Cells that wait for a person, by reason.

use super::Judged;
use crate::decide::{
    Alternative, Decision, GroupReason, Judgement, Reason, ReasonCode, ShapePlan, Verdict,
};
use crate::evidence::{ColumnEvidence, Example};
use crate::lex::{Lexer, Words};
use crate::locale::Names;

/// Cells that go on the review list for one reason.
#[derive(Clone, Debug, PartialEq)]
pub struct Waiting {
    /// Open or unreadable.
    pub verdict: Verdict,
    /// Why they wait, as a code.
    pub code: ReasonCode,
    /// Why the example waits.
    pub cause: Reason,
    /// Of which group of rows the example is, where that says why it waits.
    pub(super) group: Option<GroupReason>,
    /// Both in words.
    pub reason: String,
    /// How many cells wait for a reason like this.
    pub cells: u64,
    /// The first of them.
    pub example: Example,
    /// What the example could mean.
    pub alternatives: Vec<Alternative>,
}

impl Waiting {
    /// So many cells that wait as `example` does, on which `decision` is.
    pub fn new(decision: Decision, cells: u64, example: Example) -> Waiting {
        Waiting {
            verdict: decision.verdict,
            code: decision.code(),
            reason: decision.sentence(),
            cause: decision.reason,
            group: decision.group,
            cells,
            example,
            alternatives: decision.alternatives,
        }
    }

    /// Whether the cell that `decision` is on waits for just the same reason.
    pub(super) fn is_of(&self, decision: &Decision) -> bool {
        self.verdict == decision.verdict
            && self.cause == decision.reason
            && self.group == decision.group
    }

    /// What the example could mean, in words.
    pub fn readings(&self) -> Vec<String> {
        self.alternatives
            .iter()
            .map(Alternative::in_words)
            .collect()
    }
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
                let decide = |lexer: &mut Lexer| {
                    let text = lexer.lex_cell(cell.first.cell()).ok();
                    let text = text.filter(|text| plan.readings().shape().fits(text));
                    text.map(|text| plan.decide(&text, cell.first.row_facts))
                };
                let decision = decide(&mut lexer).or_else(|| decide(&mut surveyed));
                let decision = decision.unwrap_or_else(Decision::formless);
                waiting.push((key, Waiting::new(decision, cell.count, cell.first.clone())));
            }
        }
    }
    if let Some(first) = evidence.others.first.first() {
        let decision = match lexer.lex_cell(first.cell()) {
            Ok(text) => Decision::on_formless(&text),
            Err(_) => Decision::formless(),
        };
        let others = Waiting::new(decision, evidence.others.count, first.clone());
        waiting.push((None, others));
    }
    let mut waiting: Vec<Waiting> = waiting.into_iter().map(|(_, waiting)| waiting).collect();
    waiting.sort_by_key(|waiting| (waiting.verdict, std::cmp::Reverse(waiting.cells)));
    waiting
}
