//! What the command line declares, checked against the table.

use crate::cli::ReadArgs;
use crate::outcome::usage;
use metachron_core::form::{Conventions, Form};
use metachron_core::reading::MeantError;
use metachron_core::rulings::{FormRuling, Locales, Setting};
use metachron_core::settle::Declared;
use metachron_core::words::nearest;

/// The places of the columns that are asked for; all of them if none is
/// named.
pub fn asked(args: &ReadArgs, columns: &[String]) -> anyhow::Result<Vec<usize>> {
    if args.columns.is_empty() {
        return Ok((0..columns.len()).collect());
    }
    let mut asked = Vec::new();
    for name in &args.columns {
        let place = place_of(name, columns, "-c")?;
        if asked.contains(&place) {
            return Err(usage(format!("column `{name}` is named twice with -c")));
        }
        asked.push(place);
    }
    asked.sort_unstable();
    Ok(asked)
}

/// The place of the column `name`.
pub fn place_of(name: &str, columns: &[String], option: &str) -> anyhow::Result<usize> {
    columns
        .iter()
        .position(|column| column == name)
        .ok_or_else(|| usage(format!("{option}: {}", no_such_column(name, columns))))
}

/// That there is no column `name`, and what to do.
pub fn no_such_column(name: &str, columns: &[String]) -> String {
    match nearest(name, columns.iter().map(String::as_str)) {
        Some(near) => format!("no column is called `{name}`; did you mean `{near}`?"),
        None => {
            let shown: Vec<String> = columns.iter().take(12).map(|c| format!("`{c}`")).collect();
            let more = if columns.len() > shown.len() {
                ", …"
            } else {
                ""
            };
            format!(
                "no column is called `{name}`; there are {}{more}",
                shown.join(", ")
            )
        }
    }
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
        let alike = found
            .iter_mut()
            .find(|known| known.iter().any(|form| forms.contains(form)));
        match alike {
            Some(known) => known.retain(|form| forms.contains(form)),
            None => found.push(forms),
        }
    }
    Ok(found.into_iter().flatten().collect())
}

/// What the options and settings declare for `column`.
pub fn declared(args: &ReadArgs, settings: &[Setting], column: &str) -> Declared {
    let mut declared = Declared {
        temporal: args.columns.iter().any(|name| name == column),
        order: args.read_order,
        forms: args.read_forms(),
        century: args.century,
        // Checked before; an example that no form reads ends the program.
        by_example: by_example(args, &Locales(args.read_locale.clone())).unwrap_or_default(),
        locale: Locales(args.read_locale.clone()),
        zone: args.read_zone.clone(),
        ..Declared::default()
    };
    for setting in settings.iter().filter(|setting| setting.column() == column) {
        declared.temporal = true;
        let Some(read) = setting.read() else {
            continue;
        };
        // Those that are open are left to the ruling.
        let settled = read.forms.into_iter().filter_map(|form| match form {
            FormRuling::Settled(form) => Some(form),
            FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
        });
        let forms: Vec<Form> = settled.collect();
        if !forms.is_empty() {
            declared.forms = forms;
        }
        declared.order = read.order.or(declared.order);
        declared.century = read.century.or(declared.century);
        declared.calendar = read.calendar.or(declared.calendar);
        declared.year = read.year.or(declared.year);
        declared.year_from = read.year_from.or(declared.year_from);
        if setting.sets_read("in-gap") {
            declared.in_gap = Some(read.in_gap);
        }
        if setting.sets_read("in-overlap") {
            declared.in_overlap = Some(read.in_overlap);
        }
        if setting.sets_read("leap-second") {
            declared.leap_second = Some(read.leap_second);
        }
        if setting.sets_read("zone-from") {
            declared.zone = None;
            declared.zone_from = read.zone_from;
        }
        declared.zone = read.zone.or(declared.zone);
        if !read.locale.is_empty() {
            declared.locale = read.locale;
        }
    }
    declared
}

/// Refuses options that contradict each other.
pub fn check(args: &ReadArgs) -> anyhow::Result<()> {
    if let Err(error) = by_example(args, &Locales(args.read_locale.clone())) {
        return Err(usage(format!("--example: {error}")));
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
