//! From what a phrase says to what is done: names are looked up and types
//! checked before any row is read.

mod calendar;
mod function;
mod shown;
mod sum;
mod truth;

use super::error::{Span, Wrong};
use super::expr::{Expr, Grain, Quoted, Say};
use super::policy::Policies;
use super::run::{Clock, Op, Row, Step};
use super::value::{Type, Value};
use crate::locale::Tag;
use crate::stamp::{Kind, Stamp};
use crate::words::list;
use crate::zone::{OffsetSpans, SaidZones, Zones, zone_named};
use jiff::Timestamp;
use std::sync::Arc;

/// What a phrase can name.
pub struct Scope<'s> {
    /// Finds a column: its index in a row's values, and its type. Else says
    /// why there is none.
    pub column: &'s dyn Fn(&str) -> LexiconEntry,
    /// Zones by names of one's own.
    pub zones: Arc<Zones>,
    /// What counts as now.
    pub now: Timestamp,
}

/// The index of a column and its type, or why there is none.
pub type LexiconEntry = Result<(usize, Type), String>;

/// What comes of a part of a phrase.
type Checked = Result<(Type, Op), Wrong>;

/// Checks `expr` and makes it ready. Columns whose other rows it asks for are
/// added to `tracked`. Given besides are the columns of whose cells the text is
/// wanted, and not only the number that it is.
pub(super) fn check(
    expr: &Expr,
    policies: Policies,
    scope: &Scope<'_>,
    tracked: &mut Vec<usize>,
) -> Result<(Type, Op, Vec<usize>), Wrong> {
    let mut checker = Checker {
        scope,
        policies,
        tracked,
        texts: Vec::new(),
    };
    let (of, op) = checker.check(expr)?;
    Ok((of, op, checker.texts))
}

struct Checker<'c> {
    scope: &'c Scope<'c>,
    policies: Policies,
    tracked: &'c mut Vec<usize>,
    /// The slots of cells that are wanted as texts, once for each use.
    texts: Vec<usize>,
}

fn wrong<T>(at: &Span, message: impl Into<String>) -> Result<T, Wrong> {
    Err(Wrong::new(at, message))
}

