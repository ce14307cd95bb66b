//! Text that says nothing of the moment: tags of RFC 9557, comments, other clocks.

use super::Pass;
use crate::lex::{Class, NoDate};

impl Pass<'_> {
    /// The length of what is skipped behind the bracket that starts here, where
    /// another closes it at the end of the text: tags of RFC 9557 (§4.1) that name no
    /// zone, and a comment behind an offset (RFC 5322 §3.2.2).
    pub(super) fn skipped(&self) -> Option<usize> {
        let rest = &self.text[self.at..];
        let inner = rest.get(1..rest.len() - 1)?;
        let is_skipped = match (self.bytes[self.at], rest.as_bytes().last()?) {
            (b'[', b']') => inner.split("][").all(is_tag),
            (b'(', b')') => self.is_behind_offset() && !is_zone_name(inner),
            _ => false,
        };
        (is_skipped && !inner.is_empty()).then_some(inner.len())
    }

    /// Whether a sign, four digits and perhaps a space were passed last.
    fn is_behind_offset(&self) -> bool {
        let so_far = match self.out.so_far() {
            [before @ .., space] if space.class == Class::Space => before,
            all => all,
        };
        matches!(
            so_far,
            [.., sign, offset]
                if matches!(sign.class, Class::Symbol('+' | '-'))
                    && offset.class == Class::Digits(4)
        )
    }

    /// Takes the bracket that starts here, what is skipped in it, and the one that
    /// closes it.
    pub(super) fn skip(&mut self, len: usize) -> Result<(), NoDate> {
        let sign = |at: usize| Class::Symbol(char::from(self.bytes[at]));
        let (open, close) = (sign(self.at), sign(self.bytes.len() - 1));
        self.push(open, 1, 0)?;
        self.push(Class::Skipped, len, 0)?;
        self.push(close, 1, 0)
    }

    /// Whether the rest of the cell is what Go shows of a clock that measures lengths of
    /// time: ` m=+0.000012345`.
    pub(super) fn is_monotonic_clock(&self) -> bool {
        let seconds = self.bytes[self.at..].strip_prefix(b"m=");
        let seconds = seconds.and_then(|rest| rest.strip_prefix(b"+").or(rest.strip_prefix(b"-")));
        seconds.is_some_and(|rest| {
            !rest.is_empty()
                && rest
                    .iter()
                    .all(|byte| byte.is_ascii_digit() || *byte == b'.')
        })
    }
}

/// Whether `text` is the inside of a tag of RFC 9557 that names no zone: `u-ca=hebrew`,
/// `!_foo=bar`; or an offset, which repeats the one before it.
fn is_tag(text: &str) -> bool {
    let is_offset = text.len() == 6 && text.starts_with(['+', '-']) && text.as_bytes()[3] == b':';
    let tag = text.strip_prefix('!').unwrap_or(text);
    is_offset
        || tag.split_once('=').is_some_and(|(key, value)| {
            let are = |text: &str, others: &[u8]| {
                !text.is_empty()
                    && text
                        .bytes()
                        .all(|byte| byte.is_ascii_alphanumeric() || others.contains(&byte))
            };
            key.starts_with(|first: char| first.is_ascii_lowercase() || first == '_')
                && are(key, b"-_")
                && are(value, b"-")
        })
}

/// Whether `text` may be the abbreviation of a zone, which is checked.
fn is_zone_name(text: &str) -> bool {
    text.len() <= 5 && text.bytes().all(|byte| byte.is_ascii_uppercase())
}
