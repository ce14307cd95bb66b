//! Patterns: the text of a form, in the date field symbols of UTS #35.

use super::optional::{self, MOST_VERSIONS};
use super::{Elapsed, Field, FieldType, Item, SHORT_COUNTS};
use std::fmt::Write as _;

/// A pattern that cannot be compiled, and what to write instead.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum PatternError {
    /// A letter that is no symbol here, at this place (in characters, from 1).
    #[error("`{symbols}` at character {at} is not a field: {advice}")]
    Symbol {
        /// The letters.
        symbols: String,
        /// Where they stand.
        at: usize,
        /// What to do.
        advice: &'static str,
    },
    /// A quote that is not closed.
    #[error("the quote at character {at} is never closed; write '' for the character itself")]
    Quote {
        /// Where it stands.
        at: usize,
    },
    /// A bracket without the other one, or with nothing between them.
    #[error(
        "the `{bracket}` at character {at} stands alone: [ and ] enclose a part that may be \
         missing; write '{bracket}' in quotes for the character itself"
    )]
    Bracket {
        /// Which.
        bracket: char,
        /// Where it stands.
        at: usize,
    },
    /// Too many optional parts.
    #[error("it stands for more than {MOST_VERSIONS} forms; write some of them out instead")]
    TooManyVersions,
    /// What is left without optional parts is no form.
    #[error("without its optional parts it is `{version}`: {cause}")]
    Version {
        /// What is left.
        version: String,
        /// What is wrong with it.
        cause: Box<PatternError>,
    },
    /// A part that is there twice.
    #[error("the {part} is there twice")]
    Twice {
        /// Which.
        part: &'static str,
    },
    /// It is a count that cannot be used.
    #[error(transparent)]
    Count(#[from] super::ParseCountError),
    /// A length of time in a way that there is not.
    #[error("the forms of lengths of time are {names}")]
    Elapsed {
        /// The forms there are.
        names: String,
    },
    /// It is to swap what it has not.
    #[error("`swapped` goes before a form with a day and a month")]
    NothingToSwap,
    /// The parts do not add up to a date or a time.
    #[error("{0}")]
    Incomplete(&'static str),
}

/// What stands for text that is skipped.
const SKIPPED: char = '…';

/// The items of a pattern, not yet checked as a whole.
pub(super) fn parse(pattern: &str) -> Result<Vec<Item>, PatternError> {
    let letters: Vec<char> = pattern.chars().collect();
    // What stands before each bracket that is open, and where that stands.
    let mut open: Vec<(Vec<Item>, usize)> = Vec::new();
    let mut items = Vec::new();
    let mut at = 0;
    while let Some(&letter) = letters.get(at) {
        let alone = |bracket, at: usize| PatternError::Bracket {
            bracket,
            at: at + 1,
        };
        if letter == '\'' {
            let (text, next) = quoted(&letters, at)?;
            Item::push_literal(&mut items, &text);
            at = next;
        } else if letter.is_ascii_alphabetic() {
            let run = letters[at..].iter().take_while(|&&next| next == letter);
            let symbols: String = run.collect();
            let Some(field) = Field::spelled(&symbols) else {
                return Err(PatternError::Symbol {
                    symbols,
                    at: at + 1,
                    advice: advice(letter),
                });
            };
            items.push(Item::Field(field));
            at += symbols.len();
        } else if letter == SKIPPED {
            items.push(Item::Field(Field::Skipped));
            at += 1;
        } else if letter == '[' {
            if open.len() == MOST_VERSIONS {
                return Err(PatternError::TooManyVersions);
            }
            open.push((std::mem::take(&mut items), at));
            at += 1;
        } else if letter == ']' {
            let (before, _) = open.pop().ok_or(alone(']', at))?;
            let part = std::mem::replace(&mut items, before);
            if part.is_empty() {
                return Err(alone(']', at));
            }
            items.push(Item::Optional(part));
            at += 1;
        } else {
            Item::push_literal(&mut items, letter.encode_utf8(&mut [0; 4]));
            at += 1;
        }
    }
    match open.pop() {
        Some((_, at)) => Err(PatternError::Bracket {
            bracket: '[',
            at: at + 1,
        }),
        None => Ok(items),
    }
}

/// What may be the words of a count or of a length of time in a pattern, which has
/// literals before and behind them: `/'date'(milliseconds since 1970-01-01)/`.
pub(super) fn around_words(pattern: &str) -> (&str, &str, &str) {
    let mut is_quoted = false;
    let start = pattern.find(|letter: char| {
        is_quoted ^= letter == '\'';
        !is_quoted && letter.is_ascii_alphabetic()
    });
    let (before, rest) = pattern.split_at(start.unwrap_or(pattern.len()));
    let known = Elapsed::names()
        .filter(|name| rest.starts_with(name))
        .map(str::len);
    let len = || {
        rest.find(|letter| !is_part_of_words(letter))
            .unwrap_or(rest.len())
    };
    let (within, after) = rest.split_at(known.max().unwrap_or_else(len));
    (before, within, after)
}

/// What the words of a count are made of.
fn is_part_of_words(letter: char) -> bool {
    letter.is_ascii_alphanumeric() || " -+:.=".contains(letter)
}

/// The items of a count, perhaps with an offset behind it, which changes nothing of
/// the instant; `None` where `words` are none.
pub(super) fn count(words: &str) -> Option<Result<Vec<Item>, PatternError>> {
    let bare = words.trim_end_matches('X');
    let (count, offset) = match words.len() - bare.len() {
        0 => (words, ""),
        _ => words.split_at(bare.trim_end().len()),
    };
    let is_short = SHORT_COUNTS.iter().any(|(name, _)| *name == count);
    (is_short || count.contains(" since ")).then(|| {
        let mut items = vec![Item::Field(Field::Count(count.parse()?))];
        items.extend(parse(offset)?);
        Ok(items)
    })
}

/// The text of the quotes that open at `open`, and where the pattern goes on.
fn quoted(letters: &[char], open: usize) -> Result<(String, usize), PatternError> {
    if letters.get(open + 1) == Some(&'\'') {
        return Ok(("'".to_owned(), open + 2));
    }
    let mut text = String::new();
    let mut at = open + 1;
    loop {
        match (letters.get(at), letters.get(at + 1)) {
            (None, _) => return Err(PatternError::Quote { at: open + 1 }),
            (Some('\''), Some('\'')) => {
                text.push('\'');
                at += 2;
            }
            (Some('\''), _) => return Ok((text, at + 1)),
            (Some(&letter), _) => {
                text.push(letter);
                at += 1;
            }
        }
    }
}

fn advice(symbol: char) -> &'static str {
    match symbol {
        'Y' => "the year that ISO weeks belong to is YYYY; the calendar year is yyyy or yy",
        'D' => "D and DDD are the day of the year; the day of the month is d or dd",
        'Q' => "the quarter is Q",
        'w' => "weeks are w or ww",
        'y' | 'u' => "years are yyyy or yy",
        'M' | 'L' => "months are M, MM, MMM or MMMM",
        'd' => "days are d or dd",
        'K' | 'k' => "hours are H or HH (0–23), or h or hh (1–12) with a",
        'H' | 'h' | 'm' | 's' => "write it once or twice",
        'X' => "offsets are X (+01), XX (+0100), XXX (+01:00) or XXXXX (+00:09:21)",
        'V' => "the zone's identifier is VV; its abbreviation is z",
        'Z' | 'x' => "offsets are X (+01), XX (+0100) or XXX (+01:00), which also read Z",
        'O' => "the offset behind its name, GMT+1 or UTC-05:30, is O",
        'T' => "put text in quotes: 'T'",
        _ => "put text in quotes",
    }
}

