//! Workbooks in the formats that are only read: XLS, XLSB, ODS.

use crate::harness::{Folder, Run, holds};
use std::io::{Cursor, Write};

/// A zip archive of parts.
fn archive(parts: &[(&str, &[u8])]) -> Vec<u8> {
    let mut into = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, content) in parts {
        let options = zip::write::SimpleFileOptions::default();
        into.start_file(*name, options).unwrap();
        into.write_all(content).unwrap();
    }
    into.finish().unwrap().into_inner()
}

/// The register that an import has half converted, whatever its format: every
/// date comes out as it was, six days behind the one before.
fn comes_out_as_it_was(folder: &Folder, name: &str) {
    let seen = folder.run(&["survey", name]).status(0).out;
    holds(
        &seen,
        &[
            "swapped date cell",
            "datetime cell",
            "time cell",
            "duration cell",
        ],
    );
    folder.run(&["convert", name, "-o", "clean.csv"]).status(0);
    let clean = folder.read("clean.csv");
    let lines: Vec<&str> = clean.lines().collect();
    assert_eq!(lines.len(), 61, "{name}");
    let first = jiff::civil::date(2024, 1, 1);
    for (row, line) in lines[1..].iter().enumerate() {
        let due = first + jiff::Span::new().days(6 * row as i64);
        let start = format!("K-{row},{due},2024-03-05T14:30:{row:02},09:{row:02}:00,");
        assert!(line.starts_with(&start), "{name}: {line}, not {start}");
    }
    assert!(lines[1].contains(",PT30M,"), "{}", lines[1]);
    assert!(lines[31].contains(",P1DT6H30M,"), "{}", lines[31]);
}

#[test]
fn xls() {
    for (name, bytes) in [
        (
            "loans.xls",
            include_bytes!("../samples/loans.xls").as_slice(),
        ),
        (
            "loans-1904.xls",
            include_bytes!("../samples/loans-1904.xls"),
        ),
    ] {
        comes_out_as_it_was(&Folder::with(name, bytes), name);
    }
}

#[test]
fn locked() {
    let bytes = include_bytes!("../samples/locked.xlsx").as_slice();
    // Whatever it is called: the lock makes another container of it.
    for name in ["locked.xlsx", "locked.xls", "locked"] {
        let folder = Folder::with(name, bytes);
        let run = folder.run(&["survey", name]).status(1);
        holds(&run.err, &[&format!("{name} is protected by a password")]);
    }
}

/// Bytes at places that look random, and are the same in every run.
fn damaged(bytes: &[u8], seed: usize) -> Vec<u8> {
    let mut damaged = bytes.to_vec();
    let mut index = seed.wrapping_mul(7_919) + 77;
    for turn in 0..=seed % 7 {
        index = index.wrapping_mul(25_173).wrapping_add(13_849) % 1_000_003;
        let at = index % damaged.len();
        damaged[at] = [0xff, 0x00, 0x7f, 0x01][(seed + turn) % 4];
    }
    if seed.is_multiple_of(10) {
        damaged.truncate(index % bytes.len());
    }
    damaged
}

/// Damage is said, or does no harm: no panic, and an end.
#[test]
fn damage() {
    let xls = include_bytes!("../samples/loans.xls");
    let xlsb = xlsb();
    for (name, bytes) in [("loans.xls", xls.as_slice()), ("loans.xlsb", &xlsb)] {
        let folder = Folder::new();
        for seed in 0..60 {
            folder.write(name, damaged(bytes, seed));
            let Run { status, err, .. } = folder.run(&["survey", name]);
            assert!(matches!(status, 0 | 1 | 3), "{seed}: {status} {err}");
            assert!(!err.contains("panicked"), "{seed}: {err}");
            assert!(status != 1 || err.contains(name), "{seed}: {err}");
        }
    }
}

