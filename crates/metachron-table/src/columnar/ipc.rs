//! The messages of Arrow's IPC formats (the Arrow columnar format, §"Encapsulated message
//! format").
//!
//! A file is a stream between a mark and an index. Reading it as a stream asks for no place
//! that the index states.

use super::Batches;
use arrow_array::RecordBatch;
use arrow_buffer::Buffer;
use arrow_ipc::convert::try_fb_to_schema;
use arrow_ipc::reader::StreamDecoder;
use arrow_ipc::{Message, root_as_message};
use arrow_schema::{ArrowError, Schema};
use std::fs::File;
use std::io::{BufReader, Read, Seek, SeekFrom};
use std::sync::Arc;

/// What a file starts and ends with.
pub(super) const MAGIC: &[u8] = b"ARROW1";

/// Before its first message, a file has its mark and zeros up to a multiple of 8, or of
/// more: of 64, where buffers are to stand so.
const MOST_BEFORE: usize = 64;

/// What a message starts with.
const MARK: [u8; 4] = [0xff; 4];

/// A record batch takes no more memory than this. It is held whole.
const LARGEST: u64 = 1 << 30;

pub(super) struct Messages {
    file: BufReader<File>,
    decoder: StreamDecoder,
    schema: Arc<Schema>,
    /// What the decoder has not taken of the last message: it takes one without a body only
    /// with the next.
    rest: Buffer,
    is_at_end: bool,
}

fn wrong(cause: impl Into<String>) -> ArrowError {
    ArrowError::IpcError(cause.into())
}

impl Messages {
    pub(super) fn of_file(mut file: File) -> Result<Messages, ArrowError> {
        let mut end = Vec::new();
        file.seek(SeekFrom::End(-(MAGIC.len() as i64)))?;
        file.read_to_end(&mut end)?;
        if end != MAGIC {
            return Err(wrong("its end is missing"));
        }
        let mut start = [0; MOST_BEFORE + 8];
        file.seek(SeekFrom::Start(0))?;
        let read = (&mut file).take(start.len() as u64).read(&mut start)?;
        let padding = start[MAGIC.len()..read].iter().position(|byte| *byte != 0);
        let before = MAGIC.len() + padding.unwrap_or_default();
        file.seek(SeekFrom::Start(before as u64))?;
        Messages::of_stream(file)
    }

    pub(super) fn of_stream(file: File) -> Result<Messages, ArrowError> {
        let mut messages = Messages {
            file: BufReader::new(file),
            decoder: StreamDecoder::new(),
            schema: Arc::new(Schema::empty()),
            rest: Buffer::default(),
            is_at_end: false,
        };
        let first = messages.next_message()?;
        let Some(first) = first else {
            return Err(wrong("it has no schema"));
        };
        let described = root_as_message(&first[MARK.len() + 4..]);
        let described = described.map_err(|cause| wrong(cause.to_string()))?;
        let schema = described.header_as_schema();
        let schema = schema.ok_or_else(|| wrong("it does not begin with a schema"))?;
        messages.schema = Arc::new(try_fb_to_schema(schema)?);
        messages.rest = first;
        Ok(messages)
    }

    fn u32(&mut self) -> Result<[u8; 4], ArrowError> {
        let mut bytes = [0; 4];
        let read = self.file.read_exact(&mut bytes);
        read.map_err(|_| wrong("it ends before its end-of-stream mark"))?;
        Ok(bytes)
    }

    /// The next message, whole; `None` behind the last.
    fn next_message(&mut self) -> Result<Option<Buffer>, ArrowError> {
        let mut head = self.u32()?;
        // Until version 0.15 of the format, messages had no mark.
        if head == MARK {
            head = self.u32()?;
        }
        let len = u32::from_le_bytes(head);
        if len == 0 {
            return Ok(None);
        }
        let mut message = Vec::new();
        message.extend_from_slice(&MARK);
        message.extend_from_slice(&head);
        self.take(len.into(), &mut message)?;
        let body = {
            let described = root_as_message(&message[MARK.len() + head.len()..]);
            let described = described.map_err(|cause| wrong(cause.to_string()))?;
            let body = u64::try_from(described.bodyLength());
            body.map_err(|_| wrong("a message of less than no bytes"))?
        };
        let start = message.len();
        self.take(body, &mut message)?;
        let (head, body) = message.split_at(start);
        let described = root_as_message(&head[MARK.len() + 4..]);
        check_size(&described.map_err(|cause| wrong(cause.to_string()))?, body)?;
        Ok(Some(Buffer::from(message)))
    }

    /// Appends so many bytes of the file.
    fn take(&mut self, len: u64, out: &mut Vec<u8>) -> Result<(), ArrowError> {
        if len > LARGEST {
            return Err(too_large());
        }
        // Grows with what is there: a damaged length takes no memory.
        let read = (&mut self.file).take(len).read_to_end(out)?;
        if (read as u64) < len {
            return Err(wrong("it ends within a message"));
        }
        Ok(())
    }
}

fn too_large() -> ArrowError {
    wrong("a record batch takes more than 1 GiB; write it in smaller ones")
}

/// Refuses a batch whose parts say that they take much memory when they are decompressed:
/// it would be asked for before any of it is looked at.
fn check_size(message: &Message<'_>, body: &[u8]) -> Result<(), ArrowError> {
    let dictionary = message.header_as_dictionary_batch();
    let batch = dictionary.and_then(|dictionary| dictionary.data());
    let Some(batch) = batch.or(message.header_as_record_batch()) else {
        return Ok(());
    };
    if batch.compression().is_none() {
        return Ok(());
    }
    let mut all = 0_u64;
    for buffer in batch.buffers().iter().flatten() {
        let start = usize::try_from(buffer.offset()).unwrap_or(usize::MAX);
        let stated = body.get(start..).and_then(|rest| rest.first_chunk::<8>());
        if buffer.length() == 0 {
            continue;
        }
        // −1 says that a buffer is not compressed.
        let stated = stated.map_or(0, |stated| i64::from_le_bytes(*stated).max(0));
        all = all.saturating_add(stated.unsigned_abs());
    }
    if all > LARGEST {
        return Err(too_large());
    }
    Ok(())
}

impl Batches for Messages {
    fn schema(&self) -> Arc<Schema> {
        self.schema.clone()
    }

    fn next(&mut self) -> Result<Option<RecordBatch>, ArrowError> {
        loop {
            while !self.rest.is_empty() {
                if let Some(batch) = self.decoder.decode(&mut self.rest)? {
                    return Ok(Some(batch));
                }
            }
            if self.is_at_end {
                return Ok(None);
            }
            self.rest = match self.next_message()? {
                Some(message) => message,
                None => {
                    self.is_at_end = true;
                    Buffer::from([MARK, [0; 4]].concat())
                }
            };
        }
    }
}
