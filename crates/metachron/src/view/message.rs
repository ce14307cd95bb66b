//! Messages on standard error.

use crate::visible::{shortened, visible};
use anstyle::{AnsiColor, Style};
use std::io::Write;

/// Bold.
pub const STRONG: Style = Style::new().bold();

/// Less prominent than the rest.
pub const FAINT: Style = Style::new().dimmed();

/// Something waits for a person.
pub const WAITS: Style = AnsiColor::Yellow.on_default();

/// Something went wrong.
const WRONG: Style = AnsiColor::Red.on_default().bold();

/// Prints the one message about why it could not be done.
pub fn error(message: &str) {
    // With standard error closed, there is nobody left to tell.
    let message = shortened(message);
    let message = visible(&message);
    let _ = writeln!(anstream::stderr(), "{WRONG}metachron:{WRONG:#} {message}");
}

/// Prints a line on standard error.
pub fn say(line: &str) {
    let _ = writeln!(anstream::stderr(), "{}", visible(line));
}
