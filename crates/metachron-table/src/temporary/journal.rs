//! Files of one run that take their places together.
//!
//! Several names cannot be changed at once. So what is about to be done is written down
//! first, in a file in each of their folders, and done then. Where power or a kill ends
//! the program in between, the next run that writes to the same folder does the rest: the
//! files are old ones, or new ones, or wait for it.
//!
//! Runs that write to one folder take turns, so that their files do not mix.

use super::{PREFIX, SUFFIX, Temporary, age_of, is_of_dead_process, own_name, places, process_of};
use serde_json::{Value, json};
use std::collections::BTreeSet;
use std::fs::{self, File, TryLockError};
use std::io::{self, Write};
use std::iter;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant, SystemTime};
use tempfile::{Builder, NamedTempFile, PersistError};

/// How the name of a journal ends.
pub(super) const JOURNAL: &str = ".journal";

/// A journal stands for as long as it takes to change some names. One that has stood for
/// so long is of no run that goes on, be it of another machine, or of this one before it
/// was started again.
const LONGEST_PLACING: Duration = Duration::from_secs(60);

/// So long, a run waits for its turn in a folder: others need no more than some
/// milliseconds, and a program that has nothing to do with it may hold the folder for
/// ever.
const LONGEST_WAIT: Duration = Duration::from_secs(10);

/// What a run puts in its places.
#[derive(Debug, Default)]
pub struct Places {
    /// Files that are whole, and where each belongs.
    pub files: Vec<(Temporary, PathBuf)>,
    /// Where an earlier run may have left a file that is out of date with it.
    pub outdated: Vec<PathBuf>,
}

/// What has been done of a journal.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Finished {
    /// The files that are in their places now.
    pub placed: Vec<PathBuf>,
    /// Files that could not be put there, which are of an earlier run.
    pub left: Vec<PathBuf>,
}

/// A file that could not be put in its place, and those after it.
#[derive(Debug)]
pub struct NotPlaced {
    /// The place.
    pub path: PathBuf,
    /// Why not.
    pub error: io::Error,
    /// Whether others of the run are in their places, and the next run has to do the rest.
    pub rest_waits: bool,
}

impl Places {
    /// Puts the files in their places, and makes their names last. What is out of date
    /// goes away where `is_outdated` says that a run has left it.
    ///
    /// # Errors
    ///
    /// Where one cannot be put there. If it is the first, nothing was done; else the journal
    /// stays, and the next run does the rest.
    pub fn fill(
        mut self,
        is_outdated: impl Fn(&Path) -> io::Result<bool>,
    ) -> Result<(), NotPlaced> {
        let nothing_done = |path: &Path, error| NotPlaced {
            path: path.to_owned(),
            error,
            rest_waits: false,
        };
        // Held until the end. All runs take them in one order, so that none wait for each other.
        let _turns: Vec<Option<File>> = (self.folders().iter())
            .map(|folder| turn_in(folder))
            .collect();
        for path in std::mem::take(&mut self.outdated) {
            if is_outdated(&path).map_err(|error| nothing_done(&path, error))? {
                self.outdated.push(path);
            }
        }
        let steps = self.files.len() + self.outdated.len();
        let folders = self.folders();
        let mut journals = Vec::new();
        for folder in folders.iter().filter(|_| steps > 1) {
            let journal = self.write_journal(folder);
            journals.extend(journal.map_err(|error| nothing_done(folder, error))?);
        }
        // A signal waits meanwhile.
        let mut there = places();
        // Taken out at once: to drop one of them, its place would have to be unlocked.
        let files = self.files.into_iter();
        let files = files.filter_map(|(mut file, path)| Some((file.0.take()?, path)));
        let files: Vec<(NamedTempFile, PathBuf)> = files.collect();
        there.retain(|place| files.iter().all(|(file, _)| place != file.path()));
        let mut placed = 0;
        let mut files = files.into_iter();
        while let Some((file, path)) = files.next() {
            if let Err(PersistError { error, file }) = file.persist(&path) {
                let rest = iter::once(file).chain(files.map(|(file, _)| file));
                let rest_waits = placed > 0 && leave_to_next_run(journals, rest);
                return Err(NotPlaced {
                    path,
                    error,
                    rest_waits,
                });
            }
            placed += 1;
        }
        for path in self.outdated {
            if let Err(error) = remove(&path) {
                let rest_waits = leave_to_next_run(journals, iter::empty());
                return Err(NotPlaced {
                    path,
                    error,
                    rest_waits,
                });
            }
        }
        folders.iter().for_each(|folder| sync(folder));
        drop(journals);
        Ok(())
    }

