//! One or several files with one header, read as one table.

use crate::csv::{Block, CsvReader, Dialect, Layout, sniff};
use crate::encoding::{guess, is_utf8};
use crate::{Declared, Header, Source, TableError};
use encoding_rs::{Encoding, UTF_8};

/// Reads a table block by block.
pub trait TableReader: Send {
    /// The next block of rows; `None` at the end of the table.
    ///
    /// # Errors
    ///
    /// Where a file cannot be read on.
    fn next_block(&mut self) -> Result<Option<Block>, TableError>;
}

/// One or several files with one header.
#[derive(Clone, Debug)]
pub struct Table {
    files: Vec<(Source, Layout)>,
}

impl Table {
    /// Opens a table of one or several files and finds out how they are
    /// written, as far as it is not declared.
    ///
    /// # Errors
    ///
    /// Where a file cannot be read, is no text, or has other columns than the
    /// first.
    ///
    /// # Panics
    ///
    /// Where there is no source.
    pub fn open(sources: Vec<Source>, declared: &Declared) -> Result<Table, TableError> {
        let mut files = Vec::with_capacity(sources.len());
        for source in sources {
            let layout = sniff(&source, declared)?;
            files.push((source, layout));
        }
        let table = Table { files };
        let (first, layout) = &table.files[0];
        for (source, other) in &table.files[1..] {
            if other.header.names != layout.header.names {
                return Err(TableError::OtherColumns {
                    file: source.name().to_owned(),
                    first: first.name().to_owned(),
                    difference: difference(&layout.header.names, &other.header.names),
                });
            }
        }
        Ok(table)
    }

    /// Looks at every byte of the files whose encoding is only supposed to be
    /// UTF-8, and finds another where it is not. Without this, reading such a
    /// file fails where the first other byte stands.
    ///
    /// # Errors
    ///
    /// Where a file cannot be read.
    pub fn make_encodings_sure(&mut self, declared: &Declared) -> Result<(), TableError> {
        for (source, layout) in &mut self.files {
            if layout.encoding_is_sure {
                continue;
            }
            if !is_utf8(source)? {
                let encoding = Some(guess(source)?);
                *layout = sniff(
                    source,
                    &Declared {
                        encoding,
                        ..*declared
                    },
                )?;
            }
            layout.encoding_is_sure = true;
        }
        Ok(())
    }

    /// The names of the columns.
    pub fn columns(&self) -> &[String] {
        &self.header().names
    }

    /// The header of the first file.
    pub fn header(&self) -> &Header {
        &self.files[0].1.header
    }

    /// The headers of all files.
    pub fn headers(&self) -> impl Iterator<Item = (&Source, &Header)> {
        self.files
            .iter()
            .map(|(source, layout)| (source, &layout.header))
    }

    /// How the first file is written.
    pub fn dialect(&self) -> Dialect {
        self.files[0].1.dialect
    }

    /// The encoding of the first file.
    pub fn encoding(&self) -> &'static Encoding {
        self.files[0].1.encoding
    }

    /// Whether all files are written in one way, so that one set of
    /// declarations reads them all.
    pub fn is_uniform(&self) -> bool {
        let (_, first) = &self.files[0];
        self.files[1..].iter().all(|(_, other)| {
            other.encoding == first.encoding
                && other.dialect.reads_alike(&first.dialect)
                && other.header.line == first.header.line
        })
    }

    /// Whether the first file starts with a UTF-8 byte order mark.
    pub fn has_utf8_mark(&self) -> bool {
        let layout = &self.files[0].1;
        layout.encoding == UTF_8 && layout.has_utf8_mark
    }

    /// The files.
    pub fn sources(&self) -> impl Iterator<Item = &Source> {
        self.files.iter().map(|(source, _)| source)
    }

    /// The size of all files in bytes.
    pub fn size(&self) -> u64 {
        self.sources().map(Source::size).sum()
    }

    /// Reads the rows of all files, one file behind the other.
    ///
    /// # Errors
    ///
    /// Where a file cannot be opened.
    pub fn read(&self) -> Result<Box<dyn TableReader + '_>, TableError> {
        let first = CsvReader::open(&self.files[0].0, 0, &self.files[0].1)?;
        Ok(Box::new(Chain {
            table: self,
            now: first,
            number: 0,
        }))
    }
}

/// Reads one file behind the other.
struct Chain<'t> {
    table: &'t Table,
    now: CsvReader,
    number: usize,
}

impl TableReader for Chain<'_> {
    fn next_block(&mut self) -> Result<Option<Block>, TableError> {
        loop {
            if let Some(block) = self.now.next_block()? {
                return Ok(Some(block));
            }
            let Some((source, layout)) = self.table.files.get(self.number + 1) else {
                return Ok(None);
            };
            self.number += 1;
            self.now = CsvReader::open(source, self.number, layout)?;
        }
    }
}

fn difference(first: &[String], other: &[String]) -> String {
    let only = |one: &[String], two: &[String]| -> Vec<String> {
        let missing = one.iter().filter(|name| !two.contains(name));
        missing.take(3).map(|name| format!("`{name}`")).collect()
    };
    let (missing, extra) = (only(first, other), only(other, first));
    match (missing.is_empty(), extra.is_empty()) {
        (true, true) => "they stand in another order".to_owned(),
        (false, true) => format!("it lacks {}", missing.join(", ")),
        (true, false) => format!("it also has {}", extra.join(", ")),
        (false, false) => format!(
            "it lacks {} and has {}",
            missing.join(", "),
            extra.join(", ")
        ),
    }
}
