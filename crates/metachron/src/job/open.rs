//! Opening a table for work.

use super::declared;
use crate::cli::{At, InFormat, ReadArgs, TableArgs, Verbosity};
use crate::input_file;
use crate::outcome::usage;
use crate::signals;
use anyhow::Context;
use jiff::civil::Date;
use metachron_core::engine::Request;
use metachron_core::rulings::{HeaderLine, NoHeader, Rulings, Setting, TableRuling, USUAL_BLANKS};
use metachron_table::{DatabaseAddress, ReadOptions, Source, Table, encoding_for_label};
use std::path::{Path, PathBuf};

/// A table, and what was said about it.
pub struct Job<'a> {
    pub(super) args: &'a ReadArgs,
    pub(super) verbosity: Verbosity,
    /// The table.
    pub table: Table,
    pub(super) declared: ReadOptions,
    /// What the engine has to know of it.
    pub request: Request,
    pub(super) threads: usize,
}

impl<'a> Job<'a> {
    /// Opens the table and checks what is said about it.
    pub fn open(
        table: &TableArgs,
        args: &'a ReadArgs,
        verbosity: Verbosity,
    ) -> anyhow::Result<Job<'a>> {
        declared::check(args)?;
        let rulings = match &args.rulings {
            Some(path) => Some(read_rulings(path)?),
            None => None,
        };
        let sources = sources(&table.inputs)?;
        let declared = declare(table, rulings.as_ref(), args.rulings.as_deref(), &sources)?;
        let opened = Table::open(sources, &declared)?;
        let asked = declared::asked(args, opened.columns())?;
        if let (Some(rulings), Some(path)) = (&rulings, &args.rulings) {
            check_columns(rulings, path, opened.columns())?;
        }
        let mut settings = match &args.answers {
            Some(path) => read_answers(path)?,
            None => Vec::new(),
        };
        settings.extend(args.set.iter().cloned());
        for setting in &settings {
            declared::index_of(setting.column(), opened.columns(), "--set")?;
        }
        let columns = opened.columns().len();
        let sources = opened.sources();
        let zones = args.zone_name.iter();
        let request = Request {
            columns: opened.columns().to_vec(),
            headers: opened.header().written.clone(),
            files: sources
                .map(|source| file_name(source.name()).to_owned())
                .collect(),
            asked,
            named: args.columns.clone(),
            table: table_ruling(&opened),
            rulings,
            declared: declared::declared(args),
            settings,
            zones: zones
                .map(|named| (named.name.clone(), named.zone.clone()))
                .collect(),
            now: args.now.unwrap_or_else(At::now).0,
        };
        Ok(Job {
            args,
            verbosity,
            table: opened,
            declared,
            request,
            threads: threads(table.threads, columns),
        })
    }

    /// How many threads work on the table.
    pub fn threads(&self) -> usize {
        self.threads
    }

    /// What counts as today, in UTC.
    pub fn today(&self) -> Date {
        At(self.request.now).day()
    }

    /// Looks at every byte of files whose encoding nobody declared: for work
    /// that must not start over.
    pub fn make_encodings_sure(&mut self) -> anyhow::Result<()> {
        Ok(self.table.make_encodings_sure(&self.declared)?)
    }
}

/// All threads together know so much of columns: what one of them knows of a column
/// takes about 10 KiB.
const COLUMNS_OF_ALL_THREADS: usize = 1 << 14;

/// How many threads take the rows of a table of so many columns, if so many are
/// `asked` for.
fn threads(asked: Option<u16>, columns: usize) -> usize {
    let usual = || std::thread::available_parallelism().map_or(1, usize::from);
    let most = COLUMNS_OF_ALL_THREADS / columns.max(1);
    asked
        .map_or_else(usual, usize::from)
        .clamp(1, most.clamp(1, MOST_THREADS))
}

/// More threads than this wait for each other.
const MOST_THREADS: usize = 256;

/// The name of a file without its folder, so that a ruling holds wherever the
/// files lie.
pub(super) fn file_name(name: &str) -> &str {
    let name_alone = Path::new(name).file_name().and_then(|name| name.to_str());
    name_alone.unwrap_or(name)
}

/// How the table is read, as far as one ruling fits all its files.
fn table_ruling(table: &Table) -> TableRuling {
    let ruling = TableRuling {
        blanks: Some(USUAL_BLANKS.map(str::to_owned).to_vec()),
        ..TableRuling::default()
    };
    if !table.is_uniform() {
        return ruling;
    }
    if table.header().in_schema {
        return ruling;
    }
    let ruling = TableRuling {
        header_line: Some(match table.header().line {
            Some(line) => HeaderLine::Line(line as u32),
            None => HeaderLine::None(NoHeader::None),
        }),
        ..ruling
    };
    if let Some(sheet) = table.sheet() {
        return TableRuling {
            sheet: Some(sheet.name.to_owned()),
            ..ruling
        };
    }
    let dialect = table.dialect();
    TableRuling {
        encoding: Some(table.encoding().name().to_lowercase()),
        delimiter: Some(char::from(dialect.delimiter)),
        quote: match dialect.quote {
            Some(b'"') => None,
            Some(quote) => Some(char::from(quote).to_string()),
            None => Some("none".to_owned()),
        },
        ..ruling
    }
}

