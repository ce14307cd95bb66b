//! What was made of earlier texts, for the next that are equal to them:
//! columns repeat themselves.

use crate::lex::Key;

/// At most twice so many texts are remembered of a column: the days of several
/// years, and the names of any number of partners.
const MOST_SLOTS: usize = 2048;

/// What all columns of a surveyor may take to remember texts, in bytes.
const MEMORY: usize = 4 << 20;

/// After so many texts it shows whether a column repeats itself …
const TRIAL: u32 = 1 << 13;

/// … which it does if one in so many is found. Else remembering costs more
/// than it saves.
const FOUND_ONE_IN: u32 = 8;

/// The last two texts for each of some hashes, and what was made of them.
#[derive(Debug)]
pub(super) struct TextCache<T> {
    /// Empty until the first text, then so many as `wanted`. With one text a
    /// slot, a third of the days of six years would drive each other out.
    slots: Vec<[(Key, T); 2]>,
    wanted: usize,
    /// How many texts were looked for, and how many found, up to [`TRIAL`].
    sought: u32,
    found: u32,
}

impl<T: Copy> TextCache<T> {
    /// That of one of so many columns.
    pub(super) fn new(columns: usize) -> TextCache<T> {
        let share = MEMORY / columns.max(1) / size_of::<[(Key, T); 2]>();
        TextCache {
            slots: Vec::new(),
            wanted: share.min(MOST_SLOTS),
            sought: 0,
            found: 0,
        }
    }

    #[inline]
    pub(super) fn get(&mut self, text: &str) -> Option<T> {
        if self.slots.is_empty() {
            return None;
        }
        let key = Key::of(text.as_bytes())?;
        let slot = self.slots.get(key.index(self.slots.len()))?;
        let known = slot.iter().find(|(known, _)| *known == key);
        let made = known.map(|(_, made)| *made);
        if self.sought < TRIAL {
            self.try_out(made.is_some());
        }
        made
    }

    /// Gives up on a column that does not repeat itself.
    fn try_out(&mut self, is_found: bool) {
        self.sought += 1;
        self.found += u32::from(is_found);
        if self.sought == TRIAL && self.found * FOUND_ONE_IN < TRIAL {
            self.slots = Vec::new();
            self.wanted = 0;
        }
    }

    pub(super) fn put(&mut self, text: &str, made: T) {
        if self.wanted == 0 {
            return;
        }
        let Some(key) = Key::of(text.as_bytes()) else {
            return;
        };
        if self.slots.is_empty() {
            self.slots = vec![[(Key::NONE, made); 2]; self.wanted];
        }
        let index = key.index(self.slots.len());
        let [first, second] = &mut self.slots[index];
        *second = std::mem::replace(first, (key, made));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn texts_that_come_again_are_recalled() {
        let names = ["Tide Mill", "Lantern House", "Archive of Weights", "K-1"];
        let mut text_cache = TextCache::new(5);
        let mut missed = 0;
        for turn in 0..40_000 {
            let name = names[turn % names.len()];
            match text_cache.get(name) {
                Some(made) => assert_eq!(made, name.len()),
                None => {
                    missed += 1;
                    text_cache.put(name, name.len());
                }
            }
        }
        assert_eq!(missed, names.len());
    }

    #[test]
    fn a_column_that_never_repeats_itself_is_given_up() {
        let mut text_cache = TextCache::new(1);
        for number in 0..2 * TRIAL {
            let text = format!("K-{number}");
            assert_eq!(text_cache.get(&text), None);
            text_cache.put(&text, number);
        }
        assert!(text_cache.slots.is_empty());
        assert_eq!(text_cache.wanted, 0);
    }
}
