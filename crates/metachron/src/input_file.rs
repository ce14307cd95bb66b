//! Files of rulings, answers and reviews that are read besides the table.

use anyhow::{Context, bail};
use std::fs::{self, File};
use std::io::{self, BufRead, BufReader, Read};
use std::path::Path;

/// More than any file of rulings or answers has: ten thousand columns take two megabytes.
/// Read as TOML, it takes eighty times its size of memory.
const MOST_BYTES: u64 = 16 << 20;

/// The longest line of such a file: the longest row of a table, which a review list may
/// quote, and some more.
const LONGEST_LINE: usize = 40 << 20;

/// A file whose lines have an end: who reads it line by line holds no more than one.
pub struct Lines {
    file: File,
    /// How many bytes of the line were read.
    line: usize,
}

impl From<File> for Lines {
    fn from(file: File) -> Lines {
        Lines { file, line: 0 }
    }
}

impl Read for Lines {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.file.read(buffer)?;
        self.line = match buffer[..read].iter().rposition(|byte| *byte == b'\n') {
            Some(end) => read - end - 1,
            None => self.line + read,
        };
        if self.line > LONGEST_LINE {
            let most = LONGEST_LINE >> 20;
            return Err(io::Error::other(format!("a line has more than {most} MiB")));
        }
        Ok(read)
    }
}

impl Lines {
    /// The records of a review list, whichever of the usual delimiters stands between its
    /// cells: spreadsheets save a list with that of their own locale.
    pub fn records(self) -> io::Result<csv::Reader<impl Read>> {
        let mut lines = BufReader::new(self);
        let mut header = Vec::new();
        lines.read_until(b'\n', &mut header)?;
        let count = |delimiter: &u8| header.iter().filter(|byte| *byte == delimiter).count();
        // The last of those that are as many: the list's own.
        let delimiter = b"\t;,".iter().max_by_key(|delimiter| count(delimiter));
        let mut reader = csv::ReaderBuilder::new();
        reader.delimiter(*delimiter.unwrap_or(&b','));
        Ok(reader.from_reader(io::Cursor::new(header).chain(lines)))
    }
}

/// The file at `path`, which may be a pipe, but no device: those have no end.
pub fn open(path: &Path) -> anyhow::Result<Lines> {
    let name = path.display().to_string();
    if path == Path::new("-") {
        bail!("-: standard input is for the table; name a file");
    }
    let meta = fs::metadata(path).with_context(|| name.clone())?;
    if is_device(&meta) {
        bail!("{name} is a device, and no file");
    }
    Ok(Lines::from(File::open(path).context(name)?))
}

/// The whole text of such a file.
pub fn read(path: &Path) -> anyhow::Result<String> {
    let name = path.display().to_string();
    let mut text = String::new();
    let mut file = open(path)?.take(MOST_BYTES + 1);
    file.read_to_string(&mut text)
        .with_context(|| name.clone())?;
    if text.len() as u64 > MOST_BYTES {
        bail!(
            "{name} has more than {} MiB, and can be no file of rulings or answers",
            MOST_BYTES >> 20
        );
    }
    Ok(text)
}

/// Whether a file may be read without end, as `/dev/zero`.
fn is_device(meta: &fs::Metadata) -> bool {
    #[cfg(unix)]
    {
        use std::os::unix::fs::FileTypeExt;
        meta.file_type().is_char_device()
    }
    #[cfg(not(unix))]
    {
        let _ = meta;
        false
    }
}
