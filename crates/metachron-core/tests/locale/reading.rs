//! Reading a column with its locale declared.

use metachron_core::decide::{Decider, RowContext};
use metachron_core::evidence::{ColumnOptions, Surveyor};
use metachron_core::form::Conventions;
use metachron_core::locale::Tag;
use metachron_core::rulings::{Locales, Rulings, TableRuling};
use metachron_core::settle::{Declared, settle};

/// Converts a column of `cells`, declared to be in `tag`.
pub fn read(tag: &Tag, cells: &[String]) -> Vec<String> {
    let locale = Locales(vec![tag.clone()]);
    let calendar = locale.calendar();
    let options = ColumnOptions {
        locale_forms: locale.forms(calendar),
        names: locale.names(calendar),
        conventions: Conventions {
            calendar,
            ..Default::default()
        },
        ..ColumnOptions::default()
    };
    let column_options = [options];
    let mut surveyor = Surveyor::new(&column_options);
    for cell in cells {
        surveyor.cell(0, cell);
        surveyor.end_row();
    }
    let evidence = surveyor.take();
    let declared = Declared {
        temporal: true,
        locale,
        century: Some(1950),
        ..Declared::default()
    };
    let today = jiff::civil::date(2026, 11, 23);
    let Ok(ruling) = settle("due", &evidence.columns[0], &declared, today) else {
        return vec!["no dates".to_owned(); cells.len()];
    };
    let mut rulings = Rulings::new(TableRuling::default());
    rulings.column.insert("due".to_owned(), ruling);
    let mut decider = Decider::new(&rulings, "due")
        .ok()
        .flatten()
        .expect("there is a ruling");
    let converted = cells.iter().map(|cell| {
        let mut text = Vec::new();
        let (verdict, clean) = decider.convert(cell, &mut text);
        let clean = clean.text(&text);
        if clean.is_empty() {
            format!(
                "{verdict:?}: {}",
                decider.decide(cell, &RowContext::default()).sentence()
            )
        } else {
            clean
        }
    });
    converted.collect()
}
