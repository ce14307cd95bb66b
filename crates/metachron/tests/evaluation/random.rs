//! Numbers that look random and are the same in every run.

use jiff::ToSpan;
use jiff::civil::{Date, date};

/// Numbers that look random and are the same in every run.
pub struct Random(u64);

impl Random {
    pub fn new(seed: u64) -> Random {
        Random(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1)
    }

    pub fn below(&mut self, end: u64) -> u64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % end
    }

    pub fn pick<T: Copy>(&mut self, from: &[T]) -> T {
        from[self.below(from.len() as u64) as usize]
    }

    pub fn day(&mut self) -> Date {
        let years = 1 + self.below(4) as i64;
        self.day_within(years * 365)
    }

    pub fn day_within(&mut self, days: i64) -> Date {
        date(2021, 1, 1) + (self.below(days as u64) as i64).days()
    }
}
