//! Clean tables as Apache Arrow: files and streams of record batches (the Arrow columnar
//! format, §"Serialization and Interprocess Communication").

use super::provenance::Provenance;
use super::typed::{
    ColumnType, ColumnView, DecimalsAs, NameRules, Precision, StampsAs, TypeRules, TypedColumns,
    is_text, read_chunk,
};
use super::{RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use arrow_array::{ArrayRef, RecordBatch, RecordBatchOptions, make_array};
use arrow_buffer::{BooleanBufferBuilder, Buffer, NullBuffer};
use arrow_data::ArrayData;
use arrow_ipc::writer::{FileWriter, StreamWriter};
use arrow_schema::{ArrowError, DataType, Field, Schema as ArrowSchema, TimeUnit};
use metachron_core::row::Schema;
use std::collections::HashMap;
use std::io::Write;
use std::sync::Arc;

/// A batch has about so many rows,
const ROWS: usize = 1 << 16;

/// or so many bytes of text in one column, whichever comes first. Offsets have 31 bits.
const TEXT: usize = 1 << 26;

/// The name under which rulings stand in the metadata of a schema.
pub(super) const RULINGS: &str = "metachron.rulings";

/// The name under which the counts of verdicts stand in the metadata of a file.
pub(super) const PROVENANCE: &str = "metachron.provenance";

impl TypeRules {
    /// What Arrow and Parquet hold.
    pub(super) fn of_arrow(source: &SourceStyle) -> TypeRules {
        TypeRules {
            stamps: StampsAs::Counts,
            decimals: DecimalsAs::Decimals,
            others: source.others,
        }
    }
}

/// Writes an Arrow IPC file or stream.
pub(super) struct ArrowWriter<W> {
    source: SourceStyle,
    out: Target<W>,
    batches: Option<Batches>,
}

/// What is written into.
enum Target<W> {
    /// Not begun: as a stream, or as a file.
    Waiting(W, ArrowAs),
    File(FileWriter<W>),
    Stream(StreamWriter<W>),
    /// While it changes from one of the others to the next.
    Changing,
}

/// How record batches stand behind each other.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum ArrowAs {
    /// With an index of them at the end.
    File,
    /// Without, so that each can be read when it is there.
    Stream,
}

impl<W: Write> ArrowWriter<W> {
    pub(super) fn new(source: SourceStyle, of: ArrowAs, out: W) -> ArrowWriter<W> {
        ArrowWriter {
            source,
            out: Target::Waiting(out, of),
            batches: None,
        }
    }

    fn batches(&mut self) -> &mut Batches {
        let batches = self.batches.as_mut();
        batches.unwrap_or_else(|| unreachable!("a table is begun before rows are written"))
    }
}

impl<W: Write> Target<W> {
    fn put(&mut self, batch: &RecordBatch) -> Result<(), ArrowError> {
        match self {
            Target::File(file) => file.write(batch),
            Target::Stream(stream) => stream.write(batch),
            Target::Waiting(..) | Target::Changing => Ok(()),
        }
    }
}

impl<W: Write> TableWriter<W> for ArrowWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let batches = Batches::new(schema, &self.source);
        let schema = batches.schema();
        self.batches = Some(batches);
        self.out = match std::mem::replace(&mut self.out, Target::Changing) {
            Target::Waiting(out, ArrowAs::File) => Target::File(FileWriter::try_new(out, &schema)?),
            Target::Waiting(out, ArrowAs::Stream) => {
                Target::Stream(StreamWriter::try_new(out, &schema)?)
            }
            begun => begun,
        };
        Ok(())
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        let batches = self.batches.as_ref();
        let batches = batches.unwrap_or_else(|| unreachable!("the table has begun"));
        Box::new(batches.columns().encoder())
    }

    fn write(&mut self, rows: &[u8], _file: usize) -> Result<(), WriteError> {
        let Some(batches) = &mut self.batches else {
            return Ok(());
        };
        let out = &mut self.out;
        batches.add(rows, |batch| Ok(out.put(&batch)?))?;
        // What a stream has sent cannot be written again.
        if let Target::Stream(_) = self.out {
            self.batches().columns().check()?;
        }
        Ok(())
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        self.batches().columns().check()?;
        if let Some(batch) = self.batches().rest()? {
            self.out.put(&batch)?;
        }
        let remarks = self.batches().columns().remarks();
        let out = match self.out {
            Target::File(mut file) => {
                file.write_metadata(PROVENANCE, provenance.to_json());
                file.finish()?;
                file.into_inner()?
            }
            Target::Stream(mut stream) => {
                stream.finish()?;
                stream.into_inner()?
            }
            Target::Waiting(out, _) => out,
            Target::Changing => unreachable!("a table that has begun is a file or a stream"),
        };
        Ok(Written {
            remarks,
            ..Written::new(out)
        })
    }
}

/// Puts chunks of rows together to record batches.
pub(super) struct Batches {
    columns: TypedColumns,
    types: Vec<ColumnType>,
    schema: Arc<ArrowSchema>,
    pending: Vec<Pending>,
    rows: usize,
}

/// The cells of a column that are in no batch so far.
struct Pending {
    filled: BooleanBufferBuilder,
    values: Vec<u8>,
    texts: Vec<u8>,
}

impl Pending {
    fn new(of: ColumnType) -> Pending {
        Pending {
            filled: BooleanBufferBuilder::new(0),
            // The offsets of texts start with that of the first.
            values: if is_text(of) { vec![0; 4] } else { Vec::new() },
            texts: Vec::new(),
        }
    }

