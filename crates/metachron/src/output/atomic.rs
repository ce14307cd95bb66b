//! Writing next to the target, then renaming.

use super::permissions::Allowed;
use super::same::real_path;
use crate::signals;
use anyhow::Context;
use metachron_table::Temporary;
use metachron_table::temporary::{Places, folder_of};
use std::fs::{self, File};
use std::io::{self, BufWriter, Write};
use std::path::{Path, PathBuf};

/// Something to write to. A file appears under its name only when it is
/// [finished](Output::finish), whole; until then it stands next to its target
/// under another name, and goes away if it is not finished.
pub struct Output {
    name: String,
    to: Target,
}

enum Target {
    Stdout(io::StdoutLock<'static>),
    /// A database, which another writes to.
    Database,
    /// A device or a pipe, which cannot be replaced.
    Device(BufWriter<File>),
    File(PathBuf, BufWriter<Temporary>),
}

impl Output {
    /// Standard output.
    pub fn stdout() -> Output {
        Output {
            name: "standard output".to_owned(),
            to: Target::Stdout(io::stdout().lock()),
        }
    }

    /// What stands for a table of a database that is called so.
    pub fn database(name: &str) -> Output {
        Output {
            name: name.to_owned(),
            to: Target::Database,
        }
    }

    /// The file at `path`, which allows no more than `allowed` where it is new.
    pub fn file(path: &Path, allowed: Allowed) -> anyhow::Result<Output> {
        let name = path.display().to_string();
        // What a link points to is replaced, not the link.
        let path = real_path(path).unwrap_or_else(|| path.to_owned());
        let meta = fs::metadata(&path);
        if meta.as_ref().is_ok_and(fs::Metadata::is_dir) {
            anyhow::bail!("{name} is a folder; name a file to write to");
        }
        if meta.is_ok_and(|meta| !meta.is_file()) {
            let device = File::options()
                .write(true)
                .open(&path)
                .context(name.clone())?;
            return Ok(Output {
                name,
                to: Target::Device(BufWriter::new(device)),
            });
        }
        let folder = folder_of(&path);
        if !folder.is_dir() {
            anyhow::bail!(
                "cannot write {name}: there is no folder {}; make it first",
                folder.display()
            );
        }
        signals::end_cleanly();
        let whole = || format!("cannot write {name}");
        let temporary_file = Temporary::new_in(folder, allowed.of_new()).with_context(whole)?;
        let taken_over = allowed.take_over(&path, temporary_file.path());
        taken_over.with_context(whole)?;
        Ok(Output {
            name,
            to: Target::File(path, BufWriter::with_capacity(1 << 16, temporary_file)),
        })
    }

    /// Writes what is left, and makes it last: all that can fail of a full disk is done
    /// then. A file still stands under another name.
    pub fn complete(self) -> anyhow::Result<Complete> {
        let name = self.name;
        let whole = || format!("cannot write {name}");
        let file = match self.to {
            Target::Stdout(mut stdout) => {
                stdout.flush().with_context(whole)?;
                None
            }
            Target::Database => None,
            Target::Device(mut device) => {
                device.flush().with_context(whole)?;
                None
            }
            Target::File(path, temporary_file) => {
                let temporary_file = temporary_file
                    .into_inner()
                    .map_err(io::IntoInnerError::into_error)
                    .with_context(whole)?;
                temporary_file.sync().with_context(whole)?;
                Some((path, temporary_file))
            }
        };
        Ok(Complete { file })
    }

    /// Puts the file in its place.
    pub fn finish(self) -> anyhow::Result<()> {
        put_in_place([self.complete()?], None, |_| Ok(false))
    }

    /// The name of the target.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// Writes all of `bytes`.
    pub fn put(&mut self, bytes: &[u8]) -> anyhow::Result<()> {
        self.write_all(bytes)
            .with_context(|| format!("cannot write {}", self.name))
    }
}

/// An output that is written, but for its name.
#[must_use]
pub struct Complete {
    /// Where the file belongs, and where it stands; `None` for what has no place.
    file: Option<(PathBuf, Temporary)>,
}

/// Puts the files of a run in their places together, and removes what `is_outdated` says is
/// out of date with them.
pub fn put_in_place(
    files: impl IntoIterator<Item = Complete>,
    outdated: Option<PathBuf>,
    is_outdated: impl Fn(&Path) -> io::Result<bool>,
) -> anyhow::Result<()> {
    let files = files.into_iter().filter_map(|complete| complete.file);
    let places = Places {
        files: files.map(|(path, file)| (file, path)).collect(),
        outdated: outdated.into_iter().collect(),
    };
    places.fill(is_outdated).map_err(|failure| {
        let rest = if failure.rest_waits {
            "; other files of this run are in their places, and the next run that writes there \
             does the rest"
        } else {
            ""
        };
        let place = failure.path.display();
        anyhow::Error::new(failure.error).context(format!("cannot write {place}{rest}"))
    })
}

impl Write for Output {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        match &mut self.to {
            Target::Stdout(stdout) => stdout.write(bytes),
            Target::Database => Err(io::ErrorKind::Unsupported.into()),
            Target::Device(device) => device.write(bytes),
            Target::File(_, file) => file.write(bytes),
        }
    }

    fn flush(&mut self) -> io::Result<()> {
        match &mut self.to {
            Target::Stdout(stdout) => stdout.flush(),
            Target::Database => Ok(()),
            Target::Device(device) => device.flush(),
            Target::File(_, file) => file.flush(),
        }
    }
}
