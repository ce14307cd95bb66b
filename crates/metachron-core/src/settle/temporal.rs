//! Whether a column is temporal: its cells must say so.

use super::clocks::{
    LEAST_OF_HALF_DAY, clock_past_midnight, has_clock_digits, is_elapsed, lacks_half_of_day,
};
use super::header::Header;
use super::leftover::{self, Leftover};
use super::offered::{are_likely, have_rivals};
use super::period::named_period;
use super::running_numbers::running_numbers;
use super::weight::{Weight, is_numbered_day};
use super::years::{
    are_days_of_a_year, are_early_instants, calendars_of_years, has_short_year, in_far_years,
    is_of_our_time, on_zero_days,
};
use super::{Declared, live_orders};
use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, Hint, ShapeEvidence};
use crate::form::{FieldType, Form, Order};
use crate::lex::Class;
use crate::locale::{Roles, Sign, is_sign};
use crate::reading::Outcome;
use crate::stamp::Kind;
use jiff::civil::Date;

/// Why a column is not converted, but passed through as it came.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum SkipReason {
    /// The user asked for other columns only.
    NotAsked,
    /// The user said that it is text.
    Text,
    /// It has no filled cell.
    Empty,
    /// Nothing in it reads as a date or time.
    NoDates,
    /// A few cells read as dates or times, too few to say that the column is
    /// temporal.
    TooFew {
        /// How many read as dates or times.
        readable: u64,
        /// Whether they are hardly anything but dates, so that a person is
        /// asked.
        plain: bool,
    },
    /// No cell is a date or time alone: all of them hold the same besides one.
    Leftover(Leftover),
    /// No cell is a date or time that any form reads, and the column's name says
    /// that they are.
    Unread {
        /// How many cells.
        cells: u64,
    },
    /// Cells that may be dates, and as well numbers with dots or hyphens.
    Doubtful {
        /// How many read as dates.
        cells: u64,
    },
    /// All cells are eight digits that would be dates, and may be numbers.
    BareDigits {
        /// How many cells.
        cells: u64,
    },
    /// All its years are far from ours, and those of other calendars now.
    OtherCalendar {
        /// How many cells.
        cells: u64,
        /// The calendars.
        calendars: &'static [Calendar],
    },
    /// All its days are one that programs put where there is none: times of
    /// day, perhaps.
    NoDay {
        /// How many cells.
        cells: u64,
    },
    /// All cells are a year and the two digits of the next: `2008-09`, a
    /// month or a season.
    Seasons {
        /// How many cells.
        cells: u64,
    },
    /// Times of day on both sides of six o'clock, none of which passes 12:59:
    /// the half of the day is missing, perhaps.
    HalfDay {
        /// The column that it is before, though it should follow; if none, it is
        /// the hours themselves that say so.
        before: Option<String>,
        /// How many cells.
        cells: u64,
    },
    /// Clock-like cells that are the time between two other columns in every row:
    /// lengths of time, perhaps.
    Between {
        /// Where it begins.
        start: String,
        /// Where it ends.
        end: String,
        /// How many cells.
        cells: u64,
    },
    /// Clock-like cells, some of which pass 24:00: elapsed time, perhaps.
    PastMidnight {
        /// How many pass it.
        cells: u64,
    },
}

/// Of a column with plain forms, at least one in so many filled cells must
/// read as a date or time.
const PLAIN_ONE_IN: u64 = 2;

/// Of a column with faint forms only, at most one in so many may not.
const FAINT_FAILS_ONE_IN: u64 = 10;

/// So many different texts that are no dates make it a column of words and dates; one
/// that is there again and again marks an empty cell …
const LEAST_WORDS: usize = 3;

/// … where at least one cell in so many is such a text.
const WORDS_ONE_IN: u64 = 50;

/// Fewer than one in so many cells that read as dates are chance, and not
/// worth a remark.
const STRAY_ONE_IN: u64 = 20;

