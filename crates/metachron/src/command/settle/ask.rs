//! The open questions, one after another.

use crate::input_file;
use crate::job::{Job, RowNames};
use crate::output::{Allowed, Output};
use crate::view;
use crate::view::message::say;
use crate::view::question;
use crate::words::cell;
use comfy_table::Table;
use dialoguer::Select;
use dialoguer::theme::ColorfulTheme;
use metachron_core::engine::Settled;
use metachron_core::forecast::Question;
use metachron_core::rulings::Setting;
use std::io::IsTerminal;
use std::path::{Path, PathBuf};

/// What a person says to a question.
pub enum Said {
    /// This answer, by its index.
    Answer(usize),
    /// Nothing: it stays open.
    LeftOpen,
    /// No more questions now.
    Stop,
}

/// Somebody who can be asked.
pub trait Person {
    /// Puts a question on `column`.
    fn ask(
        &mut self,
        column: &str,
        question: &Question,
        row_names: &RowNames,
    ) -> anyhow::Result<Said>;
}

/// Whether there is a terminal to ask on.
pub fn can_ask() -> bool {
    std::io::stdin().is_terminal() && std::io::stderr().is_terminal()
}

/// Puts every open question to `person`; each answer is kept in `answers`, if
/// that is given, as soon as it is there, and ruled by before the next
/// question.
pub fn ask(
    job: &mut Job<'_>,
    mut settled: Settled,
    person: &mut dyn Person,
    answers: Option<&PathBuf>,
) -> anyhow::Result<Settled> {
    let row_names = RowNames::of_table(job, &settled.surveyed);
    let mut left_open: Vec<(String, Question)> = Vec::new();
    loop {
        let next = settled.columns.iter().find_map(|column| {
            let mut questions = column.questions.iter();
            let open = questions.find(|question| {
                let known = |(name, left): &(String, Question)| {
                    *name == column.name
                        && left.topic == question.topic
                        && left.example == question.example
                };
                !question.answers.is_empty() && !left_open.iter().any(known)
            });
            Some((column.name.clone(), open?.clone()))
        });
        let Some((column, question)) = next else {
            return Ok(settled);
        };
        match person.ask(&column, &question, &row_names)? {
            Said::Stop => return Ok(settled),
            Said::LeftOpen => left_open.push((column, question)),
            Said::Answer(index) => {
                let setting: Setting = question.answers[index].declares.parse()?;
                let may_stay = setting.leaves_survey();
                job.request.settings.push(setting);
                if let Some(path) = answers {
                    keep(path, &entry(&column, &question, index, &row_names, job))?;
                }
                settled = if may_stay {
                    job.settle_again(settled.surveyed)?
                } else {
                    job.settle()?
                };
            }
        }
    }
}

/// An answer as the file keeps it: the question and what was said, as
/// comments, above the setting.
fn entry(
    column: &str,
    question: &Question,
    index: usize,
    row_names: &RowNames,
    job: &Job<'_>,
) -> String {
    let answer = &question.answers[index];
    let one_line = |text: &str| text.replace(char::is_control, " ");
    format!(
        "# {}\n# answered on {}: {}\n{}\n\n",
        one_line(&question::sentence(column, question, row_names)),
        job.today(),
        one_line(&answer.reads_as),
        answer.declares
    )
}

/// Puts `entry` behind what the file holds; the file is there whole, before
/// and after.
fn keep(path: &Path, entry: &str) -> anyhow::Result<()> {
    let known = if path.exists() {
        input_file::read(path)?
    } else {
        "# Answers to the questions of `metachron settle --ask`, as --set takes them.\n\n"
            .to_owned()
    };
    let mut out = Output::file(path, Allowed::BY_UMASK)?;
    out.put(known.as_bytes())?;
    out.put(entry.as_bytes())?;
    out.finish()
}

/// The person before the terminal.
pub struct AtTheTerminal;

impl Person for AtTheTerminal {
    fn ask(
        &mut self,
        column: &str,
        question: &Question,
        row_names: &RowNames,
    ) -> anyhow::Result<Said> {
        say("");
        let sentence = question::sentence(column, question, row_names);
        say(view::wrap(&sentence, 0, view::width()).trim_end());
        say(&side_by_side(question));
        let mut choices: Vec<String> = question
            .answers
            .iter()
            .map(|answer| {
                let comes_of_it = question::consequence(answer, question.topic);
                format!("{}  ({comes_of_it})", answer.says)
            })
            .collect();
        choices.push("leave it open".to_owned());
        choices.push("stop here; what is answered is kept".to_owned());
        let chosen = Select::with_theme(&ColorfulTheme::default())
            .with_prompt("which")
            .items(&choices)
            .default(choices.len() - 2)
            .interact_opt()?;
        Ok(match chosen {
            Some(index) if index < question.answers.len() => Said::Answer(index),
            Some(index) if index + 1 == choices.len() => Said::Stop,
            Some(_) => Said::LeftOpen,
            None => Said::Stop,
        })
    }
}