impl Checker<'_> {
    /// What comes of `expr`: its value, where that is the same in every row.
    fn check(&mut self, expr: &Expr) -> Checked {
        let (of, mut op) = self.checked(expr)?;
        let row = Row {
            slots: &[],
            tracks: &[],
        };
        // What is refused is refused in every row, with its reason.
        let mut value = Value::Blank;
        if expr.is_constant() && op.eval(row, &mut value).is_ok() {
            op = Op::Value(value);
        }
        Ok((of, op))
    }

    fn checked(&mut self, expr: &Expr) -> Checked {
        let constant = |of, value| Ok((of, Op::Value(value)));
        match &expr.say {
            Say::Number(number) => constant(Type::Number, Value::Number(*number)),
            Say::Text(text) => constant(Type::Text, Value::Text(text.as_str().into())),
            Say::Stamp(stamp) => constant(Type::Stamp(stamp.kind()), Value::Stamp(*stamp)),
            Say::Truth(truth) => constant(Type::Truth, Value::Truth(*truth)),
            Say::Blank => constant(Type::Blank, Value::Blank),
            Say::Now => {
                let now = Value::Stamp(Stamp::Instant(self.scope.now));
                constant(Type::Stamp(Kind::Instant), now)
            }
            Say::Column(name) => match (self.scope.column)(name) {
                Ok((slot, of)) => {
                    if of == Type::Cell {
                        self.texts.push(slot);
                    }
                    Ok((of, Op::Slot(slot)))
                }
                Err(why) => wrong(&expr.at, why),
            },
            Say::Call(function, arguments, locale) => {
                self.call(function, arguments, locale.as_ref())
            }
            Say::Between(counting, unit, from, to) => self.between(*counting, *unit, from, to),
            Say::Since(counting, unit, since, column) => {
                self.since(*counting, *unit, *since, column)
            }
            Say::Rounded(one, way, amount, Grain::Unit(unit)) => {
                self.rounded(expr, one, *way, *amount, *unit)
            }
            Say::Rounded(one, way, decimals, Grain::Decimals) => {
                let number = self.number(one)?;
                Ok((
                    Type::Number,
                    Op::RoundedNumber(number.into(), *way, *decimals),
                ))
            }
            Say::Amount(one, unit) => {
                let number = self.number(one)?;
                Ok((
                    Type::Stamp(Kind::Duration),
                    Op::Amount(number.into(), *unit),
                ))
            }
            Say::InUnit(one, counting, unit) => {
                let length = self.of_kind(one, Kind::Duration, |found| {
                    format!(
                        "only a duration is counted in {}, and this is {found}; the time between \
                         two values is `{0} from A to B`",
                        unit.name()
                    )
                })?;
                Ok((Type::Number, Op::InUnit(length.into(), *counting, *unit)))
            }
            Say::InZone(one, zone) => self.in_zone(one, zone),
            Say::AsInstant(one, zone) => self.as_instant(one, zone),
            Say::AsKind(one, kind) => self.as_kind(expr, one, *kind),
            Say::AsNumber(one) => match self.check(one)? {
                (Type::Text, op) => Ok((Type::Number, Op::Number(op.into()))),
                checked => Ok((Type::Number, self.as_number(one, checked)?)),
            },
            Say::AsText(one, pattern, locale, zone) => {
                self.as_text(one, pattern.as_ref(), locale.as_ref(), zone.as_ref())
            }
            Say::AsCount(one, count) => self.as_count(one, count),
            Say::Negated(one) => match self.check(one)? {
                (Type::Number, op) => Ok((Type::Number, Op::Negated(op.into()))),
                (Type::Cell, op) => Ok((Type::Number, Op::Negated(self.number_of(op).into()))),
                (of @ Type::Stamp(Kind::Duration), op) => Ok((of, Op::Negated(op.into()))),
                (of, _) => wrong(
                    &one.at,
                    format!("{of} has no sign that could be turned round"),
                ),
            },
            Say::Sum(sign, one, other) => self.sum(expr, *sign, one, other),
            Say::Product(scaling, one, other) => self.product(*scaling, one, other),
            Say::Compared(comparison, one, other) => self.compared(expr, *comparison, one, other),
            Say::Within(one, low, high) => self.within(expr, one, low, high),
            Say::OneOf(one, all) => {
                let parts: Vec<&Expr> = std::iter::once(&**one).chain(all).collect();
                let (_, mut parts) = self.alike(&parts)?;
                let one = parts.remove(0);
                Ok((Type::Truth, Op::OneOf(one.into(), steps(parts))))
            }
            Say::IsBlank(one) => {
                let (_, op) = self.check(one)?;
                Ok((Type::Truth, Op::IsBlank(op.into())))
            }
            Say::Is(one, test) => self.is(one, test),
            Say::Not(one) => Ok((Type::Truth, Op::Not(self.truth(one)?.into()))),
            Say::And(all) => Ok((Type::Truth, Op::And(steps(self.truths(all)?)))),
            Say::Or(all) => Ok((Type::Truth, Op::Or(steps(self.truths(all)?)))),
            Say::If(cases, last) => {
                let mut tests = Vec::with_capacity(cases.len());
                let mut results = Vec::with_capacity(cases.len() + 1);
                for (test, then) in cases {
                    tests.push(self.truth(test)?);
                    results.push(then);
                }
                results.push(last);
                let (of, mut results) = self.alike(&results)?;
                let last = results.pop().unwrap_or(Op::Value(Value::Blank));
                let cases = steps(tests).into_iter().zip(steps(results)).collect();
                Ok((of, Op::If(cases, last.into())))
            }
            Say::Otherwise(all) => {
                let all: Vec<&Expr> = all.iter().collect();
                let (of, all) = self.alike(&all)?;
                Ok((of, Op::Otherwise(steps(all))))
            }
        }
    }

    /// A number, or a cell that has to be one.
    fn number(&mut self, expr: &Expr) -> Result<Op, Wrong> {
        let checked = self.check(expr)?;
        self.as_number(expr, checked)
    }

    /// What was checked, as a number.
    fn as_number(&mut self, expr: &Expr, checked: (Type, Op)) -> Result<Op, Wrong> {
        match checked {
            (Type::Number | Type::Blank, op) => Ok(op),
            (Type::Cell, op) => Ok(self.number_of(op)),
            (of, _) => wrong(
                &expr.at,
                format!("a number is wanted here, and this is {of}"),
            ),
        }
    }

    /// The number that the text of a cell has to be.
    fn number_of(&mut self, cell: Op) -> Op {
        let Op::Slot(slot) = cell else {
            return Op::Number(cell.into());
        };
        if let Some(index) = self.texts.iter().position(|text| *text == slot) {
            self.texts.swap_remove(index);
        }
        Op::NumberIn(slot)
    }

    fn text(&mut self, expr: &Expr) -> Result<Op, Wrong> {
        match self.check(expr)? {
            (Type::Text | Type::Cell | Type::Blank, op) => Ok(op),
            (of, _) => wrong(&expr.at, format!("text is wanted here, and this is {of}")),
        }
    }

    fn truth(&mut self, expr: &Expr) -> Result<Op, Wrong> {
        match self.check(expr)? {
            (Type::Truth | Type::Blank, op) => Ok(op),
            (of, _) => wrong(
                &expr.at,
                format!("a test is wanted here, such as `due < 2025-01-01`, and this is {of}"),
            ),
        }
    }

    fn stamp(&mut self, expr: &Expr) -> Result<(Kind, Op), Wrong> {
        match self.check(expr)? {
            (Type::Stamp(kind), op) => Ok((kind, op)),
            (Type::Cell, _) => wrong(&expr.at, no_ruling(expr)),
            (of, _) => wrong(
                &expr.at,
                format!("a date or time is wanted here, and this is {of}"),
            ),
        }
    }

    fn of_kind(
        &mut self,
        expr: &Expr,
        wanted: Kind,
        message: impl FnOnce(Type) -> String,
    ) -> Result<Op, Wrong> {
        match self.stamp(expr)? {
            (kind, op) if kind == wanted => Ok(op),
            (kind, _) => wrong(&expr.at, message(Type::Stamp(kind))),
        }
    }

    /// Values that have to be of one type.
    fn alike(&mut self, all: &[&Expr]) -> Result<(Type, Vec<Op>), Wrong> {
        let mut common = Type::Blank;
        let mut parts = Vec::with_capacity(all.len());
        for expr in all {
            let (of, op) = self.check(expr)?;
            common = match (common, of) {
                (Type::Blank, of) => of,
                (common, Type::Blank) => common,
                (Type::Cell, of @ (Type::Text | Type::Number)) => of,
                (common @ (Type::Text | Type::Number), Type::Cell) => common,
                (common, of) if common == of => common,
                (Type::Cell, Type::Stamp(_)) => return wrong(&all[0].at, no_ruling(all[0])),
                (Type::Stamp(_), Type::Cell) => return wrong(&expr.at, no_ruling(expr)),
                (common, of) => return wrong(&expr.at, unlike(common, of)),
            };
            parts.push((of, op));
        }
        let parts = parts.into_iter().map(|(of, op)| match (common, of) {
            (Type::Number, Type::Cell) => self.number_of(op),
            _ => op,
        });
        Ok((common, parts.collect()))
    }

    /// The clock of a zone: named in the phrase, or by the row.
    fn clock(&mut self, zone: &Expr) -> Result<Clock, Wrong> {
        if let Say::Text(text) = &zone.say {
            return match zone_named(text, &self.scope.zones) {
                Ok(zone) => Ok(Clock::Of(zone, OffsetSpans::default())),
                Err(why) => wrong(&zone.at, why.to_string()),
            };
        }
        let text = self.text(zone)?;
        let zones = &self.scope.zones;
        Ok(Clock::Said(
            text.into(),
            SaidZones::new(zones.clone()),
            zones.clone(),
        ))
    }
}

