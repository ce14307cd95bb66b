//! Metachron: messy date and time columns in, clean typed timestamps out,
//! every doubt listed. See `metachron --help`.

mod cli;
mod command;
mod fault;
mod input_file;
mod job;
mod json;
mod outcome;
mod output;
mod run;
mod signals;
mod view;
mod visible;
mod words;
mod zone_data;

fn main() -> std::process::ExitCode {
    fault::guarded(run::run)
}
