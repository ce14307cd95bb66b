//! What the user declares about a column.

use crate::calendar::Calendar;
use crate::form::{Form, LeapSecond, Order, UnitLetters};
use crate::rulings::{ColumnRuling, FormRuling, Locales, ReadRuling, Setting};
use crate::stamp::Kind;
use crate::zone::{WhichInstant, Zone, Zones};

/// What the user declares about a column. Cells that contradict it go on the
/// review list; it is never dropped quietly.
///
/// ```
/// use metachron_core::form::Order;
/// use metachron_core::settle::Declared;
///
/// let declared = Declared {
///     order: Some(Order::Mdy),
///     ..Declared::default()
/// };
/// let setting = "due.read.century=1950".parse()?;
/// let declared = declared.with_settings("due", &[setting]);
/// assert_eq!((declared.order, declared.century), (Some(Order::Mdy), Some(1950)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Declared {
    /// The column is temporal, whatever share of its cells can be read.
    pub temporal: bool,
    /// The column is text, and holds no dates or times.
    pub text: bool,
    /// The kind of its values.
    pub kind: Option<Kind>,
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
    /// The column that holds the half of the day of hours without one.
    pub half_of_day_from: Option<String>,
    /// The zone whose clocks local times were read from.
    pub zone: Option<Zone>,
    /// The column that holds that zone.
    pub zone_from: Option<String>,
    /// The zones that names in the cells stand for.
    pub zone_names: Zones,
    /// What a local time is that clocks in its zone skipped.
    pub in_gap: Option<WhichInstant>,
    /// What a local time is that was twice in its zone.
    pub in_overlap: Option<WhichInstant>,
    /// What a second of 60 is.
    pub leap_second: Option<LeapSecond>,
    /// What a single letter is that may be a unit of time.
    pub unit_letters: Option<UnitLetters>,
}

impl Declared {
    /// The same, with those of `settings` that are for the column `name` put
    /// on top.
    pub fn with_settings(mut self, name: &str, settings: &[Setting]) -> Declared {
        for setting in settings.iter().filter(|setting| setting.column() == name) {
            self.text = setting.is_text();
            self.temporal = !self.text;
            self.kind = setting.kind().or(self.kind);
            let Some(read) = setting.read() else {
                continue;
            };
            // Those that are open are left to the ruling.
            let settled = read.forms.into_iter().filter_map(|form| match form {
                FormRuling::Settled(form) => Some(form),
                FormRuling::Open(_) | FormRuling::ByGroup(_) => None,
            });
            let forms: Vec<Form> = settled.collect();
            if !forms.is_empty() {
                self.forms = forms;
            }
            self.order = read.order.or(self.order);
            self.century = read.century.or(self.century);
            self.calendar = read.calendar.or(self.calendar);
            self.year = read.year.or(self.year);
            self.year_from = read.year_from.or(self.year_from);
            self.half_of_day_from = read.half_of_day_from.or(self.half_of_day_from);
            self.zone_names.extend(read.zone_names);
            if setting.sets_read("in-gap") {
                self.in_gap = Some(read.in_gap);
            }
            if setting.sets_read("in-overlap") {
                self.in_overlap = Some(read.in_overlap);
            }
            if setting.sets_read("leap-second") {
                self.leap_second = Some(read.leap_second);
            }
            if setting.sets_read("unit-letters") {
                self.unit_letters = Some(read.unit_letters);
            }
            if setting.sets_read("zone-from") {
                self.zone = None;
                self.zone_from = read.zone_from;
            }
            self.zone = read.zone.or(self.zone);
            if !read.locale.is_empty() {
                self.locale = read.locale;
            }
        }
        // What is said to be lengths of time holds no metres.
        if self.kind == Some(Kind::Duration) {
            self.unit_letters = self.unit_letters.or(Some(UnitLetters::Time));
        }
        if let Some(kind) = self.kind {
            self.forms = self.forms.iter().map(|form| form.of_kind(kind)).collect();
        }
        self
    }

    /// Whether it says in which order the cells are written: then nothing else
    /// in the table does.
    pub(crate) fn is_order_said(&self) -> bool {
        self.order.is_some() || !self.forms.is_empty() || !self.by_example.is_empty()
    }

    /// Puts what is declared on top of a ruling that was given.
    pub(crate) fn put_on(mut self, ruling: &mut ColumnRuling) {
        self.put_zone(ruling);
        if !self.forms.is_empty() {
            let forms = std::mem::take(&mut self.forms).into_iter();
            ruling.read.forms = forms.map(FormRuling::Settled).collect();
        }
        self.put_on_read(&mut ruling.read);
    }

    /// The same of how cells are read, but for their forms and their zone.
    pub(crate) fn put_on_read(self, read: &mut ReadRuling) {
        read.order = self.order.or(read.order);
        read.century = self.century.or(read.century);
        read.calendar = self.calendar.or(read.calendar);
        read.year = self.year.or(read.year);
        read.year_from = self.year_from.or(read.year_from.take());
        read.half_of_day_from = self.half_of_day_from.or(read.half_of_day_from.take());
        read.zone_names.extend(self.zone_names);
        read.in_gap = self.in_gap.unwrap_or(read.in_gap);
        read.in_overlap = self.in_overlap.unwrap_or(read.in_overlap);
        read.leap_second = self.leap_second.unwrap_or(read.leap_second);
        read.unit_letters = self.unit_letters.unwrap_or(read.unit_letters);
        if !self.locale.is_empty() {
            read.locale = self.locale;
        }
    }

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
