//! Why a form cannot read a cell of its shape.

use crate::calendar::Calendar;
use crate::locale::{month_name, weekday_name};
use jiff::Timestamp;
use jiff::civil::{Date, Time};

/// What makes a reading impossible.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Impossible {
    /// No month has this number.
    Month(u8),
    /// No day has this number, or this month of this year does not have it.
    Day {
        /// The day of the month.
        day: u8,
        /// The month.
        month: u8,
        /// The year.
        year: i16,
    },
    /// The calendar has no such day.
    DayOf {
        /// The calendar.
        calendar: Calendar,
        /// The day of the month.
        day: u8,
        /// The month.
        month: u8,
        /// The year.
        year: i32,
    },
    /// Languages use the word for different months or parts of the day.
    NameDiffers,
    /// The part of the day that is written has no such hour.
    NotThen {
        /// The hour on the twelve-hour clock.
        hour: u8,
    },
    /// The era is that of several calendars, a day apart.
    WhichCalendar,
    /// The weekday that is written is not that of the date.
    Weekday {
        /// What the cell says, 1 (Monday) – 7.
        written: u8,
        /// The date.
        date: Date,
    },
    /// It is no number.
    NoNumber,
    /// `1,234`: thousands or decimals.
    DecimalSign,
    /// Workbook day 60, the 29 February that 1900 did not have.
    DayThatNeverWas,
    /// A count of 0: an empty cell, more often than the day it counts from.
    CountOfZero,
    /// A number below 1 where days are counted: a time without a date.
    OnlyTimeOfDay(Time),
    /// `5 m`, `60 W`: minutes, months or metres; weeks or watts.
    WhichUnit,
    /// Half a month has no length.
    PartOfMonth,
    /// No quarter has this number.
    Quarter(u8),
    /// The year has no such week (ISO 8601).
    Week {
        /// The week.
        week: u8,
        /// The year.
        year: i16,
    },
    /// No day of the week has this number.
    WeekdayNumber(u8),
    /// The year has no such day.
    DayOfYear {
        /// The day of the year.
        day: u16,
        /// The year.
        year: i16,
    },
    /// Months and years of another calendar are no months and years here.
    NoSuchStretch,
    /// It has no year, and none is ruled.
    NoYear,
    /// It has an hour from 1 to 12, and nothing says which half of the day that is in.
    NoHalfOfDay,
    /// A part of the day that is no moment of it, without an hour.
    NoMoment,
    /// No such hour on the clock in use.
    Hour(u8),
    /// No such minute.
    Minute(u8),
    /// No such second.
    Second(u8),
    /// An offset from UTC beyond what any zone ever had.
    Offset,
    /// The abbreviation stands for several offsets.
    WhichZone,
    /// The time zone database has no such zone.
    NoSuchZone,
    /// The zone does not have the offset that is written.
    ZoneDisagrees,
    /// Clocks there went forward over that time.
    NeverThere,
    /// Clocks there went back over that time.
    TwiceThere,
    /// The form wants two digits where the cell has one, or the other way.
    Width,
    /// A word of the form is not the one in the cell.
    Literal,
    /// Outside the years that can be computed with (-9999 to 9999).
    OutOfRange,
    /// Outside the instants that can be computed with: the last ones of the year 9999 are
    /// in the next one somewhere.
    BeyondInstants,
    /// The designators of a duration in another order, or a `T` with nothing behind it
    /// (ISO 8601-1:2019 §5.5.2.2).
    DurationParts,
    /// A second numbered 60: a leap second, which neither neighbour is.
    LeapSecond,
    /// `24:00` without a date: the end of a day that is not given.
    EndOfNoDay,
}

impl Impossible {
    /// Whether the cell contradicts itself in a way that says nothing about
    /// which form wrote it: people write the abbreviation of winter all year.
    pub fn is_slip(self) -> bool {
        self == Impossible::ZoneDisagrees
    }

    /// Whether the cell means something that a rule could still decide:
    /// such a cell is open, not unreadable.
    pub fn awaits_rule(self) -> bool {
        matches!(
            self,
            Impossible::LeapSecond
                | Impossible::EndOfNoDay
                | Impossible::NameDiffers
                | Impossible::NoYear
                | Impossible::NoHalfOfDay
                | Impossible::WhichZone
                | Impossible::NeverThere
                | Impossible::TwiceThere
                | Impossible::DecimalSign
                | Impossible::WhichUnit
                | Impossible::OnlyTimeOfDay(_)
                | Impossible::WhichCalendar
        )
    }
}

