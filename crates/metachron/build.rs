//! Tells the program how it was built, for `--version`.

use std::env::var;
use std::process::Command;

fn main() {
    let of = |name| var(name).unwrap_or_else(|_| "unknown".to_owned());
    let compiler = Command::new(of("RUSTC")).arg("--version").output();
    let compiler = compiler
        .ok()
        .and_then(|run| String::from_utf8(run.stdout).ok());
    println!(
        "cargo:rustc-env=METACHRON_BUILD={} build for {}, {}",
        of("PROFILE"),
        of("TARGET"),
        compiler.as_deref().map_or("rustc", str::trim)
    );
    println!("cargo:rerun-if-changed=build.rs");
}
