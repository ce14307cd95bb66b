//! Calendars and eras.
//!
//! Every date ends as a day of the proleptic Gregorian calendar (ISO 8601-1
//! §4.2.1). What year, month and day another calendar gives it is computed by
//! ICU4X.
//!
//! ```
//! use metachron_core::calendar::{Calendar, Month};
//!
//! let nowruz = Calendar::Persian.date(1403, Month::Number(1), 1).unwrap();
//! assert_eq!(nowruz, jiff::civil::date(2024, 3, 20));
//! assert_eq!("roc".parse::<Calendar>().unwrap().name(), "roc");
//! ```

use icu_calendar::types::{Month as IcuMonth, YearInput};
use icu_calendar::{AnyCalendar, AnyCalendarKind, Date as IcuDate};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::ops::RangeInclusive;

/// A calendar that dates are written in.
///
/// The names are those of the `ca` key of BCP 47 (UTS #35 part 4, §2), and
/// `julian`, which that list does not have.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
#[serde(rename_all = "kebab-case")]
pub enum Calendar {
    /// Today's civil calendar, computed back before its reform of 1582.
    #[default]
    Gregory,
    /// The calendar before that reform, in use here and there until 1923.
    Julian,
    /// Thailand's: 543 years ahead.
    Buddhist,
    /// The Republic of China's (Minguo), from 1912 on.
    Roc,
    /// The years of the Japanese emperors.
    Japanese,
    /// The solar calendar of Iran and Afghanistan.
    Persian,
    /// The tabular Islamic calendar, civil epoch (Friday).
    IslamicCivil,
    /// The tabular Islamic calendar, astronomical epoch (Thursday).
    IslamicTbla,
    /// Saudi Arabia's Umm al-Qura calendar.
    IslamicUmalqura,
    /// The Hebrew calendar.
    Hebrew,
    /// Ethiopia's, years since the Incarnation.
    Ethiopic,
    /// Ethiopia's, years since the Creation.
    Ethioaa,
    /// The Coptic calendar.
    Coptic,
    /// The national calendar of India (Shaka era).
    Indian,
}

/// Calendars whose years are far from the Gregorian ones, by the years that
/// our time has in them.
const FAR_YEARS: [(RangeInclusive<i16>, &[Calendar]); 4] = [
    (90..=140, &[Calendar::Roc]),
    (1290..=1460, &[Calendar::Persian, Calendar::IslamicUmalqura]),
    (2400..=2620, &[Calendar::Buddhist]),
    (5500..=5850, &[Calendar::Hebrew]),
];

/// Whether a Gregorian year is so far from our time that it is one of another
/// calendar, or made of digits that are no year, as often as it is meant:
/// 2560 is 2017 in Thailand, and 0327 and 4523 are no years of anybody's table. Programs
/// write 2999 and 9999 for a day without an end.
#[inline]
pub fn is_far(year: i16) -> bool {
    match year {
        // Most years are none of those, whatever they are.
        1461..2400 | 2999 | 9999 => false,
        1000..=1460 => is_of_another_calendar(year),
        _ => true,
    }
}

/// Whether a Gregorian year far from ours is one that another calendar has in our time.
pub(crate) fn is_of_another_calendar(year: i16) -> bool {
    FAR_YEARS.iter().any(|(range, _)| range.contains(&year))
}

/// The calendars in which all of `years` are of our time, where that is not
/// the Gregorian one.
///
/// ```
/// use metachron_core::calendar::{Calendar, suggested_by};
///
/// assert_eq!(suggested_by(2560..=2567), [Calendar::Buddhist]);
/// assert!(suggested_by(2019..=2567).is_empty());
/// ```
pub fn suggested_by(years: RangeInclusive<i16>) -> &'static [Calendar] {
    let holds = |(range, _): &&(RangeInclusive<i16>, _)| {
        range.contains(years.start()) && range.contains(years.end())
    };
    FAR_YEARS
        .iter()
        .find(holds)
        .map_or(&[], |(_, calendars)| calendars)
}

/// A month of a calendar.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Month {
    /// The so-manieth of its year.
    Number(u8),
    /// The one with this name, numbered as in a common year; the leap month
    /// that only some Hebrew years have is [`Month::LEAP`].
    Named(u8),
}

impl Month {
    /// The number by which [`Month::Named`] calls the Hebrew month Adar I.
    pub const LEAP: u8 = 14;
}

