//! A bar for work that takes longer than a second, on a terminal.

use crate::cli::Verbosity;
use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};
use std::io::IsTerminal;
use std::time::{Duration, Instant};

/// Work that is done sooner is not worth a bar.
const PATIENCE: Duration = Duration::from_secs(1);

/// How far the work is.
pub struct Progress {
    bar: Option<ProgressBar>,
    begun: Instant,
    shown: bool,
    rows: u64,
}

impl Progress {
    /// Progress through `bytes`, as `what` (`surveying`, say).
    pub fn new(what: &'static str, bytes: u64, verbosity: Verbosity) -> Progress {
        let wanted = verbosity != Verbosity::Quiet && std::io::stderr().is_terminal();
        let bar = wanted.then(|| {
            let bar = ProgressBar::with_draw_target(Some(bytes), ProgressDrawTarget::hidden());
            let style = ProgressStyle::with_template("{prefix} {bar:30} {percent}%  {msg}");
            if let Ok(style) = style {
                bar.set_style(style.progress_chars("━━ "));
            }
            bar.set_prefix(what);
            bar
        });
        Progress {
            bar,
            begun: Instant::now(),
            shown: false,
            rows: 0,
        }
    }

    /// So much more is done.
    pub fn advance(&mut self, bytes: u64, rows: u64) {
        self.rows += rows;
        let Some(bar) = &self.bar else { return };
        let elapsed = self.begun.elapsed();
        if !self.shown && elapsed > PATIENCE {
            self.shown = true;
            bar.set_draw_target(ProgressDrawTarget::stderr());
        }
        if self.shown {
            let rate = self.rows as f64 / elapsed.as_secs_f64();
            bar.set_message(format!(
                "{} rows, {} a second",
                crate::words::number(self.rows),
                crate::words::number(rate as u64)
            ));
        }
        bar.inc(bytes);
    }
}

impl Drop for Progress {
    fn drop(&mut self) {
        if let Some(bar) = &self.bar {
            bar.finish_and_clear();
        }
    }
}
