//! Whatever a form writes, it reads back.

use super::*;
use crate::calendar::Calendar;
use crate::lex::{Lexer, Words};
use crate::locale::{Names, Tag, Wording};
use crate::stamp::{Kind, Stamp};
use crate::zone::Zone;
use jiff::civil::{Date, DateTime, date};
use proptest::prelude::*;

const PATTERNS: [&str; 37] = [
    "yyyy-MM-dd[ HH:mm[:ss]]",
    "MMMM d, y G",
    "YYYY-'W'ww-e",
    "YYYY'W'wwe",
    "yyyy-DDD",
    "yyyyDDD",
    "'Q'Q yyyy",
    "yyyy-MM",
    "MMM yyyy",
    "YYYY-'W'ww",
    "EEE MMM d HH:mm:ss yyyy",
    "dd/MM/yyyy",
    "d.M.yyyy",
    "M-d-yyyy",
    "yyyy MM dd",
    "yyyy/d/M",
    "dd,yyyy,MM",
    "d/M/yy",
    "yyyyMMdd",
    "ddMMyyyy",
    "d MMM yyyy",
    "MMMM d, yyyy",
    "yyyy-MMM-dd",
    "d'th' 'of' MMMM yyyy",
    "ddMMMyyyy",
    "EEE d MMM yyyy",
    "EEEE, dd.MM.yyyy",
    "HH:mm",
    "h:mm:ss a",
    "H:mm:ss.S",
    "dd/MM/yyyy HH:mm",
    "yyyy-MM-dd'T'HH:mm:ss.SXXX",
    "yyyyMMdd'T'HHmmssXX",
    "yyyy-MM-dd HH:mm:ssX",
    "d MMM yyyy, h:mm:ss a z",
    "HH:mm d.M.yyyy",
    "'seen:' yyyyMMddHHmmss",
];

fn moment() -> impl Strategy<Value = DateTime> {
    (
        1947..2047_i16,
        1..13_i8,
        1..29_i8,
        0..24_i8,
        0..60_i8,
        0..60_i8,
        0..1_000_000_000_i32,
    )
        .prop_map(|(y, mo, d, h, mi, s, n)| date(y, mo, d).at(h, mi, s, n))
}

/// The part of `at` that `form` writes.
fn as_written(form: &Form, at: DateTime) -> Stamp {
    let has = |test: fn(&Field) -> bool| form.fields().any(|field| test(&field));
    let minute = has(|f| matches!(f, Field::Minute(_)));
    let second = has(|f| matches!(f, Field::Second(_)));
    let fraction = has(|f| matches!(f, Field::Fraction(_)));
    let at = at.date().at(
        at.hour(),
        if minute { at.minute() } else { 0 },
        if second { at.second() } else { 0 },
        // One digit is what the patterns here have.
        if fraction {
            at.subsec_nanosecond() / 100_000_000 * 100_000_000
        } else {
            0
        },
    );
    let week = at.date().iso_week_date();
    match form.kind() {
        Kind::Date => Stamp::Date(at.date()),
        Kind::Time => Stamp::Time(at.time()),
        Kind::DateTime => Stamp::DateTime(at),
        Kind::Month => Stamp::Month(at.year(), at.month().unsigned_abs()),
        Kind::Quarter => Stamp::Quarter(at.year(), at.month().unsigned_abs().div_ceil(3)),
        Kind::Week => Stamp::Week(week.year(), week.week().unsigned_abs()),
        Kind::Year => Stamp::Year(at.year()),
        Kind::Instant => Stamp::Instant(jiff::tz::Offset::UTC.to_timestamp(at).unwrap()),
        Kind::Duration => unreachable!("no pattern here is one"),
    }
}

/// Whether a word that `tag` writes for `at` holds a digit, by which a lexer
/// cuts it in two.
fn has_numbered_word(tag: &Tag, at: DateTime) -> bool {
    let wording = Wording::of(tag);
    let month = at.month().unsigned_abs();
    let months = ["MMMM", "MMM", "LLLL"].map(|symbol| wording.month(month, symbol));
    let half_day = wording.half_day(at.hour().unsigned_abs());
    let numbered = |word: &&str| word.contains(|letter: char| letter.is_numeric());
    months.iter().any(numbered) || numbered(&half_day)
}

/// What `form` makes of `text`, with the names of `locale`.
fn read(form: &Form, text: &str, names: Names) -> Option<Result<Stamp, Impossible>> {
    let mut lexer = Lexer::new(names, Words::Keep);
    let cell = lexer.lex(text).unwrap();
    let reader = form.fit(&cell.shape())?;
    Some(reader.read(&cell, Century::Window(1947).into()))
}

