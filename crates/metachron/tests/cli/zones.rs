//! Local times onto the world's time line, and instants in a zone.

use crate::harness::{Folder, converted, holds};

/// A logger's rows, 25 minutes apart, through the night in which Lisbon's
/// clocks go back: from 12:00 UTC on 26 October 2024.
fn logger() -> String {
    let mut text = "at,warmth\n".to_owned();
    for row in 0..60 {
        let minutes = 12 * 60 + 25 * row;
        // 01:00 UTC on the 27th is when summer ends.
        let local = if minutes < 25 * 60 {
            minutes + 60
        } else {
            minutes
        };
        let (day, hour, minute) = (26 + local / 1440, local / 60 % 24, local % 60);
        text += &format!("{day}/10/2024 {hour:02}:{minute:02},{row}\n");
    }
    text
}

#[test]
fn the_night_in_which_clocks_go_back_is_settled_by_place() {
    let folder = Folder::with("log.csv", logger());
    let run = folder
        .run(&[
            "convert",
            "log.csv",
            "--read-zone",
            "Europe/Lisbon",
            "-o",
            "out.csv",
        ])
        .status(0);
    holds(&run.err, &["55 certain, 5 settled"]);
    let clean = folder.read("out.csv");
    let rows: Vec<&str> = clean.lines().skip(1).collect();
    for (row, line) in rows.iter().enumerate() {
        let minutes = 12 * 60 + 25 * row;
        let (day, hour, minute) = (26 + minutes / 1440, minutes / 60 % 24, minutes % 60);
        assert_eq!(
            *line,
            format!("2024-10-{day}T{hour:02}:{minute:02}:00Z,{row}")
        );
    }
    let why = folder.run(&["survey", "log.csv", "--read-zone", "Europe/Lisbon", "--why"]);
    holds(
        &why.out,
        &[
            "time order",
            "with several readings have one left",
            "Europe/Lisbon",
        ],
    );
}

#[test]
fn out_of_order_it_stays_open_until_it_is_ruled() {
    let folder = Folder::with(
        "hand.csv",
        "at\n2024-10-27 01:30\n2024-03-31 01:30\n2024-07-01 12:00\n2024-01-01 12:00\n",
    );
    folder
        .run(&[
            "convert",
            "hand.csv",
            "--read-zone",
            "Europe/Lisbon",
            "-o",
            "out.csv",
        ])
        .status(3);
    assert_eq!(
        folder.read("out.csv"),
        "at\n\"\"\n\"\"\n2024-07-01T11:00:00Z\n2024-01-01T12:00:00Z\n"
    );
    holds(
        &folder.read("out.review.csv"),
        &[
            "clocks in Europe/Lisbon went back over that time: it was twice",
            "2024-10-27T00:30:00Z, the earlier; 2024-10-27T01:30:00Z, the later",
            "clocks in Europe/Lisbon went forward over that time: it never was",
            "2024-03-31T00:30:00Z, the earlier; 2024-03-31T01:30:00Z, the later",
        ],
    );
    for (policy, overlap, gap) in [
        ("earlier", "2024-10-27T00:30:00Z", "2024-03-31T00:30:00Z"),
        ("later", "2024-10-27T01:30:00Z", "2024-03-31T01:30:00Z"),
    ] {
        let in_gap = format!("at.read.in-gap={policy}");
        let in_overlap = format!("at.read.in-overlap={policy}");
        let zone = ["--read-zone", "Europe/Lisbon"];
        let run = folder
            .run(&[
                "convert",
                "hand.csv",
                zone[0],
                zone[1],
                "--set",
                &in_gap,
                "--set",
                &in_overlap,
            ])
            .status(0);
        holds(&run.out, &[overlap, gap]);
        holds(&run.err, &["2 certain, 2 settled"]);
    }
}

