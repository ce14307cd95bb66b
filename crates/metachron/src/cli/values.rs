//! The values that options take.

use clap::ValueEnum;
use clap::builder::PossibleValue;
use jiff::{Timestamp, civil::Date};
use metachron_core::rulings::{HeaderLine, NoHeader, ZoneAs};
use metachron_core::zone::{NoSuchZone, Zone};
#[cfg(feature = "parquet")]
use metachron_table::ColumnarFormat;
use metachron_table::{OutFormat, SourceFormat, WorkbookFormat};
use std::str::FromStr;

/// When to use colour.
#[derive(Clone, Copy, Debug, Default, ValueEnum)]
pub enum ColorWhen {
    /// On a terminal, unless NO_COLOR is set
    #[default]
    Auto,
    /// Always
    Always,
    /// Never
    Never,
}

impl ColorWhen {
    /// Makes it hold for all that is printed from now on.
    pub fn apply(self) {
        let choice = match self {
            ColorWhen::Auto => anstream::ColorChoice::Auto,
            ColorWhen::Always => anstream::ColorChoice::Always,
            ColorWhen::Never => anstream::ColorChoice::Never,
        };
        choice.write_global();
    }
}

/// How the zone of an instant is told.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum ZoneAsArg {
    /// By its offset: 2025-03-04T14:30:00+01:00
    Offset,
    /// By offset and name (RFC 9557): 2025-03-04T14:30:00+01:00[Europe/Riga]
    Name,
    /// In a column NAME_zone next to the local time: 2025-03-04T14:30:00
    Column,
}

impl From<ZoneAsArg> for ZoneAs {
    fn from(zone_as: ZoneAsArg) -> ZoneAs {
        match zone_as {
            ZoneAsArg::Offset => ZoneAs::Offset,
            ZoneAsArg::Name => ZoneAs::Name,
            ZoneAsArg::Column => ZoneAs::Column,
        }
    }
}

/// A zone by a name of one's own.
#[derive(Clone, Debug)]
pub struct ZoneName {
    /// The name.
    pub name: String,
    /// The zone.
    pub zone: Zone,
}

impl FromStr for ZoneName {
    type Err = String;

    fn from_str(text: &str) -> Result<ZoneName, String> {
        let (name, zone) = text
            .split_once('=')
            .filter(|(name, _)| !name.trim().is_empty())
            .ok_or("write it as NAME=ZONE, such as 'Lisbon office=Europe/Lisbon'")?;
        Ok(ZoneName {
            name: name.trim().to_owned(),
            zone: zone.parse().map_err(|why: NoSuchZone| why.to_string())?,
        })
    }
}

/// How much to say besides results.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Verbosity {
    /// Nothing but errors.
    Quiet,
    /// A few lines.
    Usual,
    /// More.
    More,
}

/// A format that tables are read from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum InFormat {
    /// Cells between commas or the like
    Csv,
    /// Cells between tabs
    Tsv,
    /// A workbook of Office Open XML, with or without macros
    #[value(alias = "xlsm")]
    Xlsx,
    /// The same with binary parts
    Xlsb,
    /// A binary workbook
    Xls,
    /// A workbook of OpenDocument
    Ods,
    /// Objects, one a line or in a list
    #[value(alias = "json", alias = "ndjson")]
    Jsonl,
    /// An SQLite database
    #[cfg(feature = "sqlite")]
    Sqlite,
    /// Typed columns, compressed
    #[cfg(feature = "parquet")]
    Parquet,
    /// Arrow record batches, as a file
    #[cfg(feature = "arrow")]
    Arrow,
    /// Arrow record batches, as a stream
    #[cfg(feature = "arrow")]
    Arrows,
}

impl InFormat {
    /// The format, unless what is meant is to be found out.
    pub fn source_format(self) -> Option<SourceFormat> {
        Some(match self {
            InFormat::Csv | InFormat::Tsv => SourceFormat::Text,
            InFormat::Xlsx => SourceFormat::Workbook(WorkbookFormat::Xlsx),
            InFormat::Xlsb => SourceFormat::Workbook(WorkbookFormat::Xlsb),
            InFormat::Xls => SourceFormat::Workbook(WorkbookFormat::Xls),
            InFormat::Ods => SourceFormat::Workbook(WorkbookFormat::Ods),
            InFormat::Jsonl => SourceFormat::Json,
            #[cfg(feature = "sqlite")]
            InFormat::Sqlite => SourceFormat::Sqlite,
            #[cfg(feature = "parquet")]
            InFormat::Parquet => SourceFormat::Columnar(ColumnarFormat::Parquet),
            // A file and a stream are told apart by their first bytes.
            #[cfg(feature = "arrow")]
            InFormat::Arrow | InFormat::Arrows => return None,
        })
    }
}

