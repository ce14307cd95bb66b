//! What stands around a date: the quotes of a careless export, the brackets of
//! logs, and the words of programs.

use super::pieces::Classes;
use crate::form::Item;
use crate::lex::Class;
use crate::locale::Sign;

/// The classes of a cell without what stands around them.
pub(super) struct Around<'c> {
    pub inner: &'c [Class],
    before: Option<Item>,
    after: Option<Item>,
}

impl<'c> Around<'c> {
    /// Takes off `classes` what stands around them, if something does.
    pub(super) fn of(classes: &'c [Class]) -> Around<'c> {
        let (from, to) = program(Classes(classes))
            .or_else(|| marks(classes))
            .unwrap_or((0, classes.len()));
        Around {
            inner: &classes[from..to],
            before: Classes(classes).literal(0, from),
            after: Classes(classes).literal(to, classes.len()),
        }
    }

    /// Puts it around the items of what stands within.
    pub(super) fn put(&self, items: Vec<Item>) -> Vec<Item> {
        let mut all = Vec::with_capacity(items.len() + 2);
        let ends = [&self.before, &self.after].map(|end| end.clone().into_iter());
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

/// The marks that stand around a cell: quotes, and the brackets of logs.
const AROUND: [(char, char); 4] = [('\'', '\''), ('"', '"'), ('[', ']'), ('<', '>')];

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

/// Where it is, of a cell that a program wrote as it writes its own text:
/// `/Date(1710449314000)/` (JSON, which has no dates), `ISODate("2024-03-05")`,
/// `Timestamp('2024-03-05 14:30:00')`, `TIMESTAMP '2024-03-05 14:30:00'`
/// (ISO/IEC 9075-2 §5.3), `{ts '2024-03-05 14:30:00'}`.
fn program(classes: Classes<'_>) -> Option<(usize, usize)> {
    let end = classes.0.len();
    let is = |index: usize, sign: char| classes.is(index, Class::Symbol(sign));
    let opened = [('/', '/'), ('{', '}')]
        .into_iter()
        .find(|&(open, close)| is(0, open) && is(end - 1, close));
    let (mut from, mut to) = match opened {
        Some(_) => (1, end - 1),
        None => (0, end),
    };
    if !classes.is_sign(from, Sign::DateIsQuoted) {
        return None;
    }
    from += 1;
    from += usize::from(classes.is(from, Class::Space));
    let is_call = is(from, '(') && is(to - 1, ')');
    if is_call {
        from += 1;
        to -= 1;
    }
    let quote = ['\'', '"'].into_iter().find(|quote| is(from, *quote));
    match quote {
        Some(quote) if from + 1 < to && is(to - 1, quote) => Some((from + 1, to - 1)),
        Some(_) => None,
        None => (is_call && from < to).then_some((from, to)),
    }
}
