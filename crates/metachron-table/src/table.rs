//! One or several files with one header, read as one table.

#[cfg(feature = "arrow")]
use crate::columnar::{self, ColumnarFormat, ColumnarReader};
use crate::csv::{Block, CsvReader, Dialect, Layout, sniff};
use crate::database;
#[cfg(feature = "sqlite")]
use crate::database::sqlite::SqliteTable;
use crate::encoding::{guess, is_utf8};
use crate::json;
use crate::spool::{Spool, SpooledReader};
use crate::workbook::Sheet;
use crate::{ColumnType, Header, ReadOptions, SheetInfo, Source, SourceFormat, TableError};
use encoding_rs::{Encoding, UTF_8};
use std::sync::Arc;

/// Reads a table block by block.
pub trait TableReader: Send {
    /// The next block of rows; `None` at the end of the table.
    ///
    /// # Errors
    ///
    /// Where a file cannot be read on.
    fn next_block(&mut self) -> Result<Option<Block>, TableError>;
}

/// The sheet of a workbook, or the table of a database, that a table is read from.
#[derive(Clone, Copy, Debug)]
pub struct OpenSheet<'t> {
    /// Its name.
    pub name: &'t str,
    /// All that the file has.
    pub all: &'t [SheetInfo],
}

/// One or several files with one header.
#[derive(Clone, Debug)]
pub struct Table {
    files: Vec<OneFile>,
}

/// One file of a table.
#[derive(Clone, Debug)]
struct OneFile {
    source: Source,
    layout: Layout,
    format: SourceFormat,
    content: Content,
}

/// What stands in a file.
#[derive(Clone, Debug)]
enum Content {
    Text,
    Sheet(Arc<Sheet>),
    #[cfg(feature = "arrow")]
    Columns(ColumnarFormat),
    #[cfg(feature = "sqlite")]
    Database(Arc<SqliteTable>),
    Spooled(Arc<Spool>),
}

impl OneFile {
    fn open(source: Source, declared: &ReadOptions) -> Result<OneFile, TableError> {
        if let Some(address) = source.address() {
            let (format, spool, layout) = database::read(address)?;
            return Ok(OneFile {
                layout,
                format,
                content: Content::Spooled(Arc::new(spool)),
                source,
            });
        }
        #[cfg(feature = "compression")]
        let source = source.decompressed()?;
        let format = match declared.format {
            Some(format) => format,
            None => SourceFormat::of(&source)?,
        };
        if declared.sheet.is_some() && format.part().is_none() {
            return Err(TableError::NoSheets {
                file: source.name().to_owned(),
                format: format.name(),
            });
        }
        let (content, layout) = match format {
            SourceFormat::Text => (Content::Text, sniff(&source, declared)?),
            SourceFormat::Workbook(format) => {
                let (sheet, layout) = Sheet::open(&source, format, declared)?;
                (Content::Sheet(Arc::new(sheet)), layout)
            }
            #[cfg(feature = "arrow")]
            SourceFormat::Columnar(format) => {
                (Content::Columns(format), columnar::layout(&source, format)?)
            }
            #[cfg(feature = "sqlite")]
            SourceFormat::Sqlite => {
                let (table, layout) = SqliteTable::open(&source, declared)?;
                (Content::Database(Arc::new(table)), layout)
            }
            #[cfg(feature = "postgres")]
            SourceFormat::Postgres => {
                return Err(TableError::Database {
                    database: source.name().to_owned(),
                    cause: "a file is no server; give the address of the database".to_owned(),
                });
            }
            SourceFormat::Json => {
                let (spool, layout) = json::read(&source)?;
                (Content::Spooled(Arc::new(spool)), layout)
            }
        };
        Ok(OneFile {
            source,
            layout,
            format,
            content,
        })
    }

    /// The part of the file that is read, where it may have several.
    fn part(&self) -> Option<OpenSheet<'_>> {
        let (all, index) = match &self.content {
            Content::Sheet(sheet) => (&sheet.all, sheet.index),
            #[cfg(feature = "sqlite")]
            Content::Database(table) => (&table.all, table.index),
            _ => return None,
        };
        Some(OpenSheet {
            name: &all[index].name,
            all,
        })
    }

    fn sheet(&self) -> Option<&Sheet> {
        match &self.content {
            Content::Sheet(sheet) => Some(sheet),
            _ => None,
        }
    }

    /// How many bytes are read.
    fn size(&self) -> u64 {
        match &self.content {
            Content::Sheet(sheet) => sheet.size(),
            #[cfg(feature = "sqlite")]
            Content::Database(table) => table.spool.size,
            Content::Spooled(spool) => spool.size,
            _ => self.source.size(),
        }
    }

    fn read(&self, number: usize) -> Result<FileReader, TableError> {
        let OneFile { source, layout, .. } = self;
        Ok(match &self.content {
            Content::Text => FileReader::Csv(CsvReader::open(source, number, layout)?),
            Content::Sheet(sheet) => {
                FileReader::Spooled(sheet.read(source, number, layout.data_line)?)
            }
            #[cfg(feature = "arrow")]
            Content::Columns(format) => {
                FileReader::Columns(ColumnarReader::open(source, number, *format)?)
            }
            #[cfg(feature = "sqlite")]
            Content::Database(table) => FileReader::Spooled(table.spool.blocks(source, number, 1)?),
            Content::Spooled(spool) => FileReader::Spooled(spool.blocks(source, number, 1)?),
        })
    }
}