/// Whether the items make a date, a time or both, with and without their
/// optional parts.
pub(super) fn check(items: &[Item]) -> Result<(), PatternError> {
    if optional::count(items) > MOST_VERSIONS {
        return Err(PatternError::TooManyVersions);
    }
    let mut versions = optional::versions(items).into_iter();
    if let Some(fullest) = versions.next() {
        check_plain(&fullest)?;
    }
    for version in versions {
        if let Err(cause) = check_plain(&version) {
            let version = super::Form::of(version).to_string();
            let cause = Box::new(cause);
            return Err(PatternError::Version { version, cause });
        }
    }
    Ok(())
}

fn check_plain(items: &[Item]) -> Result<(), PatternError> {
    let mut fields = items.iter().filter_map(|item| match item {
        Item::Field(field) => Some(field),
        Item::Literal(_) | Item::Optional(_) => None,
    });
    // A count or a length of time is a whole by itself.
    let first = fields.next();
    match (first, fields.next(), fields.next()) {
        (Some(Field::Count(_) | Field::Elapsed(_)), None, None)
        | (Some(Field::Count(_)), Some(Field::Offset(_)), None) => return Ok(()),
        _ => {}
    }
    let mut types: Vec<FieldType> = Vec::new();
    let mut twelve_hours = false;
    for item in items {
        if let Item::Field(field) = item {
            let field_type = field.field_type();
            // Text may be skipped on either side.
            if types.contains(&field_type) && field_type != FieldType::Skipped {
                let part = field_type.name();
                return Err(PatternError::Twice { part });
            }
            types.push(field_type);
            twelve_hours |= matches!(field, Field::Hour12(_));
        }
    }
    let has = |field_type| types.contains(&field_type);
    let whole = |message| Err(PatternError::Incomplete(message));
    if has(FieldType::Minute)
        && !has(FieldType::Hour)
        && !has(FieldType::Month)
        && (has(FieldType::Year) || has(FieldType::Day))
    {
        return whole("m and mm are minutes; months are M and MM");
    }
    if has(FieldType::WeekYear) && !has(FieldType::Week) {
        return whole("YYYY is the year that ISO weeks belong to; the calendar year is yyyy");
    }
    if has(FieldType::Week) && !has(FieldType::WeekYear) {
        return whole("a week (ww) needs the year it belongs to (YYYY)");
    }
    if has(FieldType::DayOfYear) && (has(FieldType::Month) || has(FieldType::Day)) {
        return whole("D is the day of the year; the day of the month is d or dd");
    }
    let week = has(FieldType::Week);
    let year = has(FieldType::Year);
    let (month, day) = (has(FieldType::Month), has(FieldType::Day));
    let day_of_year = has(FieldType::DayOfYear);
    let date = month && day || day_of_year || week && has(FieldType::Weekday);
    let coarse = year && (month || has(FieldType::Quarter) || !day) || week;
    if day && !month || month && !day && !year || has(FieldType::Quarter) && !year {
        return whole("a date needs year (yyyy), month (MM) and day (dd)");
    }
    if has(FieldType::Weekday) && !date {
        return whole("a weekday needs a date next to it");
    }
    if has(FieldType::Era) && !year {
        return whole("an era (G) needs a year (y)");
    }
    if !date && !coarse && !has(FieldType::Hour) && !has(FieldType::DayPeriod) {
        return whole("there is no date (yyyy, MM, dd) and no hour (HH) in it");
    }
    if coarse && !date && has(FieldType::Hour) {
        return whole("a time needs a whole date before it, or none");
    }
    if has(FieldType::Minute) && !has(FieldType::Hour)
        || has(FieldType::Second) && !has(FieldType::Minute)
    {
        return whole("a time needs hour (HH) before minute (mm) before second (ss)");
    }
    if has(FieldType::Fraction) && !has(FieldType::Hour) {
        return whole(
            "a fraction (S) needs an hour (HH), a minute (mm) or a second (ss) before it",
        );
    }
    if twelve_hours && !has(FieldType::DayPeriod) {
        return whole("h and hh count to 12 and need am/pm (a); the 24-hour clock is H and HH");
    }
    if has(FieldType::DayPeriod) && !twelve_hours && has(FieldType::Hour) {
        return whole("am/pm (a) needs the 12-hour clock, h or hh");
    }
    let zone = has(FieldType::Offset) || has(FieldType::ZoneName) || has(FieldType::ZoneId);
    if zone && !(date && has(FieldType::Hour)) {
        return whole("an offset (XXX) or a zone needs a date and a time");
    }
    Ok(())
}

