//! What programs put around a date, a time or a number that counts, in source
//! code, query languages and exchange formats.

/// Text before and behind a value.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Wrapping {
    /// The text before it. A quote stands for either quote, a space for none as
    /// well, and case does not count.
    pub open: &'static str,
    /// The text behind it.
    pub close: &'static str,
    /// What it says of the value.
    pub holds: Holds,
}

/// What a wrapping says of the value in it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// Nothing: a date, a time or a length of time in any form.
    Any,
    /// The same, but no number: `="00123"` keeps the zeros of a code.
    Written,
    /// Numbers from the year or the hour on, parted by commas.
    Parts,
    /// Numbers from the year on, in brackets that anything else may stand in too.
    DayParts,
    /// Lengths of time, each behind the name of its unit: `days=2, seconds=30`.
    NamedUnits,
    /// A number of seconds since 1970.
    Seconds,
    /// A number of milliseconds since 1970.
    Milliseconds,
}

const fn new(holds: Holds, open: &'static str, close: &'static str) -> Wrapping {
    Wrapping { open, close, holds }
}

/// The wrappings that are known. Where one begins as another does, the longer one
/// comes first.
pub const WRAPPINGS: &[Wrapping] = &[
    // JSON, which has no dates, and ECMA-262 §21.4.
    new(Holds::Milliseconds, "/Date(", ")/"),
    new(Holds::Milliseconds, "\\/Date(", ")\\/"),
    new(Holds::Milliseconds, "new Date(", ")"),
    new(Holds::Any, "new Date(\"", "\")"),
    new(Holds::Any, "ISODate(\"", "\")"),
    new(Holds::Any, "Date(\"", "\")"),
    new(Holds::Any, "{\"$date\": \"", "\"}"),
    new(Holds::Milliseconds, "{\"$date\": ", "}"),
    new(
        Holds::Milliseconds,
        "{\"$date\": {\"$numberLong\": \"",
        "\"}}",
    ),
    // Python: the constructors that its objects are shown as.
    new(Holds::Parts, "datetime.datetime(", ")"),
    new(Holds::Parts, "datetime.date(", ")"),
    new(Holds::Parts, "datetime.time(", ")"),
    new(Holds::NamedUnits, "datetime.timedelta(", ")"),
    new(Holds::Parts, "datetime(", ")"),
    new(Holds::Parts, "date(", ")"),
    new(Holds::NamedUnits, "timedelta(", ")"),
    new(Holds::Any, "Timestamp(\"", "\")"),
    new(Holds::Any, "pd.Timestamp(\"", "\")"),
    new(Holds::Any, "Timedelta(\"", "\")"),
    new(Holds::Any, "pd.Timedelta(\"", "\")"),
    new(Holds::Any, "numpy.datetime64(\"", "\")"),
    new(Holds::Any, "np.datetime64(\"", "\")"),
    new(Holds::Any, "datetime64(\"", "\")"),
    // Literals of SQL (ISO/IEC 9075-2 §5.3), escapes of ODBC, and casts.
    new(Holds::Any, "TIMESTAMP \"", "\""),
    new(Holds::Any, "TIMESTAMP WITH TIME ZONE \"", "\""),
    new(Holds::Any, "DATETIME \"", "\""),
    new(Holds::Any, "DATE \"", "\""),
    new(Holds::Any, "TIME \"", "\""),
    new(Holds::Any, "INTERVAL \"", "\""),
    new(Holds::Any, "{ts \"", "\"}"),
    new(Holds::Any, "{d \"", "\"}"),
    new(Holds::Any, "{t \"", "\"}"),
    new(Holds::Any, "CAST(\"", "\" AS DATE)"),
    new(Holds::Any, "CAST(\"", "\" AS TIME)"),
    new(Holds::Any, "CAST(\"", "\" AS DATETIME)"),
    new(Holds::Any, "CAST(\"", "\" AS TIMESTAMP)"),
    new(Holds::Any, "\"", "\"::date"),
    new(Holds::Any, "\"", "\"::time"),
    new(Holds::Any, "\"", "\"::timestamp"),
    new(Holds::Any, "\"", "\"::timestamptz"),
    new(Holds::Any, "\"", "\"::interval"),
    new(Holds::Any, "\"", "\"::timestamp without time zone"),
    new(Holds::Any, "\"", "\"::timestamp with time zone"),
    new(Holds::Any, "TO_DATE(\"", "\", \"YYYY-MM-DD\")"),
    new(Holds::Any, "TO_DATE(\"", "\", \"YYYY-MM-DD HH24:MI:SS\")"),
    new(
        Holds::Any,
        "TO_TIMESTAMP(\"",
        "\", \"YYYY-MM-DD HH24:MI:SS\")",
    ),
    // A cell's formula (ISO/IEC 29500-1 §18.17.7), and one that keeps text as it is.
    new(Holds::Written, "=\"", "\""),
    new(Holds::Parts, "=DATE(", ")"),
    // Literals of functional languages and of extensible data notation.
    new(Holds::Any, "#inst \"", "\""),
    new(Holds::Any, "~U[", "]"),
    new(Holds::Any, "~N[", "]"),
    new(Holds::Any, "~D[", "]"),
    new(Holds::Any, "~T[", "]"),
    new(Holds::DayParts, "{{", "}}"),
    // Tuples.
    new(Holds::DayParts, "(", ")"),
    new(Holds::DayParts, "[", "]"),
    // Routers mark a clock that is not synchronised.
    new(Holds::Any, "*", ":"),
    // date(1) of GNU reads it, and file systems' tools write it.
    new(Holds::Seconds, "@", ""),
];

