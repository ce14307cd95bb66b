//! `metachron demo`: the whole way on made-up data.

use crate::cli::DemoArgs;
use crate::outcome::Outcome;
use crate::view::message::{FAINT, STRONG};
use anyhow::{Context, ensure};
use std::fs;
use std::io::Write;
use std::path::Path;
use std::process::Command;

/// The registers of a travelling exhibition, made up from end to end.
const FILES: [(&str, &[u8]); 13] = [
    (
        "arrivals.csv",
        include_bytes!("../../../../demo/arrivals.csv"),
    ),
    ("loans.csv", include_bytes!("../../../../demo/loans.csv")),
    (
        "loggers.tsv",
        include_bytes!("../../../../demo/loggers.tsv"),
    ),
    (
        "handovers.csv",
        include_bytes!("../../../../demo/handovers.csv"),
    ),
    (
        "crate-logger.csv",
        include_bytes!("../../../../demo/crate-logger.csv"),
    ),
    (
        "returns.csv",
        include_bytes!("../../../../demo/returns.csv"),
    ),
    (
        "insurance.xlsx",
        include_bytes!("../../../../demo/insurance.xlsx"),
    ),
    (
        "partners.csv",
        include_bytes!("../../../../demo/partners.csv"),
    ),
    (
        "transits.csv",
        include_bytes!("../../../../demo/transits.csv"),
    ),
    (
        "treatments.csv",
        include_bytes!("../../../../demo/treatments.csv"),
    ),
    (
        "treatments.rulings.toml",
        include_bytes!("../../../../demo/treatments.rulings.toml"),
    ),
    (
        "couriers-north.csv",
        include_bytes!("../../../../demo/couriers-north.csv"),
    ),
    (
        "couriers-south.csv",
        include_bytes!("../../../../demo/couriers-south.csv"),
    ),
];

/// A step: what it shows, the command, and the status it ends with.
struct Step {
    says: &'static str,
    command: &'static [&'static str],
    status: i32,
    /// A file to show afterwards, if any.
    shows: &'static str,
}

/// Run twice: before the missing declaration and after it.
const CONVERT_LOANS: &[&str] = &[
    "convert",
    "loans.csv",
    "-r",
    "loans.rulings.toml",
    "-o",
    "loans.clean.csv",
];

