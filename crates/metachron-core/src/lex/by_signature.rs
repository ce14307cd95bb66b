//! What was found out about a text, for those that differ from it in their digits alone.

use super::Signature;

/// Values by the signatures of texts.
#[derive(Clone, Debug)]
pub(crate) struct BySignature<T> {
    entries: Vec<(Signature, T)>,
    /// The number of the entry that was found last: cells of a kind follow each other.
    last: usize,
    /// The numbers of entries, each in the first free slot from that of its hash on.
    slots: Vec<u16>,
}

const FREE: u16 = u16::MAX;

impl<T> Default for BySignature<T> {
    fn default() -> BySignature<T> {
        BySignature {
            entries: Vec::new(),
            last: 0,
            slots: Vec::new(),
        }
    }
}

impl<T> BySignature<T> {
    /// How many there are.
    pub(crate) fn len(&self) -> usize {
        self.entries.len()
    }

    /// Forgets all of them.
    pub(crate) fn clear(&mut self) {
        self.entries.clear();
        self.slots.fill(FREE);
    }

    /// Makes the value of texts with the signature of `text` the last one, if there is one;
    /// says whether there is.
    #[inline(always)]
    pub(crate) fn seek(&mut self, text: &[u8]) -> bool {
        if self.last_fits(text) {
            return true;
        }
        let number = self.number_of(text);
        self.last = number.unwrap_or(self.last);
        number.is_some()
    }

    /// The value of texts with the signature of `text`, which becomes the last.
    #[inline(always)]
    pub(crate) fn find(&mut self, text: &[u8]) -> Option<&mut T> {
        if !self.last_fits(text) {
            self.last = self.number_of(text)?;
        }
        let (_, value) = self.entries.get_mut(self.last)?;
        Some(value)
    }

    /// Whether `text` has the signature of the last one: most do.
    #[inline(always)]
    pub(crate) fn last_fits(&self, text: &[u8]) -> bool {
        let last = self.entries.get(self.last);
        last.is_some_and(|(signature, _)| signature.fits(text))
    }

    /// The value that was found last.
    #[inline(always)]
    pub(crate) fn last(&self) -> Option<&T> {
        self.entries.get(self.last).map(|(_, value)| value)
    }

    /// Puts a value for texts with the signature of `text`, which becomes the last; none
    /// for texts that are too long to have one.
    ///
    /// # Panics
    ///
    /// Where there are 65,535 of them.
    pub(crate) fn put(&mut self, text: &[u8], value: T) {
        let Some(signature) = Signature::of(text) else {
            return;
        };
        if let Some(number) = self.number_of(text) {
            self.last = number;
            self.entries[number].1 = value;
            return;
        }
        self.last = self.entries.len();
        assert!(self.last < usize::from(FREE), "numbers end");
        self.entries.push((signature, value));
        let is_crowded = 2 * self.entries.len() >= self.slots.len();
        let from = if is_crowded {
            self.slots = vec![FREE; (4 * self.entries.len()).next_power_of_two()];
            0
        } else {
            self.last
        };
        for number in from..self.entries.len() {
            if let Some(slot) = self.slot(&self.entries[number].0) {
                self.slots[slot] = number as u16;
            }
        }
    }

    /// The number of the entry for texts with the signature of `text`.
    #[inline(never)]
    fn number_of(&self, text: &[u8]) -> Option<usize> {
        let signature = Signature::of(text)?;
        let number = usize::from(*self.slots.get(self.slot(&signature)?)?);
        (number < self.entries.len()).then_some(number)
    }

    /// The slot of this signature, or the free one that it would have; `None` where
    /// there are no slots.
    #[inline]
    fn slot(&self, signature: &Signature) -> Option<usize> {
        let mask = self.slots.len().checked_sub(1)?;
        let mut slot = signature.hash() & mask;
        // More than half of the slots are free.
        while let Some((own, _)) = self.entries.get(usize::from(self.slots[slot]))
            && own != signature
        {
            slot = (slot + 1) & mask;
        }
        Some(slot)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::collections::HashMap;

    proptest! {
        /// As a map of the texts without their digits would say it.
        #[test]
        fn texts_are_found_by_what_they_are_but_for_their_digits(
            texts in prop::collection::vec("[0-9]{1,2}[/ .-][a-c]{0,2}[0-9]{0,9}", 1..400),
        ) {
            let mut by_signature = BySignature::default();
            let mut expected = HashMap::new();
            for (number, text) in texts.iter().enumerate() {
                let plain: String = text
                    .chars()
                    .map(|c| if c.is_ascii_digit() { '0' } else { c })
                    .collect();
                prop_assert_eq!(
                    by_signature.find(text.as_bytes()).copied(),
                    expected.get(&plain).copied()
                );
                if number % 3 == 0 {
                    by_signature.put(text.as_bytes(), number);
                    expected.insert(plain, number);
                    prop_assert_eq!(by_signature.last().copied(), Some(number));
                }
                prop_assert_eq!(by_signature.len(), expected.len());
            }
            by_signature.clear();
            prop_assert_eq!(by_signature.find(texts[0].as_bytes()), None);
            by_signature.put(texts[0].as_bytes(), 7);
            prop_assert_eq!(by_signature.find(texts[0].as_bytes()), Some(&mut 7));
        }
    }
}
