//! Any text as a pattern: what is read of it is written as it is read again.
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_core::form::Form;

fuzz_target!(|text: &str| {
    let Ok(form) = text.parse::<Form>() else {
        return;
    };
    let written = form.to_string();
    let again: Form = written.parse().expect("what was written is a pattern");
    assert_eq!(again.to_string(), written);
});
