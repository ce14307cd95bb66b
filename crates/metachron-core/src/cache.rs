//! What was made of earlier keys, for the next that are equal to them: columns
//! repeat themselves.

use std::num::NonZeroU32;

/// What something is found again by.
pub(crate) trait CacheKey: Copy + PartialEq {
    /// The same for equal keys, and spread over all 32 bits.
    fn hash(&self) -> u32;

    /// A slot below `count`, the same for equal keys.
    #[inline]
    fn slot(&self, count: usize) -> usize {
        ((u64::from(self.hash()) * count as u64) >> 32) as usize
    }
}

/// After so many keys it shows whether they repeat themselves …
const TRIAL: u32 = 1 << 13;

/// … which they do if one in so many is found. Else remembering costs more
/// than it saves.
const FOUND_ONE_IN: u32 = 8;

/// The last two keys for each of some slots, and what was made of them.
#[derive(Clone, Debug)]
pub(crate) struct Cache<K, V> {
    /// Empty until the first key, then so many as `wanted`. With one key a
    /// slot, a third of the days of six years would drive each other out.
    slots: Vec<[Option<(K, V)>; 2]>,
    wanted: usize,
    /// How many keys were looked for, and how many found, up to [`TRIAL`].
    sought: u32,
    found: u32,
}

impl<K: CacheKey, V: Copy> Cache<K, V> {
    /// A cache of at most twice `most_slots` keys, in at most so many bytes.
    pub(crate) fn new(most_slots: usize, bytes: usize) -> Cache<K, V> {
        Cache {
            slots: Vec::new(),
            wanted: most_slots.min(bytes / size_of::<[Option<(K, V)>; 2]>()),
            sought: 0,
            found: 0,
        }
    }

    /// Whether keys are remembered: there is room, and they repeat themselves.
    #[inline]
    pub(crate) fn is_in_use(&self) -> bool {
        self.wanted != 0
    }

    /// What was made of an equal key.
    #[inline]
    pub(crate) fn get(&mut self, key: &K) -> Option<&V> {
        if self.slots.is_empty() {
            return None;
        }
        let slot = key.slot(self.slots.len());
        let is_known = |known: &Option<(K, V)>| matches!(known, Some((known, _)) if known == key);
        let entry = self.slots.get(slot)?.iter().position(is_known);
        if self.sought < TRIAL {
            self.try_out(entry.is_some());
        }
        let (_, made) = self.slots.get(slot)?[entry?].as_ref()?;
        Some(made)
    }

    /// Forgets all keys.
    fn forget(&mut self) {
        self.slots.fill([None; 2]);
    }

    /// Gives up on keys that do not repeat themselves.
    fn try_out(&mut self, is_found: bool) {
        self.sought += 1;
        self.found += u32::from(is_found);
        if self.sought == TRIAL && self.found * FOUND_ONE_IN < TRIAL {
            self.slots = Vec::new();
            self.wanted = 0;
        }
    }

    /// Remembers what was made of a key.
    pub(crate) fn put(&mut self, key: K, made: V) {
        if self.wanted == 0 {
            return;
        }
        if self.slots.is_empty() {
            self.slots = vec![[None; 2]; self.wanted];
        }
        let slot = key.slot(self.slots.len());
        let [first, second] = &mut self.slots[slot];
        *second = first.replace((key, made));
    }
}

/// What was made of earlier keys, where it is too large to be copied.
///
/// Keys are looked for by their hashes, in a table small enough for the processor's
/// own memory: where most keys differ from the last, waiting for the memory behind it
/// is what takes the time.
#[derive(Clone, Debug)]
pub(crate) struct Memo<K, V> {
    numbers: Cache<Hash, u32>,
    made: Vec<(K, V)>,
    most_slots: usize,
}

/// The hash of a key; none is 0.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Hash(NonZeroU32);

impl Hash {
    #[inline]
    fn of(key: &impl CacheKey) -> Hash {
        Hash(NonZeroU32::new(key.hash()).unwrap_or(NonZeroU32::MIN))
    }
}

impl CacheKey for Hash {
    #[inline]
    fn hash(&self) -> u32 {
        self.0.get()
    }
}

impl<K: CacheKey, V> Memo<K, V> {
    /// A memo of at most twice `most_slots` keys, in about so many bytes.
    pub(crate) fn new(most_slots: usize, bytes: usize) -> Memo<K, V> {
        let of_slot = size_of::<[Option<(Hash, u32)>; 2]>() + 2 * size_of::<(K, V)>();
        let most_slots = most_slots.min(bytes / of_slot);
        Memo {
            numbers: Cache::new(most_slots, bytes),
            made: Vec::new(),
            most_slots,
        }
    }

    /// What was made of an equal key.
    #[inline]
    pub(crate) fn get(&mut self, key: &K) -> Option<&V> {
        let number = *self.numbers.get(&Hash::of(key))?;
        let (known, made) = self.made.get(number as usize)?;
        (known == key).then_some(made)
    }

    /// Remembers what was made of a key, and forgets all others if they have become
    /// too many.
    pub(crate) fn put(&mut self, key: K, made: V) {
        if self.numbers.wanted == 0 {
            return;
        }
        if self.made.len() > 2 * self.most_slots {
            self.made.clear();
            self.numbers.forget();
        }
        self.numbers.put(Hash::of(&key), self.made.len() as u32);
        self.made.push((key, made));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lex::Key;
    use proptest::prelude::*;

    fn key(text: &str) -> Key {
        Key::of(text.as_bytes()).unwrap()
    }

    #[test]
    fn keys_that_come_again_are_found() {
        let names = ["Tide Mill", "Lantern House", "Archive of Weights", "K-1"];
        let mut cache = Cache::new(2048, 1 << 20);
        let mut missed = 0;
        for turn in 0..40_000 {
            let name = names[turn % names.len()];
            match cache.get(&key(name)) {
                Some(made) => assert_eq!(*made, name.len()),
                None => {
                    missed += 1;
                    cache.put(key(name), name.len());
                }
            }
        }
        assert_eq!(missed, names.len());
    }

    #[test]
    fn keys_that_never_repeat_themselves_are_given_up() {
        let mut cache = Cache::new(2048, 1 << 20);
        for number in 0..2 * TRIAL {
            let key = key(&format!("K-{number}"));
            assert_eq!(cache.get(&key), None);
            cache.put(key, number);
        }
        assert!(cache.slots.is_empty());
        assert_eq!(cache.wanted, 0);
    }

    proptest! {
        /// Whatever was forgotten, what is found was made of the key that is asked for.
        #[test]
        fn a_memo_gives_what_was_made_of_the_key(
            numbers in prop::collection::vec(0..60_u32, 0..400),
            most_slots in 1..20_usize,
        ) {
            let mut memo = Memo::new(most_slots, 1 << 20);
            for number in numbers {
                let text = format!("K-{number}");
                match memo.get(&key(&text)) {
                    Some(made) => prop_assert_eq!(made, &text),
                    None => memo.put(key(&text), text),
                }
                prop_assert!(memo.made.len() <= 2 * most_slots + 1);
            }
        }
    }

    #[test]
    fn there_is_no_room_in_no_bytes() {
        let mut cache = Cache::new(2048, 10);
        cache.put(key("a"), 1);
        assert_eq!(cache.get(&key("a")), None);
    }
}
