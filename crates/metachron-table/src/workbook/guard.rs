//! What a workbook may ask for before it is opened.
//!
//! A few kilobytes of zip archive can hold gigabytes of zeros. Parts that are
//! read into memory as a whole are measured first.

use crate::workbook::WorkbookFormat;
use crate::{Source, TableError};
use std::io::{self, Read};
use zip::ZipArchive;

/// The largest part that is read into memory as a whole, in MiB.
const LARGEST_PART_MIB: u64 = 512;

/// Deflate (RFC 1951) makes at most so many bytes of one.
const MOST_DEFLATED: u64 = 1032;

/// The format of a zip archive, by the parts it has.
pub(super) fn format_inside(source: &Source) -> Result<Option<WorkbookFormat>, TableError> {
    let Ok(archive) = ZipArchive::new(io::BufReader::new(source.open()?)) else {
        return Ok(None);
    };
    let has = |name: &str| archive.index_for_name(name).is_some();
    Ok(match () {
        _ if has("xl/workbook.xml") => Some(WorkbookFormat::Xlsx),
        _ if has("xl/workbook.bin") => Some(WorkbookFormat::Xlsb),
        _ if has("content.xml") => Some(WorkbookFormat::Ods),
        _ => None,
    })
}

/// Refuses an archive with a part that is too large to be held in memory. The
/// sheets of XLSX and XLSB are not held.
pub(super) fn check(source: &Source) -> Result<(), TableError> {
    check_up_to(source, LARGEST_PART_MIB)
}

fn check_up_to(source: &Source, mebibytes: u64) -> Result<(), TableError> {
    let Ok(mut archive) = ZipArchive::new(io::BufReader::new(source.open()?)) else {
        // Its reader says what is wrong with it.
        return Ok(());
    };
    let limit = mebibytes << 20;
    for index in 0..archive.len() {
        let Ok(mut part) = archive.by_index(index) else {
            continue;
        };
        let Ok(name) = part.name().map(|name| name.into_owned()) else {
            continue;
        };
        if name.starts_with("xl/worksheets/") || !name.ends_with(".xml") && !name.ends_with(".bin")
        {
            continue;
        }
        // The size that the archive declares may be a lie.
        let may_be_larger = part.compressed_size().saturating_mul(MOST_DEFLATED) > limit;
        let is_larger = part.size() > limit
            || may_be_larger
                && io::copy(&mut (&mut part).take(limit + 1), &mut io::sink())
                    .is_ok_and(|size| size > limit);
        if is_larger {
            return Err(TableError::PartTooLarge {
                file: source.name().to_owned(),
                part: name,
                limit: mebibytes,
            });
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::io::Write;

    #[test]
    fn a_part_that_unpacks_to_too_much_is_refused() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("bomb.xlsx");
        let mut archive = zip::ZipWriter::new(std::fs::File::create(&path).unwrap());
        let options = zip::write::SimpleFileOptions::default();
        archive.start_file("xl/sharedStrings.xml", options).unwrap();
        archive.write_all(&vec![b' '; 3 << 20]).unwrap();
        archive.finish().unwrap();
        assert!(std::fs::metadata(&path).unwrap().len() < 1 << 14);
        let source = Source::file(&path).unwrap();
        assert!(check_up_to(&source, 4).is_ok());
        let refused = check_up_to(&source, 2).unwrap_err().to_string();
        assert!(
            refused.contains("xl/sharedStrings.xml unpacks to more than 2 MiB"),
            "{refused}"
        );
    }
}
