//! What begins with words: `year of due`, `whole days from out to back`.

use super::{Parsed, Parser, RESERVED, no_unit};
use crate::phrase::error::Wrong;
use crate::phrase::expr::{
    Counting, Edge, Expr, Made, Named, Part, Period, Quoted, Say, Since, Unit,
};
use crate::phrase::token::What;

impl<'p> Parser<'p> {
    /// What begins with `word`: a column, if nothing else.
    pub(super) fn worded(&mut self, word: &'p str) -> Parsed {
        let start = self.start();
        if let Some(made) = self.part()? {
            return Ok(made);
        }
        if let Some(made) = self.edge()? {
            return Ok(made);
        }
        if let Some(made) = self.made()? {
            return Ok(made);
        }
        if let Some(made) = self.counted()? {
            return Ok(made);
        }
        if self.take(&["age", "of"]) {
            let born = self.operand()?;
            self.want("on", "and a day, as in `age of born on visit`")?;
            let day = self.operand()?;
            return self.node(start, Say::Age(Box::new(born), Box::new(day)));
        }
        if self.take(&["today"]) {
            if !self.take(&["in", "zone"]) {
                return Err(self.wanted("`in zone` and whose day is meant"));
            }
            let zone = self.value()?;
            return self.node(start, Say::Today(Box::new(zone)));
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

    /// `year of X`, `month name of X in locale "fr"`
    fn part(&mut self) -> Result<Option<Expr>, Wrong> {
        let start = self.start();
        for (named, word) in [(Named::Month, "month"), (Named::Weekday, "weekday")] {
            if self.take(&[word, "name", "of"]) {
                let one = self.operand()?;
                let locale = self.locale()?;
                return self
                    .node(start, Say::Name(named, Box::new(one), locale))
                    .map(Some);
            }
        }
        // The longer first: `day of year of X`, `week year of X`.
        let mut parts = Part::ALL.to_vec();
        parts.sort_by_key(|(_, name)| std::cmp::Reverse(name.len()));
        for (part, name) in parts {
            let words: Vec<&str> = name.split(' ').chain(["of"]).collect();
            if self.take(&words) {
                let one = self.operand()?;
                return self.node(start, Say::Part(part, Box::new(one))).map(Some);
            }
        }
        if let (What::Word(word), What::Word("of")) = (self.what(), self.ahead(1))
            && !RESERVED.contains(word)
        {
            let is_edge = ["first", "last", "age"].contains(word);
            let names = Part::ALL.map(|(_, name)| name);
            let several = Unit::named(word).is_some() && !names.contains(word);
            return match is_edge {
                true => Ok(None),
                false if several => Err(self.wrong(format!(
                    "a value has one {0}: write `{0} of`; a length of time is counted with \
                     `X in {word}`",
                    word.trim_end_matches('s')
                ))),
                false => Err(self.wrong(match crate::words::nearest(word, names) {
                    Some(near) => format!("no part is called `{word}`; did you mean `{near} of`?"),
                    None => format!(
                        "no part is called `{word}`; there are {}",
                        crate::words::list(&names, "and")
                    ),
                })),
            };
        }
        Ok(None)
    }

    /// `in locale "fr"`, if it is next.
    pub(super) fn locale(&mut self) -> Result<Option<Quoted>, Wrong> {
        if self.take(&["in", "locale"]) {
            self.quoted("a locale").map(Some)
        } else {
            Ok(None)
        }
    }

    /// `first day of month of X`, `last day of X`
    fn edge(&mut self) -> Result<Option<Expr>, Wrong> {
        let start = self.start();
        let edge = match () {
            _ if self.take(&["first", "day", "of"]) => Edge::First,
            _ if self.take(&["last", "day", "of"]) => Edge::Last,
            _ => return Ok(None),
        };
        let periods = [
            (Period::Week, "week"),
            (Period::Month, "month"),
            (Period::Quarter, "quarter"),
            (Period::Year, "year"),
        ];
        let period = periods
            .into_iter()
            .find(|(_, word)| self.take(&[word, "of"]))
            .map(|(period, _)| period);
        let one = self.operand()?;
        self.node(start, Say::Edge(edge, period, Box::new(one)))
            .map(Some)
    }

    /// `date from Y, M, D in locale "fr"`
    fn made(&mut self) -> Result<Option<Expr>, Wrong> {
        let start = self.start();
        let (made, counts, what) = match () {
            _ if self.take(&["date", "from"]) => (Made::Date, 3..=3, "year, month and day"),
            _ if self.take(&["time", "from"]) => {
                (Made::Time, 2..=3, "hour, minute and perhaps second")
            }
            _ if self.take(&["datetime", "from"]) => {
                (Made::DateTime, 2..=2, "a date and a time of day")
            }
            _ => return Ok(None),
        };
        let mut parts = vec![self.nested(Self::sum)?];
        while parts.len() < *counts.end() && self.take_symbol(",") {
            parts.push(self.nested(Self::sum)?);
        }
        if !counts.contains(&parts.len()) {
            return Err(self.wanted(&format!("a comma and the rest of {what}")));
        }
        let locale = match made {
            Made::Date => self.locale()?,
            Made::Time | Made::DateTime => None,
        };
        self.node(start, Say::Made(made, parts, locale)).map(Some)
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
