//! The row groups of a Parquet file.

use super::Batches;
use arrow_array::RecordBatch;
use arrow_schema::{ArrowError, Schema};
use parquet::arrow::arrow_reader::{ParquetRecordBatchReader, ParquetRecordBatchReaderBuilder};
use std::fs::File;
use std::sync::Arc;

/// Rows of a batch. Each column of a row group is decompressed page by page.
const ROWS: usize = 1 << 13;

pub(super) struct RowGroups {
    schema: Arc<Schema>,
    rows: ParquetRecordBatchReader,
}

impl RowGroups {
    pub(super) fn open(file: File) -> Result<RowGroups, ArrowError> {
        let reader = ParquetRecordBatchReaderBuilder::try_new(file)?.with_batch_size(ROWS);
        Ok(RowGroups {
            schema: reader.schema().clone(),
            rows: reader.build()?,
        })
    }
}

impl Batches for RowGroups {
    fn schema(&self) -> Arc<Schema> {
        self.schema.clone()
    }

    fn next(&mut self) -> Result<Option<RecordBatch>, ArrowError> {
        self.rows.next().transpose()
    }
}
