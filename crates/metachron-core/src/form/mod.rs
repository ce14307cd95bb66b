//! Forms: ways of writing, as patterns in the date field symbols of UTS #35.
//!
//! A [`Form`] is parsed from its pattern once, fitted to a [shape] once, and
//! from then on its [`Reader`] reads cells of that shape.
//!
//! ```
//! use metachron_core::form::{Conventions, Form};
//! use metachron_core::lex::Lexer;
//!
//! let form: Form = "dd/MM/yyyy HH:mm".parse()?;
//! let mut lexer = Lexer::default();
//! let cell = lexer.lex("04/03/2025 14:30").unwrap();
//! let reader = form.fit(&cell.shape()).expect("the form fits this shape");
//! let stamp = reader.read(&cell, Conventions::default()).unwrap();
//! assert_eq!(stamp.to_string(), "2025-03-04T14:30:00");
//! # Ok::<(), metachron_core::form::PatternError>(())
//! ```
//!
//! [shape]: crate::lex::Shape

mod century;
mod conventions;
mod count;
mod decimal;
mod elapsed;
mod field;
mod fit;
mod hypothesis;
mod impossible;
mod optional;
mod order;
mod pattern;
mod reader;
mod row_facts;
mod shown;
mod typed;
mod writer;

pub use century::Century;
pub use conventions::{Conventions, EndOfDay, LeapSecond, UnitLetters};
pub(crate) use count::SHORT_COUNTS;
pub use count::{Count, CountUnit, ParseCountError};
pub use elapsed::Elapsed;
pub use field::{Digits, Field, FieldType, Item, OffsetStyle, SymbolDoc, Width, symbols};
pub use hypothesis::Hypothesis;
pub use impossible::Impossible;
pub use order::{Order, ParseOrderError};
pub use pattern::PatternError;
pub use reader::Reader;
pub(crate) use reader::{
    ClockDigits, CountDigits, DayDigits, DigitFields, MonthDigits, PartOfYear, Place, YearDigits,
    second_after,
};
pub use row_facts::{HalfOfDay, RowFacts, RowFactsReader};
pub use writer::{CannotWrite, Unwritable, Writer};

use crate::lex::Shape;
use crate::stamp::Kind;

/// What a program that took digits for a number has left behind them.
pub(crate) const DECIMAL_ZERO: &str = ".0";

/// A way of writing dates or times.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Form {
    items: Vec<Item>,
    day_month: DayMonth,
}

/// Whether day and month are what the cell says they are.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum DayMonth {
    /// They are.
    #[default]
    AsWritten,
    /// An import has taken the one for the other, and written the wrong date
    /// again: `swapped dd MMM yyyy` reads `03 Apr 2024` as the 4th of March.
    Swapped,
}

/// What a form begins with that swaps day and month.
const SWAPPED: &str = "swapped ";

/// What the name of a way to write lengths of time begins with.
const ELAPSED: &str = "elapsed";

/// The same in rulings files of earlier versions.
const EXCHANGED: &str = "exchanged ";

impl Form {
    /// A form of these items.
    ///
    /// # Errors
    ///
    /// Where they make no date and no time: a part is missing, or is there
    /// twice.
    pub fn new(items: Vec<Item>) -> Result<Form, PatternError> {
        pattern::check(&items)?;
        Ok(Form::of(items))
    }

    /// The form of a pattern that is for writing alone: it may leave out what
    /// a reader needs, such as the day and the month.
    ///
    /// # Errors
    ///
    /// Where the pattern has what is no field, or a field twice over.
    ///
    /// ```
    /// use metachron_core::form::Form;
    ///
    /// assert!("EEEE, yyyy".parse::<Form>().is_err());
    /// assert!(Form::for_writing("EEEE, yyyy").is_ok());
    /// ```
    pub fn for_writing(pattern: &str) -> Result<Form, PatternError> {
        match pattern.parse() {
            Err(PatternError::Incomplete(_) | PatternError::Version { .. }) => {
                pattern::parse(pattern).map(Form::of)
            }
            form => form,
        }
    }

    fn of(items: Vec<Item>) -> Form {
        Form {
            items,
            day_month: DayMonth::AsWritten,
        }
    }