#[test]
fn each_row_may_say_its_zone() {
    let folder = Folder::with(
        "sites.csv",
        "site,handed over\nEurope/Lisbon,2024-07-01 12:00\nVeldhaven,2024-07-01 12:00\n\
         +05:30,2024-07-01 12:00\n,2024-07-01 12:00\nAtlantis,2024-07-01 12:00\n",
    );
    let zone_from = "\"handed over\".read.zone-from=site";
    let named = "Veldhaven=Europe/Riga";
    let settled = folder.run(&[
        "settle",
        "sites.csv",
        "--set",
        zone_from,
        "--zone-name",
        named,
        "-o",
        "r.toml",
    ]);
    settled.status(3);
    holds(
        &folder.read("r.toml"),
        &[
            "[zones]\nVeldhaven = \"Europe/Riga\"",
            "zone-from = \"site\"",
            "kind = \"instant\"",
        ],
    );
    folder
        .run(&["convert", "sites.csv", "-r", "r.toml", "-o", "out.csv"])
        .status(3);
    assert_eq!(
        folder.read("out.csv"),
        "site,handed over\nEurope/Lisbon,2024-07-01T11:00:00Z\nVeldhaven,2024-07-01T09:00:00Z\n\
         +05:30,2024-07-01T06:30:00Z\n,\nAtlantis,\n"
    );
    // The survey forecasts what the conversion does.
    let survey = folder.run(&["survey", "sites.csv", "-r", "r.toml", "--json"]);
    holds(&survey.status(3).out, &["\"certain\": 3", "\"open\": 2"]);
    holds(
        &folder.read("out.review.csv"),
        &[
            "site is empty in its row, and would say the zone",
            "no zone is called `Atlantis`",
        ],
    );
}

/// An abbreviation that does not go with the date is a slip: people write that
/// of winter all year. It says nothing about the order of day and month.
/// What Java and others write with the full style, in every language.
#[test]
fn long_names_of_zones_say_their_offset() {
    let cells = [
        (
            "5 March 2024 at 14:30:00 Coordinated Universal Time",
            "2024-03-05T14:30:00Z",
        ),
        (
            "5 mars 2024 à 14:30:00 heure normale d’Europe centrale",
            "2024-03-05T13:30:00Z",
        ),
        (
            "5 de marzo de 2024, 14:30:00 (tiempo universal coordinado)",
            "2024-03-05T14:30:00Z",
        ),
        (
            "5. Juli 2024 um 14:30:00 Mitteleuropäische Sommerzeit",
            "2024-07-05T12:30:00Z",
        ),
        ("2024年3月5日 中国标准时间 14:30:00", "2024-03-05T06:30:00Z"),
        (
            "2024年3月5日 14時30分00秒 日本標準時",
            "2024-03-05T05:30:00Z",
        ),
        (
            "14:30:00 Giờ Đông Dương Thứ Ba, 5 tháng 3, 2024",
            "2024-03-05T07:30:00Z",
        ),
    ];
    for (cell, instant) in cells {
        assert_eq!(converted(&[cell], &["-c", "when"]), [instant], "{cell}");
    }
    // Some programs name the zone so all year: what a name of winter is in July is asked.
    let rows =
        "at\n2024-07-05 14:30 Eastern Standard Time\n2024-03-05 14:30 Eastern Standard Time\n";
    let folder = Folder::with("x.csv", rows);
    let asked = folder.run(&["convert", "x.csv"]).status(3);
    assert_eq!(asked.out, "at\n\"\"\n2024-03-05T19:30:00Z\n");
    holds(
        &asked.err,
        &["1 cell such as", "America/New_York", "converts 1"],
    );
    for (zone, july) in [("America/New_York", 18), ("-05:00", 19)] {
        let name = format!("Eastern Standard Time={zone}");
        let said = folder
            .run(&["convert", "x.csv", "--zone-name", &name])
            .status(0);
        let first = format!("at\n2024-07-05T{july}:30:00Z\n2024-03-05T19:30:00Z\n");
        assert_eq!(said.out, first);
        let set = format!("at.read.zone-names.\"Eastern Standard Time\"={zone}");
        holds(&asked.err, &[&format!("'{set}'")]);
        let set = folder.run(&["convert", "x.csv", "--set", &set]).status(0);
        assert_eq!(set.out, first);
    }
    // The name of the whole year says no offset.
    let open = "5 March 2024 at 14:30:00 Central European Time";
    assert_eq!(converted(&[open], &["-c", "when"]), [""]);
}