    /// The folders of all of them, each once, in order.
    fn folders(&self) -> BTreeSet<PathBuf> {
        let places = self.files.iter().map(|(_, place)| place);
        let places = places.chain(&self.outdated);
        let folders = places.map(|path| folder_of(path));
        // However they are written: a run must not wait for itself.
        let folders = folders.map(|folder| folder.canonicalize().unwrap_or(folder.to_owned()));
        folders.collect()
    }

    /// Writes down what is to be done, in `folder`. Paths that are no text cannot be:
    /// then there is no journal.
    fn write_journal(&self, folder: &Path) -> io::Result<Option<NamedTempFile>> {
        let text = |path: &Path| {
            let path = std::path::absolute(path).ok()?;
            Some(Value::from(path.to_str()?))
        };
        let files = self.files.iter();
        let files: Option<Vec<Value>> = files
            .map(|(file, path)| Some(json!({ "from": text(file.path())?, "to": text(path)? })))
            .collect();
        let outdated: Option<Vec<Value>> = self.outdated.iter().map(|path| text(path)).collect();
        let (Some(files), Some(outdated)) = (files, outdated) else {
            return Ok(None);
        };
        let prefix = format!("{PREFIX}{}-", own_name(std::process::id()));
        let mut journal = Builder::new()
            .prefix(&prefix)
            .suffix(JOURNAL)
            .tempfile_in(folder)?;
        let steps = json!({ "files": files, "outdated": outdated });
        journal.write_all(steps.to_string().as_bytes())?;
        journal.as_file().sync_all()?;
        sync(folder);
        Ok(Some(journal))
    }
}

/// Lets the journals and what they name stand; whether it could.
fn leave_to_next_run(
    journals: Vec<NamedTempFile>,
    files: impl Iterator<Item = NamedTempFile>,
) -> bool {
    let has_journal = !journals.is_empty();
    let mut kept = files.chain(journals).map(|file| file.keep().is_ok());
    has_journal && kept.all(|kept| kept)
}

/// Does the rest of what runs that are no more have begun in `folder`; says what.
///
/// A file is moved only where one of ours stands next to its place, and a file is
/// removed only where `is_outdated` says that it is one that a run leaves behind: whoever
/// can write a journal can do no more than that.
pub fn finish_interrupted(
    folder: &Path,
    is_outdated: impl Fn(&Path) -> io::Result<bool>,
) -> Vec<Finished> {
    let Ok(entries) = fs::read_dir(folder) else {
        return Vec::new();
    };
    let left: Vec<fs::DirEntry> = entries.flatten().filter(is_left).collect();
    let mut finished = Vec::new();
    let _turn = (!left.is_empty()).then(|| turn_in(folder));
    for entry in left {
        let name = entry.file_name();
        let process = name.to_str().and_then(|name| process_of(name, JOURNAL));
        let own = Builder::new().tempfile_in(folder);
        if let (Some(process), Ok(own)) = (process, own)
            && have_one_owner(own.as_file(), &entry.path())
            && let Some(steps) = read(&entry.path())
        {
            let is_ours = |from: &Path| {
                let name = from.file_name().and_then(|name| name.to_str());
                name.and_then(|name| process_of(name, SUFFIX)) == Some(process)
            };
            let written = entry.metadata().and_then(|meta| meta.modified()).ok();
            finished.push(steps.finish(written, is_ours, &is_outdated));
        }
        // Unreadable, it was not whole, and nothing was begun.
        let _ = fs::remove_file(entry.path());
    }
    finished
}

/// Whether it is a journal of a run that is no more.
fn is_left(entry: &fs::DirEntry) -> bool {
    let name = entry.file_name();
    let name = name.to_str().unwrap_or("");
    let is_old = || age_of(entry).is_some_and(|age| age >= LONGEST_PLACING);
    process_of(name, JOURNAL).is_some() && (is_of_dead_process(name, JOURNAL, entry) || is_old())
}