    fn add(&mut self, of: ColumnType, view: ColumnView<'_>) {
        for filled in view.filled {
            self.filled.append(*filled != 0);
        }
        if !is_text(of) {
            return self.values.extend_from_slice(view.values);
        }
        let before = self.texts.len() as u32;
        let (ends, _) = view.values.as_chunks::<4>();
        self.values.reserve(view.values.len());
        for end in ends {
            let end = before + u32::from_le_bytes(*end);
            self.values.extend_from_slice(&end.to_le_bytes());
        }
        self.texts.extend_from_slice(view.texts);
    }

    fn array(self, of: ColumnType, field: &Field, rows: usize) -> Result<ArrayRef, ArrowError> {
        let Pending {
            mut filled,
            mut values,
            texts,
        } = self;
        let mut data = ArrayData::builder(field.data_type().clone()).len(rows);
        if of == ColumnType::Boolean {
            let mut bits = BooleanBufferBuilder::new(rows);
            values.iter().for_each(|truth| bits.append(*truth != 0));
            data = data.add_buffer(bits.finish().into_inner());
        } else if is_text(of) || of == ColumnType::Unknown {
            values.resize((rows + 1) * 4, 0);
            data = data
                .add_buffer(Buffer::from(values))
                .add_buffer(Buffer::from(texts));
        } else {
            data = data.add_buffer(Buffer::from(values));
        }
        let nulls = NullBuffer::new(filled.finish());
        let data = data.nulls(Some(nulls).filter(|nulls| nulls.null_count() > 0));
        // Numbers of 128 bits stand where they need not.
        Ok(make_array(data.align_buffers(true).build()?))
    }
}

impl Batches {
    pub fn new(schema: &Schema, source: &SourceStyle) -> Batches {
        let rules = TypeRules::of_arrow(source);
        let columns = TypedColumns::new(schema, rules, source, NameRules::default());
        let fields = columns.all().iter().map(|column| {
            let zone = column
                .origin
                .as_ref()
                .and_then(|column| column.zone.as_deref());
            Field::new(&column.name, data_type(column.of, zone), true)
        });
        let fields: Vec<Field> = fields.collect();
        let metadata = HashMap::from([(RULINGS.to_owned(), source.rulings.clone())]);
        let types = columns.types();
        Batches {
            schema: Arc::new(ArrowSchema::new_with_metadata(fields, metadata)),
            pending: types.iter().map(|of| Pending::new(*of)).collect(),
            types,
            columns,
            rows: 0,
        }
    }

    pub fn columns(&self) -> &TypedColumns {
        &self.columns
    }

    pub fn schema(&self) -> Arc<ArrowSchema> {
        self.schema.clone()
    }

    /// Adds encoded rows, and hands batches that are full to `put`.
    pub fn add(
        &mut self,
        mut rows: &[u8],
        mut put: impl FnMut(RecordBatch) -> Result<(), WriteError>,
    ) -> Result<(), WriteError> {
        if !self.columns.fit() {
            return Ok(());
        }
        let mut views = Vec::with_capacity(self.types.len());
        while let Some(count) = read_chunk(&mut rows, &self.types, &mut views) {
            for ((pending, of), view) in self.pending.iter_mut().zip(&self.types).zip(&views) {
                pending.add(*of, *view);
            }
            self.rows += count;
            let longest = self.pending.iter().map(|pending| pending.texts.len()).max();
            if (self.rows >= ROWS || longest >= Some(TEXT))
                && let Some(batch) = self.rest()?
            {
                put(batch)?;
            }
        }
        Ok(())
    }

    /// The rows that are in no batch so far.
    pub fn rest(&mut self) -> Result<Option<RecordBatch>, WriteError> {
        let rows = std::mem::take(&mut self.rows);
        if rows == 0 {
            return Ok(None);
        }
        let mut arrays = Vec::with_capacity(self.types.len());
        let columns = self.pending.iter_mut().zip(&self.types);
        for ((pending, of), field) in columns.zip(self.schema.fields()) {
            let pending = std::mem::replace(pending, Pending::new(*of));
            arrays.push(pending.array(*of, field, rows)?);
        }
        let options = RecordBatchOptions::new().with_row_count(Some(rows));
        let batch = RecordBatch::try_new_with_options(self.schema(), arrays, &options)?;
        Ok(Some(batch))
    }
}

/// The Arrow type of a column; `zone` is that which instants are shown in.
fn data_type(of: ColumnType, zone: Option<&str>) -> DataType {
    let unit = |precision| match precision {
        Precision::Micros => TimeUnit::Microsecond,
        Precision::Nanos => TimeUnit::Nanosecond,
    };
    match of {
        ColumnType::Boolean => DataType::Boolean,
        ColumnType::Integer => DataType::Int64,
        ColumnType::Decimal(scale) => DataType::Decimal128(38, scale as i8),
        ColumnType::Real | ColumnType::Float => DataType::Float64,
        ColumnType::Date => DataType::Date32,
        ColumnType::Time(precision) => DataType::Time64(unit(precision)),
        ColumnType::DateTime(precision) => DataType::Timestamp(unit(precision), None),
        ColumnType::Instant(precision) => {
            DataType::Timestamp(unit(precision), Some(zone.unwrap_or("UTC").into()))
        }
        ColumnType::Duration(precision) => DataType::Duration(unit(precision)),
        ColumnType::Text | ColumnType::Unknown | ColumnType::Postgres(_) => DataType::Utf8,
    }
}
