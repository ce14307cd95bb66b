//! Where a table comes from.

#[cfg(feature = "compression")]
use crate::compressed::{Growing, GrowingFile};
use crate::{DatabaseAddress, TableError, Temporary};
use std::fs::File;
use std::io::{self, Read, Seek};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// A file, standard input, or a table of a database.
///
/// Standard input is spooled to a temporary file, since tables are read more
/// than once.
#[derive(Clone, Debug)]
pub struct Source {
    name: String,
    path: PathBuf,
    spool: Option<Arc<Temporary>>,
    database: Option<Arc<DatabaseAddress>>,
    /// Of a compressed file, how much of it is decompressed.
    #[cfg(feature = "compression")]
    growing: Option<Arc<Growing>>,
}

/// A text to be read.
pub(crate) trait ReadAndSeek: Read + Seek + Send {}

impl<R: Read + Seek + Send> ReadAndSeek for R {}

impl Source {
    /// The file at `path`.
    ///
    /// # Errors
    ///
    /// Where there is none, or where it is a folder.
    pub fn file(path: &Path) -> Result<Source, TableError> {
        let name = path.display().to_string();
        let meta = std::fs::metadata(path).map_err(TableError::io(&name))?;
        if meta.is_dir() {
            return Err(TableError::Folder { file: name });
        }
        if !meta.is_file() {
            // A pipe or a device can be read only once.
            let file = File::open(path).map_err(TableError::io(&name))?;
            return Source::spool(name, file);
        }
        Ok(Source {
            name,
            path: path.to_owned(),
            spool: None,
            database: None,
            #[cfg(feature = "compression")]
            growing: None,
        })
    }

    /// Everything that `input` holds, under the name `name`.
    ///
    /// # Errors
    ///
    /// Where it cannot be read, or the temporary file not be written.
    pub fn spool(name: impl Into<String>, mut input: impl Read) -> Result<Source, TableError> {
        let name = name.into();
        Source::spool_with(&name, |spool| {
            let copied = io::copy(&mut input, spool);
            copied.map(drop).map_err(TableError::io(&name))
        })
    }

    /// What `write` writes, under the name `name`.
    pub(crate) fn spool_with(
        name: &str,
        write: impl FnOnce(&mut Temporary) -> Result<(), TableError>,
    ) -> Result<Source, TableError> {
        let name = name.to_owned();
        let spool = Temporary::new_in(&std::env::temp_dir(), None);
        let mut spool = spool.map_err(TableError::io(&name))?;
        write(&mut spool)?;
        Ok(Source {
            name,
            path: spool.path().to_owned(),
            spool: Some(Arc::new(spool)),
            database: None,
            #[cfg(feature = "compression")]
            growing: None,
        })
    }

    /// A table of a database, or what a query gives.
    pub fn database(address: DatabaseAddress) -> Source {
        Source {
            name: address.shown().to_owned(),
            path: PathBuf::new(),
            spool: None,
            database: Some(Arc::new(address)),
            #[cfg(feature = "compression")]
            growing: None,
        }
    }

    /// The address, if it is a table of a database.
    pub(crate) fn address(&self) -> Option<&DatabaseAddress> {
        self.database.as_deref()
    }

    /// The name, as messages and review lists show it.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// The path of the file; `None` for standard input.
    pub fn path(&self) -> Option<&Path> {
        let is_file = self.spool.is_none() && self.database.is_none();
        is_file.then_some(&self.path)
    }

    /// The size in bytes.
    pub fn size(&self) -> u64 {
        std::fs::metadata(&self.path).map_or(0, |meta| meta.len())
    }

    /// A file under the name `name` that another thread writes.
    #[cfg(feature = "compression")]
    pub(crate) fn growing(name: &str, growing: Arc<Growing>) -> Result<Source, TableError> {
        let source = Source::spool_with(name, |_| Ok(()))?;
        Ok(Source {
            growing: Some(growing),
            ..source
        })
    }

    /// The path of what is read, which of standard input is a temporary file.
    pub(crate) fn disk_path(&self) -> &Path {
        &self.path
    }

    /// The whole file, when it is there.
    pub(crate) fn open(&self) -> Result<File, TableError> {
        #[cfg(feature = "compression")]
        if let Some(growing) = &self.growing {
            growing.wait_for_all(&self.name)?;
        }
        self.open_now()
    }

    /// The file as a text, of which each part is waited for when it is read.
    pub(crate) fn open_text(&self) -> Result<Box<dyn ReadAndSeek>, TableError> {
        let file = self.open_now()?;
        #[cfg(feature = "compression")]
        if let Some(growing) = &self.growing {
            return Ok(Box::new(GrowingFile::new(
                file,
                growing.clone(),
                &self.name,
            )));
        }
        Ok(Box::new(file))
    }

    fn open_now(&self) -> Result<File, TableError> {
        File::open(&self.path).map_err(TableError::io(&self.name))
    }
}