/// The turn of this run in `folder`, until it is dropped. Where the system or the folder
/// knows no locks, there are no turns.
fn turn_in(folder: &Path) -> Option<File> {
    let folder = File::open(folder).ok()?;
    let start = Instant::now();
    while let Err(TryLockError::WouldBlock) = folder.try_lock() {
        if start.elapsed() > LONGEST_WAIT {
            return None;
        }
        std::thread::sleep(Duration::from_millis(5));
    }
    Some(folder)
}

/// What a journal says.
struct Steps {
    files: Vec<(PathBuf, PathBuf)>,
    outdated: Vec<PathBuf>,
}

/// A journal is no longer than that.
const LONGEST_JOURNAL: u64 = 1 << 20;

fn read(path: &Path) -> Option<Steps> {
    let is_short = fs::symlink_metadata(path)
        .is_ok_and(|meta| meta.is_file() && meta.len() <= LONGEST_JOURNAL);
    let text = is_short.then(|| fs::read_to_string(path).ok()).flatten()?;
    let steps: Value = serde_json::from_str(&text).ok()?;
    let path = |value: &Value| value.as_str().map(PathBuf::from);
    let files = steps["files"].as_array()?.iter();
    let files = files.map(|step| Some((path(&step["from"])?, path(&step["to"])?)));
    let outdated = steps["outdated"].as_array()?.iter().map(path);
    Some(Steps {
        files: files.collect::<Option<_>>()?,
        outdated: outdated.collect::<Option<_>>()?,
    })
}

impl Steps {
    /// Does what is left of a journal that was `written` at a time.
    fn finish(
        self,
        written: Option<SystemTime>,
        is_ours: impl Fn(&Path) -> bool,
        is_outdated: impl Fn(&Path) -> io::Result<bool>,
    ) -> Finished {
        let mut finished = Finished::default();
        let changed = |path: &Path| fs::metadata(path).and_then(|meta| meta.modified()).ok();
        let is_newer = |path: &Path| {
            let changed = changed(path).zip(written);
            changed.is_some_and(|(changed, written)| changed > written)
        };
        // A later run has put its own files there: what waits is out of date.
        if self.files.iter().any(|(_, to)| is_newer(to)) {
            let waiting = self.files.iter().map(|(from, _)| from);
            for from in waiting.filter(|from| is_ours(from)) {
                let _ = fs::remove_file(from);
            }
            return finished;
        }
        for (from, to) in self.files {
            // What is not there is in its place already.
            if !from.exists() {
                continue;
            }
            let may_be = is_ours(&from) && from.parent() == to.parent();
            if may_be && fs::rename(&from, &to).is_ok() {
                sync(folder_of(&to));
                finished.placed.push(to);
            } else {
                finished.left.push(to);
            }
        }
        for path in self.outdated {
            let is_outdated = is_outdated(&path);
            if is_outdated.is_err() || (is_outdated.is_ok_and(|is| is) && remove(&path).is_err()) {
                finished.left.push(path);
            }
        }
        finished
    }
}

fn remove(path: &Path) -> io::Result<()> {
    match fs::remove_file(path) {
        Err(error) if error.kind() == io::ErrorKind::NotFound => Ok(()),
        result => result,
    }
}

#[cfg(unix)]
fn have_one_owner(own: &File, path: &Path) -> bool {
    use std::os::unix::fs::MetadataExt;
    let owner = own.metadata().map(|meta| meta.uid());
    let other = fs::symlink_metadata(path).map(|meta| meta.uid());
    owner.is_ok() && owner.ok() == other.ok()
}

#[cfg(not(unix))]
fn have_one_owner(_: &File, _: &Path) -> bool {
    true
}

/// The folder that a path leads to a file in.
pub fn folder_of(path: &Path) -> &Path {
    match path.parent() {
        Some(folder) if folder != Path::new("") => folder,
        _ => Path::new("."),
    }
}

/// Makes the names in a folder last. Where a system has no such thing, the files are in
/// their places all the same.
fn sync(folder: &Path) {
    if let Ok(folder) = File::open(folder) {
        let _ = folder.sync_all();
    }
}

#[cfg(test)]
mod tests {
    use super::super::machine;
    use super::*;

