//! Bytes → UTF-8.

use crate::source::ReadAndSeek;
use crate::{Source, TableError};
use chardetng::{EncodingDetector, Iso2022JpDetection, Utf8Detection};
use encoding_rs::{DecoderResult, Encoding, UTF_8};
use std::io::{Read, Seek, SeekFrom};

/// How much is read at a time.
pub(crate) const CHUNK: usize = 1 << 20;

/// The encoding called `label` in the WHATWG Encoding Standard (§4.2).
///
/// # Errors
///
/// Where none is called so.
pub fn encoding_for_label(label: &str) -> Result<&'static Encoding, TableError> {
    Encoding::for_label(label.as_bytes())
        .ok_or_else(|| TableError::NoSuchEncoding(label.to_owned()))
}

/// Finds the encoding that `head`, the start of the source, is written in:
/// by its byte order mark, as UTF-8 if it is valid UTF-8, else by what the
/// whole source looks like.
pub(crate) fn detect(source: &Source, head: &[u8]) -> Result<&'static Encoding, TableError> {
    if let Some((encoding, _)) = Encoding::for_bom(head) {
        return Ok(encoding);
    }
    match std::str::from_utf8(head) {
        Ok(_) => Ok(UTF_8),
        // The head may end within a character.
        Err(error) if error.error_len().is_none() => Ok(UTF_8),
        Err(_) => guess(source),
    }
}

/// What the whole source looks like, every byte considered.
pub(crate) fn guess(source: &Source) -> Result<&'static Encoding, TableError> {
    let mut file = source.open_text()?;
    let mut detector = EncodingDetector::new(Iso2022JpDetection::Deny);
    let mut buffer = vec![0; CHUNK];
    loop {
        let read = file
            .read(&mut buffer)
            .map_err(TableError::io(source.name()))?;
        detector.feed(&buffer[..read], read == 0);
        if read == 0 {
            return Ok(detector.guess(None, Utf8Detection::Allow));
        }
    }
}

/// Whether the whole source is valid UTF-8.
pub(crate) fn is_utf8(source: &Source) -> Result<bool, TableError> {
    let mut file = source.open_text()?;
    let mut buffer = vec![0; CHUNK];
    let mut kept = 0;
    loop {
        let read = file
            .read(&mut buffer[kept..])
            .map_err(TableError::io(source.name()))?;
        let have = kept + read;
        match std::str::from_utf8(&buffer[..have]) {
            Ok(_) => kept = 0,
            Err(error) if error.error_len().is_none() && read > 0 => {
                let valid = error.valid_up_to();
                buffer.copy_within(valid..have, 0);
                kept = have - valid;
            }
            Err(_) => return Ok(false),
        }
        if read == 0 {
            return Ok(true);
        }
    }
}

/// Delivers a source as UTF-8, without its byte order mark. UTF-8 itself is
/// passed on unchecked: whoever reads the text checks it, on any thread.
pub(crate) struct Utf8Reader {
    file: Box<dyn ReadAndSeek>,
    name: String,
    decoding: Option<Decoding>,
}

struct Decoding {
    encoding: &'static Encoding,
    decoder: encoding_rs::Decoder,
    input: Vec<u8>,
    from: usize,
    to: usize,
    ended: bool,
    /// Lines that were decoded so far, for messages.
    lines: u64,
}

impl Utf8Reader {
    pub(crate) fn open(
        source: &Source,
        encoding: &'static Encoding,
    ) -> Result<Utf8Reader, TableError> {
        let io = TableError::io(source.name());
        let mut file = source.open_text()?;
        let mut mark = Vec::new();
        (&mut file).take(3).read_to_end(&mut mark).map_err(&io)?;
        let mark_len = match Encoding::for_bom(&mark) {
            Some((marked, len)) if marked == encoding => len,
            _ => 0,
        };
        file.seek(SeekFrom::Start(mark_len as u64)).map_err(&io)?;
        let decoding = (encoding != UTF_8).then(|| Decoding {
            encoding,
            decoder: encoding.new_decoder_without_bom_handling(),
            input: vec![0; CHUNK / 4],
            from: 0,
            to: 0,
            ended: false,
            lines: 1,
        });
        Ok(Utf8Reader {
            file,
            name: source.name().to_owned(),
            decoding,
        })
    }

    /// Fills `buffer` from the start, as far as one read goes; 0 at the end.
    pub(crate) fn read(&mut self, buffer: &mut [u8]) -> Result<usize, TableError> {
        let io = TableError::io(&self.name);
        let Some(decoding) = &mut self.decoding else {
            return self.file.read(buffer).map_err(io);
        };
        loop {
            if decoding.from == decoding.to && !decoding.ended {
                decoding.from = 0;
                decoding.to = self.file.read(&mut decoding.input).map_err(&io)?;
                decoding.ended = decoding.to == 0;
            }
            let input = &decoding.input[decoding.from..decoding.to];
            let (result, read, written) =
                decoding
                    .decoder
                    .decode_to_utf8_without_replacement(input, buffer, decoding.ended);
            decoding.from += read;
            decoding.lines += memchr::memchr_iter(b'\n', &buffer[..written]).count() as u64;
            match result {
                DecoderResult::Malformed(..) => {
                    return Err(TableError::Encoding {
                        file: self.name.clone(),
                        line: decoding.lines,
                        encoding: decoding.encoding.name(),
                    });
                }
                DecoderResult::InputEmpty if written == 0 && !decoding.ended => {}
                DecoderResult::InputEmpty | DecoderResult::OutputFull => {
                    if decoding.ended && read == 0 && written == 0 {
                        // A decoder must not be used again after its end.
                        decoding.decoder = decoding.encoding.new_decoder_without_bom_handling();
                    }
                    return Ok(written);
                }
            }
        }
    }
}
