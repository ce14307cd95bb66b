//! Two-digit years: which hundred years they stand for.

use super::Declared;
use super::header::Header;
use crate::evidence::ColumnEvidence;
use crate::form::Form;
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

/// What the years might mean, first the window that is the default. Where that cuts
/// through them, those that read them as one run: before now, and, of dates whose name
/// says that they may be ahead, behind it; else the one of the other century.
pub fn possible_windows(name: &str, today: Date, years: u128) -> Vec<i16> {
    let default = default_window(today);
    let mut windows = vec![default];
    if edge_is_clear(default, years) {
        let is_ahead = |(first, _)| first > today.year();
        windows.push(if ends(default, years).is_some_and(is_ahead) {
            today.year() - 99
        } else {
            default + OLDEST
        });
    } else if let Some(back) = (1..100).find(|&back| edge_is_clear(default - back, years)) {
        let run = default - back;
        windows.push(run);
        if Header::of(name).is_ahead() {
            windows.push(run + 100);
        }
    }
    windows
}

/// The first and the last of the years (a bit each) in the window from `first`
/// on.
fn ends(first: i16, years: u128) -> Option<(i16, i16)> {
    let placed = (0..100_i16)
        .filter(|year| years >> year & 1 == 1)
        .map(|year| first + (year - first).rem_euclid(100));
    Some((placed.clone().min()?, placed.max()?))
}

/// Whether the column's years and its name say what the two-digit years of `form` stand
/// for, if it has any.
pub fn is_century_clear(name: &str, form: &Form, evidence: &ColumnEvidence, today: Date) -> bool {
    let forms = [FormRuling::Settled(form.clone())];
    let century = || settle(name, &forms, evidence, &Declared::default(), today);
    !form.has_two_digit_year() || century().is_some()
}

pub(super) fn settle(
    name: &str,
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
    declared
        .century
        .or_else(|| window(&Header::of(name), short_years(forms, evidence), today))
}

/// A column that lies wholly further ahead than so many years may be of the
/// century before.
const YEARS_AHEAD: i16 = 5;

/// A column that lies wholly in so many of the oldest years of the window may be
/// of the century to come.
const OLDEST: i16 = 20;

/// The window that the years (a bit each) stand in, as far as they and the
/// column's name say.
fn window(header: &Header, years: u128, today: Date) -> Option<i16> {
    let now = today.year();
    let default = default_window(today);
    let (first, last) = ends(default, years).unwrap_or((now, now));
    // Nobody is born after now.
    if header.is_about_births() && last > now {
        let window = now - 99;
        return edge_is_clear(window, years).then_some(window);
    }
    let is_in_doubt = if header.is_ahead() {
        last < default + OLDEST
    } else {
        first > now + YEARS_AHEAD
    };
    (!is_in_doubt && edge_is_clear(default, years)).then_some(default)
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
    use jiff::civil::date;

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
        let [_, other] = possible_windows("born", date(2026, 11, 23), births)[..] else {
            panic!("one other window");
        };
        assert!(edge_is_clear(other, births));
        let first = crate::form::Century::Window(other).year(29);
        let last = crate::form::Century::Window(other).year(71);
        assert_eq!((first, last), (1929, 1971));
    }

    #[test]
    fn names_and_our_time_place_years() {
        let today = date(2026, 11, 23);
        for (name, list, expected) in [
            ("date", 20..25, Some(1947)),
            ("date of birth", 50..99, Some(1947)),
            // As 20yy they would be born after now.
            ("date of birth", 27..35, Some(1927)),
            ("birth date", 35..45, Some(1927)),
            // Built by now, or to be built?
            ("commissioned", 33..44, None),
            ("expires", 33..44, Some(1947)),
            // 1948 is long past for something that ends.
            ("maturity date", 48..55, None),
            ("opened", 48..55, Some(1947)),
        ] {
            let header = Header::of(name);
            assert_eq!(
                window(&header, years(list.clone()), today),
                expected,
                "{name}: {list:?}"
            );
        }
    }

    #[test]
    fn the_other_window_is_of_the_other_century() {
        let today = date(2026, 11, 23);
        for (name, list, expected) in [
            ("built", 33..44, &[1947, 1927][..]),
            ("maturity", 48..55, &[1947, 1967]),
            ("maturity", 28..72, &[1947, 1928, 2028]),
        ] {
            let windows = possible_windows(name, today, years(list.clone()));
            assert_eq!(windows, expected, "{name}: {list:?}");
        }
    }
}
