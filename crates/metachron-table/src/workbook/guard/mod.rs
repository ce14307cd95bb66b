//! What a workbook may ask for before it is opened.
//!
//! A few kilobytes of zip archive can hold gigabytes, and a number in it can ask for
//! more cells than there is memory. The package that reads workbooks believes both. So
//! each part streams by once before, and what reading it will take is added up.

mod budget;
mod cells;
pub(super) mod compound;
mod records;
mod shared_texts;
mod tables;
mod xml_scan;

use crate::{Source, TableError};
use budget::{Budget, Excess};
use cells::Cells;
use records::records;
use shared_texts::SharedTexts;
use std::fs::File;
use std::io::{self, BufReader, Read};
use tables::Tables;
use zip::ZipArchive;
use zip::read::ZipFile;

/// Refuses an archive that would take more memory, or unpack to more, than a workbook
/// of its size has reason to.
pub(super) fn check(source: &Source) -> Result<(), TableError> {
    check_within(source, Budget::of(source.size()))
}

fn check_within(source: &Source, budget: Budget) -> Result<(), TableError> {
    let Ok(mut archive) = ZipArchive::new(BufReader::new(source.open()?)) else {
        // Its reader says what is wrong with it.
        return Ok(());
    };
    let mut left = budget;
    for index in 0..archive.len() {
        let Ok(part) = archive.by_index(index) else {
            continue;
        };
        let Ok(name) = part.name().map(|name| name.into_owned()) else {
            continue;
        };
        let excess = measure(&name, part, &mut left);
        if let Some(excess) = excess {
            return Err(TableError::PartTooLarge {
                file: source.name().to_owned(),
                part: name,
                cause: excess.sentence(&budget),
            });
        }
    }
    Ok(())
}

/// Takes what reading a part takes from what is `left`; says what is too much. What
/// cannot be read of it is the reader's to say.
fn measure(name: &str, part: ZipFile<'_, BufReader<File>>, left: &mut Budget) -> Option<Excess> {
    let mut unpacked = Counting {
        part,
        left: &mut left.unpacked,
        is_over: false,
    };
    let memory = &mut left.memory;
    let found = match name.rsplit('/').next() {
        Some(file) if file.eq_ignore_ascii_case("sharedStrings.xml") => {
            xml_scan::scan(&mut unpacked, &mut SharedTexts::new(memory))
        }
        _ if name.eq_ignore_ascii_case("content.xml") => {
            xml_scan::scan(&mut unpacked, &mut Tables::new(memory))
        }
        Some(file) if file.ends_with(".xml") || file.ends_with(".rels") => {
            let is_of_sheet = name.contains("worksheets/");
            xml_scan::scan(&mut unpacked, &mut Cells::new(memory, is_of_sheet))
        }
        Some(file) if file.ends_with(".bin") => records(&mut unpacked, file, memory),
        // Pictures and the like are not read.
        _ => return None,
    };
    if unpacked.is_over {
        return Some(Excess::Unpacked);
    }
    found.ok().flatten()
}

/// Counts what a part unpacks to: the size that the archive declares may be a lie.
struct Counting<'l, R> {
    part: R,
    left: &'l mut u64,
    is_over: bool,
}

