//! The command line.

mod table;
pub mod values;

pub use table::{ReadArgs, TableArgs};
pub use values::{
    At, ColorWhen, HeaderLineArg, InFormat, OutFormatArg, QuoteArg, Verbosity, ZoneAsArg, delimiter,
};

use clap::{Args, Parser, Subcommand};
use metachron_core::form::Form;
use metachron_core::locale::Tag;
use metachron_core::zone::Zone;
use std::ffi::OsString;
use std::path::PathBuf;
use std::sync::LazyLock;

/// What `--version` tells: `-V` leaves it at the first line.
static LONG_VERSION: LazyLock<String> = LazyLock::new(|| {
    format!(
        "{}\n{}\n{}",
        env!("CARGO_PKG_VERSION"),
        env!("METACHRON_BUILD"),
        metachron_core::zone::zone_data()
    )
});

/// Turns the messy date and time columns of a table into clean, typed
/// timestamps in ISO 8601, says how it read each column and why, and lists
/// every cell that needs a person.
#[derive(Debug, Parser)]
#[command(name = "metachron", version, propagate_version = true)]
#[command(long_version = &**LONG_VERSION)]
#[command(after_help = "\
Examples:
  metachron survey register.csv                           look at every column
  metachron settle register.csv -o register.rulings.toml  decide, and write it down
  metachron convert register.csv -r register.rulings.toml -o clean.csv
  metachron explain 03/04/05                              every reading of one value
  metachron demo                                          the whole way on made-up data

Exit status: 0 done; 1 could not be done; 2 wrong usage; 3 done, but cells or
columns wait for a person.")]
pub struct Cli {
    #[command(subcommand)]
    pub command: Command,

    /// Use the time zone database in this folder instead of the one that is
    /// built in
    // Used before the others are understood: see `zone_data_among`.
    #[arg(long, global = true, value_name = "DIR")]
    zone_data: Option<PathBuf>,

    /// When to use colour
    #[arg(long, global = true, value_enum, default_value_t, value_name = "WHEN")]
    pub color: ColorWhen,

    /// Say nothing on standard error but errors
    #[arg(short, long, global = true)]
    quiet: bool,

    /// Say more
    #[arg(short, long, global = true, conflicts_with = "quiet")]
    verbose: bool,
}

impl Cli {
    /// The folder of the time zone database among the arguments. It is sought
    /// before they are understood, since some of them are zones.
    pub fn zone_data_among(args: impl IntoIterator<Item = OsString>) -> Option<PathBuf> {
        let mut args = args.into_iter().skip(1);
        while let Some(arg) = args.next().filter(|arg| arg != "--") {
            if arg == "--zone-data" {
                return args.next().map(PathBuf::from);
            }
            if let Some(folder) = arg
                .to_str()
                .and_then(|arg| arg.strip_prefix("--zone-data="))
            {
                return Some(folder.into());
            }
        }
        None
    }

    /// How much to say besides results.
    pub fn verbosity(&self) -> Verbosity {
        match (self.quiet, self.verbose) {
            (true, _) => Verbosity::Quiet,
            (_, true) => Verbosity::More,
            _ => Verbosity::Usual,
        }
    }
}

