//! A column has one kind: `5 h` among `14h30` is a time of day, and among
//! `90 min` a length of time.

use super::FormSource;
use crate::rulings::FormRuling;
use crate::settle::column::Column;
use crate::stamp::Kind;

/// Settles the forms that may be a time of day or a length of time by those of
/// the column that can be one of the two alone.
pub(super) struct ClockKind;

const CLOCKS: [Kind; 2] = [Kind::Time, Kind::Duration];

impl FormSource for ClockKind {
    fn conclude(&self, column: &mut Column<'_>) {
        let settled = column.ruled().filter_map(|(_, ruling)| match ruling {
            FormRuling::Settled(form) => Some(form.kind()),
            FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
        });
        let kinds: Vec<Kind> = settled.filter(|kind| CLOCKS.contains(kind)).collect();
        let Some(&kind) = kinds
            .first()
            .filter(|first| kinds.iter().all(|kind| kind == *first))
        else {
            return;
        };
        for (_, ruling) in column.ruled_mut() {
            let FormRuling::Open(forms) = ruling else {
                continue;
            };
            let mut fitting = forms.iter().filter(|form| form.kind() == kind);
            if forms.iter().all(|form| CLOCKS.contains(&form.kind()))
                && let (Some(form), None) = (fitting.next(), fitting.next())
            {
                *ruling = FormRuling::Settled(form.clone());
            }
        }
    }
}
