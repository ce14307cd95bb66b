//! Not writing over what is read.

use crate::outcome::usage;
use metachron_table::temporary::folder_of;
use std::path::{Path, PathBuf};

/// Refuses to write over what is read.
pub fn refuse_same<'p>(
    path: &Path,
    inputs: impl IntoIterator<Item = &'p PathBuf>,
) -> anyhow::Result<()> {
    for input in inputs {
        if same_file(path, input) {
            return Err(usage(format!(
                "{} is read, and would be written over; give another name",
                path.display()
            )));
        }
    }
    Ok(())
}

/// Whether two paths lead to one file, which need not be there yet.
pub fn same_file(one: &Path, other: &Path) -> bool {
    one == other || real_path(one).is_some_and(|one| real_path(other) == Some(one))
}

/// The path in the one spelling that leads over no link; of a file that is not there, by
/// its folder, and by what a link to nothing points to.
pub fn real_path(path: &Path) -> Option<PathBuf> {
    if let Ok(path) = path.canonicalize() {
        return Some(path);
    }
    let folder = |path: &Path| folder_of(path).canonicalize().ok();
    let path = match path.read_link() {
        Ok(target) => folder(path)?.join(target),
        Err(_) => path.to_owned(),
    };
    Some(folder(&path)?.join(path.file_name()?))
}