proptest! {
    #[test]
    fn what_a_form_writes_it_reads_back(
        at in moment(),
        pattern in prop::sample::select(PATTERNS.to_vec()),
    ) {
        let form: Form = pattern.parse().unwrap();
        let stamp = as_written(&form, at);
        let writer = form.writer(form.kind(), None).unwrap();
        let mut text = Vec::new();
        writer.write(stamp, &mut text).unwrap();
        let text = String::from_utf8(text).unwrap();
        prop_assert_eq!(read(&form, &text, Names::English), Some(Ok(stamp)), "{} on {}", pattern, text);
    }

    /// In any locale, in its own words and digits.
    #[test]
    fn what_a_form_writes_in_a_locale_it_reads_back(
        at in moment(),
        index in 0..crate::locale::locales().count(),
        pattern in prop::sample::select(vec!["EEEE d MMMM yyyy HH:mm", "d MMM yyyy", "dd.MM.yyyy", "LLLL yyyy", "h:mm:ss a"]),
    ) {
        let tag = crate::locale::locales().nth(index).unwrap();
        let tag: Tag = tag.parse().unwrap();
        let form: Form = pattern.parse().unwrap();
        let stamp = as_written(&form, at);
        let writer = form.writer(form.kind(), Some(&tag)).unwrap();
        let mut text = Vec::new();
        writer.write(stamp, &mut text).unwrap();
        let text = String::from_utf8(text).unwrap();
        let names = Names::of(std::slice::from_ref(&tag), Calendar::Gregory);
        prop_assume!(!has_numbered_word(&tag, at));
        prop_assert_eq!(read(&form, &text, names), Some(Ok(stamp)), "{} on {} in {}", pattern, text, tag);
    }

    #[test]
    fn offsets_are_taken_off(at in moment(), hours in -12..15_i8, style in 0..3_usize) {
        let sign = if hours < 0 { '-' } else { '+' };
        let (pattern, minutes) = [("X", ""), ("XX", "00"), ("XXX", ":00")][style];
        let form: Form = format!("yyyy-MM-dd HH:mm:ss{pattern}").parse().unwrap();
        let at = at.with().subsec_nanosecond(0).build().unwrap();
        let text = format!("{} {}{sign}{:02}{minutes}", at.date(), at.time(), hours.abs());
        let wanted = Stamp::Instant(jiff::tz::offset(hours).to_timestamp(at).unwrap());
        prop_assert_eq!(read(&form, &text, Names::English), Some(Ok(wanted)), "{}", text);
    }

    /// What is written by the clocks of an offset is read as the same instant.
    #[test]
    fn offsets_come_back(at in moment(), seconds in -64_799..64_800_i32, pattern in prop::sample::select(vec!["O", "XXXXX"])) {
        let form: Form = format!("yyyy-MM-dd HH:mm:ss {pattern}").parse().unwrap();
        let at = at.with().subsec_nanosecond(0).build().unwrap();
        let offset = jiff::tz::Offset::from_seconds(seconds).unwrap();
        let stamp = Stamp::Instant(offset.to_timestamp(at).unwrap());
        let writer = form.writer(Kind::Instant, None).unwrap().in_zone(Zone::fixed(offset));
        let mut text = Vec::new();
        writer.write(stamp, &mut text).unwrap();
        let text = String::from_utf8(text).unwrap();
        prop_assert_eq!(read(&form, &text, Names::English), Some(Ok(stamp)), "{}", text);
    }

    /// A window gives each two digits one year, and all its hundred years.
    #[test]
    fn a_window_holds_its_years(first in 0..9900_i16, short in 0..100_u8) {
        let year = Century::Window(first).year(short);
        prop_assert!((first..first + 100).contains(&year));
        prop_assert_eq!(year.rem_euclid(100), i16::from(short));
    }

    /// No day that the calendar does not have is read.
    #[test]
    fn impossible_days_are_refused(year in 1..9999_i16, month in 0..100_i8, day in 0..100_i8) {
        let text = format!("{day:02}/{month:02}/{year:04}");
        let form: Form = "dd/MM/yyyy".parse().unwrap();
        let mut lexer = Lexer::default();
        let cell = lexer.lex(&text).unwrap();
        let read = form.fit(&cell.shape()).unwrap().read(&cell, Century::Open.into());
        prop_assert_eq!(read.is_ok(), Date::new(year, month, day).is_ok());
    }
}

#[test]
fn orders_of_forms() {
    for (pattern, order) in [
        ("dd/MM/yyyy", Some(Order::Dmy)),
        ("MMM d, yyyy", Some(Order::Mdy)),
        ("yyyyMMdd", Some(Order::Ymd)),
        ("yy d MMM", Some(Order::Ydm)),
        ("M yyyy d", Some(Order::Myd)),
        ("d yyyy M", Some(Order::Dym)),
        ("HH:mm", None),
    ] {
        assert_eq!(pattern.parse::<Form>().unwrap().order(), order, "{pattern}");
    }
}