    /// The form of the same cells that swaps their day and month; `None`
    /// where they have not both.
    ///
    /// ```
    /// use metachron_core::form::Form;
    ///
    /// let form: Form = "dd MMM yyyy".parse()?;
    /// assert_eq!(form.swapped().unwrap().to_string(), "swapped dd MMM yyyy");
    /// assert_eq!("HH:mm".parse::<Form>()?.swapped(), None);
    /// // A spreadsheet writes the day that it took a text for as a number.
    /// assert!("days since 1899-12-30".parse::<Form>()?.swapped().is_some());
    /// # Ok::<(), metachron_core::form::PatternError>(())
    /// ```
    pub fn swapped(&self) -> Option<Form> {
        let is_typed = self.fields().any(|field| field.has_day_and_month());
        let is_serial = self.count().is_some_and(Count::is_of_workbook);
        let both = is_typed || is_serial || self.has(FieldType::Day) && self.has(FieldType::Month);
        let swapped = Form {
            items: self.items.clone(),
            day_month: DayMonth::Swapped,
        };
        (both && self.day_month == DayMonth::AsWritten).then_some(swapped)
    }

    /// Whether a time in digits alone stands behind a date and a sign:
    /// `20240305_1430`. The `T` of ISO 8601 says that it is one.
    pub(crate) fn has_time_in_digits(&self) -> bool {
        self.items.windows(3).any(|items| match items {
            [
                Item::Literal(sign),
                Item::Field(Field::Hour(_)),
                Item::Field(Field::Minute(_)),
            ] => !sign.contains(['T', 't']),
            _ => false,
        })
    }

    /// Whether a hyphen stands before the hour: `20240305-1430`.
    pub(crate) fn has_hyphen_before_hour(&self) -> bool {
        self.items.windows(2).any(|items| match items {
            [Item::Literal(sign), Item::Field(Field::Hour(_))] => sign == "-",
            _ => false,
        })
    }

    /// Whether an offset stands behind a date and a time in one run of digits:
    /// `202403051430-0500`.
    pub(crate) fn has_offset_behind_digits(&self) -> bool {
        self.items.windows(3).any(|items| {
            matches!(
                items,
                [
                    Item::Field(Field::Hour(_) | Field::Minute(_)),
                    Item::Field(Field::Minute(_) | Field::Second(_)),
                    Item::Field(Field::Offset(_)),
                ]
            )
        })
    }

    /// Whether it is the date and time of a mail, with the name of a zone: `Tue, 5 Mar
    /// 2024 14:30:00 EST` (RFC 5322 §3.3 and §4.3).
    pub(crate) fn is_of_mail(&self) -> bool {
        const OF_MAIL: [&str; 2] = ["EEE, d MMM yyyy H:mm z", "EEE, d MMM yyyy H:mm:ss z"];
        self.has(FieldType::ZoneName) && {
            let form = self.map_fields(Field::in_free_digits).to_string();
            OF_MAIL.contains(&form.as_str())
        }
    }

    /// The lengths of time that are written as these times of day: hours and
    /// minutes, or seconds too, parted by colons.
    pub(crate) fn as_length(&self) -> Option<Form> {
        use FieldType::{Fraction, Hour, Minute, Second};

        let mut parts = Vec::new();
        let mut signs = Vec::new();
        for item in &self.items {
            match item {
                Item::Field(field) => parts.push(field.field_type()),
                Item::Literal(text) => signs.push(text.as_str()),
                // Lengths of time have decimals or not.
                Item::Optional(part) => match &part[..] {
                    [Item::Literal(_), Item::Field(Field::Fraction(_))] => {}
                    _ => return None,
                },
            }
        }
        if let ([.., Second, Fraction], [.., "." | ","]) = (&parts[..], &signs[..]) {
            parts.pop();
            signs.pop();
        }
        let elapsed = match parts[..] {
            [Hour, Minute] => Elapsed::HourMinute,
            [Hour, Minute, Second] => Elapsed::HourMinuteSecond,
            [Minute, Second] => Elapsed::MinuteSecond,
            _ => return None,
        };
        let are_colons = signs.len() + 1 == parts.len() && signs.iter().all(|sign| *sign == ":");
        are_colons.then(|| Form::of_elapsed(elapsed))
    }

    /// Whether it takes day and month as they are written.
    pub fn day_month(&self) -> DayMonth {
        self.day_month
    }

    /// Whether it undoes an swap of day and month: it says so, or its order
    /// is year, day, month, which no source writes.
    pub fn is_swapped(&self) -> bool {
        let by_order = self.order() == Some(Order::Ydm) && self.has_numeric_month();
        self.day_month == DayMonth::Swapped || by_order
    }

    /// The items, in the order they are written.
    pub fn items(&self) -> &[Item] {
        &self.items
    }

    /// The fields, those of optional parts among them, in the order they are
    /// written.
    pub fn fields(&self) -> impl Iterator<Item = Field> + use<> {
        let mut fields = Vec::with_capacity(self.items.len());
        Item::visit(&self.items, &mut |field| fields.push(field));
        fields.into_iter()
    }