impl Calendar {
    /// Whether its months are those of the Gregorian calendar in a Gregorian `year`:
    /// then one of its months, quarters and years is one of ours.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    ///
    /// assert!(Calendar::Roc.has_gregorian_months(2024));
    /// // Thailand's years began in April until 1940, and Japan had months of the moon.
    /// assert!(!Calendar::Buddhist.has_gregorian_months(1940));
    /// assert!(!Calendar::Japanese.has_gregorian_months(1872));
    /// assert!(!Calendar::Persian.has_gregorian_months(2024));
    /// ```
    pub fn has_gregorian_months(self, year: i16) -> bool {
        match self {
            Calendar::Gregory => true,
            Calendar::Buddhist => year >= 1941,
            Calendar::Roc => year >= 1912,
            Calendar::Japanese => year >= 1873,
            _ => false,
        }
    }

    /// Every calendar.
    pub const ALL: [Calendar; 14] = [
        Calendar::Gregory,
        Calendar::Julian,
        Calendar::Buddhist,
        Calendar::Roc,
        Calendar::Japanese,
        Calendar::Persian,
        Calendar::IslamicCivil,
        Calendar::IslamicTbla,
        Calendar::IslamicUmalqura,
        Calendar::Hebrew,
        Calendar::Ethiopic,
        Calendar::Ethioaa,
        Calendar::Coptic,
        Calendar::Indian,
    ];

    /// The name in rulings files and on the command line.
    pub fn name(self) -> &'static str {
        match self {
            Calendar::Gregory => "gregory",
            Calendar::Julian => "julian",
            Calendar::Buddhist => "buddhist",
            Calendar::Roc => "roc",
            Calendar::Japanese => "japanese",
            Calendar::Persian => "persian",
            Calendar::IslamicCivil => "islamic-civil",
            Calendar::IslamicTbla => "islamic-tbla",
            Calendar::IslamicUmalqura => "islamic-umalqura",
            Calendar::Hebrew => "hebrew",
            Calendar::Ethiopic => "ethiopic",
            Calendar::Ethioaa => "ethioaa",
            Calendar::Coptic => "coptic",
            Calendar::Indian => "indian",
        }
    }

    /// The day that is `day` of `month` of `year` here; `None` where the
    /// calendar has no such day, or it lies beyond the years -9999 to 9999.
    pub fn date(self, year: i32, month: Month, day: u8) -> Option<Date> {
        self.eval(YearInput::Extended(year), month, day)
    }

    /// The same for a year of an era. Japanese eras run into one another
    /// within a year; a date before its era began is none.
    pub fn date_in_era(self, era: &str, year: i32, month: Month, day: u8) -> Option<Date> {
        let date = self.eval(YearInput::EraYear(era, year), month, day)?;
        // ICU4X takes a day outside the era's bounds; the cell is wrong then.
        let there = self.of_kind(date);
        let begun = there
            .year()
            .era()
            .is_some_and(|now| now.era.as_str() == era);
        (begun || self != Calendar::Japanese).then_some(date)
    }

    /// The year that `date` has in this calendar.
    pub fn year_of(self, date: Date) -> i32 {
        self.of_kind(date).year().extended_year()
    }

    fn of_kind(self, date: Date) -> IcuDate<AnyCalendar> {
        let iso = IcuDate::try_new_iso(
            date.year().into(),
            date.month().unsigned_abs(),
            date.day().unsigned_abs(),
        );
        let iso = iso.unwrap_or_else(|_| IcuDate::from_rata_die(EPOCH, icu_calendar::Iso));
        iso.to_calendar(AnyCalendar::new(self.kind()))
    }

    fn eval(self, year: YearInput<'_>, month: Month, day: u8) -> Option<Date> {
        let kind = self.kind();
        let month = match month {
            Month::Number(number) => self.month_of_number(year, number)?,
            Month::Named(Month::LEAP) => IcuMonth::leap(5),
            Month::Named(number) => IcuMonth::new(number),
        };
        let date = IcuDate::try_new(year, month, day, AnyCalendar::new(kind)).ok()?;
        let iso = date.to_calendar(icu_calendar::Iso);
        Date::new(
            i16::try_from(iso.year().extended_year()).ok()?,
            iso.month().ordinal as i8,
            iso.day_of_month().0 as i8,
        )
        .ok()
    }

    /// The month that comes so-manieth in its year: in Hebrew leap years the
    /// sixth is the leap month.
    fn month_of_number(self, year: YearInput<'_>, number: u8) -> Option<IcuMonth> {
        if self != Calendar::Hebrew || number < 6 {
            return Some(IcuMonth::new(number));
        }
        let leap = IcuDate::try_new(year, IcuMonth::leap(5), 1, AnyCalendar::new(self.kind()));
        Some(match (leap.is_ok(), number) {
            (true, 6) => IcuMonth::leap(5),
            (true, _) => IcuMonth::new(number - 1),
            (false, _) => IcuMonth::new(number),
        })
    }

    pub(crate) fn kind(self) -> AnyCalendarKind {
        match self {
            Calendar::Gregory => AnyCalendarKind::Gregorian,
            Calendar::Julian => AnyCalendarKind::Julian,
            Calendar::Buddhist => AnyCalendarKind::Buddhist,
            Calendar::Roc => AnyCalendarKind::Roc,
            Calendar::Japanese => AnyCalendarKind::Japanese,
            Calendar::Persian => AnyCalendarKind::Persian,
            Calendar::IslamicCivil => AnyCalendarKind::HijriTabularTypeIIFriday,
            Calendar::IslamicTbla => AnyCalendarKind::HijriTabularTypeIIThursday,
            Calendar::IslamicUmalqura => AnyCalendarKind::HijriUmmAlQura,
            Calendar::Hebrew => AnyCalendarKind::Hebrew,
            Calendar::Ethiopic => AnyCalendarKind::Ethiopian,
            Calendar::Ethioaa => AnyCalendarKind::EthiopianAmeteAlem,
            Calendar::Coptic => AnyCalendarKind::Coptic,
            Calendar::Indian => AnyCalendarKind::Indian,
        }
    }
}

