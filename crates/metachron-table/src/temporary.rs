//! Files that stand under another name while they are written or read.
//!
//! They go away with what holds them. Where the program is ended before, by a signal,
//! [`remove_all`] takes them along; what a kill has left behind is removed by the next
//! program that makes such a file in the same folder.

use std::fs::{self, File, Permissions};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::Duration;
use tempfile::{Builder, NamedTempFile};

/// A file under a name of its own, which goes away unless it is [kept](Temporary::keep_as).
#[derive(Debug)]
pub struct Temporary(Option<NamedTempFile>);

/// How the names begin; the number of the process follows, and where it is counted.
const PREFIX: &str = ".metachron-";

/// How the names end.
const SUFFIX: &str = ".part";

/// Where it cannot be told which processes run, a file that has not changed for so long is
/// of none of them.
const LONGEST_RUN: Duration = Duration::from_secs(24 * 60 * 60);

/// Where the files stand that are there now.
static PLACES: Mutex<Vec<PathBuf>> = Mutex::new(Vec::new());

impl Temporary {
    /// One in `folder`, with these permissions, or for its owner alone.
    ///
    /// # Errors
    ///
    /// Where it cannot be made.
    pub fn new_in(folder: &Path, permissions: Option<Permissions>) -> io::Result<Temporary> {
        remove_stale(folder);
        let prefix = format!("{PREFIX}{}-", own_name(std::process::id()));
        let mut builder = Builder::new();
        builder.prefix(&prefix).suffix(SUFFIX);
        if let Some(permissions) = permissions {
            builder.permissions(permissions);
        }
        let mut places = places();
        let file = builder.tempfile_in(folder)?;
        places.push(file.path().to_owned());
        Ok(Temporary(Some(file)))
    }

    /// Puts it in its place at `path`, over what is there.
    ///
    /// # Errors
    ///
    /// Where it cannot be put there: then it is gone.
    pub fn keep_as(mut self, path: &Path) -> io::Result<()> {
        let Some(file) = self.0.take() else {
            return Ok(());
        };
        // A signal waits meanwhile.
        let mut places = places();
        places.retain(|place| place != file.path());
        file.persist(path).map_err(|why| why.error)?;
        Ok(())
    }

    /// Where it stands.
    pub fn path(&self) -> &Path {
        self.0.as_ref().map_or(Path::new(""), NamedTempFile::path)
    }

    /// Makes what was written last.
    ///
    /// # Errors
    ///
    /// Where it cannot be.
    pub fn sync(&self) -> io::Result<()> {
        let file = self.0.as_ref().map(NamedTempFile::as_file);
        file.map_or(Ok(()), File::sync_all)
    }
}

impl Write for Temporary {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        match &mut self.0 {
            Some(file) => file.write(bytes),
            None => Ok(bytes.len()),
        }
    }

    fn flush(&mut self) -> io::Result<()> {
        self.0.as_mut().map_or(Ok(()), Write::flush)
    }
}

impl Drop for Temporary {
    fn drop(&mut self) {
        if let Some(file) = self.0.take() {
            places().retain(|place| place != file.path());
        }
    }
}

/// Removes all of them, and then does what `last` does: nothing is made, and nothing put in
/// its place, meanwhile.
pub fn remove_all(last: impl FnOnce()) {
    let places = places();
    for place in places.iter() {
        // What cannot be removed is found by the next run.
        let _ = fs::remove_file(place);
    }
    last();
}

fn places() -> MutexGuard<'static, Vec<PathBuf>> {
    // A list of names is whole whatever thread ended.
    PLACES.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Removes what processes that are no more have left in `folder`.
fn remove_stale(folder: &Path) {
    let Ok(entries) = fs::read_dir(folder) else {
        return;
    };
    for entry in entries.flatten() {
        let name = entry.file_name();
        let process = name.to_str().and_then(process_of);
        if process.is_some_and(|process| !may_run(process, &entry)) {
            let _ = fs::remove_file(entry.path());
        }
    }
}

/// The process that made a file of this name, if one of ours did, and where its number was
/// given.
fn process_of(name: &str) -> Option<(u32, u64)> {
    let rest = name.strip_prefix(PREFIX)?.strip_suffix(SUFFIX)?;
    let mut parts = rest.split('-');
    let process = parts.next()?.parse().ok()?;
    let machine = u64::from_str_radix(parts.next()?, 16).ok()?;
    Some((process, machine))
}

/// How files of a process of this machine are told from others.
fn own_name(process: u32) -> String {
    format!("{process}-{:x}", machine())
}

/// What tells this machine, since it was started, and its numbers of processes from others:
/// several may write to one folder of a network or of containers.
fn machine() -> u64 {
    let mut hasher = DefaultHasher::new();
    fs::read("/proc/sys/kernel/random/boot_id")
        .ok()
        .hash(&mut hasher);
    fs::read_link("/proc/self/ns/pid").ok().hash(&mut hasher);
    hasher.finish()
}

/// Whether a process may run still.
fn may_run((process, place): (u32, u64), file: &fs::DirEntry) -> bool {
    let processes = Path::new("/proc");
    if place == machine() && processes.join("self").exists() {
        return processes.join(process.to_string()).exists();
    }
    let changed = file.metadata().and_then(|meta| meta.modified());
    let age = changed.ok().and_then(|changed| changed.elapsed().ok());
    age.is_none_or(|age| age < LONGEST_RUN)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_left_behind_goes_away() {
        let folder = tempfile::tempdir().unwrap();
        let names = || {
            let entries = fs::read_dir(folder.path()).unwrap().flatten();
            let mut names: Vec<String> = entries
                .map(|entry| entry.file_name().into_string().unwrap())
                .collect();
            names.sort();
            names
        };
        // No process has the highest number.
        let dead = format!(".metachron-{}-x1.part", own_name(u32::MAX));
        let own = format!(".metachron-{}-x2.part", own_name(std::process::id()));
        // It may run on another machine.
        let other = format!(".metachron-{}-{:x}-x3.part", u32::MAX, machine() ^ 1);
        let notes = ".metachron-notes.part";
        for name in [&*dead, &*own, &*other, notes, "a.csv"] {
            fs::write(folder.path().join(name), "x").unwrap();
        }
        let mut file = Temporary::new_in(folder.path(), None).unwrap();
        file.write_all(b"whole").unwrap();
        assert_eq!(names().len(), 5, "{:?}", names());
        assert!(!names().contains(&dead));
        file.keep_as(&folder.path().join("b.csv")).unwrap();
        let mut left = [&*own, &*other, notes, "a.csv", "b.csv"];
        left.sort_unstable();
        assert_eq!(names(), left);
        drop(Temporary::new_in(folder.path(), None).unwrap());
        assert_eq!(names(), left);
    }
}
