//! JSON Lines, and JSON arrays of objects (RFC 8259): an object is a row.
//!
//! Keys are columns, in the order in which they come up; those of objects within objects
//! stand behind the key of these and a dot. A list stands in its cell as it is written. What
//! a value is, text, number or boolean, is its cell's type.

use crate::csv::Layout;
use crate::csv::MOST_COLUMNS;
use crate::spool::{Spool, SpoolWriter};
use crate::{CellType, Header, Source, TableError};
use serde::Deserialize;
use serde::de::{Deserializer, Error, MapAccess, SeqAccess, Visitor};
use serde_json::value::RawValue;
use std::collections::HashMap;
use std::fmt;
use std::io::{BufRead, BufReader, ErrorKind};

/// Objects within objects further down than this are text.
const DEEPEST: usize = 64;

/// What a file is that starts with these bytes.
pub(crate) fn is_json(head: &[u8]) -> bool {
    let head = head.strip_prefix(b"\xef\xbb\xbf").unwrap_or(head);
    let mut signs = head.iter().filter(|byte| !byte.is_ascii_whitespace());
    match signs.next() {
        Some(b'{') => matches!(signs.next(), Some(b'"' | b'}')),
        Some(b'[') => signs.next() == Some(&b'{'),
        _ => false,
    }
}

/// Reads all rows.
pub(crate) fn read(source: &Source) -> Result<(Spool, Layout), TableError> {
    let io = TableError::io(source.name());
    let mut rows = Rows {
        spool: SpoolWriter::of_rows_that_stay().map_err(&io)?,
        names: Vec::new(),
        indexes: HashMap::new(),
        row: 0,
        cells: Vec::new(),
    };
    let mut file = BufReader::with_capacity(1 << 16, source.open_text()?);
    let first = file.fill_buf().map_err(&io)?;
    if first.starts_with(b"\xef\xbb\xbf") {
        file.consume(3);
    }
    let is_list = first_sign(&mut file).map_err(&io)? == Some(b'[');
    let mut json = serde_json::Deserializer::from_reader(file);
    let read = if is_list {
        let read = json.deserialize_seq(&mut rows);
        read.and_then(|()| json.end())
    } else {
        let mut objects = json.into_iter::<Object>();
        objects.try_for_each(|object| rows.add(object?).map_err(serde_json::Error::custom))
    };
    read.map_err(|cause| match cause.io_error_kind() {
        Some(kind) if kind != ErrorKind::UnexpectedEof => io(kind.into()),
        _ => TableError::Damaged {
            file: source.name().to_owned(),
            format: "JSON",
            cause: cause.to_string(),
        },
    })?;
    if rows.names.is_empty() {
        return Err(TableError::Empty {
            file: source.name().to_owned(),
        });
    }
    let layout = Layout::of_schema(Header::of_schema(&rows.names));
    let spool = rows.spool.finish(rows.names.len()).map_err(io)?;
    Ok((spool, layout))
}

/// The first byte that is no space, which is left.
fn first_sign(file: &mut impl BufRead) -> std::io::Result<Option<u8>> {
    loop {
        match file.fill_buf()?.first() {
            Some(byte) if byte.is_ascii_whitespace() => file.consume(1),
            first => return Ok(first.copied()),
        }
    }
}

/// What rows are put into.
struct Rows {
    spool: SpoolWriter,
    names: Vec<String>,
    indexes: HashMap<String, u32>,
    row: u32,
    cells: Vec<(u32, String, CellType)>,
}

impl Rows {
    /// Puts a row behind the others. An error is a sentence.
    fn add(&mut self, object: Object) -> Result<(), String> {
        self.cells.clear();
        self.add_members("", object, 0)?;
        self.cells.sort_by_key(|(column, ..)| *column);
        if let Some(two) = self.cells.windows(2).find(|two| two[0].0 == two[1].0) {
            let name = &self.names[two[0].0 as usize];
            return Err(format!("row {} has the key `{name}` twice", self.row + 1));
        }
        for (column, text, of) in &self.cells {
            let put = self.spool.cell((self.row, *column), text, *of);
            put.map_err(|cause| cause.to_string())?;
        }
        self.row += 1;
        self.spool
            .end_rows_before(self.row)
            .map_err(|cause| cause.to_string())
    }

    fn add_members(&mut self, before: &str, object: Object, depth: usize) -> Result<(), String> {
        for (key, value) in object.0 {
            let name = format!("{before}{key}");
            let text = value.get();
            if depth < DEEPEST
                && text.starts_with('{')
                && let Ok(within) = serde_json::from_str::<Object>(text)
                && !within.0.is_empty()
            {
                self.add_members(&format!("{name}."), within, depth + 1)?;
                continue;
            }
            let column = self.column(name)?;
            let (text, of) = cell(text);
            if of != CellType::Empty {
                self.cells.push((column, text, of));
            }
        }
        Ok(())
    }

    fn column(&mut self, name: String) -> Result<u32, String> {
        if let Some(&index) = self.indexes.get(&name) {
            return Ok(index);
        }
        let index = self.names.len();
        if index >= MOST_COLUMNS {
            return Err(format!("more than {MOST_COLUMNS} different keys"));
        }
        self.indexes.insert(name.clone(), index as u32);
        self.names.push(name);
        Ok(index as u32)
    }
}

/// The text of a value, and what it is.
fn cell(json: &str) -> (String, CellType) {
    match json.as_bytes().first() {
        Some(b'n') => (String::new(), CellType::Empty),
        Some(b't' | b'f') => (json.to_uppercase(), CellType::Boolean),
        Some(b'"') => match serde_json::from_str::<String>(json) {
            Ok(text) if text.is_empty() => (text, CellType::Empty),
            Ok(text) => (text, CellType::Text),
            // Half of a surrogate pair, which is no character.
            Err(_) => (json.to_owned(), CellType::Text),
        },
        Some(b'-' | b'0'..=b'9') => (json.to_owned(), CellType::Number),
        _ => (json.to_owned(), CellType::Text),
    }
}

/// An object, its values as they are written.
struct Object(Vec<(String, Box<RawValue>)>);

impl<'de> Deserialize<'de> for Object {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Object, D::Error> {
        struct Members;
        impl<'de> Visitor<'de> for Members {
            type Value = Object;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("an object, which is a row")
            }

            fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<Object, A::Error> {
                let mut members = Vec::new();
                while let Some(member) = map.next_entry()? {
                    members.push(member);
                }
                Ok(Object(members))
            }
        }
        deserializer.deserialize_map(Members)
    }
}

impl<'de> Visitor<'de> for &mut Rows {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a list of objects")
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut objects: A) -> Result<(), A::Error> {
        while let Some(object) = objects.next_element()? {
            self.add(object).map_err(A::Error::custom)?;
        }
        Ok(())
    }
}
