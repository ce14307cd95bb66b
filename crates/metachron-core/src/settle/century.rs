//! Two-digit years: which hundred years they stand for.

use super::Declared;
use crate::evidence::ColumnEvidence;
use crate::rulings::FormRuling;
use jiff::civil::Date;

/// By default the window reaches this many years back from the current one.
const YEARS_BACK: i16 = 79;

/// The gap that the window's edge falls into must miss at least this many
/// years; a smaller one may be chance.
const NARROWEST_GAP: u32 = 10;

/// The first year of the default window: 79 years before `today`'s.
pub fn default_window(today: Date) -> i16 {
    today.year() - YEARS_BACK
}

/// Whether the edge of the window from `first` on falls into a gap between
/// the years there are (a bit each), and into the widest one: only then do
/// the column's own years say where one century ends and the next begins.
fn edge_is_clear(first: i16, years: u128) -> bool {
    let first = first.rem_euclid(100) as u32;
    let has = |year: u32| years >> (year % 100) & 1 == 1;
    if years == 0 {
        return true;
    }
    // Each year that is there opens a gap behind it, up to the next.
    let gaps = (0..100).filter(|&year| has(year)).map(|year| {
        let len = (1..=100).take_while(|ahead| !has(year + ahead)).count() as u32;
        let holds_edge = (first + 99 - year) % 100 <= len;
        (len, holds_edge)
    });
    let gaps: Vec<(u32, bool)> = gaps.collect();
    let widest = gaps.iter().map(|(len, _)| *len).max().unwrap_or(0);
    gaps.iter()
        .any(|&(len, holds_edge)| holds_edge && len == widest && len >= NARROWEST_GAP)
}

/// The window that reads the years as one run, in the century before or the
/// same: what else they might mean where the default cuts through them.
pub fn other_window(default: i16, years: u128) -> i16 {
    let earliest = (0..100_i16)
        .find(|&start| edge_is_clear(default - start, years))
        .unwrap_or(0);
    default - earliest
}

pub(super) fn settle(
    forms: &[FormRuling],
    evidence: &ColumnEvidence,
    declared: &Declared,
    today: Date,
) -> Option<i16> {
    let short = forms
        .iter()
        .flat_map(FormRuling::alternatives)
        .any(|form| form.has_two_digit_year());
    if !short {
        return None;
    }
    declared.century.or_else(|| {
        let first = default_window(today);
        edge_is_clear(first, short_years(forms, evidence)).then_some(first)
    })
}

/// The two-digit years that `forms` read in the column, a bit each.
pub fn short_years(forms: &[FormRuling], evidence: &ColumnEvidence) -> u128 {
    let mut years = 0;
    for shape in &evidence.shapes {
        let candidates = shape.readings.candidates();
        for form in forms.iter().flat_map(FormRuling::alternatives) {
            let Some(reader) = form.fit(shape.readings.shape()) else {
                continue;
            };
            for (candidate, span) in candidates.iter().zip(&shape.spans) {
                if candidate.reader.reads_alike(&reader) {
                    years |= span
                        .short_years
                        .keys()
                        .fold(0, |bits, year| bits | 1 << year);
                }
            }
        }
    }
    years
}

#[cfg(test)]
mod tests {
    use super::*;

    fn years(list: impl IntoIterator<Item = u8>) -> u128 {
        list.into_iter().fold(0, |bits, year| bits | 1 << year)
    }

    #[test]
    fn the_edge_must_fall_into_the_widest_gap() {
        for (list, clear) in [
            (vec![24], true),
            ((98..100).chain(0..27).collect(), true),
            ((50..100).chain(0..27).collect(), true),
            // Every year there is: no gap at all.
            ((0..100).collect(), false),
            // A gap, but a small one.
            ((50..100).chain(0..44).collect(), false),
            // The gap from 30 to 70 holds the edge; the one from 72 to 28 is
            // wider.
            (vec![29, 71], false),
            ((29..72).collect(), false),
        ] {
            assert_eq!(edge_is_clear(1947, years(list.clone())), clear, "{list:?}");
        }
    }

    #[test]
    fn the_other_window_keeps_the_years_together() {
        let births = years(29..72);
        let other = other_window(1947, births);
        assert!(edge_is_clear(other, births));
        let first = crate::form::Century::Window(other).year(29);
        let last = crate::form::Century::Window(other).year(71);
        assert_eq!((first, last), (1929, 1971));
    }
}