#[test]
fn abbreviations_are_those_of_zones_that_are_named() {
    let names = [
        "--zone-name",
        "IST=Asia/Kolkata",
        "--zone-name",
        "CST=America/Chicago",
    ];
    let mut names = names.to_vec();
    names.extend(["--zone-name", "CDT=America/Chicago"]);
    for (cells, clean, why) in [
        // Of an hour that was twice, the abbreviation says which it is.
        (
            "2024-07-01 12:00 IST\n2024-11-03 01:30 CDT\n2024-11-03 01:30 CST\n",
            "2024-07-01T06:30:00Z\n2024-11-03T06:30:00Z\n2024-11-03T07:30:00Z\n",
            "",
        ),
        (
            "2024-07-03 01:30 CST\n2024-07-03 01:30 CET\n",
            "\"\"\n2024-07-03T00:30:00Z\n",
            "unreadable,the zone does not have that offset then in yyyy-MM-dd HH:mm z",
        ),
        (
            "07/03/2024 01:30 CST\n05/04/2024 01:30 CET\n",
            "\"\"\n\"\"\n",
            "open,in MM/dd/yyyy HH:mm z the zone does not have that offset then; \
             dd/MM/yyyy HH:mm z would read it",
        ),
        (
            "2024-07-03 01:30 BST\n",
            "\"\"\n",
            "in use for several offsets",
        ),
    ] {
        let folder = Folder::with("a.csv", format!("at\n{cells}"));
        let options = ["convert", "a.csv", "-o", "out.csv"];
        let run = folder.run(&[&options, &names[..]].concat());
        run.status(if why.is_empty() { 0 } else { 3 });
        assert_eq!(folder.read("out.csv"), format!("at\n{clean}"));
        if !why.is_empty() {
            holds(&folder.read("out.review.csv"), &[why]);
        }
    }
}

#[test]
fn zones_are_listed() {
    let folder = Folder::new();
    let at = ["--at", "2026-07-01"];
    for (text, some) in [
        (
            "lisbon",
            &[
                "Europe/Lisbon",
                "PT",
                "+01:00",
                "WEST",
                "2026-10-25 02:00 to +00:00",
            ][..],
        ),
        ("PT", &["Atlantic/Azores", "Europe/Lisbon"]),
        ("NPT", &[]),
        ("+05:45", &["Asia/Kathmandu", "NP", "none is known"]),
    ] {
        let run = folder.run(&["zones", text, at[0], at[1]]).status(0);
        holds(&run.out, some);
        assert_eq!(
            some.is_empty(),
            run.err.contains("no zone has such"),
            "{text}"
        );
    }
    let run = folder
        .run(&["zones", "riga", "--json", at[0], at[1]])
        .status(0);
    holds(
        &run.out,
        &[
            "\"zone\": \"Europe/Riga\"",
            "\"at\": \"2026-10-25T01:00:00Z\"",
        ],
    );
    let run = folder.run(&["--version"]).status(0);
    let wanted = [
        " build for ",
        "rustc 1.",
        "IANA time zone database 2",
        "built in",
    ];
    holds(&run.out, &wanted);
    folder.run(&["zones", "--zone-data", "."]).status(2);
}

