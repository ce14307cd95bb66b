//! Who may read what is written: nobody who may not read what it was made from.

use std::fs::Permissions;
#[cfg(unix)]
use std::fs::{self, Metadata};
use std::path::Path;

/// What a file that holds cells of a table may allow.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Allowed {
    mode: u32,
    /// Whether a file that is there already may allow no more either.
    replaces_mode: bool,
}

/// What anybody may do, before the umask.
const ALL: u32 = 0o666;

/// Its owner has to be able to read a file again.
const OWN: u32 = 0o600;

impl Allowed {
    /// What the umask leaves.
    pub const BY_UMASK: Allowed = Allowed {
        mode: ALL,
        replaces_mode: false,
    };

    /// What all files among `paths` allow that are there; a file that is written over keeps
    /// what it allows.
    pub fn by_files<'p>(paths: impl IntoIterator<Item = &'p Path>) -> Allowed {
        let modes = paths.into_iter().filter_map(mode_of);
        Allowed {
            mode: modes.fold(ALL, |allowed, mode| allowed & mode),
            replaces_mode: false,
        }
    }

    /// What lists next to the table at `out` may allow: no more than it and what it was made
    /// from.
    pub fn of_lists(self, out: Option<&Path>) -> Allowed {
        Allowed {
            mode: self.mode & out.and_then(mode_of).unwrap_or(ALL),
            replaces_mode: true,
        }
    }

    /// The permissions of a new file, before the umask.
    pub(super) fn of_new(self) -> Option<Permissions> {
        permissions(self.mode | OWN)
    }

    /// Gives the file at `new` the mode and the group of the one at `target` that it is to
    /// replace, where that is there.
    #[cfg(unix)]
    pub(super) fn take_over(self, target: &Path, new: &Path) -> std::io::Result<()> {
        use std::os::unix::fs::{MetadataExt, PermissionsExt, chown};
        let Some(meta) = file_at(target) else {
            return Ok(());
        };
        let mode = meta.permissions().mode() & 0o777;
        let mode = if self.replaces_mode {
            mode & self.mode | OWN
        } else {
            mode
        };
        // Who is not of that group cannot give it; then its members may do less.
        let is_given = chown(new, None, Some(meta.gid())).is_ok();
        let mode = if is_given { mode } else { mode & !0o070 };
        fs::set_permissions(new, Permissions::from_mode(mode))
    }

    #[cfg(not(unix))]
    pub(super) fn take_over(self, _: &Path, _: &Path) -> std::io::Result<()> {
        Ok(())
    }
}

#[cfg(unix)]
fn file_at(path: &Path) -> Option<Metadata> {
    fs::metadata(path).ok().filter(Metadata::is_file)
}

/// What the file at `path` allows; `None` where there is no file, or no such thing.
#[cfg(unix)]
fn mode_of(path: &Path) -> Option<u32> {
    use std::os::unix::fs::PermissionsExt;
    Some(file_at(path)?.permissions().mode() & ALL)
}

#[cfg(not(unix))]
fn mode_of(_: &Path) -> Option<u32> {
    None
}

#[cfg(unix)]
fn permissions(mode: u32) -> Option<Permissions> {
    use std::os::unix::fs::PermissionsExt;
    Some(Permissions::from_mode(mode))
}

#[cfg(not(unix))]
fn permissions(_: u32) -> Option<Permissions> {
    None
}
