//! Files of other formats that are cut off, or have a wrong byte: an error that says so, or
//! rows, and never a panic, an abort, or less than all rows without a word.
#![cfg(all(feature = "parquet", feature = "compression"))]

use arrow_array::{ArrayRef, Date32Array, RecordBatch, StringArray, TimestampMicrosecondArray};
use arrow_ipc::CompressionType;
use arrow_ipc::writer::{FileWriter, IpcWriteOptions, StreamWriter};
use arrow_schema::Schema;
use metachron_table::{ReadOptions, Source, Table, TableError};
use parquet::arrow::ArrowWriter;
use parquet::basic::{Compression, ZstdLevel};
use parquet::file::properties::WriterProperties;
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

const BATCH: i32 = 20;

const ROWS: usize = 40;

fn batch(from: i32) -> RecordBatch {
    let rows = from..from + BATCH;
    let texts = rows
        .clone()
        .map(|row| (row % 5 > 0).then(|| format!("item {row}")));
    let texts: StringArray = texts.collect();
    let days: Date32Array = rows.clone().map(|row| Some(19_000 + row)).collect();
    let moments = rows.map(|row| Some(i64::from(row) * 1_000_001));
    let moments: TimestampMicrosecondArray = moments.collect();
    let columns: [(&str, ArrayRef, bool); 3] = [
        ("item", Arc::new(texts), true),
        ("day", Arc::new(days), true),
        ("at", Arc::new(moments.with_timezone("UTC")), true),
    ];
    RecordBatch::try_from_iter_with_nullable(columns).unwrap()
}

fn schema() -> Arc<Schema> {
    batch(0).schema()
}

fn stream(compression: Option<CompressionType>) -> Vec<u8> {
    let options = IpcWriteOptions::default()
        .try_with_compression(compression)
        .unwrap();
    let mut writer = StreamWriter::try_new_with_options(Vec::new(), &schema(), options).unwrap();
    writer.write(&batch(0)).unwrap();
    writer.write(&batch(BATCH)).unwrap();
    writer.into_inner().unwrap()
}

fn parquet(compression: Compression) -> Vec<u8> {
    let properties = WriterProperties::builder()
        .set_compression(compression)
        .build();
    let mut writer = ArrowWriter::try_new(Vec::new(), schema(), Some(properties)).unwrap();
    writer.write(&batch(0)).unwrap();
    writer.flush().unwrap();
    writer.write(&batch(BATCH)).unwrap();
    writer.into_inner().unwrap()
}

fn gzip(text: &str) -> Vec<u8> {
    let mut writer = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
    writer.write_all(text.as_bytes()).unwrap();
    writer.finish().unwrap()
}

/// A small file of each format.
fn files() -> Vec<(&'static str, Vec<u8>)> {
    let mut arrow = FileWriter::try_new(Vec::new(), &schema()).unwrap();
    arrow.write(&batch(0)).unwrap();
    arrow.write(&batch(BATCH)).unwrap();
    let rows = (0..ROWS).map(|row| format!("item {row},2024-05-{:02}\n", row % 28 + 1));
    let text = format!("item,day\n{}", rows.collect::<String>());
    let objects = (0..ROWS).map(|row| format!("{{\"item\":{row},\"day\":\"2024-05-01\"}}"));
    let list = format!("[{}]", objects.collect::<Vec<_>>().join(","));
    vec![
        ("a.arrow", arrow.into_inner().unwrap()),
        ("a.arrows", stream(None)),
        ("lz4.arrows", stream(Some(CompressionType::LZ4_FRAME))),
        ("zstd.arrows", stream(Some(CompressionType::ZSTD))),
        ("a.parquet", parquet(Compression::UNCOMPRESSED)),
        ("snappy.parquet", parquet(Compression::SNAPPY)),
        (
            "zstd.parquet",
            parquet(Compression::ZSTD(ZstdLevel::default())),
        ),
        ("a.csv.gz", gzip(&text)),
        ("a.csv.zst", zstd::encode_all(text.as_bytes(), 3).unwrap()),
        ("a.json", list.into_bytes()),
    ]
}

/// How many rows the file has.
fn rows(path: &Path) -> Result<usize, TableError> {
    let table = Table::open(vec![Source::file(path)?], &ReadOptions::default())?;
    let mut reader = table.read()?;
    let mut found = 0;
    while let Some(block) = reader.next_block()? {
        let mut rows = block.rows()?;
        while rows.next_row().is_some() {
            found += 1;
        }
    }
    Ok(found)
}

#[test]
fn a_file_that_is_cut_off_is_an_error() {
    let folder = tempfile::tempdir().unwrap();
    for (name, bytes) in files() {
        let path = folder.path().join(name);
        std::fs::write(&path, &bytes).unwrap();
        assert_eq!(rows(&path).unwrap(), ROWS, "{name}");
        // Of a compressed file, fewer bytes than these tell nothing: they are text.
        let least = if name.contains(".csv") { 8 } else { 0 };
        for len in least..bytes.len() {
            std::fs::write(&path, &bytes[..len]).unwrap();
            assert!(rows(&path).is_err(), "{name} of {len} bytes");
        }
    }
}

#[test]
fn a_wrong_byte_does_no_harm() {
    let folder = tempfile::tempdir().unwrap();
    for (name, bytes) in files() {
        let path = folder.path().join(name);
        for at in 0..bytes.len() {
            let mut damaged = bytes.clone();
            damaged[at] ^= 1 << (at % 8);
            std::fs::write(&path, &damaged).unwrap();
            // Whatever comes out, the process lives.
            let _ = rows(&path);
        }
    }
}

#[test]
fn what_stands_behind_a_compressed_file_is_not_left_out_quietly() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.csv.gz");
    let first = gzip("item,day\nvase,2024-05-01\n");
    std::fs::write(&path, [first.as_slice(), b"garbage"].concat()).unwrap();
    assert!(rows(&path).is_err());
    // Two members are one text.
    let second = gzip("lamp,2024-06-01\n");
    std::fs::write(&path, [first, second].concat()).unwrap();
    assert_eq!(rows(&path).unwrap(), 2);
}