fn steps(ops: Vec<Op>) -> Vec<Step> {
    ops.into_iter().map(Step::from).collect()
}

fn tag(locale: &Quoted) -> Result<Tag, Wrong> {
    locale
        .text
        .parse()
        .map_err(|why: crate::locale::ParseTagError| Wrong::new(&locale.at, why.to_string()))
}

/// A value as it could be written in a suggestion.
fn source(expr: &Expr) -> String {
    let is_plain = |name: &str| {
        let mut letters = name.chars();
        letters
            .next()
            .is_some_and(|first| first.is_alphabetic() || first == '_')
            && letters.all(|letter| letter.is_alphanumeric() || letter == '_')
    };
    match &expr.say {
        Say::Column(name) if is_plain(name) => name.clone(),
        Say::Column(name) => format!("`{name}`"),
        Say::Number(number) => number.to_string(),
        Say::Now => "now".to_owned(),
        _ => "( … )".to_owned(),
    }
}

fn no_ruling(expr: &Expr) -> String {
    format!(
        "{} is text: no ruling reads the column as dates or times; -c takes columns into an \
         undecided run, and a rulings file can have one on it",
        source(expr)
    )
}

fn unlike(one: Type, other: Type) -> String {
    let stamps = (one, other);
    let hint = match stamps {
        (Type::Stamp(Kind::Instant), Type::Stamp(_))
        | (Type::Stamp(_), Type::Stamp(Kind::Instant)) => {
            "; show the instant `in zone \"…\"`, or put the other on the time line `as instant in \
             zone \"…\"`"
        }
        (Type::Stamp(Kind::DateTime), Type::Stamp(Kind::Date))
        | (Type::Stamp(Kind::Date), Type::Stamp(Kind::DateTime)) => {
            "; take the `date of` the datetime"
        }
        (Type::Stamp(Kind::DateTime), Type::Stamp(Kind::Time))
        | (Type::Stamp(Kind::Time), Type::Stamp(Kind::DateTime)) => {
            "; take the `time of` the datetime"
        }
        (Type::Stamp(Kind::Duration), Type::Number)
        | (Type::Number, Type::Stamp(Kind::Duration)) => "; count the duration `in hours`",
        _ => "",
    };
    let types = list(&[one.to_string(), other.to_string()], "and");
    format!("{types} do not go together{hint}")
}
