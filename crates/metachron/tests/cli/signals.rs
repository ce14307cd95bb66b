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
