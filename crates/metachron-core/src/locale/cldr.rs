//! What ICU4X's CLDR data say of a locale.
//!
//! Names are asked for by formatting a date of each month, each weekday and
//! each era with a pattern of one field, which is ICU4X's public way to them;
//! it takes some ten microseconds a locale.

use super::meaning::{HourSpan, Meaning, NameWidth};
use crate::calendar::{Calendar, ERAS, Month};
use crate::stamp::Kind;
use icu_calendar::preferences::CalendarPreferences;
use icu_calendar::types::{LeapStatus, Month as IcuMonth, YearInput};
use icu_calendar::{AnyCalendarKind, Calendar as IcuCalendar, Date, cal};
use icu_datetime::DateTimeFormatter;
use icu_datetime::fieldsets::enums::CompositeDateTimeFieldSet;
use icu_datetime::fieldsets::{T, YMD, YMDE};
use icu_datetime::input::{DateTime, Time};
use icu_datetime::pattern::{DateTimePattern, FixedCalendarDateTimeNames};
use icu_datetime::provider::Baked;
use icu_datetime::scaffold::CldrCalendar;
use icu_locale::Locale;
use icu_locale::extensions::unicode::{Value, key};
use icu_provider::DataProvider;
use writeable::{TryWriteable, Writeable};

/// The calendar that `locale` uses, as far as it is one that can be read.
pub(super) fn calendar(locale: &Locale) -> Calendar {
    let kind = AnyCalendarKind::try_new(CalendarPreferences::from(locale)).ok();
    let mut all = Calendar::ALL.into_iter();
    all.find(|calendar| Some(calendar.kind()) == kind)
        .unwrap_or_default()
}

/// Calls `$work` with the ICU4X calendar that `$calendar` is; the Julian
/// calendar has the names of the Gregorian one.
macro_rules! with_calendar {
    ($calendar:expr, |$icu:ident| $work:expr) => {
        match $calendar {
            Calendar::Gregory | Calendar::Julian => {
                let $icu = cal::Gregorian;
                $work
            }
            Calendar::Buddhist => {
                let $icu = cal::Buddhist;
                $work
            }
            Calendar::Roc => {
                let $icu = cal::Roc;
                $work
            }
            Calendar::Japanese => {
                let $icu = cal::Japanese::new();
                $work
            }
            Calendar::Persian => {
                let $icu = cal::Persian;
                $work
            }
            Calendar::IslamicCivil | Calendar::IslamicTbla | Calendar::IslamicUmalqura => {
                let $icu = cal::Hijri::new_umm_al_qura();
                $work
            }
            Calendar::Hebrew => {
                let $icu = cal::Hebrew;
                $work
            }
            Calendar::Ethiopic => {
                let $icu = cal::Ethiopian::new();
                $work
            }
            Calendar::Ethioaa => {
                let $icu = cal::Ethiopian::new_with_era_style(cal::EthiopianEraStyle::AmeteAlem);
                $work
            }
            Calendar::Coptic => {
                let $icu = cal::Coptic;
                $work
            }
            Calendar::Indian => {
                let $icu = cal::Indian;
                $work
            }
        }
    };
}

/// Every name that `locale` has for the parts of a date in `calendar`, in all
/// widths but the narrow one, formatting and stand-alone.
pub(super) fn names(locale: &Locale, calendar: Calendar) -> Vec<(String, Meaning)> {
    with_calendar!(calendar, |icu| {
        let mut names = Asked {
            locale,
            calendar: icu,
            found: Vec::with_capacity(96),
        };
        names.months();
        names.weekdays();
        names.day_periods();
        names.eras(calendar);
        let mut found = names.found;
        // Formatting and stand-alone names mostly are the same.
        found.sort_unstable_by(|(one, _), (other, _)| one.cmp(other));
        found.dedup();
        found
    })
}

/// The names of a locale in a calendar, as far as they were asked for.
struct Asked<'l, C> {
    locale: &'l Locale,
    calendar: C,
    found: Vec<(String, Meaning)>,
}

