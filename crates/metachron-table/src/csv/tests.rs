use super::*;
use crate::{ReadOptions, Source, Table, TableError};
use metachron_core::rulings::{HeaderLine, NoHeader};
use proptest::prelude::*;

fn table(bytes: &[u8], declared: ReadOptions) -> Result<Table, TableError> {
    Table::open(vec![Source::spool("input", bytes)?], &declared)
}

fn cells(table: &Table) -> Vec<Vec<String>> {
    let mut reader = table.read().unwrap();
    let mut all = Vec::new();
    let mut scratch = String::new();
    while let Some(block) = reader.next_block().unwrap() {
        let mut rows = block.rows().unwrap();
        while let Some(row) = rows.next_row() {
            let cells = (0..row.len()).map(|cell| row.text(cell, &mut scratch).to_owned());
            all.push(cells.collect());
        }
    }
    all
}

fn columns(bytes: &[u8]) -> Vec<String> {
    table(bytes, ReadOptions::default())
        .unwrap()
        .columns()
        .to_vec()
}

#[test]
fn delimiters_and_headers_are_found() {
    for (text, names, first) in [
        ("a,b\n1,2\n", &["a", "b"][..], &["1", "2"][..]),
        ("a;b\n1,5;2,5\n", &["a", "b"], &["1,5", "2,5"]),
        ("a\tb\r\n1\t2\r\n", &["a", "b"], &["1", "2"]),
        ("a|b\n1|2", &["a", "b"], &["1", "2"]),
        ("only\nx\ny\n", &["only"], &["x"]),
        ("\u{feff}a,b\n1,2\n", &["a", "b"], &["1", "2"]),
        // Notes above, with and without delimiters.
        (
            "Loans, spring\n\nitem;out;back\nvase;1;2\n",
            &["item", "out", "back"],
            &["vase", "1", "2"],
        ),
        (
            "Loans;;\nmade for you;;\nitem;out;back\nvase;1;2\n",
            &["item", "out", "back"],
            &["vase", "1", "2"],
        ),
        // No header.
        (
            "vase,2024-03-05\nbowl,2024-03-06\n",
            &["column_1", "column_2"],
            &["vase", "2024-03-05"],
        ),
        ("1,2\n3,4\n", &["column_1", "column_2"], &["1", "2"]),
        // A header wider or narrower than the rows.
        (
            "a,b,c\nx,2024-03-05\ny,2024-03-06\n",
            &["a", "b", "c"],
            &["x", "2024-03-05"],
        ),
        (
            "a,b\nx,2024-03-05,\ny,2024-03-06,\n",
            &["a", "b", "column_3"],
            &["x", "2024-03-05", ""],
        ),
        // Rows with names of their own, and nothing above them.
        (
            "a,b\nr1,NA,2\nr2,1,2\n",
            &["column_1", "a", "b"],
            &["r1", "NA", "2"],
        ),
        // Names that are missing or there twice.
        ("a,,a\nx,y,z\n", &["a", "column_2", "a_2"], &["x", "y", "z"]),
        ("a\rb\rc", &["a"], &["b"]),
        (
            "a,\"b\nb\"\n1,\"2\n\"\"3\"\"\"\n",
            &["a", "b\nb"],
            &["1", "2\n\"3\""],
        ),
    ] {
        let table = table(text.as_bytes(), ReadOptions::default()).unwrap();
        assert_eq!(table.columns(), names, "{text:?}");
        assert_eq!(cells(&table)[0], first, "{text:?}");
    }
}

#[test]
fn declarations_are_followed() {
    let text = b"x,y\n1,2\n3,4\n";
    let line = |line| ReadOptions {
        header_line: Some(HeaderLine::Line(line)),
        ..ReadOptions::default()
    };
    assert_eq!(table(text, line(2)).unwrap().columns(), ["1", "2"]);
    assert!(matches!(
        table(text, line(9)),
        Err(TableError::NoSuchLine { wanted: 9, .. })
    ));
    assert!(matches!(
        table(text, line(0)),
        Err(TableError::NoSuchLine { .. })
    ));
    let none = ReadOptions {
        header_line: Some(HeaderLine::None(NoHeader::None)),
        ..ReadOptions::default()
    };
    assert_eq!(cells(&table(text, none).unwrap()).len(), 3);
    let pipe = ReadOptions {
        delimiter: Some(b'|'),
        ..ReadOptions::default()
    };
    assert_eq!(table(text, pipe).unwrap().columns(), ["x,y"]);
    let unquoted = ReadOptions {
        quote: Some(None),
        ..ReadOptions::default()
    };
    let rows = cells(&table(b"x,y\n\"1,2\n", unquoted).unwrap());
    assert_eq!(rows, [["\"1", "2"]]);
}

