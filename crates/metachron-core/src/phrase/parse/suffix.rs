//! What is said behind a value: `in zone "Europe/Riga"`, `in hours`,
//! `as text "d.M."`, `rounded down to hour`.

use super::{Parsed, Parser, no_unit};
use crate::phrase::error::Wrong;
use crate::phrase::expr::{Expr, Grain, Say};
use crate::phrase::number::Way;
use crate::phrase::token::What;
use crate::phrase::unit::{Counting, Unit};
use crate::stamp::Kind;
use crate::words::{list, nearest};

/// What can be said behind a value.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Suffixes {
    All,
    /// Those that make a stamp of a stamp, but for rounding.
    OfEnds,
}

impl Parser<'_> {
    /// A sum, and what is said behind it.
    pub(super) fn shown(&mut self) -> Parsed {
        self.suffixed(Suffixes::All)
    }

    /// An end of a time between: `hours from A to B rounded to 1 decimal` rounds
    /// the hours, and not B.
    pub(super) fn end(&mut self) -> Parsed {
        self.suffixed(Suffixes::OfEnds)
    }

    fn suffixed(&mut self, suffixes: Suffixes) -> Parsed {
        let start = self.start();
        let mut one = self.sum()?;
        loop {
            one = if self.take(&["in", "zone"]) {
                let zone = self.value()?;
                self.node(start, Say::InZone(Box::new(one), Box::new(zone)))?
            } else if self.take(&["as"]) {
                self.as_target(start, one)?
            } else if suffixes == Suffixes::OfEnds {
                return Ok(one);
            } else if self.is(&["in"]) && *self.ahead(1) != What::Symbol("(") {
                self.next();
                self.in_unit(start, one)?
            } else if self.take(&["rounded"]) {
                self.rounded(start, one)?
            } else {
                return Ok(one);
            };
        }
    }

    fn in_unit(&mut self, start: usize, one: Expr) -> Parsed {
        if self.is(&["locale"]) {
            return Err(self.wrong(
                "only names, texts and dates made of names have a locale: `month name of X in \
                 locale \"fr\"`",
            ));
        }
        let counting = self.counting();
        let unit = match *self.what() {
            What::Word(word) => match Unit::named(word) {
                Some(unit) => unit,
                None => return Err(Wrong::new(self.at(), in_what(word, counting))),
            },
            What::Text(_) => {
                return Err(self.wrong("write `in zone` or `in locale` before a text like this"));
            }
            _ => return Err(self.wanted("`zone`, a unit, or a list between ( and )")),
        };
        self.next();
        self.node(start, Say::InUnit(Box::new(one), counting, unit))
    }

    fn as_target(&mut self, start: usize, one: Expr) -> Parsed {
        let What::Word(word) = *self.what() else {
            return Err(self.wanted("a kind, `text`, `count` or `number`"));
        };
        let at = self.at().clone();
        self.next();
        let one = Box::new(one);
        let say = match word {
            "text" => {
                let pattern = match self.what() {
                    What::Text(_) => Some(self.quoted("a pattern")?),
                    _ => None,
                };
                let locale = self.locale()?;
                let zone = if self.take(&["in", "zone"]) {
                    Some(self.quoted("a zone")?)
                } else {
                    None
                };
                Say::AsText(one, pattern, locale, zone)
            }
            "count" => Say::AsCount(one, self.quoted("a count, such as \"unix-s\",")?),
            "number" => Say::AsNumber(one),
            "instant" => {
                if !self.take(&["in", "zone"]) {
                    return Err(self.wanted("`in zone` and the zone whose clocks are meant"));
                }
                let zone = self.value()?;
                Say::AsInstant(one, Box::new(zone))
            }
            _ => match Kind::ALL.into_iter().find(|kind| kind.name() == word) {
                Some(kind) => Say::AsKind(one, kind),
                None => {
                    let names = Kind::ALL.map(Kind::name);
                    let names: Vec<&str> = names
                        .into_iter()
                        .chain(["text", "count", "number"])
                        .collect();
                    let hint = match nearest(word, names.iter().copied()) {
                        Some(near) => format!("did you mean `{near}`?"),
                        None => format!("there are {}", list(&names, "and")),
                    };
                    return Err(Wrong::new(&at, format!("`{word}` is no kind; {hint}")));
                }
            },
        };
        self.node(start, say)
    }

    fn rounded(&mut self, start: usize, one: Expr) -> Parsed {
        let way = match () {
            _ if self.take(&["down"]) => Way::Down,
            _ if self.take(&["up"]) => Way::Up,
            _ => Way::Nearest,
        };
        self.want("to", "and what it is rounded to")?;
        if way == Way::Nearest {
            self.take(&["nearest"]);
        }
        let amount = match *self.what() {
            What::Number(number) => {
                let amount = number.whole().and_then(|amount| u32::try_from(amount).ok());
                let amount = amount.ok_or_else(|| self.wrong("a whole number is wanted here"))?;
                self.next();
                amount
            }
            _ => 1,
        };
        let What::Word(word) = *self.what() else {
            return Err(self.wanted("a unit, or `decimals`,"));
        };
        let grain = match (word, Unit::named(word)) {
            ("decimal" | "decimals", _) => Grain::Decimals,
            (_, Some(_)) if amount == 0 => return Err(self.wrong("0 is nothing to round to")),
            (_, Some(unit)) => Grain::Unit(unit),
            (_, None) => return Err(Wrong::new(self.at(), no_unit(word))),
        };
        self.next();
        self.node(start, Say::Rounded(Box::new(one), way, amount, grain))
    }
}

/// What is said of `in` and a word that is no unit.
fn in_what(word: &str, counting: Counting) -> String {
    match (nearest(word, ["zone", "locale"]), counting) {
        (Some(near), Counting::Exact) if Unit::named(word).is_none() => {
            format!("`{word}` cannot follow `in`; did you mean `in {near}`?")
        }
        _ => no_unit(word),
    }
}
