//! What goes into each format, and what comes out of it.

use crate::harness::{Folder, holds};
use proptest::prelude::*;

/// Stamps are ISO text, blanks null; what is text in the source is text.
#[test]
fn rows_as_json_lines() {
    let table = "due,n,note,away\n\
                 31/12/2024,7,\"a \"\"b\"\"\nc\",90 min\n\
                 n/a,08,,26 h\n\
                 31/02/2024,-,x,soon\n\
                 01/02/2025\n\
                 02/02/2025,1,y,2 h,more,\n";
    let folder = Folder::with("t.csv", table);
    let run = folder.run(&[
        "convert",
        "t.csv",
        "--set",
        "away.write.unit=h",
        "--derive",
        "m = n as number",
        "--derive",
        "late = due > 2025-01-01",
        "-o",
        "t.jsonl",
    ]);
    run.status(3);
    let text = folder.read("t.jsonl");
    let lines: Vec<&str> = text.lines().collect();
    assert_eq!(
        lines[0],
        "{\"due\":\"2024-12-31\",\"n\":\"7\",\"note\":\"a \\\"b\\\"\\nc\",\"away\":1.5,\
         \"m\":7,\"late\":false}"
    );
    assert_eq!(
        lines[1],
        "{\"due\":null,\"n\":\"08\",\"note\":null,\"away\":26,\"m\":8,\"late\":null}"
    );
    assert_eq!(
        lines[2],
        "{\"due\":null,\"n\":\"-\",\"note\":\"x\",\"away\":null,\"m\":null,\"late\":null}"
    );
    assert_eq!(
        lines[3],
        "{\"due\":\"2025-02-01\",\"n\":null,\"note\":null,\"away\":null,\"m\":null,\"late\":true}"
    );
    // What a row has too many of stands under its number in the row.
    assert_eq!(
        lines[4],
        "{\"due\":\"2025-02-02\",\"n\":\"1\",\"note\":\"y\",\"away\":2,\"m\":1,\"late\":true,\
         \"column_5\":\"more\",\"column_6\":null}"
    );
    for line in lines {
        serde_json::from_str::<serde_json::Value>(line).unwrap();
    }
    holds(&folder.read("t.review.csv"), &["31/02/2024,unreadable"]);
}

/// Of two equal keys a parser keeps one, so no cell shares its key.
#[test]
fn no_key_is_twice_in_an_object() {
    for (names, last) in [
        (["due", "b", "c"], "column_4"),
        (["due", "4", "c"], "column_4"),
        (["due", "column_4", "c"], "column_4_2"),
        (["due", "column_4", "column_4_2"], "column_4_3"),
    ] {
        let names = names.join(",");
        let table = format!(
            "{names}\n{}21/05/2024,b,c,fourth\n",
            "21/05/2024,b,c\n".repeat(6)
        );
        let folder = Folder::with("t.csv", table);
        folder.run(&["convert", "t.csv", "-o", "t.jsonl"]).status(0);
        let text = folder.read("t.jsonl");
        let line = text.lines().last().unwrap();
        let object: serde_json::Map<String, serde_json::Value> =
            serde_json::from_str(line).unwrap();
        assert_eq!(object.len(), 4, "{line}");
        assert_eq!(object[last], "fourth", "{line}");
    }
}

#[test]
fn json_lines_are_sorted_and_go_to_standard_output() {
    let folder = Folder::with("t.csv", "due\n31/12/2024\n\n15/01/2024");
    let words = ["convert", "t.csv", "--to", "jsonl", "--sort", "due"];
    let run = folder.run(&words).status(0);
    assert_eq!(
        run.out,
        "{\"due\":\"2024-01-15\"}\n{\"due\":\"2024-12-31\"}\n{\"due\":null}\n"
    );
    let run = folder.run(&["convert", "t.csv", "-o", "t.pdf"]).status(2);
    holds(
        &run.err,
        &["name OUT .csv, .tsv, .xlsx, .jsonl, .parquet, .arrow, .arrows, .sqlite or"],
    );
}

/// No character of a text file makes a typed cell of a text.
#[test]
fn noncharacters_and_control_characters_are_text() {
    let odd = "\u{fdd0}2024-03-05";
    let table = format!("d,e\n{odd},\u{fdd0}x\u{1}\u{ffff}\n2024-03-06,\u{fdd0}2024-03-05\n");
    let folder = Folder::with("t.csv", &table);
    folder
        .run(&["convert", "t.csv", "-c", "d", "-o", "out.csv"])
        .status(3);
    assert_eq!(
        folder.read("out.csv"),
        "d,e\n,\u{fdd0}x\u{1}\u{ffff}\n2024-03-06,\u{fdd0}2024-03-05\n"
    );
    holds(
        &folder.read("out.review.csv"),
        &[&format!("t.csv,1,2,d,{odd},unreadable")],
    );
}

fn cell() -> impl Strategy<Value = String> {
    prop_oneof![
        "[0-3][0-9]/[01][0-9]/2024",
        "n/a|soon|-| |",
        "[a-c,;\"\n]{0,4}",
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Every row of a table of one column is there afterwards, whatever became
    /// of its cell.
    #[test]
    fn rows_of_one_cell_do_not_vanish(
        cells in prop::collection::vec(cell(), 1..12),
        ends in prop::sample::select(vec!["\n", "\r\n"]),
        last in any::<bool>(),
    ) {
        let quoted = |cell: &String| format!("\"{}\"", cell.replace('"', "\"\""));
        let rows: Vec<String> = cells.iter().map(quoted).collect();
        let end = if last { ends } else { "" };
        let table = format!("d{ends}{}{end}", rows.join(ends));
        let folder = Folder::with("t.csv", &table);
        for more in [&[][..], &["--read-form", "dd/MM/yyyy"], &["--verdicts"]] {
            let words = [&["convert", "t.csv", "-c", "d", "-o", "out.csv"], more].concat();
            let run = folder.run(&words);
            prop_assert!(run.status != 1, "{}", run.err);
            let mut read = csv::Reader::from_path(folder.path("out.csv")).unwrap();
            prop_assert_eq!(read.records().flatten().count(), cells.len(), "{}", folder.read("out.csv"));
        }
    }
}