#[test]
fn encodings_are_found() {
    let (latin, ..) =
        encoding_rs::WINDOWS_1252.encode("Straße;Geprüft\nGröße;Übergabe schön für Ämter\n");
    assert_eq!(columns(&latin), ["Straße", "Geprüft"]);
    let utf16: Vec<u8> = "\u{feff}é,b\n1,2\n"
        .encode_utf16()
        .flat_map(u16::to_le_bytes)
        .collect();
    assert_eq!(columns(&utf16), ["é", "b"]);
    assert_eq!(columns("é,b\n1,2\n".as_bytes()), ["é", "b"]);
}

#[test]
fn an_encoding_that_shows_late_is_found_when_every_byte_is_looked_at() {
    let mut bytes = b"a;b\n".to_vec();
    bytes.extend(b"plain;text\n".repeat(200_000));
    bytes.extend(
        encoding_rs::WINDOWS_1252
            .encode("Größe;Übergabe für Ämter\n")
            .0
            .iter(),
    );
    let mut table = table(&bytes, ReadOptions::default()).unwrap();
    let mut reader = table.read().unwrap();
    let error = loop {
        match reader.next_block().unwrap().unwrap().rows() {
            Ok(_) => {}
            Err(error) => break error,
        }
    };
    assert!(error.to_string().contains("line 200002"), "{error}");
    drop(reader);
    table.make_encodings_sure(&ReadOptions::default()).unwrap();
    assert_eq!(table.encoding(), encoding_rs::WINDOWS_1252);
    assert_eq!(cells(&table).last().unwrap()[0], "Größe");
}

#[test]
fn what_cannot_be_read_says_why() {
    for (bytes, message) in [
        (&b""[..], "is empty"),
        (b" \n \n", "is empty"),
        (b"PK\x03\x04\0\0", "is neither text nor of another format"),
        (b"\xff\xfea\0,\0b\0\n\0\xff", "UTF-16LE does not have"),
    ] {
        let error = table(bytes, ReadOptions::default())
            .unwrap_err()
            .to_string();
        assert!(error.contains(message), "{error}");
    }
}

#[test]
fn an_open_quote_is_named_with_its_line() {
    let table = table(b"a,b\n1,2\n3,\"4\n5,6\n", ReadOptions::default()).unwrap();
    let mut reader = table.read().unwrap();
    let error = reader.next_block().unwrap_err().to_string();
    assert!(
        error.contains("line 3: the quote that opens here is never closed"),
        "{error}"
    );
}

#[test]
fn files_with_other_columns_are_refused() {
    let sources =
        ["a,b\nx,y\n", "a,c\nx,y\n"].map(|text| Source::spool("f", text.as_bytes()).unwrap());
    let error = Table::open(sources.to_vec(), &ReadOptions::default()).unwrap_err();
    assert!(
        error.to_string().contains("it lacks `b` and has `c`"),
        "{error}"
    );
}

#[test]
fn rows_know_their_lines() {
    let table = table(b"a,b\n\"x\n\n\",1\n\n2,3\n", ReadOptions::default()).unwrap();
    let block = table.read().unwrap().next_block().unwrap().unwrap();
    let mut rows = block.rows().unwrap();
    let mut lines = Vec::new();
    while let Some(row) = rows.next_row() {
        lines.push((row.line(), row.len()));
    }
    assert_eq!(lines, [(2, 2), (5, 0), (6, 2)]);
}

fn cell() -> impl Strategy<Value = String> {
    "[a-z0-9,;\"\n é]{0,8}|[a-z é]{0,24}[,;\"\n\r]?[a-z é]{0,4}"
}

