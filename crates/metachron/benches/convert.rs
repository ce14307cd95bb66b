//! `convert` with rulings, as a whole process, compared with the `csv` crate copying
//! the same file: the second row of docs/speed.md, on a smaller file.

#[path = "common/register.rs"]
mod register;

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use std::path::Path;
use std::process::Command;

const ROWS: u64 = 200_000;

fn metachron(args: &[&str], folder: &Path) {
    let status = Command::new(env!("CARGO_BIN_EXE_metachron"))
        .args(args)
        .arg("-q")
        .current_dir(folder)
        .status()
        .expect("metachron starts");
    assert!(status.success(), "{args:?}");
}

fn convert(c: &mut Criterion) {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let input = folder.join("in.csv");
    register::write_table(&input, ROWS).expect("a table");
    metachron(&["settle", "in.csv", "-o", "in.toml"], folder);
    let mut group = c.benchmark_group("convert");
    group.throughput(Throughput::Elements(ROWS)).sample_size(20);
    for threads in ["1", "2"] {
        group.bench_function(format!("metachron, threads: {threads}"), |b| {
            let args = [
                "convert",
                "in.csv",
                "-r",
                "in.toml",
                "-o",
                "out.csv",
                "--threads",
                threads,
            ];
            b.iter(|| metachron(&args, folder));
        });
    }
    group.bench_function("csv copy", |b| {
        b.iter(|| register::copy(&input, &folder.join("copy.csv")).expect("a copy"));
    });
    group.finish();
}

criterion_group!(benches, convert);
criterion_main!(benches);
