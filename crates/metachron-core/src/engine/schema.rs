//! The columns of a clean table.

use super::column::RowDecider;
use super::{EngineError, Request};
use crate::derive::Derivations;
use crate::phrase::Type;
use crate::row::{Holds, Origin, OutColumn, Schema};
use crate::rulings::{ColumnRuling, Rulings};

/// Columns that are added behind each converted one.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Extras {
    /// The source text, as NAME_raw.
    pub raw: bool,
    /// The verdict, as NAME_verdict.
    pub verdict: bool,
}

/// The columns of the clean table.
pub(super) fn schema(
    request: &Request,
    deciders: &[RowDecider],
    extras: Extras,
    derivations: &Derivations,
    rulings: &Rulings,
) -> Result<Schema, EngineError> {
    let column = |name: String, holds: Holds, origin: Origin| OutColumn {
        header: name.clone(),
        name,
        holds,
        unit: None,
        zone: None,
        origin,
    };
    let mut columns = Vec::with_capacity(request.columns.len());
    let mut ruled = deciders.iter().peekable();
    for (index, name) in request.columns.iter().enumerate() {
        let Some(decider) = ruled.next_if(|decider| decider.index == index) else {
            let mut skipped = column(name.clone(), Holds::SourceCells, Origin::Source(index));
            if let Some(header) = request.headers.get(index) {
                skipped.header.clone_from(header);
            }
            columns.push(skipped);
            continue;
        };
        let ColumnRuling { kind, write, .. } = decider.decider.ruling();
        let clean = write.name.as_ref().unwrap_or(name);
        columns.push(OutColumn {
            unit: write.unit,
            zone: write.zone.as_ref().map(|zone| zone.name().to_owned()),
            ..column(
                clean.clone(),
                decider.decider.renderer().holds(*kind),
                Origin::Converted(index),
            )
        });
        let mut add = |is_added: bool, end: &str, origin: Origin| {
            if is_added {
                columns.push(column(format!("{clean}_{end}"), Holds::Text, origin));
            }
        };
        add(decider.has_zone_column(), "zone", Origin::ZoneOf(index));
        add(extras.raw, "raw", Origin::RawOf(index));
        add(extras.verdict, "verdict", Origin::VerdictOf(index));
    }
    for decider in deciders {
        let Some(name) = &decider.decider.ruling().write.name else {
            continue;
        };
        if columns.iter().filter(|column| column.name == *name).count() > 1 {
            return Err(EngineError::WrittenAsAnother {
                column: request.columns[decider.index].clone(),
                name: name.clone(),
            });
        }
    }
    for (number, (name, of)) in derivations.columns().enumerate() {
        if columns.iter().any(|column| column.name == name) {
            return Err(EngineError::NameTaken(name.to_owned()));
        }
        let holds = match of {
            Type::Stamp(kind) => derivations.renderer(number).holds(kind),
            Type::Number => Holds::Numbers,
            Type::Truth => Holds::Booleans,
            Type::Text | Type::Cell | Type::Blank => Holds::Text,
        };
        let unit = rulings
            .derive
            .get(number)
            .and_then(|derive| derive.write.unit);
        columns.push(OutColumn {
            unit,
            ..column(name.to_owned(), holds, Origin::Derived(number))
        });
    }
    Ok(Schema { columns })
}