proptest! {
    /// What the `csv` crate writes is read as it was, across any number of
    /// blocks, and copied byte for byte.
    #[test]
    fn what_the_csv_crate_writes_is_read(
        rows in prop::collection::vec(prop::collection::vec(cell(), 3), 1..30),
        delimiter in prop::sample::select(vec![b',', b';', b'\t']),
    ) {
        let mut writer = ::csv::WriterBuilder::new().delimiter(delimiter).from_writer(Vec::new());
        writer.write_record(["x", "y", "z"]).unwrap();
        for row in &rows {
            writer.write_record(row).unwrap();
        }
        let bytes = writer.into_inner().unwrap();
        let declared = ReadOptions {
            delimiter: Some(delimiter),
            header_line: Some(HeaderLine::Line(1)),
            ..ReadOptions::default()
        };
        let table = table(&bytes, declared).unwrap();
        prop_assert_eq!(&cells(&table), &rows);

        let mut copy = table.header().raw.clone().into_bytes();
        let writer = RowWriter::new(table.dialect());
        let block = table.read().unwrap().next_block().unwrap().unwrap();
        let mut rows = block.rows().unwrap();
        while let Some(row) = rows.next_row() {
            writer.copy(&row, 0..row.len(), &mut copy);
            writer.end_like(&row, &mut copy);
        }
        prop_assert_eq!(copy, bytes);
    }

    /// Whatever the bytes, rows are read as the `csv` crate reads them.
    #[test]
    fn odd_text_is_read_as_the_csv_crate_reads_it(text in "[ab,\"\n]{0,40}|[abcdef,\"\n]{60,300}") {
        let mut reader = ::csv::ReaderBuilder::new()
            .has_headers(false)
            .flexible(true)
            .from_reader(text.as_bytes());
        let theirs: Vec<Vec<String>> = reader
            .records()
            .map(|record| record.unwrap().iter().map(str::to_owned).collect())
            .collect();
        let mut rows = Rows::new(&text, Dialect::default(), 1);
        let mut ours: Vec<Vec<String>> = Vec::new();
        let mut scratch = String::new();
        while let Some(row) = rows.next_row() {
            if !row.is_empty() {
                ours.push((0..row.len()).map(|cell| row.text(cell, &mut scratch).to_owned()).collect());
            }
        }
        prop_assert_eq!(ours, theirs);
    }

    /// A cell has quotes where it needs them, and nowhere else.
    #[test]
    fn cells_are_quoted_where_they_need_it(
        cell in cell(),
        delimiter in prop::sample::select(vec![b',', b';', b'\t', b' ']),
    ) {
        let mut out = Vec::new();
        RowWriter::new(Dialect { delimiter, ..Dialect::default() }).cell(0, &cell, &mut out);
        let is_special = |letter| ['"', '\n', '\r', char::from(delimiter)].contains(&letter);
        let expected = if cell.contains(is_special) { format!("\"{}\"", cell.replace('"', "\"\"")) } else { cell };
        prop_assert_eq!(String::from_utf8(out).unwrap(), expected);
    }

    /// Cells of one dialect survive being written in another.
    #[test]
    fn another_dialect_says_the_same(cells in prop::collection::vec(cell(), 2..5)) {
        let comma = Dialect::default();
        let tab = Dialect { delimiter: b'\t', ..comma };
        let mut out = Vec::new();
        for (index, cell) in cells.iter().enumerate() {
            RowWriter::new(comma).cell(index, cell, &mut out);
        }
        let text = String::from_utf8(out).unwrap();
        let mut rows = Rows::new(&text, comma, 1);
        let mut again = Vec::new();
        if let Some(row) = rows.next_row() {
            RowWriter::new(tab).copy(&row, 0..row.len(), &mut again);
        }
        let text = String::from_utf8(again).unwrap();
        let mut rows = Rows::new(&text, tab, 1);
        let mut scratch = String::new();
        let found: Vec<String> = match rows.next_row() {
            Some(row) => (0..row.len()).map(|cell| row.text(cell, &mut scratch).to_owned()).collect(),
            None => Vec::new(),
        };
        prop_assert_eq!(found, cells);
    }
}

/// Rows across many pages: their cells, by row and by column, and their lines.
#[test]
fn pages_are_turned_over_between_rows() {
    let mut text = String::new();
    let mut expected: Vec<(u64, [String; 3])> = Vec::new();
    let mut line = 1;
    for row in 0..20_000_u64 {
        let breaks = usize::from(row % 97 == 0) * (1 + row as usize % 3);
        let middle = "\n".repeat(breaks) + &"x".repeat(row as usize * 7 % 150);
        expected.push((line, [format!("K-{row}"), middle.clone(), "é,".to_owned()]));
        text += &format!("K-{row},\"{middle}\",\"é,\"\r\n");
        line += 1 + breaks as u64;
    }
    let mut scratch = String::new();
    let mut rows = Rows::new(&text, Dialect::default(), 1);
    for (line, cells) in &expected {
        assert_eq!(rows.line(), *line);
        let row = rows.next_row().unwrap();
        assert_eq!((row.line(), row.len()), (*line, 3));
        for (index, cell) in cells.iter().enumerate() {
            assert_eq!(row.text(index, &mut scratch), cell);
        }
    }
    assert!(rows.next_row().is_none());
    assert_eq!((rows.offset(), rows.line()), (text.len(), line));

    let mut rows = Rows::new(&text, Dialect::default(), 1);
    let (mut pages, mut columns) = (0, [const { Vec::new() }; 3]);
    while let Some(page) = rows.next_page() {
        pages += 1;
        assert!(page.are_text_of_width(3) && !page.is_empty());
        for (index, column) in columns.iter_mut().enumerate() {
            page.texts(index, &mut scratch, |text| column.push(text.to_owned()));
        }
    }
    assert!(pages > 20, "{pages}");
    for (index, column) in columns.iter().enumerate() {
        assert!(
            column
                .iter()
                .eq(expected.iter().map(|(_, cells)| &cells[index]))
        );
    }
}

/// A page that is begun row by row goes on as a page.
#[test]
fn the_rest_of_a_page_is_a_page() {
    let mut rows = Rows::new("a,b\nc,d\n\ne\n", Dialect::default(), 1);
    assert_eq!(rows.next_row().unwrap().raw(1), "b");
    let page = rows.next_page().unwrap();
    assert_eq!(page.len(), 3);
    assert!(!page.are_text_of_width(2));
    let mut scratch = String::new();
    let texts = page.iter().map(|row| row.text(1, &mut scratch).to_owned());
    assert_eq!(texts.collect::<Vec<_>>(), ["d", "", ""]);
    assert!(rows.next_page().is_none());
}
