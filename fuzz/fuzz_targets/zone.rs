//! Zone files (TZif, RFC 9636): of any bytes, one is read or refused; of one whose changes
//! rise, as §3.2 demands, local times are the instants that its rules give them.
#![no_main]

use jiff::tz::TimeZone;
use libfuzzer_sys::fuzz_target;
use metachron_core::zone::{OffsetSpans, Zone, ZoneFacts};

const NAME: &str = "Bay/Harbour";

/// Rules for the time behind the last change, north, south and none. Not any: those whose
/// summer changes sides from year to year have changes at new year that nobody lists.
const FOOTERS: [&str; 5] = [
    "",
    "BHT0",
    "BHT0BST,M3.5.0/1,M10.5.0",
    "<+1245>-12:45<+1345>,M9.5.0/2:45,M4.1.0/3:45",
    "BHT3BST,M10.3.0/0,M2.3.0/0",
];

/// A file whose offsets, changes and footer are made of `input`.
fn file(input: &[u8]) -> Option<Vec<u8>> {
    let (head, rest) = input.split_at_checked(14)?;
    let (offsets, counts) = head.split_at(12);
    let (changes, rest) = rest.split_at_checked(usize::from(counts[0]) * 5)?;
    let footer = FOOTERS[usize::from(*rest.first()?) % FOOTERS.len()];
    let header = |changes: u32, types: u32, letters: u32| {
        let counts = [0, 0, 0, changes, types, letters].map(u32::to_be_bytes);
        [&b"TZif2"[..], &[0; 15], counts.as_flattened()].concat()
    };
    let mut file = header(0, 1, 4);
    file.extend([0, 0, 0, 0, 0, 0]);
    file.extend(b"UTC\0");
    file.extend(header(counts[0].into(), 4, 12));
    let mut at = i64::from(counts[1]) * -(1 << 24);
    for change in changes.chunks(5) {
        at += 1 + i64::from(u32::from_be_bytes(change[..4].try_into().ok()?) >> 4);
        file.extend(at.to_be_bytes());
    }
    file.extend(changes.chunks(5).map(|change| change[4] % 4));
    for offset in offsets.chunks(3) {
        let seconds = i32::from(i16::from_be_bytes([offset[0], offset[1]]));
        file.extend((seconds * 2).to_be_bytes());
        file.extend([offset[2] % 2, (offset[2] / 2 % 3) * 4]);
    }
    file.extend(b"LMT\0BHT\0BST\0");
    file.push(b'\n');
    file.extend(footer.as_bytes());
    file.push(b'\n');
    Some(file)
}

fuzz_target!(|input: &[u8]| {
    if let Ok(rules) = TimeZone::tzif(NAME, input) {
        let zone = Zone::with_rules(NAME, rules);
        let _ = ZoneFacts::of(&zone, jiff::Timestamp::UNIX_EPOCH);
        let _ = zone.changes_after(jiff::Timestamp::MIN).take(50).count();
    }
    let Some(Ok(rules)) = file(input).map(|file| TimeZone::tzif(NAME, &file)) else {
        return;
    };
    let zone = Zone::with_rules(NAME, rules);
    let mut spans = OffsetSpans::default();
    for year in [-9998, 1, 1883, 1969, 1970, 1972, 2024, 2400, 9998] {
        for month in [1, 3, 7, 10] {
            let local = jiff::civil::date(year, month, 31).at(2, 30, 0, 0);
            assert_eq!(spans.local(&zone, local), zone.local(local));
            let Ok(at) = zone.rules().to_timestamp(local) else {
                continue;
            };
            let _ = ZoneFacts::of(&zone, at);
            assert_eq!(spans.offset_at(&zone, at), zone.offset_at(at));
            let mut last = at;
            for change in zone.changes_after(at).take(20) {
                assert!(change.timestamp() > last);
                last = change.timestamp();
            }
        }
    }
});
