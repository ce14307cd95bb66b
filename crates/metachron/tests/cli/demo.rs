use crate::harness::{Folder, holds};

#[test]
fn the_demo_goes_the_whole_way() {
    let folder = Folder::new();
    let run = folder.run(&["demo", "here"]).status(0);
    holds(
        &run.out,
        &[
            "$ metachron survey loans.csv",
            "$ metachron settle loans.csv --set 'Due.read.order=dmy' -o loans.rulings.toml",
            "the loans gave the same bytes",
        ],
    );
    let clean = folder.read("here/loans.clean.csv");
    holds(
        &clean,
        &[
            "1998.12.3;Salt cellar, silver;Museum of Harbours, Veldhaven;2025-03-14;2026-04-03;2025-03-05T14:30:00;2025-03-03;3-2;1.204,50;\r\n",
        ],
    );
    assert_eq!(
        folder.bytes("here/partners.clean.csv"),
        folder.bytes("here/partners.csv")
    );
    // Transit hours over the night in which clocks went back; what left late.
    holds(
        &folder.read("here/transits.clean.csv"),
        &[
            "K-01,Odrava,2025-10-25T17:20:00+02:00,Pelikan Transit,Kestrelby,2025-10-26T10:40:00+01:00,18.3\n",
        ],
    );
    let late = folder.read("here/transits.late.csv");
    let crates: Vec<&str> = late.lines().skip(1).map(|line| &line[..4]).collect();
    assert_eq!(crates, ["K-07", "K-08", "K-01", "K-06", "K-12"]);
    holds(
        &folder.read("here/treatments.clean.csv"),
        &[
            "1988-02-29,2006-09-01,2025-02-28,PT45M,24,0.75,36,18,2027-02-28,Sunday\n",
            "PT1H15M,6,1.25,54,35,2026-02-28,Saturday\n",
        ],
    );
    holds(
        &folder.read("here/loggers.elapsed.tsv"),
        &["K-04\t2025-03-30T01:08:00Z\t18.1\t42\t26.167"],
    );
    let database = rusqlite::Connection::open(folder.path("here/registers.sqlite")).unwrap();
    let late = "SELECT count(*) FROM loans WHERE date(Due, '-30 days') > '2026-05-01'";
    let late: i64 = database.query_row(late, [], |row| row.get(0)).unwrap();
    assert_eq!(late, 10);
    let handed = "SELECT count(*) FROM handovers";
    let handed: i64 = database.query_row(handed, [], |row| row.get(0)).unwrap();
    assert!(handed > 10);
    for name in ["transits.parquet", "treatments.clean.xlsx"] {
        assert!(folder.path(&format!("here/{name}")).exists());
    }
    holds(
        &folder.read("here/loggers.clean.tsv"),
        &["K-11\t2025-03-30T01:30:00Z\t19.2\t39"],
    );
}
