//! Writing next to the target, then renaming.

use super::permissions::Allowed;
use super::same::real_path;
use crate::signals;
use anyhow::Context;
use metachron_table::Temporary;
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
        let folder = match path.parent() {
            Some(parent) if parent != Path::new("") => parent,
            _ => Path::new("."),
        };
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
        Ok(Complete { name, file })
    }

    /// Puts the file in its place.
    pub fn finish(self) -> anyhow::Result<()> {
        self.complete()?.put_in_place()
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
    name: String,
    /// Where the file belongs, and where it stands; `None` for what has no place.
    file: Option<(PathBuf, Temporary)>,
}

impl Complete {
    /// Puts the file in its place, and makes its name last.
    pub fn put_in_place(self) -> anyhow::Result<()> {
        let Some((path, temporary_file)) = self.file else {
            return Ok(());
        };
        temporary_file
            .keep_as(&path)
            .with_context(|| format!("cannot write {}", self.name))?;
        sync_folder_of(&path);
        Ok(())
    }
}

/// Makes the names in the folder of `path` last. Where a system has no such thing, the
/// file is in its place all the same.
fn sync_folder_of(path: &Path) {
    let folder = path
        .parent()
        .filter(|folder| *folder != Path::new(""))
        .unwrap_or(Path::new("."));
    if let Ok(folder) = File::open(folder) {
        let _ = folder.sync_all();
    }
}

impl Write for Output {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        match &mut self.to {
            Target::Stdout(stdout) => stdout.write(bytes),
            Target::Device(device) => device.write(bytes),
            Target::File(_, file) => file.write(bytes),
        }
    }

    fn flush(&mut self) -> io::Result<()> {
        match &mut self.to {
            Target::Stdout(stdout) => stdout.flush(),
            Target::Device(device) => device.flush(),
            Target::File(_, file) => file.flush(),
        }
    }
}
