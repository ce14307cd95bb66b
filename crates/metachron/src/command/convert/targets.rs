//! Where everything goes.

use crate::cli::ConvertArgs;
use crate::outcome::usage;
use crate::output::{refuse_same, same_file};
use crate::words::list;
use metachron_core::rulings::ZoneAs;
use metachron_table::{DatabaseAddress, OutFormat};
use std::path::{Path, PathBuf};

/// Where everything goes.
pub struct Targets {
    /// The clean table; standard output if none, unless it goes into a database.
    pub out: Option<PathBuf>,
    /// The table of a database that it goes into, if it does.
    pub database: Option<DatabaseAddress>,
    /// The review list.
    pub review: Option<PathBuf>,
    /// The counts.
    pub summary: Option<PathBuf>,
    /// The format of the clean table; the source's own if none.
    pub format: Option<OutFormat>,
    /// What the table is called, in formats that give it a name.
    pub table: String,
}

/// What a table is called that has no name: one that comes from standard input and goes to
/// standard output.
const TABLE: &str = "table";

impl Targets {
    /// The targets that the options name.
    pub fn new(args: &ConvertArgs) -> anyhow::Result<Targets> {
        let out = args.output.clone().filter(|path| path != Path::new("-"));
        let address = out
            .as_ref()
            .and_then(|out| DatabaseAddress::parse(out.to_str()?));
        let database = address.transpose().map_err(|why| usage(why.to_string()))?;
        let out = out.filter(|_| database.is_none());
        check_database(args, database.as_ref())?;
        if args.json && out.is_none() && database.is_none() {
            return Err(usage(
                "--json and the table cannot both go to standard output; name a file with -o",
            ));
        }
        for (option, path) in [("--review", &args.review), ("--summary", &args.summary)] {
            if path.as_deref() == Some(Path::new("-")) {
                return Err(usage(format!(
                    "{option} - : standard output is for the table; name a file"
                )));
            }
        }
        let default_review = out.as_ref().map(|out| out.with_extension("review.csv"));
        let format = match (args.to, &out) {
            (Some(format), _) => Some(format.0),
            (None, Some(out)) => format_of(out)?,
            (None, None) => None,
        };
        let targets = Targets {
            // The index of a file stands at its end: nothing can be read before.
            #[cfg(feature = "arrow")]
            format: format.map(|format| match (format, &out) {
                (OutFormat::Arrow, None) => OutFormat::ArrowStream,
                (format, _) => format,
            }),
            #[cfg(not(feature = "arrow"))]
            format,
            table: match (
                &args.table_name,
                database.as_ref().and_then(DatabaseAddress::table),
            ) {
                (Some(name), _) => name.clone(),
                (None, Some(name)) => name.to_owned(),
                (None, None) => table_name(out.as_ref().or(args.table.inputs.first())),
            },
            database,
            review: args.review.clone().or(default_review),
            summary: args.summary.clone(),
            out,
        };
        let written: Vec<&PathBuf> = targets.files().collect();
        for (index, path) in written.iter().enumerate() {
            let read = args.table.inputs.iter().chain(&args.read.rulings);
            let read = read.chain(&args.read.answers);
            // A review list that holds answers is kept by the list itself.
            let answers = args
                .resolved
                .iter()
                .filter(|_| Some(*path) != targets.review.as_ref());
            refuse_same(path, read.chain(answers))?;
            if written[..index].iter().any(|other| same_file(path, other)) {
                return Err(usage(format!(
                    "{} is named for two outputs; give each a name of its own",
                    path.display()
                )));
            }
        }
        Ok(targets)
    }

    /// Where the clean table goes, as messages have it.
    pub fn shown(&self) -> String {
        match (&self.database, &self.out) {
            (Some(database), _) => database.shown().to_owned(),
            (None, Some(out)) => out.display().to_string(),
            (None, None) => "standard output".to_owned(),
        }
    }

    /// Whether what was written of the clean table can be taken back: not what a pipe or a
    /// device has.
    pub fn can_write_again(&self) -> bool {
        if self.database.is_some() {
            return true;
        }
        let meta = |out: &PathBuf| std::fs::metadata(out);
        self.out
            .as_ref()
            .is_some_and(|out| meta(out).is_ok_and(|meta| meta.is_file()) || !out.exists())
    }

    /// How zones are told in this format that are told in this way in text.
    pub fn zone_as(&self, in_text: ZoneAs) -> ZoneAs {
        match (self.format, in_text) {
            (None, ZoneAs::Offset) if self.is_postgres() => ZoneAs::Type,
            (Some(format), ZoneAs::Offset) if format.has_instants() => ZoneAs::Type,
            // Real dates, which a workbook has without offsets only.
            (Some(OutFormat::Xlsx), ZoneAs::Offset) => ZoneAs::Column,
            (_, in_text) => in_text,
        }
    }

    fn is_postgres(&self) -> bool {
        let database = self.database.as_ref();
        database.is_some_and(|database| database.has_instants())
    }

    /// The files that are written.
    pub fn files(&self) -> impl Iterator<Item = &PathBuf> {
        [&self.out, &self.review, &self.summary]
            .into_iter()
            .flatten()
    }
}

/// Refuses options that do not go with a database, or only with one.
fn check_database(args: &ConvertArgs, database: Option<&DatabaseAddress>) -> anyhow::Result<()> {
    let Some(database) = database else {
        if args.append {
            return Err(usage(
                "--append adds rows to a table of a database: name one with -o, as in \
                 'sqlite:loans.db?table=loans'",
            ));
        }
        return Ok(());
    };
    if args.to.is_some() {
        return Err(usage(
            "--to is for files; a database has a format of its own",
        ));
    }
    if database.is_query() {
        return Err(usage("what is written goes into a table: give ?table=NAME"));
    }
    Ok(())
}

/// The name of a file up to its first dot.
fn table_name(path: Option<&PathBuf>) -> String {
    let name = path.and_then(|path| path.file_name());
    let name = name.map(|name| name.to_string_lossy().into_owned());
    let stem = name.as_deref().and_then(|name| name.split('.').next());
    let usual = stem.filter(|stem| !stem.is_empty() && *stem != "-");
    usual.unwrap_or(TABLE).to_owned()
}

/// The format that the extension of `out` asks for; `None` for the source's
/// own.
fn format_of(out: &Path) -> anyhow::Result<Option<OutFormat>> {
    let extension = out
        .extension()
        .map(|end| end.to_string_lossy().to_lowercase());
    let Some(extension) = extension else {
        return Ok(None);
    };
    match OutFormat::by_extension(&extension) {
        // Text keeps the delimiter of the source.
        Some(OutFormat::Csv) => Ok(None),
        Some(format) => Ok(Some(format)),
        None => match std::fs::metadata(out) {
            Ok(meta) if !meta.is_file() => Ok(None),
            _ => Err(usage(format!(
                "cannot write .{extension} files; name OUT {}, or give --to csv",
                list(
                    &OutFormat::ALL
                        .iter()
                        .map(|format| format!(".{}", format.names()[0]))
                        .collect::<Vec<_>>(),
                    "or"
                )
            ))),
        },
    }
}
