//! Files as programs write them.

use crate::harness::{Folder, holds};

#[test]
fn line_ends_quotes_and_marks_are_kept() {
    for (text, clean) in [
        ("d,n\r\n31/12/2024,1\r\n", "d,n\r\n2024-12-31,1\r\n"),
        ("d,n\r31/12/2024,1\r", "d,n\r2024-12-31,1\r"),
        ("d,n\n31/12/2024,1", "d,n\n2024-12-31,1"),
        ("\u{feff}d,n\n31/12/2024,1\n", "\u{feff}d,n\n2024-12-31,1\n"),
        (
            "\"d\",\"n\"\n\"31/12/2024\",\"1\"\n",
            "\"d\",\"n\"\n2024-12-31,\"1\"\n",
        ),
        ("d\tn\n31/12/2024\t1\n", "d\tn\n2024-12-31\t1\n"),
        ("d|n\n31/12/2024|1\n", "d|n\n2024-12-31|1\n"),
        (
            "d;n\n31/12/2024;\"a\"\"b\"\n\n\n",
            "d;n\n2024-12-31;\"a\"\"b\"\n\n\n",
        ),
    ] {
        let folder = Folder::with("x.csv", text);
        let run = folder.run(&["convert", "x.csv"]).status(0);
        assert_eq!(run.out, clean, "{text:?}");
    }
}

#[test]
fn a_column_of_its_own_keeps_its_blank_lines_as_rows() {
    let folder = Folder::with("x.csv", "day\n31/12/2024\n\n01/02/2025\n");
    let run = folder.run(&["convert", "x.csv", "--verdicts"]).status(0);
    assert_eq!(
        run.out,
        "day,day_verdict\n2024-12-31,certain\n,blank\n2025-02-01,settled\n"
    );
    holds(&run.err, &["3 rows", "1 certain, 1 settled, 1 blank"]);
}

#[test]
fn formats_by_name() {
    let folder = Folder::with("x.tsv", "d\tn, m\n31/12/2024\ta, b\n");
    let run = folder.run(&["convert", "x.tsv"]).status(0);
    assert_eq!(run.out, "d\tn, m\n2024-12-31\ta, b\n");
    let run = folder.run(&["convert", "x.tsv", "--to", "csv"]).status(0);
    assert_eq!(run.out, "d,\"n, m\"\n2024-12-31,\"a, b\"\n");
    let run = folder.run_with(
        &["convert", "-", "--from", "tsv"],
        "d\tn,m\n31/12/2024\tx,y\n",
    );
    assert_eq!(run.status(0).out, "d\tn,m\n2024-12-31\tx,y\n");
}

#[test]
fn a_file_without_names() {
    let folder = Folder::with("x.csv", "vase,31/12/2024\nbowl,05/06/2024\n");
    let run = folder.run(&["convert", "x.csv", "-o", "c.csv"]).status(0);
    holds(&run.err, &["column_2  1 certain, 1 settled"]);
    assert_eq!(folder.read("c.csv"), "vase,2024-12-31\nbowl,2024-06-05\n");
    folder.run(&["settle", "x.csv", "-o", "r.toml"]).status(0);
    holds(
        &folder.read("r.toml"),
        &["header-line = \"none\"", "[column.column_2]"],
    );
    let run = folder.run(&["convert", "x.csv", "-r", "r.toml"]).status(0);
    assert_eq!(run.out, folder.read("c.csv"));
}

