use super::*;

fn read(count: &str, number: &str) -> String {
    let count: Count = count.parse().unwrap();
    match count.read(number) {
        Ok(stamp) => stamp.to_string(),
        Err(why) => why.to_string(),
    }
}

#[test]
fn numbers_and_what_they_count() {
    for (count, number, expected) in [
        ("days since 1899-12-30", "45657", "2024-12-31"),
        (
            "days since 1899-12-30",
            "41646.57708",
            "2014-01-07T13:51:00",
        ),
        (
            "days since 1899-12-30",
            "41646.5770833333",
            "2014-01-07T13:51:00",
        ),
        (
            "days since 1899-12-30",
            "41646.57708333333",
            "2014-01-07T13:51:00",
        ),
        (
            "days since 1899-12-30",
            "41646.999999",
            "2014-01-07T23:59:59",
        ),
        ("days since 1899-12-30", "60", "1900-02-28"),
        ("days since 1899-12-30", "-1", "1899-12-29"),
        ("workbook-1900", "1", "1900-01-01"),
        ("workbook-1900", "59", "1900-02-28"),
        ("workbook-1900", "61", "1900-03-01"),
        ("workbook-1900", "45657", "2024-12-31"),
        ("workbook-1904", "44195", "2024-12-31"),
        ("unix-s", "1735603200", "2024-12-31T00:00:00Z"),
        ("unix-s", "1735603200.25", "2024-12-31T00:00:00.25Z"),
        ("unix-ms", "1735603200001", "2024-12-31T00:00:00.001Z"),
        ("unix-us", "-1", "1969-12-31T23:59:59.999999Z"),
        (
            "unix-ns",
            "1735603200000000001",
            "2024-12-31T00:00:00.000000001Z",
        ),
        ("julian-day", "2460676", "2024-12-31T12:00:00"),
        ("julian-day", "2460675.5", "2024-12-31T00:00:00"),
        ("modified-julian-day", "60675", "2024-12-31"),
        ("common-era-day", "1", "0001-01-01"),
        ("year-0-day", "366", "0001-01-01"),
        ("ticks-1601", "133800768000000000", "2024-12-31T00:00:00Z"),
        ("seconds-1582", "13954982400", "2024-12-31T00:00:00"),
        ("seconds-1904", "3818448000", "2024-12-31T00:00:00"),
        ("seconds-2001", "757296000", "2024-12-31T00:00:00"),
        ("hours since 2024-01-01", "1.5", "2024-01-01T01:30:00"),
        ("days since midnight", "0.57708", "13:51:00"),
        ("seconds since midnight", "49860", "13:51:00"),
        ("days since -0001-01-01", "0", "-000001-01-01"),
        (
            "seconds since 2024-01-01T00:00:00+01:00",
            "0",
            "2023-12-31T23:00:00Z",
        ),
    ] {
        assert_eq!(read(count, number), expected, "{number} {count}");
    }
}

#[test]
fn numbers_that_count_nothing() {
    for (count, number, reason) in [
        ("workbook-1900", "60", "29 February 1900"),
        ("workbook-1900", "0", "empty cell"),
        ("days since 1899-12-30", "0", "empty cell"),
        ("days since 1899-12-30", "0.57708", "13:51:00"),
        ("days since 1899-12-30", "45,123", "decimal"),
        ("unix-s", "99999999999999", "-9999 to 9999"),
        ("days since midnight", "1.5", "-9999 to 9999"),
        (
            "days since 1899-12-30",
            "1000000000000000000000000",
            "-9999 to 9999",
        ),
        (
            "days since 1899-12-30",
            "1.000000000000000000000000",
            "-9999 to 9999",
        ),
    ] {
        let found = read(count, number);
        assert!(found.contains(reason), "{number} {count}: {found}");
    }
}

#[test]
fn counts_are_written_as_they_are_read() {
    for (name, _) in SHORT_COUNTS {
        let count: Count = name.parse().unwrap();
        assert_eq!(count.to_string().parse(), Ok(count), "{name}");
    }
    for (text, hint) in [
        ("unix", "did you mean `unix-"),
        ("dayz since 1900-01-01", "did you mean `days`"),
        ("days since yesterday", "ISO 8601"),
    ] {
        let error = text.parse::<Count>().unwrap_err().to_string();
        assert!(error.contains(hint), "{error}");
    }
}

proptest::proptest! {
    /// No fraction, however written, leaves its day.
    #[test]
    fn a_fraction_stays_in_its_day(day in 1_u32..60_000, fraction in "[0-9]{1,18}") {
        let count = Count::WORKBOOK;
        let whole = count.read(&day.to_string()).unwrap();
        let with = count.read(&format!("{day}.{fraction}")).unwrap();
        proptest::prop_assert_eq!(with.date(), whole.date());
    }

    /// Every second of a day comes back from the fraction that a program
    /// writes for it, with five decimals or more.
    #[test]
    fn seconds_survive_their_fraction(second in 0_u32..86_400, decimals in 5_usize..15) {
        let fraction = f64::from(second) / 86_400.0;
        let text = format!("{:.decimals$}", 45_000.0 + fraction);
        let Ok(Stamp::DateTime(at)) = Count::WORKBOOK.read(&text) else {
            return Err(proptest::test_runner::TestCaseError::fail(text));
        };
        let read = at.time().duration_since(Time::midnight());
        // Where the decimals round up to the next day it is its last second.
        let wanted = i64::from(second);
        proptest::prop_assert!((read.as_secs() - wanted).abs() <= i64::from(decimals == 5 && second == 86_399), "{}: {}", text, at);
    }
}
