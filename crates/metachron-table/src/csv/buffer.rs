//! Memory for blocks, used again: to ask the system for a megabyte again for
//! each block costs an eighth of a survey (docs/speed.md).

use crate::encoding::CHUNK;
use std::ops::Deref;
use std::sync::{Arc, Mutex};

/// Memory that blocks have given back.
#[derive(Clone, Debug, Default)]
pub(super) struct Spares(Arc<Mutex<Vec<Vec<u8>>>>);

/// The bytes of a block.
#[derive(Debug, Default)]
pub(super) struct Buffer {
    /// What is behind `len` was used before.
    memory: Vec<u8>,
    len: usize,
    spares: Spares,
}

/// Decoders want room for a character.
const ROOM: usize = 64;

impl Spares {
    /// A buffer that holds nothing.
    pub fn buffer(&self) -> Buffer {
        let memory = self.0.lock().ok().and_then(|mut spares| spares.pop());
        Buffer {
            memory: memory.unwrap_or_default(),
            len: 0,
            spares: self.clone(),
        }
    }
}

impl Buffer {
    /// The room behind the bytes: so much that there may be `wanted` of them,
    /// and some more.
    pub fn room(&mut self, wanted: usize) -> &mut [u8] {
        let least = wanted.max(self.len) + ROOM;
        if self.memory.len() < least {
            self.memory.resize(least, 0);
        }
        &mut self.memory[self.len..]
    }

    /// Takes in so many bytes that were put into the room.
    pub fn grow(&mut self, by: usize) {
        self.len = (self.len + by).min(self.memory.len());
    }

    /// Puts bytes behind those that are there.
    pub fn extend(&mut self, bytes: &[u8]) {
        let len = self.len + bytes.len();
        self.room(len)[..bytes.len()].copy_from_slice(bytes);
        self.len = len;
    }

    /// Leaves out what is behind the first `len` bytes.
    pub fn truncate(&mut self, len: usize) {
        self.len = self.len.min(len);
    }
}

impl From<Vec<u8>> for Buffer {
    fn from(memory: Vec<u8>) -> Buffer {
        Buffer {
            len: memory.len(),
            memory,
            spares: Spares::default(),
        }
    }
}

impl Deref for Buffer {
    type Target = [u8];

    fn deref(&self) -> &[u8] {
        &self.memory[..self.len]
    }
}

impl Drop for Buffer {
    fn drop(&mut self) {
        // The memory of a row of many megabytes is not kept.
        if self.memory.len() <= 2 * CHUNK
            && let Ok(mut spares) = self.spares.0.lock()
        {
            spares.push(std::mem::take(&mut self.memory));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn memory_is_used_again_and_not_what_was_in_it() {
        let spares = Spares::default();
        let mut first = spares.buffer();
        first.extend(b"31/12/2024");
        first.room(20)[..3].copy_from_slice(b",01");
        first.grow(3);
        assert_eq!(&*first, b"31/12/2024,01");
        first.truncate(2);
        assert_eq!(&*first, b"31");
        let memory = first.memory.as_ptr();
        drop(first);
        let second = spares.buffer();
        assert!(second.is_empty());
        assert_eq!(second.memory.as_ptr(), memory);
    }
}
