//! Finishing what a run that was ended has begun: files that take their places together.

use super::review_list::is_review_list;
use crate::output::real_path;
use crate::words::list;
use metachron_table::temporary::{self, Finished};
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

/// Does the rest of what a run that was ended has begun where `written` are to stand; says
/// what, a sentence each.
pub fn finish_interrupted<'p>(written: impl IntoIterator<Item = &'p PathBuf>) -> Vec<String> {
    let folder_of = |path: &PathBuf| real_path(path)?.parent().map(Path::to_owned);
    let folders: BTreeSet<PathBuf> = written.into_iter().filter_map(folder_of).collect();
    let finished = folders
        .iter()
        .flat_map(|folder| temporary::finish_interrupted(folder, is_review_list));
    finished.flat_map(sentences).collect()
}

fn sentences(finished: Finished) -> Vec<String> {
    let names = |paths: &[PathBuf]| -> Vec<String> {
        let names = paths.iter().map(|path| path.display().to_string());
        names.collect()
    };
    let (placed, left) = (names(&finished.placed), names(&finished.left));
    let mut sentences = Vec::new();
    if !placed.is_empty() {
        sentences.push(format!(
            "an earlier run was ended while it put its files in their places; done now: {}",
            list(&placed, "and")
        ));
    }
    if !left.is_empty() {
        sentences.push(format!(
            "an earlier run was ended while it put its files in their places: {} may be of the \
             run before it; convert again",
            list(&left, "and")
        ));
    }
    sentences
}