const STEPS: &[Step] = &[
    Step {
        says: "What does each column hold, and what is open?",
        command: &["survey", "loans.csv"],
        status: 3,
        shows: "",
    },
    Step {
        says: "Decide what can be decided, and write it down with its evidence.",
        command: &["settle", "loans.csv", "-o", "loans.rulings.toml"],
        status: 3,
        shows: "",
    },
    Step {
        says: "Convert. What nothing settles stays empty and goes on the review list.",
        command: CONVERT_LOANS,
        status: 3,
        shows: "loans.clean.review.csv",
    },
    Step {
        says: "The partner says that Due is written day first. Put that into the rulings.",
        command: &[
            "settle",
            "loans.csv",
            "--set",
            "Due.read.order=dmy",
            "-o",
            "loans.rulings.toml",
        ],
        status: 3,
        shows: "",
    },
    Step {
        says: "Convert again: what waits now is what no declaration can mend.",
        command: CONVERT_LOANS,
        status: 3,
        shows: "loans.clean.csv",
    },
    Step {
        says: "Two files with one header are one table. All in one, without a rulings file.",
        command: &[
            "convert",
            "couriers-north.csv",
            "couriers-south.csv",
            "-o",
            "couriers.clean.csv",
        ],
        status: 0,
        shows: "",
    },
    Step {
        says: "A logger's instants, each with its offset, come out in UTC.",
        command: &["convert", "loggers.tsv", "-o", "loggers.clean.tsv"],
        status: 0,
        shows: "",
    },
    Step {
        says: "Five partners' languages, two calendars, three counts and hours in words.",
        command: &["convert", "arrivals.csv", "-o", "arrivals.clean.csv"],
        status: 0,
        shows: "arrivals.clean.csv",
    },
    Step {
        says: "A workbook that a spreadsheet half converted: day and month are put back.",
        command: &["survey", "insurance.xlsx", "--why"],
        status: 0,
        shows: "",
    },
    Step {
        says: "It comes out as the dates that were written.",
        command: &["convert", "insurance.xlsx", "-o", "insurance.clean.csv"],
        status: 0,
        shows: "insurance.clean.csv",
    },
    Step {
        says: "One form, and an order for each site that signs. A site without evidence stays open.",
        command: &["survey", "handovers.csv", "--why"],
        status: 3,
        shows: "",
    },
    Step {
        says: "The answer for that site, kept in the rulings, and replayed.",
        command: &[
            "settle",
            "handovers.csv",
            "--set",
            "\"handed over\".read.otherwise=dmy",
            "-o",
            "handovers.rulings.toml",
        ],
        status: 0,
        shows: "",
    },
    Step {
        says: "",
        command: &[
            "convert",
            "handovers.csv",
            "-r",
            "handovers.rulings.toml",
            "-o",
            "handovers.clean.csv",
        ],
        status: 0,
        shows: "",
    },
    Step {
        says: "A logger whose order changed on the way: its rows stand in time order.",
        command: &["survey", "crate-logger.csv", "--why"],
        status: 3,
        shows: "",
    },
    Step {
        says: "Nothing comes back before it went out.",
        command: &["survey", "returns.csv", "-c", "out", "-c", "back", "--why"],
        status: 0,
        shows: "",
    },
    Step {
        says: "Handovers by the clocks of each site. Two are in the hour that autumn has twice.",
        command: &[
            "settle",
            "transits.csv",
            "--set",
            "\"handed over\".read.zone-from=site",
            "--set",
            "arrived.read.zone-from=destination",
            "--zone-name",
            "Fjordlund=Europe/Oslo",
            "--zone-name",
            "Målby=Europe/Stockholm",
            "--zone-name",
            "Odrava=Europe/Prague",
            "--zone-name",
            "Kestrelby=Europe/London",
            "-o",
            "transits.rulings.toml",
        ],
        status: 3,
        shows: "",
    },
    Step {
        says: "The couriers had not changed their clocks yet. Instants as the couriers' office sees \
               them, and the hours that each crate was on its way.",
        command: &[
            "convert",
            "transits.csv",
            "-r",
            "transits.rulings.toml",
            "--set",
            "\"handed over\".read.in-overlap=earlier",
            "--write-zone",
            "Europe/Prague",
            "--derive",
            "hours = hours from `handed over` to arrived rounded to 1 decimal",
            "-o",
            "transits.clean.csv",
        ],
        status: 0,
        shows: "transits.clean.csv",
    },
    Step {
        says: "What left between four and six by the clocks there, the first at the top.",
        command: &[
            "convert",
            "transits.csv",
            "-r",
            "transits.rulings.toml",
            "--derive",
            "left = `handed over` in zone site",
            "--derive",
            "part of the day = if time of left < 17:00 then \"afternoon\" else \"evening\"",
            "--where",
            "time of left between 16:00 and 18:00",
            "--sort",
            "handed over",
            "-o",
            "transits.late.csv",
        ],
        status: 3,
        shows: "transits.late.csv",
    },
    Step {
        says: "Words to decimal hours, ages and due dates: columns that the rulings file derives.",
        command: &[
            "convert",
            "treatments.csv",
            "-r",
            "treatments.rulings.toml",
            "-o",
            "treatments.clean.csv",
        ],
        status: 3,
        shows: "treatments.clean.csv",
    },
    Step {
        says: "Elapsed hours, as a plot wants them.",
        command: &[
            "convert",
            "loggers.tsv",
            "--derive",
            "elapsed = hours since earliest read_at rounded to 3 decimals",
            "--sort",
            "read_at",
            "-o",
            "loggers.elapsed.tsv",
        ],
        status: 0,
        shows: "loggers.elapsed.tsv",
    },
    Step {
        says: "A table without dates comes out as it went in, byte for byte.",
        command: &["convert", "partners.csv", "-o", "partners.clean.csv"],
        status: 0,
        shows: "",
    },
    #[cfg(feature = "sqlite")]
    Step {
        says: "For the next program, with types: a database of two registers,",
        command: &[
            "convert",
            "loans.csv",
            "-r",
            "loans.rulings.toml",
            "-o",
            "registers.sqlite",
            "--table-name",
            "loans",
        ],
        status: 3,
        shows: "",
    },
    #[cfg(feature = "sqlite")]
    Step {
        says: "",
        command: &[
            "convert",
            "handovers.csv",
            "-r",
            "handovers.rulings.toml",
            "-o",
            "sqlite:registers.sqlite?table=handovers",
        ],
        status: 0,
        shows: "",
    },
    #[cfg(feature = "parquet")]
    Step {
        says: "a Parquet file of instants, with decimal hours,",
        command: &[
            "convert",
            "transits.csv",
            "-r",
            "transits.rulings.toml",
            "--set",
            "\"handed over\".read.in-overlap=earlier",
            "--derive",
            "hours = hours from `handed over` to arrived rounded to 1 decimal",
            "-o",
            "transits.parquet",
        ],
        status: 0,
        shows: "",
    },
    Step {
        says: "and a workbook with real date and time cells.",
        command: &[
            "convert",
            "treatments.csv",
            "-r",
            "treatments.rulings.toml",
            "-o",
            "treatments.clean.xlsx",
        ],
        status: 3,
        shows: "",
    },
    #[cfg(feature = "parquet")]
    Step {
        says: "Types are taken as they are when such a file comes back.",
        command: &["survey", "transits.parquet"],
        status: 0,
        shows: "",
    },
    Step {
        says: "One value by itself.",
        command: &["explain", "03/04/05"],
        status: 3,
        shows: "",
    },
];

