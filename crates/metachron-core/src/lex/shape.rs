//! Shapes, each of which stands for all cells of the same token classes.

use super::{Class, Lexed};

/// The classes of a cell's tokens, in order.
#[derive(Clone, PartialEq, Eq, Hash)]
pub struct Shape {
    classes: Box<[Class]>,
    codes: Box<[u32]>,
    hash: u64,
}

impl Shape {
    pub(super) fn of(lexed: &Lexed<'_>) -> Shape {
        Shape {
            classes: lexed.tokens().iter().map(|token| token.class).collect(),
            codes: lexed.codes().into(),
            hash: lexed.hash(),
        }
    }

    /// The classes, one for each token.
    pub fn classes(&self) -> &[Class] {
        &self.classes
    }

    /// A hash of the shape, the same on every machine and in every run.
    pub fn hash(&self) -> u64 {
        self.hash
    }

    /// Whether `lexed` has this shape.
    #[inline]
    pub fn fits(&self, lexed: &Lexed<'_>) -> bool {
        self.hash == lexed.hash() && *self.codes == *lexed.codes()
    }
}

impl std::fmt::Debug for Shape {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_list().entries(self.classes.iter()).finish()
    }
}
