//! Rows never vanish, and cells that no ruling touches stay as they came: whatever the
//! quotes, line ends, widths and encodings of a table.

use crate::harness::Folder;
use proptest::prelude::*;

/// A table as somebody wrote it.
#[derive(Clone, Debug)]
struct Written {
    width: usize,
    /// A row without cells is a line with nothing on it.
    rows: Vec<Vec<String>>,
    delimiter: char,
    quotes_all: bool,
    line_end: &'static str,
    ends: bool,
    encoding: &'static str,
}

impl Written {
    fn line(&self, cells: &[String]) -> String {
        // A row whose only cell is empty would be a line with nothing on it.
        if let [only] = cells
            && only.is_empty()
        {
            return "\"\"".to_owned();
        }
        let cells: Vec<String> = cells.iter().map(|cell| self.cell(cell)).collect();
        cells.join(&self.delimiter.to_string())
    }

    fn cell(&self, cell: &str) -> String {
        if self.quotes_all || cell.contains([self.delimiter, '"', '\n', '\r']) {
            format!("\"{}\"", cell.replace('"', "\"\""))
        } else {
            cell.to_owned()
        }
    }

    fn bytes(&self) -> Vec<u8> {
        let names: Vec<String> = (0..self.width).map(|column| format!("c{column}")).collect();
        let mut lines = vec![self.line(&names)];
        lines.extend(self.rows.iter().map(|row| self.line(row)));
        let mut text = lines.join(self.line_end);
        if self.ends {
            text += self.line_end;
        }
        if self.encoding == "utf-16le" {
            let units = text.encode_utf16().flat_map(u16::to_le_bytes);
            return [0xff, 0xfe].into_iter().chain(units).collect();
        }
        let encoding = encoding_rs::Encoding::for_label(self.encoding.as_bytes()).unwrap();
        encoding.encode(&text).0.into_owned()
    }
}

fn written() -> impl Strategy<Value = Written> {
    let day = prop_oneof![
        4 => "2024-0[1-9]-[12][0-9]",
        2 => "soon|2024-13-45|",
    ];
    let other = prop_oneof![
        3 => "[a-z0-9 é]{0,6}",
        1 => "[a\",;\t\n]{1,5}",
    ];
    (1..5_usize).prop_flat_map(move |width| {
        // Rows with one cell more than there are names make the first column nameless.
        let lengths = (0..width).chain([width + 1]).collect::<Vec<usize>>();
        let length = prop::sample::select(lengths);
        let other = other.clone();
        let cells =
            length.prop_flat_map(move |length| proptest::collection::vec(other.clone(), length));
        let row = prop_oneof![
            8 => (day.clone(), cells).prop_map(|(day, mut cells)| {
                cells.insert(0, day);
                cells
            }),
            1 => Just(Vec::new()),
        ];
        let rows = proptest::collection::vec(row, 1..9);
        (
            rows,
            prop::sample::select(vec![',', ';', '\t']),
            any::<bool>(),
            prop::sample::select(vec!["\n", "\r\n"]),
            any::<bool>(),
            prop::sample::select(vec!["utf-8", "utf-16le", "windows-1252"]),
        )
            .prop_map(
                move |(rows, delimiter, quotes_all, line_end, ends, encoding)| Written {
                    width,
                    rows,
                    delimiter,
                    quotes_all,
                    line_end,
                    ends,
                    encoding,
                },
            )
    })
}

/// The rows below the header, as the `csv` crate reads them, which takes no line with
/// nothing on it for one.
fn read(text: &str, delimiter: char) -> Vec<Vec<String>> {
    let reader = csv::ReaderBuilder::new()
        .delimiter(delimiter as u8)
        .flexible(true)
        .from_reader(text.as_bytes());
    let rows = reader.into_records().map(Result::unwrap);
    rows.map(|row| row.iter().map(str::to_owned).collect())
        .collect()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 150, ..ProptestConfig::default() })]

    #[test]
    fn every_row_is_there_and_all_other_cells(table in written()) {
        let folder = Folder::with("x.csv", table.bytes());
        let delimiter = table.delimiter.to_string();
        let args = [
            "convert", "x.csv", "-o", "out.csv", "-c", "c0", "--set", "c0.kind=date",
            "--set", "c0.read.forms=[\"yyyy-MM-dd\"]", "--header-line", "1",
            "--delimiter", &delimiter, "--encoding", table.encoding, "--quiet",
        ];
        let run = folder.run(&args);
        prop_assert!(matches!(run.status, 0 | 3), "{} {}", run.status, run.err);
        let out = folder.read("out.csv");
        let rows = read(out.trim_start_matches('\u{feff}'), table.delimiter);
        // Of a table of one column, a line with nothing on it is a row that holds nothing.
        let is_row = |row: &&Vec<String>| !row.is_empty();
        let expected: Vec<&Vec<String>> = table.rows.iter().filter(is_row).collect();
        let is_only = |row: &Vec<String>| row.len() == 1 && row[0].is_empty();
        let (rows, expected): (Vec<_>, Vec<_>) = if table.width == 1 {
            let rows = rows.iter().filter(|row| !(is_only(row)));
            let is_day = |row: &&&Vec<String>| row.len() > 1 || row[0].parse::<jiff::civil::Date>().is_ok();
            (rows.collect(), expected.iter().filter(is_day).copied().collect())
        } else {
            (rows.iter().collect(), expected)
        };
        prop_assert_eq!(rows.len(), expected.len(), "{}", out);
        for (row, expected) in rows.iter().zip(&expected) {
            prop_assert_eq!(row.len(), expected.len(), "{}", out);
            prop_assert_eq!(&row[1..], &expected[1..]);
        }
        // No line went away either: those with nothing on them stay.
        let lines = |text: &str| text.lines().count();
        let quoted = table.rows.iter().flatten().map(|cell| cell.matches('\n').count());
        let before = 1 + table.rows.len() + quoted.sum::<usize>();
        let last_is_empty = !table.ends && table.rows.last().is_some_and(|row| table.line(row).is_empty());
        prop_assert_eq!(lines(&out) + usize::from(last_is_empty), before, "{:?}", out);
    }
}
