use super::*;

fn decider(ruling: &str) -> Decider {
    let text = format!("metachron = 1\n[column.x]\n{ruling}");
    Decider::new(&Rulings::from_toml(&text).unwrap(), "x")
        .unwrap()
        .unwrap()
}

fn convert(ruling: &str, raw: &str) -> (Verdict, String) {
    let mut clean = Vec::new();
    let (verdict, cell) = decider(ruling).convert(raw, &mut clean);
    (verdict, cell.text(&clean))
}

#[test]
fn verdicts_of_cells() {
    use Verdict::{Blank, Certain, Open, Settled, Unreadable};
    let dmy = "kind = \"date\"\nread.forms = [\"d/M/yyyy\"]";
    let open = "kind = \"date\"\nread.forms = [[\"d/M/yyyy\", \"M/d/yyyy\"]]";
    let ruled =
        "kind = \"date\"\nread.forms = [[\"d/M/yyyy\", \"M/d/yyyy\"]]\nread.order = \"mdy\"";
    let short = "kind = \"date\"\nread.forms = [\"d/M/yy\"]";
    let window = "kind = \"date\"\nread.forms = [\"d/M/yy\"]\nread.century = 1947";
    let datetime = "kind = \"datetime\"\nread.forms = [\"yyyy-MM-dd HH:mm\", \"yyyy-MM-dd\"]";
    let cut = "kind = \"date\"\nread.forms = [\"yyyy-MM-dd HH:mm\"]";
    let instant = "kind = \"instant\"\nread.forms = [\"yyyy-MM-dd'T'HH:mm:ssXXX\", \"yyyy-MM-dd'T'HH:mm:ss\"]";
    let in_order = "kind = \"date\"\nread.forms = [\"M/d/yyyy\", \"d/M/yyyy\"]";
    for (ruling, raw, verdict, clean) in [
        (dmy, "31/12/2024", Certain, "2024-12-31"),
        (dmy, "05/05/2024", Certain, "2024-05-05"),
        (dmy, "05/06/2024", Settled, "2024-06-05"),
        (dmy, "12/31/2024", Unreadable, ""),
        (dmy, "2024-12-31", Unreadable, ""),
        (dmy, "31/02/2024", Unreadable, ""),
        (dmy, "soon", Unreadable, ""),
        (dmy, "", Blank, ""),
        (dmy, " N/A ", Blank, ""),
        (open, "31/12/2024", Certain, "2024-12-31"),
        (open, "12/31/2024", Certain, "2024-12-31"),
        (open, "05/06/2024", Open, ""),
        (open, "06/06/2024", Certain, "2024-06-06"),
        (ruled, "05/06/2024", Settled, "2024-05-06"),
        (ruled, "31/12/2024", Unreadable, ""),
        (short, "31/12/24", Open, ""),
        (window, "31/12/24", Settled, "2024-12-31"),
        (window, "31/12/47", Settled, "1947-12-31"),
        (datetime, "2024-12-31 10:00", Certain, "2024-12-31T10:00:00"),
        (datetime, "2024-12-31", Settled, "2024-12-31T00:00:00"),
        (cut, "2024-12-31 00:00", Settled, "2024-12-31"),
        (cut, "2024-12-31 10:00", Open, ""),
        (
            instant,
            "2024-12-31T10:00:00+01:00",
            Certain,
            "2024-12-31T09:00:00Z",
        ),
        (
            instant,
            "2024-12-31T10:00:00Z",
            Certain,
            "2024-12-31T10:00:00Z",
        ),
        (instant, "2024-12-31T10:00:00", Open, ""),
        (instant, "2024-12-31T23:59:60Z", Open, ""),
        (in_order, "05/06/2024", Settled, "2024-05-06"),
        (in_order, "31/12/2024", Certain, "2024-12-31"),
    ] {
        assert_eq!(
            convert(ruling, raw),
            (verdict, clean.to_owned()),
            "{raw} under {ruling}"
        );
    }
}

