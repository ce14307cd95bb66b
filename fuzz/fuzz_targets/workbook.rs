//! Any parts as a workbook, and any bytes as one: read, or refused with a message.
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_table::{ReadOptions, Source, Table, WorkbookFormat};
use std::io::Write;

/// The parts that are read; the input says of each what it holds.
const PARTS: [&str; 8] = [
    "xl/workbook.xml",
    "xl/_rels/workbook.xml.rels",
    "xl/worksheets/sheet1.xml",
    "xl/sharedStrings.xml",
    "xl/styles.xml",
    "xl/workbook.bin",
    "xl/worksheets/sheet1.bin",
    "content.xml",
];

/// A zip archive, where the first byte of the input says so: its parts are cut at NULs.
fn archive(input: &[u8]) -> Option<Vec<u8>> {
    let (b'z', rest) = input.split_first().map(|(first, rest)| (*first, rest))? else {
        return None;
    };
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    let options = zip::write::SimpleFileOptions::default()
        .compression_method(zip::CompressionMethod::Stored);
    for (name, content) in PARTS.iter().zip(rest.split(|byte| *byte == 0)) {
        if !content.is_empty() {
            archive.start_file(*name, options).ok()?;
            archive.write_all(content).ok()?;
        }
    }
    Some(archive.finish().ok()?.into_inner())
}

fuzz_target!(|input: &[u8]| {
    let bytes = archive(input).unwrap_or_else(|| input.to_vec());
    let Ok(source) = Source::spool("odd", bytes.as_slice()) else {
        return;
    };
    for format in ["xlsx", "xlsb", "xls", "ods"] {
        let options = ReadOptions {
            workbook: WorkbookFormat::by_extension(format),
            ..ReadOptions::default()
        };
        let Ok(table) = Table::open(vec![source.clone()], &options) else {
            continue;
        };
        let mut reader = table.read().expect("it was opened");
        while let Ok(Some(block)) = reader.next_block() {
            let Ok(mut rows) = block.rows() else { break };
            while let Some(row) = rows.next_row() {
                let mut scratch = String::new();
                for cell in 0..row.len().min(64) {
                    let _ = row.cell(cell, &mut scratch);
                }
            }
        }
    }
});
