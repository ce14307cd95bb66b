//! The order of day, month and year that the column's name spells out: `Date
//! (DD/MM/YYYY)`.

use super::FormSource;
use crate::evidence::ShapeEvidence;
use crate::form::Order;
use crate::rulings::FormRuling;
use crate::settle::column::{Column, as_written};
use crate::settle::order::open_orders;

/// Settles a form that is open, by the name. Cells that contradict it keep it
/// open.
pub(super) struct NamedOrder;

impl FormSource for NamedOrder {
    fn conclude(&self, column: &mut Column<'_>) {
        if column.declared.order.is_some() || !column.declared.forms.is_empty() {
            return;
        }
        let name = column.name;
        for (shape, ruling) in column.ruled_mut() {
            if let FormRuling::Open(_) = ruling
                && let Some((index, _)) = named_order(name, shape)
            {
                let form = &shape.readings.candidates()[index].form;
                *ruling = FormRuling::Settled(as_written(form, shape, index));
            }
        }
    }
}

/// The candidate whose order the column's name spells out, where the cells of
/// `shape` leave several and contradict none.
pub fn named_order(name: &str, shape: &ShapeEvidence) -> Option<(usize, Order)> {
    let named = order_in(name)?;
    let candidates = shape.readings.candidates();
    let open = open_orders(shape);
    let mut own = open
        .iter()
        .filter(|&&index| candidates[index].order() == Some(named));
    let index = *own.next()?;
    own.next().is_none().then_some((index, named))
}

/// What a letter stands for in a pattern, in the languages that spell it out:
/// `TT.MM.JJJJ`, `jj/mm/aaaa`, `gg/mm/aaaa`.
fn part_of(letter: char, letters: usize) -> Option<char> {
    match (letter, letters) {
        ('m', 1..=3) => Some('m'),
        ('y' | 'a', 2 | 4) | ('j', 4) => Some('y'),
        ('d' | 't' | 'g' | 'j', 1..=2) => Some('d'),
        _ => None,
    }
}

/// The order that `name` spells out, if it does.
pub(in crate::settle) fn order_in(name: &str) -> Option<Order> {
    let mut runs: Vec<(char, usize)> = Vec::new();
    let mut parts: Vec<Option<char>> = Vec::new();
    let end = |runs: &mut Vec<(char, usize)>, parts: &mut Vec<Option<char>>| {
        let known: Option<Vec<char>> = runs
            .iter()
            .map(|(letter, letters)| part_of(*letter, *letters))
            .collect();
        match known {
            Some(known) => parts.extend(known.into_iter().map(Some)),
            // A word stands between what is before it and behind.
            None => parts.push(None),
        }
        runs.clear();
    };
    for letter in name.to_lowercase().chars() {
        match runs.last_mut() {
            _ if !letter.is_alphabetic() => end(&mut runs, &mut parts),
            Some((last, letters)) if *last == letter => *letters += 1,
            _ => runs.push((letter, 1)),
        }
    }
    end(&mut runs, &mut parts);
    parts.windows(3).find_map(|three| {
        let order: Option<String> = three.iter().copied().collect();
        order?.parse().ok()
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_spell_orders_out() {
        for (name, order) in [
            ("Date (DD/MM/YYYY)", Some(Order::Dmy)),
            ("MM-DD-YYYY", Some(Order::Mdy)),
            ("date_yyyymmdd", Some(Order::Ymd)),
            ("Datum [TT.MM.JJJJ]", Some(Order::Dmy)),
            ("date (jj/mm/aaaa)", Some(Order::Dmy)),
            ("data gg/mm/aa", Some(Order::Dmy)),
            ("sent (dd/mm/yyyy hh:mm)", Some(Order::Dmy)),
            ("d/m/yy", Some(Order::Dmy)),
            ("loan date", None),
            ("ratio d/m", None),
            ("a day may", None),
            ("dd of mm in yyyy", None),
        ] {
            assert_eq!(order_in(name), order, "{name}");
        }
    }
}