#[test]
fn notes_say_why_and_what_else() {
    let open = "kind = \"date\"\nread.forms = [[\"d/M/yyyy\", \"M/d/yyyy\"]]";
    let note = decider(open).decide("05/06/2024", &RowContext::default());
    assert_eq!(note.sentence(), "fits day-month-year and month-day-year");
    assert_eq!(
        note.readings(),
        ["2024-06-05 as d/M/yyyy", "2024-05-06 as M/d/yyyy"]
    );

    let short = "kind = \"date\"\nread.forms = [\"d/M/yy\"]";
    let note = decider(short).decide("31/12/24", &RowContext::default());
    assert_eq!(note.verdict, Verdict::Open);
    assert_eq!(
        note.readings(),
        [
            "1924-12-31 as d/M/yy in 1900–1999",
            "2024-12-31 as d/M/yy in 2000–2099"
        ]
    );

    let dmy = "kind = \"date\"\nread.forms = [\"dd/MM/yyyy\"]";
    for (raw, reason) in [
        ("31/02/2024", "February 2024 has no day 31 in dd/MM/yyyy"),
        (
            "2024-12-31",
            "no form of the ruling writes it; only yyyy-M-d would read it",
        ),
        ("5/1/2024", "more or fewer digits than dd/MM/yyyy has"),
        ("whenever", "no date or time can be read in it"),
    ] {
        let note = decider(dmy).decide(raw, &RowContext::default());
        assert_eq!(
            (note.verdict, note.sentence().as_str()),
            (Verdict::Unreadable, reason)
        );
    }

    // Neither order is favoured where only the digits are at fault.
    let note = decider(dmy).decide("5/1/2024", &RowContext::default());
    assert_eq!(
        note.readings(),
        ["2024-01-05 as d/M/yyyy", "2024-05-01 as M/d/yyyy"]
    );

    let instant = "kind = \"instant\"\nread.forms = [\"yyyy-MM-dd HH:mm:ssXXX\"]";
    let note = decider(instant).decide("2016-12-31 23:59:60Z", &RowContext::default());
    assert_eq!(
        note.readings(),
        [
            "2016-12-31T23:59:59Z, the second before",
            "2017-01-01T00:00:00Z, the second after"
        ]
    );
}

proptest::proptest! {
    /// What the cache remembers is what would be decided without it.
    #[test]
    fn the_cache_changes_nothing(
        cells in proptest::collection::vec("[0-3]?[0-9]/[01]?[0-9]/20[0-2][0-9]|n/a|[a-z]{0,40}", 1..50),
    ) {
        let ruling = "kind = \"date\"\nread.forms = [[\"d/M/yyyy\", \"M/d/yyyy\"]]";
        let mut cached = decider(ruling);
        for cell in cells.iter().chain(&cells) {
            let mut clean = Vec::new();
            let (verdict, out) = cached.convert(cell, &mut clean);
            let (fresh, stamp) = decider(ruling).read(cell, &RowContext::default());
            proptest::prop_assert_eq!(verdict, fresh);
            let text = stamp.map(|stamp| stamp.to_string()).unwrap_or_default();
            proptest::prop_assert_eq!(out.text(&clean), text);
        }
    }
}

/// What is ruled for cells that nothing settles needs no other cell of the row.
#[test]
fn what_is_open_has_the_order_that_is_ruled_otherwise() {
    let read = |zone: &str| {
        format!(
            "metachron = 1\n[column.at]\nkind = \"{}\"\n\
             read = {{ forms = [[\"dd/MM/yyyy HH:mm\", \"MM/dd/yyyy HH:mm\"]], \
             otherwise = \"mdy\"{zone} }}",
            if zone.is_empty() {
                "datetime"
            } else {
                "instant"
            },
        )
    };
    let in_new_york = read(", zone = \"America/New_York\"");
    for (rulings, cell, verdict, text) in [
        (
            &read(""),
            "05/06/2024 12:00",
            Verdict::Settled,
            "2024-05-06T12:00:00",
        ),
        (
            &read(""),
            "25/06/2024 12:00",
            Verdict::Certain,
            "2024-06-25T12:00:00",
        ),
        (
            &in_new_york,
            "05/06/2024 12:00",
            Verdict::Settled,
            "2024-05-06T16:00:00Z",
        ),
        // Read month first, it was twice: the order does not say which.
        (&in_new_york, "11/03/2024 01:30", Verdict::Open, ""),
        (
            &in_new_york,
            "03/11/2024 01:30",
            Verdict::Settled,
            "2024-03-11T05:30:00Z",
        ),
    ] {
        let rulings = Rulings::from_toml(rulings).unwrap();
        let mut decider = Decider::new(&rulings, "at").unwrap().unwrap();
        let mut clean = Vec::new();
        let (found, out) = decider.convert(cell, &mut clean);
        assert_eq!(
            (found, out.text(&clean).as_str()),
            (verdict, text),
            "{cell}"
        );
    }
}