#[test]
fn forms_that_swap_say_so() {
    for pattern in ["swapped dd MMM yyyy", "swapped date cell"] {
        let form: Form = pattern.parse().unwrap();
        assert_eq!(form.to_string(), pattern);
        assert!(form.is_swapped());
        assert!(form.swapped().is_none(), "only once");
        assert!(form.writer(Kind::Date, None).is_err(), "for reading only");
    }
    for pattern in ["swapped HH:mm", "swapped MMM yyyy", "swapped time cell"] {
        let refused = pattern.parse::<Form>().unwrap_err().to_string();
        assert!(refused.contains("a day and a month"), "{refused}");
    }
}

#[test]
fn names_of_orders_are_read() {
    for order in Order::ALL {
        assert_eq!(order.name().parse::<Order>().unwrap(), order);
    }
    assert!("dmyy".parse::<Order>().is_err());
    assert!("DMY".parse::<Order>().is_err());
}

fn read_as(pattern: &str, text: &str) -> String {
    let form: Form = pattern.parse().unwrap();
    let mut lexer = Lexer::default();
    let cell = lexer.lex(text).unwrap();
    match form.fit(&cell.shape()) {
        None => "does not fit".to_owned(),
        Some(reader) => {
            match reader.read(&cell, Conventions::with_century(Century::Window(1947))) {
                Ok(stamp) => stamp.to_string(),
                Err(reason) => reason.to_string(),
            }
        }
    }
}

#[test]
fn cells_as_their_forms_read_them() {
    for (pattern, text, result) in [
        ("dd/MM/yyyy", "31/12/2024", "2024-12-31"),
        (
            "dd/MM/yyyy",
            "1/2/2024",
            "more or fewer digits than the form has",
        ),
        ("dd/MM/yyyy", "31-12-2024", "does not fit"),
        ("dd/MM/yyyy", "31/13/2024", "month 13 does not exist"),
        ("dd/MM/yyyy", "30/02/2024", "February 2024 has no day 30"),
        ("dd/MM/yyyy", "00/02/2024", "day 0 does not exist"),
        ("d/M/yy", "1/2/46", "2046-02-01"),
        ("d/M/yy", "1/2/47", "1947-02-01"),
        ("d/M/yy", "1/2/7", "more or fewer digits than the form has"),
        ("EEE d MMM yyyy", "Tue 5 Mar 2024", "2024-03-05"),
        ("swapped EEE d MMM yyyy", "Tue 5 Mar 2024", "2024-05-03"),
        (
            "swapped d MMM yyyy",
            "13 Mar 2024",
            "month 13 does not exist",
        ),
        ("swapped yyyyMMdd", "20240305", "2024-05-03"),
        (
            "swapped yyyy-MM-dd'T'HH:mmXXX",
            "2024-03-05T00:30+02:00",
            "2024-05-02T22:30:00Z",
        ),
        (
            "EEE d MMM yyyy",
            "Wednesday 5 March 2024",
            "2024-03-05 is a Tuesday, not a Wednesday",
        ),
        ("d'th' 'of' MMMM yyyy", "1st OF march 2024", "2024-03-01"),
        ("yyyyMMdd", "20240305", "2024-03-05"),
        (
            "yyyyMMdd'T'HHmmss.SX",
            "20240305T143000.25Z",
            "2024-03-05T14:30:00.25Z",
        ),
        (
            "yyyy-MM-dd'T'HH:mmXXX",
            "2024-03-05T00:30+01:00",
            "2024-03-04T23:30:00Z",
        ),
        (
            "yyyy-MM-dd'T'HH:mmXX",
            "2024-03-05T00:30-0530",
            "2024-03-05T06:00:00Z",
        ),
        (
            "yyyy-MM-dd'T'HH:mmXXX",
            "2024-03-05T00:30+19:00",
            "no zone has such an offset",
        ),
        (
            "yyyy-MM-dd HH:mm z",
            "2024-03-05 00:30 GMT",
            "2024-03-05T00:30:00Z",
        ),
        (
            "yyyy-MM-dd HH:mm",
            "2024-12-31 24:00",
            "2025-01-01T00:00:00",
        ),
        (
            "yyyy-MM-dd HH:mm",
            "2024-12-31 24:01",
            "hour 24 does not exist",
        ),
        (
            "HH:mm",
            "24:00",
            "24:00 is the end of a day that is not given",
        ),
        ("HH:mm:ss", "23:59:60", "second 60 is a leap second"),
        ("h:mm a", "12:05 a.m.", "00:05:00"),
        ("h:mm a", "12:05 PM", "12:05:00"),
        ("h a", "2 pm", "14:00:00"),
        ("h:mm a", "13:05 pm", "hour 13 does not exist"),
        ("'due:' d/M/yyyy", "Due: 1/2/2024", "2024-02-01"),
        (
            "'due:' d/M/yyyy",
            "Paid: 1/2/2024",
            "the form wants another word",
        ),
        ("HH:mm:ss.S", "01:02:03.1234567899", "01:02:03.123456789"),
    ] {
        assert_eq!(read_as(pattern, text), result, "{pattern} on {text}");
    }
}

