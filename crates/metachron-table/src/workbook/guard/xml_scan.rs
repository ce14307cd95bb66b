//! The tags and the texts of an XML part, as it streams by.
//!
//! It is what a guard needs, and no parser: names and values are not looked at, but
//! what a parser takes for a tag is taken for one here, so that nothing can hide in a
//! comment, a quoted value or a section of character data (XML 1.0 §2.4, §2.5, §2.7,
//! §3.1).

use super::budget::Excess;
use std::io::{self, Read};

/// The longest tag, in bytes, that is handed out as one.
const LONGEST_TAG: usize = 1 << 20;

/// What is told of an XML part.
pub(super) trait Sink {
    /// A tag, without its angle brackets: `/si`, `c r="A1"`, `v/`.
    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess>;

    /// So many bytes of text, or of what a parser holds as one piece.
    fn text(&mut self, bytes: usize) -> Result<(), Excess>;
}

/// Where the scan is.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Place {
    Text,
    /// Behind `<`; the quote that is open in it.
    Tag(Option<u8>),
    Comment,
    CharacterData,
}

/// Tells `sink` of all that `part` holds; `Ok(None)` at its end.
pub(super) fn scan(part: impl Read, sink: &mut impl Sink) -> io::Result<Option<Excess>> {
    let mut part = part;
    let mut chunk = vec![0; 64 << 10];
    let mut scan = Scan {
        place: Place::Text,
        tag: Vec::new(),
        last: [0; 2],
    };
    loop {
        let read = match part.read(&mut chunk) {
            Err(error) if error.kind() == io::ErrorKind::Interrupted => continue,
            read => read?,
        };
        if read == 0 {
            return Ok(None);
        }
        if let Err(excess) = scan.take(&chunk[..read], sink) {
            return Ok(Some(excess));
        }
    }
}

struct Scan {
    place: Place,
    /// The tag so far.
    tag: Vec<u8>,
    /// The last two bytes of a comment or of character data.
    last: [u8; 2],
}

impl Scan {
    fn take(&mut self, mut rest: &[u8], sink: &mut impl Sink) -> Result<(), Excess> {
        while !rest.is_empty() {
            rest = match self.place {
                Place::Text => self.text(rest, sink)?,
                Place::Tag(quote) => self.in_tag(quote, rest, sink)?,
                Place::Comment => self.until([b'-', b'-'], rest, sink)?,
                Place::CharacterData => self.until([b']', b']'], rest, sink)?,
            };
        }
        Ok(())
    }

    fn text<'r>(&mut self, rest: &'r [u8], sink: &mut impl Sink) -> Result<&'r [u8], Excess> {
        let end = memchr::memchr(b'<', rest);
        if end != Some(0) {
            sink.text(end.unwrap_or(rest.len()))?;
        }
        let Some(end) = end else { return Ok(&[]) };
        let rest = &rest[end + 1..];
        // Most tags stand in one chunk.
        if let Some(end) = tag_end(rest).filter(|_| !rest.starts_with(b"!")) {
            sink.tag(&rest[..end])?;
            return Ok(&rest[end + 1..]);
        }
        self.tag.clear();
        self.place = Place::Tag(None);
        Ok(rest)
    }

    fn in_tag<'r>(
        &mut self,
        quote: Option<u8>,
        rest: &'r [u8],
        sink: &mut impl Sink,
    ) -> Result<&'r [u8], Excess> {
        let end = match quote {
            Some(quote) => memchr::memchr(quote, rest),
            None => memchr::memchr3(b'>', b'"', b'\'', rest),
        };
        let is_start = self.tag.len() < b"![CDATA[".len();
        let from = self.tag.len();
        self.tag
            .extend_from_slice(&rest[..end.map_or(rest.len(), |end| end + 1)]);
        // A comment and character data may hold quotes and brackets.
        if is_start && self.tag.starts_with(b"!") {
            for (opening, place) in [
                (b"!--".as_slice(), Place::Comment),
                (b"![CDATA[", Place::CharacterData),
            ] {
                if self.tag.starts_with(opening) {
                    (self.place, self.last) = (place, [0; 2]);
                    return Ok(&rest[opening.len() - from..]);
                }
            }
        }
        if self.tag.len() > LONGEST_TAG {
            return Err(Excess::Piece);
        }
        let Some(end) = end else { return Ok(&[]) };
        self.place = match (rest[end], quote) {
            (b'>', None) => {
                self.tag.pop();
                sink.tag(&self.tag)?;
                Place::Text
            }
            (_, Some(_)) => Place::Tag(None),
            (quote, None) => Place::Tag(Some(quote)),
        };
        Ok(&rest[end + 1..])
    }

    /// Goes behind the next `>` that stands behind these two bytes.
    fn until<'r>(
        &mut self,
        closing: [u8; 2],
        rest: &'r [u8],
        sink: &mut impl Sink,
    ) -> Result<&'r [u8], Excess> {
        let end = memchr::memchr(b'>', rest);
        let piece = &rest[..end.unwrap_or(rest.len())];
        self.last = match piece {
            [.., one, two] => [*one, *two],
            [one] => [self.last[1], *one],
            [] => self.last,
        };
        sink.text(piece.len() + 1)?;
        let Some(end) = end else { return Ok(&[]) };
        if self.last == closing {
            self.place = Place::Text;
        } else {
            self.last = [0, b'>'];
        }
        Ok(&rest[end + 1..])
    }
}