    /// The form with each field replaced by what `change` makes of it.
    pub(crate) fn map_fields(&self, mut change: impl FnMut(Field) -> Field) -> Form {
        Form {
            items: map_fields(&self.items, &mut change),
            day_month: self.day_month,
        }
    }

    /// The form as it is meant where `kind` is declared: a number counts stamps of
    /// that kind, and a clock shows lengths of time.
    pub(crate) fn of_kind(&self, kind: Kind) -> Form {
        if kind == Kind::Duration
            && let Some(length) = self.as_length()
        {
            return length;
        }
        self.map_fields(|field| match field {
            Field::Count(count) => Field::Count(count.of_kind(kind)),
            field => field,
        })
    }

    /// The form whatever the widths of its numbers and names: what forms are the same
    /// by that differ in nothing else.
    pub(crate) fn of_any_width(&self) -> Form {
        self.map_fields(|field| match field {
            Field::MonthName(_) => Field::MonthName(Width::Wide),
            Field::Weekday(_) => Field::Weekday(Width::Wide),
            field => field.in_free_digits(),
        })
    }

    /// The form that reads numbers as `count`.
    pub fn of_count(count: Count) -> Form {
        Form::of(vec![Item::Field(Field::Count(count))])
    }

    /// The count that the numbers are, if the form reads numbers.
    pub fn count(&self) -> Option<Count> {
        self.fields().find_map(|field| match field {
            Field::Count(count) => Some(count),
            _ => None,
        })
    }

    /// The same, if there is nothing else in the form: such a number looks like
    /// any other, so that the column must vouch for it.
    pub fn bare_count(&self) -> Option<Count> {
        self.count().filter(|_| self.is_bare())
    }

    /// The form that reads lengths of time written so.
    pub fn of_elapsed(elapsed: Elapsed) -> Form {
        Form::of(vec![Item::Field(Field::Elapsed(elapsed))])
    }

    /// How it writes lengths of time, if it reads those.
    pub fn elapsed(&self) -> Option<Elapsed> {
        self.fields().find_map(|field| match field {
            Field::Elapsed(elapsed) => Some(elapsed),
            _ => None,
        })
    }

    /// The form that demands no digit that one of two does not demand, and
    /// writes names as wide as either. They differ in nothing else.
    pub(crate) fn loosest(&self, other: &Form) -> Form {
        let mut others = other.fields();
        self.map_fields(|field| match (field, others.next()) {
            (Field::MonthName(_), Some(wide @ Field::MonthName(Width::Wide))) => wide,
            (Field::Weekday(_), Some(wide @ Field::Weekday(Width::Wide))) => wide,
            (field, Some(other)) if field == other => field,
            (field @ (Field::MonthName(_) | Field::Weekday(_)), _) => field,
            (field, _) => field.in_free_digits(),
        })
    }

    /// The kind of stamp that this form reads, with all its optional parts. A
    /// count of days reads numbers with decimals as datetimes.
    ///
    /// ```
    /// use metachron_core::form::Form;
    /// use metachron_core::stamp::Kind;
    ///
    /// for (pattern, kind) in [
    ///     ("dd/MM/yyyy", Kind::Date),
    ///     ("yyyy-MM-dd HH:mm", Kind::DateTime),
    ///     ("yyyy-MM-dd'T'HH:mm:ssXXX", Kind::Instant),
    ///     ("'Q'Q yyyy", Kind::Quarter),
    ///     ("unix-ms", Kind::Instant),
    ///     ("elapsed H:mm", Kind::Duration),
    /// ] {
    ///     assert_eq!(pattern.parse::<Form>()?.kind(), kind);
    /// }
    /// # Ok::<(), metachron_core::form::PatternError>(())
    /// ```
    pub fn kind(&self) -> Kind {
        if let Some(count) = self.count() {
            return count.kind(false);
        }
        if let Some(kind) = self.typed() {
            return kind;
        }
        if self.elapsed().is_some() {
            return Kind::Duration;
        }
        let types: Vec<FieldType> = self.fields().map(Field::field_type).collect();
        let has = |field_type| types.contains(&field_type);
        let date = has(FieldType::Day)
            || has(FieldType::DayOfYear)
            || has(FieldType::Weekday) && has(FieldType::Week);
        let time = has(FieldType::Hour) || has(FieldType::DayPeriod);
        let zone = has(FieldType::Offset) || has(FieldType::ZoneName) || has(FieldType::ZoneId);
        match (date, time, zone) {
            (true, true, true) => Kind::Instant,
            (true, true, false) => Kind::DateTime,
            (true, false, _) => Kind::Date,
            (false, true, _) => Kind::Time,
            _ if has(FieldType::Week) => Kind::Week,
            _ if has(FieldType::Quarter) => Kind::Quarter,
            _ if has(FieldType::Month) => Kind::Month,
            _ => Kind::Year,
        }
    }

