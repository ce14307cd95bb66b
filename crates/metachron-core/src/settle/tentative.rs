//! Columns that may be dates or numbers, read as dates until the rest of the table
//! was asked.

use super::clocks::has_clock_digits;
use super::header::Header;
use super::{Declared, SkipReason, settle};
use crate::evidence::ColumnEvidence;
use crate::rulings::ColumnRuling;
use crate::stamp::Kind;
use jiff::civil::Date;

/// The ruling of a column that is passed through because of `reason`, as one of
/// dates, where all of its cells may be some: `07.03.20`, which may be a version.
/// Not of one whose name says that it has codes: a version that is made of a date
/// is one.
pub(crate) fn tentative(
    name: &str,
    evidence: &ColumnEvidence,
    reason: &SkipReason,
    today: Date,
) -> Option<ColumnRuling> {
    let (SkipReason::Doubtful { cells } | SkipReason::BareDigits { cells }) = reason else {
        return None;
    };
    // Nor of one whose name says that it has times of day.
    let header = Header::of(name);
    let is_other = header.is_about_codes() || has_clock_digits(&header, evidence);
    if *cells != evidence.filled() || is_other {
        return None;
    }
    let declared = Declared {
        temporal: true,
        ..Declared::default()
    };
    let ruling = settle(name, evidence, &declared, today).ok()?;
    (ruling.kind == Kind::Date).then_some(ruling)
}
