use super::*;
use crate::calendar::Calendar;
use crate::locale::{Names, Roles, filler};
use Class::{Digits, Fraction, Short, Space, Symbol, T, Word, Z};

const MONTH: Class = Class::Name(Roles::MONTH);
const WEEKDAY: Class = Class::Name(Roles::WEEKDAY);
const DAY_PERIOD: Class = Class::Name(Roles::DAY_PERIOD);
const ORDINAL: Class = Class::Name(Roles::ORDINAL);

#[test]
fn classes_of_cells() {
    let of = Class::Filler(filler("of").unwrap());
    for (text, classes) in [
        ("", &[] as &[Class]),
        (" \t\u{a0}", &[]),
        (
            "  31/12/2024 ",
            &[Short, Symbol('/'), Short, Symbol('/'), Digits(4)],
        ),
        ("5th of May", &[Short, ORDINAL, Space, of, Space, MONTH]),
        ("20240305T143000Z", &[Digits(8), T, Digits(6), Z]),
        ("Tue,\u{202f} 5", &[WEEKDAY, Symbol(','), Space, Short]),
        ("2 p.m.", &[Short, Space, DAY_PERIOD]),
        ("2:05a", &[Short, Symbol(':'), Short, DAY_PERIOD]),
        (
            "1:02:03.4567",
            &[
                Short,
                Symbol(':'),
                Short,
                Symbol(':'),
                Short,
                Symbol('.'),
                Fraction,
            ],
        ),
        ("1.2.3", &[Short, Symbol('.'), Short, Symbol('.'), Short]),
        ("A T Z", &[Word, Space, Word, Space, Word]),
        ("Š5", &[Word, Short]),
        ("\u{200e}5\u{2212}1", &[Short, Symbol('-'), Short]),
    ] {
        let mut lexer = Lexer::default();
        let lexed = lexer.lex(text).unwrap();
        let found: Vec<Class> = lexed.tokens().iter().map(|token| token.class).collect();
        assert_eq!(found, classes, "{text:?}");
    }
}

#[test]
fn white_space_at_the_ends_has_no_part_in_the_shape() {
    let mut lexer = Lexer::default();
    let bare = lexer.lex("5 Mar 2024").unwrap().shape();
    assert!(bare.fits(&lexer.lex("\u{feff} 5  Mar\t2024 \u{200e} ").unwrap()));
}

#[test]
fn what_is_too_long_is_refused() {
    let mut lexer = Lexer::default();
    assert!(lexer.lex(&"7".repeat(MAX_CELL_BYTES)).is_ok());
    assert_eq!(
        lexer.lex(&"7".repeat(MAX_CELL_BYTES + 1)).err(),
        Some(NoDate::TooLong)
    );
    let tokens = "1.".repeat(MAX_TOKENS / 2);
    assert!(lexer.lex(&tokens).is_ok());
    let more = tokens + "1";
    assert_eq!(lexer.lex(&more).err(), Some(NoDate::TooLong));
}

/// Lexers that know English, every language, and one whose names of months
/// have digits in them.
fn lexers() -> [Lexer; 3] {
    let vietnamese = Names::of(&["vi".parse().unwrap()], Calendar::Gregory);
    [Names::English, Names::Anywhere, vietnamese].map(|names| Lexer::new(names, Words::Keep))
}

proptest::proptest! {
    /// A cell is cut the same whatever cell was cut before it.
    #[test]
    fn cutting_does_not_depend_on_the_cell_before(
        cells in proptest::collection::vec("[0-3][0-9]/[01]?[0-9]/20[0-9]{2}( [0-9]{2}:[0-9]{2})?(am|pm|Z)?|[0-9T:.-]{1,20}|[0-9]{1,2} (Jan|May|March|June|März|août) [0-9]{4}|[0-9] (tháng|Th|M) ?[01]?[0-9] 2024|20[0-9]{2}年1?[0-9]月[0-9]日", 2..30),
    ) {
        for (mut used, fresh) in lexers().into_iter().zip(lexers()) {
            for cell in &cells {
                let mut fresh = fresh.clone();
                match (used.lex(cell), fresh.lex(cell)) {
                    (Ok(one), Ok(other)) => {
                        proptest::prop_assert_eq!(one.tokens(), other.tokens());
                        proptest::prop_assert_eq!(one.shape(), other.shape());
                        proptest::prop_assert_eq!(one.marks(), other.marks());
                    }
                    (one, other) => proptest::prop_assert_eq!(one.err(), other.err()),
                }
            }
        }
    }
}

#[test]
fn marks_tell_how_numbers_and_names_are_written() {
    let mut lexer = Lexer::default();
    let marks = lexer.lex("Tuesday 5 Mar 24").unwrap().marks();
    assert_eq!(marks.wide, 0b1);
    assert_eq!(marks.abbreviated, 0b1_0000);
    assert_eq!(marks.pairs, 0b100_0000);
}

/// A word that is a unit and stands inside dates is a unit behind a number, where
/// no date came before.
#[test]
fn units_that_stand_inside_dates() {
    let is_unit = |text: &str, word: &str| {
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let cell = lexer.lex(text).unwrap();
        let mut tokens = 0..cell.tokens().len();
        let index = tokens.find(|&index| cell.token_text(index) == word);
        cell.tokens()[index.unwrap()].class.may_be(Roles::UNIT)
    };
    for (text, word, expected) in [
        ("3 dni", "dni", true),
        ("2.5 ore", "ore", true),
        ("1500 m", "m", true),
        ("2 godz. 5 min", "godz", true),
        ("10/04/2024 ore 14:08", "ore", false),
        ("2 maggio 1970 ore 02.01", "ore", false),
        ("dnia 12 marca 2016 roku", "dnia", false),
        ("dnia 12 marca 2016 roku", "roku", false),
        ("2018 m. rugsėjo 14 d.", "m", false),
        ("2018 m. rugsėjo 14 d.", "d", false),
    ] {
        assert_eq!(is_unit(text, word), expected, "{text}: {word}");
    }
}

/// Every long name of a zone is one token behind a clock, as a cell is cut.
#[test]
fn long_names_of_zones_are_one_token() {
    let mut lexer = Lexer::default();
    let names = include_str!("../../data/zone-names.tsv");
    let names = names.lines().filter_map(|line| line.rsplit_once('\t'));
    let cut: Vec<&str> = names
        .flat_map(|(_, names)| names.split('|'))
        .filter(|name| {
            let cell = format!("12:30 {name}");
            let cell = lexer.lex(&cell);
            !cell.is_ok_and(|cell| {
                let last = cell.tokens().last().map(|token| token.class);
                last == Some(Class::Name(Roles::ZONE)) && cell.tokens().len() == 5
            })
        })
        .collect();
    assert!(
        cut.is_empty(),
        "{} names, such as {:?}",
        cut.len(),
        cut.first()
    );
}
