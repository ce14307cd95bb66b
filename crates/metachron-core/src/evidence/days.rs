//! Which days of the year there are.

use jiff::civil::Date;

/// Which days of the year there are, whatever the year.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct DaysSeen {
    /// A bit for each day, by month.
    by_month: [u32; 13],
}

impl DaysSeen {
    /// Takes a day in.
    #[inline]
    pub fn add(&mut self, day: Date) {
        self.by_month[day.month() as usize] |= 1 << day.day();
    }

    /// Takes the days of `other` in.
    pub fn merge(&mut self, other: &DaysSeen) {
        for (days, more) in self.by_month.iter_mut().zip(other.by_month) {
            *days |= more;
        }
    }

    /// The days of whatever month, a bit each.
    pub fn days_of_months(&self) -> u32 {
        self.by_month.iter().fold(0, |all, days| all | days)
    }

    /// The days of whatever month, from the first.
    pub fn of_months(&self) -> impl Iterator<Item = u32> + use<> {
        let days = self.days_of_months();
        (1..=31).filter(move |day| days >> day & 1 == 1)
    }

    /// The first and the last of them in a year.
    pub fn ends(&self) -> Option<(Date, Date)> {
        let in_month = |month: usize, day: u32| {
            // The 29th of February is a day of some years.
            Date::new(2000, month as i8, day as i8).ok()
        };
        let has_days = |month: &usize| self.by_month[*month] != 0;
        let first = (1..13).find(has_days)?;
        let last = (1..13).rev().find(has_days)?;
        Some((
            in_month(first, self.by_month[first].trailing_zeros())?,
            in_month(last, self.by_month[last].ilog2())?,
        ))
    }

    /// How many there are.
    pub fn count(&self) -> u32 {
        self.by_month.iter().map(|days| days.count_ones()).sum()
    }

    /// The latest day of a month that there is; 0 where there is none.
    pub fn last(&self) -> u32 {
        self.days_of_months().checked_ilog2().unwrap_or(0)
    }

    /// The months there are, a bit each.
    pub fn months(&self) -> u16 {
        let has = |month: &usize| self.by_month[*month] != 0;
        (1..13).filter(has).fold(0, |bits, month| bits | 1 << month)
    }

    /// The same days with day and month swapped; those past the 12th are left
    /// out.
    pub fn swapped(&self) -> DaysSeen {
        let mut turned = DaysSeen::default();
        for month in 1..13 {
            for day in (1..13).filter(|day| self.by_month[month] >> day & 1 == 1) {
                turned.by_month[day] |= 1 << month;
            }
        }
        turned
    }
}
