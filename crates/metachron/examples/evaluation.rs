//! Tries the program on thousands of made-up tables whose truth is known, and
//! prints what became of their cells, as docs/evidence.md quotes it:
//! `cargo run --release -p metachron --example evaluation [TABLES-OF-EACH-SORT]`

#[path = "../tests/evaluation/mod.rs"]
mod evaluation;

use evaluation::cases::Case;
use evaluation::count::Count;
use evaluation::program::Program;
use std::error::Error;
use std::path::PathBuf;

fn main() -> Result<(), Box<dyn Error>> {
    let mut args = std::env::args().skip(1);
    let tables: u64 = args.next().map_or(Ok(200), |text| text.parse())?;
    let kept = args.next().map(PathBuf::from);
    let folder = tempfile::tempdir()?;
    let folder = kept.as_deref().unwrap_or(folder.path());
    // Next to the folder of the examples.
    let here = std::env::current_exe()?;
    let program = here
        .ancestors()
        .nth(2)
        .ok_or("no folder")?
        .join("metachron");
    let program = Program {
        path: program,
        folder: folder.to_owned(),
    };
    println!(
        "| tables | cells | right | open | wrong | tables asked about | right once answered |"
    );
    println!("|---|---:|---:|---:|---:|---:|---:|");
    let (mut unshown, mut unshown_wrong) = (0, 0);
    let (mut needless, mut telling, mut harmful) = (0, 0, 0);
    for case in Case::ALL {
        let count = Count::of(case, tables, &program);
        let share = |part: u64| 100.0 * part as f64 / count.cells as f64;
        println!(
            "| {} | {} | {:.1} % | {:.1} % | {} | {:.1} % | {:.1} % |",
            case.words(),
            count.cells,
            share(count.right),
            share(count.open),
            count.wrong,
            100.0 * count.asked as f64 / count.tables as f64,
            share(count.answered),
        );
        harmful += count.harmful;
        if case.says_all() {
            telling += count.tables;
            needless += count.asked;
        }
        if count.as_declared > 0 {
            println!(
                "| of these, read as declared | {} | | | |",
                count.as_declared
            );
        }
        if count.unshown > 0 {
            unshown += count.unshown;
            unshown_wrong += count.unshown_wrong;
        }
        if count.invented > 0 {
            println!(
                "!! {} of {} cells that are no dates came out as days",
                count.invented, count.apart
            );
        }
    }
    println!(
        "\nApart from these, {unshown} cells are in an order that nothing in their table shows; \
         {unshown_wrong} of them came out as another day."
    );
    println!(
        "Of {telling} tables that say all that one has to know, {needless} are asked about. \
         {harmful} answers did something else than they say."
    );
    Ok(())
}