impl std::error::Error for Impossible {}

impl std::fmt::Display for Impossible {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match *self {
            Impossible::Month(month) => write!(f, "month {month} does not exist"),
            Impossible::Day { day, .. } if day == 0 || day > 31 => {
                write!(f, "day {day} does not exist")
            }
            Impossible::Day { day, month, year } => {
                let month = month_name(month.clamp(1, 12) as i8);
                write!(f, "{month} {year} has no day {day}")
            }
            Impossible::Weekday { written, date } => write!(
                f,
                "{date} is a {}, not a {}",
                weekday_name(date.weekday().to_monday_one_offset().unsigned_abs()),
                weekday_name(written)
            ),
            Impossible::NoNumber => f.write_str("it is no number"),
            Impossible::DecimalSign => {
                f.write_str("its comma may part thousands or be the decimal sign")
            }
            Impossible::DayThatNeverWas => {
                f.write_str("60 would be 29 February 1900, a day that never was")
            }
            Impossible::CountOfZero => {
                f.write_str("0: an empty cell that became a number, perhaps")
            }
            Impossible::OnlyTimeOfDay(time) => {
                write!(f, "below 1 it is a time of day, {time}, without a date")
            }
            Impossible::WhichUnit => {
                f.write_str("a single m or capital letter may be another unit than one of time")
            }
            Impossible::PartOfMonth => f.write_str("a part of a month has no fixed length"),
            Impossible::Quarter(quarter) => write!(f, "quarter {quarter} does not exist"),
            Impossible::Week { week, year } => write!(f, "{year} has no week {week}"),
            Impossible::WeekdayNumber(day) => write!(f, "a week has no day {day}"),
            Impossible::DayOfYear { day, year } => write!(f, "{year} has no day {day}"),
            Impossible::NoSuchStretch => {
                f.write_str("a month or year of that calendar is none of the Gregorian calendar")
            }
            Impossible::NoYear => {
                f.write_str("it has no year; read.year or read.year-from has to say it")
            }
            Impossible::NoHalfOfDay => {
                f.write_str("the column of read.half-of-day-from does not say a.m. or p.m. here")
            }
            Impossible::NoMoment => f.write_str("that part of the day needs an hour"),
            Impossible::Hour(hour) => write!(f, "hour {hour} does not exist"),
            Impossible::Minute(minute) => write!(f, "minute {minute} does not exist"),
            Impossible::Second(second) => write!(f, "second {second} does not exist"),
            Impossible::DayOf {
                calendar,
                day,
                month,
                year,
            } => write!(
                f,
                "the {calendar} calendar has no day {day} of month {month} of {year}"
            ),
            Impossible::NameDiffers => {
                f.write_str("languages use that name differently; the locale has to be said")
            }
            Impossible::NotThen { hour } => {
                write!(
                    f,
                    "the part of the day that is written has no {hour} o'clock"
                )
            }
            Impossible::WhichCalendar => {
                f.write_str("several Islamic calendars count that era; which one has to be said")
            }
            Impossible::Offset => f.write_str("no zone has such an offset"),
            Impossible::WhichZone => f.write_str("the zone's name is in use for several offsets"),
            Impossible::NoSuchZone => f.write_str("there is no such time zone"),
            Impossible::ZoneDisagrees => f.write_str("the zone does not have that offset then"),
            Impossible::NeverThere => {
                f.write_str("clocks in the zone went forward over that time: it never was")
            }
            Impossible::TwiceThere => {
                f.write_str("clocks in the zone went back over that time: it was twice")
            }
            Impossible::Width => f.write_str("more or fewer digits than the form has"),
            Impossible::Literal => f.write_str("the form wants another word"),
            Impossible::OutOfRange => f.write_str("outside the years -9999 to 9999"),
            Impossible::BeyondInstants => write!(
                f,
                "outside {:.0} to {:.0}, between which instants are kept",
                Timestamp::MIN,
                Timestamp::MAX
            ),
            Impossible::DurationParts => f.write_str(
                "years, months, weeks, days, T, hours, minutes and seconds come in this order",
            ),
            Impossible::LeapSecond => f.write_str("second 60 is a leap second"),
            Impossible::EndOfNoDay => f.write_str("24:00 is the end of a day that is not given"),
        }
    }
}
