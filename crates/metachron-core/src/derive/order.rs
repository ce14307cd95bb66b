//! Derived columns use those above them, and no others.

use super::error::{CannotDerive, DeriveError, of};
use crate::rulings::DeriveRuling;

/// Whether every column has a name of its own and needs only derived columns
/// that stand above it.
pub(super) fn check(rulings: &[DeriveRuling], columns: &[String]) -> Result<(), DeriveError> {
    for (index, ruling) in rulings.iter().enumerate() {
        if ruling.name.trim().is_empty() {
            return Err(of(ruling, CannotDerive::NoName));
        }
        let is_derived = rulings[..index]
            .iter()
            .any(|other| other.name == ruling.name);
        if is_derived || columns.contains(&ruling.name) {
            return Err(of(ruling, CannotDerive::NameTaken));
        }
    }
    for (index, ruling) in rulings.iter().enumerate() {
        for (name, at) in ruling.value.columns() {
            let below = rulings[index..].iter().position(|other| other.name == name);
            let Some(below) = below.map(|below| index + below) else {
                continue;
            };
            let why = match circle(rulings, index, below) {
                Some(circle) => CannotDerive::Circle(circle.join(" → ")),
                None => {
                    let message = format!("`{name}` is derived further down; put it above this");
                    ruling.value.error(at, message).into()
                }
            };
            return Err(of(ruling, why));
        }
    }
    Ok(())
}

/// The way from `start` over `next` back to `start`, if there is one.
fn circle(rulings: &[DeriveRuling], start: usize, next: usize) -> Option<Vec<String>> {
    let name = |index: usize| rulings[index].name.clone();
    // From where each column was reached.
    let mut reached_from = vec![None; rulings.len()];
    reached_from[next] = Some(start);
    let mut waiting = vec![next];
    while let Some(index) = waiting.pop() {
        if index == start {
            let mut way = vec![name(start)];
            let mut at = reached_from[start]?;
            while at != start {
                way.push(name(at));
                at = reached_from[at]?;
            }
            way.push(name(start));
            way.reverse();
            return Some(way);
        }
        for (column, _) in rulings[index].value.columns() {
            let needed = rulings.iter().position(|other| other.name == column);
            if let Some(needed) = needed.filter(|needed| reached_from[*needed].is_none()) {
                reached_from[needed] = Some(index);
                waiting.push(needed);
            }
        }
    }
    None
}
