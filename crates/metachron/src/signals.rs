//! Signals that end the program: what it says to whoever started it, and what it leaves.

use std::sync::Once;

/// Ends the program at INT, TERM or HUP without its temporary files, with status 128 and
/// the number of the signal, as shells have it. To be called before the first such file is
/// made: whoever makes none needs no thread that waits.
pub fn end_cleanly() {
    static ONCE: Once = Once::new();
    ONCE.call_once(handle);
}

#[cfg(unix)]
fn handle() {
    use metachron_table::temporary;
    use signal_hook::consts::{SIGHUP, SIGINT, SIGTERM};
    use signal_hook::iterator::Signals;
    let mut wanted = vec![SIGINT, SIGTERM];
    if !is_hangup_ignored() {
        wanted.push(SIGHUP);
    }
    // Without a handler the signals end the program as they always do.
    let Ok(mut signals) = Signals::new(wanted) else {
        return;
    };
    std::thread::spawn(move || {
        if let Some(signal) = signals.forever().next() {
            temporary::remove_all(|| std::process::exit(128 + signal));
        }
    });
}

/// Whether the program was started to outlive its terminal, as `nohup` does: then a
/// handler would end it all the same.
#[cfg(unix)]
fn is_hangup_ignored() -> bool {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let mut lines = status.lines();
    let ignored = lines.find_map(|line| line.strip_prefix("SigIgn:"));
    let ignored = ignored.and_then(|mask| u64::from_str_radix(mask.trim(), 16).ok());
    // The first bit is that of signal 1, HUP. Without such a file, nobody can tell.
    ignored.is_none_or(|mask| mask & 1 == 1)
}

#[cfg(not(unix))]
fn handle() {}