/// A few cells, and what each answer would make of them.
fn side_by_side(question: &Question) -> String {
    let mut table = Table::new();
    table.load_preset(comfy_table::presets::NOTHING);
    let answers = question.answers.iter().map(|answer| answer.says.clone());
    table.set_header([String::new()].into_iter().chain(answers));
    for (index, sample) in question.samples.iter().enumerate() {
        let read = question.answers.iter().map(|answer| {
            let read = answer.samples_read_as.get(index).cloned().flatten();
            read.unwrap_or_else(|| "cannot be".to_owned())
        });
        table.add_row([cell(&sample.text)].into_iter().chain(read));
    }
    let lines = table.to_string();
    lines
        .lines()
        .map(|line| format!("  {}\n", line.trim_end()))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cli::{Cli, Command, Verbosity};
    use clap::Parser;

    /// Says what it was told beforehand, and remembers what it was asked.
    struct Told {
        says: Vec<Said>,
        asked: Vec<String>,
    }

    impl Person for Told {
        fn ask(&mut self, column: &str, question: &Question, _: &RowNames) -> anyhow::Result<Said> {
            let cells: Vec<&str> = question
                .samples
                .iter()
                .map(|cell| cell.text.as_str())
                .collect();
            self.asked.push(format!("{column}: {}", cells.join(", ")));
            Ok(self.says.pop().unwrap_or(Said::Stop))
        }
    }

    fn told(folder: &Path, says: Vec<Said>) -> (Vec<String>, Settled) {
        let answers = folder.join("answers");
        let (input, file) = (folder.join("t.csv"), answers.clone());
        let words = [
            "metachron",
            "settle",
            "--ask",
            "--now",
            "2026-11-23",
            "--answers",
        ];
        let words = words
            .iter()
            .map(|word| (*word).into())
            .chain([file.into_os_string(), input.into_os_string()]);
        let cli = Cli::parse_from(words.collect::<Vec<std::ffi::OsString>>());
        let Command::Settle(args) = &cli.command else {
            unreachable!("that is what was typed")
        };
        let read = super::super::read_args(args);
        let mut job = Job::open(&args.table, &read, Verbosity::Quiet).unwrap();
        let settled = job.settle().unwrap();
        let mut person = Told {
            says: says.into_iter().rev().collect(),
            asked: Vec::new(),
        };
        let ruled = ask(&mut job, settled, &mut person, Some(&answers)).unwrap();
        (person.asked, ruled)
    }

    /// Answers are ruled by at once, kept as they are given, and not asked for
    /// again.
    #[test]
    fn questions_are_left_and_gone_on_with() {
        let folder = tempfile::tempdir().unwrap();
        let table =
            "due,back,code\n03/04/2026,05.06.2026,20240305\n04/05/2026,07.08.2026,20240306\n";
        std::fs::write(folder.path().join("t.csv"), table).unwrap();
        let (asked, ruled) = told(folder.path(), vec![Said::Answer(1), Said::Stop]);
        assert_eq!(
            asked,
            [
                "due: 03/04/2026, 04/05/2026",
                "back: 05.06.2026, 07.08.2026"
            ]
        );
        assert_eq!(
            ruled.rulings.column["due"].read.order.unwrap().name(),
            "mdy"
        );
        let kept = std::fs::read_to_string(folder.path().join("answers")).unwrap();
        assert!(kept.contains("due.read.order=mdy"), "{kept}");
        assert!(
            kept.contains("# answered on 2026-11-23: 4 March 2026"),
            "{kept}"
        );
        // Another day: what is answered is not asked again.
        let (asked, ruled) = told(folder.path(), vec![Said::LeftOpen, Said::Answer(0)]);
        assert_eq!(asked, ["back: 05.06.2026, 07.08.2026", "code: 20240305"]);
        let code = &ruled.rulings.column["code"];
        assert_eq!(code.read.forms[0].alternatives()[0].to_string(), "yyyyMMdd");
        assert!(ruled.waits());
        let (asked, ruled) = told(folder.path(), vec![Said::Answer(0)]);
        assert_eq!(asked.len(), 1);
        assert!(!ruled.waits());
    }

    /// What cells are by themselves may hang on an answer: then they are surveyed
    /// again, and what is said of them afterwards is true.
    #[test]
    fn answers_about_cells_are_surveyed() {
        for table in [
            "day,no\n24 Aug,1\n3 Jan,2\n",
            "seen,no\n2024-03-05 14:30 CST,1\n2024-03-05 14:30 EST,2\n",
        ] {
            let folder = tempfile::tempdir().unwrap();
            std::fs::write(folder.path().join("t.csv"), table).unwrap();
            let says = vec![Said::Answer(0), Said::Answer(0)];
            let (_, ruled) = told(folder.path(), says);
            let cells = &ruled.columns[0].cells;
            assert_eq!((cells.certain, cells.open), (2, 0), "{table}");
        }
    }
}
