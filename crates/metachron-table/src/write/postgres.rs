//! Clean tables straight into a database of PostgreSQL, in one transaction.
//!
//! A thread of its own speaks with the server: the rows of one block are sent while the next
//! is converted. Where it is not told to commit, nothing stays.

use super::postgres_table::PostgresTable;
use super::provenance::Provenance;
use super::{IfExists, RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use crate::database::postgres::{connect, message, qualified};
use crate::database::{DatabaseAddress, PostgresServer};
use metachron_core::row::Schema;
use postgres::{Client, Transaction};
use std::io::Write;
use std::sync::mpsc::{Receiver, SyncSender, sync_channel};

/// So many blocks of rows wait for the server at most.
const WAITING: usize = 4;

/// Writes into a table of PostgreSQL.
pub(super) struct PostgresWriter<W> {
    source: SourceStyle,
    out: W,
    address: DatabaseAddress,
    server: PostgresServer,
    if_exists: IfExists,
    begun: Option<(PostgresTable, Session)>,
}

/// The end of the thread that speaks with the server.
struct Session {
    tasks: SyncSender<Task>,
    answers: Receiver<Result<(), String>>,
    shown: String,
}

/// What the thread is to do next.
enum Task {
    Rows(Vec<u8>),
    /// No rows follow; these statements do.
    End(String),
    Commit,
}

impl<W: Write> PostgresWriter<W> {
    pub(super) fn new(
        source: SourceStyle,
        address: DatabaseAddress,
        server: PostgresServer,
        if_exists: IfExists,
        out: W,
    ) -> PostgresWriter<W> {
        PostgresWriter {
            source,
            out,
            address,
            server,
            if_exists,
            begun: None,
        }
    }
}

impl Session {
    /// What the thread says of what it did last; an error where it has ended.
    fn answer(&self) -> Result<(), WriteError> {
        let ended = || Err("the connection was lost".to_owned());
        let answer = self.answers.recv().unwrap_or_else(|_| ended());
        answer.map_err(|cause| self.failed(cause))
    }

    fn failed(&self, cause: String) -> WriteError {
        WriteError::Database {
            database: self.shown.clone(),
            cause,
        }
    }

    fn send(&self, task: Task) -> Result<(), WriteError> {
        match self.tasks.send(task) {
            Ok(()) => Ok(()),
            // The thread has ended, and says why.
            Err(_) => self.answer(),
        }
    }
}

impl<W: Write + 'static> TableWriter<W> for PostgresWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let name = qualified(&self.server, &self.source.table);
        let table = PostgresTable::new(name, schema, &self.source);
        let loading = Loading {
            server: self.server.clone(),
            if_exists: self.if_exists,
            name: table.name.clone(),
            defined: table
                .defined()
                .map(|(name, of)| (name.to_owned(), of))
                .collect(),
            create: table.create(),
            copy: table.copy(),
        };
        let (tasks, to_do) = sync_channel(WAITING);
        let (answer, answers) = sync_channel(1);
        std::thread::spawn(move || {
            let done = loading.run(&to_do, &answer);
            // Nobody listens where the run has ended before.
            let _ = answer.send(done);
        });
        let session = Session {
            tasks,
            answers,
            shown: self.address.shown().to_owned(),
        };
        session.answer()?;
        self.begun = Some((table, session));
        Ok(())
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        let begun = self.begun.as_ref();
        let (table, _) = begun.unwrap_or_else(|| unreachable!("the table has begun"));
        Box::new(table.columns.encoder())
    }

    fn write(&mut self, rows: &[u8], _file: usize) -> Result<(), WriteError> {
        let Some((table, session)) = &self.begun else {
            return Ok(());
        };
        let mut text = Vec::with_capacity(rows.len());
        table.rows(rows, &mut text)?;
        session.send(Task::Rows(text))
    }

    fn finish(self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        let Some((table, session)) = self.begun else {
            return Ok(Written::new(self.out));
        };
        table.columns.check()?;
        session.send(Task::End(table.comments(provenance)))?;
        session.answer()?;
        Ok(Written {
            remarks: table.columns.remarks(),
            commit: Some(Box::new(move || {
                session.send(Task::Commit)?;
                session.answer()
            })),
            ..Written::new(self.out)
        })
    }
}