impl<R: Read> Read for Counting<'_, R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.part.read(buffer)?;
        match self.left.checked_sub(read as u64) {
            Some(left) => *self.left = left,
            None => {
                self.is_over = true;
                return Err(io::ErrorKind::FileTooLarge.into());
            }
        }
        Ok(read)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::io::Write;

    /// What is said of a workbook with this part, where so many MiB may be held and
    /// unpacked.
    fn said(part: &str, content: &[u8], mebibytes: u64) -> Option<String> {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("odd.xlsx");
        let mut archive = zip::ZipWriter::new(File::create(&path).unwrap());
        let options = zip::write::SimpleFileOptions::default();
        archive.start_file(part, options).unwrap();
        archive.write_all(content).unwrap();
        archive.finish().unwrap();
        let budget = Budget {
            memory: mebibytes << 20,
            unpacked: 40 << 20,
        };
        let checked = check_within(&Source::file(&path).unwrap(), budget);
        checked.err().map(|refused| refused.to_string())
    }

    /// Sheets of OpenDocument with 200,000 and 400,000 rows of eight columns have 8 and 16
    /// megabytes, and are read.
    #[test]
    fn a_usual_sheet_is_read() {
        let number = "<table:table-cell office:value-type='float' office:value='812'>\
                      <text:p>812</text:p></table:table-cell>";
        let day = "<table:table-cell table:style-name='ce1' office:value-type='date' \
                   office:date-value='2024-03-05'><text:p>05/03/2024</text:p></table:table-cell>";
        let row = format!(
            "<table:table-row>{}{}</table:table-row>",
            number.repeat(4),
            day.repeat(4)
        );
        for (bytes, rows) in [(8_145_902_u64, 200_000_u64), (16_290_585, 400_000)] {
            // A hundredth of both.
            let text = format!(
                "<table:table>{}</table:table>",
                row.repeat(rows as usize / 100)
            );
            let mut left = Budget::of(bytes).memory / 100;
            let excess = xml_scan::scan(text.as_bytes(), &mut Tables::new(&mut left)).unwrap();
            assert_eq!(excess, None, "{rows}");
        }
    }

    #[test]
    fn what_a_part_asks_for_is_added_up() {
        let shared = "xl/sharedStrings.xml";
        let sheet = "xl/worksheets/sheet1.xml";
        let ods = |rows: &str| format!("<table:table>{rows}</table:table>").into_bytes();
        let row = |repeats: &str, cell: &str| {
            format!("<table:table-row {repeats}>{cell}</table:table-row>")
        };
        let filled = "<table:table-cell office:value-type='float' office:value='1'/>";
        let empty = "<table:table-cell table:number-columns-repeated='16383'/>";
        let text = |inner: &str| {
            format!(
                "<table:table-cell office:value-type='string'><text:p>{inner}</text:p></table:table-cell>"
            )
        };
        let many = "table:number-rows-repeated='1048575'";
        let long = "x".repeat(17 << 20);
        for (name, part, content, excess) in [
            (
                "three texts",
                shared,
                b"<sst uniqueCount='3'><si><t>a</t></si></sst>".to_vec(),
                None,
            ),
            (
                "a count of billions",
                shared,
                b"<sst uniqueCount='4294967295'/>".to_vec(),
                Some("take more than"),
            ),
            (
                "empty texts",
                shared,
                ["<sst>", &"<si/>".repeat(40_000), "</sst>"]
                    .concat()
                    .into_bytes(),
                Some("take more than"),
            ),
            (
                "a long cell",
                sheet,
                format!("<c t='inlineStr'><is><t>{long}</t></is></c>").into_bytes(),
                Some("a cell or a tag of more than 16 MiB"),
            ),
            (
                "a long cell in runs",
                sheet,
                format!(
                    "<c>{}</c>",
                    format!("<r><t>{}</t></r>", &long[..1 << 20]).repeat(17)
                )
                .into_bytes(),
                Some("a cell or a tag"),
            ),
            (
                "as many bytes in many cells",
                sheet,
                format!("<c><v>{}</v></c>", &long[..1 << 20])
                    .repeat(17)
                    .into_bytes(),
                None,
            ),
            (
                "a long tag",
                sheet,
                format!("<c r='{long}'/>").into_bytes(),
                Some("a cell or a tag"),
            ),
            (
                "a formula's number",
                sheet,
                b"<c><f t='shared' si='4000000000'>A1</f></c>".to_vec(),
                Some("take more than"),
            ),
            (
                "a part of zeros",
                "xl/styles.xml",
                vec![b' '; 41 << 20],
                Some("a cell or a tag"),
            ),
            (
                "too much in all",
                sheet,
                "<c><v>1</v></c>".repeat(3 << 20).into_bytes(),
                Some("unpacks to more than 40 MiB"),
            ),
            (
                "rows that end empty",
                "content.xml",
                ods(&row("", &format!("{filled}{empty}")).repeat(2_000)),
                None,
            ),
            (
                "an empty end",
                "content.xml",
                ods(&format!("{}{}", row("", filled), row(many, empty))),
                None,
            ),
            (
                "a far cell",
                "content.xml",
                ods(&format!(
                    "{}{}{}",
                    row("", filled),
                    row(many, empty),
                    row("", filled)
                )),
                Some("take more than"),
            ),
            (
                "a wide row many times",
                "content.xml",
                ods(&row(many, &format!("{empty}{filled}"))),
                Some("take more than"),
            ),
            (
                "spaces",
                "content.xml",
                ods(&row("", &text("<text:s text:c='1000000000'/>"))),
                Some("a cell or a tag"),
            ),
            (
                "spaces many times",
                "content.xml",
                ods(&row(many, &text("<text:s text:c='100'/>"))),
                Some("take more than"),
            ),
            (
                "a long record",
                "xl/worksheets/sheet1.bin",
                vec![1, 0xff, 0xff, 0xff, 0x7f],
                Some("a cell or a tag"),
            ),
            (
                "a record",
                "xl/worksheets/sheet1.bin",
                vec![1, 2, 0, 0],
                None,
            ),
        ] {
            let said = said(part, &content, 1);
            let fits = match excess {
                None => said.is_none(),
                Some(excess) => said.as_ref().is_some_and(|said| said.contains(excess)),
            };
            assert!(fits, "{name}: {said:?}");
        }
    }
}
