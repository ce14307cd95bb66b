//! Clean tables as Apache Parquet.
//!
//! Row groups end before they take much memory. Types that Parquet lacks (lengths of time,
//! zones that instants are shown in) stand in the Arrow schema that the file carries.

use super::arrow::{Batches, PROVENANCE, RULINGS};
use super::provenance::Provenance;
use super::{RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use arrow_array::{ArrayRef, RecordBatch};
use arrow_schema::{DataType, Field, Schema as ArrowSchema};
use metachron_core::row::Schema;
use parquet::arrow::ArrowWriter;
use parquet::arrow::arrow_writer::{ArrowColumnWriter, ArrowRowGroupWriterFactory, compute_leaves};
use parquet::basic::Compression;
use parquet::errors::Result as ParquetResult;
use parquet::file::metadata::KeyValue;
use parquet::file::properties::{EnabledStatistics, WriterProperties};
use parquet::file::writer::SerializedFileWriter;
use parquet::schema::types::ColumnPath;
use std::io::{self, Write};
use std::sync::{Arc, Mutex, PoisonError};

/// A row group is written when it takes so many bytes.
const GROUP: usize = 64 << 20;

/// A row group has so many rows at most.
const GROUP_ROWS: usize = 1 << 20;

/// Writes a Parquet file.
pub(super) struct ParquetWriter<W> {
    source: SourceStyle,
    out: W,
    /// What is written, and not in `out` so far.
    written: Shared,
    begun: Option<(Batches, Groups)>,
}

/// Bytes on their way: what encodes them wants to be sent to other threads, which not
/// every target can be.
#[derive(Clone, Default)]
struct Shared(Arc<Mutex<Vec<u8>>>);

impl Shared {
    fn take(&self) -> Vec<u8> {
        std::mem::take(&mut *self.0.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

impl Write for Shared {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        let mut own = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        own.extend_from_slice(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}

impl<W: Write> ParquetWriter<W> {
    pub(super) fn new(source: SourceStyle, out: W) -> ParquetWriter<W> {
        ParquetWriter {
            source,
            out,
            written: Shared::default(),
            begun: None,
        }
    }
}

/// The row groups of a file. Encoding and compressing takes longer than all else, so the
/// columns of a batch are encoded side by side.
struct Groups {
    file: SerializedFileWriter<Shared>,
    factory: ArrowRowGroupWriterFactory,
    schema: Arc<ArrowSchema>,
    /// Of the group that is being written; none between two.
    columns: Vec<ArrowColumnWriter>,
    /// How many groups are written.
    count: usize,
    rows: usize,
    threads: usize,
}

impl Groups {
    fn new(schema: Arc<ArrowSchema>, source: &SourceStyle, out: Shared) -> ParquetResult<Groups> {
        let mut properties = WriterProperties::builder()
            .set_compression(Compression::SNAPPY)
            .set_statistics_enabled(EnabledStatistics::Chunk)
            .set_created_by(source.tool.clone());
        for field in schema.fields() {
            // Moments and numbers seldom repeat: a dictionary of them is made and thrown away.
            let repeats = matches!(
                field.data_type(),
                DataType::Utf8 | DataType::Date32 | DataType::Boolean
            );
            let column = ColumnPath::new(vec![field.name().clone()]);
            properties = properties.set_column_dictionary_enabled(column, repeats);
        }
        let writer = ArrowWriter::try_new(out, schema.clone(), Some(properties.build()))?;
        let (file, factory) = writer.into_serialized_writer()?;
        Ok(Groups {
            file,
            factory,
            schema,
            columns: Vec::new(),
            count: 0,
            rows: 0,
            threads: source.threads.max(1),
        })
    }

    fn add(&mut self, batch: &RecordBatch) -> ParquetResult<()> {
        if self.columns.is_empty() {
            self.columns = self.factory.create_column_writers(self.count)?;
        }
        let columns = self.columns.iter_mut().zip(batch.columns());
        let mut work: Vec<_> = columns.zip(self.schema.fields()).collect();
        let part = work.len().div_ceil(self.threads).max(1);
        std::thread::scope(|scope| -> ParquetResult<()> {
            let mut parts = work.chunks_mut(part);
            let own = parts.next();
            let others: Vec<_> = parts
                .map(|part| scope.spawn(move || encode(part)))
                .collect();
            own.map_or(Ok(()), encode)?;
            for other in others {
                let encoded = other.join();
                encoded.unwrap_or_else(|panic| std::panic::resume_unwind(panic))?;
            }
            Ok(())
        })?;
        self.rows += batch.num_rows();
        let size = self.columns.iter().map(ArrowColumnWriter::memory_size);
        if self.rows >= GROUP_ROWS || size.sum::<usize>() >= GROUP {
            self.end_group()?;
        }
        Ok(())
    }

    fn end_group(&mut self) -> ParquetResult<()> {
        if self.rows == 0 {
            return Ok(());
        }
        let mut group = self.file.next_row_group()?;
        for column in self.columns.drain(..) {
            column.close()?.append_to_row_group(&mut group)?;
        }
        group.close()?;
        self.count += 1;
        self.rows = 0;
        Ok(())
    }
}

/// Encodes columns of a batch, one after the other.
fn encode(columns: &mut [((&mut ArrowColumnWriter, &ArrayRef), &Arc<Field>)]) -> ParquetResult<()> {
    for ((column, array), field) in columns {
        for leaf in compute_leaves(field, array)? {
            column.write(&leaf)?;
        }
    }
    Ok(())
}

impl<W: Write> TableWriter<W> for ParquetWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let batches = Batches::new(schema, &self.source);
        let groups = Groups::new(batches.schema(), &self.source, self.written.clone())?;
        self.begun = Some((batches, groups));
        Ok(())
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        let (batches, _) = self
            .begun
            .as_ref()
            .unwrap_or_else(|| unreachable!("the table has begun"));
        Box::new(batches.columns().encoder())
    }

    fn write(&mut self, rows: &[u8], _file: usize) -> Result<(), WriteError> {
        let Some((batches, groups)) = &mut self.begun else {
            return Ok(());
        };
        batches.add(rows, |batch| Ok(groups.add(&batch)?))?;
        Ok(self.out.write_all(&self.written.take())?)
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        let mut remarks = Vec::new();
        if let Some((mut batches, mut groups)) = self.begun {
            batches.columns().check()?;
            if let Some(batch) = batches.rest()? {
                groups.add(&batch)?;
            }
            groups.end_group()?;
            remarks = batches.columns().remarks();
            let metadata = |key: &str, text| KeyValue::new(key.to_owned(), Some(text));
            let mut file = groups.file;
            file.append_key_value_metadata(metadata(RULINGS, self.source.rulings.clone()));
            file.append_key_value_metadata(metadata(PROVENANCE, provenance.to_json()));
            file.close()?;
        }
        self.out.write_all(&self.written.take())?;
        Ok(Written {
            remarks,
            ..Written::new(self.out)
        })
    }
}
