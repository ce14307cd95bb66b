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
    holds(
        &folder.read("here/loggers.clean.tsv"),
        &["K-11\t2025-03-30T01:30:00Z\t19.2\t39"],
    );
}