/// The number of a day of the Gregorian calendar; that of 1970-01-01 is 0.
///
/// To ask the date library for the time between two days costs five times as much, and is
/// done for every row of columns that are compared.
pub(crate) fn day_number(day: Date) -> i32 {
    let [month, day_of_month] = [day.month(), day.day()].map(i32::from);
    // Years from March on end with their leap day.
    let year = i32::from(day.year()) - i32::from(month < 3);
    let (cycle, year_of_cycle) = (year.div_euclid(400), year.rem_euclid(400));
    let months_since_march = (month + 9) % 12;
    // 153 days in five months, over and over.
    let day_of_year = (153 * months_since_march + 2) / 5 + day_of_month - 1;
    let day_of_cycle = 365 * year_of_cycle + year_of_cycle / 4 - year_of_cycle / 100 + day_of_year;
    DAYS_OF_CYCLE * cycle + day_of_cycle - DAYS_TO_1970
}

/// 400 years.
const DAYS_OF_CYCLE: i32 = 146_097;

/// From 1 March of the year 0 to 1970-01-01.
const DAYS_TO_1970: i32 = 719_468;

/// 1970-01-01 as days of the common era.
const EPOCH: icu_calendar::types::RataDie = icu_calendar::types::RataDie::new(719_163);

/// An era that a word can name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Era {
    /// The calendar whose years it counts. For the Islamic era it is the
    /// civil one; which variant is meant has to be said.
    pub calendar: Calendar,
    /// Its code in CLDR.
    pub code: &'static str,
    /// A year of it, in which it has a 1 December.
    pub(crate) sample_year: i32,
}

/// The eras, by the number (from 1) that stands for them in tokens.
pub const ERAS: [Era; 18] = {
    const fn era(calendar: Calendar, code: &'static str, sample_year: i32) -> Era {
        Era {
            calendar,
            code,
            sample_year,
        }
    }
    [
        era(Calendar::Gregory, "ce", 2000),
        era(Calendar::Gregory, "bce", 44),
        era(Calendar::Buddhist, "be", 2560),
        era(Calendar::Roc, "roc", 110),
        era(Calendar::Roc, "broc", 3),
        era(Calendar::Japanese, "reiwa", 3),
        era(Calendar::Japanese, "heisei", 3),
        era(Calendar::Japanese, "showa", 3),
        era(Calendar::Japanese, "taisho", 3),
        era(Calendar::Japanese, "meiji", 8),
        era(Calendar::Persian, "ap", 1400),
        era(Calendar::IslamicCivil, "ah", 1440),
        era(Calendar::Hebrew, "am", 5780),
        era(Calendar::Ethiopic, "am", 2010),
        era(Calendar::Ethioaa, "aa", 7500),
        era(Calendar::Coptic, "am", 1730),
        era(Calendar::Indian, "shaka", 1940),
        era(Calendar::Julian, "ce", 2000),
    ]
};