/// For each byte that a wrapping begins with, those that one of them ends with, a bit
/// each: a look at two bytes spares most texts the search.
static LAST_BY_FIRST: [u128; 128] = {
    let mut last_by_first = [0; 128];
    let mut index = 0;
    while index < WRAPPINGS.len() {
        let Wrapping { open, close, .. } = WRAPPINGS[index];
        let last = match close.as_bytes().last() {
            Some(last) => alike(*last),
            // A number ends in a digit.
            None => 0b11_1111_1111 << b'0',
        };
        let first = alike(open.as_bytes()[0]);
        let mut byte = 0;
        while byte < 128 {
            if first >> byte & 1 == 1 {
                last_by_first[byte] |= last;
            }
            byte += 1;
        }
        index += 1;
    }
    last_by_first
};

/// The bytes that stand for `byte` as well: its other case, the other quote.
const fn alike(byte: u8) -> u128 {
    match byte {
        b'"' | b'\'' => 1 << b'"' | 1 << b'\'',
        byte => 1 << byte.to_ascii_lowercase() | 1 << byte.to_ascii_uppercase(),
    }
}

/// A wrapping around a text.
pub(super) struct Wrapped {
    /// Its index in [`WRAPPINGS`].
    pub index: u8,
    /// Where the value starts and ends in the text, in bytes.
    pub start: usize,
    pub end: usize,
}

/// The wrapping around `text`, which has no space at either end.
pub(super) fn wrapped(text: &str) -> Option<Wrapped> {
    let [first, .., last] = text.as_bytes() else {
        return None;
    };
    let lasts = LAST_BY_FIRST.get(usize::from(*first))?;
    if !last.is_ascii() || lasts >> last & 1 == 0 {
        return None;
    }
    WRAPPINGS.iter().zip(0..).find_map(|(wrapping, index)| {
        let start = prefix_len(text, wrapping.open)?;
        let end = text.len() - suffix_len(text, wrapping.close)?;
        let value = text.get(start..end)?;
        wrapping
            .holds
            .admits(value)
            .then_some(Wrapped { index, start, end })
    })
}

impl Holds {
    /// Whether `value` may be what it says.
    fn admits(self, value: &str) -> bool {
        let are = |others: &'static [u8]| {
            value
                .bytes()
                .all(|byte| byte.is_ascii_digit() || others.contains(&byte))
        };
        value.bytes().any(|byte| byte.is_ascii_digit())
            && match self {
                Holds::Any => !value.contains(['"', '\'']) || value.contains("', tz='"),
                Holds::Written => {
                    !value.contains(['"', '\'']) && !are(b".,") && !value.starts_with(['-', '+'])
                }
                Holds::NamedUnits => value.contains('='),
                Holds::Parts => are(b", ") && value.contains(','),
                Holds::DayParts => are(b", {}") && value.find(',') == Some(4),
                // Fewer digits name a user.
                Holds::Seconds => {
                    are(b".") && matches!(value.find('.').unwrap_or(value.len()), 9 | 10)
                }
                Holds::Milliseconds => are(b"+-"),
            }
    }
}

/// The length of what `text` begins with, where that is `open`.
pub(crate) fn prefix_len(text: &str, open: &str) -> Option<usize> {
    let at = matched(text.bytes(), open.bytes())?;
    text.is_char_boundary(at).then_some(at)
}

/// The length of what `text` ends with, where that is `close`.
fn suffix_len(text: &str, close: &str) -> Option<usize> {
    let at = matched(text.bytes().rev(), close.bytes().rev())?;
    text.is_char_boundary(text.len() - at).then_some(at)
}

/// How many bytes of `text` are those of `wanted`, all of which it must hold.
fn matched(text: impl Iterator<Item = u8>, wanted: impl Iterator<Item = u8>) -> Option<usize> {
    let mut text = text.peekable();
    let mut len = 0;
    for byte in wanted {
        let found = text.peek().copied();
        let is_it = found.is_some_and(|found| match byte {
            b'"' | b'\'' => matches!(found, b'"' | b'\''),
            byte => found.eq_ignore_ascii_case(&byte),
        });
        if is_it {
            text.next();
            len += 1;
        } else if byte != b' ' {
            return None;
        }
    }
    Some(len)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_wrapped() {
        for (text, value) in [
            ("/Date(1710449314000)/", "1710449314000"),
            ("/Date(1710449314000+0100)/", "1710449314000+0100"),
            ("ISODate('2024-03-05')", "2024-03-05"),
            ("timestamp'2024-03-05 14:30:00'", "2024-03-05 14:30:00"),
            (
                "{\"$date\":{\"$numberLong\":\"925473547000\"}}",
                "925473547000",
            ),
            ("{\"$date\":\"2024-03-05\"}", "2024-03-05"),
            ("datetime.date(2024, 3, 5)", "2024, 3, 5"),
            ("'2024-03-05'::date", "2024-03-05"),
            ("@1710449314", "1710449314"),
        ] {
            let wrapped = wrapped(text).expect(text);
            assert_eq!(&text[wrapped.start..wrapped.end], value, "{text}");
        }
        for text in [
            "/Date()/",
            "Date(",
            "date",
            "@ 2 days",
            // It keeps the zeros of a code.
            "=\"00123\"",
            // Its months begin with 0.
            "new Date(2024, 3, 5)",
            "DATE é'2024'",
            "'2024-03-05' or '2024-03-06'::date",
            "",
        ] {
            assert!(wrapped(text).is_none(), "{text}");
        }
    }
}
