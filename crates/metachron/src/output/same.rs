//! Not writing over what is read.

use crate::outcome::usage;
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

/// Whether two paths lead to one file.
pub fn same_file(one: &Path, other: &Path) -> bool {
    match (one.canonicalize(), other.canonicalize()) {
        (Ok(one), Ok(other)) => one == other,
        _ => one == other,
    }
}
