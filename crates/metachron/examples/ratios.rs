//! Whole processes side by side: Metachron and the `csv` crate doing
//! nothing but read, or read and write, the same file.
//!
//! `scripts/speed` builds both and runs this. The figures are the medians of
//! paired runs, one after the other, so that a machine whose speed drifts
//! slows both.

#[path = "../benches/common/register.rs"]
mod register;

use calamine::{Reader, Xlsx};
use jiff::civil;
use metachron_core::form::{Century, Form};
use metachron_core::lex::Lexer;
use metachron_core::stamp::Stamp;
use register::{copy, write_table};
use rust_xlsxwriter::{Format, Workbook};
use std::error::Error;
use std::hint::black_box;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::Instant;

const RUNS: usize = 7;

fn main() -> Result<(), Box<dyn Error>> {
    let args: Vec<String> = std::env::args().skip(1).collect();
    match args.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["csv-copy", input, output] => copy(Path::new(input), Path::new(output)),
        ["csv-read", input] => read(Path::new(input)),
        ["workbook-read", input] => read_workbook(input),
        [] => compare(2_000_000),
        [rows] => compare(rows.parse()?),
        _ => Err("usage: ratios [ROWS]".into()),
    }
}

/// The reference for `survey`: read, single-threaded.
fn read(input: &Path) -> Result<(), Box<dyn Error>> {
    let mut reader = csv::ReaderBuilder::new()
        .has_headers(false)
        .from_path(input)?;
    let mut record = csv::ByteRecord::new();
    let mut bytes = 0;
    while reader.read_byte_record(&mut record)? {
        bytes += record.as_slice().len();
    }
    println!("{bytes}");
    Ok(())
}

/// The reference for `survey` of a workbook: every cell, by the package that
/// reads workbooks alone.
fn read_workbook(input: &str) -> Result<(), Box<dyn Error>> {
    let mut book: Xlsx<_> = calamine::open_workbook(input)?;
    let range = book.worksheet_range_at(0).ok_or("a sheet")??;
    println!("{}", range.used_cells().count());
    Ok(())
}

/// A workbook of eight columns: days, moments, a form as text, numbers, names.
fn write_workbook(path: &Path, rows: u32) -> Result<(), Box<dyn Error>> {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet_with_constant_memory()?;
    let names = [
        "item",
        "partner",
        "packed",
        "handed over",
        "due",
        "premium",
        "crate",
        "remarks",
    ];
    for (column, name) in names.iter().enumerate() {
        sheet.write_string(0, column as u16, *name)?;
    }
    let day = Format::new().set_num_format("dd/mm/yyyy");
    let moment = Format::new().set_num_format("yyyy-mm-dd hh:mm");
    for row in 1..=rows {
        let serial = f64::from(43_466 + row * 7 % 2000);
        let part = f64::from(row % 1440) / 1440.0;
        sheet.write_string(row, 0, format!("K-{row}"))?;
        sheet.write_string(row, 1, ["Tide Mill", "Lantern House"][row as usize % 2])?;
        sheet.write_number_with_format(row, 2, serial, &day)?;
        sheet.write_number_with_format(row, 3, serial + part, &moment)?;
        let due = format!("{:02}/{:02}/{}", 1 + row % 28, 1 + row % 12, 2019 + row % 6);
        sheet.write_string(row, 4, due)?;
        sheet.write_number(row, 5, f64::from(row % 9000) + 0.25)?;
        sheet.write_number(row, 6, row % 40)?;
        sheet.write_string(row, 7, "as received")?;
    }
    Ok(book.save(path)?)
}

