//! Words of no language that stand where other cells of a column have names.

use crate::lex::{Class, Lexed, Lexer, Shape, Words};
use crate::locale::{Names, Roles};
use std::collections::BTreeSet;
use std::ops::Range;

/// Words that are known in no language, in lower case.
#[derive(Debug, Default)]
pub(super) struct UnknownWords {
    /// Those that stand where other cells have the name of a month or a weekday.
    pub names: BTreeSet<String>,
    /// Those that stand where other cells have a part of the day.
    pub parts_of_day: BTreeSet<String>,
    /// Words that stand inside dates elsewhere, where other cells have a month or a
    /// weekday: `Di` and `Do`, among `Mo` and `Mi`.
    pub fillers: BTreeSet<String>,
}

impl UnknownWords {
    /// All of them.
    pub fn iter(&self) -> impl Iterator<Item = &String> {
        self.names.iter().chain(&self.parts_of_day)
    }
}

/// Where the names stand in the cells of a column.
pub(super) struct NamePlaces(Vec<Vec<Part>>);

/// A part of a cell: words that follow each other are one part, as a name of several
/// words is. The point behind a word belongs to it, as that of a short name does.
#[derive(Clone, Debug)]
struct Part {
    class: Class,
    /// Where it stands, in bytes.
    place: Range<usize>,
}

impl NamePlaces {
    /// Those of `shapes`.
    pub fn in_shapes<'s>(shapes: impl IntoIterator<Item = &'s Shape>) -> NamePlaces {
        let parts = |shape: &Shape| parts(shape.classes().iter().map(|&class| (class, 0..0)));
        NamePlaces::of(shapes.into_iter().map(parts))
    }

    /// Those of texts.
    pub fn in_texts(texts: &[&str]) -> NamePlaces {
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let parts = |text: &&str| Some(parts_of(&lexer.lex(text).ok()?));
        NamePlaces::of(texts.iter().filter_map(parts))
    }

    fn of(cells: impl Iterator<Item = Vec<Part>>) -> NamePlaces {
        let has_names = |parts: &Vec<Part>| parts.iter().any(Part::is_name);
        NamePlaces(cells.filter(has_names).collect())
    }

    /// Whether `text` has names or words in these places, and else is as the cells that
    /// have names in them.
    pub fn fit(&self, text: &str) -> bool {
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let cell = lexer.lex(text);
        cell.is_ok_and(|cell| self.find(&parts_of(&cell)).is_some())
    }

    /// The unknown words of `texts` that stand in these places.
    pub fn unknown_words<'t>(&self, texts: impl IntoIterator<Item = &'t str>) -> UnknownWords {
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let mut unknown = UnknownWords::default();
        for text in texts {
            let Ok(cell) = lexer.lex(text) else {
                continue;
            };
            let own = parts_of(&cell);
            let Some(named) = self.find(&own) else {
                continue;
            };
            for (part, named) in own.iter().zip(named) {
                let Class::Name(roles) = named.class else {
                    continue;
                };
                let is_name = roles.has(Roles::MONTH) || roles.has(Roles::WEEKDAY);
                let words = match part.class {
                    Class::Word if is_name => &mut unknown.names,
                    Class::Word => &mut unknown.parts_of_day,
                    Class::Filler(_) if is_name => &mut unknown.fillers,
                    _ => continue,
                };
                words.insert(cell.text()[part.place.clone()].to_lowercase());
            }
        }
        unknown
    }

    fn find(&self, own: &[Part]) -> Option<&Vec<Part>> {
        let is_alike = |named: &&Vec<Part>| {
            let mut both = own.iter().zip(named.iter());
            own.len() == named.len()
                && both.all(|(own, named)| {
                    own.class == named.class || named.is_name() && (own.is_word() || own.is_name())
                })
        };
        self.0.iter().find(is_alike)
    }
}

impl Part {
    fn is_name(&self) -> bool {
        matches!(self.class, Class::Name(_))
    }

    fn is_word(&self) -> bool {
        matches!(self.class, Class::Word | Class::Filler(_))
    }
}

fn parts_of(cell: &Lexed<'_>) -> Vec<Part> {
    let tokens = cell.tokens().iter();
    parts(tokens.map(|token| (token.class, token.start as usize..token.end as usize)))
}

fn parts(tokens: impl Iterator<Item = (Class, Range<usize>)>) -> Vec<Part> {
    let mut parts: Vec<Part> = Vec::new();
    for (class, place) in tokens {
        match (&mut parts[..], class) {
            ([.., word], Class::Symbol('.')) if word.is_word() => {}
            ([.., word, space], Class::Word)
                if (word.class, space.class) == (Class::Word, Class::Space) =>
            {
                word.place.end = place.end;
                parts.pop();
            }
            _ => parts.push(Part { class, place }),
        }
    }
    parts
}

#[cfg(test)]
mod tests {
    use super::*;

    fn unknown(texts: &[&str]) -> (Vec<String>, Vec<String>) {
        let unknown = NamePlaces::in_texts(texts).unknown_words(texts.iter().copied());
        let [names, parts] = [unknown.names, unknown.parts_of_day];
        (names.into_iter().collect(), parts.into_iter().collect())
    }

    #[test]
    fn words_in_the_places_of_names() {
        let (names, parts) = unknown(&["9 apr. 1997", "13 Xquj. 2008", "13 vor der 2008", "tbc"]);
        assert_eq!(names, ["vor der", "xquj"]);
        assert!(parts.is_empty());
        let (names, parts) = unknown(&["3:25 PM", "3:25 xm", "3:25:00 ym"]);
        assert!(names.is_empty());
        assert_eq!(parts, ["xm"]);
        assert_eq!(unknown(&["13 Xquj. 2008", "9 voz. 1997"]).0, [""; 0]);
    }
}