/// Reads the rows of one file.
enum FileReader {
    Csv(CsvReader),
    Spooled(SpooledReader),
    #[cfg(feature = "arrow")]
    Columns(ColumnarReader),
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
    pub fn open(sources: Vec<Source>, declared: &ReadOptions) -> Result<Table, TableError> {
        let mut files = Vec::with_capacity(sources.len());
        for source in sources {
            files.push(OneFile::open(source, declared)?);
        }
        let table = Table { files };
        let (first, names) = (&table.files[0].source, table.columns());
        for OneFile { source, layout, .. } in &table.files[1..] {
            if layout.header.names != names {
                return Err(TableError::OtherColumns {
                    file: source.name().to_owned(),
                    first: first.name().to_owned(),
                    difference: columns_difference(names, &layout.header.names),
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
    pub fn make_encodings_sure(&mut self, declared: &ReadOptions) -> Result<(), TableError> {
        for OneFile { source, layout, .. } in &mut self.files {
            if layout.encoding_is_sure {
                continue;
            }
            if !is_utf8(source)? {
                let encoding = Some(guess(source)?);
                *layout = sniff(
                    source,
                    &ReadOptions {
                        encoding,
                        ..declared.clone()
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
        &self.files[0].layout.header
    }

    /// The headers of all files.
    pub fn headers(&self) -> impl Iterator<Item = (&Source, &Header)> {
        self.files
            .iter()
            .map(|file| (&file.source, &file.layout.header))
    }

    /// How the first file is written.
    pub fn dialect(&self) -> Dialect {
        self.files[0].layout.dialect
    }

    /// The encoding of the first file.
    pub fn encoding(&self) -> &'static Encoding {
        self.files[0].layout.encoding
    }

    /// Whether all files are written in one way, so that one set of
    /// declarations reads them all.
    pub fn is_uniform(&self) -> bool {
        let first = &self.files[0].layout;
        let sheet_of = |file: &OneFile| file.part().map(|part| part.name.to_owned());
        let sheet = sheet_of(&self.files[0]);
        self.files[1..].iter().all(|file| {
            let other = &file.layout;
            sheet_of(file) == sheet
                && other.encoding == first.encoding
                && other.dialect.reads_alike(&first.dialect)
                && other.header.line == first.header.line
        })
    }

    /// The format of the first file.
    pub fn format(&self) -> SourceFormat {
        self.files[0].format
    }

    /// The types of the columns, where the first file has types; else none.
    pub fn types(&self) -> &[ColumnType] {
        &self.files[0].layout.types
    }

    /// The sheet of a workbook, or the table of a database, that is read of the first file.
    pub fn sheet(&self) -> Option<OpenSheet<'_>> {
        self.files[0].part()
    }

    /// What is odd about the sheets that are read, in words, each with its
    /// file.
    pub fn sheet_remarks(&self) -> impl Iterator<Item = (&Source, String)> {
        self.files.iter().filter_map(|file| {
            let sheet = file.sheet()?;
            let (row, column) = sheet.first_uncounted?;
            Some((
                &file.source,
                format!(
                    "{} formulas have no value in the file, the first at row {row}, column \
                     {column}; open it in the program it comes from and save it, or their cells \
                     are empty",
                    sheet.uncounted
                ),
            ))
        })
    }

    /// Whether the first file starts with a UTF-8 byte order mark.
    pub fn has_utf8_mark(&self) -> bool {
        let layout = &self.files[0].layout;
        layout.encoding == UTF_8 && layout.has_utf8_mark
    }

    /// The files.
    pub fn sources(&self) -> impl Iterator<Item = &Source> {
        self.files.iter().map(|file| &file.source)
    }

    /// The size of all files in bytes.
    pub fn size(&self) -> u64 {
        self.files.iter().map(OneFile::size).sum()
    }

    /// Reads the rows of all files, one file behind the other.
    ///
    /// # Errors
    ///
    /// Where a file cannot be opened.
    pub fn read(&self) -> Result<Box<dyn TableReader + '_>, TableError> {
        let first = self.files[0].read(0)?;
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
    now: FileReader,
    number: usize,
}

impl TableReader for Chain<'_> {
    fn next_block(&mut self) -> Result<Option<Block>, TableError> {
        loop {
            let block = match &mut self.now {
                FileReader::Csv(reader) => reader.next_block()?,
                FileReader::Spooled(reader) => reader.next_block()?,
                #[cfg(feature = "arrow")]
                FileReader::Columns(reader) => reader.next_block()?,
            };
            if block.is_some() {
                return Ok(block);
            }
            let Some(file) = self.table.files.get(self.number + 1) else {
                return Ok(None);
            };
            self.number += 1;
            self.now = file.read(self.number)?;
        }
    }
}

/// What the columns of a file are other than those of the first, in words.
pub fn columns_difference(first: &[String], other: &[String]) -> String {
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
