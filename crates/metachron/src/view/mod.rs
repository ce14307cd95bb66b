//! What people read: tables, sentences, messages.

pub mod basis;
pub mod explain;
pub mod locales;
pub mod message;
pub mod question;
pub mod survey;
pub mod why;
pub mod zones;

use crate::output::Output;
use crate::visible::visible;
use comfy_table::Table;
use std::io::{IsTerminal, Write};
use unicode_width::UnicodeWidthStr;

/// Prints styled text on standard output, with colour only where it is wanted.
pub fn print(out: &mut Output, text: &str) -> anyhow::Result<()> {
    let choice = anstream::AutoStream::choice(&std::io::stdout());
    let mut plain = anstream::AutoStream::new(Vec::new(), choice);
    plain.write_all(visible(text).as_bytes())?;
    out.put(&plain.into_inner())
}

/// A table without lines.
fn plain_table() -> Table {
    let mut table = Table::new();
    table.load_preset(comfy_table::presets::NOTHING);
    table
}

/// The width to lay text out for: the terminal's, or no limit elsewhere.
pub fn width() -> Option<u16> {
    let terminal = std::io::stdout().is_terminal();
    terminal
        .then(terminal_size::terminal_size)
        .flatten()
        .map(|(width, _)| width.0.max(60))
}

/// Breaks `text` into lines of at most `width` characters, each behind
/// `indent` spaces.
pub fn wrap(text: &str, indent: usize, width: Option<u16>) -> String {
    let room = width.map_or(usize::MAX, |width| {
        usize::from(width).saturating_sub(indent)
    });
    let mut lines = vec![String::new()];
    for word in text.split(' ') {
        let last = lines.len() - 1;
        let have = lines[last].width();
        if have > 0 && have + 1 + word.width() > room {
            lines.push(word.to_owned());
        } else {
            if have > 0 {
                lines[last].push(' ');
            }
            lines[last].push_str(word);
        }
    }
    let indent = " ".repeat(indent);
    lines
        .into_iter()
        .map(|line| format!("{indent}{line}\n"))
        .collect()
}