    struct Folder(tempfile::TempDir);

    impl Folder {
        fn new() -> Folder {
            Folder(tempfile::tempdir().unwrap())
        }

        fn path(&self, name: &str) -> PathBuf {
            self.0.path().join(name)
        }

        fn put(&self, name: &str, text: &str) {
            fs::write(self.path(name), text).unwrap();
        }

        fn read(&self, name: &str) -> Option<String> {
            fs::read_to_string(self.path(name)).ok()
        }

        fn names(&self) -> Vec<String> {
            let entries = fs::read_dir(self.0.path()).unwrap().flatten();
            let names = entries.map(|entry| entry.file_name().into_string().unwrap());
            let mut names: Vec<String> = names.collect();
            names.sort();
            names
        }

        fn places(&self) -> Places {
            let mut places = Places::default();
            for name in ["out.csv", "summary.json"] {
                let mut file = Temporary::new_in(self.0.path(), None).unwrap();
                file.write_all(b"new").unwrap();
                places.files.push((file, self.path(name)));
            }
            places.outdated.push(self.path("out.review.csv"));
            places
        }

        /// What a run that ended before step `step` has left, with a number that no
        /// process has.
        fn after_kill(&self, step: usize) {
            let dead = |name: &Path| {
                let name = name.file_name().unwrap().to_str().unwrap();
                name.replace(&own_name(std::process::id()), &own_name(u32::MAX))
            };
            let places = self.places();
            let journal = places.write_journal(self.0.path()).unwrap().unwrap();
            let text = fs::read_to_string(journal.path()).unwrap();
            let text = text.replace(&own_name(std::process::id()), &own_name(u32::MAX));
            for (number, (file, to)) in places.files.iter().enumerate() {
                let name = if number < step {
                    to.file_name().unwrap().to_str().unwrap().to_owned()
                } else {
                    dead(file.path())
                };
                self.put(&name, "new");
            }
            self.put(&dead(journal.path()), &text);
            if step > 2 {
                fs::remove_file(self.path("out.review.csv")).unwrap();
            }
        }
    }

    fn old() -> Folder {
        let folder = Folder::new();
        for name in ["out.csv", "out.review.csv", "summary.json"] {
            folder.put(name, "old");
        }
        folder
    }

    #[test]
    fn all_take_their_places() {
        let folder = old();
        folder.places().fill(|_| Ok(true)).unwrap();
        assert_eq!(folder.names(), ["out.csv", "summary.json"]);
        assert_eq!(folder.read("summary.json").unwrap(), "new");
    }

    #[test]
    fn what_was_begun_is_finished_from_any_step() {
        for step in 0..4 {
            let folder = old();
            folder.after_kill(step);
            // Whatever else is written there first: its files are not taken for stale.
            drop(Temporary::new_in(folder.0.path(), None).unwrap());
            let finished = finish_interrupted(folder.0.path(), |_| Ok(true));
            assert_eq!(finished.len(), 1, "step {step}");
            assert_eq!(finished[0].placed.len(), 2_usize.saturating_sub(step));
            assert!(finished[0].left.is_empty());
            assert_eq!(folder.names(), ["out.csv", "summary.json"], "step {step}");
            assert_eq!(folder.read("out.csv").unwrap(), "new");
            assert!(finish_interrupted(folder.0.path(), |_| Ok(true)).is_empty());
        }
    }

    #[test]
    fn a_journal_moves_and_removes_nothing_else() {
        let folder = old();
        let dead = own_name(u32::MAX);
        let (from, to) = (folder.path("summary.json"), folder.path("out.csv"));
        let steps = json!({
            "files": [{ "from": from, "to": to }],
            "outdated": [folder.path("out.review.csv")],
        });
        folder.put(&format!("{PREFIX}{dead}-x{JOURNAL}"), &steps.to_string());
        let finished = finish_interrupted(folder.0.path(), |_| Ok(false));
        assert_eq!(finished[0].left, [to]);
        assert_eq!(
            folder.names(),
            ["out.csv", "out.review.csv", "summary.json"]
        );
        assert_eq!(folder.read("out.csv").unwrap(), "old");
        // Of one that is cut off, nothing was begun.
        folder.put(&format!("{PREFIX}{dead}-x{JOURNAL}"), "{\"files\": [");
        assert!(finish_interrupted(folder.0.path(), |_| Ok(true)).is_empty());
        assert_eq!(folder.names().len(), 3);
    }

