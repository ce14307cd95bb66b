//! How a command ends.

use metachron_core::engine::EngineError;

/// How a command ended that did what it was asked.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Outcome {
    /// All of it is done: status 0.
    Done,
    /// It is done, but cells or columns wait for a person: status 3.
    Waits,
}

/// The command line asks for something that makes no sense: status 2.
#[derive(Debug)]
pub struct Usage(pub String);

impl std::error::Error for Usage {}

impl std::fmt::Display for Usage {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

/// An error of the engine: what is declared is said on the command line, as a
/// rulings file is checked when it is read.
pub fn from_engine(error: EngineError) -> anyhow::Error {
    match error {
        EngineError::NoColumn { .. }
        | EngineError::Rulings(_)
        | EngineError::NameTaken(_)
        | EngineError::WrittenAsAnother { .. } => usage(error.to_string()),
        EngineError::Write(why) => why.into(),
    }
}

/// An error about the command line.
pub fn usage(message: impl Into<String>) -> anyhow::Error {
    Usage(message.into()).into()
}
