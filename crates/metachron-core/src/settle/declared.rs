//! What the user declares about a column.

use crate::calendar::Calendar;
use crate::form::{Form, LeapSecond, Order};
use crate::rulings::{ColumnRuling, Locales};
use crate::stamp::Kind;
use crate::zone::{WhichInstant, Zone};

/// What the user declares about a column. Cells that contradict it go on the
/// review list; it is never dropped quietly.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Declared {
    /// The column is temporal, whatever share of its cells can be read.
    pub temporal: bool,
    /// The order of day, month and year, wherever a form leaves it open.
    pub order: Option<Order>,
    /// The forms, in the order they are tried, and no others.
    pub forms: Vec<Form>,
    /// The first of the hundred years that two-digit years stand for.
    pub century: Option<i16>,
    /// The forms that read the user's examples, any of which may be right.
    pub by_example: Vec<Form>,
    /// The locale whose names the cells hold.
    pub locale: Locales,
    /// The calendar of the dates.
    pub calendar: Option<Calendar>,
    /// The year of dates without one.
    pub year: Option<i16>,
    /// The column that holds the year of dates without one.
    pub year_from: Option<String>,
    /// The zone whose clocks local times were read from.
    pub zone: Option<Zone>,
    /// The column that holds that zone.
    pub zone_from: Option<String>,
    /// What a local time is that clocks in its zone skipped.
    pub in_gap: Option<WhichInstant>,
    /// What a local time is that was twice in its zone.
    pub in_overlap: Option<WhichInstant>,
    /// What a second of 60 is.
    pub leap_second: Option<LeapSecond>,
}

impl Declared {
    /// Puts the zone that is declared into a ruling whose column has one:
    /// local times become instants, and days stay days.
    pub fn put_zone(&self, ruling: &mut ColumnRuling) {
        // Cells that are instants by themselves need no zone.
        let is_local = |form: &Form| matches!(form.kind(), Kind::DateTime | Kind::Date);
        let has_local = ruling.read.all_forms().iter().any(is_local);
        if !matches!(ruling.kind, Kind::DateTime | Kind::Instant) || !has_local {
            return;
        }
        if self.zone.is_some() || self.zone_from.is_some() {
            ruling.kind = Kind::Instant;
            ruling.read.zone = self.zone.clone();
            ruling.read.zone_from = self.zone_from.clone();
        }
    }
}
