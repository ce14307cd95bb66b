//! The dialect and the header of the clean table.

use super::targets::Targets;
use crate::cli::OutFormat;
use crate::job::{Extras, Job};
use crate::outcome::usage;
use metachron_core::rulings::Rulings;
use metachron_table::{Dialect, csv::RowWriter};

/// The dialect of the clean table: the source's own, unless a format is asked
/// for that it is not.
pub fn out_dialect(targets: &Targets, job: &Job<'_>) -> Dialect {
    let own = job.table.dialect();
    match targets.format {
        // What goes into a workbook is handed over as CSV.
        Some(OutFormat::Xlsx) => Dialect::default(),
        Some(OutFormat::Tsv) if own.delimiter != b'\t' => Dialect {
            delimiter: b'\t',
            quote: Some(b'"'),
            ..own
        },
        Some(OutFormat::Csv) if own.delimiter == b'\t' => Dialect {
            delimiter: b',',
            quote: Some(b'"'),
            ..own
        },
        _ => own,
    }
}

/// The line of the column names, as it came unless something is added.
///
/// # Errors
///
/// Where a derived column has the name of one that is added.
pub fn header(
    job: &Job<'_>,
    rulings: &Rulings,
    dialect: Dialect,
    extras: Extras,
) -> anyhow::Result<Vec<u8>> {
    let mut out = Vec::new();
    if job.table.has_utf8_mark() {
        out.extend_from_slice("\u{feff}".as_bytes());
    }
    let names = job.table.header();
    if names.line.is_none() {
        return Ok(out);
    }
    let renamed = rulings
        .column
        .values()
        .any(|ruling| ruling.write.name.is_some());
    let zones = rulings
        .column
        .values()
        .any(|ruling| ruling.write.zone_beside().is_some());
    let added = (extras.raw || extras.verdict || zones) && !rulings.column.is_empty()
        || !rulings.derive.is_empty();
    if !renamed && !added && dialect.reads_alike(&job.table.dialect()) {
        out.extend_from_slice(names.raw.as_bytes());
        return Ok(out);
    }
    let writer = RowWriter::new(dialect);
    let mut written: Vec<String> = Vec::new();
    let mut put = |name: &str| written.push(name.to_owned());
    for (column, name) in names.names.iter().enumerate() {
        let ruling = rulings
            .column
            .get(name)
            .filter(|_| job.asked.contains(&column));
        let Some(ruling) = ruling else {
            put(names.written.get(column).map_or("", String::as_str));
            continue;
        };
        let clean = ruling.write.name.as_ref().unwrap_or(name);
        put(clean);
        if ruling.write.zone_beside().is_some() {
            put(&format!("{clean}_zone"));
        }
        if extras.raw {
            put(&format!("{clean}_raw"));
        }
        if extras.verdict {
            put(&format!("{clean}_verdict"));
        }
    }
    for derive in &rulings.derive {
        if written.contains(&derive.name) {
            return Err(usage(format!(
                "derived column `{0}`: the clean table has a column `{0}` already; give it another \
                 name",
                derive.name
            )));
        }
        written.push(derive.name.clone());
    }
    for (place, name) in written.iter().enumerate() {
        writer.cell(place, name, &mut out);
    }
    writer.end(&mut out);
    Ok(out)
}
