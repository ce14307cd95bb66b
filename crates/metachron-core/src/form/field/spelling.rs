//! The spellings of fields: which letters of a pattern stand for a field, how it
//! is read and how it is written. Patterns, fitting, readers, writers and the
//! table in docs/forms.md go by these.

use super::{Digits, Field, OffsetStyle, Width};
use crate::form::shown::{Shown, write_offset};
use crate::lex::Class;
use crate::locale::{Roles, Wording};
use std::fmt::{self, Display, Formatter};

/// A field as patterns spell it.
pub(in crate::form) struct Spelling {
    pub field: Field,
    /// The letters, as patterns are written back.
    pub letters: &'static str,
    /// Other letters that mean the same.
    pub also: &'static [&'static str],
    pub reads: Reads,
    /// The least and the greatest number that it reads, where it is a number.
    pub bounds: Option<(u16, u16)>,
    pub writes: Writes,
}

/// What a field reads.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::form) enum Reads {
    /// A number of exactly so many digits.
    Digits(u8),
    /// A number of one or two digits.
    UpToTwo,
    /// A number of one to three digits.
    UpToThree,
    /// A number of one digit, or a roman numeral.
    DigitOrNumeral,
    /// A year of three or four digits; of one or two next to an era.
    Year,
    /// A name in this role.
    Name(Roles),
    /// A token of this class.
    Token(Class),
    /// An offset from UTC.
    Offset(OffsetStyle),
    /// A year with a sign.
    SignedYear,
}