/// Runs the command.
pub fn run(args: &DemoArgs) -> anyhow::Result<Outcome> {
    let kept;
    let dir: &Path = match &args.dir {
        Some(dir) => {
            fs::create_dir_all(dir).with_context(|| dir.display().to_string())?;
            dir
        }
        None => {
            kept = tempfile::Builder::new()
                .prefix("metachron-demo-")
                .tempdir()?
                .keep();
            &kept
        }
    };
    for (name, bytes) in FILES {
        let path = dir.join(name);
        fs::write(&path, bytes).with_context(|| path.display().to_string())?;
    }
    say(&format!("The demo's files are in {}.", dir.display()))?;
    for step in STEPS {
        walk(step, dir)?;
        if !step.shows.is_empty() {
            show_file(dir, step.shows, 6)?;
        }
    }
    check(dir)?;
    say("")?;
    say(
        "Replayed with the same rulings, the loans gave the same bytes; the partners are unchanged.",
    )?;
    say(&format!("Go on there: cd {}", dir.display()))?;
    Ok(Outcome::Done)
}

fn walk(step: &Step, dir: &Path) -> anyhow::Result<()> {
    say("")?;
    if !step.says.is_empty() {
        say(&format!("{FAINT}# {}{FAINT:#}", step.says))?;
    }
    say(&format!(
        "{STRONG}$ metachron {}{STRONG:#}",
        typed(step.command)
    ))?;
    let status = Command::new(std::env::current_exe()?)
        .args(step.command)
        .current_dir(dir)
        .status()?;
    ensure!(
        status.code() == Some(step.status),
        "`metachron {}` ended with {status} and not with status {}",
        typed(step.command),
        step.status
    );
    match step.status {
        0 => Ok(()),
        other => say(&format!(
            "{FAINT}(status {other}: something waits for a person){FAINT:#}"
        )),
    }
}

/// What the demo promises: the same bytes again, and nothing touched that
/// holds no dates.
fn check(dir: &Path) -> anyhow::Result<()> {
    let clean = fs::read(dir.join("loans.clean.csv"))?;
    let again = Command::new(std::env::current_exe()?)
        .args([
            "convert",
            "loans.csv",
            "-r",
            "loans.rulings.toml",
            "-q",
            "--threads",
            "1",
        ])
        .current_dir(dir)
        .output()?;
    ensure!(again.stdout == clean, "the replay gave other bytes");
    let partners = fs::read(dir.join("partners.csv"))?;
    ensure!(
        fs::read(dir.join("partners.clean.csv"))? == partners,
        "the table without dates was changed"
    );
    Ok(())
}

fn show_file(dir: &Path, name: &str, lines: usize) -> anyhow::Result<()> {
    let path = dir.join(name);
    let text = fs::read_to_string(&path).with_context(|| path.display().to_string())?;
    say("")?;
    say(&format!("{STRONG}{name}{STRONG:#} begins:"))?;
    for line in text.lines().take(lines) {
        say(&format!("  {line}"))?;
    }
    Ok(())
}

/// The command as it would be typed in a shell.
fn typed(command: &[&str]) -> String {
    let plain = |word: &&str| {
        word.chars()
            .all(|c| c.is_ascii_alphanumeric() || "-_./".contains(c))
    };
    let words: Vec<String> = command
        .iter()
        .map(|word| {
            if plain(word) {
                (*word).to_owned()
            } else {
                format!("'{word}'")
            }
        })
        .collect();
    words.join(" ")
}

fn say(line: &str) -> anyhow::Result<()> {
    // Flushed, so that the steps' own output stands below it.
    let mut out = anstream::stdout().lock();
    writeln!(out, "{line}")?;
    Ok(out.flush()?)
}