/// A record (MS-XLSB §2.1.4): its type and its size, seven bits a byte, and
/// what it says.
fn record(kind: u16, content: &[&[u8]]) -> Vec<u8> {
    let content = content.concat();
    let mut bytes = match kind {
        ..0x80 => vec![kind as u8],
        _ => vec![(kind & 0x7f) as u8 | 0x80, (kind >> 7) as u8],
    };
    let mut size = content.len();
    while size > 0x7f {
        bytes.push((size & 0x7f) as u8 | 0x80);
        size >>= 7;
    }
    bytes.push(size as u8);
    bytes.extend(content);
    bytes
}

/// Text (MS-XLSB §2.5.168): its length, then UTF-16.
fn wide(text: &str) -> Vec<u8> {
    let units: Vec<u16> = text.encode_utf16().collect();
    let mut bytes = (units.len() as u32).to_le_bytes().to_vec();
    bytes.extend(units.iter().flat_map(|unit| unit.to_le_bytes()));
    bytes
}

/// The half-converted register as XLSB: the records that a reader cannot do
/// without.
fn xlsb() -> Vec<u8> {
    let rels = r#"<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.bin"/></Relationships>"#;
    let book = [
        record(0x0083, &[]),
        record(0x0099, &[&[0; 12]]),
        record(0x008f, &[]),
        record(0x009c, &[&[0; 8], &wide("rId1"), &wide("Loans")]),
        record(0x0090, &[]),
        record(0x0084, &[]),
    ];
    // Formats 0 to 3: none, a day, a moment, a time of day, a length of time.
    let formats = ["dd/mm/yyyy", "yyyy-mm-dd hh:mm:ss", "hh:mm", "[h]:mm"];
    let mut styles = vec![record(0x0116, &[]), record(0x0267, &[&4_u32.to_le_bytes()])];
    for (number, format) in formats.iter().enumerate() {
        let id = 200 + number as u16;
        styles.push(record(0x002c, &[&id.to_le_bytes(), &wide(format)]));
    }
    styles.push(record(0x0269, &[&5_u32.to_le_bytes()]));
    for id in [0, 200, 201, 202, 203_u16] {
        styles.push(record(0x002f, &[&[0; 2], &id.to_le_bytes(), &[0; 12]]));
    }
    let size: Vec<u8> = [0, 60, 0, 5_u32]
        .iter()
        .flat_map(|n| n.to_le_bytes())
        .collect();
    let mut sheet = vec![
        record(0x0081, &[]),
        record(0x0094, &[&size]),
        record(0x0091, &[]),
    ];
    let head = |column: u32, format: u32| [column.to_le_bytes(), format.to_le_bytes()].concat();
    let text = |column, text: &str| record(0x0006, &[&head(column, 0), &wide(text)]);
    let number =
        |column, format, value: f64| record(0x0005, &[&head(column, format), &value.to_le_bytes()]);
    let row = |number: u32| record(0x0000, &[&number.to_le_bytes(), &[0; 13]]);
    sheet.push(row(0));
    let names = ["Item", "Due", "Seen at", "From", "Lasted", "Premium"];
    sheet.extend(
        names
            .iter()
            .zip(0..)
            .map(|(name, column)| text(column, name)),
    );
    for loan in 0..60_u32 {
        let due = jiff::civil::date(2024, 1, 1) + jiff::Span::new().days(6 * i64::from(loan));
        let serial = |day: jiff::civil::Date| {
            let since = day - jiff::civil::date(1899, 12, 30);
            f64::from(since.get_days())
        };
        sheet.push(row(loan + 1));
        sheet.push(text(0, &format!("K-{loan}")));
        sheet.push(match due.day() {
            13.. => text(1, &due.strftime("%d/%m/%Y").to_string()),
            _ => number(
                1,
                1,
                serial(jiff::civil::date(2024, due.day(), due.month())),
            ),
        });
        let seconds = f64::from(14 * 3600 + 30 * 60 + loan);
        sheet.push(number(2, 2, 45_356.0 + seconds / 86_400.0));
        sheet.push(number(3, 3, f64::from(9 * 60 + loan) / 1440.0));
        sheet.push(number(4, 4, f64::from(loan * 60 + 30) / 1440.0));
        sheet.push(number(5, 0, f64::from(loan) * 1.5));
    }
    sheet.extend([record(0x0092, &[]), record(0x0082, &[])]);
    archive(&[
        ("xl/_rels/workbook.bin.rels", rels.as_bytes()),
        ("xl/workbook.bin", &book.concat()),
        ("xl/styles.bin", &styles.concat()),
        ("xl/worksheets/sheet1.bin", &sheet.concat()),
    ])
}