#[test]
fn utf_16_and_what_shows_late() {
    let text = "\u{feff}wann;was\r\n31.12.2024;Gefäß\r\n";
    let bytes: Vec<u8> = text.encode_utf16().flat_map(u16::to_le_bytes).collect();
    let folder = Folder::with("x.csv", bytes);
    let run = folder.run(&["convert", "x.csv"]).status(0);
    assert_eq!(run.out, "wann;was\r\n2024-12-31;Gefäß\r\n");
    holds(&run.err, &["read as UTF-16LE, written as UTF-8"]);

    // The first byte that is not UTF-8 stands behind the first megabyte.
    let mut bytes = b"when;what\n".to_vec();
    bytes.extend(b"31/12/2024;plain text, as it comes\n".repeat(60_000));
    bytes.extend(
        encoding_rs::WINDOWS_1252
            .encode("01/02/2025;Größe für Ämter\n")
            .0
            .iter(),
    );
    folder.write("late.csv", &bytes);
    folder
        .run(&["convert", "late.csv", "-o", "c.csv"])
        .status(0);
    assert!(
        folder
            .read("c.csv")
            .ends_with("2025-02-01;Größe für Ämter\n")
    );
    folder.write(
        "r.toml",
        "metachron = 1\n[column.when]\nkind = \"date\"\nread = { forms = [\"dd/MM/yyyy\"] }\n",
    );
    folder
        .run(&["convert", "late.csv", "-r", "r.toml", "-o", "d.csv"])
        .status(0);
    assert_eq!(folder.bytes("c.csv"), folder.bytes("d.csv"));
}

#[test]
fn files_that_do_not_fit_together() {
    let folder = Folder::with("a.csv", "d,n\n31/12/2024,1\n");
    folder.write("b.csv", "d,m\n31/12/2024,1\n");
    folder.write("c.csv", "n,d\n1,31/12/2024\n");
    let run = folder.run(&["survey", "a.csv", "b.csv"]).status(1);
    holds(
        &run.err,
        &["b.csv has other columns than a.csv: it lacks `n` and has `m`"],
    );
    let run = folder.run(&["survey", "a.csv", "c.csv"]).status(1);
    holds(&run.err, &["they stand in another order"]);
}

#[test]
fn more_is_said_when_asked() {
    let names: Vec<String> = (0..30).map(|n| format!("c{n}")).collect();
    let text = format!("{}\n{}\n", names.join(","), vec!["x"; 30].join(","));
    let folder = Folder::with("x.csv", text);
    let usual = folder.run(&["survey", "x.csv"]).status(0).out;
    holds(&usual, &["c11 and 18 more"]);
    let more = folder.run(&["survey", "x.csv", "-v"]).status(0).out;
    holds(&more, &["c28, c29"]);
    let days = vec!["2024-03-05"; 30].join(",");
    folder.write("y.csv", format!("{}\n{days}\n", names.join(",")));
    let usual = folder.run(&["convert", "y.csv"]).status(0).err;
    holds(&usual, &["and 10 more columns, which -v shows"]);
    let more = folder.run(&["convert", "y.csv", "-v"]).status(0).err;
    holds(&more, &["c29  1 certain"]);
}

#[test]
#[cfg(unix)]
fn links_and_permissions_of_outputs() {
    use std::os::unix::fs::{PermissionsExt, symlink};
    let folder = Folder::with("x.csv", "d\n31/12/2024\n");
    folder.write("real.csv", "old\n");
    symlink(folder.path("real.csv"), folder.path("link.csv")).unwrap();
    folder
        .run(&["convert", "x.csv", "-o", "link.csv"])
        .status(0);
    assert_eq!(folder.read("real.csv"), "d\n2024-12-31\n");
    assert!(folder.path("link.csv").is_symlink());

    let mode = |name: &str| {
        std::fs::metadata(folder.path(name))
            .unwrap()
            .permissions()
            .mode()
            & 0o777
    };
    folder.run(&["convert", "x.csv", "-o", "new.csv"]).status(0);
    assert_eq!(mode("new.csv"), mode("x.csv"), "as any new file");
    std::fs::set_permissions(folder.path("new.csv"), PermissionsExt::from_mode(0o600)).unwrap();
    folder.run(&["convert", "x.csv", "-o", "new.csv"]).status(0);
    assert_eq!(mode("new.csv"), 0o600, "as the file it replaces");
    // An input is refused as an output under any name.
    symlink(folder.path("x.csv"), folder.path("same.csv")).unwrap();
    folder
        .run(&["convert", "x.csv", "-o", "same.csv"])
        .status(2);
}