/// Whether the cells say that the column is temporal, or the user does.
pub(super) fn check(
    name: &str,
    evidence: &ColumnEvidence,
    declared: &Declared,
    today: Date,
) -> Result<(), SkipReason> {
    let filled = evidence.filled();
    if filled == 0 {
        return Err(SkipReason::Empty);
    }
    let header = Header::of(name);
    let elapsed = is_elapsed(name, evidence, declared);
    let is_said = elapsed || declared.temporal || !declared.forms.is_empty();
    let mut readable = 0;
    let mut best = Weight::Bare;
    for shape in &evidence.shapes {
        let cells = shape.count(|tally| {
            if is_said {
                !tally.outcome.is_unreadable()
            } else {
                makes_sense(shape, &tally.outcome)
            }
        });
        if cells > 0 {
            readable += cells;
            best = best.max(weight(shape));
        }
    }
    let past_midnight = clock_past_midnight(evidence);
    // What is named is meant: its cells are unreadable, and are listed.
    let is_named = declared.temporal || !declared.forms.is_empty();
    if !is_said && has_clock_digits(&header, evidence) {
        return Err(SkipReason::BareDigits { cells: filled });
    }
    if readable + past_midnight == 0 && !is_named {
        let is_about_time = header.is_about_time();
        return Err(match leftover::of_column(evidence, is_about_time) {
            Some(left) => SkipReason::Leftover(left),
            None if (is_about_time || header.is_about_weeks()) && leftover::is_marked(evidence) => {
                SkipReason::Unread {
                    cells: evidence.others.count,
                }
            }
            None if are_impossible(evidence, is_about_time) => SkipReason::Unread { cells: filled },
            None => SkipReason::NoDates,
        });
    }
    if !declared.forms.is_empty() {
        return Ok(());
    }
    // That a column is temporal does not say whose years it counts.
    if declared.calendar.is_none()
        && declared.locale.is_empty()
        && let calendars = calendars_of_years(evidence)
        && !calendars.is_empty()
    {
        return Err(SkipReason::OtherCalendar {
            cells: readable,
            calendars,
        });
    }
    if let Some(cells) = seasons(evidence).filter(|_| !header.has("month")) {
        return Err(SkipReason::Seasons { cells });
    }
    // Nor does it say what its clock leaves out, or that a zero is a day.
    let is_half_said = declared.half_of_day_from.is_some();
    let lacks_half = !is_half_said && !elapsed && lacks_half_of_day(evidence);
    if lacks_half && readable >= LEAST_OF_HALF_DAY {
        return Err(SkipReason::HalfDay {
            before: None,
            cells: readable,
        });
    }
    if readable > 1 && on_zero_days(evidence) == readable {
        return Err(SkipReason::NoDay { cells: readable });
    }
    if declared.temporal {
        return Ok(());
    }
    let all_short = |shape: &ShapeEvidence| {
        let mut candidates = shape.readings.candidates().iter();
        candidates.all(|candidate| has_short_year(shape, &candidate.form))
    };
    if declared.calendar.is_none() && evidence.shapes.iter().all(all_short) {
        return Err(SkipReason::NoDates);
    }
    // `12-07-4523` is a part's number, unless the name says that there are dates.
    let is_about_time = header.is_about_time();
    let are_bare = best == Weight::Bare;
    if !is_about_time && !are_bare && readable < 2 * in_far_years(evidence) {
        return Err(SkipReason::Doubtful { cells: readable });
    }
    let by_name = |shape: &&ShapeEvidence| named_period(name, shape).is_some();
    let named = evidence.shapes.iter().filter(by_name);
    if named.map(ShapeEvidence::cells).sum::<u64>() * PLAIN_ONE_IN >= filled {
        return Ok(());
    }
    if is_label(evidence) && !header.is_about_dates() {
        let read = evidence.shapes.iter().any(reads_any);
        return Err(if read {
            SkipReason::Doubtful { cells: readable }
        } else {
            SkipReason::NoDates
        });
    }
    // `[1981]` may be a reference, as 1981 may.
    if only_years(evidence) && !header.is_about_dates() {
        return Err(if are_likely(name, evidence) {
            SkipReason::BareDigits { cells: readable }
        } else {
            SkipReason::NoDates
        });
    }
    if best > Weight::Bare && contradicts(&header, evidence) {
        return Err(SkipReason::Doubtful { cells: readable });
    }
    if let Some(cells) = running_numbers(evidence, header.is_about_time()) {
        return Err(SkipReason::Doubtful { cells });
    }
    if best == Weight::Bare {
        let of_our_time = evidence
            .shapes
            .iter()
            .filter(|shape| is_of_our_time(shape, today))
            .filter(|shape| header.says_years() || !are_days_of_a_year(shape))
            .filter(|shape| header.may_be_moments() || !are_early_instants(shape));
        let sensible: u64 = of_our_time
            .map(|shape| {
                shape.count(|tally| {
                    tally.hint != Hint::FarYear && makes_sense(shape, &tally.outcome)
                })
            })
            .sum();
        let is_named = header.is_about_dates();
        // `2203011157` are seconds, and the first of March as well.
        if is_named && have_rivals(evidence) {
            return Err(SkipReason::BareDigits { cells: readable });
        }
        // A few odd cells hide nothing where the name says what the others are.
        if is_named && sensible * PLAIN_ONE_IN >= filled {
            return Ok(());
        }
        // `1120305` under `date` is a day of another calendar, or a slip of many;
        // 2196 under `birth date` is one of 1906.
        let are_days = evidence.shapes.iter().any(has_order);
        let is_odd = is_named && readable == filled;
        let is_number = header.is_about_rates() || header.is_about_codes() && !are_days;
        // One `unknown` hides nothing here either.
        let may_be = few_fail(filled - sensible, filled) && !is_named && !is_number;
        return Err(if is_odd || may_be {
            SkipReason::BareDigits { cells: readable }
        } else {
            SkipReason::NoDates
        });
    }
    let failing = (filled - readable).saturating_sub(past_midnight);
    if past_midnight > 0 && few_fail(failing, filled) && !elapsed {
        return Err(SkipReason::PastMidnight {
            cells: past_midnight,
        });
    }
    // Words under a name that says nothing of dates stay, until a person says that
    // they are none: genes that a spreadsheet made dates of stand among others.
    let others = &evidence.others;
    let words = others.first.iter().filter(|other| is_word(&other.text));
    let are_words = words.count() >= LEAST_WORDS && others.count * WORDS_ONE_IN >= filled;
    let holds_words = are_words && !header.is_about_time();
    let enough = match best {
        Weight::Plain => readable * PLAIN_ONE_IN >= filled && !holds_words,
        _ => few_fail(filled - readable, filled),
    };
    let is_plain = best == Weight::Plain;
    let are_said = header.is_about_dates() && evidence.shapes.iter().all(has_order);
    let may_be_numbers = best == Weight::Faint && !are_said;
    if enough && may_be_numbers && looks_like_numbers(evidence) {
        Err(SkipReason::Doubtful { cells: readable })
    } else if enough {
        Ok(())
    } else if readable * STRAY_ONE_IN < filled && !(header.may_be_moments() && is_plain) {
        Err(SkipReason::NoDates)
    } else {
        Err(SkipReason::TooFew {
            readable,
            plain: is_plain,
        })
    }
}

