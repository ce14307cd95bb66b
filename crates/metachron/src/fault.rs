//! A fault of the program itself: what it says then.

use crate::view::message;
use std::backtrace::{Backtrace, BacktraceStatus};
use std::panic::{self, AssertUnwindSafe, PanicHookInfo};
use std::process::ExitCode;
use std::sync::atomic::{AtomicBool, Ordering};

/// Runs `command`; a panic in it, on whatever thread, becomes one message and the status
/// of what could not be done. Files that are being written are dropped on the way, so that
/// those of an earlier run stand as they were.
pub fn guarded(command: impl FnOnce() -> ExitCode) -> ExitCode {
    panic::set_hook(Box::new(report));
    panic::catch_unwind(AssertUnwindSafe(command)).unwrap_or(ExitCode::FAILURE)
}

/// Tells of the first panic: others may follow from it.
fn report(info: &PanicHookInfo<'_>) {
    static IS_TOLD: AtomicBool = AtomicBool::new(false);
    if IS_TOLD.swap(true, Ordering::Relaxed) {
        return;
    }
    let payload = info.payload();
    let text = payload.downcast_ref::<&str>().copied();
    let owned = payload.downcast_ref::<String>().map(String::as_str);
    let place = info.location().map(ToString::to_string);
    message::error(&in_words(text.or(owned), place.as_deref()));
    let backtrace = Backtrace::capture();
    if backtrace.status() == BacktraceStatus::Captured {
        message::say(&backtrace.to_string());
    }
}

fn in_words(what: Option<&str>, place: Option<&str>) -> String {
    format!(
        "this is a fault of the program: {what}, at {place}. What was not whole yet was not put in its \
         place. Please report it, with this message, the command, and a table that shows it, if you may share one",
        what = what.unwrap_or("no reason given"),
        place = place.unwrap_or("an unknown place"),
    )
}
