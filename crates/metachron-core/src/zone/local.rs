//! What local times are on the world's time line.

use super::Zone;
use super::database::zone;
use super::named::changes_after;
use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, Offset, TimeZone};

/// What a local time is in a zone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Local {
    /// An instant.
    Unique(Timestamp),
    /// It was skipped when clocks went forward. The instants are what it would
    /// be by the offset behind the gap and by the one before it, the earlier
    /// first.
    Gap([Timestamp; 2]),
    /// It was twice when clocks went back, at these instants.
    Fold([Timestamp; 2]),
    /// An instant beyond those that can be computed with.
    OutOfRange,
}

/// Spans of time that have one offset in a zone, as far as cells were met
/// in them: most cells are in that of the one before, or in another that is
/// known, and need no search of the zone's rules.
///
/// ```
/// use jiff::civil::date;
/// use metachron_core::zone::{Local, OffsetSpans, Zone};
///
/// let zone: Zone = "Europe/Riga".parse()?;
/// let mut spans = OffsetSpans::default();
/// for month in 1..=12 {
///     let noon = date(2024, month, 3).at(12, 0, 0, 0);
///     let found = spans.local(&zone, noon);
///     assert_eq!(found, zone.local(noon));
///     let Local::Unique(at) = found else { unreachable!() };
///     assert_eq!(spans.offset_at(&zone, at), zone.offset_at(at));
/// }
/// # Ok::<(), metachron_core::zone::NoSuchZone>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct OffsetSpans {
    local: Known<Packed>,
    instants: Known<Timestamp>,
}

/// Spans that were met, in order.
#[derive(Clone, Debug)]
struct Known<T> {
    offset_spans: Vec<(T, T, Offset)>,
    /// Where the span stands that the last time of each neighbourhood was
    /// in: times in no order would make a search of every one.
    indexes: Box<[u8; NEAR]>,
}

/// So many neighbourhoods have a place of their own: sixteen years of months.
const NEAR: usize = 256;

/// A time that is looked for among spans.
trait Sought: Copy + Ord {
    /// The number of its neighbourhood, of about a month.
    fn near(self) -> i64;
}

impl Sought for Packed {
    #[inline]
    fn near(self) -> i64 {
        self >> 22
    }
}

impl Sought for Timestamp {
    #[inline]
    fn near(self) -> i64 {
        self.as_second() >> 21
    }
}

/// More are not remembered: the changes of thirty years.
const MOST: usize = 64;

impl<T> Default for Known<T> {
    fn default() -> Self {
        Known {
            offset_spans: Vec::new(),
            indexes: Box::new([0; NEAR]),
        }
    }
}

impl<T: Sought> Known<T> {
    #[inline]
    fn find(&mut self, at: T) -> Option<Offset> {
        let has = |&(from, to, offset): &(T, T, Offset)| (from <= at && at < to).then_some(offset);
        let index = &mut self.indexes[at.near() as usize % NEAR];
        if let Some(offset) = self.offset_spans.get(usize::from(*index)).and_then(has) {
            return Some(offset);
        }
        let behind = self.offset_spans.partition_point(|(from, ..)| *from <= at);
        let before = behind.checked_sub(1)?;
        *index = before as u8;
        has(&self.offset_spans[before])
    }

    fn learn(&mut self, span: (T, T, Offset)) {
        if self.offset_spans.len() == MOST {
            self.offset_spans.clear();
        }
        let index = self
            .offset_spans
            .partition_point(|(from, ..)| *from <= span.0);
        // Indexes behind it are out of date, and are found again.
        self.offset_spans.insert(index, span);
    }
}

/// A local time down to its second in one number, which compares as the time
/// does at a third of the cost: no change of clocks falls within a second.
type Packed = i64;

fn packed(at: DateTime) -> Packed {
    let (date, time) = (at.date(), at.time());
    let day = (i64::from(date.year()) << 4 | i64::from(date.month())) << 5 | i64::from(date.day());
    let minute = (day << 5 | i64::from(time.hour())) << 6 | i64::from(time.minute());
    minute << 6 | i64::from(time.second())
}

impl Zone {
    /// What the local time `at` is in the zone.
    pub fn local(&self, at: DateTime) -> Local {
        local(self.rules(), at)
    }
}

impl OffsetSpans {
    /// What the local time `at` is in `zone`, which must always be the same.
    #[inline]
    pub fn local(&mut self, zone: &Zone, at: DateTime) -> Local {
        match self.local.find(packed(at)) {
            Some(offset) => instant(offset, at),
            None => self.search(zone, at),
        }
    }

    /// The instant that the local time `at` is, if its span is known.
    #[inline]
    pub(crate) fn known(&mut self, at: DateTime) -> Option<Timestamp> {
        let offset = self.local.find(packed(at))?;
        offset.to_timestamp(at).ok()
    }

    #[cold]
    fn search(&mut self, zone: &Zone, at: DateTime) -> Local {
        let found = zone.local(at);
        if let Local::Unique(instant) = found
            && let Some((from, to, offset)) = context(zone.rules(), instant)
        {
            self.local.learn((packed(from), packed(to), offset));
        }
        found
    }

    /// The offset of `zone` at an instant.
    #[inline]
    pub fn offset_at(&mut self, zone: &Zone, at: Timestamp) -> Offset {
        match self.instants.find(at) {
            Some(offset) => offset,
            None => self.search_offset(zone, at),
        }
    }

