//! `metachron convert`: the clean table, the review list, the summary.

mod done;
pub mod each;
mod phrases;
mod report;
mod review;
mod targets;

use crate::cli::{ConvertArgs, Verbosity};
use crate::job::interrupted::finish_interrupted;
use crate::job::review_list::is_review_list;
use crate::job::{Job, RowNames};
use crate::json;
use crate::outcome::{Outcome, from_engine, usage};
use crate::output::{Allowed, Output, Sorter, put_in_place};
use crate::view;
use crate::view::message::say;
use crate::visible::one_line;
use anyhow::Context;
use done::Done;
use metachron_core::derive::{Derivations, Shown};
use metachron_core::engine::{Answers, Conversion, ConvertOptions, Direction, Extras, SortBy};
use metachron_core::forecast::ColumnForecast;
use metachron_core::phrase::{Phrase, Type};
use metachron_core::rulings::{Comments, Rulings, ZoneAs};
use metachron_core::stamp::Kind;
use metachron_table::{
    ColumnTypes, HeaderLine, IfExists, Others, OutFormat, RowEnds, SourceStyle, Table, WriteError,
    Written,
};
use review::Review;
use std::path::PathBuf;
use targets::Targets;

/// Runs the command.
pub fn run(args: &ConvertArgs, verbosity: Verbosity) -> anyhow::Result<Outcome> {
    convert(args, verbosity, |_, counts| {
        if args.json {
            let mut out = Output::stdout();
            json::put(&mut out, counts)?;
            out.finish()?;
        }
        Ok(())
    })
}

