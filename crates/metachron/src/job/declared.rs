//! What the command line declares, checked against the table.

use crate::cli::ReadArgs;
use crate::outcome::usage;
use crate::visible::one_line;
use metachron_core::form::{Conventions, Form};
use metachron_core::reading::{MOST_FORMS, MeantError};
use metachron_core::rulings::Locales;
use metachron_core::settle::Declared;
use metachron_core::words::no_column;
use std::borrow::Cow;

/// The indexes of the columns that are asked for; all of them if none is
/// named.
pub fn asked(args: &ReadArgs, columns: &[String]) -> anyhow::Result<Vec<usize>> {
    if args.columns.is_empty() {
        return Ok((0..columns.len()).collect());
    }
    let mut asked = Vec::new();
    for name in &args.columns {
        let index = index_of(name, columns, "-c")?;
        // An answer to a question may name a column that was named already.
        if !asked.contains(&index) {
            asked.push(index);
        }
    }
    asked.sort_unstable();
    Ok(asked)
}

/// The index of the column `name`.
pub fn index_of(name: &str, columns: &[String], option: &str) -> anyhow::Result<usize> {
    let mut exact = columns.iter();
    let exact = exact.position(|column| column == name);
    // As messages show it.
    let shown = || columns.iter().position(|column| one_line(column) == name);
    exact
        .or_else(shown)
        .ok_or_else(|| usage(format!("{option}: {}", no_such_column(name, columns))))
}

/// That there is no column `name`, and what to do.
pub fn no_such_column(name: &str, columns: &[String]) -> String {
    let columns: Vec<Cow<'_, str>> = columns.iter().map(|column| one_line(column)).collect();
    no_column(name, columns.iter().map(Cow::as_ref))
}

/// The forms that read the examples as they are meant, by the shape of each:
/// of examples written alike, those that read all.
fn by_example(args: &ReadArgs, locale: &Locales) -> Result<Vec<Form>, MeantError> {
    let calendar = locale.calendar();
    let conventions = Conventions {
        calendar,
        ..Conventions::default()
    };
    let mut more = args.read_forms();
    more.extend(locale.forms(calendar));
    let mut found: Vec<Vec<Form>> = Vec::new();
    for example in &args.example {
        let forms = example.forms(locale.names(calendar), conventions, &more)?;
        let shared = found
            .iter_mut()
            .find(|known| known.iter().any(|form| forms.contains(form)));
        match shared {
            Some(known) => known.retain(|form| forms.contains(form)),
            None => found.push(forms),
        }
    }
    Ok(found.into_iter().flatten().collect())
}

/// What the options declare for every column that is asked for.
pub fn declared(args: &ReadArgs) -> Declared {
    let locale = Locales(args.read_locale.clone());
    Declared {
        order: args.read_order,
        forms: args.read_forms(),
        century: args.century,
        // Checked before; an example that no form reads ends the program.
        by_example: by_example(args, &locale).unwrap_or_default(),
        locale,
        zone: args.read_zone.clone(),
        ..Declared::default()
    }
}

/// Refuses options that contradict each other.
pub fn check(args: &ReadArgs) -> anyhow::Result<()> {
    if let Err(error) = by_example(args, &Locales(args.read_locale.clone())) {
        return Err(usage(format!("--example: {error}")));
    }
    let forms = args.read_forms().len();
    if forms > MOST_FORMS {
        return Err(usage(format!(
            "{forms} forms are declared with --read-form and --read-count; {MOST_FORMS} are the \
             most that a column can have"
        )));
    }
    if let Some(order) = args.read_order {
        let other = |form: &&Form| form.order().is_some_and(|other| other != order);
        if let Some(form) = args.read_form.iter().find(other) {
            return Err(usage(format!(
                "--read-order {order} contradicts --read-form '{form}'; give one of them"
            )));
        }
    }
    Ok(())
}
