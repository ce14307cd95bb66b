//! Words in a tree of their letters, looked through letter by letter.

use fst::raw::{Fst, Output};
use rustc_hash::FxHashMap;

/// Words, each with a number.
#[derive(Clone)]
pub(super) enum WordTree {
    /// A finite state transducer that the build script made, looked through where it
    /// lies: the words of all languages need no making.
    BuiltIn(Fst<&'static [u8]>),
    /// Made from a list: the words of the locales that were asked for. (To make
    /// transducers of them made the tests of all locales take twice as long.)
    Made(Steps),
}

/// The steps from letter to letter.
#[derive(Clone, Debug, Default)]
pub(super) struct Steps {
    /// From a node, by a letter, to the next node.
    steps: FxHashMap<(u32, char), u32>,
    /// The numbers of the words that end at the nodes.
    ends: Vec<Option<u64>>,
}

/// Where some letters lead to.
#[derive(Clone, Copy, Debug)]
pub(super) struct Node {
    address: usize,
    /// What the letters so far add to the number of a word, in a transducer.
    output: Output,
}

impl std::fmt::Debug for WordTree {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            WordTree::BuiltIn(tree) => write!(f, "a built-in tree of {} words", tree.len()),
            WordTree::Made(steps) => steps.fmt(f),
        }
    }
}

impl WordTree {
    /// The tree of these words.
    pub(super) fn of<'w>(words: impl IntoIterator<Item = (&'w str, u64)>) -> WordTree {
        let mut tree = Steps::default();
        tree.ends.push(None);
        for (word, number) in words {
            tree.put(word, number);
        }
        WordTree::Made(tree)
    }

    /// The tree that the build script made.
    ///
    /// # Panics
    ///
    /// Where these bytes are no tree.
    pub(super) fn built_in(bytes: &'static [u8]) -> WordTree {
        WordTree::BuiltIn(Fst::new(bytes).expect("the build script made it"))
    }

    /// Where no letter leads to.
    pub(super) fn root(&self) -> Node {
        let address = match self {
            WordTree::BuiltIn(tree) => tree.root().addr(),
            WordTree::Made(_) => 0,
        };
        Node {
            address,
            output: Output::zero(),
        }
    }

    /// Where one letter more leads to.
    pub(super) fn step(&self, from: Node, letter: char) -> Option<Node> {
        let tree = match self {
            WordTree::BuiltIn(tree) => tree,
            WordTree::Made(tree) => {
                let to = *tree.steps.get(&(from.address as u32, letter))?;
                return Some(Node {
                    address: to as usize,
                    ..from
                });
            }
        };
        let mut bytes = [0; 4];
        let mut to = from;
        for byte in letter.encode_utf8(&mut bytes).bytes() {
            let node = tree.node(to.address);
            let transition = node.transition(node.find_input(byte)?);
            to = Node {
                address: transition.addr,
                output: to.output.cat(transition.out),
            };
        }
        Some(to)
    }

    /// The number of the word that ends there.
    pub(super) fn end(&self, at: Node) -> Option<u64> {
        match self {
            WordTree::BuiltIn(tree) => {
                let node = tree.node(at.address);
                let output = at.output.cat(node.final_output());
                node.is_final().then_some(output.value())
            }
            WordTree::Made(tree) => tree.ends[at.address],
        }
    }
}

impl Steps {
    fn put(&mut self, word: &str, number: u64) {
        let mut node = 0;
        for letter in word.chars() {
            let next = self.ends.len() as u32;
            node = *self.steps.entry((node, letter)).or_insert(next);
            if node == next {
                self.ends.push(None);
            }
        }
        self.ends[node as usize] = Some(number);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::collections::BTreeMap;

    /// The tree that the build script would make.
    fn transducer(words: &BTreeMap<String, u64>) -> WordTree {
        let tree = fst::Map::from_iter(words.iter().map(|(word, number)| (word, *number)));
        let bytes = tree.unwrap().as_fst().as_bytes().to_vec();
        WordTree::built_in(bytes.leak())
    }

    proptest! {
        /// A tree has the words that were put in, and no others, whoever made it.
        #[test]
        fn words_have_their_numbers(
            words in prop::collection::btree_map("[a-cäßж三]{1,4}", 0..u64::MAX >> 1, 0..30),
            other in "[a-cäßж三]{1,4}",
        ) {
            let made = WordTree::of(words.iter().map(|(word, number)| (&**word, *number)));
            for tree in [made, transducer(&words)] {
                let number = |word: &str| {
                    let step = |node, letter| tree.step(node, letter);
                    tree.end(word.chars().try_fold(tree.root(), step)?)
                };
                for (word, known) in &words {
                    prop_assert_eq!(number(word), Some(*known));
                }
                prop_assert_eq!(number(&other), words.get(&other).copied());
            }
        }
    }
}
