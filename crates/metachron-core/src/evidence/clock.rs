//! What the times of day and the offsets of a column have in common.

use jiff::civil::{DateTime, Time};

/// The times of day that there are, as long as they are few.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct TimesSeen {
    times: Few<(u8, u8, u8), 2>,
    /// Their hours, a bit each, however many they are.
    pub hours: u32,
}

/// The offsets from UTC that are written, in seconds, as long as they are few,
/// each with the months it is in, a bit each.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct OffsetsSeen {
    offsets: Few<i32, 3>,
    months: [u16; 3],
    /// Whether some are no whole quarters of an hour, as those of all zones are
    /// today.
    pub are_odd: bool,
}

/// A quarter of an hour, in seconds.
const QUARTER: i32 = 15 * 60;

/// A set of a few values; once there were more, it holds none.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Few<T, const MOST: usize> {
    values: [Option<T>; MOST],
    were_more: bool,
}

impl<T: Copy, const MOST: usize> Default for Few<T, MOST> {
    fn default() -> Self {
        Few {
            values: [None; MOST],
            were_more: false,
        }
    }
}

impl<T: Copy + Ord, const MOST: usize> Few<T, MOST> {
    /// Takes a value in; says its place, where it has one.
    #[inline]
    fn add(&mut self, value: T) -> Option<usize> {
        if self.were_more {
            return None;
        }
        if let Some(index) = self.values.iter().position(|known| *known == Some(value)) {
            return Some(index);
        }
        let Some(free) = self.values.iter().position(Option::is_none) else {
            self.values = [None; MOST];
            self.were_more = true;
            return None;
        };
        self.values[free] = Some(value);
        Some(free)
    }

    fn all(&self) -> impl Iterator<Item = (usize, T)> + '_ {
        let values = self.values.iter().enumerate();
        values.filter_map(|(index, value)| Some((index, (*value)?)))
    }
}

impl TimesSeen {
    /// Takes a time of day in: hour, minute and second.
    #[inline]
    pub(super) fn add(&mut self, [hour, minute, second]: [u8; 3]) {
        self.times.add((hour, minute, second));
        self.hours |= 1 << hour;
    }

    /// Takes a time in that has more parts.
    pub(super) fn add_with_fraction(&mut self, hour: u8) {
        self.times = Few {
            were_more: true,
            ..Few::default()
        };
        self.hours |= 1 << hour;
    }

    pub(super) fn merge(&mut self, other: &TimesSeen) {
        if other.times.were_more {
            self.times = other.times;
        }
        for (_, value) in other.times.all() {
            self.times.add(value);
        }
        self.hours |= other.hours;
    }

    /// Whether there were so many that none is kept.
    #[inline]
    pub(super) fn were_many(&self) -> bool {
        self.times.were_more
    }

    /// Whether there was none.
    pub fn is_empty(&self) -> bool {
        *self == TimesSeen::default()
    }

    /// The times of day, in order; none where there were many.
    pub fn all(&self) -> Vec<Time> {
        let mut times: Vec<_> = self.times.all().map(|(_, time)| time).collect();
        times.sort_unstable();
        let time = |(hour, minute, second): (u8, u8, u8)| {
            Time::new(hour as i8, minute as i8, second as i8, 0).ok()
        };
        times.into_iter().filter_map(time).collect()
    }
}

impl OffsetsSeen {
    /// Takes the offset of a cell in, which stands next to this local time.
    pub(super) fn add(&mut self, offset: i32, local: DateTime) {
        self.put(offset, 1 << local.month());
        self.are_odd |= offset % QUARTER != 0;
    }

    fn put(&mut self, offset: i32, months: u16) {
        match self.offsets.add(offset) {
            Some(index) => self.months[index] |= months,
            None => self.months = [0; 3],
        }
    }

    pub(super) fn merge(&mut self, other: &OffsetsSeen) {
        let are_odd = self.are_odd || other.are_odd;
        if other.offsets.were_more {
            *self = *other;
        }
        self.are_odd = are_odd;
        for (index, offset) in other.offsets.all() {
            self.put(offset, other.months[index]);
        }
    }

    /// The offsets, in order, each with its months; none where there were many.
    pub fn all(&self) -> Vec<(i32, u16)> {
        let offsets = self.offsets.all();
        let mut all: Vec<_> = offsets
            .map(|(index, offset)| (offset, self.months[index]))
            .collect();
        all.sort_unstable();
        all
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn few_are_kept_and_many_are_not() {
        let mut seen = TimesSeen::default();
        for hour in [23, 22, 23] {
            seen.add([hour, 0, 0]);
        }
        assert_eq!(
            seen.all(),
            [Time::constant(22, 0, 0, 0), Time::constant(23, 0, 0, 0)]
        );
        let mut more = TimesSeen::default();
        more.add([1, 0, 0]);
        more.merge(&seen);
        assert!(more.all().is_empty());
        seen.merge(&more);
        assert!(seen.all().is_empty());
        let mut offsets = OffsetsSeen::default();
        for (month, offset) in [(1, 3600), (7, 7200), (2, 3600)] {
            offsets.add(offset, date(2024, month, 3).at(12, 0, 0, 0));
        }
        assert_eq!(offsets.all(), [(3600, 0b110), (7200, 1 << 7)]);
    }
}
