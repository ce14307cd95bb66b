//! Options that all commands on tables have.

use super::{At, HeaderLineArg, InFormat, QuoteArg, values};
use clap::Args;
use metachron_core::form::{Count, Form, Order};
use metachron_core::locale::Tag;
use metachron_core::reading::Meant;
use metachron_core::rulings::Setting;
use metachron_core::zone::Zone;
use std::path::PathBuf;

/// Which table, and how its file is written.
#[derive(Clone, Debug, Args)]
pub struct TableArgs {
    /// Files with one header, a folder of them, a pattern of their names, `-` for standard
    /// input, or the address of a table or query: `postgres://USER@HOST/DATABASE?table=NAME`
    #[arg(required = true, value_name = "INPUT")]
    pub inputs: Vec<PathBuf>,
    /// The format of the files (default: by extension and content)
    #[arg(long, value_enum, value_name = "FORMAT", help_heading = "The file")]
    pub from: Option<InFormat>,
    /// The sheet of a workbook or the table of a database, by its name or its number
    /// (default: the first that is shown and holds something)
    #[arg(long, value_name = "NAME", help_heading = "The file")]
    pub sheet: Option<String>,
    /// The character between cells, or `tab` (default: auto-detected)
    #[arg(long, value_name = "C", value_parser = values::delimiter, help_heading = "The file")]
    pub delimiter: Option<u8>,
    /// The character around cells, or `none` (default: ")
    #[arg(long, value_name = "C", help_heading = "The file")]
    pub quote: Option<QuoteArg>,
    /// The character encoding, such as windows-1252 (default: auto-detected)
    #[arg(long, value_name = "NAME", help_heading = "The file")]
    pub encoding: Option<String>,
    /// The line of the column names, or `none` (default: auto-detected)
    #[arg(long, value_name = "N", help_heading = "The file")]
    pub header_line: Option<HeaderLineArg>,
    /// How many threads to use (default: all cores)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=256))]
    pub threads: Option<u16>,
}

impl ReadArgs {
    /// The forms that are declared: patterns, then counts.
    pub fn read_forms(&self) -> Vec<Form> {
        let counts = self.read_count.iter().copied().map(Form::of_count);
        self.read_form.iter().cloned().chain(counts).collect()
    }
}

/// How the columns are read.
#[derive(Clone, Debug, Args)]
pub struct ReadArgs {
    /// Only this column (repeatable)
    #[arg(
        short,
        long = "column",
        value_name = "NAME",
        help_heading = "How the source is read"
    )]
    pub columns: Vec<String>,
    /// Use these rulings
    #[arg(
        short,
        long,
        value_name = "FILE",
        help_heading = "How the source is read"
    )]
    pub rulings: Option<PathBuf>,
    /// The locale whose names and forms the cells have, such as fr-CH (repeatable)
    #[arg(long, value_name = "TAG", help_heading = "How the source is read")]
    pub read_locale: Vec<Tag>,
    /// The order of day, month and year: dmy, mdy, ymd, ydm, myd, dym
    #[arg(long, value_name = "ORDER", help_heading = "How the source is read")]
    pub read_order: Option<Order>,
    /// The zone whose clocks local times were read from, such as Europe/Lisbon
    /// or +01:00
    #[arg(long, value_name = "ZONE", help_heading = "How the source is read")]
    pub read_zone: Option<Zone>,
    /// What a name in the cells stands for, such as 'IST=Asia/Kolkata' (repeatable)
    #[arg(
        long,
        value_name = "NAME=ZONE",
        help_heading = "How the source is read"
    )]
    pub zone_name: Vec<values::ZoneName>,
    /// Read cells by this pattern, such as dd/MM/yyyy (repeatable: tried in order)
    #[arg(long, value_name = "PATTERN", help_heading = "How the source is read")]
    pub read_form: Vec<Form>,
    /// Read numbers as this count, such as "days since 1899-12-30" or unix-ms (repeatable)
    #[arg(
        long,
        value_name = "UNIT since ORIGIN",
        help_heading = "How the source is read"
    )]
    pub read_count: Vec<Count>,
    /// A cell and what it means, such as '6062020=2020-06-06' (repeatable)
    #[arg(long, value_name = "RAW=ISO", help_heading = "How the source is read")]
    pub example: Vec<Meant>,
    /// The first of the hundred years that two-digit years stand for
    #[arg(long, value_name = "FIRST-YEAR", value_parser = values::century, help_heading = "How the source is read")]
    pub century: Option<i16>,
    /// Set a key of a column's ruling, such as 'Due.read.order=dmy' (repeatable)
    #[arg(
        long,
        value_name = "COLUMN.KEY=VALUE",
        help_heading = "How the source is read"
    )]
    pub set: Vec<Setting>,
    /// Take the answers in this file: lines as --set takes them, which
    /// `settle --ask` writes
    #[arg(long, value_name = "FILE", help_heading = "How the source is read")]
    pub answers: Option<PathBuf>,
    /// What counts as now (default: the system's clock)
    #[arg(long, value_name = "INSTANT", help_heading = "How the source is read")]
    pub now: Option<At>,
}
