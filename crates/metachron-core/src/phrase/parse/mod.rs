//! From text to what it says: the grammar, level by level, each of which
//! binds tighter than the one above it. docs/phrases.md writes it down.

mod named;
mod policy;
mod suffix;
mod wanted;

use super::error::{Span, Wrong};
use super::expr::{Comparison, Expr, Quoted, Say, Scaling, Sign};
use super::function::TESTS;
use super::policy::Policies;
use super::token::{Token, What, tokens};
use super::unit::Unit;
use wanted::{no_unit, too_deep};

/// More is nested by a program, and might run out of stack.
const DEEPEST: usize = 100;

/// Words that are no columns unless they stand between backticks.
const RESERVED: [&str; 24] = [
    "if",
    "then",
    "else",
    "otherwise",
    "and",
    "or",
    "not",
    "between",
    "in",
    "is",
    "as",
    "of",
    "from",
    "to",
    "on",
    "since",
    "rounded",
    "now",
    "today",
    "blank",
    "true",
    "false",
    "whole",
    "nearest",
];

/// What `text` says, and the policies that it states.
pub(super) fn parse(text: &str) -> Result<(Expr, Policies), Wrong> {
    let mut parser = Parser {
        tokens: tokens(text)?,
        index: 0,
        nested: 0,
    };
    let expr = parser.choice()?;
    let policies = parser.policies()?;
    match parser.what() {
        What::End => Ok((expr, policies)),
        _ => Err(parser.left_over()),
    }
}

struct Parser<'p> {
    tokens: Vec<Token<'p>>,
    index: usize,
    nested: usize,
}

type Parsed = Result<Expr, Wrong>;