/// Converts one table, and tells `tell` how it was read, and the counts.
fn convert(
    args: &ConvertArgs,
    verbosity: Verbosity,
    tell: impl FnOnce(&Table, &json::Conversion<'_>) -> anyhow::Result<()>,
) -> anyhow::Result<Outcome> {
    let targets = Targets::new(args)?;
    for finished in finish_interrupted(targets.files()) {
        say(&finished);
    }
    let derived = args.derive.iter().map(|option| phrases::derive(option));
    let derived = derived.collect::<anyhow::Result<Vec<_>>>()?;
    let keep = args.keep.as_deref().map(phrases::keep).transpose()?;
    let mut job = Job::open(&args.table, &args.read, verbosity)?;
    let (rulings, forecasts) = match job.request.given_rulings().map_err(from_engine)? {
        Some(rulings) => {
            job.make_encodings_sure()?;
            (rulings, None)
        }
        None => {
            let settled = job.settle()?;
            let row_names = RowNames::of_table(&job, &settled.surveyed);
            (settled.rulings, Some((settled.columns, row_names)))
        }
    };
    let mut rulings = with_writing(rulings, args, &targets)?;
    rulings.derive.extend(derived);
    let done = write(args, &targets, &job, &rulings, keep.as_ref())?;
    let questions = forecasts
        .as_ref()
        .map(|(columns, row_names)| view::survey::questions(columns, row_names, view::width()));
    if verbosity != Verbosity::Quiet {
        say(&done.report(&targets, &job, &rulings, verbosity).join("\n"));
        for column in forecasts.iter().flat_map(|(columns, _)| columns) {
            for remark in column.remarks.iter().filter(|_| column.skipped.is_some()) {
                say(&format!("{}: {remark}", one_line(&column.name)));
            }
        }
        let questions = questions.unwrap_or_default();
        if !questions.is_empty() {
            say(questions.trim_matches('\n'));
        }
    }
    let differences = done.all_differences(&rulings);
    let counts = done.to_json(&targets, &job, &rulings, &differences);
    tell(&job.table, &counts)?;
    let any_waits = |columns: &[ColumnForecast]| columns.iter().any(ColumnForecast::waits);
    let waits = done.waiting() > 0
        || done.refused() > 0
        || forecasts.is_some_and(|(columns, _)| any_waits(&columns));
    Ok(if waits { Outcome::Waits } else { Outcome::Done })
}

/// The rulings with what the options say of the result.
fn with_writing(
    mut rulings: Rulings,
    args: &ConvertArgs,
    targets: &Targets,
) -> anyhow::Result<Rulings> {
    for ruling in rulings.column.values_mut() {
        let write = &mut ruling.write;
        write.pattern = args.write_pattern.clone().or(write.pattern.take());
        write.locale = args.write_locale.clone().or(write.locale.take());
        // Other kinds have no zone to be shown in.
        if ruling.kind == Kind::Instant {
            write.zone = args.write_zone.clone().or(write.zone.take());
            write.zone_as = args.write_zone_as.map_or(write.zone_as, ZoneAs::from);
            if write.zone.is_some() {
                write.zone_as = targets.zone_as(write.zone_as);
            }
        }
    }
    rulings.check().map_err(|(column, cause)| {
        usage(format!(
            "column `{column}`: {cause}; name the columns that it is for with -c, or give it to \
             one with --set 'NAME.write.pattern=PATTERN'"
        ))
    })?;
    Ok(rulings)
}

/// Writes the table, in a format with types again where its columns need others than they
/// began with.
fn write(
    args: &ConvertArgs,
    targets: &Targets,
    job: &Job<'_>,
    rulings: &Rulings,
    keep: Option<&Phrase>,
) -> anyhow::Result<Done> {
    let mut types = None;
    loop {
        let written = write_once(args, targets, job, rulings, keep, types);
        let why = match written {
            Ok(done) => return Ok(done),
            Err(why) => why,
        };
        match why.downcast_ref() {
            // What was sent cannot be taken back.
            Some(WriteError::OtherTypes { needed, .. }) if targets.can_write_again() => {
                types = Some((**needed).clone());
            }
            _ => return Err(why),
        }
    }
}

fn write_once(
    args: &ConvertArgs,
    targets: &Targets,
    job: &Job<'_>,
    rulings: &Rulings,
    keep: Option<&Phrase>,
    types: Option<ColumnTypes>,
) -> anyhow::Result<Done> {
    let derivations = job.derivations(
        rulings,
        keep,
        &args.sort,
        Shown {
            zone: args.write_zone.clone(),
            zone_as: targets.zone_as(args.write_zone_as.map_or(ZoneAs::default(), ZoneAs::from)),
        },
    )?;
    let sort = sort_by(args, job, rulings, &derivations);
    let answers = match &args.resolved {
        Some(path) => job.answers(path, rulings, &derivations)?,
        None => Answers::default(),
    };
    let mut done = Done::new(job, rulings, &derivations, sort.as_ref());
    done.answers = answers.len();
    let mut sorter = sort.as_ref().map(|_| Sorter::new());
    let options = ConvertOptions {
        derivations,
        sort,
        extras: Extras {
            raw: args.keep_raw,
            verdict: args.verdicts,
        },
        answers,
    };
    let mut conversion = Conversion::new(&job.request, rulings, options).map_err(from_engine)?;
    job.prepare(&mut conversion)?;
    let inputs = args.table.inputs.iter().map(PathBuf::as_path);
    let allowed = Allowed::by_files(inputs);
    let out = match (&targets.database, &targets.out) {
        (Some(database), _) => Output::database(database.shown()),
        (None, Some(path)) => Output::file(path, allowed)?,
        (None, None) => Output::stdout(),
    };
    let name = out.name().to_owned();
    let written = |result| cannot_write(result, &name);
    let style = SourceStyle {
        others: if args.type_others {
            Others::Typed
        } else {
            Others::Text
        },
        types,
        ..source_style(targets, job, rulings, sorter.is_some())
    };
    let if_exists = if args.append {
        IfExists::Append
    } else {
        IfExists::Refuse
    };
    let mut clean = match (&targets.database, targets.format) {
        (Some(database), _) => database.writer(style, if_exists, out),
        (None, Some(format)) => format.writer(style, out)?,
        (None, None) => OutFormat::like_source(style, out),
    };
    written(clean.begin(conversion.schema()))?;
    let allowed = allowed.of_lists(targets.out.as_deref());
    let mut review = Review::new(targets.review.clone(), allowed, args.escape_formulas)?;
    let encoder = clean.encoder();
    job.convert(&conversion, &*encoder, |block| {
        let file = block.rows.at.file;
        review.add(&block.rows, job, rulings, done.rows_by_file[file])?;
        match &mut sorter {
            Some(sorter) => {
                let mut start = 0;
                for (key, end) in &block.sorted {
                    sorter.add(key, &block.bytes[start..*end])?;
                    start = *end;
                }
            }
            None => written(clean.write(&block.bytes, file))?,
        }
        done.add(block.rows, job);
        Ok(())
    })?;
    if let Some(sorter) = sorter {
        done.steps_back = sorter.steps_back();
        sorter.finish(|row| written(clean.write(row, 0)))?;
    }
    let finished = clean.finish(&done.provenance(rulings));
    let Written {
        out,
        as_text,
        remarks,
        commit,
    } = cannot_write(finished, &name)?;
    done.as_text = as_text;
    done.remarks = remarks;
    let summary = match &targets.summary {
        Some(path) => {
            let mut summary = Output::file(path, allowed)?;
            let differences = done.all_differences(rulings);
            json::put(
                &mut summary,
                &done.to_json(targets, job, rulings, &differences),
            )?;
            Some(summary.complete()?)
        }
        None => None,
    };
    // A disk that is full is so before any file of an earlier run is replaced.
    let (out, review) = (out.complete()?, review.complete()?);
    if let Some(commit) = commit {
        cannot_write(commit(), &name)?;
    }
    // Where nothing waits, a list of an earlier run is out of date.
    let outdated = targets.review.clone().filter(|_| review.is_none());
    let files = [Some(out), review, summary].into_iter().flatten();
    put_in_place(files, outdated, is_review_list)?;
    Ok(done)
}

/// Says of an error of the writer what could not be written; that of the operating system
/// by itself, so that a closed pipe is found.
fn cannot_write<T>(result: Result<T, WriteError>, name: &str) -> anyhow::Result<T> {
    let result = result.map_err(|error| match error {
        WriteError::Io(why) => why.into(),
        other => anyhow::Error::new(other),
    });
    result.with_context(|| format!("cannot write {name}"))
}

/// How the source is written, as far as the clean table takes after it.
fn source_style(
    targets: &Targets,
    job: &Job<'_>,
    rulings: &Rulings,
    is_sorted: bool,
) -> SourceStyle {
    let header = job.table.header();
    let mut told = rulings.clone();
    for ruling in told.column.values_mut() {
        // That a type tells the zone is of the format, not of the rulings.
        if ruling.write.zone_as == ZoneAs::Type {
            ruling.write.zone_as = ZoneAs::default();
        }
    }
    SourceStyle {
        dialect: job.table.dialect(),
        has_utf8_mark: job.table.has_utf8_mark(),
        header: header.has_names().then(|| HeaderLine {
            names: header.names.clone(),
            raw: header.raw.clone(),
        }),
        row_ends: if is_sorted {
            RowEnds::Always
        } else {
            RowEnds::AsInSource
        },
        today: job.today(),
        table: targets.table.clone(),
        tool: done::TOOL.to_owned(),
        rulings: told.to_toml(&Comments::default()),
        others: Others::default(),
        source_types: job.table.types().to_vec(),
        threads: job.threads(),
        types: None,
    }
}

/// What the rows are sorted by, if they are.
fn sort_by(
    args: &ConvertArgs,
    job: &Job<'_>,
    rulings: &Rulings,
    derivations: &Derivations,
) -> Option<SortBy> {
    let of = |name: &String| {
        let mut derived = derivations.columns();
        let derived = derived.find(|(known, _)| known == name).map(|(_, of)| of);
        let ruling = rulings.column.get(name);
        let own = ruling.map_or(Type::Cell, |ruling| Type::Stamp(ruling.kind));
        if job.table.columns().contains(name) {
            own
        } else {
            derived.unwrap_or(Type::Cell)
        }
    };
    let direction = if args.descending {
        Direction::Descending
    } else {
        Direction::Ascending
    };
    let types = args.sort.iter().map(of).collect();
    (!args.sort.is_empty()).then(|| SortBy::new(&args.sort, types, derivations, direction))
}