impl<C> Asked<'_, C>
where
    C: CldrCalendar + IcuCalendar + Copy,
    Baked: DataProvider<C::YearNamesV1> + DataProvider<C::MonthNamesV1>,
{
    /// Adds what `pattern` writes for each of `dates`.
    fn add(&mut self, pattern: &str, dates: impl Iterator<Item = (Date<C>, Time, Meaning)>) {
        let Ok(pattern) = DateTimePattern::try_from_pattern_str(pattern) else {
            return;
        };
        let mut names =
            FixedCalendarDateTimeNames::<C, CompositeDateTimeFieldSet>::new_without_number_formatting(
                self.locale.into(),
            );
        let Ok(formatter) = names.include_for_pattern(&pattern) else {
            return;
        };
        for (date, time, meaning) in dates {
            let moment = DateTime { date, time };
            if let Ok(name) = formatter.format(&moment).try_write_to_string() {
                self.found.push((name.into_owned(), meaning));
            }
        }
    }

    fn months(&mut self) {
        self.months_as("MMMM", NameWidth::Wide);
        self.months_as("LLLL", NameWidth::Wide);
        self.months_as("MMM", NameWidth::Abbreviated);
        self.months_as("LLL", NameWidth::Abbreviated);
    }

    fn months_as(&mut self, pattern: &str, width: NameWidth) {
        let calendar = self.calendar;
        let year = Date::try_new_iso(2024, 7, 1).map(|date| date.to_calendar(calendar));
        let year = year.map_or(2024, |date| date.year().extended_year());
        let months = (1..=13).map(IcuMonth::new).chain([IcuMonth::leap(5)]);
        let dates: Vec<_> = months
            .filter_map(|month| {
                // 5784 was a Hebrew leap year.
                let date = Date::try_new(YearInput::Extended(year), month, 1, calendar).ok()?;
                let number = match date.month().leap_status() {
                    LeapStatus::Leap => Month::LEAP,
                    _ => date.month().number(),
                };
                Some((date, number))
            })
            .collect();
        let named = |(date, number)| (date, Time::start_of_day(), Meaning::month(number, width));
        self.add(pattern, dates.into_iter().map(named));
    }

    fn weekdays(&mut self) {
        self.weekdays_as("EEEE", NameWidth::Wide);
        self.weekdays_as("cccc", NameWidth::Wide);
        self.weekdays_as("EEE", NameWidth::Abbreviated);
        self.weekdays_as("ccc", NameWidth::Abbreviated);
        self.weekdays_as("EEEEEE", NameWidth::Abbreviated);
    }

    fn weekdays_as(&mut self, pattern: &str, width: NameWidth) {
        let calendar = self.calendar;
        // 1 January 2024 was a Monday.
        let days = (1..=7).filter_map(|day| {
            let date = Date::try_new_iso(2024, 1, day).ok()?;
            let date = date.to_calendar(calendar);
            Some((date, Time::start_of_day(), Meaning::weekday(day, width)))
        });
        self.add(pattern, days);
    }

    fn half_days_as(&mut self, pattern: &str, date: Date<C>) {
        let at = |hour| Time::try_new(hour, 0, 0, 0).unwrap_or(Time::start_of_day());
        let halves = [(9, HourSpan::AM), (15, HourSpan::PM)];
        let halves = halves.map(|(hour, span)| (date, at(hour), Meaning::day_period(span)));
        self.add(pattern, halves.into_iter());
    }

    fn hours_as(&mut self, pattern: &str, date: Date<C>) {
        let half_past = |hour| Time::try_new(hour, 30, 0, 0).unwrap_or(Time::start_of_day());
        let hours = (0..24).map(|hour| (date, half_past(hour), Meaning::default()));
        self.add(pattern, hours);
    }

    fn day_periods(&mut self) {
        let Ok(date) = Date::try_new_iso(2024, 1, 1) else {
            return;
        };
        let date = date.to_calendar(self.calendar);
        let at = |hour| Time::try_new(hour, 0, 0, 0).unwrap_or(Time::start_of_day());
        self.half_days_as("a", date);
        self.half_days_as("aaaa", date);
        // Locales without words for noon and midnight say am or pm.
        let halves = self.found.len();
        for pattern in ["b", "bbbb"] {
            let moments = [0, 12].map(|hour| {
                let span = HourSpan {
                    from: hour,
                    before: hour,
                };
                (date, at(hour), Meaning::day_period(span))
            });
            self.add(pattern, moments.into_iter());
        }
        for pattern in ["B", "BBBB"] {
            self.flexible_periods(pattern, date);
        }
        let am_pm: Vec<String> = self.found[..halves]
            .iter()
            .map(|(name, _)| name.clone())
            .collect();
        let mut index = 0;
        self.found.retain(|(name, _)| {
            index += 1;
            index <= halves || !am_pm.contains(name)
        });
    }

    /// The words for parts of the day (UTS #35 part 4, §3.2), by asking how
    /// each hour is called.
    fn flexible_periods(&mut self, pattern: &str, date: Date<C>) {
        let before = self.found.len();
        // Most locales have am and pm alone; they say so of the first hour.
        let first = Time::try_new(0, 30, 0, 0).unwrap_or(Time::start_of_day());
        self.add(pattern, [(date, first, Meaning::default())].into_iter());
        let first = self.found.pop();
        if first.is_none_or(|(word, _)| self.found.iter().any(|(known, _)| *known == word)) {
            return;
        }
        self.hours_as(pattern, date);
        let words: Vec<String> = self.found.drain(before..).map(|(word, _)| word).collect();
        if words.len() != 24 {
            return;
        }
        for (hour, word) in (0..24).zip(&words) {
            let word_before = &words[(hour + 23) % 24];
            if word == word_before {
                continue;
            }
            let len = (1..24)
                .take_while(|ahead| words[(hour + ahead) % 24] == *word)
                .count();
            let span = HourSpan {
                from: hour as u8,
                before: ((hour + len) % 24 + 1) as u8,
            };
            self.found.push((word.clone(), Meaning::day_period(span)));
        }
    }

    fn eras(&mut self, calendar: Calendar) {
        let icu = self.calendar;
        let eras = (1..)
            .zip(ERAS)
            .filter(|(_, era)| era.calendar.shares_era_with(calendar));
        let dates: Vec<_> = eras
            .filter_map(|(number, era)| {
                let year = YearInput::EraYear(era.code, era.sample_year);
                let date = Date::try_new(year, IcuMonth::new(12), 1, icu).ok()?;
                Some((date, Time::start_of_day(), Meaning::era(number)))
            })
            .collect();
        // The narrow names of the Gregorian eras are letters like any other.
        let widths: &[&str] = match calendar {
            Calendar::Gregory | Calendar::Julian => &["G", "GGGG"],
            _ => &["G", "GGGG", "GGGGG"],
        };
        for pattern in widths {
            self.add(pattern, dates.iter().copied());
        }
    }
}

