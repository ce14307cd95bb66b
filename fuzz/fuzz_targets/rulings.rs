//! Any text as a rulings file: what is read of it is written as it is read again.
#![no_main]

use libfuzzer_sys::fuzz_target;
use metachron_core::decide::{Decider, RowContext};
use metachron_core::rulings::{Comments, Rulings};

fuzz_target!(|text: &str| {
    let Ok(rulings) = Rulings::from_toml(text) else {
        return;
    };
    let written = rulings.to_toml(&Comments::default());
    let again = Rulings::from_toml(&written).expect("what was written are rulings");
    assert_eq!(again, rulings);
    for name in rulings.column.keys() {
        if let Ok(Some(mut decider)) = Decider::new(&rulings, name) {
            for cell in ["", "05/03/2024", "2024-03-05T14:30:00Z", "45356.5", "2:30 PM"] {
                let _ = decider.decide(cell, &RowContext::default());
            }
        }
    }
});