/// What a field writes.
#[derive(Clone, Copy, Debug)]
pub(in crate::form) enum Writes {
    /// A number, with zeros before it up to so many digits.
    Number(fn(&Shown<'_>) -> u32, usize),
    /// A year, which has a sign beyond four digits, with zeros before it up to
    /// so many digits.
    Year(fn(&Shown<'_>) -> i16, usize),
    /// A word of the locale.
    Word(for<'w> fn(&Shown<'_>, &'w Wording) -> &'w str),
    /// Text that no locale changes.
    Text(fn(&Shown<'_>) -> String),
}

impl Spelling {
    const fn new(
        field: Field,
        letters: &'static str,
        reads: Reads,
        bounds: Option<(u16, u16)>,
        writes: Writes,
    ) -> Spelling {
        Spelling {
            field,
            letters,
            also: &[],
            reads,
            bounds,
            writes,
        }
    }

    const fn also(mut self, also: &'static [&'static str]) -> Spelling {
        self.also = also;
        self
    }

    /// Whether `letters` are one of its spellings.
    pub(in crate::form) fn is(&self, letters: &str) -> bool {
        self.letters == letters || self.also.contains(&letters)
    }
}

impl Display for Spelling {
    /// What it reads, in words.
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self.reads {
            Reads::Digits(1) => f.write_str("one digit")?,
            Reads::Digits(count) => write!(f, "{count} digits")?,
            Reads::UpToTwo => f.write_str("1 or 2 digits")?,
            Reads::UpToThree => f.write_str("1 to 3 digits")?,
            Reads::DigitOrNumeral => f.write_str("one digit or a roman numeral")?,
            Reads::Year => f.write_str("3 or 4 digits; 1 or 2 next to an era")?,
            Reads::Name(_) => f.write_str("a name")?,
            Reads::Token(Class::Fraction) => f.write_str("any number of digits")?,
            Reads::Token(Class::Skipped) => f.write_str("any text, which is skipped")?,
            Reads::SignedYear => f.write_str("a sign and 4 to 6 digits")?,
            Reads::Token(_) => f.write_str("an identifier")?,
            Reads::Offset(style) => write!(f, "an offset such as `{}`", style.example())?,
        }
        match self.bounds {
            Some((least, greatest)) => write!(f, ", {least} to {greatest}"),
            None => Ok(()),
        }
    }
}

/// A number in as many digits as it needs, and one in two digits.
const fn free_and_two(
    fields: [Field; 2],
    letters: [&'static str; 2],
    bounds: (u16, u16),
    value: fn(&Shown<'_>) -> u32,
) -> [Spelling; 2] {
    let [free, two] = fields;
    let [short, long] = letters;
    let bounds = Some(bounds);
    [
        Spelling::new(
            free,
            short,
            Reads::UpToTwo,
            bounds,
            Writes::Number(value, 1),
        ),
        Spelling::new(
            two,
            long,
            Reads::Digits(2),
            bounds,
            Writes::Number(value, 2),
        ),
    ]
}

pub(super) static YEAR: [Spelling; 5] = [
    Spelling::new(
        Field::Year,
        "yyyy",
        Reads::Digits(4),
        Some((0, 9999)),
        Writes::Year(|at| at.date.year(), 4),
    )
    .also(&["uuuu"]),
    Spelling::new(
        Field::YearFree,
        "y",
        Reads::Year,
        None,
        Writes::Year(|at| at.date.year(), 1),
    )
    .also(&["u"]),
    Spelling::new(
        Field::YearExpanded,
        "yyyyyy",
        Reads::SignedYear,
        None,
        Writes::Text(|at| format!("{:+07}", at.date.year())),
    ),
    Spelling::new(
        Field::YearOfTwo,
        "yy",
        Reads::Digits(2),
        Some((0, 99)),
        Writes::Number(|at| at.date.year().rem_euclid(100).unsigned_abs().into(), 2),
    ),
    // The first digit is the century: 0 of 1900, 1 of 2000.
    Spelling::new(
        Field::YearsSince1900,
        "CCC",
        Reads::Digits(3),
        Some((0, 199)),
        Writes::Number(
            |at| {
                (at.date.year() - 1900)
                    .rem_euclid(1000)
                    .unsigned_abs()
                    .into()
            },
            3,
        ),
    ),
];

pub(super) static WEEK_YEAR: [Spelling; 2] = [
    Spelling::new(
        Field::WeekYear,
        "YYYY",
        Reads::Digits(4),
        Some((0, 9999)),
        Writes::Year(|at| at.date.iso_week_date().year(), 4),
    ),
    Spelling::new(
        Field::WeekYearOfTwo,
        "YY",
        Reads::Digits(2),
        Some((0, 99)),
        Writes::Number(
            |at| {
                let year = at.date.iso_week_date().year();
                year.rem_euclid(100).unsigned_abs().into()
            },
            2,
        ),
    ),
];

pub(super) static ERA: [Spelling; 2] = [
    Spelling::new(
        Field::Era(Width::Abbreviated),
        "G",
        Reads::Name(Roles::ERA),
        None,
        Writes::Word(|at, words| words.era(at.date.year(), "G")),
    )
    .also(&["GG", "GGG", "GGGGG"]),
    Spelling::new(
        Field::Era(Width::Wide),
        "GGGG",
        Reads::Name(Roles::ERA),
        None,
        Writes::Word(|at, words| words.era(at.date.year(), "GGGG")),
    ),
];

pub(super) static QUARTER: [Spelling; 1] = [Spelling::new(
    Field::Quarter,
    "Q",
    Reads::DigitOrNumeral,
    Some((1, 4)),
    Writes::Number(|at| small(at.date.month()).div_ceil(3), 1),
)];

pub(super) static MONTH: [Spelling; 4] = {
    let [free, two] = free_and_two(
        [Field::Month(Digits::Free), Field::Month(Digits::Two)],
        ["M", "MM"],
        (1, 12),
        |at| small(at.date.month()),
    );
    [
        free.also(&["L"]),
        two.also(&["LL"]),
        Spelling::new(
            Field::MonthName(Width::Abbreviated),
            "MMM",
            Reads::Name(Roles::MONTH),
            None,
            Writes::Word(|at, words| {
                words.month(at.month(), if at.has_day { "MMM" } else { "LLL" })
            }),
        )
        .also(&["LLL"]),
        Spelling::new(
            Field::MonthName(Width::Wide),
            "MMMM",
            Reads::Name(Roles::MONTH),
            None,
            Writes::Word(|at, words| {
                words.month(at.month(), if at.has_day { "MMMM" } else { "LLLL" })
            }),
        )
        .also(&["LLLL"]),
    ]
};

pub(super) static WEEK: [Spelling; 2] = free_and_two(
    [Field::Week(Digits::Free), Field::Week(Digits::Two)],
    ["w", "ww"],
    (1, 53),
    |at| small(at.date.iso_week_date().week()),
);

pub(super) static DAY: [Spelling; 2] = free_and_two(
    [Field::Day(Digits::Free), Field::Day(Digits::Two)],
    ["d", "dd"],
    (1, 31),
    |at| small(at.date.day()),
);

pub(super) static DAY_OF_YEAR: [Spelling; 2] = [
    Spelling::new(
        Field::DayOfYear(Digits::Free),
        "D",
        Reads::UpToThree,
        Some((1, 366)),
        Writes::Number(|at| at.date.day_of_year().unsigned_abs().into(), 1),
    ),
    Spelling::new(
        Field::DayOfYear(Digits::Two),
        "DDD",
        Reads::Digits(3),
        Some((1, 366)),
        Writes::Number(|at| at.date.day_of_year().unsigned_abs().into(), 3),
    ),
];

pub(super) static WEEKDAY: [Spelling; 3] = [
    Spelling::new(
        Field::WeekdayNumber,
        "e",
        Reads::Digits(1),
        Some((1, 7)),
        Writes::Number(|at| at.weekday().into(), 1),
    ),
    Spelling::new(
        Field::Weekday(Width::Abbreviated),
        "EEE",
        Reads::Name(Roles::WEEKDAY),
        None,
        Writes::Word(|at, words| words.weekday(at.weekday(), "EEE")),
    )
    .also(&["E", "EE", "EEEEEE", "ccc"]),
    Spelling::new(
        Field::Weekday(Width::Wide),
        "EEEE",
        Reads::Name(Roles::WEEKDAY),
        None,
        Writes::Word(|at, words| words.weekday(at.weekday(), "EEEE")),
    )
    .also(&["cccc"]),
];

pub(super) static HOUR: [Spelling; 4] = {
    let [free, two] = free_and_two(
        [Field::Hour(Digits::Free), Field::Hour(Digits::Two)],
        ["H", "HH"],
        // 24 only as the midnight that ends a day.
        (0, 23),
        |at| small(at.time.hour()),
    );
    let [free12, two12] = free_and_two(
        [Field::Hour12(Digits::Free), Field::Hour12(Digits::Two)],
        ["h", "hh"],
        (0, 12),
        |at| (small(at.time.hour()) + 11) % 12 + 1,
    );
    [free, two, free12, two12]
};

pub(super) static MINUTE: [Spelling; 2] = free_and_two(
    [Field::Minute(Digits::Free), Field::Minute(Digits::Two)],
    ["m", "mm"],
    (0, 59),
    |at| small(at.time.minute()),
);

pub(super) static SECOND: [Spelling; 2] = free_and_two(
    [Field::Second(Digits::Free), Field::Second(Digits::Two)],
    ["s", "ss"],
    // 60 only as a leap second.
    (0, 59),
    |at| small(at.time.second()),
);

pub(super) static FRACTION: [Spelling; 9] = [
    fraction("S", 1, fraction_of::<1>),
    fraction("SS", 2, fraction_of::<2>),
    fraction("SSS", 3, fraction_of::<3>),
    fraction("SSSS", 4, fraction_of::<4>),
    fraction("SSSSS", 5, fraction_of::<5>),
    fraction("SSSSSS", 6, fraction_of::<6>),
    fraction("SSSSSSS", 7, fraction_of::<7>),
    fraction("SSSSSSSS", 8, fraction_of::<8>),
    fraction("SSSSSSSSS", 9, fraction_of::<9>),
];

const fn fraction(letters: &'static str, digits: u8, value: fn(&Shown<'_>) -> u32) -> Spelling {
    Spelling::new(
        Field::Fraction(digits),
        letters,
        Reads::Token(Class::Fraction),
        None,
        Writes::Number(value, digits as usize),
    )
}

/// The first digits of the fraction of the second: cut, never rounded.
fn fraction_of<const DIGITS: u32>(at: &Shown<'_>) -> u32 {
    at.time.subsec_nanosecond().unsigned_abs() / 10_u32.pow(9 - DIGITS)
}

pub(super) static DAY_PERIOD: [Spelling; 2] = [
    Spelling::new(
        Field::DayPeriod,
        "a",
        Reads::Name(Roles::DAY_PERIOD),
        None,
        Writes::Word(|at, words| words.half_day(at.hour())),
    )
    .also(&["aa", "aaa", "aaaa", "aaaaa"]),
    Spelling::new(
        Field::FlexiblePeriod,
        "B",
        Reads::Name(Roles::DAY_PERIOD),
        None,
        Writes::Word(|at, words| words.part_of_day(at.hour())),
    )
    .also(&["BB", "BBB", "BBBB", "BBBBB"]),
];

pub(super) static OFFSET: [Spelling; 6] = [
    offset("X", OffsetStyle::Hours, |at| {
        write_offset(at.offset, OffsetStyle::Hours)
    }),
    offset("XX", OffsetStyle::Basic, |at| {
        write_offset(at.offset, OffsetStyle::Basic)
    }),
    offset("XXX", OffsetStyle::Extended, |at| {
        write_offset(at.offset, OffsetStyle::Extended)
    }),
    offset("XXXXX", OffsetStyle::Seconds, |at| {
        write_offset(at.offset, OffsetStyle::Seconds)
    }),
    offset("O", OffsetStyle::Named, |at| {
        write_offset(at.offset, OffsetStyle::Named)
    }),
    offset("XXXXXX", OffsetStyle::Minutes, |at| {
        write_offset(at.offset, OffsetStyle::Minutes)
    }),
];

const fn offset(
    letters: &'static str,
    style: OffsetStyle,
    text: fn(&Shown<'_>) -> String,
) -> Spelling {
    let reads = Reads::Offset(style);
    Spelling::new(
        Field::Offset(style),
        letters,
        reads,
        None,
        Writes::Text(text),
    )
}

pub(super) static ZONE_NAME: [Spelling; 1] = [Spelling::new(
    Field::ZoneName,
    "z",
    Reads::Name(Roles::ZONE),
    None,
    Writes::Text(|at| at.abbreviation()),
)
.also(&["zz", "zzz"])];

pub(super) static ZONE_ID: [Spelling; 1] = [Spelling::new(
    Field::ZoneId,
    "VV",
    Reads::Token(Class::ZoneId),
    None,
    Writes::Text(|at| at.zone.name().to_owned()),
)];

pub(super) static SKIPPED: [Spelling; 1] = [Spelling::new(
    Field::Skipped,
    "…",
    Reads::Token(Class::Skipped),
    None,
    Writes::Text(|_| String::new()),
)];

fn small(number: i8) -> u32 {
    number.unsigned_abs().into()
}
