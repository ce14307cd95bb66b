//! Files that stand under another name while they are written or read.
//!
//! They go away with what holds them. Where the program is ended before, by a signal,
//! [`remove_all`] takes them along; what a kill has left behind is removed by the next
//! program that makes such a file in the same folder.

mod journal;

pub use journal::{Finished, NotPlaced, Places, finish_interrupted, folder_of};

use std::fs::{self, File, Permissions};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::sync::{LazyLock, Mutex, MutexGuard, PoisonError};
use std::time::Duration;
use tempfile::{Builder, NamedTempFile};

/// A file under a name of its own, which goes away unless it is [put in a place](Places::fill).
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
            // Not by `NamedTempFile`: its errors name the file, which nobody has heard of.
            Some(file) => file.as_file_mut().write(bytes),
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
    let entries: Vec<fs::DirEntry> = entries.flatten().collect();
    let names = entries.iter().map(fs::DirEntry::file_name);
    let names: Vec<String> = names.filter_map(|name| name.into_string().ok()).collect();
    // Files that are named in a journal wait for their places.
    let wait = |process| {
        let mut journals = names
            .iter()
            .filter_map(|name| process_of(name, journal::JOURNAL));
        journals.any(|other| other == process)
    };
    for entry in &entries {
        let name = entry.file_name();
        let name = name.to_str().unwrap_or("");
        let process = process_of(name, SUFFIX);
        if process.is_some_and(|process| !wait(process)) && is_of_dead_process(name, SUFFIX, entry)
        {
            let _ = fs::remove_file(entry.path());
        }
    }
}

/// Whether `name`, of a file of ours that ends so, is of a process that is no more.
fn is_of_dead_process(name: &str, suffix: &str, entry: &fs::DirEntry) -> bool {
    process_of(name, suffix).is_some_and(|process| !may_run(process, entry))
}

/// The process that made a file of this name, which ends so, if one of ours did, and
/// where its number was given.
fn process_of(name: &str, suffix: &str) -> Option<(u32, u64)> {
    let rest = name.strip_prefix(PREFIX)?.strip_suffix(suffix)?;
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
    static MACHINE: LazyLock<u64> = LazyLock::new(|| {
        let mut hasher = DefaultHasher::new();
        fs::read("/proc/sys/kernel/random/boot_id")
            .ok()
            .hash(&mut hasher);
        fs::read_link("/proc/self/ns/pid").ok().hash(&mut hasher);
        hasher.finish()
    });
    *MACHINE
}

/// Whether a process may run still.
fn may_run((process, place): (u32, u64), file: &fs::DirEntry) -> bool {
    let processes = Path::new("/proc");
    if place == machine() && processes.join("self").exists() {
        return processes.join(process.to_string()).exists();
    }
    age_of(file).is_none_or(|age| age < LONGEST_RUN)
}

/// How long ago a file was changed.
fn age_of(file: &fs::DirEntry) -> Option<Duration> {
    let changed = file.metadata().and_then(|meta| meta.modified());
    changed.ok()?.elapsed().ok()
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
        let places = Places {
            files: vec![(file, folder.path().join("b.csv"))],
            outdated: Vec::new(),
        };
        places.fill(|_| Ok(true)).unwrap();
        let mut left = [&*own, &*other, notes, "a.csv", "b.csv"];
        left.sort_unstable();
        assert_eq!(names(), left);
        drop(Temporary::new_in(folder.path(), None).unwrap());
        assert_eq!(names(), left);
    }
}