pub(super) fn write(items: &[Item], f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
    let mut is_behind_count = false;
    for (number, item) in items.iter().enumerate() {
        let was_behind_count = is_behind_count;
        is_behind_count = matches!(item, Item::Field(Field::Count(_)));
        match item {
            Item::Field(Field::Count(count)) => write!(f, "{count}")?,
            Item::Field(Field::Elapsed(elapsed)) => f.write_str(elapsed.name())?,
            Item::Field(Field::Typed(kind)) => f.write_str(super::typed::name(*kind))?,
            Item::Field(field) => {
                f.write_str(field.spelling().map_or("", |spelling| spelling.letters))?;
            }
            // It would be read as one with the count's origin, unless an offset follows.
            Item::Literal(text)
                if was_behind_count
                    && text.starts_with(is_part_of_words)
                    && !matches!(items.get(number + 1), Some(Item::Field(Field::Offset(_)))) =>
            {
                write!(f, "'{}'", text.replace('\'', "''"))?;
            }
            Item::Literal(text) => write_literal(text, f)?,
            Item::Optional(part) => {
                f.write_char('[')?;
                write(part, f)?;
                f.write_char(']')?;
            }
        }
    }
    Ok(())
}

/// Puts brackets, and words that have an ASCII letter, into quotes; a word as
/// a whole: `'ngày'`.
fn write_literal(text: &str, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
    let mut quoted = false;
    let mut rest = text;
    while let Some(first) = rest.chars().next() {
        let word = rest.find(|letter: char| !letter.is_alphabetic());
        let len = match word.unwrap_or(rest.len()) {
            0 => first.len_utf8(),
            len => len,
        };
        let (piece, after) = rest.split_at(len);
        rest = after;
        if first == '\'' {
            f.write_str("''")?;
            continue;
        }
        if piece.contains(|letter: char| letter.is_ascii_alphabetic() || "[]…".contains(letter))
            != quoted
        {
            f.write_char('\'')?;
            quoted = !quoted;
        }
        f.write_str(piece)?;
    }
    if quoted {
        f.write_char('\'')?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::form::Form;

    #[test]
    fn what_stands_behind_a_count_is_no_part_of_it() {
        for pattern in [
            "unix-s'-x'",
            "unix-s'-'",
            "unix-ms' 12'",
            "'at 'unix-s'Z'",
            "unix-s)",
        ] {
            let form: Form = pattern.parse().unwrap();
            let again: Form = form.to_string().parse().unwrap();
            assert_eq!(again, form, "{pattern}: {form}");
        }
    }

    #[test]
    fn patterns_are_written_as_they_were_read() {
        for pattern in [
            "dd/MM/yyyy",
            "d MMM yyyy",
            "EEEE, d'th' 'of' MMMM yyyy",
            "yyyy-MM-dd'T'HH:mm:ss.SXXX",
            "yyyyMMdd'T'HHmmssX",
            "h:mm a",
            "H:mm 'o''clock'",
            "M/d/yy h a",
            "yyyy-MM-dd HH:mm z",
            "'ngày' d MMM 'năm' yyyy",
            "d MMM yyyy г.",
            "days since 1899-12-30",
            "/'date'(milliseconds since 1970-01-01)/",
            "workbook-1900",
            "elapsed H:mm",
            "yyyy-MM-dd[ HH:mm[:ss]]",
            "'['dd/MMM/yyyy']'",
        ] {
            let form: Form = pattern.parse().unwrap();
            assert_eq!(form.to_string(), pattern);
        }
    }

    #[test]
    fn slips_get_a_pointed_message() {
        for (pattern, message) in [
            ("yyyy-mm-dd", "m and mm are minutes; months are M and MM"),
            ("YYYY-MM-dd", "the calendar year is yyyy"),
            ("yyyy-MM-DD", "D and DDD are the day of the year"),
            ("hh:mm", "need am/pm (a)"),
            ("HH:mm a", "needs the 12-hour clock"),
            ("dd/yyyy", "a date needs year"),
            ("MM", "a date needs year"),
            ("yyyy-MM HH:mm", "a time needs a whole date"),
            ("yyyy-MM-ddTHH:mm", "put text in quotes: 'T'"),
            ("dd/MM/yyyy 'at", "quote at character 12 is never closed"),
            ("dd/MM/yyyy dd", "the day is there twice"),
            ("", "no date"),
            ("yyyy[-MM", "the `[` at character 5 stands alone"),
            ("yyyy]-MM", "the `]` at character 5 stands alone"),
            ("yyyy-MM[]", "the `]` at character 9 stands alone"),
            (
                "[yyyy-]MM",
                "without its optional parts it is `MM`: a date needs",
            ),
            ("[yyyy-MM-dd][dd/MM/yyyy]", "the day is there twice"),
            ("yyyy[a][b][c][d][e][f]", "`b` at character 9"),
            ("yyyy['a']['b']['c']['d']['e']['f']", "more than 32 forms"),
            ("HH:mm XXX", "an offset (XXX) or a zone needs a date"),
        ] {
            let error = pattern.parse::<Form>().unwrap_err().to_string();
            assert!(error.contains(message), "{pattern}: {error}");
        }
    }
}
