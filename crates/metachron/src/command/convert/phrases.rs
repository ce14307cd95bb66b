//! The phrases of the command line.
//!
//! They are not parsed with the other options: what is wrong with one is shown
//! in its place, and a long one not twice over.

use crate::outcome::usage;
use metachron_core::derive::DeriveError;
use metachron_core::phrase::{Phrase, PhraseError};
use metachron_core::rulings::{DeriveRuling, WriteRuling};

/// What `--derive 'NAME = PHRASE'` says.
pub fn derive(option: &str) -> anyhow::Result<DeriveRuling> {
    let (name, phrase) = option
        .split_once('=')
        .filter(|(name, _)| !name.trim().is_empty())
        .ok_or_else(|| {
            usage(
                "--derive: write it as NAME = PHRASE, such as 'away = whole days from loaned to \
                 back'",
            )
        })?;
    let name = name.trim();
    let value = phrase.trim().parse();
    Ok(DeriveRuling {
        name: name.to_owned(),
        value: value.map_err(|why: PhraseError| {
            usage(format!("{}: {why}", DeriveError::of_column(name)))
        })?,
        write: WriteRuling::default(),
    })
}

/// What `--where PHRASE` says.
pub fn keep(option: &str) -> anyhow::Result<Phrase> {
    let phrase = option.trim().parse();
    phrase.map_err(|why: PhraseError| usage(format!("--where: {why}")))
}
