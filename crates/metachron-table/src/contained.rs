//! Damage that a reader of a format does not expect.
//!
//! Packages that read binary formats believe the lengths and the places that a
//! file states; where they lie, some panic. That is a damaged file, and has to
//! be said as any other damage is.

use std::cell::Cell;
use std::panic::{AssertUnwindSafe, catch_unwind, set_hook, take_hook};
use std::sync::Once;

thread_local! {
    /// Whether a panic of this thread is expected.
    static IS_CONTAINED: Cell<bool> = const { Cell::new(false) };
}

/// What `act` does; `None` where it panics, of which nothing is printed. Panics of other
/// threads are told as ever.
pub(crate) fn contained<T>(act: impl FnOnce() -> T) -> Option<T> {
    static WRAP: Once = Once::new();
    WRAP.call_once(|| {
        let usual = take_hook();
        set_hook(Box::new(move |info| {
            if !IS_CONTAINED.get() {
                usual(info);
            }
        }));
    });
    let before = IS_CONTAINED.replace(true);
    // What `act` has half done is dropped with it.
    let result = catch_unwind(AssertUnwindSafe(act));
    IS_CONTAINED.set(before);
    result.ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_panic_is_nothing() {
        assert_eq!(contained(|| 5), Some(5));
        let none: [u8; 0] = [];
        assert_eq!(contained(|| none[none.len()]), None);
    }
}