    /// Between its end and the next run here, another run may have written to the same names.
    #[test]
    fn what_a_later_run_has_written_stays() {
        let folder = old();
        folder.after_kill(1);
        std::thread::sleep(Duration::from_millis(20));
        folder.put("out.csv", "newest");
        let finished = finish_interrupted(folder.0.path(), |_| Ok(true));
        assert_eq!(finished, [Finished::default()]);
        assert_eq!(folder.read("out.csv").unwrap(), "newest");
        assert_eq!(folder.read("summary.json").unwrap(), "old");
        assert_eq!(
            folder.names(),
            ["out.csv", "out.review.csv", "summary.json"]
        );
    }

    /// A power cut: the machine was started since, and its processes are counted from one again.
    #[test]
    fn a_journal_of_before_the_start_of_the_machine_is_finished_once_it_is_old() {
        let folder = old();
        folder.after_kill(1);
        let (this, other) = (format!("{:x}", machine()), format!("{:x}", machine() ^ 1));
        for name in folder.names().iter().filter(|name| name.contains(&this)) {
            let text = folder.read(name).unwrap().replace(&this, &other);
            folder.put(&name.replace(&this, &other), &text);
            fs::remove_file(folder.path(name)).unwrap();
        }
        assert!(finish_interrupted(folder.0.path(), |_| Ok(true)).is_empty());
        // It runs elsewhere, or did until a moment ago: its files are left alone.
        drop(Temporary::new_in(folder.0.path(), None).unwrap());
        let past = SystemTime::now() - 2 * LONGEST_PLACING;
        for name in folder.names() {
            let file = File::options().write(true).open(folder.path(&name));
            file.unwrap().set_modified(past).unwrap();
        }
        let finished = finish_interrupted(folder.0.path(), |_| Ok(true));
        assert_eq!(finished[0].placed, [folder.path("summary.json")]);
        assert_eq!(folder.names(), ["out.csv", "summary.json"]);
    }

    /// What stands in the second is not taken for stale by a run that writes there, which
    /// does the rest for both.
    #[test]
    fn what_could_not_be_placed_waits_in_each_of_two_folders() {
        let (first, second) = (Folder::new(), Folder::new());
        let mut places = Places::default();
        let targets = [first.path("out.csv"), second.path("list.csv")];
        for (folder, to) in [&first, &second].into_iter().zip(&targets) {
            let mut file = Temporary::new_in(folder.0.path(), None).unwrap();
            file.write_all(b"new").unwrap();
            places.files.push((file, to.clone()));
        }
        // A file cannot take the place of a folder.
        fs::create_dir(&targets[1]).unwrap();
        let failure = places.fill(|_| Ok(true)).unwrap_err();
        assert!(failure.rest_waits);
        assert_eq!(failure.path, targets[1]);
        fs::remove_dir(&targets[1]).unwrap();

        let (this, dead) = (own_name(std::process::id()), own_name(u32::MAX));
        for folder in [&first, &second] {
            for name in folder.names().iter().filter(|name| name.contains(&this)) {
                let text = folder.read(name).unwrap().replace(&this, &dead);
                folder.put(&name.replace(&this, &dead), &text);
                fs::remove_file(folder.path(name)).unwrap();
            }
        }
        drop(Temporary::new_in(second.0.path(), None).unwrap());
        let finished = finish_interrupted(second.0.path(), |_| Ok(true));
        assert_eq!(finished[0].placed, [targets[1].canonicalize().unwrap()]);
        assert_eq!(
            finish_interrupted(first.0.path(), |_| Ok(true)),
            [Finished::default()]
        );
        assert_eq!(
            (first.names(), second.names()),
            (vec!["out.csv".into()], vec!["list.csv".into()])
        );
    }

    #[test]
    fn runs_take_turns() {
        let folder = Folder::new();
        let turn = turn_in(folder.0.path());
        let waits = File::open(folder.0.path()).unwrap().try_lock();
        assert!(matches!(waits, Err(TryLockError::WouldBlock)));
        drop(turn);
        assert!(turn_in(folder.0.path()).is_some());
    }
}
