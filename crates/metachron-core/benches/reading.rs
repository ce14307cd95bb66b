//! One cell of a known form, compared with `jiff`'s `strptime` with the pattern
//! given: the first row of docs/speed.md.

use criterion::{Criterion, criterion_group, criterion_main};
use metachron_core::form::{Century, Form, Reader};
use metachron_core::lex::Lexer;
use std::hint::black_box;

/// Cells of one form: different days and times, so that no branch is learnt
/// by heart.
fn cells(write: impl Fn(i8, i8, i16) -> String) -> Vec<String> {
    (0..256_i16)
        .map(|n| write((n * 7 % 28 + 1) as i8, (n * 5 % 12 + 1) as i8, 2019 + n % 6))
        .collect()
}

fn reader(form: &str, cell: &str) -> Reader {
    let form: Form = form.parse().expect("the pattern compiles");
    let mut lexer = Lexer::default();
    let cell = lexer.lex(cell).expect("the cell is short");
    form.fit(&cell.shape()).expect("the form fits")
}

fn bench(
    c: &mut Criterion,
    name: &str,
    form: &str,
    strptime: &str,
    cells: &[String],
    is_date: bool,
) {
    let reader = reader(form, &cells[0]);
    let mut group = c.benchmark_group(name);
    group.throughput(criterion::Throughput::Elements(cells.len() as u64));
    group.bench_function("metachron", |b| {
        let mut lexer = Lexer::default();
        b.iter(|| {
            for cell in cells {
                let cell = lexer.lex(black_box(cell)).expect("short");
                black_box(reader.read(&cell, Century::Open.into()).expect("a stamp"));
            }
        });
    });
    group.bench_function("strptime", |b| {
        b.iter(|| {
            for cell in cells {
                if is_date {
                    black_box(
                        jiff::civil::Date::strptime(strptime, black_box(cell)).expect("a date"),
                    );
                } else {
                    black_box(
                        jiff::civil::DateTime::strptime(strptime, black_box(cell))
                            .expect("a datetime"),
                    );
                }
            }
        });
    });
    group.finish();
}

fn reading(c: &mut Criterion) {
    let days = cells(|day, month, year| format!("{day:02}/{month:02}/{year}"));
    bench(c, "dd/MM/yyyy", "dd/MM/yyyy", "%d/%m/%Y", &days, true);
    let times =
        cells(|day, month, year| format!("{year}-{month:02}-{day:02} {day:02}:{month:02}:59"));
    bench(
        c,
        "yyyy-MM-dd HH:mm:ss",
        "yyyy-MM-dd HH:mm:ss",
        "%Y-%m-%d %H:%M:%S",
        &times,
        false,
    );
    let names = cells(|day, month, year| {
        let name = metachron_core::locale::month_name(month);
        format!("{day} {} {year}", &name[..3])
    });
    bench(c, "d MMM yyyy", "d MMM yyyy", "%d %b %Y", &names, true);
}

criterion_group!(benches, reading);
criterion_main!(benches);
