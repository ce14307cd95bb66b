//! What stands around a date: the quotes of a careless export, the brackets of
//! logs, and what programs write.

use super::pieces::Classes;
use crate::form::Item;
use crate::lex::{Class, Holds, WRAPPINGS};

/// The classes of a cell without what stands around them.
pub(super) struct Around<'c> {
    pub inner: &'c [Class],
    /// What a program's wrapping says of them, where they stand in one.
    pub holds: Option<Holds>,
    before: Option<Item>,
    after: Option<Item>,
}

impl<'c> Around<'c> {
    /// Takes off `classes` what stands around them, if something does.
    pub(super) fn of(classes: &'c [Class]) -> Around<'c> {
        let whole = (0, classes.len());
        let (holds, (from, to)) = match classes {
            [Class::Opening(index), rest @ ..] => {
                let is_closed = matches!(rest, [.., Class::Closing(_)]);
                let holds = WRAPPINGS[usize::from(*index)].holds;
                (Some(holds), (1, classes.len() - usize::from(is_closed)))
            }
            _ => (None, marks(classes).unwrap_or(whole)),
        };
        Around {
            inner: &classes[from..to],
            holds,
            before: Classes(classes).literal(0, from),
            after: Classes(classes).literal(to, classes.len()),
        }
    }

    /// Puts it around the items of what stands within.
    pub(super) fn put(&self, items: Vec<Item>) -> Vec<Item> {
        let ends = [&self.before, &self.after].map(|end| end.clone().into_iter());
        let around: usize = ends.iter().map(ExactSizeIterator::len).sum();
        let mut all = Vec::with_capacity(items.len() + around);
        let [before, after] = ends;
        for item in before.chain(items).chain(after) {
            match (all.last_mut(), item) {
                (Some(Item::Literal(last)), Item::Literal(text)) => last.push_str(&text),
                (_, item) => all.push(item),
            }
        }
        all
    }
}

/// The marks that stand around a cell: quotes, the brackets of logs, and the
/// signs of date literals in macros.
const AROUND: [(char, char); 5] = [('\'', '\''), ('"', '"'), ('[', ']'), ('<', '>'), ('#', '#')];

/// Where the inner part is, of a cell with a mark on either side, or with an
/// apostrophe before it, which said that it is text.
fn marks(classes: &[Class]) -> Option<(usize, usize)> {
    match classes {
        [Class::Symbol(open), .., Class::Symbol(close)] if AROUND.contains(&(*open, *close)) => {
            Some((1, classes.len() - 1))
        }
        [Class::Symbol('\''), ..] => Some((1, classes.len())),
        _ => None,
    }
}