/// A format that tables are written in, by its name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct OutFormatArg(pub OutFormat);

impl ValueEnum for OutFormatArg {
    fn value_variants<'a>() -> &'a [OutFormatArg] {
        static ALL: [OutFormatArg; OutFormat::ALL.len()] = {
            let mut all = [OutFormatArg(OutFormat::Csv); OutFormat::ALL.len()];
            let mut index = 0;
            while index < all.len() {
                all[index] = OutFormatArg(OutFormat::ALL[index]);
                index += 1;
            }
            all
        };
        &ALL
    }

    fn to_possible_value(&self) -> Option<PossibleValue> {
        let names = self.0.names();
        let value = PossibleValue::new(names[0]).help(self.0.description());
        Some(value.aliases(&names[1..]))
    }
}

/// `--header-line N|none`
#[derive(Clone, Copy, Debug)]
pub struct HeaderLineArg(pub HeaderLine);

impl FromStr for HeaderLineArg {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        match text {
            "none" => Ok(HeaderLineArg(HeaderLine::None(NoHeader::None))),
            _ => match text.parse() {
                Ok(line) if line > 0 => Ok(HeaderLineArg(HeaderLine::Line(line))),
                _ => Err("give a line number from 1 on, or `none`".to_owned()),
            },
        }
    }
}

/// `--quote C|none`
#[derive(Clone, Copy, Debug)]
pub struct QuoteArg(pub Option<u8>);

impl FromStr for QuoteArg {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        match text.as_bytes() {
            b"none" => Ok(QuoteArg(None)),
            [byte] if byte.is_ascii_punctuation() => Ok(QuoteArg(Some(*byte))),
            _ => Err("give one character, or `none`".to_owned()),
        }
    }
}

/// `--delimiter C`: one ASCII character, or its name.
pub fn delimiter(text: &str) -> Result<u8, String> {
    match text {
        "tab" | "\\t" => Ok(b'\t'),
        "comma" => Ok(b','),
        "semicolon" => Ok(b';'),
        "pipe" => Ok(b'|'),
        "space" => Ok(b' '),
        _ => match text.as_bytes() {
            [byte]
                if byte.is_ascii()
                    && !byte.is_ascii_alphanumeric()
                    && !b"\"\r\n".contains(byte) =>
            {
                Ok(*byte)
            }
            _ => Err("give one character that is no letter, digit or quote, or `tab`".to_owned()),
        },
    }
}

/// `--century FIRST-YEAR`
pub fn century(text: &str) -> Result<i16, String> {
    match text.parse() {
        Ok(year @ 0..=9900) => Ok(year),
        _ => Err("give the first year of a hundred, such as 1947".to_owned()),
    }
}

/// An instant, or a date, which is its midnight in UTC.
#[derive(Clone, Copy, Debug)]
pub struct At(pub Timestamp);

impl FromStr for At {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let of_day = |day: Date| jiff::tz::Offset::UTC.to_timestamp(day.into());
        let instant = text.parse::<Timestamp>();
        instant
            .or_else(|_| of_day(text.parse()?))
            .map(At)
            .map_err(|_| "give an instant such as 2026-11-23T12:00:00Z, or a date".to_owned())
    }
}

impl At {
    /// Now, by the system's clock.
    pub fn now() -> At {
        At(Timestamp::now())
    }

    /// The day that it falls on in UTC.
    pub fn day(self) -> Date {
        jiff::tz::Offset::UTC.to_datetime(self.0).date()
    }
}

/// What completions can be printed for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum CompletionsFor {
    /// Bash
    Bash,
    /// Elvish
    Elvish,
    /// Fish
    Fish,
    /// PowerShell
    Powershell,
    /// Zsh
    Zsh,
    /// Manual pages
    Man,
}