/// What the thread knows of the table.
struct Loading {
    server: PostgresServer,
    if_exists: IfExists,
    name: String,
    defined: Vec<(String, &'static str)>,
    create: String,
    copy: String,
}

impl Loading {
    /// Loads what is sent, and answers when the table is there, when the rows are, and, by
    /// what it returns, when they stay.
    fn run(
        &self,
        tasks: &Receiver<Task>,
        answer: &SyncSender<Result<(), String>>,
    ) -> Result<(), String> {
        let failed = |why: postgres::Error| message(&why);
        let mut client: Client = connect(&self.server).map_err(failed)?;
        let mut transaction = client.transaction().map_err(failed)?;
        self.make_table(&mut transaction)?;
        let mut rows = transaction.copy_in(&self.copy).map_err(failed)?;
        let unheard = |_| "the run has ended".to_owned();
        answer.send(Ok(())).map_err(unheard)?;
        let comments = loop {
            match tasks.recv() {
                Ok(Task::Rows(text)) => rows.write_all(&text).map_err(|why| {
                    let cause = why.get_ref().and_then(|why| why.downcast_ref());
                    cause.map_or_else(|| why.to_string(), message)
                })?,
                Ok(Task::End(comments)) => break comments,
                // Dropped without an end, rows and table are taken back.
                Ok(Task::Commit) | Err(_) => return Err("the run has ended".to_owned()),
            }
        };
        rows.finish().map_err(failed)?;
        // What is appended to is somebody's, and says what it is.
        if self.if_exists == IfExists::Refuse {
            transaction.batch_execute(&comments).map_err(failed)?;
        }
        answer.send(Ok(())).map_err(unheard)?;
        match tasks.recv() {
            Ok(Task::Commit) => transaction.commit().map_err(failed),
            _ => Err("the run has ended".to_owned()),
        }
    }

    /// Makes the table, or checks that it has the columns that are written.
    fn make_table(&self, transaction: &mut Transaction<'_>) -> Result<(), String> {
        let failed = |why: postgres::Error| message(&why);
        let known = transaction.query(
            "SELECT attname::text, format_type(atttypid, atttypmod) FROM pg_attribute \
             WHERE attrelid = to_regclass($1) AND attnum > 0 AND NOT attisdropped",
            &[&self.name],
        );
        let known: Vec<(String, String)> = known
            .map_err(failed)?
            .iter()
            .map(|row| (row.get(0), row.get(1)))
            .collect();
        if known.is_empty() {
            return transaction.batch_execute(&self.create).map_err(failed);
        }
        if self.if_exists == IfExists::Refuse {
            return Err(format!(
                "the table {} is there; give --append to add rows to it, or another name",
                self.name
            ));
        }
        let differences = differences(&self.defined, &known);
        if differences.is_empty() {
            return Ok(());
        }
        Err(format!(
            "the table {} has other columns: {}",
            self.name,
            differences.join("; ")
        ))
    }
}

/// What the columns of a table that is there are other than those that are written. More of
/// them are no difference: they have what the table says that they have by default.
fn differences(written: &[(String, &str)], known: &[(String, String)]) -> Vec<String> {
    let mut differences = Vec::new();
    for (name, of) in written {
        match known.iter().find(|(known, _)| known == name) {
            None => differences.push(format!("it lacks `{name}` ({of})")),
            Some((_, there)) if !takes(there, of) => {
                differences.push(format!("`{name}` is {there}, not {of}"));
            }
            Some(_) => {}
        }
    }
    differences
}

/// Whether a column of the type `there` takes all that one of the type `of` does, or says
/// where it does not: none that rounds or cuts without a word.
fn takes(there: &str, of: &str) -> bool {
    match of {
        "bigint" => matches!(there, "bigint" | "integer" | "smallint" | "numeric"),
        "text" => matches!(there, "text" | "character varying"),
        "time" => there == "time without time zone",
        "timestamp" => there == "timestamp without time zone",
        "timestamptz" => there == "timestamp with time zone",
        other => there == other,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tables_that_are_there() {
        let written = [("due".to_owned(), "date"), ("n".to_owned(), "text")];
        let known = |columns: &[(&str, &str)]| {
            let columns = columns.iter();
            let known: Vec<(String, String)> = columns
                .map(|(name, of)| ((*name).to_owned(), (*of).to_owned()))
                .collect();
            differences(&written, &known).join("; ")
        };
        assert_eq!(known(&[("n", "character varying"), ("due", "date")]), "");
        assert_eq!(
            known(&[("due", "text"), ("m", "integer")]),
            "`due` is text, not date; it lacks `n` (text)"
        );
        // These cut or round without a word.
        assert!(!takes("character(3)", "text") && !takes("character varying(3)", "text"));
        assert!(!takes("timestamp(0) without time zone", "timestamp"));
        assert!(!takes("numeric(10,2)", "numeric"));
    }
}