fn sources(inputs: &[PathBuf]) -> anyhow::Result<Vec<Source>> {
    let mut sources = Vec::with_capacity(inputs.len());
    for (index, path) in inputs.iter().enumerate() {
        if inputs[..index].contains(path) {
            return Err(usage(format!("{} is given twice", path.display())));
        }
        if let Some(address) = path.to_str().and_then(DatabaseAddress::parse) {
            let address = address.map_err(|why| usage(why.to_string()))?;
            signals::end_cleanly();
            sources.push(Source::database(address));
            continue;
        }
        // What is no file is kept in one while it is read.
        if !std::fs::metadata(path).is_ok_and(|meta| meta.is_file()) {
            signals::end_cleanly();
        }
        sources.push(if path == Path::new("-") {
            Source::spool("standard input", std::io::stdin().lock())?
        } else {
            Source::file(path)?
        });
    }
    Ok(sources)
}

pub(super) fn read_rulings(path: &Path) -> anyhow::Result<Rulings> {
    let name = path.display().to_string();
    let text = input_file::read(path)?;
    Rulings::from_toml(&text).context(name)
}

/// Settings, one a line, as `settle --ask` keeps them.
fn read_answers(path: &Path) -> anyhow::Result<Vec<Setting>> {
    let name = path.display().to_string();
    let text = input_file::read(path)?;
    let lines = text.lines().enumerate();
    let said = lines.filter(|(_, line)| !line.trim().is_empty() && !line.trim().starts_with('#'));
    said.map(|(number, line)| {
        let setting = line.trim().parse::<Setting>();
        setting.with_context(|| format!("{name}, line {}", number + 1))
    })
    .collect()
}

/// How the files are written: what options say, else what rulings say, else
/// what extensions say.
pub(super) fn declare(
    args: &TableArgs,
    rulings: Option<&Rulings>,
    path: Option<&Path>,
    sources: &[Source],
) -> anyhow::Result<ReadOptions> {
    let ruled = rulings.map(|rulings| &rulings.table);
    let in_rulings = || path.map_or(String::new(), |path| format!("{}: table", path.display()));
    let is_tsv = sources.iter().all(|source| {
        let path = source.path().unwrap_or(Path::new(""));
        path.extension()
            .is_some_and(|end| end.eq_ignore_ascii_case("tsv"))
    });
    let by_format = match (args.from, is_tsv) {
        (Some(InFormat::Tsv), _) | (None, true) => Some(b'\t'),
        _ => None,
    };
    if let (Some(InFormat::Tsv), Some(other)) = (args.from, args.delimiter)
        && other != b'\t'
    {
        return Err(usage(
            "--from tsv contradicts --delimiter; give one of them",
        ));
    }
    let ruled_delimiter = match ruled.and_then(|table| table.delimiter) {
        Some(letter) => {
            let byte = crate::cli::delimiter(&letter.to_string());
            Some(byte.map_err(|why| anyhow::anyhow!("{}.delimiter: {why}", in_rulings()))?)
        }
        None => None,
    };
    let ruled_quote = match ruled.and_then(|table| table.quote.as_deref()) {
        Some(text) => {
            let quote: crate::cli::QuoteArg = text
                .parse()
                .map_err(|why| anyhow::anyhow!("{}.quote: {why}", in_rulings()))?;
            Some(quote.0)
        }
        None => None,
    };
    let encoding = match (
        &args.encoding,
        ruled.and_then(|table| table.encoding.as_ref()),
    ) {
        (Some(label), _) => {
            Some(encoding_for_label(label).map_err(|why| usage(format!("--encoding: {why}")))?)
        }
        (None, Some(label)) => {
            Some(encoding_for_label(label).with_context(|| format!("{}.encoding", in_rulings()))?)
        }
        (None, None) => None,
    };
    let header_line: Option<HeaderLine> = args.header_line.map(|line| line.0);
    let delimiter = args.delimiter.or(ruled_delimiter).or(by_format);
    let quote = args.quote.map(|quote| quote.0).or(ruled_quote);
    if let (Some(delimiter), Some(Some(quote))) = (delimiter, quote)
        && delimiter == quote
    {
        return Err(usage(format!(
            "`{}` cannot be both the delimiter and the quote",
            char::from(quote)
        )));
    }
    Ok(ReadOptions {
        delimiter,
        quote,
        encoding,
        sheet: args
            .sheet
            .clone()
            .or(ruled.and_then(|table| table.sheet.clone())),
        format: args.from.and_then(InFormat::source_format),
        header_line: header_line.or(ruled.and_then(|table| table.header_line)),
    })
}

/// Refuses rulings on columns that the table does not have.
fn check_columns(rulings: &Rulings, path: &Path, columns: &[String]) -> anyhow::Result<()> {
    for name in rulings.column.keys() {
        if !columns.contains(name) {
            let text = input_file::read(path).unwrap_or_default();
            let line = Rulings::line_of_column(&text, name)
                .map_or(String::new(), |line| format!(", line {line}"));
            anyhow::bail!(
                "{}{line}: {}",
                path.display(),
                declared::no_such_column(name, columns)
            );
        }
    }
    Ok(())
}
