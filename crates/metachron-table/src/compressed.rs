//! Files that are compressed: gzip (RFC 1952), Zstandard (RFC 8878) and bzip2.
//!
//! Tables are read more than once, and from the middle: a compressed one is decompressed into
//! a temporary file.

use crate::contained::contained;
use crate::{Source, TableError};
use std::fs::File;
use std::io::{self, BufReader, Read, Seek, SeekFrom, Write};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError, Weak};

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

/// A file that a thread of its own decompresses, while others read what is there.
#[derive(Debug)]
pub(crate) struct Growing {
    state: Mutex<State>,
    changed: Condvar,
}

#[derive(Debug, Default)]
struct State {
    /// How many bytes are there.
    len: u64,
    /// How it ended, if it has.
    end: Option<Result<(), Fault>>,
}

/// Why a file cannot be decompressed.
#[derive(Clone, Debug)]
enum Fault {
    Damaged(Compression, String),
    GrowsTooMuch,
}

impl Fault {
    fn of(self, file: &str) -> TableError {
        let file = file.to_owned();
        match self {
            Fault::Damaged(compression, cause) => TableError::Damaged {
                file,
                format: compression.name(),
                cause,
            },
            Fault::GrowsTooMuch => TableError::GrowsTooMuch {
                file,
                times: MOST_GROWTH,
            },
        }
    }
}

impl Growing {
    fn state(&self) -> MutexGuard<'_, State> {
        self.state.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn set(&self, change: impl FnOnce(&mut State)) {
        change(&mut self.state());
        self.changed.notify_all();
    }

    /// Waits until more than `from` bytes are there, or all are; says whether more are.
    fn wait_for_more(&self, from: u64) -> Result<bool, Fault> {
        let mut state = self.state();
        loop {
            if state.len > from {
                return Ok(true);
            }
            if let Some(end) = &state.end {
                return end.clone().map(|()| false);
            }
            let woken = self.changed.wait(state);
            state = woken.unwrap_or_else(PoisonError::into_inner);
        }
    }

    /// Waits until all of it is there.
    pub(crate) fn wait_for_all(&self, file: &str) -> Result<(), TableError> {
        let all = self.wait_for_more(u64::MAX - 1);
        all.map(drop).map_err(|fault| fault.of(file))
    }
}

/// Decompresses into `out`, until nobody reads any more.
fn decompress(
    compression: Compression,
    (file, most): (File, u64),
    mut out: File,
    growing: &Weak<Growing>,
) -> Result<(), Fault> {
    let damaged = |cause: io::Error| Fault::Damaged(compression, cause.to_string());
    let mut reader = compression.reader(BufReader::new(file)).map_err(damaged)?;
    let mut part = vec![0; PART];
    let mut len = 0;
    loop {
        let read = reader.read(&mut part).map_err(damaged)?;
        let Some(growing) = growing.upgrade().filter(|_| read > 0) else {
            return Ok(());
        };
        out.write_all(&part[..read]).map_err(damaged)?;
        len += read as u64;
        if len > most {
            return Err(Fault::GrowsTooMuch);
        }
        growing.set(|state| state.len = len);
    }
}

/// So many bytes are decompressed at once.
const PART: usize = 1 << 18;

/// A file to be read, of which perhaps not all is there.
pub(crate) struct GrowingFile {
    file: File,
    growing: Arc<Growing>,
    name: String,
    at: u64,
}

impl GrowingFile {
    pub(crate) fn new(file: File, growing: Arc<Growing>, name: &str) -> GrowingFile {
        GrowingFile {
            file,
            growing,
            name: name.to_owned(),
            at: 0,
        }
    }
}

impl Read for GrowingFile {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.file.read(buffer)?;
        if read > 0 || buffer.is_empty() {
            self.at += read as u64;
            return Ok(read);
        }
        let more = self.growing.wait_for_more(self.at);
        let failed = |fault: Fault| {
            let text = fault.of(&self.name).to_string();
            let start = format!("{}: ", self.name);
            io::Error::other(text.strip_prefix(&start).unwrap_or(&text).to_owned())
        };
        if more.map_err(failed)? {
            self.read(buffer)
        } else {
            Ok(0)
        }
    }
}

impl Seek for GrowingFile {
    fn seek(&mut self, to: SeekFrom) -> io::Result<u64> {
        self.at = self.file.seek(to)?;
        Ok(self.at)
    }
}

impl Source {
    /// The source, decompressed where it is compressed: a thread of its own goes on with that
    /// while the first rows are read.
    pub(crate) fn decompressed(self) -> Result<Source, TableError> {
        let name = self.name().to_owned();
        let io = TableError::io(&name);
        let mut head = Vec::new();
        let mut file = self.open()?;
        (&mut file).take(8).read_to_end(&mut head).map_err(&io)?;
        let Some(compression) = Compression::of(&head) else {
            return Ok(self);
        };
        file.seek(SeekFrom::Start(0)).map_err(&io)?;
        let most = LARGE.max(self.size().saturating_mul(MOST_GROWTH));
        let growing = Arc::new(Growing {
            state: Mutex::default(),
            changed: Condvar::new(),
        });
        let spooled = Source::growing(&name, growing.clone())?;
        let out = File::options().write(true).open(spooled.disk_path());
        let (out, growing) = (out.map_err(&io)?, Arc::downgrade(&growing));
        std::thread::spawn(move || {
            let end = contained(|| decompress(compression, (file, most), out, &growing));
            // Whoever waits for more must not wait for ever.
            let panicked = || Err(Fault::Damaged(compression, "it leads nowhere".to_owned()));
            let end = end.unwrap_or_else(panicked);
            if let Some(growing) = growing.upgrade() {
                growing.set(|state| state.end = Some(end));
            }
        });
        Ok(spooled)
    }
}
