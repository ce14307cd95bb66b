//! Forms with optional parts, as the plain forms that they stand for.
//!
//! `yyyy-MM-dd[ HH:mm[:ss]]` stands for three: with seconds, without, and
//! without a time.

use super::Item;

/// A form may stand for so many plain ones.
pub(super) const MOST_VERSIONS: usize = 32;

/// How many plain forms `items` stand for; more than [`MOST_VERSIONS`] are
/// not counted to the end.
pub(super) fn count(items: &[Item]) -> usize {
    items.iter().fold(1, |count: usize, item| match item {
        Item::Optional(part) if count <= MOST_VERSIONS => count * (1 + self::count(part)),
        _ => count,
    })
}

/// The plain forms that `items` stand for, the fullest first.
pub(super) fn versions(items: &[Item]) -> Vec<Vec<Item>> {
    let mut found: Vec<Vec<Item>> = vec![Vec::new()];
    for item in items {
        match item {
            Item::Field(field) => {
                found
                    .iter_mut()
                    .for_each(|version| version.push(Item::Field(*field)));
            }
            Item::Literal(text) => {
                found
                    .iter_mut()
                    .for_each(|version| Item::push_literal(version, text));
            }
            Item::Optional(part) => {
                let parts = versions(part);
                let with = found.iter().flat_map(|version| {
                    let joined = parts.iter().map(move |part| join(version, part));
                    joined.chain([version.clone()])
                });
                found = with.collect();
            }
        }
    }
    found
}

fn join(version: &[Item], part: &[Item]) -> Vec<Item> {
    let mut joined = version.to_vec();
    for item in part {
        match item {
            Item::Literal(text) => Item::push_literal(&mut joined, text),
            other => joined.push(other.clone()),
        }
    }
    joined
}

#[cfg(test)]
mod tests {
    use crate::form::{Conventions, Form};
    use crate::lex::Lexer;

    #[test]
    fn parts_that_may_be_missing() {
        for (pattern, cell, stamp) in [
            (
                "yyyy-MM-dd[ HH:mm[:ss]]",
                "2024-03-05 14:30:15",
                Some("2024-03-05T14:30:15"),
            ),
            (
                "yyyy-MM-dd[ HH:mm[:ss]]",
                "2024-03-05 14:30",
                Some("2024-03-05T14:30:00"),
            ),
            ("yyyy-MM-dd[ HH:mm[:ss]]", "2024-03-05", Some("2024-03-05")),
            ("yyyy-MM-dd[ HH:mm[:ss]]", "2024-03-05 14", None),
            ("[EEE, ]d MMM yyyy", "Tue, 5 Mar 2024", Some("2024-03-05")),
            ("[EEE, ]d MMM yyyy", "5 Mar 2024", Some("2024-03-05")),
            ("[EEE, ]d MMM yyyy", ", 5 Mar 2024", None),
            ("yyyy[-MM[-dd]]", "2024", Some("2024")),
            ("yyyy[-MM[-dd]]", "2024-03", Some("2024-03")),
            ("dd/MM[/yyyy]", "05/03/2024", Some("2024-03-05")),
            ("[ca. ]yyyy-MM-dd", "ca. 2024-03-05", None),
            ("['ca.' ]yyyy-MM-dd", "ca. 2024-03-05", Some("2024-03-05")),
            (
                "'['dd/MMM/yyyy:HH:mm:ss XX']'",
                "[05/Mar/2024:14:30:00 +0100]",
                Some("2024-03-05T13:30:00Z"),
            ),
            ("d. [MMM]['Monat' M] yyyy", "5. Mar 2024", None),
        ] {
            let Ok(form) = pattern.parse::<Form>() else {
                assert_eq!(stamp, None, "{pattern}");
                continue;
            };
            let mut lexer = Lexer::default();
            let lexed = lexer.lex(cell).unwrap();
            let read = form.fit(&lexed.shape()).map(|reader| {
                reader
                    .read(&lexed, Conventions::default())
                    .unwrap()
                    .to_string()
            });
            assert_eq!(read.as_deref(), stamp, "{pattern} on {cell}");
        }
    }

    #[test]
    fn the_fullest_version_comes_first() {
        let form: Form = "yyyy[-MM[-dd]]".parse().unwrap();
        let versions = super::versions(form.items()).into_iter();
        let texts: Vec<String> = versions.map(|items| Form::of(items).to_string()).collect();
        assert_eq!(texts, ["yyyy-MM-dd", "yyyy-MM", "yyyy"]);
    }
}
