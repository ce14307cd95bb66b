//! Damage that a reader of a format does not expect.
//!
//! Packages that read binary formats believe the lengths and the places that a
//! file states; where they lie, some panic. That is a damaged file, and has to
//! be said as any other damage is.

use std::panic::{AssertUnwindSafe, catch_unwind, set_hook, take_hook};
use std::sync::Mutex;

/// The hook is one for the whole process.
static HOOK: Mutex<()> = Mutex::new(());

/// What `act` does; `None` where it panics, of which nothing is printed.
pub(crate) fn contained<T>(act: impl FnOnce() -> T) -> Option<T> {
    let _one_at_a_time = HOOK.lock();
    let hook = take_hook();
    set_hook(Box::new(|_| {}));
    // What `act` has half done is dropped with it.
    let result = catch_unwind(AssertUnwindSafe(act));
    set_hook(hook);
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
