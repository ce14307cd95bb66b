//! The page of languages, `docs/languages.md`, is written from the tables, and every cell
//! on it is read.
//!
//! `WRITE_LANGUAGES=1 cargo test -p metachron-core --test languages` writes it.

#[path = "locale/reading.rs"]
mod reading;
#[path = "locale/writing.rs"]
mod writing;

use metachron_core::form::{Form, Order};
use metachron_core::locale::{Tag, locales, patterns, short_dates};
use metachron_core::stamp::Kind;
use reading::read;
use std::fmt::Write;
use writing::written;

const PATH: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/languages.md");

const HEAD: &str = "\
# Languages

Dates and times of every language of CLDR that are read with `--read-locale TAG`, and
without it where a column's names say which language it is. The day is Tuesday,
5 March 2024, the time 14:30:00. Of each language's patterns, the page shows the longest
ones of a day, of a day with a time, and of a time; `metachron locales TAG` lists them all.
Behind them, how many there are: those that ICU4X formats with, those of CLDR's editions
36 to 48, those of the GNU C Library, and some that people write (`docs/forms.md` says
more). Languages that write another calendar are shown in the Gregorian one
(`TAG-u-ca-gregory`). Those that ICU4X has no data of are read by their names in CLDR, and
shown without them.

This page is written from the tables by a test, which also reads every cell on it.

| language | a day | a day and a time | a time | patterns |
|---|---|---|---|---|
";

/// The languages of CLDR, perhaps in a script, without regions.
fn languages() -> impl Iterator<Item = &'static str> {
    locales().filter(|tag| tag.split('-').skip(1).all(|part| part.len() == 4))
}

/// The day, with and without the time, and the time alone.
const KINDS: [(Kind, &str); 3] = [
    (Kind::Date, "2024-03-05"),
    (Kind::DateTime, "2024-03-05T14:30:00"),
    (Kind::Time, "14:30:00"),
];

/// The longest cell of this kind among those that `tag` writes and that are read as
/// `wanted`. ICU4X writes `M03` and `Tue` where it has no names.
fn longest(tag: &Tag, kind: Kind, wanted: &str, patterns: &[String]) -> Option<String> {
    let of_kind = patterns.iter().filter(|pattern| {
        let form: Result<Form, _> = pattern.parse();
        form.is_ok_and(|form| form.kind() == kind)
    });
    let instant = ["2024-03-05T14:30:00".to_owned()];
    let cells = of_kind.filter_map(|pattern| written(tag, pattern, &instant)?.pop());
    let has_names = |cell: &String| {
        !cell.contains("M03") && (!cell.contains("Tue") || tag.to_string().starts_with("en"))
    };
    let mut cells: Vec<String> = cells.filter(has_names).collect();
    cells.sort_by_key(|cell| std::cmp::Reverse(cell.chars().count()));
    let is_read = |cell: &String| read(tag, std::slice::from_ref(cell)) == [wanted];
    cells.into_iter().find(is_read)
}

fn page() -> String {
    let mut page = HEAD.to_owned();
    for name in languages() {
        let tag: Tag = format!("{name}-u-ca-gregory").parse().expect("a tag");
        let patterns = patterns(&tag, tag.calendar());
        let cells = KINDS.map(|(kind, wanted)| {
            let cell = longest(&tag, kind, wanted, &patterns);
            cell.map_or_else(String::new, |cell| format!("`` {cell} ``"))
        });
        let [day, both, time] = cells;
        writeln!(
            page,
            "| `{name}` | {day} | {both} | {time} | {} |",
            patterns.len()
        )
        .unwrap();
    }
    page
}

#[test]
fn the_page_of_languages_is_what_the_tables_write() {
    let page = page();
    if std::env::var_os("WRITE_LANGUAGES").is_some() {
        std::fs::write(PATH, &page).unwrap();
    }
    let kept = std::fs::read_to_string(PATH).unwrap();
    let differs = kept
        .lines()
        .zip(page.lines())
        .find(|(one, other)| one != other);
    assert_eq!(differs, None, "WRITE_LANGUAGES=1 writes it");
    assert!(kept == page, "WRITE_LANGUAGES=1 writes it");
}

#[test]
fn every_cell_on_the_page_is_read() {
    let page = std::fs::read_to_string(PATH).unwrap();
    let mut unread = Vec::new();
    for line in page.lines().filter(|line| line.starts_with("| `")) {
        let parts: Vec<&str> = line.split(" | ").collect();
        let name = parts[0].trim_start_matches("| ").trim_matches('`');
        let tag: Tag = format!("{name}-u-ca-gregory").parse().unwrap();
        for (cell, (_, wanted)) in parts[1..4].iter().zip(KINDS) {
            let cell = cell.trim_matches('`').trim();
            if cell.is_empty() {
                continue;
            }
            let found = read(&tag, &[cell.to_owned()]);
            if found != [wanted] {
                unread.push(format!("{name}: {cell} is {wanted}, not {}", found[0]));
            }
        }
    }
    assert!(
        unread.is_empty(),
        "{}:\n{}",
        unread.len(),
        unread.join("\n")
    );
}

#[test]
fn orders_that_changed_are_those_of_the_page_of_forms() {
    let changed = |tag: &str| -> Vec<Order> {
        let dates = short_dates(&tag.parse().unwrap()).into_iter();
        let forms = dates.filter_map(|(pattern, _)| {
            pattern
                .replace("y", "yy")
                .replace("yyyy", "yy")
                .parse::<Form>()
                .ok()
        });
        forms.filter_map(|form| form.order()).collect()
    };
    assert_eq!(changed("kn"), [Order::Mdy, Order::Dmy]);
    assert_eq!(changed("en-PH"), [Order::Dmy, Order::Mdy]);
}
