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
//! Levels 4 and 5 need the rest of the table: see
//! [`relations`](crate::relations).

mod century;
mod declared;
mod locale;
mod order;
mod swapped;
mod temporal;

pub use century::{default_window, edge_is_clear, other_window, short_years};
pub use declared::Declared;
pub use locale::{agreed_locale, fitting_locales, has_gregorian_years};
use order::is_disputed;
use order::live_among;
pub use order::{LEAST_IN_ORDER, is_kept, live_orders};
pub use swapped::{Proof, Swap, swap};
pub(crate) use temporal::has_short_year;
pub use temporal::{SkipReason, Weight};

use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, ShapeEvidence, Tally, TimeSteps};
use crate::form::{Digits, Field, Form, Order, Reader, Width};
use crate::rulings::{ColumnRuling, FormRuling, ReadRuling, WriteRuling};
use crate::stamp::Kind;
use jiff::civil::Date;

/// Decides how a column is read.
///
/// `name` is the column's name; `today` the reference for two-digit years.
///
/// # Errors
///
/// Not an error, but the reason why the column is not converted: see
/// [`SkipReason`].
pub fn settle(
    name: &str,
    evidence: &ColumnEvidence,
    declared: &Declared,
    today: Date,
) -> Result<ColumnRuling, SkipReason> {
    temporal::check(name, evidence, declared, today)?;
    let elapsed = declared.forms.is_empty() && temporal::is_elapsed(name, evidence);
    let counts_fit = !declared.forms.is_empty()
        || declared
            .by_example
            .iter()
            .any(|form| form.count().is_some())
        || temporal::counts_fit(name, evidence, today);
    let mut found: Vec<(FormRuling, &ShapeEvidence, u64)> = Vec::new();
    for shape in &evidence.shapes {
        let readable = shape.count(|tally| !tally.outcome.is_unreadable());
        let form = match elapsed.then(|| lengths_in(shape)).flatten() {
            Some(lengths) => Some(lengths),
            None => settle_form(shape, declared).map(|form| match form {
                FormRuling::Settled(form) if nothing_declared(declared) => {
                    reopen(form, shape, &evidence.in_time)
                }
                form => form,
            }),
        };
        let Some(form) = form.filter(|_| readable > 0) else {
            continue;
        };
        if !elapsed && declared.forms.is_empty() && is_unlikely_length(shape, &form) {
            continue;
        }
        let years_are_said = declared.calendar.is_some()
            || declared.locale.calendar() != Calendar::Gregory
            || !declared.forms.is_empty();
        if !years_are_said
            && form
                .alternatives()
                .iter()
                .any(|form| has_short_year(shape, form))
        {
            continue;
        }
        let count = form
            .alternatives()
            .iter()
            .any(|form| form.count().is_some());
        if count && !counts_fit {
            continue;
        }
        found.push((form, shape, readable));
    }
    settle_by_kind(&mut found);
    if declared.forms.is_empty() && !declared.order.is_some_and(Order::starts_with_year) {
        undo_swap(&mut found, evidence);
    }
    let mut forms: Vec<(FormRuling, u64)> = Vec::new();
    let mut kinds = KindCount::default();
    let mut waiting = KindCount::default();
    for (form, shape, readable) in found {
        for (kind, cells) in kinds_of(shape, &form, declared) {
            kinds.add(kind, cells);
            waiting.add(kind, 1);
        }
        match forms.iter_mut().find(|(known, _)| *known == form) {
            Some((_, cells)) => *cells += readable,
            None => forms.push((form, readable)),
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
    let century = century::settle(&forms, evidence, declared, today);
    let mut ruling = ColumnRuling {
        kind: if kinds.is_empty() {
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
                .or_else(|| locale::calendar(&locale, evidence, declared)),
            locale,
            year: declared.year,
            year_from: declared.year_from.clone(),
            ..ReadRuling::default()
        },
        write: WriteRuling::default(),
        baseline: None,
    };
    declared.put_zone(&mut ruling);
    Ok(ruling)
}

/// Whether nothing is declared that chooses among orders.
fn nothing_declared(declared: &Declared) -> bool {
    declared.forms.is_empty()
        && declared.order.is_none()
        && declared.by_example.is_empty()
        && declared.locale.is_empty()
}

/// Opens a form again that its decisive cells settled, where the rows would
/// not stand in time order if its other cells were read so.
fn reopen(form: Form, shape: &ShapeEvidence, in_time: &TimeSteps) -> FormRuling {
    let disputed = form.order().filter(|order| is_disputed(in_time, *order));
    let rivals: Vec<Form> = shape
        .readings
        .candidates()
        .iter()
        .enumerate()
        .filter(|(_, candidate)| candidate.usual && candidate.order() != form.order())
        .filter(|(index, _)| shape.count(|tally| tally.outcome.reads(*index)) > 0)
        .filter(|(_, candidate)| candidate.order().is_some())
        .map(|(index, candidate)| as_written(&candidate.form, shape, index))
        .collect();
    match (disputed, rivals.is_empty()) {
        (Some(_), false) => FormRuling::Open([vec![form], rivals].concat()),
        _ => FormRuling::Settled(form),
    }
}

/// Reads dates that an import rewrote with day and month swapped, or
/// leaves them open where that is not proven.
fn undo_swap(found: &mut [(FormRuling, &ShapeEvidence, u64)], evidence: &ColumnEvidence) {
    let Some(swap) = swap(evidence) else {
        return;
    };
    let uncached = |shape: &ShapeEvidence| {
        let mut indexes = swap.uncached.iter();
        indexes.any(|&index| std::ptr::eq(shape, &evidence.shapes[index]))
    };
    for (ruling, shape, _) in found.iter_mut().filter(|(_, shape, _)| uncached(shape)) {
        let Some((written, swapped)) = swapped::pair(shape) else {
            continue;
        };
        let form = |index: usize| {
            let candidate = &shape.readings.candidates()[index];
            as_written(&candidate.form, shape, index)
        };
        let pair = [form(written), form(swapped)];
        let others = ruling.alternatives().iter();
        let others: Vec<Form> = others
            .filter(|form| !pair.contains(form))
            .cloned()
            .collect();
        *ruling = match swap.proof {
            // What it may be otherwise is no matter of an swap.
            _ if !others.is_empty() => FormRuling::Open([&pair[..], &others].concat()),
            Proof::Proven => FormRuling::Settled(form(swapped)),
            Proof::Possible => FormRuling::Open(pair.to_vec()),
        };
    }
}

/// Settles the forms that may be a time of day or a length of time (`5 h`) by
/// those of the column that can be one of the two alone: a column has one kind.
fn settle_by_kind(found: &mut [(FormRuling, &ShapeEvidence, u64)]) {
    let clocks = [Kind::Time, Kind::Duration];
    let settled = found.iter().filter_map(|(form, _, _)| match form {
        FormRuling::Settled(form) => Some(form.kind()),
        FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
    });
    let kinds: Vec<Kind> = settled.filter(|kind| clocks.contains(kind)).collect();
    let Some(&kind) = kinds
        .first()
        .filter(|first| kinds.iter().all(|kind| kind == *first))
    else {
        return;
    };
    for (ruling, _, _) in found {
        let FormRuling::Open(forms) = ruling else {
            continue;
        };
        let mut fitting = forms.iter().filter(|form| form.kind() == kind);
        if forms.iter().all(|form| clocks.contains(&form.kind()))
            && let (Some(form), None) = (fitting.next(), fitting.next())
        {
            *ruling = FormRuling::Settled(form.clone());
        }
    }
}

/// The lengths of time that clock-like cells are: hours, minutes and seconds,
/// or one of two things where there are no seconds.
fn lengths_in(shape: &ShapeEvidence) -> Option<FormRuling> {
    let candidates = shape.readings.candidates().iter();
    let lengths = candidates.filter(|candidate| candidate.form.elapsed().is_some());
    let lengths: Vec<Form> = lengths.map(|candidate| candidate.form.clone()).collect();
    match &lengths[..] {
        [] => None,
        [one] => Some(FormRuling::Settled(one.clone())),
        _ => Some(FormRuling::Open(lengths)),
    }
}

/// Whether `form` takes clock-like cells for lengths of time, though nothing
/// says that they are.
fn is_unlikely_length(shape: &ShapeEvidence, form: &FormRuling) -> bool {
    let candidates = shape.readings.candidates().iter();
    let unlikely = |form: &Form| {
        form.elapsed().is_some()
            && candidates
                .clone()
                .any(|candidate| candidate.form == *form && !candidate.usual)
    };
    form.alternatives().iter().any(unlikely)
}

/// Makes one of settled forms that differ only in how wide numbers and names
/// are: names of several roles part cells of one form into several shapes.
fn merge_widths(forms: &mut Vec<(FormRuling, u64)>) {
    let bare = |form: &Form| {
        form.map_fields(|field| match field {
            Field::MonthName(_) => Field::MonthName(Width::Wide),
            Field::Weekday(_) => Field::Weekday(Width::Wide),
            other => other.in_free_digits(),
        })
    };
    let mut merged: Vec<(FormRuling, u64)> = Vec::new();
    for (ruling, cells) in forms.drain(..) {
        let FormRuling::Settled(form) = &ruling else {
            merged.push((ruling, cells));
            continue;
        };
        let same = merged.iter_mut().find_map(|(known, count)| match known {
            FormRuling::Settled(known) if bare(known) == bare(form) => Some((known, count)),
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

/// The kinds of stamps that the cells of the shape are, which `form` was settled
/// for, and how many are of each. A form that every cell leaves waiting for a
/// rule has its kind all the same.
fn kinds_of(shape: &ShapeEvidence, form: &FormRuling, declared: &Declared) -> Vec<(Kind, u64)> {
    let candidates = shape.readings.candidates();
    if declared.forms.is_empty() {
        let first = form.alternatives().first();
        let reader = first.and_then(|form| form.fit(shape.readings.shape()));
        let reads = |tally: &Tally| (0..candidates.len()).any(|own| tally.outcome.reads(own));
        return reader
            .map(|reader| (reader.kind(), shape.count(reads)))
            .into_iter()
            .collect();
    }
    // Declared forms are tried in their order: a cell is of the kind of the
    // first that reads it.
    let attempts = declared.forms.iter();
    let attempts: Vec<usize> = attempts
        .filter_map(|form| shape.readings.index_of(form))
        .collect();
    let own_kinds = attempts.iter().enumerate().map(|(number, &own)| {
        let is_first = |tally: &Tally| {
            let mut earlier = attempts[..number].iter();
            tally.outcome.reads(own) && !earlier.any(|&other| tally.outcome.reads(other))
        };
        (candidates[own].reader.kind(), shape.count(is_first))
    });
    let mut kinds: Vec<(Kind, u64)> = own_kinds.collect();
    if kinds.iter().all(|(_, cells)| *cells == 0) {
        kinds.truncate(1);
    } else {
        kinds.retain(|(_, cells)| *cells > 0);
    }
    kinds
}

fn declared_forms(declared: &Declared) -> Vec<(FormRuling, u64)> {
    declared
        .forms
        .iter()
        .map(|form| (FormRuling::Settled(form.clone()), 0))
        .collect()
}

/// What is decided about the cells of one shape.
fn settle_form(shape: &ShapeEvidence, declared: &Declared) -> Option<FormRuling> {
    let candidates = shape.readings.candidates();
    if !declared.forms.is_empty() {
        let named = |index: &usize| declared.forms.contains(&candidates[*index].form);
        let index = (0..candidates.len()).find(named)?;
        return Some(FormRuling::Settled(candidates[index].form.clone()));
    }
    let written = |index: usize| as_written(&candidates[index].form, shape, index);
    if let Some(order) = declared.order {
        let ruled = |index: &usize| candidates[*index].order() == Some(order);
        if let Some(index) = (0..candidates.len()).find(ruled) {
            return Some(FormRuling::Settled(written(index)));
        }
    }
    if !declared.by_example.is_empty() {
        let meant = |index: &usize| declared.by_example.contains(&candidates[*index].form);
        let indexes: Vec<usize> = (0..candidates.len()).filter(meant).collect();
        if !indexes.is_empty() {
            return match &live_among(shape, &indexes)[..] {
                [] => None,
                [index] => Some(FormRuling::Settled(written(*index))),
                several => Some(FormRuling::Open(
                    several.iter().map(|&index| written(index)).collect(),
                )),
            };
        }
    }
    let live = live_orders(shape);
    let agree = |indexes: &[usize]| shape.count(|tally| tally.outcome.differs_among(indexes)) == 0;
    if !declared.locale.is_empty()
        && let Some(index) = by_locale(shape, &live, declared)
    {
        return Some(FormRuling::Settled(written(index)));
    }
    match &live[..] {
        [] => None,
        [index] => Some(FormRuling::Settled(written(*index))),
        // Several ways of writing, and no cell that they read differently.
        [index, ..]
            if agree(&live) && !shape.readings.candidates()[*index].form.has_numeric_month() =>
        {
            Some(FormRuling::Settled(written(*index)))
        }
        indexes => Some(FormRuling::Open(
            indexes.iter().map(|&index| written(index)).collect(),
        )),
    }
}

/// The form that the declared locale chooses: its own among those that are
/// possible, else the one with its order, even if other cells contradict it.
/// That `00.00.00` is a time and no day is not for a locale's order to say.
fn by_locale(shape: &ShapeEvidence, live: &[usize], declared: &Declared) -> Option<usize> {
    let candidates = shape.readings.candidates();
    let order = declared.locale.order()?;
    let has_order = |index: &&usize| candidates[**index].order() == Some(order);
    if let Some(&index) = live.iter().find(has_order).filter(|_| live.len() > 1) {
        return Some(index);
    }
    let own = declared.locale.forms(declared.locale.calendar());
    let own = own
        .iter()
        .filter_map(|form| form.fit(shape.readings.shape()));
    let own: Vec<Reader> = own.collect();
    let is_own = |index: &&usize| {
        let reader = &candidates[**index].reader;
        own.iter().any(|own| own.reads_alike(reader))
    };
    if let Some(&index) = live.iter().find(is_own) {
        return Some(index);
    }
    let is_rival = |index: &usize| {
        candidates[*index].order().is_some() && candidates[*index].form.has_numeric_month()
    };
    let declared = |index: &usize| {
        candidates[*index].usual
            && candidates[*index].order() == Some(order)
            && is_rival(index)
            && shape.count(|tally| tally.outcome.reads(*index)) > 0
    };
    let all_rivals = !live.is_empty() && live.iter().all(is_rival);
    (0..candidates.len()).find(declared).filter(|_| all_rivals)
}

/// The form as the cells write it: with two digits where every cell has two,
/// with names in full where some cell has them in full.
pub(crate) fn as_written(form: &Form, shape: &ShapeEvidence, index: usize) -> Form {
    let reader = &shape.readings.candidates()[index].reader;
    let (date, hour) = reader.free_numbers();
    let (month, weekday) = reader.names();
    let always = |tokens: u32| tokens != 0 && tokens & !shape.writing.always_pairs == 0;
    let wide = |tokens: u32| tokens & shape.writing.ever_wide != 0;
    form.map_fields(|field| match field {
        Field::Day(Digits::Free) | Field::Month(Digits::Free) if always(date) => {
            field.in_two_digits()
        }
        Field::Hour(Digits::Free) | Field::Hour12(Digits::Free) if always(hour) => {
            field.in_two_digits()
        }
        Field::MonthName(_) if wide(month) => Field::MonthName(Width::Wide),
        Field::Weekday(_) if wide(weekday) => Field::Weekday(Width::Wide),
        other => other,
    })
}

/// How many cells there are of each kind.
#[derive(Default)]
struct KindCount {
    cells: [u64; Kind::ALL.len()],
}

impl KindCount {
    fn add(&mut self, kind: Kind, cells: u64) {
        self.cells[kind as usize] += cells;
    }

    fn is_empty(&self) -> bool {
        self.cells.iter().all(|cells| *cells == 0)
    }

    /// The kind of a column with these cells: what most cells are, except
    /// that dates join datetimes, which can hold them.
    fn kind(&self) -> Kind {
        let of = |kind: Kind| self.cells[kind as usize];
        let local = of(Kind::Date) + of(Kind::DateTime);
        let others = Kind::ALL
            .into_iter()
            .filter(|kind| !matches!(kind, Kind::Date | Kind::DateTime));
        let most = others.clone().map(of).max().unwrap_or(0).max(local);
        let mut others = others.rev();
        if let Some(kind) = others.find(|kind| of(*kind) == most && most > 0) {
            kind
        } else if of(Kind::DateTime) > 0 {
            Kind::DateTime
        } else {
            Kind::Date
        }
    }
}

#[cfg(test)]
mod tests;