/// Where the tag ends that `text` starts within, if it ends soon: at the first bracket
/// outside of quotes. Of a few bytes, each is looked at sooner than searched for.
fn tag_end(text: &[u8]) -> Option<usize> {
    const SOON: usize = 256;
    let mut quote = 0;
    for (at, &byte) in text.iter().take(SOON).enumerate() {
        match byte {
            b'>' if quote == 0 => return Some(at),
            b'"' | b'\'' if quote == 0 => quote = byte,
            _ if byte == quote => quote = 0,
            _ => {}
        }
    }
    None
}

/// The name of an element without its prefix, and whether the tag opens it: `c` of
/// `x:c r="A1"`.
pub(super) fn local_name(tag: &[u8]) -> (&[u8], bool) {
    let (tag, opens) = match tag {
        [b'/', rest @ ..] => (rest, false),
        _ => (tag, true),
    };
    let (mut start, mut end) = (0, tag.len());
    for (at, &byte) in tag.iter().enumerate() {
        if byte == b':' {
            start = at + 1;
        } else if byte.is_ascii_whitespace() || byte == b'/' {
            end = at;
            break;
        }
    }
    (&tag[start..end], opens)
}

/// The number that the attribute `name` of a tag has: more than `u64` holds is as much
/// as it holds.
pub(super) fn number_of(tag: &[u8], name: &str) -> Option<u64> {
    let value = value_of(tag, name)?;
    let mut number = 0_u64;
    for digit in value.iter().filter(|byte| byte.is_ascii_digit()) {
        number = number
            .saturating_mul(10)
            .saturating_add(u64::from(digit - b'0'));
    }
    Some(number)
}

/// What the attribute `name` of a tag says.
pub(super) fn value_of<'t>(tag: &'t [u8], name: &str) -> Option<&'t [u8]> {
    let mut finder = memchr::memmem::find_iter(tag, name.as_bytes());
    finder.find_map(|at| {
        let before = at.checked_sub(1).map(|before| tag[before]);
        let is_whole = before.is_some_and(|before| before.is_ascii_whitespace());
        let rest = tag[at + name.len()..].trim_ascii_start();
        let rest = rest.strip_prefix(b"=")?.trim_ascii_start();
        let (&quote, rest) = rest.split_first()?;
        let end = memchr::memchr(quote, rest)?;
        (is_whole && matches!(quote, b'"' | b'\'')).then_some(&rest[..end])
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[derive(Default)]
    struct Seen {
        tags: Vec<String>,
        text: usize,
    }

    impl Sink for Seen {
        fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
            self.tags.push(String::from_utf8_lossy(tag).into_owned());
            Ok(())
        }

        fn text(&mut self, bytes: usize) -> Result<(), Excess> {
            self.text += bytes;
            Ok(())
        }
    }

    /// Reads a few bytes at a time.
    struct Slowly<'t>(&'t [u8], usize);

    impl Read for Slowly<'_> {
        fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
            let size = self.1.min(self.0.len()).min(buffer.len());
            buffer[..size].copy_from_slice(&self.0[..size]);
            self.0 = &self.0[size..];
            Ok(size)
        }
    }

    fn seen(text: &str, step: usize) -> Seen {
        let mut seen = Seen::default();
        assert_eq!(
            scan(Slowly(text.as_bytes(), step), &mut seen).unwrap(),
            None
        );
        seen
    }

    #[test]
    fn nothing_hides_a_tag_and_nothing_makes_one() {
        for (text, expected) in [
            ("<a><b c='1'/>x</a>", vec!["a", "b c='1'/", "/a"]),
            ("<a b=\"> <c>\">x", vec!["a b=\"> <c>\""]),
            ("<!-- <c> \" --><d>", vec!["d"]),
            ("<!----><d><!--->--><e>", vec!["d", "e"]),
            ("<![CDATA[<c>]]><d>", vec!["d"]),
            ("<![CDATA[ ]> ]]]><d>", vec!["d"]),
            ("<?xml v='>'?><d>", vec!["?xml v='>'?", "d"]),
        ] {
            for step in [1, 2, 3, 7, 1000] {
                assert_eq!(seen(text, step).tags, expected, "{text} by {step}");
            }
        }
    }

    #[test]
    fn attributes_are_found_by_their_whole_names() {
        let tag = b"sst count='9' uniqueCount = \"12\" x:count='7'";
        assert_eq!(number_of(tag, "count"), Some(9));
        assert_eq!(number_of(tag, "uniqueCount"), Some(12));
        assert_eq!(number_of(tag, "nothing"), None);
        assert_eq!(
            number_of(b"s text:c='99999999999999999999999'", "text:c"),
            Some(u64::MAX)
        );
        assert_eq!(local_name(b"x:c r='A1'/"), (b"c".as_slice(), true));
        assert_eq!(local_name(b"/c"), (b"c".as_slice(), false));
    }

    proptest! {
        /// How a part is cut into reads changes nothing.
        #[test]
        fn any_text_is_seen_alike_at_any_step(text in "[<>!\\-\\[\\]CDAT\"' a/?]{0,60}", step in 1..9_usize) {
            let (slow, whole) = (seen(&text, step), seen(&text, 1 << 20));
            prop_assert_eq!(slow.tags, whole.tags);
        }
    }
}