/// One cell of a known form, compared with `strptime` with the pattern given.
fn cells() -> Result<(), Box<dyn Error>> {
    for (form, strptime) in [
        ("dd/MM/yyyy", "%d/%m/%Y"),
        ("yyyy-MM-dd HH:mm:ss", "%Y-%m-%d %H:%M:%S"),
        ("d MMM yyyy", "%d %b %Y"),
    ] {
        let cells: Vec<String> = (0..256_i16)
            .map(|n| civil::date(2019 + n % 6, (n * 5 % 12 + 1) as i8, (n * 7 % 28 + 1) as i8))
            .map(|day| day.at(12, day.day(), 59, 0).strftime(strptime).to_string())
            .map(|text| text.trim_start_matches('0').to_owned())
            .map(|text| {
                if form == "dd/MM/yyyy" {
                    format!("{text:0>10}")
                } else {
                    text
                }
            })
            .collect();
        let mut lexer = Lexer::default();
        let first = lexer.lex(&cells[0])?.shape();
        let reader = form.parse::<Form>()?.fit(&first).ok_or("the form fits")?;
        let has_time = form.contains('H');
        let (mut ours, mut theirs) = (Vec::new(), Vec::new());
        for _ in 0..1000 {
            let begun = Instant::now();
            for text in &cells {
                let cell = lexer.lex(black_box(text))?;
                // What strptime returns: a civil value.
                match reader.read(&cell, Century::Open.into())? {
                    Stamp::Date(date) => {
                        black_box(date);
                    }
                    Stamp::DateTime(at) => {
                        black_box(at);
                    }
                    other => return Err(format!("{other} is no date").into()),
                }
            }
            ours.push(begun.elapsed().as_secs_f64());
            let begun = Instant::now();
            for text in &cells {
                if has_time {
                    black_box(civil::DateTime::strptime(strptime, black_box(text))?);
                } else {
                    black_box(civil::Date::strptime(strptime, black_box(text))?);
                }
            }
            theirs.push(begun.elapsed().as_secs_f64());
        }
        let mut ratios: Vec<f64> = ours.iter().zip(&theirs).map(|(a, b)| a / b).collect();
        let nanoseconds = 1e9 / cells.len() as f64;
        println!(
            "one cell of {form} / strptime: {:.2} ({:.0} ns / {:.0} ns)",
            median(&mut ratios),
            median(&mut ours) * nanoseconds,
            median(&mut theirs) * nanoseconds
        );
    }
    Ok(())
}

fn compare(rows: u64) -> Result<(), Box<dyn Error>> {
    cells()?;
    let folder = tempfile::tempdir()?;
    let path = |name: &str| folder.path().join(name);
    let (input, rulings) = (path("in.csv"), path("in.rulings.toml"));
    write_table(&input, rows)?;
    let metachron = program_next_to_this("metachron")?;
    let this = std::env::current_exe()?;
    let ruled = Command::new(&metachron)
        .args(["settle", "-q"])
        .arg(&input)
        .arg("-o")
        .arg(&rulings)
        .status()?;
    if !ruled.success() {
        return Err("settle failed".into());
    }
    println!(
        "{rows} rows, 5 columns, 2 of them temporal, {} MB",
        input.metadata()?.len() / 1_000_000
    );
    let convert = |threads: &str| {
        let mut command = Command::new(&metachron);
        command
            .args(["convert", "-q", "--threads", threads])
            .arg(&input);
        command
            .arg("-r")
            .arg(&rulings)
            .arg("-o")
            .arg(path("out.csv"));
        command
    };
    let survey = |threads: &str| {
        let mut command = Command::new(&metachron);
        command.args(["survey", "--threads", threads]).arg(&input);
        command
    };
    let copy = || {
        let mut command = Command::new(&this);
        command.arg("csv-copy").arg(&input).arg(path("copy.csv"));
        command
    };
    let read = || {
        let mut command = Command::new(&this);
        command.arg("csv-read").arg(&input);
        command
    };
    ratio("convert, 2 threads / csv copy", || convert("2"), copy)?;
    ratio("convert, 1 thread  / csv copy", || convert("1"), copy)?;
    let zoned = path("zoned.rulings.toml");
    let ruled = Command::new(&metachron)
        .args(["settle", "-q"])
        .arg(&input)
        .args(["--set", "\"handed over\".read.zone=Europe/Lisbon"])
        .args(["--set", "\"handed over\".read.in-gap=earlier"])
        .args(["--set", "\"handed over\".read.in-overlap=earlier"])
        .arg("-o")
        .arg(&zoned)
        .status()?;
    if !ruled.success() {
        return Err("settle failed".into());
    }
    let derive = |phrases: &[&str]| {
        let mut command = Command::new(&metachron);
        command
            .args(["convert", "-q", "--threads", "2"])
            .arg(&input)
            .arg("-r")
            .arg(&zoned)
            .arg("-o")
            .arg(path("derived.csv"));
        for (index, phrase) in phrases.iter().enumerate() {
            command.arg("--derive").arg(format!("p{index} = {phrase}"));
        }
        command
    };
    for phrases in [
        &[][..],
        &["weekday of `loaned out`", "`loaned out` + 1 month"],
        &["`handed over` + 14 days", "quarter of `loaned out`"],
        &["hours since first `handed over`", "`loaned out` + 14 days"],
        &["weekday name of `loaned out`", "premium * 2"],
        &[
            "`handed over` in zone \"Europe/Lisbon\"",
            "hour of p0 >= 16",
        ],
        &[
            "hour of `handed over` in zone \"Europe/Lisbon\"",
            "premium * 2",
        ],
    ] {
        let name = format!("convert with a read zone and {phrases:?} / without");
        ratio(&name, || derive(phrases), || convert("2"))?;
    }
    ratio("survey,  2 threads / csv read", || survey("2"), read)?;
    ratio("survey,  1 thread  / csv read", || survey("1"), read)?;
    let into = |from: &Path, name: &str, rulings: &Path| {
        let mut command = Command::new(&metachron);
        command.args(["convert", "-q", "--threads", "2"]).arg(from);
        command.arg("-r").arg(rulings).arg("-o").arg(path(name));
        command
    };
    for name in ["out.parquet", "out.arrow", "out.sqlite", "out.sql"] {
        let what = format!("convert into {name} / into out.csv");
        ratio(&what, || into(&input, name, &rulings), || convert("2"))?;
    }
    // As text, so that there is something to convert.
    let (nothing, arrow) = (path("nothing.toml"), path("in.arrow"));
    std::fs::write(&nothing, "metachron = 1\n")?;
    if !into(&input, "in.arrow", &nothing).status()?.success() {
        return Err("convert failed".into());
    }
    ratio(
        "Arrow in and out / CSV in and out",
        || into(&arrow, "out.arrow", &rulings),
        || convert("2"),
    )?;
    let gzip = |words: &[&str], file: &Path| {
        let mut command = Command::new("gzip");
        command.args(words).arg(file);
        command
    };
    if gzip(&["-k"], &input)
        .status()
        .is_ok_and(|status| status.success())
    {
        let packed = path("in.csv.gz");
        let survey = || {
            let mut command = Command::new(&metachron);
            command.args(["survey", "--threads", "2"]).arg(&packed);
            command
        };
        ratio("survey of in.csv.gz / gzip -dc", survey, || {
            gzip(&["-dc"], &packed)
        })?;
    }
    let workbook = path("in.xlsx");
    write_workbook(&workbook, 200_000)?;
    let survey_workbook = || {
        let mut command = Command::new(&metachron);
        command.args(["survey", "--threads", "2"]).arg(&workbook);
        command
    };
    let read_workbook = || {
        let mut command = Command::new(&this);
        command.arg("workbook-read").arg(&workbook);
        command
    };
    ratio(
        "survey of a workbook, 200,000 rows, 8 columns, 2 threads / calamine",
        survey_workbook,
        read_workbook,
    )?;
    let explain = || {
        let mut command = Command::new(&metachron);
        command.args(["explain", "03/04/05"]);
        command
    };
    let mut times: Vec<f64> = (0..RUNS)
        .map(|_| time(explain()))
        .collect::<Result<_, _>>()?;
    println!(
        "explain of one value: {:.1} ms",
        median(&mut times) * 1000.0
    );
    Ok(())
}

