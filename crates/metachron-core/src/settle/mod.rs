//! Evidence → rulings.
//!
//! [`settle`] is a pure function: what the cells say and what the user
//! declared, in; the ruling of a column, or why it has none, out. It follows
//! the levels of evidence in their order of strength:
//!
//! 1. a reading that is impossible for a cell is out;
//! 2. what the user declared holds;
//! 3. where only one order is possible for all cells of one form, it holds
//!    for the ambiguous ones among them — each form by itself;
//! 6. dates that an import has rewritten with day and month swapped are
//!    read so.
//!
//! Each of these is a source of evidence in a file of its own under `source/`.
//! Levels 4 and 5 need the rest of the table: see
//! [`relations`](crate::relations).

mod cell_in_locales;
mod century;
mod clocks;
mod column;
mod declared;
mod header;
mod kind;
mod leftover;
mod locale;
mod offered;
mod order;
mod period;
mod reopened;
mod running_numbers;
mod source;
mod temporal;
mod tentative;
mod unknown_words;
mod weight;
mod years;

pub use cell_in_locales::{InLocales, cell_in_locales};
pub use century::default_window;
pub(crate) use century::{is_century_clear, possible_windows, short_years};
pub(crate) use clocks::is_half_a_clock;
pub(crate) use column::as_written;
pub use declared::Declared;
pub(crate) use header::{Side, names_a_clock, names_a_date, part_named, side_named};
pub use leftover::Leftover;
pub(crate) use leftover::of_others;
pub(crate) use locale::{
    NamesAlike, agreed_locale, fitting_locales, has_gregorian_years, locale_of_unread, names_alike,
};
pub(crate) use offered::offered_forms;
pub use order::contradicting_until_open;
pub(crate) use order::{LEAST_IN_ORDER, is_kept, live_orders};
pub use reopened::{Reopened, reopened};
pub(crate) use source::{
    Proof, contradicted_locale, few_year_witnesses, missing_late_days, named_order,
    orders_of_editions, spread, swap,
};
pub use temporal::SkipReason;
pub(crate) use tentative::tentative;
pub(crate) use years::{has_short_year, other_origin};

use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, Hint, ShapeEvidence};
use crate::form::Form;
use crate::rulings::{ColumnRuling, FormRuling, ReadRuling, WriteRuling};
use crate::stamp::Kind;
use column::Column;
use jiff::civil::Date;
use kind::{KindCount, kinds_of};
use source::SOURCES;

/// Decides how a column is read.
///
/// `name` is the column's name; `today` the reference for two-digit years.
///
/// # Errors
///
/// Not an error, but the reason why the column is not converted: see
/// [`SkipReason`].
///
/// ```
/// use jiff::civil::date;
/// use metachron_core::evidence::{ColumnOptions, Surveyor};
/// use metachron_core::settle::{Declared, SkipReason, settle};
///
/// let options = [ColumnOptions::default()];
/// let mut surveyor = Surveyor::new(&options);
/// for cell in ["31/12/2024", "05/06/2024"] {
///     surveyor.cell(0, cell);
///     surveyor.end_row();
/// }
/// let evidence = surveyor.take().columns.remove(0);
/// let ruling = settle("due", &evidence, &Declared::default(), date(2026, 11, 28)).unwrap();
/// // The 31st leaves one order for all cells of the form.
/// assert_eq!(ruling.read.forms[0].alternatives()[0].to_string(), "dd/MM/yyyy");
/// let nothing = settle("due", &Default::default(), &Declared::default(), date(2026, 11, 28));
/// assert!(matches!(nothing, Err(SkipReason::Empty)));
/// ```
pub fn settle(
    name: &str,
    evidence: &ColumnEvidence,
    declared: &Declared,
    today: Date,
) -> Result<ColumnRuling, SkipReason> {
    if declared.text {
        return Err(SkipReason::Text);
    }
    temporal::check(name, evidence, declared, today)?;
    let mut column = Column::new(name, evidence, declared, today);
    for source in SOURCES {
        source.conclude(&mut column);
    }
    let mut forms: Vec<(FormRuling, u64)> = Vec::new();
    let mut kinds = KindCount::default();
    let mut waiting = KindCount::default();
    for (shape, form) in column.ruled() {
        for (kind, cells) in kinds_of(shape, form, declared) {
            kinds.add(kind, cells);
            waiting.add(kind, 1);
        }
        let readable = shape.count(|tally| !tally.outcome.is_unreadable());
        match forms.iter_mut().find(|(known, _)| known == form) {
            Some((_, cells)) => *cells += readable,
            None => forms.push((form.clone(), readable)),
        }
    }
    merge_widths(&mut forms);
    if declared.forms.is_empty() {
        // The commonest first; the order of appearance decides between equals.
        forms.sort_by_key(|(_, cells)| std::cmp::Reverse(*cells));
    } else {
        forms = declared_forms(declared);
    }
    let forms: Vec<FormRuling> = forms.into_iter().map(|(form, _)| form).collect();
    let locale = locale::settle(evidence, declared);
    let century = century::settle(name, &forms, evidence, declared, today);
    let mut ruling = ColumnRuling {
        kind: if kinds.is_empty() && waiting.is_empty() {
            let declared = declared.forms.first();
            declared.map_or(Kind::Date, Form::kind)
        } else if kinds.is_empty() {
            waiting.kind()
        } else {
            kinds.kind()
        },
        read: ReadRuling {
            forms,
            order: declared.order,
            century,
            calendar: declared
                .calendar
                .or_else(|| locale::calendar(&locale, evidence, declared))
                .or_else(|| as_declared(evidence, declared)),
            locale,
            year: declared.year,
            year_from: declared.year_from.clone(),
            unit_letters: declared.unit_letters.unwrap_or_default(),
            zone_names: declared.zone_names.clone(),
            half_of_day_from: declared.half_of_day_from.clone(),
            ..ReadRuling::default()
        },
        write: WriteRuling::default(),
        baseline: None,
    };
    declared.put_zone(&mut ruling);
    Ok(ruling)
}

/// Makes one of settled forms that differ only in how wide numbers and names
/// are: names of several roles part cells of one form into several shapes.
fn merge_widths(forms: &mut Vec<(FormRuling, u64)>) {
    let mut merged: Vec<(FormRuling, u64)> = Vec::new();
    for (ruling, cells) in forms.drain(..) {
        let FormRuling::Settled(form) = &ruling else {
            merged.push((ruling, cells));
            continue;
        };
        let same = merged.iter_mut().find_map(|(known, count)| match known {
            FormRuling::Settled(known) if known.of_any_width() == form.of_any_width() => {
                Some((known, count))
            }
            _ => None,
        });
        match same {
            Some((known, count)) => {
                *known = known.loosest(form);
                *count += cells;
            }
            None => merged.push((ruling, cells)),
        }
    }
    *forms = merged;
}

/// The calendar of years far from our time, where forms or examples are declared that
/// read them: those hold.
fn as_declared(evidence: &ColumnEvidence, declared: &Declared) -> Option<Calendar> {
    let is_far = |shape: &ShapeEvidence| shape.count(|tally| tally.hint == Hint::FarYear) > 0;
    let are_forms = !declared.forms.is_empty() || !declared.by_example.is_empty();
    let is_said = are_forms && declared.locale.is_empty();
    (is_said && evidence.shapes.iter().any(is_far)).then_some(Calendar::Gregory)
}

fn declared_forms(declared: &Declared) -> Vec<(FormRuling, u64)> {
    declared
        .forms
        .iter()
        .map(|form| (FormRuling::Settled(form.clone()), 0))
        .collect()
}

#[cfg(test)]
mod tests;