#[derive(Debug, Subcommand)]
pub enum Command {
    /// Show what each column holds, what clashes and what is still open
    Survey(SurveyArgs),
    /// Decide how each column is read and write it down with its evidence
    Settle(SettleArgs),
    /// Write the table with its temporal columns typed, and list what needs a person
    Convert(Box<ConvertArgs>),
    /// Show every reading of a value, and what would settle it
    Explain(ExplainArgs),
    /// List the locales, each with how it writes a date and a time
    Locales(LocalesArgs),
    /// List the time zones, each with its offset and its next change
    Zones(ZonesArgs),
    /// Write made-up registers to a folder and go the whole way on them
    Demo(DemoArgs),
    /// Print a shell's completions, or the manual pages
    Completions(CompletionsArgs),
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron survey loans.csv
  metachron survey loans.csv -c Due            only this column
  metachron survey loans.csv -c Due --why      and the whole reasoning
  metachron survey oslo.csv riga.csv           two files with one header, as one table
  metachron survey loans.csv --json | jq '.columns[] | select(.questions != [])'")]
pub struct SurveyArgs {
    #[command(flatten)]
    pub table: TableArgs,
    #[command(flatten)]
    pub read: ReadArgs,
    /// Tell the whole reasoning for each column: what each level of evidence
    /// found, and what would change the decision
    #[arg(long)]
    pub why: bool,
    /// Print the facts as JSON (its fields: docs/json.md)
    #[arg(long)]
    pub json: bool,
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron settle loans.csv -o loans.rulings.toml
  metachron settle loans.csv --ask --answers loans.answers -o loans.rulings.toml
  metachron settle loans.csv --read-order dmy -o loans.rulings.toml
  metachron settle loans.csv --set 'Due.read.order=dmy' -o loans.rulings.toml")]
pub struct SettleArgs {
    #[command(flatten)]
    pub table: TableArgs,
    #[command(flatten)]
    pub read: ReadArgs,
    /// Write the rulings to this file (default: standard output)
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Put the open questions one after another on the terminal
    #[arg(long, conflicts_with = "json")]
    pub ask: bool,
    /// Replace the file even if it was edited since it was written
    #[arg(long, requires = "output")]
    pub replace: bool,
    /// Print the rulings and the open questions as JSON
    #[arg(long, conflicts_with = "output")]
    pub json: bool,
}

#[derive(Clone, Debug, Args)]
#[command(after_help = "\
Examples:
  metachron convert loans.csv -o clean.csv
  metachron convert loans.csv -r loans.rulings.toml -o clean.csv
  metachron convert loans.csv -r loans.rulings.toml -o clean.parquet
  metachron convert loans.csv -r loans.rulings.toml -o 'postgres://ann@db/loans?table=loans'
  metachron convert loans.csv --resolved clean.review.csv -o clean2.csv
  metachron convert loans.csv --keep-raw --verdicts -o clean.csv
  metachron convert loans.csv --derive 'reminder = Due - 14 days' -o clean.csv
  metachron convert loans.csv --where 'Due < 2025-01-01' --sort Due -o early.csv
  cat loans.csv | metachron convert - > clean.csv")]
pub struct ConvertArgs {
    #[command(flatten)]
    pub table: TableArgs,
    #[command(flatten)]
    pub read: ReadArgs,
    /// Write the clean table to this file (default, or `-`: CSV on standard output). Into a
    /// folder (`clean/`), each input goes by itself, under its name; `postgres://…?table=NAME`
    /// and `sqlite:PATH?table=NAME` are tables of databases
    #[arg(short, long, value_name = "OUT")]
    pub output: Option<PathBuf>,
    /// The format of the clean table (default: by OUT's extension)
    #[arg(long, value_enum, value_name = "FORMAT")]
    pub to: Option<OutFormatArg>,
    /// What the table is called in a database or a script (default: OUT's name up to its
    /// first dot)
    #[arg(long, value_name = "NAME")]
    pub table_name: Option<String>,
    /// Add rows to a table of a database that is there
    #[arg(long, requires = "output")]
    pub append: bool,
    /// In formats with types, make integers, decimals and booleans of columns that no
    /// ruling reads, where every cell allows it (007 does not)
    #[arg(long)]
    pub type_others: bool,
    /// Write stamps by this pattern, such as dd.MM.yyyy, instead of ISO 8601
    #[arg(
        long,
        value_name = "PATTERN",
        help_heading = "How the result is written"
    )]
    pub write_pattern: Option<Form>,
    /// Write names and digits of this locale; without a pattern, as is usual there
    #[arg(long, value_name = "TAG", help_heading = "How the result is written")]
    pub write_locale: Option<Tag>,
    /// Show instants as the clocks in this zone do, such as Europe/Lisbon or
    /// +01:00, instead of UTC
    #[arg(long, value_name = "ZONE", help_heading = "How the result is written")]
    pub write_zone: Option<Zone>,
    /// How that zone is told (default: offset)
    #[arg(
        long,
        value_enum,
        value_name = "HOW",
        help_heading = "How the result is written"
    )]
    pub write_zone_as: Option<ZoneAsArg>,
    /// Put the source text of each converted column next to it, as NAME_raw
    #[arg(long)]
    pub keep_raw: bool,
    /// Put the verdict on each cell of a converted column next to it, as NAME_verdict
    #[arg(long)]
    pub verdicts: bool,
    /// Add a column that is made from others (repeatable): 'away = whole days
    /// from loaned to back' (docs/phrases.md has the language)
    #[arg(
        long,
        value_name = "NAME = PHRASE",
        help_heading = "Columns and rows of the result"
    )]
    pub derive: Vec<String>,
    /// Keep only rows of which this holds: 'due < 2025-01-01'
    #[arg(
        long = "where",
        value_name = "PHRASE",
        help_heading = "Columns and rows of the result"
    )]
    pub keep: Option<String>,
    /// Sort the rows by this column, blanks last (repeatable: by the next
    /// where the one before is equal)
    #[arg(
        long,
        value_name = "COLUMN",
        help_heading = "Columns and rows of the result"
    )]
    pub sort: Vec<String>,
    /// Sort the other way round: the latest or greatest first, blanks last
    #[arg(
        long,
        requires = "sort",
        help_heading = "Columns and rows of the result"
    )]
    pub descending: bool,
    /// Write the review list to this file (default: OUT with .review.csv)
    #[arg(long, value_name = "FILE")]
    pub review: Option<PathBuf>,
    /// Put an apostrophe before texts of the review list that a spreadsheet would take
    /// for formulas
    #[arg(long)]
    pub escape_formulas: bool,
    /// Take what a reviewer wrote into the column `resolved` of this review
    /// list: ISO 8601, or `blank`
    #[arg(long, value_name = "FILE")]
    pub resolved: Option<PathBuf>,
    /// Write counts as JSON to this file
    #[arg(long, value_name = "FILE")]
    pub summary: Option<PathBuf>,
    /// Print the counts as JSON on standard output
    #[arg(long, requires = "output")]
    pub json: bool,
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron explain 03/04/05
  metachron explain 'Tue 5 March 2024, 2:30 pm'
  cut -d';' -f4 loans.csv | sort -u | metachron explain -")]