    /// Whether it has a field of this type.
    pub fn has(&self, field_type: FieldType) -> bool {
        self.fields().any(|field| field.field_type() == field_type)
    }

    /// The order of day, month and year; `None` for a time of day.
    pub fn order(&self) -> Option<Order> {
        Order::of(self.fields())
    }

    /// What it may be right or wrong about: the order, what a number counts, or that an
    /// import has swapped day and month.
    pub fn hypothesis(&self) -> Option<Hypothesis> {
        if self.day_month == DayMonth::Swapped {
            return Some(Hypothesis::Swapped);
        }
        let count = || self.count().map(Hypothesis::Count);
        self.order().map(Hypothesis::Order).or_else(count)
    }

    /// Whether it has fields alone, and no sign between them: `yyyyMMdd`. The zero that a
    /// program writes behind a number is none.
    pub fn is_bare(&self) -> bool {
        let items = match &self.items[..] {
            [items @ .., Item::Literal(last)] if last == DECIMAL_ZERO => items,
            items => items,
        };
        items.len() == self.fields().count()
    }

    /// Whether the month is written as a number, or is one in a typed cell.
    pub fn has_numeric_month(&self) -> bool {
        self.fields()
            .any(|field| matches!(field, Field::Month(_)) || field.has_day_and_month())
    }

    /// Whether the month is written by its name.
    pub fn has_month_name(&self) -> bool {
        self.fields()
            .any(|field| matches!(field, Field::MonthName(_)))
    }

    /// Whether the year has two digits.
    pub fn has_two_digit_year(&self) -> bool {
        let short = [Field::YearOfTwo, Field::WeekYearOfTwo];
        self.fields().any(|field| short.contains(&field))
    }

    /// The reader of this form for cells of `shape`; `None` where the form
    /// does not write that shape, with or without its optional parts.
    pub fn fit(&self, shape: &Shape) -> Option<Reader> {
        let mut versions = optional::versions(&self.items).into_iter();
        versions.find_map(|items| {
            let form = Form {
                items,
                day_month: self.day_month,
            };
            fit::fit(&form, shape)
        })
    }
}

fn map_fields(items: &[Item], change: &mut impl FnMut(Field) -> Field) -> Vec<Item> {
    let items = items.iter().map(|item| match item {
        Item::Field(field) => Item::Field(change(*field)),
        Item::Literal(text) => Item::Literal(text.clone()),
        Item::Optional(part) => Item::Optional(map_fields(part, change)),
    });
    items.collect()
}

impl std::fmt::Display for Form {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        if self.day_month == DayMonth::Swapped {
            f.write_str(SWAPPED)?;
        }
        pattern::write(&self.items, f)
    }
}

impl std::str::FromStr for Form {
    type Err = PatternError;

    fn from_str(pattern: &str) -> Result<Form, PatternError> {
        if let Some(written) = pattern
            .strip_prefix(SWAPPED)
            .or_else(|| pattern.strip_prefix(EXCHANGED))
        {
            let swapped = written.parse::<Form>()?.swapped();
            return swapped.ok_or(PatternError::NothingToSwap);
        }
        let (before, within, after) = pattern::around_words(pattern);
        let whole = if let Some(count) = pattern::count(within) {
            count?
        } else if within.starts_with(ELAPSED) {
            let elapsed = Elapsed::named(within).ok_or_else(|| PatternError::Elapsed {
                names: crate::words::list(&Elapsed::names().collect::<Vec<_>>(), "and"),
            })?;
            vec![Item::Field(Field::Elapsed(elapsed))]
        } else if let Some(form) = typed::named(pattern) {
            return Ok(form);
        } else {
            let form = Form::of(pattern::parse(pattern)?);
            // Minutes and seconds alone are no time of day.
            let is_length = !form.has(FieldType::Hour) && form.has(FieldType::Minute);
            let length = form.as_length().filter(|_| is_length);
            return length.map_or_else(|| Form::new(form.items), Ok);
        };
        let mut items = pattern::parse(before)?;
        items.extend(whole);
        items.extend(pattern::parse(after)?);
        Form::new(items)
    }
}

#[cfg(test)]
mod tests;
