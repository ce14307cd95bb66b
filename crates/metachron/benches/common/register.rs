//! The table that speed is measured on, and what it is measured against.

use std::error::Error;
use std::fs::File;
use std::io::{BufWriter, Write};
use std::path::Path;

/// The reference for `convert`: read and write, single-threaded.
pub fn copy(input: &Path, output: &Path) -> Result<(), Box<dyn Error>> {
    let mut reader = csv::ReaderBuilder::new()
        .has_headers(false)
        .from_path(input)?;
    let mut writer = csv::Writer::from_path(output)?;
    let mut record = csv::ByteRecord::new();
    while reader.read_byte_record(&mut record)? {
        writer.write_byte_record(&record)?;
    }
    Ok(writer.flush()?)
}

/// A register of loans: days repeat over six years, times hardly ever do.
pub fn write_table(path: &Path, rows: u64) -> Result<(), Box<dyn Error>> {
    let mut file = BufWriter::new(File::create(path)?);
    writeln!(file, "item,partner,loaned out,premium,handed over")?;
    let mut state = 1_u64;
    let mut random = |below: u64| {
        state = state
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (state >> 33) % below
    };
    let partners = [
        "Lantern House",
        "Tide Mill",
        "Saltworks Museum",
        "Archive of Weights",
    ];
    for item in 0..rows {
        writeln!(
            file,
            "K-{item},{},{:02}/{:02}/{},{}.{:02},{}-{:02}-{:02} {:02}:{:02}:{:02}",
            partners[random(4) as usize],
            random(28) + 1,
            random(12) + 1,
            2019 + random(6),
            random(5000),
            random(100),
            2019 + random(6),
            random(12) + 1,
            random(28) + 1,
            random(24),
            random(60),
            random(60),
        )?;
    }
    Ok(file.flush()?)
}
