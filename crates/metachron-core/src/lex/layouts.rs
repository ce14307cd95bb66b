//! Recognising a cell that is cut as an earlier one was.

use super::by_signature::BySignature;
use super::token::Tokens;

/// At most so many layouts are remembered: twelve months with the seven days of the week,
/// and days of one and of two digits. Past that, all are forgotten: free text has no end
/// of them.
const MOST: usize = 256;

/// Where the tokens stand in texts of one signature.
#[derive(Clone, Debug)]
struct Layout {
    /// `None` where such texts are no dates: a word in them means nothing. Boxed, as most
    /// columns of a wide table have no other.
    tokens: Option<Box<Tokens>>,
    /// A number that no other layout of these has had.
    serial: u64,
}

/// The layouts that were met.
#[derive(Clone, Debug, Default)]
pub(super) struct Layouts {
    known: BySignature<Layout>,
    /// How many there have been.
    count: u64,
}

impl Layouts {
    /// Makes the layout of `text` the last one, if a text with its signature was met; says
    /// whether one was.
    #[inline(always)]
    pub(super) fn seek(&mut self, text: &str) -> bool {
        self.known.seek(text.as_bytes())
    }

    /// The tokens of texts with the signature of the last one, and the layout's number;
    /// `None` where such texts are no dates.
    #[inline(always)]
    pub(super) fn last(&self) -> Option<(&Tokens, u64)> {
        let last = self.known.last()?;
        Some((last.tokens.as_deref()?, last.serial))
    }

    /// Remembers how texts with the signature of `text` are cut: into `tokens`, or not at
    /// all.
    pub(super) fn put(&mut self, text: &str, tokens: Option<&Tokens>) {
        if tokens.is_some_and(|tokens| tokens.tokens.is_empty()) {
            return;
        }
        if self.known.len() == MOST {
            self.known.clear();
        }
        self.count += 1;
        let layout = Layout {
            tokens: tokens.cloned().map(Box::new),
            serial: self.count,
        };
        self.known.put(text.as_bytes(), layout);
    }

    /// Whether `text` has the signature of the last one.
    #[inline(always)]
    pub(super) fn last_fits(&self, text: &str) -> bool {
        self.known.last_fits(text.as_bytes())
    }

    /// The same, and such texts are no dates.
    pub(super) fn last_is_refused(&self, text: &str) -> bool {
        self.last_fits(text) && self.known.last().is_some_and(|last| last.tokens.is_none())
    }
}