#[test]
fn instants_are_shown_in_a_zone() {
    let folder = Folder::with(
        "a.csv",
        "at,n\n2024-01-05T12:00:00Z,1\n2024-07-05T12:00:00Z,2\nn/a,3\n",
    );
    for (options, rows) in [
        (
            &[][..],
            "at,n\n2024-01-05T12:00:00Z,1\n2024-07-05T12:00:00Z,2\n,3\n",
        ),
        (
            &["--write-zone", "Europe/Riga"],
            "at,n\n2024-01-05T14:00:00+02:00,1\n2024-07-05T15:00:00+03:00,2\n,3\n",
        ),
        (
            &["--write-zone", "europe/riga", "--write-zone-as", "name"],
            "at,n\n2024-01-05T14:00:00+02:00[Europe/Riga],1\n\
             2024-07-05T15:00:00+03:00[Europe/Riga],2\n,3\n",
        ),
        (
            &["--write-zone", "Europe/Riga", "--write-zone-as", "column"],
            "at,at_zone,n\n2024-01-05T14:00:00,Europe/Riga,1\n\
             2024-07-05T15:00:00,Europe/Riga,2\n,,3\n",
        ),
        (
            &[
                "--write-zone",
                "Europe/Riga",
                "--write-pattern",
                "d MMM yyyy HH:mm z XX",
            ],
            "at,n\n5 Jan 2024 14:00 EET +0200,1\n5 Jul 2024 15:00 EEST +0300,2\n,3\n",
        ),
        (
            &["--write-zone", "+05:45"],
            "at,n\n2024-01-05T17:45:00+05:45,1\n2024-07-05T17:45:00+05:45,2\n,3\n",
        ),
    ] {
        let run = folder
            .run(&[&["convert", "a.csv"], options].concat())
            .status(0);
        assert_eq!(run.out, rows, "{options:?}");
    }
}

/// `EST` is a zone of the database, without summer time, and hardly what a
/// register means by it.
#[test]
fn abbreviations_are_no_zones() {
    let cells = "CET,2024-07-01 12:00\nEST,2024-07-01 12:00\nGMT,2024-07-01 12:00\n";
    let folder = Folder::with("a.csv", format!("zone,at\n{cells}"));
    let options = ["--set", "at.read.zone-from=zone", "-c", "at"];
    let run = folder.run(&[&["convert", "a.csv", "-o", "out.csv"], &options[..]].concat());
    run.status(3);
    assert_eq!(
        folder.read("out.csv"),
        "zone,at\nCET,\nEST,\nGMT,2024-07-01T12:00:00Z\n"
    );
    holds(
        &folder.read("out.review.csv"),
        &["`EST` is an abbreviation, which says nothing of summer time"],
    );
    let named = [
        "--zone-name",
        "EST=America/New_York",
        "--zone-name",
        "CET=Europe/Prague",
    ];
    let run = folder.run(&[&["convert", "a.csv"], &options[..], &named].concat());
    holds(
        &run.status(0).out,
        &["CET,2024-07-01T10:00:00Z", "EST,2024-07-01T16:00:00Z"],
    );
    folder
        .run(&["convert", "a.csv", "--read-zone", "EST"])
        .status(2);
}

/// What a zone's cell says of itself in an hour that was twice is settled where
/// a ruling chooses.
#[test]
fn what_a_ruling_chose_is_settled_and_not_certain() {
    let folder = Folder::with(
        "a.csv",
        "at\n2024-10-27 01:30 Europe/Lisbon\n2024-07-01 01:30 Europe/Lisbon\n",
    );
    folder.run(&["convert", "a.csv"]).status(3);
    let ruled = ["--set", "at.read.in-overlap=later"];
    let run = folder.run(&[&["convert", "a.csv", "--verdicts"], &ruled[..]].concat());
    assert_eq!(
        run.status(0).out,
        "at,at_verdict\n2024-10-27T01:30:00Z,settled\n2024-07-01T00:30:00Z,certain\n"
    );
    let survey = folder.run(&[&["survey", "a.csv", "--json"], &ruled[..]].concat());
    holds(&survey.status(0).out, &["\"certain\": 1", "\"settled\": 1"]);
}

/// A reviewer of a column with a zone has to write instants, and is shown them.
#[test]
fn open_orders_are_told_as_instants() {
    let cells = "03/11/2024 01:30\n25/06/2024 12:00\n06/25/2024 12:00\n";
    let folder = Folder::with("a.csv", format!("at\n{cells}"));
    let zone = ["--read-zone", "America/New_York"];
    folder
        .run(&[&["convert", "a.csv", "-o", "out.csv"], &zone[..]].concat())
        .status(3);
    holds(
        &folder.read("out.review.csv"),
        &[
            // Read day first, it was twice.
            "2024-11-03T05:30:00Z as day-month-year; 2024-11-03T06:30:00Z as day-month-year; \
             2024-03-11T05:30:00Z as month-day-year",
        ],
    );
}

