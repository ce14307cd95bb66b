//! What cells of typed columns are, as a table has them.
#![cfg(feature = "parquet")]

use arrow_array::builder::{ListBuilder, StringDictionaryBuilder};
use arrow_array::types::Int8Type;
use arrow_array::{
    ArrayRef, BooleanArray, Date32Array, Float32Array, Int32Array, RecordBatch, StringArray,
    StructArray, Time64MicrosecondArray, TimestampMicrosecondArray, UInt64Array,
};
use arrow_ipc::writer::StreamWriter;
use arrow_schema::{DataType, Field};
use metachron_table::{CellType, ReadOptions, Source, Table, TableError};
use std::sync::Arc;

fn stream(columns: Vec<(&str, ArrayRef)>) -> Vec<u8> {
    let columns = columns.into_iter().map(|(name, array)| (name, array, true));
    let batch = RecordBatch::try_from_iter_with_nullable(columns).unwrap();
    let mut writer = StreamWriter::try_new(Vec::new(), &batch.schema()).unwrap();
    writer.write(&batch).unwrap();
    writer.into_inner().unwrap()
}

/// The names of the columns, and the cells of each row, with what they are.
fn cells(bytes: &[u8]) -> Result<(Vec<String>, Vec<Vec<String>>), TableError> {
    let source = Source::spool("a stream", bytes)?;
    let table = Table::open(vec![source], &ReadOptions::default())?;
    let mut reader = table.read()?;
    let mut all = Vec::new();
    while let Some(block) = reader.next_block()? {
        let mut rows = block.rows()?;
        while let Some(row) = rows.next_row() {
            let cell = |index| {
                let mut scratch = String::new();
                let text = row.text(index, &mut scratch);
                match row.cell_type(index) {
                    CellType::Stamp(stamp) => format!("{} {text}", stamp.kind()),
                    CellType::Number => format!("number {text}"),
                    CellType::Boolean => format!("boolean {text}"),
                    CellType::Error => format!("error {text}"),
                    CellType::Text | CellType::Empty => text.to_owned(),
                }
            };
            all.push((0..row.len()).map(cell).collect());
        }
    }
    Ok((table.columns().to_vec(), all))
}

#[test]
fn cells_have_the_types_of_their_columns() {
    let mut texts = StringDictionaryBuilder::<Int8Type>::new();
    texts.append_value("vase");
    texts.append_null();
    let within = StructArray::try_new(
        vec![Field::new("born", DataType::Date32, true)].into(),
        vec![Arc::new(Date32Array::from(vec![Some(0), Some(1)]))],
        Some(vec![true, false].into()),
    );
    let moments = TimestampMicrosecondArray::from(vec![1_500_000, 10_i64.pow(18)]);
    let (names, rows) = cells(&stream(vec![
        ("item", Arc::new(texts.finish())),
        ("who", Arc::new(within.unwrap())),
        ("at", Arc::new(moments.clone().with_timezone("UTC"))),
        ("local", Arc::new(moments)),
        (
            "clock",
            Arc::new(Time64MicrosecondArray::from(vec![0, 86_400_000_000])),
        ),
        ("n", Arc::new(UInt64Array::from(vec![Some(u64::MAX), None]))),
        ("f", Arc::new(Float32Array::from(vec![0.1, f32::NAN]))),
        ("t", Arc::new(BooleanArray::from(vec![true, false]))),
    ]))
    .unwrap();
    assert_eq!(
        names,
        ["item", "who.born", "at", "local", "clock", "n", "f", "t"]
    );
    assert_eq!(
        rows[0],
        [
            "vase",
            "date 1970-01-01",
            "instant 1970-01-01T00:00:01.5Z",
            "datetime 1970-01-01T00:00:01.5",
            "time 00:00:00",
            "number 18446744073709551615",
            "number 0.1",
            "boolean TRUE",
        ]
    );
    // What is beyond our range is no number: it would be read as another count.
    assert_eq!(
        rows[1],
        [
            "",
            "",
            "error out of range: 1000000000000000000",
            "error out of range: 1000000000000000000",
            "error out of range: 86400000000",
            "",
            "NaN",
            "boolean FALSE",
        ]
    );
}

#[test]
fn rows_that_hold_nothing_are_rows() {
    let nothing = StringArray::from(vec![None::<&str>, Some("x"), None]);
    let (_, rows) = cells(&stream(vec![("item", Arc::new(nothing))])).unwrap();
    assert_eq!(rows, [[""], ["x"], [""]]);
    let (_, rows) = cells(b"[{\"a\":1,\"b\":null},{},{\"b\":2}]").unwrap();
    assert_eq!(rows, [["number 1", ""], ["", ""], ["", "number 2"]]);
    let (_, rows) = cells(b"[{\"a\":1},{},{\"a\":null}]").unwrap();
    assert_eq!(rows, [["number 1"], [""], [""]]);
}

#[test]
fn what_no_cell_can_hold_is_said() {
    let mut lists = ListBuilder::new(arrow_array::builder::Int32Builder::new());
    lists.values().append_value(1);
    lists.append(true);
    let columns: Vec<(&str, ArrayRef)> = vec![
        ("n", Arc::new(Int32Array::from(vec![1]))),
        ("tags", Arc::new(lists.finish())),
    ];
    let said = cells(&stream(columns)).unwrap_err().to_string();
    assert!(said.contains("column `tags` holds lists"), "{said}");
    for (json, expected) in [
        ("{\"a\":1,\"a\":2}", "row 1 has the key `a` twice"),
        ("[{\"a\":1},2]", "expected an object"),
        ("{\"a\":1} x", "expected value"),
        ("[{\"a\":1}", "EOF"),
    ] {
        let said = cells(json.as_bytes()).unwrap_err().to_string();
        assert!(said.contains(expected), "{json}: {said}");
    }
}
