//! What a phrase says, before it is known what its columns hold.

use super::error::Span;
use super::function::{Function, StampTest};
use super::number::{Number, Way};
use super::unit::{Counting, Unit};
use crate::stamp::{Kind, Stamp};

/// A part of a phrase, and its span.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Expr {
    pub say: Say,
    pub at: Span,
    /// How deep it is nested: 1 for what has no parts.
    pub depth: usize,
}

/// What it says.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Say {
    Number(Number),
    Text(String),
    Stamp(Stamp),
    Truth(bool),
    Blank,
    Column(String),
    /// `now`
    Now,
    /// `date from Y, M, D in locale "fr"`
    Call(&'static Function, Vec<Expr>, Option<Quoted>),
    /// `3 days`
    Amount(Box<Expr>, Unit),
    /// `whole days from A to B`
    Between(Counting, Unit, Box<Expr>, Box<Expr>),
    /// `hours since first COLUMN`
    Since(Counting, Unit, Since, Box<Expr>),
    /// `X in whole hours`
    InUnit(Box<Expr>, Counting, Unit),
    /// `X in zone ZONE`
    InZone(Box<Expr>, Box<Expr>),
    /// `X as instant in zone ZONE`
    AsInstant(Box<Expr>, Box<Expr>),
    /// `X as month`
    AsKind(Box<Expr>, Kind),
    /// `X as number`
    AsNumber(Box<Expr>),
    /// `X as text "d MMMM yyyy" in locale "fr" in zone ZONE`
    AsText(Box<Expr>, Option<Quoted>, Option<Quoted>, Option<Quoted>),
    /// `X as count "days since 1899-12-30"`
    AsCount(Box<Expr>, Quoted),
    /// `X rounded down to 15 minutes`
    Rounded(Box<Expr>, Way, u32, Grain),
    Negated(Box<Expr>),
    Sum(Sign, Box<Expr>, Box<Expr>),
    Product(Scaling, Box<Expr>, Box<Expr>),
    Compared(Comparison, Box<Expr>, Box<Expr>),
    /// `X between A and B`
    Within(Box<Expr>, Box<Expr>, Box<Expr>),
    /// `X in (A, B)`
    OneOf(Box<Expr>, Vec<Expr>),
    /// `X is blank`
    IsBlank(Box<Expr>),
    /// `X is leap year`
    Is(Box<Expr>, &'static StampTest),
    Not(Box<Expr>),
    And(Vec<Expr>),
    Or(Vec<Expr>),
    /// `if A then B else if C then D else E`
    If(Vec<(Expr, Expr)>, Box<Expr>),
    /// `A otherwise B`
    Otherwise(Vec<Expr>),
}

/// A text in the phrase that has to be a locale, a pattern or the like.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Quoted {
    pub text: String,
    pub at: Span,
}

/// The row that elapsed time is counted from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Since {
    /// The first that is not blank.
    First,
    /// The earliest of all.
    Earliest,
    /// The last before this one that is not blank.
    Previous,
}

/// Which other rows a phrase asks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum RowScope {
    /// None.
    NoOthers,
    /// The first in which a column is not blank.
    First,
    /// Whichever there are.
    All,
}

/// What is rounded to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Grain {
    Unit(Unit),
    Decimals,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Sign {
    Plus,
    Minus,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Scaling {
    By,
    Over,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Comparison {
    Equal,
    Unequal,
    Before,
    BeforeOrEqual,
    After,
    AfterOrEqual,
}

impl Expr {
    /// The columns that it names, each with its span.
    pub(crate) fn columns<'e>(&'e self, found: &mut Vec<(&'e str, &'e Span)>) {
        if let Say::Column(name) = &self.say {
            found.push((name, &self.at));
        }
        self.say.each(&mut |part| part.columns(found));
    }
}

impl Expr {
    /// Whether it names no column.
    pub(crate) fn is_constant(&self) -> bool {
        let mut is_constant = !matches!(self.say, Say::Column(_));
        self.say
            .each(&mut |part| is_constant = is_constant && part.is_constant());
        is_constant
    }

    /// Which other rows it asks.
    pub(crate) fn row_scope(&self) -> RowScope {
        let mut row_scope = match self.say {
            Say::Since(_, _, Since::First, _) => RowScope::First,
            Say::Since(..) => RowScope::All,
            _ => RowScope::NoOthers,
        };
        self.say
            .each(&mut |part| row_scope = row_scope.max(part.row_scope()));
        row_scope
    }
}

impl Say {
    /// Hands over the parts that it is made of.
    pub(crate) fn each<'e>(&'e self, act: &mut dyn FnMut(&'e Expr)) {
        match self {
            Say::Number(_)
            | Say::Text(_)
            | Say::Stamp(_)
            | Say::Truth(_)
            | Say::Blank
            | Say::Column(_)
            | Say::Now => {}
            Say::Amount(one, _)
            | Say::Since(_, _, _, one)
            | Say::InUnit(one, ..)
            | Say::AsKind(one, _)
            | Say::AsNumber(one)
            | Say::AsText(one, ..)
            | Say::AsCount(one, _)
            | Say::Rounded(one, ..)
            | Say::Negated(one)
            | Say::IsBlank(one)
            | Say::Is(one, _)
            | Say::Not(one) => act(one),
            Say::Between(_, _, one, other)
            | Say::InZone(one, other)
            | Say::AsInstant(one, other)
            | Say::Sum(_, one, other)
            | Say::Product(_, one, other)
            | Say::Compared(_, one, other) => {
                act(one);
                act(other);
            }
            Say::Within(one, low, high) => {
                act(one);
                act(low);
                act(high);
            }
            Say::Call(_, all, _) | Say::And(all) | Say::Or(all) | Say::Otherwise(all) => {
                all.iter().for_each(act);
            }
            Say::OneOf(one, all) => {
                act(one);
                all.iter().for_each(act);
            }
            Say::If(cases, last) => {
                for (test, then) in cases {
                    act(test);
                    act(then);
                }
                act(last);
            }
        }
    }
}