#[test]
fn what_makes_no_sense_is_refused() {
    let folder = Folder::with("a.csv", "at,day\n2024-01-05 12:00,2024-01-05\n");
    for (options, message) in [
        (
            &["--read-zone", "Europe/Lisboa"][..],
            "did you mean `Europe/Lisbon`?",
        ),
        (
            &["--set", "day.read.zone=Europe/Lisbon"],
            "the column's kind is date",
        ),
        (
            &["--set", "at.write.zone=Europe/Lisbon"],
            "write.zone shows instants",
        ),
        (
            &[
                "--set",
                "at.read.zone=UTC",
                "--set",
                "at.read.zone-from=day",
            ],
            "contradict each other",
        ),
        (
            &["--set", "at.read.zone-from=nowhere"],
            "no column is called `nowhere`",
        ),
        (&["--zone-name", "Europe/Lisbon"], "write it as NAME=ZONE"),
    ] {
        let run = folder
            .run(&[&["convert", "a.csv"], options].concat())
            .status(2);
        holds(&run.err, &[message]);
    }
}

#[test]
fn leap_seconds_wait_until_they_are_ruled() {
    let folder = Folder::with(
        "leap.csv",
        "at\n2016-12-31T23:59:60Z\n2016-12-31T23:59:59Z\n",
    );
    folder
        .run(&["convert", "leap.csv", "-o", "out.csv"])
        .status(3);
    holds(
        &folder.read("out.review.csv"),
        &["2016-12-31T23:59:59Z, the second before; 2017-01-01T00:00:00Z, the second after"],
    );
    for (ruled, first) in [
        ("last", "2016-12-31T23:59:59Z"),
        ("next", "2017-01-01T00:00:00Z"),
    ] {
        let set = format!("at.read.leap-second={ruled}");
        let run = folder
            .run(&["convert", "leap.csv", "--set", &set])
            .status(0);
        holds(&run.err, &["1 certain, 1 settled"]);
        assert_eq!(run.out, format!("at\n{first}\n2016-12-31T23:59:59Z\n"));
    }
}

/// What points at a zone is asked about, and nothing is changed.
#[test]
fn signs_of_a_zone_are_pointed_out() {
    let months = (1..=12).map(|month| format!("{month:02}"));
    let column = |line: &dyn Fn(&str, bool) -> String| -> String {
        let lines = months.clone().map(|month| {
            let is_summer = (4..=10).contains(&month.parse::<u8>().unwrap_or(0));
            line(&month, is_summer)
        });
        format!("at\n{}", lines.collect::<String>())
    };
    let shifted = column(&|month, is_summer| {
        format!(
            "2024-{month}-05T{}:00:00Z\n",
            if is_summer { 22 } else { 23 }
        )
    });
    let local = shifted.replace('T', " ").replace('Z', "");
    let offsets = column(&|month, is_summer| {
        format!(
            "2024-{month}-05T12:{month}:00+0{}:00\n",
            if is_summer { 2 } else { 1 }
        )
    });
    let plain = offsets.replace("+02:00", "+01:00");
    for (text, remark) in [
        (
            &shifted,
            "all times are 22:00 or 23:00 in UTC, as days are that were shifted through a \
             zone of offset +02:00 and +01:00. Shown there",
        ),
        (&local, "all times are 22:00 or 23:00, as days are"),
        (
            &offsets,
            "its offsets, +01:00 and +02:00, change with the seasons as those of Europe/",
        ),
        (&plain, ""),
    ] {
        let folder = Folder::with("a.csv", text);
        let is_shifted = remark.starts_with("all times");
        let status = if is_shifted { 3 } else { 0 };
        let run = folder.run(&["survey", "a.csv", "--json"]).status(status);
        match remark {
            "" => assert!(run.out.contains("\"remarks\": []"), "{}", run.out),
            _ => holds(&run.out, &[remark]),
        }
    }
}