/// Whether the column's name says something else than what its cells read as:
/// part numbers such as `MAR-12` are no months, and `2024-02` under `week` is
/// none.
fn contradicts(header: &Header, evidence: &ColumnEvidence) -> bool {
    let mut usual = evidence.shapes.iter().flat_map(|shape| {
        let candidates = shape.readings.candidates().iter();
        candidates.filter(|candidate| candidate.usual)
    });
    // `05-03-78` under `case no` is none either; with a name, a time or the year in front,
    // it is.
    let is_iso = |form: &Form| form.order() == Some(Order::Ymd) && !form.has_two_digit_year();
    let is_sure = |form: &Form| {
        let is_whole = form.has(FieldType::Year) && form.has(FieldType::Day);
        is_whole && (!form.has_numeric_month() || form.has(FieldType::Hour) || is_iso(form))
    };
    if header.is_about_codes() && !header.is_about_time() {
        usual.all(|candidate| !is_sure(&candidate.form) && candidate.form.typed().is_none())
    } else {
        header.is_about_weeks() && usual.all(|candidate| candidate.form.kind() == Kind::Month)
    }
}

/// Whether a text is rather a word than a date with a part left out: `?/3/1920`.
fn is_word(text: &str) -> bool {
    let letters = text.chars().filter(|letter| letter.is_alphabetic()).count();
    let digits = text.chars().filter(char::is_ascii_digit).count();
    letters > 0 && letters >= digits
}

/// Whether some cell of `shape` reads as something in a usual way.
fn reads_any(shape: &ShapeEvidence) -> bool {
    let mut candidates = shape.readings.candidates().iter().enumerate();
    candidates.any(|(index, candidate)| {
        candidate.usual && shape.count(|tally| tally.outcome.reads(index)) > 0
    })
}

/// So many letters make a word that is no month as often as it is one.
const LABEL_LETTERS: usize = 4;

/// Whether the cells may be labels with numbers: `Set 5`, `Set 12`, where
/// `set` shortens September in some language and no cell has another name, or
/// a whole date; or `V 2024`, `X-2023`.
fn is_label(evidence: &ColumnEvidence) -> bool {
    let begins_with_numeral = |shape: &ShapeEvidence| {
        let classes = shape.readings.shape().classes();
        let is_quarter =
            |class: &Class| matches!(class, Class::Filler(word) if is_sign(*word, Sign::Quarter));
        let first = classes.first();
        first.is_some_and(|class| class.may_be(Roles::NUMERAL)) && !classes.iter().any(is_quarter)
    };
    if evidence.shapes.iter().any(begins_with_numeral) {
        return evidence.shapes.iter().all(begins_with_numeral);
    }
    let mut words = evidence.names.words();
    let (Some(word), None) = (words.next(), words.next()) else {
        return false;
    };
    let whole = |form: &Form| form.order().is_some() && form.kind() != Kind::Month;
    let mut candidates = evidence
        .shapes
        .iter()
        .flat_map(|shape| shape.readings.candidates());
    evidence.names.has_foreign()
        && word.chars().count() <= LABEL_LETTERS
        && !candidates.any(|candidate| whole(&candidate.form))
}