    #[cold]
    fn search_offset(&mut self, zone: &Zone, at: Timestamp) -> Offset {
        let offset = zone.offset_at(at);
        if let Ok(behind) = at.checked_add(NANOSECOND) {
            let since = zone.rules().preceding(behind).next();
            let until = zone.changes_after(at).next();
            let from = since.map_or(Timestamp::MIN, |since| since.timestamp());
            let to = until.map_or(Timestamp::MAX, |until| until.timestamp());
            self.instants.learn((from, to, offset));
        }
        offset
    }
}

const NANOSECOND: jiff::SignedDuration = jiff::SignedDuration::from_nanos(1);

/// The local times around `at` that have its offset and are once.
fn context(rules: &TimeZone, at: Timestamp) -> Option<(DateTime, DateTime, Offset)> {
    let offset = rules.to_offset(at);
    let since = rules.preceding(at.checked_add(NANOSECOND).ok()?).next();
    let until = changes_after(rules, at).next();
    let from = match since {
        Some(since) => {
            let before = since.timestamp().checked_sub(NANOSECOND).ok()?;
            // Behind a fold, times that were twice are not among them.
            let earlier = rules.to_offset(before);
            offset
                .to_datetime(since.timestamp())
                .max(earlier.to_datetime(since.timestamp()))
        }
        None => DateTime::MIN,
    };
    let to = match until {
        Some(until) => {
            let later = until.offset();
            offset
                .to_datetime(until.timestamp())
                .min(later.to_datetime(until.timestamp()))
        }
        None => DateTime::MAX,
    };
    Some((from, to, offset))
}

fn instant(offset: Offset, at: DateTime) -> Local {
    match offset.to_timestamp(at) {
        Ok(at) => Local::Unique(at),
        Err(_) => Local::OutOfRange,
    }
}

fn local(rules: &TimeZone, at: DateTime) -> Local {
    let both = |before: Offset, after: Offset| {
        let [one, other] = [before, after].map(|offset| offset.to_timestamp(at));
        Some([one.ok()?, other.ok()?])
    };
    match rules.to_ambiguous_timestamp(at).offset() {
        AmbiguousOffset::Unambiguous { offset } => instant(offset, at),
        AmbiguousOffset::Gap { before, after } => {
            both(after, before).map_or(Local::OutOfRange, Local::Gap)
        }
        AmbiguousOffset::Fold { before, after } => {
            both(before, after).map_or(Local::OutOfRange, Local::Fold)
        }
    }
}

/// What the local time `at` is in the zone `id`; `None` where there is no such
/// zone.
pub(crate) fn local_in(id: &str, at: DateTime) -> Option<Local> {
    Some(local(&zone(id)?, at))
}

/// The offset from UTC, in seconds, that the zone `id` has at an instant.
pub(crate) fn offset_in(id: &str, at: Timestamp) -> Option<i32> {
    Some(zone(id)?.to_offset(at).seconds())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::zone::zone_ids;
    use jiff::civil::date;
    use proptest::prelude::*;

    fn riga() -> Zone {
        "Europe/Riga".parse().unwrap()
    }

    #[test]
    fn local_times_that_never_were_and_that_were_twice() {
        let at = |month, day, hour| date(2025, month, day).at(hour, 30, 0, 0);
        let texts = |both: [Timestamp; 2]| both.map(|at| at.to_string());
        let Local::Gap(both) = riga().local(at(3, 30, 3)) else {
            panic!("clocks went forward at 3")
        };
        assert_eq!(
            texts(both),
            ["2025-03-30T00:30:00Z", "2025-03-30T01:30:00Z"]
        );
        let Local::Fold(both) = riga().local(at(10, 26, 3)) else {
            panic!("clocks went back at 4")
        };
        assert_eq!(
            texts(both),
            ["2025-10-26T00:30:00Z", "2025-10-26T01:30:00Z"]
        );
        assert!(matches!(riga().local(at(10, 26, 5)), Local::Unique(_)));
        assert_eq!(local_in("Europe/Nowhere", at(1, 1, 1)), None);
        assert_eq!(riga().local(DateTime::MIN), Local::OutOfRange);
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]

        /// The span that a time is in says of every other time what the
        /// zone says.
        #[test]
        fn spans_say_what_the_zone_says(
            zone in prop::sample::select(zone_ids()),
            seconds in prop::collection::vec(-3_000_000_000..4_000_000_000_i64, 20),
            near in prop::collection::vec(-200_000..200_000_i64, 20),
        ) {
            let zone: Zone = zone.parse().unwrap();
            let mut offset_spans = OffsetSpans::default();
            for (seconds, near) in seconds.into_iter().zip(near) {
                let at = Timestamp::from_second(seconds).unwrap();
                let change = zone.rules().following(at).next().map_or(at, |next| next.timestamp());
                let close = Timestamp::from_second(change.as_second() + near).unwrap_or(at);
                for at in [at, close] {
                    prop_assert_eq!(offset_spans.offset_at(&zone, at), zone.offset_at(at));
                    let at = Offset::UTC.to_datetime(at);
                    prop_assert_eq!(offset_spans.local(&zone, at), zone.local(at), "{} {}", zone, at);
                }
            }
        }

        /// An instant shown in a zone and read back is itself, or one of two.
        #[test]
        fn instants_come_back(
            zone in prop::sample::select(zone_ids()),
            seconds in -10_000_000_000..10_000_000_000_i64,
        ) {
            let zone: Zone = zone.parse().unwrap();
            let at = Timestamp::from_second(seconds).unwrap();
            match zone.local(zone.offset_at(at).to_datetime(at)) {
                Local::Unique(same) => prop_assert_eq!(same, at),
                Local::Fold(both) => prop_assert!(both.contains(&at)),
                other => prop_assert!(false, "{other:?}"),
            }
        }
    }
}