impl<'p> Parser<'p> {
    fn what(&self) -> &What<'p> {
        &self.tokens[self.index].what
    }

    /// The token so many behind the next one.
    fn ahead(&self, by: usize) -> &What<'p> {
        let last = self.tokens.len() - 1;
        &self.tokens[(self.index + by).min(last)].what
    }

    fn at(&self) -> &Span {
        &self.tokens[self.index].at
    }

    /// The index of what started at `start` and has been parsed to its end.
    fn since(&self, start: usize) -> Span {
        let end = self.tokens[self.index.max(1) - 1].at.end;
        start..end.max(start)
    }

    fn next(&mut self) {
        self.index = (self.index + 1).min(self.tokens.len() - 1);
    }

    fn is(&self, words: &[&str]) -> bool {
        let mut words = words.iter().enumerate();
        words.all(|(by, word)| *self.ahead(by) == What::Word(word))
    }

    /// Passes `words` over, if they are next.
    fn take(&mut self, words: &[&str]) -> bool {
        let is = self.is(words);
        if is {
            words.iter().for_each(|_| self.next());
        }
        is
    }

    fn take_symbol(&mut self, symbol: &'static str) -> bool {
        let is = *self.what() == What::Symbol(symbol);
        if is {
            self.next();
        }
        is
    }

    /// Passes over what has to come next.
    fn want(&mut self, word: &str, why: &str) -> Result<(), Wrong> {
        if self.take(&[word]) {
            Ok(())
        } else {
            Err(self.wanted_because(&format!("`{word}`"), why))
        }
    }

    fn want_symbol(&mut self, symbol: &'static str, why: &str) -> Result<(), Wrong> {
        if self.take_symbol(symbol) {
            Ok(())
        } else {
            Err(self.wanted_because(&format!("`{symbol}`"), why))
        }
    }

    fn node(&self, start: usize, say: Say) -> Parsed {
        let mut depth = 0;
        say.each(&mut |part| depth = depth.max(part.depth));
        let at = self.since(start);
        if depth < DEEPEST {
            Ok(Expr {
                say,
                at,
                depth: depth + 1,
            })
        } else {
            Err(Wrong::new(&at, too_deep()))
        }
    }

    /// Parses what is nested in something else.
    fn nested(&mut self, parse: impl FnOnce(&mut Self) -> Parsed) -> Parsed {
        if self.nested == DEEPEST {
            return Err(self.wrong(too_deep()));
        }
        self.nested += 1;
        let parsed = parse(self);
        self.nested -= 1;
        parsed
    }

    fn start(&self) -> usize {
        self.at().start
    }

    /// `if A then B else C`, or what stands below.
    fn choice(&mut self) -> Parsed {
        self.nested(|parser| {
            let start = parser.start();
            let mut cases = Vec::new();
            while parser.take(&["if"]) {
                let test = parser.or()?;
                parser.want("then", "with what holds in that case")?;
                let then = if parser.is(&["if"]) {
                    return Err(parser.wrong("put `if` behind `then` between ( and )"));
                } else {
                    parser.otherwise()?
                };
                cases.push((test, then));
                parser.want("else", "with what holds otherwise, or `else blank`")?;
            }
            let last = parser.otherwise()?;
            if cases.is_empty() {
                Ok(last)
            } else {
                parser.node(start, Say::If(cases, Box::new(last)))
            }
        })
    }

    fn otherwise(&mut self) -> Parsed {
        self.chain("otherwise", Self::or, Say::Otherwise)
    }

    fn or(&mut self) -> Parsed {
        self.chain("or", Self::and, Say::Or)
    }

    fn and(&mut self) -> Parsed {
        self.chain("and", Self::not, Say::And)
    }

    /// One or more of `part`, with `word` between them.
    fn chain(
        &mut self,
        word: &str,
        part: fn(&mut Self) -> Parsed,
        say: fn(Vec<Expr>) -> Say,
    ) -> Parsed {
        let start = self.start();
        let first = part(self)?;
        if !self.is(&[word]) {
            return Ok(first);
        }
        let mut all = vec![first];
        while self.take(&[word]) {
            all.push(part(self)?);
        }
        self.node(start, say(all))
    }

    fn not(&mut self) -> Parsed {
        let start = self.start();
        if !self.take(&["not"]) {
            return self.test();
        }
        let one = self.nested(Self::not)?;
        self.node(start, Say::Not(Box::new(one)))
    }

    /// A comparison or a test, or what stands below.
    fn test(&mut self) -> Parsed {
        let start = self.start();
        let one = self.shown()?;
        let comparison = match self.what() {
            What::Symbol("=") => Some(Comparison::Equal),
            What::Symbol("!=") => Some(Comparison::Unequal),
            What::Symbol("<") => Some(Comparison::Before),
            What::Symbol("<=") => Some(Comparison::BeforeOrEqual),
            What::Symbol(">") => Some(Comparison::After),
            What::Symbol(">=") => Some(Comparison::AfterOrEqual),
            _ => None,
        };
        if let Some(comparison) = comparison {
            self.next();
            let other = self.shown()?;
            let say = Say::Compared(comparison, Box::new(one), Box::new(other));
            return self.node(start, say);
        }
        if self.take(&["is"]) {
            return self.is_test(start, one);
        }
        let negated =
            (self.is(&["not", "between"]) || self.is(&["not", "in"])) && self.take(&["not"]);
        let say = if self.take(&["between"]) {
            let low = self.shown()?;
            self.want("and", "with the other end")?;
            let high = self.shown()?;
            Say::Within(Box::new(one), Box::new(low), Box::new(high))
        } else if self.take(&["in"]) {
            self.want_symbol("(", "before a list, such as (\"Riga\", \"Oslo\")")?;
            let all = self.list(Self::shown)?;
            self.want_symbol(")", "behind the list")?;
            Say::OneOf(Box::new(one), all)
        } else {
            return Ok(one);
        };
        let test = self.node(start, say)?;
        if negated {
            self.node(start, Say::Not(Box::new(test)))
        } else {
            Ok(test)
        }
    }

    fn is_test(&mut self, start: usize, one: Expr) -> Parsed {
        let negated = self.take(&["not"]);
        let test = TESTS.iter().find(|test| {
            let words: Vec<&str> = test.words.split(' ').collect();
            // `is weekday of due` compares numbers.
            self.is(&words) && *self.ahead(words.len()) != What::Word("of") && self.take(&words)
        });
        let say = if let Some(test) = test {
            Say::Is(Box::new(one), test)
        } else if self.take(&["blank"]) {
            Say::IsBlank(Box::new(one))
        } else {
            let other = self.shown()?;
            Say::Compared(Comparison::Equal, Box::new(one), Box::new(other))
        };
        let is = self.node(start, say)?;
        if negated {
            self.node(start, Say::Not(Box::new(is)))
        } else {
            Ok(is)
        }
    }

    fn list(&mut self, part: fn(&mut Self) -> Parsed) -> Result<Vec<Expr>, Wrong> {
        let mut all = vec![part(self)?];
        while self.take_symbol(",") {
            all.push(part(self)?);
        }
        Ok(all)
    }

    fn sum(&mut self) -> Parsed {
        let start = self.start();
        let mut sum = self.product()?;
        loop {
            let sign = match self.what() {
                What::Symbol("+") => Sign::Plus,
                What::Symbol("-") => Sign::Minus,
                _ => return Ok(sum),
            };
            self.next();
            let other = self.product()?;
            sum = self.node(start, Say::Sum(sign, Box::new(sum), Box::new(other)))?;
        }
    }

    fn product(&mut self) -> Parsed {
        let start = self.start();
        let mut product = self.primary()?;
        loop {
            let scaling = match self.what() {
                What::Symbol("*") => Scaling::By,
                What::Symbol("/") => Scaling::Over,
                _ => return Ok(product),
            };
            self.next();
            let other = self.primary()?;
            let say = Say::Product(scaling, Box::new(product), Box::new(other));
            product = self.node(start, say)?;
        }
    }

    /// A value, and the unit behind it that makes an amount of it.
    fn primary(&mut self) -> Parsed {
        let start = self.start();
        let one = self.value()?;
        let may_have_unit = matches!(
            one.say,
            Say::Number(_) | Say::Column(_) | Say::Sum(..) | Say::Product(..) | Say::Negated(_)
        );
        match *self.what() {
            What::Word(word) if may_have_unit => match Unit::named(word) {
                Some(unit) => {
                    self.next();
                    self.node(start, Say::Amount(Box::new(one), unit))
                }
                None => Ok(one),
            },
            _ => Ok(one),
        }
    }

    fn value(&mut self) -> Parsed {
        let start = self.start();
        let say = match self.what().clone() {
            What::Number(number) => Say::Number(number),
            What::Text(text) => Say::Text(text),
            What::Stamp(stamp) => Say::Stamp(stamp),
            What::Column(name) => Say::Column(name),
            What::Symbol("(") => {
                self.next();
                let one = self.choice()?;
                self.want_symbol(")", "to go with this phrase's `(`")?;
                return Ok(one);
            }
            What::Symbol("-") => {
                self.next();
                let one = self.nested(Self::primary)?;
                return self.node(start, Say::Negated(Box::new(one)));
            }
            What::Word(word) => return self.worded(word),
            What::Symbol(_) | What::End => return Err(self.wanted("a value")),
        };
        self.next();
        self.node(start, say)
    }

    /// A text that has to be a locale, a pattern or the like.
    fn quoted(&mut self, what: &str) -> Result<Quoted, Wrong> {
        let What::Text(text) = self.what() else {
            return Err(self.wanted(&format!("{what} between double quotes")));
        };
        let quoted = Quoted {
            text: text.clone(),
            at: self.at().clone(),
        };
        self.next();
        Ok(quoted)
    }
}
