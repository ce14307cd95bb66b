//! Where everything goes.

use crate::cli::ConvertArgs;
use crate::outcome::usage;
use crate::output::{refuse_same, same_file};
use crate::words::list;
use metachron_table::OutFormat;
use std::path::{Path, PathBuf};

/// Where everything goes.
pub struct Targets {
    /// The clean table; standard output if none.
    pub out: Option<PathBuf>,
    /// The review list.
    pub review: Option<PathBuf>,
    /// The counts.
    pub summary: Option<PathBuf>,
    /// The format of the clean table; the source's own if none.
    pub format: Option<OutFormat>,
}

impl Targets {
    /// The targets that the options name.
    pub fn new(args: &ConvertArgs) -> anyhow::Result<Targets> {
        let out = args.output.clone().filter(|path| path != Path::new("-"));
        if args.json && out.is_none() {
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
        let targets = Targets {
            format: match (args.to, &out) {
                (Some(format), _) => Some(format.0),
                (None, Some(out)) => format_of(out)?,
                (None, None) => None,
            },
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

    /// The files that are written.
    pub fn files(&self) -> impl Iterator<Item = &PathBuf> {
        [&self.out, &self.review, &self.summary]
            .into_iter()
            .flatten()
    }
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
                    &OutFormat::ALL.map(|format| format!(".{}", format.names()[0])),
                    "or"
                )
            ))),
        },
    }
}