#[test]
fn xlsb_comes_out() {
    let folder = Folder::with("loans.xlsb", xlsb());
    comes_out_as_it_was(&folder, "loans.xlsb");
    let seen = folder.run(&["survey", "loans.xlsb"]).status(0).out;
    holds(&seen, &["XLSB sheet Loans"]);
}

/// A workbook of OpenDocument, as its standard (ISO/IEC 26300) writes cells.
fn ods(rows: &str) -> Vec<u8> {
    let content = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\
         <office:document-content xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\" \
         xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\" \
         xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\" office:version=\"1.2\">\
         <office:body><office:spreadsheet><table:table table:name=\"Loans\">{rows}</table:table>\
         </office:spreadsheet></office:body></office:document-content>"
    );
    archive(&[
        (
            "mimetype",
            b"application/vnd.oasis.opendocument.spreadsheet",
        ),
        ("META-INF/manifest.xml", b"<manifest/>"),
        ("content.xml", content.as_bytes()),
    ])
}

fn ods_cell(attributes: &str, text: &str) -> String {
    format!("<table:table-cell {attributes}><text:p>{text}</text:p></table:table-cell>")
}

fn ods_row(cells: &[String]) -> String {
    format!("<table:table-row>{}</table:table-row>", cells.concat())
}

/// Times and lengths of time have one type: a column with a length past 24
/// hours holds lengths.
#[test]
fn opendocument() {
    let text = |text: &str| ods_cell("office:value-type=\"string\"", text);
    let names = ["day", "moment", "clock", "lasted", "number", "truth"].map(text);
    let mut rows = ods_row(&names);
    for day in 1..4 {
        let typed = |kind: &str, value: String| {
            let name = match kind {
                "float" => "value".to_owned(),
                _ => format!("{kind}-value"),
            };
            let attributes = format!("office:value-type=\"{kind}\" office:{name}=\"{value}\"");
            ods_cell(&attributes, "as shown")
        };
        rows.push_str(&ods_row(&[
            typed("date", format!("2024-03-0{day}")),
            typed("date", format!("2024-03-05T0{day}:30:00")),
            typed("time", format!("PT1{day}H05M00S")),
            typed("time", format!("PT{}H05M00S", 11 * day)),
            typed("float", format!("{day}.5")),
            typed("boolean", (day == 2).to_string()),
        ]));
    }
    // Rows that repeat nothing, to the end of the sheet.
    rows.push_str(
        "<table:table-row table:number-rows-repeated=\"1048000\">\
         <table:table-cell table:number-columns-repeated=\"1024\"/></table:table-row>",
    );
    let folder = Folder::with("loans.ods", ods(&rows));
    folder
        .run(&["convert", "loans.ods", "-o", "clean.csv"])
        .status(0);
    assert_eq!(
        folder.read("clean.csv"),
        "day,moment,clock,lasted,number,truth\n\
         2024-03-01,2024-03-05T01:30:00,11:05:00,PT11H5M,1.5,FALSE\n\
         2024-03-02,2024-03-05T02:30:00,12:05:00,PT22H5M,2.5,TRUE\n\
         2024-03-03,2024-03-05T03:30:00,13:05:00,P1DT9H5M,3.5,FALSE\n"
    );
    let seen = folder.run(&["survey", "loans.ods"]).status(0).out;
    holds(
        &seen,
        &["ODS sheet Loans", "date cell", "datetime cell", "time cell"],
    );
    // By its content, whatever it is called.
    folder.write("loans", folder.bytes("loans.ods"));
    folder.run(&["survey", "loans"]).status(0);
}