/// The words that `symbol` stands for in `locale` and the Gregorian calendar:
/// of the months, of the weekdays from Monday on, of the halves of the day,
/// or of the eras.
pub(super) fn words_of(locale: &Locale, symbol: &str) -> Vec<String> {
    let mut asked = Asked {
        locale,
        calendar: cal::Gregorian,
        found: Vec::with_capacity(24),
    };
    let day = |year: i32| Date::try_new_gregorian(year, 1, 1).ok();
    match &symbol[..1] {
        "M" | "L" => asked.months_as(symbol, NameWidth::Either),
        "E" => asked.weekdays_as(symbol, NameWidth::Either),
        "a" => day(2024)
            .into_iter()
            .for_each(|day| asked.half_days_as(symbol, day)),
        _ => {
            let days = [0, 1].into_iter().filter_map(day);
            asked.add(
                symbol,
                days.map(|day| (day, Time::start_of_day(), Meaning::default())),
            );
        }
    }
    asked.found.into_iter().map(|(word, _)| word).collect()
}

/// The digits of `locale`, from 0 to 9.
pub(super) fn digits(locale: &Locale) -> Vec<char> {
    let digits = ('0'..='9').collect();
    let Ok(pattern) = DateTimePattern::try_from_pattern_str("mm") else {
        return digits;
    };
    let Ok(mut names) =
        FixedCalendarDateTimeNames::<cal::Gregorian, CompositeDateTimeFieldSet>::try_new(
            locale.into(),
        )
    else {
        return digits;
    };
    let Ok(formatter) = names.include_for_pattern(&pattern) else {
        return digits;
    };
    let own = (0..10).filter_map(|minute| {
        let time = Time::try_new(0, minute, 0, 0).ok()?;
        let date = Date::try_new_gregorian(2024, 1, 1).ok()?;
        let text = formatter.format(&DateTime { date, time });
        text.try_write_to_string().ok()?.chars().next_back()
    });
    let own: Vec<char> = own.collect();
    match own.len() {
        10 => own,
        _ => digits,
    }
}

/// The patterns of `locale`'s short, medium, long and full formats in
/// `calendar`: dates, then dates with times, then times.
pub(super) fn patterns(locale: &Locale, calendar: Calendar) -> Vec<String> {
    let locale = with_its_calendar(locale, calendar);
    let Some(moment) = sample() else {
        return Vec::new();
    };
    let numbered = numbered_months(&locale, calendar);
    let mut found: Vec<String> = Vec::new();
    macro_rules! add {
        ($($fields:expr),* $(,)?) => {$(
            if let Ok(formatter) = DateTimeFormatter::try_new((&locale).into(), $fields) {
                let pattern = formatter.format(&moment).pattern().write_to_string().into_owned();
                let pattern = with_numbers(&pattern, &numbered);
                if !found.contains(&pattern) {
                    found.push(pattern);
                }
            }
        )*};
    }
    add!(
        YMD::short(),
        YMD::medium(),
        YMD::long(),
        YMDE::long(),
        YMDE::medium()
    );
    add!(
        YMD::short().with_time_hm(),
        YMD::medium().with_time_hm(),
        YMD::long().with_time_hm(),
        YMDE::long().with_time_hm(),
        YMD::short().with_time_hms(),
        YMD::medium().with_time_hms(),
        YMD::long().with_time_hms(),
        YMDE::long().with_time_hms(),
    );
    add!(T::hm(), T::hms());
    found
}

