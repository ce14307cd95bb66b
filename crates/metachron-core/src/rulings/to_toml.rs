//! Writing a rulings file that a person can read.

use super::Rulings;
use std::collections::HashMap;
use toml_edit::{DocumentMut, Item};

/// What is written above the parts of a rulings file.
#[derive(Clone, Debug, Default)]
pub struct Comments {
    /// At the head of the file, a line each.
    pub head: Vec<String>,
    /// Above a column, by its name.
    pub columns: HashMap<String, Vec<String>>,
    /// At the end of the file.
    pub foot: Vec<String>,
}

pub(super) fn to_toml(rulings: &Rulings, comments: &Comments) -> String {
    // The model serializes by construction: strings, numbers and lists.
    let document = toml_edit::ser::to_document(rulings);
    let mut document = document.unwrap_or_else(|why| unreachable!("rulings can be written: {why}"));
    document.decor_mut().set_prefix(lines(&comments.head));
    for name in ["table", "zones", "column"] {
        if let Some(item) = document.get_mut(name) {
            open(item);
        }
    }
    if let Some(columns) = document.get_mut("column").and_then(Item::as_table_mut) {
        columns.set_implicit(true);
        for (name, item) in columns.iter_mut() {
            let name = name.get().to_owned();
            open(item);
            if let Some(table) = item.as_table_mut() {
                let comment = comments.columns.get(&name).map_or(&[][..], Vec::as_slice);
                table
                    .decor_mut()
                    .set_prefix(format!("\n{}", lines(comment)));
            }
        }
    }
    if let Some(item) = document.get_mut("derive") {
        *item = std::mem::take(item)
            .into_array_of_tables()
            .map_or_else(|item| item, Item::ArrayOfTables);
        if let Some(derived) = item.as_array_of_tables_mut() {
            for table in derived.iter_mut() {
                table.decor_mut().set_prefix("\n");
            }
        }
    }
    finish(document, &comments.foot)
}

fn finish(document: DocumentMut, foot: &[String]) -> String {
    let mut text = document.to_string();
    if !foot.is_empty() {
        text.push('\n');
        text.push_str(&lines(foot));
    }
    text
}

/// Turns an inline table into one with a header of its own.
fn open(item: &mut Item) {
    if let Ok(mut table) = std::mem::take(item).into_table() {
        table.decor_mut().set_prefix("\n");
        *item = Item::Table(table);
    }
}

fn lines(comment: &[String]) -> String {
    comment
        .iter()
        .map(|line| {
            // A cell's text may hold a line break, which would end the comment,
            // and other control characters, which TOML forbids in it.
            let line = line.replace(char::is_control, " ");
            format!("{}\n", format!("# {line}").trim_end())
        })
        .collect()
}
