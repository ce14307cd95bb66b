//! Clean tables as Apache Parquet.
//!
//! Row groups end before they take much memory. Types that Parquet lacks (lengths of time,
//! zones that instants are shown in) stand in the Arrow schema that the file carries.

use super::arrow::{Batches, PROVENANCE, RULINGS};
use super::provenance::Provenance;
use super::{RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use metachron_core::row::Schema;
use parquet::arrow::ArrowWriter;
use parquet::basic::Compression;
use parquet::file::metadata::KeyValue;
use parquet::file::properties::WriterProperties;
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
    begun: Option<(Batches, ArrowWriter<Shared>)>,
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

impl<W: Write> TableWriter<W> for ParquetWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let batches = Batches::new(schema, &self.source);
        let properties = WriterProperties::builder()
            .set_compression(Compression::SNAPPY)
            .set_max_row_group_row_count(Some(GROUP_ROWS))
            .set_created_by(self.source.tool.clone())
            .build();
        let writer =
            ArrowWriter::try_new(self.written.clone(), batches.schema(), Some(properties))?;
        self.begun = Some((batches, writer));
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
        let Some((batches, writer)) = &mut self.begun else {
            return Ok(());
        };
        batches.add(rows, |batch| {
            writer.write(&batch)?;
            if writer.in_progress_size() >= GROUP {
                writer.flush()?;
            }
            Ok(())
        })?;
        Ok(self.out.write_all(&self.written.take())?)
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        let mut remarks = Vec::new();
        if let Some((mut batches, mut writer)) = self.begun {
            batches.columns().check()?;
            if let Some(batch) = batches.rest()? {
                writer.write(&batch)?;
            }
            remarks = batches.columns().remarks();
            let metadata = |key: &str, text| KeyValue::new(key.to_owned(), Some(text));
            writer.append_key_value_metadata(metadata(RULINGS, self.source.rulings.clone()));
            writer.append_key_value_metadata(metadata(PROVENANCE, provenance.to_json()));
            writer.close()?;
        }
        self.out.write_all(&self.written.take())?;
        Ok(Written {
            remarks,
            ..Written::new(self.out)
        })
    }
}