impl Calendar {
    /// Whether years of this calendar may be meant by an era of `other`:
    /// it is the same, or both are Islamic.
    pub(crate) fn shares_era_with(self, other: Calendar) -> bool {
        let islamic = |calendar| {
            matches!(
                calendar,
                Calendar::IslamicCivil | Calendar::IslamicTbla | Calendar::IslamicUmalqura
            )
        };
        self == other || islamic(self) && islamic(other)
    }
}

impl std::fmt::Display for Calendar {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.pad(self.name())
    }
}

/// The text names no [`Calendar`].
#[derive(Debug, thiserror::Error)]
#[error("no calendar is called `{name}`{}", hint(name))]
pub struct ParseCalendarError {
    name: String,
}

fn hint(name: &str) -> String {
    let names = Calendar::ALL.map(Calendar::name);
    match crate::words::nearest(name, names) {
        Some(near) => format!("; did you mean `{near}`?"),
        None => format!("; there are {}", crate::words::list(&names, "and")),
    }
}

impl std::str::FromStr for Calendar {
    type Err = ParseCalendarError;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        let mut all = Calendar::ALL.into_iter();
        all.find(|calendar| calendar.name() == text)
            .ok_or_else(|| ParseCalendarError {
                name: text.to_owned(),
            })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    proptest! {
        /// As the date library counts them.
        #[test]
        fn days_have_numbers(days in -4_371_587_i32..2_932_896) {
            let day = date(1970, 1, 1) + jiff::Span::new().days(days);
            prop_assert_eq!(day_number(day), days);
        }
    }

    #[test]
    fn days_of_every_calendar() {
        for (calendar, year, month, day, expected) in [
            (Calendar::Gregory, 2024, 2, 29, date(2024, 2, 29)),
            (Calendar::Julian, 1582, 10, 4, date(1582, 10, 14)),
            (Calendar::Buddhist, 2567, 3, 5, date(2024, 3, 5)),
            (Calendar::Roc, 113, 3, 5, date(2024, 3, 5)),
            (Calendar::Persian, 1402, 12, 15, date(2024, 3, 5)),
            (Calendar::IslamicUmalqura, 1445, 8, 24, date(2024, 3, 5)),
            (Calendar::IslamicCivil, 1445, 8, 24, date(2024, 3, 5)),
            (Calendar::IslamicTbla, 1445, 8, 25, date(2024, 3, 5)),
            (Calendar::Hebrew, 5784, 6, 25, date(2024, 3, 5)),
            (Calendar::Hebrew, 5784, 7, 25, date(2024, 4, 4)),
            (Calendar::Hebrew, 5783, 6, 12, date(2023, 3, 5)),
            (Calendar::Ethiopic, 2016, 6, 26, date(2024, 3, 5)),
            (Calendar::Ethioaa, 7516, 6, 26, date(2024, 3, 5)),
            (Calendar::Coptic, 1740, 6, 26, date(2024, 3, 5)),
            (Calendar::Indian, 1945, 12, 15, date(2024, 3, 5)),
        ] {
            let found = calendar.date(year, Month::Number(month), day);
            assert_eq!(found, Some(expected), "{calendar} {year}-{month}-{day}");
            assert_eq!(calendar.year_of(expected), year, "{calendar}");
        }
    }

    #[test]
    fn days_that_are_not() {
        assert_eq!(Calendar::Persian.date(1402, Month::Number(12), 30), None);
        assert_eq!(
            Calendar::Hebrew.date(5783, Month::Named(Month::LEAP), 1),
            None
        );
        assert_eq!(Calendar::Roc.date(113, Month::Number(13), 1), None);
    }

    #[test]
    fn years_of_eras() {
        let day = |era, year, month, day| {
            Calendar::Japanese.date_in_era(era, year, Month::Number(month), day)
        };
        assert_eq!(day("reiwa", 6, 3, 5), Some(date(2024, 3, 5)));
        assert_eq!(day("heisei", 31, 4, 30), Some(date(2019, 4, 30)));
        assert_eq!(day("heisei", 31, 5, 1), None, "Reiwa had begun");
        let bce = Calendar::Gregory.date_in_era("bce", 44, Month::Number(3), 15);
        assert_eq!(bce, Some(date(-43, 3, 15)));
    }
}
