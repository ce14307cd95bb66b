//! Zones compared with those of another program: Python's `zoneinfo`.
//!
//! A sample that it made is kept here: `sample.py 4 1971 2024`, of zones whose
//! past no later release of the database has corrected. On demand it is asked again, for every
//! zone at thousands of instants, with the same database for both:
//!
//! ```text
//! cargo test --release -p metachron-core --test zones -- --ignored
//! ```

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{Offset, TimeZoneDatabase};
use metachron_core::zone::{Local, OffsetSpans, Zone, ZoneData, use_zone_data, zone_ids};
use std::collections::HashMap;
use std::io::{BufRead, BufReader};
use std::process::{Command, Stdio};

const SAMPLE: &str = include_str!("zones/sample.txt");

/// Zones that were looked up, each with the span of its last time.
#[derive(Default)]
struct Zones(HashMap<String, (Zone, OffsetSpans)>);

impl Zones {
    /// Compares a line of the sample.
    fn check(&mut self, line: &str) {
        let mut fields = line.split(' ');
        let name = fields.next().unwrap();
        let numbers: Vec<i64> = fields.map(|field| field.parse().unwrap()).collect();
        let [at, offset, first, second] = numbers[..] else {
            panic!("four numbers: {line}")
        };
        let known = self.0.entry(name.to_owned());
        let (zone, spans) = known.or_insert_with(|| {
            let zone: Zone = name.parse().unwrap();
            (zone, OffsetSpans::default())
        });
        let instant = |second: i64| Timestamp::from_second(second).unwrap();
        assert_eq!(
            i64::from(zone.offset_at(instant(at)).seconds()),
            offset,
            "{line}"
        );
        let local: DateTime = Offset::UTC.to_datetime(instant(at));
        let runs = [instant(at - first), instant(at - second)];
        let expected = match first - second {
            0 => Local::Unique(runs[0]),
            1.. => Local::Fold(runs),
            _ => Local::Gap([runs[1], runs[0]]),
        };
        assert_eq!(zone.local(local), expected, "{line}");
        assert_eq!(spans.local(zone, local), expected, "{line}");
    }
}

#[test]
fn zones_are_as_the_sample_has_them() {
    let mut zones = Zones::default();
    for line in SAMPLE.lines() {
        zones.check(line);
    }
    assert!(zones.0.len() > 400, "{}", zones.0.len());
}

#[test]
#[ignore = "asks python3, for minutes"]
fn zones_are_as_zoneinfo_has_them() {
    let python = |args: &[&str]| {
        let mut command = Command::new("python3");
        command.args(args).stdout(Stdio::piped());
        command
    };
    let folder = python(&["-c", "import zoneinfo; print(zoneinfo.TZPATH[0])"])
        .output()
        .unwrap();
    let folder = String::from_utf8(folder.stdout).unwrap();
    let zones = TimeZoneDatabase::from_dir(folder.trim()).expect("the folder that zoneinfo reads");
    use_zone_data(zones, ZoneData::Folder(folder.trim().into(), None)).expect("none is in use");
    let script = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/zones/sample.py");
    let mut command = python(&[script, "10000", "1850", "2100"]);
    let mut child = command.args(zone_ids()).spawn().unwrap();
    let lines = BufReader::new(child.stdout.take().unwrap()).lines();
    let (mut zones, mut checked) = (Zones::default(), 0);
    for line in lines {
        zones.check(&line.unwrap());
        checked += 1;
    }
    assert!(child.wait().unwrap().success());
    assert!(checked > 4_000_000, "{checked}");
}
