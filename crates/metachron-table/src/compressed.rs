//! Files that are compressed: gzip (RFC 1952), Zstandard (RFC 8878) and bzip2.
//!
//! Tables are read more than once, and from the middle: a compressed one is decompressed into
//! a temporary file first.

use crate::{Source, TableError};
use std::io::{self, Read, Write};

/// A file that grows to more than so many times its size …
const MOST_GROWTH: u64 = 300;

/// … and to more than so many bytes is made to fill the disk.
const LARGE: u64 = 1 << 30;

/// How a file is compressed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Compression {
    Gzip,
    Zstandard,
    Bzip2,
}

impl Compression {
    /// How a file is compressed that starts with these bytes.
    fn of(head: &[u8]) -> Option<Compression> {
        match head {
            [0x1f, 0x8b, 8, ..] => Some(Compression::Gzip),
            [0x28, 0xb5, 0x2f, 0xfd, ..] => Some(Compression::Zstandard),
            [b'B', b'Z', b'h', b'1'..=b'9', 0x31, 0x41, 0x59, 0x26, ..] => Some(Compression::Bzip2),
            _ => None,
        }
    }

    fn name(self) -> &'static str {
        match self {
            Compression::Gzip => "gzip",
            Compression::Zstandard => "Zstandard",
            Compression::Bzip2 => "bzip2",
        }
    }

    fn reader<'r>(self, file: impl Read + 'r) -> io::Result<Box<dyn Read + 'r>> {
        Ok(match self {
            Compression::Gzip => Box::new(flate2::read::MultiGzDecoder::new(file)),
            Compression::Zstandard => Box::new(zstd::stream::read::Decoder::new(file)?),
            Compression::Bzip2 => Box::new(bzip2::read::MultiBzDecoder::new(file)),
        })
    }
}

impl Source {
    /// The source, decompressed where it is compressed.
    pub(crate) fn decompressed(self) -> Result<Source, TableError> {
        let mut head = Vec::new();
        let read = self.open()?.take(8).read_to_end(&mut head);
        read.map_err(TableError::io(self.name()))?;
        let Some(compression) = Compression::of(&head) else {
            return Ok(self);
        };
        let most = LARGE.max(self.size().saturating_mul(MOST_GROWTH));
        let damaged = |cause: io::Error| TableError::Damaged {
            file: self.name().to_owned(),
            format: compression.name(),
            cause: cause.to_string(),
        };
        let reader = compression.reader(self.open()?).map_err(damaged)?;
        let spooled = Source::spool_with(self.name(), |spool| {
            let mut reader = reader.take(most + 1);
            let mut part = vec![0; 1 << 16];
            let mut all = 0;
            loop {
                let read = reader.read(&mut part).map_err(damaged)?;
                if read == 0 {
                    break;
                }
                all += read as u64;
                spool
                    .write_all(&part[..read])
                    .map_err(TableError::io(self.name()))?;
            }
            if all > most {
                return Err(TableError::GrowsTooMuch {
                    file: self.name().to_owned(),
                    times: MOST_GROWTH,
                });
            }
            Ok(())
        })?;
        Ok(spooled)
    }
}