fn ratio(
    name: &str,
    one: impl Fn() -> Command,
    other: impl Fn() -> Command,
) -> Result<(), Box<dyn Error>> {
    // One run each that does not count.
    time(one())?;
    time(other())?;
    let mut pairs = Vec::new();
    for _ in 0..RUNS {
        pairs.push((time(one())?, time(other())?));
    }
    let mut ones: Vec<f64> = pairs.iter().map(|pair| pair.0).collect();
    let mut others: Vec<f64> = pairs.iter().map(|pair| pair.1).collect();
    let mut ratios: Vec<f64> = pairs.iter().map(|pair| pair.0 / pair.1).collect();
    println!(
        "{name}: {:.2} ({:.0} ms / {:.0} ms)",
        median(&mut ratios),
        median(&mut ones) * 1000.0,
        median(&mut others) * 1000.0
    );
    Ok(())
}

fn time(mut command: Command) -> Result<f64, Box<dyn Error>> {
    let begun = Instant::now();
    let status = command
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .status()?;
    match status.code() {
        Some(0 | 3) => Ok(begun.elapsed().as_secs_f64()),
        _ => Err(format!("{command:?} ended with {status}").into()),
    }
}

fn median(values: &mut [f64]) -> f64 {
    values.sort_by(f64::total_cmp);
    values[values.len() / 2]
}

/// The program that cargo put next to this one.
fn program_next_to_this(name: &str) -> Result<PathBuf, Box<dyn Error>> {
    let this = std::env::current_exe()?;
    let folder = this.parent().and_then(Path::parent).ok_or("no folder")?;
    let program = folder
        .join(name)
        .with_extension(std::env::consts::EXE_EXTENSION);
    if program.exists() {
        Ok(program)
    } else {
        Err(format!("{} is not built; use scripts/speed", program.display()).into())
    }
}