/// The table of symbols in docs/forms.md has a row for each of them.
#[test]
fn the_page_has_all_symbols() {
    let page = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/forms.md");
    let page = std::fs::read_to_string(page).unwrap();
    let rows: String = symbols()
        .map(|symbol| {
            let also: Vec<String> = symbol.also.iter().map(|it| format!("`{it}`")).collect();
            format!(
                "| `{}` | {} | {} | {} |\n",
                symbol.letters,
                also.join(", "),
                symbol.field_type.name(),
                symbol.reads
            )
        })
        .collect();
    let table = format!("| symbol | the same | part | reads |\n|---|---|---|---|\n{rows}\n");
    assert!(
        page.contains(&table),
        "docs/forms.md wants this table:\n{table}"
    );
}

/// Each symbol stands for one field, and each field is written as it is spelled.
#[test]
fn symbols_are_told_apart() {
    let mut seen = std::collections::HashSet::new();
    for spelling in field::spellings() {
        for letters in std::iter::once(&spelling.letters).chain(spelling.also) {
            assert!(seen.insert(*letters), "{letters} is there twice");
            assert_eq!(Field::spelled(letters), Some(spelling.field));
        }
        let itself = spelling.field.spelling().unwrap();
        assert_eq!(itself.letters, spelling.letters);
    }
}

/// A number field reads the numbers within its bounds, and no others.
#[test]
fn numbers_have_bounds() {
    // The rest of a pattern that a field needs, with cells that fit any value.
    let around = |field: Field| match field {
        Field::Month(_) => ("yyyy-", "", "2024-", ""),
        Field::Day(_) => ("yyyy-MM-", "", "2024-01-", ""),
        Field::Quarter => ("yyyy 'Q'", "", "2024 Q", ""),
        Field::Week(_) => ("YYYY-'W'", "", "2020-W", ""),
        Field::WeekdayNumber => ("YYYY-'W'ww-", "", "2020-W05-", ""),
        Field::DayOfYear(_) => ("yyyy-", "", "2024-", ""),
        Field::Hour(_) => ("yyyy-MM-dd ", ":mm", "2024-01-05 ", ":30"),
        Field::Hour12(_) => ("", ":mm a", "", ":30 am"),
        Field::Minute(_) => ("HH:", "", "12:", ""),
        Field::Second(_) => ("HH:mm:", "", "12:30:", ""),
        Field::Year => ("", "-MM-dd", "", "-01-05"),
        Field::YearOfTwo => ("", "/MM/dd", "", "/01/05"),
        Field::YearsSince1900 => ("", "-MM-dd", "", "-01-05"),
        Field::WeekYear | Field::WeekYearOfTwo => ("", "-'W'ww", "", "-W05"),
        other => panic!("{other:?} has bounds"),
    };
    let mut lexer = crate::lex::Lexer::default();
    for spelling in field::spellings() {
        let Some((least, greatest)) = spelling.bounds else {
            continue;
        };
        let (before, behind, cell_before, cell_behind) = around(spelling.field);
        let form: Form = format!("{before}{}{behind}", spelling.letters)
            .parse()
            .unwrap();
        let width = usize::from(spelling.field.fixed_digits().unwrap_or(1));
        let most = 10_u32.pow(width.max(2) as u32);
        for number in (0..most.min(400)).chain([9999]) {
            let digits = format!("{number:0width$}");
            let fits = spelling
                .field
                .fixed_digits()
                .is_none_or(|count| digits.len() == usize::from(count));
            let is_within = (least..=greatest).contains(&(number as u16));
            let text = format!("{cell_before}{digits}{cell_behind}");
            let cell = lexer.lex(&text).unwrap();
            let read = form
                .fit(&cell.shape())
                .map(|reader| reader.read(&cell, Conventions::default()));
            let is_read = matches!(read, Some(Ok(_)));
            assert_eq!(is_read, fits && is_within, "{form}: {text}: {read:?}");
        }
    }
}
