//! What a signal ends leaves nothing, and what a kill has left goes away.

use crate::harness::Folder;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// A conversion of a table that never ends, once it has begun to write.
fn endless(folder: &Folder) -> Child {
    let script = "printf 'n,d\\n'; while :; do printf '1,2024-03-05\\n%.0s' {1..20000}; done";
    let mut source = Command::new("bash")
        .args(["-c", script])
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let child = Command::new(env!("CARGO_BIN_EXE_metachron"))
        .args(["convert", "-", "-o", "out.csv"])
        .current_dir(folder.path(""))
        .env("TMPDIR", folder.path(""))
        .stdin(source.stdout.take().unwrap())
        .stderr(Stdio::null())
        .spawn()
        .unwrap();
    let start = Instant::now();
    while folder.files().len() < 2 {
        assert!(start.elapsed() < Duration::from_secs(20), "nothing is read");
        std::thread::sleep(Duration::from_millis(5));
    }
    // Its pipe is closed, which ends it, when the program is.
    std::thread::spawn(move || source.wait());
    child
}

fn send(signal: &str, child: &Child) {
    let id = child.id().to_string();
    let sent = Command::new("kill").args([signal, &id]).status().unwrap();
    assert!(sent.success());
}

/// Whether this process ignores a signal, and so those that it starts.
fn is_ignored(signal: i32) -> bool {
    let status = std::fs::read_to_string("/proc/self/status").unwrap();
    let mask = status.lines().find_map(|line| line.strip_prefix("SigIgn:"));
    let mask = u64::from_str_radix(mask.unwrap().trim(), 16).unwrap();
    mask >> (signal - 1) & 1 == 1
}

#[test]
fn signals_leave_nothing() {
    for (signal, number) in [("-INT", 2), ("-TERM", 15), ("-HUP", 1)] {
        // Who runs the tests may have said that they outlive their terminal.
        if is_ignored(number) {
            continue;
        }
        let folder = Folder::with("out.csv", "as it was\n");
        let mut child = endless(&folder);
        send(signal, &child);
        let status = child.wait().unwrap();
        assert_eq!(status.code(), Some(128 + number), "{signal}");
        assert_eq!(folder.files(), ["out.csv"], "{signal}");
        assert_eq!(folder.read("out.csv"), "as it was\n");
    }
}

#[test]
fn what_a_kill_left_is_removed_by_the_next_run() {
    let folder = Folder::with("out.csv", "as it was\n");
    let mut child = endless(&folder);
    send("-KILL", &child);
    child.wait().unwrap();
    assert_eq!(folder.files().len(), 2, "{:?}", folder.files());
    folder.write("x.csv", "d\n2024-03-05\n");
    folder.run(&["convert", "x.csv", "-o", "out.csv"]).status(0);
    assert_eq!(folder.files(), ["out.csv", "x.csv"]);
}

/// Kills a run at many instants while it ends, and looks at what the next one finds.
#[test]
fn whenever_a_run_is_killed_its_files_belong_together() {
    let folder = Folder::new();
    // Of the one, nothing waits: its list goes away. Of the other, a cell does.
    folder.write("one.csv", "d\n2024-03-05\n2024-03-06\n");
    folder.write("two.csv", "d\n2024-03-05\n2024-03-06\n2024-99-99\n");
    let convert = |input: &str, output: &str| -> Vec<String> {
        let options = ["convert", input, "-o", output, "--review", "list.csv"];
        let options = options.iter().chain(&["--summary", "sum.json"]);
        options.map(|option| (*option).to_owned()).collect()
    };
    let run = |input: &str| {
        folder.run(
            &convert(input, "out.csv")
                .iter()
                .map(String::as_str)
                .collect::<Vec<_>>(),
        )
    };
    run("two.csv").status(3);
    let start = Instant::now();
    run("one.csv").status(0);
    let usual = start.elapsed();
    for number in 0..40 {
        let input = ["two.csv", "one.csv"][number % 2];
        let mut child = Command::new(env!("CARGO_BIN_EXE_metachron"))
            .args(convert(input, "out.csv"))
            .current_dir(folder.path(""))
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        // From the second half of its time to its end.
        std::thread::sleep(usual / 2 + usual * (number as u32) / 60);
        let _ = child.kill();
        child.wait().unwrap();
        // Another run that writes there, to names of its own.
        folder
            .run(&["convert", "one.csv", "-o", "other.csv"])
            .status(0);
        let rows = folder.read("out.csv").lines().count() - 1;
        let summary: serde_json::Value = serde_json::from_str(&folder.read("sum.json")).unwrap();
        assert_eq!(summary["table"]["rows"], rows, "{number}");
        assert_eq!(
            folder.files().contains(&"list.csv".to_owned()),
            rows == 3,
            "{number}"
        );
        let left = folder
            .files()
            .into_iter()
            .filter(|name| name.starts_with('.'));
        assert_eq!(left.count(), 0, "{number}");
    }
}

/// Two runs that write to the same names at once: the files are all of the one, or all of
/// the other.
#[test]
fn the_files_of_two_writers_do_not_mix() {
    let folder = Folder::new();
    folder.write("one.csv", "d\n2024-03-05\n2024-03-06\n");
    folder.write("two.csv", "d\n2024-03-05\n2024-03-06\n2024-99-99\n");
    for round in 0..30 {
        let mut children: Vec<Child> = ["one.csv", "two.csv", "one.csv", "two.csv"]
            .map(|input| {
                Command::new(env!("CARGO_BIN_EXE_metachron"))
                    .args(["convert", input, "-o", "out.csv", "--summary", "sum.json"])
                    .current_dir(folder.path(""))
                    .stderr(Stdio::null())
                    .spawn()
                    .unwrap()
            })
            .into();
        for child in &mut children {
            let status = child.wait().unwrap();
            assert!(matches!(status.code(), Some(0 | 3)), "{round}: {status}");
        }
        let rows = folder.read("out.csv").lines().count() - 1;
        let summary: serde_json::Value = serde_json::from_str(&folder.read("sum.json")).unwrap();
        assert_eq!(summary["table"]["rows"], rows, "{round}");
        let has_list = folder.files().contains(&"out.review.csv".to_owned());
        assert_eq!(has_list, rows == 3, "{round}");
    }
}