/// Whether a cell is one that its column may be temporal for: some form that
/// needs no leave from the column reads it, or waits for a rule. That `120 m`
/// may be minutes is no more than that it may be metres; `1 год 56 хв` is a length.
fn makes_sense(shape: &ShapeEvidence, outcome: &Outcome) -> bool {
    let mut candidates = shape.readings.candidates().iter().enumerate();
    // Of two units it is only the language that is missing, if anything is.
    let classes = shape.readings.shape().classes().iter();
    let has_units = classes.filter(|class| class.may_be(Roles::UNIT)).count() > 1;
    candidates.any(|(index, candidate)| match candidate.form.elapsed() {
        Some(_) if has_units => candidate.usual && outcome.may_be(index),
        Some(_) => candidate.usual && outcome.reads(index),
        None => outcome.may_be(index),
    })
}

/// How many cells there are, if each that reads as a month may as well be the
/// season that starts in its year.
fn seasons(evidence: &ColumnEvidence) -> Option<u64> {
    let tallies = || evidence.shapes.iter().flat_map(|shape| &shape.tallies);
    let seasons = tallies().filter(|tally| tally.hint == Hint::Season);
    let cells = seasons.map(|tally| tally.count).sum();
    let others =
        tallies().any(|tally| tally.hint != Hint::Season && !tally.outcome.is_unreadable());
    (cells > 0 && !others).then_some(cells)
}

/// Whether some usual form of `shape` has a day, a month and a year.
pub(super) fn has_order(shape: &ShapeEvidence) -> bool {
    let mut candidates = shape.readings.candidates().iter();
    candidates.any(|candidate| candidate.usual && candidate.order().is_some())
}

/// Whether nothing but years can be read: numbers like any others.
fn only_years(evidence: &ColumnEvidence) -> bool {
    let candidates = evidence
        .shapes
        .iter()
        .flat_map(|shape| shape.readings.candidates());
    candidates
        .into_iter()
        .all(|candidate| candidate.form.kind() == Kind::Year)
}

/// Whether so few cells fail that faint forms may still be believed.
fn few_fail(failing: u64, filled: u64) -> bool {
    failing * FAINT_FAILS_ONE_IN <= filled
}

/// Whether at least half of the cells are written as dates or times are, and are none
/// that can be: `31/02/2024` where the column's name speaks of dates, `Wed 2024-03-05`
/// and `2024-02-30 14:30` in any column.
fn are_impossible(evidence: &ColumnEvidence, is_about_time: bool) -> bool {
    let is_moment = |form: &Form| {
        let has_time = form.order().is_some() && form.has(FieldType::Hour);
        has_time || form.has_month_name() || form.has(FieldType::Weekday)
    };
    let is_date = |shape: &&ShapeEvidence| {
        let mut candidates = shape.readings.candidates().iter();
        weight(shape) == Weight::Plain
            && (is_about_time || candidates.any(|own| own.usual && is_moment(&own.form)))
    };
    let dates = evidence.shapes.iter().filter(is_date);
    2 * dates.map(ShapeEvidence::cells).sum::<u64>() >= evidence.filled()
}

/// The weight of the forms of `shape`: of the usual ones, if there are any.
fn weight(shape: &ShapeEvidence) -> Weight {
    let candidates = shape.readings.candidates();
    let any_usual = candidates.iter().any(|candidate| candidate.usual);
    candidates
        .iter()
        .filter(|candidate| candidate.usual || !any_usual)
        .map(|candidate| Weight::of(&candidate.form))
        .max()
        .unwrap_or(Weight::Bare)
}

/// Whether faint dates are written without leading zeros, as versions and
/// catalogue numbers are (`1.10.12`, `1998.12.3`), or in no settled order.
fn looks_like_numbers(evidence: &ColumnEvidence) -> bool {
    evidence
        .shapes
        .iter()
        .filter(|shape| {
            let first = &shape.readings.candidates()[0];
            // `3/2024` may be the third invoice of a year, and so may
            // `2024-003`.
            first.order().is_some()
                || first.form.kind() == Kind::Month
                || is_numbered_day(&first.form)
        })
        .any(|shape| {
            if is_numbered_day(&shape.readings.candidates()[0].form) {
                return true;
            }
            let (date, _) = shape.readings.candidates()[0].reader.free_numbers();
            date & !shape.writing.always_pairs != 0 || live_orders(shape).len() > 1
        })
}