pub struct ExplainArgs {
    /// The values; `-` reads them from standard input, one a line
    #[arg(required = true, value_name = "VALUE")]
    pub values: Vec<String>,
    /// The first of the hundred years that two-digit years stand for
    #[arg(long, value_name = "FIRST-YEAR", value_parser = values::century)]
    pub century: Option<i16>,
    /// The locale whose names and forms the values have (repeatable)
    #[arg(long, value_name = "TAG")]
    pub read_locale: Vec<Tag>,
    /// The calendar of the dates, such as buddhist (default: the locale's)
    #[arg(long, value_name = "NAME")]
    pub read_calendar: Option<metachron_core::calendar::Calendar>,
    /// Try this form too (repeatable)
    #[arg(long, value_name = "PATTERN")]
    pub read_form: Vec<Form>,
    /// Try this count too, such as "days since 1899-12-30" (repeatable)
    #[arg(long, value_name = "UNIT since ORIGIN")]
    pub read_count: Vec<metachron_core::form::Count>,
    /// What counts as now (default: the system's clock)
    #[arg(long, value_name = "INSTANT")]
    pub now: Option<At>,
    /// Print the readings as JSON
    #[arg(long)]
    pub json: bool,
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron locales                  all of them
  metachron locales sr               those whose tag starts so, and the patterns of this one
  metachron locales 'de março'       those that write so, or have such names
  metachron locales '5 mars 2024'    what a cell is, and in which locales")]
pub struct LocalesArgs {
    /// Only locales whose tag starts so, that write so, that have these names, or that
    /// read this cell
    #[arg(value_name = "TEXT")]
    pub text: Option<String>,
    /// Print the list as JSON
    #[arg(long)]
    pub json: bool,
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron zones                    all of them
  metachron zones lisbon             those with this in their name
  metachron zones PT                 those of a country, by its code (ISO 3166-1)
  metachron zones CEST               those that go by this abbreviation within the year
  metachron zones +05:45             those that have this offset within the year
  metachron zones riga --at 2024-03-30T12:00:00Z")]
pub struct ZonesArgs {
    /// Only zones with this in their name, or of this country, abbreviation
    /// or offset
    #[arg(value_name = "TEXT", allow_hyphen_values = true)]
    pub text: Option<String>,
    /// The instant that offsets are told for (default: now, by the system's clock)
    #[arg(long, value_name = "INSTANT")]
    pub at: Option<At>,
    /// Print the list as JSON (its fields: docs/json.md)
    #[arg(long)]
    pub json: bool,
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron demo               in a folder of its own, which is said
  metachron demo my-folder     in this folder, so that you can go on there")]
pub struct DemoArgs {
    /// Where to write the demo's files (default: a new folder among the temporary ones)
    #[arg(value_name = "DIR")]
    pub dir: Option<PathBuf>,
}

#[derive(Debug, Args)]
#[command(after_help = "\
Examples:
  metachron completions bash > ~/.local/share/bash-completion/completions/metachron
  metachron completions man --dir ~/.local/share/man/man1")]
pub struct CompletionsArgs {
    /// The shell, or `man` for the manual pages
    #[arg(value_enum)]
    pub what: values::CompletionsFor,
    /// Write files to this folder instead of printing
    #[arg(long, value_name = "DIR")]
    pub dir: Option<PathBuf>,
}
