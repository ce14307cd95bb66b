//! `metachron convert`: the clean table, the review list, the summary.

mod clean;
mod done;
mod head;
mod phrases;
mod report;
mod review;
mod targets;

use crate::cli::{ConvertArgs, OutFormat, Talk};
use crate::job::{Conversion, Direction, Extras, Job, Places, Resolved, SortBy};
use crate::outcome::{Outcome, usage};
use crate::output::{Output, Sorter};
use crate::view;
use crate::view::message::say;
use clean::Clean;
use done::Done;
use head::{header, out_dialect};
use metachron_core::derive::{Derivations, Shown};
use metachron_core::outlook::ColumnOutlook;
use metachron_core::phrase::{Phrase, Type};
use metachron_core::rulings::{Rulings, ZoneAs};
use metachron_core::stamp::Kind;
use review::Review;
use targets::Targets;

/// Runs the command.
pub fn run(args: &ConvertArgs, talk: Talk) -> anyhow::Result<Outcome> {
    let targets = Targets::new(args)?;
    let derived = args.derive.iter().map(|option| phrases::derive(option));
    let derived = derived.collect::<anyhow::Result<Vec<_>>>()?;
    let keep = args.keep.as_deref().map(phrases::keep).transpose()?;
    let mut job = Job::open(&args.table, &args.read, talk)?;
    let (rulings, outlooks) = match job.given_rulings()? {
        Some(rulings) => {
            job.make_encodings_sure()?;
            (rulings, None)
        }
        None => {
            let surveyed = job.survey()?;
            let ruled = job.rule(&surveyed)?;
            let places = Places::of_table(&job, &surveyed);
            (ruled.rulings, Some((ruled.columns, places)))
        }
    };
    let mut rulings = with_writing(rulings, args)?;
    rulings.derive.extend(derived);
    let done = write(args, &targets, &job, &rulings, keep.as_ref())?;
    let questions = outlooks
        .as_ref()
        .map(|(columns, places)| view::survey::questions(columns, places, view::width()));
    if talk != Talk::Quiet {
        say(&done.report(&targets, &job, &rulings, talk).join("\n"));
        for column in outlooks.iter().flat_map(|(columns, _)| columns) {
            for remark in column.remarks.iter().filter(|_| column.passed.is_some()) {
                say(&format!("{}: {remark}", column.name));
            }
        }
        let questions = questions.unwrap_or_default();
        if !questions.is_empty() {
            say(questions.trim_matches('\n'));
        }
    }
    if args.json {
        let mut out = Output::stdout();
        out.put(serde_json::to_string_pretty(&done.summary(&targets, &job, &rulings))?.as_bytes())?;
        out.put(b"\n")?;
        out.finish()?;
    }
    let asks = |columns: &[ColumnOutlook]| columns.iter().any(ColumnOutlook::waits);
    let waits = done.waiting() > 0
        || done.refused() > 0
        || outlooks.is_some_and(|(columns, _)| asks(&columns));
    Ok(match waits {
        true => Outcome::Waits,
        false => Outcome::Done,
    })
}

/// The rulings with what the options say of the result.
fn with_writing(mut rulings: Rulings, args: &ConvertArgs) -> anyhow::Result<Rulings> {
    for ruling in rulings.column.values_mut() {
        let write = &mut ruling.write;
        write.pattern = args.write_pattern.clone().or(write.pattern.take());
        write.locale = args.write_locale.clone().or(write.locale.take());
        // Other kinds have no zone to be shown in.
        if ruling.kind == Kind::Instant {
            write.zone = args.write_zone.clone().or(write.zone.take());
            write.zone_as = args.write_zone_as.map_or(write.zone_as, ZoneAs::from);
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

fn write(
    args: &ConvertArgs,
    targets: &Targets,
    job: &Job<'_>,
    rulings: &Rulings,
    keep: Option<&Phrase>,
) -> anyhow::Result<Done> {
    let dialect = out_dialect(targets, job);
    let extras = Extras {
        raw: args.keep_raw,
        verdict: args.verdicts,
        types: targets.format == Some(OutFormat::Xlsx),
    };
    let derivations = job.derivations(
        rulings,
        keep,
        &args.sort,
        Shown {
            zone: args.write_zone.clone(),
            zone_as: args.write_zone_as.map_or(ZoneAs::default(), ZoneAs::from),
        },
    )?;
    let sort = sort_by(args, job, rulings, &derivations);
    let resolved = match &args.resolved {
        Some(path) => Resolved::read(path, &job.table, rulings, &derivations)?,
        None => Resolved::default(),
    };
    let conversion = Conversion {
        rulings,
        derivations: &derivations,
        sort: sort.as_ref(),
        dialect,
        extras,
        resolved: &resolved,
    };
    let out = match &targets.out {
        Some(path) => Output::file(path)?,
        None => Output::stdout(),
    };
    let mut clean = Clean::new(targets, job, dialect, out)?;
    clean.header(&header(job, rulings, dialect, extras)?)?;
    let mut done = Done::new(job, &conversion);
    let mut review = Review::new(targets.review.clone())?;
    let mut sorter = sort.as_ref().map(|_| Sorter::new());
    job.convert(&conversion, |block| {
        review.add(&block, job, rulings, done.rows_by_file[block.source])?;
        match &mut sorter {
            Some(sorter) => {
                let mut start = 0;
                let mut cells = block.cells.iter();
                for (key, end) in &block.sorted {
                    let row = &block.bytes[start..*end];
                    let cells = cells.next().map_or(&[][..], Vec::as_slice);
                    sorter.add(key, (row, dialect.line_end()), cells)?;
                    start = *end;
                }
            }
            None => clean.block(&block)?,
        }
        done.add(block, job);
        Ok(())
    })?;
    if let Some(sorter) = sorter {
        done.steps_back = sorter.steps_back();
        sorter.finish(|row| clean.row(row))?;
    }
    let (out, as_text) = clean.finish()?;
    done.as_text = as_text;
    done.answers = resolved.len();
    let summary = match &targets.summary {
        Some(path) => {
            let mut summary = Output::file(path)?;
            let text = serde_json::to_string_pretty(&done.summary(targets, job, rulings))?;
            summary.put(text.as_bytes())?;
            summary.put(b"\n")?;
            Some(summary)
        }
        None => None,
    };
    review.finish()?;
    if let Some(summary) = summary {
        summary.finish()?;
    }
    out.finish()?;
    Ok(done)
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
        match job.table.columns().contains(name) {
            true => own,
            false => derived.unwrap_or(Type::Cell),
        }
    };
    let direction = match args.descending {
        true => Direction::Descending,
        false => Direction::Ascending,
    };
    let types = args.sort.iter().map(of).collect();
    (!args.sort.is_empty()).then(|| SortBy::new(&args.sort, types, derivations, direction))
}
