//! Cells kept to be shown.

use crate::cell::Cell;
use crate::form::RowFacts;
use crate::lex::Lexed;
use crate::stamp::Stamp;

/// A cell that shows something, and where it stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Example {
    /// The row, from 0.
    pub row: u64,
    /// The cell's text, cut after [`Example::MAX_CHARS`] characters.
    pub text: String,
    /// The value, of a cell that its source types.
    pub stamp: Option<Stamp>,
    /// What other cells of the row say about it.
    pub row_facts: RowFacts,
}

impl Example {
    /// How much of a cell is kept.
    pub const MAX_CHARS: usize = 60;

    /// The cell of `row` that says `text`.
    pub fn new(row: u64, text: &str, row_facts: RowFacts) -> Example {
        let text = match text.char_indices().nth(Example::MAX_CHARS) {
            Some((end, _)) => format!("{}…", &text[..end]),
            None => text.to_owned(),
        };
        Example {
            row,
            text,
            stamp: None,
            row_facts,
        }
    }

    /// Whether a text that is kept is not all of its cell.
    pub(crate) fn is_cut(text: &str) -> bool {
        text.chars().nth(Example::MAX_CHARS).is_some()
    }

    /// The cell `cell` of `row`.
    pub(crate) fn of_cell(row: u64, cell: Cell<'_>) -> Example {
        Example {
            stamp: cell.stamp(),
            ..Example::new(row, cell.text(&mut String::new()), RowFacts::default())
        }
    }

    /// A cell that was cut into tokens.
    pub(super) fn of(row: u64, cell: &Lexed<'_>, row_facts: RowFacts) -> Example {
        Example {
            stamp: cell.stamp(),
            ..Example::new(row, cell.text(), row_facts)
        }
    }

    /// The cell, to be read again.
    pub fn cell(&self) -> Cell<'_> {
        match self.stamp {
            Some(stamp) => Cell::Stamp(stamp),
            None => Cell::Text(&self.text),
        }
    }

    pub(super) fn moved(mut self, by: u64) -> Example {
        self.row += by;
        self
    }
}

/// How many cells there are of a sort, and the first few different ones.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Examples {
    /// How many cells.
    pub count: u64,
    /// The first different ones, at most [`Examples::KEPT`].
    pub first: Vec<Example>,
    /// The first that differ in their letters, at most [`Examples::WORDED`].
    pub worded: Vec<Example>,
}

impl Examples {
    /// How many different cells are kept.
    pub const KEPT: usize = 5;

    /// How many cells are kept that differ in their letters: names of twelve months,
    /// and some more.
    pub const WORDED: usize = 16;

    /// All different texts, where none was left out.
    pub(crate) fn all_texts(&self) -> Option<impl Iterator<Item = &str>> {
        let are_all = self.first.len() < Examples::KEPT;
        are_all.then(|| self.first.iter().map(|kept| kept.text.as_str()))
    }

    /// Counts a cell that may have other letters than all before it.
    pub(super) fn add_new(&mut self, row: u64, text: &str) {
        self.add(row, text);
        if self.has_new_letters(text) {
            self.keep_worded(Example::new(row, text, RowFacts::default()));
        }
    }

    /// Counts a cell that has the letters of one before it.
    #[inline]
    pub(super) fn add(&mut self, row: u64, text: &str) {
        self.count += 1;
        if self.first.len() < Examples::KEPT && !self.first.iter().any(|kept| kept.text == text) {
            self.keep(Example::new(row, text, RowFacts::default()));
        }
    }

    pub(super) fn merge(&mut self, later: Examples, by: u64) {
        self.count += later.count;
        for example in later.first {
            self.keep(example.moved(by));
        }
        for example in later.worded {
            self.keep_worded(example.moved(by));
        }
    }

    fn keep_worded(&mut self, example: Example) {
        if self.has_new_letters(&example.text) {
            self.worded.push(example);
        }
    }

    fn has_new_letters(&self, text: &str) -> bool {
        let has_its = |kept: &Example| letters(&kept.text).eq(letters(text));
        self.worded.len() < Examples::WORDED && !self.worded.iter().any(has_its)
    }

    fn keep(&mut self, example: Example) {
        let known = self.first.iter().any(|kept| kept.text == example.text);
        if !known && self.first.len() < Examples::KEPT {
            self.first.push(example);
        }
    }
}

fn letters(text: &str) -> impl Iterator<Item = char> {
    text.chars().filter(|letter| letter.is_alphabetic())
}
