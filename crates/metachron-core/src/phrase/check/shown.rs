//! Values in a zone, as another kind, as text, as a count.

use super::{Checked, Checker, no_ruling, source, tag, wrong};
use crate::form::{Count, Form};
use crate::phrase::error::code;
use crate::phrase::expr::{Expr, Quoted};
use crate::phrase::run::Op;
use crate::phrase::value::Type;
use crate::stamp::Kind;
use crate::zone::zone_named;

impl Checker<'_> {
    pub(super) fn in_zone(&mut self, one: &Expr, zone: &Expr) -> Checked {
        let at = self.of_kind(one, Kind::Instant, |found| {
            format!(
                "only an instant is shown in a zone, and this is {found}{}",
                match found {
                    Type::Stamp(Kind::DateTime) => format!(
                        "; {} puts it on the time line",
                        code(&format!("{} as instant in zone \"…\"", source(one)))
                    ),
                    _ => String::new(),
                }
            )
        })?;
        let clock = self.clock(zone)?;
        Ok((
            Type::Stamp(Kind::DateTime),
            Op::InZone(at.into(), clock.into()),
        ))
    }

    pub(super) fn as_instant(&mut self, one: &Expr, zone: &Expr) -> Checked {
        let at = self.of_kind(one, Kind::DateTime, |found| {
            format!(
                "only a datetime is put on the time line, and this is {found}{}",
                match found {
                    Type::Stamp(Kind::Date) => "; `as datetime` is its midnight",
                    Type::Stamp(Kind::Instant) => ", which is there already",
                    _ => "",
                }
            )
        })?;
        let clock = self.clock(zone)?;
        let (in_gap, in_overlap) = (self.policies.in_gap, self.policies.in_overlap);
        let op = Op::AsInstant(at.into(), clock.into(), in_gap, in_overlap);
        Ok((Type::Stamp(Kind::Instant), op))
    }

    pub(super) fn as_kind(&mut self, expr: &Expr, one: &Expr, kind: Kind) -> Checked {
        let (from, op) = self.stamp(one)?;
        if from == kind {
            Ok((Type::Stamp(from), op))
        } else if is_shown_as(from, kind) {
            Ok((Type::Stamp(kind), Op::Kind(op.into(), kind)))
        } else {
            wrong(&expr.at, no_such(from, kind, one))
        }
    }

    pub(super) fn as_count(&mut self, one: &Expr, count: &Quoted) -> Checked {
        let (kind, op) = self.stamp(one)?;
        let counted: Count = match count.text.parse() {
            Ok(counted) => counted,
            Err(why) => return wrong(&count.at, format!("{why}")),
        };
        if counted.takes(kind) {
            return Ok((Type::Number, Op::Counted(op.into(), counted)));
        }
        let hint = match kind {
            Kind::Instant => "; an origin on the time line ends with Z",
            Kind::DateTime | Kind::Date => {
                "; its origin is an instant: put this on the time line `as instant in zone \"…\"`"
            }
            _ => "",
        };
        wrong(
            &one.at,
            format!("`{counted}` does not count {}{hint}", plural(kind)),
        )
    }

    pub(super) fn as_text(
        &mut self,
        one: &Expr,
        pattern: Option<&Quoted>,
        locale: Option<&Quoted>,
        zone: Option<&Quoted>,
    ) -> Checked {
        let Some(pattern) = pattern else {
            if let Some(other) = locale.or(zone) {
                return wrong(
                    &other.at,
                    "a pattern is wanted before it: `as text \"d MMMM\" …`",
                );
            }
            let (_, op) = self.check(one)?;
            return Ok((Type::Text, Op::Text(op.into())));
        };
        let (kind, op) = match self.check(one)? {
            (Type::Stamp(kind), op) => (kind, op),
            (Type::Cell, _) => return wrong(&one.at, no_ruling(one)),
            (of, _) => return wrong(&one.at, format!("{of} is not written by a pattern")),
        };
        let form = match Form::for_writing(&pattern.text) {
            Ok(form) => form,
            Err(why) => return wrong(&pattern.at, format!("{why}")),
        };
        let tag = locale.map(tag).transpose()?;
        let writer = match form.writer(kind, tag.as_ref()) {
            Ok(writer) => writer,
            Err(why) => return wrong(&pattern.at, why.to_string()),
        };
        let writer = match (kind, zone) {
            (Kind::Instant, Some(zone)) => match zone_named(&zone.text, &self.scope.zones) {
                Ok(zone) => writer.in_zone(zone),
                Err(why) => return wrong(&zone.at, why.to_string()),
            },
            (Kind::Instant, None) => {
                return wrong(
                    &pattern.at,
                    "an instant is written by the clocks of a zone: say which behind the pattern, \
                     `in zone \"UTC\"`",
                );
            }
            (_, Some(zone)) => {
                return wrong(
                    &zone.at,
                    format!(
                        "only an instant is written in a zone, and this is {}",
                        Type::Stamp(kind)
                    ),
                );
            }
            (_, None) => writer,
        };
        Ok((Type::Text, Op::Written(op.into(), writer.into())))
    }
}

/// Whether every stamp of a kind has one of another kind that it is shown as.
fn is_shown_as(from: Kind, to: Kind) -> bool {
    let of_days = [Kind::Month, Kind::Quarter, Kind::Week, Kind::Year];
    match (from, to) {
        _ if from == to => true,
        (Kind::Date, Kind::DateTime) | (Kind::DateTime, Kind::Date | Kind::Time) => true,
        (Kind::Date | Kind::DateTime, to) => of_days.contains(&to),
        (Kind::Month, Kind::Quarter | Kind::Year) | (Kind::Quarter, Kind::Year) => true,
        _ => false,
    }
}

/// Stamps of a kind, in words.
fn plural(kind: Kind) -> String {
    match kind {
        Kind::Time => "times of day".to_owned(),
        _ => format!("{kind}s"),
    }
}

fn no_such(from: Kind, to: Kind, one: &Expr) -> String {
    let (of, to) = (Type::Stamp(from), Type::Stamp(to));
    let hint = match from {
        Kind::Instant => {
            format!(
                "; say whose clocks are meant: {}",
                code(&format!("{} in zone \"…\"", source(one)))
            )
        }
        Kind::Month | Kind::Quarter | Kind::Week | Kind::Year => {
            format!(
                "; {} and {} are dates",
                code(&format!("first day of {}", source(one))),
                code(&format!("last day of {}", source(one)))
            )
        }
        _ => String::new(),
    };
    format!("{of} is not shown as {to}{hint}")
}
