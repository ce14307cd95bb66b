//! The patterns in which a locale writes dates and times.

use super::{Tag, cldr};
use crate::calendar::Calendar;

/// Patterns of CLDR's editions 36 to 48 that have names or words: language, regions,
/// pattern.
const CLDR_PATTERNS: &str = include_str!("../../data/cldr-patterns.tsv");

/// Patterns of the GNU C Library that have names or words, in the same form.
const C_LIBRARY_PATTERNS: &str = include_str!("../../data/c-library-patterns.tsv");

/// Patterns that people write, in the same form.
const EVERYDAY_PATTERNS: &str = include_str!("../../data/everyday-patterns.tsv");

/// Short dates of locales where the order of day, month and year has changed between
/// CLDR's editions 27 to 48: locale, pattern, editions.
const SHORT_DATES: &str = include_str!("../../data/short-dates.tsv");

/// How `tag` writes dates in short, where the order of day, month and year has changed:
/// the patterns, each with CLDR's editions that have it; none where it has not.
///
/// ```
/// use metachron_core::locale::short_dates;
///
/// let filipino_english = short_dates(&"en-PH".parse()?);
/// assert_eq!(filipino_english, [("dd/MM/y", "27,30,34,36,38"), ("M/d/yy", "42,45,48")]);
/// assert!(short_dates(&"en-GB".parse()?).is_empty());
/// # Ok::<(), metachron_core::locale::ParseTagError>(())
/// ```
pub fn short_dates(tag: &Tag) -> Vec<(&'static str, &'static str)> {
    let language = tag.language_and_script();
    let of_region = tag.region().map(|region| format!("{language}-{region}"));
    let locales = of_region.into_iter().chain([language]);
    let dates = locales.map(|locale| lines_of(SHORT_DATES, &locale).collect::<Vec<_>>());
    let own = dates.into_iter().find(|lines| !lines.is_empty());
    own.into_iter()
        .flatten()
        .filter_map(|line| line.split_once('\t'))
        .collect()
}

/// The patterns in which `tag` writes dates in `calendar`: those that ICU4X formats with;
/// those of CLDR's editions; those of the GNU C Library, which date(1) and all programs
/// write that call strftime; and those that people write and none of these has.
pub fn patterns(tag: &Tag, calendar: Calendar) -> Vec<String> {
    let mut patterns = usual_patterns(tag, calendar);
    if calendar == Calendar::Gregory {
        let of_editions = patterns_in(CLDR_PATTERNS, tag);
        patterns.extend(cldr::with_numbered_months(tag.locale(), of_editions));
        patterns.extend(patterns_in(C_LIBRARY_PATTERNS, tag));
        patterns.extend(patterns_in(EVERYDAY_PATTERNS, tag));
    }
    patterns
}

/// Those that ICU4X formats with: of dates, short to full, then of dates with times,
/// then of times.
pub fn usual_patterns(tag: &Tag, calendar: Calendar) -> Vec<String> {
    cldr::patterns(tag.locale(), calendar)
}

/// What stands behind `language` in the lines of a table that begin with it. No other
/// line is read: a process asks for few languages of hundreds.
pub(super) fn lines_of<'t>(table: &'t str, language: &str) -> impl Iterator<Item = &'t str> {
    let own = move |line: &'t str| line.strip_prefix(language)?.strip_prefix('\t');
    table.lines().filter_map(own)
}

/// Those of a table: of the tag's region, or of all regions of its language where
/// it names none, or one that the table has nothing of.
fn patterns_in(table: &'static str, tag: &Tag) -> Vec<String> {
    let own = tag.language_and_script();
    let lines = lines_of(table, &own);
    let of_language: Vec<(&str, &str)> = lines.filter_map(|line| line.split_once('\t')).collect();
    let is_of_region = |regions: &str| {
        let mut regions = regions.split(',');
        tag.region()
            .is_some_and(|own| regions.any(|region| region == own))
    };
    let has_region = of_language.iter().any(|(regions, _)| is_of_region(regions));
    let own = of_language
        .into_iter()
        .filter(|(regions, _)| !has_region || is_of_region(regions));
    own.map(|(_, pattern)| pattern.to_owned()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::form::Form;

    #[test]
    fn patterns_are_forms() {
        let tables = [CLDR_PATTERNS, C_LIBRARY_PATTERNS, EVERYDAY_PATTERNS].into_iter();
        let lines = tables.flat_map(str::lines);
        for line in lines.filter(|line| !line.starts_with('#')) {
            let pattern = line.rsplit('\t').next().unwrap();
            if let Err(why) = pattern.parse::<Form>() {
                panic!("{line}: {why}");
            }
        }
    }

    #[test]
    fn a_region_has_its_own() {
        let own = |tag: &str| patterns_in(C_LIBRARY_PATTERNS, &tag.parse().unwrap());
        assert!(own("fo").contains(&"dd/MM-yyyy".to_owned()));
        assert!(own("de-DE").contains(&"EEE d. MMM HH:mm:ss z yyyy".to_owned()));
        assert!(!own("de-AT").contains(&"EEE d. MMM HH:mm:ss z yyyy".to_owned()));
        assert_eq!(own("de-NA"), own("de"));
    }
}
