//! The records of XLSB.

use super::budget::{Excess, Held, LONGEST_PIECE, TEXT};
use std::io::{self, BufReader, Read};

/// The records of a part of XLSB: a number of one or two bytes, a length of up to four,
/// seven bits each, and as many bytes (MS-XLSB §2.1.4).
pub fn records(part: &mut impl Read, file: &str, left: &mut u64) -> io::Result<Option<Excess>> {
    let mut held = Held::of(left);
    let holds_texts = file.eq_ignore_ascii_case("sharedStrings.bin");
    let mut part = BufReader::new(part);
    loop {
        if next_byte(&mut part)? & 0x80 != 0 {
            next_byte(&mut part)?;
        }
        let mut size = 0;
        for place in 0..4 {
            let seven = next_byte(&mut part)?;
            size |= u64::from(seven & 0x7f) << (7 * place);
            if seven & 0x80 == 0 {
                break;
            }
        }
        if size > LONGEST_PIECE {
            return Ok(Some(Excess::Piece));
        }
        if holds_texts && held.take(size + TEXT).is_err() {
            return Ok(Some(Excess::Memory));
        }
        io::copy(&mut (&mut part).take(size), &mut io::sink())?;
    }
}

fn next_byte(part: &mut impl Read) -> io::Result<u8> {
    let mut byte = [0];
    part.read_exact(&mut byte)?;
    Ok(byte[0])
}
