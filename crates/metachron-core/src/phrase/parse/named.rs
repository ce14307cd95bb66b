//! What begins with words: `year of due`, `whole days from out to back`.

use super::{Parsed, Parser, RESERVED, no_unit};
use crate::phrase::error::Wrong;
use crate::phrase::expr::{Expr, Quoted, Say, Since};
use crate::phrase::function::Function;
use crate::phrase::token::What;
use crate::phrase::unit::{Counting, Unit};
use crate::stamp::Kind;
use crate::words::{list, nearest};

impl<'p> Parser<'p> {
    /// What begins with `word`: a column, if nothing else.
    pub(super) fn worded(&mut self, word: &'p str) -> Parsed {
        let start = self.start();
        if let Some(call) = self.call()? {
            return Ok(call);
        }
        if let Some(counted) = self.counted()? {
            return Ok(counted);
        }
        if self.take(&["today"]) {
            return self.today(start);
        }
        let say = match word {
            "now" => Say::Now,
            "blank" => Say::Blank,
            "true" => Say::Truth(true),
            "false" => Say::Truth(false),
            "if" => return Err(self.wrong("put `if` between ( and ) inside another phrase")),
            _ if RESERVED.contains(&word) => {
                return Err(self.wrong(format!(
                    "`{word}` stands where a value is wanted; a column of that name stands \
                     between backticks"
                )));
            }
            _ => Say::Column(word.to_owned()),
        };
        self.next();
        self.node(start, say)
    }

    /// What a word such as `of` is followed by: a value, perhaps in a zone.
    fn operand(&mut self) -> Parsed {
        self.nested(|parser| {
            let start = parser.start();
            let mut one = parser.primary()?;
            while parser.take(&["in", "zone"]) {
                let zone = parser.value()?;
                one = parser.node(start, Say::InZone(Box::new(one), Box::new(zone)))?;
            }
            Ok(one)
        })
    }

    /// A call of a function: `date from Y, M, D in locale "fr"`
    fn call(&mut self) -> Result<Option<Expr>, Wrong> {
        let start = self.start();
        // `day of year of X` begins like `day of X`: the longest words count.
        let functions = Function::all().filter_map(|function| {
            let words: Vec<&str> = function.words.split(' ').collect();
            self.is(&words).then_some((words.len(), function))
        });
        let Some((words, function)) = functions.max_by_key(|(words, _)| *words) else {
            return match self.no_part() {
                Some(wrong) => Err(wrong),
                None => Ok(None),
            };
        };
        (0..words).for_each(|_| self.next());
        let arguments = self.arguments(function)?;
        let locale = if function.localized {
            self.locale()?
        } else {
            None
        };
        self.node(start, Say::Call(function, arguments, locale))
            .map(Some)
    }

    fn arguments(&mut self, function: &Function) -> Result<Vec<Expr>, Wrong> {
        let mut arguments = Vec::new();
        for (index, parameter) in function.parameters.iter().enumerate() {
            let is_optional = index >= function.parameters.len() - function.optional;
            match (index, function.link) {
                (0, _) => {}
                (_, ",") if self.take_symbol(",") => {}
                (_, ",") if is_optional => break,
                (_, ",") => {
                    let rest = function
                        .parameters
                        .iter()
                        .map(|one| one.name.to_lowercase());
                    let rest: Vec<String> = rest.collect();
                    let rest = list(&rest, "and");
                    return Err(self.wanted(&format!("a comma and the rest of {rest}")));
                }
                (_, link) => {
                    let name = parameter.name.to_lowercase();
                    let usage = function.usage();
                    self.want(link, &format!("and the {name}, as in `{usage}`"))?;
                }
            }
            arguments.push(match function.link {
                "," => self.nested(Self::sum)?,
                _ => self.operand()?,
            });
        }
        Ok(arguments)
    }

    /// What is wrong with `WORD of`, where no function is called so.
    fn no_part(&self) -> Option<Wrong> {
        let (What::Word(word), What::Word("of")) = (self.what(), self.ahead(1)) else {
            return None;
        };
        if RESERVED.contains(word) {
            return None;
        }
        let names: Vec<&str> = Function::parts().collect();
        Some(self.wrong(if Unit::named(word).is_some() {
            format!(
                "a value has one {0}: write `{0} of`; a length of time is counted with `X in \
                 {word}`",
                word.trim_end_matches('s')
            )
        } else {
            match nearest(word, names.iter().copied()) {
                Some(near) => format!("no part is called `{word}`; did you mean `{near} of`?"),
                None => format!(
                    "no part is called `{word}`; there are {}",
                    list(&names, "and")
                ),
            }
        }))
    }

    /// `today in zone ZONE`: the day that is now there.
    fn today(&mut self, start: usize) -> Parsed {
        if !self.take(&["in", "zone"]) {
            return Err(self.wanted("`in zone` and whose day is meant"));
        }
        let zone = self.value()?;
        let now = self.node(start, Say::Now)?;
        let there = self.node(start, Say::InZone(Box::new(now), Box::new(zone)))?;
        self.node(start, Say::AsKind(Box::new(there), Kind::Date))
    }

    /// `in locale "fr"`, if it is next.
    pub(super) fn locale(&mut self) -> Result<Option<Quoted>, Wrong> {
        if self.take(&["in", "locale"]) {
            self.quoted("a locale").map(Some)
        } else {
            Ok(None)
        }
    }

    /// `whole days from A to B`, `hours since first X`
    fn counted(&mut self) -> Result<Option<Expr>, Wrong> {
        let start = self.start();
        let counting = self.counting();
        let What::Word(word) = *self.what() else {
            return match counting {
                Counting::Exact => Ok(None),
                _ => Err(self.wanted("a unit")),
            };
        };
        let is_link = matches!(self.ahead(1), What::Word("from" | "since"));
        let unit = match Unit::named(word) {
            Some(unit) if is_link => unit,
            Some(_) if counting == Counting::Exact => return Ok(None),
            Some(_) => {
                self.next();
                return Err(
                    self.wanted("`from A to B`, or `since first`, `earliest` or `previous`,")
                );
            }
            None if counting == Counting::Exact && !is_link => return Ok(None),
            None if RESERVED.contains(&word) => return Err(self.wanted("a unit")),
            None => return Err(self.wrong(no_unit(word))),
        };
        self.next();
        if self.take(&["from"]) {
            let from = self.nested(Self::end)?;
            self.want("to", "and the end of the time between")?;
            let to = self.nested(Self::end)?;
            let say = Say::Between(counting, unit, Box::new(from), Box::new(to));
            return self.node(start, say).map(Some);
        }
        self.next();
        let since = match () {
            _ if self.take(&["first"]) => Since::First,
            _ if self.take(&["earliest"]) => Since::Earliest,
            _ if self.take(&["previous"]) => Since::Previous,
            _ => {
                return Err(self.wanted(
                    "`first`, `earliest` or `previous` (between two values, write `from A to B`)",
                ));
            }
        };
        let column = self.value()?;
        let say = Say::Since(counting, unit, since, Box::new(column));
        self.node(start, say).map(Some)
    }

    pub(super) fn counting(&mut self) -> Counting {
        match () {
            _ if self.take(&["whole"]) => Counting::Whole,
            _ if self.take(&["nearest"]) => Counting::Nearest,
            _ => Counting::Exact,
        }
    }
}
