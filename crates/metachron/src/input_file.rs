//! Files of rulings, answers and reviews that are read besides the table.

use anyhow::{Context, bail};
use metachron_table::Source;
use std::fs::{self, File};
use std::io::Read;
use std::path::Path;

/// More than any file of rulings or answers has: ten thousand columns take two megabytes.
/// Read as TOML, it takes eighty times its size of memory.
const MOST_BYTES: u64 = 16 << 20;

/// The file at `path`, which may be a pipe, but no device: those have no end.
fn open(path: &Path) -> anyhow::Result<File> {
    let name = path.display().to_string();
    refuse_endless(path)?;
    File::open(path).context(name)
}

/// The same, as a table.
pub fn source(path: &Path) -> anyhow::Result<Source> {
    refuse_endless(path)?;
    Ok(Source::file(path)?)
}

fn refuse_endless(path: &Path) -> anyhow::Result<()> {
    let name = path.display().to_string();
    if path == Path::new("-") {
        bail!("-: standard input is for the table; name a file");
    }
    let meta = fs::metadata(path).with_context(|| name.clone())?;
    if is_device(&meta) {
        bail!("{name} is a device, and no file");
    }
    Ok(())
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