fn with_its_calendar(locale: &Locale, calendar: Calendar) -> Locale {
    let mut locale = locale.clone();
    if let Ok(value) = calendar.name().parse::<Value>()
        && calendar != Calendar::Julian
    {
        locale.extensions.unicode.keywords.set(key!("ca"), value);
    }
    locale
}

/// The fifth of March 2024, half past two in the afternoon.
fn sample() -> Option<DateTime<icu_calendar::Iso>> {
    Some(DateTime {
        date: Date::try_new_iso(2024, 3, 5).ok()?,
        time: Time::try_new(14, 30, 0, 0).ok()?,
    })
}

/// The pattern of middle length in which `locale` writes stamps of `kind`.
pub(super) fn usual_pattern(locale: &Locale, kind: Kind) -> Option<String> {
    let locale = with_its_calendar(locale, Calendar::Gregory);
    let moment = sample()?;
    macro_rules! pattern {
        ($fields:expr) => {{
            let formatter = DateTimeFormatter::try_new((&locale).into(), $fields).ok()?;
            formatter
                .format(&moment)
                .pattern()
                .write_to_string()
                .into_owned()
        }};
    }
    let pattern = match kind {
        Kind::Date => pattern!(YMD::medium()),
        Kind::DateTime => pattern!(YMD::medium().with_time_hms()),
        // Instants are written in UTC.
        Kind::Instant => format!("{} z", pattern!(YMD::medium().with_time_hms())),
        Kind::Time => pattern!(T::hms()),
        _ => return None,
    };
    Some(with_numbers(
        &pattern,
        &numbered_months(&locale, Calendar::Gregory),
    ))
}

/// How `locale` writes the fifth of March 2024, half past two in the
/// afternoon: in short, and in full.
pub(super) fn samples(locale: &Locale) -> Option<[String; 2]> {
    let moment = sample()?;
    let short = DateTimeFormatter::try_new(locale.into(), YMD::short().with_time_hm()).ok()?;
    let full = DateTimeFormatter::try_new(locale.into(), YMDE::long().with_time_hm()).ok()?;
    Some([
        short.format(&moment).write_to_string().into_owned(),
        full.format(&moment).write_to_string().into_owned(),
    ])
}

/// Months whose names begin with their numbers (`3월`), by their symbol, with
/// what follows the number. A lexer cuts those as numbers.
fn numbered_months(locale: &Locale, calendar: Calendar) -> Vec<(&'static str, String)> {
    let mut numbered = Vec::new();
    for symbol in ["MMMM", "LLLL", "MMM", "LLL"] {
        let of_this_width: Vec<(String, Meaning)> = with_calendar!(calendar, |icu| {
            let mut asked = Asked {
                locale,
                calendar: icu,
                found: Vec::new(),
            };
            asked.months_as(symbol, NameWidth::Either);
            asked.found
        });
        let endings = of_this_width.iter().map(|(name, meaning)| {
            let mut plain = String::new();
            let name = if super::fold::plain_text(name, &mut plain) {
                plain
            } else {
                name.clone()
            };
            let number = super::meaning::month_of(meaning.value()).to_string();
            name.strip_prefix(&number).map(str::to_owned)
        });
        let endings: Option<Vec<String>> = endings.collect();
        if let Some(endings) = endings
            && let Some(first) = endings.first()
            && endings.iter().all(|ending| ending == first)
        {
            numbered.push((symbol, first.clone()));
        }
    }
    numbered
}

/// `patterns` with the months whose names begin with their numbers as numbers.
pub(super) fn with_numbered_months(locale: &Locale, patterns: Vec<String>) -> Vec<String> {
    let numbered = numbered_months(locale, Calendar::Gregory);
    let patterns = patterns.iter();
    patterns
        .map(|pattern| with_numbers(pattern, &numbered))
        .collect()
}

/// `pattern` with the months that are `numbered` as numbers.
fn with_numbers(pattern: &str, numbered: &[(&'static str, String)]) -> String {
    let mut pattern = pattern.to_owned();
    for (symbol, ending) in numbered {
        if let Some(at) = pattern.find(symbol) {
            let quoted = if ending.is_empty() {
                String::new()
            } else {
                format!("'{}'", ending.replace('\'', "''"))
            };
            // Behind it may open another quote, which the two make one text.
            let rest = &pattern[at + symbol.len()..];
            let text = match (quoted.strip_suffix('\''), rest.strip_prefix('\'')) {
                (Some(open), Some(goes_on)) => format!("M{open}{goes_on}"),
                _ => format!("M{quoted}{rest}"),
            };
            pattern.replace_range(at.., &text);
            break;
        }
    }
    pattern
}
